//! The stock as tables, in and out: one line a cell, or one line a reading.
//!
//! One line a cell is what a spreadsheet holds and what `dense-brick group` reads; one line a reading is the full record.

use std::collections::HashMap;

use super::faults::Fault;
use super::reading::{Conditions, Digest, Kind, Method, TestReading};
use super::{CELLS_MAX, LABEL_MAX};
use crate::base::range::{CELL_VOLTS, CURRENT, REST, Range, SOC, TEMPERATURE};
use crate::base::table::{LineError, Row, Table, moment, whole, written, written_moment};

const DAY_S: f64 = 86_400.0;
const MILLI: f64 = 1000.0;
const PERCENT: f64 = 100.0;
/// Most lines of readings: a few of each kind for every cell.
const READINGS_MAX: usize = 10 * CELLS_MAX;

/// A column of readings: its name, what it holds, how many of its unit make one of core's.
const READINGS: [(&str, Kind, f64); 8] = [
    ("arrival_v", Kind::ArrivalV, 1.0),
    ("volts", Kind::ArrivalV, 1.0),
    ("rested_v", Kind::RestedV, 1.0),
    ("resistance_mohm", Kind::ResistanceOhm, MILLI),
    ("resistance_ohm", Kind::ResistanceOhm, 1.0),
    ("capacity_mah", Kind::CapacityAh, MILLI),
    ("capacity_ah", Kind::CapacityAh, 1.0),
    ("self_discharge_mv", Kind::SelfDischargeV, MILLI),
];
const CELL_COLUMNS: [&str; 5] = ["label", "lot", "keep_with", "faults", "state"];
const CONDITION_COLUMNS: [&str; 8] =
    ["instrument", "method", "temperature_c", "soc_percent", "rate_a", "cutoff_v", "rest_days", "taken_at"];

/// What an import takes for granted where a line says nothing.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Defaults {
    /// Conditions of every reading.
    pub conditions: Conditions,
    /// When they were taken, in seconds since 1970.
    pub taken_s: i64,
}

/// A cell as a file tells it; several lines of one label are one cell.
#[derive(Debug, Clone, PartialEq)]
pub struct SheetCell {
    /// First line that names it.
    pub line: usize,
    /// Label.
    pub label: String,
    /// Name of its lot, if the file says.
    pub lot: Option<String>,
    /// Partner or mark.
    pub keep_with: Option<String>,
    /// Faults found; `Some` of nothing where someone looked.
    pub faults: Option<Vec<Fault>>,
    /// Readings.
    pub readings: Vec<TestReading>,
}

