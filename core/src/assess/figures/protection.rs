//! Board and fuse: what they carry, when they act, what they drain.

use super::cells::PACK_AH;
use super::figures;
use super::load::{CONTINUOUS_A, PEAK_A, PEAK_S};
use super::voltage::{GUARD_V, LINE_FLOOR_V};
use crate::assess::figures::local::local;
use crate::assess::ledger::{Input, constant, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::chemistry;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::device::Together;
use crate::physics::protection;
use crate::plan::{Bms, FuseStyle, Module, NodeKind, Step};

figures! {
    BOARD_A = "board.continuous_a", "Continuous current of the board", A, "as stated", PartSheet;
    TRIP_A = "board.trip_a", "Overcurrent trip of the board", A, "as stated, ± 20 % unless its error is stated; else as calculated, from warm to cold", CommonPractice;
    TRIP_COLD_A = "board.trip_cold_a", "Trip calculated from its detector, cold", A, "detection voltage / (2 × on-resistance / pairs); ± its tolerance, 20 % unless stated", CommonPractice;
    TRIP_WARM_A = "board.trip_warm_a", "Trip calculated from its detector, warm", A, "cold trip / 1.4; band: / 1.5 to 1.3, ± tolerance of the detection voltage", CommonPractice;
    PAIRS_NEEDED = "board.pairs_needed", "MOSFET pairs for the largest current", Count, "largest current × 2 × on-resistance × 1.5 / (detection voltage − tolerance), rounded up", CommonPractice;
    TRICKLE_A = "board.trickle_a", "Current of the trickle path", A, "as stated", PartSheet;
    TRIP_DELAY_S = "board.trip_delay_s", "Delay of the trip", S, "as stated", PartSheet;
    BLEED_A = "board.bleed_a", "Bleed current", A, "as stated", PartSheet;
    UNDER_V = "board.over_discharge_v", "Over-discharge cut-off of the board, per cell", V, "as stated", PartSheet;
    OVER_V = "board.over_charge_v", "Overcharge cut-off of the board, per cell", V, "as stated", PartSheet;
    FUSE_A = "fuse.rating_a", "Rating of the fuse", A, "as stated", PartSheet;
    FUSE_CARRIES_A = "fuse.carries_a", "Continuous current of the fuse", A, "share kept in warm air × (blade: 75 % of the rating; glass: the rating)", CommonPractice;
    FUSE_WARM = "fuse.warm_share", "Share of its rating that the fuse keeps in warm air", Share, "1 − 0.2 % per K above 25 °C; time-lag glass 0.5 %; makers' curves, from memory", CommonPractice;
    UNGUARDED_MM = "fuse.unguarded_mm", "Wire between the pack and its fuse", Mm, "sum of the wires before the fuse", Arithmetic;
    FUSE_PEAK_A = "fuse.peak_a", "Current the fuse is sure to hold at the peak", A, "curve of least opening time", Iso8820;
    FUSE_NEEDED_A = "fuse.needed_a", "Least rating of a blade fuse for this load", A, "continuous current / 75 % / share kept in warm air", CommonPractice;
    FUSE_DC_V = "fuse.dc_v", "DC voltage of the fuse", V, "as stated", PartSheet;
    FUSE_BREAKS_A = "fuse.breaking_a", "Breaking capacity of the fuse", A, "as stated", PartSheet;
    STANDBY_A = "pack.standby_a", "Standby drain", A, "sum of what is always connected", PartSheet;
    AFTER_A = "pack.after_cutoff_a", "Drain after a cut-off", A, "sum of what is still connected to the cells: up to what cut off, and the trickle path", PartSheet;
    LEFT_ON_A = "pack.left_on_a", "Drain of a device left switched on and idle", A, "sum of what board, cut-off, converter, alarm, divider and trickle path take, and of the device's idle current", PartSheet;
    LEFT_ON_DAYS = "pack.left_on_days", "Days until a full pack is flat, left switched on", Days, "capacity / drain while it is left on / 24 h", Arithmetic;
    RESERVE = "pack.reserve_share", "Charge left between cut-off and damage limit", Share, "SOC where the first protection opens − SOC at the damage limit, on the OCV curve; at least 2 %", CircuitLaw;
    RESERVE_DAYS = "pack.reserve_days", "Days from cut-off to damage", Days, "reserve × capacity / drain after a cut-off / 24 h", CircuitLaw;
    FLAT_DAYS = "pack.flat_days", "Days until a full pack is flat at rest", Days, "capacity / standby drain / 24 h", Arithmetic;
}

/// Enters board, fuse and drain.
pub fn enter(workspace: &mut Workspace<'_>) {
    board(workspace);
    fuse(workspace);
    drain(workspace);
}

fn board(workspace: &mut Workspace<'_>) {
    let Some((_, board)) = workspace.any_board() else {
        return;
    };
    let at = format!("{}/protects", workspace.module_pointer(NodeKind::Board));
    let l = &mut workspace.ledger;
    for (def, value, field) in [
        (&BOARD_A, board.continuous_a, "continuous_a"),
        (&TRIP_DELAY_S, board.trip_delay_s, "trip_delay_s"),
        (&BLEED_A, board.bleed_a, "bleed_a"),
        (&TRICKLE_A, board.trickle_a, "trickle_a"),
        (&UNDER_V, board.over_discharge_v, "over_discharge_v"),
        (&OVER_V, board.over_charge_v, "over_charge_v"),
    ] {
        if let Some(value) = value {
            l.put(def, value, vec![from_plan(format!("{at}/{field}"), def.label, value, def.unit)]);
        }
    }
    trip(workspace, board, &at);
}

/// The trip as stated; what detector and transistors make of it; how many of them this load would need.
fn trip(workspace: &mut Workspace<'_>, board: &Bms, at: &str) {
    let l = &mut workspace.ledger;
    let inputs = || -> Vec<Input> {
        let detect = board.detect_v.map(|v| from_plan(format!("{at}/detect_v"), "Detection voltage", v, Unit::V));
        let ohm = board.transistor_ohm;
        let ohm =
            ohm.map(|r| from_plan(format!("{at}/transistor_ohm"), "On-resistance per MOSFET (RDS(on))", r, Unit::Ohm));
        let pairs = board.pairs.map(|n| from_plan(format!("{at}/pairs"), "Pairs", f64::from(n), Unit::Count));
        [detect, ohm, pairs].into_iter().flatten().collect()
    };
    let reckoned = protection::reckoned(board);
    if let Some(r) = reckoned {
        l.put(&TRIP_COLD_A, r.cold_a, inputs()).band(r.cold.0, r.cold.1);
        l.put(&TRIP_WARM_A, r.warm_a, vec![fig(&TRIP_COLD_A)]).band(r.warm.0, r.warm.1);
        let largest = [&PEAK_A, &CONTINUOUS_A].into_iter().filter_map(|def| Some((l.value(def)?, def)));
        if let Some((largest_a, def)) = largest.max_by(|a, b| a.0.total_cmp(&b.0))
            && let Some(pairs) = protection::pairs_for(board, largest_a)
        {
            let mut inputs = inputs();
            inputs.push(fig(def));
            l.put(&PAIRS_NEEDED, f64::from(pairs), inputs);
        }
    }
    let Some((low_a, high_a)) = protection::trip_band_a(board) else { return };
    match (&board.trip_a, reckoned) {
        (Some(trip), _) => {
            let input = from_plan(format!("{at}/trip_a/value"), "Trip as stated", trip.value, Unit::A);
            l.put(&TRIP_A, trip.value, vec![input]).band(low_a, high_a);
        }
        (None, Some(r)) => {
            l.put(&TRIP_A, r.warm_a, vec![fig(&TRIP_WARM_A), fig(&TRIP_COLD_A)]).band(low_a, high_a);
        }
        (None, None) => {}
    }
}

fn fuse(workspace: &mut Workspace<'_>) {
    let at = format!("{}/part/part/fuse", workspace.pointer(NodeKind::Fuse));
    let node = workspace.line.nodes.iter().copied().find(|n| n.fuse().is_some());
    let fuse = node.and_then(|n| n.fuse());
    // What flows where it sits, or would: a fuse belongs at the pack.
    let continuous = node.map_or(&CONTINUOUS_A, |n| local(workspace, &n.id).continuous);
    let air_c = workspace.air_c();
    let air = || from_plan("/environment/use_max_c", "Hottest use", air_c, Unit::C);
    let unguarded = unguarded_mm(workspace);
    let l = &mut workspace.ledger;
    if let Some(continuous_a) = l.value(continuous) {
        let needed_a = protection::fuse_rating_for_a(FuseStyle::Blade, continuous_a, air_c);
        l.put(&FUSE_NEEDED_A, needed_a, vec![fig(continuous), air()]);
    }
    let Some(fuse) = fuse else { return };
    l.put(&FUSE_A, fuse.rating_a, vec![from_plan(format!("{at}/rating_a"), "Rating", fuse.rating_a, Unit::A)]);
    l.put(&FUSE_WARM, protection::fuse_warm_share(fuse.style, air_c), vec![air()]);
    l.put(&FUSE_CARRIES_A, protection::fuse_carries_a(fuse, air_c), vec![fig(&FUSE_A), fig(&FUSE_WARM)]);
    if let Some((unguarded_mm, inputs)) = unguarded {
        l.put(&UNGUARDED_MM, unguarded_mm, inputs);
    }
    if let Some(peak_s) = l.value(&PEAK_S) {
        let rated_a = protection::fuse_withstands_a(fuse, peak_s, air_c);
        let source = if fuse.style == FuseStyle::Blade { Source::Iso8820 } else { Source::Iec60127 };
        l.put(&FUSE_PEAK_A, rated_a, vec![fig(&FUSE_A), fig(&PEAK_S)]).source(source);
    }
    for (def, value, field) in [(&FUSE_DC_V, fuse.dc_v, "dc_v"), (&FUSE_BREAKS_A, fuse.breaking_a, "breaking_a")] {
        if let Some(value) = value {
            l.put(def, value, vec![from_plan(format!("{at}/{field}"), def.label, value, def.unit)]);
        }
    }
}

/// Wires between the pack and its fuse: nothing ends a short there.
fn unguarded_mm(workspace: &Workspace<'_>) -> Option<(f64, Vec<Input>)> {
    let before =
        workspace.line.steps.iter().take_while(|step| !matches!(step, Step::Node(node) if node.fuse().is_some()));
    let wires = before.filter_map(|step| match step {
        Step::Connection(run) if run.wire.part().is_some() => {
            let i = workspace.plan.connections.iter().position(|r| r.id == run.id)?;
            Some((run.length_mm?, format!("/runs/{i}/length_mm")))
        }
        _ => None,
    });
    let found: Vec<_> = wires.collect();
    let inputs = found.iter().map(|(mm, at)| from_plan(at.clone(), "Length", *mm, Unit::Mm)).collect();
    (!found.is_empty()).then(|| (found.iter().map(|(mm, _)| mm).sum(), inputs))
}

/// Ids of what stays connected to the cells when the discharge is cut off: everything up to what opens first, and what
/// sits on the taps. `None` where nothing on the line opens.
fn before_the_cut<'a>(workspace: &Workspace<'a>) -> Option<Vec<&'a str>> {
    let series = f64::from(workspace.pack.series.unwrap_or(1));
    let opens_v = |m: &Module| {
        let by_board = m.protects.as_ref().and_then(|p| p.over_discharge_v).map(|v| v * series);
        let by_cut_off = m.cuts_off.as_ref().map(|c| c.at_v);
        by_board.into_iter().chain(by_cut_off).reduce(f64::max)
    };
    let opening = workspace.line.nodes.iter().enumerate().filter_map(|(i, n)| Some((opens_v(n.module()?)?, i)));
    let (_, last) = opening.max_by(|a, b| a.0.total_cmp(&b.0).then(b.1.cmp(&a.1)))?;
    let on_taps = workspace.plan.nodes.iter().filter(|n| matches!(n.kind, NodeKind::Alarm | NodeKind::Board));
    Some(workspace.line.nodes[..=last].iter().map(|n| n.id.as_str()).chain(on_taps.map(|n| n.id.as_str())).collect())
}

