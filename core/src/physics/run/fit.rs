//! Fits a cell's parameters to what was logged of it: a discharge, or pulses.
//!
//! Least squares over time, by the simplex of Nelder and Mead (1965, Comput. J. 7, 308), which needs no derivatives and
//! always gives the same answer.

use super::cell::{CellModel, CellState};

/// Longest step while a log is followed: R0 hardly changes in it.
const STEP_S: f64 = 60.0;
/// How often the fit may try.
const TRIES: u32 = 400;
/// A fit ends when its corners agree to this share.
const AGREES: f64 = 1e-4;

/// One line of a log. Discharge is positive.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Logged {
    /// Since the start.
    pub time_s: f64,
    /// Current since the line before.
    pub current_a: f64,
    /// Voltage at the terminals.
    pub voltage_v: f64,
}

/// A part of a log that begins at rest.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// State of charge at its start.
    pub soc: f64,
    /// Its lines.
    pub lines: Vec<Logged>,
}

/// What a fit may change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Free {
    /// Capacity.
    Capacity,
    /// R0 and with it its pairs, by one factor.
    Resistance,
    /// Resistance of the pairs, by one factor.
    PairResistance,
    /// Time of the pairs, by one factor.
    PairTime,
    /// Lag of diffusion.
    Diffusion,
}

impl Free {
    fn times(self, model: &mut CellModel, factor: f64) {
        let pairs = |model: &mut CellModel| model.pairs.iter_mut().for_each(|p| p.ohm = p.ohm.times(factor));
        match self {
            Free::Capacity => model.capacity_ah *= factor,
            Free::Resistance => {
                model.r0 = model.r0.times(factor);
                pairs(model);
            }
            Free::PairResistance => pairs(model),
            Free::PairTime => model.pairs.iter_mut().for_each(|p| p.tau_s *= factor),
            Free::Diffusion => model.diffusion_s *= factor,
        }
    }
}

/// Voltage of the model at each line of a piece, at one temperature.
pub fn follow(model: &CellModel, piece: &Piece, cell_c: f64) -> Vec<f64> {
    walk(model, piece, cell_c, |state, line| model.terminal_v(state, line.current_a))
}

/// What is to be said of the model's state at each line of a piece, at one temperature.
pub(super) fn walk<T>(
    model: &CellModel,
    piece: &Piece,
    cell_c: f64,
    says: impl Fn(&CellState, &Logged) -> T,
) -> Vec<T> {
    let mut state = model.rested(piece.soc, cell_c);
    let mut time_s = piece.lines.first().map_or(0.0, |l| l.time_s);
    let mut pace = model.pace(STEP_S);
    let at = |line: &Logged| {
        while line.time_s > time_s {
            let step_s = (line.time_s - time_s).min(STEP_S);
            if step_s != pace.step_s {
                pace = model.pace(step_s);
            }
            model.step(&mut state, line.current_a, &pace);
            time_s = if step_s == STEP_S { time_s + step_s } else { line.time_s };
        }
        says(&state, line)
    };
    piece.lines.iter().map(at).collect()
}

/// Root mean square of the voltage by which a model misses pieces, each line weighted by the time it stands for, each
/// piece alike.
pub fn error_v(model: &CellModel, pieces: &[Piece], cell_c: f64) -> f64 {
    let of = |piece: &Piece| {
        let lines = &piece.lines;
        let volts = follow(model, piece, cell_c);
        let (mut sum, mut over_s) = (0.0, 0.0);
        for (i, (line, v)) in lines.iter().zip(volts).enumerate() {
            let (before, after) = (lines[i.saturating_sub(1)], lines[(i + 1).min(lines.len() - 1)]);
            let weight_s = (after.time_s - before.time_s) / 2.0;
            sum += weight_s * (v - line.voltage_v).powi(2);
            over_s += weight_s;
        }
        if over_s > 0.0 { sum / over_s } else { 0.0 }
    };
    (pieces.iter().map(of).sum::<f64>() / pieces.len().max(1) as f64).sqrt()
}

/// The model changed in what is free until it misses the pieces least; and by how much it still misses them.
///
/// What is free is held to its start by so many volts: to be 2.7 times as large or as small it must gain as much. Nothing
/// holds it where they are 0.
pub fn fit(start: &CellModel, pieces: &[Piece], cell_c: f64, free: &[(Free, f64)]) -> (CellModel, f64) {
    let model_at = |factors: &[f64]| {
        let mut model = start.clone();
        // By logarithms, so that no factor becomes negative.
        free.iter().zip(factors).for_each(|((what, _), log)| what.times(&mut model, log.exp()));
        model
    };
    let best = least(free.len(), |factors| {
        let held = free.iter().zip(factors).map(|((_, held_v), log)| (held_v * log).powi(2)).sum::<f64>();
        error_v(&model_at(factors), pieces, cell_c).powi(2) + held
    });
    let model = model_at(&best);
    let missed_v = error_v(&model, pieces, cell_c);
    (model, missed_v)
}

/// Where a function of some numbers is least, near nothing.
pub(super) fn least(count: usize, cost: impl Fn(&[f64]) -> f64) -> Vec<f64> {
    /// Size of the first simplex: a factor of 1.6.
    const FIRST: f64 = 0.5;
    let valued = |at: Vec<f64>| (cost(&at), at);
    let mut corners = vec![valued(vec![0.0; count])];
    corners.extend((0..count).map(|i| valued((0..count).map(|k| if k == i { FIRST } else { 0.0 }).collect())));
    for _ in 0..TRIES {
        corners.sort_by(|a, b| a.0.total_cmp(&b.0));
        let (best_cost, worst) = (corners[0].0, corners[count].clone());
        if (worst.0 - best_cost).abs() <= AGREES * best_cost.abs() {
            break;
        }
        let middle: Vec<f64> =
            (0..count).map(|k| corners[..count].iter().map(|c| c.1[k]).sum::<f64>() / count as f64).collect();
        let beyond = |by: f64| valued(middle.iter().zip(&worst.1).map(|(m, w)| m + by * (m - w)).collect());
        let mirrored = beyond(1.0);
        let taken = if mirrored.0 < best_cost {
            let further = beyond(2.0);
            if further.0 < mirrored.0 { further } else { mirrored }
        } else if mirrored.0 < corners[count.saturating_sub(1)].0 {
            mirrored
        } else {
            beyond(if mirrored.0 < worst.0 { 0.5 } else { -0.5 })
        };
        if taken.0 < worst.0 {
            corners[count] = taken;
        } else {
            let best = corners[0].1.clone();
            for corner in &mut corners[1..] {
                *corner = valued(corner.1.iter().zip(&best).map(|(x, b)| (x + b) / 2.0).collect());
            }
        }
    }
    corners.into_iter().min_by(|a, b| a.0.total_cmp(&b.0)).map_or_else(|| vec![0.0; count], |c| c.1)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The valley of Rosenbrock (1960), least at (1, 1).
    #[test]
    fn the_simplex_walks_down_a_bent_valley() {
        let at = least(2, |x| 1e-9 + (1.0 - x[0]).powi(2) + 100.0 * (x[1] - x[0] * x[0]).powi(2));
        assert!((at[0] - 1.0).abs() < 1e-2 && (at[1] - 1.0).abs() < 1e-2, "{at:?}");
    }
}
