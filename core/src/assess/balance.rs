//! The groups side by side, and what each school of balancing makes of them.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::balancing::weighed;
use super::figures::cells::PACK_AH;
use super::figures::charging::ENDS_A;
use super::figures::protection::BLEED_A;
use super::workspace::Workspace;
use super::{fill, rules};
use crate::base::chemistry;
use crate::base::limit::below;
use crate::physics::balancing::{LevelWay, Spread, apart_at_full_v, ways};
use crate::physics::charging::TAPER_C_RATE;
use crate::plan::{FieldError, Plan};

/// One school with what is left at the top of the next charge.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelReport {
    /// What it makes of the difference.
    pub way: LevelWay,
    /// How far the groups part at the top of the charge after it.
    pub left_v: f64,
}

/// How far the groups are apart, and what to do about it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Balance {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// The groups as read.
    pub spread: Option<Spread>,
    /// The schools.
    pub schools: Vec<LevelReport>,
    /// Whether the bleeders hold a full cell at the end of the charge; absent without bleeders.
    pub holds: Option<bool>,
    /// Charge current up to which they do: what the supply should be limited to while it balances.
    pub limit_a: Option<f64>,
    /// Whether the OCV curve is a line through common figures only.
    pub assumed: bool,
}

/// Weighs the voltage of the groups at rest.
pub fn balance(plan: &Plan) -> Result<Balance, Vec<FieldError>> {
    plan.check()?;
    let workspace = fill(plan, None)?;
    Ok(report(&workspace)
        .unwrap_or_else(|| Balance { missing: Some(missing(&workspace).to_owned()), ..Balance::default() }))
}

fn missing(workspace: &Workspace<'_>) -> &'static str {
    if rules::is_damning(workspace) {
        return "A group reads beyond the limits of its cells: balancing is not the answer. See the finding first.";
    }
    match (workspace.pack.series, workspace.ledger.value(&PACK_AH)) {
        (None | Some(1), _) => "Only cells in series can go out of balance: choose the series count first.",
        (_, None) => "Choose cells and their count first: voltage is judged by the charge they stand for.",
        _ => "Read every group at rest, over its two taps.",
    }
}

fn report(workspace: &Workspace<'_>) -> Option<Balance> {
    if rules::is_damning(workspace) {
        return None;
    }
    let (spread, task) = weighed(workspace)?;
    let ah = workspace.ledger.value(&PACK_AH)?;
    let curve = chemistry::curve(workspace.pack.chemistry?);
    let school = |way: LevelWay| LevelReport { left_v: apart_at_full_v(curve, way.left_ah, ah, task.full_v), way };
    let bleed_a = workspace.ledger.value(&BLEED_A).filter(|a| *a > 0.0);
    let ends_a = workspace.ledger.value(&ENDS_A).unwrap_or(TAPER_C_RATE * ah);
    Some(Balance {
        missing: None,
        schools: ways(&task).into_iter().map(school).collect(),
        holds: bleed_a.map(|a| !below(a, ends_a)),
        limit_a: bleed_a,
        assumed: curve.assumed,
        spread: Some(spread),
    })
}
