//! What is not known yet: the measurement that settles most, first.

use serde::Serialize;
use utoipa::ToSchema;

use super::stage::Stage;
use super::workspace::Workspace;
use crate::physics::device;
use crate::physics::device::jobs::{Ask, JobSheet};
use crate::plan::{DeviceKind, FuseStyle, How, NodeKind};

/// Something a measurement or a label would settle.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ToFindOut {
    /// What to find out, and how.
    pub what: String,
    /// What it settles.
    pub settles: String,
    /// Where the answer is typed, as a pointer into the plan.
    pub at: String,
}

/// Whether it is open, what to find out and how, what it settles, where the answer is typed.
type Question = (bool, &'static str, &'static str, String);

/// Where something of the device is typed.
fn of_device(field: &str) -> String {
    format!("/device/{field}")
}

/// What a stage still needs to know, the most settling first.
pub fn to_find_out(workspace: &Workspace<'_>, stage: Stage) -> Vec<ToFindOut> {
    let cell = workspace.cell();
    let board = workspace.any_board().map(|(_, p)| p);
    let fuse = workspace.line.nodes.iter().find_map(|n| n.fuse());
    let part_of_cell = |field: &str| format!("/packs/0/cell/part/{field}");
    let board_at = |field: &str| workspace.pointer(NodeKind::Board) + "/part/part/module/protects/" + field;
    let fuse_at = |field: &str| workspace.pointer(NodeKind::Fuse) + "/part/part/fuse/" + field;
    let questions: Vec<Question> = match stage {
        Stage::Device => device(workspace),
        Stage::Voltage => voltage(workspace),
        Stage::Cells if workspace.ready().is_some() => ready(workspace),
        Stage::Cells => vec![
            (
                cell.is_some_and(|c| c.discharge_a.is_none()),
                "Continuous rating of the cell, from its data sheet",
                "the limit of the cells",
                part_of_cell("discharge_a"),
            ),
            (
                cell.is_some_and(|c| c.dcir_ohm.is_none()),
                "DCIR of the cell: voltage before and during a known current",
                "sag, run time, short-circuit current",
                part_of_cell("dcir_ohm"),
            ),
            (
                cell.is_some_and(|c| c.charge_a.is_none()),
                "Highest charge current of the cell",
                "the charger",
                part_of_cell("charge_a"),
            ),
        ],
        Stage::Brick => vec![],
        Stage::Protection => vec![
            (
                board.is_some_and(|p| p.trip_a.is_none() && p.detect_v.is_none()),
                "Trip current of the board",
                "who acts first in a stall",
                board_at("trip_a"),
            ),
            (
                board.is_some_and(|p| p.over_discharge_v.is_none()),
                "Voltage at which the board ends the discharge",
                "how deep the cells go",
                board_at("over_discharge_v"),
            ),
            (
                board.is_some_and(|p| p.series.is_none()),
                "For how many cells in series the board is made: count its tap pads, one more than cells",
                "whether it sees every cell",
                board_at("series"),
            ),
            (
                charge_unfused(workspace),
                "A fuse where the charge leads leave the pack, or another part that limits the current",
                "what ends a short in jack, charge leads and charger",
                "/charging".to_owned(),
            ),
            (
                board.is_some_and(|p| p.continuous_a.is_none()),
                "Continuous current of the board",
                "the weakest link",
                board_at("continuous_a"),
            ),
            (
                fuse.is_some_and(|f| f.breaking_a.is_none()),
                "Breaking capacity of the fuse",
                "whether it can end a dead short",
                fuse_at("breaking_a"),
            ),
            (
                fuse.is_some_and(|f| f.style == FuseStyle::Other),
                "Time-current curve of the fuse, from its data sheet",
                "whether it opens before anything is damaged",
                fuse_at("style"),
            ),
            (
                board.is_some_and(|p| p.bleed_a.is_none()),
                "Bleed current of the board, or that it has none",
                "how unbalanced cells are balanced",
                board_at("bleed_a"),
            ),
            (
                workspace
                    .any_board()
                    .is_some_and(|(m, _)| workspace.plan.arrivals.iter().all(|a| a.part != m.offer.name)),
                "Its arrival tests, on dummy cells, before anything is soldered",
                "whether the board is what its seller says",
                workspace.pointer(NodeKind::Board),
            ),
        ],
        Stage::Charging => charging(workspace),
        Stage::Wiring => wiring(workspace),
        Stage::Run => vec![],
    };
    questions
        .into_iter()
        .filter(|(open, ..)| *open)
        .map(|(_, what, settles, at)| ToFindOut { what: what.to_owned(), settles: settles.to_owned(), at })
        .collect()
}

