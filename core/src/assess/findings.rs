//! Findings collected while the rules look at a bench: worded, tied to their causes, sorted.

use std::cmp::Reverse;

use super::finding::{Finding, Severity};
use super::rule::Rule;
use super::stage::Stage;
use super::workspace::Workspace;
use super::{accept, follows, rule};
use crate::base::limit::{self, Beyond};
use crate::base::phrase::Phrase;
use crate::base::source::Source;

/// What a rule says when it fires; the template names figures as the ledger's `say` reads them.
pub struct Says<'s> {
    /// Rule id: stage, dot, what is wrong.
    pub rule: Rule,
    /// What it is about, where there are several of a kind.
    pub subject: &'s str,
    /// Title template.
    pub title: &'static str,
    /// Why template; a template may hold formatted figure ids.
    pub why: &'s str,
    /// Words for `{$0}`, `{$1}`.
    pub words: &'s [&'s str],
}

/// Collects findings while the rules look at a bench.
pub struct Findings<'b, 'a> {
    /// What the rules look at.
    pub workspace: &'b Workspace<'a>,
    found: Vec<Finding>,
    brief: bool,
}

impl<'b, 'a> Findings<'b, 'a> {
    /// An empty collection over a bench.
    pub fn over(workspace: &'b Workspace<'a>) -> Self {
        Findings { workspace, found: vec![], brief: false }
    }

    /// The same for one who only asks which findings there are: they come without their reasons.
    pub fn brief(workspace: &'b Workspace<'a>) -> Self {
        Findings { brief: true, ..Findings::over(workspace) }
    }

    /// How bad it is that a figure exceeds a limit, both by their ids: a stop where it surely does, a caution where bands or
    /// the tolerance of what is worked out leave it open. `None` where it does not, or one of them is not known.
    pub fn exceeds(&self, value: &str, limit: &str) -> Option<Severity> {
        let l = &self.workspace.ledger;
        let (value_of, limit_of) = (l.get(value)?, l.get(limit)?);
        let tolerance = if l.is_typed(value) && l.is_typed(limit) { 0.0 } else { limit::COMPUTED };
        let found = limit::beyond(value_of.value, value_of.ends().0, limit_of.value, limit_of.ends().1, tolerance)?;
        Some(match found {
            Beyond::Surely => Severity::Stop,
            Beyond::Within => Severity::Caution,
        })
    }

    /// The same for voltage, of a figure, against a rating that stands on a part.
    pub fn volts_exceed(&self, value: &str, rating_v: Option<f64>) -> Option<Severity> {
        let (value_of, rating_v) = (self.workspace.ledger.get(value)?, rating_v?);
        let tolerance = if self.workspace.ledger.is_typed(value) { 0.0 } else { limit::VOLTS };
        Some(match limit::beyond(value_of.value, value_of.value, rating_v, rating_v, tolerance)? {
            Beyond::Surely => Severity::Stop,
            Beyond::Within => Severity::Caution,
        })
    }

    /// Adds a finding. A stop whose reasons rest on an assumed figure is a caution that names what to measure.
    pub fn add(&mut self, severity: Severity, says: Says<'_>) {
        let assumption = (severity == Severity::Stop).then(|| self.assumption(says.why)).flatten();
        let severity = if assumption.is_some() { Severity::Caution } else { severity };
        let key = if says.subject.is_empty() {
            says.rule.id().to_owned()
        } else {
            format!("{}@{}", says.rule.id(), says.subject)
        };
        let source = rule::entry(says.rule).map_or(Source::Assumed, |entry| entry.source);
        self.found.push(Finding {
            accepted: None,
            follows: None,
            deciding: accept::deciding(&self.workspace.ledger, says.rule, &key),
            rule: says.rule,
            severity,
            stage: Stage::of_rule(says.rule.id()),
            title: self.workspace.ledger.say(says.title, says.words),
            why: if self.brief { Phrase::default() } else { self.why(&says, assumption) },
            source,
            key,
        });
    }

    fn why(&self, says: &Says<'_>, assumption: Option<&str>) -> Phrase {
        let why = self.workspace.ledger.say(says.why, says.words);
        match assumption {
            Some(what) => why.text(format!(" This rests on an assumption: {}. Measure it.", lower_first(what))),
            None => why,
        }
    }

    /// What was taken for granted on the way to one of the figures that a template names.
    fn assumption(&self, why: &str) -> Option<&'static str> {
        let named = why.split('{').skip(1).filter_map(|rest| Some(rest.split_once('}')?.0));
        named.filter(|name| !name.starts_with('$')).find_map(|name| self.workspace.ledger.assumption(name))
    }

    /// Adds a finding about the plan as a whole, without words of its own.
    pub fn tell(&mut self, severity: Severity, rule: Rule, title: &'static str, why: &'static str) {
        self.add(severity, Says { rule, subject: "", title, why, words: &[] });
    }

    /// All findings as they were found.
    pub fn into_found(self) -> Vec<Finding> {
        self.found
    }

    /// All findings, sorted.
    pub fn into_sorted(mut self) -> Vec<Finding> {
        sort(self.workspace, &mut self.found);
        self.found
    }
}

/// A label in the middle of a sentence; what begins with an abbreviation stays.
fn lower_first(label: &str) -> String {
    let mut chars = label.chars();
    match (chars.next(), chars.clone().next()) {
        (Some(first), second) if second.is_none_or(|c| !c.is_uppercase()) => {
            first.to_lowercase().chain(chars).collect()
        }
        _ => label.to_owned(),
    }
}

/// Puts stops first and accepted cautions last of their kind.
pub fn sort(workspace: &Workspace<'_>, found: &mut [Finding]) {
    for finding in found.iter_mut().filter(|f| f.severity == Severity::Caution) {
        finding.accepted = accept::reason(workspace, finding);
    }
    found.sort_by_key(|f| (Reverse(f.severity), f.accepted.is_some(), f.stage));
    follows::tie(found);
}
