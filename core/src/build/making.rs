//! What every phase makes its steps from.

use super::predict::Predicted;
use crate::advise::prove::Proof;
use crate::assess::Workspace;
use crate::plan::{Outside, Plan};

/// A plan with its figures and what is predicted of it.
pub(super) struct Making<'a> {
    pub workspace: &'a Workspace<'a>,
    pub plan: &'a Plan,
    pub predicted: Predicted,
    /// What the device is proved by on a bench supply.
    pub proofs: Vec<Proof>,
}

impl Making<'_> {
    /// Whether the pack comes whole: one that is bought so, that stays, or that sits outside the device is not built here.
    pub fn is_ready(&self) -> bool {
        self.workspace.ready().is_some() || self.plan.feed.outside.is_some()
    }

    /// Whether such a pack shows its groups outside, on a balance plug.
    pub fn has_balance_plug(&self) -> bool {
        let taps = self.workspace.ready().and_then(|ready| ready.taps);
        taps.unwrap_or(self.plan.feed.outside != Some(Outside::Adapter))
    }
}
