//! The size of the brick as it is laid, and how it lies in its compartment.

use super::figures;
use super::load::RMS_A;
use super::run::{HOTTEST_USE_C, TIME_S};
use crate::assess::ledger::{FigureDef, Input, fig, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::physics::brick::{HeatPaths, Laid, cell_heat_j_per_k, cuts};

figures! {
    BRICK_X_MM = "brick.x_mm", "Brick, along the length", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    BRICK_Y_MM = "brick.y_mm", "Brick, along the width", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    BRICK_Z_MM = "brick.z_mm", "Brick, along the depth", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    SPARE_MM = "brick.spare_mm", "Least room left at a wall", Mm, "the least of the room left at each wall", Arithmetic;
    CROSSINGS = "brick.crossings", "Strips across the narrowest link", Count, "neighbours of both groups joined by straight strips", Arithmetic;
    STRIPS_MM = "brick.strips_mm", "Strips to cut, together", Mm, "the sum of all strips, each with half its width beyond its outer welds", Arithmetic;
    STRIPS_G = "brick.strips_g", "Mass of the strips", G, "length × width × thickness × layers × density", MetalsHandbook;
    WELDS = "brick.welds", "Welding pulses", Count, "two on each terminal under each layer of each strip", CommonPractice;
    MOST_SHARE = "brick.most_share", "Most loaded cell against an even share", Ratio,
        "Kirchhoff's laws over every cell, every strip from weld to weld, and where the wires sit", CircuitLaw;
    UNEVEN = "brick.uneven", "Most that strips and take-off load one cell beyond its part", Ratio,
        "current of a cell / what its resistance alone would give it", CircuitLaw;
    CELL_HEAT = "cell.heat_j_per_k", "Heat capacity of one cell", JPerK, "mass × 0.95 J/(g K); unstated mass: 2.6 g/cm³", CommonPractice;
    HOTTEST_STEADY_C = "brick.hottest_steady_c", "Hottest cell, running continuously at the RMS current", C,
        "hottest use + steady rise of cells that heat by I²R and conduct to neighbours, strips and the wall", Incropera;
    HOTTEST_C = "brick.hottest_c", "Hottest cell at the end of a run", C,
        "hottest use + rise after the longest run of its band at the RMS current; band: the rise is good to a fifth", Incropera;
}

/// How well the rise is known: nothing is known of the air in the compartment. Assumed.
const RISE_SPREAD: f64 = 0.2;

/// Enters the figures of the brick as laid.
pub fn enter(workspace: &mut Workspace<'_>) {
    let Some(laid) = workspace.laid.take() else { return };
    if laid.suits() {
        geometry(workspace, &laid);
        shared(workspace, &laid);
    }
    workspace.laid = Some(laid);
}

fn geometry(workspace: &mut Workspace<'_>, laid: &Laid<'_>) {
    let merit = laid.merit();
    let at = |field: &str| format!("/packs/0/brick/layout/{field}");
    let counts = [("columns", "Columns"), ("rows", "Rows"), ("layers", "Layers")];
    let lattice: Vec<Input> = counts
        .into_iter()
        .zip(laid.grid.counts)
        .map(|((field, label), n)| from_plan(at(field), label, f64::from(n), Unit::Count))
        .collect();
    if let Some(crossings) = merit.narrowest {
        workspace.ledger.put(&CROSSINGS, crossings as f64, lattice.clone());
    }
    if let Some(strip) = workspace.strip() {
        let cuts = cuts(laid, strip);
        workspace.ledger.put(&STRIPS_MM, cuts.iter().map(|c| c.length_mm).sum(), lattice.clone());
        let inputs = || vec![fig(&STRIPS_MM), fig(&super::brick::ONE_AREA)];
        workspace.ledger.put(&STRIPS_G, cuts.iter().map(|c| c.mass_g).sum(), inputs());
        workspace.ledger.put(&WELDS, cuts.iter().map(|c| f64::from(c.welds)).sum(), vec![fig(&STRIPS_MM)]);
    }
    let Some(fit) = laid.fit() else { return };
    let sizes: [&'static FigureDef; 3] = [&BRICK_X_MM, &BRICK_Y_MM, &BRICK_Z_MM];
    for (def, size_mm) in sizes.into_iter().zip(fit.size_mm) {
        workspace.ledger.put(def, size_mm, lattice.clone());
    }
    workspace.ledger.put(&SPARE_MM, fit.tightest_mm(), lattice);
}

/// How evenly the current is shared, and how warm that makes the cells. No band: readings move it little.
fn shared(workspace: &mut Workspace<'_>, laid: &Laid<'_>) {
    let (Some(sharing), Some(strip)) = (workspace.sharing.clone(), workspace.strip()) else { return };
    let l = &mut workspace.ledger;
    let parallel = from_plan("/packs/0/parallel", "Parallel count", sharing.parallel as f64, Unit::Count);
    let rests_on = || vec![parallel.clone(), fig(&super::cells::PACK_OHM), fig(&super::brick::ONE_AREA)];
    l.put(&MOST_SHARE, sharing.most_loaded().1, rests_on());
    l.put(&UNEVEN, sharing.uneven(), rests_on());
    let (Some(rms_a), Some(cell)) = (l.value(&RMS_A), laid.pack.cell()) else { return };
    let Some(paths) = HeatPaths::of(laid, strip, &sharing, cell.offer.mass_g) else { return };
    l.put(&CELL_HEAT, cell_heat_j_per_k(&cell.size, cell.offer.mass_g), vec![]);
    let heat_w: Vec<f64> = sharing.heat_w_per_a2().into_iter().map(|w| w * rms_a * rms_a).collect();
    let hottest_use_c = workspace.plan.environment.use_max_c;
    let hottest_c = |rise_k: Vec<f64>| hottest_use_c + rise_k.into_iter().fold(0.0, f64::max);
    let rests_on = || vec![fig(&HOTTEST_USE_C), fig(&RMS_A), fig(&MOST_SHARE), fig(&super::cells::PACK_OHM)];
    if let Some(rise_k) = paths.steady_k(&heat_w) {
        l.put(&HOTTEST_STEADY_C, hottest_c(rise_k), rests_on());
    }
    if let Some((time_s, rise_k)) =
        l.get(TIME_S.id).and_then(|run| Some((run.ends().1, paths.after_k(&heat_w, run.ends().1)?)))
        && time_s > 0.0
    {
        let mut inputs = rests_on();
        inputs.extend([fig(&TIME_S), fig(&CELL_HEAT)]);
        let reached_c = hottest_c(rise_k);
        let spread_k = RISE_SPREAD * (reached_c - hottest_use_c);
        l.put(&HOTTEST_C, reached_c, inputs).band(reached_c - spread_k, reached_c + spread_k);
    }
}
