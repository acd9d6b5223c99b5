//! The gauge's divider, the change-over, a second pack, and where a cut-off should be set.

use super::cells::{PACK_AH, PACK_OHM, how_many};
use super::device::{ALARM_V, LOWEST_V};
use super::figures;
use super::load::{CONTINUOUS_A, USUAL_A};
use super::voltage::{CELL_FULL_V, FEED_V, LINE_EMPTY_V, LINE_FLOOR_V, LINE_FULL_V, LINE_NOMINAL_V, series_input};
use super::wiring::{PATH_OHM, SAG_USUAL_V};
use crate::assess::ledger::{Input, Ledger, constant, fig, fig_at, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::converter;
use crate::physics::device;
use crate::physics::gauge::{Divider, Leg};
use crate::physics::protection::drain_days;
use crate::physics::voltage::{Side, equalising_a, series_end};
use crate::plan::{AlarmLevel, ChangeOver, ChangesBy, GaugeDivider, LevelMeans, SecondPack};

figures! {
    K = "gauge.k", "The gauge shows, against the true voltage", Ratio, "shown / true as read; else 1, as it was made", Arithmetic;
    WANTED_K = "gauge.wanted_k", "It should show, against the true voltage", Ratio,
        "lowest alarm / empty pack; without alarms nominal voltage of the old battery / of the pack", Arithmetic;
    RATIO = "gauge.ratio", "Divider: voltage at the sense input against the battery", Ratio,
        "(bottom ∥ input) / (top + bottom ∥ input)", CircuitLaw;
    LOADING = "gauge.loading_share", "The sense input takes off the reading", Share, "1 − loaded ratio / unloaded ratio", CircuitLaw;
    EXACT_OHM = "gauge.exact_ohm", "Resistor wanted, exactly", Ohm,
        "top: (bottom ∥ input) × (1 / wanted ratio − 1); bottom: from the same ratio, less the input", CircuitLaw;
    CHOSEN_OHM = "gauge.ohm", "New resistor", Ohm, "the one in hand; else the nearest of the series by ratio", Iec60063;
    NEW_K = "gauge.new_k", "With it the gauge shows, against the true voltage", Ratio, "k × new ratio / ratio", CircuitLaw;
    AFTER_K = "gauge.after_k", "As read after the change it shows, against the true voltage", Ratio, "shown / true after the change", Arithmetic;
    AFTER_OFF = "gauge.after_share", "That is off what was calculated by", Share, "as read / new k − 1", Arithmetic;
    SET_FULL_V = "gauge.set_full_v", "Full level, to enter in the device", V, "(full voltage − sag) × k", CircuitLaw;
    METER_DAYS = "meter.lasts_days", "The supply of the panel meter lasts", Days, "capacity / its current / 24 h", Arithmetic;
    ERROR = "gauge.error_share", "Error it leaves", Share, "new k / wanted k − 1", Arithmetic;
    SHOWN_FULL_V = "gauge.shown_full_v", "Shows when full", V, "full voltage × new k", Arithmetic;
    SHOWN_EMPTY_V = "gauge.shown_empty_v", "Shows when empty", V, "empty voltage × new k", Arithmetic;
    ALARM_TRUE_V = "gauge.alarm_true_v", "Alarm comes at true voltage", V, "alarm level / new k", Arithmetic;
    DRAIN_A = "gauge.drain_a", "The divider draws", A, "full voltage / (top + bottom ∥ input)", CircuitLaw;
    GAUGE_DAYS = "gauge.flat_days", "It alone empties the pack in", Days, "capacity / drain / 24 h", Arithmetic;
    SET_LOW_V = "gauge.set_low_v", "Low alarm, to be typed into the device", V,
        "(series × OCV at a fifth of the charge − sag) × k", CircuitLaw;
    SET_EMPTY_V = "gauge.set_empty_v", "Empty alarm, to be typed into the device", V, "(empty voltage − sag) × k", CircuitLaw;
    CUTOFF_SET_V = "cutoff.set_v", "Setting for a cut-off", V, "empty voltage − sag at the usual current, not below the damage limit", CircuitLaw;
    CUTOFF_REARM_SET_V = "cutoff.rearm_set_v", "It should close again at", V, "setting + 1.5 × rebound", CommonPractice;
    GAP_S = "change.gap_s", "Gap of the change-over", S, "as stated; else 15 ms for a relay, none for a diode", CommonPractice;
    CHANGE_LOSS_V = "change.loss_v", "Voltage lost in the change-over", V, "0.5 V for a diode, 30 mV driven, none for a relay", CommonPractice;
    DRAWS_A = "change.draws_a", "Current of the device at its own voltage", A, "usual level at the voltage of the device", CircuitLaw;
    FALL_V = "change.fall_v", "Voltage the device can fall in the gap", V, "voltage at the device − loss − minimum voltage", Arithmetic;
    HOLD_UP_F = "change.hold_up_f", "Capacitor that bridges the gap", F, "current × gap / fall", CircuitLaw;
    HAS_F = "change.has_f", "Capacitor that is there", F, "as stated", Plan;
    THRESHOLD_V = "comparator.threshold_v", "Set the comparator to", V, "midway between its two states", CommonPractice;
    HYSTERESIS_V = "comparator.hysteresis_v", "Distance of its two thresholds", V, "a third of the distance of its states", CommonPractice;
    SERIES_FULL_V = "switched.series_full_v", "All packs full, in series", V, "cells of all × full voltage of a cell", Arithmetic;
    APART_CELL_V = "switched.apart_v", "Voltage difference of the packs, per cell", V, "difference at rest / cells in series", Arithmetic;
    EQUALISE_A = "switched.equalise_a", "Current between them when joined in parallel", A, "difference at rest / sum of the resistances", CircuitLaw;
    ENDS_AH = "switched.ends_ah", "In series the run ends after", Ah, "the smaller capacity", CircuitLaw;
    LEFT_AH = "switched.left_ah", "Left then in the larger", Ah, "difference of the capacities", Arithmetic;
}

/// Gap of a relay's contacts. Common practice, no source: 5 to 20 ms.
const RELAY_GAP_S: f64 = 0.015;
const DIODE_V: f64 = 0.5;
const DRIVEN_V: f64 = 0.03;
/// Charge at which a first alarm should come.
const LOW_SHARE: f64 = 0.2;
/// Room of a re-arm over the rebound.
const REARM_ROOM: f64 = 1.5;

/// Enters what hangs on the line.
pub fn enter(workspace: &mut Workspace<'_>) {
    let feed = &workspace.plan.feed;
    cut_off_setting(workspace);
    panel_meter(workspace);
    // Behind a converter a gauge that nobody leads to the pack says nothing of it.
    let sees_pack = workspace.converter().is_none() || feed.gauge.is_some() || feed.gauge_led == Some(true);
    if feed.gauge.is_some() || sees_pack && !workspace.plan.device.electronics.alarms.is_empty() {
        put_k(&mut workspace.ledger, feed.gauge.as_ref());
    }
    if let Some(divider) = &feed.gauge {
        gauge(workspace, divider);
    }
    alarm_settings(workspace);
    if let Some(change) = &feed.change_over {
        change_over(workspace, change);
    }
    if let Some(second) = &feed.second {
        switched(workspace, second);
    }
}

/// How long the supply of its own feeds a panel meter.
fn panel_meter(workspace: &mut Workspace<'_>) {
    let wiring = &workspace.plan.wiring;
    let (Some(draws_a), Some(ah)) = (wiring.meter_a.filter(|a| *a > 0.0), wiring.meter_supply_ah) else { return };
    let inputs = vec![
        from_plan("/wiring/meter_supply_ah", "Capacity of its supply", ah, Unit::Ah),
        from_plan("/wiring/meter_a", "Current of the meter", draws_a, Unit::A),
    ];
    workspace.ledger.put(&METER_DAYS, drain_days(ah, draws_a), inputs);
}

fn cut_off_setting(workspace: &mut Workspace<'_>) {
    let l = &mut workspace.ledger;
    let (Some(empty_v), Some(floor_v), Some(sag_v)) =
        (l.value(&LINE_EMPTY_V), l.value(&LINE_FLOOR_V), l.value(&SAG_USUAL_V))
    else {
        return;
    };
    let inputs = vec![fig(&LINE_EMPTY_V), fig(&SAG_USUAL_V), fig(&LINE_FLOOR_V)];
    l.put(&CUTOFF_SET_V, (empty_v - sag_v).max(floor_v), inputs);
    if let (Some(continuous_a), Some(path_ohm), Some(set_v)) =
        (l.value(&CONTINUOUS_A), l.value(&PATH_OHM), l.value(&CUTOFF_SET_V))
    {
        let rebound_v = continuous_a * path_ohm;
        l.put(
            &CUTOFF_REARM_SET_V,
            set_v + REARM_ROOM * rebound_v,
            vec![fig(&CUTOFF_SET_V), fig(&CONTINUOUS_A), fig(&PATH_OHM)],
        );
    }
}

/// How the gauge reads today: as it was made, unless two readings say otherwise.
fn put_k(l: &mut Ledger, divider: Option<&GaugeDivider>) {
    let read = divider.and_then(|d| Some((d.shown_v.as_ref()?.value, d.true_v.as_ref()?.value)));
    let (k, inputs) = match read {
        Some((shown_v, true_v)) => (
            shown_v / true_v,
            vec![
                from_plan("/feed/gauge/shown_v/value", "Shown", shown_v, Unit::V),
                from_plan("/feed/gauge/true_v/value", "True", true_v, Unit::V),
            ],
        ),
        None => (1.0, vec![]),
    };
    l.put(&K, k, inputs);
}

/// What to type into a device whose alarms can be set: as its gauge will show, once a resistor is changed.
fn alarm_settings(workspace: &mut Workspace<'_>) {
    let reads = [&AFTER_K, &NEW_K].into_iter().find(|k| workspace.ledger.value(k).is_some()).unwrap_or(&K);
    let Some(k) = workspace.ledger.value(reads) else { return };
    let (Some(series), Some(chemistry)) = (workspace.line_series(), workspace.pack.chemistry) else { return };
    let l = &mut workspace.ledger;
    let sag_v = l.value(&SAG_USUAL_V).unwrap_or(0.0);
    let low_v = series * chemistry::curve(chemistry).ocv_v(LOW_SHARE) - sag_v;
    let share = constant("Charge left", LOW_SHARE, Unit::Share, Source::CommonPractice);
    l.put(&SET_LOW_V, low_v * k, vec![series_input(series), share, fig(&SAG_USUAL_V), fig(reads)]);
    if let Some(full_v) = l.value(&LINE_FULL_V) {
        l.put(&SET_FULL_V, (full_v - sag_v) * k, vec![fig(&LINE_FULL_V), fig(&SAG_USUAL_V), fig(reads)]);
    }
    if let Some(empty_v) = l.value(&LINE_EMPTY_V) {
        l.put(&SET_EMPTY_V, (empty_v - sag_v) * k, vec![fig(&LINE_EMPTY_V), fig(&SAG_USUAL_V), fig(reads)]);
    }
}

fn gauge(workspace: &mut Workspace<'_>, g: &GaugeDivider) {
    let divider =
        Divider { top_ohm: g.top_ohm, bottom_ohm: g.bottom_ohm, input_ohm: g.input_ohm.unwrap_or(f64::INFINITY) };
    let mut legs = vec![
        from_plan("/feed/gauge/top_ohm", "Top", g.top_ohm, Unit::Ohm),
        from_plan("/feed/gauge/bottom_ohm", "Bottom", g.bottom_ohm, Unit::Ohm),
    ];
    legs.extend(g.input_ohm.map(|ohm| from_plan("/feed/gauge/input_ohm", "Sense input", ohm, Unit::Ohm)));
    let lowest = workspace.plan.device.electronics.alarms.iter().enumerate();
    // What is said to mean empty, before the lowest; a level that means full stands for no end.
    let means = |a: &AlarmLevel| match a.means {
        Some(LevelMeans::Empty) => 0,
        Some(LevelMeans::Full) => 2,
        Some(LevelMeans::Low) | None => 1,
    };
    let lowest = lowest
        .filter(|(_, a)| means(a) < 2)
        .min_by(|a, b| means(a.1).cmp(&means(b.1)).then(a.1.at_v.value.total_cmp(&b.1.at_v.value)))
        .map(|(i, a)| (i, a.at_v.value));
    let old_v = workspace.ledger.value(&super::device::ORIGINAL_V);
    let l = &mut workspace.ledger;
    l.put(&RATIO, divider.ratio(), legs.clone());
    l.put(&LOADING, divider.loading_share(), legs.clone());
    let (Some(full_v), Some(empty_v), Some(nominal_v)) =
        (l.value(&LINE_FULL_V), l.value(&LINE_EMPTY_V), l.value(&LINE_NOMINAL_V))
    else {
        return;
    };
    let (wanted, inputs): (f64, Vec<Input>) = match (lowest, old_v) {
        (Some((i, at_v)), _) => (at_v / empty_v, vec![fig_at(&ALARM_V, &i.to_string()), fig(&LINE_EMPTY_V)]),
        (None, Some(old_v)) => (old_v / nominal_v, vec![fig(&super::device::ORIGINAL_V), fig(&LINE_NOMINAL_V)]),
        (None, None) => return,
    };
    l.put(&WANTED_K, wanted, inputs);
    let k = l.value(&K).unwrap_or(1.0);
    let Some(exact_ohm) = divider.leg_for(g.changes, wanted / k) else { return };
    let changed = vec![fig(&WANTED_K), fig(&K), fig(&RATIO)];
    l.put(&EXACT_OHM, exact_ohm, [legs, changed].concat());
    let (chosen_ohm, rests_on) = match g.in_hand_ohm {
        Some(ohm) => (ohm, from_plan("/feed/gauge/in_hand_ohm", "Resistor in hand", ohm, Unit::Ohm)),
        None => (g.series.nearest(exact_ohm), fig(&EXACT_OHM)),
    };
    l.put(&CHOSEN_OHM, chosen_ohm, vec![rests_on]);
    let new = divider.with(g.changes, chosen_ohm);
    let new_k = k * new.ratio() / divider.ratio();
    let other = match g.changes {
        Leg::Top => from_plan("/feed/gauge/bottom_ohm", "Bottom", g.bottom_ohm, Unit::Ohm),
        Leg::Bottom => from_plan("/feed/gauge/top_ohm", "Top", g.top_ohm, Unit::Ohm),
    };
    l.put(&NEW_K, new_k, vec![fig(&CHOSEN_OHM), other.clone(), fig(&RATIO), fig(&K)]);
    if let (Some(shown), Some(read)) = (&g.after_shown_v, &g.after_true_v) {
        let inputs = vec![
            from_plan("/feed/gauge/after_shown_v/value", "Shown after", shown.value, Unit::V),
            from_plan("/feed/gauge/after_true_v/value", "True after", read.value, Unit::V),
        ];
        let after_k = shown.value / read.value;
        l.put(&AFTER_K, after_k, inputs);
        l.put(&AFTER_OFF, after_k / new_k - 1.0, vec![fig(&AFTER_K), fig(&NEW_K)]);
    }
    l.put(&ERROR, new_k / wanted - 1.0, vec![fig(&NEW_K), fig(&WANTED_K)]);
    l.put(&SHOWN_FULL_V, full_v * new_k, vec![fig(&LINE_FULL_V), fig(&NEW_K)]);
    l.put(&SHOWN_EMPTY_V, empty_v * new_k, vec![fig(&LINE_EMPTY_V), fig(&NEW_K)]);
    for (i, alarm) in workspace.plan.device.electronics.alarms.iter().enumerate() {
        let subject = i.to_string();
        let inputs = vec![fig_at(&ALARM_V, &subject), fig(&NEW_K)];
        l.put_at(&ALARM_TRUE_V, &subject, alarm.at_v.value / new_k, inputs);
    }
    let drain_a = new.drain_a(full_v);
    l.put(&DRAIN_A, drain_a, vec![fig(&LINE_FULL_V), fig(&CHOSEN_OHM), other]);
    if let Some(ah) = l.value(&PACK_AH) {
        l.put(&GAUGE_DAYS, drain_days(ah, drain_a), vec![fig(&PACK_AH), fig(&DRAIN_A)]);
    }
}

fn change_over(workspace: &mut Workspace<'_>, c: &ChangeOver) {
    let at = |field: &str| format!("/feed/change_over/{field}");
    let gap_s = c.gap_s.unwrap_or(if c.by == ChangesBy::Relay { RELAY_GAP_S } else { 0.0 });
    let loss_v = match c.by {
        ChangesBy::Diode => DIODE_V,
        ChangesBy::IdealDiode => DRIVEN_V,
        ChangesBy::Relay => 0.0,
    };
    let draws_a = match (workspace.ledger.value(&FEED_V), workspace.asked.iter().find(|a| a.level.duration_s.is_none()))
    {
        (Some(feed_v), Some(usual)) => Some(device::draw_a(&usual.load.draw, feed_v)),
        _ => None,
    };
    let l = &mut workspace.ledger;
    let stated = c.gap_s.map(|s| from_plan(at("gap_s"), "Gap", s, Unit::S));
    let entry = l.put(&GAP_S, gap_s, stated.into_iter().collect());
    if c.gap_s.is_none() {
        entry.assumed();
    }
    l.put(&CHANGE_LOSS_V, loss_v, vec![]);
    if let (Some(feed_v), Some(lowest_v)) = (l.value(&FEED_V), l.value(&LOWEST_V)) {
        l.put(&FALL_V, feed_v - loss_v - lowest_v, vec![fig(&FEED_V), fig(&CHANGE_LOSS_V), fig(&LOWEST_V)]);
    }
    if let Some(draws_a) = draws_a {
        l.put(&DRAWS_A, draws_a, vec![fig(&USUAL_A), fig(&FEED_V)]);
    }
    if let (Some(draws_a), Some(fall_v)) = (draws_a, l.value(&FALL_V).filter(|v| *v > 0.0)) {
        let inputs = vec![fig(&DRAWS_A), fig(&GAP_S), fig(&FALL_V)];
        l.put(&HOLD_UP_F, converter::hold_up_f(draws_a, gap_s, fall_v), inputs);
    }
    if let Some(has_f) = c.hold_up_f {
        l.put(&HAS_F, has_f, vec![from_plan(at("hold_up_f"), "Capacitor", has_f, Unit::F)]);
    }
    let (Some(charging), Some(on_battery)) = (&c.host_charging_v, &c.host_on_battery_v) else { return };
    if let Some(set) = converter::comparator(charging.value, on_battery.value) {
        let inputs = || {
            vec![
                from_plan(at("host_charging_v/value"), "Host charging", charging.value, Unit::V),
                from_plan(at("host_on_battery_v/value"), "Host on battery", on_battery.value, Unit::V),
            ]
        };
        l.put(&THRESHOLD_V, set.threshold_v, inputs());
        l.put(&HYSTERESIS_V, set.hysteresis_v, inputs());
    }
}

fn switched(workspace: &mut Workspace<'_>, s: &SecondPack) {
    let Some(first_series) = workspace.pack.series else { return };
    let second_series = s.series.unwrap_or(first_series);
    let l = &mut workspace.ledger;
    let series = series_input(f64::from(first_series));
    let second = from_plan("/feed/second/series", "Cells of the second", f64::from(second_series), Unit::Count);
    if let Some(cell_v) = l.value(&CELL_FULL_V) {
        let full_v = (f64::from(first_series) + s.alike() * f64::from(second_series)) * cell_v;
        let mut inputs = vec![series.clone(), second, fig(&CELL_FULL_V)];
        inputs.extend(how_many(s));
        l.put(&SERIES_FULL_V, full_v, inputs);
    }
    let (Some(ohm), Some(ah)) = (l.value(&PACK_OHM), l.value(&PACK_AH)) else { return };
    let side = |rest_v: f64, ohm: f64, ah: f64| Side { rest_v, ohm, ah };
    let second_ohm = s.pack_ohm.unwrap_or(ohm);
    let second_ah = s.capacity_ah.unwrap_or(ah);
    let end = series_end(&side(0.0, ohm, ah), &side(0.0, second_ohm, second_ah));
    let capacity = from_plan("/feed/second/capacity_ah", "Capacity of the second", second_ah, Unit::Ah);
    l.put(&ENDS_AH, end.ends_at_ah, vec![fig(&PACK_AH), capacity.clone()]);
    l.put(&LEFT_AH, end.left_ah, vec![fig(&PACK_AH), capacity]);
    let (Some(first), Some(other)) = (&s.first_rest_v, &s.rest_v) else { return };
    let volts = || {
        vec![
            from_plan("/feed/second/first_rest_v/value", "First at rest", first.value, Unit::V),
            from_plan("/feed/second/rest_v/value", "Second at rest", other.value, Unit::V),
        ]
    };
    let apart_v = (first.value - other.value).abs() / f64::from(first_series);
    l.put(&APART_CELL_V, apart_v, [volts(), vec![series]].concat());
    // All further packs push into the first, or it into them, at once.
    let others = side(other.value, second_ohm / s.alike(), second_ah * s.alike());
    let current_a = equalising_a(&side(first.value, ohm, ah), &others).abs();
    let second_resistance = from_plan("/feed/second/pack_ohm", "Resistance of the second", second_ohm, Unit::Ohm);
    let mut inputs = [volts(), vec![fig(&PACK_OHM), second_resistance]].concat();
    inputs.extend(how_many(s));
    l.put(&EQUALISE_A, current_a, inputs);
}
