//! Parts tested on arrival: what fails here is sent back, not built in.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::assess::{PartTests, tests_of};
use crate::base::quantity::Unit;
use crate::physics::arrival::ArrivalTest;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let parts = tests_of(making.workspace);
    parts.iter().filter(|part| !part.tests.is_empty()).map(|part| tested(making, part)).collect()
}

fn tested(making: &Making<'_>, part: &PartTests) -> BuildStep {
    let mut step = BuildStep::new(
        Phase::Arrival,
        format!("arrival/{}", part.place),
        format!("Test: {}", part.part),
        "A faulty part is found now, on dummy parts, not in the pack.",
    )
    .asks(part.tests.iter().map(|report| kept(making, part, &report.test)).collect())
    .if_not("Do not build it in. Send it back, or choose another in the plan.")
    .shows([part.place.clone()]);
    step.tools.clone_from(&part.needs);
    step
}

/// A test with its outcome in the plan: a part that was tested before the build began is tested.
fn kept(making: &Making<'_>, part: &PartTests, test: &ArrivalTest) -> BuildAsk {
    let (place, id, name) = (part.place.clone(), test.id.to_owned(), part.part.clone());
    let earlier = making.plan.arrivals.iter().find(|a| a.place == place && a.test == id && a.part == name);
    let value = earlier.and_then(|a| a.reading.as_ref()).map(|read| read.value);
    asked(making, test).earlier(value, earlier.and_then(|a| a.passed)).counts(Counts::Arrival {
        place,
        test: id,
        part: name,
    })
}

/// A test as it stands in the plan, with the error of the meter.
fn asked(making: &Making<'_>, test: &ArrivalTest) -> BuildAsk {
    let Some(e) = &test.expected else {
        let question = test.question.as_ref().map_or(String::new(), |q| format!(": {q}"));
        return BuildAsk::yes(test.id, format!("{}{question}", test.title)).how(&test.steps);
    };
    let error = match e.unit {
        Unit::V => making.predicted.error_v(e.high),
        Unit::A => making.predicted.error_a(e.high),
        _ => 0.0,
    };
    let expects = Expects::Band {
        low: Some(e.low - error),
        high: Some(e.high + error),
        unit: e.unit,
        because: e.because.clone(),
    };
    BuildAsk::read(test.id, test.title, ["", ""], expects).how(&test.steps)
}
