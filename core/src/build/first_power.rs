//! First power: everything is read before it is used, from the least energy to the most.
//!
//! The order is the trade's: no continuity, polarity, a limited supply backwards with the pack out, the device on a limited supply
//! while the pack is still out, the pack in and every point read, then the load, and what changes over. Common practice, no source.

use super::limited_supply;
use super::making::Making;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::base::quantity::{Unit, show};
use crate::plan::{HostCircuit, NodeKind};
use crate::print::diagram::Condition;

const WATCH: &str = "Nothing warm, no smell, no noise? If not: fuse out, pack off, at once.";
/// Most that the body diodes of a board's transistors take off what is fed backwards. Common practice, no source.
const DIODES_V: f64 = 1.3;
/// Voltage for each cell that the limited supply gives: enough to show a path, less than a full cell. Common practice, no source.
const PROBING_V: f64 = 3.6;
/// Its current limit.
const PROBING_A: f64 = 0.5;
/// Less resistance than this across the battery leads is a short, not a load at rest. Common practice, no source.
const LEAST_OHM: f64 = 100.0;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    if making.workspace.pack.series.is_none() {
        return vec![];
    }
    let mut steps = vec![continuity()];
    steps.extend(backwards(making));
    steps.push(limited_supply::step(making));
    steps.extend(pack_in(making));
    steps.extend(jack(making));
    steps.extend(fuse_in(making));
    steps.push(load(making));
    steps.extend(selector(making));
    steps.extend(change_over(making));
    steps
}

fn continuity() -> BuildStep {
    BuildStep::new(
        Phase::FirstPower,
        "power/continuity",
        "No continuity across the battery leads",
        "A short here would carry everything that the pack can give.",
    )
    .how([
        "Pack unplugged or fuse out, switch off.",
        "Ohms between the two leads that go to the pack. A rising value is a capacitor: wait.",
    ])
    .tools(&["meter, ohms"])
    .asks(vec![BuildAsk::read(
        "leads",
        "across the battery leads",
        ["lead to plus", "lead to minus"],
        Expects::Band {
            low: Some(LEAST_OHM),
            high: None,
            unit: Unit::Ohm,
            because: "less is a short, or a switch that is on".to_owned(),
        },
    )])
    .if_not("Do not connect the pack. Find the short: undo one lead after the other until it is gone.")
}

/// The limited supply at the charge input, pack out. Only where a plug parts the pack from a board or a charge lead.
fn backwards(making: &Making<'_>) -> Option<BuildStep> {
    let workspace = making.workspace;
    let series = workspace.pack.series?;
    let jack = workspace.charge_path.nodes.iter().find(|n| n.kind == NodeKind::Jack && n.connector().is_some())?;
    // A module inside takes another voltage at the jack than the pack has.
    if workspace.is_input_jack(jack) || making.plan.charging.host == Some(HostCircuit::ChargesPack) {
        return None;
    }
    let parts = workspace.charge_path.nodes.iter().any(|n| n.kind == NodeKind::Connector);
    if !parts {
        return None;
    }
    let set_v = f64::from(series) * PROBING_V;
    let guarded = workspace.charge_path.nodes.iter().any(|n| n.kind == NodeKind::Board);
    let lost_v = if guarded { DIODES_V } else { 0.1 };
    let error_v = making.predicted.error_v(set_v);
    let because = if guarded {
        "the supply, less what the board’s diodes may take: up to 1.3 V"
    } else {
        "the supply, with the error of the meter"
    };
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/backwards",
            "Limited supply on the charge jack, pack out",
            "Proves polarity and path of the charge side with half an ampere instead of the pack.",
        )
        .how([
            format!(
                "Set {}, limit {}. Plus where the charger’s plus will be.",
                show(set_v, Unit::V),
                show(PROBING_A, Unit::A)
            ),
            "Read at the plug that the pack will go into.".to_owned(),
            "It does not charge anything: it only shows that the path is complete.".to_owned(),
        ])
        .tools(&["bench supply", "meter, voltage"])
        .asks(vec![
            BuildAsk::read(
                "pins",
                "at the pack’s plug",
                ["plug, plus", "plug, minus"],
                Expects::Band {
                    low: Some(set_v - lost_v - error_v),
                    high: Some(set_v + error_v),
                    unit: Unit::V,
                    because: because.to_owned(),
                },
            ),
            BuildAsk::yes("cool", WATCH),
        ])
        .if_not("Minus: the jack or the plug is reversed. Zero: a lead is open. Limit reached: a short.")
        .shows([jack.id.clone()]),
    )
}

