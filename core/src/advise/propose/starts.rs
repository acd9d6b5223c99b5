//! Where the completion of a way starts: with the cells or the ready pack chosen, and how many in parallel.

use crate::advise::suggest::{Suggestion, layouts, suggest};
use crate::assess::{Finding, Severity, assess_at_face_value, rule};
use crate::base::chemistry::Chemistry;
use crate::base::phrase::Phrase;
use crate::base::progress::Unwatched;
use crate::parts::catalogue::{Catalogue, Item, ItemPart};
use crate::physics::grouping::{Task, group};
use crate::physics::voltage::FeedPath;
use crate::plan::{
    CellGroup, CellHolder, CellSize, Change, Choice, ChosenCell, EachCell, Joining, Plan, ReadyKind, Strip, apply,
};

use super::ways::Way;
use super::{StockLot, Wishes};

/// Most starts of one way with bought cells, and with bought packs.
const MOST_CELLS: usize = 4;
const MOST_PACKS: usize = 2;

/// So many times the fewest in parallel are too many. Chosen, no source.
const MANY: f64 = 3.0;

/// Wall between two holders. Common practice, no source.
const HOLDER_GAP_MM: f64 = 3.0;

/// Where a plan has its count in parallel.
const PARALLEL_AT: &str = "/packs/0/parallel";

/// A plan whose cells are chosen, and how it came to be.
#[derive(Debug, Clone)]
pub struct Start {
    /// The way it goes.
    pub way: Way,
    /// The plan so far.
    pub plan: Plan,
    /// Why it cannot be completed, if that shows already.
    pub no_room: Option<Phrase>,
}

/// The starts of a way: own tested cells, bought cells that are the best in something, ready packs.
pub fn starts(survey: &Plan, way: &Way, catalogue: &Catalogue, stock: &[StockLot], wishes: &Wishes) -> Vec<Start> {
    let Ok(plan) = apply(survey, &way.changes) else { return vec![] };
    let start = |plan: Plan| {
        let (plan, no_room) = laid_out(plan);
        Start { way: way.clone(), plan, no_room }
    };
    if made_of(&plan).is_some() {
        return vec![start(plan)];
    }
    let of_this = fitting(catalogue, way.chemistry, way.series);
    let mut found = vec![];
    let held = plan.feed.holder.is_some();
    if !matches!(way.path, Some(FeedPath::OutsidePack | FeedPath::ToolPack)) && !wishes.no_welding && !held {
        found.extend(own_cells(&plan, way, stock).into_iter().map(start));
        found.extend(bought_cells(&plan, &of_this).into_iter().map(start));
    }
    if !held {
        found.extend(ready_packs(&plan, way, &of_this).into_iter().map(start));
    }
    found.extend(holders(&plan, way, &of_this, stock).into_iter().map(|plan| {
        let fewest = plan.feed.holder.as_ref().map_or(1, |holder| holder.fewest);
        let least = if fewest > 1 { format!(", at least {fewest} of them") } else { String::new() };
        Start { way: Way { name: format!("{}, cells in holders{least}", way.name), ..way.clone() }, ..start(plan) }
    }));
    found
}

/// Cells that are put in and taken out, side by side in holders: own tested ones, and the first of those to be bought. Only for one in series: a
/// cell of a row that is exchanged alone is never as full as the others.
fn holders(plan: &Plan, way: &Way, of_this: &Catalogue, stock: &[StockLot]) -> Vec<Plan> {
    let inside = !matches!(way.path, Some(FeedPath::OutsidePack | FeedPath::ToolPack));
    let changes = [
        Change::put("/packs/0/strip", Choice::<Strip>::None),
        Change::put("/packs/0/brick/joined_by", Joining::Springs),
        Change::put("/packs/0/brick/clearances/gap_mm", HOLDER_GAP_MM),
        Change::put("/charging/taken_out", true),
    ];
    let Some(mut loose) = apply(plan, &changes).ok().filter(|_| way.series == 1 && inside) else { return vec![] };
    // Which cells do is asked first, then how few of them.
    let asked = loose.feed.holder.take();
    // Holders take round cells, one size each.
    let round = |plan: &Plan| {
        let cell = plan.packs.first().and_then(|pack| pack.cell.part());
        cell.is_some_and(|cell| matches!(cell.size, CellSize::Cylindrical { .. }))
    };
    own_cells(&loose, way, stock)
        .into_iter()
        .filter(round)
        .chain(bought_cells(&loose, of_this).into_iter().find(round))
        .filter_map(|plan| with_holders(&plan, asked.as_ref()))
        .collect()
}

