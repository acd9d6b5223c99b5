//! Groups as they are dealt and exchanged: an assignment with its sums kept up to date.

use std::collections::HashSet;

use super::Refusal;
use super::items::Pool;
use super::score::Assignment;

/// An assignment with its sums kept up to date.
pub(super) struct Groups {
    /// Items of each group.
    pub items: Assignment,
    /// Items left out.
    pub spare: Vec<usize>,
    /// Charge of each group, in units.
    pub sums: Vec<i64>,
}

impl Groups {
    /// An assignment; of the narrowed items those it does not use are left out.
    pub fn of(pool: &Pool, items: &Assignment, narrowed: &[usize]) -> Groups {
        let used: HashSet<usize> = items.iter().flatten().copied().collect();
        Groups {
            items: items.clone(),
            spare: narrowed.iter().copied().filter(|i| !used.contains(i)).collect(),
            sums: items.iter().map(|g| g.iter().map(|&i| pool.items[i].charge).sum()).collect(),
        }
    }

    /// A first assignment: bundles before singles, each to the emptiest group with room; a few orders are tried.
    pub fn dealt(pool: &Pool, narrowed: &[usize]) -> Result<Groups, Refusal> {
        let by_size = |all: &[usize]| {
            let mut order = all.to_vec();
            order.sort_by_key(|&i| std::cmp::Reverse(pool.items[i].size()));
            order
        };
        let everything: Vec<usize> = (0..pool.items.len()).collect();
        let best: Vec<usize> = {
            let mut cells = 0;
            let wanted = pool.wanted();
            narrowed
                .iter()
                .copied()
                .take_while(|&i| {
                    let take = cells < wanted;
                    cells += pool.items[i].size();
                    take
                })
                .collect()
        };
        let mut best_first = by_size(&best);
        best_first.extend(narrowed.iter().copied().filter(|i| !best.contains(i)));
        let mut singles_last = by_size(narrowed);
        singles_last.extend(everything.iter().copied().filter(|i| !narrowed.contains(i)));
        for order in [best_first, singles_last, by_size(&everything)] {
            let mut items: Assignment = vec![vec![]; pool.series];
            let mut room = vec![pool.parallel; pool.series];
            let mut sums = vec![0i64; pool.series];
            let mut put = |i: usize, g: usize, room: &mut [usize]| {
                items[g].push(i);
                room[g] -= pool.items[i].size();
                sums[g] += pool.items[i].charge;
            };
            for &i in &everything {
                if let Some(g) = pool.items[i].locked {
                    put(i, g, &mut room);
                }
            }
            for &i in order.iter().filter(|&&i| pool.items[i].locked.is_none()) {
                let fits = (0..pool.series).filter(|&g| room[g] >= pool.items[i].size());
                if let Some(g) = fits.max_by_key(|&g| (room[g], std::cmp::Reverse(g))) {
                    put(i, g, &mut room);
                }
            }
            if room.iter().all(|&r| r == 0) {
                return Ok(Groups::of(pool, &items, narrowed));
            }
        }
        Err(unfilled(pool))
    }
}

/// Why groups stay open although there are cells enough.
pub(super) fn unfilled(pool: &Pool) -> Refusal {
    let told = format!(
        "the cells that are kept together do not fill groups of {}: take some apart, or add single cells",
        pool.parallel
    );
    Refusal::CannotPlace(told)
}

/// A few places; nearly always one.
pub(super) type Places = smallvec::SmallVec<[usize; 2]>;

/// Items of a group against as many cells of another group, or of those left out.
pub(super) struct Swap {
    /// The group.
    pub a: usize,
    /// The other group; those left out if none.
    pub b: Option<usize>,
    /// Places in the group.
    pub out: Places,
    /// Places in the other.
    pub into: Places,
    /// Charge that the group gains, in units.
    pub charge_to_a: i64,
}

impl Swap {
    /// Does it.
    pub fn apply(&self, groups: &mut Groups) {
        if self.out.len() == 1 && self.into.len() == 1 {
            // In place, so that it is its own way back.
            let (x, y) = (groups.items[self.a][self.out[0]], self.side(groups)[self.into[0]]);
            groups.items[self.a][self.out[0]] = y;
            self.side(groups)[self.into[0]] = x;
        } else {
            let leaving = take(&mut groups.items[self.a], &self.out);
            let coming = take(self.side(groups), &self.into);
            groups.items[self.a].extend(coming);
            self.side(groups).extend(leaving);
        }
        groups.sums[self.a] += self.charge_to_a;
        if let Some(b) = self.b {
            groups.sums[b] -= self.charge_to_a;
        }
    }

    fn side<'g>(&self, groups: &'g mut Groups) -> &'g mut Vec<usize> {
        match self.b {
            Some(b) => &mut groups.items[b],
            None => &mut groups.spare,
        }
    }

    /// The exchange that undoes this one, once it is done.
    pub fn back(&self, groups: &mut Groups) -> Swap {
        let charge_to_a = -self.charge_to_a;
        if self.out.len() == 1 && self.into.len() == 1 {
            return Swap { a: self.a, b: self.b, out: self.out.clone(), into: self.into.clone(), charge_to_a };
        }
        let last = |len: usize, n: usize| (len - n..len).collect::<Places>();
        let out = last(groups.items[self.a].len(), self.into.len());
        let into = last(self.side(groups).len(), self.out.len());
        Swap { a: self.a, b: self.b, out, into, charge_to_a }
    }
}

