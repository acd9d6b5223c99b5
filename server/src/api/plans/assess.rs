//! Assessing a plan: the one answer that every edit waits for.

use brick_core::print::json::Written;
use brick_core::{Assessment, Plan};
use rocket::post;
use rocket::serde::json::Json;
use serde_json::value::RawValue;

use crate::Problem;
use crate::api::http::body::{Body, plan_at};
use crate::work::work;

/// Assess a plan: figures, findings, path, stages.
#[utoipa::path(context_path = "/api", request_body = Plan,
    responses((status = 200, body = Assessment), (status = 422, body = Problem)))]
#[post("/assess", data = "<plan>")]
pub async fn assess(plan: Result<Body<Box<RawValue>>, Problem>) -> Result<Json<Box<RawValue>>, Problem> {
    let plan = plan_at("", &plan?.0)?;
    work(move || -> Result<_, Problem> { brick_core::assess(&plan)?.written().map_err(|e| Problem::fault(&e)) })
        .await
        .map(Json)
}
