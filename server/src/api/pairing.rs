//! Pairing the phone at the bench.

use std::time::Instant;

use rocket::http::{Cookie, CookieJar, SameSite, Status};
use rocket::response::status::NoContent;
use rocket::{State, post};
use serde::Deserialize;
use utoipa::ToSchema;

use super::body::Body;
use crate::Problem;
use crate::pairing::{COOKIE, Pairing, Refused};

/// The code that was shown when the program started.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PairRequest {
    /// As typed; case, spaces and hyphens do not matter.
    code: String,
}

/// Pair this browser with the program.
#[utoipa::path(context_path = "/api", request_body = PairRequest,
    responses((status = 204), (status = 403, body = Problem), (status = 429, body = Problem)))]
#[post("/pair", data = "<request>")]
pub fn pair(
    request: Result<Body<PairRequest>, Problem>,
    pairing: &State<Pairing>,
    cookies: &CookieJar<'_>,
) -> Result<NoContent, Problem> {
    let token = pairing.pair(&request?.0.code, Instant::now()).map_err(|refused| match refused {
        Refused::WrongCode => Problem::new(
            Status::Forbidden,
            "Wrong code",
            "That is not the code shown where Dense Brick was started. It changes with every start.",
        ),
        Refused::TooManyTries => {
            Problem::new(Status::TooManyRequests, "Too many tries", "Wait a minute, then type the code again.")
        }
    })?;
    cookies.add(Cookie::build((COOKIE, token)).http_only(true).same_site(SameSite::Strict).path("/"));
    Ok(NoContent)
}
