//! Tables as text: CSV files and what is pasted from a spreadsheet.
//!
//! Comma, semicolon or tab between columns, decimal point or comma, quotes, a byte order mark, comment lines with #.
//! Either every line is understood or each bad one is told with its number: nothing is half taken.

use std::fmt;

use chrono::{DateTime, NaiveDate, NaiveDateTime, NaiveTime};
use csv::{ReaderBuilder, StringRecord, Trim};
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::range::Range;

/// A line that could not be read.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct LineError {
    /// Its number, counted from 1.
    pub line: usize,
    /// What is wrong with it.
    pub reason: String,
}

impl fmt::Display for LineError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "line {}: {}", self.line, self.reason)
    }
}

/// Rows as CSV: comma, quotes where they are needed. `None` when a row cannot be written, which no text brings about.
///
/// No cell is a formula to a spreadsheet that opens the file: a text that begins like one has an apostrophe before it,
/// which `Table` takes off again. Numbers stay numbers.
pub fn written(rows: impl IntoIterator<Item = Vec<String>>) -> Option<String> {
    let mut csv = csv::Writer::from_writer(vec![]);
    for row in rows {
        csv.write_record(row.into_iter().map(no_formula)).ok()?;
    }
    String::from_utf8(csv.into_inner().ok()?).ok()
}

/// Whether a spreadsheet would calculate with a text, or a reader of tables take it for a comment, also behind apostrophes
/// that were put before it. Source of the signs of a formula: OWASP, "CSV Injection".
fn is_formula(text: &str) -> bool {
    text.trim_start_matches('\'').starts_with(['=', '+', '-', '@', '#', '\t', '\r', '＝', '＋', '－', '＠'])
}

fn no_formula(cell: String) -> String {
    let is_number = cell.parse::<f64>().is_ok();
    if is_formula(&cell) && !is_number { format!("'{cell}") } else { cell }
}

/// A fault of the text as a whole.
pub fn whole(reason: impl Into<String>) -> Vec<LineError> {
    vec![LineError { line: 1, reason: reason.into() }]
}

/// A table with a header.
#[derive(Debug)]
pub struct Table {
    header: Vec<String>,
    separator: u8,
    /// Lines in order.
    pub rows: Vec<Row>,
}

/// One line.
#[derive(Debug)]
pub struct Row {
    /// Its number, counted from 1.
    pub line: usize,
    record: StringRecord,
}

impl Table {
    /// Reads a table with a header line, at least one and at most so many lines below it.
    pub fn read(text: &str, most: usize) -> Result<Table, Vec<LineError>> {
        let table = Table::read_any(text, most)?;
        if table.rows.is_empty() { Err(whole("there are no lines below the header")) } else { Ok(table) }
    }

    /// The same for a table that may have a header and nothing else.
    pub fn read_any(text: &str, most: usize) -> Result<Table, Vec<LineError>> {
        let text = text.trim_start_matches('\u{feff}');
        let first = text.lines().map(str::trim).find(|l| !l.is_empty() && !l.starts_with('#'));
        let Some(first) = first else {
            return Err(whole("there is nothing in it"));
        };
        let separator = [b'\t', b';', b','].into_iter().find(|&s| first.contains(char::from(s))).unwrap_or(b',');
        let mut header = vec![];
        let mut rows = vec![];
        let mut errors = vec![];
        let lines = text.lines().map(str::trim).enumerate().filter(|(_, l)| !l.is_empty() && !l.starts_with('#'));
        for (line, text) in lines.map(|(i, text)| (i + 1, text)) {
            let Some(record) = record(text, separator) else {
                errors.push(LineError { line, reason: "it cannot be read as a line of a table".to_owned() });
                continue;
            };
            if record.iter().all(str::is_empty) {
                continue;
            }
            if header.is_empty() {
                header = record.iter().map(plain_name).collect();
            } else if record.iter().skip(header.len()).any(|c| !c.is_empty()) {
                let reason = format!("{} columns; the header names {}", record.len(), header.len());
                errors.push(LineError { line, reason });
            } else {
                rows.push(Row { line, record });
            }
        }
        if let Some(name) = header.iter().enumerate().find_map(|(i, n)| header[..i].contains(n).then_some(n)) {
            errors.push(LineError { line: 1, reason: format!("two columns are called “{name}”") });
        }
        if rows.len() > most {
            return Err(whole(format!("{} lines; at most {most} are taken at once", rows.len())));
        }
        if errors.is_empty() { Ok(Table { header, separator, rows }) } else { Err(errors) }
    }

