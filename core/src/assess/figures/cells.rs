//! Capacity, resistance, limits, mass and cost of the pack, and how many cells in parallel are needed.

use super::curve::fitted;
use super::device::{ORIGINAL_WH, WANTED_S};
use super::figures;
use super::groups::{WEAKEST_AH, counts_agree};
use super::load::{CONTINUOUS_A, MEAN_A, PEAK_A, PEAK_S};
use super::voltage::{LINE_NOMINAL_V, NOMINAL_V, series_input};
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::cells::{self, Claim};
use crate::plan::{Cell, CellGroup, Position, SecondPack};

figures! {
    PACK_AH = "pack.ah", "Capacity", Ah, "parallel × capacity of a cell, rated or logged; the weakest group where the chosen cells were tested", Arithmetic;
    PACK_WH = "pack.wh", "Energy", Wh, "capacity × nominal voltage", Arithmetic;
    PACK_G = "pack.mass_g", "Mass of the cells", G, "series × parallel × mass of a cell; of a ready pack its own", Arithmetic;
    PACK_COST = "pack.cost", "Price of the cells", Money, "series × parallel × price of a cell; of a ready pack its own", Arithmetic;
    CELL_RATED = "cell.rated_ah", "Capacity on the label of a cell", Ah, "as stated", PartSheet;
    CELL_BELIEVED = "cell.believed_ah", "Most to believe at this size and chemistry", Ah, "table of sizes and chemistries, as of 2026", CommonPractice;
    CELL_DENSITY = "cell.wh_per_l", "Energy in a litre of cell", WhPerL, "capacity × nominal voltage / volume", Arithmetic;
    PACK_OHM = "pack.ohm", "Resistance of the cells at 25 °C", Ohm, "as read on the chosen cells: Σ over groups of 1 / Σ (1 / resistance); else series / parallel × DCIR of a cell", CircuitLaw;
    COLD = "pack.cold_factor", "Resistance at the coldest use against 25 °C", Ratio, "doubles every 25 K below 25 °C", Assumed;
    PACK_COLD_OHM = "pack.cold_ohm", "Resistance of the cells at the coldest use", Ohm, "resistance at 25 °C × cold factor", CircuitLaw;
    LINE_OHM = "line.ohm", "Resistance of the cells on the line at 25 °C", Ohm, "that of the pack; of several packs the sum in series, side by side in parallel", CircuitLaw;
    LINE_COLD_OHM = "line.cold_ohm", "Resistance of the cells on the line at the coldest use", Ohm, "resistance at 25 °C × cold factor", CircuitLaw;
    LINE_AH = "line.ah", "Capacity on the line", Ah, "that of the pack; of several packs the smallest in series, the sum in parallel", CircuitLaw;
    LINE_WH = "line.wh", "Energy on the line", Wh, "capacity × nominal voltage on the line", Arithmetic;
    LIMIT_A = "cells.limit_a", "Continuous current of the cells", A, "parallel × continuous rating (half a hobby label); of packs in parallel all", PartSheet;
    PEAK_LIMIT_A = "cells.peak_limit_a", "Current the cells are rated for at the peak", A,
        "parallel × pulse rating, if its stated time is long enough; of packs in parallel all", PartSheet;
    CELL_CONTINUOUS_A = "cell.continuous_a", "Continuous current of one cell", A, "continuous current / parallel", CircuitLaw;
    NEEDED_FOR_RUN = "cells.for_run", "Parallel count for the wanted run time", Ratio,
        "mean current × run time / (usable share × capacity of a cell); once a run is calculated: parallel count × run time wanted / run time", CircuitLaw;
    NEEDED_FOR_CURRENT = "cells.for_current", "Parallel count for the current", Ratio,
        "larger of continuous current / rating and peak / pulse rating", PartSheet;
    PROPOSED = "cells.proposed", "Cells in parallel proposed", Count, "the larger need, rounded up", Arithmetic;
}

/// Share of the capacity used when the parallel count is proposed; the run stage computes the real one.
const USABLE_GUESS: f64 = 0.85;

/// Enters the figures of the cells, of the pack and of the line.
pub fn enter(workspace: &mut Workspace<'_>) {
    pack(workspace);
    line(workspace);
}

