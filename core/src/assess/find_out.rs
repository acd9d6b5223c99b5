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
}

/// Whether it is open, what to find out and how, what it settles.
type Question = (bool, &'static str, &'static str);

/// What a stage still wants to know, the most settling first.
pub fn to_find_out(workspace: &Workspace<'_>, stage: Stage) -> Vec<ToFindOut> {
    let cell = workspace.cell();
    let board = workspace.any_board().map(|(_, p)| p);
    let fuse = workspace.line.nodes.iter().find_map(|n| n.fuse());
    let questions: Vec<Question> = match stage {
        Stage::Device => device(workspace),
        Stage::Voltage => voltage(workspace),
        Stage::Cells if workspace.ready().is_some() => ready(workspace),
        Stage::Cells => vec![
            (
                cell.is_some_and(|c| c.discharge_a.is_none()),
                "Continuous rating of the cell, from its data sheet",
                "the limit of the cells",
            ),
            (
                cell.is_some_and(|c| c.dcir_ohm.is_none()),
                "DCIR of the cell: volts before and during a known current",
                "sag, run time, short-circuit current",
            ),
            (cell.is_some_and(|c| c.charge_a.is_none()), "Highest charge current of the cell", "the charger"),
        ],
        Stage::Brick => vec![],
        Stage::Protection => vec![
            (
                board.is_some_and(|p| p.trip_a.is_none() && p.detect_v.is_none()),
                "Trip current of the board",
                "who acts first in a stall",
            ),
            (
                board.is_some_and(|p| p.over_discharge_v.is_none()),
                "Volts at which the board ends the discharge",
                "how deep the cells go",
            ),
            (
                board.is_some_and(|p| p.series.is_none()),
                "For how many cells in series the board is made: count its tap pads, one more than cells",
                "whether it sees every cell",
            ),
            (
                charge_unfused(workspace),
                "A fuse where the charge leads leave the pack, or that a part on the way limits it",
                "what ends a short in jack, charge leads and charger",
            ),
            (board.is_some_and(|p| p.continuous_a.is_none()), "Continuous current of the board", "the weakest link"),
            (
                fuse.is_some_and(|f| f.breaking_a.is_none()),
                "Breaking capacity of the fuse",
                "whether it can end a dead short",
            ),
            (
                fuse.is_some_and(|f| f.style == FuseStyle::Other),
                "Time-current curve of the fuse, from its data sheet",
                "whether it opens before anything is harmed",
            ),
            (
                board.is_some_and(|p| p.bleed_a.is_none()),
                "Bleed current of the board, or that it has none",
                "how spread cells come level",
            ),
            (
                workspace
                    .any_board()
                    .is_some_and(|(m, _)| workspace.plan.arrivals.iter().all(|a| a.part != m.offer.name)),
                "Its arrival tests, on dummy cells, before anything is soldered",
                "whether the board is what its seller says",
            ),
        ],
        Stage::Charging => charging(workspace),
        Stage::Wiring => wiring(workspace),
        Stage::Run => vec![],
    };
    questions
        .into_iter()
        .filter(|&(open, ..)| open)
        .map(|(_, what, settles)| ToFindOut { what: what.to_owned(), settles: settles.to_owned() })
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
    let balances = workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let several = pack.series > 1;
    vec![
        (
            pack.guarded.is_none(),
            "Whether it has protection inside: its label, or its volts after its own device has switched off empty",
            "who ends the discharge",
        ),
        (
            pack.c_rating.is_none() && pack.continuous_a.is_none(),
            "Continuous current or C rating of the pack, from its label",
            "the limit of the pack",
        ),
        (
            pack.resistance_ohm.is_none(),
            "Resistance of the pack: its volts before and during a known current",
            "sag, run time, short-circuit current",
        ),
        (pack.charge_a.is_none(), "Highest charge current of the pack", "the charger"),
        (
            several && pack.taps.is_none() && (balances || workspace.any_board().is_some()),
            "Whether it has a balance plug, a pin for every group",
            "whether its groups can be watched and levelled",
        ),
        (
            pack.size_mm().is_none() && !workspace.is_kept() && workspace.plan.feed.outside.is_none(),
            "Length, width and height of the pack, leads included",
            "whether it goes into its place",
        ),
    ]
}

