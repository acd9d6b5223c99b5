//! Grouping cells of the stock, and reserving them for a plan.

use std::collections::HashMap;

use brick_core::physics::grouping::{Effort, Grouping, Refusal, SchoolSheet, Task, Weights, group, school_sheets};
use brick_core::plan::{CellGroup, CellOrigin, Choice, ChosenCell, FieldError};
use brick_core::stock::{Offered, candidates};
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::api::plans::saved::OpenPlan;
use crate::jobs::{Job, JobStage, JobState, Jobs};
use crate::store::plans::{self, From as SavedFrom, Saved};
use crate::store::stock::{self as store, Choosable};

/// A cell that must be in a group.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Lock {
    /// The cell.
    cell: Uuid,
    /// Group, counted from 1 at pack minus.
    group: usize,
}

/// What is to be grouped.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GroupingRequest {
    /// Lots to choose from; all of one chemistry and size.
    lots: Vec<Uuid>,
    /// Groups in series.
    series: usize,
    /// Cells in each.
    parallel: usize,
    /// What counts how much; as usual if absent.
    weights: Option<Weights>,
    /// Whether cells of different lots may stand in one pack.
    mix_lots: bool,
    /// Whether cells that are to be watched may be chosen.
    with_watched: bool,
    /// Cells that must be in a group.
    #[serde(default)]
    locked: Vec<Lock>,
    /// Cells that are left out.
    #[serde(default)]
    excluded: Vec<Uuid>,
    /// Plan the cells are for: those it uses already may be chosen again.
    plan: Option<Uuid>,
    /// Where the search begins; the same seed gives the same answer.
    seed: u64,
    /// How long it searches.
    effort: Effort,
}

/// A grouping of cells of the stock.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Grouped {
    /// The grouping.
    grouping: Grouping,
    /// The three schools, judged on what was chosen.
    schools: Vec<SchoolSheet>,
    /// Id of every chosen cell by its label.
    ids: HashMap<String, Uuid>,
}

fn field(field: &str, message: impl Into<String>) -> Problem {
    Problem::fields(vec![FieldError { field: field.to_owned(), message: message.into() }])
}

/// Group cells of the stock: a job, watched and ended like any.
#[utoipa::path(context_path = "/api", request_body = GroupingRequest,
    responses((status = 202, body = JobState), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/stock/grouping", data = "<request>")]
pub async fn group_cells(
    request: Result<Body<GroupingRequest>, Problem>,
    pool: &State<PgPool>,
    jobs: &State<Jobs>,
) -> Result<(Status, Json<JobState>), Problem> {
    let request = request?.0;
    if request.lots.is_empty() {
        return Err(field("/lots", "choose at least one lot"));
    }
    let cells = store::pool_for_grouping(pool, &request.lots).await?;
    let task = task(&request, &cells)?;
    let job = jobs.open("grouping")?;
    let state = job.state();
    job.runs(move |job| work(job, &task, &cells));
    Ok((Status::Accepted, Json(state)))
}

fn task(request: &GroupingRequest, cells: &[Choosable]) -> Result<Task, Problem> {
    let Some(first) = cells.first() else { return Err(field("/lots", "there are no cells in these lots")) };
    let kind = |c: &Choosable| (c.lot.cell.chemistry, c.lot.cell.size.clone());
    if let Some(other) = cells.iter().find(|c| kind(c) != kind(first)) {
        let told = format!(
            "“{}” and “{}” differ in chemistry or size: they never belong in one pack",
            first.lot.name, other.lot.name
        );
        return Err(field("/lots", told));
    }
    for (i, lock) in request.locked.iter().enumerate() {
        if !(1..=request.series).contains(&lock.group) {
            return Err(field(&format!("/locked/{i}/group"), format!("between 1 and {}", request.series)));
        }
    }
    let locked: HashMap<Uuid, usize> = request.locked.iter().map(|l| (l.cell, l.group - 1)).collect();
    let charge = cells.iter().filter_map(|c| c.lot.cell.charge_a).reduce(f64::min);
    let offered: Vec<Offered<'_>> = cells.iter().map(|c| offered(request, c, &locked)).collect();
    Ok(Task {
        weights: request.weights.unwrap_or_default(),
        mix_lots: request.mix_lots,
        chemistry: first.lot.cell.chemistry,
        charge_a: charge,
        seed: request.seed,
        effort: request.effort,
        ..Task::usual(candidates(&offered, request.with_watched), request.series, request.parallel)
    })
}

fn offered<'c>(request: &GroupingRequest, c: &'c Choosable, locked: &HashMap<Uuid, usize>) -> Offered<'c> {
    Offered {
        label: &c.label,
        lot: &c.lot.name,
        state: c.state(),
        taken: c.plan_id.is_some() && c.plan_id != request.plan,
        verdict: c.verdict(),
        reason: &c.reason,
        digest: &c.digest,
        keep_with: c.keep_with.as_deref(),
        locked: locked.get(&c.id).copied(),
        left_out: request.excluded.contains(&c.id),
    }
}