/// Charge leads that no fuse stands before: a short in them draws on the cells.
fn charge_unfused(workspace: &Workspace<'_>) -> bool {
    let way = &workspace.charge_path;
    workspace.cell().is_some()
        && !workspace.charge_contacts().is_empty()
        && way.nodes.iter().all(|n| n.fuse().is_none())
}

/// What the label of a pack that comes as a whole leaves open.
fn ready(workspace: &Workspace<'_>) -> Vec<Question> {
    let Some(pack) = workspace.ready() else { return vec![] };
    let part_of_cell = |field: &str| format!("/packs/0/ready/part/{field}");
    let balances = workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let several = pack.series > 1;
    vec![
        (
            pack.guarded.is_none(),
            "Whether it has protection inside: its label, or its voltage after its own device has switched off empty",
            "who ends the discharge",
            part_of_cell("guarded"),
        ),
        (
            pack.c_rating.is_none() && pack.continuous_a.is_none(),
            "Continuous current or C rating of the pack, from its label",
            "the limit of the pack",
            part_of_cell("continuous_a"),
        ),
        (
            pack.resistance_ohm.is_none(),
            "Resistance of the pack: its voltage before and during a known current",
            "sag, run time, short-circuit current",
            part_of_cell("resistance_ohm"),
        ),
        (pack.charge_a.is_none(), "Highest charge current of the pack", "the charger", part_of_cell("charge_a")),
        (
            several && pack.taps.is_none() && (balances || workspace.any_board().is_some()),
            "Whether it has a balance plug, a pin for every group",
            "whether its groups can be watched and levelled",
            part_of_cell("taps"),
        ),
        (
            pack.size_mm().is_none() && !workspace.is_kept() && workspace.plan.feed.outside.is_none(),
            "Length, width and height of the pack, leads included",
            "whether it goes into its place",
            part_of_cell("length_mm"),
        ),
    ]
}

fn wiring(workspace: &Workspace<'_>) -> Vec<Question> {
    let unmeasured = workspace.plan.connections.iter().position(|r| r.wire.part().is_some() && r.length_mm.is_none());
    let wired = workspace.plan.connections.iter().any(|r| r.wire.part().is_some());
    let tapped = workspace.pack.series.is_some_and(|s| s > 1) && workspace.any_board().is_some();
    let done = &workspace.plan.wiring;
    vec![
        (
            unmeasured.is_some(),
            "Length of each wire, one way",
            "drop and resistance",
            format!("/runs/{}/length_mm", unmeasured.unwrap_or(0)),
        ),
        (
            tapped && done.taps.as_ref().is_none_or(|t| t.order_read.is_none()),
            "Order of the tap wires: each pin against pack minus, one cell more each time",
            "whether the board gets each cell where it belongs",
            "/wiring/taps".to_owned(),
        ),
        (
            wired && done.strain_relief.is_none(),
            "What holds the leads before their joints",
            "whether a pull breaks a joint",
            "/wiring/strain_relief".to_owned(),
        ),
    ]
}

