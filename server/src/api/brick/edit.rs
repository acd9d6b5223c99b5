//! The brick: arrangements in the compartment, its drawing, edits by hand, a search, and the sheets to print.

use brick_core::Plan;
use brick_core::advise::suggest::layouts::{PatternOffer, pattern_offers};
use brick_core::physics::brick::{
    Behind, Drawing, Edit, Fit, Laid, Merit, Solid, WeldStep, draw, look_behind, solid, steps,
};
use brick_core::plan::{FieldError, Layout};
use brick_core::print::sheets::{Sheet, sheets};
use chrono::Utc;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::api::http::download::{Svg, file_stem};
use crate::jobs::{Job, JobStage, JobState, Jobs};
use crate::store::plans as store;
use crate::work::work;

/// Moves of a quick and of a thorough search.
const QUICK_MOVES: u64 = 40_000;
const THOROUGH_MOVES: u64 = 800_000;

/// What lies behind a hole.
#[derive(Debug, Serialize, ToSchema)]
pub struct HoleCheck {
    /// Place of the compartment in the plan.
    compartment: usize,
    /// Place of the opening in the compartment.
    opening: usize,
    /// What is met going straight in, the nearest first.
    behind: Vec<Behind>,
    /// Depth that is free, as far as it is known.
    free_mm: Option<f64>,
}

/// The brick as it is laid.
#[derive(Debug, Serialize, ToSchema)]
pub struct BrickSheet {
    /// Every face.
    drawing: Drawing,
    /// The same in space; absent while it is not laid out.
    solid: Option<Solid>,
    /// In which order it is welded.
    steps: Vec<WeldStep>,
    /// How it lies in its compartment, if there is one.
    fit: Option<Fit>,
    /// What its strips come to.
    merit: Option<Merit>,
    /// The usual patterns on its lattice.
    patterns: Vec<PatternOffer>,
    /// What lies behind each hole.
    holes: Vec<HoleCheck>,
}

/// The brick of a plan as it is laid.
pub fn sheet_of(plan: &Plan) -> BrickSheet {
    let laid = Laid::of(plan).filter(Laid::suits);
    let drawing = laid.as_ref().map_or(Drawing { nodes: vec![], faces: vec![] }, draw);
    let steps = laid.as_ref().map_or_else(Vec::new, |l| steps(l, &drawing));
    let mut holes = vec![];
    for (compartment, place) in plan.device.compartments.iter().enumerate() {
        for (opening, hole) in place.openings.iter().enumerate() {
            let (behind, free_mm) = look_behind(laid.as_ref(), place, hole);
            holes.push(HoleCheck { compartment, opening, behind, free_mm });
        }
    }
    BrickSheet {
        solid: laid.as_ref().map(solid),
        steps,
        fit: laid.as_ref().and_then(Laid::fit),
        merit: laid.as_ref().map(Laid::merit),
        patterns: if laid.is_some() { pattern_offers(plan) } else { vec![] },
        drawing,
        holes,
    }
}

fn laid(plan: &Plan) -> Result<Laid<'_>, Problem> {
    let field = |message: &str| {
        Problem::fields(vec![FieldError { field: "/packs/0/brick/layout".to_owned(), message: message.to_owned() }])
    };
    let laid = Laid::of(plan).ok_or_else(|| field("choose an arrangement first"))?;
    if laid.suits() { Ok(laid) } else { Err(field("the layout is for other counts; choose an arrangement again")) }
}

/// A plan and an edit of its layout.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EditRequest {
    /// The plan.
    plan: Plan,
    /// What the maker's hand does.
    edit: Edit,
}

/// The layout after an edit by hand; a short is refused.
#[utoipa::path(context_path = "/api", request_body = EditRequest,
    responses((status = 200, body = Layout), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/brick/edit", data = "<request>")]
pub async fn edit_brick(request: Result<Body<EditRequest>, Problem>) -> Result<Json<Layout>, Problem> {
    let EditRequest { plan, edit } = request?.0;
    plan.check()?;
    let next = work(move || {
        let refuse = |refused: brick_core::physics::brick::Refused| {
            Problem::new(Status::Conflict, "Not possible", refused.to_string())
        };
        laid(&plan)?.edit(&edit).map_err(refuse)
    });
    next.await.map(Json)
}

/// A plan whose layout is to be made better.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SearchRequest {
    /// The plan.
    plan: Plan,
    /// Where the search begins; the same seed gives the same layout.
    seed: u64,
    /// Whether it tries twenty times as long.
    thorough: bool,
}

/// Look for a better seating round the locked cells: a job, watched and ended like any.
#[utoipa::path(context_path = "/api", request_body = SearchRequest,
    responses((status = 202, body = JobState), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/brick/search", data = "<request>")]
pub fn search_brick(
    request: Result<Body<SearchRequest>, Problem>,
    jobs: &State<Jobs>,
) -> Result<(Status, Json<JobState>), Problem> {
    let request = request?.0;
    request.plan.check()?;
    laid(&request.plan)?;
    let job = jobs.open("trying seatings")?;
    let state = job.state();
    job.runs(move |job| search(job, &request));
    Ok((Status::Accepted, Json(state)))
}

fn search(job: &Job, request: &SearchRequest) {
    let moves = if request.thorough { THOROUGH_MOVES } else { QUICK_MOVES };
    match Laid::of(&request.plan).and_then(|laid| laid.searched(moves, request.seed, job)) {
        Some(layout) => job.end(JobStage::Done, |s| s.layout = Some(Box::new(layout))),
        None => job.end(JobStage::Stopped, |_| {}),
    }
}

async fn sheets_of(pool: &PgPool, id: Uuid) -> Result<(String, Vec<Sheet>), Problem> {
    let plan = store::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let made = work(move || {
        let assessment = brick_core::assess(&plan)?;
        let day = Utc::now().format("%Y-%m-%d").to_string();
        let found = sheets(&plan, &assessment, &day);
        Ok::<_, Problem>((plan.name, found))
    });
    made.await
}

/// The sheets of a saved plan that can be printed.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<Sheet>), (status = 404, body = Problem)))]
#[get("/plans/<id>/sheets")]
pub async fn list_sheets(id: Uuid, pool: &State<PgPool>) -> Result<Json<Vec<Sheet>>, Problem> {
    Ok(Json(sheets_of(pool, id).await?.1))
}

/// One sheet as an A4 page in SVG, 1:1.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path), ("name" = String, Path)),
    responses((status = 200, description = "SVG", body = String, content_type = "image/svg+xml"),
        (status = 404, body = Problem)))]
#[get("/plans/<id>/sheets/<name>")]
pub async fn draw_sheet(id: Uuid, name: &str, pool: &State<PgPool>) -> Result<Svg, Problem> {
    let (plan, found) = sheets_of(pool, id).await?;
    let sheet = found.into_iter().find(|s| s.name == name).ok_or_else(|| Problem::not_found("sheet"))?;
    Ok(Svg { name: format!("{}-{}.svg", file_stem(&plan), sheet.name), text: sheet.svg })
}
