//! The bill of materials: of the plan on the screen, and of a saved one as a table.

use brick_core::Plan;
use brick_core::bill::{Bill, bill, csv};
use rocket::serde::json::Json;
use rocket::{State, get, post};
use sqlx::PgPool;
use uuid::Uuid;

use super::body::Body;
use super::download::{Csv, file_stem};
use crate::work::work;
use crate::{Problem, store};

/// The bill of materials, against what the catalogue has at hand.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Bill), (status = 422, body = Problem)))]
#[post("/bill", data = "<plan>")]
pub async fn bill_of(plan: Result<Body<Plan>, Problem>, pool: &State<PgPool>) -> Result<Json<Bill>, Problem> {
    let plan = plan?.0;
    let catalogue = store::parts::catalogue(pool).await?;
    work(move || bill(&plan, &catalogue)).await.map(Json)
}

/// The bill of a saved plan as a table: one line a part.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
#[get("/plans/<id>/bill-file")]
pub async fn bill_file(id: Uuid, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let plan = store::plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let catalogue = store::parts::catalogue(pool).await?;
    let name = format!("{}-parts.csv", file_stem(&plan.name));
    let bill = work(move || bill(&plan, &catalogue)).await?;
    let text = csv(&bill).ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name, text })
}
