//! Charging: volts, current, time, supply.

use super::cells::{PACK_AH, PACK_OHM};
use super::figures;
use super::voltage::{CELL_FULL_V, FULL_V, series_input};
use crate::assess::bench::Bench;
use crate::assess::ledger::{constant, fig, from_plan};
use crate::charging;
use crate::chemistry;
use crate::plan::NodeKind;
use crate::quantity::Unit;
use crate::source::Source;

figures! {
    CHARGER_V = "charger.output_v", "End volts of the charger", V, "as stated or measured", PartSheet;
    PER_CELL_V = "charge.per_cell_v", "End of charge, a cell", V, "end volts / series", Arithmetic;
    CHARGER_A = "charger.output_a", "Charge current", A, "as stated", PartSheet;
    C_RATE = "charge.c_rate", "Charge current against capacity", Ratio, "current / capacity, 1/h", Arithmetic;
    LIMIT_A = "charge.limit_a", "Highest charge current of the cells", A, "parallel × highest charge current of a cell", PartSheet;
    TIME_S = "charge.time_s", "Charge time from empty", S, "constant current along the OCV curve, then (end volts − OCV) / resistance", CircuitLaw;
    CC_S = "charge.cc_s", "of which at constant current", S, "charge until OCV + current × resistance = end volts", CircuitLaw;
    REACHED = "charge.reached", "Charge reached against full", Share, "SOC at the end of the charge", CircuitLaw;
    COLDEST_C = "charge.coldest_c", "Coldest charge", C, "as typed", Plan;
    HOTTEST_C = "charge.hottest_c", "Hottest charge", C, "as typed", Plan;
    SUPPLY_W = "supply.needed_w", "Power the supply must give", W, "end volts × current / efficiency", CircuitLaw;
    SUPPLY_A = "supply.needed_a", "Current the supply must give", A, "power / supply volts", CircuitLaw;
    SUPPLY_HAS_A = "supply.output_a", "Current the supply gives", A, "as stated", PartSheet;
}

/// Enters the figures of the charge.
pub fn enter(bench: &mut Bench<'_>) {
    let e = &bench.plan.environment;
    for (def, value_c, field) in
        [(&COLDEST_C, e.charge_min_c, "charge_min_c"), (&HOTTEST_C, e.charge_max_c, "charge_max_c")]
    {
        let input = from_plan(format!("/environment/{field}"), def.label, value_c, Unit::C);
        bench.ledger.put(def, value_c, vec![input]);
    }
    let Some((series, parallel)) = bench.counts() else {
        return;
    };
    if let Some(cell) = bench.cell()
        && let Some(charge_a) = cell.charge_a
    {
        let each = from_plan("/packs/0/cell/part/charge_a", "Highest charge current of a cell", charge_a, Unit::A);
        let count = from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
        bench.ledger.put(&LIMIT_A, parallel * charge_a, vec![count, each]);
    }
    let Some(charges) = bench.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()) else {
        return;
    };
    let at = format!("{}/charges", bench.module_pointer(NodeKind::Charger));
    let l = &mut bench.ledger;
    l.put_known(&CHARGER_V, &Some(charges.output_v.clone()), &format!("{at}/output_v"));
    let end_v = charges.output_v.value;
    l.put(&PER_CELL_V, end_v / series, vec![fig(&CHARGER_V), series_input(series)]);
    let Some(charge_a) = charges.output_a else {
        return;
    };
    l.put(&CHARGER_A, charge_a, vec![from_plan(format!("{at}/output_a"), "Charge current", charge_a, Unit::A)]);
    if let Some(ah) = l.value(&PACK_AH) {
        l.put(&C_RATE, charge_a / ah, vec![fig(&CHARGER_A), fig(&PACK_AH)]);
    }
    if !charges.own_supply {
        supply(bench, charge_a, charges.efficiency, &at);
    }
    time(bench, charge_a);
}

fn supply(bench: &mut Bench<'_>, charge_a: f64, stated: Option<f64>, at: &str) {
    let supplies = bench.plan.module(NodeKind::Supply).and_then(|m| m.supplies.as_ref());
    let supply_at = format!("{}/supplies", bench.module_pointer(NodeKind::Supply));
    let l = &mut bench.ledger;
    let Some(end_v) = l.value(&CHARGER_V) else {
        return;
    };
    let efficiency = stated.unwrap_or(charging::TYPICAL_EFFICIENCY);
    let input = match stated {
        Some(_) => from_plan(format!("{at}/efficiency"), "Efficiency", efficiency, Unit::Share),
        None => constant("Efficiency, typical", efficiency, Unit::Share, Source::Assumed),
    };
    let needed_w = charging::supply_w(end_v, charge_a, efficiency);
    l.put(&SUPPLY_W, needed_w, vec![fig(&CHARGER_V), fig(&CHARGER_A), input]);
    if let Some(supplies) = supplies {
        let volts = from_plan(format!("{supply_at}/output_v"), "Supply volts", supplies.output_v, Unit::V);
        l.put(&SUPPLY_A, needed_w / supplies.output_v, vec![fig(&SUPPLY_W), volts]);
        let has = from_plan(format!("{supply_at}/output_a"), "Supply current", supplies.output_a, Unit::A);
        l.put(&SUPPLY_HAS_A, supplies.output_a, vec![has]);
    }
}

fn time(bench: &mut Bench<'_>, charge_a: f64) {
    let Some((series, parallel)) = bench.counts() else {
        return;
    };
    let Some(chemistry) = bench.pack.chemistry else {
        return;
    };
    let curve = chemistry::curve(chemistry);
    let l = &mut bench.ledger;
    let (Some(ah), Some(pack_ohm), Some(per_cell_v), Some(cell_full_v)) =
        (l.value(&PACK_AH), l.value(&PACK_OHM), l.value(&PER_CELL_V), l.value(&CELL_FULL_V))
    else {
        return;
    };
    // A charger above full is a finding of its own; the time is that to full.
    let end_v = per_cell_v.min(cell_full_v);
    let cell_ohm = pack_ohm * parallel / series;
    let Some(t) = charging::charge_time(curve, ah / parallel, cell_ohm, charge_a / parallel, end_v) else {
        return;
    };
    let inputs = || vec![fig(&CHARGER_A), fig(&PACK_AH), fig(&PACK_OHM), fig(&FULL_V)];
    for (def, value) in [(&TIME_S, t.cc_s + t.cv_s), (&CC_S, t.cc_s)] {
        let entry = l.put(def, value, inputs());
        if curve.assumed {
            entry.assumed();
        }
    }
    l.put(&REACHED, t.reached_soc, vec![fig(&PER_CELL_V)]).source(curve.source);
}
