//! What an adjustable output can give at each voltage, full and nearly empty, and what limits it there.

use serde::Serialize;
use utoipa::ToSchema;

use super::Workspace;
use super::figures::cells::LIMIT_A;
use super::figures::converter::{EFFICIENCY, LEAST_V, MOST_V};
use super::figures::voltage::{CUTOFF_V, LINE_FULL_V};
use crate::physics::voltage::BUCK_ROOM_V;
use crate::plan::{Converter, Topology};

/// Steps of the map.
const STEPS: u32 = 24;

/// What limits the current at a voltage.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum OutputLimit {
    /// The output current the converter is rated for.
    Output,
    /// Its input current.
    Input,
    /// What the pack is limited to.
    Pack,
    /// The heat it can shed.
    Heat,
    /// The voltage cannot be reached from this battery voltage.
    Voltage,
}

/// The current that can be drawn, from one battery voltage.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OutputCurrent {
    /// Current.
    pub current_a: f64,
    /// What limits it.
    pub limit: OutputLimit,
}

/// One voltage of the output.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OutputPoint {
    /// Output voltage.
    pub output_v: f64,
    /// With a full battery.
    pub full: OutputCurrent,
    /// With one at its cut-off.
    pub empty: OutputCurrent,
}

/// From the lowest output to the highest; empty where the output is not adjustable, or nothing limits it yet.
pub fn output_map(workspace: &Workspace<'_>) -> Vec<OutputPoint> {
    let Some((_, c)) = workspace.converter().filter(|(_, c)| c.adjustable == Some(true)) else { return vec![] };
    let l = &workspace.ledger;
    let (Some(full_v), Some(empty_v), Some(efficiency)) =
        (l.value(&LINE_FULL_V), l.value(&CUTOFF_V), l.value(&EFFICIENCY))
    else {
        return vec![];
    };
    let least_v = l.value(&LEAST_V).or(c.output_min_v);
    let most_v = l.value(&MOST_V).or(c.output_max_v).unwrap_or(c.output_v);
    let Some(least_v) = least_v.filter(|least_v| *least_v < most_v) else { return vec![] };
    let pack_a = l.value(&LIMIT_A);
    (0..=STEPS)
        .map(|k| least_v + (most_v - least_v) * f64::from(k) / f64::from(STEPS))
        .filter_map(|output_v| {
            let at = |input_v: f64| most_a(c, output_v, input_v, efficiency, pack_a);
            Some(OutputPoint { output_v, full: at(full_v)?, empty: at(empty_v)? })
        })
        .collect()
}

/// The least of what output, input, pack and heat allow. Power in is power out over the efficiency; what is lost becomes heat.
fn most_a(c: &Converter, output_v: f64, input_v: f64, efficiency: f64, pack_a: Option<f64>) -> Option<OutputCurrent> {
    let reached = match c.topology {
        Topology::Buck => input_v >= output_v + c.dropout_v.unwrap_or(BUCK_ROOM_V),
        Topology::Boost => input_v <= output_v,
        Topology::BuckBoost => true,
    };
    if !reached {
        return Some(OutputCurrent { current_a: 0.0, limit: OutputLimit::Voltage });
    }
    let from_input = |input_a: f64| input_a * input_v * efficiency / output_v;
    let from_heat = |sheds_w: f64| sheds_w / (output_v * (1.0 / efficiency - 1.0));
    [
        (c.output_a, OutputLimit::Output),
        (c.input_a.map(from_input), OutputLimit::Input),
        (pack_a.map(from_input), OutputLimit::Pack),
        (c.sheds_w.filter(|_| efficiency < 1.0).map(from_heat), OutputLimit::Heat),
    ]
    .into_iter()
    .filter_map(|(current_a, limit)| Some(OutputCurrent { current_a: current_a?, limit }))
    .min_by(|a, b| a.current_a.total_cmp(&b.current_a))
}
