//! What must hold in the survey of a device and in the meters at hand.

use super::{Checker, FEW_MAX, LOADS_MAX, PHOTOS_MAX, TEXT_MAX};
use crate::base::range;
use crate::plan::{ApartStep, Compartment, Photo, Plan, Space};

/// Everything a survey finds besides voltage and currents, and the meters it was read on.
pub(super) fn check_survey(c: &mut Checker, plan: &Plan) {
    let d = &plan.device;
    for (name, text) in [("label", &d.label), ("connector", &d.connector)] {
        let length = text.chars().count();
        c.require(length <= TEXT_MAX, &format!("/device/{name}"), || format!("at most {TEXT_MAX} characters"));
    }
    let words = d.original.words.chars().count();
    c.require(words <= TEXT_MAX, "/device/original/words", || format!("at most {TEXT_MAX} characters"));
    c.number("/device/original/age_days", d.original.age_days, &range::AGE_DAYS);
    c.known("/device/original/gave_ah", &d.original.gave_ah, &range::BATTERY_AH);
    c.number("/device/original/charger_label_v", d.original.charger_label_v, &range::DEVICE_VOLTS);
    c.number("/device/original/charger_label_a", d.original.charger_label_a, &range::CURRENT);
    c.known("/device/brains/charge_v", &d.electronics.charge_v, &range::DEVICE_VOLTS);
    c.known("/device/brains/charge_limit_a", &d.electronics.charge_limit_a, &range::CURRENT);
    c.known("/device/brains/selector_low_v", &d.electronics.selector_low_v, &range::DEVICE_VOLTS);
    c.at_most("/device/contacts", d.contacts.len(), FEW_MAX);
    c.unique("/device/contacts", d.contacts.iter().map(|k| k.id.as_str()));
    for (i, contact) in d.contacts.iter().enumerate() {
        let at = format!("/device/contacts/{i}");
        c.name(&format!("{at}/name"), &contact.name);
        for (name, read) in [("off_v", &contact.off_v), ("on_v", &contact.on_v), ("charging_v", &contact.charging_v)] {
            c.known(&format!("{at}/{name}"), read, &range::PROBE_VOLTS);
        }
        c.known(&format!("{at}/old_battery_ohm"), &contact.old_battery_ohm, &range::ARRIVAL_OHM);
    }
    let p = &d.proving;
    c.number("/device/proving/limit_a", p.limit_a, &range::CURRENT);
    for (name, read) in [("idle_a", &p.idle_a), ("draw_a", &p.draw_a)] {
        c.known(&format!("/device/proving/{name}"), read, &range::BENCH_CURRENT);
    }
    c.known("/device/proving/stops_at_v", &p.stops_at_v, &range::DEVICE_VOLTS);
    c.known("/device/proving/ran_at_v", &p.ran_at_v, &range::DEVICE_VOLTS);
    c.at_most("/device/brains/alarms", d.electronics.alarms.len(), FEW_MAX);
    for (i, alarm) in d.electronics.alarms.iter().enumerate() {
        c.name(&format!("/device/brains/alarms/{i}/name"), &alarm.name);
        c.reading(&format!("/device/brains/alarms/{i}/at_v"), &alarm.at_v, &range::DEVICE_VOLTS);
    }
    c.at_most("/device/compartments", d.compartments.len(), FEW_MAX);
    c.unique("/device/compartments", d.compartments.iter().map(|k| k.id.as_str()));
    for (i, compartment) in d.compartments.iter().enumerate() {
        check_compartment(c, &format!("/device/compartments/{i}"), compartment);
    }
    check_apart(c, &d.photos, &d.apart);
    c.at_most("/meters", plan.meters.len(), LOADS_MAX);
    c.unique("/meters", plan.meters.iter().map(|m| m.id.as_str()));
    for (i, meter) in plan.meters.iter().enumerate() {
        let at = format!("/meters/{i}");
        c.name(&format!("{at}/name"), &meter.name);
        c.number(&format!("{at}/range"), Some(meter.range), &range::METER_RANGE);
        c.number(&format!("{at}/step"), Some(meter.step), &range::METER_STEP);
        c.require(meter.step <= meter.range, &format!("{at}/step"), || "the step cannot exceed the range".to_owned());
        c.number(&format!("{at}/error_share"), Some(meter.error_share), &range::TOLERANCE);
        c.number(&format!("{at}/error_steps"), Some(meter.error_steps), &range::METER_STEPS);
        c.number(&format!("{at}/burden_ohm"), meter.burden_ohm, &range::BURDEN);
        c.number(&format!("{at}/every_s"), meter.every_s, &range::DURATION);
    }
}

