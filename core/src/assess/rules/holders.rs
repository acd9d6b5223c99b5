//! Cells that their user puts in: reversed, empty among full ones, too few of them.

use crate::assess::figures::holders::{EACH_A, MIXED_A, REVERSED_A};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::physics::cells::counted_a;
use crate::plan::{CellHolder, EachCell};

/// A fuse opens within seconds at so many times its rating. Common practice, no source.
const OPENS_AT: f64 = 2.0;
/// What a cell takes in where nothing is stated, in C. Common practice, no source.
const GENTLE_C: f64 = 0.5;

pub fn check(f: &mut Findings<'_, '_>) {
    let Some(holder) = &f.workspace.plan.feed.holder else { return };
    reversed(f, holder);
    mixed(f, holder);
    few(f, holder);
    if holder.each == Some(EachCell::IdealDiode) && holder.charged_in_place == Some(true) {
        f.tell(
            Severity::Caution,
            rule::cells::HOLDER_NOT_CHARGED,
            "Diodes block charging in the holders",
            "An ideal diode per cell passes discharge current only, so cells in their holders are not charged. Charge them outside, or give each its own charger.",
        );
    }
}

fn reversed(f: &mut Findings<'_, '_>, holder: &CellHolder) {
    let Some(reversed_a) = f.workspace.ledger.value(&REVERSED_A) else { return };
    let opens = |each_a: f64| !below(reversed_a, OPENS_AT * each_a);
    let (severity, why) = match holder.each {
        Some(EachCell::IdealDiode) => return,
        Some(EachCell::Fuse) if holder.each_a.is_some_and(opens) => return,
        Some(EachCell::Fuse) if holder.each_a.is_none() => (
            Severity::Caution,
            "The other cells push {holder.reversed_a} through it, and the rating of the fuse per cell is not known.",
        ),
        Some(EachCell::Fuse) => (
            Severity::Stop,
            "The other cells push {holder.reversed_a} through it, less than twice the rating of the fuse per cell: the fuse may not blow.",
        ),
        Some(EachCell::Nothing) => (
            Severity::Stop,
            "The other cells push {holder.reversed_a} through it until it vents. Add an ideal diode or a fuse per cell.",
        ),
        None => (
            Severity::Caution,
            "The other cells push {holder.reversed_a} through it unless each has an ideal diode or a fuse, and the plan does not say which.",
        ),
    };
    f.tell(severity, rule::cells::HOLDER_REVERSED, "Reversed cell is shorted by the others", why);
}

/// Only a diode keeps a full cell from an empty one; a fuse lets through what it is rated for.
fn mixed(f: &mut Findings<'_, '_>, holder: &CellHolder) {
    let workspace = f.workspace;
    let Some((mixed_a, cell)) = workspace.ledger.value(&MIXED_A).zip(workspace.cell()) else { return };
    let takes_a = cell.charge_a.unwrap_or(GENTLE_C * cell.rated_ah);
    let opens = holder.each == Some(EachCell::Fuse) && holder.each_a.is_some_and(|a| !below(mixed_a, OPENS_AT * a));
    if holder.each == Some(EachCell::IdealDiode) || opens || !above(mixed_a, takes_a) {
        return;
    }
    f.add(
        Severity::Caution,
        Says {
            rule: rule::cells::HOLDER_MIXED,
            subject: "",
            title: "Empty cell charged too fast by full ones",
            why: "Beside full cells an empty one is charged with {holder.mixed_a}; it is rated for {$0}. Use cells with the same charge only, or add an ideal diode per cell.",
            words: &[&show(takes_a, Unit::A)],
        },
    );
}

/// The fewest cells carry all of the load: each by its rating, its contacts and its fuse.
fn few(f: &mut Findings<'_, '_>, holder: &CellHolder) {
    let workspace = f.workspace;
    let Some((each_a, cell)) = workspace.ledger.value(&EACH_A).zip(workspace.cell()) else { return };
    let limits = [
        ("the cell", counted_a(cell)),
        ("the holder contact", holder.contact_a),
        ("its fuse or diode", holder.each_a.filter(|_| holder.each != Some(EachCell::Nothing))),
    ];
    let least =
        limits.into_iter().filter_map(|(what, limit_a)| Some((what, limit_a?))).min_by(|a, b| a.1.total_cmp(&b.1));
    let Some((what, limit_a)) = least.filter(|(_, limit_a)| above(each_a, *limit_a)) else { return };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::cells::HOLDER_FEW,
            subject: "",
            title: "Too few cells for the load",
            why: "With {$0} fitted, the load takes {holder.each_a} per cell; {$1} is limited to {$2}. Require more cells, or use stronger ones.",
            words: &[&holder.fewest.to_string(), what, &show(limit_a, Unit::A)],
        },
    );
}
