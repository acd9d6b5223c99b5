//! A cut-off board on a supply that is turned down and up.

use super::{ArrivalTest, ArrivalTests, Task, amps, volts};
use crate::base::e_series::Series;
use crate::base::quantity::{Unit, show};
use crate::plan::{CutsOff, Module};

/// How far a dialled threshold may be off. Common practice, no source.
const TOLERANCE: f64 = 0.02;
/// Current of the dummy load.
const DUMMY_A: f64 = 0.1;
/// A drain so many times the stated one is another part's; the most where none is stated. Common practice, no source.
const DRAIN_FACTOR: f64 = 1.5;
const MOST_DRAIN_A: f64 = 0.02;

pub(super) fn tests(module: &Module, cuts_off: &CutsOff, task: &Task) -> ArrivalTests {
    let ohm = Series::E24.nearest(cuts_off.at_v / DUMMY_A);
    let watts = show(cuts_off.at_v.powi(2) / ohm, Unit::W);
    let top_v = task.full_v.unwrap_or(cuts_off.at_v * 1.4);
    let needs = vec![
        format!("a bench supply to {}, current limit {}", show(top_v, Unit::V), show(3.0 * DUMMY_A, Unit::A)),
        format!("a dummy load of {}, which dissipates {watts}, or a lamp", show(ohm, Unit::Ohm)),
        "a meter".to_owned(),
    ];
    let near = |v: f64| volts(v * (1.0 - TOLERANCE), v * (1.0 + TOLERANCE), format!("{} ± 2 %", show(v, Unit::V)));
    let mut tests = vec![
        ArrivalTest::reads(
            "opens",
            "Opens",
            vec![
                format!("Supply at {} to its input, dummy load on its output.", show(top_v, Unit::V)),
                "Turn the supply down slowly; note its voltage when the load goes off.".to_owned(),
            ],
            near(cuts_off.at_v),
        )
        .adopting("/cuts_off/at_v", 1.0, false),
    ];
    if let Some(rearm_v) = cuts_off.rearm_v {
        let steps = vec!["Turn the supply up again; note its voltage when the load comes back.".to_owned()];
        tests.push(ArrivalTest::reads("rearms", "Closes again", steps, near(rearm_v)).adopting(
            "/cuts_off/rearm_v",
            1.0,
            false,
        ));
    }
    let (most_a, because) = match module.standby_a {
        Some(a) => (DRAIN_FACTOR * a, "its stated drain and half as much again"),
        None => (MOST_DRAIN_A, "20 mA empties an ordinary pack in days"),
    };
    let steps = vec!["Load off, supply just over where it opens. Read the current into it.".to_owned()];
    tests.push(ArrivalTest::reads("drain", "Standby drain", steps, amps(0.0, most_a, because)).adopting(
        "/standby_a",
        1.0,
        false,
    ));
    if let Some(continuous_a) = task.continuous_a {
        let load = format!("Pass {} through it for ten minutes.", show(continuous_a, Unit::A));
        tests.push(ArrivalTest::asks("warm", "Carries the load", &[&load], "Can a finger stay on its MOSFETs?"));
    }
    ArrivalTests { needs, tests }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Set to 15.5 V and 17.5 V: 15.19 to 15.81 V, 17.15 to 17.85 V; 155 ohm are not sold, 150 are.
    #[test]
    fn opens_and_closes_within_two_per_cent() {
        let cuts_off = CutsOff { at_v: 15.5, rearm_v: Some(17.5) };
        let bill = tests(&Module::default(), &cuts_off, &Task { full_v: Some(21.0), ..Task::default() });
        assert!(bill.needs[1].contains("150 Ω") || bill.needs[1].contains("160 Ω"), "{}", bill.needs[1]);
        let ends = |i: usize| bill.tests[i].expected.as_ref().map(|e| (e.low, e.high)).unwrap();
        assert!((ends(0).0 - 15.19).abs() < 1e-9 && (ends(0).1 - 15.81).abs() < 1e-9);
        assert!((ends(1).0 - 17.15).abs() < 1e-9 && (ends(1).1 - 17.85).abs() < 1e-9);
        assert!(bill.tests.iter().all(|t| t.id != "warm"), "no load is known");
    }
}
