//! What a grouping comes to: groups, what limits the pack, what it gains, and how to join it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::equalise::{Equalising, JoiningCell, join};
use super::items::Pool;
use super::picking::{Pick, natural, picking_list};
use super::score::{Assignment, as_ah, inside, spread, terms};
use super::{Candidate, Task, deal};
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;

/// Charge current of a cell that states none, over its capacity. Common practice, no source.
pub const GENTLE_C: f64 = 0.5;

/// A chosen cell.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Member {
    /// Label.
    pub label: String,
    /// Lot.
    pub lot: Option<String>,
    /// Measured capacity.
    pub capacity_ah: f64,
    /// Measured resistance.
    pub resistance_ohm: Option<f64>,
    /// Voltage at rest.
    pub rested_v: Option<f64>,
    /// Voltage lost over the rest.
    pub drop_v: Option<f64>,
    /// Whether it was locked to this group.
    pub locked: bool,
}

/// One group.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Group {
    /// Its cells, in the order of their labels.
    pub cells: Vec<Member>,
    /// Sum of the capacities.
    pub capacity_ah: f64,
    /// How much more than the weakest group it holds.
    pub over_weakest_ah: f64,
    /// Cells in parallel: 1 / sum(1 / R); absent where one is not measured.
    pub resistance_ohm: Option<f64>,
    /// Mean voltage lost over the rest.
    pub drop_v: Option<f64>,
    /// What flows when it is joined, where the voltage of all are known.
    pub joining: Option<Equalising>,
}

/// One term of the unevenness.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Term {
    /// What it is about.
    pub name: &'static str,
    /// Its value.
    pub value: f64,
    /// Unit of the value.
    pub unit: Unit,
    /// Its weight.
    pub weight_share: f64,
    /// Value times weight.
    pub counts_share: f64,
}

/// What dealing the cells blindly would give.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DealOdds {
    /// Median weakest group of 200 random deals.
    pub weakest_ah: f64,
    /// Median spread of them.
    pub spread_ah: f64,
    /// How much more the grouping's weakest group holds.
    pub gain_share: f64,
}

/// A cell that was not chosen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LeftOut {
    /// Label.
    pub label: String,
    /// Why.
    pub why: String,
}

/// A whole grouping.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Grouping {
    /// Groups from pack minus to pack plus.
    pub groups: Vec<Group>,
    /// Capacity of the weakest group: the pack's.
    pub weakest_ah: f64,
    /// Largest less smallest group.
    pub spread_ah: f64,
    /// The same over the mean group.
    pub spread_share: f64,
    /// Share of the cells' charge that the weakest group keeps from being used.
    pub unused_share: f64,
    /// What limits the pack, in words.
    pub limits: Phrase,
    /// Terms of the unevenness, by their weights.
    pub terms: Vec<Term>,
    /// Their weighted sum: what was made small.
    pub unevenness_share: f64,
    /// Against a random deal.
    pub deal: DealOdds,
    /// Cells to bring to the voltage of the others before their group is joined.
    pub bring_first: Vec<String>,
    /// Cells not chosen, with why.
    pub left_out: Vec<LeftOut>,
    /// Through the box once, label by label.
    pub picking: Vec<Pick>,
}

/// Works an assignment out.
pub(super) fn report(task: &Task, pool: &Pool, assignment: &Assignment) -> Grouping {
    let mut groups: Vec<Group> = assignment.iter().map(|g| group(task, pool, g)).collect();
    if task.candidates.iter().all(|c| c.locked.is_none()) {
        // Which is which is free: told in the order of their first labels.
        groups.sort_by(|a, b| natural(first(a), first(b)));
    }
    let found = terms(pool, assignment);
    let capacities: Vec<f64> = groups.iter().map(|g| g.capacity_ah).collect();
    let total_ah: f64 = capacities.iter().sum();
    let weakest_ah = as_ah(found.weakest);
    let spread_ah = spread(&capacities);
    for g in &mut groups {
        g.over_weakest_ah = g.capacity_ah - weakest_ah;
    }
    let (deal_weakest, deal_spread) = deal::random(pool, task.seed);
    let deal_weakest_ah = as_ah(deal_weakest);
    let w = &task.weights;
    let term = |name, value, unit, weight_share: f64, share: f64| Term {
        name,
        value,
        unit,
        weight_share,
        counts_share: weight_share * share,
    };
    let terms = vec![
        term("capacity between groups", found.capacity_share, Unit::Share, w.capacity, found.capacity_share),
        term("resistance inside groups", found.resistance_share, Unit::Share, w.resistance, found.resistance_share),
        term("self-discharge between groups", found.drop_v, Unit::V, w.self_discharge, found.drop_v),
    ];
    Grouping {
        weakest_ah,
        spread_ah,
        spread_share: found.capacity_share,
        unused_share: 1.0 - weakest_ah * task.series as f64 / total_ah,
        limits: limits(&groups, weakest_ah, spread_ah),
        unevenness_share: found.weighted(w),
        terms,
        deal: DealOdds {
            weakest_ah: deal_weakest_ah,
            spread_ah: as_ah(deal_spread),
            gain_share: weakest_ah / deal_weakest_ah - 1.0,
        },
        bring_first: groups.iter().filter_map(|g| g.joining.as_ref()).flat_map(|j| j.bring_first.clone()).collect(),
        left_out: left_out(task, pool, assignment),
        picking: picking_list(&groups),
        groups,
    }
}

