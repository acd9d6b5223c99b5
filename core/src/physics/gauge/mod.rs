//! A gauge made for another battery: the divider before it, changed so that it tells the truth of the new one.
//!
//! The gauge knows a fraction of the voltage: k = shown voltage / true voltage. One resistor of the divider changes k.

pub use crate::plan::Leg;

/// A divider with what its sense input takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Divider {
    /// From the battery to the sense input.
    pub top_ohm: f64,
    /// From the sense input to minus.
    pub bottom_ohm: f64,
    /// Resistance of the sense input itself; infinite where it takes nothing.
    pub input_ohm: f64,
}

impl Divider {
    /// Bottom leg and sense input in parallel.
    fn loaded_ohm(&self) -> f64 {
        1.0 / (1.0 / self.bottom_ohm + 1.0 / self.input_ohm)
    }

    /// Voltage at the sense input / voltage of the battery.
    pub fn ratio(&self) -> f64 {
        let loaded_ohm = self.loaded_ohm();
        loaded_ohm / (self.top_ohm + loaded_ohm)
    }

    /// What the sense input takes off the reading: 1 − loaded ratio / ratio without load.
    pub fn loading_share(&self) -> f64 {
        1.0 - self.ratio() / Divider { input_ohm: f64::INFINITY, ..*self }.ratio()
    }

    /// Current that it draws from a battery.
    pub fn drain_a(&self, battery_v: f64) -> f64 {
        battery_v / (self.top_ohm + self.loaded_ohm())
    }

    /// Exact resistance of one leg that multiplies the ratio by `by`.
    ///
    /// `None` where one leg cannot do it: the ratio would have to be above one, or the sense input alone takes too much.
    pub fn leg_for(&self, leg: Leg, by: f64) -> Option<f64> {
        let wanted = self.ratio() * by;
        if !(wanted > 0.0 && wanted < 1.0) {
            return None;
        }
        let ohm = match leg {
            Leg::Top => self.loaded_ohm() * (1.0 / wanted - 1.0),
            Leg::Bottom => {
                let loaded_ohm = self.top_ohm * wanted / (1.0 - wanted);
                1.0 / (1.0 / loaded_ohm - 1.0 / self.input_ohm)
            }
        };
        (ohm > 0.0 && ohm.is_finite()).then_some(ohm)
    }

    /// The divider with another resistor in one leg.
    pub fn with(self, leg: Leg, ohm: f64) -> Divider {
        match leg {
            Leg::Top => Divider { top_ohm: ohm, ..self },
            Leg::Bottom => Divider { bottom_ohm: ohm, ..self },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const FOUR_CELLS: Divider = Divider { top_ohm: 100_000.0, bottom_ohm: 33_000.0, input_ohm: 1_000_000.0 };

    /// Common practice, no source: k = 1.286 shows 4.20, 3.65 and 3.11 V as 5.4, 4.7 and 4.0 V.
    #[test]
    fn one_flat_cell_shows_as_four_primary_ones() {
        let k: f64 = 1.286;
        for (true_v, shown_v) in [(4.20, 5.4), (3.65, 4.7), (3.11, 4.0)] {
            assert!((true_v * k - shown_v).abs() < 0.01, "{true_v}");
        }
        for leg in [Leg::Top, Leg::Bottom] {
            let changed = FOUR_CELLS.with(leg, FOUR_CELLS.leg_for(leg, k).unwrap());
            assert!((changed.ratio() / FOUR_CELLS.ratio() - k).abs() < 1e-9, "{leg:?}");
        }
    }

    #[test]
    fn a_gauge_that_would_have_to_see_more_than_the_battery_cannot_be_helped() {
        let high = Divider { top_ohm: 10_000.0, bottom_ohm: 90_000.0, input_ohm: f64::INFINITY };
        assert_eq!(high.leg_for(Leg::Top, 1.2), None);
        // A sense input of 20 kΩ alone already pulls lower than wanted.
        let heavy = Divider { top_ohm: 100_000.0, bottom_ohm: 100_000.0, input_ohm: 20_000.0 };
        assert_eq!(heavy.leg_for(Leg::Bottom, 1.5), None);
        assert!(heavy.leg_for(Leg::Top, 1.5).is_some());
    }

    #[test]
    fn the_sense_input_takes_its_share_and_the_divider_its_drain() {
        // Worked by hand: 33 k ∥ 1 M = 31.946 k; 31.946 / 131.946 against 33 / 133 is 2.42 % less.
        assert!((FOUR_CELLS.loading_share() - 0.024_2).abs() < 1e-4, "{}", FOUR_CELLS.loading_share());
        assert!((FOUR_CELLS.drain_a(4.2) - 4.2 / 131_945.8).abs() < 1e-9);
    }
}
