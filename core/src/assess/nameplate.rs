//! The type plate of the pack: what it is, in the figures everybody asks for.

use serde::Serialize;
use utoipa::ToSchema;

use super::bench::Bench;
use super::figures::{cells, device, run, voltage};
use super::path::Path;
use crate::cells::designation;
use crate::plan::{Choice, Offer, Part};

/// What stands on the type plate. Figures are named by id; they open to their working.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Nameplate {
    /// Counts: 4S2P; with question marks while they are open.
    pub counts: String,
    /// Designation of IEC 61960-3, where there is one.
    pub designation: Option<String>,
    /// Chemistry in words.
    pub chemistry: Option<&'static str>,
    /// Ids of the figures shown, as far as they are known.
    pub figures: Vec<&'static str>,
    /// Limit of the weakest link.
    pub weakest_a: Option<f64>,
    /// Price of all parts with a stated price.
    pub cost: Option<f64>,
    /// Parts without a stated price.
    pub unpriced: u32,
    /// Days until the last part arrives.
    pub days: Option<f64>,
    /// Mass of the cells and all parts with a stated mass.
    pub mass_g: Option<f64>,
    /// Mass of the old battery.
    pub old_mass_g: Option<f64>,
}

const SHOWN: [&super::ledger::FigureDef; 8] = [
    &voltage::EMPTY_V,
    &voltage::NOMINAL_V,
    &voltage::FULL_V,
    &device::LOWEST_V,
    &device::HIGHEST_V,
    &cells::PACK_AH,
    &cells::PACK_WH,
    &run::TIME_S,
];

/// Reads the plate off a bench.
pub fn read(bench: &Bench<'_>, path: &Path) -> Nameplate {
    let count = |n: Option<u32>| n.map_or_else(|| "?".to_owned(), |n| n.to_string());
    let parts = parts(bench);
    let priced: Vec<f64> = parts.iter().filter_map(|(offer, n)| offer.price.map(|p| p * n)).collect();
    let masses: Vec<f64> = parts.iter().filter_map(|(offer, n)| offer.mass_g.map(|m| m * n)).collect();
    let weakest = path.weakest.as_ref().and_then(|id| path.links.iter().find(|l| &l.id == id));
    Nameplate {
        counts: format!("{}S{}P", count(bench.pack.series), count(bench.pack.parallel)),
        designation: bench
            .cell()
            .zip(bench.pack.series)
            .zip(bench.pack.parallel)
            .and_then(|((cell, s), p)| designation(cell, s, p)),
        chemistry: bench.facts().map(|f| f.name),
        figures: SHOWN.iter().filter(|def| bench.ledger.value(def).is_some()).map(|def| def.id).collect(),
        weakest_a: weakest.and_then(|l| l.continuous_a),
        cost: (!priced.is_empty()).then(|| priced.iter().sum()),
        unpriced: parts.iter().filter(|(offer, _)| offer.price.is_none()).count() as u32,
        days: parts.iter().filter_map(|(offer, _)| offer.arrives_days).reduce(f64::max),
        mass_g: (!masses.is_empty()).then(|| masses.iter().sum()),
        old_mass_g: bench.ledger.value(&device::ORIGINAL_G),
    }
}

/// Every chosen part with how many of it (or how many metres) are needed.
fn parts<'a>(bench: &Bench<'a>) -> Vec<(&'a Offer, f64)> {
    const MM_PER_M: f64 = 1000.0;
    let mut parts = vec![];
    if let (Some(cell), Some((series, parallel))) = (bench.cell(), bench.counts()) {
        parts.push((&cell.offer, series * parallel));
    }
    if let (Some(strip), Some(series)) = (bench.strip(), bench.pack.series) {
        let pieces = f64::from(series + 1) * f64::from(strip.layers * strip.side_by_side);
        parts.push((&strip.offer, pieces * strip.length_mm / MM_PER_M));
    }
    for node in &bench.plan.nodes {
        let Choice::Chosen { part } = &node.part else {
            continue;
        };
        let offer = match part {
            Part::Module { module } => &module.offer,
            Part::Fuse { fuse } => &fuse.offer,
            Part::Connector { connector } => &connector.offer,
            Part::Switch { switch } => &switch.offer,
        };
        parts.push((offer, 1.0));
    }
    for run in &bench.plan.runs {
        if let (Some(wire), Some(length_mm)) = (run.wire.part(), run.length_mm) {
            parts.push((&wire.offer, 2.0 * length_mm / MM_PER_M));
        }
    }
    parts
}
