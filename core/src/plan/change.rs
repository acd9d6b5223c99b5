//! Small changes to a plan, as sets of JSON pointers: what fixes, options and suggestions are made of.

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
pub fn apply(plan: &Plan, changes: &[Change]) -> Result<Plan, ChangeError> {
    let mut document = serde_json::to_value(plan)?;
    put(&mut document, changes)?;
    Ok(serde_json::from_value(document)?)
}
