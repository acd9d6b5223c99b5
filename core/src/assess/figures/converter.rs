//! The converter at work: duty, efficiency, heat, at the minimum loaded voltage of the pack.

use super::figures;
use super::load::CONTINUOUS_A;
use super::voltage::{CONVERTER_NEEDS_V, CUTOFF_V, LINE_EMPTY_V};
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::e_series::Series;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::converter::{Adjuster, Losses, TYPICAL_K_PER_W, duty, work_at};
use crate::physics::device::{self, Level};
use crate::plan::{Converter, NodeKind};

figures! {
    EFFICIENCY = "converter.efficiency", "Efficiency of the converter", Share,
        "as stated; else output / (output + own + inductor current² × resistance + diode voltage × inductor current × (1 − duty)) at the minimum voltage", SwitchingLosses;
    OUTPUT_A = "converter.output_a", "Largest continuous current at its output", A, "largest level longer than 10 s, at the set-point", CircuitLaw;
    DUTY = "converter.duty", "Duty at the minimum voltage", Share,
        "down: out / in; up: 1 − in / out; both: out / (in + out)", SwitchingLosses;
    HEADROOM_V = "converter.headroom_v", "Headroom with an empty pack", V, "empty pack − lowest input the converter works at", CircuitLaw;
    HEAT_W = "converter.heat_w", "Heat of the converter", W, "continuous current × minimum loaded voltage × (1 − efficiency)", CircuitLaw;
    END_SERIES_OHM = "adjuster.series_ohm", "Resistor in series with the adjuster", Ohm, "lower resistor × (lowest output / reference − 1), nearest of E24", CircuitLaw;
    END_ACROSS_OHM = "adjuster.across_ohm", "Resistor across the adjuster", Ohm,
        "what the adjuster still turns × adjuster / (adjuster − what it turns), the next lower of E24", CircuitLaw;
    LEAST_V = "adjuster.least_v", "Lowest output with both", V, "reference × (1 + upper / lower resistor)", CircuitLaw;
    MOST_V = "adjuster.most_v", "Highest output with both", V, "reference × (1 + upper / lower resistor)", CircuitLaw;
    OPEN_V = "adjuster.open_v", "Output when an adjuster lead opens", V, "reference × (1 + (series + across) / lower resistor)", CircuitLaw;
    HOTTEST_C = "converter.hottest_c", "Its hottest part", C, "hottest use + rise", Arithmetic;
    RISE_K = "converter.rise_k", "Its hottest part over the air", K, "heat × rise per watt", CommonPractice;
}

/// Efficiency of a converter of which nothing is known but its kind. Common practice, no source: 80 to 95 %.
pub const TYPICAL_EFFICIENCY: f64 = 0.85;
/// What the loss model is trusted with.
const LEAST_EFFICIENCY: f64 = 0.3;

/// The losses of a converter: stated where they are, typical for its load where not.
pub fn losses(c: &Converter, output_a: f64) -> Losses {
    let typical = Losses::typical(c.output_v, output_a);
    Losses {
        own_w: c.own_w.unwrap_or(typical.own_w),
        path_ohm: c.path_ohm.unwrap_or(typical.path_ohm),
        diode_v: c.diode_v.unwrap_or(typical.diode_v),
    }
}

/// Current at the output of the largest load that lasts.
pub fn output_a(workspace: &Workspace<'_>, output_v: f64) -> Option<f64> {
    let long = workspace
        .plan
        .device
        .loads
        .iter()
        .filter(|load| Level { current_a: 0.0, duration_s: load.duration_s, every_s: load.every_s }.is_long());
    let own_a = long.map(|load| device::draw_a(&load.draw, output_v)).reduce(f64::max).unwrap_or(0.0);
    let (_, beside) = workspace.beside();
    let beside_a = if beside.is_nothing() { 0.0 } else { beside.at_a(output_v) };
    Some(own_a + beside_a).filter(|a| *a > 0.0)
}

/// Enters the efficiency, on which the current at the battery rests.
pub fn efficiency(workspace: &mut Workspace<'_>) {
    let Some((_, c)) = workspace.converter() else { return };
    let at = format!("{}/converts", workspace.module_pointer(NodeKind::Converter));
    let output_a = output_a(workspace, c.output_v);
    let l = &mut workspace.ledger;
    if let Some(output_a) = output_a {
        let output = from_plan(format!("{at}/output_v"), "Set point", c.output_v, Unit::V);
        l.put(&OUTPUT_A, output_a, vec![output]);
    }
    if let Some(stated) = c.efficiency {
        let input = from_plan(format!("{at}/efficiency"), "Efficiency", stated, Unit::Share);
        l.put(&EFFICIENCY, stated, vec![input]).source(Source::PartSheet);
        return;
    }
    let point = l.value(&CUTOFF_V).zip(output_a).and_then(|(low_v, output_a)| {
        let losses = losses(c, output_a);
        Some((work_at(c.topology, low_v, c.output_v, output_a, &losses)?, losses))
    });
    match point {
        Some((point, losses)) => {
            let output = from_plan(format!("{at}/output_v"), "Set point", c.output_v, Unit::V);
            let inputs = [vec![fig(&CUTOFF_V), output, fig(&OUTPUT_A)], loss_inputs(c, &losses, &at)].concat();
            l.put(&EFFICIENCY, point.efficiency.max(LEAST_EFFICIENCY), inputs);
            // Typical losses miss by some percent: what is over by more is over.
            l.mark_firm(EFFICIENCY.id.to_owned());
        }
        None => {
            l.put(&EFFICIENCY, TYPICAL_EFFICIENCY, vec![]).source(Source::CommonPractice).assumed();
            l.mark_firm(EFFICIENCY.id.to_owned());
        }
    }
}

