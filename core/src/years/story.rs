//! All that a log tells.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::due::{Due, due};
use super::entry::{PackEntry, PackState, placed, state};
use super::forecast::{Forecast, forecast};
use super::habit::{Habit, habit};
use super::lines::{Known, LogLine, line};
use super::measured::{MeasuredStory, measured};
use super::runs::{RunAgainst, runs};
use super::spread::{SpreadStory, spread};
use crate::base::table::day;

/// All that a log tells.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PackStory {
    /// Where the pack is in its life.
    pub state: PackState,
    /// When it was made, in seconds since 1970; its first entry where none was stated.
    pub made_s: i64,
    /// Its entries as they happened, the newest first; struck ones among them.
    pub lines: Vec<LogLine>,
    /// The groups against each other.
    pub spread: SpreadStory,
    /// Capacity and resistance.
    pub measured: MeasuredStory,
    /// Runs that went to the cut-off.
    pub runs: Vec<RunAgainst>,
    /// How it is used.
    pub habit: Habit,
    /// Looking ahead; absent where its chemistry has no model, and once it is retired.
    pub forecast: Option<Forecast>,
    /// What is or will be due, the soonest first.
    pub due: Vec<Due>,
}

/// Reads a log.
pub fn story(card: &PackCard, entries: &[PackEntry], today_s: i64) -> PackStory {
    let mut told = without_forecast(card, entries, today_s);
    if matches!(told.state, PackState::InUse | PackState::Stored) {
        told.forecast = forecast(card, &told.habit, &told.measured, told.made_s, today_s);
    }
    told
}

/// The same without looking ahead, which takes longest: for lists.
pub fn without_forecast(card: &PackCard, entries: &[PackEntry], today_s: i64) -> PackStory {
    let all = placed(entries);
    let first_s = all.iter().find(|p| p.struck.is_none()).map(|p| p.at_s);
    let made_s = card.made_on.as_deref().and_then(day).or(first_s).unwrap_or(today_s).min(today_s);
    let measured = measured(card, &all, made_s);
    let spread = spread(card, &all, measured.first_ah);
    let runs = runs(card, &all, &measured, &spread);
    let habit = habit(card, &all, measured.first_ah, made_s, today_s);
    let known = Known { spread: &spread, measured: &measured, runs: &runs };
    let lines = all.iter().rev().map(|p| line(p, &known)).collect();
    let due = due(card, &all, &habit, &spread, &measured, (made_s, today_s));
    PackStory { state: state(&all), made_s, lines, spread, measured, runs, habit, forecast: None, due }
}
