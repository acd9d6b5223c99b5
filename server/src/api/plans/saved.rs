//! Plans: new, open, save, delete and take that back.

use brick_core::Plan;
use brick_core::physics::device::jobs::template;
use brick_core::plan::{Difference, Job, differences};
use chrono::{DateTime, Utc};
use rocket::data::ToByteUnit;
use rocket::http::Status;
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{Data, State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::{Body, no_nul, read_text};
use crate::api::http::download::{Download, file_stem};
use crate::store::plans::{self as store, From, Restored, Saved, Stored};

/// A plan as opened.
#[derive(Debug, Serialize, ToSchema)]
pub struct OpenPlan {
    /// Id.
    id: Uuid,
    /// Number of this revision; a save carries it.
    revision: i32,
    /// How often this revision was written; a save carries it.
    edit: i32,
    /// When it was last saved.
    updated_at: DateTime<Utc>,
    /// Key of the last save: a browser knows its own by it.
    key: Option<Uuid>,
    /// The document.
    plan: Plan,
}

impl std::convert::From<Stored> for OpenPlan {
    fn from(stored: Stored) -> Self {
        OpenPlan {
            id: stored.id,
            revision: stored.revision,
            edit: stored.edit,
            updated_at: stored.updated_at,
            key: stored.save_key,
            plan: stored.document.0,
        }
    }
}

/// A new plan: blank under a name, or a document.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPlan {
    /// Name of a blank plan.
    name: Option<String>,
    /// Kind of job that a blank plan is for.
    job: Option<Job>,
    /// Currency of a blank plan.
    currency: Option<String>,
    /// A whole document instead.
    plan: Option<Plan>,
}

/// A save, with the revision and edit it started from.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SavePlan {
    /// Revision that was opened.
    revision: i32,
    /// How often it had been written.
    edit: i32,
    /// Whether this save must become a revision of its own, as when an older one is taken back.
    apart: Option<bool>,
    /// A new one for every save, the same when it is sent again because no answer came: then it is saved once.
    key: Option<Uuid>,
    /// The document.
    plan: Plan,
}

/// Make a new plan.
#[utoipa::path(context_path = "/api", request_body = NewPlan,
    responses((status = 201, body = OpenPlan), (status = 422, body = Problem)))]
#[post("/plans", data = "<new>")]
pub async fn create_plan(
    new: Result<Body<NewPlan>, Problem>,
    pool: &State<PgPool>,
) -> Result<(Status, Json<OpenPlan>), Problem> {
    let NewPlan { name, job, currency, plan } = new?.0;
    let plan = plan.unwrap_or_else(|| {
        let name = name.as_deref().map_or("New plan", str::trim);
        let blank = job.map_or_else(|| Plan::blank(name), |job| template(job, name));
        Plan { currency: currency.unwrap_or(blank.currency.clone()), ..blank }
    });
    plan.check()?;
    Ok((Status::Created, Json(store::create(pool, &plan).await?.into())))
}

/// Open a plan.
#[utoipa::path(context_path = "/api", responses((status = 200, body = OpenPlan), (status = 404, body = Problem)))]
#[get("/plans/<id>")]
pub async fn read_plan(id: Uuid, pool: &State<PgPool>) -> Result<Json<OpenPlan>, Problem> {
    let stored = store::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    Ok(Json(stored.into()))
}

/// Save a plan; refused with what is stored when another save came between.
#[utoipa::path(context_path = "/api", request_body = SavePlan,
    responses((status = 200, body = OpenPlan), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[put("/plans/<id>", data = "<save>")]
pub async fn save_plan(
    id: Uuid,
    save: Result<Body<SavePlan>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<OpenPlan>, Problem> {
    let SavePlan { revision, edit, apart, key, plan } = save?.0;
    plan.check()?;
    let from = From { revision, edit, apart: apart.unwrap_or(false), key };
    match store::save(pool, id, from, &plan).await? {
        Saved::As(stored) => Ok(Json(stored.into())),
        Saved::Missing => Err(Problem::not_found("plan")),
        Saved::Taken(told) => Err(Problem::new(Status::Conflict, "Some cells are not free", told)),
        Saved::Stale(stored) => {
            let detail = format!("It was saved since you opened it: revision {} is stored now.", stored.revision);
            let current = serde_json::to_value(OpenPlan::from(stored)).map_err(|e| Problem::fault(&e))?;
            Err(Problem {
                current: Some(Box::new(current)),
                ..Problem::new(Status::Conflict, "Someone else saved this plan", detail)
            })
        }
    }
}

/// A plan as a file.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Plan), (status = 404, body = Problem)))]
#[get("/plans/<id>/file")]
pub async fn export_plan(id: Uuid, pool: &State<PgPool>) -> Result<Download, Problem> {
    let stored = store::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    let text = stored.document.0.to_json().map_err(|e| Problem::fault(&e))?;
    Ok(Download { name: format!("{}.brick.json", file_stem(&stored.document.0.name)), text })
}

/// Make a new plan of a file; a damaged one is refused with what is wrong and where.
#[utoipa::path(context_path = "/api", request_body(content = Plan, content_type = "application/json"),
    responses((status = 201, body = OpenPlan), (status = 422, body = Problem)))]
