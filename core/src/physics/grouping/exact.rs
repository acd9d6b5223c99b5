//! Small tasks, enumerated in full: every way to deal the items, each once.

use super::Task;
use super::items::{Item, Pool};
use super::score::{Assignment, terms};

/// Most assignments that are enumerated.
const MOST: f64 = 2_000_000.0;

/// Whether the task is small enough.
///
/// Counted as if every item were a single: N! / (P!^S S! (N - SP)!); bundles and locks only make it smaller.
pub(super) fn is_small(pool: &Pool) -> bool {
    let ln_factorial = |n: usize| (2..=n).map(|k| (k as f64).ln()).sum::<f64>();
    let (n, s, p) = (pool.there(), pool.series, pool.parallel);
    let ln_ways = ln_factorial(n) - s as f64 * ln_factorial(p) - ln_factorial(s) - ln_factorial(n - s * p);
    n <= 20 && ln_ways <= MOST.ln()
}

struct Search<'a> {
    items: &'a [Item],
    groups: Assignment,
    room: Vec<usize>,
    sums: Vec<i64>,
    spare: usize,
}

impl Search<'_> {
    /// Deals item `at` to every group it can go to, then the rest; `meet` sees every complete assignment.
    fn deal(&mut self, at: usize, meet: &mut dyn FnMut(&Assignment, &[i64])) {
        let Some(item) = self.items.get(at) else {
            if self.room.iter().all(|&r| r == 0) {
                meet(&self.groups, &self.sums);
            }
            return;
        };
        let (size, charge) = (item.size(), item.charge);
        if item.locked.is_some() {
            // Dealt before all others.
            self.deal(at + 1, meet);
            return;
        }
        let mut tried_empty = false;
        for g in 0..self.groups.len() {
            if self.room[g] < size {
                continue;
            }
            // Empty groups are all alike: one of them stands for all.
            if self.groups[g].is_empty() {
                if tried_empty {
                    continue;
                }
                tried_empty = true;
            }
            self.groups[g].push(at);
            self.room[g] -= size;
            self.sums[g] += charge;
            self.deal(at + 1, meet);
            self.groups[g].pop();
            self.room[g] += size;
            self.sums[g] -= charge;
        }
        if self.spare >= size {
            self.spare -= size;
            self.deal(at + 1, meet);
            self.spare += size;
        }
    }
}

/// Meets every way to deal items to so many groups of so many cells, what is too many left out.
pub(super) fn walk(items: &[Item], series: usize, parallel: usize, meet: &mut dyn FnMut(&Assignment, &[i64])) {
    let there: usize = items.iter().map(Item::size).sum();
    let mut search = Search {
        items,
        groups: vec![vec![]; series],
        room: vec![parallel; series],
        sums: vec![0; series],
        spare: there - series * parallel,
    };
    for (i, item) in items.iter().enumerate() {
        if let Some(g) = item.locked {
            search.groups[g].push(i);
            search.room[g] -= item.size();
            search.sums[g] += item.charge;
        }
    }
    search.deal(0, meet);
}

/// The best assignment of all; `None` where bundles leave no way to fill the groups.
pub(super) fn solve(pool: &Pool, task: &Task) -> Option<Assignment> {
    let low = |sums: &[i64]| sums.iter().copied().min().unwrap_or(0);
    let mut best_weakest = 0;
    walk(&pool.items, pool.series, pool.parallel, &mut |_, sums| best_weakest = best_weakest.max(low(sums)));
    let floor = pool.alike(best_weakest);
    let mut best: Option<(f64, i64, Assignment)> = None;
    walk(&pool.items, pool.series, pool.parallel, &mut |groups, sums| {
        let weakest = low(sums);
        if weakest < floor {
            return;
        }
        let score = if pool.weighs_more {
            terms(pool, groups).weighted(&task.weights)
        } else {
            let high = sums.iter().copied().max().unwrap_or(0);
            (high - weakest) as f64
        };
        if best.as_ref().is_none_or(|(s, w, _)| (score, -weakest) < (*s, -*w)) {
            best = Some((score, weakest, groups.clone()));
        }
    });
    best.map(|(.., groups)| groups)
}
