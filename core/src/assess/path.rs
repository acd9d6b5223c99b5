//! The path: every link of the line as a ceiling over the currents, and the weakest of them.
//!
//! Every limit is a figure of the ledger, so that it opens to its working like any other.

mod charge;
mod limits;

use crate::assess::rule;
use serde::Serialize;
use utoipa::ToSchema;

use super::figures::path::{LINK_A, LINK_BEARS_A, LINK_USED, REFERRED};
use super::figures::{converter, load, voltage};
use super::finding::{Finding, Severity};
use super::ledger::{Input, at, fig, fig_at, from_plan};
use super::stage::Stage;
use super::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::physics::wiring::BothSizes;
use crate::plan::{NodeKind, Step};
use charge::charge_links;
use limits::{Ceiling, Limit};

pub use charge::ChargeLink;

/// A current that flows along the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Demand {
    /// Id of the load level.
    pub load: String,
    /// The maker's word for it.
    pub name: String,
    /// Current at the battery.
    pub current_a: f64,
    /// The figure it is.
    pub figure: String,
    /// How long it lasts; absent is without an end.
    pub duration_s: Option<f64>,
    /// Whether it counts against peak limits rather than continuous ones.
    pub peak: bool,
}

/// What a link can carry for one peak.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PeakLimit {
    /// Id of the load level.
    pub load: String,
    /// Current it is rated for in that time; absent where nothing stated limits it.
    pub limit_a: Option<f64>,
    /// The figure it is.
    pub figure: Option<String>,
    /// Who set it, in a few words.
    pub set_by: &'static str,
}

/// One link of the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Link {
    /// Node or run it stands for; `cells` and `strips` for the pack's own.
    pub id: String,
    /// What it is.
    pub label: &'static str,
    /// Which one.
    pub detail: String,
    /// For a wire: its size in both systems.
    pub size: Option<BothSizes>,
    /// The stage that decides it.
    pub stage: Stage,
    /// Continuous limit referred to the battery side; absent is unknown.
    pub continuous_a: Option<f64>,
    /// The figure it is.
    pub figure: Option<String>,
    /// Who set the continuous limit, in a few words.
    pub set_by: &'static str,
    /// Limits for each peak.
    pub peaks: Vec<PeakLimit>,
    /// Largest demand over limit; absent where nothing is known.
    pub used: Option<f64>,
    /// Worst finding about the stage's part in this link.
    pub severity: Option<Severity>,
}

/// The whole path.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Path {
    /// Currents asked for.
    pub demands: Vec<Demand>,
    /// Links from the cells to the device.
    pub links: Vec<Link>,
    /// Id of the weakest link.
    pub weakest: Option<String>,
    /// Links from the supply to the cells.
    pub charge: Vec<ChargeLink>,
}

/// Lays out the path of a bench and enters its limits.
pub fn lay(workspace: &mut Workspace<'_>, findings: &[Finding]) -> Path {
    let demands: Vec<Demand> = workspace
        .asked
        .iter()
        .map(|a| Demand {
            load: a.load.id.clone(),
            name: a.load.name.clone(),
            current_a: a.level.current_a,
            figure: at(&load::BATTERY_A, &a.load.id),
            duration_s: a.level.duration_s,
            peak: !a.level.is_long(),
        })
        .collect();
    let mut links = vec![];
    for ceiling in ceilings(workspace) {
        let mut link = enter_limits(workspace, ceiling, &demands);
        enter_used(workspace, &mut link, &demands);
        link.severity = findings.iter().filter(|f| is_about(workspace, f, &link.id)).map(|f| f.severity).max();
        links.push(link);
    }
    let weakest = links
        .iter()
        .filter_map(|l| Some((l.used?, l)))
        .max_by(|a, b| a.0.total_cmp(&b.0))
        .map(|(_, link)| link.id.clone());
    let charge = charge_links(workspace);
    Path { demands, links, weakest, charge }
}

/// The links in the order the current meets them; behind a converter with the factor to its battery side.
fn ceilings<'a>(workspace: &mut Workspace<'a>) -> Vec<Ceiling<'a>> {
    let mut ceilings = limits::of_pack(workspace);
    let mut referred = 1.0;
    for step in workspace.line.steps.clone() {
        match step {
            Step::Node(node) => {
                ceilings.extend(limits::of_node(node, referred));
                if node.module().is_some_and(|m| m.converts.is_some()) {
                    referred = output_to_battery(workspace).unwrap_or(1.0);
                }
            }
            Step::Connection(run) => ceilings.extend(limits::of_wire(run, referred)),
        }
    }
    ceilings
}

/// Factor from the device side of a converter to its battery side at the minimum loaded voltage.
fn output_to_battery(workspace: &mut Workspace<'_>) -> Option<f64> {
    let (_, c) = workspace.converter()?;
    let efficiency = workspace.ledger.value(&converter::EFFICIENCY)?;
    let factor = c.output_v / (efficiency * workspace.ledger.value(&voltage::CUTOFF_V)?);
    let at = format!("{}/converts/output_v", workspace.module_pointer(NodeKind::Converter));
    let output = from_plan(at, "Set point", c.output_v, Unit::V);
    workspace.ledger.put(&REFERRED, factor, vec![output, fig(&converter::EFFICIENCY), fig(&voltage::CUTOFF_V)]);
    Some(factor)
}

