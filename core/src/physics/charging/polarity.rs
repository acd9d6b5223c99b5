//! Which contact is plus, by what the meter shows; and what a reading behind the board says of it.

use serde::Serialize;
use utoipa::ToSchema;

use crate::plan::Known;

/// Less than this between contacts is nothing but the meter's own noise.
const NOTHING_V: f64 = 0.05;
/// Voltage over the diode that a transistor has in itself. Common practice, no source.
const DIODE_V: (f64, f64) = (0.25, 1.2);
/// Most that a closed board loses with nothing but a meter on it.
const CLOSED_V: f64 = 0.05;

/// Which contact is plus.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Polarity {
    /// The inner contact.
    PlusInside,
    /// The outer contact.
    MinusInside,
    /// There are no voltage.
    Dead,
}

/// Which contact is plus, by a reading with the red probe on the inner one.
pub fn polarity(inner: &Known) -> Polarity {
    match inner.value {
        v if v > NOTHING_V => Polarity::PlusInside,
        v if v < -NOTHING_V => Polarity::MinusInside,
        _ => Polarity::Dead,
    }
}

/// What the voltage behind a board say of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Through {
    /// It is closed.
    Closed,
    /// It is closed, and something draws through it or its way is poor.
    Loaded,
    /// One of its transistors is off, and the other way round a diode conducts.
    OneOff,
    /// It is open, and the meter sees what leaks past it.
    Open,
    /// Nothing arrives at all.
    Nothing,
    /// Plus and minus are swapped.
    Swapped,
    /// More comes out than is in: one of both readings is wrong.
    Impossible,
}

/// What the voltage behind a board say, against those of the cells at the same moment.
pub fn through(cells: &Known, out: &Known) -> Through {
    let unsure_v = cells.error.unwrap_or(0.0) + out.error.unwrap_or(0.0);
    let lost_v = cells.value - out.value;
    if out.value < -NOTHING_V {
        Through::Swapped
    } else if out.value < NOTHING_V {
        Through::Nothing
    } else if lost_v < -(CLOSED_V + unsure_v) {
        Through::Impossible
    } else if lost_v <= CLOSED_V + unsure_v {
        Through::Closed
    } else if lost_v < DIODE_V.0 - unsure_v {
        Through::Loaded
    } else if (DIODE_V.0 - unsure_v..=DIODE_V.1 + unsure_v).contains(&lost_v) {
        Through::OneOff
    } else {
        Through::Open
    }
}

impl Through {
    /// What it means, and what to do.
    pub fn says(self) -> &'static str {
        match self {
            Through::Closed => "The board is closed: the output shows what the cells have.",
            Through::Loaded => {
                "The board is closed: less than a diode's voltage is missing. Something draws through it, or a joint or fuse has resistance. Take the load off and read again."
            }
            Through::OneOff => {
                "About a diode is missing: one of its two MOSFETs is off and the other's own diode conducts. It has ended either the charge or the discharge; under load that voltage turns to heat. Read every group, then wake it with a charger."
            }
            Through::Open => {
                "The board is open: the meter sees only what leaks past it. It sleeps, has tripped, or a cell is empty. Read every group first; if they are right, a charger wakes it."
            }
            Through::Nothing => {
                "Nothing arrives: an open fuse or joint, a lead on the wrong pad, or a board that blocks even the leakage. Follow the voltage from the cells outwards."
            }
            Through::Swapped => {
                "Plus and minus are swapped: probes, leads or plug. Connect nothing before you know which."
            }
            Through::Impossible => {
                "More comes out than the cells have: one of the readings is wrong, or a charger is still connected."
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(value: f64) -> Known {
        Known { error: Some(0.02), ..Known::measured(value) }
    }

    #[test]
    fn the_sign_of_the_meter_tells_which_contact_is_plus() {
        assert_eq!(polarity(&read(8.2)), Polarity::PlusInside);
        assert_eq!(polarity(&read(-8.2)), Polarity::MinusInside);
        assert_eq!(polarity(&read(0.01)), Polarity::Dead);
    }

    /// A silicon diode has 0.5 to 0.7 V (common practice, no source).
    #[test]
    fn volts_behind_a_board_tell_what_it_does() {
        let of = |out_v: f64| through(&read(8.2), &read(out_v));
        assert_eq!(of(8.19), Through::Closed);
        // 60 mV is no open board: it would let the meter see a diode's volts less, or next to nothing.
        assert_eq!((of(8.1), of(8.0)), (Through::Loaded, Through::Loaded));
        assert_eq!(of(7.6), Through::OneOff);
        assert_eq!(of(2.1), Through::Open);
        assert_eq!(of(0.0), Through::Nothing);
        assert_eq!(of(-8.2), Through::Swapped);
        assert_eq!(of(8.6), Through::Impossible);
    }

    #[test]
    fn a_coarse_meter_is_given_the_benefit_of_its_error() {
        let coarse = |value| Known { error: Some(0.1), ..Known::measured(value) };
        assert_eq!(through(&coarse(8.2), &coarse(8.0)), Through::Closed);
    }
}
