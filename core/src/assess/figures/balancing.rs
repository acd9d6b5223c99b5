//! How far the groups are apart, by their voltage at rest, and what the board's bleeders make of it.

use super::cells::PACK_AH;
use super::charging::{CC_S, PER_CELL_V, TIME_S};
use super::figures;
use super::protection::{BLEED_A, TRICKLE_A};
use super::voltage::CELL_FULL_V;
use crate::assess::ledger::{Input, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::physics::balancing::{self, LevelWay, Leveller, Spread, Task};

figures! {
    APART_V = "balance.apart_v", "Fullest against emptiest group at rest", V, "highest − lowest voltage read", Arithmetic;
    APART_AH = "balance.apart_ah", "The same in charge", Ah, "(SOC of the fullest − SOC of the emptiest, on the OCV curve) × capacity; band: error of the readings", CircuitLaw;
    AT_FULL_V = "balance.at_full_v", "Imbalance at the end of the charge", V, "full voltage − OCV of a group that is that much emptier", CircuitLaw;
    TOP_S = "balance.top_s", "Time at constant voltage, in which the balancer works", S, "charge time − time at constant current", Arithmetic;
    LEVEL_S = "balance.level_s", "Time until balanced", S, "charge difference / bleed current", CircuitLaw;
    CHARGES = "balance.charges", "Charges until balanced", Count, "charge difference / (bleed current × time at constant voltage), rounded up", CircuitLaw;
    HEAT_W = "balance.heat_w", "Heat of one bypass resistor", W, "bleed current × full voltage of a cell", CircuitLaw;
}

/// Enters how far the groups are apart.
pub fn enter(workspace: &mut Workspace<'_>) {
    let Some((spread, task)) = weighed(workspace) else { return };
    let read = &workspace.pack.group_v;
    let inputs = || -> Vec<Input> {
        let at = |i: usize| format!("/packs/0/group_v/{i}/value");
        read.iter().enumerate().map(|(i, r)| from_plan(at(i), "Voltage of a group", r.value, Unit::V)).collect()
    };
    let l = &mut workspace.ledger;
    l.put(&APART_V, spread.apart_v, inputs());
    let mut charge = inputs();
    charge.push(fig(&PACK_AH));
    l.put(&APART_AH, spread.apart_ah, charge).band(spread.apart_low_ah, spread.apart_high_ah);
    if let (Some(chemistry), Some(ah)) = (workspace.pack.chemistry, l.value(&PACK_AH)) {
        let curve = chemistry::curve(chemistry);
        let at_full_v = |apart_ah: f64| balancing::apart_at_full_v(curve, apart_ah, ah, task.full_v);
        l.put(&AT_FULL_V, at_full_v(spread.apart_ah), vec![fig(&APART_AH), fig(&CELL_FULL_V)])
            .band(at_full_v(spread.apart_low_ah), at_full_v(spread.apart_high_ah));
    }
    if task.top_s > 0.0 {
        l.put(&TOP_S, task.top_s, vec![fig(&super::charging::TIME_S), fig(&CC_S)]);
    }
    if let Some(way) = bleeders(&task).filter(|w| w.bleed_a > 0.0) {
        l.put(&HEAT_W, way.heat_each_w, vec![fig(&BLEED_A), fig(&CELL_FULL_V)]);
        if let Some(level_s) = way.level_s {
            l.put(&LEVEL_S, level_s, vec![fig(&APART_AH), fig(&BLEED_A)]);
        }
        if let Some(charges) = way.charges {
            l.put(&CHARGES, f64::from(charges), vec![fig(&APART_AH), fig(&BLEED_A), fig(&TOP_S)]);
        }
    }
}

fn bleeders(task: &Task) -> Option<LevelWay> {
    balancing::ways(task).into_iter().find(|w| w.school == Leveller::Bleeders)
}

/// The groups as read, and what the schools are weighed on; none until every group is read and its capacity is known.
pub fn weighed(workspace: &Workspace<'_>) -> Option<(Spread, Task)> {
    let l = &workspace.ledger;
    let read = &workspace.pack.group_v;
    if workspace.pack.series.is_none_or(|s| s as usize != read.len()) {
        return None;
    }
    let curve = chemistry::curve(workspace.pack.chemistry?);
    let spread = balancing::spread(curve, read, l.value(&PACK_AH)?)?;
    let full_v = l.value(&CELL_FULL_V)?;
    let task = Task {
        apart_ah: spread.apart_ah,
        above: spread.groups.iter().filter(|g| g.above_ah > 0.0).count(),
        full_v: l.value(&PER_CELL_V).map_or(full_v, |v| v.min(full_v)),
        bleed_a: l.value(&BLEED_A),
        top_s: l.value(&TIME_S).zip(l.value(&CC_S)).map_or(0.0, |(all, cc)| all - cc),
        hobby_a: workspace.charges().and_then(|c| c.balance_a),
        trickle_a: l.value(&TRICKLE_A),
    };
    Some((spread, task))
}
