//! How evenly a laid brick shares its current, how warm that makes it, and how its cells are joined.

use crate::assess::figures::cells::{CELL_CONTINUOUS_A, LIMIT_A};
use crate::assess::figures::laid::{HOTTEST_C, MOST_SHARE, UNEVEN};
use crate::assess::figures::load::CONTINUOUS_A;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::above;
use crate::physics::brick::label;
use crate::plan::Joining;

/// Beyond this the layout loads one cell more than tested cells differ among themselves. Chosen, no source.
const UNEVEN_MAX: f64 = 1.10;
/// No cell beyond this while it discharges. Common practice, no source.
const CELL_MAX_C: f64 = 60.0;
/// What a spring contact carries: "a few amperes". Common practice, no source.
const SPRING_MAX_A: f64 = 3.0;

pub fn check(f: &mut Findings<'_, '_>) {
    shared(f);
    heat(f);
    joined(f);
}

fn shared(f: &mut Findings<'_, '_>) {
    let Some(sharing) = f.workspace.sharing.clone() else { return };
    let (most, ratio) = sharing.most_loaded();
    let name = label(most / sharing.parallel, most % sharing.parallel);
    let l = &f.workspace.ledger;
    if l.value(&UNEVEN).is_some_and(|u| above(u, UNEVEN_MAX)) {
        f.add(Severity::Caution, Says {
            rule: rule::brick::UNEVEN_SHARING,
            subject: "",
            title: "Uneven current within a group",
            why: "Strips and take-off load one cell {brick.uneven} times as much as its own resistance would. Cell {$0} carries most, {brick.most_share} of an even share; it ages and heats faster. Take the current off diagonally or from every cell, or use thicker strips.",
            words: &[&name],
        });
    }
    let asked = l.value(&CONTINUOUS_A).zip(l.value(&LIMIT_A));
    if let Some((asked_a, limit_a)) = asked.filter(|_| l.value(&MOST_SHARE).is_some())
        && !above(asked_a, limit_a)
        && above(asked_a * ratio, limit_a)
    {
        f.add(Severity::Stop, Says {
            rule: rule::brick::SHARE_OVER_RATING,
            subject: "",
            title: "One cell overloaded by uneven sharing",
            why: "Shared evenly, {load.continuous_a} would suit the cells’ {cells.limit_a}; but cell {$0} carries {brick.most_share} of an even share.",
            words: &[&name],
        });
    }
}

fn heat(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let Some(hottest) = l.get(HOTTEST_C.id) else { return };
    let (surely_c, at_most_c) = hottest.ends();
    if above(surely_c, CELL_MAX_C) {
        f.tell(
            Severity::Stop,
            rule::run::CELL_TOO_HOT,
            "Hottest cell above 60 °C",
            "At the end of a run in {use.hottest_c} the hottest cell is at {brick.hottest_c}. Above 60 °C a cell is damaged and may go into thermal runaway.",
        );
    } else if above(at_most_c, CELL_MAX_C) {
        f.tell(
            Severity::Caution,
            rule::brick::HOTTEST_CELL,
            "Hottest cell close to 60 °C",
            "At the end of a run in {use.hottest_c} the hottest cell is at about {brick.hottest_c}; the estimate is good to a fifth. Measure it on the first run, and let it cool before charging or the next run.",
        );
    }
}

fn joined(f: &mut Findings<'_, '_>) {
    match f.workspace.pack.brick.joined_by {
        Some(Joining::SolderedToCells) => f.tell(
            Severity::Caution,
            rule::brick::SOLDERED_ON_CELLS,
            "Soldering on bare cells",
            "Heat on a bare cell end damages it in seconds: the seal at plus, the separator under minus. Weld strips, or buy cells with tabs and solder to those.",
        ),
        Some(Joining::Springs) if f.workspace.ledger.value(&CELL_CONTINUOUS_A).is_some_and(|a| above(a, SPRING_MAX_A)) => f
            .tell(
                Severity::Caution,
                rule::brick::SPRING_CONTACTS,
                "Spring contacts overloaded",
                "Each contact has 20 to 100 mΩ and carries {cell.continuous_a}: it heats, and the voltage falls. Weld strips.",
            ),
        _ => {}
    }
    loose(f);
}

/// Cells that are put in by hand: sooner or later one the wrong way round, empty, or of another make.
fn loose(f: &mut Findings<'_, '_>) {
    if f.workspace.pack.brick.joined_by != Some(Joining::Springs) {
        return;
    }
    let Some((series, parallel)) = f.workspace.counts() else { return };
    let why = if parallel > 1.0 {
        "Cells lie side by side in springs. A reversed one shorts the others through contacts rated for a few amperes, and a fuller cell discharges into the next. Use only one cell in each place, or a fuse per cell, and contacts that a flat end does not reach."
    } else if series > 1.0 {
        "The others drive a reversed or emptier cell backwards until it vents. Use contacts that a flat end does not reach, cells only in sets, and a board that sees each cell."
    } else {
        return;
    };
    f.tell(Severity::Caution, rule::brick::LOOSE_CELLS, "Loose cells may be put in reversed", why);
}