/// What flows while the switch is closed and nothing is done with the device; entered once the divider is.
pub fn left_on(workspace: &mut Workspace<'_>) {
    let mut parts: Vec<(f64, Input)> = vec![];
    for (i, node) in workspace.plan.nodes.iter().enumerate() {
        let on_cells = matches!(node.kind, NodeKind::Board | NodeKind::CutOff | NodeKind::Alarm);
        let on_line = workspace.line.nodes.iter().any(|n| n.id == node.id);
        if workspace.plan.is_seen_before(i) {
            continue;
        }
        if let Some(standby_a) = node.module().and_then(|m| m.standby_a).filter(|a| *a > 0.0 && (on_cells || on_line)) {
            let at = format!("/nodes/{i}/part/part/module/standby_a");
            parts.push((standby_a, from_plan(at, "Drain", standby_a, Unit::A)));
        }
    }
    let l = &workspace.ledger;
    for def in [&super::feed::DRAIN_A, &TRICKLE_A, &super::load::BESIDE_A] {
        parts.extend(l.value(def).filter(|a| *a > 0.0).map(|a| (a, fig(def))));
    }
    if let Some(idle) = workspace.plan.device.proving.idle_a.as_ref().filter(|idle| idle.value > 0.0) {
        // Read at the device; behind a converter the battery gives the power, not the current.
        let factor = workspace.converter().and_then(|(_, c)| {
            Some(c.output_v / (l.value(&super::converter::EFFICIENCY)? * l.value(&super::voltage::LINE_NOMINAL_V)?))
        });
        let at = "/device/proving/idle_a/value";
        parts.push((
            idle.value * factor.unwrap_or(1.0),
            from_plan(at, "Idle current of the device", idle.value, Unit::A),
        ));
    }
    if parts.is_empty() {
        return;
    }
    let left_on_a: f64 = parts.iter().map(|(a, _)| a).sum();
    let l = &mut workspace.ledger;
    l.put(&LEFT_ON_A, left_on_a, parts.into_iter().map(|(_, input)| input).collect());
    if let Some(ah) = l.value(&super::cells::LINE_AH) {
        let inputs = vec![fig(&super::cells::LINE_AH), fig(&LEFT_ON_A)];
        l.put(&LEFT_ON_DAYS, protection::drain_days(ah, left_on_a), inputs);
    }
}

