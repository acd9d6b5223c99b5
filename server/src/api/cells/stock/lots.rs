//! Lots: made, changed, inspected, deleted and taken back.

use brick_core::plan::FieldError;
use brick_core::stock::{Lot, LotReport, label_range};
use chrono::{DateTime, Utc};
use rocket::http::Status;
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::store::packs;
use crate::store::stock::{self as store, LotRow};

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
pub async fn list_lots(pool: &State<PgPool>) -> Result<Json<Vec<LotSummary>>, Problem> {
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

/// The labels of a lot that can stand; every field that cannot is named at once.
fn checked(lot: &Lot, labels: &str) -> Result<Vec<String>, Problem> {
    let below = |e: FieldError| FieldError { field: format!("/lot{}", e.field), ..e };
    let mut errors: Vec<FieldError> = lot.check().into_iter().map(below).collect();
    let read = if labels.trim().is_empty() { Ok(vec![]) } else { label_range(labels) };
    let labels = read.unwrap_or_else(|message| {
        errors.push(FieldError { field: "/labels".to_owned(), message: format!("Labels: {message}") });
        vec![]
    });
    if errors.is_empty() { Ok(labels) } else { Err(Problem::fields(errors)) }
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
    let id = store::create_lot(pool, &lot, &checked(&lot, &text)?).await?;
    Ok((Status::Created, summary(pool, id).await?))
}

/// A lot inspected.
#[derive(Debug, Serialize, ToSchema)]
pub struct LotInspection {
    /// The lot.
    summary: LotSummary,
    /// What is thought of it as a whole.
    report: LotReport,
    /// Packs with cells of it.
    packs: Vec<LotPack>,
}

/// A pack with cells of a lot.
#[derive(Debug, Serialize, ToSchema)]
pub struct LotPack {
    /// Id.
    id: Uuid,
    /// Number on its label.
    number: i32,
    /// Name.
    name: String,
    /// Cells of the lot in it.
    cells: i64,
}

/// A lot and what is thought of it.
#[utoipa::path(context_path = "/api", responses((status = 200, body = LotInspection), (status = 404, body = Problem)))]
#[get("/stock/lots/<id>")]
pub async fn read_lot(id: Uuid, pool: &State<PgPool>) -> Result<Json<LotInspection>, Problem> {
    let summary = summary(pool, id).await?.0;
    let (.., report, _) = store::inspected(pool, id).await?.ok_or_else(|| Problem::not_found("lot"))?;
    let packs = packs::with_lot(pool, &summary.lot.name).await?;
    let packs = packs.into_iter().map(|(id, number, name, cells)| LotPack { id, number, name, cells }).collect();
    Ok(Json(LotInspection { summary, report, packs }))
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

/// Change a lot; its cells are judged again.
#[utoipa::path(context_path = "/api", request_body = ChangedLot,
    responses((status = 200, body = LotSummary), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/stock/lots/<id>", data = "<changed>")]
pub async fn update_lot(
    id: Uuid,
    changed: Result<Body<ChangedLot>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<LotSummary>, Problem> {
    let ChangedLot { lot, labels: text } = changed?.0;
    store::update_lot(pool, id, &lot, &checked(&lot, &text)?).await?;
    summary(pool, id).await
}

/// Delete a lot with its cells; it can be taken back. Refused while plans use some.
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
