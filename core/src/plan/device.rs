//! The device as surveyed: its original battery, its window, its load.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{ApartStep, Compartment, Contact, Electronics, Job, Known, Photo, Proving, Surroundings};
use crate::base::chemistry::Chemistry;

/// What kind of thing is converted; it decides how voltage act on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DeviceKind {
    /// A brushed motor under mechanical load: tool, toy, winch.
    Motor,
    /// A motor that moves air or water: pump, fan, vacuum.
    FanOrPump,
    /// Electronics with their own regulation.
    Electronics,
    /// Lamps and heaters.
    Resistive,
    /// No one said yet.
    Unsaid,
}

/// The device that is converted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Device {
    /// What it is.
    pub kind: DeviceKind,
    /// The battery it was built for.
    pub original: Original,
    /// Minimum voltage it works at.
    pub lowest_v: Option<Known>,
    /// Maximum voltage it is rated for.
    pub highest_v: Option<Known>,
    /// Where its own electronics switch it off, if they do.
    pub cutout_v: Option<Known>,
    /// What it draws. The first level without an end is the usual one.
    pub loads: Vec<Load>,
    /// Run time wanted at the usual use.
    pub wanted_run_s: Option<f64>,
    /// The kind of job, if one was chosen.
    #[serde(default)]
    pub job: Option<Job>,
    /// What its type plate says.
    #[serde(default)]
    pub label: String,
    /// Its battery connector, as it looks.
    #[serde(default)]
    pub connector: String,
    /// Its own electronics.
    #[serde(default)]
    #[serde(rename = "brains")]
    pub electronics: Electronics,
    /// Its contacts for a battery.
    #[serde(default)]
    pub contacts: Vec<Contact>,
    /// What it must withstand where it is used.
    #[serde(default)]
    pub surroundings: Surroundings,
    /// Places for the pack.
    #[serde(default)]
    pub compartments: Vec<Compartment>,
    /// What a bench supply in the old pack's place showed.
    #[serde(default)]
    pub proving: Proving,
    /// Photographs of it, as it was before anything was pulled.
    #[serde(default)]
    pub photos: Vec<Photo>,
    /// How it is taken apart, in order.
    #[serde(default)]
    pub apart: Vec<ApartStep>,
}

/// The battery the device was built for.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Original {
    /// Its chemistry.
    pub chemistry: Option<Chemistry>,
    /// Cells in series.
    pub series: Option<u32>,
    /// Voltage printed on it.
    #[serde(default)]
    pub label_v: Option<f64>,
    /// Everything else that is printed on it.
    #[serde(default)]
    pub words: String,
    /// Its age.
    #[serde(default)]
    pub age_days: Option<f64>,
    /// Its capacity, as its label says.
    pub capacity_ah: Option<Known>,
    /// What it gave when it was last discharged under a meter.
    #[serde(default)]
    pub gave_ah: Option<Known>,
    /// Its mass.
    pub mass_g: Option<Known>,
    /// Voltage its charger puts out.
    pub charger_v: Option<Known>,
    /// Voltage on the charger's label.
    #[serde(default)]
    pub charger_label_v: Option<f64>,
    /// Current on the charger's label.
    #[serde(default)]
    pub charger_label_a: Option<f64>,
    /// How long the device ran on it when it was good.
    pub run_s: Option<Known>,
    /// Whether the old charger still fits the new jack.
    pub charger_fits: Option<bool>,
    /// Whether old cells can still be put in, in parallel with the new pack.
    pub cells_fit: Option<bool>,
    /// Thickness of the wire that is replaced.
    pub wire: Option<super::WireSize>,
}

/// What a load level is stated as.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "as", rename_all = "snake_case", deny_unknown_fields)]
pub enum Draw {
    /// A current.
    Current {
        /// Amperes at the device.
        value_a: Known,
    },
    /// A constant power.
    Power {
        /// Watts at the device.
        value_w: Known,
    },
    /// A resistance.
    Resistance {
        /// Ohms of the device.
        value_ohm: Known,
    },
}

/// One level of the load.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Load {
    /// Short and stable inside the plan.
    pub id: String,
    /// The maker's word for it.
    pub name: String,
    /// How much it draws.
    pub draw: Draw,
    /// How long; absent is without an end.
    #[serde(default)]
    pub duration_s: Option<f64>,
    /// How often it comes; absent is now and then.
    #[serde(default)]
    pub every_s: Option<f64>,
}

/// Temperatures the finished device is used and charged at.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Environment {
    /// Coldest use.
    pub use_min_c: f64,
    /// Hottest use.
    pub use_max_c: f64,
    /// Coldest charge.
    pub charge_min_c: f64,
    /// Hottest charge.
    pub charge_max_c: f64,
}

impl Default for Environment {
    fn default() -> Self {
        Environment { use_min_c: 0.0, use_max_c: 35.0, charge_min_c: 10.0, charge_max_c: 35.0 }
    }
}

/// A caution the maker accepted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Acceptance {
    /// Key of the finding: rule and subject.
    pub finding: String,
    /// Why it is accepted, in the maker's words.
    pub reason: String,
    /// The deciding figure when it was accepted; the acceptance falls away when it worsens by over 5 %.
    #[serde(default)]
    pub deciding_value: Option<f64>,
}
