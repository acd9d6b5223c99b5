//! Parts tested on arrival: what fails here is sent back, not built in.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Expects, Phase};
use crate::assess::tests_of;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    tests_of(making.workspace)
        .into_iter()
        .filter(|part| !part.tests.is_empty())
        .map(|part| {
            let asks = part.tests.iter().map(|report| {
                let test = &report.test;
                match (&test.expected, &test.question) {
                    (Some(e), _) => {
                        let error = match e.unit {
                            crate::base::quantity::Unit::V => making.predicted.error_v(e.high),
                            crate::base::quantity::Unit::A => making.predicted.error_a(e.high),
                            _ => 0.0,
                        };
                        BuildAsk::read(
                            test.id,
                            test.title,
                            ["", ""],
                            Expects::Band {
                                low: Some(e.low - error),
                                high: Some(e.high + error),
                                unit: e.unit,
                                because: e.because.clone(),
                            },
                        )
                    }
                    (None, question) => {
                        BuildAsk::yes(test.id, question.clone().unwrap_or_else(|| test.title.to_owned()))
                    }
                }
            });
            let how = part.tests.iter().flat_map(|report| {
                let lines = report.test.steps.iter();
                lines
                    .enumerate()
                    .map(|(i, line)| if i == 0 { format!("{}: {line}", report.test.title) } else { line.clone() })
            });
            let mut step = BuildStep::new(
                Phase::Arrival,
                format!("arrival/{}", part.place),
                format!("Test: {}", part.part),
                "A part that does not do what was bought is found now, on dummy parts, not in the pack.",
            )
            .how(how)
            .asks(asks.collect())
            .if_not("Do not build it in. Send it back, or choose another in the plan.")
            .shows([part.place.clone()]);
            step.tools = part.needs.clone();
            step
        })
        .collect()
}
