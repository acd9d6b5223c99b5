//! What is worth trying for findings about the device and where it is used.

use super::{At, Move, put, these};
use crate::assess::{rule, subject};
use crate::base::quantity::{Unit, show};
use crate::physics::device::printed;
use crate::plan::{Contact, ContactKind, How, Known, Original};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::device::OLD_CELLS_FIT => {
            vec![put("/device/original/cells_fit", false, "I block the bay or cut its wire")]
        }
        rule::device::SOFT_START_BYPASSED => {
            vec![put("/device/brains/soft_start_kept", true, "Feed it through the soft start")]
        }
        rule::device::LOWER_SETTING_NEVER_RUNS => {
            vec![put("/device/brains/selector", false, "Do not use the lower setting")]
        }
        rule::device::WET_OPEN_BOARD | rule::device::CHEMICALS_OPEN_PACK => {
            vec![put("/device/surroundings/vented", false, "I close the compartment")]
        }
        rule::device::KNOCKS_UNHELD => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::device::GAUGE_BLIND => vec![put("/feed/gauge_led", true, "Connect its sense wire to the pack")],
        rule::device::VENTED_IN_THE_WET => vec![put("/device/surroundings/vented", false, "Close the vents")],
        rule::device::LABEL_WORDS => as_printed(at).into_iter().collect(),
        rule::device::LAMP_DARK => lamp_put(at, "colour", "red", "Use a red lamp").into_iter().collect(),
        rule::device::CONTACT_CHARGES => as_read(at).into_iter().collect(),
        rule::device::CONTACT_REVERSED => these(&[exchanged(at), read_again(at)]),
        rule::device::CONTACT_SENSED => {
            vec![put("/device/brains/identity_pins", true, "The new pack gives it what the old one did")]
        }
        rule::device::METAL_WALL => insulated(at).into_iter().collect(),
        _ => vec![],
    }
}

/// The old battery as its label says, where the label says something.
fn as_printed(at: &At<'_>) -> Option<Move> {
    let own = &at.plan.device.original;
    let read = printed(&own.words);
    let known = |value: f64| Known { value, how: How::Stated, error: None, meter: None };
    let original = Original {
        chemistry: read.chemistry.or(own.chemistry),
        series: read.series().or(own.series),
        label_v: own.label_v.or(read.label_v),
        capacity_ah: own.capacity_ah.clone().or(read.capacity_ah.map(known)),
        ..own.clone()
    };
    let named = original.chemistry.map_or("", |c| c.facts().name);
    let label = match original.series {
        Some(series) => format!("Use what the label says: {named}, {series} in series"),
        None => format!("Use what the label says: {named}"),
    };
    Some(put("/device/original", serde_json::to_value(original).ok()?, label))
}

/// A field of the lamp of a finding.
fn lamp_put(at: &At<'_>, field: &str, value: &str, label: &str) -> Option<Move> {
    let (place, opening) = subject(&at.finding.key).rsplit_once('/')?;
    let i = at.plan.device.compartments.iter().position(|p| p.id == place)?;
    Some(put(format!("/device/compartments/{i}/openings/{opening}/lamp/{field}"), value, label))
}

/// The part of a finding insulated from its wall.
fn insulated(at: &At<'_>) -> Option<Move> {
    let (place, opening) = subject(&at.finding.key).rsplit_once('/')?;
    let i = at.plan.device.compartments.iter().position(|p| p.id == place)?;
    let field = format!("/device/compartments/{i}/openings/{opening}/insulated");
    Some(put(field, true, "Use an insulated part or insulating washers"))
}

fn contact_of<'a>(at: &At<'a>) -> Option<(usize, &'a Contact)> {
    at.plan.device.contacts.iter().enumerate().find(|(_, c)| c.id == subject(&at.finding.key))
}

/// The device's own charge circuit as it was read at a contact.
fn as_read(at: &At<'_>) -> Option<Move> {
    let (_, contact) = contact_of(at)?;
    let read = contact.charging_v.clone()?;
    let label = format!("It charges its battery itself, up to {}", show(read.value, Unit::V));
    let mut electronics = at.plan.device.electronics.clone();
    (electronics.charges_itself, electronics.charge_v) = (Some(true), Some(read));
    Some(put("/device/brains", serde_json::to_value(electronics).ok()?, label))
}

/// Plus and minus the other way round. What was read against the wrong one of them is read again.
fn exchanged(at: &At<'_>) -> Option<Move> {
    let (plus, read) = contact_of(at).filter(|(_, c)| c.kind == Some(ContactKind::BatteryPlus))?;
    let mut contacts = at.plan.device.contacts.clone();
    let minus = contacts.iter().position(|c| c.kind == Some(ContactKind::BatteryMinus))?;
    let turned = |known: &Option<Known>| known.clone().map(|k| Known { value: -k.value, ..k });
    for contact in &mut contacts {
        (contact.off_v, contact.on_v, contact.charging_v) = (None, None, None);
    }
    contacts[plus].kind = Some(ContactKind::BatteryMinus);
    let to = &mut contacts[minus];
    to.kind = Some(ContactKind::BatteryPlus);
    (to.off_v, to.on_v, to.charging_v) = (turned(&read.off_v), turned(&read.on_v), turned(&read.charging_v));
    let label = format!("“{}” is plus, “{}” is minus", to.name, read.name);
    Some(put("/device/contacts", serde_json::to_value(contacts).ok()?, label))
}

/// The readings of a contact taken back.
fn read_again(at: &At<'_>) -> Option<Move> {
    let (i, contact) = contact_of(at)?;
    let unread = Contact { off_v: None, on_v: None, charging_v: None, ..contact.clone() };
    let label = format!("Remove the readings of “{}” and take them again", contact.name);
    Some(put(format!("/device/contacts/{i}"), serde_json::to_value(unread).ok()?, label))
}
