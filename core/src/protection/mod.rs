//! Fuses against time, board trips as bands, drain after a cut-off.

mod curves;

use crate::plan::{Fuse, FuseStyle, Protects};

pub use curves::{Endurance, Window, board_window, fuse_window};

/// Share of its rating that a blade fuse carries for good. Common practice, no source.
const BLADE_SHARE: f64 = 0.75;

/// Least time to open, by share of the rating. Blade: ISO 8820-3 (from memory); between the points a straight line
/// on logarithmic scales, beyond the last equal I^2 t.
const BLADE_LEAST_S: [(f64, f64); 6] =
    [(1.10, 360_000.0), (1.35, 0.75), (1.60, 0.25), (2.00, 0.15), (3.50, 0.04), (6.00, 0.02)];
/// Glass, fast. IEC 60127-2 (from memory).
const GLASS_FAST_LEAST_S: [(f64, f64); 2] = [(1.50, 3600.0), (2.75, 0.05)];
/// Glass, time-lag. IEC 60127-2 (from memory).
const GLASS_LAG_LEAST_S: [(f64, f64); 2] = [(1.50, 3600.0), (2.75, 0.6)];

fn least_s(style: FuseStyle) -> &'static [(f64, f64)] {
    match style {
        FuseStyle::Blade => &BLADE_LEAST_S,
        FuseStyle::GlassFast => &GLASS_FAST_LEAST_S,
        FuseStyle::GlassTimeLag => &GLASS_LAG_LEAST_S,
    }
}

/// Current a fuse carries for good: 75 % of a blade's rating, all of a glass fuse's.
pub fn fuse_carries_a(fuse: &Fuse) -> f64 {
    match fuse.style {
        FuseStyle::Blade => BLADE_SHARE * fuse.rating_a,
        FuseStyle::GlassFast | FuseStyle::GlassTimeLag => fuse.rating_a,
    }
}

/// Rating a fuse of that style needs to carry a current for good.
pub fn fuse_rating_for_a(style: FuseStyle, continuous_a: f64) -> f64 {
    match style {
        FuseStyle::Blade => continuous_a / BLADE_SHARE,
        FuseStyle::GlassFast | FuseStyle::GlassTimeLag => continuous_a,
    }
}

/// Largest current that a fuse certainly bears for a time, by its curve of least opening time.
pub fn fuse_bears_a(fuse: &Fuse, duration_s: f64) -> f64 {
    let points = least_s(fuse.style);
    let (first, last) = (points[0], points[points.len() - 1]);
    let share = if duration_s >= first.1 {
        fuse_carries_a(fuse) / fuse.rating_a
    } else if duration_s <= last.1 {
        last.0 * (last.1 / duration_s).sqrt()
    } else {
        let after = points.partition_point(|p| p.1 >= duration_s);
        let (a, b) = (points[after - 1], points[after]);
        let along = (duration_s / a.1).ln() / (b.1 / a.1).ln();
        a.0 * (b.0 / a.0).powf(along)
    };
    (share * fuse.rating_a).max(fuse_carries_a(fuse))
}

/// Band of a board's over-current trip. A stated figure without error gets 20 % either way: the tolerance of
/// ordinary detectors (common practice, no source).
pub fn trip_band_a(board: &Protects) -> Option<(f64, f64)> {
    let trip = board.trip_a.as_ref()?;
    let error_a = trip.error.unwrap_or(0.2 * trip.value);
    Some((trip.value - error_a, trip.value + error_a))
}

/// Current a board lets through for a time without tripping: the low end of its band if it acts within that time,
/// else its short-circuit trip. `None`: nothing stated limits it.
pub fn board_bears_a(board: &Protects, duration_s: f64) -> Option<f64> {
    let (low_a, _) = trip_band_a(board)?;
    match board.trip_delay_s {
        Some(delay_s) if delay_s > duration_s => board.short_a,
        _ => Some(low_a),
    }
}

/// Days until a drain takes a charge. A day is 24 h.
pub fn drain_days(charge_ah: f64, drain_a: f64) -> f64 {
    charge_ah / drain_a / 24.0
}

/// Charge left in a group between a board's cut-off and the cells' floor. Assumed 2 % of capacity: ordinary curves
/// fall steeply there.
pub fn reserve_ah(capacity_ah: f64) -> f64 {
    0.02 * capacity_ah
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Known, Offer};

    fn blade(rating_a: f64) -> Fuse {
        Fuse { offer: Offer::default(), style: FuseStyle::Blade, rating_a, dc_v: Some(32.0), breaking_a: Some(1000.0) }
    }

    #[test]
    fn a_25_a_blade_carries_18_75_a_for_good() {
        assert_eq!(fuse_carries_a(&blade(25.0)), 18.75);
        assert!((fuse_rating_for_a(FuseStyle::Blade, 18.75) - 25.0).abs() < 1e-12);
        assert_eq!(fuse_carries_a(&Fuse { style: FuseStyle::GlassFast, ..blade(5.0) }), 5.0);
    }

    #[test]
    fn less_time_never_means_less_current() {
        for style in [FuseStyle::Blade, FuseStyle::GlassFast, FuseStyle::GlassTimeLag] {
            let fuse = Fuse { style, ..blade(20.0) };
            let mut before_a = f64::INFINITY;
            for i in -60..70 {
                let a = fuse_bears_a(&fuse, 10f64.powf(f64::from(i) / 10.0));
                assert!(a <= before_a && a >= fuse_carries_a(&fuse), "{style:?} at 10^{i}/10 s: {a}");
                before_a = a;
            }
        }
    }

    #[test]
    fn a_trip_without_stated_error_is_a_band_of_twenty_per_cent() {
        let mut board = Protects { trip_a: Some(Known::stated(60.0)), ..Protects::default() };
        assert_eq!(trip_band_a(&board), Some((48.0, 72.0)));
        board.trip_delay_s = Some(0.1);
        board.short_a = Some(200.0);
        assert_eq!(board_bears_a(&board, 0.4), Some(48.0), "the board acts within the peak");
        assert_eq!(board_bears_a(&board, 0.05), Some(200.0), "the peak is over before the board acts");
    }

    #[test]
    fn a_month_is_720_hours() {
        assert!((drain_days(0.072, 0.0001) - 30.0).abs() < 1e-9);
    }
}
