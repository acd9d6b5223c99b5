//! One cell with given parameters through given currents, so that solvers can be compared.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use super::cell::{CellModel, MOST_PAIRS, Pair};
use super::warmth::TwoLumps;
use crate::base::chemistry::OcvCurve;
use crate::base::piecewise::Piecewise;
use crate::base::table::LineError;
use crate::plan::FieldError;

/// Most rows that one run gives.
const MOST_ROWS: f64 = 1_000_000.0;
/// Most steps of a profile.
const MOST_STEPS: usize = 100_000;

/// A cell as it is given, in a file of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct GivenCell {
    /// Charge from SOC 1 to 0.
    pub capacity_ah: f64,
    /// State of charge at the start.
    pub soc: f64,
    /// Open-circuit voltage: pairs of SOC and voltage, both rising, from SOC 0 to 1.
    pub ocv: Vec<(f64, f64)>,
    /// Resistance that acts at once.
    pub r0_ohm: f64,
    /// RC pairs: ohms and farads.
    #[serde(default)]
    pub rc: Vec<(f64, f64)>,
    /// Lag of the surface behind the mean.
    #[serde(default)]
    pub diffusion_s: f64,
    /// Where its heat goes.
    pub thermal: GivenWarmth,
}

/// Cell and jig, each one lump.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct GivenWarmth {
    /// Surroundings, and the start.
    pub ambient_c: f64,
    /// Heat capacity of the cell.
    pub cell_j_per_k: f64,
    /// From the cell to what it is clamped in.
    pub cell_jig_w_per_k: f64,
    /// Heat capacity of that.
    pub jig_j_per_k: f64,
    /// From there to the surroundings.
    pub jig_air_w_per_k: f64,
}

/// A current for a time. Discharge is positive.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ProfileStep {
    /// How long.
    pub duration_s: f64,
    /// How much.
    pub current_a: f64,
}

/// One moment of a given cell.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct GivenRow {
    /// Since the start.
    pub time_s: f64,
    /// Discharge is positive.
    pub current_a: f64,
    /// At the terminals.
    pub voltage_v: f64,
    /// State of charge.
    pub soc: f64,
    /// Of the cell.
    pub cell_c: f64,
    /// Of what it is clamped in.
    pub jig_c: f64,
}

/// Why a run of a given cell is refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum GivenError {
    /// The cell's file.
    #[error("{}", .0.iter().map(|e| format!("{}: {}", e.field, e.message)).collect::<Vec<_>>().join("\n"))]
    Cell(Vec<FieldError>),
    /// The currents.
    #[error("{}", .0.iter().map(|e| format!("line {}: {}", e.line, e.reason)).collect::<Vec<_>>().join("\n"))]
    Profile(Vec<LineError>),
    /// The step.
    #[error("{0}")]
    Step(String),
}

impl GivenCell {
    /// The cell, or every field that is out of its range.
    pub fn model(&self) -> Result<CellModel, Vec<FieldError>> {
        let mut errors = vec![];
        let mut within = |field: String, value: f64, low: f64, high: f64| {
            if !(low..=high).contains(&value) {
                errors.push(FieldError { field, message: format!("{value} is outside {low} to {high}") });
            }
        };
        within("capacity_ah".to_owned(), self.capacity_ah, 0.001, 10_000.0);
        within("soc".to_owned(), self.soc, 0.0, 1.0);
        within("r0_ohm".to_owned(), self.r0_ohm, 0.0, 100.0);
        within("rc".to_owned(), self.rc.len() as f64, 0.0, MOST_PAIRS as f64);
        within("diffusion_s".to_owned(), self.diffusion_s, 0.0, 100_000.0);
        for (i, (ohm, farad)) in self.rc.iter().enumerate() {
            within(format!("rc/{i}/0"), *ohm, 1e-9, 100.0);
            within(format!("rc/{i}/1"), *farad, 1e-3, 1e9);
        }
        let t = &self.thermal;
        within("thermal/ambient_c".to_owned(), t.ambient_c, -60.0, 120.0);
        for (field, value) in [("cell_j_per_k", t.cell_j_per_k), ("jig_j_per_k", t.jig_j_per_k)] {
            within(format!("thermal/{field}"), value, 1e-3, 1e7);
        }
        for (field, value) in [("cell_jig_w_per_k", t.cell_jig_w_per_k), ("jig_air_w_per_k", t.jig_air_w_per_k)] {
            within(format!("thermal/{field}"), value, 0.0, 1e4);
        }
        let curve = OcvCurve::through(self.ocv.clone()).filter(|_| self.ocv.iter().all(|p| p.1.is_finite()));
        match curve {
            Some(curve) if errors.is_empty() => Ok(CellModel {
                curve,
                capacity_ah: self.capacity_ah,
                r0: Piecewise::constant(self.r0_ohm),
                pairs: self.rc.iter().map(|&(o, f)| Pair { ohm: Piecewise::constant(o), tau_s: o * f }).collect(),
                diffusion_s: self.diffusion_s,
                doubles_every_k: None,
                coulomb_efficiency: 1.0,
            }),
            Some(_) => Err(errors),
            None => {
                let message = "pairs of SOC and voltage, at least two, both rising, from SOC 0 to 1".to_owned();
                errors.push(FieldError { field: "ocv".to_owned(), message });
                Err(errors)
            }
        }
    }

