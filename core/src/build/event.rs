//! What happened in a build: appended, never changed.

use std::collections::HashMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::charge_line::ChargeLine;
use crate::plan::FieldError;

/// Longest text of a note or a reason.
const MOST_WORDS: usize = 2000;

/// What happened at a step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "snake_case", deny_unknown_fields)]
pub enum What {
    /// The step is done.
    Done,
    /// It is to be done again: what was read for it counts no longer.
    Undone,
    /// Something was read.
    Read {
        /// Key of what the step asks.
        ask: String,
        /// The reading, in the unit that is asked for.
        value: f64,
        /// The meter it was read on; absent where none is named.
        #[serde(default)]
        meter: Option<String>,
    },
    /// A question was answered.
    Answered {
        /// Key of what the step asks.
        ask: String,
        /// The answer.
        yes: bool,
    },
    /// A line of the charge was logged.
    Logged {
        /// What was read.
        line: ChargeLine,
    },
    /// Something was written down.
    Note {
        /// The words.
        text: String,
    },
    /// A photograph was taken.
    Photo {
        /// SHA-256 of the photograph as it is kept.
        sha256: String,
    },
    /// A gate was opened although something is not as expected.
    Opened {
        /// Why.
        reason: String,
    },
}

/// Something that happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BuildEvent {
    /// Key of the step.
    pub step: String,
    /// When, as the bench's clock had it, RFC 3339.
    pub at: String,
    /// What happened.
    pub happened: What,
}

impl BuildEvent {
    /// Whether its words can stand: they are there, and not endless.
    pub fn check(&self) -> Result<(), Vec<FieldError>> {
        if let What::Logged { line } = &self.happened {
            let errors = line.check();
            return if errors.is_empty() { Ok(()) } else { Err(errors) };
        }
        let mut errors = vec![];
        let mut refuse = |field: &str, message: String| errors.push(FieldError { field: field.to_owned(), message });
        let words = |text: &str| {
            let length = text.trim().chars().count();
            (length == 0 || length > MOST_WORDS).then(|| format!("1 to {MOST_WORDS} characters"))
        };
        match &self.happened {
            What::Note { text } => {
                if let Some(message) = words(text) {
                    refuse("/text", format!("Note: {message}"));
                }
            }
            What::Opened { reason } => {
                if let Some(message) = words(reason) {
                    refuse("/reason", format!("Reason: {message}"));
                }
            }
            What::Photo { sha256 } => {
                if sha256.len() != 64 || !sha256.bytes().all(|b| b.is_ascii_hexdigit()) {
                    refuse("/sha256", "Photograph: 64 hexadecimal digits".to_owned());
                }
            }
            What::Done | What::Undone | What::Answered { .. } | What::Read { .. } | What::Logged { .. } => {}
        }
        if errors.is_empty() { Ok(()) } else { Err(errors) }
    }
}

/// The latest reading of each ask of a step since it was last to be done again.
pub(super) fn latest<'e>(events: &'e [BuildEvent], step: &str) -> HashMap<&'e str, f64> {
    let mut found = HashMap::new();
    for event in events.iter().filter(|e| e.step == step) {
        match &event.happened {
            What::Undone => found.clear(),
            What::Read { ask, value, .. } => {
                found.insert(ask.as_str(), *value);
            }
            _ => {}
        }
    }
    found
}

/// The lines logged in a step since it was last to be done again, in the order of time; one typed again for the same moment
/// takes the place of the older.
pub(super) fn logged(events: &[BuildEvent], step: &str) -> Vec<ChargeLine> {
    let mut lines: Vec<ChargeLine> = vec![];
    for event in events.iter().filter(|e| e.step == step) {
        match &event.happened {
            What::Undone => lines.clear(),
            What::Logged { line } => {
                lines.retain(|l| l.after_s != line.after_s);
                lines.push(*line);
            }
            _ => {}
        }
    }
    lines.sort_by(|a, b| a.after_s.total_cmp(&b.after_s));
    lines
}
