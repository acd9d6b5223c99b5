//! Capacity and resistance against what they were when the pack was new.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, OhmBy, Placed, counted};
use super::time::DAY_S;

/// Capacity tests differ by temperature: further apart than this they are not compared. Common practice, no source.
const LIKE_C: f64 = 8.0;
/// A test so soon after the making counts as the first capacity.
const NEW_DAYS: f64 = 90.0;
/// Two tests of one pack on one tester differ by so much. Common practice, no source.
pub(super) const TEST_ERROR: f64 = 0.015;
/// What a new pack has differs from what is printed on its cells by so much. Common practice, no source.
const RATED_ERROR: f64 = 0.04;

/// A capacity test against the first.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct CapacityPoint {
    /// Number of its entry.
    pub number: usize,
    /// When, in seconds since 1970.
    pub at_s: i64,
    /// Days since the pack was made.
    pub after_days: f64,
    /// What came out.
    pub capacity_ah: f64,
    /// As a share of the first.
    pub first_share: f64,
    /// Whether it can be compared with the first: as warm, to the same voltage.
    pub is_like: bool,
}

/// A resistance against the first.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OhmPoint {
    /// Number of its entry.
    pub number: usize,
    /// When, in seconds since 1970.
    pub at_s: i64,
    /// As measured.
    pub resistance_ohm: f64,
    /// Against the first of its kind.
    pub times: f64,
}

/// What was measured of a pack.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct MeasuredStory {
    /// Capacity that counts as the first.
    pub first_ah: Option<f64>,
    /// Whether it was tested; otherwise it is what is printed.
    pub first_was_tested: bool,
    /// How far off it may be, as a share.
    pub first_error_share: f64,
    /// Capacity tests, in order.
    pub capacity: Vec<CapacityPoint>,
    /// Resistances, in order.
    pub resistance: Vec<OhmPoint>,
}

impl MeasuredStory {
    /// The last capacity that can be compared.
    pub(super) fn last_share(&self) -> Option<&CapacityPoint> {
        self.capacity.iter().rev().find(|p| p.is_like)
    }
}

/// Reads the tests of a log. `made_s`: when the pack was made.
pub(super) fn measured(card: &PackCard, all: &[Placed<'_>], made_s: i64) -> MeasuredStory {
    let tests: Vec<_> = counted(all)
        .filter_map(|p| match p.entry.happened {
            Logged::Capacity { charge_ah, to_v, temp_c, .. } => Some((p, charge_ah, to_v, temp_c)),
            _ => None,
        })
        .collect();
    let day = |at_s: i64| (at_s - made_s) as f64 / DAY_S;
    let soon = tests.first().filter(|(p, ..)| day(p.at_s) <= NEW_DAYS || card.rated_ah.is_none());
    let first_ah = soon.map(|t| t.1).or(card.rated_ah);
    let (first_to_v, first_c) = tests.first().map_or((None, None), |t| (t.2, t.3));
    let far = |a: Option<f64>, b: Option<f64>, most: f64| a.zip(b).is_some_and(|(a, b)| (a - b).abs() > most);
    let capacity = first_ah.map_or_else(Vec::new, |first_ah| {
        let point = |&(p, ah, to_v, temp_c): &(&Placed<'_>, f64, Option<f64>, Option<f64>)| CapacityPoint {
            number: p.number,
            at_s: p.at_s,
            after_days: day(p.at_s),
            capacity_ah: ah,
            first_share: ah / first_ah,
            is_like: !far(temp_c, first_c, LIKE_C) && !far(to_v, first_to_v, 0.15),
        };
        tests.iter().map(point).collect()
    });
    let mut resistance = vec![];
    let mut first: [(OhmBy, Option<f64>); 2] = [(OhmBy::Load, card.rated_ohm), (OhmBy::Meter1Khz, None)];
    for p in counted(all) {
        let Logged::Resistance { resistance_ohm: ohm, by } = p.entry.happened else { continue };
        let Some((_, reference)) = first.iter_mut().find(|f| f.0 == by) else { continue };
        // A first measurement outranks what was reckoned.
        if !resistance.iter().any(|(_, b)| *b == by) && day(p.at_s) <= NEW_DAYS {
            *reference = Some(ohm);
        }
        let times = ohm / *reference.get_or_insert(ohm);
        resistance.push((OhmPoint { number: p.number, at_s: p.at_s, resistance_ohm: ohm, times }, by));
    }
    MeasuredStory {
        first_ah,
        first_was_tested: soon.is_some(),
        first_error_share: if soon.is_some() { TEST_ERROR } else { RATED_ERROR },
        capacity,
        resistance: resistance.into_iter().map(|(p, _)| p).collect(),
    }
}
