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
            "The diodes let nothing into the cells",
            "An ideal diode before each cell lets current out only: cells that stay in their holders are never charged. Charge them outside, or give each its own charger.",
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
            "The others drive {holder.reversed_a} through it, and nothing says what the fuse of each cell is rated for.",
        ),
        Some(EachCell::Fuse) => (
            Severity::Stop,
            "The others drive {holder.reversed_a} through it: less than twice what the fuse of each cell is rated for, so that it may not open.",
        ),
        Some(EachCell::Nothing) => (
            Severity::Stop,
            "The others drive {holder.reversed_a} through it, until it vents: somebody will put one in the wrong way round. An ideal diode or a fuse for each cell.",
        ),
        None => (
            Severity::Caution,
            "The others drive {holder.reversed_a} through it unless something stands before each cell, and nobody has said what: an ideal diode or a fuse for each.",
        ),
    };
    f.tell(severity, rule::cells::HOLDER_REVERSED, "A cell the wrong way round is shorted by the others", why);
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
            title: "Full cells pour into an empty one",
            why: "Put in beside full ones, an empty cell takes {holder.mixed_a}; it bears {$0}. Put in cells of one charge only, or an ideal diode for each.",
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
        ("the contacts of its holder", holder.contact_a),
        ("what stands before it", holder.each_a.filter(|_| holder.each != Some(EachCell::Nothing))),
    ];
    let least =
        limits.into_iter().filter_map(|(what, limit_a)| Some((what, limit_a?))).min_by(|a, b| a.1.total_cmp(&b.1));
    let Some((what, limit_a)) = least.filter(|(_, limit_a)| above(each_a, *limit_a)) else { return };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::cells::HOLDER_FEW,
            subject: "",
            title: "Too few cells cannot carry the load",
            why: "With {$0} in, each gives {holder.each_a}; {$1} bears {$2}. It must be safe with the fewest: ask for more, or make it refuse to start.",
            words: &[&holder.fewest.to_string(), what, &show(limit_a, Unit::A)],
        },
    );
}
