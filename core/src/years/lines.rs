//! The entries of a log as sentences with one figure each.

use serde::Serialize;
use utoipa::ToSchema;

use super::entry::{ChargeEnd, Logged, Mishap, OhmBy, PackEntry, PackState, Placed};
use super::measured::MeasuredStory;
use super::runs::RunAgainst;
use super::spread::{SpreadStory, millivolts};
use crate::base::quantity::{Unit, show, show_range};
use crate::base::severity::Severity;

/// A charge that the board ended, or a spread above this, is worth a look. Common practice, no source.
const APART_V: f64 = 0.03;

/// A line of a log.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LogLine {
    /// Number of the entry.
    pub number: usize,
    /// When it happened, in seconds since 1970.
    pub at_s: i64,
    /// The entry.
    pub entry: PackEntry,
    /// What it is.
    pub title: String,
    /// What it says.
    pub says: String,
    /// Its figure.
    pub figure: Option<String>,
    /// How much hangs on it; absent is fine.
    pub severity: Option<Severity>,
    /// Why it was struck out, if it was.
    pub struck: Option<String>,
}

/// What was read out of the log so far.
pub(super) struct Known<'k> {
    pub(super) spread: &'k SpreadStory,
    pub(super) measured: &'k MeasuredStory,
    pub(super) runs: &'k [RunAgainst],
}

pub(super) fn line(p: &Placed<'_>, known: &Known<'_>) -> LogLine {
    let (title, says, figure, severity) = match &p.entry.happened {
        Logged::Rest { groups_v, rested_s } => rest(p.number, groups_v, *rested_s, known),
        Logged::Charge { charge_ah, took_s, ended, end_a } => charge(*charge_ah, *took_s, *ended, *end_a),
        Logged::Run { took_s, charge_ah, is_whole, temp_c } => {
            run(p.number, (*took_s, *charge_ah, *is_whole, *temp_c), known)
        }
        Logged::Capacity { charge_ah, rate_a, to_v, temp_c } => {
            let how = [
                Some(show(*charge_ah, Unit::Ah)),
                rate_a.map(|a| format!("at {}", show(a, Unit::A))),
                to_v.map(|v| format!("to {}", show(v, Unit::V))),
                temp_c.map(|c| format!("at {}", show(c, Unit::C))),
            ];
            let point = known.measured.capacity.iter().find(|c| c.number == p.number);
            let figure =
                point.filter(|c| c.is_like).map(|c| show((c.first_share * 1000.0).round() / 1000.0, Unit::Share));
            let severity =
                point.filter(|c| c.is_like && c.first_share <= super::forecast::WORN).map(|_| Severity::Caution);
            ("Capacity test".to_owned(), joined(how), figure, severity)
        }
        Logged::Resistance { resistance_ohm, by } => {
            let how = match by {
                OhmBy::Load => "by the drop under a load",
                OhmBy::Meter1Khz => "by a 1 kHz meter",
            };
            let ratio = known.measured.resistance.iter().find(|r| r.number == p.number).map(|r| r.times);
            let figure = ratio.filter(|r| (r - 1.0).abs() > 0.005).map(|r| format!("× {r:.2}"));
            let severity = ratio.filter(|r| *r >= 2.0).map(|_| Severity::Caution);
            ("Resistance".to_owned(), format!("{} {how}", show(*resistance_ohm, Unit::Ohm)), figure, severity)
        }
        Logged::Event { mishap } => {
            let severity = if *mishap == Mishap::Swollen { Severity::Stop } else { Severity::Note };
            (befell(*mishap).to_owned(), String::new(), None, Some(severity))
        }
        Logged::Looked { is_sound: true } => {
            ("Inspected".to_owned(), "insulation, strain relief and plug sound".to_owned(), None, None)
        }
        Logged::Looked { is_sound: false } => {
            ("Inspected".to_owned(), "something is wrong".to_owned(), None, Some(Severity::Caution))
        }
        Logged::Repair { exchanged, groups } => {
            let at = match groups.as_slice() {
                [] => String::new(),
                [one] => format!(" at group {one}"),
                several => format!(" at groups {}", several.iter().map(u32::to_string).collect::<Vec<_>>().join(", ")),
            };
            (format!("Repair{at}"), exchanged.clone(), None, None)
        }
        Logged::Storage { cell_v } => ("Stored".to_owned(), format!("{} per cell", show(*cell_v, Unit::V)), None, None),
        Logged::State { to } => (stands(*to).to_owned(), String::new(), None, None),
        Logged::Note => ("Note".to_owned(), String::new(), None, None),
        Logged::Struck { .. } => ("Struck out".to_owned(), String::new(), None, None),
    };
    let words = p.entry.words.trim();
    let says = match (says.is_empty(), words.is_empty()) {
        (_, true) => says,
        (true, false) => words.to_owned(),
        (false, false) => format!("{says}; {words}"),
    };
    LogLine {
        number: p.number,
        at_s: p.at_s,
        entry: p.entry.clone(),
        title,
        says,
        figure,
        severity,
        struck: p.struck.map(str::to_owned),
    }
}

