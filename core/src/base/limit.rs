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

/// What is worked out by a formula may be this far off, relatively, before "over" is certain. Common practice, no source:
/// data sheets, meters and models of the bench agree no better.
pub const COMPUTED: f64 = 0.02;

/// The same for full voltage against a rating: cells in series times the voltage of one are known better than currents.
pub const VOLTS: f64 = 0.005;

/// How a value stands to an upper limit that it lies beyond.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Beyond {
    /// Over it, by less than can be told.
    Within,
    /// Over it, whatever is left open.
    Surely,
}

/// How a value, from its low end to its high end, stands to a limit with ends of its own; `None` where it does not exceed it.
///
/// `value` and `limit` are what is said; beyond "surely" is where even the low end exceeds the high end of the limit by
/// more than `tolerance`.
pub fn beyond(value: f64, low: f64, limit: f64, limit_high: f64, tolerance: f64) -> Option<Beyond> {
    if !above(value, limit) {
        return None;
    }
    let surely = above(low, limit_high + tolerance * limit_high.abs());
    Some(if surely { Beyond::Surely } else { Beyond::Within })
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
    fn what_is_over_by_less_than_can_be_told_is_no_certainty() {
        let of = |value, tolerance| beyond(value, value, 25.0, 25.0, tolerance);
        assert_eq!(
            (of(25.0, 0.0), of(25.05, 0.0), of(25.05, COMPUTED)),
            (None, Some(Beyond::Surely), Some(Beyond::Within))
        );
        assert_eq!(of(26.0, COMPUTED), Some(Beyond::Surely));
        // A band that reaches down to the limit leaves it open.
        assert_eq!(beyond(63.0, 58.0, 60.0, 60.0, 0.0), Some(Beyond::Within));
        assert_eq!(beyond(30.0, 30.0, 29.0, 31.0, 0.0), Some(Beyond::Within));
    }

    #[test]
    fn a_millivolt_over_is_over() {
        assert!(above(12.601, 12.6));
        assert!(below(12.599, 12.6));
        assert!(above(0.0, -1.0));
    }
}
