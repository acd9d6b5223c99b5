//! Long work: asked about, watched, ended.

use rocket::response::status::NoContent;
use rocket::response::stream::{Event, EventStream};
use rocket::serde::json::Json;
use rocket::{Shutdown, State, delete, get};
use uuid::Uuid;

use crate::Problem;
use crate::jobs::{JobStage, JobState, Jobs};

/// How a job stands.
#[utoipa::path(context_path = "/api", responses((status = 200, body = JobState), (status = 404, body = Problem)))]
#[get("/jobs/<id>")]
pub fn read_job(id: Uuid, jobs: &State<Jobs>) -> Result<Json<JobState>, Problem> {
    jobs.get(id).map(|job| Json(job.state())).ok_or_else(|| Problem::not_found("job"))
}

/// Every change of a job as server-sent events, each with its whole state, until it has ended.
#[utoipa::path(context_path = "/api",
    responses((status = 200, content_type = "text/event-stream", body = JobState), (status = 404, body = Problem)))]
#[get("/jobs/<id>/events")]
pub fn watch_job(id: Uuid, jobs: &State<Jobs>, mut end: Shutdown) -> Result<EventStream![], Problem> {
    let job = jobs.get(id).ok_or_else(|| Problem::not_found("job"))?;
    let mut watch = job.watch();
    Ok(EventStream! {
        loop {
            let state = watch.borrow_and_update().clone();
            let ended = state.stage != JobStage::Working;
            yield Event::json(&state);
            if ended {
                break;
            }
            rocket::tokio::select! {
                changed = watch.changed() => if changed.is_err() { break },
                () = &mut end => break,
            }
        }
    })
}

/// End a job at its next step.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/jobs/<id>")]
pub fn stop_job(id: Uuid, jobs: &State<Jobs>) -> Result<NoContent, Problem> {
    jobs.get(id).ok_or_else(|| Problem::not_found("job"))?.stop();
    Ok(NoContent)
}