/// What the packs are together, in the position that is judged. The second is as the first where nothing else is stated.
fn line(workspace: &mut Workspace<'_>) {
    let position = workspace.position();
    let second = workspace.plan.feed.second.as_ref().filter(|_| position != Position::One);
    let l = &mut workspace.ledger;
    let (ohm, ah) = (l.value(&PACK_OHM), l.value(&PACK_AH));
    if let Some(ohm) = ohm {
        let (sum_ohm, mut inputs) = match second.map(|s| (s.pack_ohm.unwrap_or(ohm), s.alike())) {
            Some((other_ohm, alike)) if position == Position::Series => (ohm + alike * other_ohm, vec![fig(&PACK_OHM)]),
            Some((other_ohm, alike)) => (ohm * other_ohm / (alike * ohm + other_ohm), vec![fig(&PACK_OHM)]),
            None => (ohm, vec![fig(&PACK_OHM)]),
        };
        if let Some(stated) = second.and_then(|s| s.pack_ohm) {
            inputs.push(from_plan("/feed/second/pack_ohm", "Resistance of the second", stated, Unit::Ohm));
        }
        inputs.extend(second.and_then(how_many));
        l.put(&LINE_OHM, sum_ohm, inputs);
    }
    if let (Some(ohm), Some(factor)) = (l.value(&LINE_OHM), l.value(&COLD)) {
        l.put(&LINE_COLD_OHM, ohm * factor, vec![fig(&LINE_OHM), fig(&COLD)]);
    }
    if let Some(ah) = ah {
        let (line_ah, mut inputs) = match second.map(|s| (s.capacity_ah.unwrap_or(ah), s.alike())) {
            Some((other_ah, _)) if position == Position::Series => (ah.min(other_ah), vec![fig(&PACK_AH)]),
            Some((other_ah, alike)) => (ah + alike * other_ah, vec![fig(&PACK_AH)]),
            None => (ah, vec![fig(&PACK_AH)]),
        };
        if let Some(stated) = second.and_then(|s| s.capacity_ah) {
            inputs.push(from_plan("/feed/second/capacity_ah", "Capacity of the second", stated, Unit::Ah));
        }
        inputs.extend(second.and_then(how_many));
        l.put(&LINE_AH, line_ah, inputs);
        if let Some(nominal_v) = l.value(&LINE_NOMINAL_V) {
            l.put(&LINE_WH, line_ah * nominal_v, vec![fig(&LINE_AH), fig(&LINE_NOMINAL_V)]);
        }
    }
}

/// How many further packs there are, where there is more than one.
pub(super) fn how_many(second: &SecondPack) -> Option<Input> {
    let count = f64::from(second.count.filter(|count| *count > 1)?);
    Some(from_plan("/feed/second/count", "Packs like the second", count, Unit::Count))
}

fn pack(workspace: &mut Workspace<'_>) {
    cold(workspace);
    let Some(cell) = workspace.cell() else {
        typical_resistance(workspace);
        return;
    };
    // How many of a pack that comes as a whole is not asked.
    if workspace.ready().is_none() {
        proposal(workspace, cell);
    }
    workspace.ledger.put(&CELL_RATED, cell.rated_ah, vec![rated(workspace, cell)]);
    if let Claim::Doubtful { usual_ah: most_ah } | Claim::Impossible { most_ah } = cells::judge_claim(cell) {
        workspace.ledger.put(&CELL_BELIEVED, most_ah, vec![]);
    }
    let measured = workspace.ready().is_none_or(|ready| ready.size_mm().is_some());
    if let Some(nominal_v) = workspace.ledger.value(&super::voltage::CELL_NOMINAL_V).filter(|_| measured) {
        let density = cell.rated_ah * nominal_v / cells::volume_l(&cell.size);
        workspace.ledger.put(
            &CELL_DENSITY,
            density,
            vec![rated(workspace, cell), fig(&super::voltage::CELL_NOMINAL_V)],
        );
    }
    let Some((series, parallel)) = workspace.counts() else {
        typical_resistance(workspace);
        return;
    };
    let parallel_input = || from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
    let counts = || vec![series_input(series), parallel_input()];
    // What was read on these cells outranks what was logged of one like them, and that what is printed.
    let logged = fitted(workspace).map(|f| (f.capacity_ah, f.dcir_ohm));
    let cell_rated = rated(workspace, cell);
    let l = &mut workspace.ledger;
    let (ah, inputs) = match (l.value(&WEAKEST_AH), logged) {
        (Some(weakest_ah), _) => (weakest_ah, vec![fig(&WEAKEST_AH)]),
        (None, Some((cell_ah, _))) => {
            let logged = from_plan("/packs/0/fitted/capacity_ah", "Capacity of a cell, as logged", cell_ah, Unit::Ah);
            (parallel * cell_ah, vec![parallel_input(), logged])
        }
        (None, None) => (parallel * cell.rated_ah, vec![parallel_input(), cell_rated]),
    };
    l.put(&PACK_AH, ah, inputs);
    if let Some(nominal_v) = l.value(&NOMINAL_V) {
        l.put(&PACK_WH, ah * nominal_v, vec![fig(&PACK_AH), fig(&NOMINAL_V)]);
    }
    let whole = workspace.pack.ready.part().map(|ready| &ready.offer);
    let sold = whole.unwrap_or(&cell.offer);
    for (def, each, label, field) in
        [(&PACK_G, sold.mass_g, "Mass of one", "offer/mass_g"), (&PACK_COST, sold.price, "Price of one", "offer/price")]
    {
        if let Some(each) = each {
            let mut inputs = if whole.is_some() { vec![] } else { counts() };
            inputs.push(from_plan(format!("/packs/0/{}", workspace.pack.cell_at(field)), label, each, def.unit));
            l.put(def, if whole.is_some() { each } else { series * parallel * each }, inputs);
        }
    }
    if let Some((read_ohm, inputs)) = as_read(workspace) {
        workspace.ledger.put(&PACK_OHM, read_ohm, inputs);
        cold_resistance(workspace);
    } else if let Some((_, dcir_ohm)) = logged {
        let mut inputs = counts();
        inputs.push(from_plan("/packs/0/fitted/dcir_ohm", "DCIR of a cell, as logged", dcir_ohm, Unit::Ohm));
        workspace.ledger.put(&PACK_OHM, series / parallel * dcir_ohm, inputs);
        cold_resistance(workspace);
    } else if let Some(dcir) = &cell.dcir_ohm {
        let l = &mut workspace.ledger;
        let mut inputs = counts();
        let at = format!("/packs/0/{}", workspace.pack.cell_at("dcir_ohm/value"));
        inputs.push(from_plan(at, "DCIR of a cell", dcir.value, Unit::Ohm));
        let entry = l.put(&PACK_OHM, series / parallel * dcir.value, inputs);
        if let Some(error) = dcir.error {
            let scale = series / parallel;
            entry.band(scale * (dcir.value - error).max(0.0), scale * (dcir.value + error));
        }
        cold_resistance(workspace);
    } else {
        typical_resistance(workspace);
    }
    limits(workspace, cell, parallel);
}

