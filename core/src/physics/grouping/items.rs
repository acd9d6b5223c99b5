//! Cells as the search moves them: singles, and bundles that stay together.

use std::collections::HashMap;

use super::{ALIKE_SHARE, Refusal, Task};

/// Charge as whole tenths of a milliampere-hour, so that sums are exact whatever the order of the moves.
pub(super) const UNITS_PER_AH: f64 = 10_000.0;

/// One or more cells that move together.
#[derive(Debug, Clone)]
pub(super) struct Item {
    /// Candidates by index.
    pub cells: Vec<usize>,
    /// Sum of their capacities in units.
    pub charge: i64,
    /// Group it may not leave.
    pub locked: Option<usize>,
}

impl Item {
    pub fn size(&self) -> usize {
        self.cells.len()
    }
}

/// What was read on some cells beside their capacity, so gathered that a group is summed up item by item.
#[derive(Debug, Clone, Copy)]
pub(super) struct Reads {
    pub low_ohm: f64,
    pub high_ohm: f64,
    pub sum_ohm: f64,
    pub ohms: f64,
    pub sum_drop_v: f64,
    pub drops: f64,
}

impl Reads {
    /// Of no cell.
    pub const NONE: Reads =
        Reads { low_ohm: f64::INFINITY, high_ohm: 0.0, sum_ohm: 0.0, ohms: 0.0, sum_drop_v: 0.0, drops: 0.0 };

    fn of(c: &super::Candidate) -> Reads {
        let mut found = Reads::NONE;
        if let Some(ohm) = c.resistance_ohm {
            found = Reads { low_ohm: ohm, high_ohm: ohm, sum_ohm: ohm, ohms: 1.0, ..found };
        }
        if let Some(v) = c.drop_v {
            found = Reads { sum_drop_v: v, drops: 1.0, ..found };
        }
        found
    }

    /// Of these cells and those together.
    pub fn and(self, other: &Reads) -> Reads {
        Reads {
            low_ohm: self.low_ohm.min(other.low_ohm),
            high_ohm: self.high_ohm.max(other.high_ohm),
            sum_ohm: self.sum_ohm + other.sum_ohm,
            ohms: self.ohms + other.ohms,
            sum_drop_v: self.sum_drop_v + other.sum_drop_v,
            drops: self.drops + other.drops,
        }
    }
}

/// What the search works on.
#[derive(Debug)]
pub(super) struct Pool {
    pub series: usize,
    pub parallel: usize,
    pub items: Vec<Item>,
    /// What was read on the cells of each item.
    pub reads: Vec<Reads>,
    /// Whether any weight but the capacity's has something to weigh.
    pub weighs_more: bool,
}

impl Pool {
    /// Cells wanted.
    pub fn wanted(&self) -> usize {
        self.series * self.parallel
    }

    /// Cells there are.
    pub fn there(&self) -> usize {
        self.items.iter().map(Item::size).sum()
    }

    /// Least charge of a weakest group that counts as much as this one: where only capacities are read, nothing less does.
    pub fn alike(&self, weakest: i64) -> i64 {
        let share = if self.weighs_more { ALIKE_SHARE } else { 0.0 };
        (weakest as f64 * (1.0 - share)).ceil() as i64
    }
}

/// The task without cells that lack a weighted reading, as long as enough others have it: what is not known cannot be
/// weighed. Locked cells stay.
pub(super) fn without_unread(task: &Task) -> Task {
    let mut narrowed = task.clone();
    type Known = fn(&super::Candidate) -> bool;
    let readings: [(f64, Known, &str); 2] = [
        (
            task.weights.resistance,
            |c| c.resistance_ohm.is_some(),
            "its resistance was not read, or not as the others were, and enough others have it",
        ),
        (
            task.weights.self_discharge,
            |c| c.drop_v.is_some(),
            "its self-discharge was not read, or not as the others were, and enough others have it",
        ),
    ];
    for (weight, known, why) in readings {
        let free = |c: &super::Candidate| c.excluded.is_none() && c.capacity_ah.is_some_and(|ah| ah > 0.0);
        let read = narrowed.candidates.iter().filter(|c| free(c) && (known(c) || c.locked.is_some())).count();
        if weight > 0.0 && read >= task.series * task.parallel {
            for c in narrowed.candidates.iter_mut().filter(|c| free(c) && !known(c) && c.locked.is_none()) {
                c.excluded = Some(why.to_owned());
            }
        }
    }
    narrowed
}

