//! When a pack comes to 80 % of its first capacity: published models pulled by the pack's own tests.
//!
//! What is not known is which model a cell is like (`member`), how far its loss lies from it (`factor`, log-normal), and how far the
//! first capacity is off (`first`). The tests weigh every combination (Bayes, on a grid); the band is what 90 % of the weight says.
//! Nothing is said below 80 %: the late knee is in none of the models.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::habit::Habit;
use super::measured::{CapacityPoint, MeasuredStory, TEST_ERROR};
use super::time::DAY_S;
use crate::base::quantity::{Unit, show};
use crate::physics::ageing::{Cycling, Family, Member, UsePattern, family, lost_times, quantile, shares};

/// Where a pack counts as worn, as a share of its first capacity. Common practice, no source.
pub(super) const WORN: f64 = 0.8;
/// As far as anything is said, in years from the making.
const MOST_YEARS: f64 = 10.0;
const YEAR_DAYS: f64 = 365.25;
/// Distance of the points of the curve, in days.
const STEP_DAYS: f64 = 30.0;
/// Steps of the grid, and how many standard deviations it spans to either side.
const FACTORS: usize = 41;
const FIRSTS: usize = 9;
const SPAN: f64 = 3.0;
/// Share of the weight below and above the band.
const TAIL: f64 = 0.05;
/// A model that loses less than this until a test says nothing of that test.
const LEAST_LOSS: f64 = 1e-4;

/// A point of the curve: share of the first capacity.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ForecastPoint {
    /// When, in seconds since 1970.
    pub at_s: i64,
    /// Middle.
    pub middle_share: f64,
    /// Low end of the band.
    pub low: f64,
    /// High end of the band.
    pub high: f64,
}

/// When it comes to 80 %, in seconds since 1970; absent is not within ten years.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, ToSchema)]
pub struct WornBy {
    /// Earliest.
    pub early_s: Option<i64>,
    /// Most likely.
    pub middle_s: Option<i64>,
    /// Latest.
    pub late_s: Option<i64>,
}

/// A curve with its band, down to 80 %.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Course {
    /// Its points, from the making on.
    pub points: Vec<ForecastPoint>,
    /// When it comes to 80 %.
    pub worn: WornBy,
}

/// Another way to use it from today on.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct UsedOtherwise {
    /// Key.
    pub key: &'static str,
    /// What is done otherwise.
    pub title: String,
    /// What it costs.
    pub price: String,
    /// What comes of it.
    pub course: Course,
    /// Days that the most likely day comes later; absent where either is beyond ten years.
    pub gains_days: Option<f64>,
    /// What is more left three years from now, as a share of the first capacity.
    pub gains_share: f64,
}

/// A forecast.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Forecast {
    /// As it is used now.
    pub course: Course,
    /// Used otherwise from today on.
    pub what_if: Vec<UsedOtherwise>,
    /// What it rests on, a sentence each.
    pub rests_on: Vec<String>,
}

/// A combination of what is not known, with its weight: it loses `factor` times what the member's model says, of a first capacity
/// that is `first` times what counts as it.
struct Hypothesis {
    member: usize,
    factor: f64,
    first: f64,
    weight: f64,
}

/// Looks ahead from what was measured. `None` where the chemistry has no model of any kin.
pub(super) fn forecast(
    card: &PackCard,
    habit: &Habit,
    measured: &MeasuredStory,
    made_s: i64,
    today_s: i64,
) -> Option<Forecast> {
    let family = family(card.chemistry)?;
    let today = ((today_s - made_s) as f64 / DAY_S).max(0.0);
    let now = habit.pattern();
    let hypotheses = weighed(&family, &now, measured);
    let course = |later: Option<UsePattern>| run(&family, &hypotheses, &phases(now, later, today), made_s);
    let usual = course(None);
    let what_if = others(card, habit)
        .into_iter()
        .map(|(key, title, price, used)| {
            let course = course(Some(used));
            let gains = course.worn.middle_s.zip(usual.worn.middle_s);
            let gains_days = gains.map(|(a, b)| (a - b) as f64 / DAY_S);
            let gains_share = left(&course, today_s) - left(&usual, today_s);
            UsedOtherwise { key, title, price, course, gains_days, gains_share }
        })
        .collect();
    Some(Forecast { course: usual, what_if, rests_on: rests_on(&family, habit, measured) })
}

/// Middle of a course three years from a moment; 80 % where it ends before that.
fn left(course: &Course, today_s: i64) -> f64 {
    let then_s = today_s + (3.0 * YEAR_DAYS * DAY_S) as i64;
    course.points.iter().find(|p| p.at_s >= then_s).map_or(WORN, |p| p.middle_share)
}

