//! What is read on a cell, under which conditions, and what the readings of one cell come to.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::CELLS_MAX;
use crate::base::limit::above;
use crate::base::quantity::Unit;
use crate::base::range::{self, Range};
use crate::plan::FieldError;

/// Spread of repeats, over their mean, beyond which there is no reading. Common practice, no source.
pub const SPREAD_MAX: f64 = 0.2;
/// Kelvin and share of charge apart within which readings are alike. Assumed: resistance moves by a tenth at most.
const ALIKE_K: f64 = 5.0;
const ALIKE_SOC: f64 = 0.1;
/// Share apart within which test currents are alike, and voltage apart within which cut-offs are.
const ALIKE_RATE: f64 = 0.1;
const ALIKE_CUTOFF_V: f64 = 0.05;
const HOUR_S: i64 = 3600;
/// Shortest rest that says anything about self-discharge, and the rise that tells of a charge between.
pub const LEAST_REST_S: f64 = 86_400.0;
const CHARGED_BETWEEN_V: f64 = 0.003;
/// Longest text in a condition.
const TEXT_MAX: usize = 80;

/// What is read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// Voltage as the cell came.
    ArrivalV,
    /// Voltage after a rest; two of them, days apart, tell the self-discharge.
    RestedV,
    /// Resistance.
    ResistanceOhm,
    /// Capacity at a rate and down to a cut-off.
    CapacityAh,
    /// Voltage lost over a rest, where only the loss was noted.
    SelfDischargeV,
}

impl Kind {
    /// Every kind, in the order of the work.
    pub const ALL: [Kind; 5] =
        [Kind::ArrivalV, Kind::ResistanceOhm, Kind::CapacityAh, Kind::RestedV, Kind::SelfDischargeV];

    /// As it is kept and typed.
    pub fn key(self) -> &'static str {
        match self {
            Kind::ArrivalV => "arrival_v",
            Kind::RestedV => "rested_v",
            Kind::ResistanceOhm => "resistance_ohm",
            Kind::CapacityAh => "capacity_ah",
            Kind::SelfDischargeV => "self_discharge_v",
        }
    }

    /// The kind of that key.
    pub fn of(key: &str) -> Option<Kind> {
        Kind::ALL.into_iter().find(|k| k.key() == key)
    }

    /// Unit of its value.
    pub fn unit(self) -> Unit {
        self.range().unit
    }

    /// Range of its value.
    pub fn range(self) -> &'static Range {
        match self {
            Kind::ArrivalV | Kind::RestedV => &range::READ_VOLTS,
            Kind::ResistanceOhm => &range::DCIR,
            Kind::CapacityAh => &range::READ_AH,
            Kind::SelfDischargeV => &range::SMALL_VOLTS,
        }
    }

    /// Time within which readings are repeats of one another.
    fn sitting_s(self) -> i64 {
        match self {
            Kind::ArrivalV | Kind::RestedV => HOUR_S,
            Kind::ResistanceOhm => 12 * HOUR_S,
            Kind::CapacityAh | Kind::SelfDischargeV => 60 * 24 * HOUR_S,
        }
    }
}

/// How a resistance is measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// A small alternating current at 1 kHz: lower than what a load sees.
    Ac1khz,
    /// A load for some seconds: what sags the pack.
    DcPulse,
}

/// Under which conditions something was read. Absent is not noted.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Conditions {
    /// Which instrument, in the maker's words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub instrument: String,
    /// How a resistance was measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub method: Option<Method>,
    /// Temperature of the cell.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
    /// State of charge, 0 to 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub soc_share: Option<f64>,
    /// Discharge current of a capacity test.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate_a: Option<f64>,
    /// Voltage at which a capacity test ended.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cutoff_v: Option<f64>,
    /// Rest over which voltage was lost.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rest_s: Option<f64>,
}

