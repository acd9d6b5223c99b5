//! What the plan will do: usable charge, run time, voltage under load.

use super::cells::{COLD, LINE_AH, LINE_OHM, NEEDED_FOR_CURRENT, NEEDED_FOR_RUN, PROPOSED};
use super::converter::EFFICIENCY;
use super::curve::{cell_curve, fitted};
use super::device::WANTED_S;
use super::figures;
use super::load::{CONTINUOUS_A, USUAL_A};
use super::voltage::{CELL_FULL_V, CUTOFF_V, LINE_EMPTY_V, LINE_FULL_V, LINE_NOMINAL_V};
use super::wiring::{PATH_OHM, SAG_PEAK_V};
use crate::assess::ledger::{fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::physics::cells;
use crate::physics::charging::DIFFUSION;
use crate::physics::device::{self, Level};
use crate::physics::run::{Discharge, discharge, typical};
use crate::plan::Environment;

figures! {
    USABLE = "run.usable_share", "Usable share of the charge", Share,
        "charge until OCV − current × resistance meets the cut-off, that of the cells × 1.8, less what diffusion holds back, at 20 °C; band: from the coldest use, with the strongest effect of cold, to 25 °C without diffusion", CircuitLaw;
    USABLE_AH = "run.usable_ah", "Usable charge", Ah, "usable share × capacity", Arithmetic;
    USABLE_WH = "run.usable_wh", "Usable energy at the pack", Wh, "usable charge × mean loaded voltage", Arithmetic;
    MEAN_V = "run.mean_v", "Mean voltage under load", V, "area under the OCV curve / its width − current × resistance", CircuitLaw;
    MEAN_LOAD_A = "run.mean_a", "Mean current over the run", A, "Σ current at mean voltage × share of the time", CircuitLaw;
    TIME_S = "run.time_s", "Run time", S, "usable charge / mean current at 20 °C; band: coldest use to 25 °C, and the error of the readings", CircuitLaw;
    LOADED_FULL_V = "run.loaded_full_v", "Full pack under the usual load", V, "full voltage − sag", CircuitLaw;
    LOADED_EMPTY_V = "run.loaded_empty_v", "Empty pack under the usual load", V, "empty voltage − sag at the coldest use", CircuitLaw;
    LOADED_NOMINAL_V = "run.loaded_nominal_v", "Half-full pack under the continuous load", V, "nominal voltage − continuous current × resistance of the path", CircuitLaw;
    HOTTEST_USE_C = "use.hottest_c", "Hottest use", C, "as typed", Plan;
    GIVES_A = "run.gives_a", "Most the pack can give into a dead short, half full at the coldest use", A, "nominal voltage / resistance of the path", CircuitLaw;
    REBOUND_V = "cutoff.rebound_v", "Rebound when the load drops away", V, "continuous current × resistance of the path", CircuitLaw;
    REARM_V = "cutoff.rearm_v", "Re-arm difference of the cut-off", V, "voltage it closes at − voltage it opens at", Arithmetic;
    PEAK_V = "run.peak_v", "Pack voltage at the peak, nominal charge", V, "nominal voltage − sag at the peak", CircuitLaw;
}

const SECONDS_PER_HOUR: f64 = 3600.0;

/// Enters what the plan will do.
pub fn enter(workspace: &mut Workspace<'_>) {
    loaded_volts(workspace);
    cut_off(workspace);
    let (Some(series), Some(usual_a)) = (workspace.line_series(), workspace.ledger.value(&USUAL_A)) else {
        return;
    };
    let Some(path_ohm) = workspace.ledger.value(&PATH_OHM) else {
        return;
    };
    let cold_factor = workspace.ledger.value(&COLD).unwrap_or(1.0);
    let cells_ohm = workspace.ledger.value(&LINE_OHM).unwrap_or(0.0);
    // The way holds the cells at their coldest, as they sag within seconds; over the minutes of a run diffusion adds to that.
    let way_ohm = |cells: f64| path_ohm + cells_ohm * (DIFFUSION * cells - cold_factor);
    // What is said is said of a usual day; the band goes from the coldest use, by the steepest law of the cold, to a warm one.
    let env = &workspace.plan.environment;
    let coldest = chemistry::cold_factor_of(env.use_min_c, chemistry::COLD_DOUBLES_BAND_K.0);
    let usual = chemistry::cold_factor(usual_c(env));
    let lag = lag(workspace, usual_a);
    let (Some(cold), Some(warm), Some(usual_day)) = (
        one_run(workspace, series, usual_a, way_ohm(coldest), lag * coldest),
        one_run(workspace, series, usual_a, way_ohm(1.0 / DIFFUSION), 0.0),
        one_run(workspace, series, usual_a, way_ohm(usual), lag * usual),
    ) else {
        return;
    };
    let Some(curve) = cell_curve(workspace) else { return };
    let assumed = curve.assumed;
    let inputs = || vec![fig(&CUTOFF_V), fig(&USUAL_A), fig(&PATH_OHM), fig(&COLD), fig(&CELL_FULL_V)];
    let usable = usual_day.usable_share;
    // A line through common figures is good to a tenth either way at best.
    let spread = if assumed { 0.1 } else { 0.0 };
    let entry = workspace.ledger.put(&USABLE, usable, inputs()).source(curve.source);
    let entry = entry.band((cold.usable_share - spread).max(0.0), (warm.usable_share + spread).min(1.0));
    if assumed {
        entry.assumed();
    }
    let mean_v = series * usual_day.mean_loaded_v;
    workspace.ledger.put(&MEAN_V, mean_v, inputs());
    time(workspace, usable, [cold, warm, usual_day], series, spread);
}

/// State of charge that diffusion keeps back at 25 °C: the lag of the cell times the rate of the discharge.
fn lag(workspace: &Workspace<'_>, usual_a: f64) -> f64 {
    let lag_s = fitted(workspace)
        .map(|f| f.diffusion_s)
        .or_else(|| Some(typical(workspace.pack.chemistry?).diffusion_s))
        .unwrap_or(0.0);
    workspace.ledger.value(&LINE_AH).map_or(0.0, |ah| lag_s / SECONDS_PER_HOUR * usual_a / ah)
}

fn one_run(workspace: &Workspace<'_>, series: f64, usual_a: f64, way_ohm: f64, lag: f64) -> Option<Discharge> {
    let l = &workspace.ledger;
    let curve = cell_curve(workspace)?;
    let (full_v, cutoff_v) = (l.value(&CELL_FULL_V)?, l.value(&CUTOFF_V)? / series);
    // Sag of one group under the pack's current: I x R / S is the same volts as one cell's share.
    Some(discharge(&curve, full_v, cutoff_v, usual_a, way_ohm / series, lag))
}

fn time(workspace: &mut Workspace<'_>, usable: f64, [cold, warm, usual]: [Discharge; 3], series: f64, spread: f64) {
    let Some(ah) = workspace.ledger.value(&LINE_AH) else {
        return;
    };
    workspace.ledger.put(&USABLE_AH, usable * ah, vec![fig(&USABLE), fig(&LINE_AH)]);
    if let Some(mean_v) = workspace.ledger.value(&MEAN_V) {
        workspace.ledger.put(&USABLE_WH, usable * ah * mean_v, vec![fig(&USABLE_AH), fig(&MEAN_V)]);
    }
    let hours = |d: Discharge, share: f64| {
        let mean_a = mean_current_a(workspace, series * d.mean_loaded_v)?;
        (mean_a > 0.0).then_some(share * ah / mean_a)
    };
    let (Some(low_h), Some(high_h)) =
        (hours(cold, (cold.usable_share - spread).max(0.0)), hours(warm, (warm.usable_share + spread).min(1.0)))
    else {
        return;
    };
    let Some(mean_a) = mean_current_a(workspace, series * usual.mean_loaded_v) else {
        return;
    };
    workspace.ledger.put(&MEAN_LOAD_A, mean_a, vec![fig(&MEAN_V)]);
    let middle_s = usable * ah / mean_a * SECONDS_PER_HOUR;
    let error = unstated_error(workspace);
    if middle_s > 0.0 {
        strings_for_the_run(workspace, middle_s);
    }
    workspace
        .ledger
        .put(&TIME_S, middle_s, vec![fig(&USABLE_AH), fig(&MEAN_LOAD_A)])
        .band(low_h * SECONDS_PER_HOUR / (1.0 + error), high_h * SECONDS_PER_HOUR / (1.0 - error));
}

/// Once a run is calculated, the strings that the wanted one takes follow from it: time grows with them at least in proportion.
fn strings_for_the_run(workspace: &mut Workspace<'_>, time_s: f64) {
    let (Some((_, parallel)), Some(wanted_s)) = (workspace.counts(), workspace.ledger.value(&WANTED_S)) else { return };
    let l = &mut workspace.ledger;
    if l.value(&NEEDED_FOR_RUN).is_none() {
        return;
    }
    let strings = parallel * wanted_s / time_s;
    let count = from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
    l.put(&NEEDED_FOR_RUN, strings, vec![count, fig(&WANTED_S), fig(&USABLE_AH), fig(&MEAN_LOAD_A)]);
    let for_current = l.value(&NEEDED_FOR_CURRENT);
    if let Some((count, _)) = cells::parallel_count(Some(strings), for_current) {
        let mut inputs = vec![fig(&NEEDED_FOR_RUN)];
        inputs.extend(for_current.map(|_| fig(&NEEDED_FOR_CURRENT)));
        l.put(&PROPOSED, f64::from(count), inputs);
    }
}

/// Share by which a run rests on readings without a stated error; stated ones widen every figure by themselves.
pub fn unstated_error(workspace: &Workspace<'_>) -> f64 {
    /// What a reading without stated error is trusted to. Common practice, no source.
    const UNSTATED: f64 = 0.05;
    let levels: Vec<Level> = workspace.asked.iter().map(|a| a.level.clone()).collect();
    let mut readings = workspace.asked.iter().zip(device::shares(&levels)).filter(|&(_, share)| share > 0.0);
    if readings.any(|(asked, _)| device::reading(&asked.load.draw).error.is_none()) { UNSTATED } else { 0.0 }
}

/// Mean battery current over the pattern of use, at the mean loaded voltage rather than the lowest.
pub(super) fn mean_current_a(workspace: &Workspace<'_>, mean_v: f64) -> Option<f64> {
    if mean_v <= 0.0 {
        return None;
    }
    let (at_battery, at_output) = workspace.beside();
    let beside_a = if at_battery.is_nothing() { 0.0 } else { at_battery.at_a(mean_v) };
    let levels: Vec<Level> = workspace
        .asked
        .iter()
        .map(|a| {
            let current_a = beside_a
                + match workspace.converter() {
                    Some((_, c)) => {
                        let efficiency = workspace.ledger.value(&EFFICIENCY).unwrap_or(1.0);
                        let output_a = device::draw_a(&a.load.draw, c.output_v) + at_output.at_a(c.output_v);
                        output_a * c.output_v / (efficiency * mean_v)
                    }
                    None => device::draw_a(&a.load.draw, mean_v),
                };
            Level { current_a, ..a.level.clone() }
        })
        .collect();
    Some(device::mean_a(&levels))
}

/// What the cut-off board does when it opens: the pack recovers by what it sagged.
fn cut_off(workspace: &mut Workspace<'_>) {
    let node = workspace.line.nodes.iter().find(|n| n.module().is_some_and(|m| m.cuts_off.is_some()));
    let Some((index, cuts_off)) = node.and_then(|node| {
        let index = workspace.plan.nodes.iter().position(|n| n.id == node.id)?;
        Some((index, node.module()?.cuts_off.as_ref()?))
    }) else {
        return;
    };
    let l = &mut workspace.ledger;
    if let (Some(continuous_a), Some(path_ohm)) = (l.value(&CONTINUOUS_A), l.value(&PATH_OHM)) {
        l.put(&REBOUND_V, continuous_a * path_ohm, vec![fig(&CONTINUOUS_A), fig(&PATH_OHM)]);
    }
    if let Some(rearm_v) = cuts_off.rearm_v {
        let at = format!("/nodes/{index}/part/part/module/cuts_off");
        let inputs = vec![
            from_plan(format!("{at}/rearm_v"), "Closes again at", rearm_v, Unit::V),
            from_plan(format!("{at}/at_v"), "Opens at", cuts_off.at_v, Unit::V),
        ];
        l.put(&REARM_V, rearm_v - cuts_off.at_v, inputs);
    }
}

fn loaded_volts(workspace: &mut Workspace<'_>) {
    let hottest_c = workspace.plan.environment.use_max_c;
    let l = &mut workspace.ledger;
    l.put(&HOTTEST_USE_C, hottest_c, vec![from_plan("/environment/use_max_c", "Hottest use", hottest_c, Unit::C)]);
    if let (Some(nominal_v), Some(continuous_a), Some(path_ohm)) =
        (l.value(&LINE_NOMINAL_V), l.value(&CONTINUOUS_A), l.value(&PATH_OHM))
    {
        let inputs = vec![fig(&LINE_NOMINAL_V), fig(&CONTINUOUS_A), fig(&PATH_OHM)];
        let loaded_v = nominal_v - continuous_a * path_ohm;
        // Below nothing there are no volts: the current cannot be had, which is a finding, not a figure.
        if loaded_v > 0.0 {
            l.put(&LOADED_NOMINAL_V, loaded_v, inputs);
        }
    }
    if let (Some(nominal_v), Some(path_ohm)) = (l.value(&LINE_NOMINAL_V), l.value(&PATH_OHM).filter(|r| *r > 0.0)) {
        l.put(&GIVES_A, nominal_v / path_ohm, vec![fig(&LINE_NOMINAL_V), fig(&PATH_OHM)]);
    }
    let (Some(usual_a), Some(path_ohm)) = (l.value(&USUAL_A), l.value(&PATH_OHM)) else {
        return;
    };
    for (def, from) in [(&LOADED_FULL_V, &LINE_FULL_V), (&LOADED_EMPTY_V, &LINE_EMPTY_V)] {
        if let Some(loaded_v) = l.value(from).map(|rest_v| rest_v - usual_a * path_ohm).filter(|v| *v > 0.0) {
            l.put(def, loaded_v, vec![fig(from), fig(&USUAL_A), fig(&PATH_OHM)]);
        }
    }
    if let (Some(nominal_v), Some(sag_v)) = (l.value(&LINE_NOMINAL_V), l.value(&SAG_PEAK_V))
        && nominal_v > sag_v
    {
        l.put(&PEAK_V, nominal_v - sag_v, vec![fig(&LINE_NOMINAL_V), fig(&SAG_PEAK_V)]);
    }
}

/// Where nothing is said of the temperature, it is that of a room. Assumed.
const ROOM_C: f64 = 20.0;

/// Temperature of the surroundings if nothing else is asked for.
pub fn usual_c(environment: &Environment) -> f64 {
    ROOM_C.clamp(environment.use_min_c, environment.use_max_c.max(environment.use_min_c))
}
