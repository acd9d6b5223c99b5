//! The type plate of the pack: what it is, in the figures everybody asks for.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::{cells, device, feed, plate, run, voltage};
use super::ledger::FigureDef;
use super::workspace::Workspace;
use crate::base::quantity::{Unit, show};
use crate::physics::cells::designation;

/// What stands on the type plate. Figures are named by id; they open to their working.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Nameplate {
    /// Counts: 4S2P; with question marks while they are open.
    pub counts: String,
    /// Designation of IEC 61960-3, where there is one.
    pub designation: Option<String>,
    /// Chemistry in words.
    pub chemistry: Option<&'static str>,
    /// Both positions of two packs, where there are two.
    pub positions: Option<String>,
    /// Ids of the figures shown, as far as they are known.
    pub figures: Vec<&'static str>,
}

const SHOWN: [&FigureDef; 13] = [
    &voltage::EMPTY_V,
    &voltage::NOMINAL_V,
    &voltage::FULL_V,
    &device::LOWEST_V,
    &device::HIGHEST_V,
    &cells::PACK_AH,
    &cells::PACK_WH,
    &plate::WEAKEST_A,
    &run::TIME_S,
    &plate::MASS_G,
    &device::ORIGINAL_G,
    &plate::COST,
    &plate::DAYS,
];

/// Reads the plate off a bench.
pub fn read(workspace: &Workspace<'_>) -> Nameplate {
    let count = |n: Option<u32>| n.map_or_else(|| "?".to_owned(), |n| n.to_string());
    Nameplate {
        counts: format!("{}S{}P", count(workspace.pack.series), count(workspace.pack.parallel)),
        designation: workspace
            .cell()
            .filter(|_| workspace.ready().is_none())
            .zip(workspace.pack.series)
            .zip(workspace.pack.parallel)
            .and_then(|((cell, s), p)| designation(cell, s, p)),
        positions: positions(workspace),
        chemistry: workspace.facts().map(|f| f.name),
        figures: SHOWN.iter().filter(|def| workspace.ledger.value(def).is_some()).map(|def| def.id).collect(),
    }
}

fn positions(workspace: &Workspace<'_>) -> Option<String> {
    let second = workspace.plan.feed.second.as_ref()?;
    let full = |def| workspace.ledger.value(def).map(|v| show(v, Unit::V));
    let told = |used: Option<bool>, word: &str, full: Option<String>| {
        used.filter(|used| *used)?;
        Some(full.map_or_else(|| word.to_owned(), |v| format!("{v} {word}")))
    };
    let both = [
        told(second.used_in_series, "in series", full(&feed::SERIES_FULL_V)),
        told(second.used_in_parallel, "in parallel", full(&voltage::FULL_V)),
        told(second.used_alone, "one at a time", None),
    ];
    let both: Vec<String> = both.into_iter().flatten().collect();
    let packs = match second.count {
        Some(2) => "three packs",
        Some(3) => "four packs",
        _ => "two packs",
    };
    Some(if both.is_empty() { packs.to_owned() } else { format!("{packs}: {}", both.join(", ")) })
}
