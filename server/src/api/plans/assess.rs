//! Assessing a plan: the one answer that every edit waits for.

use brick_core::{Assessment, Plan};
use rocket::post;
use rocket::serde::json::Json;

use crate::Problem;
use crate::api::http::body::Body;
use crate::work::work;

/// Assess a plan: figures, findings, path, stages.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Assessment), (status = 422, body = Problem)))]
#[post("/assess", data = "<plan>")]
pub async fn assess(plan: Result<Body<Plan>, Problem>) -> Result<Json<Assessment>, Problem> {
    let plan = plan?.0;
    work(move || brick_core::assess(&plan)).await.map(Json)
}