fn charging(workspace: &Workspace<'_>) -> Vec<Question> {
    let (charges, read) = (workspace.charges(), &workspace.plan.charging);
    let plugged = workspace.plan.nodes.iter().any(|n| n.kind == NodeKind::Jack && n.connector().is_some());
    let host = workspace.plan.device.electronics.charges_itself == Some(true);
    let charger_at = |field: &str| workspace.pointer(NodeKind::Charger) + "/part/part/module/charges/" + field;
    vec![
        (
            charges.is_some_and(|c| c.output_a.is_none()),
            "Charge current: is the rated current input or output?",
            "charge time, supply, cell and board limits",
            charger_at("output_a"),
        ),
        (
            charges.is_some_and(|c| c.output_v.how != How::Measured),
            "End voltage of the charger, off load, to the last digit",
            "whether it overcharges",
            charger_at("output_v"),
        ),
        (
            charges.is_some() && plugged && (read.jack_v.is_none() || read.plug_v.is_none()),
            "Which contact is plus, in the jack and in the plug",
            "whether charger and pack are connected plus to plus",
            "/charging/jack_v".to_owned(),
        ),
        (
            host && read.host.is_none(),
            "What becomes of the device's own charge circuit",
            "whether two chargers work on one pack",
            "/charging/host".to_owned(),
        ),
    ]
}

fn voltage(workspace: &Workspace<'_>) -> Vec<Question> {
    let feed = &workspace.plan.feed;
    let second = feed.second.as_ref();
    let unlevel =
        second.is_some_and(|s| s.used_in_parallel == Some(true) && (s.first_rest_v.is_none() || s.rest_v.is_none()));
    let unread =
        feed.gauge.as_ref().is_some_and(|g| g.input_ohm.is_none() && (g.shown_v.is_none() || g.true_v.is_none()));
    let change = feed.change_over.as_ref();
    vec![
        (
            workspace.converter().is_some_and(|(_, c)| c.set_point_v.is_none()),
            "Set-point of the converter, read before it is wired in and again under load",
            "whether the device gets the voltage meant for it",
            workspace.pointer(NodeKind::Converter) + "/part/part/module/converts/set_point_v",
        ),
        (
            second.is_some_and(|s| s.break_before_make.is_none()),
            "Whether the switch breaks before it makes: ohms between both positions while it is turned",
            "whether it shorts a pack while turning",
            "/feed/second/break_before_make".to_owned(),
        ),
        (
            second.is_some() && workspace.each_guarded().is_none(),
            "Whether each pack has its own protection",
            "whether the smaller can be driven below zero",
            "/feed/second/each_guarded".to_owned(),
        ),
        (
            unlevel,
            "Voltage of both packs at rest, just before they are joined",
            "the current that flows between them",
            "/feed/second/first_rest_v".to_owned(),
        ),
        (
            change.is_some_and(|c| {
                c.threshold_v.is_some() && (c.host_charging_v.is_none() || c.host_on_battery_v.is_none())
            }),
            "What the comparator sees while the host charges, and while it runs on the pack",
            "where its threshold must lie",
            "/feed/change_over/host_charging_v".to_owned(),
        ),
        (
            unread,
            "What the gauge shows, and what a meter reads at the same moment",
            "how it reads today, loading of its input included",
            "/feed/gauge/shown_v".to_owned(),
        ),
    ]
}

