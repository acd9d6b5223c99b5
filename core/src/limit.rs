//! The one comparison with a limit, so that equal always passes whatever the rounding.

/// Relative slack of every comparison: 3 x 4.2 is not above 12.6.
const SLACK: f64 = 1e-9;

/// Whether `value` lies beyond the upper `limit`. Equal passes.
pub fn above(value: f64, limit: f64) -> bool {
    value > limit + SLACK * limit.abs().max(value.abs())
}

/// Whether `value` lies beyond the lower `limit`. Equal passes.
pub fn below(value: f64, limit: f64) -> bool {
    above(limit, value)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn three_cells_at_four_point_two_are_not_above_twelve_point_six() {
        assert_ne!(3.0 * 4.2, 12.6, "the case would prove nothing if floats agreed");
        assert!(!above(3.0 * 4.2, 12.6));
        assert!(!below(12.6, 3.0 * 4.2));
    }

    #[test]
    fn a_millivolt_over_is_over() {
        assert!(above(12.601, 12.6));
        assert!(below(12.599, 12.6));
        assert!(above(0.0, -1.0));
    }
}