/// Resistance of the chosen cells, once every one was read: groups in series, their cells side by side.
fn as_read(workspace: &Workspace<'_>) -> Option<(f64, Vec<Input>)> {
    let groups = &workspace.pack.groups;
    if groups.is_empty() || !counts_agree(workspace) {
        return None;
    }
    let siemens = |g: &CellGroup| -> Option<f64> {
        g.cells.iter().map(|c| c.resistance_ohm.filter(|r| *r > 0.0).map(|r| 1.0 / r)).sum()
    };
    let ohm: Vec<f64> = groups.iter().map(|g| siemens(g).map(|s| 1.0 / s)).collect::<Option<_>>()?;
    let input =
        |(g, ohm): (usize, &f64)| from_plan(format!("/packs/0/groups/{g}"), "Resistance of a group", *ohm, Unit::Ohm);
    Some((ohm.iter().sum(), ohm.iter().enumerate().map(input).collect()))
}

fn rated(workspace: &Workspace<'_>, cell: &Cell) -> Input {
    let at = format!("/packs/0/{}", workspace.pack.cell_at("rated_ah"));
    from_plan(at, "Capacity of a cell", cell.rated_ah, Unit::Ah)
}

fn cold(workspace: &mut Workspace<'_>) {
    let coldest_c = workspace.plan.environment.use_min_c;
    let inputs = vec![from_plan("/environment/use_min_c", "Coldest use", coldest_c, Unit::C)];
    workspace.ledger.put(&COLD, chemistry::cold_factor(coldest_c), inputs);
}

fn cold_resistance(workspace: &mut Workspace<'_>) {
    if let (Some(ohm), Some(factor)) = (workspace.ledger.value(&PACK_OHM), workspace.ledger.value(&COLD)) {
        workspace.ledger.put(&PACK_COLD_OHM, ohm * factor, vec![fig(&PACK_OHM), fig(&COLD)]);
    }
}

/// Without a measured DCIR: the chemistry's typical DCIR times capacity, over the capacity chosen or that of the old
/// battery's energy.
fn typical_resistance(workspace: &mut Workspace<'_>) {
    let (Some(facts), Some(series)) = (workspace.facts(), workspace.pack.series.map(f64::from)) else {
        return;
    };
    let typical = constant("Typical DCIR × capacity", facts.typical_ohm_ah, Unit::Ratio, Source::Assumed);
    let (ah, input) = match (workspace.ledger.value(&PACK_AH), workspace.ledger.value(&ORIGINAL_WH)) {
        (Some(ah), _) => (ah, fig(&PACK_AH)),
        (None, Some(wh)) => (wh / (series * facts.nominal_v), fig(&ORIGINAL_WH)),
        (None, None) => return,
    };
    let inputs = vec![series_input(series), typical, input];
    workspace.ledger.put(&PACK_OHM, series * facts.typical_ohm_ah / ah, inputs).assumed();
    cold_resistance(workspace);
}

