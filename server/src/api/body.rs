//! Reading a JSON body: too large, no JSON, wrong shape are told apart, and the field is named.

use brick_core::plan::FieldError;
use rocket::data::{ByteUnit, Data, FromData, Outcome, ToByteUnit};
use rocket::http::Status;
use rocket::{Request, outcome::Outcome as Outcomes};
use serde::de::DeserializeOwned;

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
        let detail = format!("The body is larger than the {limit} that are taken.");
        return Err(Problem::new(Status::PayloadTooLarge, "Too large", detail));
    }
    Ok(text.into_inner())
}

fn parse<T: DeserializeOwned>(text: &str) -> Result<T, Problem> {
    let reader = &mut serde_json::Deserializer::from_str(text);
    serde_path_to_error::deserialize(reader).map_err(|error| {
        let field = format!("/{}", error.path().to_string().replace(['.', '['], "/").replace(']', ""));
        let inner = error.into_inner();
        if inner.is_data() {
            Problem::fields(vec![FieldError { field, message: inner.to_string() }])
        } else {
            Problem::new(Status::BadRequest, "Not JSON", inner.to_string())
        }
    })
}
