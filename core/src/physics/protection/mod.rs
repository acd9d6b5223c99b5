//! Fuses against time, board trips as bands, drain after a cut-off.

mod curves;
mod trip;

use crate::plan::{Bms, Fuse, FuseStyle};

pub use curves::{Endurance, Window, board_window, fuse_window};
pub use trip::{Reckoned, pairs_for, reckoned, stated_band_a, trip_band_a};

/// Share of its rating that a blade fuse carries continuously. Common practice, no source.
const BLADE_SHARE: f64 = 0.75;

/// Least time to open, by share of the rating. Blade: ISO 8820-3 (from memory); between the points a straight line
/// on logarithmic scales, beyond the last equal I^2 t.
const BLADE_LEAST_S: [(f64, f64); 6] =
    [(1.10, 360_000.0), (1.35, 0.75), (1.60, 0.25), (2.00, 0.15), (3.50, 0.04), (6.00, 0.02)];
/// Glass, fast. IEC 60127-2 (from memory).
const GLASS_FAST_LEAST_S: [(f64, f64); 3] = [(1.50, 3600.0), (2.75, 0.05), (4.0, 0.01)];
/// Glass, time-lag. IEC 60127-2 (from memory).
const GLASS_LAG_LEAST_S: [(f64, f64); 4] = [(1.50, 3600.0), (2.75, 0.6), (4.0, 0.15), (10.0, 0.02)];

/// Voltage that a fuse loses at its rating: 30 to 200 mV, the small ones most. Common practice, no source.
pub const FUSE_DROP_V: f64 = 0.1;

/// Resistance of a fuse, warm, by what it loses at its rating.
pub fn fuse_ohm(fuse: &Fuse) -> f64 {
    FUSE_DROP_V / fuse.rating_a
}

fn least_s(style: FuseStyle) -> &'static [(f64, f64)] {
    match style {
        FuseStyle::Blade => &BLADE_LEAST_S,
        FuseStyle::GlassFast => &GLASS_FAST_LEAST_S,
        FuseStyle::GlassTimeLag => &GLASS_LAG_LEAST_S,
        FuseStyle::Other => &[],
    }
}

/// Air at which fuses carry what is printed on them.
const FUSE_COLD_C: f64 = 25.0;
/// Share of the rating lost for each kelvin of warmer air: blades and fast glass, time-lag glass. Makers' curves, from
/// memory.
const LOST_PER_K: f64 = 0.002;
const LAG_LOST_PER_K: f64 = 0.005;

/// Share of its rating that a fuse keeps in warm air: all of it up to 25 °C.
pub fn fuse_warm_share(style: FuseStyle, air_c: f64) -> f64 {
    let lost_per_k = if style == FuseStyle::GlassTimeLag { LAG_LOST_PER_K } else { LOST_PER_K };
    (1.0 - lost_per_k * (air_c - FUSE_COLD_C)).clamp(0.1, 1.0)
}

/// Share of its rating that a fuse carries continuously in air of that temperature: 75 % of a blade's and of an unknown one's,
/// all of a glass fuse's, less what warm air takes.
fn carried_share(style: FuseStyle, air_c: f64) -> f64 {
    let cold = if matches!(style, FuseStyle::Blade | FuseStyle::Other) { BLADE_SHARE } else { 1.0 };
    cold * fuse_warm_share(style, air_c)
}

/// Current a fuse carries continuously in air of that temperature.
pub fn fuse_carries_a(fuse: &Fuse, air_c: f64) -> f64 {
    carried_share(fuse.style, air_c) * fuse.rating_a
}

/// Rating a fuse of that style needs to carry a current continuously in air of that temperature.
pub fn fuse_rating_for_a(style: FuseStyle, continuous_a: f64, air_c: f64) -> f64 {
    continuous_a / carried_share(style, air_c)
}

