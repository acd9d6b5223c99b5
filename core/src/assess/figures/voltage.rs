//! The voltage of the pack, who ends the discharge, what the device makes of them.

use super::device::{CUTOUT_V, LOWEST_V, ORIGINAL_V};
use super::figures;
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::assess::workspace::{Guard, Workspace};
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::voltage;
use crate::plan::{DeviceKind, NodeKind, Topology};

figures! {
    CELL_FLOOR_V = "cell.floor_v", "Cell is damaged below", V, "chemistry table, or the cell's end of discharge", CommonPractice;
    CELL_CUTOFF_V = "cell.cutoff_v", "Empty cell", V, "chemistry table", CommonPractice;
    CELL_NOMINAL_V = "cell.nominal_v", "Nominal cell voltage", V, "chemistry table", CommonPractice;
    CELL_FULL_V = "cell.full_v", "Full cell voltage", V, "chemistry table, or the cell's data sheet", CommonPractice;
    CELL_NEVER_V = "cell.never_above_v", "Charge limit per cell", V, "chemistry table", CommonPractice;
    FULL_V = "pack.full_v", "Full pack", V, "series × full voltage of a cell", Arithmetic;
    NOMINAL_V = "pack.nominal_v", "Nominal voltage of the pack", V, "series × nominal voltage of a cell", Arithmetic;
    EMPTY_V = "pack.empty_v", "Empty pack", V, "series × empty voltage of a cell", Arithmetic;
    FLOOR_V = "pack.floor_v", "Pack is damaged below", V, "series × damage limit of a cell", Arithmetic;
    LINE_FULL_V = "line.full_v", "Maximum voltage on the line", V, "full pack; the sum of both where two are used in series", Arithmetic;
    LINE_NOMINAL_V = "line.nominal_v", "Nominal voltage on the line", V, "nominal voltage of the pack; the sum of both where two are used in series", Arithmetic;
    LINE_EMPTY_V = "line.empty_v", "Empty, on the line", V, "empty pack; the sum of both where two are used in series", Arithmetic;
    LINE_FLOOR_V = "line.floor_v", "Cells are damaged below, on the line", V, "damage limit of the pack; the sum of both where two are used in series", Arithmetic;
    GUARD_V = "guard.pack_v", "Highest cut-off of the discharge", V, "highest threshold of board, cut-off, device", PartSheet;
    CUTOFF_V = "pack.cutoff_v", "Loaded voltage at which the run ends", V,
        "highest of: device, board, cut-off, converter, alarm; else the cells' end", CircuitLaw;
    FEED_V = "device.feed_v", "Nominal voltage at the device", V, "set-point of the converter, else nominal voltage of the pack", Arithmetic;
    SPEED = "device.speed_change", "Motor speed against before", Share, "voltage now / voltage before − 1", FanLaws;
    FAN_CURRENT = "device.current_change", "Current of a fan or pump against before", Share, "(voltage now / voltage before)² − 1", FanLaws;
    FAN_POWER = "device.power_change", "Power of a fan or pump against before", Share, "(voltage now / voltage before)³ − 1", FanLaws;
    CONVERTER_NEEDS_V = "converter.needs_v", "Lowest input the converter works at", V, "buck: output + headroom; else its stated minimum input", CircuitLaw;
    OUTPUT_MOST_V = "output.most_v", "Maximum voltage after the converter", V, "its set-point, or what was read on it if that is more; for one that is turned in use the most it can be turned to", PartSheet;
    TOUCH_LIMIT_V = "limit.touch_v", "Limit of touch voltage", V, "60 V DC", Iec62368;
}

/// Limit of touch voltage, DC. IEC 62368-1 ES1 (from memory).
const TOUCH_V: f64 = 60.0;

/// Enters the voltage of the pack and finds who ends the discharge.
pub fn enter(workspace: &mut Workspace<'_>) {
    workspace.ledger.put(&TOUCH_LIMIT_V, TOUCH_V, vec![]);
    cell_volts(workspace);
    pack_volts(workspace);
    converter_needs(workspace);
    workspace.guards = guards(workspace);
    cutoff(workspace);
    at_the_device(workspace);
}

fn cell_volts(workspace: &mut Workspace<'_>) {
    let Some(facts) = workspace.facts() else { return };
    let cell = workspace.cell();
    let l = &mut workspace.ledger;
    l.put(&CELL_CUTOFF_V, facts.cutoff_v, vec![]);
    l.put(&CELL_NOMINAL_V, facts.nominal_v, vec![]);
    l.put(&CELL_NEVER_V, facts.never_above_v, vec![]).source(if facts.never_above_v == 4.25 {
        Source::Iec62133
    } else {
        Source::CommonPractice
    });
    let own = |stated: Option<f64>, field: &str, label| {
        stated.map(|v| vec![from_plan(format!("/packs/0/cell/part/{field}"), label, v, Unit::V)])
    };
    let end_v = cell.and_then(|c| c.end_v);
    let full_v = cell.and_then(|c| c.full_v);
    let floor = own(end_v, "end_v", "Stated end of discharge");
    let full = own(full_v, "full_v", "Stated full voltage");
    let source = |stated: bool| {
        if stated { Source::PartSheet } else { Source::CommonPractice }
    };
    l.put(&CELL_FLOOR_V, end_v.unwrap_or(facts.floor_v), floor.unwrap_or_default()).source(source(end_v.is_some()));
    l.put(&CELL_FULL_V, full_v.unwrap_or(facts.full_v), full.unwrap_or_default()).source(source(full_v.is_some()));
}