/// A reading at the contacts, which the plan's charging keeps.
fn in_plan(name: &str) -> Counts {
    Counts::Plan { at: format!("/charging/{name}") }
}

/// The pack in, everything off: every point that has a steady voltage.
fn pack_in(making: &Making<'_>) -> Option<BuildStep> {
    let fuse = making.workspace.line.nodes.iter().position(|n| n.fuse().is_some());
    // What lies behind the empty fuse holder has nothing yet.
    let dead: Vec<&str> =
        fuse.map_or(vec![], |i| making.workspace.line.nodes[i..].iter().map(|n| n.id.as_str()).collect());
    let line: Vec<&str> = making.workspace.line.nodes.iter().map(|n| n.id.as_str()).collect();
    let charge = making.workspace.charge_path.nodes.iter().map(|n| n.id.as_str());
    let charge: Vec<&str> = charge.filter(|id| !line.contains(id)).collect();
    let asks = making.predicted.asks(Condition::Off, |p| {
        !dead.contains(&p.probe.at.as_str()) && !charge.contains(&p.probe.at.as_str()) && p.probe.at != "device"
    });
    if asks.is_empty() {
        return None;
    }
    // What the Charging stage compares: the cells, and the way out at the same moment.
    let counted = |ask: BuildAsk| match ask.what.as_str() {
        "the whole pack" => ask.counts(in_plan("cells_v")),
        "board, output" => ask.counts(in_plan("out_v")),
        _ => ask,
    };
    let mut asks: Vec<BuildAsk> = asks.into_iter().map(counted).collect();
    asks.push(BuildAsk::yes("cool", WATCH));
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/pack",
            "Pack in, everything off: read every point",
            "Finds a wrong voltage where it does no harm yet.",
        )
        .how(["Plug the pack in. Fuse still out, switch off.", "Read from the pack outwards."])
        .tools(&["meter, voltage"])
        .hazard("The pack cannot be switched off. Covered leads, no rings, fire bucket and way out clear.")
        .asks(asks)
        .if_not("Pack out at once. The first wrong point from the pack outwards is where the fault is."),
    )
}

/// The jack, as the pack stands behind it, and the charger's plug by itself: both must agree before they meet.
fn jack(making: &Making<'_>) -> Option<BuildStep> {
    let workspace = making.workspace;
    let charges = workspace.charges()?;
    if making.plan.charging.host == Some(HostCircuit::ChargesPack) {
        return None;
    }
    let jack = workspace.charge_path.nodes.iter().find(|n| n.connector().is_some())?;
    let mut asks: Vec<BuildAsk> = vec![];
    if !workspace.is_input_jack(jack) {
        let halves = making.predicted.at(Condition::Off, &jack.id);
        let half = halves.into_iter().find(|a| a.what.contains("pack’s half"));
        asks.extend(half.map(|a| a.counts(in_plan("jack_v"))));
        let end_v = charges.output_v.value;
        let (low_v, high_v) = charges.output_v.band();
        let band = Expects::Band {
            low: Some(low_v * (1.0 - charges.tolerance.unwrap_or(0.01)) - making.predicted.error_v(end_v)),
            high: Some(high_v * (1.0 + charges.tolerance.unwrap_or(0.01)) + making.predicted.error_v(end_v)),
            unit: Unit::V,
            because: "what the charger ends at; with nothing on it some show less until a pack is there".to_owned(),
        };
        asks.push(
            BuildAsk::read("charger", "at the charger’s plug, nothing on it", ["plug, plus", "plug, minus"], band)
                .counts(in_plan("plug_v")),
        );
    }
    asks.push(BuildAsk::yes("agrees", "Plus of the charger’s plug meets plus of the jack?"));
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/jack",
            "Polarity of jack and charger",
            "A reversed charger discharges the pack through its own output.",
        )
        .how(["Red probe on the inner contact, both times.", "Write both signs down before the two meet."])
        .tools(&["meter, voltage"])
        .asks(asks)
        .if_not("Do not plug it in. Swap the two leads at the jack, and read again.")
        .shows([jack.id.clone()]),
    )
}

