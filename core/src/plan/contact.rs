//! The device's own contacts: where the old battery touched it, and what a meter read there before anything was connected.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Device, Known};

/// What a contact is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ContactKind {
    /// Plus of the battery.
    BatteryPlus,
    /// Minus of the battery: every reading is taken against it.
    BatteryMinus,
    /// Plus of a charge circuit.
    Charge,
    /// A small contact by which the device reads the battery.
    Sense,
}

/// One contact of the device. Every reading is optional: what was not read is not known.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Contact {
    /// Short and stable inside the plan.
    pub id: String,
    /// The maker's word for it: where it is, or its colour.
    pub name: String,
    /// What it is for; absent is not known.
    #[serde(default)]
    pub kind: Option<ContactKind>,
    /// Voltage against battery minus with the device off.
    #[serde(default)]
    pub off_v: Option<Known>,
    /// Voltage against battery minus with the device on.
    #[serde(default)]
    pub on_v: Option<Known>,
    /// Voltage against battery minus with the device's charger connected and no battery in it.
    #[serde(default)]
    pub charging_v: Option<Known>,
    /// Resistance to minus in the old battery, at the contact that touches this one.
    #[serde(default)]
    pub old_battery_ohm: Option<Known>,
}

impl Contact {
    /// Its voltages with the words for when each was read.
    pub fn volts(&self) -> impl Iterator<Item = (&'static str, &Known)> {
        let read = [("off", &self.off_v), ("on", &self.on_v), ("charger connected", &self.charging_v)];
        read.into_iter().filter_map(|(when, known)| Some((when, known.as_ref()?)))
    }
}

impl Device {
    /// The first contact of a kind.
    pub fn contact(&self, kind: ContactKind) -> Option<&Contact> {
        self.contacts.iter().find(|c| c.kind == Some(kind))
    }
}
