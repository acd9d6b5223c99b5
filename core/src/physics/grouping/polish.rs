//! What the annealing leaves is polished: exchanges with the extremes, then three groups dealt again.

use super::Task;
use super::exact::walk;
use super::exchange::{Groups, Places, Swap};
use super::items::{Item, Pool};
use super::score::{self, Assignment};

/// The best assignment met.
pub(super) struct Best {
    /// Items of each group.
    pub items: Assignment,
    /// Charge of its weakest group, in units.
    pub weakest: i64,
    /// What was made small.
    pub score: f64,
}

/// Most rounds of the descent.
const ROUNDS: usize = 200;

/// Exchanges single items with the largest and smallest group while the score falls.
pub(super) fn descend(pool: &Pool, task: &Task, floor: i64, best: &mut Best, narrowed: &[usize]) {
    let mut groups = Groups::of(pool, &best.items, narrowed);
    let score = |groups: &Groups| score::score(pool, &groups.items, &task.weights, floor);
    let mut now = score(&groups);
    for _ in 0..ROUNDS {
        let extreme = |most: bool| {
            let by = |&g: &usize| if most { groups.sums[g] } else { -groups.sums[g] };
            (0..groups.sums.len()).max_by_key(by).unwrap_or(0)
        };
        let mut found = None;
        for a in [extreme(true), extreme(false)] {
            let others = (0..groups.items.len()).filter(|&g| g != a).map(Some).chain([None]);
            for b in others {
                found = improving(pool, &mut groups, a, b, now, &score);
                if found.is_some() {
                    break;
                }
            }
            if found.is_some() {
                break;
            }
        }
        match found {
            Some(better) => now = better,
            None => break,
        }
    }
    if now < best.score {
        best.score = now;
        best.weakest = groups.sums.iter().copied().min().unwrap_or(0);
        best.items = groups.items;
    }
}

/// Does the first exchange between a group and another (or the cells left out) that lowers the score.
fn improving(
    pool: &Pool,
    groups: &mut Groups,
    a: usize,
    b: Option<usize>,
    now: f64,
    score: &impl Fn(&Groups) -> f64,
) -> Option<f64> {
    let there = b.map_or(groups.spare.len(), |b| groups.items[b].len());
    for x in 0..groups.items[a].len() {
        for y in 0..there {
            let (i, j) = (groups.items[a][x], b.map_or(&groups.spare, |b| &groups.items[b])[y]);
            let (one, other) = (&pool.items[i], &pool.items[j]);
            if one.size() != other.size() || one.locked.is_some() || other.locked.is_some() {
                continue;
            }
            let charge_to_a = other.charge - one.charge;
            let swap = Swap { a, b, out: Places::from_slice(&[x]), into: Places::from_slice(&[y]), charge_to_a };
            swap.apply(groups);
            let then = score(groups);
            if then < now {
                return Some(then);
            }
            swap.back(groups).apply(groups);
        }
    }
    None
}

/// Most rounds of dealing three groups again, and most ways of doing so that are tried one by one (three groups of four).
const DEALS: usize = 60;
const MOST_OF_A_GROUP: usize = 4;

/// Deals the largest, the smallest and a third group again in every way, while that makes the weakest stronger or lowers the spread.
///
/// Three groups of four can be dealt in 5775 ways: far finer than exchanges, which are left with nothing that helps
/// where groups are small. Only for capacity: the other terms have no such gap.
pub(super) fn deal_three_anew(pool: &Pool, task: &Task, best: &mut Best) {
    if pool.weighs_more || pool.series < 3 || pool.parallel > MOST_OF_A_GROUP {
        return;
    }
    let charge = |group: &[usize]| group.iter().map(|&i| pool.items[i].charge).sum::<i64>();
    for _ in 0..DEALS {
        let sums: Vec<i64> = best.items.iter().map(|g| charge(g)).collect();
        let by_sum = |&g: &usize| sums[g];
        let (Some(high), Some(low)) = ((0..sums.len()).max_by_key(by_sum), (0..sums.len()).min_by_key(by_sum)) else {
            return;
        };
        let mut now = (-sums[low], sums[high] - sums[low], sums.iter().map(|s| s * s).sum::<i64>());
        let mut found: Option<([usize; 3], Assignment)> = None;
        for third in (0..sums.len()).filter(|&g| g != high && g != low) {
            let dealt = [high, low, third];
            let rest = || sums.iter().enumerate().filter(|(g, _)| !dealt.contains(g)).map(|(_, &s)| s);
            let (rest_low, rest_high) = (rest().min().unwrap_or(i64::MAX), rest().max().unwrap_or(0));
            let rest_squares: i64 = rest().map(|s| s * s).sum();
            let there: Vec<usize> = dealt.iter().flat_map(|&g| best.items[g].iter().copied()).collect();
            let items: Vec<Item> = there
                .iter()
                .map(|&i| Item {
                    locked: pool.items[i].locked.and_then(|l| dealt.iter().position(|&g| g == l)),
                    ..pool.items[i].clone()
                })
                .collect();
            walk(&items, 3, pool.parallel, &mut |groups, new| {
                let least = new.iter().copied().min().unwrap_or(0).min(rest_low);
                let spread = new.iter().copied().max().unwrap_or(0).max(rest_high) - least;
                let then = (-least, spread, rest_squares + new.iter().map(|s| s * s).sum::<i64>());
                if then < now {
                    now = then;
                    let named = |g: &Vec<usize>| g.iter().map(|&k| there[k]).collect();
                    found = Some((dealt, groups.iter().map(named).collect()));
                }
            });
        }
        let Some((dealt, groups)) = found else { break };
        for (g, items) in dealt.into_iter().zip(groups) {
            best.items[g] = items;
        }
    }
    best.weakest = best.items.iter().map(|g| charge(g)).min().unwrap_or(0);
    best.score = score::score(pool, &best.items, &task.weights, best.weakest);
}
