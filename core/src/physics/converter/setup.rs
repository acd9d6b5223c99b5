//! Setting a converter up on a current-limited supply before it is wired in: what to do, what the meters then show.

use serde::Serialize;
use utoipa::ToSchema;

use super::losses::{Losses, Point, work_at};
use crate::base::e_series::Series;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::plan::Topology;

/// A converter as it is meant to work.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SetUp {
    /// Down, up, or both.
    pub topology: Topology,
    /// Voltage it is to be set to.
    pub output_v: f64,
    /// Current the device takes from it for long.
    pub output_a: f64,
    /// Voltage of the full pack.
    pub full_v: f64,
    /// Nominal voltage of the pack.
    pub nominal_v: f64,
    /// Loaded voltage at which the run ends.
    pub lowest_v: f64,
    /// Its losses.
    pub losses: Losses,
    /// Its efficiency, where it is stated: it then counts, whatever typical losses would make.
    pub efficiency: Option<f64>,
    /// Rise of its hottest part over the air, per watt of heat.
    pub k_per_w: f64,
}

/// One step.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SetUpStep {
    /// What to do.
    pub act: Phrase,
    /// What the meters show if it is right.
    pub reads: Phrase,
}

/// How far a set-point and an output under load may stray. Common practice, no source: 1 % and 3 %.
const SET_SHARE: f64 = 0.01;
const LOAD_SHARE: f64 = 0.03;
/// The limit stands a third over what is expected, so that a fault shows and the work does not.
const LIMIT_ROOM: f64 = 1.3;
/// A resistor at its rating is too hot to touch, and its own value drifts: twice what it sheds. Common practice, no source.
const LOAD_ROOM: f64 = 2.0;
/// What one may take idle against what it is taken to: modules differ that much. Common practice, no source.
const IDLE_FACTOR: f64 = 10.0;
/// Limit while nothing is connected.
const IDLE_LIMIT_A: f64 = 0.2;

/// The steps in order; empty where the converter cannot work from this pack.
pub fn set_up(s: &SetUp) -> Vec<SetUpStep> {
    let at = |input_v: f64| {
        let point = work_at(s.topology, input_v, s.output_v, s.output_a, &s.losses)?;
        let Some(efficiency) = s.efficiency else { return Some(point) };
        let input_w = s.output_v * s.output_a / efficiency;
        Some(Point { efficiency, input_a: input_w / input_v, heat_w: input_w * (1.0 - efficiency), ..point })
    };
    let (Some(usual), Some(worst), Some(_)) = (at(s.nominal_v), at(s.lowest_v), at(s.full_v)) else {
        return vec![];
    };
    let volts = |v: f64| Phrase::default().value(v, Unit::V);
    let load_ohm = Series::E24.nearest(s.output_v / s.output_a);
    let load_w = s.output_v.powi(2) / load_ohm;
    let limit_a = worst.input_a * LIMIT_ROOM;
    // What it may take idle must pass the limit with room.
    let idle_a = IDLE_FACTOR * s.losses.own_w / s.nominal_v;
    let idle_limit_a = IDLE_LIMIT_A.max(2.0 * idle_a);
    vec![
        SetUpStep {
            act: Phrase::words("Nothing at its output. Supply at its input: ")
                .value(s.nominal_v, Unit::V)
                .text(", limit ")
                .value(idle_limit_a, Unit::A),
            reads: volts(s.nominal_v).text(" in, not above ").value(idle_a, Unit::A),
        },
        SetUpStep {
            act: Phrase::words("Turn the adjuster until the output is right, half a turn at a time"),
            reads: volts(s.output_v * (1.0 - SET_SHARE)).text(" to ").value(s.output_v * (1.0 + SET_SHARE), Unit::V),
        },
        SetUpStep {
            act: Phrase::words("Limit ")
                .value(limit_a, Unit::A)
                .text("; ")
                .value(load_ohm, Unit::Ohm)
                .text(" at the output in place of the device: it dissipates ")
                .value(load_w, Unit::W)
                .text(", so use one rated for ")
                .value(LOAD_ROOM * load_w, Unit::W)
                .text(" or more"),
            reads: volts(s.output_v * (1.0 - LOAD_SHARE))
                .text(" or more out, about ")
                .value(usual.input_a, Unit::A)
                .text(" in"),
        },
        SetUpStep {
            act: Phrase::words("Turn the supply down to the emptiest: ").value(s.lowest_v, Unit::V),
            reads: Phrase::words("the same out, about ")
                .value(worst.input_a, Unit::A)
                .text(" in; after five minutes its hottest part about ")
                .value(worst.heat_w * s.k_per_w, Unit::K)
                .text(" above the air"),
        },
        SetUpStep {
            act: Phrase::words("Turn it up to the full pack: ").value(s.full_v, Unit::V),
            reads: Phrase::words("the same out"),
        },
        SetUpStep {
            act: Phrase::words("Only now wire it in, and read once more at the device's own leads under its own load"),
            reads: volts(s.output_v * (1.0 - LOAD_SHARE)).text(" to ").value(s.output_v * (1.0 + SET_SHARE), Unit::V),
        },
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pump() -> SetUp {
        SetUp {
            topology: Topology::Buck,
            output_v: 12.0,
            output_a: 2.0,
            full_v: 21.0,
            nominal_v: 18.0,
            lowest_v: 15.0,
            losses: Losses { own_w: 0.1, path_ohm: 0.08, diode_v: 0.45 },
            k_per_w: 20.0,
            efficiency: None,
        }
    }

    /// Worked by hand: 24.72 W at 18 V are 1.373 A; at 15 V, D = 0.8, 0.1 + 0.32 + 0.45 × 2 × 0.2 = 0.6 W, 12 K.
    #[test]
    fn a_pumps_step_down_is_set_up_with_the_readings_worked_by_hand() {
        let steps = set_up(&pump());
        assert_eq!(steps.len(), 6);
        assert!(steps[1].reads.text.contains("11.88 V to 12.12 V"), "{}", steps[1].reads.text);
        assert!(
            steps[2].act.text.contains(
                "6.2 Ω at the output in place of the device: it dissipates 23.2 W, so use one rated for 46.5 W"
            ),
            "{}",
            steps[2].act.text
        );
        assert!(steps[2].reads.text.contains("1.37 A in"), "{}", steps[2].reads.text);
        assert!(
            steps[3].reads.text.contains("1.64 A") && steps[3].reads.text.contains("12 K"),
            "{}",
            steps[3].reads.text
        );
    }

    /// 24 W out at 80 % are 30 W in: 2 A at 15 V, 6 W of heat, 120 K; a limit below what it may take idle would hide it.
    #[test]
    fn a_stated_efficiency_counts_and_the_limit_lets_the_idle_current_through() {
        let steps = set_up(&SetUp { efficiency: Some(0.8), ..pump() });
        assert!(
            steps[3].reads.text.contains("2 A") && steps[3].reads.text.contains("120 K"),
            "{}",
            steps[3].reads.text
        );
        let thirsty = SetUp { losses: Losses { own_w: 0.9, ..pump().losses }, ..pump() };
        let first = &set_up(&thirsty)[0];
        assert!(first.act.text.contains("limit 1 A") && first.reads.text.contains("0.5 A"), "{first:?}");
    }

    #[test]
    fn there_is_no_procedure_for_what_cannot_work() {
        assert!(set_up(&SetUp { lowest_v: 11.0, ..pump() }).is_empty());
        assert!(set_up(&SetUp { topology: Topology::Boost, ..pump() }).is_empty());
    }
}
