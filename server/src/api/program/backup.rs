//! Everything in one file, out and in.

use std::path::{Path, PathBuf};

use rocket::data::{ByteUnit, ToByteUnit};
use rocket::http::{ContentType, Header, Status};
use rocket::request::{FromRequest, Outcome};
use rocket::response::{self, Responder, Response};
use rocket::serde::json::Json;
use rocket::tokio::{fs, task::spawn_blocking};
use rocket::{Data, Request, State, get, post};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::guard::Patience;
use crate::store::backup::{self, BackupError, Checked};
use crate::store::{self, stock};
use crate::{Config, Problem};

/// Largest backup that is taken over HTTP; a larger one goes through the command line.
const MOST_GIB: u64 = 2;

/// What was restored.
#[derive(Debug, Serialize, ToSchema)]
pub struct Restored {
    /// Plans there are now, deleted ones included.
    plans: u64,
}

/// A file on its way, which is gone from the disk once it was sent or sending failed.
struct Passing(PathBuf);

impl Passing {
    fn new(folder: &Path, occasion: &str) -> Result<Self, Problem> {
        Ok(Passing(backup::place(folder, occasion).map_err(BackupError::from)?))
    }
}

impl Drop for Passing {
    fn drop(&mut self) {
        // What was never written need not be removed.
        let _ = std::fs::remove_file(&self.0);
    }
}

/// A backup, sent as it is read.
pub struct BackupFile(fs::File);

impl<'r> Responder<'r, 'static> for BackupFile {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        let name = format!("dense-brick-{}.jsonl", chrono::Utc::now().format("%Y-%m-%d"));
        Response::build_from(self.0.respond_to(request)?)
            .header(ContentType::new("application", "jsonl"))
            .header(Header::new("Content-Disposition", format!("attachment; filename=\"{name}\"")))
            .ok()
    }
}

/// Everything in one file.
#[utoipa::path(context_path = "/api", responses((status = 200, content_type = "application/jsonl", body = String)))]
#[get("/backup")]
pub async fn download_backup(
    pool: &State<PgPool>,
    config: &State<Config>,
    patience: Patience<'_>,
) -> Result<BackupFile, Problem> {
    let _at_work = patience.begin();
    let passing = Passing::new(&config.backups, "download")?;
    backup::write(pool, &passing.0).await?;
    // An open file can be read to its end after its name is gone.
    Ok(BackupFile(fs::File::open(&passing.0).await.map_err(BackupError::from)?))
}

/// How many bytes the client says will come.
pub struct Announced(ByteUnit);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Announced {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        let bytes = request.headers().get_one("Content-Length").and_then(|text| text.parse::<u64>().ok());
        Outcome::Success(Announced(bytes.unwrap_or(0).bytes()))
    }
}

/// Put a backup in the place of everything; what was there is kept as a backup first.
#[utoipa::path(context_path = "/api", request_body(content = String, content_type = "application/jsonl"),
    responses((status = 200, body = Restored), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/restore", data = "<data>")]
pub async fn restore_backup(
    announced: Announced,
    data: Data<'_>,
    pool: &State<PgPool>,
    config: &State<Config>,
    patience: Patience<'_>,
) -> Result<Json<Restored>, Problem> {
    let limit = MOST_GIB.gibibytes();
    let too_large = || {
        let detail = format!("The backup is larger than {limit}; use ./start --restore FILE.");
        Problem::new(Status::PayloadTooLarge, "Too large", detail)
    };
    if announced.0 > limit {
        return Err(too_large());
    }
    let passing = Passing::new(&config.backups, "upload")?;
    let came = data.open(limit).into_file(&passing.0).await.map_err(BackupError::from)?;
    if !came.is_complete() {
        return Err(too_large());
    }
    let _at_work = patience.begin();
    let file = passing.0.clone();
    let checked = spawn_blocking(move || Checked::open(&file)).await.map_err(|e| Problem::fault(&e))??;
    let kept = backup::place(&config.backups, "before-restore").map_err(BackupError::from)?;
    backup::restore(pool, &checked, &kept).await?;
    stock::judge_anew(pool, store::RULES).await?;
    Ok(Json(Restored { plans: checked.plan_count() }))
}

impl From<BackupError> for Problem {
    fn from(error: BackupError) -> Self {
        match error {
            BackupError::Database(error) => error.into(),
            BackupError::File(error) => {
                tracing::error!(%error, "backup file");
                Problem::new(
                    Status::ServiceUnavailable,
                    "The backup could not be saved",
                    "Nothing was changed. Is the disk full? The log says why.",
                )
            }
            told => Problem::new(Status::UnprocessableEntity, "Nothing was restored", told.to_string()),
        }
    }
}