fn phases(now: UsePattern, later: Option<UsePattern>, today: f64) -> Vec<(f64, UsePattern)> {
    std::iter::once((0.0, now)).chain(later.map(|l| (today, l))).collect()
}

/// Every hypothesis, weighed by the tests that can be compared.
fn weighed(family: &Family, used: &UsePattern, measured: &MeasuredStory) -> Vec<Hypothesis> {
    let tests: Vec<_> = measured.capacity.iter().filter(|p| p.is_like).collect();
    // The first test is what the others are compared with: it tells nothing about the loss.
    let tests = if measured.first_was_tested { tests.get(1..).unwrap_or_default() } else { &tests[..] };
    let days: Vec<f64> = tests.iter().map(|p| p.after_days.max(0.0)).collect();
    let normal = |x: f64| (-0.5 * x * x).exp();
    let mut all = vec![];
    for (member, of) in family.members.iter().enumerate() {
        let model = shares(of.model, &[(0.0, *used)], &days);
        for i in 0..FACTORS {
            let away = SPAN * (2.0 * i as f64 / (FACTORS - 1) as f64 - 1.0);
            let factor = family.scatter.factor(away);
            for j in 0..FIRSTS {
                let off = SPAN * (2.0 * j as f64 / (FIRSTS - 1) as f64 - 1.0);
                let first = 1.0 + off * measured.first_error_share;
                let fits = tests
                    .iter()
                    .zip(&model)
                    .map(|(test, share)| normal((test.first_share - first * lost_times(*share, factor)) / TEST_ERROR));
                let weight = of.weight * normal(away) * normal(off) * fits.product::<f64>();
                all.push(Hypothesis { member, factor, first, weight });
            }
        }
    }
    let sum: f64 = all.iter().map(|h| h.weight).sum();
    if sum < f64::MIN_POSITIVE {
        // No model can lose so much, or so little: the farthest hypotheses are the nearest.
        return nearest(family, used, &days, tests);
    }
    // What has next to no weight costs time and changes nothing.
    let least = all.iter().map(|h| h.weight).fold(0.0, f64::max) * 1e-4;
    all.retain(|h| h.weight > least);
    all
}

/// The hypotheses that pass through the last test, whatever the model thought likely. A model that loses next to nothing passes
/// through no such test, and is left out.
fn nearest(family: &Family, used: &UsePattern, days: &[f64], tests: &[&CapacityPoint]) -> Vec<Hypothesis> {
    let lost = tests.last().map_or(0.0, |t| (1.0 - t.first_share).max(0.0));
    let one = |(member, of): (usize, &Member)| {
        let model = 1.0 - shares(of.model, &[(0.0, *used)], days).last().copied().unwrap_or(1.0);
        let around = [0.8, 1.0, 1.25].into_iter().filter(move |_| model > LEAST_LOSS);
        let weight = of.weight;
        around.map(move |around| Hypothesis { member, factor: around * lost / model, first: 1.0, weight })
    };
    let found: Vec<Hypothesis> = family.members.iter().enumerate().flat_map(one).collect();
    if !found.is_empty() {
        return found;
    }
    let as_published =
        |(member, of): (usize, &Member)| Hypothesis { member, factor: 1.0, first: 1.0, weight: of.weight };
    family.members.iter().enumerate().map(as_published).collect()
}

fn run(family: &Family, hypotheses: &[Hypothesis], phases: &[(f64, UsePattern)], made_s: i64) -> Course {
    let count = (MOST_YEARS * YEAR_DAYS / STEP_DAYS) as usize;
    let days: Vec<f64> = (0..=count).map(|i| i as f64 * STEP_DAYS).collect();
    let models: Vec<Vec<f64>> = family.members.iter().map(|m| shares(m.model, phases, &days)).collect();
    let mut points = vec![];
    let at_s = |day: f64| made_s + (day * DAY_S) as i64;
    for (i, day) in days.iter().enumerate() {
        let mut said: Vec<(f64, f64)> =
            hypotheses.iter().map(|h| (h.first * lost_times(models[h.member][i], h.factor), h.weight)).collect();
        said.sort_by(|a, b| a.0.total_cmp(&b.0));
        let [low, middle_share, high] = [TAIL, 0.5, 1.0 - TAIL].map(|of| quantile(&said, of));
        points.push(ForecastPoint { at_s: at_s(*day), middle_share, low, high });
        if high <= WORN {
            break;
        }
    }
    let worn = WornBy {
        early_s: crossing(&points, |p| p.low),
        middle_s: crossing(&points, |p| p.middle_share),
        late_s: crossing(&points, |p| p.high),
    };
    // Never below: what comes there is in no model.
    for p in &mut points {
        (p.low, p.middle_share, p.high) = (p.low.max(WORN), p.middle_share.max(WORN), p.high.max(WORN));
    }
    Course { points, worn }
}

