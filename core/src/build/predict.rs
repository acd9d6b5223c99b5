//! What every point should show: the diagram's circuit with the cells as they were read, or between empty and full.

use super::event::{BuildEvent, latest};
use super::step::{BuildAsk, Expects};
use crate::base::quantity::Unit;
use crate::diagnose::At;
use crate::physics::meters::{USUAL, judge};
use crate::plan::{FieldError, Known, Meter, Plan, Reads};
use crate::print::diagram::{Condition, Held, Point, Shown, points};

/// How far a rested cell may have moved between two readings. Common practice, no source.
const REST_V: f64 = 0.02;
/// Share by which what a circuit loses may be off: resistances of joints and contacts are stated, not read. Assumed.
const MODEL_SHARE: f64 = 0.01;

/// Key of the step in which the groups are read once they are joined: what is predicted afterwards rests on it.
pub(super) const GROUPS: &str = "brick/groups";

/// The points of one condition at the ends that are left open.
struct Ends {
    condition: Condition,
    low: Vec<Point>,
    high: Vec<Point>,
}

/// What every point should show in every condition.
pub(super) struct Predicted {
    conditions: Vec<Ends>,
    /// Behind the selector of two packs with all off, in series and side by side.
    selector: [Vec<(Point, Point)>; 2],
    meters: Vec<Meter>,
    series: u32,
    /// Whether the groups were read in this build.
    pub groups_read: bool,
}

/// An error of this share of a reading means another range of the meter. Assumed.
const LOST_SHARE: f64 = 0.2;
/// Smallest range of a hand meter, in tens of its usual one: 200 mV and 2 mA or less. Common practice, no source.
const SMALLEST_RANGE: f64 = -4.0;

/// What the diagram calls the point behind the selector of two packs.
const BEHIND_SELECTOR: &str = "behind the selector";

/// Conditions that a build reads in.
const CONDITIONS: [Condition; 4] = [Condition::Rest, Condition::Off, Condition::Running, Condition::Charging];

/// What the device does in a condition of the diagram.
fn read_at(condition: Condition) -> At {
    match condition {
        Condition::Running | Condition::Hardest => At::On,
        Condition::Charging => At::Charging,
        Condition::Rest | Condition::Off | Condition::Tripped => At::Rest,
    }
}

/// Key of the reading of a group, from 1.
pub(super) fn group_key(group: usize) -> String {
    format!("group-{group}")
}

/// The groups as they were read in the build; none while one of them was not.
fn groups_read(events: &[BuildEvent], series: u32) -> Option<Vec<Known>> {
    let read = latest(events, GROUPS);
    (1..=series as usize).map(|k| read.get(group_key(k).as_str()).map(|v| Known::measured(*v))).collect()
}

/// The plan with its groups as they were read in the build; none while one of them was not.
pub(super) fn as_read(plan: &Plan, events: &[BuildEvent]) -> Option<Plan> {
    let series = plan.main_pack()?.series.filter(|n| *n > 0)?;
    let mut read = plan.clone();
    read.packs.first_mut()?.group_v = groups_read(events, series)?;
    Some(read)
}

impl Predicted {
    /// From the groups as they were read, or from empty and full cells. Refuses a plan that cannot stand.
    pub fn of(plan: &Plan, events: &[BuildEvent]) -> Result<Predicted, Vec<FieldError>> {
        let series = plan.main_pack().and_then(|p| p.series).unwrap_or(0);
        let read = as_read(plan, events);
        let groups_read = read.is_some();
        let as_read = read.unwrap_or_else(|| plan.clone());
        let held = if groups_read { [Held::Read; 2] } else { [Held::Empty, Held::Full] };
        let mut conditions = vec![];
        for condition in CONDITIONS {
            let [low, high] = held.map(|held| points(&as_read, Shown { condition, held, in_series: None }));
            conditions.push(Ends { condition, low: low?, high: high? });
        }
        let mut selector = [vec![], vec![]];
        for (found, in_series) in selector.iter_mut().zip([true, false]).filter(|_| plan.feed.second.is_some()) {
            let off = |held| points(&as_read, Shown { condition: Condition::Off, held, in_series: Some(in_series) });
            let behind = |p: &(Point, Point)| p.0.probe.what == BEHIND_SELECTOR;
            *found = off(held[0])?.into_iter().zip(off(held[1])?).filter(behind).collect();
        }
        Ok(Predicted { conditions, selector, meters: plan.meters.clone(), series, groups_read })
    }

