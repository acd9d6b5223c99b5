//! Readings of a table: red, black, condition, voltage.

use super::points::{At, Taken};
use super::report::MOST_READINGS;
use crate::base::range;
use crate::base::table::{LineError, Row, Table, whole};

/// The readings of a table, each with its line; it has the columns red, black, condition (`rest`, `on`, `charging`) and voltage; others are left out.
/// It may have a header and nothing else.
///
/// Refuses a table without these columns, and names the line and the field of every value that cannot stand.
pub fn read_taken(text: &str) -> Result<Vec<(usize, Taken)>, Vec<LineError>> {
    let table = Table::read_any(text, MOST_READINGS)?;
    let missing: Vec<&str> =
        ["red", "black", "condition", "volts"].into_iter().filter(|name| table.column(name).is_none()).collect();
    if !missing.is_empty() {
        return Err(whole(format!("the header has no {}", missing.join(", "))));
    }
    let (mut taken, mut errors) = (vec![], vec![]);
    for row in &table.rows {
        match reading(&table, row) {
            Ok(one) => taken.push((row.line, one)),
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    if errors.is_empty() { Ok(taken) } else { Err(errors) }
}

fn reading(table: &Table, row: &Row) -> Result<Taken, String> {
    let text = |name: &str| table.text(row, name).map(str::to_owned).ok_or_else(|| format!("{name}: nothing"));
    let condition = match text("condition")?.as_str() {
        "rest" => At::Rest,
        "on" => At::On,
        "charging" => At::Charging,
        other => return Err(format!("condition: “{other}” is none of rest, on, charging")),
    };
    let volts = table.figure(row, "volts", 1.0, &range::BUILD_VOLTS)?.ok_or("volts: nothing")?;
    Ok(Taken { red: text("red")?, black: text("black")?, condition, volts })
}
