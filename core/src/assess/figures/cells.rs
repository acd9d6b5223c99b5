//! Capacity, resistance, limits, mass and cost of the pack, and how many cells in parallel are needed.

use super::device::{ORIGINAL_WH, WANTED_S};
use super::figures;
use super::groups::WEAKEST_AH;
use super::load::{CONTINUOUS_A, MEAN_A, PEAK_A, PEAK_S};
use super::voltage::{NOMINAL_V, series_input};
use crate::assess::bench::Bench;
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::cells::{self, Claim};
use crate::chemistry;
use crate::plan::Cell;
use crate::quantity::Unit;
use crate::source::Source;

figures! {
    PACK_AH = "pack.ah", "Capacity", Ah, "parallel × capacity of a cell; the weakest group where the chosen cells were tested", Arithmetic;
    PACK_WH = "pack.wh", "Energy", Wh, "capacity × nominal volts", Arithmetic;
    PACK_G = "pack.mass_g", "Mass of the cells", G, "series × parallel × mass of a cell", Arithmetic;
    PACK_COST = "pack.cost", "Price of the cells", Money, "series × parallel × price of a cell", Arithmetic;
    CELL_RATED = "cell.rated_ah", "Capacity on the label of a cell", Ah, "as stated", PartSheet;
    CELL_BELIEVED = "cell.believed_ah", "Most to believe at this size and chemistry", Ah, "table of sizes and chemistries, as of 2026", CommonPractice;
    CELL_DENSITY = "cell.wh_per_l", "Energy in a litre of cell", WhPerL, "capacity × nominal volts / volume", Arithmetic;
    PACK_OHM = "pack.ohm", "Resistance of the cells at 25 °C", Ohm, "series / parallel × DCIR of a cell", CircuitLaw;
    COLD = "pack.cold_factor", "Resistance at the coldest use against 25 °C", Ratio, "doubles every 25 K below 25 °C", Assumed;
    PACK_COLD_OHM = "pack.cold_ohm", "Resistance of the cells at the coldest use", Ohm, "resistance at 25 °C × cold factor", CircuitLaw;
    LIMIT_A = "cells.limit_a", "Continuous current of the cells", A, "parallel × continuous rating (half a hobby label)", PartSheet;
    PEAK_LIMIT_A = "cells.peak_limit_a", "Current the cells bear for the peak", A,
        "parallel × pulse rating, if its stated time is long enough", PartSheet;
    CELL_CONTINUOUS_A = "cell.continuous_a", "Continuous current of one cell", A, "continuous current / parallel", CircuitLaw;
    NEEDED_FOR_RUN = "cells.for_run", "Strings for the run time wanted", Ratio,
        "mean current × run time / (usable share × capacity of a cell)", CircuitLaw;
    NEEDED_FOR_CURRENT = "cells.for_current", "Strings for the current", Ratio,
        "larger of continuous current / rating and peak / pulse rating", PartSheet;
    PROPOSED = "cells.proposed", "Cells in parallel proposed", Count, "the larger need, rounded up", Arithmetic;
}

/// Share of the capacity counted on when the parallel count is proposed; the run stage computes the real one.
const USABLE_GUESS: f64 = 0.85;

