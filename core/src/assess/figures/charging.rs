//! Charging: voltage, current, course, supply.

use super::cells::{PACK_AH, PACK_OHM};
use super::device::HOST_CHARGE_V;
use super::figures;
use super::voltage::{CELL_CUTOFF_V, CELL_FULL_V, FULL_V, series_input};
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::charging::{self, CourseTask};
use crate::physics::protection::drain_days;
use crate::physics::wiring;
use crate::plan::{Charger, ChargesAs, HostCircuit, NodeKind, StateName};

figures! {
    CHARGER_V = "charger.output_v", "End voltage of the charger", V, "as stated or measured", PartSheet;
    PER_CELL_V = "charge.per_cell_v", "End of charge per cell", V, "end voltage / series", Arithmetic;
    OVER_FULL = "charge.over_full", "End voltage against full", Share, "end of charge of a cell / full − 1", Arithmetic;
    CHARGER_A = "charger.output_a", "Charge current", A, "as stated; printed, input or output not known: the larger of print × supply voltage × efficiency / end voltage and the print itself", PartSheet;
    C_RATE = "charge.c_rate", "Charge current against capacity", Ratio, "current / capacity, 1/h", Arithmetic;
    LIMIT_A = "charge.limit_a", "Highest charge current of the cells", A, "parallel × highest charge current of a cell", PartSheet;
    GENTLE_A = "charge.empty_a", "Most for a nearly empty pack", A, "0.1 × capacity, 1/h", CommonPractice;
    ENDS_A = "charge.ends_a", "Current at which the charge ends", A, "as stated; else 0.05 × capacity, 1/h", CommonPractice;
    TIME_S = "charge.time_s", "Charge time from empty", S, "constant current along the OCV curve, then (end voltage − OCV) / resistance; resistance: DCIR × 1.8 for slow diffusion", CircuitLaw;
    MOST_S = "charge.most_s", "of which to 80 %", S, "as the charge time", CircuitLaw;
    CC_S = "charge.cc_s", "of which at constant current", S, "charge until OCV + current × resistance = end voltage", CircuitLaw;
    REACHED = "charge.reached", "Charge reached against full", Share, "SOC at the end of the charge", CircuitLaw;
    LIVES = "charge.lives", "Cycles against a charge to full", Ratio, "2 ^ ((full − end of charge) / 0.1 V), layered oxides", CommonPractice;
    RESTED_V = "charge.rested_v", "Rests at, after the end", V, "series × (end of charge of a cell − the larger of ending current × resistance and 20 mV); phosphate: 3.33 to 3.45 V per cell; titanate: at least 50 mV lower", CommonPractice;
    RESTART_V = "charge.restart_v", "Begins again at", V, "as stated or read; else 4.03 / 4.20 of its end, for phosphate 3.30 / 3.65", CommonPractice;
    BACK_DAYS = "charge.back_days", "The charger alone empties the pack in", Days, "capacity / back-leak / 24 h", Arithmetic;
    COLDEST_C = "charge.coldest_c", "Coldest charge", C, "as typed", Plan;
    HOTTEST_C = "charge.hottest_c", "Hottest charge", C, "as typed", Plan;
    HOST_CELL_V = "charge.host_cell_v", "End of the device's own charge per cell", V, "voltage of its charge circuit / series", Arithmetic;
    SUPPLY_W = "supply.needed_w", "Power the supply must give", W, "end voltage × current / efficiency", CircuitLaw;
    SUPPLY_A = "supply.needed_a", "Current the supply must give", A, "power = (supply voltage − current × cable) × current", CircuitLaw;
    SUPPLY_HAS_A = "supply.output_a", "Current the supply gives", A, "as stated", PartSheet;
    CABLE_OHM = "supply.cable_ohm", "Resistance of the supply's cable, both ways", Ohm, "2 × length × resistance per metre", Iec60028;
    ARRIVES_V = "supply.arrives_v", "Voltage at the charger", V, "supply voltage − current × cable", CircuitLaw;
}