/// Reads cells and readings, and the names of columns that were not used. All bad lines are told.
pub fn read_sheet(text: &str, defaults: &Defaults) -> Result<(Vec<SheetCell>, Vec<String>), Vec<LineError>> {
    let table = Table::read(text, READINGS_MAX)?;
    if table.column("label").is_none() {
        return Err(whole("there is no column “label”"));
    }
    let a_line_a_reading = table.column("reading").is_some();
    if a_line_a_reading && table.column("value").is_none() {
        return Err(whole("there is a column “reading” but no “value”"));
    }
    let mut cells: Vec<SheetCell> = vec![];
    let mut by_label: HashMap<String, usize> = HashMap::new();
    let mut errors = vec![];
    for row in &table.rows {
        match cell(&table, row, defaults, a_line_a_reading) {
            Ok(found) => match by_label.get(&found.label.to_lowercase()) {
                Some(&i) if a_line_a_reading => {
                    if let Err(reason) = join(&mut cells[i], found) {
                        errors.push(LineError { line: row.line, reason });
                    }
                }
                Some(&i) => {
                    let reason = format!("label: “{}” is in line {} already", found.label, cells[i].line);
                    errors.push(LineError { line: row.line, reason });
                }
                None => {
                    by_label.insert(found.label.to_lowercase(), cells.len());
                    cells.push(found);
                }
            },
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    if cells.len() > CELLS_MAX {
        return Err(whole(format!("{} cells; at most {CELLS_MAX} are imported at once", cells.len())));
    }
    let known: Vec<&str> = CELL_COLUMNS
        .iter()
        .chain(&CONDITION_COLUMNS)
        .copied()
        .chain(READINGS.iter().map(|r| r.0))
        .chain(["reading", "value", "verdict"])
        .collect();
    let unused = table.unknown(&known).into_iter().map(str::to_owned).collect();
    if errors.is_empty() { Ok((cells, unused)) } else { Err(errors) }
}

fn join(cell: &mut SheetCell, more: SheetCell) -> Result<(), String> {
    if more.lot.is_some() && cell.lot.is_some() && more.lot != cell.lot {
        return Err(format!("lot: line {} puts it in another lot", cell.line));
    }
    cell.lot = cell.lot.take().or(more.lot);
    cell.keep_with = cell.keep_with.take().or(more.keep_with);
    cell.faults = cell.faults.take().or(more.faults);
    cell.readings.extend(more.readings);
    Ok(())
}

fn cell(table: &Table, row: &Row, defaults: &Defaults, a_line_a_reading: bool) -> Result<SheetCell, String> {
    let words = |name: &str| table.text(row, name).map(str::to_owned);
    let label = words("label").ok_or("label: is missing")?;
    if label.chars().count() > LABEL_MAX {
        return Err(format!("label: longer than {LABEL_MAX} characters"));
    }
    let faults = match table.text(row, "faults") {
        None => None,
        Some("none") => Some(vec![]),
        Some(list) => {
            let known =
                |word: &str| Fault::of(word).ok_or_else(|| format!("faults: “{word}” is none of the checklist"));
            Some(list.split_whitespace().map(known).collect::<Result<_, _>>()?)
        }
    };
    let (conditions, taken_s) = conditions(table, row, defaults)?;
    let mut readings = vec![];
    let mut add = |kind: Kind, value: f64| {
        // Each kind keeps the conditions that matter to it; the others belong to other columns of the same line.
        readings.push(TestReading { kind, value, conditions: of_kind(kind, &conditions), taken_s });
    };
    if a_line_a_reading {
        if let Some(name) = table.text(row, "reading") {
            let found = READINGS.iter().find(|(n, ..)| *n == name);
            let &(_, kind, per_one) =
                found.ok_or_else(|| format!("reading: “{name}” is not one of {}", READINGS.map(|r| r.0).join(", ")))?;
            let value = table.figure(row, "value", per_one, kind.range())?.ok_or("value: is missing")?;
            add(kind, value);
        }
    } else {
        for (name, kind, per_one) in READINGS {
            if let Some(value) = table.figure(row, name, per_one, kind.range())? {
                add(kind, value);
            }
        }
    }
    if let Some(r) = readings.iter().find(|r| r.kind == Kind::SelfDischargeV && r.conditions.rest_s.is_none()) {
        return Err(format!("rest_days: {} V were lost, but over how many days is not stated", r.value));
    }
    Ok(SheetCell { line: row.line, label, lot: words("lot"), keep_with: words("keep_with"), faults, readings })
}

fn conditions(table: &Table, row: &Row, defaults: &Defaults) -> Result<(Conditions, i64), String> {
    let d = &defaults.conditions;
    let number = |name: &str, per_one: f64, range: &Range, default: Option<f64>| -> Result<Option<f64>, String> {
        Ok(table.figure(row, name, per_one, range)?.or(default))
    };
    let method = match table.text(row, "method").map(str::to_lowercase).as_deref() {
        None => d.method,
        Some("ac" | "ac 1 khz" | "ac_1khz" | "ac1khz") => Some(Method::Ac1khz),
        Some("dc" | "dc pulse" | "dc_pulse") => Some(Method::DcPulse),
        Some(other) => return Err(format!("method: “{other}” is neither “ac 1 khz” nor “dc pulse”")),
    };
    let taken_s = match table.text(row, "taken_at") {
        None => defaults.taken_s,
        Some(text) => moment(text).ok_or_else(|| format!("taken_at: “{text}” is not a day as 2026-11-25"))?,
    };
    let conditions = Conditions {
        instrument: table.text(row, "instrument").map_or_else(|| d.instrument.clone(), str::to_owned),
        method,
        temperature_c: number("temperature_c", 1.0, &TEMPERATURE, d.temperature_c)?,
        soc_share: number("soc_percent", PERCENT, &SOC, d.soc_share)?,
        rate_a: number("rate_a", 1.0, &CURRENT, d.rate_a)?,
        cutoff_v: number("cutoff_v", 1.0, &CELL_VOLTS, d.cutoff_v)?,
        rest_s: number("rest_days", 1.0 / DAY_S, &REST, d.rest_s)?,
    };
    match conditions.check("").first() {
        Some(e) => Err(format!("{}: {}", e.field.trim_start_matches('/'), e.message)),
        None => Ok((conditions, taken_s)),
    }
}

/// The conditions that matter to a kind.
fn of_kind(kind: Kind, all: &Conditions) -> Conditions {
    let base =
        Conditions { instrument: all.instrument.clone(), temperature_c: all.temperature_c, ..Conditions::default() };
    match kind {
        Kind::ArrivalV => base,
        Kind::RestedV | Kind::SelfDischargeV => Conditions { rest_s: all.rest_s, ..base },
        Kind::ResistanceOhm => Conditions { method: all.method, soc_share: all.soc_share, ..base },
        Kind::CapacityAh => Conditions { rate_a: all.rate_a, cutoff_v: all.cutoff_v, ..base },
    }
}

/// A cell as it is written.
#[derive(Debug, Clone)]
pub struct Written<'a> {
    /// Label.
    pub label: &'a str,
    /// Name of its lot.
    pub lot: &'a str,
    /// State, as it is kept.
    pub state: &'a str,
    /// Verdict, as it is kept.
    pub verdict: &'a str,
    /// Partner or mark.
    pub keep_with: Option<&'a str>,
    /// Faults found.
    pub faults: Option<&'a [Fault]>,
}

fn faults_words(faults: Option<&[Fault]>) -> String {
    match faults {
        None => String::new(),
        Some([]) => "none".to_owned(),
        Some(list) => {
            let key = |f: &Fault| serde_json::to_value(f).ok().and_then(|v| v.as_str().map(str::to_owned));
            list.iter().filter_map(key).collect::<Vec<_>>().join(" ")
        }
    }
}

/// Number as short as it can be without losing anything of a reading: nanounits are beyond any meter.
fn number(value: Option<f64>) -> String {
    value.map_or_else(String::new, |v| ((v * 1e9).round() / 1e9).to_string())
}

/// One line a cell, with the means of its readings: what `dense-brick group` reads. `None` as for `table::written`.
pub fn write_cells<'a>(cells: impl Iterator<Item = (Written<'a>, &'a Digest)>) -> Option<String> {
    let head = [
        "label",
        "lot",
        "state",
        "verdict",
        "keep_with",
        "faults",
        "volts",
        "rested_v",
        "resistance_mohm",
        "capacity_mah",
        "self_discharge_mv",
        "rest_days",
    ];
    let mut rows = vec![head.map(str::to_owned).to_vec()];
    for (cell, d) in cells {
        let value = |m: &Option<super::Measured>, per_one: f64| {
            number(m.as_ref().and_then(|m| m.usable()).map(|v| v * per_one))
        };
        rows.push(vec![
            cell.label.to_owned(),
            cell.lot.to_owned(),
            cell.state.to_owned(),
            cell.verdict.to_owned(),
            cell.keep_with.unwrap_or_default().to_owned(),
            faults_words(cell.faults),
            value(&d.arrival, 1.0),
            value(&d.rested, 1.0),
            value(&d.resistance, MILLI),
            value(&d.capacity, MILLI),
            number(d.drop.as_ref().map(|r| r.lost_v * MILLI)),
            number(d.drop.as_ref().map(|r| r.rest_s / DAY_S)),
        ]);
    }
    written(rows)
}