/// Least charge that is used between a cut-off and the floor. Assumed.
const LEAST_RESERVE: f64 = 0.02;

/// Charge that is left when the highest guard has acted: under load it acted early, so that it is this or more.
fn reserve_share(workspace: &Workspace<'_>) -> Option<f64> {
    let l = &workspace.ledger;
    let series = workspace.line_series()?;
    let curve = chemistry::curve(workspace.pack.chemistry?);
    let (guard_v, floor_v) = (l.value(&GUARD_V)?, l.value(&LINE_FLOOR_V)?);
    Some((curve.soc(guard_v / series) - curve.soc(floor_v / series)).max(LEAST_RESERVE))
}

fn drain(workspace: &mut Workspace<'_>) {
    let (mut inputs, mut after) = (vec![], vec![]);
    let (mut drain_a, mut after_a) = (0.0, 0.0);
    let at_rest = workspace.plan.path(NodeKind::Pack, NodeKind::Device, crate::plan::StateName::Rest);
    let before_cut = before_the_cut(workspace);
    for (i, node) in workspace.plan.nodes.iter().enumerate() {
        let Some(standby_a) = node.module().and_then(|m| m.standby_a).filter(|&a| a > 0.0) else {
            continue;
        };
        if workspace.plan.is_seen_before(i) {
            continue;
        }
        // What sits behind an open switch draws nothing; board, cut-off and alarm sit before it.
        let before_switch = matches!(node.kind, NodeKind::Board | NodeKind::CutOff | NodeKind::Alarm);
        if !before_switch && !at_rest.nodes.iter().any(|n| n.id == node.id) {
            continue;
        }
        let input = || from_plan(format!("/nodes/{i}/part/part/module/standby_a"), "Drain", standby_a, Unit::A);
        drain_a += standby_a;
        inputs.push(input());
        if before_cut.as_ref().is_none_or(|ids| ids.contains(&node.id.as_str())) {
            after_a += standby_a;
            after.push(input());
        }
    }
    let always = Together::of(workspace.plan.feed.beside.iter().filter(|b| b.always));
    if let Some(volts) = workspace.ledger.value(&super::voltage::LINE_NOMINAL_V).filter(|_| !always.is_nothing()) {
        let draws = workspace.beside_inputs(|b| b.always);
        drain_a += always.at_a(volts);
        after_a += always.at_a(volts);
        inputs.extend(draws.iter().cloned());
        after.extend(draws);
    }
    let by_curve = reserve_share(workspace);
    let share = by_curve.unwrap_or(LEAST_RESERVE);
    let l = &mut workspace.ledger;
    let ah = l.value(&PACK_AH);
    if drain_a > 0.0 {
        l.put(&STANDBY_A, drain_a, inputs);
        if let Some(ah) = ah {
            l.put(&FLAT_DAYS, protection::drain_days(ah, drain_a), vec![fig(&PACK_AH), fig(&STANDBY_A)]);
        }
    }
    if let Some(trickle_a) = l.value(&TRICKLE_A).filter(|a| *a > 0.0) {
        after_a += trickle_a;
        after.push(fig(&TRICKLE_A));
    }
    if after_a > 0.0 {
        l.put(&AFTER_A, after_a, after);
        if let Some(ah) = ah {
            let days = protection::drain_days(share * ah, after_a);
            let mut inputs = vec![fig(&PACK_AH), fig(&AFTER_A)];
            match by_curve {
                Some(_) => inputs.insert(0, fig(&RESERVE)),
                None => {
                    inputs.insert(
                        0,
                        constant("Share between cut-off and damage limit", LEAST_RESERVE, Unit::Share, Source::Assumed),
                    );
                }
            }
            if let Some(share) = by_curve {
                l.put(&RESERVE, share, vec![fig(&GUARD_V), fig(&LINE_FLOOR_V)]);
            }
            l.put(&RESERVE_DAYS, days, inputs);
        }
    }
}