/// Gathers the cells that may be chosen into items; refuses what can never be placed.
pub(super) fn gather(task: &Task) -> Result<Pool, Refusal> {
    let bundles = bundles(task);
    let mut items = vec![];
    for cells in bundles {
        // A bundle is whole or left out: one partner that may not be chosen keeps the others out too.
        let whole = cells.iter().all(|&i| {
            let c = &task.candidates[i];
            c.excluded.is_none() && c.capacity_ah.is_some_and(|ah| ah > 0.0)
        });
        let locks: Vec<usize> = cells.iter().filter_map(|&i| task.candidates[i].locked).collect();
        let label = |i: usize| task.candidates[i].label.as_str();
        if !whole {
            if let Some(&i) = cells.iter().find(|&&i| task.candidates[i].locked.is_some()) {
                let told =
                    format!("{} is locked to a group but it, or a cell it is kept with, may not be chosen", label(i));
                return Err(Refusal::CannotPlace(told));
            }
            continue;
        }
        if let Some(&g) = locks.iter().find(|&&g| g >= task.series) {
            let told = format!("{} is locked to group {}; there are {}", label(cells[0]), g + 1, task.series);
            return Err(Refusal::CannotPlace(told));
        }
        if locks.windows(2).any(|w| w[0] != w[1]) {
            let told = format!("{} and the cells kept with it are locked to different groups", label(cells[0]));
            return Err(Refusal::CannotPlace(told));
        }
        if cells.len() > task.parallel {
            if locks.is_empty() {
                continue;
            }
            let told =
                format!("{} cells are kept with {}; a group has {}", cells.len(), label(cells[0]), task.parallel);
            return Err(Refusal::CannotPlace(told));
        }
        let charge = cells.iter().map(|&i| charge_of(task, i)).sum();
        items.push(Item { cells, charge, locked: locks.first().copied() });
    }
    let mut locked = vec![0; task.series];
    for item in &items {
        if let Some(g) = item.locked {
            locked[g] += item.size();
        }
    }
    if let Some(g) = locked.iter().position(|&n| n > task.parallel) {
        let told = format!("{} cells are locked to group {}; it has room for {}", locked[g], g + 1, task.parallel);
        return Err(Refusal::CannotPlace(told));
    }
    let there: usize = items.iter().map(Item::size).sum();
    let wanted = task.series * task.parallel;
    if there < wanted {
        let unmeasured = task.candidates.iter().filter(|c| c.excluded.is_none() && c.capacity_ah.is_none()).count();
        let hint = match unmeasured {
            0 => String::new(),
            n => format!("; {n} more have no capacity yet"),
        };
        return Err(Refusal::TooFew { wanted, there, hint });
    }
    let w = &task.weights;
    let has = |known: fn(&super::Candidate) -> bool| task.candidates.iter().filter(|c| known(c)).count() > 1;
    let weighs_more = (w.resistance > 0.0 && has(|c| c.resistance_ohm.is_some()))
        || (w.self_discharge > 0.0 && has(|c| c.drop_v.is_some()));
    Ok(Pool {
        series: task.series,
        parallel: task.parallel,
        reads: items
            .iter()
            .map(|item: &Item| item.cells.iter().fold(Reads::NONE, |all, &c| all.and(&Reads::of(&task.candidates[c]))))
            .collect(),
        items,
        weighs_more,
    })
}

fn charge_of(task: &Task, i: usize) -> i64 {
    (task.candidates[i].capacity_ah.unwrap_or(0.0) * UNITS_PER_AH).round() as i64
}

/// Cells that name each other, or the same mark, joined; everybody else alone. In the order of the candidates.
fn bundles(task: &Task) -> Vec<Vec<usize>> {
    let key = |text: &str| text.trim().to_lowercase();
    let mut leader: Vec<usize> = (0..task.candidates.len()).collect();
    fn lead(leader: &mut [usize], mut i: usize) -> usize {
        while leader[i] != i {
            leader[i] = leader[leader[i]];
            i = leader[i];
        }
        i
    }
    let mut marks: HashMap<String, usize> =
        task.candidates.iter().enumerate().map(|(i, c)| (key(&c.label), i)).collect();
    for (i, c) in task.candidates.iter().enumerate() {
        let Some(mark) = c.keep_with.as_deref().map(key).filter(|m| !m.is_empty()) else { continue };
        let partner = *marks.entry(mark).or_insert(i);
        let (a, b) = (lead(&mut leader, i), lead(&mut leader, partner));
        leader[a.max(b)] = a.min(b);
    }
    let mut found: Vec<Vec<usize>> = vec![vec![]; leader.len()];
    for i in 0..leader.len() {
        let a = lead(&mut leader, i);
        found[a].push(i);
    }
    found.retain(|b| !b.is_empty());
    found
}
