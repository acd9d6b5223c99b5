//! What was read on the cells themselves: a reading outranks every model.
//!
//! A cell above what it must never reach, or below its floor, is harmed whatever a curve says of its charge; so no advice to
//! level, balance or charge stands beside such a reading.

use crate::assess::figures::voltage::{CELL_FLOOR_V, CELL_FULL_V, CELL_NEVER_V};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::assess::workspace::Workspace;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::plan::Known;

/// What a reading over full may be by the meter alone, without a stated error. Common practice, no source.
const METER_V: f64 = 0.01;
/// Share by which the groups may miss the pack's own reading, besides the errors of the meters. Common practice, no source.
const SUM_SHARE: f64 = 0.005;

/// Whether a reading was taken over one cell.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Read {
    /// Plausible for one cell, harmed or not.
    OneCell,
    /// So many cells: a tap is not where it is thought to be.
    Several(u32),
    /// Below nothing: leads or taps are swapped.
    Reversed,
}

/// What was read, in words for a sentence, and the reading.
struct Reading<'r> {
    subject: String,
    what: String,
    read: &'r Known,
}

/// Whether something read says that a cell is harmed, so that levelling is no advice.
pub fn is_damning(workspace: &Workspace<'_>) -> bool {
    let l = &workspace.ledger;
    let (Some(never_v), Some(floor_v)) = (l.value(&CELL_NEVER_V), l.value(&CELL_FLOOR_V)) else { return false };
    workspace.pack.group_v.iter().any(|r| above(r.value, never_v) || below(r.value, floor_v))
}

pub fn check(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    let (Some(never_v), Some(full_v), Some(floor_v)) =
        (l.value(&CELL_NEVER_V), l.value(&CELL_FULL_V), l.value(&CELL_FLOOR_V))
    else {
        return;
    };
    for (i, read) in workspace.pack.group_v.iter().enumerate() {
        let reading = Reading { subject: format!("group-{}", i + 1), what: format!("Group {}", i + 1), read };
        match kind(read, never_v, full_v) {
            Read::OneCell => one_cell(f, &reading, [never_v, full_v, floor_v]),
            Read::Several(cells) => misplaced(f, &reading, &format!("as much as {cells} cells have")),
            Read::Reversed => misplaced(f, &reading, "less than nothing"),
        }
    }
    chosen(f, [never_v, full_v, floor_v]);
    whole(f, [never_v, full_v, floor_v]);
    sum(f);
}

fn kind(read: &Known, never_v: f64, full_v: f64) -> Read {
    if read.value < -METER_V {
        return Read::Reversed;
    }
    // No single cell is ever charged half as far again.
    if read.value > 1.5 * never_v {
        return Read::Several((read.value / full_v).ceil().max(2.0) as u32);
    }
    Read::OneCell
}

fn misplaced(f: &mut Findings<'_, '_>, reading: &Reading<'_>, as_much: &str) {
    f.add(
        Severity::Stop,
        Says {
            rule: rule::wiring::TAP_MISPLACED,
            subject: &reading.subject,
            title: "Tap in the wrong place",
            why: "{$0} reads {$1}, {$2}. The taps are in another order, one is missing, or the probes are swapped. Read each against pack minus, one cell more each time, before you plug anything in.",
            words: &[&reading.what, &show(reading.read.value, Unit::V), as_much],
        },
    );
}

