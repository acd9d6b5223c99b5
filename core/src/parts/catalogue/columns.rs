//! The columns of a parts sheet: one for each figure of a part, four for a reading with how it is known.

use std::sync::LazyLock;

use crate::plan::fields::{self, Field, Form, PartKind};

/// How a column is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// A number in the unit that the name ends in; shares as 0 to 1.
    Number,
    /// A whole number.
    Count,
    /// Free words.
    Text,
    /// yes or no.
    YesNo,
    /// One of the words of the plan's format.
    Word,
}

/// One column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Column {
    /// Its name in the header.
    pub name: String,
    /// Kinds of part that have it.
    pub kinds: Vec<PartKind>,
    /// JSON pointer of the figure in the part.
    pub at: String,
    /// How it is written.
    pub written: Written,
}

/// Every column below the part, in the order in which they are written.
pub fn columns() -> &'static [Column] {
    static COLUMNS: LazyLock<Vec<Column>> = LazyLock::new(|| {
        let mut columns: Vec<Column> = vec![];
        for column in fields::all().flat_map(of) {
            // What several kinds of part have is one column.
            match columns.iter_mut().find(|c| c.name == column.name) {
                Some(known) => known.kinds.extend(column.kinds),
                None => columns.push(column),
            }
        }
        columns
    });
    &COLUMNS
}

fn of(field: &Field) -> Vec<Column> {
    let column = |name: String, at: String, written| Column { name, kinds: field.kinds.to_vec(), at, written };
    let one = |written| vec![column(field.column.to_owned(), field.at.to_owned(), written)];
    match field.form {
        Form::Name => one(Written::Text),
        Form::Quantity(range) => one(if range.whole { Written::Count } else { Written::Number }),
        Form::YesNo | Form::Flag => one(Written::YesNo),
        Form::Choice(_) => one(Written::Word),
        // A size is written by its own figures.
        Form::WireSize | Form::CellSize => vec![],
        Form::Known(_) => {
            let (stem, unit) = field.column.rsplit_once('_').unwrap_or((field.column, ""));
            let at = |key: &str| format!("{}/{key}", field.at);
            vec![
                column(field.column.to_owned(), at("value"), Written::Number),
                column(format!("{stem}_how"), at("how"), Written::Word),
                column(format!("{stem}_error_{unit}"), at("error"), Written::Number),
                column(format!("{stem}_meter"), at("meter"), Written::Text),
            ]
        }
    }
}
