//! What settles a figure that a seller states in two ways, or not at all.

use super::{Field, VOLTS, named_but, quantity};
use crate::base::range;

pub const LOADED: &str = "Pass the load's current for ten minutes: a finger must be able to stay on it.";
pub const TRIP: &str = "Arrival test “Trips at overcurrent”.";
pub const OVER: &str = "Arrival test “Ends the charge”.";
pub const UNDER: &str = "Arrival test “Ends the discharge”.";
pub const DRAIN: &str = "Arrival test “Standby drain”.";
pub const BLEED: &str =
    "Ohms of its bleed resistors: full voltage of a cell / ohms. Or a meter in a tap lead at the end of a charge.";
pub const SIDE: &str =
    "A meter in each lead and a resistor as dummy battery: the charge current is the one into the resistor.";
pub const SHEET: &str = "Ask the seller, or look for the print of its chips and their data sheet.";
pub const PRINT: &str = "Read its print on arrival; no DC voltage in print means none.";
pub const STRANDS: &str = "Count and measure its strands.";
pub const SET: &str = "Set it and read it on a meter before it is wired in, and again under load.";

/// How sellers name what a part takes while nothing runs.
pub const RESTING: &str = r"quiescent|self.?consum|stand.?by|static|own consumption|no.?load|idle";

/// DC voltage of what opens a circuit, or is plugged: those of AC say nothing.
pub const DC_VOLTS: Field =
    quantity("DC voltage", &range::DEVICE_VOLTS).asked(2, PRINT).heard(&[named_but("", r"\bac\b", VOLTS)]);
