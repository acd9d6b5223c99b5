//! Trips, functions, a timed run, reassembly, label and storage.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::assess::figures::run::TIME_S;
use crate::base::chemistry::curve;
use crate::base::quantity::{Unit, show};
use crate::physics::device::apart::usual;
use crate::plan::{DeviceKind, NodeKind};

/// How much shorter a first run may be than predicted. Common practice, no source.
const SHORTER: f64 = 0.85;
/// And longer: longer is no fault, but far longer means that something was not measured.
const LONGER: f64 = 1.4;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    if making.workspace.pack.series.is_none() {
        return vec![];
    }
    let mut steps: Vec<BuildStep> = trips(making).into_iter().collect();
    steps.push(functions(making));
    steps.push(timed_run(making));
    steps.push(together(making));
    steps.push(label());
    steps.extend(storage(making));
    steps
}

/// The overcurrent trip, on the finished pack. The other trips were proved on dummy cells on arrival.
fn trips(making: &Making<'_>) -> Option<BuildStep> {
    let board = making.plan.nodes.iter().find(|n| n.kind == NodeKind::Board)?;
    let trip_a = board.module()?.protects.as_ref()?.trip_a.as_ref()?.value;
    // A fuse that carries less than the trip would end the test, and itself.
    let fuse = making.workspace.line.nodes.iter().find_map(|n| n.fuse());
    let place = match fuse {
        Some(fuse) if fuse.rating_a < 1.5 * trip_a => {
            "Before the fuse, which would blow first, with leads rated for it"
        }
        Some(_) => "Behind the fuse",
        None => "At the board’s output",
    };
    Some(
        BuildStep::new(
            Phase::HandOver,
            "trips/over-current",
            "Test the overcurrent trip",
            "A board whose print is twice what its MOSFETs can do is found here, not in a stall.",
        )
        .how([
            format!("{place}: raise the load in steps of a tenth, two seconds each, up to {}.", show(1.5 * trip_a, Unit::A)),
            "Note the current at which it opens. Take the load off; see that it closes again.".to_owned(),
            "Without such a large load skip this with a reason: the fuse then ends an overload.".to_owned(),
        ])
        .tools(&["electronic load or known resistors", "clamp meter"])
        .hazard("Leads and resistors get hot in seconds. Never test a trip with a dead short.")
        .asks(vec![BuildAsk::read("trip", "opens at", ["into the load", ""], Expects::Band {
            low: Some(0.6 * trip_a - making.predicted.error_a(trip_a)),
            high: Some(1.4 * trip_a + making.predicted.error_a(trip_a)),
            unit: Unit::A,
            because: "the stated trip; boards of this kind are good to about a third".to_owned(),
        })
        .counts(Counts::Figure {
            place: board.id.clone(),
            at: "/part/part/module/protects/trip_a".to_owned(),
        })])
        .if_not("It opens early: use that current in the plan. It does not open: the fuse alone protects, so choose it for that.")
        .shows([board.id.clone()]),
    )
}

/// What the device does, as its maker lists it; proposed by its kind.
fn functions(making: &Making<'_>) -> BuildStep {
    let list: &[(&str, &str)] = match making.plan.device.kind {
        DeviceKind::Motor => &[
            ("starts", "Starts from rest, also under load?"),
            ("stops", "Stops when the switch is let go; brake or lock works?"),
            ("speeds", "All speeds, both directions?"),
        ],
        DeviceKind::FanOrPump => &[
            ("starts", "Starts at every setting?"),
            ("flow", "Moves as much as before, filter and hoses in place?"),
            ("stall", "Stops, and does not hum, when it is blocked for a second?"),
        ],
        DeviceKind::Electronics => &[
            ("boots", "Starts, and stays on at its largest load?"),
            ("menus", "Every button, connector and display?"),
            ("gauge", "Battery display follows the pack?"),
        ],
        DeviceKind::Resistive => &[("steps", "Every step?"), ("warms", "As bright or as warm as before?")],
        DeviceKind::Unsaid => &[("all", "Everything it can do, one after the other?")],
    };
    let mut asks: Vec<BuildAsk> = list.iter().map(|(key, what)| BuildAsk::yes(key, *what)).collect();
    if making.plan.module(NodeKind::Alarm).is_some() {
        asks.push(BuildAsk::yes("alarm", "The alarm sounds when its plug is read at a low cell?"));
    }
    asks.extend(gauge(making));
    BuildStep::new(
        Phase::HandOver,
        "functions",
        "Every function of the device",
        "What is not tried on the bench fails in the field.",
    )
    .asks(asks)
    .if_not("Write down which one, and whether it worked before.")
    .shows(["device"])
}

