//! Findings: what is wrong or worth knowing, as data.

use serde::Serialize;
use utoipa::ToSchema;

pub use crate::base::severity::Severity;

use super::rule::Rule;
use super::stage::Stage;
use crate::base::phrase::Phrase;
use crate::base::source::Source;
use crate::plan::Position;

/// The figure on which an acceptance rests, as it stands now.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Deciding {
    /// Id of the figure.
    pub figure: String,
    /// Its value: what an acceptance given now remembers.
    pub value: f64,
}

/// One finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Finding {
    /// Rule and subject: the same finding keeps its key while the plan changes.
    pub key: String,
    /// The rule.
    pub rule: Rule,
    /// How bad it is.
    pub severity: Severity,
    /// The stage it belongs to.
    pub stage: Stage,
    /// What is wrong, in a few words.
    pub title: Phrase,
    /// Why it hurts, with the figures that decide.
    pub why: Phrase,
    /// Where the threshold comes from.
    pub source: Source,
    /// The figure an acceptance rests on, where there is one.
    pub deciding: Option<Deciding>,
    /// The maker's reason, if a caution was accepted.
    pub accepted: Option<String>,
    /// Key of the finding it follows from, where that is found too.
    pub follows: Option<String>,
}

impl Finding {
    /// What it is about, where there are several of a kind.
    pub fn subject(&self) -> &str {
        subject(&self.key)
    }

    /// Whether it is of the second pack alone.
    pub fn is_of_second_alone(&self) -> bool {
        position(&self.key) == Position::Other.words()
    }
}

/// Mark behind the key of what is found in another position of two packs.
const OTHER_POSITION: char = '+';

/// The position that a key's finding is of, in words: empty for the first.
pub fn position(key: &str) -> &str {
    key.split_once(OTHER_POSITION).map_or("", |(_, words)| words)
}

/// The subject in a finding's key: empty where it is about the plan as a whole.
pub fn subject(key: &str) -> &str {
    let key = key.split_once(OTHER_POSITION).map_or(key, |(key, _)| key);
    key.split_once('@').map_or("", |(_, subject)| subject)
}

impl Finding {
    /// The same as it stands in another position of two packs; its figures are those of that position, and open nothing here.
    pub fn in_position(mut self, words: &str) -> Finding {
        self.key = format!("{}{OTHER_POSITION}{words}", self.key);
        self.title = self.title.text(format!(", {words}"));
        self.why = self.why.unlinked();
        self.deciding = None;
        self
    }
}
