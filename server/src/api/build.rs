//! Builds: the sheet of a plan, what happened at its steps, and everyone at the same build told at once.

use brick_core::Plan;
use brick_core::build::{
    Again, BuildEvent, BuildSheet, ChargeWatch, Phase, Progress, Refusal, What, admit, again, charge_watch, progress,
    sheet,
};
use rocket::http::Status;
use rocket::response::stream::{Event, EventStream};
use rocket::serde::json::Json;
use rocket::tokio::sync::broadcast::{Sender, error::RecvError};
use rocket::{Shutdown, State, get, post};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::http::body::Body;
use super::http::download::{Download, file_stem};
use crate::Problem;
use crate::store::builds::{self, Held, MOST_EVENTS, Stored};
use crate::work::work;

/// How many changes one who watches may fall behind before it is told to look again.
const BEHIND: usize = 64;

/// Tells everyone who watches a build that something happened in it.
pub struct BuildNews(Sender<Uuid>);

impl Default for BuildNews {
    fn default() -> Self {
        BuildNews(Sender::new(BEHIND))
    }
}

/// A build in the list of a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct BuildSummary {
    /// Id.
    id: Uuid,
    /// Revision of the plan it follows.
    revision: i32,
    /// When it was begun, RFC 3339.
    started_at: String,
    /// Events so far.
    events: i64,
}

/// A build as it stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct OpenBuild {
    /// Id.
    id: Uuid,
    /// Its plan.
    plan_id: Uuid,
    /// Revision of the plan it follows.
    revision: i32,
    /// Newest revision of the plan.
    newest_revision: i32,
    /// Whether the plan was changed since the build follows it.
    is_changed: bool,
    /// When it was begun, RFC 3339.
    started_at: String,
    /// Events so far: who has as many has seen all.
    count: usize,
    /// The steps.
    sheet: BuildSheet,
    /// How they stand.
    progress: Progress,
    /// The first charge, once the work has come to it.
    charge: Option<ChargeWatch>,
    /// Steps that the newest revision of the plan does otherwise.
    again: Vec<Again>,
}

impl OpenBuild {
    async fn of(build: Stored) -> Result<OpenBuild, Problem> {
        work(move || {
            let made = sheet(&build.plan, &build.events)?;
            let is_changed = build.plan != build.newest;
            let again = if is_changed { undone(&build.plan, &build.newest, &build.events)? } else { vec![] };
            let stands = progress(&made, &build.events);
            let reached =
                stands.next.as_ref().and_then(|key| made.step(key)).is_none_or(|s| s.phase >= Phase::FirstCharge);
            let charge = if reached { charge_watch(&build.plan, &made, &build.events)? } else { None };
            Ok::<_, Problem>(OpenBuild {
                id: build.id,
                plan_id: build.plan_id,
                revision: build.revision,
                newest_revision: build.newest_revision,
                is_changed,
                started_at: build.started_at.to_rfc3339(),
                count: build.events.len(),
                progress: stands,
                sheet: made,
                charge,
                again,
            })
        })
        .await
    }
}

/// What the newest revision undoes.
fn undone(built: &Plan, newest: &Plan, events: &[BuildEvent]) -> Result<Vec<Again>, Problem> {
    Ok(again(&sheet(built, &[])?, &sheet(newest, &[])?, events))
}

/// Something that happened, to be kept once.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Happened {
    /// A new one for everything that happens, the same when it is sent again because no answer came.
    key: Uuid,
    /// What happened.
    event: BuildEvent,
}

