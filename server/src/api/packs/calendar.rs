//! What is due, as a calendar: a file to import once, or an address to subscribe to.

use chrono::{DateTime, NaiveDate};
use icalendar::{Calendar, Component, Event, EventLike};
use rocket::http::ContentType;
use rocket::{State, get};
use sqlx::PgPool;
use uuid::Uuid;

use super::list::{PackRow, rows};
use crate::Problem;
use crate::api::http::download::Bytes;

/// A calendar of packs: a day for everything that is or will be due.
///
/// Ids of events stay the same, so that a calendar that is taken in again moves its days and makes no second ones.
fn calendar(name: &str, packs: &[PackRow]) -> String {
    let mut calendar = Calendar::new();
    calendar.name(name);
    for pack in packs {
        for due in &pack.summary.due {
            let Some(on) = day(due.on_s) else { continue };
            calendar.push(
                Event::new()
                    .uid(&format!("{}-{}@dense-brick", pack.id, due.key))
                    .summary(&format!("Pack {} {}: {}", pack.number, pack.name, due.title))
                    .description(&due.says)
                    .all_day(on)
                    .done(),
            );
        }
    }
    calendar.done().to_string()
}

fn day(at_s: i64) -> Option<NaiveDate> {
    DateTime::from_timestamp(at_s, 0).map(|t| t.date_naive())
}

fn file(name: &str, text: String) -> Bytes {
    Bytes { name: format!("{name}.ics"), kind: ContentType::Calendar, bytes: text.into_bytes() }
}

/// What is due at every pack, as iCalendar.
#[utoipa::path(context_path = "/api", responses((status = 200, content_type = "text/calendar", body = String)))]
#[get("/packs/due.ics")]
pub async fn export_calendar(pool: &State<PgPool>) -> Result<Bytes, Problem> {
    Ok(file("packs", calendar("Packs: what is due", &rows(pool).await?)))
}

/// What is due at a pack, as iCalendar.
#[utoipa::path(context_path = "/api",
    responses((status = 200, content_type = "text/calendar", body = String), (status = 404, body = Problem)))]
#[get("/packs/<id>/due.ics")]
pub async fn export_pack_calendar(id: Uuid, pool: &State<PgPool>) -> Result<Bytes, Problem> {
    let all = rows(pool).await?;
    let pack = all.into_iter().find(|p| p.id == id).ok_or_else(|| Problem::not_found("pack"))?;
    let name = format!("pack-{}", pack.number);
    Ok(file(&name, calendar(&format!("Pack {}: what is due", pack.number), &[pack])))
}
