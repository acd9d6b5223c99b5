//! What is worth trying for findings about the brick, its strips and its room.

use super::{At, Move, cell, put, strip, these};
use crate::assess::{rule, subject};
use crate::plan::{Compartment, Plan};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::brick::STRIP_OVER_CURRENT | rule::brick::STRIP_OVER_PEAK => {
            these(&[Some(Move::MoreLayers), Some(Move::TakeOff), Some(Move::MoreStrips), strip(), Some(Move::Layout)])
        }
        rule::brick::UNEVEN_SHARING => vec![Move::TakeOff, Move::MoreLayers, Move::Layout],
        rule::brick::SHARE_OVER_RATING => vec![Move::TakeOff, Move::MoreLayers, Move::MoreParallel],
        rule::brick::HOTTEST_CELL => these(&[Some(Move::MoreParallel), cell(at.plan), Some(Move::HigherCutOff)]),
        rule::brick::SOLDERED_ON_CELLS | rule::brick::SPRING_CONTACTS | rule::brick::LOOSE_CELLS => {
            vec![put("/packs/0/brick/joined_by", "welded", "I weld strips")]
        }
        rule::brick::CELL_TOO_LARGE => these(&[cell(at.plan)]),
        rule::brick::PACK_TOO_LARGE => {
            these(&[cell(at.plan), Some(put("/feed/outside", "plug", "It sits outside, on a plug"))])
        }
        rule::brick::DOES_NOT_FIT | rule::brick::TOO_MANY_CELLS => vec![Move::Layout, Move::SmallerBrick],
        rule::brick::LAYOUT_FOR_OTHER_COUNTS
        | rule::brick::SHORT
        | rule::brick::GROUP_APART
        | rule::brick::OTHER_FACE => {
            vec![Move::Layout]
        }
        rule::brick::THING_UNPLACED => elsewhere(at),
        rule::brick::STRIPS_NEAR => these(&[strip(), Some(wider_gap(at.plan))]),
        rule::brick::NEIGHBOURS_BARE => vec![wider_gap(at.plan)],
        rule::brick::NO_ROOM_FOR_BOARD => {
            vec![put("/packs/0/brick/clearances/board_elsewhere", true, "The board sits somewhere else")]
        }
        rule::brick::NO_ROOM_FOR_SWELLING => {
            vec![put("/packs/0/brick/clearances/swelling_share", 0.08, "Keep 8 % for swelling")]
        }
        rule::brick::POUCH_WITHOUT_SHELL => {
            vec![put("/packs/0/brick/clearances/shell_mm", 1.5, "A shell of 1.5 mm round it")]
        }
        _ => vec![],
    }
}

/// A gap that has room for a sheet and keeps strips apart.
fn wider_gap(plan: &Plan) -> Move {
    let gap_mm = plan.main_pack().map_or(0.0, |p| p.brick.clearances.gap_mm);
    put("/packs/0/brick/clearances/gap_mm", gap_mm.max(0.0) + 0.5, "Lay the cells 0.5 mm wider apart")
}

/// The part of a finding in each other compartment, or outside the device.
fn elsewhere(at: &At<'_>) -> Vec<Move> {
    let Some(i) = at.plan.nodes.iter().position(|n| n.id == subject(&at.finding.key)) else { return vec![] };
    let places = &at.plan.device.compartments;
    let now = at.plan.nodes[i].compartment.as_ref();
    let others = places.iter().filter(|place| now.is_none_or(|now| *now != place.id));
    let into = |place: &Compartment| {
        put(format!("/nodes/{i}/compartment"), place.id.as_str(), format!("Put it into “{}”", place.name))
    };
    others.map(into).chain([put(format!("/nodes/{i}/sits"), "outside", "Put it outside")]).collect()
}
