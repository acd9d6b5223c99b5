//! What a pack will do: its run, its charge, and many runs at once, simulated.

use brick_core::Plan;
use brick_core::assess::{RunReport, StartsAt, Sweep, Swept, WhatIf, run_in_steps, runs, sweep};
use brick_core::base::range::{CURRENT, TEMPERATURE};
use brick_core::base::table::LineError;
use brick_core::physics::device::log;
use brick_core::physics::run::{OwnCell, ToldDischarge, own_cell};
use brick_core::plan::{Change, FieldError, FittedCell};
use brick_core::print::exports::run_csv;
use brick_core::print::json::Written;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::api::http::body::Body;
use crate::api::http::download::{Csv, file_stem};
use crate::work::work;
use crate::{Problem, store};

/// A plan and the variants to run.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RunRequest {
    /// The plan.
    plan: Plan,
    /// What is different, for one to four runs side by side; an empty one is the plan as it is.
    variants: Vec<WhatIf>,
    /// How the groups stand at the start.
    #[serde(default)]
    starts: StartsAt,
    /// A series of currents recorded at the device, as text; the survey's levels without it.
    #[serde(default)]
    recorded: Option<String>,
}

/// Runs a plan until something ends it, in each variant.
#[utoipa::path(context_path = "/api", request_body = RunRequest,
    responses((status = 200, body = RunReport), (status = 422, body = Problem)))]
#[post("/run", data = "<request>")]
pub async fn run_plan(request: Result<Body<RunRequest>, Problem>) -> Result<Json<Box<RawValue>>, Problem> {
    let RunRequest { plan, variants, starts, recorded } = request?.0;
    let answer = work(move || -> Result<_, Problem> {
        let readings = recorded.map(|text| readings(&text)).transpose()?;
        runs(&plan, &variants, starts, readings.as_deref())?.written().map_err(|e| Problem::fault(&e))
    });
    answer.await.map(Json)
}

/// Times and currents of a recorded series.
fn readings(text: &str) -> Result<Vec<(f64, f64)>, Problem> {
    let log = log::read(text, None).map_err(|errors| lines("/recorded", &errors))?;
    Ok(log.samples.iter().map(|s| (s.time_s, s.current_a)).collect())
}

/// A plan and a logged discharge of one of its cells.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnCellRequest {
    /// The plan: its chemistry and its cell.
    plan: Plan,
    /// The log as CSV: time, current and voltage of one cell, from full to empty; or charge and voltage as its data sheet prints them.
    text: String,
    /// The current of a printed curve.
    #[serde(default)]
    current_a: Option<f64>,
    /// A second discharge at another current.
    #[serde(default)]
    second: Option<SecondDischarge>,
    /// Temperature it was logged at.
    #[serde(default = "room_c")]
    cell_c: f64,
}

/// Another discharge of the same cell, as the first is told.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SecondDischarge {
    /// The log as CSV.
    text: String,
    /// The current of a printed curve.
    #[serde(default)]
    current_a: Option<f64>,
}

/// A room.
fn room_c() -> f64 {
    25.0
}

/// A cell as its log says, and the change that puts it into the plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct OwnCellAnswer {
    /// What the log was fitted to, with log and fit point by point.
    own: OwnCell,
    /// Puts it into the plan.
    change: Change,
}

