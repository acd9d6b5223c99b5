//! Cells read before they are joined: each in its band, those of a group near each other.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Expects, Phase, Together};
use crate::base::quantity::{Unit, show};
use crate::physics::grouping::JOIN_WITHIN_V;

/// More cells than this are read one after the other by the stock's own reading mode, not on a sheet.
const MOST_CELLS: u32 = 60;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let pack = making.workspace.pack;
    let (Some(series), Some(facts)) = (pack.series, making.workspace.facts()) else { return vec![] };
    if making.is_ready() {
        return vec![ready()];
    }
    let parallel = pack.parallel.unwrap_or(1);
    let mut steps = vec![
        BuildStep::new(
            Phase::Cells,
            "cells/look",
            "Look at every cell",
            "A dent, a leak or a torn wrap is a short that has not happened yet.",
        )
        .how([
            "Wrap whole on every cell, insulating ring on every plus end.",
            "No dent, no rust, no wet spot, no sweet smell.",
            "All of one make, one type and one age.",
        ])
        .hazard("A swollen or leaking cell goes outdoors, into sand or a fireproof box. Do not charge or open it.")
        .asks(vec![BuildAsk::yes("sound", "All sound and alike?")])
        .if_not("Set the cell aside and replace it."),
    ];
    let one_by_one = series * parallel <= MOST_CELLS;
    let names = |group: u32| {
        let chosen = pack.groups.get(group as usize - 1);
        (1..=parallel)
            .map(|cell| {
                let label = chosen.and_then(|g| g.cells.get(cell as usize - 1)).map(|c| c.label.clone());
                (format!("cell-{group}-{cell}"), label.unwrap_or_else(|| format!("group {group}, cell {cell}")))
            })
            .collect::<Vec<_>>()
    };
    let (low_v, high_v) = (facts.floor_v, facts.full_v);
    let band = || Expects::Band {
        low: Some(low_v - making.predicted.error_v(low_v)),
        high: Some(high_v + making.predicted.error_v(high_v)),
        unit: Unit::V,
        because: format!("between the lowest and the full voltage of {}", facts.short),
    };
    let mut read = BuildStep::new(
        Phase::Cells,
        "cells/volts",
        "Read every cell",
        "Joined at different voltages, the fuller cell discharges into the emptier one, and nothing limits the current.",
    )
    .tools(&["meter, voltage"])
    .if_not(format!(
        "Below {} or above {}: set the cell aside. Apart: bring them to one voltage first, charged singly or through a resistor.",
        show(facts.floor_v, Unit::V),
        show(facts.full_v, Unit::V)
    ));
    if one_by_one {
        let groups: Vec<_> = (1..=series).map(names).collect();
        read.asks = groups
            .iter()
            .flatten()
            .map(|(key, label)| BuildAsk::read(key.clone(), label.clone(), ["plus", "minus"], band()))
            .collect();
        let keys = groups.iter().map(|g| g.iter().map(|(key, _)| key.clone()).collect()).collect();
        read.together = (parallel > 1).then(|| Together {
            within_v: JOIN_WITHIN_V,
            groups: keys,
            says: "cells of one group are too far apart to be joined".to_owned(),
        });
    } else {
        read.asks = vec![
            BuildAsk::read("lowest", "the lowest cell", ["plus", "minus"], band()),
            BuildAsk::read("highest", "the highest cell", ["plus", "minus"], band()),
        ];
        read.together = Some(Together {
            within_v: JOIN_WITHIN_V,
            groups: vec![vec!["lowest".to_owned(), "highest".to_owned()]],
            says: "the cells are too far apart to be joined".to_owned(),
        });
    }
    steps.push(read);
    steps
}

/// A pack that comes whole is looked at whole: what is in it is its maker's.
fn ready() -> BuildStep {
    BuildStep::new(
        Phase::Cells,
        "cells/look",
        "Look at the pack",
        "A dent, a leak or a swollen side is a short that has not happened yet.",
    )
    .how([
        "Housing or wrap whole, nothing swollen, no sweet smell.",
        "Contacts clean and bright, no pin bent.",
        "It takes a full charge before it is used here.",
    ])
    .hazard("A swollen or leaking pack goes outdoors, into sand or a fireproof box. Do not charge or open it.")
    .asks(vec![BuildAsk::yes("sound", "Sound, and charged once?")])
    .if_not("Set it aside; take another one.")
}
