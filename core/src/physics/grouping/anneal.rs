//! Larger tasks: simulated annealing by exchanges (Kirkpatrick, Gelatt and Vecchi 1983), then a descent.

use fastrand::Rng;

use super::exchange::{Groups, Places, Swap, unfilled};
use super::items::Pool;
use super::polish::{Best, deal_three_anew, descend};
use super::score::{Assignment, inside, score, strength};
use super::{Effort, Refusal, Task};
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
/// Share of the moves that goes into finding how strong the weakest group can be, where more than that is weighed.
const FIRST_SHARE: f64 = 0.3;
/// How many times as long a move takes where more than the capacity is weighed: so many fewer are tried.
const WEIGHING_COSTS: u64 = 2;
/// Chance that an exchange is with a cell left out.
const SPARE_CHANCE: f64 = 0.3;

/// Searches an assignment. A thorough search begins with the quick one and goes on from what it found: it is never worse.
pub(super) fn solve(pool: &Pool, task: &Task, progress: &dyn Progress) -> Result<Assignment, Refusal> {
    let narrowed = narrowed(pool);
    let mut search =
        Search { pool, task, narrowed: &narrowed, target: target(pool, &narrowed), rng: Rng::with_seed(task.seed) };
    let efforts: &[Effort] =
        if task.effort == Effort::Thorough { &[Effort::Quick, Effort::Thorough] } else { &[Effort::Quick] };
    let moves = |effort: &Effort| effort.moves() / if pool.weighs_more { WEIGHING_COSTS } else { 1 };
    let mut watch = Watch { progress, total: efforts.iter().map(moves).sum::<u64>() as f64, before: 0 };
    let mut groups = Groups::dealt(pool, &narrowed)?;
    let mut best: Option<Best> = None;
    for effort in efforts {
        let first = if pool.weighs_more { (moves(effort) as f64 * FIRST_SHARE) as u64 } else { 0 };
        let mut floor = best.as_ref().map_or(0, |b| b.weakest);
        if pool.weighs_more {
            let mut strongest = search.strongest(&mut groups, &mut watch, first)?;
            floor = pool.alike(strongest.weakest).max(floor);
            strongest.score = score(pool, &strongest.items, &task.weights, floor);
            // What the quick search found may be weaker than what is known to be possible by now.
            if best.as_ref().is_none_or(|b| b.weakest < floor) {
                best = Some(strongest);
            }
        }
        let restarts = effort.restarts(pool.weighs_more);
        let each = (moves(effort) - first) / restarts;
        for _ in 0..restarts {
            let mut found = if pool.weighs_more {
                search.even(&mut groups, &mut watch, each, floor)?
            } else {
                search.strongest(&mut groups, &mut watch, each)?
            };
            descend(pool, task, floor, &mut found, &narrowed);
            deal_three_anew(pool, task, &mut found);
            if best.as_ref().is_none_or(|b| found.score < b.score) {
                best = Some(found);
            }
        }
    }
    best.map(|best| best.items).ok_or_else(|| unfilled(pool))
}

impl Effort {
    /// How often a search begins again from where it is.
    fn restarts(self, weighs_more: bool) -> u64 {
        match self {
            _ if weighs_more => 6,
            Effort::Quick => 2,
            Effort::Thorough => 4,
        }
    }
}

/// What every stretch of a search has in common.
struct Search<'a> {
    pool: &'a Pool,
    task: &'a Task,
    narrowed: &'a [usize],
    target: f64,
    rng: Rng,
}

impl Search<'_> {
    /// The weakest group as strong as can be, then the least spread.
    fn strongest(&mut self, groups: &mut Groups, watch: &mut Watch<'_>, moves: u64) -> Result<Best, Refusal> {
        let goal = Goal::Weakest { target: self.target };
        let mut run = Run { pool: self.pool, task: self.task, rng: &mut self.rng, goal, watch };
        let mut found = run.anneal(groups, moves)?;
        *groups = Groups::of(self.pool, &found.items, self.narrowed);
        found.weakest = groups.sums.iter().copied().min().unwrap_or(0);
        Ok(found)
    }

    /// The least weighted unevenness with the weakest group not below the floor.
    fn even(&mut self, groups: &mut Groups, watch: &mut Watch<'_>, moves: u64, floor: i64) -> Result<Best, Refusal> {
        let mut run = Run { pool: self.pool, task: self.task, rng: &mut self.rng, goal: Goal::Even { floor }, watch };
        run.anneal(groups, moves)
    }
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
/// The weakest group is as strong as can be, so cells far down the order cannot stand in any answer.
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
    /// Moves of the stretches before.
    before: u64,
}

#[derive(Clone, Copy)]
enum Goal {
    /// The weakest group as strong as can be.
    Weakest { target: f64 },
    /// Least weighted unevenness, the weakest group not below the floor.
    Even { floor: i64 },
}

struct Run<'a, 'w> {
    pool: &'a Pool,
    task: &'a Task,
    rng: &'a mut Rng,
    goal: Goal,
    watch: &'a mut Watch<'w>,
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

impl Run<'_, '_> {
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
            if step % REPORT_EVERY == 0
                && !self.watch.progress.step((self.watch.before + step) as f64 / self.watch.total)
            {
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
        self.watch.before += moves;
        Ok(best)
    }

    fn accepts(&mut self, rise: f64, heat: f64) -> bool {
        rise <= 0.0 || rise < NEVER * heat && self.rng.f64() < (-rise / heat).exp()
    }

    /// Remembers an assignment that serves the goal better than any before.
    fn keep_if_better(&self, groups: &Groups, energy: f64, best: &mut Best) {
        let weakest = groups.sums.iter().copied().min().unwrap_or(0);
        match self.goal {
            // The score is not reckoned for what cannot be better.
            Goal::Weakest { .. } if weakest < best.weakest => return,
            Goal::Weakest { .. } => {}
            Goal::Even { floor } if weakest < floor => return,
            // The energy follows the score closely enough to spare reckoning it for what is clearly worse.
            Goal::Even { .. } if energy > best.score * 1.5 => return,
            Goal::Even { .. } => {}
        }
        let score = match self.goal {
            Goal::Weakest { .. } => {
                let high = groups.sums.iter().copied().max().unwrap_or(0);
                strength(weakest, high)
            }
            Goal::Even { floor } => score(self.pool, &groups.items, &self.task.weights, floor),
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
