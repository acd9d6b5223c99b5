//! `dense-brick group`: cells of a table into groups.

use std::path::Path;

use anyhow::{Context, bail};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::progress::Unwatched;
use brick_core::physics::grouping::{Effort, Task, Weights, group, read_candidates};
use serde_json::json;

use super::read_input;

/// How to group.
#[derive(Debug, clap::Args)]
pub struct Group {
    /// A CSV table with the columns label and capacity_mah, and if known resistance_mohm, volts, self_discharge_mv,
    /// keep_with, lot, group; or - for standard input.
    cells: std::path::PathBuf,
    /// Groups in series.
    #[arg(long)]
    series: usize,
    /// Cells in each.
    #[arg(long)]
    parallel: usize,
    /// Where the search begins; the same seed gives the same answer.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// What counts how much beside the weakest group, as capacity=1,resistance=0.05,self_discharge=0.5.
    #[arg(long)]
    weights: Option<String>,
    /// Chemistry of the cells, which says at what voltage they may be joined: li_ion, li_po, li_hv, li_fe_po4, li_titanate, na_ion.
    #[arg(long, default_value = "li_ion", value_parser = chemistry)]
    chemistry: Chemistry,
    /// Keep the pack to one lot.
    #[arg(long)]
    one_lot: bool,
    /// Search about thirty times as long.
    #[arg(long)]
    thorough: bool,
}

/// Prints the groups as JSON.
pub fn run(wanted: &Group) -> anyhow::Result<()> {
    let text = read_input(&wanted.cells)?;
    let name = |path: &Path| path.display().to_string();
    let (candidates, unused) = read_candidates(&text).map_err(|errors| {
        let told: Vec<String> = errors.iter().map(ToString::to_string).collect();
        anyhow::anyhow!("{}:\n{}", name(&wanted.cells), told.join("\n"))
    })?;
    let task = Task {
        weights: wanted.weights.as_deref().map_or_else(|| Ok(Weights::default()), weights)?,
        mix_lots: !wanted.one_lot,
        chemistry: wanted.chemistry,
        seed: wanted.seed,
        effort: if wanted.thorough { Effort::Thorough } else { Effort::Quick },
        ..Task::usual(candidates, wanted.series, wanted.parallel)
    };
    let found = group(&task, &Unwatched)?;
    let labels: Vec<Vec<&str>> =
        found.groups.iter().map(|g| g.cells.iter().map(|c| c.label.as_str()).collect()).collect();
    let mah = |ah: f64| (ah * 1e4).round() / 10.0;
    let answer = json!({
        "groups": labels,
        "group_mah": found.groups.iter().map(|g| mah(g.capacity_ah)).collect::<Vec<_>>(),
        "weakest_mah": mah(found.weakest_ah),
        "spread_mah": mah(found.spread_ah),
        "spread_percent": found.spread_share * 100.0,
        "unevenness_percent": found.unevenness_share * 100.0,
        "terms": found.terms,
        "random_deal": { "weakest_mah": mah(found.deal.weakest_ah), "spread_mah": mah(found.deal.spread_ah) },
        "bring_first": found.bring_first,
        "left_out": found.left_out,
        "seed": wanted.seed,
        "unused_columns": unused,
    });
    println!("{}", serde_json::to_string_pretty(&answer)?);
    Ok(())
}

/// A chemistry of rechargeable lithium or sodium cells by its key.
pub(super) fn chemistry(text: &str) -> Result<Chemistry, String> {
    let known = serde_json::from_value::<Chemistry>(json!(text)).ok().filter(|c| c.facts().rechargeable_lithium);
    known.ok_or_else(|| "li_ion, li_po, li_hv, li_fe_po4, li_titanate or na_ion".to_owned())
}

/// Weights as typed; those not named stay as usual.
fn weights(text: &str) -> anyhow::Result<Weights> {
    let mut found = Weights::default();
    for piece in text.split(',') {
        let (name, value) = piece.split_once('=').with_context(|| format!("“{piece}”: write name=weight"))?;
        let value: f64 = value.trim().parse().with_context(|| format!("“{piece}”: the weight is no number"))?;
        match name.trim() {
            "capacity" => found.capacity = value,
            "resistance" => found.resistance = value,
            "self_discharge" => found.self_discharge = value,
            other => bail!("“{other}”: weights are capacity, resistance, self_discharge"),
        }
    }
    Ok(found)
}
