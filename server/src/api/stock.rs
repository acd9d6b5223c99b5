//! The stock: lots, cells, readings, files in and out.

use brick_core::plan::FieldError;
use brick_core::quantity;
use brick_core::stock::{
    CellReport, CellState, CellVerdict, Conditions, Defaults, Fault, FaultText, Kind, Lot, LotReport, TestReading,
    label_range, read_sheet,
};
use brick_core::table::{LineError, moment};
use chrono::{DateTime, Utc};
use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{Data, FromForm, State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::body::{Body, read_text};
use super::download::Csv;
use crate::Problem;
use crate::store::stock::{
    self as store, CellFilter, CellRow, Event, KeptReading, LotRow, NewReading, Point, Sort, StateChange, StockError,
};

/// Largest file of cells.
const SHEET_MIB: u64 = 8;
/// Most rows that are handed out at once.
const WINDOW_MAX: i64 = 500;

impl From<StockError> for Problem {
    fn from(error: StockError) -> Self {
        match error {
            StockError::Missing(what) => Problem::not_found(what),
            StockError::LabelsTaken(_) => {
                let message = error.to_string();
                Problem::fields(vec![FieldError { field: "/labels".to_owned(), message }])
            }
            StockError::NameTaken(_) => {
                let message = error.to_string();
                Problem::fields(vec![FieldError { field: "/lot/name".to_owned(), message }])
            }
            StockError::State(told) => Problem::new(Status::Conflict, "That cannot be done with these cells", told),
            StockError::Lines(lines) => bad_lines(lines),
            StockError::Database(error) => error.into(),
        }
    }
}

/// Every bad line of a file.
fn bad_lines(lines: Vec<LineError>) -> Problem {
    let told = |e: LineError| FieldError { field: format!("/text/{}", e.line), message: e.to_string() };
    Problem { title: "Nothing was taken in".to_owned(), ..Problem::fields(lines.into_iter().map(told).collect()) }
}

/// A lot with what its cells came to.
#[derive(Debug, Serialize, ToSchema)]
pub struct LotSummary {
    /// Id.
    id: Uuid,
    /// The lot.
    lot: Lot,
    /// When it was made.
    created_at: DateTime<Utc>,
    /// Cells.
    cells: i64,
    /// Cells by verdict: unfinished, fine, watch, recover, scrap.
    verdicts: Vec<i64>,
    /// Cells by state: new, tested, reserved, built in, retired.
    states: Vec<i64>,
}

impl From<LotRow> for LotSummary {
    fn from(row: LotRow) -> Self {
        LotSummary {
            id: row.id,
            lot: row.document.0,
            created_at: row.created_at,
            cells: row.cells,
            verdicts: row.verdicts,
            states: row.states,
        }
    }
}

/// Every lot, the oldest first.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<LotSummary>)))]
#[get("/stock/lots")]
pub async fn lots(pool: &State<PgPool>) -> Result<Json<Vec<LotSummary>>, Problem> {
    Ok(Json(store::lots(pool).await?.into_iter().map(LotSummary::from).collect()))
}

/// A lot with labels for its cells: "A01-A40, B3".
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewLot {
    /// The lot.
    lot: Lot,
    /// Labels; none where a file brings the cells.
    labels: String,
}

fn labels(text: &str) -> Result<Vec<String>, Problem> {
    if text.trim().is_empty() {
        return Ok(vec![]);
    }
    label_range(text).map_err(|message| Problem::fields(vec![FieldError { field: "/labels".to_owned(), message }]))
}

fn check_lot(lot: &Lot) -> Result<(), Problem> {
    let below = |e: FieldError| FieldError { field: format!("/lot{}", e.field), ..e };
    let errors: Vec<FieldError> = lot.check().into_iter().map(below).collect();
    if errors.is_empty() { Ok(()) } else { Err(Problem::fields(errors)) }
}

async fn summary(pool: &PgPool, id: Uuid) -> Result<Json<LotSummary>, Problem> {
    Ok(Json(store::lot(pool, id).await?.ok_or_else(|| Problem::not_found("lot"))?.into()))
}

/// Make a lot.
#[utoipa::path(context_path = "/api", request_body = NewLot,
    responses((status = 201, body = LotSummary), (status = 422, body = Problem)))]
