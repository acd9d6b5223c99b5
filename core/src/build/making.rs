//! What every phase makes its steps from.

use super::predict::Predicted;
use crate::assess::Workspace;
use crate::plan::Plan;

/// A plan with its figures and what is predicted of it.
pub(super) struct Making<'a> {
    pub workspace: &'a Workspace<'a>,
    pub plan: &'a Plan,
    pub predicted: Predicted,
}
