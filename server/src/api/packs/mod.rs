//! Packs in use: their cards, their logs, what is due, their labels and files.

pub mod calendar;
pub mod file;
pub mod list;
pub mod paper;

use brick_core::assess;
use brick_core::base::table::written_moment;
use brick_core::plan::FieldError;
use brick_core::years::{PackCard, PackEntry, PackStory, label_lines, read_log, story, write_log};
use chrono::Utc;
use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{Data, State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::cells::stock::bad_lines;
use super::http::body::{Body, read_text};
use super::http::download::{Csv, file_stem};
use crate::Problem;
use crate::store::packs::{self, Held, MOST_ENTRIES, MOST_PACKS, Origin, Stored};
use crate::store::{builds, plans};
use crate::work::work;

/// Largest table of a log.
const TABLE_MIB: u64 = 4;

/// A pack as it stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct OpenPack {
    /// Id.
    id: Uuid,
    /// Number on its label.
    number: i32,
    /// Its plan, while that is there.
    plan_id: Option<Uuid>,
    /// The build it came from.
    build_id: Option<Uuid>,
    /// Its card.
    card: PackCard,
    /// How often the card was written: a change names the one it started from.
    revision: i32,
    /// Counts as 4S2P.
    counts: String,
    /// What stands on its label.
    label: Vec<String>,
    /// What its log tells.
    story: PackStory,
}

impl OpenPack {
    async fn of(pack: Stored) -> Result<OpenPack, Problem> {
        work(move || {
            let told = story(&pack.card, &pack.entries, Utc::now().timestamp());
            Ok::<_, Problem>(OpenPack {
                id: pack.id,
                number: pack.number,
                plan_id: pack.plan_id,
                build_id: pack.build_id,
                revision: pack.revision,
                counts: pack.card.counts(),
                label: label_lines(&pack.card, pack.number),
                card: pack.card,
                story: told,
            })
        })
        .await
    }
}

async fn held(pool: &PgPool, id: Uuid) -> Result<Held, Problem> {
    Held::take(pool, id).await?.ok_or_else(|| Problem::not_found("pack"))
}

async fn stored(pool: &PgPool, id: Uuid) -> Result<Stored, Problem> {
    packs::get(pool, id).await?.ok_or_else(|| Problem::not_found("pack"))
}

async fn put_in(pool: &PgPool, origin: Origin, card: &PackCard, entries: &[PackEntry]) -> Result<Uuid, Problem> {
    let mut tx = pool.begin().await?;
    let id = packs::insert(&mut tx, origin, card, entries).await?.ok_or_else(full)?;
    tx.commit().await?;
    Ok(id)
}

fn full() -> Problem {
    Problem::new(
        Status::Conflict,
        "There are too many packs",
        format!("{MOST_PACKS} packs are kept, deleted ones among them."),
    )
}

/// A pack that was found, bought or built elsewhere.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPack {
    /// Its card.
    card: PackCard,
}

/// Enter a pack as it was found.
#[utoipa::path(context_path = "/api", request_body = NewPack,
    responses((status = 201, body = OpenPack), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/packs", data = "<new>")]
pub async fn create_pack(
    new: Result<Body<NewPack>, Problem>,
    pool: &State<PgPool>,
) -> Result<(Status, Json<OpenPack>), Problem> {
    let card = new?.0.card;
    check_card(&card)?;
    let id = put_in(pool, Origin::default(), &card, &[]).await?;
    Ok((Status::Created, Json(OpenPack::of(stored(pool, id).await?).await?)))
}

fn check_card(card: &PackCard) -> Result<(), Problem> {
    let below = |e: FieldError| FieldError { field: format!("/card{}", e.field), ..e };
    let errors: Vec<FieldError> = card.check().into_iter().map(below).collect();
    if errors.is_empty() { Ok(()) } else { Err(Problem::fields(errors)) }
}

/// Make a pack of a build: its card says what the plan says of it, in the revision that was built.
#[utoipa::path(context_path = "/api",
    responses((status = 201, body = OpenPack), (status = 404, body = Problem), (status = 409, body = Problem)))]
#[post("/builds/<id>/pack")]
pub async fn make_pack(id: Uuid, pool: &State<PgPool>) -> Result<(Status, Json<OpenPack>), Problem> {
    let build = builds::get(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    let origin = Origin { plan_id: Some(build.plan_id), build_id: Some(build.id) };
    let card = work(move || {
        let assessment = assess(&build.plan)?;
        let now = written_moment(Utc::now().timestamp());
        PackCard::of_plan(&build.plan, &assessment, now.get(..10).unwrap_or_default()).ok_or_else(|| {
            let detail = "Chemistry and counts of the plan are open; choose them first.";
            Problem::new(Status::Conflict, "There is no pack yet", detail)
        })
    })
    .await?;
    let made = put_in(pool, origin, &card, &[]).await?;
    Ok((Status::Created, Json(OpenPack::of(stored(pool, made).await?).await?)))
}

/// A pack as it stands.
#[utoipa::path(context_path = "/api", responses((status = 200, body = OpenPack), (status = 404, body = Problem)))]
#[get("/packs/<id>")]
pub async fn read_pack(id: Uuid, pool: &State<PgPool>) -> Result<Json<OpenPack>, Problem> {
    Ok(Json(OpenPack::of(stored(pool, id).await?).await?))
}

/// A card, changed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangedCard {
    /// The revision it started from.
    revision: i32,
    /// The card.
    card: PackCard,
}