/// The builds of a plan.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<BuildSummary>), (status = 404, body = Problem)))]
#[get("/plans/<id>/builds")]
pub async fn list_builds(id: Uuid, pool: &State<PgPool>) -> Result<Json<Vec<BuildSummary>>, Problem> {
    let found = builds::list(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    let summary = |b: builds::Listed| BuildSummary {
        id: b.id,
        revision: b.revision,
        started_at: b.started_at.to_rfc3339(),
        events: b.events,
    };
    Ok(Json(found.into_iter().map(summary).collect()))
}

/// Begin a build of the plan as it is saved.
#[utoipa::path(context_path = "/api", responses((status = 201, body = OpenBuild), (status = 404, body = Problem)))]
#[post("/plans/<id>/builds")]
pub async fn begin_build(id: Uuid, pool: &State<PgPool>) -> Result<(Status, Json<OpenBuild>), Problem> {
    let begun = builds::begin(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    let build = builds::get(pool, begun).await?.ok_or_else(|| Problem::not_found("build"))?;
    Ok((Status::Created, Json(OpenBuild::of(build).await?)))
}

/// A build as it stands.
#[utoipa::path(context_path = "/api", responses((status = 200, body = OpenBuild), (status = 404, body = Problem)))]
#[get("/builds/<id>")]
pub async fn read_build(id: Uuid, pool: &State<PgPool>) -> Result<Json<OpenBuild>, Problem> {
    let build = builds::get(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    Ok(Json(OpenBuild::of(build).await?))
}

/// Keep what happened at a step. What lies behind a shut gate is refused.
#[utoipa::path(context_path = "/api", request_body = Happened,
    responses((status = 200, body = OpenBuild), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[post("/builds/<id>/events", data = "<happened>")]
pub async fn keep_event(
    id: Uuid,
    happened: Result<Body<Happened>, Problem>,
    pool: &State<PgPool>,
    news: &State<BuildNews>,
) -> Result<Json<OpenBuild>, Problem> {
    let Happened { key, event } = happened?.0;
    let mut held = Held::take(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    if !held.has(key).await? {
        if held.build.events.len() >= MOST_EVENTS {
            let detail = format!("This build has {MOST_EVENTS} events; begin another one.");
            return Err(Problem::new(Status::Conflict, "The build is full", detail));
        }
        let (plan, events) = (held.build.plan.clone(), held.build.events.clone());
        let event = work(move || {
            let made = sheet(&plan, &events)?;
            admit(&made, &events, &event)?;
            Ok::<_, Problem>(event)
        })
        .await?;
        held.append(key, event).await?;
    }
    let build = held.keep().await?;
    // Nobody may be watching.
    let _ = news.0.send(id);
    Ok(Json(OpenBuild::of(build).await?))
}

/// Go on with the plan's newest revision: steps that it does otherwise are to be done again.
#[utoipa::path(context_path = "/api", responses((status = 200, body = OpenBuild), (status = 404, body = Problem)))]
#[post("/builds/<id>/newest")]
pub async fn follow_newest(
    id: Uuid,
    pool: &State<PgPool>,
    news: &State<BuildNews>,
) -> Result<Json<OpenBuild>, Problem> {
    let mut held = Held::take(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    let at = chrono::Utc::now().to_rfc3339();
    let (built, newest, events) = (held.build.plan.clone(), held.build.newest.clone(), held.build.events.clone());
    for step in work(move || undone(&built, &newest, &events)).await? {
        held.append(Uuid::now_v7(), BuildEvent { step: step.key, at: at.clone(), happened: What::Undone }).await?;
    }
    held.follow_newest().await?;
    let build = held.keep().await?;
    let _ = news.0.send(id);
    Ok(Json(OpenBuild::of(build).await?))
}

/// Whenever something happens in a build, and once at the beginning: a server-sent event with nothing but its id.
#[utoipa::path(context_path = "/api",
    responses((status = 200, content_type = "text/event-stream", body = String), (status = 404, body = Problem)))]
#[get("/builds/<id>/watch")]
pub async fn watch_build(
    id: Uuid,
    pool: &State<PgPool>,
    news: &State<BuildNews>,
    mut end: Shutdown,
) -> Result<EventStream![], Problem> {
    let mut news = news.0.subscribe();
    builds::get(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    Ok(EventStream! {
        yield Event::data(id.to_string());
        loop {
            rocket::tokio::select! {
                told = news.recv() => match told {
                    Ok(of) if of != id => {}
                    Ok(_) | Err(RecvError::Lagged(_)) => yield Event::data(id.to_string()),
                    Err(RecvError::Closed) => break,
                },
                () = &mut end => break,
            }
        }
    })
}

/// A build as it was done.
#[derive(Debug, Serialize, ToSchema)]
pub struct BuildRecord {
    /// What the file is.
    format: &'static str,
    /// The build as it stands.
    build: OpenBuild,
    /// The plan in the revision that it followed.
    plan: Plan,
    /// Everything that happened, in order.
    events: Vec<BuildEvent>,
}

/// The record of a build as a file: the plan it followed, its steps, and everything that was read, in order.
#[utoipa::path(context_path = "/api", responses((status = 200, body = BuildRecord), (status = 404, body = Problem)))]
#[get("/builds/<id>/file")]
pub async fn export_build(id: Uuid, pool: &State<PgPool>) -> Result<Download, Problem> {
    let stored = builds::get(pool, id).await?.ok_or_else(|| Problem::not_found("build"))?;
    let (plan, events) = (stored.plan.clone(), stored.events.clone());
    let name = format!("{}-build.json", file_stem(&plan.name));
    let build = OpenBuild::of(stored).await?;
    let record = BuildRecord { format: "dense-brick/build", build, plan, events };
    let text = serde_json::to_string_pretty(&record).map_err(|e| Problem::fault(&e))? + "\n";
    Ok(Download { name, text })
}

impl From<Refusal> for Problem {
    fn from(refusal: Refusal) -> Self {
        let detail = refusal.fields.iter().map(|f| f.message.as_str()).collect::<Vec<_>>().join(" ");
        Problem { errors: refusal.fields, ..Problem::new(Status::UnprocessableEntity, refusal.title, detail) }
    }
}
