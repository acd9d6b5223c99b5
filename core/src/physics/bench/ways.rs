//! Ways to read a current, or to make one of a known size, with the meters at hand.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::e_series::Series;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::physics::meters::product_error_share;
use crate::physics::wiring::{ohm_per_m, size_name};
use crate::plan::{Meter, Reads, WireSize};

/// Drop over a shunt that a volt range reads well and the device does not feel. Common practice, no source.
const SHUNT_V: f64 = 0.05;
/// What a length of wire is off its table: temper, temperature, where the probes sit. Common practice, no source.
const WIRE_SHARE: f64 = 0.05;
/// Longest piece of wire worth laying out, and the shortest that can be measured off.
const LONGEST_M: f64 = 3.0;
const SHORTEST_M: f64 = 0.03;
/// What a power resistor is off its print. Common practice, no source: 5 %.
const RESISTOR_SHARE: f64 = 0.05;
/// Below this the leads and clips are part of the resistor; above this no resistor is lying about.
const LEAST_OHM: f64 = 0.05;
const MOST_W: f64 = 1000.0;
/// Gauges tried for a shunt, thinnest first.
const GAUGES: [i32; 6] = [24, 22, 20, 18, 16, 14];

/// One way to measure it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Way {
    /// What to do.
    pub how: Phrase,
    /// Error to expect, against the reading.
    pub error_share: f64,
}

/// Ways to read a current of that size, the most exact first; none if no meter helps. `pack_v` are the voltage it flows
/// at, where they are known.
///
/// Directly, if an ampere range reaches; over a known piece of wire with a volt range: R = V / I, its length from
/// the table of its gauge (ASTM B258, IEC 60028), and the wire must not warm: it carries the current during the reading;
/// watts over voltage: I = P / V. For a trip test the current is made instead of read: a resistor of a preferred value
/// (IEC 60063) across the pack, I = V / R.
pub fn ways(meters: &[Meter], current_a: f64, pack_v: Option<f64>) -> Vec<Way> {
    let mut found = vec![];
    let volts = meters.iter().filter(|m| m.reads == Reads::Volts);
    if let (Some(pack_v), Some(voltmeter)) = (pack_v, pack_v.and_then(|v| best_at(volts, v))) {
        found.extend(resistor(voltmeter, current_a, pack_v));
        let watts = meters.iter().filter(|m| m.reads == Reads::Watts);
        if let Some(wattmeter) = best_at(watts, pack_v * current_a) {
            found.push(quotient(wattmeter, voltmeter, current_a, pack_v));
        }
    }
    for meter in meters {
        match meter.reads {
            Reads::Amps if current_a <= meter.range => {
                let error_share = share_at(meter, current_a);
                let how =
                    Phrase::words(format!("“{}” in series, on its range of ", meter.name)).value(meter.range, Unit::A);
                let how = match meter.burden_ohm {
                    Some(burden_ohm) => {
                        how.text("; it takes ").value(burden_ohm * current_a, Unit::V).text(" away from the device")
                    }
                    None => how,
                };
                found.push(Way { how, error_share });
            }
            Reads::Volts => found.extend(shunt(meter, current_a)),
            _ => {}
        }
    }
    found.sort_by(|a, b| a.error_share.total_cmp(&b.error_share));
    found
}

/// Share of error of a meter at a reading.
fn share_at(meter: &Meter, reading: f64) -> f64 {
    meter.error_share + meter.error_steps * meter.step / reading
}

/// The meter that reads a value with the least error, if one reaches.
fn best_at<'m>(meters: impl Iterator<Item = &'m Meter>, reading: f64) -> Option<&'m Meter> {
    let reach = meters.filter(|m| reading <= m.range);
    reach.min_by(|a, b| share_at(a, reading).total_cmp(&share_at(b, reading)))
}

/// A resistor across the pack that draws no less than the current, for as long as a trip takes.
fn resistor(voltmeter: &Meter, current_a: f64, pack_v: f64) -> Option<Way> {
    let ohm = Series::E24.at_most(pack_v / current_a);
    let draws_a = pack_v / ohm;
    if ohm < LEAST_OHM || pack_v * draws_a > MOST_W {
        return None;
    }
    let how = Phrase::words("For a trip test: ")
        .value(ohm, Unit::Ohm)
        .text(" of ")
        .value(pack_v * draws_a, Unit::W)
        .text(format!(" across the pack, voltage on “{}”: it draws ", voltmeter.name))
        .value(draws_a, Unit::A)
        .text(" at ")
        .value(pack_v, Unit::V)
        .text("; with less power only for a second, it gets hot at once");
    Some(Way { how, error_share: product_error_share(&[RESISTOR_SHARE, share_at(voltmeter, pack_v)]) })
}