/// Change a card. One that someone else changed meanwhile is not written over.
#[utoipa::path(context_path = "/api", request_body = ChangedCard,
    responses((status = 200, body = OpenPack), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[put("/packs/<id>/card", data = "<changed>")]
pub async fn change_card(
    id: Uuid,
    changed: Result<Body<ChangedCard>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<OpenPack>, Problem> {
    let ChangedCard { revision, card } = changed?.0;
    check_card(&card)?;
    let mut held = held(pool, id).await?;
    if held.pack.revision != revision {
        let detail = "The card was changed elsewhere since; look at it again.";
        return Err(Problem::new(Status::Conflict, "Changed elsewhere", detail));
    }
    if held.pack.card.series != card.series && !held.pack.entries.is_empty() {
        let message = "Series count: the log holds readings of each group; enter another pack instead".to_owned();
        return Err(Problem::fields(vec![FieldError { field: "/card/series".to_owned(), message }]));
    }
    held.change_card(card).await?;
    Ok(Json(OpenPack::of(held.keep().await?).await?))
}

/// Something that happened to a pack, to be kept once.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Befallen {
    /// A new one for everything that happens, the same when it is sent again because no answer came.
    key: Uuid,
    /// What happened.
    entry: PackEntry,
}

/// Append to a log.
#[utoipa::path(context_path = "/api", request_body = Befallen,
    responses((status = 200, body = OpenPack), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[post("/packs/<id>/entries", data = "<befallen>")]
pub async fn keep_entry(
    id: Uuid,
    befallen: Result<Body<Befallen>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<OpenPack>, Problem> {
    let Befallen { key, entry } = befallen?.0;
    let mut held = held(pool, id).await?;
    if held.has(key).await? {
        return Ok(Json(OpenPack::of(held.give_back()).await?));
    }
    room_for(&held, 1)?;
    let below = |e: FieldError| FieldError { field: format!("/entry{}", e.field), ..e };
    let errors: Vec<FieldError> = entry.check(&held.pack.card, &held.pack.entries).into_iter().map(below).collect();
    if !errors.is_empty() {
        return Err(Problem::fields(errors));
    }
    held.append(key, entry).await?;
    Ok(Json(OpenPack::of(held.keep().await?).await?))
}

fn room_for(held: &Held, more: usize) -> Result<(), Problem> {
    if held.pack.entries.len() + more <= MOST_ENTRIES {
        return Ok(());
    }
    let detail = format!("A log holds {MOST_ENTRIES} entries.");
    Err(Problem::new(Status::Conflict, "The log is full", detail))
}

/// What a table brought.
#[derive(Debug, Serialize, ToSchema)]
pub struct LogImport {
    /// Entries that were appended.
    taken: usize,
    /// Entries that were there already and were left out.
    known: usize,
    /// Columns that were not used.
    unused: Vec<String>,
    /// The pack as it stands now.
    pack: OpenPack,
}

/// Append the entries of a table; every bad line is told, and nothing is half taken. What is in the log already is left out.
#[utoipa::path(context_path = "/api", request_body(content = String, content_type = "text/plain"),
    responses((status = 200, body = LogImport), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[post("/packs/<id>/entries-file", data = "<data>")]
pub async fn import_log(id: Uuid, data: Data<'_>, pool: &State<PgPool>) -> Result<Json<LogImport>, Problem> {
    let text = read_text(data, TABLE_MIB.mebibytes()).await?;
    let mut held = held(pool, id).await?;
    let card = held.pack.card.clone();
    let (entries, unused) = work(move || read_log(&text, &card).map_err(bad_lines)).await?;
    let count = entries.len();
    let fresh: Vec<PackEntry> = entries.into_iter().filter(|e| !held.pack.entries.contains(e)).collect();
    room_for(&held, fresh.len())?;
    let taken = fresh.len();
    for entry in fresh {
        held.append(Uuid::now_v7(), entry).await?;
    }
    let pack = OpenPack::of(held.keep().await?).await?;
    Ok(Json(LogImport { taken, known: count - taken, unused, pack }))
}

/// A log as a table: a line an entry.
#[utoipa::path(context_path = "/api",
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
#[get("/packs/<id>/entries-file")]
pub async fn export_log(id: Uuid, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let pack = stored(pool, id).await?;
    let text = write_log(&pack.entries).ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name: format!("{}-log.csv", file_stem(&pack.card.name)), text })
}

/// Delete a pack with its log; it can be taken back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/packs/<id>")]
pub async fn remove_pack(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    if packs::set_deleted(pool, id, true).await? { Ok(NoContent) } else { Err(Problem::not_found("pack")) }
}

/// Take the deletion of a pack back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[post("/packs/<id>/restore")]
pub async fn restore_pack(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    if packs::set_deleted(pool, id, false).await? { Ok(NoContent) } else { Err(Problem::not_found("pack")) }
}

/// The plan of a pack as it is saved, if it is there.
async fn plan_of(pool: &PgPool, pack: &Stored) -> Result<Option<brick_core::Plan>, Problem> {
    let Some(id) = pack.plan_id else { return Ok(None) };
    Ok(plans::get(pool, id).await?.map(|p| p.document.0))
}
