//! What the groups hold, and the working point of everything whose draw follows its voltage: device, converter, change-over, charger.

use super::circuit::{Element, Solved};
use super::wired::{Block, JOINT_OHM, NOTHING, OFF_OHM, Piece, Poles, Rest, Wired};
use super::{Condition, Held};
use crate::assess::Workspace;
use crate::assess::figures::brick::STRIPS_OHM;
use crate::assess::figures::cells::PACK_OHM;
use crate::assess::figures::charging::CHARGER_A;
use crate::assess::figures::converter::EFFICIENCY;
use crate::assess::figures::feed::CHANGE_LOSS_V;
use crate::assess::figures::voltage::{CELL_CUTOFF_V, CELL_FULL_V, FEED_V};
use crate::base::chemistry;
use crate::physics::charging::TYPICAL_EFFICIENCY as CHARGER_EFFICIENCY;
use crate::physics::device;
use crate::plan::{Converter, Draw, HostCircuit, NodeKind, Topology};

/// Below this share of its voltage a device is dead, and draws what its resistance lets through.
const DEAD_SHARE: f64 = 0.2;
/// A converter of which no lowest input is stated works above this.
const WAKES_V: f64 = 0.5;
/// Rounds until the voltage stands still, and how still that is.
const ROUNDS: usize = 300;
const STILL_V: f64 = 1e-9;
/// Less current than this does not open a diode.
const HARDLY_A: f64 = 1e-3;

/// What the groups are at rest. `None` until chemistry and series count are chosen.
pub fn rest(workspace: &Workspace<'_>, held: Held) -> Option<Rest> {
    let series = workspace.pack.series?;
    let l = &workspace.ledger;
    let curve = chemistry::curve(workspace.pack.chemistry?);
    let cell_v = match held {
        Held::Full | Held::Read => l.value(&CELL_FULL_V)?,
        Held::Half => curve.ocv_v(0.5),
        Held::Empty => l.value(&CELL_CUTOFF_V)?,
    };
    let read = &workspace.pack.group_v;
    let group_v = match held {
        Held::Read if read.len() == series as usize => read.iter().map(|g| g.value).collect(),
        // Those not read yet stand with the others, not full.
        Held::Read if !read.is_empty() => {
            let mean_v = read.iter().map(|g| g.value).sum::<f64>() / read.len() as f64;
            (0..series as usize).map(|i| read.get(i).map_or(mean_v, |g| g.value)).collect()
        }
        _ => vec![cell_v; series as usize],
    };
    let pack_ohm = l.value(&PACK_OHM).unwrap_or(0.0) + l.value(&STRIPS_OHM).unwrap_or(0.0);
    let second = workspace.plan.feed.second.as_ref().map(|s| {
        let count = f64::from(s.series.unwrap_or(series));
        let rest_v = s.rest_v.as_ref().filter(|_| held == Held::Read).map(|k| k.value);
        (rest_v.unwrap_or(count * cell_v), s.pack_ohm.unwrap_or(pack_ohm * count / f64::from(series)))
    });
    Some(Rest { group_v, group_ohm: pack_ohm / f64::from(series), second })
}

/// Solves a circuit until everything draws what it draws at the voltage it then has. `None` where no such point is found:
/// the load pulls its own voltage down.
pub fn settle(workspace: &Workspace<'_>, wired: &mut Wired, condition: Condition) -> Option<Solved> {
    let mut solved = wired.circuit.solve()?;
    let mut before: Option<Vec<f64>> = None;
    let pieces: Vec<Block> = wired.blocks.clone();
    let find = |piece: Piece| pieces.iter().find(|b| b.piece == piece);
    for _ in 0..ROUNDS {
        device_draws(workspace, wired, find(Piece::Device), condition, &solved);
        converter_works(workspace, wired, find(Piece::Converter), condition, &solved);
        change_over_loses(workspace, wired, &solved);
        charger_gives(workspace, wired, find(Piece::Charger), condition, &solved);
        solved = wired.circuit.solve()?;
        if before.as_ref().is_some_and(|b| b.iter().zip(&solved.node_v).all(|(a, b)| (a - b).abs() < STILL_V)) {
            return Some(solved);
        }
        before = Some(solved.node_v.clone());
    }
    None
}

fn over_v(solved: &Solved, at: Poles) -> f64 {
    solved.between_v(at.plus, at.minus).unwrap_or(0.0)
}

/// The level that the device runs at.
fn draw<'b>(workspace: &Workspace<'b>, condition: Condition, nominal_v: f64) -> Option<&'b Draw> {
    let loads = &workspace.plan.device.loads;
    match condition {
        Condition::Running | Condition::Tripped => device::usual(loads).or(loads.first()).map(|l| &l.draw),
        Condition::Hardest => {
            let of = |draw: &Draw| device::draw_a(draw, nominal_v);
            loads.iter().map(|l| &l.draw).max_by(|a, b| of(a).total_cmp(&of(b)))
        }
        Condition::Rest | Condition::Off | Condition::Charging => None,
    }
}

