//! Host and origin checks: no other site may read or write here, also not through a name that points at loopback.

use std::net::IpAddr;

use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::uri::Origin;
use rocket::http::{Method, Status};
use rocket::{Data, Request, Route, get, routes};

use crate::{Config, Problem};

/// Turns away requests under a foreign host name, and writes that come from another origin.
pub struct HostGuard {
    hosts: Vec<String>,
}

impl HostGuard {
    /// Allows the names of loopback, and the address served if it is another.
    pub fn new(config: &Config) -> Self {
        let mut hosts = vec!["localhost".to_owned(), "127.0.0.1".to_owned(), "[::1]".to_owned()];
        if !config.address.is_loopback() && !config.address.is_unspecified() {
            hosts.push(match config.address {
                IpAddr::V4(v4) => v4.to_string(),
                IpAddr::V6(v6) => format!("[{v6}]"),
            });
        }
        HostGuard { hosts }
    }

    fn allows(&self, request: &Request<'_>) -> bool {
        let host = request.headers().get_one("Host").unwrap_or("localhost");
        let bare = host.rsplit_once(':').filter(|(_, port)| port.bytes().all(|b| b.is_ascii_digit()));
        let bare = bare.map_or(host, |(name, _)| name);
        if !self.hosts.iter().any(|h| h.eq_ignore_ascii_case(bare)) {
            return false;
        }
        // A browser names the origin of every write; a command line tool names none.
        match request.headers().get_one("Origin") {
            Some(origin) => origin.split_once("://").is_some_and(|(_, rest)| rest.eq_ignore_ascii_case(host)),
            None => true,
        }
    }
}

#[rocket::async_trait]
impl Fairing for HostGuard {
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

/// The route that refusals are led to.
pub fn routes() -> Vec<Route> {
    routes![refused]
}