impl Conditions {
    /// Every condition that cannot stand, below a pointer.
    pub fn check(&self, at: &str) -> Vec<FieldError> {
        let mut errors = vec![];
        let mut number = |name: &str, value: Option<f64>, range: &Range| {
            if let Some(Err(e)) = value.map(|v| range.check(v)) {
                errors.push(FieldError { field: format!("{at}/{name}"), message: e.to_string() });
            }
        };
        number("temperature_c", self.temperature_c, &range::TEMPERATURE);
        number("soc_share", self.soc_share, &range::SOC);
        number("rate_a", self.rate_a, &range::CURRENT);
        number("cutoff_v", self.cutoff_v, &range::CELL_VOLTS);
        number("rest_s", self.rest_s, &range::REST);
        if self.instrument.chars().count() > TEXT_MAX {
            let message = format!("at most {TEXT_MAX} characters");
            errors.push(FieldError { field: format!("{at}/instrument"), message });
        }
        errors
    }
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TestReading {
    /// What was read.
    pub kind: Kind,
    /// In the unit of its kind.
    pub value: f64,
    /// Conditions.
    #[serde(default)]
    pub conditions: Conditions,
    /// When, in seconds since 1970.
    pub taken_s: i64,
}

/// In what two readings of a kind are not alike; empty where they may be compared. What is not noted is not held
/// against them, but for the instrument and the method of a resistance.
pub fn unlike(kind: Kind, a: &Conditions, b: &Conditions) -> Vec<&'static str> {
    let apart =
        |x: Option<f64>, y: Option<f64>, most: f64| matches!((x, y), (Some(x), Some(y)) if above((x - y).abs(), most));
    let mut found = vec![];
    let same_text = a.instrument.trim().eq_ignore_ascii_case(b.instrument.trim());
    match kind {
        Kind::ResistanceOhm => {
            if !same_text {
                found.push("the instrument");
            }
            if a.method != b.method {
                found.push("the method");
            }
            if apart(a.temperature_c, b.temperature_c, ALIKE_K) {
                found.push("the temperature");
            }
            if apart(a.soc_share, b.soc_share, ALIKE_SOC) {
                found.push("the state of charge");
            }
        }
        Kind::CapacityAh => {
            if !same_text {
                found.push("the instrument");
            }
            if matches!((a.rate_a, b.rate_a), (Some(x), Some(y)) if above(x.max(y) / x.min(y) - 1.0, ALIKE_RATE)) {
                found.push("the rate");
            }
            if apart(a.cutoff_v, b.cutoff_v, ALIKE_CUTOFF_V) {
                found.push("the cut-off");
            }
            if apart(a.temperature_c, b.temperature_c, 2.0 * ALIKE_K) {
                found.push("the temperature");
            }
        }
        Kind::ArrivalV | Kind::RestedV | Kind::SelfDischargeV => {
            if !same_text {
                found.push("the instrument");
            }
        }
    }
    found
}

/// Mean and spread of the repeats of one reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Measured {
    /// Mean.
    pub value: f64,
    /// Largest less smallest over the mean; absent for a single reading.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spread_share: Option<f64>,
    /// How many repeats.
    pub repeats: u32,
    /// Conditions of the newest.
    pub conditions: Conditions,
    /// Time of the newest, in seconds since 1970.
    pub taken_s: i64,
}

impl Measured {
    /// The mean, unless the repeats lie too far apart to be a reading.
    pub fn usable(&self) -> Option<f64> {
        (!self.spread_share.is_some_and(|s| above(s, SPREAD_MAX))).then_some(self.value)
    }

    /// Lowest and highest that the repeats leave open: both the mean where they agree, else half their spread either way. What
    /// the worse end says is said, agreed or not.
    pub fn range(&self) -> (f64, f64) {
        let half = match self.usable() {
            Some(_) => 0.0,
            None => self.spread_share.unwrap_or(0.0) / 2.0 * self.value,
        };
        ((self.value - half).max(0.0), self.value + half)
    }
}

/// Voltage lost over a rest.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Drop {
    /// Voltage lost.
    pub lost_v: f64,
    /// Over how long.
    pub rest_s: f64,
    /// Voltage at the begin, where they are known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub from_v: Option<f64>,
    /// Conditions.
    pub conditions: Conditions,
}

impl Drop {
    /// Voltage lost in a day.
    pub fn lost_a_day_v(&self) -> f64 {
        self.lost_v / (self.rest_s / LEAST_REST_S)
    }
}

/// What the readings of one cell come to. Kept beside every cell, so what is not known takes no room.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Digest {
    /// Voltage on arrival.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub arrival: Option<Measured>,
    /// Newest voltage after rest.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rested: Option<Measured>,
    /// Resistance.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resistance: Option<Measured>,
    /// Capacity.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub capacity: Option<Measured>,
    /// Self-discharge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drop: Option<Drop>,
}

impl Digest {
    /// Voltage the cell rests at now, as far as is known.
    pub fn now_v(&self) -> Option<f64> {
        self.rested.as_ref().or(self.arrival.as_ref()).map(|m| m.value)
    }

    /// What is compared between cells, with its conditions: of self-discharge the voltage lost in a day.
    pub fn comparable(&self, kind: Kind) -> Option<(f64, &Conditions)> {
        let measured = match kind {
            Kind::ArrivalV => &self.arrival,
            Kind::RestedV => &self.rested,
            Kind::ResistanceOhm => &self.resistance,
            Kind::CapacityAh => &self.capacity,
            Kind::SelfDischargeV => return self.drop.as_ref().map(|r| (r.lost_a_day_v(), &r.conditions)),
        };
        measured.as_ref().and_then(|m| m.usable().map(|value| (value, &m.conditions)))
    }

