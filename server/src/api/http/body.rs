//! Reading a JSON body: too large, no JSON, wrong shape are told apart, and the field is named.

use brick_core::Plan;
use brick_core::plan::{FieldError, ReadError, pointer_of};
use rocket::data::{ByteUnit, Data, FromData, Outcome, ToByteUnit};
use rocket::http::Status;
use rocket::{Request, outcome::Outcome as Outcomes};
use serde::de::DeserializeOwned;
use serde_json::Value;
use serde_json::value::RawValue;

use crate::Problem;

/// A body of a known shape. Routes take `Result<Body<T>, Problem>`.
pub struct Body<T>(pub T);

#[rocket::async_trait]
impl<'r, T: DeserializeOwned> FromData<'r> for Body<T> {
    type Error = Problem;

    async fn from_data(request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r, Self> {
        match read(request, data).await {
            Ok(value) => Outcomes::Success(Body(value)),
            Err(problem) => {
                let status = Status::from_code(problem.status).unwrap_or(Status::BadRequest);
                Outcomes::Error((status, problem))
            }
        }
    }
}

async fn read<T: DeserializeOwned>(request: &Request<'_>, data: Data<'_>) -> Result<T, Problem> {
    parse(&read_text(data, request.limits().get("json").unwrap_or(512.kibibytes())).await?)
}

/// A body as text, up to a size.
pub async fn read_text(data: Data<'_>, limit: ByteUnit) -> Result<String, Problem> {
    let text = data
        .open(limit)
        .into_string()
        .await
        .map_err(|_| Problem::new(Status::BadRequest, "Unreadable", "The body must be JSON text in UTF-8."))?;
    if !text.is_complete() {
        let detail = format!("The body is larger than the limit of {limit}.");
        return Err(Problem::new(Status::PayloadTooLarge, "Too large", detail));
    }
    let text = text.into_inner();
    if let Some(at) = text.find('\0') {
        let line = text[..at].lines().count().max(1);
        let message = "U+0000 cannot be part of a text; is this a text file?".to_owned();
        return Err(Problem::fields(vec![FieldError { field: format!("/text/{line}"), message }]));
    }
    Ok(text)
}

/// Where a text of a JSON document holds the sign of no sign, which the database takes in no text.
fn nul_at(value: &Value, at: &str) -> Option<String> {
    match value {
        Value::String(text) => text.contains('\0').then(|| at.to_owned()),
        Value::Array(items) => items.iter().enumerate().find_map(|(i, item)| nul_at(item, &format!("{at}/{i}"))),
        Value::Object(fields) => fields.iter().find_map(|(name, item)| {
            if name.contains('\0') { Some(at.to_owned()) } else { nul_at(item, &format!("{at}/{name}")) }
        }),
        _ => None,
    }
}

/// Refuses a text with the sign U+0000 in one of its strings.
pub(in crate::api) fn no_nul(text: &str) -> Result<(), Problem> {
    // Only so can it be written in JSON; most bodies are through here without being read.
    if !text.contains("\\u0000") {
        return Ok(());
    }
    let found = serde_json::from_str::<Value>(text).ok().and_then(|value| nul_at(&value, ""));
    found.map_or(Ok(()), |field| {
        Err(Problem::fields(vec![FieldError { field, message: "U+0000 cannot be part of a text".to_owned() }]))
    })
}

/// Reads an object; says which field is not as it should be.
pub(in crate::api) fn parse<T: DeserializeOwned>(text: &str) -> Result<T, Problem> {
    no_nul(text)?;
    // A list would be taken for an object whose fields stand in order; no body is a list.
    if text.trim_start().starts_with('[') {
        let message = "the body is a list; it must be an object".to_owned();
        return Err(Problem::fields(vec![FieldError { field: "/".to_owned(), message }]));
    }
    let reader = &mut serde_json::Deserializer::from_str(text);
    serde_path_to_error::deserialize(reader).map_err(|error| {
        let field = pointer_of(error.path());
        let inner = error.into_inner();
        if inner.is_data() {
            Problem::fields(vec![FieldError { field, message: inner.to_string() }])
        } else {
            Problem::new(Status::BadRequest, "Not JSON", inner.to_string())
        }
    })
}

/// Reads a plan that stands at a place of a body: by core, which reads it several times as quickly as it would be read here.
pub(in crate::api) fn plan_at(field: &str, text: &RawValue) -> Result<Plan, Problem> {
    let plan = Plan::from_shape(text.get()).map_err(|error| match error {
        ReadError::Shape { field: inner, reason, .. } => {
            let field = if inner == "/" && !field.is_empty() { field.to_owned() } else { format!("{field}{inner}") };
            Problem::fields(vec![FieldError { field, message: reason }])
        }
        other => other.into(),
    })?;
    plan.check()?;
    Ok(plan)
}
