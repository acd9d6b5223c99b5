//! Which packs are worth weighing for a device: chemistry, series count, and the path to the device.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::chemistry::{Chemistry, Facts, TABLE};
use crate::base::limit;
use crate::base::range;
use crate::plan::Topology;

/// How the pack feeds the device.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FeedPath {
    /// Straight: fewer parts, no losses, speed falls as it empties.
    Direct,
    /// Down through a converter.
    Buck,
    /// Up through a converter.
    Boost,
    /// Down and up through a converter.
    BuckBoost,
    /// Two packs that a switch sets in series or in parallel.
    Switched,
    /// Straight, from a hobby pack outside on a plug.
    OutsidePack,
    /// Straight, from a tool pack on an adapter.
    ToolPack,
}

/// The two schools of feeding a device.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum School {
    /// The pack's own voltage.
    Direct,
    /// Voltage made by a converter.
    Regulated,
}

impl FeedPath {
    /// As it follows the pack's name: ", direct".
    pub fn words(self) -> &'static str {
        match self {
            FeedPath::Direct => ", direct",
            FeedPath::Buck => " + step-down",
            FeedPath::Boost => " + step-up",
            FeedPath::BuckBoost => " + step-up-down",
            FeedPath::Switched => ", twice, switched",
            FeedPath::OutsidePack => " outside on a plug",
            FeedPath::ToolPack => " tool pack on an adapter",
        }
    }

    /// The school it belongs to.
    pub fn school(self) -> School {
        if self.topology().is_some() { School::Regulated } else { School::Direct }
    }

    /// When it is the better one.
    pub fn better_when(self) -> &'static str {
        match self {
            FeedPath::Direct => "the whole range fits, the load is a motor or lamp, and losses or standby drain matter",
            FeedPath::Buck => "the device needs constant voltage and there is room for more cells than it needs",
            FeedPath::Boost => "room is for few cells, the load is small, and the device needs constant voltage",
            FeedPath::BuckBoost => "the device's voltage is inside the pack's range and must not move",
            FeedPath::Switched => "the device has two settings and two packs are at hand",
            FeedPath::OutsidePack => "nothing may be cut, and the pack is charged outside on a balance charger",
            FeedPath::ToolPack => "tool packs and their charger are at hand, and nothing may be welded",
        }
    }

    /// What it takes besides cells, board, fuse and charger.
    pub fn parts(self) -> &'static [&'static str] {
        match self {
            FeedPath::Direct => &[],
            FeedPath::Buck | FeedPath::Boost | FeedPath::BuckBoost => {
                &["converter", "switch on its battery side", "metal or air for its heat"]
            }
            FeedPath::Switched => &["second pack", "switch that breaks before it makes", "protection in each pack"],
            FeedPath::OutsidePack => &["keyed plug", "strap or pouch", "fuse in the lead", "low-battery protection"],
            FeedPath::ToolPack => &["adapter", "fuse in the adapter", "cut-off: the tool did the protecting"],
        }
    }

    /// Whether the device can be put back as it was.
    pub fn is_reversible(self) -> bool {
        matches!(self, FeedPath::OutsidePack | FeedPath::ToolPack)
    }

    /// The converter it needs.
    pub fn topology(self) -> Option<Topology> {
        match self {
            FeedPath::Direct | FeedPath::Switched | FeedPath::OutsidePack | FeedPath::ToolPack => None,
            FeedPath::Buck => Some(Topology::Buck),
            FeedPath::Boost => Some(Topology::Boost),
            FeedPath::BuckBoost => Some(Topology::BuckBoost),
        }
    }
}

/// A pack to weigh.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Candidate {
    /// Chemistry.
    pub chemistry: Chemistry,
    /// Groups in series.
    pub series: u32,
    /// Path to the device.
    pub path: FeedPath,
}

/// Nominal voltage of direct candidates, as shares of the device's own.
const DIRECT_FROM: f64 = 0.6;
const DIRECT_TO: f64 = 1.45;

/// Headroom a buck is given when its own is not known yet. Common practice, no source.
pub const BUCK_ROOM_V: f64 = 1.5;