fn limits(workspace: &mut Workspace<'_>, cell: &Cell, own_parallel: f64) {
    let parallel_input = || from_plan("/packs/0/parallel", "Parallel count", own_parallel, Unit::Count);
    // What flows on the line is shared by all packs that lie side by side; a smaller one carries its part only.
    let share = match (&workspace.plan.feed.second, workspace.position()) {
        (Some(second), Position::Parallel) => {
            let own_ah = own_parallel * cell.rated_ah;
            let other_ah = second.capacity_ah.unwrap_or(own_ah);
            1.0 + second.alike() * (other_ah / own_ah).min(1.0)
        }
        _ => 1.0,
    };
    let parallel = own_parallel * share;
    let l = &mut workspace.ledger;
    if let (Some(cell_a), Some(stated_a)) = (cells::counted_a(cell), cell.discharge_a) {
        let at = format!("/packs/0/{}", workspace.pack.cell_at("discharge_a"));
        let rating = from_plan(at, "Continuous rating of a cell", stated_a, Unit::A);
        l.put(&LIMIT_A, parallel * cell_a, vec![parallel_input(), rating]);
    }
    if let Some(peak_s) = l.value(&PEAK_S)
        && let Some(cell_a) = cells::counted_peak_a(cell, peak_s)
    {
        l.put(&PEAK_LIMIT_A, parallel * cell_a, vec![parallel_input(), fig(&PEAK_S)]);
    }
    if let Some(continuous_a) = l.value(&CONTINUOUS_A) {
        l.put(&CELL_CONTINUOUS_A, continuous_a / parallel, vec![fig(&CONTINUOUS_A), parallel_input()]);
    }
}

fn proposal(workspace: &mut Workspace<'_>, cell: &Cell) {
    // At nominal volts, not at the lowest: a constant power draws most of a nearly empty pack, for a short while.
    let cell_rated = rated(workspace, cell);
    let nominal_v = workspace.ledger.value(&LINE_NOMINAL_V);
    let at_nominal_a = nominal_v.and_then(|v| super::run::mean_current_a(workspace, v));
    let l = &mut workspace.ledger;
    let mean_a = at_nominal_a.filter(|a| *a > 0.0).or(l.value(&MEAN_A));
    let run = l.value(&WANTED_S).zip(mean_a).map(|(wanted_s, mean_a)| {
        const SECONDS_PER_HOUR: f64 = 3600.0;
        mean_a * wanted_s / SECONDS_PER_HOUR / (USABLE_GUESS * cell.rated_ah)
    });
    if let Some(strings) = run {
        let share = constant("Usable share, first guess", USABLE_GUESS, Unit::Share, Source::Assumed);
        l.put(&NEEDED_FOR_RUN, strings, vec![fig(&MEAN_A), fig(&WANTED_S), share, cell_rated]);
    }
    let continuous = l.value(&CONTINUOUS_A).zip(cells::counted_a(cell)).map(|(a, one_a)| a / one_a);
    let peak =
        l.value(&PEAK_A).zip(l.value(&PEAK_S)).and_then(|(a, s)| cells::counted_peak_a(cell, s).map(|one_a| a / one_a));
    let current = match (continuous, peak) {
        (Some(a), Some(b)) => Some(a.max(b)),
        (a, b) => a.or(b),
    };
    if let Some(strings) = current {
        let mut inputs = vec![fig(&CONTINUOUS_A)];
        if peak.is_some() {
            inputs.push(fig(&PEAK_A));
        }
        l.put(&NEEDED_FOR_CURRENT, strings, inputs);
    }
    if let Some((count, _)) = cells::parallel_count(run, current) {
        let mut inputs = vec![];
        if run.is_some() {
            inputs.push(fig(&NEEDED_FOR_RUN));
        }
        if current.is_some() {
            inputs.push(fig(&NEEDED_FOR_CURRENT));
        }
        l.put(&PROPOSED, f64::from(count), inputs);
    }
}

/// Why the proposed count in parallel is what it is; `None` while none can be proposed.
pub fn parallel_why(workspace: &Workspace<'_>) -> Option<&'static str> {
    let l = &workspace.ledger;
    Some(cells::parallel_count(l.value(&NEEDED_FOR_RUN), l.value(&NEEDED_FOR_CURRENT))?.1.why())
}
