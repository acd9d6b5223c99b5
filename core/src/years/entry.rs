//! What happened to a pack: appended, never changed. What was wrong is struck out with a reason.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::card::PackCard;
use crate::base::range::{BENCH_CURRENT, CURRENT, PACK_AH, PACK_OHM, READ_VOLTS, REST, Range, TEMPERATURE, TOOK};
use crate::base::table::moment;
use crate::plan::FieldError;

/// Longest words.
const WORDS_MAX: usize = 2000;

/// Who ended a charge.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChargeEnd {
    /// The charger, at its end.
    Charger,
    /// The pack's board cut it off.
    Board,
    /// Someone, before it was full.
    Hand,
}

/// How a resistance was measured: only like is compared with like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum OhmBy {
    /// Drop of the voltage under a load.
    Load,
    /// A meter of 1 kHz.
    Meter1Khz,
}

/// Something that befell it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Mishap {
    /// Dropped or knocked.
    Dropped,
    /// Wet inside.
    Wet,
    /// Got hot by itself or in ordinary use.
    Hot,
    /// Swollen.
    Swollen,
    /// Lay below its floor.
    RunFlat,
    /// Shorted, or its fuse blew.
    Shorted,
    /// Something else, in words.
    Other,
}

/// Where a pack is in its life.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PackState {
    /// In use.
    #[default]
    InUse,
    /// Put away.
    Stored,
    /// Retired: not charged any more.
    Retired,
    /// Given to someone else.
    HandedOver,
    /// Taken to where such are recycled.
    Recycled,
}

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "snake_case", deny_unknown_fields)]
pub enum Logged {
    /// Voltage of the groups at rest, from pack minus.
    Rest {
        /// One a group.
        groups_v: Vec<f64>,
        /// How long it had rested.
        #[serde(default)]
        rested_s: Option<f64>,
    },
    /// A charge.
    Charge {
        /// What went in.
        #[serde(default)]
        charge_ah: Option<f64>,
        /// How long it took.
        #[serde(default)]
        took_s: Option<f64>,
        /// Who ended it.
        #[serde(default)]
        ended: Option<ChargeEnd>,
        /// Current at its end.
        #[serde(default)]
        end_a: Option<f64>,
    },
    /// A run in the device.
    Run {
        /// How long it took.
        #[serde(default)]
        took_s: Option<f64>,
        /// What came out.
        #[serde(default)]
        charge_ah: Option<f64>,
        /// Whether it went on from full until something cut it off.
        #[serde(default)]
        is_whole: bool,
        /// How warm it was.
        #[serde(default)]
        temp_c: Option<f64>,
    },
    /// A capacity test from full.
    Capacity {
        /// What came out.
        charge_ah: f64,
        /// Current.
        #[serde(default)]
        rate_a: Option<f64>,
        /// Voltage of a cell, or of the weakest group, at its end.
        #[serde(default)]
        to_v: Option<f64>,
        /// How warm it was.
        #[serde(default)]
        temp_c: Option<f64>,
    },
    /// Resistance of the whole pack.
    Resistance {
        /// As measured.
        resistance_ohm: f64,
        /// How.
        by: OhmBy,
    },
    /// Something befell it.
    Event {
        /// What.
        mishap: Mishap,
    },
    /// It was looked at: insulation, strain relief, shell, plug.
    Looked {
        /// Whether all was sound.
        is_sound: bool,
    },
    /// A repair.
    Repair {
        /// Parts or cells exchanged, as words.
        exchanged: String,
        /// Groups that were worked on, counted from 1; empty is none.
        #[serde(default)]
        groups: Vec<u32>,
    },
    /// Brought to storage voltage and put away.
    Storage {
        /// Voltage of a cell on average.
        cell_v: f64,
    },
    /// It is something else now.
    State {
        /// What.
        to: PackState,
    },
    /// Words, with a photograph or without.
    Note,
    /// An entry is struck out: it was wrong.
    Struck {
        /// Its number.
        number: usize,
    },
}

/// An entry of a log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PackEntry {
    /// When it happened: a day, or a day and a time in UTC.
    pub at: String,
    /// What happened.
    pub happened: Logged,
    /// Words about it; the reason, where something is struck out.
    #[serde(default)]
    pub words: String,
    /// SHA-256 of a photograph as it is kept.
    #[serde(default)]
    pub photo: Option<String>,
}

