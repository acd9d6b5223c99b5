//! How the capacity of cells goes down on the shelf and in use, by published models.
//!
//! Each model is a sum of mechanisms, each with a rate that the way of use sets. None shows the late knee that cells near 80 %
//! often have, and none was measured for more than about three years.

mod family;
mod models;
mod pattern;
mod trajectory;

pub use family::{Family, Member, Scatter, family, lost_times, quantile};
pub use models::AgeingModel;
pub use pattern::{Cycling, UsePattern};

use trajectory::Axis;

/// A step in time: rates change slowly.
const STEP_DAYS: f64 = 7.0;
/// Rates are calculated again once so much capacity went.
const SAME_RATES: f64 = 0.002;
/// A cell with less left is not followed any further.
const SPENT: f64 = 0.3;

/// The capacity of a new cell after each of these days, as a share of its first, by one model.
///
/// `phases`: from which day it is used how, the first from 0; `days`: ascending, from 0. The charge taken each time stays the same
/// while the capacity goes down, so the depth of the cycles grows.
pub fn shares(model: AgeingModel, phases: &[(f64, UsePattern)], days: &[f64]) -> Vec<f64> {
    let mut lost: Vec<f64> = vec![];
    let (mut share, mut day) = (1.0, 0.0);
    let mut at: Option<(usize, f64)> = None;
    let mut full_cycles_a_day = 0.0;
    let mut mechanisms = vec![];
    let mut found = Vec::with_capacity(days.len());
    for &wanted in days {
        while day < wanted && share > SPENT {
            let phase = phases.partition_point(|(from, _)| *from <= day).max(1) - 1;
            let Some((_, used)) = phases.get(phase) else { break };
            let is_new = at.is_none_or(|(before, reckoned_at)| {
                before != phase || (used.cycling.is_some() && reckoned_at - share > SAME_RATES)
            });
            if is_new {
                let stress = used.stress(share);
                full_cycles_a_day = stress.full_cycles_a_day;
                mechanisms = model.mechanisms(&stress);
                lost.resize(mechanisms.len(), 0.0);
                at = Some((phase, share));
            }
            let ends = phases.get(phase + 1).map_or(wanted, |(from, _)| from.min(wanted));
            let step = STEP_DAYS.min(ends - day);
            for (lost, (axis, way)) in lost.iter_mut().zip(&mechanisms) {
                let along = match axis {
                    Axis::Days => step,
                    Axis::FullCycles => step * full_cycles_a_day,
                };
                *lost = way.further(*lost, along);
            }
            share = (1.0 - lost.iter().sum::<f64>()).max(0.0);
            day += step;
        }
        // How far below that it came hangs on the step: nothing is said of it.
        found.push(share.max(SPENT));
    }
    found
}