type Told = (String, String, Option<String>, Option<Severity>);

fn joined<const N: usize>(parts: [Option<String>; N]) -> String {
    parts.into_iter().flatten().collect::<Vec<_>>().join(", ")
}

fn rest(number: usize, groups_v: &[f64], rested_s: Option<f64>, known: &Known<'_>) -> Told {
    let title = rested_s.map_or_else(|| "Rest".to_owned(), |s| format!("Rest, {}", show(s, Unit::S)));
    let says = format!("{} V", groups_v.iter().map(|v| format!("{v:.3}")).collect::<Vec<_>>().join("  "));
    let spread = known.spread.points.iter().find(|s| s.number == number).map(|s| s.spread_v);
    let figure = spread.map(millivolts);
    (title, says, figure, spread.filter(|v| *v > APART_V).map(|_| Severity::Caution))
}

fn charge(ah: Option<f64>, took_s: Option<f64>, ended: Option<ChargeEnd>, end_a: Option<f64>) -> Told {
    let who = ended.map(|e| match e {
        ChargeEnd::Charger => "ended by the charger",
        ChargeEnd::Board => "ended by the board",
        ChargeEnd::Hand => "ended by hand",
    });
    let at = end_a.map(|a| format!("at {}", show(a, Unit::A)));
    let end = match (who, at) {
        (Some(who), Some(at)) => Some(format!("{who} {at}")),
        (who, at) => who.map(str::to_owned).or(at),
    };
    let severity = (ended == Some(ChargeEnd::Board)).then_some(Severity::Caution);
    ("Charge".to_owned(), joined([took_s.map(|s| show(s, Unit::S)), end]), ah.map(|a| show(a, Unit::Ah)), severity)
}

fn run(
    number: usize,
    (took_s, ah, is_whole, temp_c): (Option<f64>, Option<f64>, bool, Option<f64>),
    known: &Known<'_>,
) -> Told {
    let point = known.runs.iter().find(|r| r.number == number);
    let time =
        took_s.map(|s| if is_whole { format!("{} until it cut off", show(s, Unit::S)) } else { show(s, Unit::S) });
    let how = joined([time, ah.map(|a| show(a, Unit::Ah)), temp_c.map(|c| format!("at {}", show(c, Unit::C)))]);
    let against = point.map(|r| format!("against {} predicted", show_range(r.least_s, r.most_s, Unit::S)));
    let because = point.and_then(|r| r.because.as_ref()).map(|b| format!(". {b}"));
    let says = format!("{how}{}{}", against.map(|a| format!(" {a}")).unwrap_or_default(), because.unwrap_or_default());
    let short = point.filter(|r| r.took_s < r.least_s);
    let figure = short.map(|r| format!("−{:.0} min", ((r.least_s - r.took_s) / 60.0).ceil()));
    ("Run".to_owned(), says, figure, short.map(|_| Severity::Caution))
}

fn befell(mishap: Mishap) -> &'static str {
    match mishap {
        Mishap::Dropped => "Dropped",
        Mishap::Wet => "Got wet",
        Mishap::Hot => "Got hot",
        Mishap::Swollen => "Swollen",
        Mishap::RunFlat => "Was empty for long",
        Mishap::Shorted => "Shorted",
        Mishap::Other => "Mishap",
    }
}

/// A state in words.
pub(super) fn stands(state: PackState) -> &'static str {
    match state {
        PackState::InUse => "In use",
        PackState::Stored => "In storage",
        PackState::Retired => "Retired",
        PackState::HandedOver => "Handed over",
        PackState::Recycled => "Recycled",
    }
}