/// The series count as an input.
pub(super) fn series_input(series: f64) -> Input {
    from_plan("/packs/0/series", "Series count", series, Unit::Count)
}

fn pack_volts(workspace: &mut Workspace<'_>) {
    let Some(series) = workspace.pack.series.map(f64::from) else {
        return;
    };
    for (pack_def, cell_def) in
        [(&FULL_V, &CELL_FULL_V), (&NOMINAL_V, &CELL_NOMINAL_V), (&EMPTY_V, &CELL_CUTOFF_V), (&FLOOR_V, &CELL_FLOOR_V)]
    {
        if let Some(cell_v) = workspace.ledger.value(cell_def) {
            workspace.ledger.put(pack_def, series * cell_v, vec![series_input(series), fig(cell_def)]);
        }
    }
    let second = workspace.line_series().map(|line_series| line_series - series).filter(|more| *more > 0.0);
    for (line_def, pack_def, cell_def) in [
        (&LINE_FULL_V, &FULL_V, &CELL_FULL_V),
        (&LINE_NOMINAL_V, &NOMINAL_V, &CELL_NOMINAL_V),
        (&LINE_EMPTY_V, &EMPTY_V, &CELL_CUTOFF_V),
        (&LINE_FLOOR_V, &FLOOR_V, &CELL_FLOOR_V),
    ] {
        let (Some(pack_v), Some(cell_v)) = (workspace.ledger.value(pack_def), workspace.ledger.value(cell_def)) else {
            continue;
        };
        let mut inputs = vec![fig(pack_def)];
        if let Some(more) = second {
            inputs.push(from_plan("/feed/second/series", "Cells of the other packs", more, Unit::Count));
            inputs.push(fig(cell_def));
        }
        workspace.ledger.put(line_def, pack_v + second.unwrap_or(0.0) * cell_v, inputs);
    }
}

fn converter_needs(workspace: &mut Workspace<'_>) {
    let Some((_, c)) = workspace.converter() else {
        return;
    };
    let at = format!("{}/converts", workspace.module_pointer(NodeKind::Converter));
    let output = from_plan(format!("{at}/output_v"), "Set point", c.output_v, Unit::V);
    if c.topology == Topology::Buck {
        let dropout_v = c.dropout_v.unwrap_or(voltage::BUCK_ROOM_V);
        let room = match c.dropout_v {
            Some(v) => from_plan(format!("{at}/dropout_v"), "Headroom", v, Unit::V),
            None => constant("Headroom, typical", voltage::BUCK_ROOM_V, Unit::V, Source::Assumed),
        };
        let (room_v, min_v) = (c.output_v + dropout_v, c.input_min_v.unwrap_or(0.0));
        if min_v > room_v {
            let input = from_plan(format!("{at}/input_min_v"), "Lowest input", min_v, Unit::V);
            workspace.ledger.put(&CONVERTER_NEEDS_V, min_v, vec![input]);
        } else {
            workspace.ledger.put(&CONVERTER_NEEDS_V, room_v, vec![output, room]);
        }
        // The rule on head room says itself that a typical one is not sure; what else rests on it hardly moves.
        workspace.ledger.mark_firm(CONVERTER_NEEDS_V.id.to_owned());
    } else if let Some(min_v) = c.input_min_v {
        let input = from_plan(format!("{at}/input_min_v"), "Lowest input", min_v, Unit::V);
        workspace.ledger.put(&CONVERTER_NEEDS_V, min_v, vec![input]);
    }
}

