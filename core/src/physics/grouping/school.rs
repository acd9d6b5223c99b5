//! The three schools of putting a pack together: what each needs, what it risks, and whether the needs are met.

use serde::Serialize;
use utoipa::ToSchema;

use super::equalise::too_far;
use super::{Candidate, Grouping, Task};
use crate::base::limit::above;
use crate::plan::CellOrigin;

/// Voltage at rest by which an aged pair may differ. Common practice, no source.
pub const PAIR_WITHIN_V: f64 = 0.03;

/// A school.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StockSchool {
    /// New cells of one lot, without balancing.
    NewMatched,
    /// Salvaged cells, each tested, grouped by what was read.
    SalvagedGrouped,
    /// Pairs that aged in parallel stay together unless their readings part.
    AgedPairs,
}

/// Something a school needs.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Need {
    /// What.
    pub what: &'static str,
    /// Whether the chosen cells have it; absent where only the maker can see to it.
    pub met: Option<bool>,
    /// Which cells stand against it.
    pub against: Vec<String>,
}

/// A school with its needs, judged on the cells of a grouping, and its risks. Common practice, no source.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SchoolSheet {
    /// Which.
    pub school: StockSchool,
    /// Its name.
    pub title: &'static str,
    /// What it needs.
    pub needs: Vec<Need>,
    /// What it risks.
    pub risks: &'static [&'static str],
}

/// The three schools, judged on what was chosen.
pub fn school_sheets(task: &Task, grouping: &Grouping, origin: impl Fn(&str) -> CellOrigin) -> Vec<SchoolSheet> {
    let chosen: Vec<&Candidate> =
        task.candidates.iter().filter(|c| grouping.picking.iter().any(|p| p.label == c.label)).collect();
    let need = |what, unfit: &dyn Fn(&Candidate) -> bool| {
        let against: Vec<String> = chosen.iter().filter(|c| unfit(c)).map(|c| c.label.clone()).collect();
        Need { what, met: Some(against.is_empty()), against }
    };
    let yours = |what| Need { what, met: None, against: vec![] };
    let mut volts: Vec<f64> = chosen.iter().filter_map(|c| c.rested_v).collect();
    volts.sort_by(f64::total_cmp);
    let middle_v = volts.get(volts.len() / 2).copied().unwrap_or(0.0);
    let lot = chosen.first().and_then(|c| c.lot.as_deref());
    let parted = |c: &Candidate| {
        let partner = c.keep_with.as_deref().and_then(|mark| {
            let same = |o: &&&Candidate| {
                o.label != c.label && (o.label.eq_ignore_ascii_case(mark) || o.keep_with.as_deref() == Some(mark))
            };
            chosen.iter().find(same)
        });
        matches!((c.rested_v, partner.and_then(|f| f.rested_v)), (Some(a), Some(b)) if above((a - b).abs(), PAIR_WITHIN_V))
    };
    vec![
        SchoolSheet {
            school: StockSchool::NewMatched,
            title: "New matched cells, no balancing",
            needs: vec![
                need("Every cell is new", &|c| origin(&c.label) != CellOrigin::New),
                need("All of one lot", &|c| c.lot.as_deref() != lot),
                need("Equal on arrival: within 50 mV, phosphate within 5 % of charge", &|c| {
                    c.rested_v.is_none_or(|v| too_far(v, middle_v, task.chemistry))
                }),
                yours("A board that watches every group, even if it does not balance"),
            ],
            risks: &[
                "Nothing balances the groups: self-discharge separates them slowly, first seen at the end of the charge.",
                "One bad cell among new ones stays unseen until its group ends the run early.",
                "Read the full groups every few months; over 100 mV apart, look for a cause.",
            ],
        },
        SchoolSheet {
            school: StockSchool::SalvagedGrouped,
            title: "Salvaged, tested and grouped",
            needs: vec![
                need("Capacity of every cell", &|c| c.capacity_ah.is_none()),
                need("Resistance of every cell, one instrument, one sitting", &|c| c.resistance_ohm.is_none()),
                need("Self-discharge of every cell over one to two weeks", &|c| c.drop_v.is_none()),
                yours("A balancing board: cells of different age drift"),
            ],
            risks: &[
                "The history of a cell is not known: equal today, they age differently.",
                "Resistance grows faster in the older ones; they run hotter and carry less of the current.",
                "Test again after some dozen cycles; retire at 80 % of first capacity or twice first resistance.",
            ],
        },
        SchoolSheet {
            school: StockSchool::AgedPairs,
            title: "Aged pairs kept together",
            needs: vec![
                need("Every cell has its partner", &|c| c.keep_with.is_none()),
                need("The two of a pair rest within 30 mV", &parted),
                yours("Pairs come from one pack, so that all aged alike"),
            ],
            risks: &[
                "A pair hides a weak cell: the good one carries it until both are poor.",
                "Pairs at different voltages at rest show self-discharge in one of the two: test both again, singly.",
            ],
        },
    ]
}
