//! Matching voltage: what a higher voltage does to a motor, and every pack that could feed the device.

mod candidates;
mod switched;

pub use candidates::{BUCK_ROOM_V, Candidate, FeedPath, School, candidates};
pub use switched::{Side, equalising_a, series_end};

/// What a change of voltage does to a motor, as shares of before.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MotorChange {
    /// Speed without load, and stall current.
    pub speed: f64,
    /// Current of a fan or pump.
    pub fan_current: f64,
    /// Power of a fan or pump.
    pub fan_power: f64,
}

/// Change of a brushed motor from voltage before to voltage now.
///
/// Speed and stall current go with voltage. A fan's or pump's torque goes as speed squared, so its current does, and
/// its power as speed cubed. Affinity laws.
pub fn motor_change(before_v: f64, now_v: f64) -> MotorChange {
    let ratio = now_v / before_v;
    MotorChange { speed: ratio - 1.0, fan_current: ratio.powi(2) - 1.0, fan_power: ratio.powi(3) - 1.0 }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 6.4 to 7.4 V nominal is +16 %; a fan then takes up to +35 % current and +55 % power. Common practice.
    #[test]
    fn a_phosphate_toy_on_cobalt_runs_sixteen_per_cent_faster() {
        let change = motor_change(6.4, 7.4);
        assert!((change.speed - 0.16).abs() < 0.005, "{change:?}");
        assert!((change.fan_current - 0.35).abs() < 0.02 && (change.fan_power - 0.55).abs() < 0.02, "{change:?}");
    }
}
