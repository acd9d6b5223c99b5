//! What may feed a charger: sockets and profiles one has at home, and what is left at the end of a cable.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};

/// A socket or profile that many have.
struct Profile {
    name: &'static str,
    volts_v: f64,
    most_a: f64,
    /// Whether it gives its voltage only to a part that asks for them.
    asked_for: bool,
}

const fn profile(name: &'static str, volts_v: f64, most_a: f64, asked_for: bool) -> Profile {
    Profile { name, volts_v, most_a, asked_for }
}

/// USB 2.0, USB 3, Battery Charging 1.2, Type-C 1.3, Power Delivery 3.1; all from memory.
const PROFILES: [Profile; 9] = [
    profile("USB 2 socket", 5.0, 0.5, false),
    profile("USB 3 socket", 5.0, 0.9, false),
    profile("USB charger, 1.5 A", 5.0, 1.5, false),
    profile("USB-C, 3 A", 5.0, 3.0, false),
    profile("USB-C power delivery, 9 V", 9.0, 3.0, true),
    profile("USB-C power delivery, 15 V", 15.0, 3.0, true),
    profile("USB-C power delivery, 20 V, 3 A", 20.0, 3.0, true),
    profile("USB-C power delivery, 20 V, 5 A", 20.0, 5.0, true),
    profile("12 V socket of a car, 10 A", 12.0, 10.0, false),
];

/// Current that a load of constant power draws through a cable: P = (V - I R) I, the smaller root. `None` when the cable lets
/// that much power not through at all.
pub fn through_cable_a(power_w: f64, supply_v: f64, cable_ohm: f64) -> Option<f64> {
    if cable_ohm <= 0.0 {
        return Some(power_w / supply_v);
    }
    let under = supply_v * supply_v - 4.0 * cable_ohm * power_w;
    (under >= 0.0).then(|| (supply_v - under.sqrt()) / (2.0 * cable_ohm))
}

/// What a charger needs of its feed.
#[derive(Debug, Clone, Copy)]
pub struct FeedTask {
    /// Power at the top of the charge.
    pub power_w: f64,
    /// Minimum voltage it works from.
    pub least_v: Option<f64>,
    /// Maximum voltage it is rated for.
    pub most_v: Option<f64>,
    /// Voltage it charges to.
    pub ends_v: f64,
    /// Resistance of the cable, both ways.
    pub cable_ohm: f64,
}

/// One feed with whether it does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FeedOption {
    /// Which one.
    pub name: &'static str,
    /// Its voltage.
    pub volts_v: f64,
    /// Most it gives.
    pub most_a: f64,
    /// What the charger draws from it; absent where its voltage does not suit.
    pub needs_a: Option<f64>,
    /// Whether it does.
    pub enough: bool,
    /// Why, or what to mind.
    pub why: String,
}

/// The usual feeds, each against what the charger needs; those that do come first.
pub fn feeds(task: &FeedTask) -> Vec<FeedOption> {
    let mut all: Vec<FeedOption> = PROFILES.iter().map(|p| weigh(p, task)).collect();
    all.sort_by_key(|f| !f.enough);
    all
}

fn weigh(p: &Profile, task: &FeedTask) -> FeedOption {
    let needs_a = through_cable_a(task.power_w, p.volts_v, task.cable_ohm);
    let arrives_v = needs_a.map(|a| p.volts_v - a * task.cable_ohm);
    let suits = |enough, why| (needs_a, enough, why);
    let (needs_a, enough, why) = if task.most_v.is_some_and(|most_v| above(p.volts_v, most_v)) {
        (None, false, format!("the charger is limited to {}", show(task.most_v.unwrap_or_default(), Unit::V)))
    } else if task.least_v.is_some_and(|least_v| arrives_v.is_none_or(|v| below(v, least_v))) {
        let arrives = arrives_v.map_or("too little".to_owned(), |v| show(v, Unit::V));
        (None, false, format!("{arrives} arrives; it needs {}", show(task.least_v.unwrap_or_default(), Unit::V)))
    } else if task.least_v.is_none() && below(p.volts_v, task.ends_v) {
        // Only what steps up makes more of less, and then it says from what.
        let ends = show(task.ends_v, Unit::V);
        (None, false, format!("less than the {ends} it charges to; whether that is enough is not stated"))
    } else {
        match needs_a {
            None => suits(false, "its cable does not let that much through".to_owned()),
            Some(a) if above(a, p.most_a) => suits(false, format!("it gives {}", show(p.most_a, Unit::A))),
            Some(_) if task.most_v.is_none() && above(p.volts_v, task.ends_v) => {
                suits(false, "whether the charger is rated for that voltage is not stated".to_owned())
            }
            Some(_) if p.asked_for => suits(true, "if the module asks for that voltage".to_owned()),
            Some(_) => suits(true, String::new()),
        }
    };
    FeedOption { name: p.name, volts_v: p.volts_v, most_a: p.most_a, needs_a, enough, why }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 1.2 A into two in series is 2.3 A from 5 V at the top (common practice, no source): neither USB 3 nor 1.5 A does.
    #[test]
    fn a_two_series_module_wants_more_than_an_ordinary_socket() {
        let task =
            FeedTask { power_w: 8.4 * 1.2 / 0.88, least_v: Some(4.5), most_v: Some(6.0), ends_v: 8.4, cable_ohm: 0.0 };
        let does: Vec<_> = feeds(&task).into_iter().filter(|f| f.enough).map(|f| f.name).collect();
        assert_eq!(does, ["USB-C, 3 A"]);
    }

    /// By hand: 10 W over 0.25 ohm from 5 V: 2.254 A, and 4.436 V arrive.
    #[test]
    fn a_thin_cable_takes_volts_and_the_module_draws_more() {
        let a = through_cable_a(10.0, 5.0, 0.25).unwrap();
        assert!((a * (5.0 - a * 0.25) - 10.0).abs() < 1e-9 && (a - 2.254).abs() < 0.001, "{a}");
        assert_eq!(through_cable_a(30.0, 5.0, 0.25), None);
        let task = FeedTask { power_w: 10.0, least_v: Some(4.5), most_v: None, ends_v: 4.2, cable_ohm: 0.25 };
        let usb_c = feeds(&task).into_iter().find(|f| f.name == "USB-C, 3 A").unwrap();
        assert!(!usb_c.enough && usb_c.why.contains("4.44 V"), "{}", usb_c.why);
    }

    /// A charger that does not say what it works from promises nothing of a feed below its end voltage, nor of one above.
    #[test]
    fn nothing_is_promised_of_an_input_that_is_not_stated() {
        for ends_v in [8.4, 12.6, 16.8] {
            let unsaid = FeedTask { power_w: 2.0, least_v: None, most_v: None, ends_v, cable_ohm: 0.0 };
            assert!(feeds(&unsaid).iter().all(|f| !f.enough), "{ends_v}");
            let steps_up = FeedTask { least_v: Some(4.5), most_v: Some(5.5), ..unsaid };
            assert!(feeds(&steps_up).iter().any(|f| f.enough && f.volts_v < ends_v), "{ends_v}");
            let steps_down = FeedTask { least_v: Some(ends_v + 1.0), most_v: Some(24.0), ..unsaid };
            let does: Vec<f64> = feeds(&steps_down).iter().filter(|f| f.enough).map(|f| f.volts_v).collect();
            assert!(!does.is_empty() && does.iter().all(|v| *v > ends_v), "{ends_v}: {does:?}");
        }
    }
}