/// One line a reading: the full record, which comes in again as it went out. Cells without readings have one line.
pub fn write_readings<'a>(cells: impl Iterator<Item = (Written<'a>, &'a [TestReading])>) -> Option<String> {
    let head = [
        "label",
        "lot",
        "keep_with",
        "faults",
        "reading",
        "value",
        "instrument",
        "method",
        "temperature_c",
        "soc_percent",
        "rate_a",
        "cutoff_v",
        "rest_days",
        "taken_at",
    ];
    let mut rows = vec![head.map(str::to_owned).to_vec()];
    for (cell, readings) in cells {
        let begin = [
            cell.label.to_owned(),
            cell.lot.to_owned(),
            cell.keep_with.unwrap_or_default().to_owned(),
            faults_words(cell.faults),
        ];
        if readings.is_empty() {
            let mut all = begin.to_vec();
            all.resize(head.len(), String::new());
            rows.push(all);
        }
        for r in readings {
            let (name, _, per_one) =
                *READINGS.iter().find(|(name, kind, _)| *kind == r.kind && *name != "volts").unwrap_or(&READINGS[0]);
            let c = &r.conditions;
            let method = match c.method {
                None => "",
                Some(Method::Ac1khz) => "ac 1 khz",
                Some(Method::DcPulse) => "dc pulse",
            };
            let mut all = begin.to_vec();
            all.extend([
                name.to_owned(),
                number(Some(r.value * per_one)),
                c.instrument.clone(),
                method.to_owned(),
                number(c.temperature_c),
                number(c.soc_share.map(|s| s * PERCENT)),
                number(c.rate_a),
                number(c.cutoff_v),
                number(c.rest_s.map(|s| s / DAY_S)),
                written_moment(r.taken_s),
            ]);
            rows.push(all);
        }
    }
    written(rows)
}
