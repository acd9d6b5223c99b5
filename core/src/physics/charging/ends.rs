//! End voltage of a cell: what a lower end costs in charge, and what it gains in life.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::{Chemistry, OcvCurve};

/// Distance of the choices, and how many there are.
const STEP_V: f64 = 0.05;
const CHOICES: u32 = 5;
/// Each of these below full about doubles the cycles of a layered-oxide cell. Common practice, no source.
const DOUBLES_V: f64 = 0.1;

/// One choice.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct EndVolts {
    /// End of charge of a cell.
    pub cell_v: f64,
    /// Charge against that of a cell charged to full.
    pub kept_share: f64,
    /// Charge that is left out.
    pub lost_share: f64,
    /// Cycles against those of a cell charged to full; absent where no rule of thumb is known.
    pub lives: Option<f64>,
}

/// Cycles against those of a cell charged to full: they double for each 0.1 V lower, a rule for cells with layered oxides
/// only.
pub fn lives(chemistry: Chemistry, full_v: f64, end_v: f64) -> Option<f64> {
    let layered = matches!(chemistry, Chemistry::LiIon | Chemistry::LiPo | Chemistry::LiHv);
    layered.then(|| 2f64.powf((full_v - end_v) / DOUBLES_V))
}

/// Charge and life for ends from full downwards. `sag_v` is what the last current loses in the cell.
///
/// Share = SOC(end - sag) / SOC(full - sag) on the open-circuit curve.
pub fn ends(curve: &OcvCurve, chemistry: Chemistry, full_v: f64, sag_v: f64) -> Vec<EndVolts> {
    let whole = curve.soc(full_v - sag_v);
    (0..CHOICES)
        .map(|i| {
            let lower_v = f64::from(i) * STEP_V;
            let kept_share = curve.soc(full_v - lower_v - sag_v) / whole;
            let lives = lives(chemistry, full_v, full_v - lower_v);
            EndVolts { cell_v: full_v - lower_v, kept_share, lost_share: 1.0 - kept_share, lives }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::curve;

    fn lost(chemistry: Chemistry, cell_v: f64) -> f64 {
        let all = ends(curve(chemistry), chemistry, chemistry.facts().full_v, 0.0);
        all.iter().find(|e| (e.cell_v - cell_v).abs() < 1e-9).unwrap().lost_share
    }

    /// 4.10 V cost 8 to 12 %, 4.00 V 18 to 25 % (common practice, no source); phosphate loses next to nothing 0.2 V below full.
    #[test]
    fn a_lower_end_costs_what_makers_reckon_with() {
        for chemistry in [Chemistry::LiIon, Chemistry::LiPo] {
            assert!((0.08..=0.12).contains(&lost(chemistry, 4.10)), "{chemistry:?} {}", lost(chemistry, 4.10));
            assert!((0.18..=0.255).contains(&lost(chemistry, 4.00)), "{chemistry:?} {}", lost(chemistry, 4.00));
        }
        assert!(lost(Chemistry::LiFePo4, 3.45) < 0.02);
    }

    #[test]
    fn a_lower_end_never_holds_more_nor_lives_shorter() {
        for chemistry in [Chemistry::LiIon, Chemistry::LiPo, Chemistry::LiHv, Chemistry::LiTitanate, Chemistry::NaIon] {
            let all = ends(curve(chemistry), chemistry, chemistry.facts().full_v, 0.01);
            assert!(all.windows(2).all(|w| w[1].kept_share <= w[0].kept_share && w[1].lives >= w[0].lives));
            assert!((all[0].kept_share - 1.0).abs() < 1e-12);
        }
    }
}
