//! The original battery by the usual rules of thumb, so that old and new can be compared.
//!
//! Lead-acid by Peukert (1897): t = H (C / (I H))^k, the label's C at H = 20 h, k 1.1 to 1.3. Nickel and primary cells give their
//! label's charge at voltage that hardly fall. Common practice, no source, but for Peukert's law.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::chemistry::Chemistry;

const SECONDS_PER_HOUR: f64 = 3600.0;
/// Hours of the rate at which a lead-acid label counts.
const LABEL_H: f64 = 20.0;
/// Points of its course.
const POINTS: u32 = 40;

/// How an original battery runs.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OldRun {
    /// In the middle of the band.
    pub time_s: f64,
    /// With the least favourable rule.
    pub low_s: f64,
    /// With the most favourable.
    pub high_s: f64,
    /// Charge that comes out.
    pub taken_ah: f64,
    /// Energy that comes out.
    pub pack_wh: f64,
    /// Its voltage over the time.
    pub points: Vec<OldPoint>,
}

/// One point of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OldPoint {
    /// Since the start.
    pub t_s: f64,
    /// Of the battery.
    pub pack_v: f64,
}

/// Peukert's exponents for a chemistry: least, usual, most.
fn exponents(chemistry: Chemistry) -> [f64; 3] {
    match chemistry {
        Chemistry::LeadAcid => [1.1, 1.2, 1.3],
        _ => [1.0, 1.03, 1.1],
    }
}

/// How long an original battery in good order feeds a mean current. `None` without a current.
pub fn old_run(chemistry: Chemistry, series: u32, label_ah: f64, mean_a: f64) -> Option<OldRun> {
    if mean_a <= 0.0 || label_ah <= 0.0 {
        return None;
    }
    // Nickel is labelled at a fifth of its capacity per hour.
    let label_h = if chemistry == Chemistry::LeadAcid { LABEL_H } else { 5.0 };
    // Below the label's own current nothing is gained.
    let hours = |k: f64| (label_h * (label_ah / (mean_a * label_h)).powf(k)).min(label_ah / mean_a);
    let [high_h, middle_h, low_h] = exponents(chemistry).map(hours);
    let facts = chemistry.facts();
    let cells = f64::from(series);
    let volts = |share: f64| {
        // From full to nominal in the first fifth, held to the last, then down to its end.
        let cell_v = match share {
            s if s < 0.2 => facts.full_v + (facts.nominal_v - facts.full_v) * s / 0.2,
            s if s < 0.8 => facts.nominal_v,
            s => facts.nominal_v + (facts.cutoff_v - facts.nominal_v) * (s - 0.8) / 0.2,
        };
        cells * cell_v
    };
    let time_s = middle_h * SECONDS_PER_HOUR;
    let point = |i: u32| {
        let share = f64::from(i) / f64::from(POINTS);
        OldPoint { t_s: share * time_s, pack_v: volts(share) }
    };
    let points: Vec<OldPoint> = (0..=POINTS).map(point).collect();
    let mean_v = points.windows(2).map(|w| (w[0].pack_v + w[1].pack_v) / 2.0).sum::<f64>() / f64::from(POINTS);
    let taken_ah = mean_a * middle_h;
    Some(OldRun {
        time_s,
        low_s: low_h * SECONDS_PER_HOUR,
        high_s: high_h * SECONDS_PER_HOUR,
        taken_ah,
        pack_wh: taken_ah * mean_v,
        points,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 60 to 70 % of a lead-acid label runs as long in lithium at rates of 1 to 3 h, nearly all of it at 10 to 20 h
    /// (common practice, no source).
    #[test]
    fn lead_acid_gives_two_thirds_in_two_hours_and_all_of_it_in_twenty() {
        let share = |mean_a: f64| old_run(Chemistry::LeadAcid, 6, 7.0, mean_a).unwrap().taken_ah / 7.0;
        let in_two_hours = (1..100).map(|k| f64::from(k) * 0.05).find(|a| share(*a) * 7.0 / a < 2.0).unwrap();
        assert!((0.58..0.72).contains(&share(in_two_hours)), "{}", share(in_two_hours));
        assert!(share(7.0 / 14.0) > 0.9 && share(7.0 / 20.0) > 0.99 && share(0.1) <= 1.0);
    }

    #[test]
    fn more_current_never_runs_longer_and_the_band_holds_the_middle() {
        for chemistry in [Chemistry::LeadAcid, Chemistry::Nickel, Chemistry::Alkaline] {
            let mut before_s = f64::INFINITY;
            for k in 1..40 {
                let run = old_run(chemistry, 4, 2.0, f64::from(k) * 0.25).unwrap();
                assert!(run.time_s < before_s && run.low_s <= run.time_s && run.time_s <= run.high_s);
                before_s = run.time_s;
            }
        }
        assert_eq!(old_run(Chemistry::Nickel, 4, 2.0, 0.0), None);
    }
}
