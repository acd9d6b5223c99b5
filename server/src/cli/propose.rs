//! `dense-brick propose`: whole plans from a survey.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use brick_core::advise::propose::{StockLot, Wish, Wishes, propose};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::progress::Unwatched;
use brick_core::parts::catalogue::{ItemPart, typical};
use brick_core::physics::grouping::read_candidates;
use brick_core::plan::Cell;
use brick_core::{Catalogue, Plan};
use serde_json::json;

use super::read_input;

/// What to propose for.
#[derive(Debug, clap::Args)]
pub struct Propose {
    /// A *.brick.json file with the survey, or - for standard input. What it has chosen already is kept.
    survey: PathBuf,
    /// Parts to choose from, as JSON, in the place of the typical parts that ship.
    #[arg(long)]
    catalogue: Option<PathBuf>,
    /// Free tested cells: a CSV table as `group` takes it.
    #[arg(long)]
    stock: Option<PathBuf>,
    /// Chemistry of those cells: li_ion, li_po, li_hv, li_fe_po4, li_titanate, na_ion.
    #[arg(long, default_value = "li_ion", value_parser = super::group::chemistry)]
    stock_chemistry: Chemistry,
    /// The wish whose proposal comes first: at_hand, simplest, longest, lightest, cheapest, soonest.
    #[arg(long, value_parser = wish)]
    wish: Option<Wish>,
    /// From the survey alone: what it has chosen already counts for nothing.
    #[arg(long)]
    afresh: bool,
    /// Nothing is welded.
    #[arg(long)]
    no_welding: bool,
    /// The device can be put back as it was.
    #[arg(long)]
    reversible: bool,
    /// It is charged from a USB supply.
    #[arg(long)]
    usb: bool,
}

/// Prints proposals and refusals as JSON.
pub fn run(wanted: &Propose) -> anyhow::Result<()> {
    let survey = Plan::from_json(&read_input(&wanted.survey)?).with_context(|| wanted.survey.display().to_string())?;
    let catalogue = match &wanted.catalogue {
        Some(file) => Catalogue::from_json(&read_input(file)?).with_context(|| file.display().to_string())?,
        None => typical(),
    };
    let stock = match &wanted.stock {
        Some(file) => {
            vec![lot(&read_input(file)?, wanted.stock_chemistry).with_context(|| file.display().to_string())?]
        }
        None => vec![],
    };
    let wishes = Wishes {
        first: wanted.wish,
        weights: vec![],
        afresh: wanted.afresh,
        no_welding: wanted.no_welding,
        reversible: wanted.reversible,
        usb: wanted.usb,
    };
    let found = propose(&survey, &catalogue, &stock, &wishes, &Unwatched)
        .map_err(|errors| anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ")))?;
    if let Some(missing) = found.missing {
        return Err(anyhow!(missing));
    }
    println!("{}", serde_json::to_string_pretty(&found)?);
    Ok(())
}

fn wish(text: &str) -> Result<Wish, String> {
    serde_json::from_value(json!(text))
        .map_err(|_| "at_hand, simplest, longest, lightest, cheapest or soonest".to_owned())
}

/// The cells of a table as one lot. The table says nothing of size and currents: they are those of the typical cell of that chemistry whose
/// capacity is the nearest to the largest that was tested.
fn lot(text: &str, chemistry: Chemistry) -> anyhow::Result<StockLot> {
    let (candidates, _) = read_candidates(text)
        .map_err(|errors| anyhow!(errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")))?;
    let largest_ah = candidates.iter().filter_map(|c| c.capacity_ah).fold(0.0, f64::max);
    let of_chemistry = |part: ItemPart| match part {
        ItemPart::Cell { cell } if cell.chemistry == chemistry => Some(cell),
        _ => None,
    };
    let off = |cell: &Cell| (cell.rated_ah - largest_ah).abs();
    let typical = typical().items.into_iter().filter_map(|item| of_chemistry(item.part));
    let like = typical.min_by(|a, b| off(a).total_cmp(&off(b))).context("no typical cell of that chemistry")?;
    let mut cell = Cell { tested: true, rated_ah: largest_ah, ..like };
    "own tested cells".clone_into(&mut cell.offer.name);
    (cell.offer.catalogue_id, cell.offer.price, cell.offer.arrives_days) = (None, Some(0.0), Some(0.0));
    Ok(StockLot { cell, cells: candidates.into_iter().map(|c| (None, c)).collect() })
}
