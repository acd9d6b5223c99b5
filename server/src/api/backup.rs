//! Everything in one file, out and in.

use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{Data, State, get, post};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use super::body::read_text;
use super::download::Download;
use crate::store::backup::{self, Backup, RestoreError};
use crate::{Config, Problem};

/// Largest backup that is taken over HTTP; a larger one goes through the command line.
const MOST_MIB: u64 = 256;

/// What was restored.
#[derive(Debug, Serialize, ToSchema)]
pub struct Restored {
    /// Plans there are now, deleted ones included.
    plans: usize,
}

/// Everything in one file.
#[utoipa::path(context_path = "/api", responses((status = 200, content_type = "application/json", body = Object)))]
#[get("/backup")]
pub async fn download_backup(pool: &State<PgPool>) -> Result<Download, Problem> {
    let text = backup::read(pool).await?.to_json().map_err(|e| Problem::fault(&e))?;
    let name = format!("dense-brick-{}.json", chrono::Utc::now().format("%Y-%m-%d"));
    Ok(Download { name, text })
}

/// Put a backup in the place of everything; what was there is kept as a backup first.
#[utoipa::path(context_path = "/api", request_body(content = Object, content_type = "application/json"),
    responses((status = 200, body = Restored), (status = 422, body = Problem)))]
#[post("/restore", data = "<data>")]
pub async fn restore_backup(
    data: Data<'_>,
    pool: &State<PgPool>,
    config: &State<Config>,
) -> Result<Json<Restored>, Problem> {
    let text = read_text(data, MOST_MIB.mebibytes()).await?;
    let backup = Backup::from_json(&text)?;
    backup::keep(pool, &config.backups, "before-restore").await.map_err(|error| {
        tracing::error!(%error, "backup before restore");
        Problem::new(
            Status::ServiceUnavailable,
            "Nothing was restored",
            "What is here could not be kept as a backup first; the log says why.",
        )
    })?;
    backup::restore(pool, &backup).await?;
    Ok(Json(Restored { plans: backup.plan_count() }))
}

impl From<RestoreError> for Problem {
    fn from(error: RestoreError) -> Self {
        match error {
            RestoreError::Database(error) => error.into(),
            told => Problem::new(Status::UnprocessableEntity, "Nothing was restored", told.to_string()),
        }
    }
}
