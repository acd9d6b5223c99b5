//! What the device asks of the battery, at its minimum loaded voltage.

use super::converter::EFFICIENCY;
use super::device::ORIGINAL_V;
use super::figures;
use super::voltage::{CUTOFF_V, LINE_FULL_V};
use crate::assess::ledger::{Input, at, fig, fig_at, from_plan};
use crate::assess::workspace::{Asked, Workspace};
use crate::base::quantity::Unit;
use crate::physics::device::{self, Level};
use crate::plan::{Draw, FedFrom, How, NodeKind};

figures! {
    BATTERY_A = "load.battery_a", "Current asked of the battery", A,
        "current as surveyed; power / minimum loaded voltage; full voltage / resistance; behind a converter: power / (efficiency × minimum loaded voltage)", CircuitLaw;
    BESIDE_A = "load.beside_a", "What is connected beside the device, at the battery", A,
        "Σ current + power / minimum loaded voltage + minimum loaded voltage / resistance; behind a converter: its power / (efficiency × minimum loaded voltage)", CircuitLaw;
    OUTPUT_BESIDE_A = "output.beside_a", "What is connected beside the device, after the converter", A, "Σ current + power / set-point + set-point / resistance", CircuitLaw;
    USUAL_A = "load.usual_a", "Usual current", A, "the first level without a duration", Plan;
    MEAN_A = "load.mean_a", "Mean current", A, "Σ current × share of the time", Arithmetic;
    RMS_A = "load.rms_a", "RMS current", A, "√(Σ current² × share of the time)", Arithmetic;
    CONTINUOUS_A = "load.continuous_a", "Continuous current", A, "RMS, or the largest level longer than 10 s", CommonPractice;
    PEAK_A = "load.peak_a", "Largest short peak", A, "largest level of 10 s or less", Plan;
    PEAK_S = "load.peak_s", "Length of the largest peak", S, "as surveyed", Plan;
    OUTPUT_LEVEL_A = "output.level_a", "Current into the device, after the converter", A, "current as surveyed; power / set-point; set-point / resistance", CircuitLaw;
    OUTPUT_CONTINUOUS_A = "output.continuous_a", "Continuous current into the device, after the converter", A, "RMS, or the largest level longer than 10 s", CommonPractice;
    OUTPUT_PEAK_A = "output.peak_a", "Largest short peak into the device, after the converter", A, "largest level of 10 s or less", Plan;
}

/// Refers every level to the battery and finds the usual, continuous and peak currents.
pub fn enter(workspace: &mut Workspace<'_>) {
    let plan = workspace.plan;
    let beside_a = beside(workspace);
    for (i, load) in plan.device.loads.iter().enumerate() {
        let Some((current_a, mut inputs)) = at_battery(workspace, &load.draw) else {
            continue;
        };
        let (field, label, unit) = match &load.draw {
            Draw::Current { .. } => ("value_a", "Current as surveyed", Unit::A),
            Draw::Power { .. } => ("value_w", "Power as surveyed", Unit::W),
            Draw::Resistance { .. } => ("value_ohm", "Resistance as surveyed", Unit::Ohm),
        };
        let reading = device::reading(&load.draw);
        let current_a = current_a + beside_a;
        inputs.extend((beside_a > 0.0).then(|| fig(&BESIDE_A)));
        inputs.insert(0, from_plan(format!("/device/loads/{i}/draw/{field}/value"), label, reading.value, unit));
        let entry = workspace.ledger.put_at(&BATTERY_A, &load.id, current_a, inputs);
        if matches!(reading.how, How::Assumed | How::LowerBound) {
            entry.assumed();
        }
        // More than was read only makes it worse.
        if reading.how == How::LowerBound {
            workspace.ledger.mark_firm(at(&BATTERY_A, &load.id));
        }
        let level = Level { current_a, duration_s: load.duration_s, every_s: load.every_s };
        workspace.asked.push(Asked { load, level });
    }
    sums(workspace);
    behind_converter(workspace);
}

/// What is connected beside the device, as a current of the battery; 0 where there is nothing, or its voltage is not known yet.
fn beside(workspace: &mut Workspace<'_>) -> f64 {
    let (at_battery, at_output) = workspace.beside();
    if at_battery.is_nothing() && at_output.is_nothing() {
        return 0.0;
    }
    let l = &workspace.ledger;
    let Some((def, low_v)) = [&CUTOFF_V, &ORIGINAL_V].into_iter().find_map(|def| Some((def, l.value(def)?))) else {
        return 0.0;
    };
    let mut inputs = workspace.all_beside();
    inputs.push(fig(def));
    let mut beside_a = at_battery.at_a(low_v);
    if let (Some((_, c)), Some(efficiency)) = (workspace.converter(), l.value(&EFFICIENCY)) {
        let output_a = at_output.at_a(c.output_v);
        beside_a += output_a * c.output_v / (efficiency * low_v);
        inputs.push(fig(&EFFICIENCY));
        let behind = workspace.beside_inputs(|b| b.fed == FedFrom::Output);
        if output_a > 0.0 {
            workspace.ledger.put(&OUTPUT_BESIDE_A, output_a, behind);
        }
    }
    workspace.ledger.put(&BESIDE_A, beside_a, inputs);
    beside_a
}

