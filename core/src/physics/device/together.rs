//! Consumers at the same voltage, added up.

use super::{draw_a, reading};
use crate::plan::{Beside, Draw};

/// Efficiency of a small regulator of which none is stated. Common practice, no source: 80 to 90 %.
pub const REGULATOR_EFFICIENCY: f64 = 0.85;

/// What several consumers draw together: a current, a power and a conductance add up each for itself (the usual ZIP model of a load).
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Together {
    /// Of those that draw the same current at every voltage.
    pub current_a: f64,
    /// Of those that draw the same power.
    pub power_w: f64,
    /// Of those that are resistors.
    pub siemens: f64,
}

impl Together {
    /// Of a list of consumers.
    pub fn of<'a>(consumers: impl Iterator<Item = &'a Beside>) -> Self {
        consumers.fold(Together::default(), |mut sum, c| {
            let value = reading(&c.draw).value;
            match (c.own_v, &c.draw) {
                // Behind a regulator it is the same power at every voltage.
                (Some(own_v), draw) => {
                    sum.power_w += draw_a(draw, own_v) * own_v / c.efficiency.unwrap_or(REGULATOR_EFFICIENCY);
                }
                (None, Draw::Current { .. }) => sum.current_a += value,
                (None, Draw::Power { .. }) => sum.power_w += value,
                (None, Draw::Resistance { .. }) => sum.siemens += 1.0 / value,
            }
            sum
        })
    }

    /// Whether there is nothing.
    pub fn is_nothing(&self) -> bool {
        *self == Together::default()
    }

    /// Current at a voltage. I = I₀ + P / V + V × G.
    pub fn at_a(&self, v: f64) -> f64 {
        self.current_a + self.power_w / v + v * self.siemens
    }

    /// The other's added.
    pub fn and(self, other: Together) -> Together {
        Together {
            current_a: self.current_a + other.current_a,
            power_w: self.power_w + other.power_w,
            siemens: self.siemens + other.siemens,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{FedFrom, How, Known};

    fn known(value: f64) -> Known {
        Known { value, how: How::Measured, error: None, meter: None }
    }

    fn consumer(draw: Draw, own_v: Option<f64>, efficiency: Option<f64>) -> Beside {
        Beside {
            id: "x".to_owned(),
            name: "x".to_owned(),
            draw,
            fed: FedFrom::Battery,
            own_v,
            efficiency,
            always: false,
        }
    }

    /// By hand at 8 V: 0.2 A; 4 W are 0.5 A; 40 Ω are 0.2 A; 1 A at 5 V through 80 % are 6.25 W, 0.781 A.
    #[test]
    fn each_kind_adds_up_by_its_own_law() {
        let consumers = [
            consumer(Draw::Current { value_a: known(0.2) }, None, None),
            consumer(Draw::Power { value_w: known(4.0) }, None, None),
            consumer(Draw::Resistance { value_ohm: known(40.0) }, None, None),
            consumer(Draw::Current { value_a: known(1.0) }, Some(5.0), Some(0.8)),
        ];
        let sum = Together::of(consumers.iter());
        assert!((sum.at_a(8.0) - (0.2 + 0.5 + 0.2 + 0.78125)).abs() < 1e-12, "{}", sum.at_a(8.0));
        assert!(Together::of([].into_iter()).is_nothing());
    }
}
