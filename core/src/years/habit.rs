//! How a pack is used, read out of its log: how often, how deep, how full it lies, how much went through it.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, Placed, counted};
use super::time::{DAY_S, HOUR_S, MONTH_DAYS};
use crate::base::robust::median;
use crate::physics::ageing::{Cycling, UsePattern};

/// Depth of a charge that were not counted. Common practice, no source.
const USUAL_DEPTH: f64 = 0.8;
/// Currents over capacity that no one stated. Common practice, no source.
const USUAL_RUN_C: f64 = 1.0;
const USUAL_CHARGE_C: f64 = 0.5;
/// Where it lies while nothing says so: full, as packs are left.
const LEFT_FULL: f64 = 1.0;
/// Error of the meter that read a log's voltage, and how much of the charge they may leave open and still count. Assumed.
const METER_V: f64 = 0.003;
const TELLS_SHARE: f64 = 0.15;

/// How a pack is used.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Habit {
    /// Charges in the log.
    pub charges: usize,
    /// Charge that went through it, as far as it was counted or can be taken from the others.
    pub through_ah: Option<f64>,
    /// Charges whose ampere-hours were not counted: taken as deep as the others.
    pub uncounted: usize,
    /// Equivalent full cycles of the first capacity.
    pub full_cycles: Option<f64>,
    /// Charges a month.
    pub charges_a_month: f64,
    /// Usual depth of a run.
    pub depth_share: f64,
    /// Whether the depth was counted.
    pub is_depth_counted: bool,
    /// State of charge it lies at, by time.
    pub rest_soc: f64,
    /// Whether the log says so.
    pub is_rest_known: bool,
    /// State of charge it is charged to.
    pub top_soc: f64,
    /// How warm it is kept.
    pub temp_c: f64,
    /// Whether that was stated.
    pub is_temp_stated: bool,
    /// State of charge now, as far as the log says.
    pub now_soc: Option<f64>,
    /// Current of a run over capacity, 1/h.
    pub run_c: f64,
    /// Current of a charge over capacity, 1/h.
    pub charge_c: f64,
}

impl Habit {
    /// The use that ages it.
    pub(super) fn pattern(&self) -> UsePattern {
        UsePattern {
            rest_soc: self.rest_soc,
            temp_c: self.temp_c,
            cycling: (self.charges_a_month > 0.0).then(|| Cycling {
                every_days: MONTH_DAYS / self.charges_a_month,
                top_soc: self.top_soc,
                dod: self.depth_share.min(self.top_soc),
                discharge_c: self.run_c,
                charge_c: self.charge_c,
            }),
        }
    }
}

/// Reads a log. `made_s` and `today_s`: when the pack was made, and now.
pub(super) fn habit(card: &PackCard, all: &[Placed<'_>], first_ah: Option<f64>, made_s: i64, today_s: i64) -> Habit {
    let top_soc = card.top_soc();
    let (temp_c, is_temp_stated) = card.kept_c();
    let share = |ah: f64| first_ah.map(|first| (ah / first).clamp(0.02, 1.0));
    let mut depths = vec![];
    let (mut run_c, mut charge_c) = (vec![], vec![]);
    let (mut charges, mut counted_ah) = (0, 0.0);
    for p in counted(all) {
        match p.entry.happened {
            Logged::Charge { charge_ah, took_s, .. } => {
                charges += 1;
                let Some(ah) = charge_ah else { continue };
                counted_ah += ah;
                depths.push(ah);
                charge_c.extend(took_s.zip(share(ah)).map(|(s, share)| (share / (s / HOUR_S)).clamp(0.02, 5.0)));
            }
            Logged::Run { charge_ah: Some(ah), took_s: Some(took_s), .. } => {
                run_c.extend(share(ah).map(|share| (share / (took_s / HOUR_S)).clamp(0.05, 15.0)));
            }
            _ => {}
        }
    }
    let usual_ah = median(&depths);
    let depth = usual_ah.and_then(share);
    let uncounted = charges - depths.len();
    let each_ah = usual_ah.or(first_ah.map(|ah| ah * USUAL_DEPTH));
    let through_ah = (charges > 0).then(|| each_ah.map(|each| counted_ah + each * uncounted as f64)).flatten();
    let months = ((today_s - made_s) as f64 / DAY_S / MONTH_DAYS).max(1.0);
    let depth_now = depth.unwrap_or(USUAL_DEPTH).min(top_soc);
    let (rest_soc, is_rest_known, soc_now) = lies_at(card, all, top_soc, depth_now, today_s);
    Habit {
        charges,
        through_ah,
        uncounted,
        full_cycles: through_ah.zip(first_ah).map(|(ah, first)| ah / first),
        charges_a_month: charges as f64 / months,
        depth_share: depth_now,
        is_depth_counted: depth.is_some(),
        rest_soc,
        is_rest_known,
        top_soc,
        temp_c,
        is_temp_stated,
        now_soc: soc_now,
        run_c: median(&run_c).unwrap_or(USUAL_RUN_C),
        charge_c: median(&charge_c).unwrap_or(USUAL_CHARGE_C),
    }
}

/// Mean state of charge by time, whether the log says it, and the last one.
fn lies_at(card: &PackCard, all: &[Placed<'_>], top_soc: f64, depth: f64, today_s: i64) -> (f64, bool, Option<f64>) {
    let curve = card.curve();
    let (mut sum, mut time) = (0.0, 0.0);
    let mut is_told = true;
    // Volts that leave a third of the charge open are a guess, whatever the curve says in the middle.
    let mut read = |cell_v: f64| {
        let (least, most) = curve.left_open(cell_v, METER_V, card.chemistry.hysteresis_v());
        is_told &= most - least <= TELLS_SHARE;
        curve.soc(cell_v)
    };
    let mut last: Option<(i64, f64)> = None;
    for p in counted(all) {
        let soc = match &p.entry.happened {
            Logged::Charge { ended, .. } if *ended != Some(super::entry::ChargeEnd::Hand) => top_soc,
            Logged::Run { is_whole: true, .. } | Logged::Capacity { .. } => 0.05,
            Logged::Run { .. } => top_soc - depth,
            Logged::Storage { cell_v } => read(*cell_v),
            Logged::Rest { groups_v, .. } => match median(groups_v) {
                Some(v) => read(v),
                None => continue,
            },
            _ => continue,
        };
        if let Some((since_s, at)) = last {
            let lay = (p.at_s - since_s) as f64;
            sum += at * lay;
            time += lay;
        }
        last = Some((p.at_s, soc));
    }
    let Some((since_s, at)) = last else { return (LEFT_FULL.min(top_soc), false, None) };
    let lay = (today_s - since_s).max(0) as f64;
    let (sum, time) = (sum + at * lay, time + lay);
    if time < DAY_S { (at, is_told, Some(at)) } else { (sum / time, is_told, Some(at)) }
}
