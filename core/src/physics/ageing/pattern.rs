//! How a pack is used: how it lies, how often it is charged and run, how warm it is; and what of it ages a cell.

use crate::base::range::{C_RATE, DEPTH, Range, SOC, TEMPERATURE};
use crate::plan::FieldError;

const KELVIN: f64 = 273.15;
const HOUR_S: f64 = 3600.0;
const DAY_S: f64 = 86_400.0;
/// Between a run and its recharge.
const PAUSE_S: f64 = 1800.0;
/// Pieces that a slope of the charge is cut into.
const PIECES: usize = 12;

/// A run and a charge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cycling {
    /// Days from one to the next.
    pub every_days: f64,
    /// Where it is charged to before the run.
    pub top_soc: f64,
    /// How much of the first capacity a run takes.
    pub dod: f64,
    /// Current of the run over the capacity, 1/h.
    pub discharge_c: f64,
    /// Current of the charge over the capacity, 1/h.
    pub charge_c: f64,
}

/// How a pack is used.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct UsePattern {
    /// State of charge it lies at.
    pub rest_soc: f64,
    /// How warm it is, day and night.
    pub temp_c: f64,
    /// What it does besides lying.
    pub cycling: Option<Cycling>,
}

impl UsePattern {
    /// What cannot be, by field.
    pub fn check(&self) -> Vec<FieldError> {
        let mut errors = vec![];
        let mut hold = |field: &str, value: f64, range: &Range| {
            if let Err(e) = range.check(value) {
                errors.push(FieldError { field: field.to_owned(), message: e.to_string() });
            }
        };
        hold("/rest_soc", self.rest_soc, &SOC);
        hold("/temp_c", self.temp_c, &TEMPERATURE);
        if let Some(cycling) = self.cycling {
            hold("/top_soc", cycling.top_soc, &SOC);
            hold("/dod", cycling.dod, &DEPTH);
            hold("/discharge_c", cycling.discharge_c, &C_RATE);
            hold("/charge_c", cycling.charge_c, &C_RATE);
            if errors.is_empty() && cycling.dod > cycling.top_soc + 1e-9 {
                let message = format!("Depth of discharge: at most what is in it, {}", cycling.top_soc);
                errors.push(FieldError { field: "/dod".to_owned(), message });
            }
        }
        errors
    }

    /// What ages a cell that has such a share of its capacity left: the charge taken each time is the same, its swing of the
    /// state of charge larger.
    pub(super) fn stress(&self, share: f64) -> Stress {
        let kelvin = self.temp_c + KELVIN;
        let Some(cycling) = self.cycling else {
            return Stress::lying(self.rest_soc, kelvin);
        };
        let rest = self.rest_soc;
        let (top, low) = (cycling.top_soc, cycling.top_soc - cycling.dod);
        let slope = |from: f64, to: f64, rate_c: f64| ((to - from).abs() / rate_c * HOUR_S, from, to);
        let up = if top > rest { slope(rest, top, cycling.charge_c) } else { (0.0, rest, top) };
        let mut legs =
            vec![up, slope(top, low, cycling.discharge_c), (PAUSE_S, low, low), slope(low, rest, cycling.charge_c)];
        let busy_s: f64 = legs.iter().map(|l| l.0).sum();
        let period_s = (cycling.every_days * DAY_S).max(busy_s);
        legs.push((period_s - busy_s, rest, rest));
        let swung = |soc: f64| (rest + (soc - rest) / share).clamp(0.0, 1.0);

        let mut at = vec![];
        let (mut moved, mut in_, mut out) = (0.0, (0.0, 0.0), (0.0, 0.0));
        let (mut least, mut most) = (1.0_f64, 0.0_f64);
        for (time_s, from, to) in legs {
            let (from, to) = (swung(from), swung(to));
            least = least.min(from).min(to);
            most = most.max(from).max(to);
            moved += (to - from).abs();
            if to > from {
                in_ = (in_.0 + (to - from), in_.1 + time_s / HOUR_S);
            } else if to < from {
                out = (out.0 + (from - to), out.1 + time_s / HOUR_S);
            }
            let pieces = if from == to { 1 } else { PIECES };
            for i in 0..pieces {
                let middle = (i as f64 + 0.5) / pieces as f64;
                at.push((from + (to - from) * middle, time_s / pieces as f64 / period_s));
            }
        }
        let rate = |(soc, hours): (f64, f64)| if hours > 0.0 { share * soc / hours } else { 0.0 };
        Stress {
            kelvin,
            at,
            dod: most - least,
            low_soc: least,
            high_soc: most,
            charge_c: rate(in_),
            discharge_c: rate(out),
            mean_c: rate((in_.0 + out.0, in_.1 + out.1)),
            full_cycles_a_day: moved / 2.0 * share / (period_s / DAY_S),
        }
    }
}

/// What ages a cell.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Stress {
    /// Temperature.
    pub(super) kelvin: f64,
    /// States of charge, each with its share of the time.
    pub(super) at: Vec<(f64, f64)>,
    /// Swing of the state of charge.
    pub(super) dod: f64,
    /// Lowest state of charge.
    pub(super) low_soc: f64,
    /// Highest.
    pub(super) high_soc: f64,
    /// Current over the first capacity while it is charged, 1/h.
    pub(super) charge_c: f64,
    /// While it is run.
    pub(super) discharge_c: f64,
    /// While any current flows.
    pub(super) mean_c: f64,
    /// Equivalent full cycles of the first capacity a day.
    pub(super) full_cycles_a_day: f64,
}

impl Stress {
    fn lying(soc: f64, kelvin: f64) -> Stress {
        Stress {
            kelvin,
            at: vec![(soc, 1.0)],
            dod: 0.0,
            low_soc: soc,
            high_soc: soc,
            charge_c: 0.0,
            discharge_c: 0.0,
            mean_c: 0.0,
            full_cycles_a_day: 0.0,
        }
    }

    /// Mean over time of what depends on the state of charge.
    pub(super) fn mean(&self, of: impl Fn(f64) -> f64) -> f64 {
        self.at.iter().map(|&(soc, time)| of(soc) * time).sum()
    }
}