/// Enters the figures of the charge.
pub fn enter(workspace: &mut Workspace<'_>) {
    let e = &workspace.plan.environment;
    for (def, value_c, field) in
        [(&COLDEST_C, e.charge_min_c, "charge_min_c"), (&HOTTEST_C, e.charge_max_c, "charge_max_c")]
    {
        let input = from_plan(format!("/environment/{field}"), def.label, value_c, Unit::C);
        workspace.ledger.put(def, value_c, vec![input]);
    }
    let Some((series, parallel)) = workspace.counts() else {
        return;
    };
    if let Some(cell) = workspace.cell()
        && let Some(charge_a) = cell.charge_a
    {
        let each = from_plan(
            format!("/packs/0/{}", workspace.pack.cell_at("charge_a")),
            "Highest charge current of a cell",
            charge_a,
            Unit::A,
        );
        let count = from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
        workspace.ledger.put(&LIMIT_A, parallel * charge_a, vec![count, each]);
    }
    let l = &mut workspace.ledger;
    if let Some(ah) = l.value(&PACK_AH) {
        let rate = constant("Share of the capacity", charging::PRE_C_RATE, Unit::Ratio, Source::CommonPractice);
        l.put(&GENTLE_A, charging::PRE_C_RATE * ah, vec![rate, fig(&PACK_AH)]);
    }
    if workspace.plan.charging.host == Some(HostCircuit::ChargesPack)
        && let Some(host_v) = l.value(&HOST_CHARGE_V)
    {
        l.put(&HOST_CELL_V, host_v / series, vec![fig(&HOST_CHARGE_V), series_input(series)]);
    }
    let Some(charges) = workspace.charges() else {
        return;
    };
    let at = format!("{}/charges", workspace.module_pointer(NodeKind::Charger));
    volts(workspace, charges, series, &at);
    current(workspace, charges, &at);
    if !charges.own_supply {
        supply(workspace, charges, &at);
    }
    if charges.kind == ChargesAs::CcCv {
        ends(workspace, charges, &at);
        course(workspace);
    }
}

fn volts(workspace: &mut Workspace<'_>, charges: &Charger, series: f64, at: &str) {
    let l = &mut workspace.ledger;
    l.put_known(&CHARGER_V, &Some(charges.output_v.clone()), &format!("{at}/output_v"));
    let end_v = charges.output_v.value / series;
    let mut inputs = vec![fig(&CHARGER_V), series_input(series)];
    // A reading has an error of its own.
    match charges.tolerance.filter(|_| charges.output_v.error.is_none()) {
        Some(tolerance) => {
            inputs.push(from_plan(format!("{at}/tolerance"), "Tolerance", tolerance, Unit::Share));
            l.put(&PER_CELL_V, end_v, inputs).band(end_v * (1.0 - tolerance), end_v * (1.0 + tolerance));
        }
        None => {
            l.put(&PER_CELL_V, end_v, inputs);
        }
    }
    if let Some(full_v) = l.value(&CELL_FULL_V) {
        l.put(&OVER_FULL, end_v / full_v - 1.0, vec![fig(&PER_CELL_V), fig(&CELL_FULL_V)]);
    }
}

/// The charge current, where it is known; of a print of unknown side both readings of it.
fn current(workspace: &mut Workspace<'_>, charges: &Charger, at: &str) {
    let supplies = workspace.supplies();
    let l = &mut workspace.ledger;
    if let Some(a) = charges.output_a {
        l.put(&CHARGER_A, a, vec![from_plan(format!("{at}/output_a"), "Charge current", a, Unit::A)]);
    } else if let Some(printed_a) = charges.printed_a {
        let print = from_plan(format!("{at}/printed_a"), "Printed current", printed_a, Unit::A);
        let as_input_a = supplies.map_or(printed_a, |s| {
            printed_a * s.output_v * charges.efficiency.unwrap_or(charging::TYPICAL_EFFICIENCY) / charges.output_v.value
        });
        l.put(&CHARGER_A, printed_a.max(as_input_a), vec![print, fig(&CHARGER_V)])
            .band(printed_a.min(as_input_a), printed_a.max(as_input_a))
            .assumed();
    }
    if let (Some(charge_a), Some(ah)) = (l.value(&CHARGER_A), l.value(&PACK_AH)) {
        l.put(&C_RATE, charge_a / ah, vec![fig(&CHARGER_A), fig(&PACK_AH)]);
    }
}

