//! The built front end: hashed assets kept without end, the page itself never cached, a strict content security policy.

use std::path::{Path, PathBuf};

use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::{ContentType, Header, Status};
use rocket::response::Responder;
use rocket::tokio::fs;
use rocket::{Catcher, Request, Response, Route, State, catch, catchers, get, response, routes};
use uuid::Uuid;

use crate::{Config, Problem};

/// The page, with the nonce its theme sheet may use.
struct Page {
    html: String,
    nonce: String,
}

impl<'r> Responder<'r, 'static> for Page {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        let policy = format!(
            "default-src 'none'; script-src 'self'; style-src-elem 'self' 'nonce-{}'; style-src-attr 'unsafe-inline'; \
             font-src 'self'; img-src 'self' data: blob:; connect-src 'self'; base-uri 'none'; form-action 'none'; \
             frame-ancestors 'none'",
            self.nonce
        );
        Response::build_from(self.html.respond_to(request)?)
            .header(ContentType::HTML)
            .header(Header::new("Content-Security-Policy", policy))
            .header(Header::new("Cache-Control", "no-store"))
            .ok()
    }
}

async fn page(config: &Config) -> Result<Page, Problem> {
    let path = config.web_dir.join("index.html");
    let html = fs::read_to_string(&path).await.map_err(|_| {
        Problem::new(Status::ServiceUnavailable, "The front end is not built", "Run ./start, which builds it.")
    })?;
    let nonce = Uuid::new_v4().simple().to_string();
    Ok(Page { html: html.replace("__CSP_NONCE__", &nonce), nonce })
}

#[get("/")]
async fn index(config: &State<Config>) -> Result<Page, Problem> {
    page(config).await
}

/// A file as built, in the smallest encoding the browser takes.
struct Asset {
    body: Vec<u8>,
    kind: ContentType,
    encoding: Option<&'static str>,
}

impl<'r> Responder<'r, 'static> for Asset {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        let mut answer = Response::build_from(self.body.respond_to(request)?);
        answer
            .header(self.kind)
            .header(Header::new("Cache-Control", "public, max-age=31536000, immutable"))
            .header(Header::new("Vary", "Accept-Encoding"));
        if let Some(encoding) = self.encoding {
            answer.header(Header::new("Content-Encoding", encoding));
        }
        answer.ok()
    }
}

/// The `Accept-Encoding` of a request.
struct Accepts(String);

#[rocket::async_trait]
impl<'r> rocket::request::FromRequest<'r> for Accepts {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> rocket::request::Outcome<Self, Self::Error> {
        let header = request.headers().get_one("Accept-Encoding").unwrap_or_default();
        rocket::request::Outcome::Success(Accepts(header.to_owned()))
    }
}

#[get("/assets/<path..>")]
async fn asset(path: PathBuf, accepts: Accepts, config: &State<Config>) -> Result<Asset, Problem> {
    let file = config.web_dir.join("assets").join(&path);
    let kind =
        path.extension().and_then(|e| ContentType::from_extension(&e.to_string_lossy())).unwrap_or(ContentType::Binary);
    for (encoding, suffix) in [("br", ".br"), ("gzip", ".gz")] {
        if accepts.0.contains(encoding)
            && let Some(body) = read(&file, suffix).await
        {
            return Ok(Asset { body, kind, encoding: Some(encoding) });
        }
    }
    let body = read(&file, "").await.ok_or_else(|| Problem::not_found("file"))?;
    Ok(Asset { body, kind, encoding: None })
}

async fn read(file: &Path, suffix: &str) -> Option<Vec<u8>> {
    let mut name = file.as_os_str().to_owned();
    name.push(suffix);
    fs::read(name).await.ok()
}

#[get("/favicon.svg")]
async fn favicon(config: &State<Config>) -> Result<Asset, Problem> {
    let body = read(&config.web_dir.join("favicon.svg"), "").await.ok_or_else(|| Problem::not_found("file"))?;
    Ok(Asset { body, kind: ContentType::SVG, encoding: None })
}

/// The addresses of the front end's own views are the page; it finds its way itself.
#[catch(404)]
async fn view(request: &Request<'_>) -> Result<(Status, Page), Problem> {
    match request.rocket().state::<Config>() {
        Some(config) => page(config).await.map(|page| (Status::Ok, page)),
        None => Err(Problem::not_found("page")),
    }
}

#[catch(default)]
fn other(status: Status, _: &Request<'_>) -> Problem {
    Problem::new(status, status.reason_lossy(), "This address cannot be used that way.")
}

const ALWAYS: [(&str, &str); 5] = [
    ("X-Content-Type-Options", "nosniff"),
    ("X-Frame-Options", "DENY"),
    ("Referrer-Policy", "no-referrer"),
    ("Cross-Origin-Opener-Policy", "same-origin"),
    ("Cross-Origin-Resource-Policy", "same-origin"),
];
const NO_PAGE: &str = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'none'; sandbox";

/// Headers on every answer.
pub struct Headers;

#[rocket::async_trait]
impl Fairing for Headers {
    fn info(&self) -> Info {
        Info { name: "Headers", kind: Kind::Response }
    }

    async fn on_response<'r>(&self, _: &'r Request<'_>, response: &mut Response<'r>) {
        for (name, value) in ALWAYS {
            response.set_header(Header::new(name, value));
        }
        // What is no page runs nothing and loads nothing, also when a drawing is opened by itself.
        if !response.headers().contains("Content-Security-Policy") {
            response.set_header(Header::new("Content-Security-Policy", NO_PAGE));
        }
        if !response.headers().contains("Cache-Control") {
            response.set_header(Header::new("Cache-Control", "no-store"));
        }
    }
}

/// Routes of the front end.
pub fn routes() -> Vec<Route> {
    routes![index, asset, favicon]
}

/// Catchers outside the API.
pub fn catchers() -> Vec<Catcher> {
    catchers![view, other]
}
