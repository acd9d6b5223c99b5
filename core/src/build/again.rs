//! What a change of the plan undoes.

use serde::Serialize;
use utoipa::ToSchema;

use super::event::BuildEvent;
use super::progress::{Found, Progress, progress};
use super::step::{BuildSheet, BuildStep};

/// A step that was begun and is another one now.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Again {
    /// Its key.
    pub key: String,
    /// What it was called.
    pub title: String,
    /// What became of it.
    pub why: String,
}

/// The steps that hold or were begun and that a later plan does otherwise, or not at all, with what changed.
///
/// Both sheets are those of the plans alone, before anything was read: a band that moved because a group was read is no change, and
/// neither is one that moved because the plan now uses the reading in it.
pub fn again(built: &BuildSheet, now: &BuildSheet, events: &[BuildEvent]) -> Vec<Again> {
    let stands = progress(built, events);
    let begun = |step: &BuildStep| {
        events.iter().any(|e| e.step == step.key)
            && stands
                .steps
                .iter()
                .any(|s| s.key == step.key && (s.stands.holds() || s.asks.iter().any(|a| a.value.is_some())))
    };
    let later = progress(now, events);
    let changed = |step: &BuildStep| {
        let why = match now.step(&step.key) {
            None => "the plan no longer has this step".to_owned(),
            Some(other) if other.title != step.title => format!("now: {}", other.title),
            Some(other) if is_counted_on(step, other, &later) => return None,
            Some(other) if other.how != step.how => "it is done differently now".to_owned(),
            Some(other) if other.asks != step.asks || other.together != step.together => {
                "other readings are predicted now".to_owned()
            }
            Some(_) => return None,
        };
        Some(Again { key: step.key.clone(), title: step.title.clone(), why })
    };
    built.steps.iter().filter(|s| begun(s)).filter_map(changed).collect()
}

/// Whether a step differs only because the plan uses what was read in it since: its own band moves along.
fn is_counted_on(step: &BuildStep, other: &BuildStep, later: &Progress) -> bool {
    let state = later.steps.iter().find(|s| s.key == other.key);
    let fits = |key: &str| {
        let found = state.and_then(|s| s.asks.iter().find(|a| a.key == key)).map(|a| a.found);
        matches!(found, Some(Found::Right | Found::Noted))
    };
    step.asks.len() == other.asks.len()
        && step.asks.iter().any(|a| a.counts.is_some())
        && step
            .asks
            .iter()
            .zip(&other.asks)
            .all(|(a, b)| a == b || (a.counts.is_some() && a.counts == b.counts && fits(&b.key)))
}