fn crossing(points: &[ForecastPoint], of: impl Fn(&ForecastPoint) -> f64) -> Option<i64> {
    if points.first().is_some_and(|p| of(p) <= WORN) {
        return points.first().map(|p| p.at_s);
    }
    points.windows(2).find(|w| of(&w[1]) <= WORN).map(|w| {
        let (a, b) = (of(&w[0]), of(&w[1]));
        w[0].at_s + ((a - WORN) / (a - b) * (w[1].at_s - w[0].at_s) as f64) as i64
    })
}

/// What could be done otherwise, as far as it is not done already: key, title, price, use.
fn others(card: &PackCard, habit: &Habit) -> Vec<(&'static str, String, String, UsePattern)> {
    let now = habit.pattern();
    let mut found = vec![];
    if habit.rest_soc > 0.6 {
        let price = "Charge it just before use, not right after.".to_owned();
        found.push(("half_full", "Stored half full".to_owned(), price, UsePattern { rest_soc: 0.5, ..now }));
    }
    if habit.temp_c > 5.0 {
        let cooler_c = (habit.temp_c - 10.0).max(5.0);
        let title = format!("Stored cooler, at {}", show(cooler_c, Unit::C));
        let price = "Keep it dry, in a closed bag; let it warm up before charging.".to_owned();
        found.push(("cooler", title, price, UsePattern { temp_c: cooler_c, ..now }));
    }
    let Some(cycling) = now.cycling else { return found };
    let full_v = card.charged_to_v.unwrap_or(card.chemistry.facts().full_v);
    let less_v = full_v - 0.1;
    let lower = card.curve().soc(less_v);
    if lower > 0.6 && lower < habit.top_soc - 0.02 {
        let used = Cycling { top_soc: lower, dod: cycling.dod.min(lower), ..cycling };
        let title = format!("Charged to {} per cell", show(less_v, Unit::V));
        let price = format!("{} less in it each time.", show(whole_percent(habit.top_soc - lower), Unit::Share));
        // Where it lies after a charge comes down with it.
        let rest_soc = now.rest_soc * lower / habit.top_soc;
        found.push(("charged_lower", title, price, UsePattern { rest_soc, cycling: Some(used), ..now }));
    }
    if cycling.dod > 0.4 {
        let used = Cycling { dod: cycling.dod / 2.0, every_days: cycling.every_days / 2.0, ..cycling };
        let title = format!("Run half as deep, to {}", show(whole_percent(habit.top_soc - used.dod), Unit::Share));
        let price = "The same work in twice as many charges.".to_owned();
        found.push(("shallower", title, price, UsePattern { cycling: Some(used), ..now }));
    }
    found
}

fn whole_percent(share: f64) -> f64 {
    (share * 100.0).round() / 100.0
}

fn rests_on(family: &Family, habit: &Habit, measured: &MeasuredStory) -> Vec<String> {
    let assumed = |is_known: bool| if is_known { "" } else { " (assumed)" };
    let tests = measured.capacity.iter().filter(|p| p.is_like).count();
    let mut said = vec![match (tests, measured.first_was_tested) {
        (0, _) => "No capacity test yet: the band is as wide as cells differ. One test, and another in half a year, narrows it."
            .to_owned(),
        (1, true) => "One capacity test, which counts as the first: the next one shows how fast it ages.".to_owned(),
        (n, true) => format!("{n} capacity tests, the first of them as 100 %."),
        (n, false) => format!("{n} capacity tests compared with what is printed on the cells."),
    }];
    let unlike = measured.capacity.len() - tests;
    if unlike > 0 {
        said.push(format!("{unlike} not counted: tested at another temperature or to another end voltage."));
    }
    said.push(format!(
        "Kept at about {} charge{} and {}{}.",
        show(whole_percent(habit.rest_soc), Unit::Share),
        assumed(habit.is_rest_known),
        show(habit.temp_c, Unit::C),
        assumed(habit.is_temp_stated)
    ));
    said.push(if habit.charges == 0 {
        "No charges in the log, so it is treated as stored.".to_owned()
    } else {
        format!(
            "{} charges per month, runs {}{} deep.",
            (habit.charges_a_month * 10.0).round() / 10.0,
            show(whole_percent(habit.depth_share), Unit::Share),
            assumed(habit.is_depth_counted)
        )
    });
    said.extend(family.neighbour.map(str::to_owned));
    let sources: Vec<&str> = family.members.iter().map(|m| m.model.source()).collect();
    said.push(format!("Models: {}.", sources.join("; ")));
    said.push("Near 80 % cells often drop faster than any of these models: the knee can come sooner.".to_owned());
    said
}
