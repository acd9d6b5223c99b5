//! Charging: time by CC and CV, what the supply must give.

use crate::chemistry::OcvCurve;

/// Efficiency of a charge module when none is stated. Common practice, no source.
pub const TYPICAL_EFFICIENCY: f64 = 0.88;
/// Charge ends when the current has fallen to this share of the capacity, per hour. Common practice, no source.
pub const TAPER_C_RATE: f64 = 0.05;

/// Time of a charge, in its two parts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ChargeTime {
    /// Constant current.
    pub cc_s: f64,
    /// Constant voltage, until the taper current.
    pub cv_s: f64,
    /// Share of the capacity that is in at the end.
    pub reached_soc: f64,
}

/// Time of a CC/CV charge of one cell from empty, by its OCV curve and one resistance.
///
/// CC while OCV + I R < end volts, then CV with I = (V - OCV) / R until I falls to [`TAPER_C_RATE`]. Diffusion is left
/// out: a real CV part is longer. `None` when the charge never reaches its end.
pub fn charge_time(curve: &OcvCurve, capacity_ah: f64, cell_ohm: f64, cell_a: f64, end_v: f64) -> Option<ChargeTime> {
    const STEPS: u32 = 120;
    const SECONDS_PER_HOUR: f64 = 3600.0;
    let taper_a = (TAPER_C_RATE * capacity_ah).min(cell_a);
    let cv_from = curve.soc(end_v - cell_a * cell_ohm);
    let reached_soc = curve.soc(end_v - taper_a * cell_ohm).max(cv_from);
    let cc_s = cv_from * capacity_ah / cell_a * SECONDS_PER_HOUR;
    let step = (reached_soc - cv_from) / f64::from(STEPS);
    let step_as = step * capacity_ah * SECONDS_PER_HOUR;
    let middles = (0..STEPS).map(|i| cv_from + (f64::from(i) + 0.5) * step);
    let cv_s: f64 = middles.map(|soc| step_as / ((end_v - curve.ocv_v(soc)) / cell_ohm).clamp(taper_a, cell_a)).sum();
    (cc_s > 0.0 || reached_soc < 1.0).then_some(ChargeTime { cc_s, cv_s, reached_soc })
}

/// Power a supply must give: P = V I / efficiency.
pub fn supply_w(charge_v: f64, charge_a: f64, efficiency: f64) -> f64 {
    charge_v * charge_a / efficiency
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chemistry::{Chemistry, curve};

    /// 1.2 A into 2 series at 88 %: 1.9 A from 5 V at 7.0 V, 2.3 A at 8.4 V. Common practice, no source.
    #[test]
    fn two_series_at_1_2_a_need_2_3_a_from_5_v_at_the_top() {
        assert!((supply_w(7.0, 1.2, TYPICAL_EFFICIENCY) / 5.0 - 1.9).abs() < 0.05);
        assert!((supply_w(8.4, 1.2, TYPICAL_EFFICIENCY) / 5.0 - 2.3).abs() < 0.05);
    }

    #[test]
    fn a_bigger_charger_is_never_slower_and_lower_end_volts_put_less_in() {
        let curve = curve(Chemistry::LiIon);
        let time = |a, v| charge_time(curve, 2.5, 0.04, a, v).unwrap();
        assert!(time(2.0, 4.2).cc_s < time(1.0, 4.2).cc_s);
        assert!(time(2.0, 4.2).cc_s + time(2.0, 4.2).cv_s < time(1.0, 4.2).cc_s + time(1.0, 4.2).cv_s);
        assert!(time(1.0, 4.1).reached_soc < time(1.0, 4.2).reached_soc);
    }
}
