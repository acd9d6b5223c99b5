//! What is due at a pack, and when.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, Mishap, PackState, Placed, counted, state};
use super::forecast::WORN;
use super::habit::Habit;
use super::measured::MeasuredStory;
use super::spread::SpreadStory;
use crate::base::quantity::{Unit, show, show_range};
use crate::base::severity::Severity;

const DAY_S: i64 = 86_400;
/// A pack that lies is read every three months. Common practice, no source.
const CHECK_DAYS: i64 = 90;
/// Capacity is tested once a year. Common practice, no source.
const TEST_DAYS: i64 = 365;
/// Insulation, strain relief and plug are looked at once a year. Common practice, no source.
const LOOK_DAYS: i64 = 365;
/// A suspect group is read again after a week. Common practice, no source.
const AGAIN_DAYS: i64 = 7;
/// A pack that lies fuller than this for longer is brought to storage voltage. Common practice, no source.
const FULL_SOC: f64 = 0.8;
const FULL_DAYS: i64 = 21;
/// What lithium cells lose by themselves in a month. Common practice, no source.
const LOST_A_MONTH: f64 = 0.03;
const MONTH_H: f64 = 730.0;
/// It is charged before it falls below this.
const LEAST_SOC: f64 = 0.2;
/// Resistance at which a pack counts as worn. Common practice, no source.
const WORN_OHM: f64 = 2.0;
/// A retired pack does not lie about longer.
const RECYCLE_DAYS: i64 = 30;

/// What is to be logged when it is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DueAction {
    /// Rest voltages.
    Rest,
    /// A charge.
    Charge,
    /// Storage voltage.
    Storage,
    /// A capacity test.
    Capacity,
    /// A look.
    Look,
    /// Another state.
    State,
}

/// Something that is or will be due.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Due {
    /// Key: one of a kind a pack.
    pub key: &'static str,
    /// What is to be done.
    pub title: String,
    /// Why, and how.
    pub says: String,
    /// When, in seconds since 1970.
    pub on_s: i64,
    /// How much hangs on it.
    pub severity: Severity,
    /// What is logged when it is done.
    pub action: DueAction,
}

