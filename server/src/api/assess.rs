//! Stateless judgement: assess a plan, weigh its voltage options, suggest parts.

use brick_core::assess::{Balance, ChargeReport, Coordination, PartTests};
use brick_core::fix::{BoardPlace, Fix, Raise};
use brick_core::later::Misuse;
use brick_core::suggest::{Suggestion, VoltageOptions, options};
use brick_core::{Assessment, Plan};
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::Deserialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use super::body::Body;
use crate::work::work;
use crate::{Problem, store};

/// Assess a plan: figures, findings, path, stages.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Assessment), (status = 422, body = Problem)))]
#[post("/assess", data = "<plan>")]
pub async fn assess(plan: Result<Body<Plan>, Problem>) -> Result<Json<Assessment>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess(&plan)).await.map(Json)
}

/// Every pack that could feed the device, best first.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = VoltageOptions), (status = 422, body = Problem)))]
#[post("/voltage-options", data = "<plan>")]
pub async fn voltage_options(plan: Result<Body<Plan>, Problem>) -> Result<Json<VoltageOptions>, Problem> {
    let plan = plan?.0;
    work(move || options(&plan)).await.map(Json)
}

/// Who acts first in overload, stall and dead short: fuse and board against what everything on the way bears.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Coordination), (status = 422, body = Problem)))]
#[post("/coordination", data = "<plan>")]
pub async fn coordination(plan: Result<Body<Plan>, Problem>) -> Result<Json<Coordination>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess::coordination(&plan)).await.map(Json)
}

/// Arrival tests of board, cut-off board, fuse and switch, with what was read and what it says.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Vec<PartTests>), (status = 422, body = Problem)))]
#[post("/arrival-tests", data = "<plan>")]
pub async fn arrivals(plan: Result<Body<Plan>, Problem>) -> Result<Json<Vec<PartTests>>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess::arrival_tests(&plan)).await.map(Json)
}

/// How far the groups are apart by their volts at rest, and what each school of balancing makes of it.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Balance), (status = 422, body = Problem)))]
#[post("/balance", data = "<plan>")]
pub async fn balance_groups(plan: Result<Body<Plan>, Problem>) -> Result<Json<Balance>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess::balance(&plan)).await.map(Json)
}

/// The ways to charge the pack, end volts and life, the course of the charge, what may feed it, what was read at its contacts.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = ChargeReport), (status = 422, body = Problem)))]
#[post("/charge", data = "<plan>")]
pub async fn charge_of_pack(plan: Result<Body<Plan>, Problem>) -> Result<Json<ChargeReport>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess::charge(&plan)).await.map(Json)
}

/// "Later, somebody will...": foreseeable misuse, what then happens, and what stands against it.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Vec<Misuse>), (status = 422, body = Problem)))]
#[post("/later", data = "<plan>")]
pub async fn later_on(plan: Result<Body<Plan>, Problem>) -> Result<Json<Vec<Misuse>>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::later::later(&plan)).await.map(Json)
}

/// Where the board may sit, and what it guards there.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Vec<BoardPlace>), (status = 422, body = Problem)))]
#[post("/board-places", data = "<plan>")]
pub async fn places_of_board(plan: Result<Body<Plan>, Problem>) -> Result<Json<Vec<BoardPlace>>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::fix::board_places(&plan)).await.map(Json)
}

/// A plan and the continuous current wanted of it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RaiseRequest {
    /// The plan.
    plan: Plan,
    /// Continuous current at the battery.
    wanted_a: f64,
}

/// What it would take to raise the continuous current, the cheapest first.
#[utoipa::path(context_path = "/api", request_body = RaiseRequest,
    responses((status = 200, body = Raise), (status = 422, body = Problem)))]
#[post("/raise", data = "<request>")]
pub async fn raise_current(
    request: Result<Body<RaiseRequest>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<Raise>, Problem> {
    let RaiseRequest { plan, wanted_a } = request?.0;
    let catalogue = store::parts::catalogue(pool).await?;
    work(move || brick_core::fix::raise(&plan, &catalogue, wanted_a)).await.map(Json)
}

/// A plan and the place in it that wants a part.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SuggestRequest {
    /// The plan.
    plan: Plan,
    /// `cell`, `strip`, or the id of a node or run.
    place: String,
}

/// Parts of the catalogue for one place, best first, each misfit with its reason.
#[utoipa::path(context_path = "/api", request_body = SuggestRequest,
    responses((status = 200, body = Vec<Suggestion>), (status = 422, body = Problem)))]
#[post("/suggest", data = "<request>")]
pub async fn suggest(
    request: Result<Body<SuggestRequest>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<Vec<Suggestion>>, Problem> {
    let SuggestRequest { plan, place } = request?.0;
    let catalogue = store::parts::catalogue(pool).await?;
    work(move || brick_core::suggest(&plan, &catalogue, &place)).await.map(Json)
}

/// A plan and one of its findings.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FixRequest {
    /// The plan.
    plan: Plan,
    /// Key of the finding.
    finding: String,
}

/// The smallest changes that clear a finding, each tried before it is offered.
#[utoipa::path(context_path = "/api", request_body = FixRequest,
    responses((status = 200, body = Vec<Fix>), (status = 422, body = Problem)))]
#[post("/fixes", data = "<request>")]
pub async fn fixes(
    request: Result<Body<FixRequest>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<Vec<Fix>>, Problem> {
    let FixRequest { plan, finding } = request?.0;
    let catalogue = store::parts::catalogue(pool).await?;
    work(move || brick_core::fixes(&plan, &catalogue, &finding)).await.map(Json)
}