fn device_draws(
    workspace: &Workspace<'_>,
    wired: &mut Wired,
    block: Option<&Block>,
    condition: Condition,
    solved: &Solved,
) {
    let (Some(element), Some(block)) = (wired.live.device, block) else { return };
    let nominal_v = workspace.ledger.value(&FEED_V).unwrap_or_else(|| over_v(solved, wired.pack()));
    // What is connected beside the device, as far as it hangs on the same two wires.
    let (at_battery, at_output) = workspace.beside();
    let beside = if workspace.converter().is_some() { at_output } else { at_battery };
    let ohm = draw(workspace, condition, nominal_v).map_or(OFF_OHM, |draw| {
        let v = over_v(solved, block.from);
        let v = if v > DEAD_SHARE * nominal_v { v } else { nominal_v };
        v / (device::draw_a(draw, v) + beside.at_a(v))
    });
    let ohm = if ohm.is_finite() { ohm.clamp(JOINT_OHM, OFF_OHM) } else { OFF_OHM };
    wired.circuit.set(element, Element::Resistance { ohm });
}

/// What the converter takes, and what else is connected before it while the device runs.
fn converter_works(
    workspace: &Workspace<'_>,
    wired: &mut Wired,
    block: Option<&Block>,
    condition: Condition,
    solved: &Solved,
) {
    let (Some((input, output)), Some(block)) = (wired.live.converter, block) else { return };
    let Some((module, c)) = workspace.converter() else {
        // Still to be chosen: nothing is known of its output.
        return;
    };
    let input_v = over_v(solved, block.from);
    let emf_v = output_v(c, input_v);
    let out_a = wired.circuit.current_a(output, solved).max(0.0);
    let share = workspace.ledger.value(&EFFICIENCY).unwrap_or(1.0);
    let takes_a =
        if emf_v > 0.0 { (emf_v * out_a / (share * input_v)).max(module.standby_a.unwrap_or(0.0)) } else { 0.0 };
    let runs = matches!(condition, Condition::Running | Condition::Hardest | Condition::Tripped);
    let takes_a = takes_a + if runs && input_v > WAKES_V { workspace.beside().0.at_a(input_v) } else { 0.0 };
    let ohm = if takes_a > 0.0 { (input_v / takes_a).clamp(JOINT_OHM, OFF_OHM) } else { OFF_OHM };
    wired.circuit.set(input, Element::Resistance { ohm });
    wired.circuit.set(output, Element::Source { emf_v, ohm: JOINT_OHM });
}

/// Voltage that a converter gives at an input: its set-point, as read where it was read; a buck stays its drop-out below
/// its input, a boost passes on what is above its set-point.
fn output_v(c: &Converter, input_v: f64) -> f64 {
    let set_v = c.set_point_v.as_ref().map_or(c.output_v, |k| k.value);
    if input_v < c.input_min_v.unwrap_or(WAKES_V) {
        return 0.0;
    }
    match c.topology {
        Topology::Buck => set_v.min(input_v - c.dropout_v.unwrap_or(0.0)).max(0.0),
        Topology::Boost => set_v.max(input_v - c.diode_v.unwrap_or(0.0)),
        Topology::BuckBoost => set_v,
    }
}

fn change_over_loses(workspace: &Workspace<'_>, wired: &mut Wired, solved: &Solved) {
    let Some(element) = wired.live.change else { return };
    let a = -wired.circuit.current_a(element, solved);
    let loss_v = workspace.ledger.value(&CHANGE_LOSS_V).unwrap_or(0.0);
    let ohm = if a > HARDLY_A { (loss_v / a).max(JOINT_OHM) } else { JOINT_OHM };
    wired.circuit.set(element, Element::Resistance { ohm });
}

/// Constant current until its end voltage is there, then those.
fn charger_gives(
    workspace: &Workspace<'_>,
    wired: &mut Wired,
    block: Option<&Block>,
    condition: Condition,
    solved: &Solved,
) {
    let (Some((output, input)), Some(block)) = (wired.live.charger, block) else { return };
    let (Some(charges), Some(most_a)) = (workspace.charges(), workspace.ledger.value(&CHARGER_A)) else { return };
    if condition != Condition::Charging || block.open {
        return;
    }
    let end_v = charges.output_v.value;
    let held = Element::Source { emf_v: end_v, ohm: JOINT_OHM };
    let most = Element::Current { current_a: most_a };
    let element = match wired.circuit.elements()[output].2 {
        Element::Current { current_a } if current_a > 0.0 && over_v(solved, block.from) <= end_v => most,
        Element::Source { .. } if wired.circuit.current_a(output, solved) > most_a => most,
        _ => held,
    };
    wired.circuit.set(output, element);
    let given_w = over_v(solved, block.from) * wired.circuit.current_a(output, solved).max(0.0);
    let share = charges.efficiency.unwrap_or(CHARGER_EFFICIENCY);
    let supply_v = over_v(solved, block.to);
    let takes = Element::Resistance { ohm: (supply_v * supply_v * share / given_w).max(JOINT_OHM) };
    wired.circuit.set(input, if given_w > 0.0 && supply_v > 0.0 { takes } else { NOTHING });
}

/// What a charging condition cannot be calculated for.
pub fn why_no_charge(workspace: &Workspace<'_>) -> Option<&'static str> {
    if workspace.plan.charging.host == Some(HostCircuit::ChargesPack) {
        return Some("The device’s own circuit charges the pack; its output is not known here. Read it at its leads.");
    }
    if workspace.charges().is_none() {
        return Some(if workspace.is_open(NodeKind::Charger) {
            "The charger is not chosen yet: its output is not known."
        } else {
            "No charger is drawn: something else charges the pack, and its output is not known here."
        });
    }
    workspace.ledger.value(&CHARGER_A).is_none().then_some("The charger’s current is not known.")
}