/// Fits capacity, resistance and diffusion of a plan's cell to a logged discharge of one.
#[utoipa::path(context_path = "/api", request_body = OwnCellRequest,
    responses((status = 200, body = OwnCellAnswer), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/own-cell", data = "<request>")]
pub async fn fit_own_cell(request: Result<Body<OwnCellRequest>, Problem>) -> Result<Json<OwnCellAnswer>, Problem> {
    let OwnCellRequest { plan, text, current_a, second, cell_c } = request?.0;
    plan.check()?;
    let told: Vec<SecondDischarge> = [SecondDischarge { text, current_a }].into_iter().chain(second).collect();
    for (field, discharge) in ["/current_a", "/second/current_a"].into_iter().zip(&told) {
        let checked = discharge.current_a.map_or(Ok(()), |current_a| CURRENT.check(current_a));
        checked.map_err(|e| Problem::fields(vec![FieldError { field: field.to_owned(), message: e.to_string() }]))?;
    }
    TEMPERATURE
        .check(cell_c)
        .map_err(|e| Problem::fields(vec![FieldError { field: "/cell_c".to_owned(), message: e.to_string() }]))?;
    let chosen = plan.main_pack().and_then(|p| p.cell());
    let Some(cell) = chosen.cloned() else {
        return Err(Problem::new(Status::Conflict, "There is no cell yet", "Choose the cell that was logged first."));
    };
    let typical_ohm = cell.chemistry.facts().typical_ohm_ah / cell.rated_ah;
    let dcir_ohm = cell.dcir_ohm.as_ref().map_or(typical_ohm, |k| k.value);
    let (chemistry, rated_ah) = (cell.chemistry, cell.rated_ah);
    let fitting = work(move || {
        let discharges: Vec<ToldDischarge<'_>> =
            told.iter().map(|d| ToldDischarge { text: &d.text, current_a: d.current_a }).collect();
        own_cell(chemistry, rated_ah, dcir_ohm, cell_c, &discharges)
            .map_err(|bad| lines(["/text", "/second/text"][bad.log.min(1)], &bad.lines))
    });
    let own = fitting.await?;
    let fitted = FittedCell {
        of: cell.offer.name,
        capacity_ah: own.capacity_ah,
        dcir_ohm: own.dcir_ohm,
        diffusion_s: own.diffusion_s,
        error_v: own.error_v,
        curve: own.curve.clone(),
    };
    Ok(Json(OwnCellAnswer { change: Change::put("/packs/0/fitted", fitted), own }))
}

/// Bad lines of a text, each with its number.
fn lines(field: &str, errors: &[LineError]) -> Problem {
    let told = |e: &LineError| FieldError {
        field: format!("{field}/{}", e.line),
        message: format!("line {}: {}", e.line, e.reason),
    };
    Problem::fields(errors.iter().map(told).collect())
}

/// A plan and what is turned.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SweepRequest {
    /// The plan.
    plan: Plan,
    /// One or two things from one end to the other.
    sweep: Sweep,
    /// A series of currents recorded at the device, as text; the survey's levels without it.
    #[serde(default)]
    recorded: Option<String>,
}

/// Runs a plan at every stop of one or two axes.
#[utoipa::path(context_path = "/api", request_body = SweepRequest,
    responses((status = 200, body = Swept), (status = 422, body = Problem)))]
#[post("/run-map", data = "<request>")]
pub async fn map_run(request: Result<Body<SweepRequest>, Problem>) -> Result<Json<Swept>, Problem> {
    let SweepRequest { plan, sweep: wanted, recorded } = request?.0;
    let answer = work(move || -> Result<Swept, Problem> {
        let readings = recorded.map(|text| readings(&text)).transpose()?;
        Ok(sweep(&plan, &wanted, readings.as_deref())?)
    });
    answer.await.map(Json)
}

/// The course of a saved plan's run in the steps that suit its length, as CSV with the column names of the Battery Data Format.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, description = "CSV", body = String, content_type = "text/csv"),
        (status = 404, body = Problem), (status = 409, body = Problem)))]
#[get("/plans/<id>/run-file")]
pub async fn export_run(id: Uuid, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let plan = store::plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let name = format!("{}-run.csv", file_stem(&plan.name));
    let told = work(move || run_in_steps(&plan, None)).await?;
    let outcome = told.map_err(|words| Problem::new(Status::Conflict, "There is no run yet", words))?;
    Ok(Csv { name, text: run_csv(&outcome.points) })
}
