//! Questions where no meter tells, and how likely each answer is with a cause.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::FaultKind;
use super::symptoms::Symptom;

/// An answer that was given.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Answered {
    /// The question, by its id.
    pub question: String,
    /// The answer, by its id; `unknown` where it cannot be said.
    pub answer: String,
}

/// A question to be asked.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OddQuestion {
    /// Its id.
    pub id: &'static str,
    /// What is asked.
    pub says: &'static str,
    /// The answers.
    pub answers: &'static [OddAnswer],
    /// When it makes sense.
    #[serde(skip)]
    pub(super) asked: Asked,
    /// Trouble against a reading at rest.
    #[serde(skip)]
    pub(super) trouble: f64,
}

/// When a question makes sense.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Asked {
    /// Once anything odd was seen.
    OfAnything,
    /// Once one of these was seen.
    Of(&'static [Symptom]),
    /// The same, or where only readings are there.
    OfReadingsOr(&'static [Symptom]),
}

/// An answer to be chosen.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OddAnswer {
    /// Its id.
    pub id: &'static str,
    /// What it says.
    pub says: &'static str,
    /// How often it is given where the cause has nothing to do with the question, against the other answers.
    #[serde(skip)]
    pub(super) usual: f64,
    /// Causes with which it is the answer to be expected.
    #[serde(skip)]
    pub(super) of: &'static [FaultKind],
}

/// No one can say.
pub const UNKNOWN: &str = "unknown";
/// How often a cause gives an answer that is to be expected of it. Common practice, no source.
const EXPECTED: f64 = 0.9;

impl OddQuestion {
    /// Whether it makes sense after what was seen.
    pub(super) fn fits(&self, seen: &[Symptom]) -> bool {
        match self.asked {
            Asked::OfAnything => !seen.is_empty(),
            Asked::OfReadingsOr(_) if seen.is_empty() => true,
            Asked::Of(symptoms) | Asked::OfReadingsOr(symptoms) => symptoms.iter().any(|s| seen.contains(s)),
        }
    }

    fn usual(&self, index: usize) -> f64 {
        let all: f64 = self.answers.iter().map(|a| a.usual).sum();
        self.answers[index].usual / all
    }

    /// How likely an answer is with a cause.
    pub(super) fn likelihood(&self, index: usize, kind: FaultKind) -> f64 {
        let expects: f64 =
            (0..self.answers.len()).filter(|i| self.answers[*i].of.contains(&kind)).map(|i| self.usual(i)).sum();
        if expects <= 0.0 {
            return self.usual(index);
        }
        let share = if self.answers[index].of.contains(&kind) { EXPECTED / expects } else { 0.0 };
        self.usual(index) * (share + 1.0 - EXPECTED)
    }
}