fn efficiency(charges: &Charger, at: &str) -> (f64, Input) {
    match charges.efficiency {
        Some(e) => (e, from_plan(format!("{at}/efficiency"), "Efficiency", e, Unit::Share)),
        None => {
            let typical = charging::TYPICAL_EFFICIENCY;
            (typical, constant("Efficiency, typical", typical, Unit::Share, Source::Assumed))
        }
    }
}

/// Resistance of the cable from the supply, both ways.
fn cable_ohm(workspace: &mut Workspace<'_>) -> f64 {
    let way = workspace.plan.path(NodeKind::Supply, NodeKind::Charger, StateName::Charging);
    let cables = way.connections.iter().filter_map(|r| Some((*r, r.wire.part()?, r.length_mm?)));
    let (mut sum_ohm, mut inputs) = (0.0, vec![]);
    for (run, wire, length_mm) in cables {
        sum_ohm += 2.0 * wiring::ohm_per_m(&wire.size) * length_mm / 1000.0;
        let index = workspace.plan.connections.iter().position(|r| r.id == run.id).unwrap_or_default();
        let length = from_plan(format!("/runs/{index}/length_mm"), "Length, one way", length_mm, Unit::Mm);
        inputs.push(length.about(&wire.offer.name, 1.0));
    }
    if sum_ohm > 0.0 {
        workspace.ledger.put(&CABLE_OHM, sum_ohm, inputs);
    }
    sum_ohm
}

fn supply(workspace: &mut Workspace<'_>, charges: &Charger, at: &str) {
    let Some(supplies) = workspace.supplies() else {
        needed(workspace, charges, at);
        return;
    };
    let supply_at = format!("{}/supplies", workspace.module_pointer(NodeKind::Supply));
    let ohm = cable_ohm(workspace);
    let needed_w = needed(workspace, charges, at);
    let l = &mut workspace.ledger;
    let volts = from_plan(format!("{supply_at}/output_v"), "Supply voltage", supplies.output_v, Unit::V);
    let has = from_plan(format!("{supply_at}/output_a"), "Supply current", supplies.output_a, Unit::A);
    l.put(&SUPPLY_HAS_A, supplies.output_a, vec![has]);
    let with_cable = |mut inputs: Vec<Input>| {
        if ohm > 0.0 {
            inputs.push(fig(&CABLE_OHM));
        }
        inputs
    };
    if let Some(needed_w) = needed_w {
        // Where the cable lets less through than is wanted, half the volts are lost in it at the most it can.
        let a = charging::through_cable_a(needed_w, supplies.output_v, ohm).unwrap_or(supplies.output_v / (2.0 * ohm));
        l.put(&SUPPLY_A, a, with_cable(vec![fig(&SUPPLY_W), volts.clone()]));
        l.put(&ARRIVES_V, supplies.output_v - a * ohm, with_cable(vec![volts, fig(&SUPPLY_A)]));
    }
}

fn needed(workspace: &mut Workspace<'_>, charges: &Charger, at: &str) -> Option<f64> {
    let l = &mut workspace.ledger;
    let (end_v, charge_a) = (l.value(&CHARGER_V)?, l.value(&CHARGER_A)?);
    let (share, input) = efficiency(charges, at);
    let needed_w = charging::supply_w(end_v, charge_a, share);
    l.put(&SUPPLY_W, needed_w, vec![fig(&CHARGER_V), fig(&CHARGER_A), input]);
    Some(needed_w)
}

/// Where it ends, where it begins again, what it takes back when nothing feeds it.
fn ends(workspace: &mut Workspace<'_>, charges: &Charger, at: &str) {
    let chemistry = workspace.pack.chemistry;
    let l = &mut workspace.ledger;
    let (restart_v, input) = match charges.restart_v {
        Some(v) => (v, from_plan(format!("{at}/restart_v"), "Begins again at", v, Unit::V)),
        None => (charging::restart_v(chemistry, charges.output_v.value), fig(&CHARGER_V)),
    };
    let entry = l.put(&RESTART_V, restart_v, vec![input]);
    if charges.restart_v.is_none() {
        entry.assumed();
    }
    let ah = l.value(&PACK_AH);
    if let Some(ends_a) = charges.ends_a {
        l.put(&ENDS_A, ends_a, vec![from_plan(format!("{at}/ends_a"), ENDS_A.label, ends_a, Unit::A)])
            .source(Source::PartSheet);
    } else if let Some(ah) = ah {
        let rate = constant("Share of the capacity", charging::TAPER_C_RATE, Unit::Ratio, Source::CommonPractice);
        l.put(&ENDS_A, charging::TAPER_C_RATE * ah, vec![rate, fig(&PACK_AH)]).assumed();
    }
    if let (Some(ah), Some(leak_a)) = (ah, charges.back_leak_a.filter(|a| *a > 0.0)) {
        let leak = from_plan(format!("{at}/back_leak_a"), "Back-leak", leak_a, Unit::A);
        l.put(&BACK_DAYS, drain_days(ah, leak_a), vec![fig(&PACK_AH), leak]);
    }
}