fn one_cell(f: &mut Findings<'_, '_>, reading: &Reading<'_>, [never_v, full_v, floor_v]: [f64; 3]) {
    let (low_v, high_v) = reading.read.band();
    let subject = reading.subject.as_str();
    let words: &[&str] = &[&reading.what, &show(reading.read.value, Unit::V)];
    // The reading itself is what counts; only an error that was stated leaves it open.
    if above(reading.read.value, never_v) {
        f.add(
            if above(low_v, full_v) { Severity::Stop } else { Severity::Caution },
            Says {
                rule: rule::cells::OVER_CHARGED,
                subject,
                title: "Cell overcharged",
                why: "{$0} reads {$1}; full is {cell.full_v}, and the limit is {cell.never_above_v}. Do not charge, balance or use it. Take it outdoors, discharge it slowly through a resistor under watch, and find out what overcharged it. Do not use cells again that were above it.",
                words,
            },
        );
    } else if above(low_v, full_v + METER_V) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::cells::ABOVE_FULL,
                subject,
                title: "Cell above full",
                why: "{$0} reads {$1}; full is {cell.full_v}. Stop the charge and let it rest. If it stays there, something charges it too far.",
                words,
            },
        );
    } else if below(reading.read.value, floor_v) {
        f.add(
            if below(high_v, floor_v) { Severity::Stop } else { Severity::Caution },
            Says {
                rule: rule::cells::BELOW_FLOOR,
                subject,
                title: "Cell below its minimum",
                why: "{$0} reads {$1}; cells are damaged below {cell.floor_v}. Do not charge or balance it: dissolved copper can short it later. Take it out; a cell that stood there for days is scrap.",
                words,
            },
        );
    }
}

/// Cells of the stock, as they were read when they were chosen.
fn chosen(f: &mut Findings<'_, '_>, limits: [f64; 3]) {
    for (g, group) in f.workspace.pack.groups.iter().enumerate() {
        for cell in &group.cells {
            let Some(rested_v) = cell.rested_v else { continue };
            let read = Known::measured(rested_v);
            let reading = Reading {
                subject: format!("cell-{}", cell.label),
                what: format!("Cell {} of group {}", cell.label, g + 1),
                read: &read,
            };
            one_cell(f, &reading, limits);
        }
    }
}

/// The pack as a whole: its mean says that at least one cell is beyond.
fn whole(f: &mut Findings<'_, '_>, limits: [f64; 3]) {
    let workspace = f.workspace;
    let Some(series) = workspace.pack.series.map(f64::from) else { return };
    let second_series = workspace.plan.feed.second.as_ref().and_then(|s| s.series).map_or(series, f64::from);
    let second = workspace.plan.feed.second.as_ref();
    let readings = [
        ("pack", "The pack", workspace.plan.charging.cells_v.as_ref(), series),
        ("first", "The first pack", second.and_then(|s| s.first_rest_v.as_ref()), series),
        ("second", "The second pack", second.and_then(|s| s.rest_v.as_ref()), second_series),
    ];
    for (subject, what, read, cells) in readings {
        let Some(read) = read else { continue };
        // Where every group was read, the groups say it.
        if subject == "pack" && !workspace.pack.group_v.is_empty() {
            continue;
        }
        let mean = Known {
            value: read.value / cells,
            error: read.error.map(|e| e / cells),
            ..Known::measured(read.value / cells)
        };
        let what = format!("{what} at {}, a cell of it,", show(read.value, Unit::V));
        one_cell(f, &Reading { subject: subject.to_owned(), what, read: &mean }, limits);
    }
}

/// The groups together against the pack's own reading.
fn sum(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let read = &workspace.pack.group_v;
    let Some(pack) = &workspace.plan.charging.cells_v else { return };
    if read.is_empty() || workspace.pack.series.is_none_or(|s| s as usize != read.len()) {
        return;
    }
    let sum_v: f64 = read.iter().map(|r| r.value).sum();
    let errors_v: f64 = read.iter().chain([pack]).filter_map(|r| r.error).sum();
    if above((sum_v - pack.value).abs(), SUM_SHARE * pack.value.abs() + errors_v) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::READINGS_DISAGREE,
                subject: "",
                title: "Group readings do not add up",
                why: "Together the groups read {$0}, the pack at its cells {$1}. One reading is wrong, a tap sits elsewhere, or they were read at different times. Read them again, one after the other.",
                words: &[&show(sum_v, Unit::V), &show(pack.value, Unit::V)],
            },
        );
    }
}