#[post("/stock/lots", data = "<new>")]
pub async fn create_lot(
    new: Result<Body<NewLot>, Problem>,
    pool: &State<PgPool>,
) -> Result<(Status, Json<LotSummary>), Problem> {
    let NewLot { lot, labels: text } = new?.0;
    check_lot(&lot)?;
    let id = store::create_lot(pool, &lot, &labels(&text)?).await?;
    Ok((Status::Created, summary(pool, id).await?))
}

/// A lot inspected.
#[derive(Debug, Serialize, ToSchema)]
pub struct LotInspection {
    /// The lot.
    summary: LotSummary,
    /// What is thought of it as a whole.
    report: LotReport,
}

/// A lot and what is thought of it.
#[utoipa::path(context_path = "/api", responses((status = 200, body = LotInspection), (status = 404, body = Problem)))]
#[get("/stock/lots/<id>")]
pub async fn lot(id: Uuid, pool: &State<PgPool>) -> Result<Json<LotInspection>, Problem> {
    let summary = summary(pool, id).await?.0;
    let (.., report, _) = store::inspected(pool, id).await?.ok_or_else(|| Problem::not_found("lot"))?;
    Ok(Json(LotInspection { summary, report }))
}

/// What is known of a lot, changed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangedLot {
    /// The lot.
    lot: Lot,
    /// Labels of cells that join it.
    labels: String,
}

/// Change a lot; its cells are judged anew.
#[utoipa::path(context_path = "/api", request_body = ChangedLot,
    responses((status = 200, body = LotSummary), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/stock/lots/<id>", data = "<changed>")]
pub async fn update_lot(
    id: Uuid,
    changed: Result<Body<ChangedLot>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<LotSummary>, Problem> {
    let ChangedLot { lot, labels: text } = changed?.0;
    check_lot(&lot)?;
    store::update_lot(pool, id, &lot, &labels(&text)?).await?;
    summary(pool, id).await
}

/// Delete a lot with its cells; it can be taken back. Refused while plans count on some.
#[utoipa::path(context_path = "/api",
    responses((status = 204), (status = 404, body = Problem), (status = 409, body = Problem)))]
#[delete("/stock/lots/<id>")]
pub async fn remove_lot(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    store::delete_lot(pool, id).await?;
    Ok(NoContent)
}

/// Take the deletion of a lot back.
#[utoipa::path(context_path = "/api",
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/stock/lots/<id>/restore")]
pub async fn restore_lot(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    store::restore_lot(pool, id).await?;
    Ok(NoContent)
}

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
    descending: Option<bool>,
    /// First row wanted, from 0.
    offset: Option<i64>,
    /// How many, at most 500.
    limit: Option<i64>,
}

fn one_of<T>(
    field: &str,
    text: Option<&str>,
    read: impl Fn(&str) -> Option<T>,
    all: &str,
) -> Result<Option<T>, Problem> {
    let Some(text) = text.filter(|t| !t.is_empty()) else { return Ok(None) };
    let refuse =
        || Problem::fields(vec![FieldError { field: field.to_owned(), message: format!("“{text}” is not {all}") }]);
    read(text).map(Some).ok_or_else(refuse)
}