/// A gauge that was fed again, and every level it warns at.
fn gauge(making: &Making<'_>) -> Vec<BuildAsk> {
    let (feed, electronics) = (&making.plan.feed, &making.plan.device.electronics);
    let mut asks = vec![];
    if feed.gauge.is_some() || !electronics.alarms.is_empty() {
        asks.push(BuildAsk::yes("gauge-full", "The gauge shows full on a full pack, and falls as it empties?"));
    }
    asks.extend(electronics.alarms.iter().enumerate().map(|(i, level)| {
        let what = format!("“{}” comes at its level on a supply that is turned down slowly?", level.name);
        BuildAsk::yes(&format!("level-{}", i + 1), what)
    }));
    asks
}

fn timed_run(making: &Making<'_>) -> BuildStep {
    // A run of no length is no run: what ends it at once is told in the plan.
    let run = making.workspace.ledger.get(TIME_S.id).filter(|f| f.value > 0.0);
    let expects = run.map_or(Expects::Unknown { unit: Unit::S, usual: String::new() }, |f| {
        let (low, high) = f.ends();
        Expects::Band {
            low: Some(low * SHORTER),
            high: Some(high * LONGER),
            unit: Unit::S,
            because: "the predicted run, at the usual load".to_owned(),
        }
    });
    BuildStep::new(
        Phase::HandOver,
        "run/timed",
        "Timed run from full",
        "The run is the sum of everything: cells, joints, load. It also shows what the device really draws.",
    )
    .how([
        "From full, at the usual load, until it stops by itself.",
        "Stay with it. Feel the cells every few minutes: above 60 °C, stop.",
    ])
    .tools(&["clock", "thermometer"])
    .asks(vec![
        BuildAsk::read("run", "it ran for", ["", ""], expects),
        BuildAsk::yes("guard", "Ended by the board, the cut-off or the device, not by you?"),
        BuildAsk::yes("warm", "No cell above 60 °C?"),
    ])
    .if_not("Shorter: read the groups now, while they are low; the lowest one says which cell holds less.")
}

fn together(making: &Making<'_>) -> BuildStep {
    let apart = &making.plan.device.apart;
    let planned = if apart.is_empty() { usual() } else { apart.clone() };
    let surroundings = &making.plan.device.surroundings;
    let mut asks = vec![BuildAsk::yes("free", "No wire pinched, nothing presses on the pack, no screw left over?")];
    if surroundings.wet == Some(true) || surroundings.dusty == Some(true) {
        asks.push(BuildAsk::yes("sealed", "Gaskets in, glands tight, no opening towards board and cells?"));
    }
    if surroundings.shocks == Some(true) {
        asks.push(BuildAsk::yes("held", "Nothing moves or rattles when it is shaken?"));
    }
    asks.push(BuildAsk::yes("runs", "Closed: still runs and still charges?"));
    let back = planned.iter().rev().map(|s| format!("Backwards: {}", s.what)).collect::<Vec<_>>();
    BuildStep::new(
        Phase::HandOver,
        "together",
        "Put it together again",
        "Backwards through the photographs: nothing pinched, every screw back.",
    )
    .how(back)
    .tools(&["the photographs"])
    .hazard("Screws that are too long reach a cell. Nothing may press on the pack.")
    .asks(asks)
    .if_not("Open it again before it is used.")
}

fn label() -> BuildStep {
    BuildStep::new(
        Phase::HandOver,
        "label",
        "Put the label on",
        "Whoever charges it next year knows only what the label says.",
    )
    .how([
        "Print the label of the plan.",
        "On the pack and at the jack: chemistry, count, charge voltage, which charger, date.",
    ])
    .asks(vec![BuildAsk::yes("on", "On the pack and readable?")])
}

/// Half full for a pack that is put away.
fn storage(making: &Making<'_>) -> Option<BuildStep> {
    let pack = making.workspace.pack;
    let (series, chemistry) = (f64::from(pack.series?), pack.chemistry?);
    let ocv = curve(chemistry);
    let (low_v, high_v) = (series * ocv.ocv_v(0.35), series * ocv.ocv_v(0.65));
    Some(
        BuildStep::new(
            Phase::HandOver,
            "storage",
            "Not used for weeks: store it half full",
            "Full and warm it ages fastest; empty it is drained below its minimum.",
        )
        .how(["40 to 60 % charged, cool, dry, switched off or unplugged.", "Read it every three months."])
        .tools(&["meter, voltage"])
        .asks(vec![BuildAsk::read(
            "pack",
            "the whole pack, rested",
            ["B+", "B0"],
            Expects::Band {
                low: Some(low_v - making.predicted.error_v(low_v)),
                high: Some(high_v + making.predicted.error_v(high_v)),
                unit: Unit::V,
                because: "between a third and two thirds charged".to_owned(),
            },
        )])
        .if_not("Run it down or charge it to that voltage. If you use it tomorrow, say so and go on."),
    )
}
