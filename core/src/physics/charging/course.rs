//! The course of a charge: voltage and current over time, and what sets the current in each part.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::{Chemistry, OcvCurve};

const SECONDS_PER_HOUR: f64 = 3600.0;
/// Resistance over the hours of a charge against the DCIR read within seconds: slow diffusion adds to it.
///
/// Assumed: chosen so that eleven charges of six cells, computed with a physics model (`reference/cccv`), are met: to
/// 80 % within 1 %, to full within 8 %. With the 10 s resistance alone full comes up to 13 % too early.
pub const DIFFUSION: f64 = 1.8;
/// So much later than calculated a cell may be full. Assumed: against the physics model it is up to 8 %, against the simulation of
/// the groups, which has the resistance of the path and the warmth as well, up to 12 %.
const LATER_SHARE: f64 = 0.12;
/// The same of phosphate, whose last tenth goes in against a slower diffusion: up to 13 % against the physics model.
const PHOSPHATE_LATER_SHARE: f64 = 0.16;

/// How much later than calculated a cell may be full.
pub fn later_share(chemistry: Chemistry) -> f64 {
    if chemistry == Chemistry::LiFePo4 { PHOSPHATE_LATER_SHARE } else { LATER_SHARE }
}

/// The charge that is called nearly full.
pub const MOST_OF_IT: f64 = 0.8;
/// Equal steps of charge from empty to the end.
const STEPS: u32 = 240;

/// What sets the current.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SetBy {
    /// The charger's careful start, until the cells have come to their sensible end of discharge.
    PreCharge,
    /// The charger's constant current.
    Charger,
    /// What the supply can give.
    Supply,
    /// The cells: the charger holds its end voltage, and they take what their resistance lets in.
    Cells,
}

/// The charge of one cell, from empty.
#[derive(Debug, Clone, Copy)]
pub struct CourseTask<'a> {
    /// Open-circuit curve.
    pub curve: &'a OcvCurve,
    /// Capacity of the cell.
    pub capacity_ah: f64,
    /// DCIR of the cell.
    pub cell_ohm: f64,
    /// What diffusion multiplies it by over the hours.
    pub diffusion: f64,
    /// The charger's current into it.
    pub cell_a: f64,
    /// The charger's end voltage for it.
    pub end_v: f64,
    /// Current at which the charger ends.
    pub ends_a: f64,
    /// Current of a careful start, and the voltage up to which it lasts.
    pub pre: Option<(f64, f64)>,
    /// Power that the supply leaves for this cell.
    pub supply_w: Option<f64>,
}

/// One moment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Moment {
    /// Since the start.
    pub t_s: f64,
    /// At the cell's terminals.
    pub cell_v: f64,
    /// Into the cell.
    pub current_a: f64,
    /// State of charge.
    pub soc: f64,
    /// What sets the current.
    pub set_by: SetBy,
}

/// A part of the charge in which one thing sets the current.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ChargePart {
    /// What sets it.
    pub set_by: SetBy,
    /// When it begins.
    pub from_s: f64,
    /// When it ends.
    pub until_s: f64,
    /// Charge that is in at its end.
    pub until_soc: f64,
}

/// A charge from empty to its end.
#[derive(Debug, Clone, PartialEq)]
pub struct Course {
    /// From the start on, at equal steps of charge.
    pub moments: Vec<Moment>,
    /// What sets the current, part by part.
    pub parts: Vec<ChargePart>,
    /// When 80 % is in; absent when it ends before.
    pub most_s: Option<f64>,
    /// Until the charger holds its voltage.
    pub cc_s: f64,
    /// The whole charge.
    pub full_s: f64,
    /// State of charge at the end.
    pub reached_soc: f64,
}

impl CourseTask<'_> {
    /// Resistance over hours.
    fn slow_ohm(&self) -> f64 {
        self.cell_ohm * self.diffusion
    }

    /// Open-circuit voltage when the charge ends.
    pub fn rests_v(&self) -> f64 {
        self.end_v - self.ends_a.min(self.cell_a) * self.slow_ohm()
    }

    /// Current at a state of charge, and what sets it: the least of what charger, supply and cells let through.
    fn current(&self, ocv_v: f64) -> (f64, SetBy) {
        let ohm = self.slow_ohm();
        let mut least = (self.cell_a, SetBy::Charger);
        if let Some((pre_a, _)) = self.pre.filter(|(a, until_v)| ocv_v + a * ohm < *until_v) {
            least = (pre_a.min(self.cell_a), SetBy::PreCharge);
        }
        if let Some(supply_w) = self.supply_w {
            // I (OCV + I R) = P
            let a = ((ocv_v * ocv_v + 4.0 * ohm * supply_w).sqrt() - ocv_v) / (2.0 * ohm);
            if a < least.0 {
                least = (a, SetBy::Supply);
            }
        }
        let cells_a = (self.end_v - ocv_v) / ohm;
        if cells_a < least.0 { (cells_a, SetBy::Cells) } else { least }
    }
}

