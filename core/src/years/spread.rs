//! The groups against each other, from one rest to the next: which of them loses charge by itself.
//!
//! Ten millivolts are half a per cent of charge where the curve is steep and tens of per cent on a phosphate's plateau. So each group
//! is compared with the middle one in charge, by the chemistry's curve; where the meter's error is too much charge, the entry is left
//! out and the story says so.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, Placed, counted};
use super::time::{DAY_S, HOUR_S, MONTH_DAYS};
use crate::base::robust::{mad, median};

/// What two readings of a hand meter a moment apart differ by. Common practice, no source.
const METER_V: f64 = 0.003;
/// An entry tells charge where the meter's error is at most so much of it.
const TELLS: f64 = 0.02;
/// Half the stretch over which the curve's slope is taken.
const ABOUT_SOC: f64 = 0.02;
/// Least time between the first and the last entry of a trend, in days, and least number of entries.
const TREND_DAYS: f64 = 25.0;
const TREND_ENTRIES: usize = 3;
/// A leak begins some day: so many last entries are looked at by themselves too.
const LATELY: usize = 6;
/// How many standard errors a trend has to be.
const SURE: f64 = 2.5;
/// A group that loses more than the others by so much charge a month discharges itself. Common practice, no source.
const SUSPECT_A_MONTH: f64 = 0.003;
/// A group so much below the middle one at rest is suspect at once. Common practice, no source.
const SUSPECT_V: f64 = 0.030;
/// From the median absolute deviation to the standard deviation of normal scatter.
const NORMAL: f64 = 1.4826;

/// One rest.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SpreadPoint {
    /// Number of its entry.
    pub number: usize,
    /// When, in seconds since 1970.
    pub at_s: i64,
    /// Highest less lowest group.
    pub spread_v: f64,
    /// Voltage of the middle group.
    pub middle_v: f64,
    /// State of charge by the curve.
    pub soc: f64,
    /// The lowest group, counted from 1.
    pub lowest: usize,
    /// Each group's charge against the middle one, as a share; absent where voltage does not tell it.
    pub charge: Option<Vec<f64>>,
}

/// What the groups do over time.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct SpreadStory {
    /// Every rest, in order.
    pub points: Vec<SpreadPoint>,
    /// Charge that each group gains or loses against the middle one a month, as a share; absent while nothing can be said.
    pub a_month: Option<Vec<f64>>,
    /// How much the spread of the voltage grows in a month, at the charge of the last entry.
    pub growth_v: Option<f64>,
    /// The group that discharges itself, counted from 1.
    pub suspect: Option<usize>,
    /// What leaks in it, where the capacity is known.
    pub leak_a: Option<f64>,
    /// What it comes to, in a sentence.
    pub says: String,
}

