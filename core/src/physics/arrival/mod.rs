//! Tests of parts on arrival: on dummy cells and a current-limited supply, before anything is soldered.
//!
//! What each test needs, its steps in order, what should be read, and what a reading says. A reading says nothing finer
//! than its meter.

mod board;
mod charger;
mod cutoff;
mod fuse;
mod switch;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::Facts;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::plan::{Arrival, ChargesAs, DummyBattery, Known, Module, Part};

/// What the tests of a part depend on, besides the part.
#[derive(Debug, Clone, Copy, Default)]
pub struct Task {
    /// Cells in series.
    pub series: Option<u32>,
    /// Voltage of the chemistry.
    pub facts: Option<&'static Facts>,
    /// Continuous current of the load.
    pub continuous_a: Option<f64>,
    /// Full voltage where the part sits.
    pub full_v: Option<f64>,
    /// Full voltage of the pack.
    pub pack_full_v: Option<f64>,
    /// The dummy battery that is at hand.
    pub dummy: DummyBattery,
}

/// What should be read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Expected {
    /// Lowest right reading.
    pub low: f64,
    /// Highest right reading.
    pub high: f64,
    /// Its unit.
    pub unit: Unit,
    /// Key of the range in which a reading is typed.
    pub range: &'static str,
    /// What it should be exactly, where a reading above that is told in percent.
    pub meant: Option<f64>,
    /// Where the ends come from.
    pub because: String,
}

/// Where a reading belongs among the part's figures, once it is used.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Adopts {
    /// Below the part: `/protects/trip_a`.
    pub at: &'static str,
    /// The figure is the reading divided by this.
    pub divide_by: f64,
    /// Whether the field keeps how it is known.
    pub known: bool,
}

/// One test.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ArrivalTest {
    /// Stable id, unique among the tests of a part.
    pub id: &'static str,
    /// What it finds out.
    pub title: &'static str,
    /// What to do, in order.
    pub steps: Vec<String>,
    /// What should be read; absent where it is a yes or a no.
    pub expected: Option<Expected>,
    /// What should be so; absent where something is read.
    pub question: Option<String>,
    /// Where a reading belongs in the plan.
    #[serde(skip)]
    pub adopts: Option<Adopts>,
}

impl ArrivalTest {
    fn asks(id: &'static str, title: &'static str, steps: &[&str], question: impl Into<String>) -> Self {
        let steps = steps.iter().map(|s| (*s).to_owned()).collect();
        ArrivalTest { id, title, steps, expected: None, question: Some(question.into()), adopts: None }
    }

    fn reads(id: &'static str, title: &'static str, steps: Vec<String>, expected: Expected) -> Self {
        ArrivalTest { id, title, steps, expected: Some(expected), question: None, adopts: None }
    }

    fn adopting(mut self, at: &'static str, divide_by: f64, known: bool) -> Self {
        self.adopts = Some(Adopts { at, divide_by, known });
        self
    }
}

fn volts(low: f64, high: f64, because: impl Into<String>) -> Expected {
    Expected { low, high, unit: Unit::V, range: "arrival_volts", meant: None, because: because.into() }
}

fn amps(low: f64, high: f64, because: impl Into<String>) -> Expected {
    Expected { low, high, unit: Unit::A, range: "bench_current", meant: None, because: because.into() }
}

/// The tests of one part.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ArrivalTests {
    /// Dummy parts and instruments.
    pub needs: Vec<String>,
    /// The tests, in order.
    pub tests: Vec<ArrivalTest>,
}

/// The tests of a part; none for parts that have none.
pub fn tests(part: &Part, task: &Task) -> Option<ArrivalTests> {
    let bill = match part {
        Part::Module { module } => module_tests(module, task)?,
        Part::Fuse { fuse } => fuse::tests(fuse, task),
        Part::Switch { switch } => switch::tests(switch, task),
        Part::Connector { .. } => return None,
    };
    Some(bill)
}

