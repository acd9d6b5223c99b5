//! A series of ammeter readings as text: pasted from a meter's program, or a CSV file.
//!
//! Understands comma, semicolon, tab and blanks between columns, decimal point or comma, a byte order mark, comment
//! lines, a header line, clock times, and the column names of the open Battery Data Format. Either every line is
//! understood or each bad one is told with its number: nothing is half taken.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::table::LineError;

/// Most lines that are read: an hour at a sample every 20 ms.
pub const MOST_LINES: usize = 200_000;
/// Most bad lines that are told one by one.
const MOST_TOLD: usize = 20;
/// Largest current that can be a reading.
const MOST_A: f64 = 2000.0;

/// One reading. Discharge is positive.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Sample {
    /// Time since the first reading.
    pub time_s: f64,
    /// Current.
    pub current_a: f64,
}

/// Readings in the order of time.
#[derive(Debug, Clone, PartialEq)]
pub struct LoadLog {
    /// At least two.
    pub samples: Vec<Sample>,
    /// Whether the file counted discharge as negative, as the Battery Data Format does (from memory), or the meter's
    /// leads were swapped.
    pub flipped: bool,
}

/// Where time and current stand in a line, and their factors to seconds and amperes.
#[derive(Debug, Clone, Copy)]
struct Columns {
    time: Option<(usize, f64)>,
    current: (usize, f64),
}

/// Reads a log. `interval_s` is the time from line to line where there is no column of times.
pub fn read(text: &str, interval_s: Option<f64>) -> Result<LoadLog, Vec<LineError>> {
    let whole = |reason: &str| vec![LineError { line: 1, reason: reason.to_owned() }];
    let text = text.trim_start_matches('\u{feff}');
    let lines: Vec<(usize, &str)> = text
        .lines()
        .enumerate()
        .map(|(i, line)| (i + 1, line.trim()))
        .filter(|(_, line)| !line.is_empty() && !line.starts_with('#'))
        .collect();
    if lines.len() > MOST_LINES {
        return Err(whole(&format!("{} lines; at most {MOST_LINES} are read", lines.len())));
    }
    let Some(&(_, first)) = lines.first() else {
        return Err(whole("there are no readings"));
    };
    let separator = separator(first, lines.get(1).map(|l| l.1), interval_s.is_some());
    let has_header = cells(first, separator).iter().all(|cell| number(cell).is_none() && clock_s(cell).is_none());
    let columns = if has_header {
        named(&cells(first, separator)).map_err(|reason| whole(&reason))?
    } else {
        match cells(first, separator).len() {
            1 => Columns { time: None, current: (0, 1.0) },
            _ => Columns { time: Some((0, 1.0)), current: (1, 1.0) },
        }
    };
    if columns.time.is_none() && interval_s.is_none() {
        return Err(whole("there is no column of times: say how far apart the readings are"));
    }
    let mut samples: Vec<Sample> = Vec::with_capacity(lines.len());
    let mut errors = vec![];
    for (i, &(line, text)) in lines.iter().skip(usize::from(has_header)).enumerate() {
        let told = sample(&cells(text, separator), columns, i as f64 * interval_s.unwrap_or(0.0));
        let told = told.and_then(|s| match samples.last() {
            Some(before) if s.time_s <= before.time_s => {
                Err("its time is not after that of the line before".to_owned())
            }
            _ => Ok(s),
        });
        match told {
            Ok(s) => samples.push(s),
            Err(reason) => errors.push(LineError { line, reason }),
        }
    }
    if !errors.is_empty() {
        let more = errors.len().saturating_sub(MOST_TOLD);
        errors.truncate(MOST_TOLD);
        if let (Some(last), true) = (errors.last_mut(), more > 0) {
            last.reason += &format!("; and {more} more bad lines");
        }
        return Err(errors);
    }
    if samples.len() < 2 {
        return Err(whole("at least two readings are needed"));
    }
    Ok(upright(samples))
}

/// Times from zero, discharge positive.
fn upright(mut samples: Vec<Sample>) -> LoadLog {
    let begin_s = samples[0].time_s;
    let sum: f64 = samples.iter().map(|s| s.current_a).sum();
    let flipped = sum < 0.0;
    for s in &mut samples {
        s.time_s -= begin_s;
        if flipped {
            s.current_a = -s.current_a;
        }
    }
    LoadLog { samples, flipped }
}

/// What stands between columns. A comma separates only if the cells it leaves are whole readings.
fn separator(first: &str, second: Option<&str>, without_times: bool) -> Option<char> {
    for candidate in [';', '\t'] {
        if first.contains(candidate) {
            return Some(candidate);
        }
    }
    let sample = second.unwrap_or(first);
    let commas = |line: &str| line.matches(',').count();
    // "0,5 1,2": decimal commas between blanks. "12,5" under one name, or where no times are expected: one reading.
    let alone = commas(sample) == 1 && !sample.contains('.') && (commas(first) == 0 || without_times);
    let between_blanks =
        sample.split_whitespace().count() > 1 && sample.split_whitespace().all(|w| number(w).is_some());
    let decimal_commas = between_blanks || alone;
    (sample.contains(',') && !decimal_commas).then_some(',')
}

fn cells(line: &str, separator: Option<char>) -> Vec<String> {
    let bare = |cell: &str| cell.trim().trim_matches('"').trim().to_owned();
    match separator {
        Some(separator) => line.split(separator).map(bare).collect(),
        None => line.split_whitespace().map(bare).collect(),
    }
}

