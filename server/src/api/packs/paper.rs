//! A pack on paper: its label, and the sheet for whoever has it next.

use brick_core::plan::FieldError;
use brick_core::years::{HandOnPart, SAYS_MAX, hand_on, label, label_lines, without_forecast};
use chrono::Utc;
use rocket::serde::json::Json;
use rocket::{State, get};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::stored;
use crate::Problem;
use crate::api::http::download::Svg;
use crate::store::packs::Stored;
use crate::work::work;

/// What the square of a label says: the pack's address where the browser stands, or plain words.
fn says(pack: &Stored, origin: Option<&str>) -> Result<String, Problem> {
    let Some(origin) = origin.filter(|o| !o.is_empty()) else {
        let lines = label_lines(&pack.card, pack.number);
        let words = format!("{}: {}", pack.card.name, lines.join("; "));
        return Ok(words.chars().take(SAYS_MAX / 2).collect());
    };
    let is_address = ["http://", "https://"].iter().any(|s| origin.starts_with(s));
    if !is_address || origin.len() > 100 || origin.chars().any(|c| c.is_whitespace() || c.is_control()) {
        let message = "Address: as http://192.0.2.7:8080, at most 100 characters".to_owned();
        return Err(Problem::fields(vec![FieldError { field: "/origin".to_owned(), message }]));
    }
    Ok(format!("{}/packs/{}", origin.trim_end_matches('/'), pack.id))
}

fn drawn(pack: &Stored, origin: Option<&str>) -> Result<String, Problem> {
    let says = says(pack, origin)?;
    label(&label_lines(&pack.card, pack.number), &says).ok_or_else(|| Problem::fault(&"the label could not be drawn"))
}

/// The label of a pack, 70 × 32 mm. Its square holds the pack's address under `origin`, or plain words without one.
#[utoipa::path(context_path = "/api",
    params(("origin" = Option<String>, Query, description = "address of this workshop, as http://192.0.2.7:8080")),
    responses((status = 200, content_type = "image/svg+xml", body = String), (status = 404, body = Problem),
        (status = 422, body = Problem)))]
#[get("/packs/<id>/label?<origin>")]
pub async fn draw_label(id: Uuid, origin: Option<&str>, pool: &State<PgPool>) -> Result<Svg, Problem> {
    let pack = stored(pool, id).await?;
    Ok(Svg { name: format!("pack-{}-label.svg", pack.number), text: drawn(&pack, origin)? })
}

/// The sheet for whoever has a pack next.
#[derive(Debug, Serialize, ToSchema)]
pub struct HandOnSheet {
    /// Name of the pack.
    name: String,
    /// Number on its label.
    number: i32,
    /// Its label as SVG.
    label: String,
    /// What it says, part by part.
    parts: Vec<HandOnPart>,
}

/// The sheet for whoever has a pack next: what it is, how it is charged, what not to do, what was done to it.
#[utoipa::path(context_path = "/api",
    params(("origin" = Option<String>, Query, description = "address of this workshop, as http://192.0.2.7:8080")),
    responses((status = 200, body = HandOnSheet), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/packs/<id>/hand-on?<origin>")]
pub async fn write_hand_on(id: Uuid, origin: Option<&str>, pool: &State<PgPool>) -> Result<Json<HandOnSheet>, Problem> {
    let pack = stored(pool, id).await?;
    let label = drawn(&pack, origin)?;
    let (card, number) = (pack.card.clone(), pack.number);
    let parts = work(move || {
        let told = without_forecast(&pack.card, &pack.entries, Utc::now().timestamp());
        Ok::<_, Problem>(hand_on(&pack.card, &told))
    })
    .await?;
    Ok(Json(HandOnSheet { name: card.name, number, label, parts }))
}
