//! `dense-brick run` and `dense-brick cell-run`: what a plan does, and what one cell does, over time.

use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow, bail};
use brick_core::Plan;
use brick_core::assess::run_in_steps;
use brick_core::physics::run::{GivenCell, GivenRow, read_profile};
use brick_core::print::exports::run_csv;
use serde::Serialize;

use super::read_input;

/// Which plan to run.
#[derive(Debug, clap::Args)]
pub struct Run {
    /// A *.brick.json file, or - for standard input.
    plan: PathBuf,
    /// Longest step in seconds, 0.01 to 60; without it the step that suits the length of the run, as on the Run page.
    #[arg(long)]
    dt: Option<f64>,
    /// Write the course as CSV with the column names of the Battery Data Format.
    #[arg(long)]
    csv: Option<PathBuf>,
}

/// Which cell to run.
#[derive(Debug, clap::Args)]
pub struct CellRun {
    /// Its parameters as JSON: capacity_ah, soc, ocv, r0_ohm, rc, thermal; see docs/formats.md.
    cell: PathBuf,
    /// A CSV table of duration_s and current_a, discharge positive; or - for standard input.
    profile: PathBuf,
    /// Longest step in seconds, 0.001 to 3600.
    #[arg(long, default_value_t = 1.0)]
    dt: f64,
}

/// The course of one cell.
#[derive(Serialize)]
struct Course<'r> {
    rows: &'r [GivenRow],
}

/// Simulates a plan and prints the answers and the course as JSON.
pub fn run(wanted: &Run) -> anyhow::Result<()> {
    let text = read_input(&wanted.plan)?;
    let plan = Plan::from_json(&text).with_context(|| wanted.plan.display().to_string())?;
    let told = run_in_steps(&plan, wanted.dt)
        .map_err(|errors| anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ")))?;
    let outcome = match told {
        Ok(outcome) => outcome,
        Err(words) => bail!("{}: {words}", wanted.plan.display()),
    };
    if let Some(path) = &wanted.csv {
        write(path, &run_csv(&outcome.points))?;
    }
    println!("{}", serde_json::to_string_pretty(&outcome)?);
    Ok(())
}

/// Runs one cell and prints its course as JSON.
pub fn cell_run(wanted: &CellRun) -> anyhow::Result<()> {
    let name = |path: &Path| path.display().to_string();
    let cell: GivenCell = serde_json::from_str(&read_input(&wanted.cell)?)
        .with_context(|| format!("{} is not a cell", name(&wanted.cell)))?;
    let profile = read_profile(&read_input(&wanted.profile)?).map_err(|errors| {
        let told: Vec<String> = errors.iter().map(ToString::to_string).collect();
        anyhow!("{}:\n{}", name(&wanted.profile), told.join("\n"))
    })?;
    let rows = cell.run(&profile, wanted.dt).with_context(|| name(&wanted.cell))?;
    // Written as it is: a tree of values of so many rows would take longer than the run.
    println!("{}", serde_json::to_string(&Course { rows: &rows })?);
    Ok(())
}

fn write(path: &Path, text: &str) -> anyhow::Result<()> {
    std::fs::write(path, text).with_context(|| path.display().to_string())
}