/// Columns by the names of a header: "Test Time / s", "Current / A", "time (ms)", "mA".
fn named(header: &[String]) -> Result<Columns, String> {
    let lower: Vec<String> = header.iter().map(|h| h.to_lowercase()).collect();
    let words = |name: &str| -> Vec<String> {
        name.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()).map(str::to_owned).collect()
    };
    let has = |name: &str, any: &[&str]| words(name).iter().any(|w| any.contains(&w.as_str()));
    let time = lower.iter().position(|n| n.contains("time") || has(n, &["t", "s", "ms", "sec", "seconds", "zeit"]));
    let current =
        lower.iter().position(|n| n.contains("current") || has(n, &["a", "ma", "i", "amp", "amps", "amperes"]));
    let Some(current) = current else {
        return Err(format!("no column of currents among “{}”: name it “Current / A”", header.join("”, “")));
    };
    let milli = |name: &str, unit: &str| if has(name, &[unit]) { 1e-3 } else { 1.0 };
    Ok(Columns {
        time: time.filter(|t| *t != current).map(|t| (t, milli(&lower[t], "ms"))),
        current: (current, milli(&lower[current], "ma")),
    })
}

fn sample(cells: &[String], columns: Columns, counted_s: f64) -> Result<Sample, String> {
    let cell = |at: usize, what: &str| {
        cells.get(at).filter(|c| !c.is_empty()).ok_or_else(|| format!("it has no {what} in column {}", at + 1))
    };
    let time_s = match columns.time {
        Some((at, factor)) => {
            let text = cell(at, "time")?;
            let value = number(text).map(|v| v * factor).or_else(|| clock_s(text));
            value.ok_or_else(|| format!("“{text}” is not a time"))?
        }
        None => counted_s,
    };
    let (at, factor) = columns.current;
    let text = cell(at, "current")?;
    let current_a = number(text).ok_or_else(|| format!("“{text}” is not a current"))? * factor;
    if current_a.abs() > MOST_A {
        return Err(format!("{current_a} A is outside −{MOST_A} to {MOST_A} A"));
    }
    Ok(Sample { time_s, current_a })
}

fn number(text: &str) -> Option<f64> {
    let plain = text.trim_end_matches(['A', 'a', 's']).trim().replace(',', ".").replace('−', "-");
    plain.parse::<f64>().ok().filter(|v| v.is_finite())
}

/// "01:02:03.5" or "02:03" in seconds.
fn clock_s(text: &str) -> Option<f64> {
    let parts: Vec<f64> = text.split(':').map(number).collect::<Option<_>>()?;
    (2..=3).contains(&parts.len()).then(|| parts.iter().fold(0.0, |sum, part| sum * 60.0 + part))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn currents(text: &str, interval_s: Option<f64>) -> Vec<(f64, f64)> {
        let log = read(text, interval_s).unwrap_or_else(|e| panic!("{text}: {e:?}"));
        log.samples.iter().map(|s| (s.time_s, s.current_a)).collect()
    }

    #[test]
    fn every_usual_form_is_understood() {
        let expected = vec![(0.0, 1.5), (0.5, 2.25)];
        for (text, interval_s) in [
            ("0,1.5\n0.5,2.25", None),
            ("0;1,5\n0,5;2,25\n", None),
            ("0\t1.5\n0.5\t2.25", None),
            ("0,0 1,5\n0,5 2,25", None),
            ("\u{feff}# meter in the shed\ntime / s,current / A\n0,1.5\n\n0.5,2.25", None),
            ("Test Time / s,Voltage / V,Current / A\n10,12.1,-1.5\n10.5,12.0,-2.25", None),
            ("\"t (ms)\";\"mA\"\n0;1500\n500;2250", None),
            ("00:01:00.0,1.5\n00:01:00.5,2.25", None),
            ("1.5\n2.25", Some(0.5)),
            ("1,5\n2,25", Some(0.5)),
            ("0 s,1.5 A\n0.5 s,2.25 A", None),
        ] {
            assert_eq!(currents(text, interval_s), expected, "{text}");
        }
        assert!(read("Current / A\n-1\n-2", Some(1.0)).unwrap().flipped);
    }

    #[test]
    fn every_bad_line_is_told_with_its_number_and_nothing_is_taken() {
        let errors = read("time,current\n0,1\n1,one\n1.5,2\n1.2,2\n2\n3,99999", None).unwrap_err();
        let told: Vec<(usize, bool)> = errors.iter().map(|e| (e.line, e.reason.is_empty())).collect();
        assert_eq!(told, [(3, false), (5, false), (6, false), (7, false)]);
        assert!(errors[0].reason.contains("“one” is not a current"));
        assert!(errors[1].reason.contains("not after"));
        assert!(errors[2].reason.contains("no current in column 2"));
        assert!(errors[3].reason.contains("2000 A"));
        for (text, interval_s, told) in [
            ("", None, "no readings"),
            ("1\n2", None, "how far apart"),
            ("5", Some(1.0), "two readings"),
            ("colour,size\n1,2", None, "Current / A"),
            ("0,NaN\n1,inf", None, "not a current"),
        ] {
            let errors = read(text, interval_s).unwrap_err();
            assert!(errors[0].reason.contains(told), "{text}: {errors:?}");
        }
        let many = (0..50).map(|_| "x,y\n").collect::<String>();
        let errors = read(&format!("0,1\n{many}"), None).unwrap_err();
        assert_eq!(errors.len(), MOST_TOLD);
        assert!(errors[MOST_TOLD - 1].reason.contains("30 more bad lines"));
    }
}
