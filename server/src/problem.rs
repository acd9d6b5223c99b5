//! Every refusal and fault as `application/problem+json`. The one place that maps errors to HTTP.

use brick_core::plan::{FieldError, ReadError};
use rocket::http::{ContentType, Header, Status};
use rocket::response::Responder;
use rocket::serde::json::serde_json;
use rocket::{Request, Response, response};
use serde::Serialize;
use std::io::Cursor;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::log::id_of;

/// After how many seconds what is away may be back.
const RETRY_AFTER_S: &str = "2";

/// What went wrong, and where.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// HTTP status.
    pub status: u16,
    /// What kind of thing went wrong.
    pub title: String,
    /// What to do about it.
    pub detail: String,
    /// Fields that cannot stand, by JSON pointer.
    pub errors: Vec<FieldError>,
    /// Under which a fault is logged.
    pub id: Option<String>,
    /// For a stale save: what is stored now.
    #[schema(value_type = Option<Object>)]
    pub current: Option<Box<serde_json::Value>>,
}

impl Problem {
    /// A refusal.
    pub fn new(status: Status, title: &str, detail: impl Into<String>) -> Self {
        Problem {
            status: status.code,
            title: title.to_owned(),
            detail: detail.into(),
            errors: vec![],
            id: None,
            current: None,
        }
    }

    /// Values that cannot stand.
    pub fn fields(errors: Vec<FieldError>) -> Self {
        let detail = errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ");
        Problem { errors, ..Problem::new(Status::UnprocessableEntity, "Some values are not valid", detail) }
    }

    /// Nothing of that id.
    pub fn not_found(what: &str) -> Self {
        Problem::new(Status::NotFound, "Not found", format!("There is no such {what}; it may have been deleted."))
    }

    /// A fault of ours: logged once with its cause, told without it.
    pub fn fault(cause: &dyn std::fmt::Display) -> Self {
        let id = Uuid::now_v7().to_string();
        tracing::error!(%id, %cause, "fault");
        let detail = "Something failed here; nothing was changed. The log has it under this id.";
        Problem { id: Some(id), ..Problem::new(Status::InternalServerError, "Internal error", detail) }
    }
}

impl From<Vec<FieldError>> for Problem {
    fn from(errors: Vec<FieldError>) -> Self {
        Problem::fields(errors)
    }
}

impl From<crate::store::parts::PartsError> for Problem {
    fn from(error: crate::store::parts::PartsError) -> Self {
        match error {
            crate::store::parts::PartsError::Full => {
                Problem::new(Status::Conflict, "The catalogue is full", error.to_string())
            }
            crate::store::parts::PartsError::Database(error) => error.into(),
        }
    }
}

impl From<ReadError> for Problem {
    fn from(error: ReadError) -> Self {
        match error {
            ReadError::Fields(errors) => Problem::fields(errors),
            ReadError::Shape { ref field, .. } => {
                let errors = vec![FieldError { field: field.clone(), message: error.to_string() }];
                let detail = error.to_string();
                Problem { errors, ..Problem::new(Status::UnprocessableEntity, "This file is damaged", detail) }
            }
            other => Problem::new(Status::UnprocessableEntity, "This file cannot be read", other.to_string()),
        }
    }
}

impl From<sqlx::Error> for Problem {
    fn from(error: sqlx::Error) -> Self {
        use sqlx::Error::{Database, Io, PoolClosed, PoolTimedOut, Protocol, Tls, WorkerCrashed};
        let away = |detail: &str| {
            tracing::warn!(%error, "database not reachable");
            Problem::new(Status::ServiceUnavailable, "The database cannot be reached", detail)
        };
        let code = match &error {
            Io(_) | PoolTimedOut | PoolClosed | WorkerCrashed | Tls(_) | Protocol(_) => {
                return away("Nothing was saved. Keep this page open; it retries by itself.");
            }
            Database(answer) => answer.code().unwrap_or_default().into_owned(),
            _ => return Problem::fault(&error),
        };
        // Classes and codes of appendix A of the PostgreSQL manual.
        match code.as_str() {
            "53100" => away("Nothing was saved: the disk is full. It continues by itself once there is room."),
            "57P03" => away("Nothing was saved: the database is starting. It retries by itself."),
            "57014" | "55P03" | "40001" | "40P01" => {
                away("Nothing was saved: the database is busy. Keep this page open; it retries by itself.")
            }
            "25006" => away("Nothing was saved: the database accepts no changes now."),
            "23505" => {
                let detail = "That name is in use already, perhaps since a moment ago. Choose another.";
                Problem::new(Status::Conflict, "Name in use", detail)
            }
            "23503" => {
                let detail = "Something it belongs to no longer exists. Load the page again.";
                Problem::new(Status::Conflict, "No longer there", detail)
            }
            "23514" | "23502" => {
                let detail = "A value is outside the allowed range: too long, empty, or out of range.";
                Problem::new(Status::UnprocessableEntity, "A value is not valid", detail)
            }
            _ if code.starts_with("22") => {
                let detail = "A value cannot be stored: a character that is not text, or a number that is too large.";
                Problem::new(Status::UnprocessableEntity, "A value is not valid", detail)
            }
            _ if ["08", "53", "57", "58"].iter().any(|class| code.starts_with(class)) => {
                away("Nothing was saved. Keep this page open; it retries by itself.")
            }
            _ => Problem::fault(&error),
        }
    }
}

impl<'r> Responder<'r, 'static> for Problem {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        if let Some(fault) = &self.id {
            tracing::warn!(%fault, request = %id_of(request), "an internal error was answered");
        }
        // A problem holds text and JSON only; both always serialise.
        let body = serde_json::to_string(&self).map_err(|_| Status::InternalServerError)?;
        Response::build()
            .status(Status::from_code(self.status).unwrap_or(Status::InternalServerError))
            .header(ContentType::new("application", "problem+json"))
            .sized_body(body.len(), Cursor::new(body))
            .ok()
            .map(|mut answer| {
                if self.status == Status::ServiceUnavailable.code {
                    answer.set_header(Header::new("Retry-After", RETRY_AFTER_S));
                }
                answer
            })
    }
}
