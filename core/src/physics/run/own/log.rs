//! A logged or printed discharge of one cell as its lines.

use super::super::fit::Logged;
use super::ToldDischarge;
use crate::base::table::{LineError, Row, Table, whole};

/// Most lines of a log: three days at one a second.
const MOST_LINES: usize = 260_000;
/// Largest current that can be a reading of one cell.
const MOST_A: f64 = 1000.0;
/// Voltage that can be a reading of one cell.
const CELL_V: (f64, f64) = (0.5, 5.0);
/// A fit uses about so many lines, evenly over each stretch of like current.
const USED_LINES: usize = 400;
/// And never more than so many, however the current jumps.
const MOST_USED: usize = 4000;
/// Currents that differ by less than this share of the largest are alike.
const ALIKE: f64 = 0.05;
/// A change of this share of the largest current shows a resistance.
const JUMPS: f64 = 0.3;
/// Unless it took longer than this: then something else has moved too.
const JUMP_S: f64 = 30.0;

/// A column by one of its names, with how many of its unit make one of core's.
type Column = (&'static str, f64);

const TIMES: [Column; 4] = [("test_time_s", 1.0), ("time_s", 1.0), ("t_s", 1.0), ("time_ms", 1e3)];
const CURRENTS: [Column; 3] = [("current_a", 1.0), ("current_ma", 1e3), ("i_a", 1.0)];
const VOLTS: [Column; 4] = [("voltage_v", 1.0), ("voltage_mv", 1e3), ("volts_v", 1.0), ("u_v", 1.0)];
const CHARGES: [Column; 6] = [
    ("discharged_ah", 1.0),
    ("discharged_mah", 1e3),
    ("capacity_ah", 1.0),
    ("capacity_mah", 1e3),
    ("charge_ah", 1.0),
    ("charge_mah", 1e3),
];

/// The current of a log changed at once: what the voltage did.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Jump {
    /// Line after the change.
    pub line: usize,
    /// Rise of the current.
    pub more_a: f64,
    /// Fall of the voltage.
    pub fell_v: f64,
    /// How long after the change they were read.
    pub after_s: f64,
}

/// A discharge from full.
#[derive(Debug, Clone, PartialEq)]
pub struct Log {
    /// Its lines; discharge is positive, time from its first line.
    pub lines: Vec<Logged>,
    /// Largest current.
    pub most_a: f64,
    /// Charge taken out.
    pub charge_ah: f64,
}

impl Log {
    /// Reads time, current and voltage of a table, in whichever sign a discharge has; or charge and voltage of a printed curve, whose
    /// current is told beside it.
    pub fn read(told: &ToldDischarge<'_>) -> Result<Log, Vec<LineError>> {
        let table = Table::read(told.text, MOST_LINES)?;
        let found = |names: &[Column]| names.iter().find(|(name, _)| table.column(name).is_some()).copied();
        let missing = |what: &str, example: &str| LineError {
            line: 1,
            reason: format!("no column of {what}: name it “{example}”"),
        };
        let volts = found(&VOLTS).ok_or_else(|| missing("volts", "Voltage / V"));
        let lines = match (told.current_a, found(&TIMES), found(&CHARGES)) {
            (Some(current_a), None, Some(charge)) => {
                let volts = volts.map_err(|e| vec![e])?;
                printed(&table, charge, volts, current_a)?
            }
            (Some(_), None, None) => {
                let charge = missing("charge", "Discharged / Ah");
                return Err([Some(charge), volts.err()].into_iter().flatten().collect());
            }
            (_, time, _) => {
                let time = time.ok_or_else(|| missing("times", "Test Time / s"));
                let current = found(&CURRENTS).ok_or_else(|| missing("currents", "Current / A"));
                match (time, current, volts) {
                    (Ok(time), Ok(current), Ok(volts)) => logged(&table, time, current, volts)?,
                    (t, c, v) => return Err([t.err(), c.err(), v.err()].into_iter().flatten().collect()),
                }
            }
        };
        if lines.len() < 10 {
            return Err(whole(format!("{} lines: at least 10 are needed", lines.len())));
        }
        let begin_s = lines[0].time_s;
        let sign = if lines.iter().map(|l| l.current_a).sum::<f64>() < 0.0 { -1.0 } else { 1.0 };
        let lines: Vec<Logged> = lines
            .into_iter()
            .map(|l| Logged { time_s: l.time_s - begin_s, current_a: sign * l.current_a, ..l })
            .collect();
        let charge_ah = lines.windows(2).map(|w| w[1].current_a * (w[1].time_s - w[0].time_s) / 3600.0).sum();
        let most_a = lines.iter().map(|l| l.current_a).fold(0.0, f64::max);
        Ok(Log { lines, most_a, charge_ah })
    }

