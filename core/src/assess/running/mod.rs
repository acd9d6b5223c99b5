//! The simulated run and charge of a plan: what it does under its load, what ends it, and what would be different if.
//!
//! `setup` makes a task of the plan, `read_start` says how well its start is known, `outcome` answers of a run, `said` sentences,
//! `charging` the same for the charge, `sweep` many runs at once.

mod charging;
mod outcome;
mod read_start;
mod said;
mod setup;
mod sweep;

pub use charging::{FillPoint, FillReport, FillsFrom, GroupFilled, ToldFill, fills};
pub use outcome::{GroupLeft, RunOutcome, ToldEvent};
pub use sweep::{CountRun, PositionRun, Sweep, SweepAxis, Swept, SweptCell, sweep};
use sweep::{by_count, by_position};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Workspace;
use super::figures::device::ORIGINAL_V;
use super::figures::run::usual_c;
use super::fill as filled;
use super::workspace::Asked;
use crate::base::chemistry;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::base::range::PARALLEL;
use crate::physics::device::{Level, draw_a, mean_a};
use crate::physics::run::{OldRun, Pattern, old_run};
use crate::plan::{CELLS_MAX, FieldError, Plan};
use outcome::{Told, outcome};
use read_start::start_says;
use setup::Setup;

/// Most variants side by side.
pub const MOST_VARIANTS: usize = 4;

const NOT_JOINED: &str = "The cells of this pack are not all joined: lay them out first.";

/// What is to be different from the plan. Absent is as planned.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct WhatIf {
    /// Cells in parallel.
    pub parallel: Option<u32>,
    /// Pack voltage at which the discharge ends.
    pub cutoff_v: Option<f64>,
    /// Voltage a cell is charged to.
    pub charge_v: Option<f64>,
    /// Temperature of the surroundings.
    pub ambient_c: Option<f64>,
    /// Current of every load level against the survey.
    pub load_factor: Option<f64>,
}

/// What can be different.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Turned {
    /// Cells in parallel.
    Parallel,
    /// Pack voltage at which the discharge ends.
    Cutoff,
    /// Voltage a cell is charged to.
    Charge,
    /// Temperature of the surroundings.
    Ambient,
    /// Current of every load level.
    Load,
}

/// How the groups stand at the start.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StartsAt {
    /// As the charger leaves them.
    #[default]
    Full,
    /// At the voltage that was read.
    AsRead,
}

/// What a slider can be turned to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Slider {
    /// What it turns.
    pub turned: Turned,
    /// As planned.
    pub now: f64,
    /// Lowest.
    pub min: f64,
    /// Highest.
    pub max: f64,
    /// From one stop to the next.
    pub step: f64,
    /// Unit of all of them.
    pub unit: Unit,
    /// Where the plan holds the value, if it holds it as it is.
    pub pointer: Option<String>,
}

/// The runs of a plan.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct RunReport {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// One for each variant.
    pub runs: Vec<RunOutcome>,
    /// The original battery under the same load.
    pub original: Option<OldRun>,
    /// What can be turned.
    pub sliders: Vec<Slider>,
    /// Whether the open-circuit curve is a line through common figures only.
    pub assumed: bool,
    /// Whether voltage of the groups were read, so that a run can start from there.
    pub can_start_as_read: bool,
    /// With each number of cells that may be in its holders, from the fewest on; empty without holders.
    pub by_count: Vec<CountRun>,
    /// In each position of two packs, where there are several.
    pub by_position: Vec<PositionRun>,
    /// How little that voltage says of the charge it starts with, in words.
    pub start_says: Option<String>,
}

/// A series of currents that was recorded at the device, or none.
pub type Recorded<'a> = Option<&'a [(f64, f64)]>;

/// Simulates a plan in each variant.
pub fn runs(
    plan: &Plan,
    variants: &[WhatIf],
    starts: StartsAt,
    recorded: Recorded<'_>,
) -> Result<RunReport, Vec<FieldError>> {
    plan.check()?;
    check(plan, variants)?;
    let workspace = filled(plan, None)?;
    if let Some(words) = missing(&workspace, recorded) {
        return Ok(RunReport { missing: Some(words.to_owned()), ..RunReport::default() });
    }
    let mut runs = vec![];
    for what in variants {
        let varied = what.of(plan);
        let workspace = filled(&varied, None)?;
        runs.extend(
            Setup::of(&workspace, what, starts, recorded).and_then(|setup| outcome(&setup, *what, Told::Chart)),
        );
    }
    Ok(RunReport {
        missing: runs.is_empty().then(|| NOT_JOINED.to_owned()),
        original: original(&workspace, recorded),
        sliders: sliders(&workspace),
        assumed: workspace.pack.chemistry.is_some_and(|c| chemistry::curve(c).assumed),
        by_count: by_count(plan, recorded),
        by_position: by_position(plan, recorded),
        can_start_as_read: setup::all_read(&workspace).is_some(),
        start_says: (starts == StartsAt::AsRead).then(|| start_says(&workspace)).flatten(),
        runs,
    })
}

