//! Ways to measure a current that the meters at hand cannot read directly.

use serde::Serialize;
use utoipa::ToSchema;

use crate::phrase::Phrase;
use crate::plan::{Meter, Reads, WireSize};
use crate::quantity::Unit;
use crate::wiring::{ohm_per_m, size_name};

/// Drop over a shunt that a volt range reads well and the device does not feel. Common practice, no source.
const SHUNT_V: f64 = 0.05;
/// What a length of wire is off its table: temper, temperature, where the probes sit. Common practice, no source.
const WIRE_SHARE: f64 = 0.05;
/// Longest piece of wire worth laying out, and the shortest that can be measured off.
const LONGEST_M: f64 = 3.0;
const SHORTEST_M: f64 = 0.03;
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

/// Ways to read a current of that size, the most exact first; none if no meter helps.
///
/// Directly, if an ampere range reaches; else over a known piece of wire with a volt range: R = V / I, its length from
/// the table of its gauge (ASTM B258, IEC 60028), and the wire must not warm: it bears the current for the reading.
pub fn ways(meters: &[Meter], current_a: f64) -> Vec<Way> {
    let mut found = vec![];
    for meter in meters {
        match meter.reads {
            Reads::Amps if current_a <= meter.range => {
                let error_share = meter.error_share + meter.error_steps * meter.step / current_a;
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

/// A piece of wire as a shunt for a volt range.
fn shunt(meter: &Meter, current_a: f64) -> Option<Way> {
    let drop_v = SHUNT_V.min(meter.range);
    let size = GAUGES.into_iter().rev().map(|awg| WireSize::Awg { awg }).find(|size| {
        let length_m = drop_v / current_a / ohm_per_m(size);
        (SHORTEST_M..=LONGEST_M).contains(&length_m) && crate::wiring::area_mm2(size) * 20.0 >= current_a
    })?;
    let length_m = drop_v / current_a / ohm_per_m(&size);
    let how = Phrase::words(format!("“{}” over ", meter.name))
        .value(length_m * 1000.0, Unit::Mm)
        .text(format!(" of {} copper wire in the lead: it reads ", size_name(&size)))
        .value(drop_v, Unit::V)
        .text(" at ")
        .value(current_a, Unit::A);
    Some(Way { how, error_share: WIRE_SHARE + meter.error_share + meter.error_steps * meter.step / drop_v })
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
        let small = ways(&meters, 5.0);
        assert!(
            small[0].how.text.contains("in series") && small[0].how.text.contains("0.1 V"),
            "{}",
            small[0].how.text
        );
        assert!((small[0].error_share - (0.01 + 0.03 / 5.0)).abs() < 1e-12);
        let large = ways(&meters, 30.0);
        assert_eq!(large.len(), 1, "{large:?}");
        // 14 AWG has 8.28 milliohm a metre (reference/tables/awg): 50 mV at 30 A is 201 mm.
        assert!(large[0].how.text.contains("201 mm of 14 AWG"), "{}", large[0].how.text);
        assert!((large[0].error_share - (0.05 + 0.01 + 0.0003 / 0.05)).abs() < 1e-12);
        assert!(ways(&[meter(Reads::Ohms, 200.0, 0.1)], 5.0).is_empty());
    }
}
