//! The parts catalogue: read, added to, changed, deleted and taken back, as a sheet, and from a seller's text.

use brick_core::parts::catalogue::{Item, ItemPart, read_parts, write_parts};
use brick_core::parts::listing::{Listing, TEXT_MAX, read_listing};
use brick_core::plan::FieldError;
use brick_core::plan::fields::PartKind;
use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{Data, State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::Problem;
use crate::api::http::body::{Body, read_text};
use crate::api::http::download::Csv;
use crate::store::parts as store;
use crate::work::work;

/// Largest sheet of parts.
const SHEET_MIB: u64 = 4;

/// Every part of the catalogue, by its id.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<Item>)))]
#[get("/parts")]
pub async fn list_parts(pool: &State<PgPool>) -> Result<Json<Vec<Item>>, Problem> {
    Ok(Json(store::catalogue(pool).await?.items))
}

/// A part with what is said about the entry.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PartEntry {
    /// The part.
    part: ItemPart,
    /// Pieces at hand (metres of wire and strip).
    at_hand: Option<u32>,
    /// Where it is sold, who said so.
    note: String,
}

impl PartEntry {
    /// The entry under an id, checked as parts are inside a plan.
    fn checked(self, id: &str) -> Result<Item, Problem> {
        let mut item = Item { id: id.to_owned(), part: self.part, at_hand: self.at_hand, note: self.note };
        item.offer_mut().catalogue_id = Some(id.to_owned());
        let errors = item.check("");
        // An error about the part says where in the part; one about the entry names its own field.
        if errors.is_empty() { Ok(item) } else { Err(Problem::fields(errors)) }
    }
}

/// Add a part; its id is made from its name.
#[utoipa::path(context_path = "/api", request_body = PartEntry,
    responses((status = 201, body = Item), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/parts", data = "<entry>")]
pub async fn add_part(
    entry: Result<Body<PartEntry>, Problem>,
    pool: &State<PgPool>,
) -> Result<(Status, Json<Item>), Problem> {
    let item = entry?.0.checked("new")?;
    Ok((Status::Created, Json(store::add(pool, item).await?)))
}

/// Change a part; plans that hold a copy keep theirs.
#[utoipa::path(context_path = "/api", request_body = PartEntry,
    responses((status = 200, body = Item), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/parts/<part>", data = "<entry>")]
pub async fn change_part(
    part: &str,
    entry: Result<Body<PartEntry>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<Item>, Problem> {
    let item = entry?.0.checked(part)?;
    if store::change(pool, &item).await? { Ok(Json(item)) } else { Err(Problem::not_found("part")) }
}

/// Delete a part.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/parts/<part>")]
pub async fn remove_part(part: &str, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    if store::delete(pool, part, true).await? { Ok(NoContent) } else { Err(Problem::not_found("part")) }
}

/// Take the deleting of a part back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[post("/parts/<part>/restore")]
pub async fn restore_part(part: &str, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    if store::delete(pool, part, false).await? { Ok(NoContent) } else { Err(Problem::not_found("deleted part")) }
}

/// The catalogue as a table: one line a part.
#[utoipa::path(context_path = "/api", responses((status = 200, content_type = "text/csv", body = String)))]
#[get("/parts-file")]
pub async fn export_parts(pool: &State<PgPool>) -> Result<Csv, Problem> {
    let text = write_parts(&store::catalogue(pool).await?.items);
    let text = text.ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name: "parts.csv".to_owned(), text })
}

/// What an import of parts brought.
#[derive(Debug, Serialize, ToSchema)]
pub struct PartsImport {
    /// Parts that are new.
    added: usize,
    /// Parts that were there and are other now.
    changed: usize,
    /// Parts that were there just so.
    unchanged: usize,
    /// Columns that were not used.
    unused: Vec<String>,
}

/// Take parts in from a table; every bad line is told, and nothing is half taken.
#[utoipa::path(context_path = "/api", request_body(content = String, content_type = "text/plain"),
    responses((status = 200, body = PartsImport), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/parts-import", data = "<data>")]
pub async fn import_parts(data: Data<'_>, pool: &State<PgPool>) -> Result<Json<PartsImport>, Problem> {
    let text = read_text(data, SHEET_MIB.mebibytes()).await?;
    let (items, unused) = work(move || read_parts(&text).map_err(super::cells::stock::bad_lines)).await?;
    let done = store::import(pool, &items).await?;
    Ok(Json(PartsImport { added: done.added, changed: done.changed, unchanged: done.unchanged, unused }))
}

/// A seller's text.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ListingText {
    /// As copied.
    text: String,
    /// What it sells; absent to be guessed from its words.
    sold: Option<PartKind>,
}

/// Read a seller's text: figures proposed, contradictions and gaps told, with the test that settles each.
#[utoipa::path(context_path = "/api", request_body = ListingText,
    responses((status = 200, body = Listing), (status = 422, body = Problem)))]
#[post("/listing", data = "<listing>")]
pub async fn read_seller_text(listing: Result<Body<ListingText>, Problem>) -> Result<Json<Listing>, Problem> {
    let ListingText { text, sold } = listing?.0;
    let length = text.chars().count();
    if text.trim().is_empty() || length > TEXT_MAX {
        let message = format!("the seller's text, 1 to {TEXT_MAX} characters; this has {length}");
        return Err(Problem::fields(vec![FieldError { field: "/text".to_owned(), message }]));
    }
    work(move || Ok::<_, Problem>(read_listing(&text, sold))).await.map(Json)
}