fn loss_inputs(c: &Converter, losses: &Losses, at: &str) -> Vec<Input> {
    let input = |field: &str, stated: bool, value: f64, label: &'static str, unit: Unit| {
        if stated {
            from_plan(format!("{at}/{field}"), label, value, unit)
        } else {
            constant(label, value, unit, Source::Assumed)
        }
    };
    vec![
        input("own_w", c.own_w.is_some(), losses.own_w, "Standby drain", Unit::W),
        input("path_ohm", c.path_ohm.is_some(), losses.path_ohm, "Resistance of its path", Unit::Ohm),
        input("diode_v", c.diode_v.is_some(), losses.diode_v, "Diode", Unit::V),
    ]
}

/// What the ends of an adjuster need, where its divider is known.
fn adjuster(workspace: &mut Workspace<'_>) {
    let Some((_, c)) = workspace.converter() else { return };
    let (Some(reference_v), Some(lower_ohm), Some(variable_ohm)) = (c.reference_v, c.feedback_ohm, c.adjuster_ohm)
    else {
        return;
    };
    let (Some(least_v), Some(most_v)) = (c.output_min_v, c.output_max_v) else { return };
    let adjuster = Adjuster { reference_v, lower_ohm, variable_ohm };
    let Some(ends) = adjuster.ends(least_v, most_v, Series::E24) else { return };
    let at = format!("{}/converts", workspace.module_pointer(NodeKind::Converter));
    let typed = |field: &str, label: &'static str, value: f64, unit: Unit| {
        from_plan(format!("{at}/{field}"), label, value, unit)
    };
    let reference = typed("reference_v", "Reference", reference_v, Unit::V);
    let lower = typed("feedback_ohm", "Lower resistor", lower_ohm, Unit::Ohm);
    let variable = typed("adjuster_ohm", "Adjuster", variable_ohm, Unit::Ohm);
    let wanted = |field, label, v| typed(field, label, v, Unit::V);
    let divider = || vec![reference.clone(), lower.clone()];
    let (low, high) =
        (wanted("output_min_v", "Lowest output", least_v), wanted("output_max_v", "Highest output", most_v));
    let l = &mut workspace.ledger;
    l.put(&END_SERIES_OHM, ends.series_ohm, [divider(), vec![low]].concat());
    let series = || fig(&END_SERIES_OHM);
    if let Some(across_ohm) = ends.across_ohm {
        l.put(&END_ACROSS_OHM, across_ohm, [divider(), vec![high, variable.clone(), series()]].concat());
    }
    let (reached_least_v, reached_most_v) = adjuster.range_v(&ends);
    l.put(&LEAST_V, reached_least_v, [divider(), vec![series()]].concat());
    l.put(&MOST_V, reached_most_v, [divider(), vec![series(), fig(&END_ACROSS_OHM), variable]].concat());
    if let Some(open_v) = adjuster.open_v(&ends) {
        l.put(&OPEN_V, open_v, [divider(), vec![series(), fig(&END_ACROSS_OHM)]].concat());
    }
}

/// Enters duty, headroom, heat and rise.
pub fn enter(workspace: &mut Workspace<'_>) {
    adjuster(workspace);
    let Some((_, c)) = workspace.converter() else { return };
    let at = format!("{}/converts", workspace.module_pointer(NodeKind::Converter));
    let air_c = workspace.air_c();
    let l = &mut workspace.ledger;
    let Some(low_v) = l.value(&CUTOFF_V) else { return };
    let output = from_plan(format!("{at}/output_v"), "Set point", c.output_v, Unit::V);
    if let Some(duty) = duty(c.topology, low_v, c.output_v) {
        l.put(&DUTY, duty, vec![output, fig(&CUTOFF_V)]);
    }
    if let (Some(empty_v), Some(needs_v)) = (l.value(&LINE_EMPTY_V), l.value(&CONVERTER_NEEDS_V)) {
        l.put(&HEADROOM_V, empty_v - needs_v, vec![fig(&LINE_EMPTY_V), fig(&CONVERTER_NEEDS_V)]);
    }
    let (Some(efficiency), Some(continuous_a)) = (l.value(&EFFICIENCY), l.value(&CONTINUOUS_A)) else { return };
    let heat_w = continuous_a * low_v * (1.0 - efficiency);
    l.put(&HEAT_W, heat_w, vec![fig(&CONTINUOUS_A), fig(&CUTOFF_V), fig(&EFFICIENCY)]);
    let rise = match c.k_per_w {
        Some(k_per_w) => from_plan(format!("{at}/k_per_w"), "Rise per watt", k_per_w, Unit::Ratio),
        None => constant("Rise per watt, small open module", TYPICAL_K_PER_W, Unit::Ratio, Source::Assumed),
    };
    let rise_k = heat_w * c.k_per_w.unwrap_or(TYPICAL_K_PER_W);
    l.put(&RISE_K, rise_k, vec![fig(&HEAT_W), rise]);
    // Heat and rise are both good to a fifth at best, and a rise over the air that nobody stated to a third.
    let spread_k = if c.k_per_w.is_some() { 0.2 } else { 0.33 } * rise_k;
    let hottest_c = air_c + rise_k;
    let air = from_plan("/environment/use_max_c", "Hottest use", air_c, Unit::C);
    l.put(&HOTTEST_C, hottest_c, vec![air, fig(&RISE_K)]).band(hottest_c - spread_k, hottest_c + spread_k);
}
