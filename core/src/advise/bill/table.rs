//! The bill as a table for a spreadsheet.

use super::{Bill, BillLine};
use crate::assess::CountedIn;
use crate::base::table::written;

/// Columns of the table.
const COLUMNS: [&str; 11] = [
    "name",
    "count",
    "counted_in",
    "each_price",
    "price",
    "at_hand",
    "to_buy",
    "to_buy_price",
    "arrives_days",
    "places",
    "note",
];

/// The bill as CSV: comma, decimal point, a line a part; what is not known is empty.
pub fn csv(bill: &Bill) -> Option<String> {
    let header: Vec<String> = COLUMNS.iter().map(|c| (*c).to_owned()).collect();
    written(std::iter::once(header).chain(bill.lines.iter().map(row)))
}

fn row(line: &BillLine) -> Vec<String> {
    let number = |value: f64| format!("{}", (value * 1000.0).round() / 1000.0);
    let known = |value: Option<f64>| value.map(number).unwrap_or_default();
    vec![
        line.name.clone(),
        number(line.count),
        match line.counted_in {
            CountedIn::Pieces => "pieces".to_owned(),
            CountedIn::Metres => "metres".to_owned(),
        },
        known(line.each_price),
        known(line.price),
        number(line.at_hand),
        number(line.to_buy),
        known(line.to_buy_price),
        known(line.arrives_days),
        line.places.join("; "),
        line.note.clone(),
    ]
}