    /// What flows on the mean while it flows.
    pub fn mean_a(&self) -> f64 {
        let hours = self.lines.last().map_or(0.0, |l| l.time_s / 3600.0);
        if hours > 0.0 { self.charge_ah / hours } else { 0.0 }
    }

    /// Up to the last line with a current: what rests behind it recovers, and says nothing of the curve.
    pub fn under_load(&self) -> &[Logged] {
        let last = self.lines.iter().rposition(|l| l.current_a > ALIKE * self.most_a);
        &self.lines[..last.map_or(0, |i| i + 1)]
    }

    /// Where the current changed at once.
    pub fn jumps(&self) -> Vec<Jump> {
        let jump = |(i, w): (usize, &[Logged])| {
            let (more_a, after_s) = (w[1].current_a - w[0].current_a, w[1].time_s - w[0].time_s);
            (more_a.abs() > JUMPS * self.most_a && after_s <= JUMP_S).then(|| Jump {
                line: i + 1,
                more_a,
                fell_v: w[0].voltage_v - w[1].voltage_v,
                after_s,
            })
        };
        self.lines.windows(2).enumerate().filter_map(jump).collect()
    }

    /// About so many lines as a fit uses. What flowed in between is kept: each line has the mean current since the one before,
    /// and a line is never left out where the current changes.
    pub fn thinned(&self) -> Vec<Logged> {
        let lines = self.under_load();
        let alike = |a: &Logged, b: &Logged| (a.current_a - b.current_a).abs() <= ALIKE * self.most_a;
        let every = (lines.len() / USED_LINES).max(1);
        let kept = kept(lines.chunk_by(alike).flat_map(|run| run.chunks(every)));
        let too_many = kept.len().div_ceil(MOST_USED);
        if too_many > 1 { self::kept(kept.chunks(too_many)) } else { kept }
    }
}

/// The last line of each part, with the mean current since the part before.
fn kept<'a>(parts: impl Iterator<Item = &'a [Logged]>) -> Vec<Logged> {
    let mut kept: Vec<Logged> = vec![];
    for part in parts {
        let Some(last) = part.last() else { continue };
        let Some(before) = kept.last().copied() else {
            // The first line stands for no time.
            kept.extend(part.first());
            if part.len() > 1 {
                kept.push(mean(part[0], &part[1..]));
            }
            continue;
        };
        if last.time_s > before.time_s {
            kept.push(mean(before, part));
        }
    }
    kept
}

fn mean(before: Logged, part: &[Logged]) -> Logged {
    let mut since_s = before.time_s;
    let mut charge_as = 0.0;
    for line in part {
        charge_as += line.current_a * (line.time_s - since_s);
        since_s = line.time_s;
    }
    let last = part[part.len() - 1];
    Logged { current_a: charge_as / (last.time_s - before.time_s), ..last }
}

fn number(table: &Table, row: &Row, (name, per_one): Column, low: f64, high: f64) -> Result<f64, String> {
    let text = table.text(row, name).ok_or_else(|| format!("{name} is empty"))?;
    let value = table.number(text).ok_or_else(|| format!("{name}: “{text}” is not a number"))? / per_one;
    if (low..=high).contains(&value) { Ok(value) } else { Err(format!("{name}: {value} is outside {low} to {high}")) }
}

fn logged(table: &Table, time: Column, current: Column, volts: Column) -> Result<Vec<Logged>, Vec<LineError>> {
    each(table, |row| {
        Ok(Logged {
            time_s: number(table, row, time, 0.0, 1e8)?,
            current_a: number(table, row, current, -MOST_A, MOST_A)?,
            voltage_v: number(table, row, volts, CELL_V.0, CELL_V.1)?,
        })
    })
}

/// A curve of voltage over charge at one current.
fn printed(table: &Table, charge: Column, volts: Column, current_a: f64) -> Result<Vec<Logged>, Vec<LineError>> {
    each(table, |row| {
        let charge_ah = number(table, row, charge, 0.0, 10_000.0)?;
        let voltage_v = number(table, row, volts, CELL_V.0, CELL_V.1)?;
        Ok(Logged { time_s: charge_ah / current_a * 3600.0, current_a, voltage_v })
    })
}

/// Every line in order of time, or every one that is wrong.
fn each(table: &Table, line: impl Fn(&Row) -> Result<Logged, String>) -> Result<Vec<Logged>, Vec<LineError>> {
    let mut lines: Vec<Logged> = vec![];
    let mut errors = vec![];
    for row in &table.rows {
        match line(row) {
            Ok(read) if lines.last().is_some_and(|before| before.time_s >= read.time_s) => {
                let reason = "it does not come after the line before".to_owned();
                errors.push(LineError { line: row.line, reason });
            }
            Ok(read) => lines.push(read),
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    errors.truncate(20);
    if errors.is_empty() { Ok(lines) } else { Err(errors) }
}
