//! The cells: claims, ratings, origin.

use crate::assess::figures::cells::{CELL_DENSITY, LIMIT_A, PEAK_LIMIT_A};
use crate::assess::figures::groups::{APART_V, JOIN_A, JOIN_LIMIT_A, SPREAD, counts_agree};
use crate::assess::figures::load::{CONTINUOUS_A, PEAK_A};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::physics::cells::{Claim, DENSEST_WH_PER_L, judge_claim};
use crate::physics::grouping::JOIN_WITHIN_V;
use crate::plan::{Cell, CellOrigin};

pub fn check(f: &mut Findings<'_, '_>) {
    let Some(cell) = f.workspace.cell() else { return };
    let words: &[&str] = &[&cell.offer.name];
    if f.workspace.pack.chemistry.is_some_and(|c| c != cell.chemistry) {
        f.add(Severity::Stop, Says {
            rule: rule::cells::OTHER_CHEMISTRY,
            subject: "",
            title: "Cell chemistry differs from the pack",
            why: "The voltage was chosen for another chemistry than that of “{$0}”: charger, board and cut-off would all be wrong.",
            words,
        });
    }
    groups(f);
    claim(f, cell);
    currents(f);
    if cell.origin == CellOrigin::Hobby && cell.discharge_a.is_some() {
        f.tell(
            Severity::Note,
            rule::cells::HOBBY_LABEL,
            "Hobby C rating is optimistic",
            "For continuous use half of the C rating on the label counts here: the cells are limited to {cells.limit_a}.",
        );
    }
    if cell.origin == CellOrigin::Salvaged && !cell.tested {
        f.tell(
            Severity::Caution,
            rule::cells::SALVAGED_UNTESTED,
            "Salvaged cells not tested",
            "Measure the capacity, resistance and self-discharge of every cell. They decide which cells belong together and which are scrap.",
        );
    }
}

fn claim(f: &mut Findings<'_, '_>, cell: &Cell) {
    let (severity, rule, title) = match judge_claim(cell) {
        Claim::Impossible { .. } => {
            (Severity::Stop, rule::cells::IMPOSSIBLE_CLAIM, "Capacity impossible for a cell this size")
        }
        Claim::Doubtful { .. } => (Severity::Caution, rule::cells::DOUBTFUL_CLAIM, "Claimed capacity doubtful"),
        Claim::Plausible => {
            if f.workspace.ledger.value(&CELL_DENSITY).is_some_and(|d| above(d, DENSEST_WH_PER_L)) {
                f.tell(
                    Severity::Stop,
                    rule::cells::IMPOSSIBLE_DENSITY,
                    "Capacity impossible for this volume",
                    "The claimed capacity makes {cell.wh_per_l}; the densest cells on sale reach about 900. The capacity or the size is wrong.",
                );
            }
            return;
        }
    };
    f.tell(
        severity,
        rule,
        title,
        "{cell.rated_ah} is claimed; at this size no more than {cell.believed_ah} is credible. Test the capacity of one cell before you use the lot.",
    );
}

/// Share by which groups may differ before it is worth dealing again. Assumed: what a tester cannot tell apart.
const SPREAD_MAX: f64 = 0.05;

/// The chosen cells: as many as there should be, groups alike, equal voltage before they are joined.
fn groups(f: &mut Findings<'_, '_>) {
    if f.workspace.pack.groups.is_empty() {
        return;
    }
    if !counts_agree(f.workspace) {
        f.tell(
            Severity::Caution,
            rule::cells::GROUPS_FOR_OTHER_COUNTS,
            "Chosen cells do not fill these groups",
            "The cells were chosen from the stock before the counts changed. Group them again, or release them.",
        );
        return;
    }
    let l = &f.workspace.ledger;
    let unequal = l.value(&APART_V).is_some_and(|v| above(v, JOIN_WITHIN_V));
    let over = matches!((l.value(&JOIN_A), l.value(&JOIN_LIMIT_A)), (Some(a), Some(limit)) if above(a, limit));
    let spread = l.value(&SPREAD).is_some_and(|s| above(s, SPREAD_MAX));
    if over {
        f.tell(
            Severity::Stop,
            rule::cells::JOIN_OVER_LIMIT,
            "Joining these cells would overcharge one",
            "At rest the cells of a group are {groups.apart_v} apart. When they are joined, {groups.join_a} flows into one of them, which is rated for {groups.join_limit_a}. Bring each cell to the same voltage, read them again, and reserve them again.",
        );
    } else if unequal {
        f.tell(
            Severity::Caution,
            rule::cells::JOIN_UNEQUAL,
            "Cells of a group at different voltages",
            "At rest they are {groups.apart_v} apart; up to 50 mV is usual. {groups.join_a} would flow when they are joined. Bring them to the same voltage first.",
        );
    }
    if spread {
        f.tell(
            Severity::Caution,
            rule::cells::GROUP_SPREAD,
            "Groups differ in capacity",
            "The strongest group holds {groups.strongest_ah}, the weakest {groups.weakest_ah}: {groups.spread_share} apart. The weakest group ends every run and is discharged the deepest. Group the cells again.",
        );
    }
}

/// A pulse rating below the continuous one, or a peak that nothing is stated for.
const UNSTATED_PEAK: f64 = 2.0;

fn currents(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    if let Some(severity) = f.exceeds(CONTINUOUS_A.id, LIMIT_A.id) {
        f.tell(
            severity,
            rule::cells::OVER_RATING,
            "Cells overloaded",
            "The load takes {load.continuous_a} continuously; the cells are rated for {cells.limit_a}. Use more cells in parallel, or stronger ones.",
        );
    } else if let Some(severity) = f.exceeds(PEAK_A.id, PEAK_LIMIT_A.id) {
        f.tell(
            severity,
            rule::cells::PEAK_OVER_RATING,
            "Peak exceeds the cell rating",
            "The peak is {load.peak_a} for {load.peak_s}; the cells are rated for {cells.peak_limit_a} for that long.",
        );
    } else if l.value(&PEAK_LIMIT_A).is_none()
        && matches!((l.value(&PEAK_A), l.value(&LIMIT_A)), (Some(a), Some(limit_a)) if above(a, UNSTATED_PEAK * limit_a))
    {
        f.tell(
            Severity::Caution,
            rule::cells::PEAK_UNSTATED,
            "Pulse rating of the cells not known",
            "The peak is {load.peak_a} for {load.peak_s}, more than twice the continuous rating of {cells.limit_a}, and no pulse rating is stated. Look it up, or measure how far one cell sags at its share.",
        );
    }
    let Some(cell) = workspace.cell() else { return };
    if matches!((cell.pulse_a, cell.discharge_a), (Some(pulse_a), Some(a)) if below(pulse_a, a)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::cells::PULSE_BELOW_CONTINUOUS,
                subject: "",
                title: "Pulse rating below the continuous rating",
                why: "“{$0}” cannot be rated for less in seconds than continuously. One of the two is mistyped, or one comes from a hobby label.",
                words: &[&cell.offer.name],
            },
        );
    }
}
