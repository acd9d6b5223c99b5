//! What is known of the device.

use super::figures;
use crate::assess::ledger::{Ledger, constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::device::{self, lamp};
use crate::plan::{Compartment, Original};

figures! {
    HIGHEST_V = "device.highest_v", "Maximum voltage of the device", V,
        "as surveyed; else cells of the old battery × voltage fresh off its charger", CommonPractice;
    LOWEST_V = "device.lowest_v", "Minimum voltage of the device", V,
        "as surveyed; else cells of the old battery × its cut-off", CommonPractice;
    CUTOUT_V = "device.cutout_v", "Cut-out of the device", V, "as surveyed", Plan;
    ORIGINAL_V = "original.nominal_v", "Nominal voltage of the old battery", V, "cells in series × nominal voltage", CommonPractice;
    ORIGINAL_WH = "original.wh", "Energy of the old battery", Wh, "nominal voltage × capacity", Arithmetic;
    ORIGINAL_G = "original.mass_g", "Mass of the old battery", G, "as surveyed", Plan;
    ORIGINAL_RUN_S = "original.run_s", "Run time on the old battery", S, "as surveyed", Plan;
    GAVE_AH = "original.gave_ah", "What the old battery gave", Ah, "as surveyed", Plan;
    GAVE_SHARE = "original.gave_share", "What it gave against its label", Share, "what it gave / label", Arithmetic;
    HOST_CHARGE_A = "device.charge_limit_a", "Current limit of the device's own charge circuit", A, "as surveyed", Plan;
    CHARGER_LABEL_V = "original.charger_label_v", "Voltage on the old charger's label", V, "as surveyed", Plan;
    CHARGER_V = "original.charger_v", "Voltage of the old charger", V, "as surveyed", Plan;
    CHARGER_OVER = "original.charger_over", "Voltage of the old charger against its label", Share, "voltage / label − 1", Arithmetic;
    SELECTOR_LOW_V = "device.selector_low_v", "Voltage at the selector's lower setting", V, "as surveyed", Plan;
    ALARM_V = "device.alarm_v", "Level at which the gauge warns", V, "as surveyed", Plan;
    HOST_CHARGE_V = "device.charge_v", "Voltage of the device's own charge circuit", V, "as surveyed", Plan;
    LAMP_OHM = "lamp.series_ohm", "Resistor in series with the lamp", Ohm, "(voltage between its pads − forward voltage of its colour) / 2 mA, nearest of E24", CircuitLaw;
    WANTED_S = "device.wanted_run_s", "Run time wanted", S, "as typed", Plan;
}

/// Enters what is known of the device, and what must be assumed of it.
pub fn enter(workspace: &mut Workspace<'_>) {
    let d = &workspace.plan.device;
    let o = &d.original;
    let l = &mut workspace.ledger;
    l.put_known(&HIGHEST_V, &d.highest_v, "/device/highest_v");
    l.put_known(&LOWEST_V, &d.lowest_v, "/device/lowest_v");
    l.put_known(&CUTOUT_V, &d.cutout_v, "/device/cutout_v");
    l.put_known(&ORIGINAL_G, &o.mass_g, "/device/original/mass_g");
    l.put_known(&ORIGINAL_RUN_S, &o.run_s, "/device/original/run_s");
    l.put_known(&GAVE_AH, &o.gave_ah, "/device/original/gave_ah");
    if let (Some(gave), Some(label)) = (&o.gave_ah, &o.capacity_ah) {
        let label_ah = from_plan("/device/original/capacity_ah/value", "Label", label.value, Unit::Ah);
        l.put(&GAVE_SHARE, gave.value / label.value, vec![fig(&GAVE_AH), label_ah]);
    }
    l.put_known(&HOST_CHARGE_A, &d.electronics.charge_limit_a, "/device/brains/charge_limit_a");
    charger(l, o);
    lamps(l, &d.compartments);
    l.put_known(&SELECTOR_LOW_V, &d.electronics.selector_low_v, "/device/brains/selector_low_v");
    l.put_known(&HOST_CHARGE_V, &d.electronics.charge_v, "/device/brains/charge_v");
    for (i, alarm) in d.electronics.alarms.iter().enumerate() {
        let pointer = format!("/device/brains/alarms/{i}/at_v/value");
        let level = from_plan(pointer, "Level", alarm.at_v.value, Unit::V).about(&alarm.name, 1.0);
        l.put_at(&ALARM_V, &i.to_string(), alarm.at_v.value, vec![level]);
    }
    if let Some(wanted_s) = d.wanted_run_s {
        l.put(&WANTED_S, wanted_s, vec![from_plan("/device/wanted_run_s", WANTED_S.label, wanted_s, Unit::S)]);
    }
    let (Some(chemistry), Some(series)) = (o.chemistry, o.series) else {
        return;
    };
    let cells = || from_plan("/device/original/series", "Cells of the old battery", f64::from(series), Unit::Count);
    if d.highest_v.is_none() {
        let (low_v, high_v) = device::assumed_highest_v(chemistry, series);
        l.put(&HIGHEST_V, low_v, vec![cells()]).band(low_v, high_v).assumed();
    }
    if d.lowest_v.is_none() {
        l.put(&LOWEST_V, device::assumed_lowest_v(chemistry, series), vec![cells()]).assumed();
    }
    if let Some(nominal_v) = device::original_nominal_v(d) {
        l.put(&ORIGINAL_V, nominal_v, vec![cells()]);
        if let Some(capacity) = &o.capacity_ah {
            let ah = from_plan("/device/original/capacity_ah/value", "Capacity", capacity.value, Unit::Ah);
            l.put(&ORIGINAL_WH, nominal_v * capacity.value, vec![fig(&ORIGINAL_V), ah]);
        }
    }
}

/// The old charger's label against what it puts out.
fn charger(l: &mut Ledger, o: &Original) {
    l.put_known(&CHARGER_V, &o.charger_v, "/device/original/charger_v");
    let Some(label_v) = o.charger_label_v else { return };
    let pointer = "/device/original/charger_label_v";
    l.put(&CHARGER_LABEL_V, label_v, vec![from_plan(pointer, CHARGER_LABEL_V.label, label_v, Unit::V)]);
    if let Some(reads) = &o.charger_v {
        l.put(&CHARGER_OVER, reads.value / label_v - 1.0, vec![fig(&CHARGER_V), fig(&CHARGER_LABEL_V)]);
    }
}

/// The resistor of every lamp that takes the place of one on a module.
fn lamps(l: &mut Ledger, compartments: &[Compartment]) {
    for (i, place) in compartments.iter().enumerate() {
        for (k, opening) in place.openings.iter().enumerate() {
            let Some(lamp) = opening.lamp.as_ref().filter(|lamp| lamp.keeps == Some(false)) else { continue };
            let Some((colour, fed_v)) = lamp.colour.zip(lamp.fed_v) else { continue };
            let pointer = format!("/device/compartments/{i}/openings/{k}/lamp/fed_v");
            let inputs = || {
                vec![
                    from_plan(pointer, "Voltage between its pads", fed_v, Unit::V),
                    constant("Forward voltage of its colour", lamp::forward_v(colour), Unit::V, Source::CommonPractice),
                    constant("Current", lamp::SEEN_A, Unit::A, Source::CommonPractice),
                ]
            };
            if let Some(ohm) = lamp::series_ohm(colour, fed_v) {
                l.put_at(&LAMP_OHM, &format!("{}/{k}", place.id), ohm, inputs());
            }
        }
    }
}