fn guards(workspace: &Workspace<'_>) -> Vec<Guard> {
    // Of two packs in series each has to have its own: on the line their thresholds add up.
    let series = workspace.line_series();
    let mut guards = vec![];
    for node in &workspace.line.nodes {
        let Some(module) = node.module() else {
            continue;
        };
        // What current gets past ends nothing.
        if !workspace.all_through(&node.id) {
            continue;
        }
        let who = || module.offer.name.clone();
        if let Some(p) = &module.protects {
            let pack_v = p.over_discharge_v.zip(series).map(|(v, s)| v * s);
            guards.push(Guard { who: who(), pack_v, only_warns: false, own_pack: true });
        }
        if let Some(o) = &module.cuts_off {
            guards.push(Guard { who: who(), pack_v: Some(o.at_v), only_warns: false, own_pack: false });
        }
    }
    if let Some(ready) = workspace.ready().filter(|ready| ready.guarded == Some(true)) {
        guards.push(Guard { who: ready.offer.name.clone(), pack_v: ready.guard_v, only_warns: false, own_pack: true });
    }
    if workspace.converter().is_none()
        && let Some(cutout_v) = workspace.ledger.value(&CUTOUT_V)
    {
        guards.push(Guard { who: "the device".to_owned(), pack_v: Some(cutout_v), only_warns: false, own_pack: false });
    }
    if let Some(module) = workspace.plan.module(NodeKind::Alarm)
        && let Some(alarm) = &module.alarms
    {
        let pack_v = series.map(|s| s * alarm.at_cell_v);
        guards.push(Guard { who: module.offer.name.clone(), pack_v, only_warns: true, own_pack: true });
    }
    guards
}

fn cutoff(workspace: &mut Workspace<'_>) {
    let Some(floor_v) = workspace.ledger.value(&LINE_FLOOR_V) else {
        return;
    };
    let mut inputs = vec![fig(&LINE_FLOOR_V)];
    let mut cutoff_v = floor_v;
    for guard in &workspace.guards {
        cutoff_v = cutoff_v.max(guard.pack_v.unwrap_or(0.0));
    }
    let acting = workspace.guards.iter().filter(|g| !g.only_warns).filter_map(|g| g.pack_v);
    if let Some(guard_v) = acting.reduce(f64::max) {
        workspace.ledger.put(&GUARD_V, guard_v, vec![]);
    }
    let needed = if workspace.converter().is_some() { &CONVERTER_NEEDS_V } else { &LOWEST_V };
    if let Some(needed_v) = workspace.ledger.value(needed) {
        cutoff_v = cutoff_v.max(needed_v);
        inputs.push(fig(needed));
    }
    if workspace.ledger.value(&CUTOUT_V).is_some() && workspace.converter().is_none() {
        inputs.push(fig(&CUTOUT_V));
    }
    workspace.ledger.put(&CUTOFF_V, cutoff_v, inputs);
}

/// The most that stands behind the converter. One that is turned in use goes as far as it can: a step-down one to the
/// voltage of the full line.
fn output_most(workspace: &mut Workspace<'_>) {
    let Some((_, c)) = workspace.converter() else { return };
    let at = format!("{}/converts", workspace.module_pointer(NodeKind::Converter));
    let mut most = (c.output_v, from_plan(format!("{at}/output_v"), "Set point", c.output_v, Unit::V));
    let mut raise = |v: f64, input: Input| {
        if v > most.0 {
            most = (v, input);
        }
    };
    if let Some(read) = &c.set_point_v {
        raise(read.value, from_plan(format!("{at}/set_point_v/value"), "Set point as read", read.value, Unit::V));
    }
    if c.adjustable == Some(true) {
        match (c.output_max_v, c.topology, workspace.ledger.value(&LINE_FULL_V)) {
            (Some(v), ..) => raise(v, from_plan(format!("{at}/output_max_v"), "Most it can be turned to", v, Unit::V)),
            (None, Topology::Buck, Some(full_v)) => raise(full_v, fig(&LINE_FULL_V)),
            _ => {}
        }
    }
    let (most_v, input) = most;
    workspace.ledger.put(&OUTPUT_MOST_V, most_v, vec![input]);
}

fn at_the_device(workspace: &mut Workspace<'_>) {
    let Some(nominal_v) = workspace.ledger.value(&LINE_NOMINAL_V) else {
        return;
    };
    output_most(workspace);
    let feed_v = match workspace.converter() {
        Some((_, c)) => {
            let at = format!("{}/converts/output_v", workspace.module_pointer(NodeKind::Converter));
            workspace.ledger.put(&FEED_V, c.output_v, vec![from_plan(at, "Set point", c.output_v, Unit::V)]);
            c.output_v
        }
        None => {
            workspace.ledger.put(&FEED_V, nominal_v, vec![fig(&LINE_NOMINAL_V)]);
            nominal_v
        }
    };
    let Some(before_v) = workspace.ledger.value(&ORIGINAL_V) else {
        return;
    };
    let kind = workspace.plan.device.kind;
    if matches!(kind, DeviceKind::Motor | DeviceKind::FanOrPump) {
        let change = voltage::motor_change(before_v, feed_v);
        let inputs = || vec![fig(&FEED_V), fig(&ORIGINAL_V)];
        workspace.ledger.put(&SPEED, change.speed, inputs());
        if kind == DeviceKind::FanOrPump {
            workspace.ledger.put(&FAN_CURRENT, change.fan_current, inputs());
            workspace.ledger.put(&FAN_POWER, change.fan_power, inputs());
        }
    }
}