fn work(job: &Job, task: &Task, cells: &[Choosable]) {
    match group(task, job) {
        Ok(grouping) => {
            let by_label: HashMap<&str, &Choosable> = cells.iter().map(|c| (c.label.as_str(), c)).collect();
            let origin = |label: &str| by_label.get(label).map_or(CellOrigin::Salvaged, |c| c.lot.cell.origin);
            let schools = school_sheets(task, &grouping, origin);
            let ids = grouping
                .picking
                .iter()
                .filter_map(|p| by_label.get(p.label.as_str()).map(|c| (p.label.clone(), c.id)))
                .collect();
            job.end(JobStage::Done, |s| s.grouped = Some(Box::new(Grouped { grouping, schools, ids })));
        }
        Err(Refusal::Ended) => job.end(JobStage::Stopped, |_| {}),
        Err(refusal) => {
            let problem =
                Problem::new(Status::UnprocessableEntity, "These cells cannot be grouped", refusal.to_string());
            job.end(JobStage::Failed, |s| s.problem = Some(problem));
        }
    }
}

/// Cells of the stock for a plan, group by group from pack minus.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reservation {
    /// The plan.
    plan: Uuid,
    /// Revision and edit it was opened at.
    revision: i32,
    /// How often that revision had been written.
    edit: i32,
    /// The cells.
    groups: Vec<Vec<Uuid>>,
}

/// Reserve cells for a plan: the plan holds what was read on them, the stock that they are spoken for. Both or neither.
#[utoipa::path(context_path = "/api", request_body = Reservation,
    responses((status = 200, body = OpenPlan), (status = 404, body = Problem), (status = 409, body = Problem),
        (status = 422, body = Problem)))]
#[post("/stock/reservations", data = "<request>")]
pub async fn reserve_cells(
    request: Result<Body<Reservation>, Problem>,
    pool: &State<PgPool>,
) -> Result<Json<OpenPlan>, Problem> {
    let Reservation { plan: id, revision, edit, groups } = request?.0;
    let parallel = groups.first().map_or(0, Vec::len);
    if parallel == 0 || groups.iter().any(|g| g.len() != parallel) {
        return Err(field("/groups", "groups of equal size, at least one cell each"));
    }
    let stored = plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?;
    let cells = store::chosen(pool, &groups.concat()).await?;
    let by_id: HashMap<Uuid, &Choosable> = cells.iter().map(|c| (c.id, c)).collect();
    let mut plan = stored.document.0;
    let Some(pack) = plan.packs.first_mut() else { return Err(Problem::not_found("pack of this plan")) };
    let snapshot = |id: &Uuid| -> Result<ChosenCell, Problem> {
        let c = by_id.get(id).ok_or_else(|| Problem::not_found("cell"))?;
        let d = &c.digest.0;
        Ok(ChosenCell {
            stock_id: Some(c.id.to_string()),
            label: c.label.clone(),
            lot: Some(c.lot.name.clone()),
            capacity_ah: d.capacity.as_ref().and_then(|m| m.usable()),
            resistance_ohm: d.resistance.as_ref().and_then(|m| m.usable()),
            rested_v: d.now_v(),
        })
    };
    // A pack of chosen cells is none that comes as a whole.
    pack.leave_ready();
    pack.groups = groups
        .iter()
        .map(|g| g.iter().map(snapshot).collect::<Result<_, _>>().map(|cells| CellGroup { cells }))
        .collect::<Result<_, _>>()?;
    pack.series = Some(groups.len() as u32);
    pack.parallel = Some(parallel as u32);
    // The cell of the plan becomes that of the lot most of them came from, unless it is that already.
    if let Some(lot) = commonest(&cells) {
        let same = matches!(&pack.cell, Choice::Chosen { part } if part.size == lot.cell.size && part.chemistry == lot.cell.chemistry
            && part.rated_ah == lot.cell.rated_ah && part.origin == lot.cell.origin);
        if !same {
            let mut part = lot.cell.clone();
            part.offer.name = lot.name.clone();
            pack.chemistry = Some(part.chemistry);
            pack.cell = Choice::Chosen { part };
        }
        if let Choice::Chosen { part } = &mut pack.cell {
            part.tested = pack.groups.iter().flat_map(|g| &g.cells).all(|c| c.capacity_ah.is_some());
        }
    }
    plan.check()?;
    match plans::save(pool, id, SavedFrom { revision, edit, apart: true, key: None }, &plan).await? {
        Saved::As(stored) => Ok(Json(stored.into())),
        Saved::Missing => Err(Problem::not_found("plan")),
        Saved::Taken(told) => Err(Problem::new(Status::Conflict, "Some cells are not free", told)),
        Saved::Stale(_) => {
            let told = "The plan was saved since you opened it here; look at it again, then reserve.";
            Err(Problem::new(Status::Conflict, "Someone else saved this plan", told))
        }
    }
}

/// The lot that most cells came from.
fn commonest(cells: &[Choosable]) -> Option<&brick_core::stock::Lot> {
    let count = |name: &str| cells.iter().filter(|c| c.lot.name == name).count();
    cells.iter().max_by_key(|c| count(&c.lot.name)).map(|c| &c.lot.0)
}
