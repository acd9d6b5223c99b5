//! What must be known of each thing that is sold, and what settles each figure.

use super::Sold;

// What settles a doubtful figure.
pub const LOADED: &str = "Pass the load's current for ten minutes: a finger must be able to stay on it.";
pub const TRIP: &str = "Arrival test “Trips at over-current”.";
pub const OVER: &str = "Arrival test “Ends the charge”.";
pub const UNDER: &str = "Arrival test “Ends the discharge”.";
pub const DRAIN: &str = "Arrival test “Drain at rest”.";
pub const BLEED: &str =
    "Ohms of its bleed resistors: full volts of a cell / ohms. Or a meter in a tap lead at the end of a charge.";
pub const SIDE: &str =
    "A meter in each lead and a resistor as dummy battery: the charge current is the one into the resistor.";
pub const SHEET: &str = "Ask the seller, or look for the print of its chips and their data sheet.";
pub const PRINT: &str = "Read its print on arrival; no DC volts in print means none.";
pub const SET: &str = "Set it and read it on a meter before it is wired in, and again under load.";

/// A figure that a buyer needs.
pub struct Asked {
    pub at: &'static str,
    pub label: &'static str,
    pub test: &'static str,
}

const fn asked(at: &'static str, label: &'static str, test: &'static str) -> Asked {
    Asked { at, label, test }
}

/// What must be known of each kind, the weightiest first.
pub fn asks(sold: Sold) -> &'static [Asked] {
    const BOARD: &[Asked] = &[
        asked("/protects/series", "Cells in series", "Count its taps."),
        asked("/protects/chemistry", "Chemistry", OVER),
        asked("/protects/over_charge_v", "Ends the charge at, a cell", OVER),
        asked("/protects/over_discharge_v", "Ends the discharge at, a cell", UNDER),
        asked("/protects/continuous_a", "Continuous current", LOADED),
        asked("/protects/trip_a/value", "Trip current", TRIP),
        asked("/protects/trip_delay_s", "Trip delay", "A start of the device: does it open?"),
        asked("/protects/charge_a", "Charge current", LOADED),
        asked("/protects/bleed_a", "Bleed current", BLEED),
        asked("/standby_a", "Drain at rest", DRAIN),
        asked("/protects/port", "Ports", "Ohms from C− to P−: nothing between them is a common port."),
    ];
    const CUT_OFF: &[Asked] = &[
        asked("/cuts_off/at_v", "Opens at", "Arrival test “Opens”."),
        asked("/cuts_off/rearm_v", "Closes again at", "Arrival test “Closes again”."),
        asked("/standby_a", "Drain at rest", DRAIN),
    ];
    const CHARGER: &[Asked] = &[
        asked(
            "/charges/output_v/value",
            "End volts",
            "A capacitor through a resistor as dummy battery; read where it stops.",
        ),
        asked("/charges/output_a", "Charge current", SIDE),
        asked("/charges/tolerance", "Tolerance", "The end volts of this one, read on a meter."),
    ];
    const CONVERTER: &[Asked] = &[
        asked("/converts/output_v", "Set to", SET),
        asked("/converts/input_max_v", "Highest input", SHEET),
        asked("/converts/input_min_v", "Lowest input", "Turn its supply down under load until the output falls."),
        asked("/converts/output_a", "Output current", LOADED),
        asked("/converts/efficiency", "Efficiency", SIDE),
        asked("/standby_a", "Drain at rest", DRAIN),
    ];
    const FUSE: &[Asked] = &[
        asked("/rating_a", "Rating", PRINT),
        asked("/dc_v", "DC volts", PRINT),
        asked("/breaking_a", "Breaking capacity", SHEET),
        asked("/style", "Style", PRINT),
    ];
    const WIRE: &[Asked] = &[asked("/insulation", "Insulation", "A soldering iron: silicone does not melt, PVC does.")];
    const CONNECTOR: &[Asked] = &[
        asked("/continuous_a", "Continuous current", LOADED),
        asked("/dc_v", "DC volts", PRINT),
        asked("/keyed", "Fits one way only", "Try it the wrong way round, unpowered."),
        asked("/live_pins_bare", "Live half has bare pins", "Look: which half has bare pins?"),
    ];
    match sold {
        Sold::Board => BOARD,
        Sold::CutOff => CUT_OFF,
        Sold::Charger => CHARGER,
        Sold::Converter => CONVERTER,
        Sold::Fuse => FUSE,
        Sold::Wire => WIRE,
        Sold::Connector => CONNECTOR,
    }
}