/// Reads the rests of a log.
pub(super) fn spread(card: &PackCard, all: &[Placed<'_>], capacity_ah: Option<f64>) -> SpreadStory {
    let curve = card.curve();
    let slope_v = |soc: f64| {
        let (low, high) = ((soc - ABOUT_SOC).max(0.0), (soc + ABOUT_SOC).min(1.0));
        (curve.ocv_v(high) - curve.ocv_v(low)) / (high - low)
    };
    let mut points = vec![];
    // What was worked on starts anew.
    let mut from = 0;
    for p in counted(all) {
        match &p.entry.happened {
            Logged::Repair { .. } => from = points.len(),
            Logged::Rest { groups_v, .. } => {
                let Some(middle_v) = median(groups_v) else { continue };
                let soc = curve.soc(middle_v);
                let slope_v = slope_v(soc);
                let (lowest, least_v) = extreme(groups_v, |a, b| a < b);
                let (_, most_v) = extreme(groups_v, |a, b| a > b);
                let tells = METER_V / slope_v <= TELLS;
                points.push(SpreadPoint {
                    number: p.number,
                    at_s: p.at_s,
                    spread_v: most_v - least_v,
                    middle_v,
                    soc,
                    lowest: lowest + 1,
                    charge: tells.then(|| groups_v.iter().map(|v| (v - middle_v) / slope_v).collect()),
                });
            }
            _ => {}
        }
    }
    let since = &points[from.min(points.len())..];
    let telling: Vec<&SpreadPoint> = since.iter().filter(|p| p.charge.is_some()).collect();
    let mut story = SpreadStory { says: says_little(since, &telling), ..SpreadStory::default() };
    let lately = &telling[telling.len().saturating_sub(LATELY)..];
    let tried = [&telling[..], lately].into_iter().filter_map(|t| trends(t, card.series as usize));
    if let Some(trends) = tried.min_by(|a, b| surest(a).total_cmp(&surest(b))) {
        judge(&mut story, &trends, &telling, capacity_ah, slope_v);
    }
    if story.suspect.is_none()
        && let Some(last) = telling.last()
        && let Some(behind) = last.charge.as_ref().and_then(|c| c.get(last.lowest - 1))
        && last.spread_v > SUSPECT_V
        && -behind * slope_v(last.soc) > SUSPECT_V
    {
        story.suspect = Some(last.lowest);
        story.says = format!(
            "Group {} is {} below the middle one at rest. Charge, rest a week, read again: if it falls further, it discharges itself.",
            last.lowest,
            millivolts(-behind * slope_v(last.soc))
        );
    }
    story.points = points;
    story
}

/// A difference of groups as a meter shows it.
pub(super) fn millivolts(difference_v: f64) -> String {
    format!("{:.0} mV", difference_v * 1000.0)
}

fn extreme(values: &[f64], is_more: impl Fn(f64, f64) -> bool) -> (usize, f64) {
    values
        .iter()
        .copied()
        .enumerate()
        .fold((0, values[0]), |best, (i, v)| if is_more(v, best.1) { (i, v) } else { best })
}

fn says_little(since: &[SpreadPoint], telling: &[&SpreadPoint]) -> String {
    if since.is_empty() {
        return "Read the groups at rest: once now, once in a month. Two readings show which group loses charge."
            .to_owned();
    }
    if telling.is_empty() {
        return "Voltage does not show the charge here: on the plateau a millivolt is several per cent. Read at full charge, an hour after the charger ended."
            .to_owned();
    }
    if telling.len() < since.len() {
        return format!(
            "{} of {} readings lie on the plateau, where voltage does not show the charge; the others are compared.",
            since.len() - telling.len(),
            since.len()
        );
    }
    "Nothing stands out so far. A few more readings over a month or more show a trend.".to_owned()
}

/// A group's trend and its standard error, both in charge a month.
struct Trend {
    a_month: f64,
    error: f64,
}

/// The trends of all groups, once there are entries enough over time enough.
///
/// Slope: the median over all pairs (Theil 1950, Sen 1968), which one wrong reading does not bend.
fn trends(telling: &[&SpreadPoint], groups: usize) -> Option<Vec<Trend>> {
    let (first, last) = (telling.first()?, telling.last()?);
    let months = |p: &SpreadPoint| (p.at_s - first.at_s) as f64 / DAY_S / MONTH_DAYS;
    if telling.len() < TREND_ENTRIES || months(last) * MONTH_DAYS < TREND_DAYS {
        return None;
    }
    let of = |group: usize| {
        let at: Vec<(f64, f64)> =
            telling.iter().filter_map(|p| Some((months(p), *p.charge.as_ref()?.get(group)?))).collect();
        let pairs = at.iter().enumerate().flat_map(|(i, a)| at[i + 1..].iter().map(move |b| (a, b)));
        let slopes: Vec<f64> =
            pairs.filter(|(a, b)| b.0 - a.0 > 0.05).map(|(a, b)| (b.1 - a.1) / (b.0 - a.0)).collect();
        let a_month = median(&slopes)?;
        let over: Vec<f64> = at.iter().map(|(t, c)| c - a_month * t).collect();
        let scatter = (mad(&over)? * NORMAL).max(0.002);
        let mean_t = at.iter().map(|a| a.0).sum::<f64>() / at.len() as f64;
        let lever = at.iter().map(|a| (a.0 - mean_t).powi(2)).sum::<f64>().sqrt();
        Some(Trend { a_month, error: scatter / lever })
    };
    (0..groups).map(of).collect()
}

/// The most certain fall among the groups, in standard errors; below zero.
fn surest(trends: &[Trend]) -> f64 {
    trends.iter().map(|t| t.a_month / t.error).fold(0.0, f64::min)
}

fn judge(
    story: &mut SpreadStory,
    trends: &[Trend],
    telling: &[&SpreadPoint],
    capacity_ah: Option<f64>,
    slope_v: impl Fn(f64) -> f64,
) {
    let Some(last) = telling.last() else { return };
    story.a_month = Some(trends.iter().map(|t| t.a_month).collect());
    let fastest = trends.iter().map(|t| t.a_month).fold(f64::NEG_INFINITY, f64::max);
    let Some((group, worst)) = trends.iter().enumerate().min_by(|a, b| a.1.a_month.total_cmp(&b.1.a_month)) else {
        return;
    };
    let growth_v = (fastest - worst.a_month) * slope_v(last.soc);
    story.growth_v = Some(growth_v);
    if worst.a_month > -SUSPECT_A_MONTH || worst.a_month > -SURE * worst.error {
        let at_most_v = (growth_v * 1000.0).max(1.0).ceil() / 1000.0;
        story.says =
            format!("The groups stay together: the spread grows by less than {} per month.", millivolts(at_most_v));
        return;
    }
    story.suspect = Some(group + 1);
    // A month in hours: what is lost in it flowed all the while.
    story.leak_a = capacity_ah.map(|ah| -worst.a_month * ah / (MONTH_DAYS * DAY_S / HOUR_S));
    story.says = format!(
        "{}: growing {} per month. Group {} discharges itself by {:.1} % per month more than the others.",
        millivolts(last.spread_v),
        millivolts(growth_v),
        group + 1,
        -worst.a_month * 100.0
    );
}