/// Takes the items at some places out of a list.
fn take(list: &mut Vec<usize>, places: &Places) -> Vec<usize> {
    let mut order = places.clone();
    order.sort_unstable();
    order.iter().rev().map(|&at| list.swap_remove(at)).collect()
}

#[cfg(test)]
mod tests {
    use fastrand::Rng;

    use super::super::items::{Item, Reads};
    use super::*;

    /// Items of these sizes; the charge of each is its place in the list, so that sums tell them apart.
    fn pool(series: usize, parallel: usize, sizes: &[usize]) -> Pool {
        let mut cell = 0;
        let items = sizes
            .iter()
            .enumerate()
            .map(|(i, &size)| {
                let cells = (cell..cell + size).collect();
                cell += size;
                Item { cells, charge: 1 << i, locked: None }
            })
            .collect();
        Pool { series, parallel, items, reads: vec![Reads::NONE; sizes.len()], weighs_more: false }
    }

    fn everything(groups: &Groups) -> Vec<usize> {
        let mut all: Vec<usize> = groups.items.iter().flatten().chain(&groups.spare).copied().collect();
        all.sort_unstable();
        all
    }

    /// Each group's items as a set, with its sum.
    fn state(groups: &Groups) -> Vec<(Vec<usize>, i64)> {
        let sorted = |items: &[usize]| {
            let mut items = items.to_vec();
            items.sort_unstable();
            items
        };
        groups.items.iter().map(|g| sorted(g)).zip(groups.sums.iter().copied()).collect()
    }

    #[test]
    fn an_exchange_and_its_way_back_leave_everything_as_it_was() {
        let pool = pool(3, 4, &[2, 2, 1, 1, 1, 1, 2, 1, 1, 1, 1, 2, 1, 1]);
        let narrowed: Vec<usize> = (0..pool.items.len()).collect();
        let mut groups = Groups::dealt(&pool, &narrowed).unwrap();
        let whole = everything(&groups);
        assert_eq!(whole, narrowed, "every item is dealt or left out, once");
        let size = |i: usize| pool.items[i].size();
        let mut rng = Rng::with_seed(7);
        let mut done = 0;
        for _ in 0..3000 {
            let a = rng.usize(..3);
            let b = Some(rng.usize(..4)).filter(|&b| b < 3 && b != a);
            let side: Vec<usize> = b.map_or(groups.spare.clone(), |b| groups.items[b].clone());
            if side.is_empty() {
                continue;
            }
            // One item against one of the same size, or a pair against two singles.
            let out: Places = smallvec::smallvec![rng.usize(..groups.items[a].len())];
            let wanted = size(groups.items[a][out[0]]);
            let mut into = Places::new();
            let mut missing = wanted;
            for (at, &item) in side.iter().enumerate() {
                if size(item) <= missing {
                    into.push(at);
                    missing -= size(item);
                }
                if missing == 0 {
                    break;
                }
            }
            if missing > 0 {
                continue;
            }
            let charge = |items: &[usize], at: &Places| at.iter().map(|&p| pool.items[items[p]].charge).sum::<i64>();
            let charge_to_a = charge(&side, &into) - charge(&groups.items[a], &out);
            let swap = Swap { a, b, out, into, charge_to_a };
            let before = state(&groups);
            swap.apply(&mut groups);
            let after = state(&groups);
            assert_ne!(after, before);
            for (items, sum) in &after {
                assert_eq!(items.iter().map(|&i| pool.items[i].charge).sum::<i64>(), *sum);
                assert_eq!(items.iter().map(|&i| size(i)).sum::<usize>(), 4);
            }
            assert_eq!(everything(&groups), whole);
            if rng.bool() {
                swap.back(&mut groups).apply(&mut groups);
                assert_eq!(state(&groups), before);
            }
            done += 1;
        }
        assert!(done > 1000, "only {done} exchanges");
    }

    #[test]
    fn a_first_deal_fills_every_group_whatever_the_bundles() {
        for sizes in [&[1; 12][..], &[2; 6], &[3, 3, 3, 1, 1, 1], &[4, 4, 2, 2, 1, 1, 1], &[2, 1, 2, 1, 2, 1, 2, 1]] {
            let pool = pool(3, 4, sizes);
            let narrowed: Vec<usize> = (0..sizes.len()).collect();
            let groups = Groups::dealt(&pool, &narrowed).unwrap_or_else(|e| panic!("{sizes:?}: {e}"));
            for group in &groups.items {
                assert_eq!(group.iter().map(|&i| sizes[i]).sum::<usize>(), 4, "{sizes:?}");
            }
        }
        let threes = pool(3, 4, &[3; 5]);
        assert!(Groups::dealt(&threes, &[0, 1, 2, 3, 4]).is_err(), "threes do not fill fours");
    }
}
