//! Reading a figure as typed.

use brick_core::base::range;
use brick_core::base::{quantity, typed};
use brick_core::plan::FieldError;
use rocket::post;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::Problem;
use crate::api::http::body::Body;

/// A figure as typed, and the range it belongs to.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedFigure {
    /// As typed: "76 m", "2,5 Ah".
    text: String,
    /// Key of the range.
    range: String,
}

/// A figure as understood, or why it is none: half a figure is typed before the whole one, which is no error of the asking.
#[derive(Debug, Serialize, ToSchema)]
pub struct ReadFigure {
    /// In the unit of the range; absent where it was not understood.
    value: Option<f64>,
    /// Written out.
    shown: String,
    /// What is wrong with it, and what would be right.
    refused: Option<String>,
}

/// Read a figure as typed, or say what is wrong with it and which range is allowed.
#[utoipa::path(context_path = "/api", request_body = TypedFigure,
    responses((status = 200, body = ReadFigure), (status = 422, body = Problem)))]
#[post("/quantity", data = "<typed>")]
pub fn read_quantity(typed: Result<Body<TypedFigure>, Problem>) -> Result<Json<ReadFigure>, Problem> {
    let typed = typed?.0;
    let refuse = |field: &str, message: String| Problem::fields(vec![FieldError { field: field.to_owned(), message }]);
    let range = range::ALL
        .iter()
        .find(|r| r.key == typed.range)
        .ok_or_else(|| refuse("/range", format!("there is no range “{}”", typed.range)))?;
    Ok(Json(match typed::parse(&typed.text, range) {
        Ok(value) => ReadFigure { value: Some(value), shown: quantity::show(value, range.unit), refused: None },
        Err(error) => ReadFigure { value: None, shown: String::new(), refused: Some(error.to_string()) },
    }))
}
