//! A pack as one file, out and in: card, log, photographs, and the plan and build it came from.

use std::collections::BTreeSet;

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use brick_core::Plan;
use brick_core::build::{BuildEvent, What};
use brick_core::plan::FieldError;
use brick_core::years::{PackCard, PackEntry};
use brick_photo::take;
use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::serde::json::serde_json;
use rocket::{Data, State, get, post};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use uuid::Uuid;

use super::{OpenPack, check_card, full, plan_of, stored};
use crate::Problem;
use crate::api::http::body::read_text;
use crate::api::http::download::{Download, file_stem};
use crate::store::packs::{self, MOST_ENTRIES, Origin};
use crate::store::{builds, photos, plans};
use crate::work::work;

/// What the `format` of the file says.
const FORMAT: &str = "dense-brick/pack";
/// Version of its shape.
const VERSION: u32 = 1;
/// Largest file: some forty photographs.
const FILE_MIB: u64 = 64;
const MOST_PHOTOS: usize = 200;

/// The file.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct PackFile {
    format: String,
    version: u32,
    card: PackCard,
    entries: Vec<PackEntry>,
    #[serde(default)]
    plan: Option<Plan>,
    #[serde(default)]
    build: Option<BuiltFile>,
    #[serde(default)]
    photos: Vec<PhotoFile>,
}

/// The build in the file.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct BuiltFile {
    plan: Plan,
    events: Vec<BuildEvent>,
}

/// A photograph in the file.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct PhotoFile {
    sha256: String,
    /// The JPEG in base64.
    jpeg: String,
}

/// A pack with all that belongs to it, as one file.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Object), (status = 404, body = Problem)))]
#[get("/packs/<id>/file")]
pub async fn export_pack(id: Uuid, pool: &State<PgPool>) -> Result<Download, Problem> {
    let pack = stored(pool, id).await?;
    let plan = plan_of(pool, &pack).await?.map(Plan::without_reservations);
    let build = match pack.build_id {
        Some(id) => builds::get(pool, id).await?,
        None => None,
    };
    let build = build.map(|b| BuiltFile { plan: b.plan.without_reservations(), events: b.events });
    let mut named: BTreeSet<String> = pack.entries.iter().filter_map(|e| e.photo.clone()).collect();
    for event in build.iter().flat_map(|b| &b.events) {
        if let What::Photo { sha256 } = &event.happened {
            named.insert(sha256.clone());
        }
    }
    let documents = serde_json::to_string(&plan).map_err(|e| Problem::fault(&e))?;
    named.extend(photos::named_in(pool, &documents).await?);
    let mut pictures = vec![];
    for sha256 in named.into_iter().take(MOST_PHOTOS) {
        if let Some(jpeg) = photos::jpeg(pool, &sha256).await? {
            pictures.push(PhotoFile { sha256, jpeg: STANDARD.encode(jpeg) });
        }
    }
    let name = format!("{}-pack.json", file_stem(&pack.card.name));
    let file = PackFile {
        format: FORMAT.to_owned(),
        version: VERSION,
        card: pack.card,
        entries: pack.entries,
        plan,
        build,
        photos: pictures,
    };
    let text = serde_json::to_string_pretty(&file).map_err(|e| Problem::fault(&e))? + "\n";
    Ok(Download { name, text })
}

/// Take a pack in from a file of another workshop: it gets the next number here; its plan and its build come with it.
#[utoipa::path(context_path = "/api", request_body(content = String, content_type = "text/plain"),
    responses((status = 201, body = OpenPack), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/packs/file", data = "<data>")]
pub async fn import_pack(data: Data<'_>, pool: &State<PgPool>) -> Result<(Status, Json<OpenPack>), Problem> {
    let text = read_text(data, FILE_MIB.mebibytes()).await?;
    let (file, pictures) = work(move || read(&text)).await?;
    for picture in &pictures {
        photos::keep(pool, picture).await?;
    }
    let mut tx = pool.begin().await?;
    let mut origin = Origin::default();
    let plan = file.plan.as_ref().or(file.build.as_ref().map(|b| &b.plan));
    if let Some(plan) = plan {
        let plan_id = plans::insert(&mut tx, plan).await?.id;
        origin.plan_id = Some(plan_id);
        if let Some(build) = &file.build {
            origin.build_id = Some(builds::insert(&mut tx, plan_id, &build.plan, &build.events).await?);
        }
    }
    let id = packs::insert(&mut tx, origin, &file.card, &file.entries).await?.ok_or_else(full)?;
    tx.commit().await?;
    Ok((Status::Created, Json(OpenPack::of(stored(pool, id).await?).await?)))
}

/// Reads a file whole: every entry is checked behind those before it, every picture decoded. A picture is encoded again, so its name
/// changes wherever it stands.
fn read(text: &str) -> Result<(PackFile, Vec<brick_photo::Photo>), Problem> {
    let first = parse(text)?;
    if first.photos.len() > MOST_PHOTOS {
        return Err(refused("/photos", format!("Photographs: at most {MOST_PHOTOS}")));
    }
    let mut pictures = vec![];
    let mut renamed = text.to_owned();
    for (i, photo) in first.photos.iter().enumerate() {
        let at = format!("/photos/{i}/jpeg");
        let is_name = photo.sha256.len() == 64 && photo.sha256.bytes().all(|b| b.is_ascii_hexdigit());
        if !is_name {
            return Err(refused(&format!("/photos/{i}/sha256"), "Photograph: 64 hexadecimal digits".to_owned()));
        }
        let bytes = STANDARD.decode(&photo.jpeg).map_err(|e| refused(&at, format!("Photograph: {e}")))?;
        let picture = take(&bytes).map_err(|e| refused(&at, format!("Photograph: {e}")))?;
        renamed = renamed.replace(&photo.sha256, &picture.sha256);
        pictures.push(picture);
    }
    let file = parse(&renamed)?;
    check_card(&file.card)?;
    if file.entries.len() > MOST_ENTRIES {
        return Err(refused("/entries", format!("Log: at most {MOST_ENTRIES} entries")));
    }
    let mut errors = vec![];
    for (i, entry) in file.entries.iter().enumerate() {
        let below = |e: FieldError| FieldError { field: format!("/entries/{i}{}", e.field), ..e };
        errors.extend(entry.check(&file.card, &file.entries[..i]).into_iter().map(below));
    }
    for (at, plan) in [("/plan", file.plan.as_ref()), ("/build/plan", file.build.as_ref().map(|b| &b.plan))] {
        let wrong = plan.and_then(|p| p.check().err()).unwrap_or_default();
        errors.extend(wrong.into_iter().map(|e| FieldError { field: format!("{at}{}", e.field), ..e }));
    }
    if errors.is_empty() { Ok((file, pictures)) } else { Err(Problem::fields(errors)) }
}

fn parse(text: &str) -> Result<PackFile, Problem> {
    let file: PackFile = crate::api::http::body::parse(text)?;
    if file.format != FORMAT {
        return Err(refused("/format", format!("this is “{}”, not “{FORMAT}”", file.format)));
    }
    if file.version > VERSION {
        let message = format!("version {}; the newest this program reads is {VERSION}", file.version);
        return Err(refused("/version", message));
    }
    Ok(file)
}

fn refused(field: &str, message: String) -> Problem {
    Problem::fields(vec![FieldError { field: field.to_owned(), message }])
}
