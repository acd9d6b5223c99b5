//! Photographs: taken in one at a time, given out by their hash.

use rocket::data::ToByteUnit;
use rocket::http::{ContentType, Header, Status};
use rocket::response::{self, Responder, Response};
use rocket::serde::json::Json;
use rocket::tokio::sync::Semaphore;
use rocket::{Data, Request, State, get, post};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::work::work;
use crate::{Problem, store};
use brick_photo::{FILE_MIB, PhotoError, take};

static TURN: Semaphore = Semaphore::const_new(1);

/// A photograph that is now kept.
#[derive(Debug, Serialize, ToSchema)]
pub struct KeptPhoto {
    /// Its name: SHA-256 of what is kept.
    sha256: String,
    /// Width.
    width_px: u32,
    /// Height.
    height_px: u32,
}

/// Keep a photograph: PNG, JPEG or WebP up to 16 MiB. It is decoded, turned upright and encoded again without metadata.
#[utoipa::path(context_path = "/api", request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 201, body = KeptPhoto), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/photos", data = "<data>")]
pub async fn keep_photo(data: Data<'_>, pool: &State<PgPool>) -> Result<(Status, Json<KeptPhoto>), Problem> {
    let file = data.open(FILE_MIB.mebibytes()).into_bytes().await;
    let file =
        file.map_err(|_| Problem::new(Status::BadRequest, "Unreadable", "The picture did not arrive completely."))?;
    if !file.is_complete() {
        let detail = format!("The picture is larger than the limit of {FILE_MIB} MiB; send a smaller one.");
        return Err(Problem::new(Status::PayloadTooLarge, "Too large", detail));
    }
    // A picture may take 200 MB while it is decoded: one after the other.
    let _turn = TURN.acquire().await.map_err(|e| Problem::fault(&e))?;
    let photo = work(move || take(&file)).await?;
    store::photos::keep(pool, &photo).await?;
    let (width_px, height_px) = (photo.width_px, photo.height_px);
    Ok((Status::Created, Json(KeptPhoto { sha256: photo.sha256, width_px, height_px })))
}

impl From<PhotoError> for Problem {
    fn from(error: PhotoError) -> Self {
        Problem::new(Status::UnprocessableEntity, "The picture was not saved", error.to_string())
    }
}

/// A JPEG that never changes under its name.
pub struct Jpeg(Vec<u8>);

impl<'r> Responder<'r, 'static> for Jpeg {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        Response::build_from(self.0.respond_to(request)?)
            .header(ContentType::JPEG)
            .header(Header::new("Cache-Control", "private, max-age=31536000, immutable"))
            .ok()
    }
}

/// A photograph by its hash.
#[utoipa::path(context_path = "/api",
    responses((status = 200, content_type = "image/jpeg", body = String), (status = 404, body = Problem)))]
#[get("/photos/<sha256>")]
pub async fn send_photo(sha256: &str, pool: &State<PgPool>) -> Result<Jpeg, Problem> {
    store::photos::jpeg(pool, sha256).await?.map(Jpeg).ok_or_else(|| Problem::not_found("photograph"))
}
