//! The open-circuit curve of the cell in the plan, and what it was fitted to.

use super::voltage::{CELL_FLOOR_V, CELL_FULL_V};
use crate::assess::workspace::Workspace;
use crate::base::chemistry::{self, OcvCurve};
use crate::plan::FittedCell;

/// What the chosen cell was fitted to; what was fitted to another says nothing of it.
pub fn fitted<'b>(workspace: &'b Workspace<'_>) -> Option<&'b FittedCell> {
    workspace.pack.fitted.as_ref().filter(|f| workspace.cell().is_some_and(|c| c.offer.name == f.of))
}

/// The cell's own curve where it was logged, else that of its chemistry between the voltage for which its capacity is stated.
pub fn cell_curve(workspace: &Workspace<'_>) -> Option<OcvCurve> {
    let own = fitted(workspace).map(|f| f.curve.iter().map(|p| (p.soc, p.ocv_v)).collect());
    if let Some(own) = own.and_then(OcvCurve::through) {
        return Some(own);
    }
    let usual = chemistry::curve(workspace.pack.chemistry?);
    let l = &workspace.ledger;
    Some(match (l.value(&CELL_FLOOR_V), l.value(&CELL_FULL_V)) {
        (Some(low_v), Some(high_v)) => usual.between(low_v, high_v),
        _ => usual.clone(),
    })
}