    /// Whether nothing was read.
    pub fn is_empty(&self) -> bool {
        *self == Digest::default()
    }
}

/// Gathers the readings of one cell: of each kind the newest with its repeats, of rested voltage the loss.
///
/// A repeat is alike in its conditions and of the same sitting; older readings are history.
pub fn digest(readings: &[TestReading]) -> Digest {
    let mut newest_first: Vec<&TestReading> = readings.iter().take(CELLS_MAX).collect();
    newest_first.sort_by_key(|r| std::cmp::Reverse(r.taken_s));
    Digest {
        arrival: measured(&newest_first, Kind::ArrivalV),
        rested: measured(&newest_first, Kind::RestedV),
        resistance: measured(&newest_first, Kind::ResistanceOhm),
        capacity: measured(&newest_first, Kind::CapacityAh),
        drop: drop_of(&newest_first),
    }
}

fn measured(newest_first: &[&TestReading], kind: Kind) -> Option<Measured> {
    let newest = newest_first.iter().find(|r| r.kind == kind)?;
    let repeats: Vec<f64> = newest_first
        .iter()
        .filter(|r| r.kind == kind && newest.taken_s - r.taken_s <= kind.sitting_s())
        .filter(|r| unlike(kind, &newest.conditions, &r.conditions).is_empty())
        .map(|r| r.value)
        .collect();
    let mean = repeats.iter().sum::<f64>() / repeats.len() as f64;
    let low = repeats.iter().copied().fold(f64::INFINITY, f64::min);
    let high = repeats.iter().copied().fold(0.0, f64::max);
    let spread_share = if mean > 0.0 { (high - low) / mean } else { 0.0 };
    Some(Measured {
        value: mean,
        spread_share: (repeats.len() > 1).then_some(spread_share),
        repeats: repeats.len() as u32,
        conditions: newest.conditions.clone(),
        taken_s: newest.taken_s,
    })
}

