//! Bringing groups level: what their rested voltage says of their charge, how much must move, and by which school.
//!
//! Voltage are judged by the charge they stand for: on a flat plateau a reading says little, and the band says so.

mod schools;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::OcvCurve;
use crate::plan::Known;

pub use schools::{HOBBY_A, LevelWay, Leveller, Task, ways};

/// What the rested voltage of one group say.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct GroupCharge {
    /// As read.
    pub rested_v: f64,
    /// State of charge.
    pub soc: f64,
    /// Lowest and highest that the error of the reading leaves open.
    pub soc_low: f64,
    /// Highest.
    pub soc_high: f64,
    /// Charge above the emptiest group.
    pub above_ah: f64,
}

/// All groups, and what must move.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Spread {
    /// Group by group from pack minus.
    pub groups: Vec<GroupCharge>,
    /// Difference of the fullest and the emptiest in voltage.
    pub apart_v: f64,
    /// The same in charge.
    pub apart_ah: f64,
    /// Least and most that the errors leave open.
    pub apart_low_ah: f64,
    /// Most.
    pub apart_high_ah: f64,
    /// Charge that must leave all groups together for them to come level with the emptiest.
    pub to_move_ah: f64,
}

/// State of charge by voltage at rest on the OCV curve, with what an error either way leaves open; differences against the
/// emptiest group. `capacity_ah` is that of a group. `None` without two groups.
///
/// Q_i = (SOC_i - SOC_min) C. The curve is that of the chemistry: another cell's differs by some percent, the same way for all groups.
pub fn spread(curve: &OcvCurve, rested: &[Known], capacity_ah: f64) -> Option<Spread> {
    if rested.len() < 2 {
        return None;
    }
    let least = rested.iter().map(|r| beyond_the_ends(curve, r.value)).fold(f64::INFINITY, f64::min);
    let group = |r: &Known| {
        let (low_v, high_v) = r.band();
        let soc = beyond_the_ends(curve, r.value);
        GroupCharge {
            rested_v: r.value,
            soc,
            soc_low: beyond_the_ends(curve, low_v),
            soc_high: beyond_the_ends(curve, high_v),
            above_ah: (soc - least) * capacity_ah,
        }
    };
    let groups: Vec<GroupCharge> = rested.iter().map(group).collect();
    let most = |pick: fn(&GroupCharge) -> f64| groups.iter().map(pick).fold(f64::NEG_INFINITY, f64::max);
    let fewest = |pick: fn(&GroupCharge) -> f64| groups.iter().map(pick).fold(f64::INFINITY, f64::min);
    Some(Spread {
        apart_v: most(|g| g.rested_v) - fewest(|g| g.rested_v),
        apart_ah: most(|g| g.above_ah),
        apart_low_ah: (most(|g| g.soc_low) - fewest(|g| g.soc_high)).max(0.0) * capacity_ah,
        apart_high_ah: (most(|g| g.soc_high) - fewest(|g| g.soc_low)) * capacity_ah,
        to_move_ah: groups.iter().map(|g| g.above_ah).sum(),
        groups,
    })
}

/// State of charge by voltage, going on with the slope of the curve's last twentieth beyond its ends: a group above full holds
/// more than a full one, not as much.
fn beyond_the_ends(curve: &OcvCurve, rested_v: f64) -> f64 {
    const END: f64 = 0.05;
    let (low_v, high_v) = (curve.ocv_v(0.0), curve.ocv_v(1.0));
    if rested_v > high_v {
        1.0 + END * (rested_v - high_v) / (high_v - curve.ocv_v(1.0 - END))
    } else if rested_v < low_v {
        -END * (low_v - rested_v) / (curve.ocv_v(END) - low_v)
    } else {
        curve.soc(rested_v)
    }
}

/// Voltage by which groups part at the top of the charge for a difference in charge.
pub fn apart_at_full_v(curve: &OcvCurve, apart_ah: f64, capacity_ah: f64, full_v: f64) -> f64 {
    let top = curve.soc(full_v);
    full_v - curve.ocv_v((top - apart_ah / capacity_ah).max(0.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::{Chemistry, curve};

    fn read(volts: &[f64], error_v: f64) -> Vec<Known> {
        volts.iter().map(|v| Known { error: Some(error_v), ..Known::measured(*v) }).collect()
    }

    #[test]
    fn groups_at_equal_volts_are_level() {
        let spread = spread(curve(Chemistry::LiIon), &read(&[3.9, 3.9, 3.9], 0.005), 5.0).unwrap();
        assert_eq!((spread.apart_ah, spread.to_move_ah, spread.apart_low_ah), (0.0, 0.0, 0.0));
        assert!(spread.apart_high_ah > 0.0, "the meter leaves something open");
    }

    /// On the plateau of phosphate 50 mV can be tens of percent (common practice, no source): the same reading says far
    /// less there.
    #[test]
    fn a_plateau_hides_charge() {
        let open = |chemistry, v| spread(curve(chemistry), &read(&[v, v], 0.01), 1.0).unwrap().apart_high_ah;
        assert!(open(Chemistry::LiFePo4, 3.3) > 3.0 * open(Chemistry::LiIon, 3.9));
    }

    #[test]
    fn the_order_of_the_groups_does_not_matter_and_more_capacity_moves_more() {
        let of = |volts: &[f64], ah| spread(curve(Chemistry::LiIon), &read(volts, 0.002), ah).unwrap();
        let (a, b) = (of(&[4.0, 3.95, 4.05], 2.5), of(&[4.05, 4.0, 3.95], 2.5));
        assert!((a.to_move_ah - b.to_move_ah).abs() < 1e-12 && (a.apart_ah - b.apart_ah).abs() < 1e-12);
        assert!((of(&[4.0, 3.95, 4.05], 5.0).to_move_ah - 2.0 * a.to_move_ah).abs() < 1e-9);
        assert!(a.apart_low_ah <= a.apart_ah && a.apart_ah <= a.apart_high_ah);
    }

    /// What parts them at rest below full parts them at full too: there and back on the same curve.
    #[test]
    fn what_is_left_apart_at_full_follows_the_curve() {
        let c = curve(Chemistry::LiIon);
        assert!(apart_at_full_v(c, 0.0, 2.5, 4.2).abs() < 1e-9);
        let v = apart_at_full_v(c, 0.05, 2.5, 4.2);
        assert!(v > 0.0 && (c.soc(4.2) - c.soc(4.2 - v) - 0.02).abs() < 2e-3, "{v}");
    }
}