/// A holder for each cell, an ideal diode before each where there are several, and the fewest cells that carry the load: as few as are asked for,
/// if they do.
fn with_holders(plan: &Plan, asked: Option<&CellHolder>) -> Option<Plan> {
    let slots = plan.packs.first()?.parallel?;
    let asked = asked.cloned().unwrap_or(CellHolder::with_at_least(1));
    let each = asked.each.or((slots > 1).then_some(EachCell::IdealDiode));
    let with = |fewest: u32| {
        let outside = asked.charged_in_place.or(Some(false));
        let holder = CellHolder { fewest, each, charged_in_place: outside, ..asked.clone() };
        apply(plan, &[Change::put("/feed/holder", holder)]).ok()
    };
    let carry = |plan: &Plan| {
        let few = |f: &Finding| f.severity == Severity::Stop && f.rule == rule::cells::HOLDER_FEW;
        assess_at_face_value(plan).is_ok_and(|a| !a.findings.iter().any(few))
    };
    (asked.fewest.min(slots)..=slots).filter_map(with).find(carry)
}

/// The cell or the ready pack that a plan is made of.
pub fn made_of(plan: &Plan) -> Option<&str> {
    let pack = plan.packs.first()?;
    let offer = pack.cell.part().map(|c| &c.offer).or_else(|| pack.ready.part().map(|r| &r.offer))?;
    Some(&offer.name)
}

/// Parts that can belong to a pack of that chemistry and count: trying a board for another count tells nothing.
pub fn fitting(catalogue: &Catalogue, chemistry: Chemistry, series: u32) -> Catalogue {
    let full_v = chemistry.facts().full_v * f64::from(series);
    let near = |v: f64| (v / full_v - 1.0).abs() < 0.03;
    let fits = |item: &&Item| match &item.part {
        ItemPart::Cell { cell } => cell.chemistry == chemistry,
        ItemPart::Pack { pack } => pack.chemistry == chemistry && pack.series == series,
        ItemPart::Module { module } => {
            let guards = module.protects.as_ref().is_none_or(|p| {
                p.series == Some(series) && p.chemistry.is_none_or(|c| c.facts().full_v == chemistry.facts().full_v)
            });
            let charges = module.charges.as_ref().is_none_or(|c| near(c.output_v.value));
            let cuts = module.cuts_off.as_ref().is_none_or(|c| c.at_v < full_v && c.at_v > 0.55 * full_v);
            guards && charges && cuts
        }
        ItemPart::Fuse { fuse } => fuse.dc_v.is_none_or(|v| v >= full_v),
        ItemPart::Connector { connector } => connector.dc_v.is_none_or(|v| v >= full_v),
        ItemPart::Switch { switch } => switch.dc_v.is_none_or(|v| v >= full_v),
        ItemPart::Strip { .. } | ItemPart::Wire { .. } => true,
    };
    Catalogue { items: catalogue.items.iter().filter(fits).cloned().collect() }
}

