//! The command line. What needs no database works without one.

mod backup;
mod brick;
mod diagnose;
mod group;
mod life;
mod propose;
mod run;
mod serve;

use std::io::Read;
use std::path::{Path, PathBuf};

use anyhow::Context;
use brick_bench::tester::Tester;
use brick_core::Plan;
use clap::{Parser, Subcommand};

/// Plan multi-cell lithium packs: match, guard, charge, wire, predict.
#[derive(Debug, Parser)]
#[command(name = "dense-brick", version)]
pub struct Cli {
    #[command(subcommand)]
    command: Command,
}

impl Cli {
    /// Folder of the log files, for a command that keeps any.
    pub fn logs(&self) -> Option<&Path> {
        if let Command::Serve(serve) = &self.command { Some(&serve.logs) } else { None }
    }
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Serve the application. Needs a PostgreSQL server.
    Serve(Serve),
    /// Assess a plan and print figures, findings, path and stages as JSON. Needs no database.
    Assess {
        /// A *.brick.json file, or - for standard input.
        plan: PathBuf,
    },
    /// Choose cells of a table for groups in series and parallel, and print them as JSON. Needs no database.
    Group(group::Group),
    /// Propose whole plans for a survey, each without a stop, and print them as JSON with what is refused and why. Needs no database.
    Propose(propose::Propose),
    /// Print every arrangement of a plan's cells in their compartment as JSON, and write its sheets to print. Needs no database.
    Brick(brick::Brick),
    /// Name the faults that explain what a meter reads, and the reading to take next, and print them as JSON. Needs no database.
    Diagnose(diagnose::Diagnose),
    /// Simulate a plan under its load until something ends it, and print the answers and the course as JSON. Needs no database.
    Run(run::Run),
    /// Simulate one cell with given parameters through given currents, and print its course as JSON. Needs no database.
    CellRun(run::CellRun),
    /// How much capacity cells keep on the shelf and in use, by published models, as CSV with a band. Needs no database.
    Life(life::Life),
    /// Serve the simulated cell tester on loopback, where a real tester's bridge would be.
    PracticeTester {
        /// Port to listen on.
        #[arg(long, default_value_t = 7070)]
        port: u16,
        /// Seed of the cells that it simulates.
        #[arg(long, default_value_t = 1)]
        seed: u64,
    },
    /// Print the API as an OpenAPI document.
    Openapi,
    /// Print the JSON Schema of plan files.
    Schema,
    /// Print the terms of the trade as a page in Markdown.
    Glossary,
    /// Write everything that the database holds into one file.
    Backup {
        #[command(flatten)]
        database: Database,
        /// The file to write; one that exists is refused.
        file: PathBuf,
    },
    /// Put a backup in the place of everything that the database holds. What was there is kept as a backup first.
    Restore {
        #[command(flatten)]
        database: Database,
        /// The backup.
        file: PathBuf,
    },
}

/// Which database.
#[derive(Debug, clap::Args)]
pub struct Database {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// Folder that backups are kept in before a migration or a restore.
    #[arg(long, default_value = ".dense-brick/backups")]
    backups: PathBuf,
}

/// How to serve.
#[derive(Debug, clap::Args)]
pub struct Serve {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// Folder that backups are kept in before a migration or a restore.
    #[arg(long, default_value = ".dense-brick/backups")]
    backups: PathBuf,
    /// Serve the workshop's network too, encrypted and behind a pairing code; otherwise only this machine.
    #[arg(long)]
    lan: bool,
    /// Port for the workshop's network; one more than the other unless said.
    #[arg(long)]
    lan_port: Option<u16>,
    /// Folder that the certificate for the workshop's network is kept in.
    #[arg(long, default_value = ".dense-brick/certificate")]
    certificate: PathBuf,
    /// Take what a reverse proxy on this machine passes on as asked from this machine, without pairing.
    #[arg(long)]
    trust_proxy: bool,
    /// Port to listen on.
    #[arg(long, default_value_t = 8100)]
    port: u16,
    /// Folder that the log is kept in, a file a day for two weeks.
    #[arg(long, default_value = ".dense-brick/logs")]
    logs: PathBuf,
    /// Folder of the built front end.
    #[arg(long, default_value = "web/dist")]
    web: PathBuf,
    /// Folder of the demo data.
    #[arg(long, default_value = "demo")]
    demo: PathBuf,
    /// Load the demo data, unless it was loaded before.
    #[arg(long)]
    load_demo: bool,
}

/// Does what the command line says.
pub async fn run(cli: Cli) -> anyhow::Result<()> {
    match cli.command {
        Command::Serve(serve) => serve::run(serve).await,
        Command::Assess { plan } => assess(&plan),
        Command::Group(wanted) => group::run(&wanted),
        Command::Propose(wanted) => propose::run(&wanted),
        Command::Brick(wanted) => brick::run(&wanted),
        Command::Diagnose(wanted) => diagnose::run(&wanted),
        Command::Life(wanted) => life::run(&wanted),
        Command::Run(wanted) => run::run(&wanted),
        Command::CellRun(wanted) => run::cell_run(&wanted),
        Command::PracticeTester { port, seed } => practice_tester(port, seed).await,
        Command::Openapi => {
            print!("{}", crate::api::openapi()?);
            Ok(())
        }
        Command::Schema => {
            print!("{}", crate::schema::plan_schema()?);
            Ok(())
        }
        Command::Glossary => {
            print!("{}", brick_core::assess::glossary::page());
            Ok(())
        }
        Command::Backup { database, file } => backup::write(&database, &file).await,
        Command::Restore { database, file } => backup::restore(&database, &file).await,
    }
}

/// Text of a file, or of standard input for -.
fn read_input(path: &Path) -> anyhow::Result<String> {
    if path.as_os_str() != "-" {
        return std::fs::read_to_string(path).with_context(|| path.display().to_string());
    }
    let mut text = String::new();
    std::io::stdin().read_to_string(&mut text).context("standard input")?;
    Ok(text)
}

async fn practice_tester(port: u16, seed: u64) -> anyhow::Result<()> {
    let listener = rocket::tokio::net::TcpListener::bind(("127.0.0.1", port))
        .await
        .with_context(|| format!("port {port} cannot be listened on"))?;
    println!("The practice tester is at {}; end it with Ctrl-C.", listener.local_addr()?);
    Ok(Tester { seed, ..Tester::default() }.serve(listener).await?)
}

fn assess(path: &Path) -> anyhow::Result<()> {
    let text = read_input(path)?;
    let plan = Plan::from_json(&text).with_context(|| path.display().to_string())?;
    let assessment = brick_core::assess(&plan)
        .map_err(|errors| anyhow::anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ")))?;
    println!("{}", serde_json::to_string_pretty(&assessment)?);
    Ok(())
}
