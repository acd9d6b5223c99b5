//! The wiring diagram: drawn from the plan, with the voltage of every node in the condition that is asked for.
//!
//! `wired` turns the plan's line into a circuit with both poles, `settle` finds its working point, `probes` says where to hold
//! the meter, `layout` makes a `drawing` of it in which no wire crosses another, `page` writes that as SVG.

pub mod circuit;
mod drawing;
mod layout;
mod page;
mod pen;
mod points;
mod probes;
mod settle;
mod symbols;
pub(crate) mod wired;

pub use drawing::{Dot, DrawnBlock, DrawnWire, Schematic, Stroke, StrokeRole, Words, WordsRole};
pub use page::svg;
pub use points::{MeterPoint, meter_points};
pub use probes::Probe;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::assess::{Workspace, at_workspace};
use crate::physics::brick::ramp;
use crate::plan::{FieldError, Plan, StateName};
use circuit::Solved;
use wired::{Wired, wire};

/// What the device does while the meter is held to it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Condition {
    /// Nothing runs, nothing charges.
    #[default]
    Rest,
    /// It runs at its usual level.
    Running,
    /// It runs at its largest level.
    Hardest,
    /// It is charged.
    Charging,
    /// The board has opened, and the device still needs to run.
    Tripped,
    /// It is switched off.
    Off,
}

impl Condition {
    /// All, in the order they are shown.
    pub const ALL: [Condition; 6] = [
        Condition::Rest,
        Condition::Running,
        Condition::Hardest,
        Condition::Charging,
        Condition::Tripped,
        Condition::Off,
    ];

    /// The state of the plan that it is.
    pub fn state(self) -> StateName {
        match self {
            Condition::Rest => StateName::Rest,
            Condition::Running | Condition::Hardest => StateName::Running,
            Condition::Charging => StateName::Charging,
            Condition::Tripped => StateName::Tripped,
            Condition::Off => StateName::Off,
        }
    }

    /// What it is, in words.
    pub fn says(self) -> &'static str {
        match self {
            Condition::Rest => "At rest: nothing runs, nothing charges.",
            Condition::Running => "Running at its usual load.",
            Condition::Hardest => "At its largest load.",
            Condition::Charging => "Being charged, switched off.",
            Condition::Tripped => "The board has opened, and the device is still switched on.",
            Condition::Off => "Switched off.",
        }
    }
}

/// What the cells hold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Held {
    /// Full.
    #[default]
    Full,
    /// Half of it, on the OCV curve.
    Half,
    /// At their sensible end.
    Empty,
    /// As the groups were read.
    Read,
}

impl Held {
    /// What it is, in words.
    pub fn says(self) -> &'static str {
        match self {
            Held::Full => "Cells full.",
            Held::Half => "Cells at half charge.",
            Held::Empty => "Cells empty.",
            Held::Read => "Cells as they were read.",
        }
    }
}

/// What the diagram is asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Shown {
    /// What the device does.
    pub condition: Condition,
    /// What the cells hold.
    pub held: Held,
    /// Whether a second pack is set in series with the first; absent is as it is used.
    pub in_series: Option<bool>,
}

/// Less than this is nothing to a hand meter.
const NOTHING_V: f64 = 5e-4;

/// Voltage between two nodes as a meter shows them; `None` where nothing joins the two.
fn read_v(solved: Option<&Solved>, red: usize, black: usize) -> Option<f64> {
    let v = solved?.between_v(red, black)?;
    Some(if v.abs() < NOTHING_V { 0.0 } else { v })
}

/// A node of the circuit: one piece of metal.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NodeVolts {
    /// Its name.
    pub name: String,
    /// Voltage against pack minus; absent where nothing joins it to the pack, or where it was not calculated.
    pub node_v: Option<f64>,
    /// Colour of its potential; absent without one.
    pub colour: Option<String>,
}

/// A block of the circuit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BlockState {
    /// Its id in the drawing.
    pub id: String,
    /// What it is, and which one.
    pub title: String,
    /// Current through it, away from the pack.
    pub current_a: Option<f64>,
    /// How it stands, in words; empty where there is nothing to say.
    pub says: &'static str,
}

/// The diagram of a plan in one condition.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Diagram {
    /// Name of the plan.
    pub name: String,
    /// What the condition is, in a sentence or two.
    pub says: String,
    /// Why the voltage could not be calculated; absent where they were.
    pub not_reckoned: Option<&'static str>,
    /// What is still to be decided, for the diagram to be whole.
    pub undecided: Vec<String>,
    /// Whether the voltage of the groups were read, so that they can be asked for.
    pub can_read: bool,
    /// How the second pack is set; absent without one.
    pub in_series: Option<bool>,
    /// The drawing.
    pub drawing: Schematic,
    /// Every node, by its number in the drawing.
    pub nodes: Vec<NodeVolts>,
    /// Every block.
    pub blocks: Vec<BlockState>,
    /// Where to hold the probes, and what the meter should show.
    pub probes: Vec<Probe>,
    /// The points by their names; the first of those at one node is the one to say.
    pub points: Vec<MeterPoint>,
}

/// Draws a plan in a condition. `None` until chemistry and series count are chosen.
///
/// Refuses a plan that cannot stand.
pub fn diagram(plan: &Plan, shown: Shown) -> Result<Option<Diagram>, Vec<FieldError>> {
    plan.check()?;
    at_workspace(plan, |workspace| drawn(workspace, shown))
}

