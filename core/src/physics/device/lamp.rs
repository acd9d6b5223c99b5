//! A lamp that is led outside: the resistor in series with it, and whether it lights at all.

use crate::base::e_series::Series;
use crate::plan::LampColour;

/// Current at which a small lamp is seen in a room. Common practice, no source: 2 mA, where 20 mA is its rating.
pub const SEEN_A: f64 = 0.002;
/// What must be left over for the resistor to hold the current. Common practice, no source.
const LEAST_LEFT_V: f64 = 0.3;

/// Forward voltage of a light-emitting diode by its colour. Common practice, no source: red 1.8, yellow and green 2.1, blue and white 3.0.
pub fn forward_v(colour: LampColour) -> f64 {
    match colour {
        LampColour::Red => 1.8,
        LampColour::Yellow | LampColour::Green => 2.1,
        LampColour::Blue | LampColour::White => 3.0,
    }
}

/// Resistor in series, nearest of E24: (V − V_f) / I. `None` where too little is left: it hardly lights, or not at all.
pub fn series_ohm(colour: LampColour, fed_v: f64) -> Option<f64> {
    let left_v = fed_v - forward_v(colour);
    (left_v >= LEAST_LEFT_V).then(|| Series::E24.nearest(left_v / SEEN_A))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand: 5 V less 2.1 V over 2 mA are 1450 Ω, 1.5 kΩ of E24; white on 3.0 V has nothing left.
    #[test]
    fn the_resistor_of_a_lamp_follows_its_colour() {
        assert_eq!(series_ohm(LampColour::Green, 5.0), Some(1500.0));
        assert_eq!(series_ohm(LampColour::White, 3.0), None);
        assert_eq!(series_ohm(LampColour::Red, 3.0), Some(620.0));
    }
}
