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