    /// Column of that name.
    pub fn column(&self, name: &str) -> Option<usize> {
        self.header.iter().position(|h| h == name)
    }

    /// Names that stand in the header but not among the known ones.
    pub fn unknown<'t>(&'t self, known: &[&str]) -> Vec<&'t str> {
        self.header.iter().map(String::as_str).filter(|h| !h.is_empty() && !known.contains(h)).collect()
    }

    /// A figure in a column: `None` where the column or the cell is empty. `per_one` of the column's unit are one of core's.
    pub fn figure(&self, row: &Row, name: &str, per_one: f64, range: &Range) -> Result<Option<f64>, String> {
        let Some(text) = self.text(row, name) else { return Ok(None) };
        let value = self.number(text).ok_or_else(|| format!("{name}: “{text}” is not a number"))? / per_one;
        range.check(value).map_err(|e| format!("{name}: {e}"))?;
        Ok(Some(value))
    }

    /// What stands in a column, if anything does.
    pub fn text<'r>(&self, row: &'r Row, name: &str) -> Option<&'r str> {
        let cell = self.column(name).and_then(|at| row.record.get(at)).filter(|t| !t.is_empty())?;
        Some(cell.strip_prefix('\'').filter(|rest| is_formula(rest)).unwrap_or(cell))
    }

    /// A number as spreadsheets write it. A comma is the decimal mark, unless commas part the columns: there "1,200"
    /// in quotes could be either and is not taken.
    pub fn number(&self, text: &str) -> Option<f64> {
        let text = text.replace('−', "-");
        let plain = if self.separator == b',' { text } else { text.replace(',', ".") };
        plain.parse::<f64>().ok().filter(|v| v.is_finite())
    }
}

/// A day as 2026-11-25, in seconds since 1970 at its begin; `None` for what is no day.
pub fn day(text: &str) -> Option<i64> {
    let date = NaiveDate::parse_from_str(text.trim(), "%Y-%m-%d").ok()?;
    Some(date.and_time(NaiveTime::MIN).and_utc().timestamp())
}

/// A day, or a day and a time in UTC, in seconds since 1970: 2026-11-25, 2026-11-25 10:30, 2026-11-25T10:30:00Z.
pub fn moment(text: &str) -> Option<i64> {
    let plain = text.trim().trim_end_matches('Z').replace('T', " ");
    let read = |form| NaiveDateTime::parse_from_str(&plain, form).ok().map(|t| t.and_utc().timestamp());
    day(&plain).or_else(|| read("%Y-%m-%d %H:%M:%S")).or_else(|| read("%Y-%m-%d %H:%M"))
}

/// Seconds since 1970 as `moment` reads them.
pub fn written_moment(seconds: i64) -> String {
    DateTime::from_timestamp(seconds, 0).map_or_else(String::new, |t| t.format("%Y-%m-%dT%H:%M:%SZ").to_string())
}

/// One line in its columns. Line by line, so that a quote left open spoils no other line.
fn record(line: &str, separator: u8) -> Option<StringRecord> {
    let mut builder = ReaderBuilder::new();
    builder.delimiter(separator).has_headers(false).trim(Trim::All);
    builder.from_reader(line.as_bytes()).records().next()?.ok()
}

