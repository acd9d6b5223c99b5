//! A simple loss model of a switching converter.
//!
//! Continuous conduction, one loss resistance in the inductor's way, a diode that carries the inductor's current while
//! the switch is off, and what the converter draws itself. Textbook form: Erickson and Maksimović, Fundamentals of
//! Power Electronics, chapters 2 and 3 (from memory).

use crate::plan::Topology;

/// Parameters of the losses.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Losses {
    /// What the converter draws itself while it runs.
    pub own_w: f64,
    /// Switch, inductor and tracks, as one resistance in the inductor's way.
    pub path_ohm: f64,
    /// Forward voltage of the diode; near zero where a second switch takes its place.
    pub diode_v: f64,
}

/// What a converter draws itself where nothing is stated. Common practice, no source.
pub const TYPICAL_OWN_W: f64 = 0.1;
/// Share of the output voltage that a converter made for its load loses in its resistance. Common practice, no source.
const TYPICAL_DROP: f64 = 0.03;
const TYPICAL_DIODE_V: f64 = 0.45;

impl Losses {
    /// A converter with a diode, made for that load, where nothing is stated.
    pub fn typical(output_v: f64, output_a: f64) -> Self {
        Losses { own_w: TYPICAL_OWN_W, path_ohm: TYPICAL_DROP * output_v / output_a, diode_v: TYPICAL_DIODE_V }
    }
}

/// Rise of a small open module's hottest part over the air, per watt of heat. Common practice, no source.
pub const TYPICAL_K_PER_W: f64 = 20.0;

/// A converter at work.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Point {
    /// Share of the time the switch is on.
    pub duty: f64,
    /// Output power / input power.
    pub efficiency: f64,
    /// What becomes heat.
    pub heat_w: f64,
    /// Current it draws.
    pub input_a: f64,
}

/// Ideal duty: buck V_out / V_in; boost 1 − V_in / V_out; buck-boost V_out / (V_in + V_out).
///
/// `None` where that kind of converter cannot reach the output: a buck from below it, a boost from above it.
pub fn duty(topology: Topology, input_v: f64, output_v: f64) -> Option<f64> {
    let duty = match topology {
        Topology::Buck => output_v / input_v,
        Topology::Boost => 1.0 - input_v / output_v,
        Topology::BuckBoost => output_v / (input_v + output_v),
    };
    (0.0..=1.0).contains(&duty).then_some(duty)
}

/// The converter at an input, an output and a load.
///
/// Heat = own + I_L² R + V_D × I_L × (1 − D), with I_L = I_out for a buck and I_out / (1 − D) for the others.
/// `None` as for `duty`, and for a boost so far up that its switch would never be off.
pub fn work_at(topology: Topology, input_v: f64, output_v: f64, output_a: f64, losses: &Losses) -> Option<Point> {
    let duty = duty(topology, input_v, output_v)?;
    let off = 1.0 - duty;
    let inductor_a = match topology {
        Topology::Buck => output_a,
        Topology::Boost | Topology::BuckBoost => output_a / off,
    };
    let heat_w = losses.own_w + inductor_a.powi(2) * losses.path_ohm + losses.diode_v * inductor_a * off;
    let output_w = output_v * output_a;
    let input_w = output_w + heat_w;
    let point = Point { duty, efficiency: output_w / input_w, heat_w, input_a: input_w / input_v };
    point.heat_w.is_finite().then_some(point)
}

#[cfg(test)]
mod tests {
    use super::*;

    const SMALL: Losses = Losses { own_w: 0.1, path_ohm: 0.08, diode_v: 0.45 };
    const RESISTANCE_ONLY: Losses = Losses { own_w: 0.0, path_ohm: 0.1, diode_v: 0.0 };

    /// Erickson and Maksimović, boost with inductor resistance: efficiency = 1 / (1 + R_L / ((1 − D)² R)), from memory.
    #[test]
    fn a_boost_with_only_resistance_loses_what_the_textbook_says() {
        for (input_v, output_v, output_a) in [(6.0, 12.0, 1.0), (3.0, 12.0, 0.4), (11.0, 12.0, 2.0)] {
            let point = work_at(Topology::Boost, input_v, output_v, output_a, &RESISTANCE_ONLY).unwrap();
            let load_ohm = output_v / output_a;
            let textbook = 1.0 / (1.0 + 0.1 / ((1.0 - point.duty).powi(2) * load_ohm));
            assert!((point.efficiency - textbook).abs() < 1e-12, "{point:?}");
        }
    }

    /// Worked by hand: 12 V from 18 V at 2 A: D = 0.667; 0.1 + 4 × 0.08 + 0.45 × 2 × 0.333 = 0.72 W of 24.72 W.
    #[test]
    fn a_buck_is_worked_by_hand() {
        let point = work_at(Topology::Buck, 18.0, 12.0, 2.0, &SMALL).unwrap();
        assert!((point.heat_w - 0.72).abs() < 1e-9 && (point.efficiency - 24.0 / 24.72).abs() < 1e-9, "{point:?}");
        assert!((point.input_a - 24.72 / 18.0).abs() < 1e-9);
    }

    #[test]
    fn power_is_kept_and_a_boost_heats_more_the_emptier_the_pack() {
        let mut before_w = 0.0;
        for tenth in (31..=42).rev() {
            let input_v = f64::from(tenth) / 10.0;
            let point = work_at(Topology::Boost, input_v, 5.0, 1.5, &SMALL).unwrap();
            assert!((input_v * point.input_a - 7.5 - point.heat_w).abs() < 1e-9, "{point:?}");
            assert!(point.heat_w > before_w && (0.5..1.0).contains(&point.efficiency), "{point:?}");
            before_w = point.heat_w;
        }
    }

    #[test]
    fn what_a_kind_cannot_reach_has_no_duty() {
        assert_eq!(duty(Topology::Buck, 10.0, 12.0), None);
        assert_eq!(duty(Topology::Boost, 13.0, 12.0), None);
        assert_eq!(duty(Topology::BuckBoost, 12.0, 12.0), Some(0.5));
        assert_eq!(work_at(Topology::Boost, 0.0, 12.0, 1.0, &SMALL), None);
    }
    /// Common practice, no source: 80 to 95 %, a step-up or both the worse the further it goes.
    #[test]
    fn a_typical_converter_is_as_good_as_the_trade_says() {
        for (topology, input_v, output_v) in
            [(Topology::Buck, 18.0, 12.0), (Topology::Boost, 9.0, 14.4), (Topology::BuckBoost, 12.0, 12.0)]
        {
            for output_a in [0.5, 2.0, 15.0] {
                let losses = Losses::typical(output_v, output_a);
                let point = work_at(topology, input_v, output_v, output_a, &losses).unwrap();
                assert!((0.8..0.97).contains(&point.efficiency), "{topology:?} at {output_a} A: {point:?}");
            }
        }
    }
}
