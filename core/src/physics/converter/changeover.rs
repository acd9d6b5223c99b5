//! From one feed to another: the gap, the capacitor that bridges it, the comparator that decides.

/// Capacitance that carries a current over a gap while its voltage falls: C = I t / dV.
///
/// A converter or motor that draws constant power draws more as the voltage falls; at falls of a fifth this stays within an
/// eighth of C = 2 P t / (V1² − V2²).
pub fn hold_up_f(current_a: f64, gap_s: f64, fall_v: f64) -> f64 {
    current_a * gap_s / fall_v
}

/// What a comparator on the host's charge voltage should be set to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Comparator {
    /// Midway between the two states.
    pub threshold_v: f64,
    /// A third of the distance: room for ripple on either side. Common practice, no source.
    pub hysteresis_v: f64,
}

/// Settings that tell "host charging" from "host on battery"; `None` where the two are not apart.
pub fn comparator(charging_v: f64, on_battery_v: f64) -> Option<Comparator> {
    let apart_v = charging_v - on_battery_v;
    (apart_v > 0.0).then(|| Comparator { threshold_v: on_battery_v + apart_v / 2.0, hysteresis_v: apart_v / 3.0 })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Worked by hand: 1.5 A over a relay's 15 ms with 1.2 V to spare need 18.75 mF.
    #[test]
    fn a_relays_gap_is_bridged() {
        assert!((hold_up_f(1.5, 0.015, 1.2) - 0.018_75).abs() < 1e-12);
    }

    /// The doc's claim, against the exact capacitor for constant power.
    #[test]
    fn at_falls_of_a_fifth_constant_power_wants_at_most_an_eighth_more() {
        for (from_v, fall) in [(12.0, 0.02), (12.6, 0.1), (9.0, 0.2)] {
            let (power_w, gap_s, to_v) = (18.0, 0.02, from_v * (1.0 - fall));
            let exact_f = 2.0 * power_w * gap_s / (from_v * from_v - to_v * to_v);
            let plain_f = hold_up_f(power_w / from_v, gap_s, from_v - to_v);
            assert!(exact_f >= plain_f && exact_f <= plain_f * 1.125, "{exact_f} {plain_f}");
        }
    }

    #[test]
    fn a_comparator_stands_between_the_states_with_room_on_both_sides() {
        let set = comparator(7.25, 6.5).unwrap();
        assert!((set.threshold_v - 6.875).abs() < 1e-12 && (set.hysteresis_v - 0.25).abs() < 1e-12);
        assert!(set.threshold_v + set.hysteresis_v / 2.0 < 7.25 && set.threshold_v - set.hysteresis_v / 2.0 > 6.5);
        assert_eq!(comparator(6.5, 6.5), None);
    }
}