/// "Capacity (mAh)" and "capacity_mAh" are `capacity_mah`.
fn plain_name(name: &str) -> String {
    let lower = name.to_lowercase();
    let words: Vec<&str> = lower.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()).collect();
    words.join("_")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::range::CELL_AH;

    #[test]
    fn every_usual_form_of_a_table_is_read_alike() {
        for text in [
            "label,capacity_mah\nA1,2150\nA2,1980.5\n",
            "label;capacity_mah\nA1;2150\nA2;1980,5",
            "\u{feff}Label\tCapacity (mAh)\r\nA1\t2150\r\n\r\nA2\t1980,5\r\n",
            "# from the shed\n\"label\", \"capacity mAh\"\nA1, 2150\n\nA2,\"1980.5\"\n",
        ] {
            let table = Table::read(text, 10).unwrap_or_else(|e| panic!("{text}: {e:?}"));
            let found: Vec<_> = table
                .rows
                .iter()
                .map(|r| (table.text(r, "label").unwrap(), table.figure(r, "capacity_mah", 1000.0, &CELL_AH).unwrap()))
                .collect();
            assert_eq!(found, [("A1", Some(2.15)), ("A2", Some(1.9805))], "{text}");
        }
    }

    #[test]
    fn no_cell_that_is_written_is_a_formula_and_each_comes_in_as_it_went_out() {
        let texts =
            ["=1+1", "+cmd|' /C calc'!A0", "-x", "@SUM(A1)", "'=1", "''=1", "=\"a\",b", "'tis", "#7", "plain", "＝1"];
        let rows = texts.iter().map(|t| vec![(*t).to_owned(), "-4.5".to_owned()]);
        let head = vec!["name".to_owned(), "volts".to_owned()];
        let text = written(std::iter::once(head).chain(rows)).unwrap();
        for line in text.lines().skip(1) {
            let cell = line.trim_start_matches('"');
            assert!(!cell.starts_with(['=', '+', '-', '@', '\t', '＝']), "{line}");
            assert!(line.ends_with(",-4.5"), "{line}: a number stays one");
        }
        let table = Table::read(&text, 100).unwrap();
        let back: Vec<&str> = table.rows.iter().map(|r| table.text(r, "name").unwrap()).collect();
        assert_eq!(back, texts);
    }

    #[test]
    fn days_and_moments_are_read_and_written() {
        // 2026-01-01 is 20454 days after 1970-01-01.
        const NEW_YEAR_S: i64 = 20_454 * 86_400;
        for text in ["2026-01-01", "2026-01-01 00:00", "2026-01-01T00:00:00Z", " 2026-01-01T00:00:00 "] {
            assert_eq!(moment(text), Some(NEW_YEAR_S), "{text}");
        }
        assert_eq!(moment(&written_moment(NEW_YEAR_S + 3661)), Some(NEW_YEAR_S + 3661));
        for text in ["", "yesterday", "2026-02-30", "01.02.2026"] {
            assert_eq!((moment(text), day(text)), (None, None), "{text}");
        }
    }

    #[test]
    fn lines_count_from_one_with_comments_and_blanks() {
        let table = Table::read("# note\nlabel\n\nA1\nA2\n", 10).unwrap();
        assert_eq!(table.rows.iter().map(|r| r.line).collect::<Vec<_>>(), [4, 5]);
    }

    #[test]
    fn what_is_no_table_is_told() {
        for (text, told) in [
            ("", "nothing in it"),
            ("label\n", "no lines"),
            ("label,label\nA,B", "two columns are called “label”"),
            ("label\nA,B", "2 columns"),
            ("label\nA\nB\nC\nD", "at most 3"),
        ] {
            let errors = Table::read(text, 3).unwrap_err();
            assert!(errors[0].reason.contains(told), "{text}: {errors:?}");
        }
        let table = Table::read("label,mah\nA1,\"1,200\"\nA2,900000", 3).unwrap();
        let read = |i: usize| table.figure(&table.rows[i], "mah", 1000.0, &CELL_AH).unwrap_err();
        assert!(read(0).contains("“1,200” is not a number"));
        assert!(read(1).contains("mah: Cell capacity"), "{}", read(1));
    }
}