/// The circuit of a plan in a condition, at its working point, for a check by other means. `None` where it has none.
pub fn solved(plan: &Plan, shown: Shown) -> Result<Option<(circuit::Circuit, Solved)>, Vec<FieldError>> {
    plan.check()?;
    at_workspace(plan, |workspace| {
        let (wired, solved) = worked(workspace, shown)?;
        Some((wired.circuit, solved?))
    })
}

/// A reading by the names of its points, for one who draws nothing.
#[derive(Debug, Clone, PartialEq)]
pub struct Point {
    /// The reading.
    pub probe: Probe,
    /// Where the red probe goes.
    pub red: String,
    /// Where the black probe goes.
    pub black: String,
    /// The names of both points, where both have one.
    pub between: Option<[String; 2]>,
}

/// Every reading worth taking in a condition. Empty until chemistry and series count are chosen, and where no working point is.
///
/// Refuses a plan that cannot stand.
pub fn points(plan: &Plan, shown: Shown) -> Result<Vec<Point>, Vec<FieldError>> {
    plan.check()?;
    at_workspace(plan, |workspace| {
        let Some((wired, solved)) = worked(workspace, shown) else { return vec![] };
        let why = (shown.condition == Condition::Charging).then(|| settle::why_no_charge(workspace)).flatten();
        let solved = solved.filter(|_| why.is_none());
        let points = meter_points(&wired);
        let name = |node: usize| points.iter().find(|p| p.node == node).map(|p| p.name.clone());
        let named = |probe: Probe| Point {
            between: name(probe.red).zip(name(probe.black)).map(|(red, black)| [red, black]),
            red: wired.names[probe.red].clone(),
            black: wired.names[probe.black].clone(),
            probe,
        };
        probes::probes(&wired, solved.as_ref()).into_iter().map(named).collect()
    })
}

fn second_in_series(workspace: &Workspace<'_>, shown: Shown) -> Option<bool> {
    let second = workspace.plan.feed.second.as_ref()?;
    Some(shown.in_series.unwrap_or(second.used_in_series == Some(true)))
}

/// The circuit of a plan in a condition at its working point, changed before it finds it: what a fault would make of it. Where no
/// working point is found, as it is before. `None` where there is no circuit.
pub(crate) fn changed(workspace: &Workspace<'_>, shown: Shown, before: impl FnOnce(&mut Wired)) -> Option<Wired> {
    let rest = settle::rest(workspace, shown.held)?;
    let mut wired = wire(workspace, &rest, shown.condition, second_in_series(workspace, shown).unwrap_or(false));
    before(&mut wired);
    // A load that pulls its own volts down stays at its last draw.
    let _ = settle::settle(workspace, &mut wired, shown.condition);
    Some(wired)
}

fn worked(workspace: &Workspace<'_>, shown: Shown) -> Option<(Wired, Option<Solved>)> {
    let rest = settle::rest(workspace, shown.held)?;
    let mut wired = wire(workspace, &rest, shown.condition, second_in_series(workspace, shown).unwrap_or(false));
    let solved = settle::settle(workspace, &mut wired, shown.condition);
    Some((wired, solved))
}

fn drawn(workspace: &Workspace<'_>, shown: Shown) -> Option<Diagram> {
    let (wired, mut solved) = worked(workspace, shown)?;
    let mut not_reckoned = solved.is_none().then_some("No working point: the load pulls its own voltage down.");
    if shown.condition == Condition::Charging
        && let Some(why) = settle::why_no_charge(workspace)
    {
        (solved, not_reckoned) = (None, Some(why));
    }
    let undecided = wired.blocks.iter().filter(|b| b.undecided).map(|b| b.title.to_lowercase()).collect();
    let nodes = nodes(&wired, solved.as_ref());
    Some(Diagram {
        name: workspace.plan.name.clone(),
        says: format!("{} {}", shown.condition.says(), shown.held.says()),
        not_reckoned,
        undecided,
        can_read: !workspace.pack.group_v.is_empty(),
        in_series: second_in_series(workspace, shown),
        drawing: layout::lay(workspace, &wired, &nodes),
        blocks: blocks(&wired, solved.as_ref()),
        probes: probes::probes(&wired, solved.as_ref()),
        points: meter_points(&wired),
        nodes,
    })
}

fn nodes(wired: &Wired, solved: Option<&Solved>) -> Vec<NodeVolts> {
    let minus = wired.taps[0];
    let of = |node: usize| read_v(solved, node, minus);
    let most_v = (0..wired.names.len()).filter_map(of).fold(0.0, f64::max);
    let named = |(node, name): (usize, &String)| NodeVolts {
        name: name.clone(),
        node_v: of(node),
        colour: of(node).filter(|_| most_v > 0.0).map(|v| ramp(v / most_v)),
    };
    wired.names.iter().enumerate().map(named).collect()
}

fn blocks(wired: &Wired, solved: Option<&Solved>) -> Vec<BlockState> {
    let state = |b: &wired::Block| {
        let current_a = b.through.zip(solved).map(|(e, s)| {
            let a = wired.circuit.current_a(e, s);
            // Resistances count from plus to minus; only sources give at their plus.
            if matches!(wired.circuit.elements()[e].2, circuit::Element::Resistance { .. }) { -a } else { a }
        });
        let says = match (b.undecided, b.open) {
            (true, _) => "still to be chosen",
            (_, true) => "open: nothing passes",
            _ => "",
        };
        let title = [b.title, &b.detail].into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(": ");
        BlockState { id: b.id.clone(), title, current_a, says }
    };
    wired.blocks.iter().map(state).collect()
}
