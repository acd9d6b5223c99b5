//! The ranges of every input, stated once. `plan::check` enforces them, the screens read them.

use serde::Serialize;
use thiserror::Error;
use utoipa::ToSchema;

use crate::base::limit;
use crate::base::quantity::{Unit, show, show_exactly};

/// The allowed range of one kind of input, in the unit of core.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Range {
    /// Key by which a screen asks for it.
    pub key: &'static str,
    /// Name of the field, as an error message begins.
    pub label: &'static str,
    /// Unit of both ends.
    pub unit: Unit,
    /// Lowest allowed value.
    pub min: f64,
    /// Highest allowed value.
    pub max: f64,
    /// Whether only whole numbers are allowed.
    pub whole: bool,
}

/// Why a value cannot be.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum RangeError {
    /// Outside the allowed range.
    #[error("{label}: {value} is outside {low} to {high}")]
    OutOfRange {
        /// Name of the field.
        label: &'static str,
        /// The value that was read, with unit.
        value: String,
        /// Lowest allowed, with unit.
        low: String,
        /// Highest allowed, with unit.
        high: String,
    },
    /// A fraction where only whole numbers make sense.
    #[error("{label}: {value} is not a whole number; use one from {low} to {high}")]
    NotWhole {
        /// Name of the field.
        label: &'static str,
        /// The value that was read.
        value: String,
        /// Lowest allowed.
        low: String,
        /// Highest allowed.
        high: String,
    },
}

impl Range {
    const fn real(key: &'static str, label: &'static str, unit: Unit, min: f64, max: f64) -> Self {
        Range { key, label, unit, min, max, whole: false }
    }

    const fn count(key: &'static str, label: &'static str, min: f64, max: f64) -> Self {
        Range { key, label, unit: Unit::Count, min, max, whole: true }
    }

    /// Refuses a value that is not finite, outside the range, or a fraction where whole numbers are wanted.
    pub fn check(&self, value: f64) -> Result<(), RangeError> {
        if !value.is_finite() || limit::below(value, self.min) || limit::above(value, self.max) {
            return Err(RangeError::OutOfRange {
                label: self.label,
                value: if value.is_finite() { self.echo(value) } else { "not a finite number".to_owned() },
                low: show(self.min, self.unit),
                high: show(self.max, self.unit),
            });
        }
        if self.whole && value.fract() != 0.0 {
            return Err(RangeError::NotWhole {
                label: self.label,
                value: value.to_string(),
                low: show(self.min, self.unit),
                high: show(self.max, self.unit),
            });
        }
        Ok(())
    }

    /// A refused value as it was typed: rounded it could look like one that is allowed, or like another figure.
    fn echo(&self, value: f64) -> String {
        let rounded = show(value, self.unit);
        let looks_allowed = [self.min, self.max].iter().any(|&end| show(end, self.unit) == rounded);
        let size = 10f64.powf(value.abs().max(f64::MIN_POSITIVE).log10().floor() - 2.0);
        let three_digits = (value / size).round() * size;
        // Times are told in the size people say them in, 26 h and not 93600 s, and lose digits by that.
        let is_time = matches!(self.unit, Unit::S | Unit::Days);
        let is_another = !is_time && (limit::above(value, three_digits) || limit::below(value, three_digits));
        if looks_allowed || is_another { show_exactly(value, self.unit) } else { rounded }
    }

    /// A figure in the middle of the range, to show how one is written.
    pub(crate) fn example(&self) -> f64 {
        if self.whole {
            return self.min + 1.0;
        }
        let middle = (self.min.max(self.max * 1e-6) * self.max).sqrt();
        let size = 10f64.powf(middle.log10().floor());
        (middle / size).round() * size
    }
}