/// Watts on one meter over voltage on another.
fn quotient(wattmeter: &Meter, voltmeter: &Meter, current_a: f64, pack_v: f64) -> Way {
    let power_w = pack_v * current_a;
    let how = Phrase::words(format!("“{}” and “{}” together: ", wattmeter.name, voltmeter.name))
        .value(power_w, Unit::W)
        .text(" over ")
        .value(pack_v, Unit::V)
        .text(" is ")
        .value(current_a, Unit::A);
    Way { how, error_share: product_error_share(&[share_at(wattmeter, power_w), share_at(voltmeter, pack_v)]) }
}

/// A piece of wire as a shunt for a volt range.
fn shunt(meter: &Meter, current_a: f64) -> Option<Way> {
    let drop_v = SHUNT_V.min(meter.range);
    let size = GAUGES.into_iter().rev().map(|awg| WireSize::Awg { awg }).find(|size| {
        let length_m = drop_v / current_a / ohm_per_m(size);
        (SHORTEST_M..=LONGEST_M).contains(&length_m) && crate::physics::wiring::area_mm2(size) * 20.0 >= current_a
    })?;
    let length_m = drop_v / current_a / ohm_per_m(&size);
    let how = Phrase::words(format!("“{}” over ", meter.name))
        .value(length_m * 1000.0, Unit::Mm)
        .text(format!(" of {} copper wire in the lead: it reads ", size_name(&size)))
        .value(drop_v, Unit::V)
        .text(" at ")
        .value(current_a, Unit::A);
    Some(Way { how, error_share: WIRE_SHARE + share_at(meter, drop_v) })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn meter(reads: Reads, range: f64, step: f64) -> Meter {
        Meter {
            id: "m".to_owned(),
            name: "hand meter".to_owned(),
            reads,
            range,
            step,
            error_share: 0.01,
            error_steps: 3.0,
            burden_ohm: (reads == Reads::Amps).then_some(0.02),
            every_s: None,
        }
    }

    #[test]
    fn a_current_beyond_the_ampere_range_is_read_over_a_piece_of_wire() {
        let meters = [meter(Reads::Amps, 10.0, 0.01), meter(Reads::Volts, 0.2, 0.0001)];
        let small = ways(&meters, 5.0, None);
        assert!(
            small[0].how.text.contains("in series") && small[0].how.text.contains("0.1 V"),
            "{}",
            small[0].how.text
        );
        assert!((small[0].error_share - (0.01 + 0.03 / 5.0)).abs() < 1e-12);
        let large = ways(&meters, 30.0, None);
        assert_eq!(large.len(), 1, "{large:?}");
        // 14 AWG has 8.28 milliohm a metre (reference/tables/awg), 3 % more stranded: 50 mV at 30 A is 195 mm.
        assert!(large[0].how.text.contains("195 mm of 14 AWG"), "{}", large[0].how.text);
        assert!((large[0].error_share - (0.05 + 0.01 + 0.0003 / 0.05)).abs() < 1e-12);
        assert!(ways(&[meter(Reads::Ohms, 200.0, 0.1)], 5.0, Some(14.4)).is_empty());
    }
    /// Worked by hand: 30 A at 14.4 V is 0.48 ohm; the next preferred value below is 0.47 ohm, it draws 30.638 A and
    /// turns 441.2 W into heat. Voltage are good to 1 % + 0.03 / 14.4, the resistor to 5 %.
    #[test]
    fn a_trip_current_is_made_with_a_resistor() {
        let found = ways(&[meter(Reads::Volts, 20.0, 0.01)], 30.0, Some(14.4));
        let trip = found.iter().find(|w| w.how.text.contains("trip test")).expect("a way for a trip test");
        assert!(trip.how.text.contains("0.47 Ω") || trip.how.text.contains("470 mΩ"), "{}", trip.how.text);
        assert!(trip.how.text.contains("30.6 A") && trip.how.text.contains("441 W"), "{}", trip.how.text);
        assert!((trip.error_share - (0.05 + 0.01 + 0.03 / 14.4)).abs() < 1e-12);
        assert!(
            ways(&[meter(Reads::Volts, 10.0, 0.01)], 30.0, Some(14.4)).iter().all(|w| !w.how.text.contains("trip"))
        );
    }

    #[test]
    fn watts_over_volts_are_amperes_with_both_errors() {
        let meters = [meter(Reads::Volts, 20.0, 0.01), meter(Reads::Watts, 1000.0, 0.1)];
        let found = ways(&meters, 5.0, Some(12.0));
        let both = found.iter().find(|w| w.how.text.contains("60 W over 12 V")).expect("a way with both");
        assert!((both.error_share - (0.01 + 0.3 / 60.0 + 0.01 + 0.03 / 12.0)).abs() < 1e-12);
    }
}
