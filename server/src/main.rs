//! The program `dense-brick`.

use std::process::ExitCode;

use clap::Parser;
use dense_brick::cli::{Cli, run};
use tracing_subscriber::EnvFilter;

#[rocket::main]
async fn main() -> ExitCode {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("warn"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    match run(Cli::parse()).await {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("dense-brick: {error:#}");
            ExitCode::FAILURE
        }
    }
}
