//! What is worth trying for findings about board, cut-off and fuse.

use super::{At, Move, cell, put, strip, these, thicker, wired, without_jumper};
use crate::advise::fix::placing::{charge_through_board, load_through_board};
use crate::assess::Assessment;
use crate::assess::rule;
use crate::base::quantity::{Unit, show};
use crate::plan::{NodeKind, Plan, StateName, Step};
use serde_json::{Value, json};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::protection::NO_OVER_CURRENT => {
            let jumper = ["fuse", "board"].map(|id| without_jumper(at.plan, id));
            these(&[jumper[0].clone(), jumper[1].clone(), at.part(NodeKind::Fuse), at.part(NodeKind::Board)])
        }
        rule::protection::OUT_REVERSED => {
            vec![put("/charging/out_v", Value::Null, "I swap the leads and read it again")]
        }
        rule::protection::REARM_BELOW => these(&[rearm(at.plan, at.assessment), at.part(NodeKind::CutOff)]),
        rule::protection::BYPASSED => these(&[without_jumper(at.plan, at.finding.subject())]),
        rule::protection::BOARD_CONTRADICTS | rule::protection::ENDS_TOO_LOW => these(&[at.part(NodeKind::Board)]),
        rule::protection::CHARGER_ROUND_BOARD => {
            these(&[wired(charge_through_board(at.plan), "Charge through the board")])
        }
        rule::protection::CHARGE_SIDE_ONLY => {
            these(&[wired(load_through_board(at.plan), "Feed the load through the board")])
        }
        rule::protection::NO_TAPS => these(&[
            cell(at.plan),
            at.part(NodeKind::Charger),
            Some(put("/packs/0/ready/part/taps", true, "I bring its taps out to a plug")),
        ]),
        rule::protection::OTHER_SERIES
        | rule::protection::OTHER_CHEMISTRY
        | rule::protection::BOARD_OVER_CURRENT
        | rule::protection::TRIP_IN_LOAD
        | rule::protection::TRIP_IN_PEAK
        | rule::protection::NO_TEMPERATURE
        | rule::protection::WANTS_WAKING
        | rule::protection::STARTS_AGAIN
        | rule::protection::RESERVE_DRAINS => these(&[at.part(NodeKind::Board)]),
        rule::protection::NO_BALANCING | rule::protection::BLEED_WEAK => {
            these(&[at.part(NodeKind::Board), at.part(NodeKind::Charger)])
        }
        rule::protection::TRIP_ABOVE_CELLS => these(&[at.part(NodeKind::Board), at.part(NodeKind::Fuse)]),
        rule::protection::TRIP_ABOVE_STRIPS => {
            these(&[at.part(NodeKind::Fuse), Some(Move::MoreLayers), at.part(NodeKind::Board)])
        }
        rule::protection::TRIP_NOT_AS_STATED => these(&[
            board_put(at.plan, "trip_a", Value::Null, "Use the trip calculated from its detector and MOSFETs"),
            at.part(NodeKind::Board),
        ]),
        rule::protection::TRICKLE_ABOVE_BLEED => these(&[
            board_put(at.plan, "trickle_a", Value::Null, "Leave out the trickle path"),
            at.part(NodeKind::Board),
        ]),
        rule::protection::FUSE_FAR => these(&[fuse_at_the_pack(at.plan)]),
        rule::protection::SHORT_TOO_LATE => {
            let wires = at.plan.connections.iter().filter(|r| r.wire.part().is_some()).map(|r| thicker(&r.id));
            let wires: Vec<_> = wires.collect();
            [these(&[at.nearest(NodeKind::Fuse), at.part(NodeKind::Board), Some(Move::MoreLayers)]), these(&wires)]
                .concat()
        }
        rule::protection::FAILED_ON_ARRIVAL => these(&[at.subject_part()]),
        rule::protection::CUTOFF_CHATTER => these(&[rearm(at.plan, at.assessment), at.part(NodeKind::CutOff)]),
        rule::protection::FUSE_VOLTS | rule::protection::FUSE_NOT_DC | rule::protection::FUSE_BREAKING => {
            these(&[at.nearest(NodeKind::Fuse)])
        }
        rule::protection::FUSE_ABOVE_STRIPS => {
            these(&[at.nearest(NodeKind::Fuse), Some(Move::MoreLayers), Some(Move::MoreStrips), strip()])
        }
        rule::protection::FUSE_ABOVE_WIRE => these(&[at.nearest(NodeKind::Fuse), thicker(at.finding.subject())]),
        rule::protection::FUSE_ABOVE_CONNECTOR => these(&[at.nearest(NodeKind::Fuse), at.subject_part()]),
        rule::protection::FUSE_NUISANCE | rule::protection::FUSE_PEAK | rule::protection::FUSE_OVERSIZED => {
            these(&[at.nearest(NodeKind::Fuse)])
        }
        _ => vec![],
    }
}

fn board_put(plan: &Plan, field: &str, value: Value, label: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.kind == NodeKind::Board)?;
    Some(put(format!("/nodes/{i}/part/part/module/protects/{field}"), value, label))
}

/// The fuse a hand's width from the pack: what is cut off the wire before it is added to the first wire behind it.
fn fuse_at_the_pack(plan: &Plan) -> Option<Move> {
    const NEAR_MM: f64 = 100.0;
    let line = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let mut runs = plan.connections.clone();
    let (mut before, mut room_mm, mut moved_mm) = (true, NEAR_MM, 0.0);
    for step in &line.steps {
        match step {
            Step::Node(node) => before &= node.fuse().is_none(),
            Step::Connection(run) => {
                let run = runs.iter_mut().find(|r| r.id == run.id)?;
                let Some(length_mm) = run.length_mm.as_mut().filter(|_| run.wire.part().is_some()) else { continue };
                if before {
                    let kept_mm = length_mm.min(room_mm).max(1.0);
                    (room_mm, moved_mm) = (room_mm - kept_mm, moved_mm + *length_mm - kept_mm);
                    *length_mm = kept_mm;
                } else {
                    *length_mm += moved_mm;
                    moved_mm = 0.0;
                }
            }
        }
    }
    Some(put("/runs", json!(runs), "Set the fuse within 100 mm of the pack"))
}

/// The cut-off board set to close again half as much again beyond the rebound: it grows with age and cold.
fn rearm(plan: &Plan, assessment: &Assessment) -> Option<Move> {
    const ROOM: f64 = 1.5;
    let i = plan.nodes.iter().position(|n| n.module().is_some_and(|m| m.cuts_off.is_some()))?;
    let opens_v = plan.nodes[i].module()?.cuts_off.as_ref()?.at_v;
    let closes_v = opens_v + ROOM * assessment.figure("cutoff.rebound_v")?.value;
    let shown = show(closes_v, Unit::V);
    let at = format!("/nodes/{i}/part/part/module/cuts_off/rearm_v");
    Some(put(at, closes_v, format!("Set it to close again at {shown}")))
}
