//! Groups that are not level, and what brings them level.

use crate::assess::figures::balancing::{AT_FULL_V, LEVEL_S, TOP_S};
use crate::assess::figures::charging::ENDS_A;
use crate::assess::figures::protection::BLEED_A;
use crate::assess::finding::Severity;
use crate::assess::findings::Findings;
use crate::assess::rule;
use crate::base::limit::{above, below};

/// How far groups part at the top of the charge before a cause is looked for. Common practice, no source.
const APART_V: f64 = 0.1;
/// Apart by less than this at the top of the charge is excellent. Common practice, no source.
const EXCELLENT_V: f64 = 0.01;

/// Groups apart by more than their readings' errors, and a balancer that takes long over it.
pub fn check(f: &mut Findings<'_, '_>) {
    // A cell that is harmed is not levelled.
    if super::readings::is_damning(f.workspace) {
        return;
    }
    let l = &f.workspace.ledger;
    // No verdict is finer than the meter: the low end counts.
    let surely_v = l.get(AT_FULL_V.id).map(|found| found.ends().0);
    if surely_v.is_some_and(|v| above(v, APART_V)) {
        f.tell(
            Severity::Caution,
            rule::charging::GROUPS_APART,
            "Groups far out of balance",
            "{balance.apart_v} apart at rest is {balance.apart_ah}; at the end of the charge they will be {balance.at_full_v} apart. Balance them once with a hobby charger at the taps. Then look for the cause: a weak cell, a bad joint, an unequal drain.",
        );
    }
    let (Some(level_s), Some(top_s)) = (l.value(&LEVEL_S), l.value(&TOP_S)) else { return };
    let held = l.value(&BLEED_A).zip(l.value(&ENDS_A)).is_some_and(|(bleed_a, ends_a)| !below(bleed_a, ends_a));
    // A hobby charger levels over the taps, whatever the bleeders do.
    let hobby = f.workspace.charges().is_some_and(|c| c.balance_a.is_some());
    if surely_v.is_some_and(|v| above(v, EXCELLENT_V)) && above(level_s, top_s) && !held && !hobby {
        f.tell(
            Severity::Caution,
            rule::charging::BALANCING_LONG,
            "Balancing takes longer than the charge",
            "{balance.apart_ah} at {board.bleed_a} takes {balance.level_s}; the charge stays at constant voltage for {balance.top_s}, and its last current is above the bleed current. Leave it on under watch with the supply limited to the bleed current, or balance the groups once by hand.",
        );
    }
}
