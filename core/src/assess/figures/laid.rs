//! The size of the brick as it is laid, and how it lies in its compartment.

use super::figures;
use crate::assess::bench::Bench;
use crate::assess::ledger::{FigureDef, Input, from_plan};
use crate::brick::Laid;
use crate::quantity::Unit;

figures! {
    BRICK_X_MM = "brick.x_mm", "Brick, along the length", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    BRICK_Y_MM = "brick.y_mm", "Brick, along the width", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    BRICK_Z_MM = "brick.z_mm", "Brick, along the depth", Mm, "cells and gaps + strips + wrap, padding, shell, wires, board", Arithmetic;
    SPARE_MM = "brick.spare_mm", "Least room left at a wall", Mm, "the least of the room left at each wall", Arithmetic;
    CROSSINGS = "brick.crossings", "Strips across the narrowest link", Count, "neighbours of both groups joined by straight strips", Arithmetic;
    STRIPS_MM = "brick.strips_mm", "Strips to cut, together", Mm, "the sum of all strips from first to last weld", Arithmetic;
}

/// Enters the figures of the brick as laid.
pub fn enter(bench: &mut Bench<'_>, laid: Option<&Laid<'_>>) {
    let Some(laid) = laid.filter(|l| l.suits()) else { return };
    let merit = laid.merit();
    let at = |field: &str| format!("/packs/0/brick/layout/{field}");
    let counts = [("columns", "Columns"), ("rows", "Rows"), ("layers", "Layers")];
    let lattice: Vec<Input> = counts
        .into_iter()
        .zip(laid.grid.counts)
        .map(|((field, label), n)| from_plan(at(field), label, f64::from(n), Unit::Count))
        .collect();
    if let Some(crossings) = merit.narrowest {
        bench.ledger.put(&CROSSINGS, crossings as f64, lattice.clone());
    }
    bench.ledger.put(&STRIPS_MM, merit.strip_mm, lattice.clone());
    let Some(fit) = laid.fit() else { return };
    let sizes: [&'static FigureDef; 3] = [&BRICK_X_MM, &BRICK_Y_MM, &BRICK_Z_MM];
    for (def, size_mm) in sizes.into_iter().zip(fit.size_mm) {
        bench.ledger.put(def, size_mm, lattice.clone());
    }
    bench.ledger.put(&SPARE_MM, fit.tightest_mm(), lattice);
}
