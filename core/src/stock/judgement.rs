//! A judgement on a cell or a lot, with its working.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::severity::Severity;
use crate::base::source::Source;

/// What to do with a cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CellVerdict {
    /// Voltage, resistance or capacity are still to be read.
    Unfinished,
    /// Nothing speaks against it.
    Fine,
    /// Usable, with something to be known.
    Watch,
    /// Between floor and cut-off: bring it back slowly, watch it, test it again.
    Recover,
    /// Not to be used.
    Scrap,
}

impl CellVerdict {
    /// Every verdict, the worst last.
    pub const ALL: [CellVerdict; 5] =
        [CellVerdict::Unfinished, CellVerdict::Fine, CellVerdict::Watch, CellVerdict::Recover, CellVerdict::Scrap];

    /// As it is kept and typed.
    pub fn key(self) -> &'static str {
        match self {
            CellVerdict::Unfinished => "unfinished",
            CellVerdict::Fine => "fine",
            CellVerdict::Watch => "watch",
            CellVerdict::Recover => "recover",
            CellVerdict::Scrap => "scrap",
        }
    }

    /// The verdict of that key.
    pub fn of(key: &str) -> Option<CellVerdict> {
        CellVerdict::ALL.into_iter().find(|v| v.key() == key)
    }
}

/// A value that went into a judgement.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PutIn {
    /// What it is.
    pub name: &'static str,
    /// In the unit of core.
    pub value: f64,
    /// Its unit.
    pub unit: Unit,
}

/// One thing to say of a cell or a lot.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Judgement {
    /// Rule.
    pub rule: &'static str,
    /// How bad it is; a stop is scrap.
    pub severity: Severity,
    /// What is wrong, in a few words.
    pub title: &'static str,
    /// Why it matters and what to do.
    pub why: Phrase,
    /// How the figures were put together.
    pub formula: &'static str,
    /// The values put in.
    pub inputs: Vec<PutIn>,
    /// Where the threshold comes from.
    pub source: Source,
}

impl Judgement {
    /// A judgement by common practice, without figures yet.
    pub fn new(severity: Severity, rule: &'static str, title: &'static str, why: Phrase) -> Self {
        Judgement { rule, severity, title, why, formula: "", inputs: vec![], source: Source::CommonPractice }
    }

    /// Adds how it was calculated.
    pub fn by(mut self, formula: &'static str, inputs: &[(&'static str, f64, Unit)]) -> Self {
        self.formula = formula;
        self.inputs = inputs.iter().map(|&(name, value, unit)| PutIn { name, value, unit }).collect();
        self
    }

    /// From another source than common practice.
    pub fn from(mut self, source: Source) -> Self {
        self.source = source;
        self
    }
}