/// What is or will be due, the soonest first.
pub(super) fn due(
    card: &PackCard,
    all: &[Placed<'_>],
    habit: &Habit,
    spread: &SpreadStory,
    measured: &MeasuredStory,
    (made_s, today_s): (i64, i64),
) -> Vec<Due> {
    let last = |of: &dyn Fn(&Logged) -> bool| counted(all).rev().find(|p| of(&p.entry.happened)).map(|p| p.at_s);
    let stands = state(all);
    let mut found = match stands {
        PackState::HandedOver | PackState::Recycled => return vec![],
        PackState::Retired => {
            let since = last(&|l| matches!(l, Logged::State { .. })).unwrap_or(today_s);
            return vec![Due {
                key: "recycle",
                title: "Take it to a collection point".to_owned(),
                says: "Discharged to storage voltage or below, contacts taped, in a box that does not burn, as local rules say."
                    .to_owned(),
                on_s: since + RECYCLE_DAYS * DAY_S,
                severity: Severity::Caution,
                action: DueAction::State,
            }];
        }
        PackState::InUse | PackState::Stored => vec![],
    };
    found.extend(harmed(all));
    found.extend(worn(measured, today_s));
    found.extend(suspect(spread, all));
    let touched = last(&|l| {
        matches!(
            l,
            Logged::Rest { .. }
                | Logged::Charge { .. }
                | Logged::Run { .. }
                | Logged::Storage { .. }
                | Logged::Capacity { .. }
        )
    });
    let storage_v = card.chemistry.facts().storage_v;
    if let Some(v) = storage_v {
        found.push(Due {
            key: "storage",
            title: "Read the voltages at rest".to_owned(),
            says: format!("It keeps best at {} per cell, dry and cool.", show_range(v - 0.05, v + 0.05, Unit::V)),
            on_s: touched.unwrap_or(made_s) + CHECK_DAYS * DAY_S,
            severity: Severity::Note,
            action: DueAction::Rest,
        });
    }
    if let (Some(soc), Some(since)) = (habit.now_soc, touched) {
        if soc > FULL_SOC {
            found.push(Due {
                key: "lies_full",
                title: "Bring it to storage voltage".to_owned(),
                says: format!(
                    "It has been sitting at {} since it was last used; full cells age fastest.",
                    show((soc * 100.0).round() / 100.0, Unit::Share)
                ),
                on_s: since + FULL_DAYS * DAY_S,
                severity: Severity::Note,
                action: DueAction::Storage,
            });
        }
        found.push(recharge(card, measured, spread, soc, since));
    }
    let tested = measured.capacity.last().map_or(made_s, |p| p.at_s);
    found.push(Due {
        key: "capacity",
        title: "Test the capacity".to_owned(),
        says: "From full to the cut-off, at the same current and temperature as last time.".to_owned(),
        on_s: tested + TEST_DAYS * DAY_S,
        severity: Severity::Note,
        action: DueAction::Capacity,
    });
    let looked = last(&|l| matches!(l, Logged::Looked { .. } | Logged::Repair { .. })).unwrap_or(made_s);
    found.push(Due {
        key: "look",
        title: "Inspect insulation, strain relief and plug".to_owned(),
        says: "Nothing rubbed through, loose, green, browned or swollen.".to_owned(),
        on_s: looked + LOOK_DAYS * DAY_S,
        severity: Severity::Note,
        action: DueAction::Look,
    });
    found.sort_by_key(|d| d.on_s);
    found
}

/// After a mishap it is looked at before it is used again; a swollen one is not used at all.
fn harmed(all: &[Placed<'_>]) -> Option<Due> {
    let (p, mishap) = counted(all).rev().find_map(|p| match p.entry.happened {
        Logged::Event { mishap } => Some((p, mishap)),
        _ => None,
    })?;
    let is_answered = counted(all).any(|q| {
        (q.at_s, q.number) > (p.at_s, p.number)
            && matches!(q.entry.happened, Logged::Looked { is_sound: true } | Logged::Repair { .. })
    });
    let for_good = matches!(mishap, Mishap::Swollen);
    if is_answered && !for_good {
        return None;
    }
    let (title, says, severity) = match mishap {
        Mishap::Swollen => (
            "Swollen: do not charge it again",
            "Outdoors or in a box that does not burn, away from what burns. Retire it.",
            Severity::Stop,
        ),
        Mishap::Hot => (
            "Got hot: find out why before it is used",
            "Charge under watch, outdoors. Read every group; a hot one discharges itself.",
            Severity::Stop,
        ),
        Mishap::Wet => (
            "Was wet: open it, dry it, inspect it",
            "Green or white at taps and board: replace them. Then read every group.",
            Severity::Stop,
        ),
        Mishap::RunFlat => (
            "Was empty for long: read every group before charging",
            "A cell that was below its minimum for days can short inside when it is charged. In doubt retire it.",
            Severity::Stop,
        ),
        Mishap::Shorted => (
            "Was shorted: read every group, inspect every joint",
            "Fuse, board, leads; then a charge under watch.",
            Severity::Stop,
        ),
        Mishap::Dropped => {
            ("Was dropped: inspect it", "Retire a dented can. Read the groups now and in a week.", Severity::Caution)
        }
        Mishap::Other => ("Inspect it", "Something happened to it since the last inspection.", Severity::Caution),
    };
    Some(Due {
        key: "mishap",
        title: title.to_owned(),
        says: says.to_owned(),
        on_s: p.at_s,
        severity,
        action: DueAction::Look,
    })
}

fn worn(measured: &MeasuredStory, today_s: i64) -> Option<Due> {
    let share = measured.last_share().filter(|p| p.first_share <= WORN);
    let ohm = measured.resistance.last().filter(|p| p.times >= WORN_OHM);
    let why = match (share, ohm) {
        (Some(p), _) => {
            format!("{} of its first capacity is left.", show((p.first_share * 100.0).round() / 100.0, Unit::Share))
        }
        (None, Some(p)) => format!("Its resistance is {:.1} times the first.", p.times),
        (None, None) => return None,
    };
    Some(Due {
        key: "retire",
        title: "Retire it".to_owned(),
        says: format!("{why} From here on cells fail sooner than they fade; watch every charge, or retire it."),
        on_s: share.map(|p| p.at_s).or(ohm.map(|p| p.at_s)).unwrap_or(today_s),
        severity: Severity::Caution,
        action: DueAction::State,
    })
}

fn suspect(spread: &SpreadStory, all: &[Placed<'_>]) -> Option<Due> {
    let group = spread.suspect?;
    let last = spread.points.last()?;
    // Once a week's rest is in the log, the next step is the exchange.
    let rested = counted(all).rev().find_map(|p| match p.entry.happened {
        Logged::Rest { rested_s, .. } => Some(rested_s.unwrap_or(0.0)),
        _ => None,
    });
    let is_proved = rested.is_some_and(|s| s >= (AGAIN_DAYS * DAY_S) as f64);
    let (title, says) = if is_proved {
        (
            format!("Replace group {group}"),
            "It lost charge over a week of rest. Until then: watch every charge.".to_owned(),
        )
    } else {
        (
            format!("Group {group} falls behind"),
            "Charge, rest a week, read again. More than 30 mV lower: replace it.".to_owned(),
        )
    };
    Some(Due {
        key: "suspect",
        title,
        says,
        on_s: last.at_s + if is_proved { 0 } else { AGAIN_DAYS * DAY_S },
        severity: Severity::Caution,
        action: if is_proved { DueAction::Look } else { DueAction::Rest },
    })
}

/// The day it needs charge, from what cells lose, what the board takes and what leaks in the suspect group.
fn recharge(card: &PackCard, measured: &MeasuredStory, spread: &SpreadStory, soc: f64, since: i64) -> Due {
    let drain_a = card.standby_a.unwrap_or(0.0) + spread.leak_a.unwrap_or(0.0);
    let a_month = LOST_A_MONTH + measured.first_ah.map_or(0.0, |ah| drain_a * MONTH_H / ah);
    let months = (soc - LEAST_SOC).max(0.0) / a_month;
    Due {
        key: "recharge",
        title: "Charge it to storage voltage".to_owned(),
        says: format!(
            "It will be down to about {} by then: it loses {} per month by itself, {} with the board’s drain.",
            show(LEAST_SOC, Unit::Share),
            show(LOST_A_MONTH, Unit::Share),
            show((a_month * 1000.0).round() / 1000.0, Unit::Share)
        ),
        on_s: since + (months.min(48.0) * MONTH_H * 3600.0) as i64,
        severity: Severity::Note,
        action: DueAction::Charge,
    }
}
