//! The open-circuit curve behind a logged discharge: what the cell loses is added back, line by line.
//!
//! Resistance, RC pair and diffusion follow the current alone, not the curve: with them known, each line says at which state of
//! charge its surface is and what it would rest at.

use super::super::cell::CellModel;
use super::super::fit::{Logged, Piece, walk};
use crate::base::chemistry::OcvCurve;

/// Lines that lie within this state of charge, and this voltage, make one point of the curve.
const NEAR_SOC: f64 = 0.008;
const NEAR_V: f64 = 0.015;
/// The slope at the empty end is taken over this state of charge at least.
const END_SOC: f64 = 0.004;
/// Capacity and curve rest on each other: so often they are found again.
const TURNS: u32 = 8;
/// A curve has so many points at least.
const LEAST_POINTS: usize = 5;

/// A point of a curve that lines were drawn together to.
#[derive(Debug, Clone, Copy)]
struct Drawn {
    soc: f64,
    ocv_v: f64,
    lines: f64,
}

impl Drawn {
    fn with(self, other: Drawn) -> Drawn {
        let lines = self.lines + other.lines;
        let mean = |a: f64, b: f64| (a * self.lines + b * other.lines) / lines;
        Drawn { soc: mean(self.soc, other.soc), ocv_v: mean(self.ocv_v, other.ocv_v), lines }
    }
}

/// The model with the capacity and the curve by which it follows the lines; empty is where its open-circuit voltage is those at
/// which the log ends. `None` where the voltage does not fall as a discharge's do.
pub(super) fn behind(start: &CellModel, lines: &[Logged], cell_c: f64) -> Option<CellModel> {
    let ends_v = lines.last()?.voltage_v;
    let piece = Piece { soc: 1.0, lines: lines.to_vec() };
    let mut model = start.clone();
    for _ in 0..TURNS {
        let points = rising(drawn(&model, &piece, cell_c));
        let empty = empty_at(&points, ends_v)?;
        if empty >= 0.5 {
            return None;
        }
        model.capacity_ah *= 1.0 - empty;
    }
    model.curve = whole(rising(drawn(&model, &piece, cell_c)), ends_v)?;
    Some(model)
}

/// What the cell would rest at, from the empty end.
fn drawn(model: &CellModel, piece: &Piece, cell_c: f64) -> Vec<Drawn> {
    let mut points = walk(model, piece, cell_c, |state, line| Drawn {
        soc: state.soc - state.lag.iter().sum::<f64>(),
        ocv_v: line.voltage_v + line.current_a * model.r0_ohm(state) + state.pair_v.iter().sum::<f64>(),
        lines: 1.0,
    });
    points.sort_by(|a, b| a.soc.total_cmp(&b.soc));
    let mut together: Vec<Drawn> = vec![];
    let mut first = None;
    for point in points {
        let near = |f: &Drawn| point.soc - f.soc < NEAR_SOC && (point.ocv_v - f.ocv_v).abs() < NEAR_V;
        match together.last_mut() {
            Some(last) if first.as_ref().is_some_and(near) => *last = last.with(point),
            _ => {
                first = Some(point);
                together.push(point);
            }
        }
    }
    together
}

/// Points whose voltage rises: neighbours that do not are drawn together (pool adjacent violators, Barlow et al. 1972).
fn rising(points: Vec<Drawn>) -> Vec<Drawn> {
    let mut rising: Vec<Drawn> = vec![];
    for mut point in points {
        while let Some(last) =
            rising.last().filter(|last| last.ocv_v + 1e-6 >= point.ocv_v || last.soc + 1e-6 >= point.soc)
        {
            point = last.with(point);
            rising.pop();
        }
        rising.push(point);
    }
    rising
}

/// State of charge at which the voltage is those of the end, carried on with the slope of the empty end.
fn empty_at(points: &[Drawn], ends_v: f64) -> Option<f64> {
    let first = points.first()?;
    let next = points.iter().find(|p| p.soc > first.soc + END_SOC)?;
    let slope = (next.ocv_v - first.ocv_v) / (next.soc - first.soc);
    Some(first.soc - (first.ocv_v - ends_v).max(0.0) / slope)
}

/// The curve from empty to full.
fn whole(points: Vec<Drawn>, ends_v: f64) -> Option<OcvCurve> {
    let mut curve: Vec<(f64, f64)> = vec![(0.0, ends_v)];
    for point in points.iter().filter(|p| p.soc < 1.0) {
        if curve.last().is_some_and(|last| point.soc > last.0 + 1e-6 && point.ocv_v > last.1 + 1e-6) {
            curve.push((point.soc, point.ocv_v));
        }
    }
    let [.., before, last] = curve[..] else { return None };
    let slope = (last.1 - before.1) / (last.0 - before.0);
    curve.push((1.0, last.1 + slope * (1.0 - last.0)));
    if curve.len() < LEAST_POINTS {
        return None;
    }
    OcvCurve::through(curve)
}
