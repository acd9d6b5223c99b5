//! What a survey of the device finds besides voltage and currents: its electronics, its compartments, its surroundings.
//!
//! Every answer may be absent: unknown is never no.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Known, Wall};

/// The kind of job, which decides what is asked first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Job {
    /// A motor tool: drill, shears, vacuum.
    MotorTool,
    /// A handheld with a gauge and alarms.
    HandheldWithGauge,
    /// An instrument with a charge circuit of its own.
    InstrumentWithCharger,
    /// A pump or fan.
    Pump,
    /// A standby supply.
    StandbySupply,
    /// A power bank.
    PowerBank,
    /// An adjustable bench supply.
    BenchSupply,
    /// A toy or model.
    ToyOrModel,
    /// A pack with electronics of its own that gets new cells.
    Recelling,
    /// The pack stays; a way to charge it in the device is added.
    ChargingAdded,
    /// A ready pack on a plug takes the old battery's place.
    ReadyPack,
    /// Cells that the user puts in and takes out, side by side in holders.
    ReplaceableCells,
}

/// The device's own electronics.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Electronics {
    /// Whether it starts its motor softly.
    pub soft_start: Option<bool>,
    /// Whether the new feed still goes through the soft start.
    pub soft_start_kept: Option<bool>,
    /// Whether it charges its battery itself.
    pub charges_itself: Option<bool>,
    /// Voltage of its charge circuit at the battery.
    pub charge_v: Option<Known>,
    /// Current that circuit is limited to.
    pub charge_limit_a: Option<Known>,
    /// Levels at which its gauge warns, in battery voltage.
    pub alarms: Vec<AlarmLevel>,
    /// Whether a selector sets its packs in series or in parallel.
    pub selector: Option<bool>,
    /// Pack voltage at the selector's lower setting.
    pub selector_low_v: Option<Known>,
    /// Whether it needs a pack that names itself, by a resistor or a chip.
    pub identity_pins: Option<bool>,
    /// Whether it reads a temperature sensor in the pack.
    pub temperature_pins: Option<bool>,
}

/// One level of the gauge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AlarmLevel {
    /// What it shows or does.
    pub name: String,
    /// Battery voltage at which it does so.
    pub at_v: Known,
    /// What it says of the battery; absent is what its name says.
    #[serde(default)]
    pub means: Option<LevelMeans>,
}

/// What a level of a gauge says of the battery.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LevelMeans {
    /// It is full.
    Full,
    /// It will be empty soon.
    Low,
    /// It is empty.
    Empty,
}

/// What it must withstand where it is used.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Surroundings {
    /// Rain, splash, condensation.
    pub wet: Option<bool>,
    /// Dust, chips, sand.
    pub dusty: Option<bool>,
    /// Oil, solvents, fertiliser.
    pub chemicals: Option<bool>,
    /// Drops, kicks, vibration.
    pub shocks: Option<bool>,
    /// Whether the compartment has openings for air.
    pub vented: Option<bool>,
}

/// A place for the pack, measured inside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Compartment {
    /// Short and stable inside the plan.
    pub id: String,
    /// The maker's word for it.
    pub name: String,
    /// Its inner shape.
    pub space: Space,
    /// What is in the way.
    #[serde(default)]
    pub obstructions: Vec<Obstruction>,
    /// Holes wanted in its walls.
    #[serde(default)]
    pub openings: Vec<Opening>,
    /// Whether its walls are metal.
    #[serde(default)]
    pub metal: Option<bool>,
}

impl Compartment {
    /// What stands in the way and stays.
    pub fn in_the_way(&self) -> impl Iterator<Item = &Obstruction> {
        self.obstructions.iter().filter(|o| !o.cut)
    }
}

/// The shape of a space.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "shape", rename_all = "snake_case", deny_unknown_fields)]
pub enum Space {
    /// A box.
    Box {
        /// Length.
        length_mm: f64,
        /// Width.
        width_mm: f64,
        /// Depth.
        depth_mm: f64,
    },
    /// A tube or handle.
    Cylinder {
        /// Diameter.
        diameter_mm: f64,
        /// Length.
        length_mm: f64,
    },
}

/// A wall, post or lamp in a compartment, as a box.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Obstruction {
    /// What it is.
    pub name: String,
    /// Along the length.
    pub length_mm: f64,
    /// Along the width.
    pub width_mm: f64,
    /// Along the depth.
    pub depth_mm: f64,
    /// Where it begins along the length; in the corner unless said.
    #[serde(default)]
    pub x_mm: f64,
    /// Where it begins along the width.
    #[serde(default)]
    pub y_mm: f64,
    /// Where it begins along the depth.
    #[serde(default)]
    pub z_mm: f64,
    /// Whether it is planned to be cut away: it is not in the way then.
    #[serde(default)]
    pub cut: bool,
}

