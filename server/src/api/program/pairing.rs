//! Pairing the phone at the bench: let in, listed, put out.

use std::net::{IpAddr, Ipv4Addr};
use std::time::Instant;

use rocket::http::{Cookie, CookieJar, SameSite, Status};
use rocket::request::{FromRequest, Outcome};
use rocket::response::status::NoContent;
use rocket::serde::json::Json;
use rocket::{Request, State, delete, get, post};
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::guard::peer;
use crate::pairing::{COOKIE, PairedBrowser, Pairing, Refused};

/// The code that was shown when the program started.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PairRequest {
    /// As typed; case, spaces and hyphens do not matter.
    code: String,
}

/// Who asks: address, and what the browser says it is.
pub struct Peer {
    address: IpAddr,
    browser: String,
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Peer {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        let address = peer(request).unwrap_or(IpAddr::V4(Ipv4Addr::LOCALHOST));
        let browser = request.headers().get_one("User-Agent").unwrap_or("unnamed").to_owned();
        Outcome::Success(Peer { address, browser })
    }
}

/// Pair this browser with the program.
#[utoipa::path(context_path = "/api", request_body = PairRequest,
    responses((status = 204), (status = 403, body = Problem), (status = 429, body = Problem)))]
#[post("/pair", data = "<request>")]
pub fn pair(
    request: Result<Body<PairRequest>, Problem>,
    peer: Peer,
    pairing: &State<Pairing>,
    cookies: &CookieJar<'_>,
) -> Result<NoContent, Problem> {
    let token =
        pairing.pair(&request?.0.code, peer.address, &peer.browser, Instant::now()).map_err(
            |refused| match refused {
                Refused::WrongCode => Problem::new(
                    Status::Forbidden,
                    "Wrong code",
                    "That is not the code shown where Dense Brick was started. It changes with every start.",
                ),
                Refused::TooManyTries => {
                    Problem::new(Status::TooManyRequests, "Too many tries", "Wait a minute, then type the code again.")
                }
            },
        )?;
    // What comes over the network is encrypted; a proxy on this machine may not be.
    let encrypted = !peer.address.is_loopback();
    let cookie = Cookie::build((COOKIE, token)).http_only(true).same_site(SameSite::Strict).secure(encrypted);
    cookies.add(cookie.path("/"));
    Ok(NoContent)
}

/// The browsers that were paired since the start, the latest first.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<PairedBrowser>)))]
#[get("/paired")]
pub fn list_browsers(pairing: &State<Pairing>) -> Json<Vec<PairedBrowser>> {
    Json(pairing.browsers())
}

/// Put a paired browser out.
#[utoipa::path(context_path = "/api", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/paired/<id>")]
pub fn put_browser_out(id: Uuid, pairing: &State<Pairing>) -> Result<NoContent, Problem> {
    if pairing.put_out(id) { Ok(NoContent) } else { Err(Problem::not_found("paired browser")) }
}
