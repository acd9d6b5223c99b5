//! The strips: of a laid brick by the network of its strips and cells, else of one series link as stated; and the
//! current a dead short would draw.

use std::rc::Rc;

use super::cells::PACK_OHM;
use super::figures;
use super::load::PEAK_S;
use super::voltage::{FULL_V, series_input};
use crate::assess::ledger::{Input, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::physics::brick::{self, Sharing};
use crate::plan::Strip;

figures! {
    LINK_AREA = "strip.area_mm2", "Cross-section of a series link", Mm2, "width × thickness × layers × strips side by side", Arithmetic;
    LINK_OHM = "strip.ohm", "Resistance of one series link", Ohm, "resistivity × length / cross-section", MetalsHandbook;
    ONE_AREA = "strip.one_area_mm2", "Cross-section of one strip", Mm2, "width × thickness × layers", Arithmetic;
    ONE_LIMIT_A = "strip.one_limit_a", "Continuous current of one strip", A,
        "lower of 4.27 A/mm² for nickel (others at equal heat) and a rise of 30 K in still air", CommonPractice;
    LARGEST_SHARE = "strip.largest_share", "Largest share of the current in one strip", Share,
        "Kirchhoff's laws over every cell, every strip from weld to weld, and where the wires sit", CircuitLaw;
    JOINT_SHARE = "joint.share", "Share of the current in the wire that joins two pieces", Share,
        "Kirchhoff's laws over every cell, every strip from weld to weld, and where the wires sit", CircuitLaw;
    JOINT_LIMIT_A = "joint.limit_a", "Continuous current of the wire that joins two pieces", A, "as the lead of the pack", CommonPractice;
    LINK_LIMIT_A = "strip.limit_a", "Pack current the strips are rated for", A,
        "laid out: limit of the first strip or joint to reach its own / its share; else lower of 4.27 A/mm² for nickel (others at equal heat) and a rise of 30 K", CommonPractice;
    LINK_PEAK_A = "strip.peak_a", "Pack current the strips are rated for at the peak", A,
        "√(heat capacity × 30 K / (resistivity × time)) × cross-section; laid out: / largest share", MetalsHandbook;
    STRIPS_OHM = "strip.all_ohm", "Resistance of all strips and joints", Ohm,
        "laid out: resistance from lead to lead − cells; else (series + 1) × one link", CircuitLaw;
    SHORT_A = "pack.short_a", "Short-circuit current of the pack", A, "full voltage / (cells at 25 °C + strips)", CircuitLaw;
}

/// Enters the figures of the strips.
pub fn enter(workspace: &mut Workspace<'_>) {
    if let Some(strip) = workspace.strip() {
        match shared(workspace, strip) {
            Some(sharing) => laid(workspace, strip, &sharing),
            None => stated(workspace, strip),
        }
    }
    let l = &mut workspace.ledger;
    if let (Some(full_v), Some(cells_ohm)) = (l.value(&FULL_V), l.value(&PACK_OHM)) {
        let strips_ohm = l.value(&STRIPS_OHM);
        let mut inputs = vec![fig(&FULL_V), fig(&PACK_OHM)];
        if strips_ohm.is_some() {
            inputs.push(fig(&STRIPS_OHM));
        }
        l.put(&SHORT_A, full_v / (cells_ohm + strips_ohm.unwrap_or(0.0)), inputs);
    }
}

/// How the laid brick shares its current: found once, and kept on the bench.
fn shared(workspace: &mut Workspace<'_>, strip: &Strip) -> Option<Rc<Sharing>> {
    if workspace.sharing.is_none() {
        let laid = workspace.laid.as_ref()?;
        let cell_ohm = workspace.ledger.value(&PACK_OHM)? * laid.parallel as f64 / laid.series as f64;
        let take_off = workspace.pack.brick.take_off;
        workspace.sharing = Sharing::of(laid, strip, cell_ohm, workspace.joint_wire(), take_off).map(Rc::new);
    }
    workspace.sharing.clone()
}

fn size(strip: &Strip) -> Vec<Input> {
    let at = |field: &str| format!("/packs/0/strip/part/{field}");
    vec![
        from_plan(at("width_mm"), "Width", strip.width_mm, Unit::Mm),
        from_plan(at("thickness_mm"), "Thickness", strip.thickness_mm, Unit::Mm),
        from_plan(at("layers"), "Layers", f64::from(strip.layers), Unit::Count),
    ]
}

fn laid(workspace: &mut Workspace<'_>, strip: &Strip, sharing: &Sharing) {
    let one = Strip { side_by_side: 1, ..strip.clone() };
    let l = &mut workspace.ledger;
    l.put(&ONE_AREA, brick::link_area_mm2(&one), size(strip));
    l.put(&ONE_LIMIT_A, brick::link_limit_a(&one), vec![fig(&ONE_AREA)]);
    let parallel = from_plan("/packs/0/parallel", "Parallel count", sharing.parallel as f64, Unit::Count);
    let rests_on = || vec![parallel.clone(), fig(&ONE_AREA), fig(&PACK_OHM)];
    if let Some(share) = sharing.largest_share() {
        l.put(&LARGEST_SHARE, share, rests_on());
    }
    if let Some((weakest, pack_a)) = sharing.weakest() {
        let inputs = if sharing.segments[weakest].strip.is_some() {
            vec![fig(&ONE_LIMIT_A), fig(&LARGEST_SHARE)]
        } else {
            l.put(&JOINT_SHARE, sharing.segment_share[weakest].abs(), rests_on());
            l.put(&JOINT_LIMIT_A, sharing.segment_limit_a(weakest), vec![]);
            vec![fig(&JOINT_LIMIT_A), fig(&JOINT_SHARE)]
        };
        l.put(&LINK_LIMIT_A, pack_a, inputs);
    }
    if let Some((peak_s, peak_a)) = l.value(&PEAK_S).and_then(|s| Some((s, sharing.short_time_a(s)?)))
        && peak_s > 0.0
    {
        l.put(&LINK_PEAK_A, peak_a, vec![fig(&ONE_AREA), fig(&LARGEST_SHARE), fig(&PEAK_S)]);
    }
    l.put(&STRIPS_OHM, sharing.joints_ohm, vec![fig(&PACK_OHM), fig(&ONE_AREA)]);
}

/// Before the cells are laid out: one link as it is used, between any two groups and at both ends.
fn stated(workspace: &mut Workspace<'_>, strip: &Strip) {
    let at = |field: &str| format!("/packs/0/strip/part/{field}");
    let side_by_side = f64::from(strip.side_by_side);
    let mut sizes = size(strip);
    sizes.push(from_plan(at("side_by_side"), "Strips side by side", side_by_side, Unit::Count));
    let series = workspace.pack.series.map(f64::from);
    let l = &mut workspace.ledger;
    l.put(&LINK_AREA, brick::link_area_mm2(strip), sizes);
    let length = from_plan(at("length_mm"), "Length", strip.length_mm, Unit::Mm);
    l.put(&LINK_OHM, brick::link_ohm(strip), vec![length, fig(&LINK_AREA)]);
    l.put(&LINK_LIMIT_A, brick::link_limit_a(strip), vec![fig(&LINK_AREA)]);
    if let Some(peak_s) = l.value(&PEAK_S) {
        l.put(&LINK_PEAK_A, brick::link_short_time_a(strip, peak_s), vec![fig(&LINK_AREA), fig(&PEAK_S)]);
    }
    if let Some(series) = series {
        let all_ohm = (series + 1.0) * brick::link_ohm(strip);
        l.put(&STRIPS_OHM, all_ohm, vec![series_input(series), fig(&LINK_OHM)]);
    }
}
