//! Time against current: within which time something opens, and how long something withstands it.

use super::{BLADE_LEAST_S, GLASS_FAST_LEAST_S, GLASS_LAG_LEAST_S, fuse_carries_a, trip_band_a};
use crate::plan::{Bms, Fuse, FuseStyle};

/// Longest time to open, by share of the rating. Blade: ISO 8820-3; glass: IEC 60127-2 (from memory).
const BLADE_MOST_S: [(f64, f64); 5] = [(1.35, 600.0), (1.60, 50.0), (2.00, 5.0), (3.50, 0.5), (6.00, 0.1)];
const GLASS_FAST_MOST_S: [(f64, f64); 4] = [(2.10, 1800.0), (2.75, 2.0), (4.0, 0.3), (10.0, 0.02)];
const GLASS_LAG_MOST_S: [(f64, f64); 4] = [(2.10, 120.0), (2.75, 10.0), (4.0, 3.0), (10.0, 0.3)];
/// Delay of a pack board's overcurrent trip where none is stated. Common practice, no source.
const TRIP_DELAY_S: (f64, f64) = (0.1, 1.0);
/// Delay of its short-circuit trip. Common practice, no source: hundreds of microseconds to a millisecond.
const SHORT_DELAY_S: (f64, f64) = (0.0002, 0.001);
/// Short-circuit thresholds scatter as much as the overcurrent ones. Common practice, no source.
const SHORT_SPREAD: f64 = 0.2;

/// Within which time something opens at a current.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Window {
    /// It certainly holds so long; absent is without an end.
    pub least_s: Option<f64>,
    /// It has certainly opened after this; absent is never for sure.
    pub most_s: Option<f64>,
}

impl Window {
    /// Never.
    pub const HOLDS: Window = Window { least_s: None, most_s: None };
}

/// Time on a curve of (share of the rating, seconds): a straight line on logarithmic scales between its points, equal
/// I²t beyond the last, the first point's time before it.
fn on_curve(points: &[(f64, f64)], share: f64) -> f64 {
    let (first, last) = (points[0], points[points.len() - 1]);
    if share <= first.0 {
        return first.1;
    }
    if share >= last.0 {
        return last.1 * (last.0 / share).powi(2);
    }
    let after = points.partition_point(|p| p.0 <= share);
    let (a, b) = (points[after - 1], points[after]);
    a.1 * (b.1 / a.1).powf((share / a.0).ln() / (b.0 / a.0).ln())
}

/// When a fuse opens at a current in air of that temperature. Up to what it carries continuously it holds; beyond that one
/// without a curve may open at once or never.
pub fn fuse_window(fuse: &Fuse, current_a: f64, air_c: f64) -> Window {
    let (least, most): (&[_], &[_]) = match fuse.style {
        FuseStyle::Blade => (&BLADE_LEAST_S, &BLADE_MOST_S),
        FuseStyle::GlassFast => (&GLASS_FAST_LEAST_S, &GLASS_FAST_MOST_S),
        FuseStyle::GlassTimeLag => (&GLASS_LAG_LEAST_S, &GLASS_LAG_MOST_S),
        FuseStyle::Other => (&[], &[]),
    };
    if current_a <= fuse_carries_a(fuse, air_c) {
        return Window::HOLDS;
    }
    if least.is_empty() {
        return Window { least_s: Some(0.0), most_s: None };
    }
    let share = current_a / fuse.rating_a;
    let surely = share >= most[0].0;
    Window { least_s: Some(on_curve(least, share)), most_s: surely.then(|| on_curve(most, share)) }
}

/// When a board opens at a current: its short-circuit trip, else its overcurrent trip; within a band it may.
pub fn board_window(board: &Bms, current_a: f64) -> Window {
    let delay = board.trip_delay_s.map_or(TRIP_DELAY_S, |s| (s, s));
    let short = board.short_a.map(|a| (a * (1.0 - SHORT_SPREAD), a * (1.0 + SHORT_SPREAD)));
    let over =
        |band: Option<(f64, f64)>| (band.is_some_and(|b| current_a >= b.0), band.is_some_and(|b| current_a >= b.1));
    let ((may_short, must_short), (may_trip, must_trip)) = (over(short), over(trip_band_a(board)));
    Window {
        least_s: if may_short { Some(SHORT_DELAY_S.0) } else { may_trip.then_some(delay.0) },
        most_s: if must_short { Some(SHORT_DELAY_S.1) } else { must_trip.then_some(delay.1) },
    }
}

/// What something is rated for: a continuous current, and a heat pulse above that.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Endurance {
    /// Current it is rated for continuously.
    pub continuous_a: f64,
    /// I²t of a short pulse that it withstands; absent where nothing is stated beyond the continuous current.
    pub pulse_a2s: Option<f64>,
}

impl Endurance {
    /// How long it withstands a current; absent is without end.
    ///
    /// One time constant: a short pulse is withstood for I²t, and the continuous limit is met after a long time.
    /// t = tau ln(I² / (I² - I0²)) with tau = I²t / I0². Nothing stated beyond the limit: no time at all.
    pub fn withstands_s(&self, current_a: f64) -> Option<f64> {
        if current_a <= self.continuous_a * (1.0 + 1e-9) {
            return None;
        }
        let Some(pulse_a2s) = self.pulse_a2s else { return Some(0.0) };
        let limit2 = self.continuous_a.powi(2);
        let square = current_a.powi(2);
        Some(if limit2 > 0.0 { pulse_a2s / limit2 * (square / (square - limit2)).ln() } else { pulse_a2s / square })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Known, Offer};

