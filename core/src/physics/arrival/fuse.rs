//! A fuse: its print, its cold resistance, that it holds, and of a batch that one opens in its window.

use super::{ArrivalTest, ArrivalTests, Expected, Task, volts};
use crate::base::quantity::{Unit, show};
use crate::physics::protection::{fuse_carries_a, fuse_window};
use crate::plan::{Fuse, FuseStyle};

/// Voltage over a fuse at its rating, least and most: what tells a fuse of another rating or a bad contact. From memory.
const AT_RATING_V: (f64, f64) = (0.03, 0.2);
/// Air on a bench.
const BENCH_C: f64 = 25.0;

pub(super) fn tests(fuse: &Fuse, task: &Task) -> ArrivalTests {
    // Through a small fuse not more than it certainly carries.
    let probe_a = (0.5 * fuse.rating_a).min(1.0);
    let share = probe_a / fuse.rating_a;
    let overload = if fuse.style == FuseStyle::Blade { 2.0 } else { 2.75 };
    let overload_a = overload * fuse.rating_a;
    let needs = vec![
        format!("a bench supply, current limit {}", show(probe_a, Unit::A)),
        format!(
            "for the last test: a supply or battery with a lamp that gives {}, and two fuses of the batch",
            show(overload_a, Unit::A)
        ),
        "a meter that reads millivolts".to_owned(),
    ];
    let full = task.full_v.map_or_else(|| "the full pack".to_owned(), |v| show(v, Unit::V));
    let hold_a = task.continuous_a.unwrap_or_else(|| fuse_carries_a(fuse, BENCH_C));
    let hold = format!("Pass {} through it for ten minutes.", show(hold_a, Unit::A));
    let mut tests = vec![
        ArrivalTest::asks(
            "marks",
            "Print",
            &["Read its print, of every one in the bag."],
            format!("{}, and DC voltage of at least {full}?", show(fuse.rating_a, Unit::A)),
        ),
        ArrivalTest::reads(
            "cold",
            "Cold resistance",
            vec![format!("{} through it; voltage from blade to blade or cap to cap.", show(probe_a, Unit::A))],
            volts(AT_RATING_V.0 * share, AT_RATING_V.1 * share, "30 to 200 mV at the rating, from memory"),
        ),
        ArrivalTest::asks("holds", "Holds the load", &[&hold], "Closed, and only warm?"),
    ];
    let window = fuse_window(fuse, overload_a, BENCH_C);
    if let (Some(low), Some(high)) = (window.least_s, window.most_s) {
        let because =
            if fuse.style == FuseStyle::Blade { "ISO 8820-3, from memory" } else { "IEC 60127-2, from memory" };
        let expected =
            Expected { low, high, unit: Unit::S, range: "duration", meant: None, because: because.to_owned() };
        let steps = vec![
            "One of the batch, behind glass or in a box: this test destroys it.".to_owned(),
            format!("Pass {} through it and time it until it opens.", show(overload_a, Unit::A)),
        ];
        tests.push(ArrivalTest::reads("opens", "One of the batch opens", steps, expected));
    }
    ArrivalTests { needs, tests }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Offer;

    /// A 15 A blade: 2 to 13 mV at 1 A; at 200 % it opens in 0.15 to 5 s (ISO 8820-3, from memory).
    #[test]
    fn a_blade_is_read_cold_and_one_is_spent() {
        let fuse = Fuse {
            offer: Offer::default(),
            style: FuseStyle::Blade,
            rating_a: 15.0,
            dc_v: Some(32.0),
            breaking_a: Some(1000.0),
        };
        let bill = tests(&fuse, &Task::default());
        let expected = |id: &str| bill.tests.iter().find(|t| t.id == id).unwrap().expected.clone().unwrap();
        assert!((expected("cold").low - 0.002).abs() < 1e-9 && (expected("cold").high - 0.2 / 15.0).abs() < 1e-9);
        let opens = expected("opens");
        assert!((opens.low - 0.15).abs() < 1e-9 && (opens.high - 5.0).abs() < 1e-9);
        assert!(bill.needs[1].contains("30 A"));
    }
}
