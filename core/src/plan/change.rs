//! Small changes to a plan, as sets of JSON pointers: what fixes, options and suggestions are made of.

use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use thiserror::Error;
use utoipa::ToSchema;

use super::Plan;

/// One value to put at one place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Change {
    /// JSON pointer into the plan.
    pub at: String,
    /// What stands there afterwards.
    pub value: Value,
}

/// Why changes could not be applied.
#[derive(Debug, Error)]
pub enum ChangeError {
    /// The pointer leads nowhere.
    #[error("there is nothing at {at}")]
    NoSuchPlace {
        /// The pointer.
        at: String,
    },
    /// The result is not a plan.
    #[error("the change does not leave a plan: {0}")]
    NotAPlan(#[from] serde_json::Error),
}

impl Change {
    /// A change that puts a part or a figure at a pointer.
    pub fn put(at: impl Into<String>, value: impl Serialize) -> Self {
        // Every type of the plan turns into JSON: its maps have text keys and its floats are finite.
        Change { at: at.into(), value: serde_json::to_value(value).unwrap_or_default() }
    }
}

/// Makes all changes in a document, in order: each puts its value at a key of an object or in the place of an entry of a list, and
/// fails where neither is.
pub fn put(document: &mut Value, changes: &[Change]) -> Result<(), ChangeError> {
    for change in changes {
        let nowhere = || ChangeError::NoSuchPlace { at: change.at.clone() };
        let (parent, key) = change.at.rsplit_once('/').ok_or_else(nowhere)?;
        match document.pointer_mut(parent).ok_or_else(nowhere)? {
            // Escaped as RFC 6901 has it.
            Value::Object(map) => {
                map.insert(key.replace("~1", "/").replace("~0", "~"), change.value.clone());
            }
            Value::Array(_) => *document.pointer_mut(&change.at).ok_or_else(nowhere)? = change.value.clone(),
            _ => return Err(nowhere()),
        }
    }
    Ok(())
}

/// The plan with all changes made, as [`put`] makes them; the plan itself stays as it was.
///
/// Where every change lies within a piece of the plan, only those pieces become documents and are read again: a search for whole plans tries
/// thousands of parts, and the whole document takes as long as judging it.
pub fn apply(plan: &Plan, changes: &[Change]) -> Result<Plan, ChangeError> {
    let within: Option<Vec<Piece>> = changes.iter().map(|change| Piece::of(plan, &change.at)).collect();
    let Some(within) = within else {
        let mut document = serde_json::to_value(plan)?;
        put(&mut document, changes)?;
        return Ok(serde_json::from_value(document)?);
    };
    let mut changed = plan.clone();
    let mut pieces = within.clone();
    pieces.sort_unstable();
    pieces.dedup();
    for piece in pieces {
        // Read once for all its changes: between two of them it may be no piece of a plan.
        let own: Vec<Change> =
            changes.iter().zip(&within).filter(|(_, at)| **at == piece).map(|(change, _)| change.clone()).collect();
        match piece {
            Piece::Node(i) => change_piece(&mut changed.nodes[i], &format!("/nodes/{i}"), own)?,
            Piece::Connection(i) => change_piece(&mut changed.connections[i], &format!("/runs/{i}"), own)?,
            Piece::Pack(i) => change_piece(&mut changed.packs[i], &format!("/packs/{i}"), own)?,
            Piece::Feed => change_piece(&mut changed.feed, "/feed", own)?,
        }
    }
    changed.follow();
    Ok(changed)
}

/// A piece of a plan that is read by itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Piece {
    Node(usize),
    Connection(usize),
    Pack(usize),
    Feed,
}

impl Piece {
    /// The piece that a pointer leads into; `None` for what is none, the whole of one, or is not there.
    fn of(plan: &Plan, at: &str) -> Option<Piece> {
        let (list, rest) = at.strip_prefix('/')?.split_once('/')?;
        if list == "feed" {
            return Some(Piece::Feed);
        }
        let index = rest.split_once('/')?.0;
        // "01" and "+1" name no entry of a list.
        let i: usize = index.parse().ok().filter(|i: &usize| i.to_string() == index)?;
        match list {
            "nodes" => (i < plan.nodes.len()).then_some(Piece::Node(i)),
            "runs" => (i < plan.connections.len()).then_some(Piece::Connection(i)),
            "packs" => (i < plan.packs.len()).then_some(Piece::Pack(i)),
            _ => None,
        }
    }
}

fn change_piece<T: Serialize + DeserializeOwned>(
    piece: &mut T,
    at: &str,
    mut changes: Vec<Change>,
) -> Result<(), ChangeError> {
    for change in &mut changes {
        change.at.drain(..at.len());
    }
    let mut document = serde_json::to_value(&*piece)?;
    put(&mut document, &changes).map_err(|error| match error {
        ChangeError::NoSuchPlace { at: below } => ChangeError::NoSuchPlace { at: format!("{at}{below}") },
        other @ ChangeError::NotAPlan(_) => other,
    })?;
    *piece = serde_json::from_value(document)?;
    Ok(())
}