/// Largest current that a fuse is sure to hold for a time, by its curve of least opening time; without a curve what it
/// carries continuously.
pub fn fuse_withstands_a(fuse: &Fuse, duration_s: f64, air_c: f64) -> f64 {
    let points = least_s(fuse.style);
    if points.is_empty() {
        return fuse_carries_a(fuse, air_c);
    }
    let (first, last) = (points[0], points[points.len() - 1]);
    let share = if duration_s >= first.1 {
        carried_share(fuse.style, air_c)
    } else if duration_s <= last.1 {
        last.0 * (last.1 / duration_s).sqrt()
    } else {
        let after = points.partition_point(|p| p.1 >= duration_s);
        let (a, b) = (points[after - 1], points[after]);
        let along = (duration_s / a.1).ln() / (b.1 / a.1).ln();
        a.0 * (b.0 / a.0).powf(along)
    };
    (share * fuse.rating_a).max(fuse_carries_a(fuse, air_c))
}

/// Current a board lets through for a time without tripping: the low end of its band if it acts within that time,
/// else its short-circuit trip. `None`: nothing stated limits it.
pub fn board_withstands_a(board: &Bms, duration_s: f64) -> Option<f64> {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Known, Offer};

    fn blade(rating_a: f64) -> Fuse {
        Fuse { offer: Offer::default(), style: FuseStyle::Blade, rating_a, dc_v: Some(32.0), breaking_a: Some(1000.0) }
    }

    #[test]
    fn a_25_a_blade_carries_18_75_a_for_good() {
        assert_eq!(fuse_carries_a(&blade(25.0), 20.0), 18.75);
        assert!((fuse_rating_for_a(FuseStyle::Blade, 18.75, 25.0) - 25.0).abs() < 1e-12);
        assert_eq!(fuse_carries_a(&Fuse { style: FuseStyle::GlassFast, ..blade(5.0) }, 25.0), 5.0);
    }

    /// 0.2 % a kelvin of blades and fast glass, 0.5 % of time-lag glass, from 25 °C on (makers' curves, from memory).
    #[test]
    fn warm_air_takes_some_of_the_rating() {
        assert!((fuse_carries_a(&blade(20.0), 45.0) - 15.0 * 0.96).abs() < 1e-9);
        let lag = Fuse { style: FuseStyle::GlassTimeLag, ..blade(5.0) };
        assert!((fuse_carries_a(&lag, 65.0) - 4.0).abs() < 1e-9);
        assert!((fuse_rating_for_a(FuseStyle::Blade, 14.4, 45.0) - 20.0).abs() < 1e-9);
    }

    #[test]
    fn less_time_never_means_less_current() {
        for style in [FuseStyle::Blade, FuseStyle::GlassFast, FuseStyle::GlassTimeLag] {
            let fuse = Fuse { style, ..blade(20.0) };
            let mut before_a = f64::INFINITY;
            for i in -60..70 {
                let a = fuse_withstands_a(&fuse, 10f64.powf(f64::from(i) / 10.0), 25.0);
                assert!(a <= before_a && a >= fuse_carries_a(&fuse, 25.0), "{style:?} at 10^{i}/10 s: {a}");
                before_a = a;
            }
        }
    }

    #[test]
    fn a_trip_without_stated_error_is_a_band_of_twenty_per_cent() {
        let mut board = Bms { trip_a: Some(Known::stated(60.0)), ..Bms::default() };
        assert_eq!(trip_band_a(&board), Some((48.0, 72.0)));
        board.trip_delay_s = Some(0.1);
        board.short_a = Some(200.0);
        assert_eq!(board_withstands_a(&board, 0.4), Some(48.0), "the board acts within the peak");
        assert_eq!(board_withstands_a(&board, 0.05), Some(200.0), "the peak is over before the board acts");
    }

    #[test]
    fn a_month_is_720_hours() {
        assert!((drain_days(0.072, 0.0001) - 30.0).abs() < 1e-9);
    }
}