/// What a survey leaves open. What the kind of job does not ask is no question.
fn device(workspace: &Workspace<'_>) -> Vec<Question> {
    let d = &workspace.plan.device;
    let (o, electronics, proving) = (&d.original, &d.electronics, &d.proving);
    let asks = |ask: Ask| d.job.is_none_or(|job| JobSheet::of(job).asks.contains(&ask));
    let under_read = d.loads.iter().any(|load| device::reading(&load.draw).how == How::LowerBound);
    let unmetered = d.apart.iter().any(|step| step.pulls_wire && !step.done && step.live.is_none());
    let surroundings = &d.surroundings;
    vec![
        (
            asks(Ask::Battery) && proving.lives.is_none(),
            "Whether it works: a current-limited supply in place of the old battery",
            "whether anything more is worth finding out",
            of_device("proving"),
        ),
        (
            d.kind == DeviceKind::Unsaid,
            "What kind of thing it is: motor, pump or fan, electronics, lamp",
            "what a change of voltage does to speed and current, and how it starts",
            of_device("kind"),
        ),
        (
            d.loads.is_empty(),
            "Running current, with a meter in series",
            "cells in parallel, board, fuse, wire and run time",
            of_device("loads"),
        ),
        (
            d.highest_v.is_none(),
            "Maximum voltage: the label, or the old battery fresh off its charger",
            "which packs may feed it directly",
            of_device("highest_v"),
        ),
        (
            d.lowest_v.is_none() && d.cutout_v.is_none(),
            "Minimum voltage: sweep a current-limited supply down until it stops",
            "how much of the charge it can use",
            of_device("lowest_v"),
        ),
        (
            asks(Ask::HostCharger) && electronics.charges_itself.is_none(),
            "Whether it charges its battery itself: voltage at the battery leads with its mains in and no battery",
            "whether a charge circuit must be cut off or followed",
            of_device("brains/charges_itself"),
        ),
        (
            asks(Ask::HostCharger) && electronics.charges_itself == Some(true) && electronics.charge_v.is_none(),
            "Voltage of its charge circuit, with a battery on it and without",
            "whether a new pack may stay on it",
            of_device("brains/charge_v"),
        ),
        (
            !d.loads.is_empty() && !workspace.asked.iter().any(|a| !a.level.is_long()),
            "Start or stall peak; a hand meter under-reads it",
            "trip current, fuse and pulse rating",
            of_device("loads"),
        ),
        (
            under_read,
            "The true peak: a scope over a piece of wire, or a fuse that just holds",
            "whether board and fuse are rated for the start",
            of_device("loads"),
        ),
        (
            asks(Ask::Battery) && (o.chemistry.is_none() || o.series.is_none()),
            "Chemistry and cells of the old battery",
            "what may be assumed until it is measured",
            of_device(if o.chemistry.is_none() { "original/chemistry" } else { "original/series" }),
        ),
        (
            asks(Ask::Battery) && o.chemistry.is_some_and(|c| c.facts().rechargeable_lithium) && o.label_v.is_none(),
            "Voltage printed on the old battery: 3.2 V per cell is phosphate, 3.6 or 3.7 V is not",
            "which lithium it was, and with it the device's limits",
            of_device("original/label_v"),
        ),
        (
            asks(Ask::Pins) && (electronics.identity_pins.is_none() || electronics.temperature_pins.is_none()),
            "What the small contacts of the pack carry: ohms to minus with the pack out, voltage with it in",
            "whether its own electronics must stay",
            of_device(if d.contacts.is_empty() { "contacts" } else { "brains/identity_pins" }),
        ),
        (
            asks(Ask::Gauge) && electronics.alarms.is_empty(),
            "Voltage at which its gauge changes: turn a supply down and write each step",
            "whether the gauge must be re-scaled",
            of_device("brains/alarms"),
        ),
        (
            asks(Ask::Selector) && electronics.selector.is_none(),
            "Whether a selector sets series or parallel, and the voltage at each position",
            "which pack voltage it really runs on",
            of_device("brains/selector"),
        ),
        (
            asks(Ask::SoftStart) && electronics.soft_start.is_none(),
            "Whether it starts softly: the first half second against the running current",
            "whether the new feed may go round its electronics",
            of_device("brains/soft_start"),
        ),
        (
            asks(Ask::Compartment) && d.compartments.is_empty(),
            "Inside of the compartment, with everything in the way",
            "which cells and layouts fit",
            of_device("compartments"),
        ),
        (
            asks(Ask::Charger) && o.charger_label_v.is_some() && o.charger_v.is_none(),
            "Voltage of the old charger, off load",
            "whether it is regulated",
            of_device("original/charger_v"),
        ),
        (
            asks(Ask::Battery) && unmetered,
            "Each wire that comes off: always live, live when on, or not connected",
            "where the new pack and its taps may be joined",
            of_device("apart"),
        ),
        (
            o.run_s.is_none() && d.wanted_run_s.is_none(),
            "How long it should run",
            "cells in parallel",
            of_device("wanted_run_s"),
        ),
        (
            asks(Ask::Surroundings)
                && (surroundings.wet.is_none() || surroundings.dusty.is_none() || surroundings.shocks.is_none()),
            "What it must withstand: wet, dust, knocks",
            "enclosure, connector and where the heat goes",
            of_device("surroundings"),
        ),
    ]
}
