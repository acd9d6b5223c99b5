//! The strips of the series links, and the current a dead short would draw.

use super::cells::PACK_OHM;
use super::figures;
use super::load::PEAK_S;
use super::voltage::{FULL_V, series_input};
use crate::assess::bench::Bench;
use crate::assess::ledger::{fig, from_plan};
use crate::brick;
use crate::quantity::Unit;

figures! {
    LINK_AREA = "strip.area_mm2", "Cross-section of a series link", Mm2, "width × thickness × layers × strips side by side", Arithmetic;
    LINK_OHM = "strip.ohm", "Resistance of one series link", Ohm, "resistivity × length / cross-section", MetalsHandbook;
    LINK_LIMIT_A = "strip.limit_a", "Continuous current of a series link", A,
        "lower of 4.27 A/mm² for nickel (others at equal heat) and a rise of 30 K in still air", CommonPractice;
    LINK_PEAK_A = "strip.peak_a", "Current a series link bears for the peak", A,
        "√(heat capacity × 30 K / (resistivity × time)) × cross-section", MetalsHandbook;
    STRIPS_OHM = "strip.all_ohm", "Resistance of all series links", Ohm, "(series + 1) × one link", CircuitLaw;
    SHORT_A = "pack.short_a", "Short-circuit current of the pack", A, "full volts / (cells at 25 °C + strips)", CircuitLaw;
}

/// Enters the figures of the strips.
pub fn enter(bench: &mut Bench<'_>) {
    if let Some(strip) = bench.strip() {
        let at = |field: &str| format!("/packs/0/strip/part/{field}");
        let size = vec![
            from_plan(at("width_mm"), "Width", strip.width_mm, Unit::Mm),
            from_plan(at("thickness_mm"), "Thickness", strip.thickness_mm, Unit::Mm),
            from_plan(at("layers"), "Layers", f64::from(strip.layers), Unit::Count),
            from_plan(at("side_by_side"), "Strips side by side", f64::from(strip.side_by_side), Unit::Count),
        ];
        let l = &mut bench.ledger;
        l.put(&LINK_AREA, brick::link_area_mm2(strip), size);
        let length = from_plan(at("length_mm"), "Length", strip.length_mm, Unit::Mm);
        l.put(&LINK_OHM, brick::link_ohm(strip), vec![length, fig(&LINK_AREA)]);
        l.put(&LINK_LIMIT_A, brick::link_limit_a(strip), vec![fig(&LINK_AREA)]);
        if let Some(peak_s) = l.value(&PEAK_S) {
            l.put(&LINK_PEAK_A, brick::link_short_time_a(strip, peak_s), vec![fig(&LINK_AREA), fig(&PEAK_S)]);
        }
        if let Some(series) = bench.pack.series.map(f64::from) {
            let all_ohm = (series + 1.0) * brick::link_ohm(strip);
            l.put(&STRIPS_OHM, all_ohm, vec![series_input(series), fig(&LINK_OHM)]);
        }
    }
    let l = &mut bench.ledger;
    if let (Some(full_v), Some(cells_ohm)) = (l.value(&FULL_V), l.value(&PACK_OHM)) {
        let strips_ohm = l.value(&STRIPS_OHM);
        let mut inputs = vec![fig(&FULL_V), fig(&PACK_OHM)];
        if strips_ohm.is_some() {
            inputs.push(fig(&STRIPS_OHM));
        }
        l.put(&SHORT_A, full_v / (cells_ohm + strips_ohm.unwrap_or(0.0)), inputs);
    }
}