macro_rules! ranges {
    ($($(#[$doc:meta])* $name:ident = $value:expr;)*) => {
        $($(#[$doc])* pub const $name: Range = $value;)*
        /// Every range there is.
        pub const ALL: &[Range] = &[$($name),*];
    };
}

ranges! {
    /// Voltage of a device, a charger, a converter.
    DEVICE_VOLTS = Range::real("device_volts", "Voltage", Unit::V, 0.1, 500.0);
    /// Voltage between two probes; below zero is the other way round.
    PROBE_VOLTS = Range::real("probe_volts", "Voltage", Unit::V, -500.0, 500.0);
    /// Currents in the power path.
    CURRENT = Range::real("current", "Current", Unit::A, 0.000_001, 1000.0);
    /// Current read on a bench; nothing is a reading too.
    BENCH_CURRENT = Range::real("bench_current", "Current", Unit::A, 0.0, 1000.0);
    /// Voltage over the transistors of a board at which it trips.
    DETECTOR = Range::real("detector", "Detection voltage", Unit::V, 0.005, 2.0);
    /// Pairs of transistors in parallel on a board.
    PAIRS = Range::count("pairs", "MOSFET pairs", 1.0, 40.0);
    /// Voltage read in an arrival test; nothing is a reading too.
    ARRIVAL_VOLTS = Range::real("arrival_volts", "Voltage", Unit::V, 0.0, 500.0);
    /// Resistance read in an arrival test; nothing is a reading too.
    ARRIVAL_OHM = Range::real("arrival_ohm", "Resistance", Unit::Ohm, 0.0, 100_000_000.0);
    /// How many of something that is used up.
    EXTRA_COUNT = Range::real("extra_count", "Count", Unit::Count, 0.01, 10_000.0);
    /// Pieces of a part at hand.
    AT_HAND = Range::count("at_hand", "Pieces at hand", 0.0, 100_000.0);
    /// Breaking capacity of a fuse.
    BREAKING = Range::real("breaking", "Breaking capacity", Unit::A, 1.0, 200_000.0);
    /// Power of a load or a supply.
    POWER = Range::real("power", "Power", Unit::W, 0.001, 50_000.0);
    /// Resistance of a load.
    LOAD_OHM = Range::real("load_ohm", "Resistance", Unit::Ohm, 0.001, 1_000_000.0);
    /// DCIR of a cell, or resistance of a contact.
    DCIR = Range::real("dcir", "Resistance", Unit::Ohm, 0.000_01, 10.0);
    /// Resistor of a divider, or a sense input.
    DIVIDER_OHM = Range::real("divider_ohm", "Resistance", Unit::Ohm, 10.0, 100_000_000.0);
    /// Capacitor that holds a feed up.
    CAPACITANCE = Range::real("capacitance", "Capacitance", Unit::F, 0.000_000_001, 1000.0);
    /// Small voltage: a hysteresis, the forward voltage of a diode.
    SMALL_VOLTS = Range::real("small_volts", "Voltage", Unit::V, 0.0, 10.0);
    /// Rise of temperature, per watt of heat.
    K_PER_W = Range::real("k_per_w", "Rise per watt", Unit::Ratio, 0.1, 200.0);
    /// What a converter draws itself.
    OWN_POWER = Range::real("own_power", "Power", Unit::W, 0.0, 1000.0);
    /// Length of a load level.
    DURATION = Range::real("duration", "Duration", Unit::S, 0.000_01, 360_000.0);
    /// Run time wanted or had.
    RUN_TIME = Range::real("run_time", "Run time", Unit::S, 1.0, 31_536_000.0);
    /// Capacity of an original battery.
    BATTERY_AH = Range::real("battery_ah", "Capacity", Unit::Ah, 0.01, 2000.0);
    /// Energy that a recharge put back.
    ENERGY = Range::real("energy", "Energy", Unit::Wh, 0.001, 100_000.0);
    /// Cells in series of an original battery.
    ORIGINAL_SERIES = Range::count("original_series", "Cells in series", 1.0, 48.0);
    /// Series count of a pack.
    SERIES = Range::count("series", "Series count", 1.0, 24.0);
    /// Packs besides the first.
    FURTHER_PACKS = Range::count("further_packs", "Further packs", 1.0, 3.0);
    /// Parallel count of a pack.
    PARALLEL = Range::count("parallel", "Parallel count", 1.0, 40.0);
    /// Rated capacity of one cell.
    CELL_AH = Range::real("cell_ah", "Cell capacity", Unit::Ah, 0.01, 400.0);
    /// Voltage of one cell.
    CELL_VOLTS = Range::real("cell_volts", "Cell voltage", Unit::V, 0.5, 5.0);
    /// Diameter, length, width or thickness of a part.
    SIZE = Range::real("size", "Size", Unit::Mm, 0.01, 1000.0);
    /// Where something begins in a compartment.
    PLACE = Range::real("place", "Place", Unit::Mm, 0.0, 1000.0);
    /// Room for what is round the cells.
    CLEARANCE = Range::real("clearance", "Room", Unit::Mm, 0.0, 50.0);
    /// How much thicker a flat cell may become.
    SWELLING = Range::real("swelling", "Swelling", Unit::Share, 0.0, 0.5);
    /// Added to a cell's diameter in its holder.
    HOLDER_CLEARANCE = Range::real("holder_clearance", "Clearance", Unit::Mm, 0.0, 2.0);
    /// Outer wall, or lip's thickness, of a holder.
    HOLDER_WALL = Range::real("holder_wall", "Wall", Unit::Mm, 0.4, 20.0);
    /// How far a holder's lip reaches over the end of a cell.
    HOLDER_LIP = Range::real("holder_lip", "Lip", Unit::Mm, 0.2, 20.0);
    /// Voltage read in a build, below zero where the probes are the wrong way round.
    BUILD_VOLTS = Range::real("build_volts", "Voltage", Unit::V, -600.0, 600.0);
    /// Amperes read in a build.
    BUILD_AMPS = Range::real("build_amps", "Current", Unit::A, -500.0, 500.0);
    /// Ohms read in a build.
    BUILD_OHMS = Range::real("build_ohms", "Resistance", Unit::Ohm, 0.0, 1e9);
    /// A time taken in a build.
    BUILD_TIME = Range::real("build_time", "Time", Unit::S, 0.0, 31_536_000.0);
    /// Height of a holder.
    HOLDER_HEIGHT = Range::real("holder_height", "Height", Unit::Mm, 1.0, 100.0);
    /// Columns, rows or layers of a lattice.
    LATTICE = Range::count("lattice", "Lattice", 1.0, 400.0);
    /// Where a lattice begins in a compartment; one for a tube begins outside it.
    LATTICE_PLACE = Range::real("lattice_place", "Place", Unit::Mm, -1000.0, 2000.0);
    /// One-way length of a wire.
    RUN_LENGTH = Range::real("run_length", "Length", Unit::Mm, 1.0, 100_000.0);
    /// Cross-section of a conductor.
    AREA = Range::real("area", "Cross-section", Unit::Mm2, 0.01, 300.0);
    /// American wire gauge; 0 is 1/0, -3 is 4/0.
    AWG = Range::count("awg", "Wire gauge", -3.0, 40.0);
    /// Mass of a part or a battery.
    MASS = Range::real("mass", "Mass", Unit::G, 0.01, 200_000.0);
    /// Money for one part.
    PRICE = Range::real("price", "Price", Unit::Money, 0.0, 1_000_000.0);
    /// Days until a part arrives.
    ARRIVAL = Range::real("arrival", "Days to arrive", Unit::Days, 0.0, 730.0);
    /// Efficiency of a converter or a charger.
    EFFICIENCY = Range::real("efficiency", "Efficiency", Unit::Share, 0.2, 1.0);
    /// Relative error or tolerance.
    TOLERANCE = Range::real("tolerance", "Tolerance", Unit::Share, 0.0, 0.9);
    /// Error of a reading, in the reading's unit.
    READING_ERROR = Range::real("reading_error", "Reading error", Unit::Ratio, 0.0, 1000.0);
    /// End of a meter's range, in what it reads.
    METER_RANGE = Range::real("meter_range", "Range", Unit::Ratio, 0.000_001, 10_000_000.0);
    /// Smallest step of a meter's display, in what it reads.
    METER_STEP = Range::real("meter_step", "Step", Unit::Ratio, 0.000_000_001, 1_000_000.0);
    /// Steps of the display in a meter's error.
    METER_STEPS = Range::real("meter_steps", "Digits", Unit::Ratio, 0.0, 1000.0);
    /// Resistance that a meter puts into the circuit.
    BURDEN = Range::real("burden", "Burden", Unit::Ohm, 0.000_01, 10_000.0);
    /// Temperatures of use and charge.
    TEMPERATURE = Range::real("temperature", "Temperature", Unit::C, -40.0, 90.0);
    /// Voltage of a cell as read on arrival or at rest; a dead one reads nothing.
    READ_VOLTS = Range::real("read_volts", "Voltage", Unit::V, 0.0, 5.0);
    /// Voltage over two taps that are thought to be one cell's: a wrong order shows several, or less than nothing.
    TAP_VOLTS = Range::real("tap_volts", "Voltage", Unit::V, -120.0, 120.0);
    /// Lag of diffusion of a cell.
    DIFFUSION = Range::real("diffusion", "Lag of diffusion", Unit::S, 0.0, 2000.0);
    /// Capacity as tested; a dead cell gives nothing.
    READ_AH = Range::real("read_ah", "Capacity", Unit::Ah, 0.0, 400.0);
    /// Rest between two readings of voltage.
    REST = Range::real("rest", "Rest", Unit::S, 0.0, 31_536_000.0);
    /// Days over which voltage was lost.
    REST_DAYS = Range::real("rest_days", "Days of rest", Unit::Days, 0.1, 365.0);
    /// Age of an old battery.
    AGE_DAYS = Range::real("age_days", "Age", Unit::Days, 0.0, 36_500.0);
    /// State of charge.
    SOC = Range::real("soc", "State of charge", Unit::Share, 0.0, 1.0);
    /// Weight of a term in a grouping.
    WEIGHT = Range::real("weight", "Weight", Unit::Ratio, 0.0, 100.0);
    /// Depth of a run, as a share of the first capacity.
    DEPTH = Range::real("depth", "Depth of discharge", Unit::Share, 0.01, 1.0);
    /// Current over capacity, 1/h.
    C_RATE = Range::real("c_rate", "Current over capacity", Unit::Ratio, 0.01, 20.0);
    /// Resistance of a pack.
    PACK_OHM = Range::real("pack_ohm", "Resistance", Unit::Ohm, 0.000_1, 100.0);
    /// Capacity of a pack.
    PACK_AH = Range::real("pack_ah", "Capacity", Unit::Ah, 0.01, 4000.0);
    /// How long a charge or a run took.
    TOOK = Range::real("took", "Time", Unit::S, 1.0, 2_592_000.0);
    /// C rating on the label of a hobby pack.
    LABEL_C = Range::real("label_c", "C rating", Unit::Ratio, 0.1, 200.0);
    /// Layers of strip, or strips side by side.
    STRIP_COUNT = Range::count("strip_count", "Strips", 1.0, 40.0);
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_example_of_every_range_lies_in_it() {
        for range in ALL {
            range.check(range.example()).unwrap_or_else(|e| panic!("{}: {e}", range.key));
        }
    }

    #[test]
    fn a_refused_value_is_told_as_it_was_typed() {
        let told = |range: &Range, value: f64| range.check(value).map_err(|e| e.to_string()).expect_err("out of range");
        for (range, value, said) in [
            (&CURRENT, 999_999.0, "999999 A is"),
            (&CURRENT, 1000.4, "1000.4 A is"),
            (&DEVICE_VOLTS, 500.4, "500.4 V is"),
            (&DEVICE_VOLTS, 600.0, "600 V is"),
            (&DEVICE_VOLTS, 0.012, "12 mV is"),
            (&EFFICIENCY, 1.004, "100.4 % is"),
        ] {
            let told = told(range, value);
            assert!(told.contains(said), "{told}");
        }
        // Whatever its unit: what is refused never looks like an end, which is allowed.
        for range in ALL {
            let value = range.max * 1.000_4 + if range.max == 0.0 { 1e-4 } else { 0.0 };
            if let Err(RangeError::OutOfRange { value, high, .. }) = range.check(value) {
                assert_ne!(value, high, "{}", range.key);
            }
        }
    }

    #[test]
    fn both_ends_are_allowed_and_a_step_beyond_is_not() {
        for range in ALL {
            assert!(range.check(range.min).is_ok(), "{}", range.key);
            assert!(range.check(range.max).is_ok(), "{}", range.key);
            assert!(range.check(range.max * 1.01 + 1.0).is_err(), "{}", range.key);
            assert!(range.check(f64::NAN).is_err() && range.check(f64::INFINITY).is_err());
        }
    }
}
