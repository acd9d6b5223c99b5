//! The server of Dense Brick: routes, store, command line. Thin: parse, call core, store, answer.

pub mod api;
pub mod certificate;
pub mod cli;
pub mod config;
pub mod files;
pub mod gate;
mod guard;
pub mod jobs;
pub mod log;
pub mod pairing;
mod problem;
pub mod schema;
mod site;
pub mod store;
mod tester;
mod work;

pub use config::Config;
pub use problem::Problem;

use gate::Gate;
use pairing::Pairing;
use rocket::data::{Limits, ToByteUnit};
use rocket::{Build, Rocket};
use sqlx::PgPool;
use std::sync::Arc;

/// Largest request body: a plan of 400 cells with its parts is well under a tenth of it.
pub(crate) const BODY_LIMIT_KIB: u64 = 512;

/// The server, ready to launch: tests and the program start the same thing.
pub fn build(config: Config, pool: PgPool, pairing: Pairing, gate: Arc<Gate>) -> Rocket<Build> {
    let figment = rocket::Config::figment()
        .merge(("address", config.address))
        .merge(("port", config.port))
        .merge(("log_level", "off"))
        .merge(("cli_colors", false))
        .merge(("shutdown.grace", 3))
        .merge(("shutdown.mercy", 1))
        .merge(("shutdown.ctrlc", config.handle_signals))
        .merge(("limits", Limits::default().limit("json", BODY_LIMIT_KIB.kibibytes())));
    rocket::custom(figment)
        .manage(pool)
        .manage(pairing)
        .manage(gate)
        .manage(api::build::BuildNews::default())
        .manage(jobs::Jobs::default())
        .manage(store::parts::Catalogues::default())
        .manage(tester::Practice::default())
        .mount("/api", guard::paired(api::routes()))
        .mount("/api", api::open_routes())
        .register("/api", api::catchers())
        .attach(log::Answers)
        .attach(guard::Guard::new(&config))
        .mount("/", guard::routes())
        .mount("/", site::routes())
        .register("/", site::catchers())
        .attach(site::Headers)
        .manage(config)
}
