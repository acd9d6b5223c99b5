//! Overcurrent trip of a board: as stated, or calculated from its detector and its transistors. Always a band.

use crate::plan::Bms;

/// Tolerance of ordinary detectors where none is stated. Common practice, no source.
pub const TOLERANCE: f64 = 0.2;
/// On-resistance of a warm transistor, with the gate drive of a half-empty cell, over that of a cold one, least and
/// most. Common practice, no source.
pub const WARM: (f64, f64) = (1.3, 1.5);

/// Trip currents calculated from detector and transistors.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reckoned {
    /// Cold, at the detector's own voltage.
    pub cold_a: f64,
    /// Cold, over the detector's tolerance.
    pub cold: (f64, f64),
    /// Warm, in the middle.
    pub warm_a: f64,
    /// Warm, over the detector's tolerance and the spread of warm transistors.
    pub warm: (f64, f64),
}

impl Reckoned {
    /// From the lowest warm to the highest cold one.
    pub fn band_a(&self) -> (f64, f64) {
        (self.warm.0, self.cold.1)
    }
}

/// Resistance over which the detector measures: two transistors in series, so many pairs of them in parallel.
fn sensed_ohm(transistor_ohm: f64, pairs: u32) -> f64 {
    2.0 * transistor_ohm / f64::from(pairs)
}

/// Trip from detection voltage and on-resistance: I = V / (2 Rds / n). Track and solder only lower it.
///
/// Circuit law. Worked: 0.15 V over five pairs of 24 milliohm: 0.15 / 0.0096 = 15.6 A cold, 10.4 to 12.0 A warm.
pub fn reckoned(board: &Bms) -> Option<Reckoned> {
    let (detect_v, ohm, pairs) = (board.detect_v?, board.transistor_ohm?, board.pairs?);
    let cold_a = detect_v / sensed_ohm(ohm, pairs);
    let tolerance = board.detect_tolerance.unwrap_or(TOLERANCE);
    let ends = |least_a: f64, most_a: f64| (least_a * (1.0 - tolerance), most_a * (1.0 + tolerance));
    Some(Reckoned {
        cold_a,
        cold: ends(cold_a, cold_a),
        warm_a: 2.0 * cold_a / (WARM.0 + WARM.1),
        warm: ends(cold_a / WARM.1, cold_a / WARM.0),
    })
}

/// Least pairs of transistors with which even a warm board at the low end of its detector holds a current.
pub fn pairs_for(board: &Bms, wanted_a: f64) -> Option<u32> {
    let one = Bms { pairs: Some(1), ..board.clone() };
    let least_a = reckoned(&one)?.warm.0;
    // A hair less, so that a current exactly at the limit of n pairs asks for n.
    Some((wanted_a / least_a - 1e-9).ceil().max(1.0) as u32)
}

/// Band of a board's overcurrent trip: as stated (20 % either way unless its error is stated), else calculated from its
/// detector. Common practice, no source.
pub fn trip_band_a(board: &Bms) -> Option<(f64, f64)> {
    stated_band_a(board).or_else(|| reckoned(board).map(|r| r.band_a()))
}

/// Band of the trip as stated.
pub fn stated_band_a(board: &Bms) -> Option<(f64, f64)> {
    let trip = board.trip_a.as_ref()?;
    let error_a = trip.error.unwrap_or(TOLERANCE * trip.value);
    Some((trip.value - error_a, trip.value + error_a))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn board(pairs: u32) -> Bms {
        Bms { detect_v: Some(0.15), transistor_ohm: Some(0.024), pairs: Some(pairs), ..Bms::default() }
    }

    /// A board re-made with five pairs, by hand: 15.6 A cold, 10 to 12 A hot. Transistors of 24 milliohm are from memory.
    /// One such board was measured at 12 to 13 A, seen once.
    #[test]
    fn five_pairs_of_24_milliohm_trip_at_15_6_a_cold() {
        let trip = reckoned(&board(5)).unwrap();
        assert!((trip.cold_a - 15.625).abs() < 1e-9);
        let middles = (trip.cold_a / WARM.1, trip.cold_a / WARM.0);
        assert!(middles.0 > 10.0 && middles.1 < 12.1, "{middles:?}");
        let (low_a, high_a) = trip.band_a();
        assert!((low_a - 0.8 * 15.625 / 1.5).abs() < 1e-9 && (high_a - 18.75).abs() < 1e-9);
        assert!(low_a < 12.0 && high_a > 13.0);
    }

    #[test]
    fn twice_the_pairs_trip_at_twice_the_current_and_the_least_that_hold_are_found() {
        let (five, ten) = (reckoned(&board(5)).unwrap(), reckoned(&board(10)).unwrap());
        assert!((ten.cold_a - 2.0 * five.cold_a).abs() < 1e-9);
        for wanted_a in [1.0, 8.0, five.warm.0, 20.0, 61.0] {
            let pairs = pairs_for(&board(1), wanted_a).unwrap();
            let holds = |n: u32| reckoned(&board(n)).unwrap().warm.0 >= wanted_a * (1.0 - 1e-9);
            assert!(holds(pairs) && (pairs == 1 || !holds(pairs - 1)), "{wanted_a} A: {pairs}");
        }
        assert_eq!(pairs_for(&board(1), five.warm.0), Some(5));
    }

    #[test]
    fn what_is_stated_goes_before_what_is_reckoned_and_nothing_known_is_no_band() {
        let stated = Bms { trip_a: Some(crate::plan::Known::stated(20.0)), ..board(5) };
        assert_eq!(trip_band_a(&stated), Some((16.0, 24.0)));
        assert_eq!(trip_band_a(&Bms { pairs: None, ..board(5) }), None);
        let exact = Bms { detect_tolerance: Some(0.0), ..board(5) };
        assert!((trip_band_a(&exact).unwrap().1 - 15.625).abs() < 1e-9);
    }
}
