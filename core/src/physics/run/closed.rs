//! How much of the charge can be used, and at what voltage, in closed form.

use crate::base::chemistry::OcvCurve;

/// A discharge at constant current, in closed form.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Discharge {
    /// Share of the rated charge taken out before the loaded voltage meets the cut-off.
    pub usable_share: f64,
    /// Mean voltage of one cell under load.
    pub mean_loaded_v: f64,
}

/// Charge that one cell gives from full until its loaded voltage meets the cut-off.
///
/// V = OCV(SOC - lag) - I R, R constant; SOC 1 is rested after CC/CV to full, 0 is the OCV at the cell's end voltage. `lag` is the state
/// of charge by which the surface of the electrodes runs ahead of their mean: what diffusion keeps back (see `cell`). `full_v` may
/// lie below the curve's top: the cell then starts lower.
pub fn discharge(curve: &OcvCurve, full_v: f64, cutoff_v: f64, cell_a: f64, cell_ohm: f64, lag: f64) -> Discharge {
    let start = curve.soc(full_v);
    let end = (curve.soc(cutoff_v + cell_a * cell_ohm) + lag).min(start);
    let mean_ocv_v = if start > end { curve.mean_v(end - lag, start - lag) } else { curve.ocv_v(start) };
    Discharge { usable_share: start - end, mean_loaded_v: (mean_ocv_v - cell_a * cell_ohm).max(0.0) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::{Chemistry, curve};

    #[test]
    fn more_current_or_more_resistance_never_gives_more_charge() {
        let curve = curve(Chemistry::LiIon);
        let mut before = 2.0;
        for i in 0..40 {
            let share = discharge(curve, 4.2, 3.0, f64::from(i) * 0.5, 0.03, f64::from(i) * 0.01).usable_share;
            assert!(share <= before && (0.0..=1.0).contains(&share));
            before = share;
        }
    }

    #[test]
    fn without_load_and_down_to_the_floor_all_of_it_is_usable() {
        let d = discharge(curve(Chemistry::LiIon), 4.2, 2.5, 0.0, 0.03, 0.0);
        assert!((d.usable_share - 1.0).abs() < 1e-12);
        assert!((3.5..3.9).contains(&d.mean_loaded_v));
    }

    #[test]
    fn sag_beyond_the_cut_off_leaves_nothing() {
        assert_eq!(discharge(curve(Chemistry::LiIon), 4.2, 3.0, 100.0, 0.03, 0.0).usable_share, 0.0);
    }
}
