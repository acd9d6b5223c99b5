//! The board and its taps: minus first, every pin read before the plug goes in.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Expects, Phase};
use crate::base::quantity::Unit;
use crate::diagnose::At;
use crate::plan::{Bms, NodeKind};
use crate::print::diagram::Condition;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let Some(series) = making.workspace.pack.series else { return vec![] };
    let plan = making.plan;
    let board = plan.nodes.iter().find(|n| n.kind == NodeKind::Board && n.module().is_some());
    let alarm = plan.nodes.iter().any(|n| n.kind == NodeKind::Alarm && n.module().is_some());
    let balances = making.workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let mut steps = vec![];
    // That of a pack that comes whole is in it already; what is plugged into its balance plug is not.
    let ready = making.is_ready();
    if let Some(board) = board.filter(|_| !ready) {
        steps.push(minus(&board.id, series));
    }
    let taps_plugged = if ready { alarm || balances } else { board.is_some() || alarm || balances };
    if series > 1 && taps_plugged && (!ready || making.has_balance_plug()) {
        steps.push(
            BuildStep::new(
                Phase::Board,
                "board/taps",
                "Read the taps before the plug goes in",
                "A swapped tap puts the wrong voltage, or reverse voltage, on the board’s chip at once.",
            )
            .how([
                "Black probe stays on B0.",
                "Read each pin of the tap plug in turn: each must be one group higher than the last.",
            ])
            .tools(&["meter, voltage", "fine probes"])
            .hazard("Two pins touched by one probe short a group.")
            .asks(taps(making, series))
            .if_not("Do not plug it in. Move the pins to their places, then read all of them again.")
            .shows(["pack".to_owned()].into_iter().chain(board.map(|b| b.id.clone()))),
        );
    }
    if let Some(board) = board {
        let protects = board.module().and_then(|m| m.protects.as_ref());
        // One cell has no taps: its board takes B+ itself.
        let plug = |title: &str, why: &str, how: [&str; 2], if_not: &str| {
            BuildStep::new(Phase::Board, "board/plug", title, why)
                .how(how)
                .asks(vec![BuildAsk::yes("cool", "Nothing warm, no smell, after one minute?")])
                .if_not(format!("{if_not} Do not trust the board any more: test it again on dummy cells."))
                .shows([board.id.clone()])
        };
        steps.extend((!ready).then(|| {
            if series > 1 {
                plug(
                    "Plug in the taps, then connect B+",
                    "In this order every input of the chip lies between two that are connected already.",
                    [
                        "Tap plug in, straight, all the way.",
                        "B+ where its maker says; some boards take it from the last tap.",
                    ],
                    "Pull the plug at once.",
                )
            } else {
                plug(
                    "Connect B+",
                    "B− is already connected, so the chip gets the right polarity from the start.",
                    ["B+ on pack plus.", "Pull at it once it is cold."],
                    "Take B+ off at once.",
                )
            }
        }));
        steps.push(out(making, &board.id, protects, series));
    }
    steps
}

/// Minus first. One cell has no taps to wait for it.
fn minus(id: &str, series: u32) -> BuildStep {
    let taps = series > 1;
    BuildStep::new(
        Phase::Board,
        "board/minus",
        "Solder B− to pack minus",
        if taps {
            "Without B− the first tap feeds the board’s chip backwards and destroys it."
        } else {
            "With B+ alone whatever hangs on its output feeds the board’s chip backwards."
        },
    )
    .how([
        "Fix the board first, insulated from every strip.",
        if taps {
            "B− with the thick lead of the plan. Tap leads not plugged in yet."
        } else {
            "B− with the thick lead of the plan. B+ not connected yet."
        },
        "Pull at it once it is cold.",
    ])
    .tools(&["soldering iron", "sheet under the board"])
    .hazard("The other end of each lead stays covered until its turn: one live lead at a time.")
    .asks(vec![BuildAsk::yes("holds", "B− on pack minus, nothing else, and it holds a pull?")])
    .if_not(if taps {
        "Take it off and solder it again before any tap is plugged in."
    } else {
        "Take it off and solder it again before B+ is connected."
    })
    .shows([id.to_owned()])
}

/// Each pin against B0. What the groups add up to is predicted by the circuit with nothing on it.
fn taps(making: &Making<'_>, series: u32) -> Vec<BuildAsk> {
    let pack = making.predicted.at(Condition::Off, "pack");
    let of = |k: u32| {
        let what = match k {
            1 => "group 1".to_owned(),
            k if k == series => "the whole pack".to_owned(),
            k => format!("tap B{k} from pack minus"),
        };
        pack.iter().find(|a| a.what == what).map(|a| a.expects.clone())
    };
    let unknown = Expects::Unknown { unit: Unit::V, usual: String::new() };
    (1..=series)
        .map(|k| {
            let red = format!("B{k}");
            BuildAsk::read(format!("tap-{k}"), format!("pin {red}"), [&red, "B0"], of(k).unwrap_or(unknown.clone()))
                .between(Some([format!("T{k}"), "T0".to_owned()]), At::Rest)
        })
        .collect()
}

/// The board's way out. One that sleeps until a charger comes shows nothing, and is sound.
fn out(making: &Making<'_>, id: &str, protects: Option<&Bms>, series: u32) -> BuildStep {
    let sleeps = protects.is_some_and(|p| p.wants_waking == Some(true));
    let mut asks: Vec<BuildAsk> =
        making.predicted.at(Condition::Off, id).into_iter().filter(|a| a.what == "board, way out").collect();
    if sleeps {
        for ask in &mut asks {
            let usual = "about 0 V until a charger has been connected once".to_owned();
            ask.expects = Expects::Unknown { unit: Unit::V, usual };
        }
    }
    BuildStep::new(
        Phase::Board,
        "board/out",
        "Read the board’s output",
        "Shows that its MOSFETs are on, and the polarity of the output.",
    )
    .tools(&["meter, voltage"])
    .asks(asks)
    .if_not(if series > 1 {
        "Zero: it may need a charger to wake it. Lower than the pack: read its taps again."
    } else {
        "Zero: it may need a charger to wake it. Lower than the pack: read from B− to B+ again."
    })
    .shows([id.to_owned()])
}
