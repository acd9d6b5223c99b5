//! The chosen cells, group by group: the weakest group, the spread, and what flows when groups are first joined.

use super::figures;
use crate::assess::ledger::{Input, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::physics::grouping::{Equalising, GENTLE_C, JoiningCell, join};
use crate::plan::CellGroup;

figures! {
    WEAKEST_AH = "groups.weakest_ah", "Capacity of the weakest group, as tested", Ah, "smallest sum of the capacities in a group", Arithmetic;
    STRONGEST_AH = "groups.strongest_ah", "Capacity of the strongest group, as tested", Ah, "largest sum of the capacities in a group", Arithmetic;
    SPREAD = "groups.spread_share", "Spread of capacity between groups", Share, "(largest − smallest group) / mean of the two", Arithmetic;
    APART_V = "groups.apart_v", "Voltage difference in a group before it is joined", V, "highest − minimum voltage at rest", Arithmetic;
    JOIN_A = "groups.join_a", "Current when a group is first joined", A,
        "(voltage at rest − common voltage) / resistance of the cell; common voltage = Σ(V/R) / Σ(1/R)", CircuitLaw;
    JOIN_LIMIT_A = "groups.join_limit_a", "Charge current a cell is rated for when joined", A, "highest charge current, or 0.5 C where none is stated", CommonPractice;
}

/// Whether the chosen cells are as many as the counts say.
pub fn counts_agree(workspace: &Workspace<'_>) -> bool {
    let pack = workspace.pack;
    pack.series == Some(pack.groups.len() as u32)
        && pack.groups.iter().all(|g| pack.parallel == Some(g.cells.len() as u32))
}

/// Sum of the measured capacities; `None` where one was not measured.
fn tested_ah(group: &CellGroup) -> Option<f64> {
    group.cells.iter().map(|c| c.capacity_ah).sum()
}

/// Enters the figures of the chosen cells, if there are any and they fit the counts.
pub fn enter(workspace: &mut Workspace<'_>) {
    let groups = &workspace.pack.groups;
    if groups.is_empty() || !counts_agree(workspace) {
        return;
    }
    let sums: Option<Vec<f64>> = groups.iter().map(tested_ah).collect();
    if let Some(sums) = sums.filter(|s| s.iter().all(|ah| *ah > 0.0)) {
        let by = |a: &(usize, f64), b: &(usize, f64)| a.1.total_cmp(&b.1);
        let all = || sums.iter().copied().enumerate();
        if let (Some((low, low_ah)), Some((high, high_ah))) = (all().min_by(by), all().max_by(by)) {
            for (def, g, ah) in [(&WEAKEST_AH, low, low_ah), (&STRONGEST_AH, high, high_ah)] {
                let pointer = || format!("/packs/0/groups/{g}");
                let number = from_plan(pointer(), "Number of the group", g as f64 + 1.0, Unit::Count);
                workspace.ledger.put(
                    def,
                    ah,
                    vec![number, from_plan(pointer(), "Capacity of its cells, together", ah, Unit::Ah)],
                );
            }
            let spread = (high_ah - low_ah) / f64::midpoint(high_ah, low_ah);
            workspace.ledger.put(&SPREAD, spread, vec![fig(&STRONGEST_AH), fig(&WEAKEST_AH)]);
        }
    }
    joining(workspace);
}

/// The group whose cells part most in voltage, and what joining does there.
fn joining(workspace: &mut Workspace<'_>) {
    let (Some(chemistry), Some(cell)) = (workspace.pack.chemistry, workspace.cell()) else { return };
    let joined = |group: &CellGroup| -> Option<Equalising> {
        let cells: Option<Vec<JoiningCell>> = group
            .cells
            .iter()
            .map(|c| {
                let ah = c.capacity_ah.filter(|ah| *ah > 0.0).unwrap_or(cell.rated_ah);
                Some(JoiningCell {
                    label: c.label.clone(),
                    rested_v: c.rested_v?,
                    resistance_ohm: c.resistance_ohm.unwrap_or(chemistry.facts().typical_ohm_ah / ah),
                    charge_a: cell.charge_a.unwrap_or(GENTLE_C * ah),
                })
            })
            .collect();
        join(&cells?, chemistry)
    };
    let found = workspace.pack.groups.iter().enumerate().filter_map(|(g, group)| Some((g, joined(group)?)));
    let Some((g, worst)) = found.max_by(|a, b| a.1.largest_a.total_cmp(&b.1.largest_a)) else { return };
    let group =
        |label: &'static str, value, unit| -> Input { from_plan(format!("/packs/0/groups/{g}"), label, value, unit) };
    let l = &mut workspace.ledger;
    l.put(&APART_V, worst.apart_v, vec![group("Group that parts most", g as f64 + 1.0, Unit::Count)]);
    l.put(&JOIN_A, worst.largest_a, vec![fig(&APART_V), group("Common voltage", worst.common_v, Unit::V)]);
    let limit_a = cell.charge_a.unwrap_or(GENTLE_C * cell.rated_ah);
    let stated = match cell.charge_a {
        Some(a) => from_plan("/packs/0/cell/part/charge_a", "Highest charge current of a cell", a, Unit::A),
        None => from_plan("/packs/0/cell/part/rated_ah", "Capacity of a cell", cell.rated_ah, Unit::Ah),
    };
    l.put(&JOIN_LIMIT_A, limit_a, vec![stated]);
}