    /// The error of a voltage on the meter at hand that shows it most finely; an ordinary hand meter where none is listed.
    pub fn error_v(&self, v: f64) -> f64 {
        self.error(Reads::Volts, v)
    }

    /// The same of a current.
    pub fn error_a(&self, a: f64) -> f64 {
        self.error(Reads::Amps, a)
    }

    fn error(&self, reads: Reads, value: f64) -> f64 {
        let (unit, value) = (reads.unit(), value.abs());
        let errors = self.meters.iter().filter_map(|m| judge(m, value, unit).ok()).map(|j| j.error);
        // A range on which the reading is lost in the last digits is not the one it is read on.
        let listed = errors.reduce(f64::min).filter(|error| *error < LOST_SHARE * value);
        listed.unwrap_or_else(|| {
            // The ranges of a hand meter go by tens, and its step with them.
            let usual = USUAL.iter().find(|u| u.reads == reads).copied().unwrap_or(USUAL[0]);
            let decades = (value / usual.range).log10().ceil().max(SMALLEST_RANGE);
            usual.error_share * value + usual.error_steps * usual.step * 10_f64.powf(decades)
        })
    }

    /// Points of a condition as readings, each with its key. Those that nothing drives are left out.
    pub fn asks(&self, condition: Condition, wanted: impl Fn(&Point) -> bool) -> Vec<BuildAsk> {
        let Some(at) = self.conditions.iter().find(|c| c.condition == condition) else { return vec![] };
        let mut asks: Vec<BuildAsk> = vec![];
        for (low, high) in at.low.iter().zip(&at.high).filter(|(low, _)| wanted(low)) {
            let what = low.probe.what.clone();
            let key = format!("{}-{}", low.probe.at, what.replace([' ', ',', '’'], "-"));
            let expects = match (low.probe.reads_v, high.probe.reads_v) {
                (Some(a), Some(b)) => self.band_v(a.min(b), a.max(b)),
                _ if !low.probe.usual.is_empty() => {
                    Expects::Unknown { unit: Unit::V, usual: low.probe.usual.to_owned() }
                }
                _ => continue,
            };
            if asks.iter().all(|a| a.key != key) {
                let ask = BuildAsk::read(key, what, [&low.red, &low.black], expects);
                asks.push(ask.between(low.between.clone(), read_at(condition)));
            }
        }
        asks
    }

    /// What stands behind the selector of two packs in each of its positions, with all off.
    pub fn selector(&self) -> Vec<BuildAsk> {
        let positions = [("series", "in series"), ("parallel", "in parallel")];
        let asked = positions.iter().zip(&self.selector).flat_map(|((key, word), found)| {
            found.iter().filter_map(move |(low, high)| {
                let (a, b) = (low.probe.reads_v?, high.probe.reads_v?);
                let probes = [low.red.as_str(), low.black.as_str()];
                Some(BuildAsk::read(
                    *key,
                    format!("behind the selector, {word}"),
                    probes,
                    self.band_v(a.min(b), a.max(b)),
                ))
            })
        });
        asked.collect()
    }

    /// One point of a condition: at a block, read as it is called.
    pub fn at(&self, condition: Condition, block: &str) -> Vec<BuildAsk> {
        self.asks(condition, |p| p.probe.at == block)
    }

    /// A band between two predictions, with the meter's error and what the circuit is known to.
    fn band_v(&self, low_v: f64, high_v: f64) -> Expects {
        let rest_v = if self.groups_read && high_v.abs() > 0.1 { REST_V * f64::from(self.series) } else { 0.0 };
        let slack = |v: f64| self.error_v(v) + MODEL_SHARE * v.abs() + rest_v;
        let because = if self.groups_read {
            "from the groups as they were read, with the error of the meter"
        } else {
            "between empty and full cells, with the error of the meter"
        };
        Expects::Band {
            low: Some(low_v - slack(low_v)),
            high: Some(high_v + slack(high_v)),
            unit: Unit::V,
            because: because.to_owned(),
        }
    }
}
