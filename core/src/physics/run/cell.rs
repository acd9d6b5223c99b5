//! One cell as an equivalent circuit: an open-circuit curve, a resistance, RC pairs, and diffusion.
//!
//! V = OCV(z − δ) − I R0(z) − Σ v_k, dv_k/dt = −v_k/τ_k + I R_k/τ_k, dz/dt = −I/(3600 Ah). R0 and R_k follow the state of
//! charge. δ is how far the surface of the electrodes runs ahead of their mean: diffusion in a sphere under constant
//! flux (Crank 1975, equation 6.45), whose surface lags by t_d = r²/(15 D) times the rate of charge, in modes of their own
//! times r²/(D λ_n²), tan λ_n = λ_n. So one time, t_d, says how much of the charge a higher current cannot reach, and the
//! voltage falls off at the end as a real cell's do; a resistance alone would not show it.
//!
//! Each step is exact for a current that is constant over it, with R0 and R_k taken at the middle of the step.

use crate::base::chemistry::OcvCurve;
use crate::base::piecewise::Piecewise;

/// Most RC pairs of a cell.
pub const MOST_PAIRS: usize = 4;
const SECONDS_PER_HOUR: f64 = 3600.0;
/// Roots of tan λ = λ.
const ROOTS: [f64; 4] = [4.493_409_457_909_064, 7.725_251_836_937_707, 10.904_121_659_428_9, 14.066_193_912_831_5];
/// Shares of the lag in these modes, 10/λ²; the last takes what those beyond it would have.
const SHARES: [f64; 4] = {
    let [a, b, c] = [10.0 / (ROOTS[0] * ROOTS[0]), 10.0 / (ROOTS[1] * ROOTS[1]), 10.0 / (ROOTS[2] * ROOTS[2])];
    [a, b, c, 1.0 - a - b - c]
};
/// The mean lag of a sphere's surface, r²/(15 D), in the time r²/D.
const MEAN_LAG: f64 = 1.0 / 15.0;

/// A resistor beside a capacitor.
#[derive(Debug, Clone, PartialEq)]
pub struct Pair {
    /// Its resistance over the state of charge, at 25 C.
    pub ohm: Piecewise,
    /// Resistance times capacitance.
    pub tau_s: f64,
}

/// A cell.
#[derive(Debug, Clone)]
pub struct CellModel {
    /// Open-circuit curve.
    pub curve: OcvCurve,
    /// Charge from SOC 1 to 0.
    pub capacity_ah: f64,
    /// Resistance that acts at once, at 25 C.
    pub r0: Piecewise,
    /// RC pairs, at most [`MOST_PAIRS`].
    pub pairs: Vec<Pair>,
    /// Lag of the surface behind the mean, in seconds of the current: t_d = r²/(15 D) at 25 C.
    pub diffusion_s: f64,
    /// Kelvin by which a cell must be colder for its resistance and its lag to double; `None` for one that does not change.
    pub doubles_every_k: Option<f64>,
    /// Share of a charge that can be taken out again.
    pub coulomb_efficiency: f64,
}

/// How a cell stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CellState {
    /// State of charge.
    pub soc: f64,
    /// Voltage of each RC pair.
    pub pair_v: [f64; MOST_PAIRS],
    /// How far each mode of diffusion lets the surface run ahead, as a state of charge.
    pub lag: [f64; 4],
    cell_c: f64,
    /// What resistance and lag have grown by at that temperature.
    cold: f64,
}

impl CellState {
    /// Its temperature.
    pub fn cell_c(&self) -> f64 {
        self.cell_c
    }
}

/// What a step of one length decays to; the same for every cell of a model at one temperature.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pace {
    /// Length of the step.
    pub step_s: f64,
    /// What is left of the voltage of each pair after the step, and on the mean over it.
    pair: [(f64, f64); MOST_PAIRS],
    lag: [f64; 4],
}

