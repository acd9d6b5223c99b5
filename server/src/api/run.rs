//! What a pack will do: its run, its charge, and many runs at once, simulated.

use brick_core::Plan;
use brick_core::assess::{FillReport, RunReport, StartsAt, Sweep, Swept, WhatIf, fills, run_in_steps, runs, sweep};
use brick_core::device::log;
use brick_core::exports::run_csv;
use brick_core::plan::FieldError;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::tokio::task::spawn_blocking;
use rocket::{State, get, post};
use serde::Deserialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::body::Body;
use super::download::{Csv, file_stem};
use crate::{Problem, store};

/// Step of the table of a saved plan.
const FILE_STEP_S: f64 = 1.0;

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
pub async fn run_plan(request: Result<Body<RunRequest>, Problem>) -> Result<Json<RunReport>, Problem> {
    let RunRequest { plan, variants, starts, recorded } = request?.0;
    let answer = spawn_blocking(move || -> Result<RunReport, Problem> {
        let readings = recorded.map(|text| readings(&text)).transpose()?;
        Ok(runs(&plan, &variants, starts, readings.as_deref())?)
    });
    Ok(Json(answer.await.map_err(|e| Problem::fault(&e))??))
}

/// Times and currents of a recorded series.
fn readings(text: &str) -> Result<Vec<(f64, f64)>, Problem> {
    let log = log::read(text, None).map_err(|errors| {
        let field = |e: &brick_core::table::LineError| FieldError {
            field: "/recorded".to_owned(),
            message: format!("line {}: {}", e.line, e.reason),
        };
        Problem::fields(errors.iter().map(field).collect())
    })?;
    Ok(log.samples.iter().map(|s| (s.time_s, s.current_a)).collect())
}

/// A plan and how it is charged.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FillRequest {
    /// The plan.
    plan: Plan,
    /// What is different from the plan.
    #[serde(default)]
    what: WhatIf,
    /// How the groups stand at the start: `full` begins at their sensible end of the discharge, all alike.
    #[serde(default)]
    starts: StartsAt,
}

/// Charges a plan's pack until its charger ends, or the board does.
#[utoipa::path(context_path = "/api", request_body = FillRequest,
    responses((status = 200, body = FillReport), (status = 422, body = Problem)))]
#[post("/fill", data = "<request>")]
pub async fn fill_pack(request: Result<Body<FillRequest>, Problem>) -> Result<Json<FillReport>, Problem> {
    let FillRequest { plan, what, starts } = request?.0;
    let answer = spawn_blocking(move || fills(&plan, &what, starts));
    Ok(Json(answer.await.map_err(|e| Problem::fault(&e))??))
}

/// A plan and what is turned.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SweepRequest {
    /// The plan.
    plan: Plan,
    /// One or two things from one end to the other.
    sweep: Sweep,
}

/// Runs a plan at every stop of one or two axes.
#[utoipa::path(context_path = "/api", request_body = SweepRequest,
    responses((status = 200, body = Swept), (status = 422, body = Problem)))]
#[post("/run-map", data = "<request>")]
pub async fn run_map(request: Result<Body<SweepRequest>, Problem>) -> Result<Json<Swept>, Problem> {
    let SweepRequest { plan, sweep: wanted } = request?.0;
    let answer = spawn_blocking(move || sweep(&plan, &wanted));
    Ok(Json(answer.await.map_err(|e| Problem::fault(&e))??))
}

/// The course of a saved plan's run in steps of a second, as CSV with the column names of the Battery Data Format.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, description = "CSV", body = String, content_type = "text/csv"),
        (status = 404, body = Problem), (status = 409, body = Problem)))]
#[get("/plans/<id>/run-file")]
pub async fn run_file(id: Uuid, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let plan = store::plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let name = format!("{}-run.csv", file_stem(&plan.name));
    let told = spawn_blocking(move || run_in_steps(&plan, FILE_STEP_S)).await.map_err(|e| Problem::fault(&e))??;
    let outcome = told.map_err(|words| Problem::new(Status::Conflict, "There is no run yet", words))?;
    Ok(Csv { name, text: run_csv(&outcome.points) })
}