#[post("/plans/import", data = "<data>")]
pub async fn import_plan(data: Data<'_>, pool: &State<PgPool>) -> Result<(Status, Json<OpenPlan>), Problem> {
    let text = read_text(data, crate::BODY_LIMIT_KIB.kibibytes()).await?;
    no_nul(&text)?;
    let plan = Plan::from_json(&text)?;
    Ok((Status::Created, Json(store::create(pool, &plan).await?.into())))
}

/// Make a copy of a plan.
#[utoipa::path(context_path = "/api", responses((status = 201, body = OpenPlan), (status = 404, body = Problem)))]
#[post("/plans/<id>/duplicate")]
pub async fn duplicate_plan(id: Uuid, pool: &State<PgPool>) -> Result<(Status, Json<OpenPlan>), Problem> {
    const ADDED: &str = ", copy";
    let stored = store::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    let mut plan = stored.document.0;
    let kept: String = plan.name.chars().take(120 - ADDED.len()).collect();
    plan.name = format!("{}{ADDED}", kept.trim_end());
    Ok((Status::Created, Json(store::create(pool, &plan).await?.into())))
}

/// One revision in the history of a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct RevisionSummary {
    /// Its number.
    revision: i32,
    /// When it was last written.
    saved_at: DateTime<Utc>,
    /// What it changed against the one before; empty for the first.
    changes: Vec<Difference>,
}

/// Most revisions that the history shows.
const MOST_REVISIONS: i64 = 200;

/// The history of a plan, newest first, with what each revision changed.
#[utoipa::path(context_path = "/api",
    responses((status = 200, body = Vec<RevisionSummary>), (status = 404, body = Problem)))]
#[get("/plans/<id>/revisions")]
pub async fn list_revisions(id: Uuid, pool: &State<PgPool>) -> Result<Json<Vec<RevisionSummary>>, Problem> {
    // One more than is shown, so that the oldest shown has something to be compared with.
    let found = store::revisions(pool, id, MOST_REVISIONS + 1).await?;
    if found.is_empty() {
        return Err(Problem::not_found("plan"));
    }
    let shown = found.iter().enumerate().take(MOST_REVISIONS as usize).map(|(i, r)| RevisionSummary {
        revision: r.revision,
        saved_at: r.saved_at,
        changes: found.get(i + 1).map_or_else(Vec::new, |before| differences(&before.document, &r.document)),
    });
    Ok(Json(shown.collect()))
}

/// One revision of a plan, to look at or go back to.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Plan), (status = 404, body = Problem)))]
#[get("/plans/<id>/revisions/<number>")]
pub async fn read_revision(id: Uuid, number: i32, pool: &State<PgPool>) -> Result<Json<Plan>, Problem> {
    let found = store::revision(pool, id, number).await?.ok_or_else(|| Problem::not_found("revision"))?;
    Ok(Json(found))
}

/// Delete a plan; it can be taken back.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/plans/<id>")]
pub async fn remove_plan(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    if store::delete(pool, id).await? { Ok(NoContent) } else { Err(Problem::not_found("plan")) }
}

/// Take a deletion back.
#[utoipa::path(context_path = "/api",
    responses((status = 204), (status = 404, body = Problem), (status = 409, body = Problem)))]
#[post("/plans/<id>/restore")]
pub async fn restore_plan(id: Uuid, pool: &State<PgPool>) -> Result<NoContent, Problem> {
    match store::restore(pool, id).await? {
        Restored::Back => Ok(NoContent),
        Restored::Missing => Err(Problem::not_found("deleted plan")),
        Restored::Taken(told) => Err(Problem::new(Status::Conflict, "Some cells are not free", told)),
    }
}
