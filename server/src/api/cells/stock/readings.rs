//! Readings: typed, struck out, taken back.

use brick_core::base::typed;
use brick_core::plan::FieldError;
use brick_core::stock::{Conditions, Kind, TestReading};
use rocket::response::status::NoContent;
use rocket::{State, delete, post};
use serde::Deserialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::taken_s;
use crate::Problem;
use crate::api::http::body::Body;
use crate::store::stock::{self as store, NewReading};

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
    /// A new one for every request, the same when it is sent again because no answer came: then they are kept once.
    key: Option<Uuid>,
    /// Cell by cell.
    entries: Vec<TypedReading>,
}

/// Write readings down: all of them or none.
#[utoipa::path(context_path = "/api", request_body = TypedReadings,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/stock/readings", data = "<typed>")]
pub async fn type_readings(
    typed: Result<Body<TypedReadings>, Problem>,
    pool: &State<PgPool>,
) -> Result<NoContent, Problem> {
    let TypedReadings { kind, conditions, taken_at, key, entries } = typed?.0;
    let mut errors = conditions.check("/conditions");
    if kind == Kind::SelfDischargeV && conditions.rest_s.is_none() {
        let message = "say over how many days the voltage was lost".to_owned();
        errors.push(FieldError { field: "/conditions/rest_s".to_owned(), message });
    }
    if entries.is_empty() || entries.len() > brick_core::stock::CELLS_MAX {
        let message = format!("1 to {} readings at once", brick_core::stock::CELLS_MAX);
        errors.push(FieldError { field: "/entries".to_owned(), message });
    }
    let taken_s = taken_s("/taken_at", taken_at.as_deref())?;
    let mut readings = vec![];
    for (i, entry) in entries.iter().enumerate() {
        match typed::parse(&entry.text, kind.range()) {
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
    store::add_readings(pool, key, &readings).await?;
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