impl PackEntry {
    /// Every field that cannot stand in the log of that pack behind those entries.
    pub fn check(&self, card: &PackCard, before: &[PackEntry]) -> Vec<FieldError> {
        let mut errors = vec![];
        let mut refuse = |field: String, message: String| errors.push(FieldError { field, message });
        if moment(&self.at).is_none() {
            refuse("/at".to_owned(), "When: a day as 2026-11-25, with a time as 2026-11-25T10:30:00Z".to_owned());
        }
        if self.words.chars().count() > WORDS_MAX {
            refuse("/words".to_owned(), format!("Words: at most {WORDS_MAX} characters"));
        }
        if self.photo.as_ref().is_some_and(|p| p.len() != 64 || !p.bytes().all(|b| b.is_ascii_hexdigit())) {
            refuse("/photo".to_owned(), "Photograph: 64 hexadecimal digits".to_owned());
        }
        for (field, value, range) in self.figures() {
            if let Err(e) = range.check(value) {
                refuse(format!("/happened/{field}"), e.to_string());
            }
        }
        match &self.happened {
            Logged::Rest { groups_v, .. } if groups_v.len() != card.series as usize => {
                let message =
                    format!("Group voltages: {} of them, one per group; there are {}", card.series, groups_v.len());
                refuse("/happened/groups_v".to_owned(), message);
            }
            Logged::Repair { groups, exchanged } => {
                if exchanged.chars().count() > WORDS_MAX {
                    refuse("/happened/exchanged".to_owned(), format!("Replaced: at most {WORDS_MAX} characters"));
                }
                if let Some(strange) = groups.iter().find(|g| !(1..=card.series).contains(*g)) {
                    let message = format!("Groups: 1 to {}; there is no group {strange}", card.series);
                    refuse("/happened/groups".to_owned(), message);
                }
            }
            Logged::Note if self.words.trim().is_empty() && self.photo.is_none() => {
                refuse("/words".to_owned(), "Note: some words or a photograph".to_owned());
            }
            Logged::Event { mishap: Mishap::Other } if self.words.trim().is_empty() => {
                refuse("/words".to_owned(), "What happened: some words".to_owned());
            }
            Logged::Charge { charge_ah: None, took_s: None, ended: None, end_a: None }
            | Logged::Run { took_s: None, charge_ah: None, .. } => {
                refuse("/happened".to_owned(), "One figure at least: how long, or how much".to_owned());
            }
            Logged::Struck { number } => {
                if self.words.trim().is_empty() {
                    refuse("/words".to_owned(), "Reason: why it is struck out".to_owned());
                }
                let there = number.checked_sub(1).and_then(|i| before.get(i));
                let is_open = there.is_some_and(|e| !matches!(e.happened, Logged::Struck { .. }))
                    && !before.iter().any(|e| e.happened == Logged::Struck { number: *number });
                if !is_open {
                    refuse("/happened/number".to_owned(), format!("There is no entry {number} to be struck out"));
                }
            }
            _ => {}
        }
        errors
    }

    fn figures(&self) -> Vec<(String, f64, &'static Range)> {
        let one = |field: &str, value: Option<f64>, range: &'static Range| value.map(|v| (field.to_owned(), v, range));
        match &self.happened {
            Logged::Rest { groups_v, rested_s } => {
                let volts = groups_v.iter().enumerate().map(|(i, v)| (format!("groups_v/{i}"), *v, &READ_VOLTS));
                volts.chain(one("rested_s", *rested_s, &REST)).collect()
            }
            Logged::Charge { charge_ah, took_s, end_a, .. } => {
                let all = [
                    one("charge_ah", *charge_ah, &PACK_AH),
                    one("took_s", *took_s, &TOOK),
                    one("end_a", *end_a, &BENCH_CURRENT),
                ];
                all.into_iter().flatten().collect()
            }
            Logged::Run { took_s, charge_ah, temp_c, .. } => {
                let all = [
                    one("took_s", *took_s, &TOOK),
                    one("charge_ah", *charge_ah, &PACK_AH),
                    one("temp_c", *temp_c, &TEMPERATURE),
                ];
                all.into_iter().flatten().collect()
            }
            Logged::Capacity { charge_ah, rate_a, to_v, temp_c } => [
                one("charge_ah", Some(*charge_ah), &PACK_AH),
                one("rate_a", *rate_a, &CURRENT),
                one("to_v", *to_v, &READ_VOLTS),
                one("temp_c", *temp_c, &TEMPERATURE),
            ]
            .into_iter()
            .flatten()
            .collect(),
            Logged::Resistance { resistance_ohm, .. } => {
                vec![("resistance_ohm".to_owned(), *resistance_ohm, &PACK_OHM)]
            }
            Logged::Storage { cell_v } => vec![("cell_v".to_owned(), *cell_v, &READ_VOLTS)],
            _ => vec![],
        }
    }
}

/// An entry with its place in the log.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Placed<'e> {
    /// Its number: entries are counted from 1 as they came in.
    pub number: usize,
    /// When it happened, in seconds since 1970.
    pub at_s: i64,
    /// The entry.
    pub entry: &'e PackEntry,
    /// Why it was struck out, if it was.
    pub struck: Option<&'e str>,
}

/// The entries in the order in which they happened; what strikes out another is not one of them.
pub fn placed(entries: &[PackEntry]) -> Vec<Placed<'_>> {
    let reason =
        |number: usize| entries.iter().find(|e| e.happened == Logged::Struck { number }).map(|e| e.words.as_str());
    let mut found: Vec<Placed<'_>> = entries
        .iter()
        .enumerate()
        .filter(|(_, e)| !matches!(e.happened, Logged::Struck { .. }))
        .filter_map(|(i, entry)| Some(Placed { number: i + 1, at_s: moment(&entry.at)?, entry, struck: reason(i + 1) }))
        .collect();
    found.sort_by_key(|p| (p.at_s, p.number));
    found
}

/// What counts: entries that were not struck out.
pub(super) fn counted<'p, 'e>(all: &'p [Placed<'e>]) -> impl DoubleEndedIterator<Item = &'p Placed<'e>> {
    all.iter().filter(|p| p.struck.is_none())
}

/// Where the pack is in its life.
pub fn state(all: &[Placed<'_>]) -> PackState {
    let last = counted(all).rev().find_map(|p| match p.entry.happened {
        Logged::State { to } => Some(to),
        Logged::Storage { .. } => Some(PackState::Stored),
        Logged::Charge { .. } | Logged::Run { .. } => Some(PackState::InUse),
        _ => None,
    });
    last.unwrap_or_default()
}
