//! Board and fuse: what they carry, when they act, what they drain.

use super::cells::PACK_AH;
use super::figures;
use super::load::{CONTINUOUS_A, PEAK_S};
use crate::assess::bench::Bench;
use crate::assess::ledger::{constant, fig, from_plan};
use crate::plan::{FuseStyle, NodeKind};
use crate::protection;
use crate::quantity::Unit;
use crate::source::Source;

figures! {
    BOARD_A = "board.continuous_a", "Continuous current of the board", A, "as stated", PartSheet;
    TRIP_A = "board.trip_a", "Over-current trip of the board", A, "as stated; ± 20 % unless its error is stated", CommonPractice;
    TRIP_DELAY_S = "board.trip_delay_s", "Delay of the trip", S, "as stated", PartSheet;
    BLEED_A = "board.bleed_a", "Bleed current", A, "as stated", PartSheet;
    UNDER_V = "board.over_discharge_v", "Board opens at, a cell", V, "as stated", PartSheet;
    OVER_V = "board.over_charge_v", "Board ends the charge at, a cell", V, "as stated", PartSheet;
    FUSE_A = "fuse.rating_a", "Rating of the fuse", A, "as stated", PartSheet;
    FUSE_CARRIES_A = "fuse.carries_a", "Current the fuse carries for good", A, "blade: 75 % of the rating; glass: the rating", CommonPractice;
    FUSE_PEAK_A = "fuse.peak_a", "Current the fuse certainly bears for the peak", A, "curve of least opening time", Iso8820;
    FUSE_NEEDED_A = "fuse.needed_a", "Least rating of a blade fuse for this load", A, "continuous current / 75 %", CommonPractice;
    FUSE_DC_V = "fuse.dc_v", "DC volts of the fuse", V, "as stated", PartSheet;
    FUSE_BREAKS_A = "fuse.breaking_a", "Breaking capacity of the fuse", A, "as stated", PartSheet;
    STANDBY_A = "pack.standby_a", "Drain at rest", A, "sum of what is always connected", PartSheet;
    RESERVE_DAYS = "pack.reserve_days", "Days from cut-off to the floor", Days, "2 % of the capacity / drain at rest / 24 h", Assumed;
    FLAT_DAYS = "pack.flat_days", "Days until a full pack is flat at rest", Days, "capacity / drain at rest / 24 h", Arithmetic;
}

/// Enters board, fuse and drain.
pub fn enter(bench: &mut Bench<'_>) {
    board(bench);
    fuse(bench);
    drain(bench);
}

fn board(bench: &mut Bench<'_>) {
    let Some((_, board)) = bench.any_board() else {
        return;
    };
    let at = format!("{}/protects", bench.module_pointer(NodeKind::Board));
    let l = &mut bench.ledger;
    for (def, value, field) in [
        (&BOARD_A, board.continuous_a, "continuous_a"),
        (&TRIP_DELAY_S, board.trip_delay_s, "trip_delay_s"),
        (&BLEED_A, board.bleed_a, "bleed_a"),
        (&UNDER_V, board.over_discharge_v, "over_discharge_v"),
        (&OVER_V, board.over_charge_v, "over_charge_v"),
    ] {
        if let Some(value) = value {
            l.put(def, value, vec![from_plan(format!("{at}/{field}"), def.label, value, def.unit)]);
        }
    }
    if let (Some(trip), Some((low_a, high_a))) = (&board.trip_a, protection::trip_band_a(board)) {
        let input = from_plan(format!("{at}/trip_a/value"), "Trip as stated", trip.value, Unit::A);
        l.put(&TRIP_A, trip.value, vec![input]).band(low_a, high_a);
    }
}

fn fuse(bench: &mut Bench<'_>) {
    let at = format!("{}/part/part/fuse", bench.pointer(NodeKind::Fuse));
    let fuse = bench.line.nodes.iter().find_map(|n| n.fuse());
    let l = &mut bench.ledger;
    if let Some(continuous_a) = l.value(&CONTINUOUS_A) {
        let needed_a = protection::fuse_rating_for_a(FuseStyle::Blade, continuous_a);
        l.put(&FUSE_NEEDED_A, needed_a, vec![fig(&CONTINUOUS_A)]);
    }
    let Some(fuse) = fuse else { return };
    l.put(&FUSE_A, fuse.rating_a, vec![from_plan(format!("{at}/rating_a"), "Rating", fuse.rating_a, Unit::A)]);
    l.put(&FUSE_CARRIES_A, protection::fuse_carries_a(fuse), vec![fig(&FUSE_A)]);
    if let Some(peak_s) = l.value(&PEAK_S) {
        let bears_a = protection::fuse_bears_a(fuse, peak_s);
        let source = if fuse.style == FuseStyle::Blade { Source::Iso8820 } else { Source::Iec60127 };
        l.put(&FUSE_PEAK_A, bears_a, vec![fig(&FUSE_A), fig(&PEAK_S)]).source(source);
    }
    for (def, value, field) in [(&FUSE_DC_V, fuse.dc_v, "dc_v"), (&FUSE_BREAKS_A, fuse.breaking_a, "breaking_a")] {
        if let Some(value) = value {
            l.put(def, value, vec![from_plan(format!("{at}/{field}"), def.label, value, def.unit)]);
        }
    }
}

fn drain(bench: &mut Bench<'_>) {
    let mut inputs = vec![];
    let mut drain_a = 0.0;
    let at_rest = bench.plan.way(NodeKind::Pack, NodeKind::Device, crate::plan::StateName::Rest);
    for (i, node) in bench.plan.nodes.iter().enumerate() {
        let Some(standby_a) = node.module().and_then(|m| m.standby_a).filter(|&a| a > 0.0) else {
            continue;
        };
        // What sits behind an open switch draws nothing; board, cut-off and alarm sit before it.
        let before_switch = matches!(node.kind, NodeKind::Board | NodeKind::CutOff | NodeKind::Alarm);
        if before_switch || at_rest.nodes.iter().any(|n| n.id == node.id) {
            drain_a += standby_a;
            inputs.push(from_plan(format!("/nodes/{i}/part/part/module/standby_a"), "Drain", standby_a, Unit::A));
        }
    }
    if drain_a <= 0.0 {
        return;
    }
    let l = &mut bench.ledger;
    l.put(&STANDBY_A, drain_a, inputs);
    if let Some(ah) = l.value(&PACK_AH) {
        let reserve = constant("Share between cut-off and floor", 0.02, Unit::Share, Source::Assumed);
        let days = protection::drain_days(protection::reserve_ah(ah), drain_a);
        l.put(&RESERVE_DAYS, days, vec![reserve, fig(&PACK_AH), fig(&STANDBY_A)]);
        l.put(&FLAT_DAYS, protection::drain_days(ah, drain_a), vec![fig(&PACK_AH), fig(&STANDBY_A)]);
    }
}