/// Enters the figures of the cells.
pub fn enter(bench: &mut Bench<'_>) {
    cold(bench);
    let Some(cell) = bench.cell() else {
        typical_resistance(bench);
        return;
    };
    proposal(bench, cell);
    bench.ledger.put(&CELL_RATED, cell.rated_ah, vec![rated(cell)]);
    if let Claim::Doubtful { usual_ah: most_ah } | Claim::Impossible { most_ah } = cells::judge_claim(cell) {
        bench.ledger.put(&CELL_BELIEVED, most_ah, vec![]);
    }
    if let Some(nominal_v) = bench.ledger.value(&super::voltage::CELL_NOMINAL_V) {
        let density = cell.rated_ah * nominal_v / cells::volume_l(&cell.size);
        bench.ledger.put(&CELL_DENSITY, density, vec![rated(cell), fig(&super::voltage::CELL_NOMINAL_V)]);
    }
    let Some((series, parallel)) = bench.counts() else {
        typical_resistance(bench);
        return;
    };
    let parallel_input = || from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
    let counts = || vec![series_input(series), parallel_input()];
    let l = &mut bench.ledger;
    let (ah, inputs) = match l.value(&WEAKEST_AH) {
        Some(weakest_ah) => (weakest_ah, vec![fig(&WEAKEST_AH)]),
        None => (parallel * cell.rated_ah, vec![parallel_input(), rated(cell)]),
    };
    l.put(&PACK_AH, ah, inputs);
    if let Some(nominal_v) = l.value(&NOMINAL_V) {
        l.put(&PACK_WH, ah * nominal_v, vec![fig(&PACK_AH), fig(&NOMINAL_V)]);
    }
    for (def, each, label, field) in [
        (&PACK_G, cell.offer.mass_g, "Mass of a cell", "mass_g"),
        (&PACK_COST, cell.offer.price, "Price of a cell", "price"),
    ] {
        if let Some(each) = each {
            let mut inputs = counts();
            inputs.push(from_plan(format!("/packs/0/cell/part/offer/{field}"), label, each, def.unit));
            l.put(def, series * parallel * each, inputs);
        }
    }
    if let Some(dcir) = &cell.dcir_ohm {
        let mut inputs = counts();
        inputs.push(from_plan("/packs/0/cell/part/dcir_ohm/value", "DCIR of a cell", dcir.value, Unit::Ohm));
        let entry = l.put(&PACK_OHM, series / parallel * dcir.value, inputs);
        if let Some(error) = dcir.error {
            let scale = series / parallel;
            entry.band(scale * (dcir.value - error).max(0.0), scale * (dcir.value + error));
        }
        cold_resistance(bench);
    } else {
        typical_resistance(bench);
    }
    limits(bench, cell, parallel);
}

fn rated(cell: &Cell) -> Input {
    from_plan("/packs/0/cell/part/rated_ah", "Capacity of a cell", cell.rated_ah, Unit::Ah)
}

fn cold(bench: &mut Bench<'_>) {
    let coldest_c = bench.plan.environment.use_min_c;
    let inputs = vec![from_plan("/environment/use_min_c", "Coldest use", coldest_c, Unit::C)];
    bench.ledger.put(&COLD, chemistry::cold_factor(coldest_c), inputs);
}

fn cold_resistance(bench: &mut Bench<'_>) {
    if let (Some(ohm), Some(factor)) = (bench.ledger.value(&PACK_OHM), bench.ledger.value(&COLD)) {
        bench.ledger.put(&PACK_COLD_OHM, ohm * factor, vec![fig(&PACK_OHM), fig(&COLD)]);
    }
}

/// Without a measured DCIR: the chemistry's typical DCIR times capacity, over the capacity chosen or that of the old
/// battery's energy.
fn typical_resistance(bench: &mut Bench<'_>) {
    let (Some(facts), Some(series)) = (bench.facts(), bench.pack.series.map(f64::from)) else {
        return;
    };
    let typical = constant("Typical DCIR × capacity", facts.typical_ohm_ah, Unit::Ratio, Source::Assumed);
    let (ah, input) = match (bench.ledger.value(&PACK_AH), bench.ledger.value(&ORIGINAL_WH)) {
        (Some(ah), _) => (ah, fig(&PACK_AH)),
        (None, Some(wh)) => (wh / (series * facts.nominal_v), fig(&ORIGINAL_WH)),
        (None, None) => return,
    };
    let inputs = vec![series_input(series), typical, input];
    bench.ledger.put(&PACK_OHM, series * facts.typical_ohm_ah / ah, inputs).assumed();
    cold_resistance(bench);
}

fn limits(bench: &mut Bench<'_>, cell: &Cell, parallel: f64) {
    let parallel_input = || from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
    let l = &mut bench.ledger;
    if let (Some(cell_a), Some(stated_a)) = (cells::counted_a(cell), cell.discharge_a) {
        let rating = from_plan("/packs/0/cell/part/discharge_a", "Continuous rating of a cell", stated_a, Unit::A);
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

fn proposal(bench: &mut Bench<'_>, cell: &Cell) {
    let l = &mut bench.ledger;
    let run = l.value(&WANTED_S).zip(l.value(&MEAN_A)).map(|(wanted_s, mean_a)| {
        const SECONDS_PER_HOUR: f64 = 3600.0;
        mean_a * wanted_s / SECONDS_PER_HOUR / (USABLE_GUESS * cell.rated_ah)
    });
    if let Some(strings) = run {
        let share = constant("Usable share, first guess", USABLE_GUESS, Unit::Share, Source::Assumed);
        l.put(&NEEDED_FOR_RUN, strings, vec![fig(&MEAN_A), fig(&WANTED_S), share, rated(cell)]);
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
