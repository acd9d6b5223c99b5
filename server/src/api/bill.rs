//! The parts list of a saved plan as a table.

use brick_core::advise::bill::{bill, csv};
use rocket::{State, get};
use sqlx::PgPool;
use uuid::Uuid;

use crate::api::http::download::{Csv, file_stem};
use crate::store::parts::Catalogues;
use crate::work::work;
use crate::{Problem, store};

/// The bill of a saved plan as a table: one line a part.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path)),
    responses((status = 200, content_type = "text/csv", body = String), (status = 404, body = Problem)))]
#[get("/plans/<id>/bill-file")]
pub async fn export_bill(id: Uuid, catalogues: &State<Catalogues>, pool: &State<PgPool>) -> Result<Csv, Problem> {
    let plan = store::plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let catalogue = catalogues.now(pool).await?;
    let name = format!("{}-parts.csv", file_stem(&plan.name));
    let bill = work(move || bill(&plan, &catalogue)).await?;
    let text = csv(&bill).ok_or_else(|| Problem::fault(&"the table could not be written"))?;
    Ok(Csv { name, text })
}