/// The same levels on the far side of a converter, where its wires, plugs and switches carry the device's current.
fn behind_converter(workspace: &mut Workspace<'_>) {
    let Some((_, c)) = workspace.converter() else { return };
    let output = || {
        let at = format!("{}/converts/output_v", workspace.module_pointer(NodeKind::Converter));
        from_plan(at, "Set point", c.output_v, Unit::V)
    };
    let beside_a = workspace.ledger.value(&OUTPUT_BESIDE_A).unwrap_or(0.0);
    let far = |asked: &Asked<'_>| Level {
        current_a: device::draw_a(&asked.load.draw, c.output_v) + beside_a,
        ..asked.level.clone()
    };
    let levels: Vec<(String, bool, Level)> = workspace
        .asked
        .iter()
        .map(|a| {
            let how = device::reading(&a.load.draw).how;
            (a.load.id.clone(), matches!(how, How::Assumed), far(a))
        })
        .collect();
    let all = || levels.iter().map(|(id, ..)| fig_at(&OUTPUT_LEVEL_A, id)).collect::<Vec<_>>();
    let set_point = output();
    let l = &mut workspace.ledger;
    for (id, assumed, level) in &levels {
        let mut inputs = vec![set_point.clone()];
        inputs.extend((beside_a > 0.0).then(|| fig(&OUTPUT_BESIDE_A)));
        let entry = l.put_at(&OUTPUT_LEVEL_A, id, level.current_a, inputs);
        if *assumed {
            entry.assumed();
        }
    }
    let only: Vec<Level> = levels.iter().map(|(.., level)| level.clone()).collect();
    let continuous_a = device::continuous_a(&only);
    if continuous_a > 0.0 {
        l.put(&OUTPUT_CONTINUOUS_A, continuous_a, all());
    }
    let peak = levels.iter().filter(|(.., level)| !level.is_long());
    if let Some((id, _, level)) = peak.max_by(|a, b| a.2.current_a.total_cmp(&b.2.current_a)) {
        l.put(&OUTPUT_PEAK_A, level.current_a, vec![fig_at(&OUTPUT_LEVEL_A, id)]);
    }
}

/// Current at the battery and the figures it rests on besides the survey.
fn at_battery(workspace: &Workspace<'_>, draw: &Draw) -> Option<(f64, Vec<Input>)> {
    let lowest = || [&CUTOFF_V, &ORIGINAL_V].into_iter().find_map(|def| Some((def, workspace.ledger.value(def)?)));
    if let Some((_, c)) = workspace.converter() {
        let (def, low_v) = lowest()?;
        let efficiency = workspace.ledger.value(&EFFICIENCY)?;
        let power_w = device::draw_a(draw, c.output_v) * c.output_v;
        return Some((power_w / (efficiency * low_v), vec![fig(&EFFICIENCY), fig(def)]));
    }
    match draw {
        Draw::Current { value_a } => Some((value_a.value, vec![])),
        Draw::Power { .. } => lowest().map(|(def, low_v)| (device::draw_a(draw, low_v), vec![fig(def)])),
        Draw::Resistance { .. } => {
            let def = if workspace.ledger.value(&LINE_FULL_V).is_some() { &LINE_FULL_V } else { &ORIGINAL_V };
            workspace.ledger.value(def).map(|full_v| (device::draw_a(draw, full_v), vec![fig(def)]))
        }
    }
}

fn sums(workspace: &mut Workspace<'_>) {
    let levels: Vec<Level> = workspace.asked.iter().map(|a| a.level.clone()).collect();
    if levels.is_empty() {
        return;
    }
    let all = || workspace.asked.iter().map(|a| fig_at(&BATTERY_A, &a.load.id)).collect::<Vec<_>>();
    let (everything, usual) = (all(), workspace.asked.iter().find(|a| a.level.duration_s.is_none()));
    if let Some(usual) = usual {
        let inputs = vec![fig_at(&BATTERY_A, &usual.load.id)];
        workspace.ledger.put(&USUAL_A, usual.level.current_a, inputs);
        workspace.ledger.put(&MEAN_A, device::mean_a(&levels), everything.clone());
    }
    workspace.ledger.put(&RMS_A, device::rms_a(&levels), everything.clone());
    let continuous_a = device::continuous_a(&levels);
    if continuous_a > 0.0 {
        workspace.ledger.put(&CONTINUOUS_A, continuous_a, everything);
    }
    let peak = workspace
        .asked
        .iter()
        .filter(|a| !a.level.is_long())
        .max_by(|a, b| a.level.current_a.total_cmp(&b.level.current_a));
    if let Some(Asked { load, level }) = peak {
        let inputs = vec![fig_at(&BATTERY_A, &load.id)];
        workspace.ledger.put(&PEAK_A, level.current_a, inputs);
        if let (Some(duration_s), Some(i)) =
            (level.duration_s, workspace.plan.device.loads.iter().position(|l| l == *load))
        {
            let pointer = format!("/device/loads/{i}/duration_s");
            workspace.ledger.put(&PEAK_S, duration_s, vec![from_plan(pointer, "Duration", duration_s, Unit::S)]);
        }
    }
}
