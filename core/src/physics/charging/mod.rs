//! Charging: its course by CC and CV, end voltage and life, what the supply must give, polarity, and the ways to do it.

mod course;
mod ends;
mod feeds;
mod polarity;
mod rest;
mod set_up;
mod ways;

pub use course::{ChargePart, Course, CourseTask, DIFFUSION, MOST_OF_IT, Moment, SetBy, course, later_share};
pub use ends::{EndVolts, ends, lives};
pub use feeds::{FeedOption, FeedTask, feeds, through_cable_a};
pub use polarity::{Polarity, Through, polarity, through};
pub use rest::{Rests, restart_v, rests};
pub use set_up::{ChargerSetUp, charger_set_up};
pub use ways::{ChargeWay, ChargedBy, ModuleInput, Situation, Standing, ways};

/// Efficiency of a charge module when none is stated. Common practice, no source.
pub const TYPICAL_EFFICIENCY: f64 = 0.88;
/// Charge ends when the current has fallen to this share of the capacity, per hour. Common practice, no source: 0.05 to 0.1.
pub const TAPER_C_RATE: f64 = 0.05;
/// Most for a nearly empty cell, as a share of its capacity, per hour. Common practice, no source.
pub const PRE_C_RATE: f64 = 0.1;
/// Power a supply must give: P = V I / efficiency.
pub fn supply_w(charge_v: f64, charge_a: f64, efficiency: f64) -> f64 {
    charge_v * charge_a / efficiency
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 1.2 A into 2 series at 88 %: 1.9 A from 5 V at 7.0 V, 2.3 A at 8.4 V. Common practice, no source.
    #[test]
    fn two_series_at_1_2_a_need_2_3_a_from_5_v_at_the_top() {
        assert!((supply_w(7.0, 1.2, TYPICAL_EFFICIENCY) / 5.0 - 1.9).abs() < 0.05);
        assert!((supply_w(8.4, 1.2, TYPICAL_EFFICIENCY) / 5.0 - 2.3).abs() < 0.05);
    }
}
