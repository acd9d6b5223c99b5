//! Cautions accepted by name, and the figure that decides whether the acceptance still holds.

use super::finding::{Deciding, Finding};
use super::ledger::Ledger;
use super::rule::{self, Rule, Worse};
use super::workspace::Workspace;

/// How far the deciding figure may worsen before a caution must be accepted again.
const MAY_WORSEN: f64 = 0.05;

/// The figure that decides about a finding of that rule and key, with its value now.
pub fn deciding(ledger: &Ledger, rule: Rule, key: &str) -> Option<Deciding> {
    let rests = rule::entry(rule)?.rests?;
    let id = rests.on.id;
    let figure = if rests.of_subject { format!("{id}@{}", super::finding::subject(key)) } else { id.to_owned() };
    let value = ledger.get(&figure)?.value;
    Some(Deciding { figure, value })
}

/// The reason a caution was accepted with, unless its deciding figure has worsened by more than 5 % since.
pub fn reason(workspace: &Workspace<'_>, finding: &Finding) -> Option<String> {
    let acceptance = workspace.plan.accepted.iter().find(|a| a.finding == finding.key)?;
    let rests = rule::entry(finding.rule).and_then(|e| e.rests);
    let holds = match (acceptance.deciding_value, &finding.deciding, rests) {
        (Some(then), Some(now), Some(rests)) => {
            let by = match rests.worse {
                Worse::Up => now.value - then,
                Worse::Down => then - now.value,
            };
            !crate::base::limit::above(by, MAY_WORSEN * then.abs())
        }
        _ => true,
    };
    holds.then(|| acceptance.reason.clone())
}