fn enter_limits(workspace: &mut Workspace<'_>, ceiling: Ceiling<'_>, demands: &[Demand]) -> Link {
    let id = ceiling.id.to_owned();
    let referred = |limit: Limit| -> (f64, Vec<Input>, Limit) {
        let mut inputs = limit.inputs.clone();
        if ceiling.referred != 1.0 {
            inputs.push(fig(&REFERRED));
        }
        (limit.value_a * ceiling.referred, inputs, limit)
    };
    let continuous = limits::continuous(workspace, &ceiling);
    let (mut continuous_a, mut figure, mut set_by) = (None, None, "nothing stated");
    if let Some(limit) = continuous {
        let (value_a, inputs, limit) = referred(limit);
        workspace.ledger.put_at(&LINK_A, &id, value_a, inputs).source(limit.source);
        (continuous_a, figure, set_by) = (Some(value_a), Some(at(&LINK_A, &id)), limit.set_by);
    }
    let mut peaks = vec![];
    for demand in demands.iter().filter(|d| d.peak) {
        let Some(duration_s) = demand.duration_s else {
            continue;
        };
        let subject = format!("{id}.{}", demand.load);
        let mut peak = PeakLimit { load: demand.load.clone(), limit_a: None, figure: None, set_by: "nothing stated" };
        if let Some(limit) = limits::limit_of(workspace, &ceiling, &demand.load, duration_s) {
            let (value_a, inputs, limit) = referred(limit);
            workspace.ledger.put_at(&LINK_BEARS_A, &subject, value_a, inputs).source(limit.source);
            peak.limit_a = Some(value_a);
            peak.figure = Some(at(&LINK_BEARS_A, &subject));
            peak.set_by = limit.set_by;
        }
        peaks.push(peak);
    }
    Link {
        id,
        label: ceiling.label,
        detail: ceiling.detail,
        size: ceiling.size,
        stage: ceiling.stage,
        continuous_a,
        figure,
        set_by,
        peaks,
        used: None,
        severity: None,
    }
}

/// Largest demand over limit: continuous demand over the continuous limit, each peak over its own.
fn enter_used(workspace: &mut Workspace<'_>, link: &mut Link, demands: &[Demand]) {
    let l = &mut workspace.ledger;
    let steady = l
        .value(&load::CONTINUOUS_A)
        .zip(link.continuous_a)
        .map(|(a, limit_a)| (a / limit_a, vec![fig(&load::CONTINUOUS_A), fig_at(&LINK_A, &link.id)]));
    let peaks = demands.iter().filter(|d| d.peak).filter_map(|d| {
        let peak = link.peaks.iter().find(|p| p.load == d.load)?;
        let limit = Input::Figure { id: peak.figure.clone()?.into() };
        Some((d.current_a / peak.limit_a?, vec![Input::Figure { id: d.figure.clone().into() }, limit]))
    });
    if let Some((used, inputs)) = steady.into_iter().chain(peaks).max_by(|a, b| a.0.total_cmp(&b.0)) {
        l.put_at(&LINK_USED, &link.id, used, inputs);
        link.used = Some(used);
    }
}

/// Whether a finding that is not accepted speaks of this link.
fn is_about(workspace: &Workspace<'_>, finding: &Finding, link: &str) -> bool {
    if finding.accepted.is_some() {
        return false;
    }
    match (link, workspace.plan.node(link).map(|n| n.kind)) {
        ("cells", None) => matches!(
            finding.rule,
            rule::brick::SHARE_OVER_RATING | rule::cells::OVER_RATING | rule::cells::PEAK_OVER_RATING
        ),
        ("strips", None) => matches!(
            finding.rule,
            rule::brick::STRIP_OVER_CURRENT
                | rule::brick::STRIP_OVER_PEAK
                | rule::brick::STRIPS_NEAR
                | rule::protection::FUSE_ABOVE_STRIPS
        ),
        (_, Some(NodeKind::Fuse)) => matches!(
            finding.rule,
            rule::protection::FUSE_ABOVE_CONNECTOR
                | rule::protection::FUSE_ABOVE_STRIPS
                | rule::protection::FUSE_ABOVE_WIRE
                | rule::protection::FUSE_BREAKING
                | rule::protection::FUSE_FAR
                | rule::protection::FUSE_NOT_DC
                | rule::protection::FUSE_NUISANCE
                | rule::protection::FUSE_OVERSIZED
                | rule::protection::FUSE_PEAK
                | rule::protection::FUSE_VOLTS
        ),
        (_, Some(NodeKind::Board)) => matches!(
            finding.rule,
            rule::protection::BOARD_CONTRADICTS
                | rule::protection::BOARD_OVER_CURRENT
                | rule::protection::OTHER_CHEMISTRY
                | rule::protection::OTHER_SERIES
                | rule::protection::TRIP_ABOVE_CELLS
                | rule::protection::TRIP_ABOVE_STRIPS
                | rule::protection::TRIP_IN_LOAD
                | rule::protection::TRIP_IN_PEAK
                | rule::protection::TRIP_NOT_AS_STATED
        ),
        (_, Some(NodeKind::Converter)) => matches!(
            finding.rule,
            rule::voltage::BOOST_OVERFED
                | rule::voltage::BUCK_HEADROOM
                | rule::voltage::CONVERTER_HEAT
                | rule::voltage::CONVERTER_HOT
                | rule::voltage::CONVERTER_INPUT_CURRENT
                | rule::voltage::CONVERTER_INPUT_HIGH
                | rule::voltage::CONVERTER_INPUT_LOW
                | rule::voltage::CONVERTER_INPUT_PEAK
                | rule::voltage::CONVERTER_OUTPUT_CURRENT
                | rule::voltage::CONVERTER_OUTPUT_PEAK
        ),
        (_, Some(NodeKind::CutOff)) => matches!(finding.rule, rule::protection::CUTOFF_CHATTER),
        _ => finding.subject() == link,
    }
}