/// The fuse goes in with everything off: nothing may flow.
fn fuse_in(making: &Making<'_>) -> Option<BuildStep> {
    let fuse = making.workspace.line.nodes.iter().find(|n| n.fuse().is_some())?;
    let behind = making.predicted.at(Condition::Off, &fuse.id).into_iter().filter(|a| a.what.starts_with("behind"));
    let mut asks: Vec<BuildAsk> = behind.collect();
    asks.push(BuildAsk::yes("quiet", "Nothing but a small spark, nothing runs, nothing warm?"));
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/fuse",
            "Fuse in, switch still off",
            "With the switch off nothing may flow; what does is a fault.",
        )
        .how(["Put the fuse in.", "Read behind it."])
        .tools(&["meter, voltage"])
        .asks(asks)
        .if_not("Fuse out. Something behind it draws although it is off: read continuity again.")
        .shows([fuse.id.clone()]),
    )
}

/// On the pack, at its usual load.
fn load(making: &Making<'_>) -> BuildStep {
    let mut asks = making.predicted.at(Condition::Running, "device");
    asks.retain(|a| a.unit() == Some(Unit::V));
    asks.push(BuildAsk::yes("cool", WATCH));
    BuildStep::new(
        Phase::FirstPower,
        "power/load",
        "Switch it on, at its usual load",
        "Under load the joints show what they lose.",
    )
    .how([
        "A few seconds first, hand on the switch.",
        "Then half a minute, and read at the device while it runs.",
        "Feel every joint, strip and lead afterwards.",
    ])
    .tools(&["meter, voltage"])
    .hazard("Blades, belts and fans: guard on, hands off.")
    .asks(asks)
    .if_not("Lower than predicted: a joint or lead is too thin; feel which one is warm. Higher: read it again.")
    .shows(["device"])
}

/// Two packs that are set in series or side by side: both positions read with the device off, before either is used.
fn selector(making: &Making<'_>) -> Option<BuildStep> {
    let second = making.plan.feed.second.as_ref()?;
    if second.used_in_series != Some(true) || second.used_in_parallel != Some(true) {
        return None;
    }
    let mut asks = making.predicted.selector();
    asks.push(BuildAsk::yes(
        "parts",
        "Turning it, does it disconnect both packs before it joins them again, with no spark?",
    ));
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/selector",
            "Read behind the selector in each position",
            "If you turn it while the device runs, or with packs at different voltages, one pack discharges into the other and nothing limits the current.",
        )
        .how([
            "Device switched off. Both packs rested at the same voltage.",
            "Set it, wait a second, read behind it; then the other position.",
        ])
        .tools(&["meter, voltage"])
        .hazard("Never turn it under load. Two packs in series may be over 30 V: one hand, covered leads.")
        .asks(asks)
        .if_not("Leave it in the position that reads right, and wire it again: a contact joins what it must not.")
        .shows(["second-pack"]),
    )
}

/// Two feeds that change over, tried as they will be in use.
fn change_over(making: &Making<'_>) -> Option<BuildStep> {
    making.plan.feed.change_over.as_ref()?;
    Some(
        BuildStep::new(
            Phase::FirstPower,
            "power/change-over",
            "Let the feeds change over, both ways",
            "A gap that restarts the device, or a comparator that cannot decide, shows only here.",
        )
        .how([
            "Device on, at its usual load. Plug the other feed in, wait, pull it. Five times.",
            "Once more with the pack nearly empty, and once with it full.",
            "Several cells side by side: also with each one taken out in turn.",
        ])
        .asks(vec![
            BuildAsk::yes("through", "It runs through each time, nothing restarts?"),
            BuildAsk::yes("decides", "It changes once each time, without clicking to and fro?"),
            BuildAsk::yes("apart", "Neither feed pushes current into the other?"),
        ])
        .if_not("It restarts: the hold-up is too small. It chatters: more hysteresis, or measure nearer to the source.")
        .shows(["change-over"]),
    )
}