/// Charges one cell from empty: CC along OCV + I R, then CV with I = (V - OCV) / R until I falls to the charger's end. R is the DCIR
/// times its diffusion. `None` when nothing flows into an empty cell.
pub fn course(task: &CourseTask<'_>) -> Option<Course> {
    let ends_soc = task.curve.soc(task.rests_v());
    let step = ends_soc / f64::from(STEPS);
    let step_as = step * task.capacity_ah * SECONDS_PER_HOUR;
    let mut course = Course { moments: vec![], parts: vec![], most_s: None, cc_s: 0.0, full_s: 0.0, reached_soc: 0.0 };
    for i in 0..STEPS {
        let soc = (f64::from(i) + 0.5) * step;
        let ocv_v = task.curve.ocv_v(soc);
        let (current_a, set_by) = task.current(ocv_v);
        if step_as <= 0.0 || current_a <= 0.0 {
            break;
        }
        let cell_v = ocv_v + current_a * task.slow_ohm();
        let dt_s = step_as / current_a;
        course.moments.push(Moment { t_s: course.full_s + dt_s / 2.0, cell_v, current_a, soc, set_by });
        let before_s = course.full_s;
        course.full_s += dt_s;
        if set_by != SetBy::Cells {
            course.cc_s = course.full_s;
        }
        let reached = course.reached_soc;
        course.reached_soc = reached + step;
        match course.parts.last_mut().filter(|part| part.set_by == set_by) {
            Some(part) => (part.until_s, part.until_soc) = (course.full_s, course.reached_soc),
            None => {
                let (until_s, until_soc) = (course.full_s, course.reached_soc);
                course.parts.push(ChargePart { set_by, from_s: before_s, until_s, until_soc });
            }
        }
        if course.most_s.is_none() && course.reached_soc >= MOST_OF_IT - 1e-9 {
            course.most_s = Some(before_s + dt_s * (MOST_OF_IT - reached) / step);
        }
    }
    (!course.moments.is_empty()).then_some(course)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::{Chemistry, curve};

    fn task(cell_a: f64, end_v: f64) -> CourseTask<'static> {
        let curve = curve(Chemistry::LiIon);
        CourseTask {
            curve,
            capacity_ah: 2.5,
            cell_ohm: 0.04,
            diffusion: DIFFUSION,
            cell_a,
            end_v,
            ends_a: 0.125,
            pre: None,
            supply_w: None,
        }
    }

    #[test]
    fn a_bigger_charger_is_never_slower_and_lower_end_volts_put_less_in() {
        let of = |a, v| course(&task(a, v)).unwrap();
        assert!(of(2.0, 4.2).cc_s < of(1.0, 4.2).cc_s);
        assert!(of(2.0, 4.2).full_s < of(1.0, 4.2).full_s);
        assert!(of(1.0, 4.1).reached_soc < of(1.0, 4.2).reached_soc);
        assert!(of(1.0, 4.2).most_s.unwrap() < of(1.0, 4.2).full_s);
    }

    /// Charge counted along the course is the capacity times what it reached: nothing is lost on the way.
    #[test]
    fn what_flows_in_is_what_is_in() {
        for pre in [None, Some((0.25, 3.0))] {
            for supply_w in [None, Some(3.0)] {
                let c = course(&CourseTask { pre, supply_w, ..task(1.25, 4.2) }).unwrap();
                let mut in_as = 0.0;
                let mut until_s = 0.0;
                for m in &c.moments {
                    let dt_s = 2.0 * (m.t_s - until_s);
                    (in_as, until_s) = (in_as + m.current_a * dt_s, until_s + dt_s);
                }
                assert!((in_as / 9000.0 - c.reached_soc).abs() < 1e-9 && (until_s - c.full_s).abs() < 1e-6);
            }
        }
    }

    #[test]
    fn each_part_is_set_by_what_lets_least_through() {
        let c = course(&CourseTask { pre: Some((0.25, 3.0)), supply_w: Some(4.0), ..task(1.25, 4.2) }).unwrap();
        let parts: Vec<SetBy> = c.parts.iter().map(|p| p.set_by).collect();
        assert_eq!(parts, [SetBy::PreCharge, SetBy::Charger, SetBy::Supply, SetBy::Cells]);
        assert!(c.moments.iter().all(|m| m.cell_v <= 4.2 + 1e-9 && m.current_a * m.cell_v <= 4.0 + 1e-9));
        assert!(c.moments.iter().filter(|m| m.set_by == SetBy::PreCharge).all(|m| m.cell_v < 3.0));
    }

    /// Rested voltage after the end lies 20 to 100 mV lower (common practice, no source).
    #[test]
    fn after_the_end_a_cell_rests_lower() {
        let lower_v = 4.2 - task(1.25, 4.2).rests_v();
        assert!(lower_v > 0.0 && lower_v < 0.1, "{lower_v}");
    }

    #[test]
    fn nothing_flows_from_end_volts_below_an_empty_cell() {
        assert_eq!(course(&task(1.0, 2.0)), None);
    }
}