/// Simulates a plan as it is with every moment of it, in steps of one length where one is asked for, else in those that suit it. The
/// report's missing words where it cannot be.
pub fn run_in_steps(plan: &Plan, step_s: Option<f64>) -> Result<Result<RunOutcome, String>, Vec<FieldError>> {
    const STEP_S: (f64, f64) = (0.01, 60.0);
    plan.check()?;
    if let Some(step_s) = step_s.filter(|step_s| !(STEP_S.0..=STEP_S.1).contains(step_s)) {
        let message = format!("{step_s} s is outside {} to {} s", STEP_S.0, STEP_S.1);
        return Err(vec![FieldError { field: "step_s".to_owned(), message }]);
    }
    let workspace = filled(plan, None)?;
    if let Some(words) = missing(&workspace, None) {
        return Ok(Err(words.to_owned()));
    }
    let what = WhatIf::default();
    let setup = Setup::of(&workspace, &what, StartsAt::Full, None);
    Ok(setup.and_then(|s| outcome(&s, what, Told::EveryMoment { step_s })).ok_or_else(|| NOT_JOINED.to_owned()))
}

impl WhatIf {
    /// The plan with another parallel count: what was chosen for the planned one does not count then.
    fn of(&self, plan: &Plan) -> Plan {
        let mut varied = plan.clone();
        if let (Some(parallel), Some(pack)) = (self.parallel, varied.packs.first_mut())
            && pack.parallel != Some(parallel)
        {
            pack.parallel = Some(parallel);
            pack.groups.clear();
            pack.brick.layout = None;
        }
        varied
    }

    /// The same with one thing turned.
    pub fn with(mut self, turned: Turned, value: f64) -> WhatIf {
        match turned {
            Turned::Parallel => self.parallel = Some(value.round().max(1.0) as u32),
            Turned::Cutoff => self.cutoff_v = Some(value),
            Turned::Charge => self.charge_v = Some(value),
            Turned::Ambient => self.ambient_c = Some(value),
            Turned::Load => self.load_factor = Some(value),
        }
        self
    }
}

/// Ranges of what can be turned.
fn range(turned: Turned, plan: &Plan) -> (f64, f64, Unit) {
    let facts = plan.main_pack().and_then(|p| p.chemistry).map(crate::base::chemistry::Chemistry::facts);
    match turned {
        Turned::Parallel => (1.0, most_parallel(plan), Unit::Count),
        Turned::Cutoff => (0.5, 150.0, Unit::V),
        Turned::Charge => (facts.map_or(1.0, |f| f.cutoff_v), facts.map_or(5.0, |f| f.never_above_v), Unit::V),
        Turned::Ambient => (-40.0, 80.0, Unit::C),
        Turned::Load => (0.1, 10.0, Unit::Ratio),
    }
}

/// Most cells in parallel that a plan of its series count may have.
fn most_parallel(plan: &Plan) -> f64 {
    let series = plan.main_pack().and_then(|p| p.series).unwrap_or(1).max(1);
    f64::from(CELLS_MAX / series).min(PARALLEL.max)
}

fn check(plan: &Plan, variants: &[WhatIf]) -> Result<(), Vec<FieldError>> {
    let mut errors = vec![];
    if variants.is_empty() || variants.len() > MOST_VARIANTS {
        let message = format!("{} variants: 1 to {MOST_VARIANTS} are compared", variants.len());
        errors.push(FieldError { field: "/variants".to_owned(), message });
    }
    for (i, w) in variants.iter().enumerate() {
        let fields = [
            ("parallel", Turned::Parallel, w.parallel.map(f64::from)),
            ("cutoff_v", Turned::Cutoff, w.cutoff_v),
            ("charge_v", Turned::Charge, w.charge_v),
            ("ambient_c", Turned::Ambient, w.ambient_c),
            ("load_factor", Turned::Load, w.load_factor),
        ];
        for (name, turned, value) in fields {
            let (min, max, unit) = range(turned, plan);
            if let Some(value) = value.filter(|v| !v.is_finite() || below(*v, min) || above(*v, max)) {
                let (low, high) = (show(min, unit), show(max, unit));
                let message = format!("{} is outside {low} to {high}", show(value, unit));
                errors.push(FieldError { field: format!("/variants/{i}/{name}"), message });
            }
        }
    }
    if errors.is_empty() { Ok(()) } else { Err(errors) }
}

