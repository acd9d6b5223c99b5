//! Host and origin checks: no other site may read or write here, also not through a name that points at this
//! machine; and over the workshop's network only browsers that were paired.
//!
//! Pairing is asked where a route was found, not where an address was written: an address has many spellings
//! (`//api/plans`, `/%61pi/plans`), a route is one. A route that is not wrapped here must be one that all may use.

use std::net::IpAddr;
use std::sync::Arc;

use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::uri::Origin;
use rocket::http::{Method, Status};
use rocket::request::{self, FromRequest};
use rocket::route::{Handler, Outcome};
use rocket::{Data, Request, Route, get, routes};

use crate::gate::{AtWork, Gate};
use crate::pairing::{COOKIE, Pairing};
use crate::{Config, Problem};

/// Turns away requests under a foreign host name, and writes that come from another origin.
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
        // HTTP/2 names the host in the address. A request without any comes from no browser.
        let authority = request.host().map(ToString::to_string);
        let host = request.headers().get_one("Host").or(authority.as_deref()).unwrap_or("localhost");
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

/// What a proxy adds to the requests it passes on: then the peer is the proxy, and who asks is unknown.
const PASSED_ON: [&str; 5] = ["Forwarded", "Via", "X-Forwarded-For", "X-Forwarded-Host", "X-Real-IP"];

/// Who asks: the peer at the gate, or whoever connected past it. None only where there is no connection, in tests.
pub fn peer(request: &Request<'_>) -> Option<IpAddr> {
    let remote = request.remote()?;
    let address = remote.ip().to_canonical();
    let gate = request.rocket().state::<Arc<Gate>>();
    let behind = gate.filter(|_| address.is_loopback()).and_then(|gate| gate.peer_at(remote.port()));
    Some(behind.unwrap_or(address))
}

/// A handler that takes its time asks for this, and holds what `begin` gives while nothing is sent either way.
pub struct Patience<'r>(Option<(&'r Gate, u16)>);

impl Patience<'_> {
    /// From now until what is given is dropped, the gate keeps the connection.
    pub fn begin(&self) -> Option<AtWork> {
        self.0.map(|(gate, port)| gate.at_work(port))
    }
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Patience<'r> {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> request::Outcome<Self, Self::Error> {
        let gate = request.rocket().state::<Arc<Gate>>();
        let behind = gate.zip(request.remote()).map(|(gate, remote)| (gate.as_ref(), remote.port()));
        request::Outcome::Success(Patience(behind))
    }
}

/// Whether the request comes from this machine, or from a browser that was paired.
///
/// The peer's address counts; no header can make a request trusted, but one can show that it was passed on.
fn is_trusted(request: &Request<'_>) -> bool {
    let here = peer(request).is_none_or(|peer| peer.is_loopback());
    let passed_on = PASSED_ON.iter().any(|name| request.headers().contains(name));
    if here && (!passed_on || request.rocket().state::<Config>().is_some_and(|config| config.trust_proxy)) {
        return true;
    }
    let pairing = request.rocket().state::<Pairing>();
    let cookie = request.cookies().get(COOKIE);
    pairing.zip(cookie).is_some_and(|(pairing, cookie)| pairing.knows(cookie.value()))
}

/// A route's handler that first asks whether the browser is trusted.
#[derive(Clone)]
struct Paired(Box<dyn Handler>);

#[rocket::async_trait]
impl Handler for Paired {
    async fn handle<'r>(&self, request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r> {
        if is_trusted(request) { self.0.handle(request, data).await } else { Outcome::from(request, unpaired()) }
    }
}

/// The routes, for this machine and paired browsers only.
pub fn paired(routes: Vec<Route>) -> Vec<Route> {
    let wrapped = |mut route: Route| {
        route.handler = Box::new(Paired(route.handler));
        route
    };
    routes.into_iter().map(wrapped).collect()
}

#[rocket::async_trait]
impl Fairing for Guard {
    fn info(&self) -> Info {
        Info { name: "Host and origin", kind: Kind::Request }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        if !self.allows(request) {
            request.set_method(Method::Get);
            request.set_uri(Origin::path_only("/refused"));
        }
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

fn unpaired() -> Problem {
    Problem::new(
        Status::Unauthorized,
        "Pair this browser first",
        "Type the code that was shown where Dense Brick was started.",
    )
}

/// The route that refusals are led to.
pub fn routes() -> Vec<Route> {
    routes![refused]
}
