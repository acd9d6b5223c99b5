//! What is worth trying for findings about the cells.

use super::{At, Move, cell, put, these};
use crate::assess::Assessment;
use crate::assess::rule;
use crate::base::quantity::{Unit, show};
use crate::plan::Plan;
use serde_json::{Value, json};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::cells::OTHER_CHEMISTRY | rule::cells::IMPOSSIBLE_CLAIM | rule::cells::IMPOSSIBLE_DENSITY => {
            these(&[cell(at.plan)])
        }
        rule::cells::HOLDER_REVERSED | rule::cells::HOLDER_MIXED => {
            vec![put("/feed/holder/each", "ideal_diode", "Add an ideal diode per cell")]
        }
        rule::cells::HOLDER_FEW => {
            let most = at.plan.main_pack().and_then(|p| p.parallel).unwrap_or(1);
            these(&[Some(put("/feed/holder/fewest", most, format!("Require at least {most} cells"))), cell(at.plan)])
        }
        rule::cells::HOLDER_NOT_CHARGED => {
            vec![put("/feed/holder/charged_in_place", false, "I charge the cells outside")]
        }
        rule::cells::GROUPS_FOR_OTHER_COUNTS => vec![put("/packs/0/groups", json!([]), "Release the chosen cells")],
        rule::cells::PULSE_BELOW_CONTINUOUS => {
            vec![put("/packs/0/cell/part/pulse_a", Value::Null, "Use the continuous rating only")]
        }
        rule::cells::PEAK_UNSTATED => these(&[Some(Move::MoreParallel), cell(at.plan)]),
        rule::cells::DOUBTFUL_CLAIM => these(&[believed(at.plan, at.assessment), cell(at.plan)]),
        rule::cells::SALVAGED_UNTESTED => {
            these(&[Some(put("/packs/0/cell/part/tested", true, "I have tested every cell")), cell(at.plan)])
        }
        rule::cells::OVER_RATING | rule::cells::PEAK_OVER_RATING => these(&[Some(Move::MoreParallel), cell(at.plan)]),
        _ => vec![],
    }
}

fn believed(plan: &Plan, assessment: &Assessment) -> Option<Move> {
    let believed_ah = assessment.figure("cell.believed_ah")?.value;
    let shown = show(believed_ah, Unit::Ah);
    let at = plan.main_pack()?.cell_at("rated_ah");
    Some(put(format!("/packs/0/{at}"), believed_ah, format!("Use {shown}")))
}