/// The loss between the newest rested voltage and the oldest of the same rest; a loss that was noted itself if newer.
fn drop_of(newest_first: &[&TestReading]) -> Option<Drop> {
    let noted = newest_first.iter().find(|r| r.kind == Kind::SelfDischargeV);
    let rested: Vec<&&TestReading> = newest_first.iter().filter(|r| r.kind == Kind::RestedV).collect();
    let read = rested.first().and_then(|last| {
        let mut first: &TestReading = last;
        for r in &rested[1..] {
            // Going back in time the volts of one rest only rise; a fall tells that the cell was charged between. What lies
            // over a year back is no rest that anybody meant.
            if (last.taken_s - r.taken_s) as f64 > range::REST.max
                || r.value < first.value - CHARGED_BETWEEN_V
                || !unlike(Kind::RestedV, &last.conditions, &r.conditions).is_empty()
            {
                break;
            }
            first = r;
        }
        let rest_s = (last.taken_s - first.taken_s) as f64;
        (rest_s >= LEAST_REST_S).then(|| Drop {
            lost_v: (first.value - last.value).max(0.0),
            rest_s,
            from_v: Some(first.value),
            conditions: last.conditions.clone(),
        })
    });
    match (noted, read) {
        (Some(noted), read) if read.is_none() || rested.first().is_some_and(|r| r.taken_s < noted.taken_s) => {
            let rest_s = noted.conditions.rest_s.filter(|&s| s > 0.0)?;
            Some(Drop { lost_v: noted.value, rest_s, from_v: None, conditions: noted.conditions.clone() })
        }
        (_, read) => read,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const DAY_S: i64 = 86_400;

    fn at(kind: Kind, value: f64, taken_s: i64) -> TestReading {
        TestReading { kind, value, conditions: Conditions::default(), taken_s }
    }

    fn by(instrument: &str, reading: TestReading) -> TestReading {
        let conditions = Conditions { instrument: instrument.to_owned(), ..reading.conditions };
        TestReading { conditions, ..reading }
    }

    /// Re-seat and repeat three times; a spread over 20 % is no reading. Common practice, no source.
    #[test]
    fn repeats_give_mean_and_spread_and_over_20_percent_is_no_reading() {
        let of = |values: [f64; 3]| {
            let readings: Vec<_> = values.iter().map(|&v| at(Kind::ResistanceOhm, v, 100)).collect();
            digest(&readings).resistance.unwrap()
        };
        let good = of([0.060, 0.066, 0.063]);
        assert!((good.value - 0.063).abs() < 1e-12 && (good.spread_share.unwrap() - 0.006 / 0.063).abs() < 1e-12);
        assert_eq!((good.repeats, good.usable().is_some()), (3, true));
        assert!(of([0.090, 0.100, 0.110]).usable().is_some(), "exactly 20 % passes");
        assert!(of([0.080, 0.100, 0.110]).usable().is_none());
        assert_eq!(digest(&[at(Kind::ResistanceOhm, 0.06, 1)]).resistance.unwrap().spread_share, None);
    }

    #[test]
    fn another_instrument_method_or_sitting_is_no_repeat() {
        let first = by("bench meter", at(Kind::ResistanceOhm, 0.050, 1000));
        let count = |other: TestReading| digest(&[first.clone(), other]).resistance.unwrap().repeats;
        assert_eq!(count(by("Bench meter ", at(Kind::ResistanceOhm, 0.052, 900))), 2);
        assert_eq!(count(by("tester", at(Kind::ResistanceOhm, 0.070, 900))), 1);
        assert_eq!(count(by("bench meter", at(Kind::ResistanceOhm, 0.052, 1000 - DAY_S))), 1);
        let mut pulse = by("bench meter", at(Kind::ResistanceOhm, 0.070, 900));
        pulse.conditions.method = Some(Method::DcPulse);
        assert_eq!(count(pulse.clone()), 1);
        assert_eq!(unlike(Kind::ResistanceOhm, &first.conditions, &pulse.conditions), ["the method"]);
        let conditions = |temperature_c, soc_share| Conditions { temperature_c, soc_share, ..Conditions::default() };
        let told = unlike(Kind::ResistanceOhm, &conditions(Some(10.0), Some(0.3)), &conditions(Some(22.0), Some(0.9)));
        assert_eq!(told, ["the temperature", "the state of charge"]);
        assert!(unlike(Kind::ResistanceOhm, &conditions(None, None), &conditions(Some(22.0), None)).is_empty());
        let rate = |rate_a, cutoff_v| Conditions { rate_a, cutoff_v, ..Conditions::default() };
        let told = unlike(Kind::CapacityAh, &rate(Some(0.5), Some(2.5)), &rate(Some(1.0), Some(3.0)));
        assert_eq!(told, ["the rate", "the cut-off"]);
    }

    #[test]
    fn self_discharge_is_the_loss_within_one_rest() {
        let rested = |v, day: i64| at(Kind::RestedV, v, day * DAY_S);
        let drop = digest(&[rested(4.18, 1), rested(4.16, 5), rested(4.15, 11)]).drop.unwrap();
        assert!((drop.lost_v - 0.03).abs() < 1e-12 && (drop.rest_s - 864_000.0).abs() < 1e-9);
        assert!((drop.lost_a_day_v() - 0.003).abs() < 1e-12);
        // Charged on day 20: the rest before does not count.
        let drop = digest(&[rested(4.10, 1), rested(4.05, 11), rested(4.19, 21), rested(4.18, 31)]).drop.unwrap();
        assert!((drop.lost_v - 0.01).abs() < 1e-12 && drop.from_v == Some(4.19));
        assert!(digest(&[rested(4.18, 1)]).drop.is_none());
        // A rest of years is not meant: the reading before is of another.
        assert!(digest(&[rested(4.18, 1), rested(4.17, 2000)]).drop.is_none());
        assert!(digest(&[rested(4.18, 1), rested(4.17, 366)]).drop.is_some());
        assert!(digest(&[at(Kind::RestedV, 4.18, 0), at(Kind::RestedV, 4.17, 3600)]).drop.is_none());
    }

    #[test]
    fn a_loss_that_was_noted_needs_its_rest() {
        let mut noted = at(Kind::SelfDischargeV, 0.014, 5);
        assert!(digest(std::slice::from_ref(&noted)).drop.is_none());
        noted.conditions.rest_s = Some(7.0 * 86_400.0);
        assert!((digest(&[noted]).drop.unwrap().lost_a_day_v() - 0.002).abs() < 1e-12);
    }

    #[test]
    fn conditions_out_of_range_name_their_field() {
        let bad = Conditions {
            temperature_c: Some(400.0),
            soc_share: Some(1.2),
            cutoff_v: Some(0.0),
            instrument: "x".repeat(81),
            ..Conditions::default()
        };
        let fields: Vec<String> = bad.check("/conditions").into_iter().map(|e| e.field).collect();
        assert_eq!(
            fields,
            ["/conditions/temperature_c", "/conditions/soc_share", "/conditions/cutoff_v", "/conditions/instrument"]
        );
    }
}