/// The charge of one cell of this pack, as far as it is known; only a charger for lithium has a course.
pub fn task(workspace: &Workspace<'_>) -> Option<CourseTask<'static>> {
    let charges = workspace.charges().filter(|c| c.kind == ChargesAs::CcCv)?;
    let (series, parallel) = workspace.counts()?;
    let curve = chemistry::curve(workspace.pack.chemistry?);
    let l = &workspace.ledger;
    // A charger above full is a finding of its own; the time is that to full.
    let end_v = l.value(&PER_CELL_V)?.min(l.value(&CELL_FULL_V)?);
    let share = charges.efficiency.unwrap_or(charging::TYPICAL_EFFICIENCY);
    let supply_w = workspace.supplies().filter(|_| !charges.own_supply).map(|s| s.output_v * s.output_a * share);
    Some(CourseTask {
        curve,
        capacity_ah: l.value(&PACK_AH)? / parallel,
        cell_ohm: l.value(&PACK_OHM)? * parallel / series,
        diffusion: charging::DIFFUSION,
        cell_a: l.value(&CHARGER_A)? / parallel,
        end_v,
        ends_a: l.value(&ENDS_A)? / parallel,
        pre: charges.pre_charge_a.map(|a| a / parallel).zip(l.value(&CELL_CUTOFF_V)),
        supply_w: supply_w.map(|w| w / (series * parallel)),
    })
}

fn course(workspace: &mut Workspace<'_>) {
    let Some(task) = task(workspace) else {
        return;
    };
    let curve = task.curve;
    let Some(course) = charging::course(&task) else {
        return;
    };
    let series = workspace.counts().map_or(1.0, |(series, _)| series);
    let chemistry = workspace.pack.chemistry;
    let later = chemistry.map_or(0.0, charging::later_share);
    let l = &mut workspace.ledger;
    let inputs = || vec![fig(&CHARGER_A), fig(&PACK_AH), fig(&PACK_OHM), fig(&FULL_V), fig(&ENDS_A)];
    // Without diffusion it is full sooner.
    let soonest_s = charging::course(&CourseTask { diffusion: 1.0, ..task }).map_or(course.full_s, |c| c.full_s);
    let times = [(&TIME_S, Some(course.full_s)), (&MOST_S, course.most_s), (&CC_S, Some(course.cc_s))];
    for (def, value) in times {
        let Some(value) = value else { continue };
        let mut entry = l.put(def, value, inputs());
        if def.id == TIME_S.id {
            entry = entry.band(soonest_s.min(value), value * (1.0 + later));
        }
        if curve.assumed {
            entry.assumed();
        }
    }
    l.put(&REACHED, course.reached_soc, vec![fig(&PER_CELL_V)]).source(curve.source);
    let lives = chemistry.and_then(|c| {
        let full_v = l.value(&CELL_FULL_V)?;
        charging::lives(c, full_v, l.value(&PER_CELL_V)?.min(full_v))
    });
    if let Some(lives) = lives {
        l.put(&LIVES, lives, vec![fig(&CELL_FULL_V), fig(&PER_CELL_V)]);
    }
    let Some(chemistry) = chemistry else { return };
    let rests = charging::rests(chemistry, task.end_v, task.end_v - task.rests_v());
    l.put(&RESTED_V, series * rests.usual_v, vec![fig(&PER_CELL_V), fig(&ENDS_A), fig(&PACK_OHM)])
        .band(series * rests.low_v, series * rests.high_v);
}
