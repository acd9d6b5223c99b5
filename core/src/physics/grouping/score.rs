//! How good an assignment is: the terms, and their weighted sum.

use super::Weights;
use super::items::{Pool, Reads, UNITS_PER_AH};

/// An assignment: items of each group, by index.
pub(super) type Assignment = Vec<Vec<usize>>;

/// The terms of an assignment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Terms {
    /// Charge of the weakest group, in units.
    pub weakest: i64,
    /// Largest less smallest group over the mean group.
    pub capacity_share: f64,
    /// Mean over groups of (largest less smallest resistance) over the mean resistance.
    pub resistance_share: f64,
    /// Largest less smallest mean self-discharge of a group.
    pub drop_v: f64,
}

impl Terms {
    pub fn weighted(&self, w: &Weights) -> f64 {
        w.capacity * self.capacity_share + w.resistance * self.resistance_share + w.self_discharge * self.drop_v
    }
}

/// What is made small: the weighted unevenness of an assignment whose weakest group is at the floor; where only capacities are
/// read, first what the weakest group lacks, then the spread, in units.
pub(super) fn score(pool: &Pool, groups: &Assignment, weights: &Weights, floor: i64) -> f64 {
    if pool.weighs_more {
        let found = terms(pool, groups);
        return if found.weakest < floor { f64::INFINITY } else { found.weighted(weights) };
    }
    let sums = || groups.iter().map(|g| g.iter().map(|&i| pool.items[i].charge).sum::<i64>());
    strength(sums().min().unwrap_or(0), sums().max().unwrap_or(0))
}

/// The less, the stronger the weakest group; of those alike, the less their spread.
pub(super) fn strength(weakest: i64, largest: i64) -> f64 {
    /// A unit of the weakest group against one of the spread: more than any spread there is.
    const FIRST: f64 = 1e7;
    (largest - weakest) as f64 - FIRST * weakest as f64
}

/// Resistance spread inside one group as a share, and its mean self-discharge; what is not measured does not count.
pub(super) fn inside(pool: &Pool, group: &[usize]) -> (f64, Option<f64>) {
    let all = group.iter().fold(Reads::NONE, |all, &i| all.and(&pool.reads[i]));
    let uneven = if all.ohms > 1.0 { (all.high_ohm - all.low_ohm) / (all.sum_ohm / all.ohms) } else { 0.0 };
    (uneven, (all.drops > 0.0).then(|| all.sum_drop_v / all.drops))
}

/// The terms of an assignment, from scratch.
pub(super) fn terms(pool: &Pool, groups: &Assignment) -> Terms {
    let sums: Vec<i64> = groups.iter().map(|g| g.iter().map(|&i| pool.items[i].charge).sum()).collect();
    let low = sums.iter().copied().min().unwrap_or(0);
    let high = sums.iter().copied().max().unwrap_or(0);
    let mean = sums.iter().sum::<i64>() as f64 / sums.len() as f64;
    let insides: Vec<_> = groups.iter().map(|g| inside(pool, g)).collect();
    let drops: Vec<f64> = insides.iter().filter_map(|i| i.1).collect();
    Terms {
        weakest: low,
        capacity_share: (high - low) as f64 / mean,
        resistance_share: insides.iter().map(|i| i.0).sum::<f64>() / groups.len() as f64,
        drop_v: spread(&drops),
    }
}

pub(super) fn spread(values: &[f64]) -> f64 {
    let low = values.iter().copied().fold(f64::INFINITY, f64::min);
    let high = values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    if values.len() < 2 { 0.0 } else { high - low }
}

/// Units as ampere-hours.
pub(super) fn as_ah(units: i64) -> f64 {
    units as f64 / UNITS_PER_AH
}
