//! What a meter read at the device's own contacts, against what is planned for them.

use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::quantity::{Unit, show};
use crate::plan::{Contact, ContactKind, Known};

/// Voltage beyond which a contact has the wrong sign, and from which a small one is fed. Common practice, no source: a diode's drop, and
/// the stray voltage that a meter of 10 MΩ shows on an open wire.
const SIGN_V: f64 = 0.3;
/// Voltage from which a contact is fed by a charge circuit.
const FED_V: f64 = 1.0;
/// How far two readings of one charge circuit may stand apart beside their errors. Common practice, no source: with a battery and without.
const APART: f64 = 0.02;

pub fn check(f: &mut Findings<'_, '_>) {
    let device = &f.workspace.plan.device;
    for contact in &device.contacts {
        match contact.kind {
            Some(ContactKind::BatteryPlus | ContactKind::Charge) => reversed(f, contact),
            Some(ContactKind::Sense) => sensed(f, contact),
            Some(ContactKind::BatteryMinus) | None => {}
        }
    }
    let by_use = [ContactKind::BatteryPlus, ContactKind::Charge].into_iter().filter_map(|kind| device.contact(kind));
    if let Some((contact, fed)) = by_use.into_iter().find_map(|c| Some((c, fed_by_charger(c)?))) {
        charges(f, contact, fed);
    }
}

/// What a charge circuit puts on a contact, as read.
fn fed_by_charger(contact: &Contact) -> Option<&Known> {
    contact.charging_v.as_ref().filter(|read| read.band().0 > FED_V)
}

fn reversed(f: &mut Findings<'_, '_>, contact: &Contact) {
    let Some((when, read)) = contact.volts().find(|(_, read)| read.band().1 < -SIGN_V) else { return };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::device::CONTACT_REVERSED,
            subject: &contact.id,
            title: "Contact reads below battery minus",
            why: "“{$0}” has {$1} against battery minus, {$2}. Either the probes were swapped, or plus and minus are. A pack connected by these names may be reversed.",
            words: &[&contact.name, &show(read.value, Unit::V), when],
        },
    );
}

fn sensed(f: &mut Findings<'_, '_>, contact: &Contact) {
    let pins = &f.workspace.plan.device.electronics;
    let provided = pins.identity_pins == Some(true) || pins.temperature_pins == Some(true);
    let Some((when, read)) = contact.volts().find(|(_, read)| read.band().0 > SIGN_V).filter(|_| !provided) else {
        return;
    };
    let old = contact.old_battery_ohm.as_ref();
    let old = old.map_or(String::new(), |ohm| format!(" The old battery has {} there.", show(ohm.value, Unit::Ohm)));
    f.add(
        Severity::Caution,
        Says {
            rule: rule::device::CONTACT_SENSED,
            subject: &contact.id,
            title: "Device reads a contact of the battery",
            why: "“{$0}” has {$1} against battery minus, {$2}: the device feeds it and reads what comes back.{$3} Without it the device may not start, or not charge.",
            words: &[&contact.name, &show(read.value, Unit::V), when, &old],
        },
    );
}

/// A charge circuit that was read at a contact, against what the plan says of it.
fn charges(f: &mut Findings<'_, '_>, contact: &Contact, fed: &Known) {
    let electronics = &f.workspace.plan.device.electronics;
    let (severity, title, rest) = match (electronics.charges_itself, &electronics.charge_v) {
        (Some(true), Some(entered)) => {
            let errors = fed.error.unwrap_or(0.0) + entered.error.unwrap_or(0.0);
            if (fed.value - entered.value).abs() <= errors + APART * fed.value {
                return;
            }
            let title = "Device's charge circuit read at two voltages";
            (Severity::Caution, title, format!("The plan says {}. Read it again.", show(entered.value, Unit::V)))
        }
        (Some(true), None) => {
            let title = "Voltage of the charge circuit not yet entered";
            (Severity::Note, title, "Use it as the voltage of the device's charge circuit.".to_owned())
        }
        (said, _) => {
            let title = "Device charges what is connected to it";
            let said = if said == Some(false) { "The plan says that it does not charge its battery. " } else { "" };
            let rest = format!("{said}A circuit made for the old battery would charge the new pack.");
            (Severity::Caution, title, rest)
        }
    };
    f.add(
        severity,
        Says {
            rule: rule::device::CONTACT_CHARGES,
            subject: &contact.id,
            title,
            why: "With its charger connected and no battery in it, “{$0}” has {$1}. {$2}",
            words: &[&contact.name, &show(fed.value, Unit::V), &rest],
        },
    );
}