/// The tests of everything a module does; a board ends the discharge in its own tests.
fn module_tests(module: &Module, task: &Task) -> Option<ArrivalTests> {
    let guards = match (&module.protects, &module.cuts_off) {
        (Some(protects), _) => Some(board::tests(module, protects, task)),
        (None, Some(cuts_off)) => Some(cutoff::tests(module, cuts_off, task)),
        (None, None) => None,
    };
    let charges = module.charges.as_ref().filter(|c| c.kind == ChargesAs::CcCv).map(|c| charger::tests(c, task));
    let supplies = module.supplies.as_ref().map(charger::supply_tests);
    [guards, charges, supplies].into_iter().flatten().reduce(|mut all, more| {
        all.needs.extend(more.needs);
        all.tests.extend(more.tests);
        all
    })
}

/// What an outcome says.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// As it should be.
    Right,
    /// Not as it should be.
    Wrong,
    /// The meter's error leaves it open.
    Unsettled,
    /// Not done yet.
    Open,
}

/// What the outcome of a test says, in words. An outcome of another part says nothing.
pub fn judge(test: &ArrivalTest, part: &str, outcome: Option<&Arrival>) -> (Outcome, String) {
    let Some(outcome) = outcome.filter(|o| o.part == part) else {
        return (Outcome::Open, String::new());
    };
    match (&test.expected, &outcome.reading, outcome.passed) {
        (Some(expected), Some(reading), _) => judge_reading(expected, reading),
        (None, _, Some(true)) => (Outcome::Right, "As it should be.".to_owned()),
        (None, _, Some(false)) => (Outcome::Wrong, "Not as it should be: do not build it in.".to_owned()),
        _ => (Outcome::Open, String::new()),
    }
}

fn judge_reading(expected: &Expected, reading: &Known) -> (Outcome, String) {
    let (low, high) = reading.band();
    let at = |v: f64| show(v, expected.unit);
    if below(high, expected.low) {
        return (Outcome::Wrong, format!("{} is under {}: do not build it in.", at(reading.value), at(expected.low)));
    }
    if above(low, expected.high) {
        return (Outcome::Wrong, format!("{} is over {}: do not build it in.", at(reading.value), at(expected.high)));
    }
    if below(low, expected.low) || above(high, expected.high) {
        let error = at(reading.error.unwrap_or(0.0));
        return (
            Outcome::Unsettled,
            format!("± {error} of the meter leaves it open: a finer range or another meter settles it."),
        );
    }
    let over = expected.meant.filter(|meant| above(reading.value, *meant));
    let over = over.map_or_else(String::new, |meant| {
        format!(" {} over {}.", show(reading.value / meant - 1.0, Unit::Share), at(meant))
    });
    (Outcome::Right, format!("As it should be.{over}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn test() -> ArrivalTest {
        ArrivalTest::reads("trip", "Trip", vec![], amps(10.0, 14.0, "as stated"))
    }

    fn read(value: f64, error: Option<f64>) -> Arrival {
        let reading = Some(Known { error, ..Known::measured(value) });
        Arrival { place: "board".into(), test: "trip".into(), part: "small board".into(), reading, passed: None }
    }

    #[test]
    fn a_reading_is_judged_no_finer_than_its_meter() {
        let said = |value, error| judge(&test(), "small board", Some(&read(value, error))).0;
        assert_eq!(said(12.0, None), Outcome::Right);
        assert_eq!(said(14.0, None), Outcome::Right, "equal to an end passes");
        assert_eq!(said(14.1, None), Outcome::Wrong);
        assert_eq!(said(14.1, Some(0.5)), Outcome::Unsettled);
        assert_eq!(said(13.8, Some(0.5)), Outcome::Unsettled);
        assert_eq!(said(9.0, Some(0.5)), Outcome::Wrong);
        assert_eq!(said(12.0, Some(0.5)), Outcome::Right);
    }

    #[test]
    fn a_reading_of_another_part_says_nothing() {
        assert_eq!(judge(&test(), "large board", Some(&read(12.0, None))).0, Outcome::Open);
        assert_eq!(judge(&test(), "small board", None).0, Outcome::Open);
    }

    #[test]
    fn a_question_is_answered_by_yes_or_no() {
        let test = ArrivalTest::asks("marks", "Print", &[], "Is it so?");
        let answer = |passed| Arrival { reading: None, passed, ..read(1.0, None) };
        assert_eq!(judge(&test, "small board", Some(&answer(Some(true)))).0, Outcome::Right);
        assert_eq!(judge(&test, "small board", Some(&answer(Some(false)))).0, Outcome::Wrong);
        assert_eq!(judge(&test, "small board", Some(&answer(None))).0, Outcome::Open);
    }
}
