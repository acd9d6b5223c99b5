//! Larger tasks: simulated annealing by exchanges (Kirkpatrick, Gelatt and Vecchi 1983), then a descent.

use fastrand::Rng;

use super::exchange::{Groups, Places, Swap};
use super::items::Pool;
use super::polish::{Best, deal_three_anew, descend};
use super::score::{Assignment, inside, terms};
use super::{Effort, Refusal, Task, WEAKEST_SLACK};
use crate::base::progress::Progress;

/// Largest spread expected of normal groups in standard deviations: makes a deviation comparable with a spread.
const SPREAD_PER_DEVIATION: f64 = 3.5;
/// What a share of shortfall of the weakest group costs beside a share of spread.
const SHORTFALL: f64 = 20.0;
/// Temperatures at the begin and the end, as shares of a group.
const HOT: f64 = 0.003;
const COLD: f64 = 1e-5;
/// How much hotter it begins for each weight: one cell changes these terms of a group by about so much.
const HOT_PER_RESISTANCE: f64 = 0.1;
const HOT_PER_DROP: f64 = 0.003;
/// Moves between two changes of the temperature.
const COOL_EVERY: u64 = 256;
/// Rises beyond so many temperatures are never accepted: exp(-20) is 2e-9.
const NEVER: f64 = 20.0;
/// Moves between two reports of progress.
const REPORT_EVERY: u64 = 8192;
/// Share of the moves that goes into finding how strong the weakest group can be.
const FIRST_SHARE: f64 = 0.1;
/// How many times as long a move takes where more than the capacity is weighed: so many fewer are tried.
const WEIGHING_COSTS: u64 = 2;
/// Chance that an exchange is with a cell left out.
const SPARE_CHANCE: f64 = 0.3;

/// Searches an assignment.
pub(super) fn solve(pool: &Pool, task: &Task, progress: &dyn Progress) -> Result<Assignment, Refusal> {
    let narrowed = narrowed(pool);
    let mut rng = Rng::with_seed(task.seed);
    let begin = Groups::dealt(pool, &narrowed)?;
    let moves = task.effort.moves() / if pool.weighs_more { WEIGHING_COSTS } else { 1 };
    let first = (moves as f64 * FIRST_SHARE) as u64;
    let restarts = if pool.weighs_more { 6 } else { 2 + u64::from(task.effort == Effort::Thorough) * 2 };
    let each = (moves - first) / restarts;
    let watch = Watch { progress, total: moves as f64 };

    let target = target(pool, &narrowed);
    let mut groups = begin;
    let mut run = Run { pool, task, rng: &mut rng, goal: Goal::Weakest { target }, watch: &watch, before: 0 };
    let strongest = run.anneal(&mut groups, first)?;
    let floor = (strongest.weakest as f64 * (1.0 - WEAKEST_SLACK)).ceil() as i64;
    let mut best = strongest;
    best.score = terms(pool, &best.items).weighted(&task.weights);
    let mut start = Groups::of(pool, &best.items, &narrowed);
    for i in 0..restarts {
        let before = first + i * each;
        let mut run = Run { pool, task, rng: &mut rng, goal: Goal::Even { floor }, watch: &watch, before };
        let mut found = run.anneal(&mut start, each)?;
        descend(pool, task, floor, &mut found, &narrowed);
        deal_three_anew(pool, task, floor, &mut found);
        if found.score < best.score {
            best = found;
        }
    }
    Ok(best.items)
}

/// Sum of the best cells shared out evenly: no weakest group can hold more.
fn target(pool: &Pool, narrowed: &[usize]) -> f64 {
    let mut cells: Vec<f64> = vec![];
    for &i in narrowed {
        let item = &pool.items[i];
        cells.extend(std::iter::repeat_n(item.charge as f64 / item.size() as f64, item.size()));
    }
    cells.sort_by(|a, b| b.total_cmp(a));
    cells.iter().take(pool.wanted()).sum::<f64>() / pool.series as f64
}

/// Items worth looking at: the locked, and the best by charge a cell until there are twice as many as are wanted.
///
/// The weakest group may be at most 1 % below the best, so cells far down the order cannot stand in any answer.
fn narrowed(pool: &Pool) -> Vec<usize> {
    let mut order: Vec<usize> = (0..pool.items.len()).collect();
    let mean = |i: usize| pool.items[i].charge as f64 / pool.items[i].size() as f64;
    order.sort_by(|&a, &b| {
        let locked = |i: usize| pool.items[i].locked.is_some();
        locked(b).cmp(&locked(a)).then(mean(b).total_cmp(&mean(a))).then(a.cmp(&b))
    });
    let enough = 2 * pool.wanted() + 60;
    let mut cells = 0;
    order.retain(|&i| {
        let take = cells < enough;
        cells += pool.items[i].size();
        take
    });
    order
}

