//! Statistics that one bad cell does not bend.

/// Deviation of a normal population in median absolute deviations, inverted: 0.6745.
const NORMAL: f64 = 0.6745;

/// The median; `None` of nothing.
pub fn median(values: &[f64]) -> Option<f64> {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let (n, half) = (sorted.len(), sorted.len() / 2);
    match n {
        0 => None,
        _ if n % 2 == 1 => Some(sorted[half]),
        _ => Some(f64::midpoint(sorted[half - 1], sorted[half])),
    }
}

/// Median absolute deviation from the median; `None` of nothing.
pub fn mad(values: &[f64]) -> Option<f64> {
    let middle = median(values)?;
    median(&values.iter().map(|v| (v - middle).abs()).collect::<Vec<_>>())
}

/// Modified z-score 0.6745 (x - median) / MAD (Iglewicz and Hoaglin 1993, from memory).
///
/// `least` stands in for a smaller MAD, so that cells equal to a hair are not told apart finer than the meter.
pub fn modified_z(value: f64, median: f64, mad: f64, least: f64) -> f64 {
    NORMAL * (value - median) / mad.max(least)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The worked example of the NIST/SEMATECH e-Handbook, 1.3.5.17, as far as it is remembered: median and MAD by hand.
    #[test]
    fn median_and_mad_by_hand() {
        let values = [2.1, 2.6, 2.4, 2.5, 2.3, 2.1, 2.3, 2.6, 8.2, 8.3];
        assert!((median(&values).unwrap() - 2.45).abs() < 1e-12);
        // Deviations sorted: .05 .05 .15 .15 .15 .15 .35 .35 5.75 5.85
        assert!((mad(&values).unwrap() - 0.15).abs() < 1e-12);
        assert!(modified_z(8.2, 2.45, 0.15, 0.0) > 3.5 && modified_z(2.6, 2.45, 0.15, 0.0) < 3.5);
        assert_eq!((median(&[]), mad(&[])), (None, None));
        assert_eq!(median(&[3.0]), Some(3.0));
    }

    #[test]
    fn half_the_cells_may_be_bad_before_the_median_moves_away() {
        let good = [100.0, 101.0, 99.0, 100.5, 99.5];
        let spoiled = [100.0, 101.0, 99.0, 100.5, 99.5, 900.0, 950.0];
        assert!((median(&spoiled).unwrap() - median(&good).unwrap()).abs() < 1.0);
        assert!(modified_z(900.0, median(&spoiled).unwrap(), mad(&spoiled).unwrap(), 1.0) > 100.0);
    }

    proptest::proptest! {
        /// Median and scatter move with the cells and stretch with them; the order is nothing to them.
        #[test]
        fn they_move_and_stretch_with_the_values(
            values in proptest::collection::vec(-1000i32..1000, 1..40), by in -500i32..500, times in 1i32..9,
        ) {
            let values: Vec<f64> = values.into_iter().map(f64::from).collect();
            let (by, times) = (f64::from(by), f64::from(times));
            let changed: Vec<f64> = values.iter().rev().map(|v| v * times + by).collect();
            let (m, d) = (median(&values).unwrap(), mad(&values).unwrap());
            proptest::prop_assert!((median(&changed).unwrap() - (m * times + by)).abs() < 1e-9);
            proptest::prop_assert!((mad(&changed).unwrap() - d * times).abs() < 1e-9);
            let below = values.iter().filter(|v| **v < m).count();
            proptest::prop_assert!(2 * below <= values.len() && d >= 0.0);
        }
    }
}
