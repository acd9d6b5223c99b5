//! Host and origin checks: no other site may read or write here, also not through a name that points at this
//! machine; and over the workshop's network only browsers that were paired.

use std::net::IpAddr;

use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::uri::Origin;
use rocket::http::{Method, Status};
use rocket::{Data, Request, Route, get, routes};

use crate::pairing::{COOKIE, Pairing};
use crate::{Config, Problem};

/// What an unpaired browser may ask for: the pages, and to be paired.
const OPEN_TO_ALL: [&str; 2] = ["/api/pair", "/api/health"];

/// Turns away requests under a foreign host name, writes that come from another origin, and unpaired browsers.
pub struct Guard {
    hosts: Vec<String>,
    any_address: bool,
}

impl Guard {
    /// Allows the names of loopback; on the workshop's network also any bare address, which no name can point at.
    pub fn new(config: &Config) -> Self {
        let hosts = vec!["localhost".to_owned(), "127.0.0.1".to_owned(), "[::1]".to_owned()];
        Guard { hosts, any_address: config.lan }
    }

    fn allows(&self, request: &Request<'_>) -> bool {
        let host = request.headers().get_one("Host").unwrap_or("localhost");
        let bare = host.rsplit_once(':').filter(|(_, port)| port.bytes().all(|b| b.is_ascii_digit()));
        let bare = bare.map_or(host, |(name, _)| name);
        let address = || bare.trim_matches(['[', ']']).parse::<IpAddr>().is_ok();
        let named = self.hosts.iter().any(|h| h.eq_ignore_ascii_case(bare));
        if !named && (!self.any_address || !address()) {
            return false;
        }
        // A browser names the origin of every write; a command line tool names none.
        match request.headers().get_one("Origin") {
            Some(origin) => origin.split_once("://").is_some_and(|(_, rest)| rest.eq_ignore_ascii_case(host)),
            None => true,
        }
    }
}

/// Whether the request comes from this machine, or from a browser that was paired.
///
/// The peer's address counts, never a header: anybody can send one.
fn is_trusted(request: &Request<'_>) -> bool {
    let path = request.uri().path();
    if !path.starts_with("/api") || OPEN_TO_ALL.iter().any(|open| path == *open) {
        return true;
    }
    if request.remote().is_none_or(|peer| peer.ip().to_canonical().is_loopback()) {
        return true;
    }
    let pairing = request.rocket().state::<Pairing>();
    let cookie = request.cookies().get(COOKIE);
    pairing.zip(cookie).is_some_and(|(pairing, cookie)| pairing.knows(cookie.value()))
}

#[rocket::async_trait]
impl Fairing for Guard {
    fn info(&self) -> Info {
        Info { name: "Host, origin and pairing", kind: Kind::Request }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        let refusal = if !self.allows(request) {
            "/refused"
        } else if !is_trusted(request) {
            "/unpaired"
        } else {
            return;
        };
        request.set_method(Method::Get);
        request.set_uri(Origin::path_only(refusal));
    }
}

#[get("/refused")]
fn refused() -> Problem {
    Problem::new(
        Status::Forbidden,
        "Refused",
        "Open Dense Brick under the address it printed when it started; other sites may not use it.",
    )
}

#[get("/unpaired")]
fn unpaired() -> Problem {
    Problem::new(
        Status::Unauthorized,
        "Pair this browser first",
        "Type the code that was shown where Dense Brick was started.",
    )
}

/// The routes that refusals are led to.
pub fn routes() -> Vec<Route> {
    routes![refused, unpaired]
}
