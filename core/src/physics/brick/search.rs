//! Looks for a better seating by trying: simulated annealing by exchanges (Kirkpatrick, Gelatt and Vecchi 1983).
//!
//! Budgets count moves, so the same seed gives the same seating.

use fastrand::Rng;

use super::grid::Site;
use super::joints::{Seating, Wanted};
use crate::base::progress::Progress;

/// Temperatures at the begin and the end, in millimetres of strip.
const HOT_MM: f64 = 60.0;
const COLD_MM: f64 = 0.5;
/// How much hotter the first of several runs begins: a start that falls apart must be able to be torn up.
const TORN_UP: f64 = 10.0;
/// Moves between two reports of progress.
const REPORT_EVERY: u64 = 1024;
/// Chance that two whole groups change places.
const GROUPS_CHANCE: f64 = 0.1;
/// Chance that a cell goes next to one of its own group.
const HOME_CHANCE: f64 = 0.7;
/// Runs into which the budget is cut, each from the best so far.
const RUNS: u64 = 4;

/// What is searched, and how long.
pub struct Search<'a> {
    /// Sites that may be used, layer by layer.
    pub free: &'a [Vec<Site>],
    /// Sites whose cell stays.
    pub locked: &'a [Site],
    /// Where the ends are wanted.
    pub wanted: Wanted,
    /// How many moves are tried.
    pub moves: u64,
    /// Where the search begins.
    pub seed: u64,
}

impl Search<'_> {
    /// The best seating found from a start; never a worse one. `None` if whoever watches ended it.
    pub fn from<'g>(&self, start: Seating<'g>, progress: &dyn Progress) -> Option<Seating<'g>> {
        let mut rng = Rng::with_seed(self.seed);
        let mut best_mm = start.cost_mm(self.wanted);
        let mut best = start;
        let movable: Vec<Vec<Site>> = self
            .free
            .iter()
            .map(|layer| layer.iter().copied().filter(|s| !self.locked.contains(s)).collect())
            .filter(|layer: &Vec<Site>| layer.len() > 1)
            .collect();
        if movable.is_empty() {
            return Some(best);
        }
        let each = self.moves / RUNS;
        for run in 0..RUNS {
            let mut now = best.clone();
            let mut now_mm = best_mm;
            let hot_mm = if run == 0 { HOT_MM * TORN_UP } else { HOT_MM };
            for step in 0..each {
                if step % REPORT_EVERY == 0 && !progress.step((run * each + step) as f64 / self.moves as f64) {
                    return None;
                }
                let heat_mm = hot_mm * (COLD_MM / hot_mm).powf(step as f64 / each as f64);
                let Some(swaps) = self.propose(&now, &movable, &mut rng) else { continue };
                let touched = touched(&now, &swaps);
                let before_mm = local_mm(&now, &touched, self.wanted);
                swaps.iter().for_each(|&(a, b)| now.exchange(a, b));
                let rise_mm = local_mm(&now, &touched, self.wanted) - before_mm;
                if rise_mm > 0.0 && rng.f64() >= (-rise_mm / heat_mm).exp() {
                    swaps.iter().rev().for_each(|&(a, b)| now.exchange(a, b));
                    continue;
                }
                now_mm += rise_mm;
                if now_mm < best_mm - 1e-6 {
                    best = now.clone();
                    best_mm = now_mm;
                }
            }
        }
        Some(best)
    }

    /// Exchanges to try: two sites, or the sites of two whole groups.
    fn propose(&self, now: &Seating<'_>, movable: &[Vec<Site>], rng: &mut Rng) -> Option<Vec<(Site, Site)>> {
        let count = now.groups.len();
        if count > 1 && rng.f64() < GROUPS_CHANCE {
            let (g, h) = (rng.usize(..count), rng.usize(..count));
            let stays = |group: usize| now.groups[group].iter().any(|s| self.locked.contains(s));
            if g == h || stays(g) || stays(h) {
                return None;
            }
            return Some(now.groups[g].iter().copied().zip(now.groups[h].iter().copied()).collect());
        }
        let layer = &movable[rng.usize(..movable.len())];
        let a = layer[rng.usize(..layer.len())];
        let b = if rng.f64() < HOME_CHANCE {
            let home = &now.groups[now.at(a)?];
            let near: Vec<Site> = now.grid.neighbours(home[rng.usize(..home.len())]).collect();
            *near.get(rng.usize(..near.len().max(1)))?
        } else {
            layer[rng.usize(..layer.len())]
        };
        (a.layer == b.layer && now.at(a) != now.at(b) && layer.contains(&b)).then(|| vec![(a, b)])
    }
}

/// Groups whose cost an exchange can change.
fn touched(now: &Seating<'_>, swaps: &[(Site, Site)]) -> Vec<usize> {
    let mut found: Vec<usize> = vec![];
    for &(a, b) in swaps {
        for group in [now.at(a), now.at(b)].into_iter().flatten() {
            if !found.contains(&group) {
                found.push(group);
            }
        }
    }
    found
}

fn local_mm(now: &Seating<'_>, groups: &[usize], wanted: Wanted) -> f64 {
    let mut links: Vec<usize> = groups.iter().flat_map(|&g| [g.checked_sub(1), Some(g)]).flatten().collect();
    links.sort_unstable();
    links.dedup();
    let last = now.groups.len() - 1;
    let ends_mm = if groups.iter().any(|&g| g == 0 || g == last) { now.ends_mm(wanted) } else { 0.0 };
    groups.iter().map(|&g| now.parts_mm(g)).sum::<f64>()
        + links.into_iter().map(|g| now.link_mm(g)).sum::<f64>()
        + ends_mm
}