/// A hole for something that is seen or reached from outside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Opening {
    /// What it is for.
    pub purpose: OpeningPurpose,
    /// Diameter of the hole.
    pub hole_mm: f64,
    /// Depth free behind the wall, as measured.
    pub behind_mm: Option<f64>,
    /// Thickness of the wall.
    pub wall_mm: Option<f64>,
    /// Thickness of a pad or washer between wall and part.
    #[serde(default)]
    pub pad_mm: Option<f64>,
    /// Thickest wall and pad that the part's thread takes.
    #[serde(default)]
    pub thread_mm: Option<f64>,
    /// Depth that the part takes behind the wall, with its wires.
    #[serde(default)]
    pub part_mm: Option<f64>,
    /// Diameter of the part behind the wall, where it is wider than the hole.
    #[serde(default)]
    pub body_mm: Option<f64>,
    /// The wall it goes through.
    #[serde(default)]
    pub wall: Option<Wall>,
    /// Middle of the hole along the wall: along the length, on an end wall along the width.
    #[serde(default)]
    pub along_mm: Option<f64>,
    /// Middle of the hole up the wall: along the depth, on floor and lid along the width.
    #[serde(default)]
    pub up_mm: Option<f64>,
    /// What is seen through it.
    #[serde(default)]
    pub shows: Vec<Sign>,
    /// Whether the part in it is insulated from the wall.
    #[serde(default)]
    pub insulated: Option<bool>,
    /// The lamp in it.
    #[serde(default)]
    pub lamp: Option<LampWanted>,
}

/// A lamp that is seen from outside.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct LampWanted {
    /// Whether the lamp of the module stays and its light is led out; otherwise another one takes its place on leads.
    pub keeps: Option<bool>,
    /// Its colour.
    pub colour: Option<LampColour>,
    /// Which of its contacts several lamps share on the module.
    pub common: Option<LampCommon>,
    /// Voltage between the pads that it is connected to.
    pub fed_v: Option<f64>,
}

/// Colour of a lamp.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LampColour {
    /// Red.
    Red,
    /// Yellow.
    Yellow,
    /// Green.
    Green,
    /// Blue.
    Blue,
    /// White.
    White,
}

/// The contact that lamps share.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LampCommon {
    /// Plus.
    Anode,
    /// Minus.
    Cathode,
}

/// What must be seen from outside.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Sign {
    /// That it charges.
    Charging,
    /// That it is full.
    Full,
    /// That it is on.
    On,
}

/// What an opening is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum OpeningPurpose {
    /// The charge jack.
    Jack,
    /// A lamp.
    Lamp,
    /// A switch.
    Switch,
    /// A cable.
    Cable,
    /// A gauge.
    Gauge,
}

/// Readings with a current-limited bench supply in the old pack's place.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Proving {
    /// Current limit that was set.
    pub limit_a: Option<f64>,
    /// Draw while off.
    pub idle_a: Option<Known>,
    /// Whether it lives.
    pub lives: Option<bool>,
    /// Draw while running as usual.
    pub draw_a: Option<Known>,
    /// Voltage at which it stopped, coming down.
    pub stops_at_v: Option<Known>,
    /// Maximum voltage at which it ran.
    pub ran_at_v: Option<Known>,
}

/// A photograph that the workshop keeps; a plan holds only its name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Photo {
    /// SHA-256 of the kept picture, in hexadecimal.
    pub sha256: String,
    /// What it shows.
    #[serde(default)]
    pub shows: String,
    /// The step of the disassembly before which it was taken, if it belongs to one.
    #[serde(default)]
    pub step: Option<String>,
}

/// One step of taking the device apart.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ApartStep {
    /// Short and stable inside the plan.
    pub id: String,
    /// What is done.
    pub what: String,
    /// Whether a wire or connector comes off.
    #[serde(default)]
    pub pulls_wire: bool,
    /// Whether the device can be put back as it was.
    #[serde(default)]
    pub reversible: Option<bool>,
    /// What the meter said of that wire before it was pulled.
    #[serde(default)]
    pub live: Option<Live>,
    /// Whether it is done.
    #[serde(default)]
    pub done: bool,
}

/// When a wire has voltage on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Live {
    /// Always.
    Always,
    /// Only while the device is on.
    WhenOn,
    /// Never: it leads nowhere.
    NotConnected,
}