/// Every pack worth weighing for a device of that nominal voltage.
///
/// Direct: all lithium chemistries at every series count whose nominal voltage lies within 0.6 to 1.45 of the device's.
/// Two switched packs of which the series position is nearest; the nearest hobby pack outside; the nearest tool pack.
/// Regulated, for Li-ion and phosphate: the smallest count a buck can work from, the largest below a boost's
/// output, and the nearest for a buck-boost.
pub fn candidates(nominal_v: f64) -> Vec<Candidate> {
    let mut found = vec![];
    for facts in TABLE.iter().filter(|f| f.rechargeable_lithium) {
        let near = |s: &u32| {
            let pack_v = f64::from(*s) * facts.nominal_v;
            !limit::below(pack_v, DIRECT_FROM * nominal_v) && !limit::above(pack_v, DIRECT_TO * nominal_v)
        };
        found.extend(all_series().filter(near).map(|series| Candidate {
            chemistry: facts.chemistry,
            series,
            path: FeedPath::Direct,
        }));
    }
    for chemistry in [Chemistry::LiIon, Chemistry::LiFePo4] {
        found.extend(regulated(chemistry.facts(), nominal_v));
    }
    let nearest = |chemistry: Chemistry, counts: &mut dyn Iterator<Item = u32>| {
        let apart = |s: &u32| (f64::from(*s) * chemistry.facts().nominal_v - nominal_v).abs();
        counts.min_by(|a, b| apart(a).total_cmp(&apart(b)))
    };
    for (chemistry, path, series) in [
        (
            Chemistry::LiIon,
            FeedPath::Switched,
            nearest(Chemistry::LiIon, &mut all_series().filter(|s| s % 2 == 0)).map(|s| s / 2),
        ),
        (Chemistry::LiPo, FeedPath::OutsidePack, nearest(Chemistry::LiPo, &mut all_series())),
        (Chemistry::LiIon, FeedPath::ToolPack, nearest(Chemistry::LiIon, &mut TOOL_PACKS.into_iter())),
    ] {
        found.extend(series.map(|series| Candidate { chemistry, series, path }));
    }
    found
}

/// Cells in series of common tool packs: 10.8, 14.4, 18 and 36 V. Common practice, no source.
const TOOL_PACKS: [u32; 4] = [3, 4, 5, 10];

fn all_series() -> impl DoubleEndedIterator<Item = u32> {
    range::SERIES.min as u32..=range::SERIES.max as u32
}

fn regulated(facts: &Facts, output_v: f64) -> Vec<Candidate> {
    let candidate = |path| move |series| Candidate { chemistry: facts.chemistry, series, path };
    let above = |s: &u32| limit::above(f64::from(*s) * facts.cutoff_v, output_v + BUCK_ROOM_V);
    let under = |s: &u32| !limit::above(f64::from(*s) * facts.full_v, output_v);
    let apart = |s: &u32| (f64::from(*s) * facts.nominal_v - output_v).abs();
    let mut found: Vec<Candidate> = all_series().find(above).map(candidate(FeedPath::Buck)).into_iter().collect();
    found.extend(all_series().rev().find(under).map(candidate(FeedPath::Boost)));
    found.extend(all_series().min_by(|a, b| apart(a).total_cmp(&apart(b))).map(candidate(FeedPath::BuckBoost)));
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_14_4_v_tool_is_offered_four_li_ion_cells_direct_and_both_neighbours() {
        let found = candidates(14.4);
        for series in [3, 4, 5] {
            let wanted = Candidate { chemistry: Chemistry::LiIon, series, path: FeedPath::Direct };
            assert!(found.contains(&wanted), "{series} series is missing");
        }
        let boosted = Candidate { chemistry: Chemistry::LiIon, series: 3, path: FeedPath::Boost };
        let bucked = Candidate { chemistry: Chemistry::LiIon, series: 6, path: FeedPath::Buck };
        assert!(found.contains(&boosted) && found.contains(&bucked));
    }

    #[test]
    fn no_candidate_leaves_the_range_whatever_the_device() {
        for nominal_v in [0.1, 1.2, 6.0, 48.0, 500.0] {
            for c in candidates(nominal_v) {
                assert!(range::SERIES.check(f64::from(c.series)).is_ok(), "{c:?} for {nominal_v} V");
            }
        }
    }
}
