//! Whole plans proposed from a survey: from the workshop's parts and free tested cells, and from typical parts where it has none.

use std::collections::BTreeMap;

use brick_core::advise::propose::{Proposals, StockLot, Watcher, Wishes, propose};
use brick_core::stock::{Offered, candidates};
use brick_core::{Catalogue, Plan};
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::Deserialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::jobs::{Job, JobStage, JobState, Jobs};
use crate::store::parts;
use crate::store::stock::{self, Choosable};

/// A survey and what is wanted of it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ProposeRequest {
    /// The plan as it is surveyed; what it has chosen already is kept.
    plan: Plan,
    /// Its id, whose own reserved cells are free for it.
    #[serde(default)]
    id: Option<Uuid>,
    /// What is wanted most, and what must be so.
    #[serde(default)]
    wishes: Wishes,
}

/// Propose whole plans: a job, watched and ended like any.
#[utoipa::path(context_path = "/api", request_body = ProposeRequest,
    responses((status = 202, body = JobState), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/propose", data = "<request>")]
pub async fn propose_plans(
    request: Result<Body<ProposeRequest>, Problem>,
    pool: &State<PgPool>,
    jobs: &State<Jobs>,
) -> Result<(Status, Json<JobState>), Problem> {
    let request = request?.0;
    request.plan.check()?;
    let catalogue = parts::catalogue(pool).await?.with_typical();
    let lots: Vec<Uuid> = stock::lots(pool).await?.into_iter().map(|lot| lot.id).collect();
    let cells = stock::pool_for_grouping(pool, &lots).await?;
    let job = jobs.open("putting plans together")?;
    let state = job.state();
    job.runs(move |job| work(job, &request, &catalogue, &free_lots(&cells, request.id)));
    Ok((Status::Accepted, Json(state)))
}

impl Watcher for Job {
    fn first(&self, found: Proposals) {
        self.shows(|s| s.proposals = Some(Box::new(found)));
    }
}

fn work(job: &Job, request: &ProposeRequest, catalogue: &Catalogue, lots: &[StockLot]) {
    match propose(&request.plan, catalogue, lots, &request.wishes, job) {
        Ok(_) if job.is_stopped() => job.end(JobStage::Stopped, |_| {}),
        Ok(found) => job.end(JobStage::Done, |s| s.proposals = Some(Box::new(found))),
        Err(errors) => job.end(JobStage::Failed, |s| s.problem = Some(errors.into())),
    }
}

/// The cells of each lot as candidates; what is scrap, retired or reserved for another plan is barred there.
fn free_lots(cells: &[Choosable], plan: Option<Uuid>) -> Vec<StockLot> {
    let mut by_lot: BTreeMap<&str, Vec<&Choosable>> = BTreeMap::new();
    for cell in cells {
        by_lot.entry(&cell.lot.name).or_default().push(cell);
    }
    let lot = |cells: Vec<&Choosable>| {
        let offered: Vec<Offered<'_>> = cells
            .iter()
            .map(|c| Offered {
                label: &c.label,
                lot: &c.lot.name,
                state: c.state(),
                taken: c.plan_id.is_some() && c.plan_id != plan,
                verdict: c.verdict(),
                reason: &c.reason,
                digest: &c.digest,
                keep_with: c.keep_with.as_deref(),
                locked: None,
                left_out: false,
            })
            .collect();
        let ids = cells.iter().map(|c| Some(c.id.to_string()));
        Some(StockLot { cell: cells.first()?.lot.cell.clone(), cells: ids.zip(candidates(&offered, false)).collect() })
    };
    by_lot.into_values().filter_map(lot).collect()
}
