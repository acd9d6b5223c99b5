//! Which changes are worth trying for which rule, the smallest first: one file a stage.

mod brick;
mod cells;
mod charging;
mod device;
mod protection;
mod run;
mod voltage;
mod wiring;

use serde_json::{Value, json};

use crate::advise::suggest::{SECOND_GUARD, SECOND_PACK, SELECTOR};
use crate::assess::{Assessment, Finding, Stage};
use crate::plan::{Change, NodeKind, Plan, ReadyKind, StateName};

/// A kind of change; `tries` makes it concrete.
#[derive(Debug, Clone, PartialEq)]
pub enum Move {
    /// One place of the document takes another value.
    Put { at: String, value: Value, label: String },
    /// Another part of the catalogue at a place.
    Part { place: String },
    /// The part of the catalogue nearest in size to the one that is there: fuses and wires.
    Nearest { place: String },
    /// More cells in parallel.
    MoreParallel,
    /// A higher threshold of the cut-off board: the run ends earlier, and cooler.
    HigherCutOff,
    /// More layers of the same strip.
    MoreLayers,
    /// More of the same strip side by side.
    MoreStrips,
    /// The current taken off elsewhere.
    TakeOff,
    /// Another layout of the cells.
    Layout,
    /// What would make the brick smaller: less foam, a smaller cell, fewer of them.
    SmallerBrick,
    /// Another way to match the voltage, direct or through a converter, with the parts that suit it.
    Voltage { regulated: bool },
}

fn put(at: impl Into<String>, value: impl Into<Value>, label: impl Into<String>) -> Move {
    Move::Put { at: at.into(), value: value.into(), label: label.into() }
}

/// Where a finding was found.
#[derive(Clone, Copy)]
pub struct At<'a> {
    plan: &'a Plan,
    assessment: &'a Assessment,
    finding: &'a Finding,
}

impl At<'_> {
    /// Another part for the first node of a kind.
    fn part(&self, kind: NodeKind) -> Option<Move> {
        node_of(self.plan, kind).map(|place| Move::Part { place })
    }

    /// The part nearest in size for the first node of a kind.
    fn nearest(&self, kind: NodeKind) -> Option<Move> {
        node_of(self.plan, kind).map(|place| Move::Nearest { place })
    }

    /// Another part where the finding is.
    fn subject_part(&self) -> Option<Move> {
        Some(Move::Part { place: self.finding.subject().to_owned() })
    }
}

/// The moves for a finding. A rule without an entry has no fix but the maker's own work.
pub fn moves_for(plan: &Plan, assessment: &Assessment, finding: &Finding) -> Vec<Move> {
    let at = At { plan, assessment, finding };
    if finding.is_of_second_alone() {
        return second_alone();
    }
    match finding.stage {
        Stage::Brick => brick::moves_for(&at),
        Stage::Cells => cells::moves_for(&at),
        Stage::Charging => charging::moves_for(&at),
        Stage::Device => device::moves_for(&at),
        Stage::Protection => protection::moves_for(&at),
        Stage::Run => run::moves_for(&at),
        Stage::Voltage => voltage::moves_for(&at),
        Stage::Wiring => wiring::moves_for(&at),
    }
}

/// What is wrong with the second pack by itself: a guard of its own, another pack, or none but the first.
fn second_alone() -> Vec<Move> {
    let part = |place: &str| Move::Part { place: place.to_owned() };
    let leave_out = put("/feed/second/used_alone", false, "Leave out the second pack alone");
    vec![part(SECOND_GUARD), part(SECOND_PACK), leave_out]
}

/// Those that there are.
fn these(moves: &[Option<Move>]) -> Vec<Move> {
    moves.iter().flatten().cloned().collect()
}

/// Another cell, or another pack where that comes as a whole. What stays in the device is not exchanged.
fn cell(plan: &Plan) -> Option<Move> {
    let ready = plan.main_pack().and_then(|pack| pack.ready.part());
    let place = if ready.is_some() { "ready" } else { "cell" };
    ready.is_none_or(|ready| ready.kind != ReadyKind::Kept).then(|| Move::Part { place: place.to_owned() })
}

fn strip() -> Option<Move> {
    Some(Move::Part { place: "strip".to_owned() })
}

fn thicker(run: &str) -> Option<Move> {
    Some(Move::Nearest { place: run.to_owned() })
}

fn other_voltage() -> [Move; 2] {
    [Move::Voltage { regulated: false }, Move::Voltage { regulated: true }]
}

/// The runs that lead past a node taken out.
fn without_jumper(plan: &Plan, id: &str) -> Option<Move> {
    let line = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let past = plan.avoiding(NodeKind::Pack, NodeKind::Device, StateName::Running, |n| n.id == id)?;
    let jumpers: Vec<&str> = past
        .connections
        .iter()
        .map(|r| r.id.as_str())
        .filter(|id| line.connections.iter().all(|r| r.id != *id))
        .collect();
    let kept: Vec<_> = plan.connections.iter().filter(|r| !jumpers.contains(&r.id.as_str())).collect();
    (!jumpers.is_empty()).then(|| put("/runs", json!(kept), "Remove the wire that leads past it"))
}

fn wired(change: Option<Change>, label: &str) -> Option<Move> {
    change.map(|change| put(change.at, change.value, label))
}

/// The place whose part a stop is about, for exchanging it along with a changed voltage.
pub fn place_of(plan: &Plan, assessment: &Assessment, stop: &Finding) -> Option<String> {
    moves_for(plan, assessment, stop).into_iter().find_map(|m| match m {
        Move::Part { place } | Move::Nearest { place } => Some(place),
        _ => None,
    })
}

/// A place in a word: "board", "charger", "wire".
pub fn place_word(plan: &Plan, place: &str) -> String {
    match plan.node(place).map(|n| n.kind) {
        None if place == SECOND_GUARD => "protection of the second pack",
        None if place == SELECTOR => "switch of the two packs",
        Some(NodeKind::Pack | NodeKind::Device) => place,
        Some(kind) => kind.word(),
        None if plan.connections.iter().any(|r| r.id == place) => "wire",
        None => place,
    }
    .to_owned()
}

fn node_of(plan: &Plan, kind: NodeKind) -> Option<String> {
    plan.nodes.iter().find(|n| n.kind == kind).map(|n| n.id.clone())
}
