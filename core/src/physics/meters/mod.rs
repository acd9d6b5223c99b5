//! What the meters at hand can know: the error of a reading, whether two readings differ.
//!
//! No verdict is finer than the meter that fed it.

use serde::Serialize;
use thiserror::Error;
use utoipa::ToSchema;

use crate::base::limit::above;
use crate::base::quantity::{Unit, show};
use crate::plan::{Meter, Reads};

impl Reads {
    /// Its unit inside core.
    pub fn unit(self) -> Unit {
        match self {
            Reads::Volts => Unit::V,
            Reads::Amps => Unit::A,
            Reads::Ohms => Unit::Ohm,
            Reads::Watts => Unit::W,
        }
    }
}

/// A range of an ordinary hand meter, to begin a list of meters with. Common practice, no source: its own manual says better.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct UsualRange {
    /// What it reads.
    pub reads: Reads,
    /// What such a range is called.
    pub name: &'static str,
    /// End of the range.
    pub range: f64,
    /// Smallest step of its display.
    pub step: f64,
    /// Share of the reading in its error.
    pub error_share: f64,
    /// Steps of the display in its error.
    pub error_steps: f64,
    /// Resistance it puts into the circuit.
    pub burden_ohm: Option<f64>,
    /// Time from one reading to the next.
    pub every_s: f64,
}

/// One range for each thing that is read.
pub const USUAL: [UsualRange; 4] = [
    usual(Reads::Volts, "hand meter, 20 V", 20.0, 0.01, 0.005, 2.0, None, 0.5),
    usual(Reads::Amps, "hand meter, 10 A", 10.0, 0.01, 0.02, 5.0, Some(0.02), 0.5),
    usual(Reads::Ohms, "hand meter, 200 Ω", 200.0, 0.1, 0.01, 5.0, None, 0.5),
    usual(Reads::Watts, "watt meter, 1000 W", 1000.0, 0.1, 0.02, 5.0, None, 1.0),
];

#[expect(clippy::too_many_arguments, reason = "one line of a table each")]
const fn usual(
    reads: Reads,
    name: &'static str,
    range: f64,
    step: f64,
    error_share: f64,
    error_steps: f64,
    burden_ohm: Option<f64>,
    every_s: f64,
) -> UsualRange {
    UsualRange { reads, name, range, step, error_share, error_steps, burden_ohm, every_s }
}

/// Why a reading cannot stand.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ReadingError {
    /// The display of this range ends below the reading.
    #[error("{meter}: {reading} is beyond its range of {range}; did you mean another range?")]
    BeyondRange {
        /// The meter.
        meter: String,
        /// As read, with unit.
        reading: String,
        /// End of the range, with unit.
        range: String,
    },
    /// The meter reads something else.
    #[error("{meter} reads {reads}, not {wanted}: are two figures swapped?")]
    OtherUnit {
        /// The meter.
        meter: String,
        /// Symbol of what it reads.
        reads: &'static str,
        /// Symbol of what is wanted.
        wanted: &'static str,
    },
}

/// A reading with what the meter leaves open.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Judged {
    /// Error either way, in the unit of the reading.
    pub error: f64,
    /// Error against the reading; absent at zero.
    pub error_share: Option<f64>,
}

/// Error of a reading: share of the reading + steps of the display, as manuals state it. Both are limits, so they add.
///
/// Refuses a reading beyond the range, and a meter that reads something else. Worked: 16.38 V at ±(0.5 % + 2 steps of
/// 10 mV) is ± (0.0819 + 0.02) = ± 0.1019 V.
pub fn judge(meter: &Meter, reading: f64, wanted: Unit) -> Result<Judged, ReadingError> {
    if meter.reads.unit() != wanted {
        return Err(ReadingError::OtherUnit {
            meter: meter.name.clone(),
            reads: meter.reads.unit().symbol(),
            wanted: wanted.symbol(),
        });
    }
    if above(reading.abs(), meter.range) {
        return Err(ReadingError::BeyondRange {
            meter: meter.name.clone(),
            reading: show(reading, wanted),
            range: show(meter.range, wanted),
        });
    }
    let error = meter.error_share * reading.abs() + meter.error_steps * meter.step;
    Ok(Judged { error, error_share: (reading != 0.0).then(|| error / reading.abs()) })
}

/// Whether two readings differ by more than both their errors leave open.
pub fn differ(a: f64, a_error: f64, b: f64, b_error: f64) -> bool {
    above((a - b).abs(), a_error + b_error)
}

/// Error of a product or quotient of readings: the shares add, as limits do.
///
/// P = V I: dP / P = dV / V + dI / I. Source: JCGM 100:2008, 5.1.2 for the sensitivities; limits are added in full rather
/// than in squares because a manual's figures are limits, not deviations.
pub fn product_error_share(shares: &[f64]) -> f64 {
    shares.iter().sum()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn hand_meter(reads: Reads, range: f64, step: f64, error_share: f64, error_steps: f64) -> Meter {
        Meter {
            id: "hand".to_owned(),
            name: "hand meter".to_owned(),
            reads,
            range,
            step,
            error_share,
            error_steps,
            burden_ohm: None,
            every_s: Some(0.5),
        }
    }

    /// Worked by hand from the manual's form ±(% of reading + digits).
    #[test]
    fn the_error_of_a_reading_is_its_share_and_its_digits() {
        let volts = hand_meter(Reads::Volts, 20.0, 0.01, 0.005, 2.0);
        let judged = judge(&volts, 16.38, Unit::V).unwrap();
        assert!((judged.error - 0.1019).abs() < 1e-12, "{}", judged.error);
        assert!((judged.error_share.unwrap() - 0.1019 / 16.38).abs() < 1e-12);
        assert_eq!(judge(&volts, 0.0, Unit::V).unwrap(), Judged { error: 0.02, error_share: None });
        assert_eq!(judge(&volts, -16.38, Unit::V).unwrap().error, judged.error);
    }

    #[test]
    fn a_reading_beyond_the_range_and_a_swapped_unit_are_refused() {
        let volts = hand_meter(Reads::Volts, 20.0, 0.01, 0.005, 2.0);
        assert!(judge(&volts, 20.0, Unit::V).is_ok(), "the end of the range can be read");
        let error = judge(&volts, 21.0, Unit::V).unwrap_err().to_string();
        assert!(error.contains("hand meter") && error.contains("21 V") && error.contains("20 V"), "{error}");
        // "0.5 volts, 7 amps" for 7 volts, 0.5 amperes.
        let error = judge(&volts, 0.5, Unit::A).unwrap_err().to_string();
        assert!(error.contains("reads V, not A") && error.contains("swapped"), "{error}");
    }

    #[test]
    fn two_readings_differ_only_beyond_both_errors() {
        assert!(!differ(8.43, 0.03, 8.40, 0.01), "0.03 V is within 0.04 V");
        assert!(differ(8.45, 0.03, 8.40, 0.01));
        assert!(!differ(1.0, 0.5, 2.0, 0.5), "equal passes");
    }

    /// Textbook form: a product's relative limits add; 12.0 V ± 1 % at 2.0 A ± 2 % is 24 W ± 3 %, to first order of the
    /// exact corners 12.12 V x 2.04 A = 24.72 W.
    #[test]
    fn the_error_of_watts_is_the_sum_of_the_shares() {
        let share = product_error_share(&[0.01, 0.02]);
        assert!((share - 0.03).abs() < 1e-12);
        let corner: f64 = 12.12 * 2.04 / 24.0 - 1.0;
        assert!((corner - share).abs() < 0.01 * 0.02 + 1e-12);
    }
}
