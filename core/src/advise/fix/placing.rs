//! Where the board sits: in the line, with load and charger through it, or on the charge side only. The graph says it, so
//! placing it moves the ends of runs.

use serde::Serialize;
use utoipa::ToSchema;

use crate::plan::{Change, FieldError, NodeKind, Plan, StateName};

/// One place for the board.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BoardPlace {
    /// Where, in a few words.
    pub name: &'static str,
    /// What it guards there, and what not.
    pub guards: &'static str,
    /// Whether it sits there now.
    pub chosen: bool,
    /// The changes that put it there.
    pub changes: Vec<Change>,
}

/// The places for the board of a plan; none where it has no place for one.
///
/// Refuses a plan that cannot stand.
pub fn board_places(plan: &Plan) -> Result<Vec<BoardPlace>, Vec<FieldError>> {
    plan.check()?;
    let Some(board) = plan.nodes.iter().find(|n| n.kind == NodeKind::Board).map(|n| n.id.as_str()) else {
        return Ok(vec![]);
    };
    let line = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let in_line = line.nodes.iter().any(|n| n.id == board);
    let put = |change: Option<Change>| change.into_iter().collect();
    Ok(vec![
        BoardPlace {
            name: "in the line",
            guards: "Load and charger pass through it: overload, short circuit, over-discharge and overcharge.",
            chosen: in_line,
            changes: if in_line { vec![] } else { put(load_through_board(plan)) },
        },
        BoardPlace {
            name: "on the charge side only",
            guards: "Only the charge current: the device is fed from the pack itself, and something else must stop overload, short circuit and over-discharge.",
            chosen: !in_line,
            changes: if in_line { put(load_round_board(plan)) } else { vec![] },
        },
    ])
}

/// Leads the charge run that ends at the pack to the board instead.
pub(super) fn charge_through_board(plan: &Plan) -> Option<Change> {
    let board_id = board(plan)?;
    let way = plan.avoiding(NodeKind::Charger, NodeKind::Pack, StateName::Charging, |n| n.id == board_id)?;
    moved(plan, &way.connections.last()?.id, pack(plan)?, board(plan)?)
}

/// Leads the load run that starts at the pack from the board instead.
pub(super) fn load_through_board(plan: &Plan) -> Option<Change> {
    let board_id = board(plan)?;
    let way = plan.avoiding(NodeKind::Pack, NodeKind::Device, StateName::Running, |n| n.id == board_id)?;
    moved(plan, &way.connections.first()?.id, pack(plan)?, board_id)
}

/// Leads the load run that leaves the board from the pack itself.
fn load_round_board(plan: &Plan) -> Option<Change> {
    let (pack, board) = (pack(plan)?, board(plan)?);
    let way = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let leaves = way.connections.iter().find(|r| {
        let ends = [r.from.as_str(), r.to.as_str()];
        ends.contains(&board) && !ends.contains(&pack)
    })?;
    moved(plan, &leaves.id, board, pack)
}

fn pack(plan: &Plan) -> Option<&str> {
    plan.main_pack().map(|p| p.id.as_str())
}

fn board(plan: &Plan) -> Option<&str> {
    plan.nodes.iter().find(|n| n.kind == NodeKind::Board).map(|n| n.id.as_str())
}

/// The end of a run moved from one node to another.
fn moved(plan: &Plan, run: &str, from: &str, to: &str) -> Option<Change> {
    let i = plan.connections.iter().position(|r| r.id == run)?;
    let run = &plan.connections[i];
    let end = if run.from == from { "from" } else { (run.to == from).then_some("to")? };
    Some(Change::put(format!("/runs/{i}/{end}"), to))
}