fn uuid_of(field: &str, text: Option<&str>) -> Result<Option<Uuid>, Problem> {
    one_of(field, text, |t| t.parse().ok(), "an id")
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
pub async fn cells(query: CellQuery, pool: &State<PgPool>) -> Result<Json<CellWindow>, Problem> {
    let filter = CellFilter {
        lot: uuid_of("/lot", query.lot.as_deref())?,
        state: one_of("/state", query.state.as_deref(), CellState::of, "a state")?,
        verdict: one_of("/verdict", query.verdict.as_deref(), CellVerdict::of, "a verdict")?,
        search: query.search,
        sort: one_of("/sort", query.sort.as_deref(), Sort::of, "a column")?.unwrap_or_default(),
        descending: query.descending.unwrap_or(false),
        offset: query.offset.unwrap_or(0).max(0),
        limit: query.limit.unwrap_or(WINDOW_MAX).clamp(1, WINDOW_MAX),
    };
    let (total, rows) = store::cells(pool, &filter).await?;
    Ok(Json(CellWindow { total, rows }))
}

/// Capacity and resistance of every cell that has one, for the plots.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, body = Vec<Point>), (status = 422, body = Problem)))]
#[get("/stock/points?<lot>")]
pub async fn points(lot: Option<String>, pool: &State<PgPool>) -> Result<Json<Vec<Point>>, Problem> {
    Ok(Json(store::points(pool, uuid_of("/lot", lot.as_deref())?).await?))
}

/// One cell with all that is known of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct CellSheet {
    /// The row.
    row: CellRow,
    /// Verdict, with its working.
    report: CellReport,
    /// Faults found; absent when nobody looked.
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
pub async fn stock_cell(id: Uuid, pool: &State<PgPool>) -> Result<Json<CellSheet>, Problem> {
    sheet(pool, id).await
}

/// What was seen on a cell, and whom it is kept with.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Look {
    /// Faults found; absent when nobody looked.
    faults: Option<Vec<Fault>>,
    /// Fellow's label or a mark.
    keep_with: Option<String>,
}

/// Keep what was seen on a cell.
#[utoipa::path(context_path = "/api", request_body = Look,
    responses((status = 200, body = CellSheet), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/stock/cells/<id>", data = "<look>")]
pub async fn look_at_cell(
    id: Uuid,
    look: Result<Body<Look>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<CellSheet>, Problem> {
    let Look { faults, keep_with } = look?.0;
    let keep_with = keep_with.map(|k| k.trim().to_owned()).filter(|k| !k.is_empty());
    if keep_with.as_ref().is_some_and(|k| k.chars().count() > brick_core::stock::LABEL_MAX) {
        let message = format!("at most {} characters", brick_core::stock::LABEL_MAX);
        return Err(Problem::fields(vec![FieldError { field: "/keep_with".to_owned(), message }]));
    }
    store::set_look(pool, id, faults.as_deref(), keep_with.as_deref()).await?;
    sheet(pool, id).await
}

/// A reading as typed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedReading {
    /// The cell.
    cell: Uuid,
    /// As typed: "62 m", "2,15 Ah".
    text: String,
}

/// Readings of one kind under the same conditions, as typed or pasted.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedReadings {
    /// What was read.
    kind: Kind,
    /// Conditions of all.
    #[serde(default)]
    conditions: Conditions,
    /// When they were taken; now if absent.
    taken_at: Option<String>,
    /// Cell by cell.
    entries: Vec<TypedReading>,
}

/// When readings were taken: as said, or now; never in days to come.
fn taken_s(field: &str, text: Option<&str>) -> Result<i64, Problem> {
    const DAY_S: i64 = 86_400;
    let now_s = Utc::now().timestamp();
    let Some(text) = text.filter(|t| !t.trim().is_empty()) else { return Ok(now_s) };
    let refuse =
        |message: &str| Problem::fields(vec![FieldError { field: field.to_owned(), message: message.to_owned() }]);
    let at_s = moment(text).ok_or_else(|| refuse("a day as 2026-11-25, or with a time as 2026-11-25 10:30"))?;
    if at_s > now_s + DAY_S { Err(refuse("lies in the future")) } else { Ok(at_s) }
}

