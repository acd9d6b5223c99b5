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
            title: "The cell is of another chemistry than the pack",
            why: "The volts were chosen for another chemistry than that of “{$0}”: charger, board and cut-off would all be wrong.",
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
            "Hobby labels are optimistic",
            "The C rating on the label is halved here for continuous use: the cells are counted on for {cells.limit_a}.",
        );
    }
    if cell.origin == CellOrigin::Salvaged && !cell.tested {
        f.tell(
            Severity::Caution,
            rule::cells::SALVAGED_UNTESTED,
            "Salvaged cells that were not tested",
            "Capacity, resistance and self-discharge of every cell decide which belong together, and which are scrap.",
        );
    }
}

fn claim(f: &mut Findings<'_, '_>, cell: &Cell) {
    let (severity, rule, title) = match judge_claim(cell) {
        Claim::Impossible { .. } => {
            (Severity::Stop, rule::cells::IMPOSSIBLE_CLAIM, "No cell of this size has that capacity")
        }
        Claim::Doubtful { .. } => (Severity::Caution, rule::cells::DOUBTFUL_CLAIM, "The claimed capacity is doubtful"),
        Claim::Plausible => {
            if f.workspace.ledger.value(&CELL_DENSITY).is_some_and(|d| above(d, DENSEST_WH_PER_L)) {
                f.tell(
                    Severity::Stop,
                    rule::cells::IMPOSSIBLE_DENSITY,
                    "No cell on sale holds that much in its volume",
                    "The claim makes {cell.wh_per_l}; the densest cells on sale have about 900. The claim, or the size, is wrong.",
                );
            }
            return;
        }
    };
    f.tell(
        severity,
        rule,
        title,
        "{cell.rated_ah} is claimed; {cell.believed_ah} is the most to believe at this size. Test the capacity of one before the lot is used.",
    );
}

/// Share by which groups may differ before it is worth dealing anew. Assumed: what a tester cannot tell apart.
const SPREAD_MAX: f64 = 0.05;

/// The chosen cells: as many as there should be, groups alike, equal volts before they are joined.
fn groups(f: &mut Findings<'_, '_>) {
    if f.workspace.pack.groups.is_empty() {
        return;
    }
    if !counts_agree(f.workspace) {
        f.tell(
            Severity::Caution,
            rule::cells::GROUPS_FOR_OTHER_COUNTS,
            "The chosen cells are for other counts",
            "Cells of the stock were chosen before the counts were changed: they do not fill these groups. Group them anew, or release them.",
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
            "Joining the groups would over-charge a cell",
            "The cells of a group rest {groups.apart_v} apart: joined, {groups.join_a} flow into one of them, which takes {groups.join_limit_a}. Bring them to equal volts singly, read them again, and reserve them anew.",
        );
    } else if unequal {
        f.tell(
            Severity::Caution,
            rule::cells::JOIN_UNEQUAL,
            "Cells of a group rest at unequal volts",
            "They rest {groups.apart_v} apart; within 50 mV is usual. {groups.join_a} would flow when they are joined. Bring them to equal volts first.",
        );
    }
    if spread {
        f.tell(
            Severity::Caution,
            rule::cells::GROUP_SPREAD,
            "The groups differ in capacity",
            "The strongest group holds {groups.strongest_ah}, the weakest {groups.weakest_ah}: {groups.spread_share} apart. The weakest ends every run, and is pulled down furthest. Group the cells anew.",
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
            "The cells give more than they are rated for",
            "The load asks for {load.continuous_a} continuously; the cells bear {cells.limit_a}. Take more in parallel or stronger cells.",
        );
    } else if let Some(severity) = f.exceeds(PEAK_A.id, PEAK_LIMIT_A.id) {
        f.tell(
            severity,
            rule::cells::PEAK_OVER_RATING,
            "The peak is over the cells' rating",
            "The peak asks for {load.peak_a} for {load.peak_s}; the cells bear {cells.peak_limit_a} for that long.",
        );
    } else if l.value(&PEAK_LIMIT_A).is_none()
        && matches!((l.value(&PEAK_A), l.value(&LIMIT_A)), (Some(a), Some(limit_a)) if above(a, UNSTATED_PEAK * limit_a))
    {
        f.tell(
            Severity::Caution,
            rule::cells::PEAK_UNSTATED,
            "Nothing says what the cells bear for the peak",
            "The peak asks for {load.peak_a} for {load.peak_s}, more than twice the {cells.limit_a} they bear for good, and no pulse rating is stated. Look it up, or measure how far one cell sags at its share.",
        );
    }
    let Some(cell) = workspace.cell() else { return };
    if matches!((cell.pulse_a, cell.discharge_a), (Some(pulse_a), Some(a)) if below(pulse_a, a)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::cells::PULSE_BELOW_CONTINUOUS,
                subject: "",
                title: "The pulse rating lies below the continuous one",
                why: "“{$0}” cannot bear less for seconds than for good: one of both is mistyped, or one of them is a hobby label.",
                words: &[&cell.offer.name],
            },
        );
    }
}
