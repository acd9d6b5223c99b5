//! The stock: lots, cells, readings, files in and out.

pub mod cells;
pub mod files;
pub mod lots;
pub mod readings;

use brick_core::base::table::{LineError, moment};
use brick_core::plan::FieldError;
use chrono::Utc;
use rocket::http::Status;
use uuid::Uuid;

use crate::Problem;
use crate::store::stock::StockError;

impl From<StockError> for Problem {
    fn from(error: StockError) -> Self {
        match error {
            StockError::Missing(what) => Problem::not_found(what),
            StockError::LabelsTaken(_) => {
                let message = error.to_string();
                Problem::fields(vec![FieldError { field: "/labels".to_owned(), message }])
            }
            StockError::NameTaken(_) => {
                let message = error.to_string();
                Problem::fields(vec![FieldError { field: "/lot/name".to_owned(), message }])
            }
            StockError::State(told) => Problem::new(Status::Conflict, "Not possible with these cells", told),
            StockError::Lines(lines) => bad_lines(lines),
            StockError::Database(error) => error.into(),
        }
    }
}

/// Every bad line of a file.
pub(in crate::api) fn bad_lines(lines: Vec<LineError>) -> Problem {
    let told = |e: LineError| FieldError { field: format!("/text/{}", e.line), message: e.to_string() };
    Problem { title: "Nothing was imported".to_owned(), ..Problem::fields(lines.into_iter().map(told).collect()) }
}

fn one_of<T>(
    field: &str,
    text: Option<&str>,
    read: impl Fn(&str) -> Option<T>,
    all: &str,
) -> Result<Option<T>, Problem> {
    let Some(text) = text.filter(|t| !t.is_empty()) else { return Ok(None) };
    let refuse =
        || Problem::fields(vec![FieldError { field: field.to_owned(), message: format!("“{text}” is not {all}") }]);
    read(text).map(Some).ok_or_else(refuse)
}

fn uuid_of(field: &str, text: Option<&str>) -> Result<Option<Uuid>, Problem> {
    one_of(field, text, |t| t.parse().ok(), "an id")
}

/// When readings were taken: as said, or now; never in days to come.
fn taken_s(field: &str, text: Option<&str>) -> Result<i64, Problem> {
    const DAY_S: i64 = 86_400;
    let now_s = Utc::now().timestamp();
    let Some(text) = text.filter(|t| !t.trim().is_empty()) else { return Ok(now_s) };
    let refuse =
        |message: &str| Problem::fields(vec![FieldError { field: field.to_owned(), message: message.to_owned() }]);
    let at_s = moment(text).ok_or_else(|| refuse("a day as 2026-11-25, or with a time as 2026-11-25 10:30"))?;
    if at_s > now_s + DAY_S { Err(refuse("lies in the future")) } else { Ok(at_s) }
}
