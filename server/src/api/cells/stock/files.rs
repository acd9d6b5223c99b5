//! The stock as tables, in and out.

use brick_core::stock::{Conditions, Defaults, read_sheet};
use rocket::data::ToByteUnit;
use rocket::serde::json::Json;
use rocket::{Data, FromForm, State, get, post};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::{IntoParams, ToSchema};

use super::{bad_lines, taken_s, uuid_of};
use crate::Problem;
use crate::api::http::body::read_text;
use crate::api::http::download::Csv;
use crate::store::stock as store;
use crate::work::work;

/// Largest file of cells.
const SHEET_MIB: u64 = 8;
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
    let (sheet, unused) = work(move || read_sheet(&text, &defaults).map_err(bad_lines)).await?;
    let done = store::import(pool, &sheet, lot).await?;
    Ok(Json(ImportAnswer { new_cells: done.new_cells, known_cells: done.known_cells, readings: done.readings, unused }))
}

/// The stock as a table: one line a cell.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, content_type = "text/csv", body = String), (status = 422, body = Problem)))]
#[get("/stock/cells-file?<lot>")]
pub async fn export_cells(lot: Option<String>, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let text = store::cells_sheet(pool, uuid_of("/lot", lot.as_deref())?).await?;
    let text = text.ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name: "cells.csv".to_owned(), text })
}

/// The stock as a table: one line a reading, the full record.
#[utoipa::path(context_path = "/api", params(("lot" = Option<String>, Query, description = "id of a lot")),
    responses((status = 200, content_type = "text/csv", body = String), (status = 422, body = Problem)))]
#[get("/stock/readings-file?<lot>")]
pub async fn export_readings(lot: Option<String>, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let text = store::readings_sheet(pool, uuid_of("/lot", lot.as_deref())?).await?;
    let text = text.ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name: "readings.csv".to_owned(), text })
}
