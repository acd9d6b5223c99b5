//! Cells to group as a table: `label,capacity_mah` (or `capacity_ah`) and what else is known of them.

use std::collections::HashMap;

use super::{CANDIDATES_MAX, Candidate};
use crate::base::range::{DCIR, READ_AH, READ_VOLTS, REST_DAYS, SMALL_VOLTS};
use crate::base::table::{LineError, Table, whole};

/// Columns that are read; figures in thousandths are so many to one of core's.
const COLUMNS: [&str; 10] = [
    "label",
    "capacity_mah",
    "capacity_ah",
    "resistance_mohm",
    "volts",
    "self_discharge_mv",
    "rest_days",
    "keep_with",
    "lot",
    "group",
];
const MILLI: f64 = 1000.0;

/// Reads cells to choose from, and the names of columns that were not used. Every bad line is told.
pub fn read_candidates(text: &str) -> Result<(Vec<Candidate>, Vec<String>), Vec<LineError>> {
    let table = Table::read(text, CANDIDATES_MAX)?;
    let capacity =
        [("capacity_mah", MILLI), ("capacity_ah", 1.0)].into_iter().find(|(name, _)| table.column(name).is_some());
    let missing = |needed: &str| whole(format!("there is no column “{needed}”; read are {}", COLUMNS.join(", ")));
    let Some((capacity, per_ah)) = capacity else { return Err(missing("capacity_mah")) };
    if table.column("label").is_none() {
        return Err(missing("label"));
    }
    let mut seen: HashMap<String, usize> = HashMap::new();
    let mut found = vec![];
    let mut errors = vec![];
    for row in &table.rows {
        let read = || -> Result<Candidate, String> {
            let words = |name: &str| table.text(row, name).map(str::to_owned);
            let locked = match words("group") {
                None => None,
                Some(text) => {
                    let number: usize = text.parse().map_err(|_| format!("group: “{text}” is not a whole number"))?;
                    Some(number.checked_sub(1).ok_or("group: counted from 1")?)
                }
            };
            let lost_v = table.figure(row, "self_discharge_mv", MILLI, &SMALL_VOLTS)?;
            let rest_days = table.figure(row, "rest_days", 1.0, &REST_DAYS)?;
            Ok(Candidate {
                label: words("label").ok_or("label: there is none")?,
                capacity_ah: table.figure(row, capacity, per_ah, &READ_AH)?,
                resistance_ohm: table.figure(row, "resistance_mohm", MILLI, &DCIR)?,
                rested_v: table.figure(row, "volts", 1.0, &READ_VOLTS)?,
                drop_v: lost_v.map(|v| v / rest_days.unwrap_or(1.0)),
                keep_with: words("keep_with"),
                lot: words("lot"),
                locked,
                ..Candidate::default()
            })
        };
        match read() {
            Ok(c) => match seen.insert(c.label.to_lowercase(), row.line) {
                Some(line) => {
                    let reason = format!("label: “{}” stands in line {line} already", c.label);
                    errors.push(LineError { line: row.line, reason });
                }
                None => found.push(c),
            },
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    let unused = table.unknown(&COLUMNS).into_iter().map(str::to_owned).collect();
    if errors.is_empty() { Ok((found, unused)) } else { Err(errors) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_column_comes_in_the_unit_of_core() {
        let text = "lot;label;capacity_mah;resistance_mohm;volts;self_discharge_mv;keep_with;group;colour\n\
                    pump;A1;2150,5;62;4,11;7;A2;2;blue\npump;A2;2100;;;;;;";
        let (cells, unused) = read_candidates(text).unwrap();
        let first = Candidate {
            label: "A1".to_owned(),
            capacity_ah: Some(2.1505),
            resistance_ohm: Some(0.062),
            rested_v: Some(4.11),
            drop_v: Some(0.007),
            keep_with: Some("A2".to_owned()),
            lot: Some("pump".to_owned()),
            locked: Some(1),
            excluded: None,
        };
        assert_eq!((cells.len(), &cells[0], unused), (2, &first, vec!["colour".to_owned()]));
        assert_eq!((cells[1].resistance_ohm, cells[1].locked), (None, None));
    }

    #[test]
    fn capacities_may_stand_in_ampere_hours() {
        let (cells, unused) = read_candidates("label,capacity_ah\nA1,2.1505\nA2,1.98\n").unwrap();
        assert_eq!((cells[0].capacity_ah, cells[1].capacity_ah, unused.len()), (Some(2.1505), Some(1.98), 0));
    }

    #[test]
    fn all_bad_lines_are_told_with_their_numbers() {
        let text = "label,capacity_mah,resistance_mohm,group\nA1,2100,60,\nA1,2000,60,\n,2000,60,\nA3,many,60,\n\
                    A4,2000,-4,\nA5,2000,60,0\nA6,2000,60,first\n";
        let errors = read_candidates(text).unwrap_err();
        let told: Vec<String> = errors.iter().map(ToString::to_string).collect();
        assert_eq!(errors.iter().map(|e| e.line).collect::<Vec<_>>(), [3, 4, 5, 6, 7, 8]);
        for (i, words) in
            ["line 2 already", "there is none", "“many”", "resistance_mohm", "from 1", "“first”"].iter().enumerate()
        {
            assert!(told[i].contains(words), "{told:?}");
        }
        assert!(read_candidates("label,mah\nA,2000").unwrap_err()[0].reason.contains("“capacity_mah”"));
    }
}
