//! Cells that their user puts into holders side by side: what flows when one is the wrong way round, or empty among full ones.

/// Both contacts of a spring holder where nothing is measured: 20 to 100 milliohm each. Common practice, no source.
pub const CONTACTS_OHM: f64 = 0.1;

/// Cells in parallel, each behind its own contacts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SideBySide {
    /// Voltage of a full cell.
    pub full_v: f64,
    /// Voltage of an empty one.
    pub empty_v: f64,
    /// Resistance of one cell with its contacts.
    pub each_ohm: f64,
    /// How many, the odd one included.
    pub count: u32,
}

impl SideBySide {
    /// Resistance of the loop of one cell and all others side by side; `None` for one cell alone.
    fn loop_ohm(&self) -> Option<f64> {
        (self.count > 1).then(|| self.each_ohm * (1.0 + 1.0 / f64::from(self.count - 1)))
    }

    /// Current through a full cell that was put in the wrong way round, driven by itself and by the full others: 2 V / (R + R / (n − 1)).
    /// Circuit law.
    pub fn reversed_a(&self) -> Option<f64> {
        Some(2.0 * self.full_v / self.loop_ohm()?)
    }

    /// Current into an empty cell among full ones. Circuit law.
    pub fn mixed_a(&self) -> Option<f64> {
        Some((self.full_v - self.empty_v) / self.loop_ohm()?)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Worked by hand: 8.4 V over 150 milliohm and a half of that are 37.3 A; 1.2 V over the same are 5.3 A.
    #[test]
    fn a_cell_the_wrong_way_round_is_shorted_by_the_others() {
        let three = SideBySide { full_v: 4.2, empty_v: 3.0, each_ohm: 0.15, count: 3 };
        assert!((three.reversed_a().unwrap() - 8.4 / 0.225).abs() < 1e-9);
        assert!((three.mixed_a().unwrap() - 1.2 / 0.225).abs() < 1e-9);
        let alone = SideBySide { count: 1, ..three };
        assert_eq!((alone.reversed_a(), alone.mixed_a()), (None, None));
        assert!(SideBySide { count: 8, ..three }.reversed_a() > three.reversed_a(), "more others drive more");
    }
}
