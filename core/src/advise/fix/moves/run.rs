//! What is worth trying for findings about the run.

use super::{At, Move, cell, put, these};
use crate::assess::rule;

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::run::BROWN_OUT => these(&[Some(Move::MoreParallel), cell(at.plan)]),
        rule::run::SHORTER_THAN_BEFORE | rule::run::SHORTER_THAN_WANTED => {
            these(&[Some(Move::MoreParallel), cell(at.plan)])
        }
        rule::run::CELL_TOO_HOT => these(&[Some(Move::MoreParallel), cell(at.plan), Some(Move::HigherCutOff)]),
        rule::run::OVER_60 => vec![put("/environment/use_max_c", 45.0, "Keep it below 45 °C")],
        _ => vec![],
    }
}
