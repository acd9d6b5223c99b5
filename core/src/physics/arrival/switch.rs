//! A switch: its contact, that it opens, and that it breaks the load.

use super::{ArrivalTest, ArrivalTests, Task, volts};
use crate::base::quantity::{Unit, show};
use crate::plan::Switch;

/// A contact worse than this warms under any load worth a switch. Common practice, no source.
const MOST_OHM: f64 = 0.05;

pub(super) fn tests(switch: &Switch, task: &Task) -> ArrivalTests {
    let needs = vec!["a bench supply, current limit 1 A".to_owned(), "a meter that reads millivolts".to_owned()];
    let (high_v, because) = match switch.contact_ohm {
        Some(ohm) => (2.0 * ohm, "twice its stated resistance × 1 A"),
        None => (MOST_OHM, "50 milliohm, more than a good contact has"),
    };
    let steps = vec![
        "Closed, 1 A through it.".to_owned(),
        "Voltage from tag to tag; work it ten times, note the worst.".to_owned(),
    ];
    let mut tests = vec![
        ArrivalTest::asks(
            "open",
            "Opens",
            &["Ohms from tag to tag in each position; ohms to a metal lever."],
            "Nothing in “off”, nothing to the lever?",
        ),
        ArrivalTest::reads("contact", "Contact", steps, volts(0.0, high_v, because)).adopting(
            "/contact_ohm",
            1.0,
            false,
        ),
    ];
    if let (Some(continuous_a), Some(full_v)) = (task.continuous_a, task.full_v) {
        let load = format!("Break {} at {} twenty times.", show(continuous_a, Unit::A), show(full_v, Unit::V));
        tests.push(ArrivalTest::asks(
            "breaks",
            "Breaks the load",
            &[&load, "Read the contact once more."],
            "No lasting spark, the contact as before?",
        ));
    }
    ArrivalTests { needs, tests }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Offer;

    #[test]
    fn a_contact_is_read_at_one_ampere() {
        let switch = Switch {
            offer: Offer::default(),
            continuous_a: Some(10.0),
            dc_v: None,
            contact_ohm: Some(0.004),
            coil_a: None,
            break_before_make: None,
        };
        let task = Task { continuous_a: Some(8.0), full_v: Some(16.8), ..Task::default() };
        let bill = tests(&switch, &task);
        let contact = bill.tests[1].expected.as_ref().unwrap();
        assert!((contact.high - 0.008).abs() < 1e-12);
        assert!(bill.tests[2].steps[0].contains("8 A at 16.8 V"), "{:?}", bill.tests[2].steps);
    }
}
