//! `assess`: from a plan to its figures, findings, path and stages.
//!
//! The one place that knows every room. `figures` fills the ledger stage by stage, `rules` compare across stages,
//! `path` lays out the ceilings, `stage` says how far each stage is. Closed form and without a catalogue.

mod accept;
mod arrival;
mod balance;
mod bay;
mod charge;
mod coordination;
mod errors;
pub mod figures;
mod find_out;
mod finding;
mod findings;
mod follows;
pub mod glossary;
mod ledger;
mod mains;
mod nameplate;
mod network;
mod next;
mod output_map;
mod pads;
mod path;
mod report;
pub mod rule;
mod rules;
mod running;
mod stage;
mod workspace;

pub(crate) use arrival::tests_of;
pub use arrival::{PartTests, TestReport, arrival_tests};
pub use balance::{Balance, LevelReport, balance};
pub use bay::{BayPlan, BayThing};
pub use charge::{ChargeCourse, ChargePoint, ChargeReport, ContactsRead, EndChoice, charge};
pub use coordination::{Coordination, CurveKind, FaultCase, LevelMark, TimeCurve, TimePoint, coordination};
pub use figures::wanted::CountedIn;
pub(crate) use figures::wanted::{Wanted, wanted};
pub use find_out::ToFindOut;
pub use finding::{Deciding, Finding, Severity, subject};
pub use ledger::{Figure, FigureDef, Input, Working};
pub use mains::MainsState;
pub use nameplate::Nameplate;
pub use network::{CellLoad, CutSum, LevelLoad, NetworkReport, SegmentLoad, TakeOffOption, network};
pub(crate) use network::{StripTask, sharing_of, strip_task};
pub use next::{NextKind, NextStep};
pub use output_map::{OutputCurrent, OutputLimit, OutputPoint};
pub use pads::{Pad, PadSide, ThingPads};
pub use path::{ChargeLink, Demand, Link, Path, PeakLimit};
pub use report::{StageReport, Verdict};
pub use running::{
    CountRun, FillPoint, FillReport, FillsFrom, GroupFilled, GroupLeft, MOST_VARIANTS, PositionRun, RunOutcome,
    RunReport, Slider, StartsAt, Sweep, SweepAxis, Swept, SweptCell, ToldEvent, ToldFill, Turned, WhatIf, fills,
    run_in_steps, runs, sweep,
};
pub use stage::Stage;
pub(crate) use workspace::Workspace;

use serde::Serialize;
use utoipa::ToSchema;

use std::rc::Rc;

use crate::physics::brick::Sharing;
use crate::physics::device::apart::{self, Apart};
use crate::plan::{Change, FieldError, Plan, Position};

/// Everything Dense Brick has to say about a plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Assessment {
    /// What stands on the pack's type plate.
    pub nameplate: Nameplate,
    /// How each stage stands, in the order of the work.
    pub stages: Vec<StageReport>,
    /// What to do next.
    pub next: NextStep,
    /// What is wrong or worth knowing, stops first.
    pub findings: Vec<Finding>,
    /// Every link as a ceiling over the currents.
    pub path: Path,
    /// How far the disassembly is.
    pub apart: Apart,
    /// Why the proposed count in parallel is what it is; absent while none can be proposed.
    pub parallel_why: Option<&'static str>,
    /// Boards and modules with their pads, each once.
    pub things: Vec<ThingPads>,
    /// Each compartment with everything whose size is known; none while nothing beside the brick has one.
    pub bays: Vec<BayPlan>,
    /// What happens while the mains is there, fails, is away and returns; empty where nothing changes over.
    pub mains: Vec<MainsState>,
    /// What an adjustable output can give at each voltage; empty where there is none.
    pub outputs: Vec<OutputPoint>,
    /// Every figure with its working.
    pub figures: Vec<Figure>,
    /// What a page that holds the plan as it was typed has to take over: what follows from what is said once.
    pub follows: Vec<Change>,
}

impl Assessment {
    /// A figure by its id.
    pub fn figure(&self, id: &str) -> Option<&Figure> {
        self.figures.iter().find(|f| f.id == id)
    }
}

/// Assesses a plan. Refuses one that does not pass `Plan::check`, naming every field.
pub fn assess(plan: &Plan) -> Result<Assessment, Vec<FieldError>> {
    let mut pass = Pass::over(plan)?;
    errors::spread(&mut pass);
    Ok(pass.laid().close())
}

/// Assesses a plan as if every reading were exact: for trying many plans one after another.
pub fn assess_at_face_value(plan: &Plan) -> Result<Assessment, Vec<FieldError>> {
    Ok(Pass::over(plan)?.laid().close())
}

/// One pass through the stages.
struct Pass<'a> {
    workspace: Workspace<'a>,
    findings: Vec<Finding>,
    path: Path,
}

impl<'a> Pass<'a> {
    fn over(plan: &'a Plan) -> Result<Self, Vec<FieldError>> {
        plan.check()?;
        let mut workspace = fill(plan, None)?;
        let findings = rules::check(&workspace);
        let path = path::lay(&mut workspace, &findings);
        Ok(Pass { workspace, findings, path })
    }

    /// A pass over a plan that was checked before, to be compared with another: findings come without their reasons,
    /// and how the brick shares its current, which they hardly move, is taken over.
    fn to_compare(plan: &'a Plan, sharing: Option<Rc<Sharing>>) -> Result<Self, Vec<FieldError>> {
        let mut workspace = fill(plan, sharing)?;
        let findings = rules::check_briefly(&workspace);
        let path = path::lay(&mut workspace, &findings);
        Ok(Pass { workspace, findings, path })
    }

