//! Two packs switched in series or in parallel: what either position gives, and what unequal packs do to each other.

/// One of two packs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Side {
    /// Its voltage at rest.
    pub rest_v: f64,
    /// Its resistance, with its leads.
    pub ohm: f64,
    /// Its capacity.
    pub ah: f64,
}

/// Current that flows between two packs joined in parallel, before they are level: dV / (R1 + R2).
///
/// Positive out of the first. Source: circuit law.
pub fn equalising_a(first: &Side, second: &Side) -> f64 {
    (first.rest_v - second.rest_v) / (first.ohm + second.ohm)
}

/// What unequal packs in series do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SeriesEnd {
    /// Charge that flows until the smaller is empty: both start full and carry the same current.
    pub ends_at_ah: f64,
    /// Charge left in the larger then, which would drive the smaller on below zero.
    pub left_ah: f64,
}

/// Which of two full packs in series ends the run.
pub fn series_end(first: &Side, second: &Side) -> SeriesEnd {
    let ends_at_ah = first.ah.min(second.ah);
    SeriesEnd { ends_at_ah, left_ah: first.ah.max(second.ah) - ends_at_ah }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_smaller_pack_ends_a_run_in_series() {
        let (tool, spare) = (Side { rest_v: 20.5, ohm: 0.08, ah: 5.0 }, Side { rest_v: 20.4, ohm: 0.12, ah: 4.0 });
        let end = series_end(&tool, &spare);
        assert_eq!(end, SeriesEnd { ends_at_ah: 4.0, left_ah: 1.0 });
        assert_eq!(series_end(&spare, &tool), end);
    }

    #[test]
    fn no_current_flows_between_equal_packs_and_either_way_round_it_turns() {
        let (a, b) = (Side { rest_v: 20.5, ohm: 0.08, ah: 5.0 }, Side { rest_v: 19.5, ohm: 0.12, ah: 4.0 });
        assert!((equalising_a(&a, &b) - 5.0).abs() < 1e-9);
        assert_eq!(equalising_a(&a, &b), -equalising_a(&b, &a));
        assert_eq!(equalising_a(&a, &Side { ohm: 0.3, ..a }), 0.0);
    }
}