    /// Lets the currents of a profile flow, with a row at each change and every `step_s`. In between the steps are short enough that
    /// heat and resistance keep up with each other.
    pub fn run(&self, profile: &[ProfileStep], step_s: f64) -> Result<Vec<GivenRow>, GivenError> {
        let model = self.model().map_err(GivenError::Cell)?;
        if !(0.001..=3600.0).contains(&step_s) {
            return Err(GivenError::Step(format!("the step of {step_s} s is outside 0.001 to 3600 s")));
        }
        let count: f64 = profile.iter().map(|p| (p.duration_s / step_s).ceil() + 1.0).sum();
        if count > MOST_ROWS {
            let told = format!("{count} rows; at most {MOST_ROWS} are given: take a longer step");
            return Err(GivenError::Step(told));
        }
        let mut state = model.rested(self.soc, self.thermal.ambient_c);
        let mut lumps = TwoLumps::cold(self.thermal);
        let (mut rows, mut time_s) = (Vec::with_capacity(count as usize), 0.0);
        let longest_s = lumps.longest_s();
        let mut pace = model.pace(step_s.min(longest_s));
        for part in profile {
            let row = |time_s, state: &_, lumps: &TwoLumps| GivenRow {
                time_s,
                current_a: part.current_a,
                voltage_v: model.terminal_v(state, part.current_a),
                soc: state.soc,
                cell_c: lumps.cell_c,
                jig_c: lumps.jig_c,
            };
            rows.push(row(time_s, &state, &lumps));
            // Whole steps, and what is left of one.
            let whole = (part.duration_s / step_s + 1e-9).floor();
            let left_s = part.duration_s - whole * step_s;
            let ends_s = time_s + part.duration_s;
            for (count, length_s) in [(whole, step_s), (1.0, left_s)] {
                if count < 1.0 || length_s <= 1e-9 * step_s {
                    continue;
                }
                let shorter = (length_s / longest_s - 1e-9).ceil().max(1.0);
                if pace.step_s != length_s / shorter {
                    pace = model.pace(length_s / shorter);
                }
                let begins_s = time_s;
                for k in 1..=count as u64 {
                    for _ in 0..shorter as u64 {
                        let heat_w = model.step(&mut state, part.current_a, &pace);
                        lumps.step(heat_w, pace.step_s);
                        model.warm(&mut state, lumps.cell_c);
                    }
                    time_s = (begins_s + k as f64 * length_s).min(ends_s);
                    rows.push(row(time_s, &state, &lumps));
                }
            }
            time_s = ends_s;
        }
        Ok(rows)
    }
}

/// Reads a profile: lines of `duration_s,current_a`, with or without that header.
pub fn read_profile(text: &str) -> Result<Vec<ProfileStep>, Vec<LineError>> {
    let mut steps = vec![];
    let mut errors = vec![];
    let lines = text.trim_start_matches('\u{feff}').lines().enumerate();
    for (i, line) in lines.filter(|(_, line)| !line.trim().is_empty() && !line.starts_with('#')) {
        let cells: Vec<&str> = line.split([',', ';', '\t']).map(str::trim).collect();
        if steps.is_empty() && errors.is_empty() && cells == ["duration_s", "current_a"] {
            continue;
        }
        let numbers: Vec<f64> = cells.iter().filter_map(|c| c.parse().ok()).collect();
        match numbers[..] {
            [duration_s, current_a]
                if duration_s > 0.0 && duration_s <= 1e7 && current_a.abs() <= 10_000.0 && cells.len() == 2 =>
            {
                steps.push(ProfileStep { duration_s, current_a });
            }
            _ => errors.push(LineError {
                line: i + 1,
                reason: format!("“{line}” is not a duration above 0 s and a current within ±10000 A"),
            }),
        }
    }
    if steps.is_empty() && errors.is_empty() {
        errors.push(LineError { line: 1, reason: "there are no currents: duration_s,current_a".to_owned() });
    }
    if steps.len() > MOST_STEPS {
        errors = vec![LineError { line: 1, reason: format!("{} steps; at most {MOST_STEPS}", steps.len()) }];
    }
    if errors.is_empty() { Ok(steps) } else { Err(errors) }
}
