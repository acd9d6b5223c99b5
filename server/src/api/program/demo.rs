//! Loading the demo on request.

use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::{Config, Problem, store};

/// Whether the demo was loaded.
#[derive(Debug, Serialize, ToSchema)]
pub struct DemoLoaded {
    /// False when it was loaded before: nothing is loaded twice.
    loaded: bool,
}

/// Load the demo plans and parts, once.
#[utoipa::path(context_path = "/api", responses((status = 200, body = DemoLoaded)))]
#[post("/demo")]
pub async fn load_demo(pool: &State<PgPool>, config: &State<Config>) -> Result<Json<DemoLoaded>, Problem> {
    let demo = store::demo::read(&config.demo_dir).map_err(|error| {
        tracing::error!(%error, "demo");
        Problem::new(Status::ServiceUnavailable, "No demo data", "The demo files could not be read; the log says why.")
    })?;
    Ok(Json(DemoLoaded { loaded: store::demo::load(pool, &demo).await? }))
}
