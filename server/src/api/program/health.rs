//! Whether the program can do its work.

use rocket::serde::json::Json;
use rocket::{State, get};
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;

use crate::Problem;

/// The program and its database answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct Health {
    /// Always "ok": what is not is a problem.
    status: &'static str,
}

/// Whether plans can be read and saved now: the database is asked.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Health), (status = 503, body = Problem)))]
#[get("/health")]
pub async fn tell_health(pool: &State<PgPool>) -> Result<Json<Health>, Problem> {
    sqlx::query("select 1").execute(pool.inner()).await?;
    Ok(Json(Health { status: "ok" }))
}