fn wiring(workspace: &Workspace<'_>) -> Vec<Question> {
    let mut wires = workspace.plan.connections.iter().filter(|r| r.wire.part().is_some());
    let wired = workspace.plan.connections.iter().any(|r| r.wire.part().is_some());
    let tapped = workspace.pack.series.is_some_and(|s| s > 1) && workspace.any_board().is_some();
    let done = &workspace.plan.wiring;
    vec![
        (wires.any(|r| r.length_mm.is_none()), "Length of each wire, one way", "drop and resistance"),
        (
            tapped && done.taps.as_ref().is_none_or(|t| t.order_read.is_none()),
            "Order of the tap wires: each pin against pack minus, one cell more each time",
            "whether the board gets each cell where it belongs",
        ),
        (
            wired && done.strain_relief.is_none(),
            "What holds the leads before their joints",
            "whether a pull breaks a joint",
        ),
    ]
}

fn charging(workspace: &Workspace<'_>) -> Vec<Question> {
    let (charges, read) = (workspace.charges(), &workspace.plan.charging);
    let plugged = workspace.plan.nodes.iter().any(|n| n.kind == NodeKind::Jack && n.connector().is_some());
    let host = workspace.plan.device.brains.charges_itself == Some(true);
    vec![
        (
            charges.is_some_and(|c| c.output_a.is_none()),
            "Charge current: is the rated current input or output?",
            "charge time, supply, cell and board limits",
        ),
        (
            charges.is_some_and(|c| c.output_v.how != How::Measured),
            "End volts of the charger, off load, to the last digit",
            "whether it over-charges",
        ),
        (
            charges.is_some() && plugged && (read.jack_v.is_none() || read.plug_v.is_none()),
            "Which contact is plus, in the jack and in the plug",
            "whether charger and pack meet the right way round",
        ),
        (
            host && read.host.is_none(),
            "What becomes of the device's own charge circuit",
            "whether two chargers work on one pack",
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
            "Set point of the converter, read before it is wired in and again under load",
            "whether the device gets the volts meant for it",
        ),
        (
            second.is_some_and(|s| s.break_before_make.is_none()),
            "Whether the switch breaks before it makes: ohms between both positions while it is turned",
            "whether it shorts a pack on its way",
        ),
        (
            second.is_some() && workspace.each_guarded().is_none(),
            "Whether each pack has a guard of its own",
            "whether the smaller can be driven below zero",
        ),
        (unlevel, "Volts of both packs at rest, just before they are joined", "the current that flows between them"),
        (
            change.is_some_and(|c| {
                c.threshold_v.is_some() && (c.host_charging_v.is_none() || c.host_on_battery_v.is_none())
            }),
            "What the comparator sees while the host charges, and while it runs on the pack",
            "where its threshold must lie",
        ),
        (
            unread,
            "What the gauge shows, and what a meter reads at the same moment",
            "how it reads today, loading of its input included",
        ),
    ]
}

