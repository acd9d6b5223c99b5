//! The program `dense-brick`.

use std::process::ExitCode;

use clap::Parser;
use dense_brick::cli::{Cli, run};
use dense_brick::log;

#[rocket::main]
async fn main() -> ExitCode {
    let cli = Cli::parse();
    let done = match log::begin(cli.logs()) {
        Ok(()) => run(cli).await,
        Err(error) => Err(error),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("dense-brick: {error:#}");
            ExitCode::FAILURE
        }
    }
}
