//! What flows when cells of unequal voltage is first joined in parallel.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::{Chemistry, curve};
use crate::base::limit::above;

/// Maximum voltage apart at which cells may be joined. Common practice, no source.
pub const JOIN_WITHIN_V: f64 = 0.05;
/// The same by charge, for a chemistry whose plateau hides it: 5 %. Assumed: what 0.05 V is on a Li-ion curve.
pub const JOIN_WITHIN_SHARE: f64 = 0.05;

/// A cell before its group is joined.
#[derive(Debug, Clone, PartialEq)]
pub struct JoiningCell {
    /// Label.
    pub label: String,
    /// Voltage at rest.
    pub rested_v: f64,
    /// Resistance, with whatever stands for the joint.
    pub resistance_ohm: f64,
    /// Highest charge current of the cell.
    pub charge_a: f64,
}

/// What joining a group does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Equalising {
    /// Voltage the group takes at the first moment.
    pub common_v: f64,
    /// Largest current through a cell at the first moment, into it or out of it.
    pub largest_a: f64,
    /// The cell it flows through.
    pub through: String,
    /// Largest difference of voltage at rest.
    pub apart_v: f64,
    /// Largest difference of charge by the open-circuit curve.
    pub apart_share: f64,
    /// Whether a cell would be charged above its limit.
    pub over_limit: bool,
    /// Cells to bring to the voltage of the others first.
    pub bring_first: Vec<String>,
}

/// Whether a cell rests too far from the middle of the others to be joined: by voltage, on phosphate by charge.
pub(super) fn too_far(rested_v: f64, middle_v: f64, chemistry: Chemistry) -> bool {
    if chemistry == Chemistry::LiFePo4 {
        let ocv = curve(chemistry);
        above((ocv.soc(rested_v) - ocv.soc(middle_v)).abs(), JOIN_WITHIN_SHARE)
    } else {
        above((rested_v - middle_v).abs(), JOIN_WITHIN_V)
    }
}

/// The first moment of joining cells in parallel, all at once.
///
/// V = sum(Vi / Ri) / sum(1 / Ri), Ii = (Vi - V) / Ri (Millman's theorem); for two cells I = dV / (R1 + R2).
/// `None` for fewer than two cells.
pub fn join(cells: &[JoiningCell], chemistry: Chemistry) -> Option<Equalising> {
    if cells.len() < 2 {
        return None;
    }
    let conductance: f64 = cells.iter().map(|c| 1.0 / c.resistance_ohm).sum();
    let common_v = cells.iter().map(|c| c.rested_v / c.resistance_ohm).sum::<f64>() / conductance;
    let current_a = |c: &JoiningCell| (c.rested_v - common_v) / c.resistance_ohm;
    let worst = cells.iter().max_by(|a, b| current_a(a).abs().total_cmp(&current_a(b).abs()))?;
    let ocv = curve(chemistry);
    let mut volts: Vec<f64> = cells.iter().map(|c| c.rested_v).collect();
    volts.sort_by(f64::total_cmp);
    let middle_v = volts[(volts.len() - 1) / 2];
    let (low_v, high_v) = (volts[0], volts[volts.len() - 1]);
    Some(Equalising {
        common_v,
        // Cells of equal volts: what is left is rounding.
        largest_a: if high_v > low_v { current_a(worst).abs() } else { 0.0 },
        through: worst.label.clone(),
        apart_v: high_v - low_v,
        apart_share: ocv.soc(high_v) - ocv.soc(low_v),
        over_limit: cells.iter().any(|c| above(-current_a(c), c.charge_a)),
        bring_first: cells
            .iter()
            .filter(|c| too_far(c.rested_v, middle_v, chemistry))
            .map(|c| c.label.clone())
            .collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn cell(label: &str, rested_v: f64, resistance_ohm: f64) -> JoiningCell {
        JoiningCell { label: label.to_owned(), rested_v, resistance_ohm, charge_a: 2.0 }
    }

    #[test]
    fn three_equal_cells_and_a_low_one_by_hand() {
        // Three at 4.1 V stand as one source of R / 3 against the low one: 0.4 / (0.03 + 0.01) = 10 A into it.
        let cells = [cell("a", 4.1, 0.03), cell("b", 4.1, 0.03), cell("c", 4.1, 0.03), cell("d", 3.7, 0.03)];
        let joined = join(&cells, Chemistry::LiIon).unwrap();
        assert!((joined.largest_a - 10.0).abs() < 1e-9, "{joined:?}");
        assert_eq!((joined.through.as_str(), joined.over_limit), ("d", true));
        assert_eq!(joined.bring_first, ["d"]);
        assert!((joined.apart_v - 0.4).abs() < 1e-12);
    }

    /// Equal within 0.05 V (Li-ion) passes. Common practice, no source.
    #[test]
    fn fifty_millivolts_may_be_joined_and_fifty_one_may_not() {
        let bring = |apart: f64| {
            let cells = [cell("a", 3.8, 0.05), cell("b", 3.8, 0.05), cell("c", 3.8 + apart, 0.05)];
            join(&cells, Chemistry::LiIon).unwrap().bring_first.len()
        };
        assert_eq!((bring(0.05), bring(0.051), bring(-0.051)), (0, 1, 1));
    }

    /// On the plateau of phosphate 20 mV can be tens of percent: judged by charge.
    #[test]
    fn phosphate_is_judged_by_charge() {
        let ocv = curve(Chemistry::LiFePo4);
        let (low_v, high_v) = (ocv.ocv_v(0.45), ocv.ocv_v(0.65));
        assert!(high_v - low_v < JOIN_WITHIN_V, "the case would prove nothing off the plateau");
        let cells = [cell("a", low_v, 0.05), cell("b", low_v, 0.05), cell("c", high_v, 0.05)];
        let joined = join(&cells, Chemistry::LiFePo4).unwrap();
        assert_eq!(joined.bring_first, ["c"]);
        assert!((joined.apart_share - 0.2).abs() < 1e-6);
        assert!(join(&cells[..1], Chemistry::LiFePo4).is_none());
    }

    proptest::proptest! {
        /// Kirchhoff: what flows out of some cells flows into the others; the common voltage lies between the extremes.
        #[test]
        fn the_currents_sum_to_nothing(
            cells in proptest::collection::vec((2000u32..4200, 10u32..200), 2..12),
        ) {
            let cells: Vec<JoiningCell> = cells
                .iter()
                .enumerate()
                .map(|(i, &(mv, mohm))| cell(&i.to_string(), f64::from(mv) / 1000.0, f64::from(mohm) / 1000.0))
                .collect();
            let joined = join(&cells, Chemistry::LiIon).unwrap();
            let current_a = |c: &JoiningCell| (c.rested_v - joined.common_v) / c.resistance_ohm;
            proptest::prop_assert!(cells.iter().map(current_a).sum::<f64>().abs() < 1e-6);
            let volts = cells.iter().map(|c| c.rested_v);
            let (low, high) = volts.fold((f64::INFINITY, 0.0f64), |(l, h), v| (l.min(v), h.max(v)));
            proptest::prop_assert!((low - 1e-9..=high + 1e-9).contains(&joined.common_v));
            let largest = cells.iter().map(|c| current_a(c).abs()).fold(0.0, f64::max);
            proptest::prop_assert!((joined.largest_a - largest).abs() < 1e-9);
        }
    }
}