    /// With what the geometry of the brick decides, and the plate, which no reading moves.
    fn laid(mut self) -> Self {
        figures::laid::enter(&mut self.workspace);
        figures::plate::enter(&mut self.workspace, self.path.weakest.as_deref());
        self.findings.extend(rules::check_layout(&self.workspace));
        self.findings.extend(self.in_other_positions());
        findings::sort(&self.workspace, &mut self.findings);
        self
    }

    /// Of two packs that are used in several positions the figures are those of the first; what is found in another and not there
    /// is added. Of the second pack alone that is also what has the same name but other reasons: it is another pack.
    fn in_other_positions(&self) -> Vec<Finding> {
        let plan = self.workspace.plan;
        let mut found: Vec<Finding> = vec![];
        for position in plan.positions().into_iter().skip(1) {
            let Some(other) = plan.in_position(position) else { continue };
            let Ok(pass) = Pass::over(&other) else { continue };
            let told = |f: &Finding, of: &Finding| f.key == of.key && (position != Position::Other || f.why == of.why);
            let new = pass.findings.into_iter().filter(|f| !self.findings.iter().any(|of| told(f, of)));
            found.extend(new.map(|f| f.in_position(position.words())));
        }
        found
    }

    fn close(self) -> Assessment {
        let stages = report::report(&self.workspace, &self.findings);
        Assessment {
            nameplate: nameplate::read(&self.workspace),
            next: next::next_step(&self.workspace, &stages, &self.findings),
            stages,
            findings: self.findings,
            path: self.path,
            apart: apart::outlook(&self.workspace.plan.device),
            things: pads::things(&self.workspace),
            bays: bay::bay_plans(&self.workspace),
            mains: mains::mains_states(&self.workspace),
            outputs: output_map::output_map(&self.workspace),
            parallel_why: figures::cells::parallel_why(&self.workspace),
            follows: self.workspace.plan.follows(),
            figures: self.workspace.ledger.into_figures(),
        }
    }
}

/// What a plan's bench says, after every stage has entered its figures. The plan is checked before.
pub(crate) fn at_workspace<T>(plan: &Plan, says: impl FnOnce(&Workspace<'_>) -> T) -> Result<T, Vec<FieldError>> {
    Ok(says(&fill(plan, None)?))
}

/// The same with what its rules find, stages as they stand without the geometry of the brick.
pub(crate) fn at_findings<T>(
    plan: &Plan,
    says: impl FnOnce(&Workspace<'_>, &[Finding]) -> T,
) -> Result<T, Vec<FieldError>> {
    let workspace = fill(plan, None)?;
    let findings = rules::check_briefly(&workspace);
    Ok(says(&workspace, &findings))
}

/// The same with what the geometry of the brick decides, such as the strips as they are cut.
pub(crate) fn at_laid_workspace<T>(plan: &Plan, says: impl FnOnce(&Workspace<'_>) -> T) -> Result<T, Vec<FieldError>> {
    let mut workspace = fill(plan, None)?;
    figures::laid::enter(&mut workspace);
    Ok(says(&workspace))
}

/// What the choice of voltage decides, and nothing else: for weighing many of them.
pub(crate) struct VoltsOnly {
    /// The figures that the voltage decides.
    pub figures: Vec<Figure>,
    /// What the rules of the voltage stage find.
    pub findings: Vec<Finding>,
}

impl VoltsOnly {
    /// Value of a figure by its id.
    pub fn value(&self, id: &str) -> Option<f64> {
        self.figures.iter().find(|f| f.id == id).map(|f| f.value)
    }
}

/// Assesses the voltage of a plan that was checked before.
pub(crate) fn volts_only(plan: &Plan) -> Option<VoltsOnly> {
    let mut workspace = Workspace::lay(plan)?;
    volts(&mut workspace);
    let findings = rules::check_volts(&workspace);
    Some(VoltsOnly { figures: workspace.ledger.into_figures(), findings })
}

/// Lays a plan on a bench and enters the figures of every stage, in the order of the work.
fn fill(plan: &Plan, sharing: Option<Rc<Sharing>>) -> Result<Workspace<'_>, Vec<FieldError>> {
    let mut workspace = Workspace::lay(plan).ok_or_else(|| {
        vec![FieldError { field: "/packs".to_owned(), message: "a plan has at least one pack".to_owned() }]
    })?;
    workspace.sharing = sharing;
    volts(&mut workspace);
    figures::charging::enter(&mut workspace);
    figures::balancing::enter(&mut workspace);
    Ok(workspace)
}

/// Every stage but charging, which decides nothing about the voltage and takes the longest.
fn volts(workspace: &mut Workspace<'_>) {
    figures::device::enter(workspace);
    figures::voltage::enter(workspace);
    figures::converter::efficiency(workspace);
    figures::load::enter(workspace);
    figures::converter::enter(workspace);
    figures::groups::enter(workspace);
    figures::cells::enter(workspace);
    figures::holders::enter(workspace);
    figures::brick::enter(workspace);
    figures::protection::enter(workspace);
    figures::wiring::enter(workspace);
    figures::run::enter(workspace);
    figures::feed::enter(workspace);
    figures::protection::left_on(workspace);
}
