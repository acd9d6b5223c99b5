//! A log as a table, in and out: a line an entry.

use std::str::FromStr;

use serde::Serialize;
use serde::de::DeserializeOwned;

use super::card::PackCard;
use super::entry::{Logged, PackEntry, PackState, placed};
use super::time::HOUR_S;
use crate::base::range::{BENCH_CURRENT, CURRENT, PACK_AH, PACK_OHM, READ_VOLTS, REST, Range, TEMPERATURE, TOOK};
use crate::base::table::{LineError, Row, Table, moment, written};

/// Most lines at once.
const LINES_MAX: usize = 5000;
const MINUTE_S: f64 = 60.0;
const MILLI: f64 = 1000.0;

const COLUMNS: [&str; 20] = [
    "at",
    "what",
    "groups_v",
    "rested_h",
    "charge_ah",
    "took_min",
    "ended",
    "end_a",
    "whole",
    "rate_a",
    "to_v",
    "temp_c",
    "resistance_mohm",
    "by",
    "mishap",
    "groups",
    "cell_v",
    "state",
    "words",
    "struck",
];

/// Reads entries, and the names of columns that were not used. All bad lines are told; what is struck out is left out.
pub fn read_log(text: &str, card: &PackCard) -> Result<(Vec<PackEntry>, Vec<String>), Vec<LineError>> {
    let table = Table::read(text, LINES_MAX)?;
    for name in ["at", "what"] {
        if table.column(name).is_none() {
            return Err(crate::base::table::whole(format!("there is no column “{name}”")));
        }
    }
    let (mut found, mut errors) = (vec![], vec![]);
    for row in table.rows.iter().filter(|row| table.text(row, "struck").is_none()) {
        match entry(&table, row) {
            Ok(entry) => {
                let wrong = entry.check(card, &[]);
                if wrong.is_empty() {
                    found.push(entry);
                } else {
                    let reason = wrong.iter().map(|e| e.message.as_str()).collect::<Vec<_>>().join("; ");
                    errors.push(LineError { line: row.line, reason });
                }
            }
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    let unused = table.unknown(&COLUMNS).into_iter().map(str::to_owned).collect();
    if errors.is_empty() { Ok((found, unused)) } else { Err(errors) }
}

fn entry(table: &Table, row: &Row) -> Result<PackEntry, String> {
    let words = |name: &str| table.text(row, name);
    let at = words("at").ok_or("at: is missing")?;
    if moment(at).is_none() {
        return Err(format!("at: “{at}” is no day as 2026-11-25"));
    }
    let figure = |name: &str, per_one: f64, range: &Range| table.figure(row, name, per_one, range);
    let needed = |name: &str, per_one: f64, range: &Range| {
        figure(name, per_one, range)?.ok_or_else(|| format!("{name}: is missing"))
    };
    let what = words("what").ok_or("what: is missing")?;
    let happened = match what {
        "rest" => {
            let volts = words("groups_v").ok_or("groups_v: are missing")?;
            let groups_v = volts
                .split_whitespace()
                .map(|v| table.number(v).ok_or_else(|| format!("groups_v: “{v}” is not a number")));
            // A rest is written in hours: 1/3600 of one are a second.
            Logged::Rest {
                groups_v: groups_v.collect::<Result<_, _>>()?,
                rested_s: figure("rested_h", 1.0 / HOUR_S, &REST)?,
            }
        }
        "charge" => Logged::Charge {
            charge_ah: figure("charge_ah", 1.0, &PACK_AH)?,
            took_s: figure("took_min", 1.0 / MINUTE_S, &TOOK)?,
            ended: words("ended").map(|w| named("ended", w)).transpose()?,
            end_a: figure("end_a", 1.0, &BENCH_CURRENT)?,
        },
        "run" => Logged::Run {
            took_s: figure("took_min", 1.0 / MINUTE_S, &TOOK)?,
            charge_ah: figure("charge_ah", 1.0, &PACK_AH)?,
            is_whole: words("whole").is_some_and(|w| w.eq_ignore_ascii_case("yes")),
            temp_c: figure("temp_c", 1.0, &TEMPERATURE)?,
        },
        "capacity" => Logged::Capacity {
            charge_ah: needed("charge_ah", 1.0, &PACK_AH)?,
            rate_a: figure("rate_a", 1.0, &CURRENT)?,
            to_v: figure("to_v", 1.0, &READ_VOLTS)?,
            temp_c: figure("temp_c", 1.0, &TEMPERATURE)?,
        },
        "resistance" => Logged::Resistance {
            resistance_ohm: needed("resistance_mohm", MILLI, &PACK_OHM)?,
            by: named("by", words("by").unwrap_or("load"))?,
        },
        "event" => Logged::Event { mishap: named("mishap", words("mishap").unwrap_or("other"))? },
        "looked" => Logged::Looked { is_sound: words("whole").is_none_or(|w| w.eq_ignore_ascii_case("yes")) },
        "repair" => Logged::Repair {
            exchanged: String::new(),
            groups: words("groups")
                .unwrap_or_default()
                .split_whitespace()
                .map(whole_number)
                .collect::<Result<_, _>>()?,
        },
        "storage" => Logged::Storage { cell_v: needed("cell_v", 1.0, &READ_VOLTS)? },
        "state" => Logged::State { to: named::<PackState>("state", words("state").ok_or("state: is missing")?)? },
        "note" => Logged::Note,
        other => {
            let known = "rest, charge, run, capacity, resistance, event, looked, repair, storage, state or note";
            return Err(format!("what: “{other}” is none of {known}"));
        }
    };
    let said = words("words").unwrap_or_default().to_owned();
    let (happened, said) = match happened {
        // What was exchanged is all a repair has to say in a table.
        Logged::Repair { groups, .. } => (Logged::Repair { exchanged: said, groups }, String::new()),
        other => (other, said),
    };
    Ok(PackEntry { at: at.to_owned(), happened, words: said, photo: None })
}

fn whole_number(text: &str) -> Result<u32, String> {
    u32::from_str(text).map_err(|_| format!("groups: “{text}” is not a number"))
}

fn named<T: DeserializeOwned>(column: &str, word: &str) -> Result<T, String> {
    serde_json::from_value(serde_json::Value::from(word)).map_err(|e| {
        let known = e.to_string().split_once("expected ").map_or_else(String::new, |(_, known)| known.to_owned());
        format!("{column}: “{word}” is not {known}")
    })
}

fn name(of: &impl Serialize) -> String {
    serde_json::to_value(of).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}

/// Writes a log, in the order in which it happened.
pub fn write_log(entries: &[PackEntry]) -> Option<String> {
    let header = COLUMNS.map(str::to_owned).to_vec();
    let rows = placed(entries).into_iter().map(|p| {
        let mut row = vec![String::new(); COLUMNS.len()];
        let mut put = |column: &str, text: String| {
            if let Some(i) = COLUMNS.iter().position(|c| *c == column) {
                row[i] = text;
            }
        };
        let shown = |v: Option<f64>| v.map_or_else(String::new, |v| format!("{}", (v * 1e6).round() / 1e6));
        put("at", p.entry.at.clone());
        put("words", p.entry.words.clone());
        put("struck", p.struck.unwrap_or_default().to_owned());
        let what = match &p.entry.happened {
            Logged::Rest { groups_v, rested_s } => {
                put("groups_v", groups_v.iter().map(f64::to_string).collect::<Vec<_>>().join(" "));
                put("rested_h", shown(rested_s.map(|s| s / HOUR_S)));
                "rest"
            }
            Logged::Charge { charge_ah, took_s, ended, end_a } => {
                put("charge_ah", shown(*charge_ah));
                put("took_min", shown(took_s.map(|s| s / MINUTE_S)));
                put("ended", ended.as_ref().map_or_else(String::new, name));
                put("end_a", shown(*end_a));
                "charge"
            }
            Logged::Run { took_s, charge_ah, is_whole, temp_c } => {
                put("took_min", shown(took_s.map(|s| s / MINUTE_S)));
                put("charge_ah", shown(*charge_ah));
                put("whole", if *is_whole { "yes" } else { "no" }.to_owned());
                put("temp_c", shown(*temp_c));
                "run"
            }
            Logged::Capacity { charge_ah, rate_a, to_v, temp_c } => {
                put("charge_ah", shown(Some(*charge_ah)));
                put("rate_a", shown(*rate_a));
                put("to_v", shown(*to_v));
                put("temp_c", shown(*temp_c));
                "capacity"
            }
            Logged::Resistance { resistance_ohm, by } => {
                put("resistance_mohm", shown(Some(resistance_ohm * MILLI)));
                put("by", name(by));
                "resistance"
            }
            Logged::Event { mishap } => {
                put("mishap", name(mishap));
                "event"
            }
            Logged::Looked { is_sound } => {
                put("whole", if *is_sound { "yes" } else { "no" }.to_owned());
                "looked"
            }
            Logged::Repair { exchanged, groups } => {
                put("groups", groups.iter().map(u32::to_string).collect::<Vec<_>>().join(" "));
                let both = [exchanged.as_str(), p.entry.words.as_str()];
                put("words", both.into_iter().filter(|w| !w.is_empty()).collect::<Vec<_>>().join("; "));
                "repair"
            }
            Logged::Storage { cell_v } => {
                put("cell_v", shown(Some(*cell_v)));
                "storage"
            }
            Logged::State { to } => {
                put("state", name(to));
                "state"
            }
            Logged::Note | Logged::Struck { .. } => "note",
        };
        put("what", what.to_owned());
        row
    });
    written(std::iter::once(header).chain(rows))
}
