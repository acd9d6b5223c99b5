//! The brick: joined face by face, only one face bare at a time, and the groups read.

use super::making::Making;
use super::predict::{GROUPS, group_key};
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::base::quantity::Unit;
use crate::diagnose::At;
use crate::physics::brick::{Laid, StepKind, WeldStep, draw, steps as weld_steps};
use crate::plan::Joining;
use crate::print::diagram::Condition;

const BURNS: &str =
    "A tool or a strip across two groups welds itself fast and glows. Rings and watch off; every other face covered.";

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let pack = making.workspace.pack;
    let Some(series) = pack.series else { return vec![] };
    if making.is_ready() {
        return vec![ready(making, series)];
    }
    let laid = Laid::of(making.plan).filter(Laid::suits);
    let mut steps = match &laid {
        Some(laid) => welded(&weld_steps(laid, &draw(laid))),
        None => vec![joined(pack.brick.joined_by, series)],
    };
    steps.push(groups(making, series));
    steps.push(
        BuildStep::new(
            Phase::Brick,
            "brick/cover",
            "Insulate the brick",
            "Foil and tape wear through where the housing rubs; a sheet does not.",
        )
        .how([
            "A sheet of insulating board over every face, tape round it.",
            if series > 1 {
                "Tap leads out at one side, each end covered."
            } else {
                "Both leads out, each end covered."
            },
            "Nothing metal can reach a strip, from any side.",
        ])
        .asks(vec![BuildAsk::yes("covered", "No metal to be seen or reached?")])
        .if_not("Cover it before anything else is done."),
    );
    steps
}

/// The steps in which the laid brick is welded, each with a key that says what it joins.
fn welded(found: &[WeldStep]) -> Vec<BuildStep> {
    let mut steps: Vec<BuildStep> = vec![];
    for weld in found {
        let word = match weld.kind {
            StepKind::Prepare => continue,
            StepKind::Seat => "seat",
            StepKind::Cover => "cover-face",
            StepKind::Bare => "bare",
            StepKind::Weld => "weld",
            StepKind::Wire => "wire",
            StepKind::Stack => "stack",
        };
        let joins: String = weld.strips.iter().chain(&weld.nodes).map(|n| format!("-{n}")).collect();
        let mut key = format!("brick/{word}{}{joins}", weld.face.map_or_else(String::new, |f| format!("-{f}")));
        let same = steps.iter().filter(|s| s.key == key || s.key.starts_with(&format!("{key}."))).count();
        if same > 0 {
            key = format!("{key}.{}", same + 1);
        }
        let live = matches!(weld.kind, StepKind::Weld | StepKind::Wire | StepKind::Bare);
        let why = match weld.kind {
            StepKind::Seat => "A reversed cell shorts its whole group when the first strip goes on.",
            StepKind::Weld => "Each strip joins exactly the cells that are drawn, and no others.",
            StepKind::Wire => "One lead at a time: two live ends can touch.",
            StepKind::Bare => "One face bare, all others covered: no short can happen.",
            _ => "What is covered cannot be shorted.",
        };
        let (title, rest) = weld.what.split_once(['.', ':']).unwrap_or((&weld.what, ""));
        let mut step = BuildStep::new(Phase::Brick, key, title, why).hazard(if live { BURNS } else { "" });
        if !rest.trim().is_empty() {
            step = step.how([sentence(rest.trim())]);
        }
        step.bare.clone_from(&weld.bare);
        step.weld = Some(weld.clone());
        if weld.kind == StepKind::Weld {
            step.tools = vec!["spot welder".to_owned(), "test strip on a dead cell first".to_owned()];
            step.asks =
                vec![BuildAsk::yes("pulls", "Pulled at each spot: holds, and tears the strip before it lifts?")];
            "Weld it again beside the old spots; no more than twice in one place.".clone_into(&mut step.if_not);
        }
        steps.push(step);
    }
    steps
}