impl CellModel {
    /// A cell at rest.
    pub fn rested(&self, soc: f64, cell_c: f64) -> CellState {
        CellState { soc, pair_v: [0.0; MOST_PAIRS], lag: [0.0; 4], cell_c, cold: self.cold(cell_c) }
    }

    /// Brings a cell to a temperature.
    #[inline]
    pub fn warm(&self, state: &mut CellState, cell_c: f64) {
        state.cell_c = cell_c;
        state.cold = self.cold(cell_c);
    }

    /// What resistance and lag grow by at a temperature, against 25 C.
    #[inline]
    fn cold(&self, cell_c: f64) -> f64 {
        self.doubles_every_k.map_or(1.0, |k| 2f64.powf((25.0 - cell_c) / k))
    }

    /// What a step decays to. The modes of diffusion keep their times of 25 C; only how far they lag grows in the cold.
    pub fn pace(&self, step_s: f64) -> Pace {
        let whole_s = self.diffusion_s / MEAN_LAG;
        let mut pair = [(1.0, 1.0); MOST_PAIRS];
        for (left, p) in pair.iter_mut().zip(&self.pairs) {
            let decay = (-step_s / p.tau_s).exp();
            *left = (decay, (1.0 - decay) * p.tau_s / step_s);
        }
        Pace {
            step_s,
            pair,
            lag: ROOTS.map(|root| if whole_s > 0.0 { (-step_s * root * root / whole_s).exp() } else { 0.0 }),
        }
    }

    /// Voltage behind R0: what the terminals would jump to if the current stopped.
    #[inline]
    pub fn behind_v(&self, state: &CellState) -> f64 {
        // Sums of what is nothing take as long as any other.
        let lag: f64 = if self.diffusion_s > 0.0 { state.lag.iter().sum() } else { 0.0 };
        self.curve.extended_v(state.soc - lag) - state.pair_v[..self.pairs.len()].iter().sum::<f64>()
    }

    /// Resistance that acts at once.
    #[inline]
    pub fn r0_ohm(&self, state: &CellState) -> f64 {
        self.r0.at(state.soc) * state.cold
    }

    /// Voltage at the terminals while a current flows; discharge is positive.
    #[inline]
    pub fn terminal_v(&self, state: &CellState, current_a: f64) -> f64 {
        self.behind_v(state) - current_a * self.r0_ohm(state)
    }

    /// Lets a constant current flow for a step. Returns the mean heat of the step: I (OCV(z) − V), which is all that the
    /// chemistry loses but for its small reversible part (Bernardi, Pawlikowski and Newman 1985).
    #[inline]
    pub fn step(&self, state: &mut CellState, current_a: f64, pace: &Pace) -> f64 {
        let cold = state.cold;
        let taken = current_a * pace.step_s / (SECONDS_PER_HOUR * self.capacity_ah);
        let taken = if current_a < 0.0 { taken * self.coulomb_efficiency } else { taken };
        let middle = state.soc - taken / 2.0;
        state.soc -= taken;
        let mut lost_v = current_a * self.r0.at(middle) * cold;
        for ((v, pair), (decay, mean)) in state.pair_v.iter_mut().zip(&self.pairs).zip(&pace.pair) {
            let settles_v = current_a * pair.ohm.at(middle) * cold;
            lost_v += settles_v + (*v - settles_v) * mean;
            *v = settles_v + (*v - settles_v) * decay;
        }
        if self.diffusion_s > 0.0 {
            let before: f64 = state.lag.iter().sum();
            let settles = current_a / (SECONDS_PER_HOUR * self.capacity_ah) * self.diffusion_s * cold;
            for ((lag, share), decay) in state.lag.iter_mut().zip(SHARES).zip(&pace.lag) {
                *lag = settles * share + (*lag - settles * share) * decay;
            }
            let lag = (before + state.lag.iter().sum::<f64>()) / 2.0;
            lost_v += self.curve.extended_v(middle) - self.curve.extended_v(middle - lag);
        }
        current_a * lost_v
    }
}