    fn fuse(style: FuseStyle, rating_a: f64) -> Fuse {
        Fuse { offer: Offer::default(), style, rating_a, dc_v: Some(32.0), breaking_a: Some(1000.0) }
    }

    /// ISO 8820-3 as in reference/tables/blade_fuse_time_current.csv.
    #[test]
    fn a_blade_opens_within_the_published_windows() {
        let table = include_str!("../../../../reference/tables/blade_fuse_time_current.csv");
        let mut rows = 0;
        for row in table.lines().filter(|l| l.starts_with(|c: char| c.is_ascii_digit())) {
            let values: Vec<Option<f64>> = row.split(',').map(|v| v.parse().ok()).collect();
            let window = fuse_window(&fuse(FuseStyle::Blade, 20.0), 0.2 * values[0].unwrap(), 25.0);
            let close = |a: Option<f64>, b: Option<f64>| match (a, b) {
                (Some(a), Some(b)) => (a / b - 1.0).abs() < 1e-9,
                (a, b) => a == b,
            };
            assert!(close(window.least_s, values[1]) && close(window.most_s, values[2]), "{row}: {window:?}");
            rows += 1;
        }
        assert_eq!(rows, 6);
    }

    /// IEC 60127-2 (from memory): 150 % for an hour at least; 210 % within 30 min (fast), 2 min (time-lag); 275 % in
    /// 0.05 to 2 s, and 0.6 to 10 s; 400 % in 10 to 300 ms, and 0.15 to 3 s; 1000 % within 20 ms, and in 20 to 300 ms.
    #[test]
    fn a_glass_fuse_opens_within_the_published_windows() {
        for (style, at_210_s, at_275_s, at_400_s, at_1000_s) in [
            (FuseStyle::GlassFast, 1800.0, (0.05, 2.0), (0.01, 0.3), 0.02),
            (FuseStyle::GlassTimeLag, 120.0, (0.6, 10.0), (0.15, 3.0), 0.3),
        ] {
            let glass = fuse(style, 4.0);
            assert_eq!(fuse_window(&glass, 4.0, 25.0), Window::HOLDS);
            assert_eq!(fuse_window(&glass, 6.0, 25.0).least_s, Some(3600.0));
            assert_eq!(fuse_window(&glass, 6.0, 25.0).most_s, None);
            assert!((fuse_window(&glass, 8.4, 25.0).most_s.unwrap() / at_210_s - 1.0).abs() < 1e-9);
            let window = fuse_window(&glass, 11.0, 25.0);
            assert!((window.least_s.unwrap() / at_275_s.0 - 1.0).abs() < 1e-9);
            assert!((window.most_s.unwrap() / at_275_s.1 - 1.0).abs() < 1e-9);
            let window = fuse_window(&glass, 16.0, 25.0);
            assert!((window.least_s.unwrap() / at_400_s.0 - 1.0).abs() < 1e-9);
            assert!((window.most_s.unwrap() / at_400_s.1 - 1.0).abs() < 1e-9);
            assert!((fuse_window(&glass, 40.0, 25.0).most_s.unwrap() / at_1000_s - 1.0).abs() < 1e-9);
        }
    }

    #[test]
    fn more_current_never_opens_a_fuse_later() {
        for style in [FuseStyle::Blade, FuseStyle::GlassFast, FuseStyle::GlassTimeLag] {
            let fuse = fuse(style, 15.0);
            let (mut least_s, mut most_s) = (f64::INFINITY, f64::INFINITY);
            for k in 0..400 {
                let window = fuse_window(&fuse, 5.0 + f64::from(k), 25.0);
                let now = (window.least_s.unwrap_or(f64::INFINITY), window.most_s.unwrap_or(f64::INFINITY));
                assert!(now.0 <= least_s && now.1 <= most_s && now.0 <= now.1, "{style:?} at {} A", 5 + k);
                (least_s, most_s) = now;
            }
        }
    }

    #[test]
    fn a_board_may_trip_within_its_band_and_must_beyond_it() {
        let board = Bms {
            trip_a: Some(Known { error: Some(10.0), ..Known::stated(60.0) }),
            trip_delay_s: Some(0.2),
            short_a: Some(200.0),
            ..Bms::default()
        };
        assert_eq!(board_window(&board, 49.0), Window::HOLDS);
        assert_eq!(board_window(&board, 60.0), Window { least_s: Some(0.2), most_s: None });
        assert_eq!(board_window(&board, 100.0), Window { least_s: Some(0.2), most_s: Some(0.2) });
        assert_eq!(board_window(&board, 200.0), Window { least_s: Some(0.0002), most_s: Some(0.2) });
        assert_eq!(board_window(&board, 300.0).most_s, Some(0.001));
        assert_eq!(board_window(&Bms::default(), 300.0), Window::HOLDS);
    }

    /// By hand: 20 A continuously and 1000 A²s: 100 A for 2.5 x ln(1 / 0.96) = 0.10206 s, near 1000 / 100² = 0.1 s.
    #[test]
    fn a_short_pulse_is_borne_for_its_heat_and_the_limit_for_good() {
        let wire = Endurance { continuous_a: 20.0, pulse_a2s: Some(1000.0) };
        assert_eq!(wire.withstands_s(20.0), None);
        assert!((wire.withstands_s(100.0).unwrap() - 0.102_055).abs() < 1e-5);
        assert!(wire.withstands_s(21.0).unwrap() > wire.withstands_s(22.0).unwrap());
        assert_eq!(Endurance { pulse_a2s: None, ..wire }.withstands_s(21.0), Some(0.0));
    }
}
