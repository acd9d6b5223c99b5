//! The ways that cannot be, each with its deciding reason; and where a part is missing, the figures to look for.

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::assess_at_face_value;
use crate::base::chemistry::Chemistry;
use crate::base::phrase::Phrase;
use crate::base::quantity::{Unit, show, show_range};
use crate::physics::voltage::FeedPath;
use crate::plan::{NodeKind, Plan};

use super::complete::{Failed, Tried};

/// A way that cannot be.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Refused {
    /// In words: "5S Li-ion, direct".
    pub name: String,
    /// Its chemistry.
    #[serde(skip)]
    pub chemistry: Chemistry,
    /// Its path.
    #[serde(skip)]
    pub path: FeedPath,
    /// The deciding reason, in a few words.
    pub title: Phrase,
    /// The same with its figures.
    pub why: Option<Phrase>,
    /// What to look for in a shop, where a part is missing.
    pub look_for: Option<String>,
}

/// Most that are said: more is a list nobody reads.
const MOST: usize = 8;

/// The refused ways, those first that a part would open; `done` are the ways that some plan was completed for.
pub fn refusals(by_voltage: &[Refused], failed: &[Tried], done: &[String]) -> Vec<Refused> {
    let mut found: Vec<Refused> = vec![];
    for tried in failed {
        let way = &tried.start.way;
        if done.contains(&way.name) || found.iter().any(|r| r.name == way.name) {
            continue;
        }
        found.extend(of_failed(tried));
    }
    found.sort_by_key(|r| r.look_for.is_none());
    found.extend(by_voltage.iter().cloned());
    found.truncate(MOST);
    found
}

fn of_failed(tried: &Tried) -> Option<Refused> {
    let way = &tried.start.way;
    let (title, why, missing) = match tried.failed.as_ref()? {
        Failed::Stop(stop, missing) => (stop.title.clone(), Some(stop.why.clone()), *missing),
        Failed::NoPart(kind) => {
            (Phrase::words(format!("No {} for it among your parts", word(*kind))), None, Some(*kind))
        }
        Failed::NoRoom(help) => (Phrase::words("The cells do not fit"), Some(help.clone()), None),
    };
    Some(Refused {
        name: way.name.clone(),
        chemistry: way.chemistry,
        path: way.path.unwrap_or(FeedPath::Direct),
        title,
        why,
        look_for: missing.and_then(|kind| look_for(&tried.plan, kind)),
    })
}

fn word(kind: NodeKind) -> &'static str {
    match kind {
        NodeKind::Board => "board",
        NodeKind::Fuse => "fuse",
        NodeKind::CutOff => "cut-off board",
        NodeKind::Switch => "switch",
        NodeKind::Converter => "converter",
        NodeKind::Charger => "charger",
        NodeKind::Supply => "supply",
        NodeKind::Jack => "jack",
        NodeKind::Connector => "plug",
        NodeKind::Alarm => "alarm",
        NodeKind::Pack | NodeKind::Device => "part",
    }
}

/// A trip should lie so far above the peak, and within so much of it. Common practice, no source.
const TRIP_ABOVE: f64 = 1.15;
const TRIP_WITHIN: f64 = 1.6;
/// A continuous rating should have so much in hand. Common practice, no source.
const IN_HAND: f64 = 1.25;

/// The figures of a missing part as a text to paste into a shop's search. `None` while what it hangs on is not known.
pub fn look_for(plan: &Plan, kind: NodeKind) -> Option<String> {
    let assessment = assess_at_face_value(plan).ok()?;
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let pack = plan.packs.first()?;
    let (series, facts) = (pack.series?, pack.chemistry?.facts());
    let full_v = value("line.full_v").or_else(|| value("pack.full_v"))?;
    let load_a = value("load.continuous_a");
    let at_least = |a: f64| format!("at least {}", show((IN_HAND * a).ceil(), Unit::A));
    Some(match kind {
        NodeKind::Board => {
            let rated = load_a.map(|a| format!(", {} continuous", at_least(a))).unwrap_or_default();
            let trips = value("load.peak_a").map(|a| {
                let (low, high) = ((TRIP_ABOVE * a).ceil(), (TRIP_WITHIN * a).ceil());
                format!(", trips at {}", show_range(low, high, Unit::A))
            });
            let waits = value("load.peak_s").map(|s| format!(", delay under {}", show(s, Unit::S)));
            format!(
                "{series}S {} board for {} per cell{rated}{}{}",
                facts.short,
                show(facts.full_v, Unit::V),
                trips.unwrap_or_default(),
                waits.unwrap_or_default()
            )
        }
        NodeKind::Fuse => {
            let short = value("pack.short_a").map(|a| format!(", interrupts {}", show(a, Unit::A))).unwrap_or_default();
            format!("fuse {}, {} DC or more{short}", at_least(load_a?), show(full_v, Unit::V))
        }
        NodeKind::Charger => {
            let most = value("charge.limit_a").map(|a| format!(", up to {}", show(a, Unit::A))).unwrap_or_default();
            format!("CC/CV charger {} for {series} {} cells in series{most}", show(full_v, Unit::V), facts.short)
        }
        NodeKind::Converter => {
            let converts = plan.module(NodeKind::Converter)?.converts.as_ref()?;
            let empty_v = value("pack.empty_v")?;
            format!(
                "converter from {} to {}{}",
                show_range(empty_v, full_v, Unit::V),
                show(converts.output_v, Unit::V),
                value("load.peak_a").map(|a| format!(", {}", at_least(a))).unwrap_or_default()
            )
        }
        NodeKind::Connector | NodeKind::Switch | NodeKind::Jack => {
            format!("{}, {} at {} DC", word(kind), at_least(load_a?), show(full_v, Unit::V))
        }
        NodeKind::CutOff => format!("cut-off board set to {} or more", show(value("pack.empty_v")?, Unit::V)),
        NodeKind::Supply | NodeKind::Alarm | NodeKind::Pack | NodeKind::Device => return None,
    })
}
