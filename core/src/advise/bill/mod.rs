//! The bill of materials: every part of a plan once, how many of it, what is at hand, what must be bought.

mod table;

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{CountedIn, Wanted, Workspace, at_laid_workspace, wanted};
use crate::parts::catalogue::Catalogue;
use crate::plan::{FieldError, Plan};

pub use table::csv;

/// One part, wherever it is used.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BillLine {
    /// Its name.
    pub name: String,
    /// The catalogue's id it was copied from.
    pub catalogue_id: Option<String>,
    /// What it is, or where it stands.
    pub places: Vec<String>,
    /// How many, or how many metres.
    pub count: f64,
    /// Pieces or metres.
    pub counted_in: CountedIn,
    /// Price of one.
    pub each_price: Option<f64>,
    /// Price of all.
    pub price: Option<f64>,
    /// Days until it arrives; 0 is at hand.
    pub arrives_days: Option<f64>,
    /// How many of them are at hand, no more than are wanted.
    pub at_hand: f64,
    /// How many must be bought.
    pub to_buy: f64,
    /// Price of those.
    pub to_buy_price: Option<f64>,
    /// Where it is sold, who said so.
    pub note: String,
}

/// The bill of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Bill {
    /// Part by part, in the order of the work.
    pub lines: Vec<BillLine>,
    /// Price of everything that states one.
    pub price: f64,
    /// Price of what must be bought.
    pub to_buy_price: f64,
    /// Lines that must be bought.
    pub to_buy_lines: usize,
    /// Lines without a price.
    pub unpriced: usize,
    /// Days until the last part that must be bought is there.
    pub arrives_days: Option<f64>,
    /// Share of the lines that are at hand whole.
    pub at_hand_share: f64,
    /// Price of a bought pack or device in its place.
    pub replacement_price: Option<f64>,
    /// What the plan saves against it; below zero it costs more.
    pub saved_price: Option<f64>,
    /// Places that are still to be decided, so that their parts are missing here.
    pub open: Vec<String>,
}

/// The bill of a plan against what the catalogue says is at hand. Cells that the plan holds in the stock are at hand.
///
/// Refuses a plan that cannot stand.
pub fn bill(plan: &Plan, catalogue: &Catalogue) -> Result<Bill, Vec<FieldError>> {
    plan.check()?;
    at_laid_workspace(plan, |workspace| add_up(workspace, catalogue))
}

fn add_up(workspace: &Workspace<'_>, catalogue: &Catalogue) -> Bill {
    let mut lines: Vec<BillLine> = vec![];
    for wanted in wanted(workspace) {
        let same = |l: &&mut BillLine| {
            l.name == wanted.offer.name
                && l.catalogue_id == wanted.offer.catalogue_id
                && l.each_price == wanted.offer.price
                && l.counted_in == wanted.counted_in
        };
        match lines.iter_mut().find(same) {
            Some(line) => {
                line.count += wanted.count;
                line.places.push(wanted.place);
            }
            None => lines.push(first(wanted)),
        }
    }
    let held = workspace.plan.stock_cells().filter(|c| c.stock_id.is_some()).count() as f64;
    for line in &mut lines {
        settle(line, catalogue, held);
    }
    let sum = |of: fn(&BillLine) -> Option<f64>| lines.iter().filter_map(of).sum::<f64>();
    let (price, to_buy_price) = (sum(|l| l.price), sum(|l| l.to_buy_price));
    let buying = |l: &&BillLine| l.to_buy > 0.0;
    let to_buy_lines = lines.iter().filter(buying).count();
    let replacement_price = workspace.plan.buying.replacement_price;
    Bill {
        price,
        to_buy_price,
        to_buy_lines,
        unpriced: lines.iter().filter(|l| l.each_price.is_none()).count(),
        arrives_days: lines.iter().filter(buying).filter_map(|l| l.arrives_days).reduce(f64::max),
        at_hand_share: if lines.is_empty() { 0.0 } else { 1.0 - to_buy_lines as f64 / lines.len() as f64 },
        replacement_price,
        saved_price: replacement_price.map(|r| r - to_buy_price),
        open: workspace.plan.nodes.iter().filter(|n| n.part.is_open()).map(|n| n.id.clone()).collect(),
        lines,
    }
}

fn first(wanted: Wanted) -> BillLine {
    BillLine {
        name: wanted.offer.name,
        catalogue_id: wanted.offer.catalogue_id,
        places: vec![wanted.place],
        count: wanted.count,
        counted_in: wanted.counted_in,
        each_price: wanted.offer.price,
        price: None,
        arrives_days: wanted.offer.arrives_days,
        at_hand: if wanted.at_hand == Some(true) { wanted.count } else { 0.0 },
        to_buy: 0.0,
        to_buy_price: None,
        note: String::new(),
    }
}

/// What is at hand of a line, what must be bought, what it costs. `held` cells of the plan lie in the stock.
fn settle(line: &mut BillLine, catalogue: &Catalogue, held: f64) {
    let item = line.catalogue_id.as_deref().and_then(|id| catalogue.items.iter().find(|i| i.id == id));
    let kept = item.and_then(|i| i.at_hand).map_or(0.0, f64::from);
    let cells = if line.places.iter().any(|p| p == "cell") { held } else { 0.0 };
    // Nothing to wait for is at hand.
    let there = if line.arrives_days == Some(0.0) { line.count } else { kept.max(cells).max(line.at_hand) };
    line.at_hand = there.min(line.count);
    line.to_buy = line.count - line.at_hand;
    line.price = line.each_price.map(|each| each * line.count);
    line.to_buy_price = line.each_price.map(|each| each * line.to_buy);
    line.note = item.map_or_else(String::new, |i| i.note.clone());
}
