//! After the charge has ended: where a cell rests, and where its charger begins again.
//!
//! A layered oxide rests a little below its end. Phosphate has a plateau: whatever it was charged to, it falls back to 3.33 to 3.45 V
//! within hours, and a charger made for it begins again below that. Titanate falls back further than an oxide.

use crate::base::chemistry::Chemistry;

/// Voltage at which a cell rests.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rests {
    /// Lowest, after hours.
    pub low_v: f64,
    /// What is told.
    pub usual_v: f64,
    /// Highest, minutes after the end.
    pub high_v: f64,
}

/// How much lower a cell rests than its end of charge, least and most. Common practice, no source.
const OXIDE_LOWER_V: (f64, f64) = (0.02, 0.1);
const TITANATE_LOWER_V: (f64, f64) = (0.05, 0.2);
/// A full phosphate cell at rest, after hours and after minutes. Common practice, no source.
const PHOSPHATE_V: (f64, f64) = (3.33, 3.45);
/// Where a charger begins again, against its end: 4.03 V of 4.20 V. Common practice, no source.
const RESTART_SHARE: f64 = 4.03 / 4.20;
/// The same of one for phosphate: 3.30 V of 3.65 V. Common practice, no source; from memory.
const PHOSPHATE_RESTART_SHARE: f64 = 3.30 / 3.65;

/// Where a cell rests that was charged to `end_v`, where the ending current lifted it by `sag_v`.
pub fn rests(chemistry: Chemistry, end_v: f64, sag_v: f64) -> Rests {
    if chemistry == Chemistry::LiFePo4 {
        let high_v = PHOSPHATE_V.1.min(end_v - OXIDE_LOWER_V.0);
        let low_v = PHOSPHATE_V.0.min(high_v);
        return Rests { low_v, usual_v: (low_v + high_v) / 2.0, high_v };
    }
    let (least_v, most_v) = if chemistry == Chemistry::LiTitanate { TITANATE_LOWER_V } else { OXIDE_LOWER_V };
    let lower_v = sag_v.max(least_v);
    Rests { low_v: end_v - lower_v.max(most_v), usual_v: end_v - lower_v, high_v: end_v - least_v }
}

/// Where a charger that states nothing begins again.
pub fn restart_v(chemistry: Option<Chemistry>, end_v: f64) -> f64 {
    let phosphate = chemistry == Some(Chemistry::LiFePo4);
    end_v * if phosphate { PHOSPHATE_RESTART_SHARE } else { RESTART_SHARE }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 8.05 V on two in series is where one began again (seen once).
    #[test]
    fn a_charger_begins_again_at_about_8_05_v_on_two() {
        assert!((restart_v(Some(Chemistry::LiIon), 8.4) - 8.05).abs() < 0.02);
    }

    /// A full cell must not be charged again at once, whatever it is; phosphate falls back to its plateau from any end.
    #[test]
    fn a_full_cell_rests_above_where_its_charger_begins_again() {
        for chemistry in [Chemistry::LiIon, Chemistry::LiPo, Chemistry::LiHv, Chemistry::LiFePo4, Chemistry::LiTitanate]
        {
            let full_v = chemistry.facts().full_v;
            let r = rests(chemistry, full_v, 0.005);
            assert!(r.low_v <= r.usual_v && r.usual_v <= r.high_v && r.high_v < full_v, "{chemistry:?}: {r:?}");
            assert!(r.usual_v > restart_v(Some(chemistry), full_v), "{chemistry:?}: {r:?}");
        }
        for end_v in [3.65, 3.55, 3.45] {
            let r = rests(Chemistry::LiFePo4, end_v, 0.005);
            assert!(r.low_v == 3.33 && r.high_v <= 3.45, "{end_v}: {r:?}");
        }
    }
}