struct Watch<'a> {
    progress: &'a dyn Progress,
    total: f64,
}

#[derive(Clone, Copy)]
enum Goal {
    /// The weakest group as strong as can be.
    Weakest { target: f64 },
    /// Least weighted unevenness, the weakest group not below the floor.
    Even { floor: i64 },
}

struct Run<'a> {
    pool: &'a Pool,
    task: &'a Task,
    rng: &'a mut Rng,
    goal: Goal,
    watch: &'a Watch<'a>,
    before: u64,
}

/// What the energy of an assignment is made of, kept as sums over groups.
#[derive(Clone, Copy)]
struct Parts {
    sum: i64,
    squares: i64,
    lack: f64,
    uneven: f64,
    drop: f64,
    drop_squares: f64,
}

impl Run<'_> {
    fn lack(&self, sum: i64) -> f64 {
        match self.goal {
            Goal::Weakest { target } => (target - sum as f64).max(0.0).powi(2),
            Goal::Even { floor } => (floor - sum).max(0) as f64,
        }
    }

    fn energy(&self, p: &Parts) -> f64 {
        let n = self.pool.series as f64;
        if let Goal::Weakest { target } = self.goal {
            return SPREAD_PER_DEVIATION * (p.lack / n).sqrt() / target;
        }
        let mean = p.sum as f64 / n;
        let variance = (p.squares as f64 - p.sum as f64 * mean).max(0.0) / n;
        let w = &self.task.weights;
        let drop_variance = (p.drop_squares - p.drop * p.drop / n).max(0.0) / n;
        w.capacity * SPREAD_PER_DEVIATION * variance.sqrt() / mean
            + SHORTFALL * p.lack / mean
            + w.resistance * p.uneven / n
            + w.self_discharge * SPREAD_PER_DEVIATION * drop_variance.sqrt()
    }

    fn anneal(&mut self, groups: &mut Groups, moves: u64) -> Result<Best, Refusal> {
        let pool = self.pool;
        let weighs_more = pool.weighs_more && matches!(self.goal, Goal::Even { .. });
        let mut insides: Vec<(f64, f64)> = groups.items.iter().map(|g| measured(pool, g)).collect();
        let mut parts = Parts { sum: 0, squares: 0, lack: 0.0, uneven: 0.0, drop: 0.0, drop_squares: 0.0 };
        for (g, &sum) in groups.sums.iter().enumerate() {
            parts.sum += sum;
            parts.squares += sum * sum;
            parts.lack += self.lack(sum);
            parts.uneven += insides[g].0;
            parts.drop += insides[g].1;
            parts.drop_squares += insides[g].1.powi(2);
        }
        let mut energy = self.energy(&parts);
        let mut best = Best { items: groups.items.clone(), weakest: 0, score: f64::INFINITY };
        self.keep_if_better(groups, energy, &mut best);
        let w = &self.task.weights;
        let hot =
            HOT + if weighs_more { HOT_PER_RESISTANCE * w.resistance + HOT_PER_DROP * w.self_discharge } else { 0.0 };
        let mut heat = hot;
        for step in 0..moves {
            if step % REPORT_EVERY == 0 && !self.watch.progress.step((self.before + step) as f64 / self.watch.total) {
                return Err(Refusal::Ended);
            }
            if step % COOL_EVERY == 0 {
                heat = hot * (COLD / hot).powf(step as f64 / moves as f64);
            }
            let Some(swap) = self.propose(groups) else { continue };
            let (a, b) = (swap.a, swap.b);
            let mut next = parts;
            let change = swap.charge_to_a;
            let others = [(a, change), (b.unwrap_or(a), if b.is_some() { -change } else { 0 })];
            for &(g, by) in others.iter().take(if b.is_some() { 2 } else { 1 }) {
                let (old, new) = (groups.sums[g], groups.sums[g] + by);
                next.sum += by;
                next.squares += new * new - old * old;
                next.lack += self.lack(new) - self.lack(old);
            }
            if !weighs_more {
                let now = self.energy(&next);
                if self.accepts(now - energy, heat) {
                    swap.apply(groups);
                    (parts, energy) = (next, now);
                    self.keep_if_better(groups, energy, &mut best);
                }
                continue;
            }
            swap.apply(groups);
            let fresh_a = measured(pool, &groups.items[a]);
            let fresh_b = b.map(|b| measured(pool, &groups.items[b]));
            for (g, fresh) in [(a, Some(fresh_a)), (b.unwrap_or(a), fresh_b)] {
                let Some(fresh) = fresh else { continue };
                next.uneven += fresh.0 - insides[g].0;
                next.drop += fresh.1 - insides[g].1;
                next.drop_squares += fresh.1.powi(2) - insides[g].1.powi(2);
            }
            let now = self.energy(&next);
            if self.accepts(now - energy, heat) {
                insides[a] = fresh_a;
                if let (Some(b), Some(fresh)) = (b, fresh_b) {
                    insides[b] = fresh;
                }
                (parts, energy) = (next, now);
                self.keep_if_better(groups, energy, &mut best);
            } else {
                swap.back(groups).apply(groups);
            }
        }
        Ok(best)
    }

    fn accepts(&mut self, rise: f64, heat: f64) -> bool {
        rise <= 0.0 || rise < NEVER * heat && self.rng.f64() < (-rise / heat).exp()
    }

    /// Remembers an assignment that serves the goal better than any before.
    fn keep_if_better(&self, groups: &Groups, energy: f64, best: &mut Best) {
        let weakest = groups.sums.iter().copied().min().unwrap_or(0);
        let score = match self.goal {
            Goal::Weakest { .. } => -(weakest as f64),
            Goal::Even { floor } if weakest < floor => return,
            // The energy follows the score closely enough to spare reckoning it for what is clearly worse.
            Goal::Even { .. } if energy > best.score * 1.5 => return,
            Goal::Even { .. } if self.pool.weighs_more => terms(self.pool, &groups.items).weighted(&self.task.weights),
            Goal::Even { .. } => {
                let high = groups.sums.iter().copied().max().unwrap_or(0);
                let mean = groups.sums.iter().sum::<i64>() as f64 / groups.sums.len() as f64;
                self.task.weights.capacity * (high - weakest) as f64 / mean
            }
        };
        if score < best.score {
            best.score = score;
            best.weakest = weakest;
            best.items.clone_from(&groups.items);
        }
    }

    fn propose(&mut self, groups: &Groups) -> Option<Swap> {
        let a = self.rng.usize(..groups.items.len());
        let with_spare = !groups.spare.is_empty() && (groups.items.len() == 1 || self.rng.f64() < SPARE_CHANCE);
        let b = if with_spare {
            None
        } else if groups.items.len() > 1 {
            let other = self.rng.usize(..groups.items.len() - 1);
            Some(if other >= a { other + 1 } else { other })
        } else {
            return None;
        };
        let side = |b: Option<usize>| b.map_or(&groups.spare, |b| &groups.items[b]);
        let from_a = self.rng.usize(..groups.items[a].len());
        let from_b = self.rng.usize(..side(b).len());
        let size = |i: usize| self.pool.items[i].size();
        let wanted = size(groups.items[a][from_a]).max(size(side(b)[from_b]));
        let out = self.gather(&groups.items[a], from_a, wanted)?;
        let into = self.gather(side(b), from_b, wanted)?;
        let charge = |at: &[usize], from: &[usize]| at.iter().map(|&p| self.pool.items[from[p]].charge).sum::<i64>();
        let charge_to_a = charge(&into, side(b)) - charge(&out, &groups.items[a]);
        Some(Swap { a, b, out, into, charge_to_a })
    }

    /// Places of items in a list that make up so many cells, the first of them given; none of them locked.
    fn gather(&mut self, list: &[usize], first: usize, wanted: usize) -> Option<Places> {
        let item = &self.pool.items[list[first]];
        if item.locked.is_some() {
            return None;
        }
        let mut places: Places = smallvec::smallvec![first];
        let mut missing = wanted - item.size();
        if missing == 0 {
            return Some(places);
        }
        let turn = self.rng.usize(..list.len());
        for k in 0..list.len() {
            let at = (k + turn) % list.len();
            let item = &self.pool.items[list[at]];
            if at != first && item.locked.is_none() && item.size() <= missing {
                places.push(at);
                missing -= item.size();
                if missing == 0 {
                    return Some(places);
                }
            }
        }
        None
    }
}

fn measured(pool: &Pool, group: &[usize]) -> (f64, f64) {
    let (uneven, drop_v) = inside(pool, group);
    (uneven, drop_v.unwrap_or(0.0))
}