/// Voltage between the pads of a lamp.
fn check_lamps(c: &mut Checker, at: &str, compartment: &Compartment) {
    for (k, opening) in compartment.openings.iter().enumerate() {
        let fed_v = opening.lamp.as_ref().and_then(|lamp| lamp.fed_v);
        c.number(&format!("{at}/openings/{k}/lamp/fed_v"), fed_v, &range::DEVICE_VOLTS);
    }
}

fn check_compartment(c: &mut Checker, at: &str, compartment: &Compartment) {
    c.name(&format!("{at}/name"), &compartment.name);
    check_lamps(c, at, compartment);
    let sizes_mm: Vec<(&str, f64)> = match compartment.space {
        Space::Box { length_mm, width_mm, depth_mm } => {
            vec![("length_mm", length_mm), ("width_mm", width_mm), ("depth_mm", depth_mm)]
        }
        Space::Cylinder { diameter_mm, length_mm } => vec![("diameter_mm", diameter_mm), ("length_mm", length_mm)],
    };
    for (name, size_mm) in sizes_mm {
        c.number(&format!("{at}/space/{name}"), Some(size_mm), &range::SIZE);
    }
    c.at_most(&format!("{at}/obstructions"), compartment.obstructions.len(), FEW_MAX);
    for (i, o) in compartment.obstructions.iter().enumerate() {
        let at = format!("{at}/obstructions/{i}");
        c.name(&format!("{at}/name"), &o.name);
        for (name, size_mm) in [("length_mm", o.length_mm), ("width_mm", o.width_mm), ("depth_mm", o.depth_mm)] {
            c.number(&format!("{at}/{name}"), Some(size_mm), &range::SIZE);
        }
        for (name, at_mm) in [("x_mm", o.x_mm), ("y_mm", o.y_mm), ("z_mm", o.z_mm)] {
            c.number(&format!("{at}/{name}"), Some(at_mm), &range::PLACE);
        }
    }
    c.at_most(&format!("{at}/openings"), compartment.openings.len(), FEW_MAX);
    for (i, o) in compartment.openings.iter().enumerate() {
        let at = format!("{at}/openings/{i}");
        c.number(&format!("{at}/hole_mm"), Some(o.hole_mm), &range::SIZE);
        let sizes_mm = [
            ("behind_mm", o.behind_mm),
            ("wall_mm", o.wall_mm),
            ("thread_mm", o.thread_mm),
            ("part_mm", o.part_mm),
            ("body_mm", o.body_mm),
        ];
        for (name, size_mm) in sizes_mm {
            c.number(&format!("{at}/{name}"), size_mm, &range::SIZE);
        }
        c.number(&format!("{at}/pad_mm"), o.pad_mm, &range::CLEARANCE);
        c.number(&format!("{at}/along_mm"), o.along_mm, &range::PLACE);
        c.number(&format!("{at}/up_mm"), o.up_mm, &range::PLACE);
    }
}

fn check_apart(c: &mut Checker, photos: &[Photo], steps: &[ApartStep]) {
    c.at_most("/device/apart", steps.len(), LOADS_MAX);
    c.unique("/device/apart", steps.iter().map(|s| s.id.as_str()));
    for (i, step) in steps.iter().enumerate() {
        c.name(&format!("/device/apart/{i}/what"), &step.what);
    }
    c.at_most("/device/photos", photos.len(), PHOTOS_MAX);
    for (i, photo) in photos.iter().enumerate() {
        let at = format!("/device/photos/{i}");
        let hex = photo.sha256.len() == 64 && photo.sha256.bytes().all(|b| matches!(b, b'0'..=b'9' | b'a'..=b'f'));
        c.require(hex, &format!("{at}/sha256"), || "64 hexadecimal digits in lower case".to_owned());
        let length = photo.shows.chars().count();
        c.require(length <= TEXT_MAX, &format!("{at}/shows"), || format!("at most {TEXT_MAX} characters"));
        if let Some(step) = &photo.step {
            let known = steps.iter().any(|s| s.id == *step);
            c.require(known, &format!("{at}/step"), || format!("no step “{step}”"));
        }
    }
}
