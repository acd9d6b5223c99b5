//! The terms of the trade that a maker meets here, one line each, with the figures they belong to.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures;

/// A term, explained in one line.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct GlossaryTerm {
    /// The term.
    pub term: &'static str,
    /// What it means.
    pub says: &'static str,
    /// Ids of the figures it belongs to.
    pub figures: &'static [&'static str],
}

const fn term(term: &'static str, says: &'static str, figures: &'static [&'static str]) -> GlossaryTerm {
    GlossaryTerm { term, says, figures }
}

/// Every term, in alphabetical order.
pub const TERMS: &[GlossaryTerm] = &[
    term(
        "Balance plug (tap plug)",
        "Thin wires to every joint between groups, so that a board or charger sees each group.",
        &["taps.ohm", "taps.error_v"],
    ),
    term(
        "Balancing",
        "Bringing all groups to the same charge, so that none is full or empty before the others.",
        &["balance.apart_ah", "balance.level_s", "balance.charges"],
    ),
    term(
        "Bleed current",
        "The current a balancer takes out of a full group through its bypass resistor.",
        &["board.bleed_a", "balance.heat_w"],
    ),
    term(
        "BMS, protection board",
        "A board that watches every group and opens at overcharge, over-discharge, overload and short circuit.",
        &["board.continuous_a"],
    ),
    term("Boost (step-up) converter", "Its output voltage is above its input voltage.", &["converter.duty"]),
    term(
        "Breaking capacity",
        "The largest short-circuit current a fuse can interrupt without an arc that stays.",
        &["fuse.breaking_a"],
    ),
    term(
        "Buck (step-down) converter",
        "Its output voltage is below its input voltage; it needs some headroom.",
        &["converter.headroom_v", "converter.needs_v"],
    ),
    term("C rate", "Current divided by capacity: 1 C empties or fills a cell in about an hour.", &["charge.c_rate"]),
    term(
        "Capacity (Ah)",
        "The charge a full cell or pack gives until it is empty.",
        &["pack.ah", "line.ah", "groups.weakest_ah"],
    ),
    term(
        "CC/CV",
        "How lithium is charged: constant current first, then constant voltage until the current has fallen.",
        &["charge.cc_s", "charge.ends_a", "charger.output_v"],
    ),
    term(
        "Charge limit per cell",
        "The voltage a cell must never exceed: above it lithium plates out and the cell can vent.",
        &["cell.never_above_v"],
    ),
    term(
        "Continuous current",
        "What flows, or may flow, for more than about ten seconds.",
        &["load.continuous_a", "cells.limit_a", "plate.weakest_a"],
    ),
    term(
        "Cut-off",
        "The voltage at which something opens the discharge.",
        &["pack.cutoff_v", "guard.pack_v", "cutoff.set_v"],
    ),
    term(
        "Damage limit",
        "The cell voltage below which copper dissolves; charging such a cell is dangerous.",
        &["cell.floor_v", "pack.floor_v"],
    ),
    term("Divider", "Two resistors that scale a voltage down for a gauge.", &["gauge.ratio", "gauge.ohm"]),
    term("Efficiency", "Power out divided by power in.", &["converter.efficiency"]),
    term(
        "Full voltage",
        "The voltage at which the charge ends: 4.20 V per Li-ion cell, 3.65 V per phosphate cell.",
        &["cell.full_v", "pack.full_v", "line.full_v"],
    ),
    term(
        "Group",
        "Cells in parallel: they share one voltage and count as one large cell.",
        &["groups.spread_share", "groups.strongest_ah"],
    ),
    term("Headroom", "The voltage a converter's input must have above its output.", &["converter.headroom_v"]),
    term(
        "Hysteresis",
        "The distance between switching on and switching off, so that a small change does not switch again.",
        &["comparator.hysteresis_v", "cutoff.rearm_v"],
    ),
    term(
        "Inrush, start-up peak",
        "The short high current when a motor starts or capacitors charge.",
        &["load.peak_a", "load.peak_s"],
    ),
    term(
        "Internal resistance (DCIR)",
        "Voltage drop divided by current inside a cell; it grows in the cold and with age.",
        &["pack.ohm", "pack.cold_ohm"],
    ),
    term(
        "Nominal voltage",
        "The middle of the discharge: 3.6 V per Li-ion cell, 3.2 V per phosphate cell.",
        &["cell.nominal_v", "pack.nominal_v"],
    ),
    term(
        "Open-circuit voltage (OCV)",
        "The voltage of a rested cell without load; it tells the state of charge, except on a flat curve.",
        &["balance.apart_v", "charge.rested_v"],
    ),
    term(
        "Over-discharge cut-off",
        "The cell voltage at which a board stops the discharge.",
        &["board.over_discharge_v"],
    ),
    term(
        "Overcharge cut-off",
        "The cell voltage at which a board stops the charge, as a last resort.",
        &["board.over_charge_v"],
    ),
    term(
        "Parallel count (P)",
        "Cells side by side in each group: more capacity and current at the same voltage.",
        &["cells.proposed", "cells.for_run", "cells.for_current"],
    ),
    term(
        "Peak current",
        "What flows for up to about ten seconds.",
        &["load.peak_a", "cells.peak_limit_a", "link.rated_a"],
    ),
    term(
        "Plateau",
        "The flat middle of the phosphate curve, where the voltage hardly shows the charge.",
        &["balance.apart_ah"],
    ),
    term(
        "Power path",
        "Every part the current passes from cells to device; the weakest one limits it.",
        &["link.used", "plate.weakest_a", "path.ohm"],
    ),
    term("Rebound", "The voltage that comes back when the load drops away.", &["cutoff.rebound_v"]),
    term("Reverse leakage", "Current from the pack back into an unpowered charger.", &["charge.back_days"]),
    term("RMS current", "The steady current that heats as much as a changing one.", &["load.rms_a"]),
    term(
        "Sag",
        "The voltage lost inside cells and wires while current flows.",
        &["pack.sag_usual_v", "pack.sag_peak_v"],
    ),
    term(
        "Self-discharge",
        "Charge a cell loses by itself at rest; a cell that loses more than the others is bad.",
        &[],
    ),
    term("Series count (S)", "Groups one after the other: their voltages add.", &["pack.full_v", "pack.empty_v"]),
    term(
        "Set-point",
        "The output voltage or threshold something is adjusted to.",
        &["device.feed_v", "comparator.threshold_v"],
    ),
    term(
        "Short-circuit current",
        "What flows when plus touches minus; only the resistance limits it.",
        &["pack.short_a"],
    ),
    term("Soft start", "A circuit that lets a motor start slowly, so that its peak stays small.", &["load.peak_a"]),
    term(
        "Standby drain",
        "What board, converter and device draw while everything is off.",
        &["pack.standby_a", "pack.flat_days"],
    ),
    term("State of charge (SOC)", "Charge left divided by full charge.", &["charge.reached", "pack.reserve_share"]),
    term(
        "Strip, series link",
        "Nickel or copper that joins the cells of a group and one group to the next.",
        &["strip.limit_a", "strip.one_limit_a"],
    ),
    term(
        "Thermal resistance (K/W)",
        "How many kelvin warmer a part becomes per watt of heat.",
        &["converter.rise_k", "converter.hottest_c"],
    ),
    term(
        "Trickle path",
        "A resistor or diode past a board, through which current flows when the board has opened.",
        &["board.trickle_a"],
    ),
    term(
        "Trip current",
        "The current at which a board opens; it falls as its MOSFETs warm up.",
        &["board.trip_a", "board.trip_cold_a", "board.trip_warm_a"],
    ),
    term(
        "Usable charge",
        "What comes out before something ends the discharge.",
        &["run.usable_share", "run.usable_ah"],
    ),
    term("Voltage drop", "The voltage lost in wires and contacts, both ways.", &["wire.drop_v", "wire.drop_share"]),
    term(
        "Voltage range (operating range)",
        "Between the minimum at which the device runs and the maximum it tolerates.",
        &["device.lowest_v", "device.highest_v", "device.cutout_v"],
    ),
];

/// The glossary as a page: each term, what it means, the figures it belongs to.
pub fn page() -> String {
    let label = |id: &str| figures::all().into_iter().find(|f| f.id == id).map_or("", |f| f.label);
    let mut page = String::from(
        "# Glossary\n\nEach term in one line, with the figures it belongs to. In the program a figure opens to its calculation, and from there to this page.\n\n| term | meaning | figures |\n|---|---|---|\n",
    );
    for term in TERMS {
        let figures: Vec<&str> = term.figures.iter().map(|id| label(id)).collect();
        page += &format!("| **{}** | {} | {} |\n", term.term, term.says, figures.join("; "));
    }
    page
}
