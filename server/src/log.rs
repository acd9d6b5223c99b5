//! What the program notes: warnings to the window it was started in, and every answer to a file a day, with the id that
//! the answer carried.

use std::path::Path;
use std::time::Instant;

use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::Header;
use rocket::{Data, Request, Response};
use tracing_appender::rolling::{RollingFileAppender, Rotation};
use tracing_subscriber::filter::{EnvFilter, LevelFilter};
use tracing_subscriber::layer::{Layer, SubscriberExt};
use tracing_subscriber::util::SubscriberInitExt;
use tracing_subscriber::{fmt, registry};
use uuid::Uuid;

/// Days that are kept.
const DAYS: usize = 14;

/// Begins to note: to standard error, and to files in a folder if one is named. `RUST_LOG` says more or less.
pub fn begin(folder: Option<&Path>) -> anyhow::Result<()> {
    let wanted = || EnvFilter::try_from_default_env();
    let window = fmt::layer().with_writer(std::io::stderr);
    let window = window.with_filter(wanted().unwrap_or_else(|_| EnvFilter::new("warn")));
    let file = match folder {
        None => None,
        Some(folder) => {
            std::fs::create_dir_all(folder)?;
            let files = RollingFileAppender::builder()
                .rotation(Rotation::DAILY)
                .filename_prefix("server")
                .filename_suffix("log")
                .max_log_files(DAYS)
                .build(folder)?;
            let level = LevelFilter::INFO.into();
            let filter = EnvFilter::builder().with_default_directive(level).parse("warn,dense_brick=info")?;
            Some(fmt::layer().with_ansi(false).with_writer(files).with_filter(filter))
        }
    };
    registry().with(window).with(file).init();
    Ok(())
}

/// What a request is known by from its first moment to its answer.
struct Known {
    id: Uuid,
    since: Instant,
}

fn known<'r>(request: &'r Request<'_>) -> &'r Known {
    request.local_cache(|| Known { id: Uuid::now_v7(), since: Instant::now() })
}

/// The id of a request, as its answer carries it.
pub fn id_of(request: &Request<'_>) -> Uuid {
    known(request).id
}

/// Notes every answer and gives it its id.
pub struct Answers;

#[rocket::async_trait]
impl Fairing for Answers {
    fn info(&self) -> Info {
        Info { name: "Log", kind: Kind::Request | Kind::Response }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        known(request);
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        let Known { id, since } = known(request);
        let ms = u64::try_from(since.elapsed().as_millis()).unwrap_or(u64::MAX);
        response.set_header(Header::new("X-Request-Id", id.to_string()));
        // Without what stands behind the question mark: a search is nobody's business.
        tracing::info!(%id, method = %request.method(), path = %request.uri().path(), status = response.status().code, ms, "answer");
    }
}
