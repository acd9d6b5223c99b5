//! The files that a saved plan's brick can be written to.

use brick_core::Plan;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, get};
use sqlx::PgPool;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::download::{Bytes, file_stem};
use crate::files::{self, PartFile};
use crate::store::plans as store;
use crate::work::work;

async fn plan_of(pool: &PgPool, id: Uuid) -> Result<Plan, Problem> {
    let plan = store::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    plan.check()?;
    Ok(plan)
}

/// The files of a saved plan, with the reason where one cannot be made now.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<PartFile>), (status = 404, body = Problem)))]
#[get("/plans/<id>/files")]
pub async fn list_part_files(id: Uuid, pool: &State<PgPool>) -> Result<Json<Vec<PartFile>>, Problem> {
    let plan = plan_of(pool, id).await?;
    work(move || Ok::<_, Problem>(files::list(&plan))).await.map(Json)
}

/// One file: strips as DXF or CSV, welds as CSV, the cell holder as STL, the network as a SPICE netlist.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path), ("name" = String, Path)),
    responses((status = 200, description = "the file", body = Vec<u8>, content_type = "application/octet-stream"),
        (status = 404, body = Problem), (status = 409, body = Problem)))]
#[get("/plans/<id>/files/<name>")]
pub async fn write_part_file(id: Uuid, name: &str, pool: &State<PgPool>) -> Result<Bytes, Problem> {
    let plan = plan_of(pool, id).await?;
    let saved_as = format!("{}-{name}", file_stem(&plan.name));
    let wanted = name.to_owned();
    let made = work(move || files::make(&plan, &wanted).ok_or_else(|| Problem::not_found("file"))).await?;
    let made = made.map_err(|why| Problem::new(Status::Conflict, "That file cannot be made yet", why))?;
    Ok(Bytes { name: saved_as, kind: made.kind, bytes: made.bytes })
}
