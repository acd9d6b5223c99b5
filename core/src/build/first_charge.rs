//! One whole charge under watch: how it starts, who ends it, how the groups stand afterwards.

use super::charge_log::ChargeLimits;
use super::making::Making;
use super::predict::group_key;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase, Together};
use crate::assess::figures::charging::{CHARGER_A, ENDS_A, PER_CELL_V, TIME_S};
use crate::base::quantity::{Unit, show};
use crate::diagnose::At;
use crate::plan::HostCircuit;
use crate::print::diagram::Condition;

/// How far a charge current may be from what is stated. Common practice, no source.
const CURRENT_SHARE: f64 = 0.2;
/// Current at which a charge has ended, against the charge current. Common practice, no source.
const ENDED_SHARE: f64 = 0.15;
/// Room over the current at which the charger itself ends. Common practice, no source.
const TAPER_ROOM: f64 = 1.2;
/// What is read at the end of the charge.
pub(super) const END_CURRENT: &str = "end-current";
pub(super) const END_INPUT: &str = "end-input";
pub(super) const END_CELLS: &str = "end-cells";
/// Most that full groups may differ before they need balancing. Common practice, no source.
const FULL_APART_V: f64 = 0.05;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let workspace = making.workspace;
    let (Some(series), Some(facts)) = (workspace.pack.series, workspace.facts()) else { return vec![] };
    let l = &workspace.ledger;
    let host = making.plan.charging.host == Some(HostCircuit::ChargesPack);
    let charge_a = l.value(&CHARGER_A).filter(|_| !host);
    let current = |key: &str, what: &str, expects: Expects| {
        BuildAsk::read(key, what, ["into the pack’s plus", "from the charger"], expects)
    };
    let unknown_a = || Expects::Unknown { unit: Unit::A, usual: String::new() };
    let mut start = making
        .predicted
        .asks(Condition::Charging, |p| p.probe.at == "pack" && p.probe.what == "the whole pack" && charge_a.is_some());
    for ask in &mut start {
        // The charge moves it up all the time: it is kept to compare with, not judged.
        ask.expects = Expects::Unknown { unit: Unit::V, usual: "rises slowly".to_owned() };
    }
    start.push(current(
        "current",
        "charge current after five minutes",
        charge_a.map_or_else(unknown_a, |a| Expects::Band {
            low: Some(a * (1.0 - CURRENT_SHARE) - making.predicted.error_a(a)),
            high: Some(a * (1.0 + CURRENT_SHARE) + making.predicted.error_a(a)),
            unit: Unit::A,
            because: "the charger’s current, within a fifth; a nearly full pack takes less".to_owned(),
        }),
    ));
    start.push(BuildAsk::yes("cool", "Cells, board and charger no more than hand-warm?"));
    let lasts =
        l.value(&TIME_S).map_or_else(String::new, |s| format!(" An empty pack takes about {}.", show(s, Unit::S)));
    let never = show(facts.never_above_v, Unit::V);
    let watch = BuildStep::new(
        Phase::FirstCharge,
        "charge/start",
        "Connect the charger and stay with it",
        "What goes wrong in a charge goes wrong in the first one.",
    )
    .how([
        "On stone or steel, nothing that burns within a metre.".to_owned(),
        format!("Read after five minutes, then every quarter of an hour.{lasts}"),
    ])
    .tools(&["meter, voltage", "meter, amperes"])
    .wait(300.0, "until the current has settled")
    .hazard(format!(
        "Stop at once: a group above {never}, a cell above 45 °C, swelling, hissing, a sweet smell. Then outdoors."
    ))
    .asks(start)
    .if_not("No current: polarity, fuse, or a board that is open. Too much: another charger than planned.");
    let mut watch = watch;
    watch.logs = limits(making, charge_a, f64::from(series), facts.never_above_v);
    let mut end = BuildStep::new(
        Phase::FirstCharge,
        "charge/end",
        "See who ends the charge",
        "The charger must end it. A board that ends it every time wears out as a last resort.",
    )
    .how([
        "Wait until the charger says full, or its current has fallen to nearly nothing.",
        "Leave it connected and read the current, then both sides of the board: charger side and cells.",
    ])
    .tools(&["meter, voltage", "meter, amperes"])
    .if_not("The board ended it: the charger’s voltage is too high, or a group is far ahead. Nothing ended it: unplug it, and do not use this charger.");
    let charger = making.plan.nodes.iter().find(|n| n.module().is_some_and(|m| m.charges.is_some()));
    let charger = charger.map_or_else(String::new, |n| n.id.clone());
    end.asks = match &watch.logs {
        Some(limits) => vec![
            current(
                END_CURRENT,
                "current at the end",
                Expects::Unknown {
                    unit: Unit::A,
                    usual: format!("tapered: less than {}", show(limits.tapered_a, Unit::A)),
                },
            ),
            BuildAsk::read(
                END_INPUT,
                "charger side of the board",
                ["its plus", "its minus"],
                Expects::Unknown { unit: Unit::V, usual: "as the cells, while the board is closed".to_owned() },
            ),
            BuildAsk::read(
                END_CELLS,
                "the cells",
                [&format!("B{series}"), "B0"],
                Expects::Unknown { unit: Unit::V, usual: format!("near {}", show(limits.end_v, Unit::V)) },
            )
            .counts(Counts::Figure { place: charger, at: "/part/part/module/charges/output_v".to_owned() }),
        ],
        None => vec![
            current(END_CURRENT, "current at the end", unknown_a()),
            BuildAsk::yes("by-charger", "Ended by the charger, with the board still closed?"),
        ],
    };
    end.ends.clone_from(&watch.logs);
    let mut groups: Vec<BuildAsk> = (1..=series)
        .map(|k| {
            let probes = [format!("B{k}"), format!("B{}", k - 1)];
            let expects = Expects::Band {
                low: Some(facts.full_v - 0.1 - making.predicted.error_v(facts.full_v)),
                high: Some(facts.never_above_v + making.predicted.error_v(facts.never_above_v)),
                unit: Unit::V,
                because: format!("a full cell; never above {never}"),
            };
            BuildAsk::read(group_key(k as usize), format!("group {k}"), probes.each_ref().map(String::as_str), expects)
                .counts(Counts::Groups)
                .between(Some(probes), At::Rest)
        })
        .collect();
    let keys = groups.iter().map(|a| a.key.clone()).collect();
    groups.push(BuildAsk::yes("rested", "Read again after an hour: still there?"));
    let spread = BuildStep::new(
        Phase::FirstCharge,
        "charge/groups",
        "Read the groups, full",
        "Full is where their differences show.",
    )
    .wait(3600.0, "for the cells to rest after the charge")
    .tools(&["meter, voltage"])
    .asks(groups);
    let mut spread = spread.if_not(
        "Apart: let the board balance for a day, or level the low group singly. Above the limit: stop, find out why.",
    );
    spread.together = (series > 1).then(|| Together {
        within_v: FULL_APART_V,
        groups: vec![keys],
        says: "the full groups are apart: balance them before the pack is used".to_owned(),
    });
    vec![watch, end, spread]
}

/// What tells who ends the charge; none where it is not the plan's own charger, or not known well enough.
fn limits(making: &Making<'_>, charge_a: Option<f64>, series: f64, never_v: f64) -> Option<ChargeLimits> {
    let l = &making.workspace.ledger;
    let (charge_a, end_v) = (charge_a?, series * l.value(&PER_CELL_V)?);
    let tapered_a = l.value(&ENDS_A).map_or(0.0, |a| TAPER_ROOM * a).max(ENDED_SHARE * charge_a);
    Some(ChargeLimits {
        series: series as u32,
        end_v,
        never_v,
        charge_a,
        tapered_a,
        takes_s: l.value(&TIME_S),
        error_v: making.predicted.error_v(end_v),
        error_a: making.predicted.error_a(tapered_a),
    })
}
