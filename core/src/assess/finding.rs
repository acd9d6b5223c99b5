//! Findings: what is wrong or worth knowing, as data.

use std::cmp::Reverse;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::accept::{self, Deciding};
use super::bench::Bench;
use super::stage::Stage;
use crate::phrase::Phrase;
use crate::source::Source;

/// How bad a finding is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// Worth knowing.
    Note,
    /// Works, with a risk or loss to be accepted by name.
    Caution,
    /// Do not build or power this.
    Stop,
}

/// One finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Finding {
    /// Rule and subject: the same finding keeps its key while the plan changes.
    pub key: String,
    /// The rule.
    pub rule: String,
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
}

/// What a rule says when it fires; the template names figures as the ledger's `say` reads them.
pub struct Says<'s> {
    /// Rule id: stage, dot, what is wrong.
    pub rule: &'static str,
    /// What it is about, where there are several of a kind.
    pub subject: &'s str,
    /// Where the threshold comes from.
    pub source: Source,
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
    pub bench: &'b Bench<'a>,
    found: Vec<Finding>,
    brief: bool,
}

impl<'b, 'a> Findings<'b, 'a> {
    /// An empty collection over a bench.
    pub fn over(bench: &'b Bench<'a>) -> Self {
        Findings { bench, found: vec![], brief: false }
    }

    /// The same for one who only asks which findings there are: they come without their reasons.
    pub fn brief(bench: &'b Bench<'a>) -> Self {
        Findings { brief: true, ..Findings::over(bench) }
    }

    /// Adds a finding.
    pub fn add(&mut self, severity: Severity, says: Says<'_>) {
        let key =
            if says.subject.is_empty() { says.rule.to_owned() } else { format!("{}@{}", says.rule, says.subject) };
        self.found.push(Finding {
            accepted: None,
            deciding: accept::deciding(&self.bench.ledger, says.rule, &key),
            rule: says.rule.to_owned(),
            severity,
            stage: Stage::of_rule(says.rule),
            title: self.bench.ledger.say(says.title, says.words),
            why: if self.brief { Phrase::default() } else { self.bench.ledger.say(says.why, says.words) },
            source: says.source,
            key,
        });
    }

    /// Adds a finding about the plan as a whole, without words of its own.
    pub fn tell(
        &mut self,
        severity: Severity,
        rule: &'static str,
        source: Source,
        title: &'static str,
        why: &'static str,
    ) {
        self.add(severity, Says { rule, subject: "", source, title, why, words: &[] });
    }

    /// All findings as they were found.
    pub fn into_found(self) -> Vec<Finding> {
        self.found
    }

    /// All findings, sorted.
    pub fn into_sorted(mut self) -> Vec<Finding> {
        sort(self.bench, &mut self.found);
        self.found
    }
}

/// Puts stops first and accepted cautions last of their kind.
pub fn sort(bench: &Bench<'_>, found: &mut [Finding]) {
    for finding in found.iter_mut().filter(|f| f.severity == Severity::Caution) {
        finding.accepted = accept::reason(bench, finding);
    }
    found.sort_by_key(|f| (Reverse(f.severity), f.accepted.is_some(), f.stage));
}
