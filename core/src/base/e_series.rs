//! Preferred numbers of resistors: the values that can be bought.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A series of preferred numbers, by how many there are in a decade.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Series {
    /// 24 in a decade: 5 % parts.
    E24,
    /// 96 in a decade: 1 % parts.
    E96,
}

/// E24 is not quite a geometric row: eight of its values are older than the rule. IEC 60063, table 1.
const E24: [u32; 24] = [
    100, 110, 120, 130, 150, 160, 180, 200, 220, 240, 270, 300, 330, 360, 390, 430, 470, 510, 560, 620, 680, 750, 820,
    910,
];

impl Series {
    /// Its values from 100 to 999: three digits are all there are. E96 is 10^(n/96), rounded (IEC 60063, table 2).
    fn decade(self) -> Vec<f64> {
        match self {
            Series::E24 => E24.map(f64::from).to_vec(),
            Series::E96 => (0..96).map(|n| (10f64.powf(f64::from(n) / 96.0) * 100.0).round()).collect(),
        }
    }

    /// The value of the series nearest to `ohm` by ratio. `ohm` is above zero.
    pub fn nearest(self, ohm: f64) -> f64 {
        self.around(ohm).into_iter().min_by(|a, b| off(*a, ohm).total_cmp(&off(*b, ohm))).unwrap_or(ohm)
    }

    /// The largest value of the series that is not above `ohm`. `ohm` is above zero.
    pub fn at_most(self, ohm: f64) -> f64 {
        let most = ohm * (1.0 + 1e-9);
        self.around(ohm).into_iter().filter(|value| *value <= most).fold(0.0, f64::max)
    }

    /// Every value of the decade of `ohm`, of the one below and of the one above.
    fn around(self, ohm: f64) -> Vec<f64> {
        let decade = ohm.log10().floor() as i32;
        let at = |step: i32| self.decade().into_iter().map(move |digits| scaled(digits, decade + step - 2));
        [-1, 0, 1].into_iter().flat_map(at).collect()
    }
}

/// Whole digits times a power of ten, rounded once: 47 / 100 is 0.47.
fn scaled(digits: f64, power: i32) -> f64 {
    if power < 0 { digits / 10f64.powi(-power) } else { digits * 10f64.powi(power) }
}

fn off(value: f64, wanted: f64) -> f64 {
    (value / wanted).ln().abs()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_value_of_the_series_is_its_own_nearest() {
        for series in [Series::E24, Series::E96] {
            for value in series.decade() {
                for ohm in [scaled(value, -4), scaled(value, -2), scaled(value, 3)] {
                    assert_eq!(series.nearest(ohm), ohm);
                    assert_eq!(series.at_most(ohm), ohm);
                }
            }
        }
    }

    /// Values as printed in IEC 60063 (from memory).
    #[test]
    fn the_rows_are_those_of_the_standard() {
        let e96 = Series::E96.decade();
        for printed in [100.0, 102.0, 105.0, 182.0, 261.0, 499.0, 681.0, 715.0, 953.0, 976.0] {
            assert!(e96.contains(&printed), "{printed}");
        }
        assert_eq!((e96.len(), Series::E24.decade().len()), (96, 24));
        assert!(e96.windows(2).all(|w| w[0] < w[1]));
    }

    #[test]
    fn the_nearest_is_by_ratio_and_crosses_the_decade() {
        assert_eq!(Series::E24.nearest(9.7), 10.0);
        assert_eq!(Series::E24.nearest(0.93), 0.91);
        assert_eq!(Series::E96.nearest(100_900.0), 100_000.0);
        assert_eq!(Series::E24.at_most(1.09), 1.0);
        assert_eq!(Series::E24.at_most(0.99), 0.91);
    }
}