fn first(group: &Group) -> &str {
    group.cells.first().map_or("", |m| m.label.as_str())
}

fn group(task: &Task, pool: &Pool, items: &[usize]) -> Group {
    let mut chosen: Vec<&Candidate> =
        items.iter().flat_map(|&i| &pool.items[i].cells).map(|&c| &task.candidates[c]).collect();
    chosen.sort_by(|a, b| natural(&a.label, &b.label));
    let capacity_ah = as_ah(items.iter().map(|&i| pool.items[i].charge).sum());
    let conductance: Option<f64> = chosen.iter().map(|c| c.resistance_ohm.map(|ohm| 1.0 / ohm)).sum();
    let joining_cells: Option<Vec<JoiningCell>> = chosen
        .iter()
        .map(|c| {
            let ah = c.capacity_ah.unwrap_or(0.0);
            Some(JoiningCell {
                label: c.label.clone(),
                rested_v: c.rested_v?,
                resistance_ohm: c.resistance_ohm.unwrap_or(task.chemistry.facts().typical_ohm_ah / ah),
                charge_a: task.charge_a.unwrap_or(GENTLE_C * ah),
            })
        })
        .collect();
    Group {
        capacity_ah,
        over_weakest_ah: 0.0,
        resistance_ohm: conductance.map(|g| 1.0 / g),
        drop_v: inside(pool, items).1,
        joining: joining_cells.and_then(|cells| join(&cells, task.chemistry)),
        cells: chosen
            .into_iter()
            .map(|c| Member {
                label: c.label.clone(),
                lot: c.lot.clone(),
                capacity_ah: c.capacity_ah.unwrap_or(0.0),
                resistance_ohm: c.resistance_ohm,
                rested_v: c.rested_v,
                drop_v: c.drop_v,
                locked: c.locked.is_some(),
            })
            .collect(),
    }
}

fn limits(groups: &[Group], weakest_ah: f64, spread_ah: f64) -> Phrase {
    let weakest = groups.iter().position(|g| g.capacity_ah <= weakest_ah).map_or(1, |g| g + 1);
    if groups.len() == 1 {
        return Phrase::words("One group: it holds ").value(weakest_ah, Unit::Ah).text(".");
    }
    Phrase::words(format!("Group {weakest} ends the run with "))
        .value(weakest_ah, Unit::Ah)
        .text("; the fullest group then keeps ")
        .value(spread_ah, Unit::Ah)
        .text(" that is not used.")
}

fn left_out(task: &Task, pool: &Pool, assignment: &Assignment) -> Vec<LeftOut> {
    let mut chosen = vec![false; task.candidates.len()];
    for &i in assignment.iter().flatten() {
        for &c in &pool.items[i].cells {
            chosen[c] = true;
        }
    }
    let mut free = vec![false; task.candidates.len()];
    for c in pool.items.iter().flat_map(|i| &i.cells) {
        free[*c] = true;
    }
    let why = |i: usize, c: &Candidate| match (&c.excluded, c.capacity_ah) {
        (Some(why), _) => why.clone(),
        (None, None) => "no capacity measured".to_owned(),
        _ if free[i] => "not needed: others fit better".to_owned(),
        _ => "kept with a cell that may not be chosen, or with more than a group holds".to_owned(),
    };
    let rest = task.candidates.iter().enumerate().filter(|(i, _)| !chosen[*i]);
    rest.map(|(i, c)| LeftOut { label: c.label.clone(), why: why(i, c) }).collect()
}