/// Cells of the catalogue: of those that bring no stop, the lightest that run as long as is wanted, the longest-lived, the fewest, and the first
/// of the list, which is the cheapest and soonest.
fn bought_cells(plan: &Plan, of_this: &Catalogue) -> Vec<Plan> {
    struct Weighed {
        plan: Plan,
        run_s: f64,
        mass_g: f64,
        count: f64,
    }
    let wanted_s = plan.device.wanted_run_s.unwrap_or(0.0);
    let weigh = |s: Suggestion| {
        let plan = apply(plan, &s.changes).ok()?;
        let assessment = assess_at_face_value(&plan).ok()?;
        let value = |id: &str| assessment.figure(id).map(|f| f.value);
        let count = f64::from(plan.packs.first()?.parallel.unwrap_or(1));
        let run_s = value("run.time_s").unwrap_or(0.0);
        Some(Weighed { plan, run_s, mass_g: value("pack.mass_g").unwrap_or(f64::MAX), count })
    };
    let found = suggest(plan, of_this, "cell").unwrap_or_default();
    let mut weighed: Vec<Weighed> =
        found.into_iter().filter(|s| s.worst != Some(Severity::Stop)).filter_map(weigh).collect();
    // Nobody welds twenty small cells where five do.
    let fewest = weighed.iter().map(|w| w.count).fold(f64::MAX, f64::min);
    weighed.retain(|w| w.count <= (MANY * fewest).max(4.0));
    // Nine tenths of the wanted run count as that run.
    let enough = |w: &Weighed| w.run_s >= 0.9 * wanted_s;
    let least = |of: &dyn Fn(&Weighed) -> f64| {
        let key = |i: &usize| (!enough(&weighed[*i]), of(&weighed[*i]));
        (0..weighed.len()).min_by(|a, b| key(a).0.cmp(&key(b).0).then(key(a).1.total_cmp(&key(b).1)))
    };
    let mut picks: Vec<usize> = (0..weighed.len().min(1)).collect();
    picks.extend(least(&|w| w.mass_g));
    picks.extend(least(&|w| w.count * 1e6 + w.mass_g));
    picks.extend(least(&|w| -w.run_s / w.mass_g));
    picks.sort_unstable();
    picks.dedup();
    picks.truncate(MOST_CELLS);
    picks.into_iter().map(|i| weighed[i].plan.clone()).collect()
}

/// Own tested cells, grouped as they stand: as many in parallel as are proposed, as there are, or as the compartment holds.
fn own_cells(plan: &Plan, way: &Way, stock: &[StockLot]) -> Vec<Plan> {
    let of_lot = |lot: &StockLot| {
        let with_cell = apply(plan, &[Change::put("/packs/0/cell", Choice::chosen(&lot.cell))]).ok()?;
        let assessment = assess_at_face_value(&with_cell).ok()?;
        let free = lot.cells.iter().filter(|(_, c)| c.excluded.is_none() && c.capacity_ah.is_some()).count();
        let most = free / way.series as usize;
        let wanted = assessment.figure("cells.proposed").map_or(most, |f| f.value as usize);
        let all = grouped(&with_cell, way, lot, wanted.clamp(1, 40).min(most))?;
        match fewer_that_fit(&all) {
            Some(fewer) => grouped(&with_cell, way, lot, fewer),
            None => Some(all),
        }
    };
    stock.iter().filter(|lot| lot.cell.chemistry == way.chemistry).filter_map(of_lot).collect()
}

/// The plan with the cells of a lot in its groups, so many in parallel.
fn grouped(with_cell: &Plan, way: &Way, lot: &StockLot, parallel: usize) -> Option<Plan> {
    if parallel == 0 {
        return None;
    }
    let candidates = lot.cells.iter().map(|(_, c)| c.clone()).collect();
    let task = Task { chemistry: way.chemistry, ..Task::usual(candidates, way.series as usize, parallel) };
    let found = group(&task, &Unwatched).ok()?;
    let id_of = |label: &str| lot.cells.iter().find(|(_, c)| c.label == label).and_then(|(id, _)| id.clone());
    let groups: Vec<CellGroup> = found
        .groups
        .into_iter()
        .map(|g| CellGroup {
            cells: g
                .cells
                .into_iter()
                .map(|c| ChosenCell {
                    stock_id: id_of(&c.label),
                    label: c.label,
                    lot: c.lot,
                    capacity_ah: Some(c.capacity_ah),
                    resistance_ohm: c.resistance_ohm,
                    rested_v: c.rested_v,
                })
                .collect(),
        })
        .collect();
    let changes = [Change::put(PARALLEL_AT, parallel), Change::put("/packs/0/groups", groups)];
    apply(with_cell, &changes).ok()
}

