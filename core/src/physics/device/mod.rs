//! What the device asks for: its load levels as currents, and the voltage it is assumed to withstand.

pub mod apart;
pub mod jobs;
pub mod lamp;
pub mod levels;
pub mod log;
mod printed;
mod together;

pub use printed::{Printed, printed};
pub use together::{REGULATOR_EFFICIENCY, Together};

use crate::base::chemistry::{self, Chemistry};
use crate::plan::{Device, Draw, Known, Load};

/// A level at least this long counts as continuous; a shorter one is a peak.
pub const LONG_S: f64 = 10.0;

/// One load level as a current.
#[derive(Debug, Clone, PartialEq)]
pub struct Level {
    /// Current.
    pub current_a: f64,
    /// How long; absent is without an end.
    pub duration_s: Option<f64>,
    /// How often it comes.
    pub every_s: Option<f64>,
}

impl Level {
    /// Whether the level is longer than a peak.
    pub fn is_long(&self) -> bool {
        is_long(self.duration_s)
    }
}

/// Whether a level of that length, absent without end, is longer than a peak.
pub fn is_long(duration_s: Option<f64>) -> bool {
    duration_s.is_none_or(|d| d > LONG_S)
}

/// Current of a level at the voltage across the device. I = P / V, I = V / R.
pub fn draw_a(draw: &Draw, device_v: f64) -> f64 {
    match draw {
        Draw::Current { value_a } => value_a.value,
        Draw::Power { value_w } => value_w.value / device_v,
        Draw::Resistance { value_ohm } => device_v / value_ohm.value,
    }
}

/// How the reading behind a level is known.
pub fn reading(draw: &Draw) -> &Known {
    match draw {
        Draw::Current { value_a } => value_a,
        Draw::Power { value_w } => value_w,
        Draw::Resistance { value_ohm } => value_ohm,
    }
}

/// Share of the time spent in each level.
///
/// Levels with a duration that come every so often take their share; the first level without an end takes the rest.
/// Shares that add up to more than one are scaled down. Levels that come now and then take none.
pub fn shares(levels: &[Level]) -> Vec<f64> {
    let mut shares: Vec<f64> = levels
        .iter()
        .map(|l| match (l.duration_s, l.every_s) {
            (Some(duration_s), Some(every_s)) if every_s > 0.0 => duration_s / every_s,
            _ => 0.0,
        })
        .collect();
    let taken: f64 = shares.iter().sum();
    if taken > 1.0 {
        shares.iter_mut().for_each(|s| *s /= taken);
    } else if let Some(usual) = levels.iter().position(|l| l.duration_s.is_none()) {
        shares[usual] = 1.0 - taken;
    }
    shares
}

/// Mean current over the pattern of use.
pub fn mean_a(levels: &[Level]) -> f64 {
    levels.iter().zip(shares(levels)).map(|(l, share)| l.current_a * share).sum()
}

/// Root mean square of the current over the pattern of use: what heats conductors.
pub fn rms_a(levels: &[Level]) -> f64 {
    levels.iter().zip(shares(levels)).map(|(l, share)| l.current_a * l.current_a * share).sum::<f64>().sqrt()
}

/// What a continuous limit must carry: the RMS, or the largest level longer than a peak.
pub fn continuous_a(levels: &[Level]) -> f64 {
    levels.iter().filter(|l| l.is_long()).map(|l| l.current_a).fold(rms_a(levels), f64::max)
}

/// The level the maker calls usual: the first continuous.
pub fn usual(loads: &[Load]) -> Option<&Load> {
    loads.iter().find(|l| l.duration_s.is_none())
}

/// Nominal voltage of the original battery: cells in series times the chemistry's nominal voltage.
pub fn original_nominal_v(device: &Device) -> Option<f64> {
    let o = &device.original;
    Some(f64::from(o.series?) * o.chemistry?.facts().nominal_v)
}

/// Band of the maximum voltage the device has been run at: its old battery, fresh. Common practice, no source.
pub fn assumed_highest_v(chemistry: Chemistry, series: u32) -> (f64, f64) {
    let (low_v, high_v) = chemistry::fresh_band_v(chemistry);
    (f64::from(series) * low_v, f64::from(series) * high_v)
}

/// Minimum voltage the device has been run at: its old battery at its cut-off. Common practice, no source.
pub fn assumed_lowest_v(chemistry: Chemistry, series: u32) -> f64 {
    f64::from(series) * chemistry.facts().cutoff_v
}

#[cfg(test)]
mod tests {
    use super::*;

    fn level(current_a: f64, duration_s: Option<f64>, every_s: Option<f64>) -> Level {
        Level { current_a, duration_s, every_s }
    }

    #[test]
    fn a_hard_cut_a_third_of_the_time_raises_the_rms_above_the_mean() {
        let levels = [level(9.0, None, None), level(18.0, Some(20.0), Some(60.0))];
        assert!((mean_a(&levels) - 12.0).abs() < 1e-12);
        // By hand: sqrt(81 x 2/3 + 324 x 1/3) = sqrt(162).
        assert!((rms_a(&levels) - 162f64.sqrt()).abs() < 1e-12);
        assert_eq!(continuous_a(&levels), 18.0, "20 s is longer than a peak");
    }

    #[test]
    fn a_short_peak_does_not_count_as_continuous() {
        let levels = [level(9.0, None, None), level(38.0, Some(0.4), None)];
        assert_eq!(continuous_a(&levels), 9.0);
        assert_eq!(mean_a(&levels), 9.0);
    }

    #[test]
    fn shares_over_one_are_scaled_and_never_exceed_it() {
        let levels = [level(1.0, None, None), level(2.0, Some(9.0), Some(10.0)), level(3.0, Some(9.0), Some(10.0))];
        assert!((shares(&levels).iter().sum::<f64>() - 1.0).abs() < 1e-12);
        assert_eq!(shares(&levels)[0], 0.0);
    }

    #[test]
    fn power_and_resistance_become_currents_at_the_volts_given() {
        let power = Draw::Power { value_w: Known::stated(60.0) };
        let lamp = Draw::Resistance { value_ohm: Known::stated(4.0) };
        assert_eq!(draw_a(&power, 12.0), 5.0);
        assert_eq!(draw_a(&lamp, 12.0), 3.0);
    }
}
