//! What the device asks of the battery, at its lowest loaded volts.

use super::converter::EFFICIENCY;
use super::device::ORIGINAL_V;
use super::figures;
use super::voltage::{CUTOFF_V, FULL_V};
use crate::assess::bench::{Asked, Bench};
use crate::assess::ledger::{Input, fig, fig_at, from_plan};
use crate::device::{self, Level};
use crate::plan::{Draw, How};
use crate::quantity::Unit;

figures! {
    BATTERY_A = "load.battery_a", "Current asked of the battery", A,
        "current as surveyed; power / lowest loaded volts; full volts / resistance; behind a converter: power / (efficiency × lowest loaded volts)", CircuitLaw;
    USUAL_A = "load.usual_a", "Usual current", A, "the first level without end", Plan;
    MEAN_A = "load.mean_a", "Mean current", A, "Σ current × share of the time", Arithmetic;
    RMS_A = "load.rms_a", "RMS current", A, "√(Σ current² × share of the time)", Arithmetic;
    CONTINUOUS_A = "load.continuous_a", "Continuous current", A, "RMS, or the largest level longer than 10 s", CommonPractice;
    PEAK_A = "load.peak_a", "Largest short peak", A, "largest level of 10 s or less", Plan;
    PEAK_S = "load.peak_s", "Length of the largest peak", S, "as surveyed", Plan;
}

/// Refers every level to the battery and finds the usual, continuous and peak currents.
pub fn enter(bench: &mut Bench<'_>) {
    let plan = bench.plan;
    for (i, load) in plan.device.loads.iter().enumerate() {
        let Some((current_a, mut inputs)) = at_battery(bench, &load.draw) else {
            continue;
        };
        let (field, label, unit) = match &load.draw {
            Draw::Current { .. } => ("value_a", "Current as surveyed", Unit::A),
            Draw::Power { .. } => ("value_w", "Power as surveyed", Unit::W),
            Draw::Resistance { .. } => ("value_ohm", "Resistance as surveyed", Unit::Ohm),
        };
        let reading = device::reading(&load.draw);
        inputs.insert(0, from_plan(format!("/device/loads/{i}/draw/{field}/value"), label, reading.value, unit));
        let entry = bench.ledger.put_at(&BATTERY_A, &load.id, current_a, inputs);
        if matches!(reading.how, How::Assumed | How::LowerBound) {
            entry.assumed();
        }
        let level = Level { current_a, duration_s: load.duration_s, every_s: load.every_s };
        bench.asked.push(Asked { load, level });
    }
    sums(bench);
}

/// Current at the battery and the figures it rests on besides the survey.
fn at_battery(bench: &Bench<'_>, draw: &Draw) -> Option<(f64, Vec<Input>)> {
    let lowest = || [&CUTOFF_V, &ORIGINAL_V].into_iter().find_map(|def| Some((def, bench.ledger.value(def)?)));
    if let Some((_, c)) = bench.converter() {
        let (def, low_v) = lowest()?;
        let efficiency = bench.ledger.value(&EFFICIENCY)?;
        let power_w = device::draw_a(draw, c.output_v) * c.output_v;
        return Some((power_w / (efficiency * low_v), vec![fig(&EFFICIENCY), fig(def)]));
    }
    match draw {
        Draw::Current { value_a } => Some((value_a.value, vec![])),
        Draw::Power { .. } => lowest().map(|(def, low_v)| (device::draw_a(draw, low_v), vec![fig(def)])),
        Draw::Resistance { .. } => {
            let def = if bench.ledger.value(&FULL_V).is_some() { &FULL_V } else { &ORIGINAL_V };
            bench.ledger.value(def).map(|full_v| (device::draw_a(draw, full_v), vec![fig(def)]))
        }
    }
}

fn sums(bench: &mut Bench<'_>) {
    let levels: Vec<Level> = bench.asked.iter().map(|a| a.level.clone()).collect();
    if levels.is_empty() {
        return;
    }
    let all = || bench.asked.iter().map(|a| fig_at(&BATTERY_A, &a.load.id)).collect::<Vec<_>>();
    let (everything, usual) = (all(), bench.asked.iter().find(|a| a.level.duration_s.is_none()));
    if let Some(usual) = usual {
        let inputs = vec![fig_at(&BATTERY_A, &usual.load.id)];
        bench.ledger.put(&USUAL_A, usual.level.current_a, inputs);
        bench.ledger.put(&MEAN_A, device::mean_a(&levels), everything.clone());
    }
    bench.ledger.put(&RMS_A, device::rms_a(&levels), everything.clone());
    let continuous_a = device::continuous_a(&levels);
    if continuous_a > 0.0 {
        bench.ledger.put(&CONTINUOUS_A, continuous_a, everything);
    }
    let peak = bench
        .asked
        .iter()
        .filter(|a| !a.level.is_long())
        .max_by(|a, b| a.level.current_a.total_cmp(&b.level.current_a));
    if let Some(Asked { load, level }) = peak {
        let inputs = vec![fig_at(&BATTERY_A, &load.id)];
        bench.ledger.put(&PEAK_A, level.current_a, inputs);
        if let (Some(duration_s), Some(i)) = (level.duration_s, bench.plan.device.loads.iter().position(|l| l == *load))
        {
            let pointer = format!("/device/loads/{i}/duration_s");
            bench.ledger.put(&PEAK_S, duration_s, vec![from_plan(pointer, "Duration", duration_s, Unit::S)]);
        }
    }
}
