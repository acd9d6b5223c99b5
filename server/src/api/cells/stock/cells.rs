//! Cells: a window at a time, one by one, and what becomes of them.

use brick_core::plan::FieldError;
use brick_core::stock::{CellReport, CellState, CellVerdict, Fault, FaultText};
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{FromForm, State, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::{one_of, uuid_of};
use crate::Problem;
use crate::api::http::asked::{Asked, given, within};
use crate::api::http::body::Body;
use crate::store::stock::{self as store, CellFilter, CellRow, Event, KeptReading, Point, Sort, StateChange};

/// Most rows that are handed out at once.
const WINDOW_MAX: i64 = 500;
/// Rows far down the table.
const OFFSET_MAX: i64 = 1_000_000;

/// Which cells, in which order, which window of them.
#[derive(Debug, FromForm, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CellQuery {
    /// Id of a lot.
    lot: Option<String>,
    /// new, tested, reserved, built_in, retired.
    state: Option<String>,
    /// unfinished, fine, watch, recover, scrap.
    verdict: Option<String>,
    /// Part of a label.
    search: Option<String>,
    /// label, lot, state, verdict, arrival_v, resistance_ohm, capacity_ah, lost_a_day_v.
    sort: Option<String>,
    /// The largest first.
    #[param(value_type = Option<bool>)]
    descending: Option<Asked<bool>>,
    /// First row wanted, from 0.
    #[param(value_type = Option<i64>, minimum = 0, maximum = 1_000_000)]
    offset: Option<Asked<i64>>,
    /// How many, at most 500.
    #[param(value_type = Option<i64>, minimum = 1, maximum = 500)]
    limit: Option<Asked<i64>>,
}

/// A window of the stock.
#[derive(Debug, Serialize, ToSchema)]
pub struct CellWindow {
    /// How many cells there are under the filter.
    total: i64,
    /// The rows of the window.
    rows: Vec<CellRow>,
}

/// Cells under a filter, a window at a time.
#[utoipa::path(context_path = "/api", params(CellQuery),
    responses((status = 200, body = CellWindow), (status = 422, body = Problem)))]
#[get("/stock/cells?<query..>")]
pub async fn list_cells(query: CellQuery, pool: &State<PgPool>) -> Result<Json<CellWindow>, Problem> {
    let filter = CellFilter {
        lot: uuid_of("/lot", query.lot.as_deref())?,
        state: one_of("/state", query.state.as_deref(), CellState::of, "a state")?,
        verdict: one_of("/verdict", query.verdict.as_deref(), CellVerdict::of, "a verdict")?,
        search: query.search,
        sort: one_of("/sort", query.sort.as_deref(), Sort::of, "a column")?.unwrap_or_default(),
        descending: given("descending", query.descending, "true or false")?.unwrap_or(false),
        offset: within("offset", query.offset, 0, 0, OFFSET_MAX)?,
        limit: within("limit", query.limit, WINDOW_MAX, 1, WINDOW_MAX)?,
    };
    let (total, rows) = store::cells(pool, &filter).await?;
    Ok(Json(CellWindow { total, rows }))
}

/// Capacity and resistance of every cell that has one, for the plots.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, body = Vec<Point>), (status = 422, body = Problem)))]
#[get("/stock/points?<lot>")]
pub async fn list_points(lot: Option<String>, pool: &State<PgPool>) -> Result<Json<Vec<Point>>, Problem> {
    Ok(Json(store::points(pool, uuid_of("/lot", lot.as_deref())?).await?))
}

/// One cell with all that is known of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct CellSheet {
    /// The row.
    row: CellRow,
    /// Verdict, with its working.
    report: CellReport,
    /// Faults found; absent when it was not inspected.
    faults: Option<Vec<Fault>>,
    /// The checklist for the eye.
    checklist: Vec<FaultText>,
    /// Readings, the newest first.
    readings: Vec<KeptReading>,
    /// History, the newest first.
    events: Vec<Event>,
}

async fn sheet(pool: &PgPool, id: Uuid) -> Result<Json<CellSheet>, Problem> {
    let missing = || Problem::not_found("cell");
    let detail = store::detail(pool, id).await?.ok_or_else(missing)?;
    let (_, cells, _, reports) = store::inspected(pool, detail.row.lot_id).await?.ok_or_else(missing)?;
    let report = cells.iter().zip(reports).find(|(c, _)| c.id == id).map(|(_, r)| r).ok_or_else(missing)?;
    Ok(Json(CellSheet {
        row: detail.row,
        report,
        faults: detail.faults,
        checklist: Fault::LIST.to_vec(),
        readings: detail.readings,
        events: detail.events,
    }))
}

/// One cell.
#[utoipa::path(context_path = "/api", responses((status = 200, body = CellSheet), (status = 404, body = Problem)))]
#[get("/stock/cells/<id>")]
pub async fn read_cell(id: Uuid, pool: &State<PgPool>) -> Result<Json<CellSheet>, Problem> {
    sheet(pool, id).await
}

/// What was seen on a cell, and whom it is kept with.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CellInspection {
    /// Faults found; absent when it was not inspected.
    faults: Option<Vec<Fault>>,
    /// Partner's label or a mark.
    keep_with: Option<String>,
}

/// Keep what was seen on a cell.
#[utoipa::path(context_path = "/api", request_body = CellInspection,
    responses((status = 200, body = CellSheet), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/stock/cells/<id>", data = "<inspection>")]
pub async fn inspect_cell(
    id: Uuid,
    inspection: Result<Body<CellInspection>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<CellSheet>, Problem> {
    let CellInspection { faults, keep_with } = inspection?.0;
    let keep_with = keep_with.map(|k| k.trim().to_owned()).filter(|k| !k.is_empty());
    if keep_with.as_ref().is_some_and(|k| k.chars().count() > brick_core::stock::LABEL_MAX) {
        let message = format!("at most {} characters", brick_core::stock::LABEL_MAX);
        return Err(Problem::fields(vec![FieldError { field: "/keep_with".to_owned(), message }]));
    }
    store::set_look(pool, id, faults.as_deref(), keep_with.as_deref()).await?;
    sheet(pool, id).await
}

/// Cells that change their state by hand.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewState {
    /// The cells.
    cells: Vec<Uuid>,
    /// State wanted.
    state: CellState,
    /// Why, in the maker's words.
    #[serde(default)]
    note: String,
}

/// Retire cells, take them back, or note that they are built in: all of them or none.
#[utoipa::path(context_path = "/api", request_body = NewState,
    responses((status = 204), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/stock/states", data = "<new>")]
pub async fn change_states(new: Result<Body<NewState>, Problem>, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    const NOTE_MAX: usize = 400;
    let NewState { mut cells, state, note } = new?.0;
    if note.chars().count() > NOTE_MAX {
        let message = format!("at most {NOTE_MAX} characters");
        return Err(Problem::fields(vec![FieldError { field: "/note".to_owned(), message }]));
    }
    cells.sort_unstable();
    cells.dedup();
    store::set_state(pool, &StateChange { cells, state, note }).await?;
    Ok(NoContent)
}
