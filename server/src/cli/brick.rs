//! `dense-brick brick`: arrangements of a plan's cells, and its sheets to print.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use brick_core::Plan;
use brick_core::advise::suggest::layouts::offers;
use brick_core::assess::network;
use brick_core::print::sheets::sheets;
use chrono::Utc;

use super::read_input;
use crate::files;

/// What to lay out.
#[derive(Debug, clap::Args)]
pub struct Brick {
    /// A *.brick.json file, or - for standard input.
    plan: PathBuf,
    /// Write the sheets of the layout that the plan has into this folder, as A4 pages in SVG.
    #[arg(long)]
    sheets: Option<PathBuf>,
    /// Write the files of that layout into this folder: strips (DXF, CSV), welds, holder (STL), netlist (SPICE).
    #[arg(long)]
    files: Option<PathBuf>,
    /// Print what flows in its strips and cells, and how warm they become, instead of the arrangements.
    #[arg(long)]
    network: bool,
}

/// Prints the arrangements as JSON and writes the sheets, if they are wanted.
pub fn run(wanted: &Brick) -> anyhow::Result<()> {
    let plan = Plan::from_json(&read_input(&wanted.plan)?)?;
    if let Some(folder) = &wanted.sheets {
        std::fs::create_dir_all(folder).with_context(|| format!("{} cannot be made", folder.display()))?;
        let assessment = brick_core::assess(&plan)
            .map_err(|errors| anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ")))?;
        for sheet in sheets(&plan, &assessment, &Utc::now().format("%Y-%m-%d").to_string()) {
            let file = folder.join(format!("{}.svg", sheet.name));
            std::fs::write(&file, sheet.svg).with_context(|| format!("{} cannot be written", file.display()))?;
        }
    }
    if let Some(folder) = &wanted.files {
        std::fs::create_dir_all(folder).with_context(|| format!("{} cannot be made", folder.display()))?;
        for file in files::list(&plan) {
            match files::make(&plan, file.name) {
                Some(Ok(made)) => {
                    let path = folder.join(file.name);
                    std::fs::write(&path, made.bytes)
                        .with_context(|| format!("{} cannot be written", path.display()))?;
                }
                Some(Err(why)) => eprintln!("{} is not written: {why}", file.name),
                None => {}
            }
        }
    }
    if wanted.network {
        let found = network(&plan, None)
            .map_err(|errors| anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ")))?;
        if let Some(missing) = &found.missing {
            return Err(anyhow!(missing.clone()));
        }
        println!("{}", serde_json::to_string_pretty(&found)?);
        return Ok(());
    }
    let found = offers(&plan).map_err(|missing| anyhow!(missing))?;
    println!("{}", serde_json::to_string_pretty(&found)?);
    Ok(())
}
