//! Cells that their user puts in and takes out: what each has to carry when there are few, and what one of them does to the others.

use super::cells::PACK_OHM;
use super::figures;
use super::load::CONTINUOUS_A;
use super::voltage::{CELL_CUTOFF_V, CELL_FULL_V};
use crate::assess::ledger::{constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::cells::{CONTACTS_OHM, SideBySide};

figures! {
    EACH_OHM = "holder.each_ohm", "Resistance of one cell and its holder", Ohm, "resistance of a cell + contacts, 0.1 Ω where nothing is measured", CircuitLaw;
    EACH_A = "holder.each_a", "Current per cell with the fewest cells", A, "continuous current / fewest cells", CircuitLaw;
    REVERSED_A = "holder.reversed_a", "Current through a reversed cell", A, "2 × full voltage / (one + one / others)", CircuitLaw;
    MIXED_A = "holder.mixed_a", "Current into an empty cell beside full ones", A, "(full − empty voltage) / (one + one / others)", CircuitLaw;
}

/// Enters the figures of holders, where there are some.
pub fn enter(workspace: &mut Workspace<'_>) {
    let Some(holder) = &workspace.plan.feed.holder else { return };
    let Some((series, parallel)) = workspace.counts() else { return };
    let l = &mut workspace.ledger;
    if let Some(continuous_a) = l.value(&CONTINUOUS_A) {
        let fewest = from_plan("/feed/holder/fewest", "Fewest cells", f64::from(holder.fewest), Unit::Count);
        l.put(&EACH_A, continuous_a / f64::from(holder.fewest), vec![fig(&CONTINUOUS_A), fewest]);
    }
    let Some(cells_ohm) = l.value(&PACK_OHM) else { return };
    let contacts = match holder.contact_ohm {
        Some(ohm) => from_plan("/feed/holder/contact_ohm", "Both contacts of a holder", ohm, Unit::Ohm),
        None => constant("Both contacts, usual", CONTACTS_OHM, Unit::Ohm, Source::CommonPractice),
    };
    let each_ohm = cells_ohm * parallel / series + holder.contact_ohm.unwrap_or(CONTACTS_OHM);
    l.put(&EACH_OHM, each_ohm, vec![fig(&PACK_OHM), contacts]);
    let (Some(full_v), Some(empty_v)) = (l.value(&CELL_FULL_V), l.value(&CELL_CUTOFF_V)) else { return };
    let beside = SideBySide { full_v, empty_v, each_ohm, count: parallel as u32 };
    let count = || from_plan("/packs/0/parallel", "Cells side by side", parallel, Unit::Count);
    if let (Some(reversed_a), Some(mixed_a)) = (beside.reversed_a(), beside.mixed_a()) {
        l.put(&REVERSED_A, reversed_a, vec![fig(&CELL_FULL_V), fig(&EACH_OHM), count()]);
        l.put(&MIXED_A, mixed_a, vec![fig(&CELL_FULL_V), fig(&CELL_CUTOFF_V), fig(&EACH_OHM), count()]);
    }
}