fn joined(by: Option<Joining>, series: u32) -> BuildStep {
    let why = if series > 1 {
        "Group by group from pack minus up, so that no two open ends are far apart in voltage."
    } else {
        "Plus to plus, minus to minus: one that is reversed is a dead short."
    };
    let step = |title: &str, how: [&str; 3]| {
        BuildStep::new(Phase::Brick, "brick/join", title, why)
            .how(how)
            .hazard(BURNS)
            .asks(vec![BuildAsk::yes("holds", "Every joint holds a pull?")])
            .if_not("Do it again before it is covered.")
    };
    match by {
        Some(Joining::Springs | Joining::Clamped) => step(
            "Put the cells into their holder",
            [
                "Plus and minus as marked on the holder.",
                "One cell at a time, from pack minus up.",
                "Each sits firm and does not turn.",
            ],
        ),
        Some(Joining::SolderedToTabs) => step(
            "Solder the tabs together",
            [
                "Tin both tabs, heat only the tab, not the cell.",
                "One joint at a time, the other tabs covered.",
                "Two seconds, then let it cool.",
            ],
        ),
        _ if series == 1 => step(
            "Join the cells",
            [
                "All plus ends on one side, read with the meter before a strip goes on.",
                "One side bare, the other covered.",
                "Strip over the plus ends, cover it, turn it over, then the minus ends.",
            ],
        ),
        _ => step(
            "Join the groups",
            [
                "Strips along each group first: its cells have one potential.",
                "Then from group to group, from pack minus up.",
                "One face bare, the others covered.",
            ],
        ),
    }
}

/// A pack that comes whole: its groups at the balance plug, where it has one, and its two poles.
fn ready(making: &Making<'_>, series: u32) -> BuildStep {
    let mut step = groups(making, series);
    if !making.has_balance_plug() {
        // Its groups end inside: no pin of its own shows them.
        let whole = making.predicted.asks(Condition::Off, |p| p.probe.at == "pack" && p.probe.what == "the whole pack");
        step.asks = whole;
        return BuildStep { title: "Read the pack at its contacts".to_owned(), ..step }
            .how(["At its main contacts, plus and minus as marked."])
            .if_not(
                "Nothing, or far less: it may sleep until its own charger or tool wakes it. Minus: the probes are swapped.",
            );
    }
    step.title = "Read every group at the balance plug".to_owned();
    step.how(["Pin after pin from the black one up.", "Then the main plug: it must be their sum."])
        .if_not("A group is missing or far off: charge it once on its balance charger, then read again. If it stays, set it aside.")
}

/// The groups over their own joints, then the whole pack.
fn groups(making: &Making<'_>, series: u32) -> BuildStep {
    let facts = making.workspace.facts();
    let group = |k: u32| {
        let expects = facts.map_or(Expects::Unknown { unit: Unit::V, usual: String::new() }, |f| Expects::Band {
            low: Some(f.floor_v - making.predicted.error_v(f.floor_v)),
            high: Some(f.full_v + making.predicted.error_v(f.full_v)),
            unit: Unit::V,
            because: "between the lowest and the full voltage of one cell".to_owned(),
        });
        let probes = [format!("B{k}"), format!("B{}", k - 1)];
        BuildAsk::read(group_key(k as usize), format!("group {k}"), probes.each_ref().map(String::as_str), expects)
            .counts(Counts::Groups)
            .between(Some(probes), At::Rest)
    };
    let mut asks: Vec<BuildAsk> = (1..=series).map(group).collect();
    if series > 1 {
        let whole = making.predicted.asks(Condition::Off, |p| p.probe.at == "pack" && p.probe.what == "the whole pack");
        asks.extend(whole);
    }
    BuildStep::new(
        Phase::Brick,
        GROUPS,
        "Read every group",
        "Everything that is predicted from here on rests on these readings.",
    )
    .how(if series > 1 {
        vec!["On the strips themselves, from pack minus up.", "Then the whole pack: it must be their sum."]
    } else {
        vec!["On the strips themselves."]
    })
    .tools(&["meter, voltage"])
    .asks(asks)
    .if_not(if series > 1 {
        "Zero: a strip is missing or a cell is reversed. Wrong total: read each group again."
    } else {
        "Zero or less: a strip is missing or a cell is reversed. Part them at once."
    })
    .shows(["pack"])
}

/// With a capital at its beginning.
fn sentence(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