fn missing(workspace: &Workspace<'_>, recorded: Recorded<'_>) -> Option<&'static str> {
    if workspace.pack.chemistry.is_none() || workspace.counts().is_none() {
        return Some("Choose the chemistry, the series count and the parallel count first.");
    }
    if workspace.cell().is_none() {
        return Some("Choose a cell first: its capacity and its resistance decide the run.");
    }
    if recorded.is_none() && workspace.asked.iter().all(|a| a.load.duration_s.is_some() && a.load.every_s.is_none()) {
        return Some("Survey what the device draws first: a continuous level, or one that repeats.");
    }
    None
}

/// The old battery under the same load: a current stays what it is at its voltage, a power becomes one there.
fn original(workspace: &Workspace<'_>, recorded: Recorded<'_>) -> Option<OldRun> {
    let o = &workspace.plan.device.original;
    let old_v = workspace.ledger.value(&ORIGINAL_V)?;
    let mean_a = match pattern(workspace, recorded)? {
        Pattern::Recorded { readings, whole_s } => recorded_mean_a(&readings, whole_s),
        Pattern::Levels(_) => {
            let at_old = |a: &Asked<'_>| Level { current_a: draw_a(&a.load.draw, old_v), ..a.level.clone() };
            mean_a(&workspace.asked.iter().map(at_old).collect::<Vec<_>>())
        }
    };
    // What it gave under a meter counts before its label.
    let ah = o.gave_ah.as_ref().or(o.capacity_ah.as_ref())?.value;
    old_run(o.chemistry?, o.series?, ah, mean_a)
}

/// Mean of a series of currents, each until the next.
fn recorded_mean_a(readings: &[(f64, f64)], whole_s: f64) -> f64 {
    let ends_s = readings.iter().skip(1).map(|r| r.0).chain([whole_s]);
    readings.iter().zip(ends_s).map(|((from_s, a), until_s)| a * (until_s - from_s)).sum::<f64>() / whole_s
}

fn sliders(workspace: &Workspace<'_>) -> Vec<Slider> {
    let (Some((series, parallel)), Some(facts)) = (workspace.counts(), workspace.facts()) else { return vec![] };
    let env = &workspace.plan.environment;
    let cutoff_v = setup::cut_off_v(workspace);
    let full_v = setup::charged_to_v(workspace);
    let mut found = vec![
        (Turned::Parallel, parallel, 1.0, (2.0 * parallel).max(parallel + 2.0).min(most_parallel(workspace.plan)), 1.0),
        (Turned::Cutoff, cutoff_v, series * facts.floor_v, series * facts.nominal_v, 0.05 * series),
    ];
    if let Some(full_v) = full_v {
        found.push((Turned::Charge, full_v, facts.nominal_v.min(full_v), facts.never_above_v.max(full_v), 0.01));
    }
    let ambient_c = usual_c(env);
    found.push((Turned::Ambient, ambient_c, env.use_min_c.min(-10.0), env.use_max_c.max(45.0), 1.0));
    found.push((Turned::Load, 1.0, 0.25, 3.0, 0.05));
    found
        .into_iter()
        .map(|(turned, now, min, max, step)| Slider {
            turned,
            now,
            min: min.min(now),
            max: max.max(now),
            step,
            unit: range(turned, workspace.plan).2,
            pointer: match turned {
                Turned::Parallel => Some("/packs/0/parallel".to_owned()),
                Turned::Cutoff => setup::cut_off_pointer(workspace),
                _ => None,
            },
        })
        .collect()
}

/// A recorded series as a load, or what the survey says.
fn pattern(workspace: &Workspace<'_>, recorded: Recorded<'_>) -> Option<Pattern> {
    match recorded {
        Some(readings) => Pattern::recorded(readings.to_vec()),
        None => Some(Pattern::Levels(workspace.asked.iter().map(|a| setup::level(workspace, a.load)).collect())),
    }
}