/// Write readings down: all of them or none.
#[utoipa::path(context_path = "/api", request_body = TypedReadings,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/stock/readings", data = "<typed>")]
pub async fn type_readings(
    typed: Result<Body<TypedReadings>, Problem>,
    pool: &State<PgPool>,
) -> Result<NoContent, Problem> {
    let TypedReadings { kind, conditions, taken_at, entries } = typed?.0;
    let mut errors = conditions.check("/conditions");
    if kind == Kind::SelfDischargeV && conditions.rest_s.is_none() {
        let message = "say over how many days the volts were lost".to_owned();
        errors.push(FieldError { field: "/conditions/rest_s".to_owned(), message });
    }
    if entries.is_empty() || entries.len() > brick_core::stock::CELLS_MAX {
        let message = format!("1 to {} readings at once", brick_core::stock::CELLS_MAX);
        errors.push(FieldError { field: "/entries".to_owned(), message });
    }
    let taken_s = taken_s("/taken_at", taken_at.as_deref())?;
    let mut readings = vec![];
    for (i, entry) in entries.iter().enumerate() {
        match quantity::parse(&entry.text, kind.range()) {
            Ok(value) => {
                let reading = TestReading { kind, value, conditions: conditions.clone(), taken_s };
                readings.push(NewReading { cell: entry.cell, reading });
            }
            Err(e) => errors.push(FieldError { field: format!("/entries/{i}/text"), message: e.to_string() }),
        }
    }
    if !errors.is_empty() {
        return Err(Problem::fields(errors));
    }
    store::add_readings(pool, &readings).await?;
    Ok(NoContent)
}

/// Strike a reading out; it stays in the record and counts no more.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/stock/readings/<id>")]
pub async fn strike_reading(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    store::strike(pool, id, true).await?;
    Ok(NoContent)
}

/// Take the striking of a reading back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[post("/stock/readings/<id>/restore")]
pub async fn restore_reading(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    store::strike(pool, id, false).await?;
    Ok(NoContent)
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

/// What a file does not say of its lines.
#[derive(Debug, FromForm, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ImportQuery {
    /// Lot of lines that name none.
    lot: Option<String>,
    /// Instrument of readings that name none.
    instrument: Option<String>,
    /// When readings were taken that do not say so.
    taken_at: Option<String>,
}

/// What an import brought.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportAnswer {
    /// Cells that are new.
    new_cells: usize,
    /// Cells that were there and got readings.
    known_cells: usize,
    /// Readings.
    readings: usize,
    /// Columns that were not used.
    unused: Vec<String>,
}

/// Take cells and readings in from a table; every bad line is told, and nothing is half taken.
#[utoipa::path(context_path = "/api", params(ImportQuery), request_body(content = String, content_type = "text/plain"),
    responses((status = 200, body = ImportAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/stock/import?<query..>", data = "<data>")]
pub async fn import_cells(
    query: ImportQuery,
    data: Data<'_>,
    pool: &State<PgPool>,
) -> Result<Json<ImportAnswer>, Problem> {
    let lot = uuid_of("/lot", query.lot.as_deref())?;
    let conditions = Conditions { instrument: query.instrument.unwrap_or_default(), ..Conditions::default() };
    let errors = conditions.check("");
    if !errors.is_empty() {
        return Err(Problem::fields(errors));
    }
    let defaults = Defaults { conditions, taken_s: taken_s("/taken_at", query.taken_at.as_deref())? };
    let text = read_text(data, SHEET_MIB.mebibytes()).await?;
    let (sheet, unused) = read_sheet(&text, &defaults).map_err(bad_lines)?;
    let done = store::import(pool, &sheet, lot).await?;
    Ok(Json(ImportAnswer { new_cells: done.new_cells, known_cells: done.known_cells, readings: done.readings, unused }))
}

/// The stock as a table: one line a cell.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, content_type = "text/csv", body = String), (status = 422, body = Problem)))]
#[get("/stock/cells-file?<lot>")]
pub async fn cells_file(lot: Option<String>, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let text = store::cells_sheet(pool, uuid_of("/lot", lot.as_deref())?).await.map_err(|e| Problem::fault(&e))?;
    Ok(Csv { name: "cells.csv".to_owned(), text })
}

/// The stock as a table: one line a reading, the full record.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, content_type = "text/csv", body = String), (status = 422, body = Problem)))]
#[get("/stock/readings-file?<lot>")]
pub async fn readings_file(lot: Option<String>, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let text = store::readings_sheet(pool, uuid_of("/lot", lot.as_deref())?).await.map_err(|e| Problem::fault(&e))?;
    Ok(Csv { name: "readings.csv".to_owned(), text })
}