/// What a survey leaves open. What the kind of job does not ask is no question.
fn device(workspace: &Workspace<'_>) -> Vec<Question> {
    let d = &workspace.plan.device;
    let (o, brains, proving) = (&d.original, &d.brains, &d.proving);
    let asks = |ask: Ask| d.job.is_none_or(|job| JobSheet::of(job).asks.contains(&ask));
    let under_read = d.loads.iter().any(|load| device::reading(&load.draw).how == How::LowerBound);
    let unmetered = d.apart.iter().any(|step| step.pulls_wire && !step.done && step.live.is_none());
    let bears = &d.surroundings;
    vec![
        (
            asks(Ask::Battery) && proving.lives.is_none(),
            "Whether it lives: a current-limited supply in the old battery's place",
            "whether anything more is worth finding out",
        ),
        (
            d.kind == DeviceKind::Unsaid,
            "What kind of thing it is: motor, pump or fan, electronics, lamp",
            "what its volts do to speed and current, and how it starts",
        ),
        (
            d.loads.is_empty(),
            "Running current, with a meter in series",
            "cells in parallel, board, fuse, wire and run time",
        ),
        (
            d.highest_v.is_none(),
            "Highest volts: the label, or the old battery fresh off its charger",
            "which packs may feed it directly",
        ),
        (
            d.lowest_v.is_none() && d.cutout_v.is_none(),
            "Lowest volts: sweep a current-limited supply down until it stops",
            "how much of the charge it can use",
        ),
        (
            asks(Ask::HostCharger) && brains.charges_itself.is_none(),
            "Whether it charges its battery itself: volts at the battery leads with its mains in and no battery",
            "whether a charge circuit must be cut off or followed",
        ),
        (
            asks(Ask::HostCharger) && brains.charges_itself == Some(true) && brains.charge_v.is_none(),
            "Volts of its charge circuit, with a battery on it and without",
            "whether a new pack may stay on it",
        ),
        (
            !d.loads.is_empty() && !workspace.asked.iter().any(|a| !a.level.is_long()),
            "Start or stall peak; a hand meter under-reads it",
            "trip current, fuse and pulse rating",
        ),
        (
            under_read,
            "The true peak: a scope over a piece of wire, or a fuse that just holds",
            "whether board and fuse bear the start",
        ),
        (
            asks(Ask::Battery) && (o.chemistry.is_none() || o.series.is_none()),
            "Chemistry and cells of the old battery",
            "what may be assumed until it is measured",
        ),
        (
            asks(Ask::Battery) && o.chemistry.is_some_and(|c| c.facts().rechargeable_lithium) && o.label_v.is_none(),
            "Volts printed on the old battery: 3.2 V a cell is phosphate, 3.6 or 3.7 V is not",
            "which lithium it was, and with it what the device bears",
        ),
        (
            asks(Ask::Pins) && (brains.identity_pins.is_none() || brains.temperature_pins.is_none()),
            "What the small contacts of the pack carry: ohms to minus with the pack out, volts with it in",
            "whether its own electronics must stay",
        ),
        (
            asks(Ask::Gauge) && brains.alarms.is_empty(),
            "Volts at which its gauge changes: turn a supply down and write each step",
            "whether the gauge must be re-scaled",
        ),
        (
            asks(Ask::Selector) && brains.selector.is_none(),
            "Whether a selector sets series or parallel, and the volts at each position",
            "which pack volts it really runs on",
        ),
        (
            asks(Ask::SoftStart) && brains.soft_start.is_none(),
            "Whether it starts softly: the first half second against the running current",
            "whether the new feed may go round its electronics",
        ),
        (
            asks(Ask::Compartment) && d.compartments.is_empty(),
            "Inside of the place for the pack, with what stands in the way",
            "which cells and layouts fit",
        ),
        (
            asks(Ask::Charger) && o.charger_label_v.is_some() && o.charger_v.is_none(),
            "Volts of the old charger, off load",
            "whether it is regulated",
        ),
        (
            asks(Ask::Battery) && unmetered,
            "Each wire that comes off: always live, live when on, or not connected",
            "where the new pack and its taps may be joined",
        ),
        (o.run_s.is_none() && d.wanted_run_s.is_none(), "How long it should run", "cells in parallel"),
        (
            asks(Ask::Surroundings) && (bears.wet.is_none() || bears.dusty.is_none() || bears.shocks.is_none()),
            "What it must bear: wet, dust, knocks",
            "enclosure, connector and the way of the heat",
        ),
    ]
}