/// As many in parallel as the compartment holds, where it does not hold those of the plan.
fn fewer_that_fit(plan: &Plan) -> Option<usize> {
    let found = layouts::offers(plan).ok()?;
    if found.options.iter().any(|o| o.arrangement.fits) {
        return None;
    }
    let mut changes = found.ways_out.iter().flat_map(|w| &w.changes);
    changes.find(|c| c.at == PARALLEL_AT).and_then(|c| c.value.as_u64()).map(|n| n as usize)
}

/// Packs that are taken as a whole: outside of the kind that the way asks for, inside a replacement battery.
fn ready_packs(plan: &Plan, way: &Way, of_this: &Catalogue) -> Vec<Plan> {
    let kind = match way.path {
        Some(FeedPath::OutsidePack) => ReadyKind::Hobby,
        Some(FeedPath::ToolPack | FeedPath::Switched) => ReadyKind::Tool,
        None => return vec![],
        Some(_) => ReadyKind::Replacement,
    };
    let switched = way.path == Some(FeedPath::Switched);
    let is_kind = |id: &str| {
        of_this.items.iter().any(|i| i.id == id && matches!(&i.part, ItemPart::Pack { pack } if pack.kind == kind))
    };
    let found = suggest(plan, of_this, "ready").unwrap_or_default();
    let mut weighed: Vec<(f64, Plan)> = found
        .into_iter()
        .filter(|s| s.worst != Some(Severity::Stop) && is_kind(&s.catalogue_id))
        .filter_map(|s| {
            let plan =
                apply(plan, &s.changes).ok().and_then(|plan| if switched { twice(&plan) } else { Some(plan) })?;
            let run_s = assess_at_face_value(&plan).ok()?.figure("run.time_s").map_or(0.0, |f| f.value);
            Some((run_s, plan))
        })
        .collect();
    let wanted_s = plan.device.wanted_run_s.unwrap_or(0.0);
    // The smallest that runs long enough, then the next.
    weighed.sort_by(|a, b| (a.0 < 0.9 * wanted_s).cmp(&(b.0 < 0.9 * wanted_s)).then(a.0.total_cmp(&b.0)));
    weighed.into_iter().take(MOST_PACKS).map(|(_, plan)| plan).collect()
}

/// A second pack like the first, with what the first has inside.
fn twice(plan: &Plan) -> Option<Plan> {
    let ready = plan.packs.first()?.ready.part()?;
    let guarded = ready.guarded.filter(|guarded| *guarded);
    let changes =
        [Change::put("/feed/second/ready", Choice::chosen(ready)), Change::put("/feed/second/each_guarded", guarded)];
    apply(plan, &changes).ok()
}

/// The plan with its cells laid out in the compartment, with fewer in parallel where they would not fit; and why it cannot be, if it cannot.
fn laid_out(mut plan: Plan) -> (Plan, Option<Phrase>) {
    let mut why = None;
    for _ in 0..3 {
        let Ok(found) = layouts::offers(&plan) else { return (plan, None) };
        if let Some(fits) = found.options.iter().find(|o| o.arrangement.fits && !o.changes.is_empty()) {
            return match apply(&plan, &fits.changes) {
                Ok(laid) => (laid, None),
                Err(_) => (plan, None),
            };
        }
        // Fewer in parallel, as the ways out propose; own cells were grouped for a count that fits if any does.
        let fewer = found.ways_out.iter().find(|w| w.changes.iter().any(|c| c.at == PARALLEL_AT));
        why = why.or_else(|| found.ways_out.first().map(|w| Phrase::words(format!("What would help: {}.", w.name))));
        let grouped = plan.packs.first().is_some_and(|p| !p.groups.is_empty());
        match fewer.filter(|_| !grouped).and_then(|w| apply(&plan, &w.changes).ok()) {
            Some(smaller) => plan = smaller,
            None => {
                return (
                    plan,
                    Some(why.unwrap_or_else(|| Phrase::words("They fit the compartment in no arrangement."))),
                );
            }
        }
    }
    (plan, why)
}
