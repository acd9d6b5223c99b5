//! Strips that would carry the current: for each metal the lightest of the usual sizes that is rated for it, as laid.

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{StripTask, strip_task};
use crate::base::limit::above;
use crate::base::quantity::{Unit, show};
use crate::physics::brick::{Sharing, cuts, link_limit_a, link_mass_g, link_short_time_a, near};
use crate::plan::{Change, Choice, Offer, Plan, Strip, StripMetal};

/// The usual sizes of a metal, and how it is joined.
struct Usual {
    metal: StripMetal,
    what: &'static str,
    thicknesses_mm: &'static [f64],
    least_width_mm: f64,
    most_layers: u32,
    note: &'static str,
}

/// Common practice, no source.
const METALS: [Usual; 4] = [
    Usual {
        metal: StripMetal::Nickel,
        what: "nickel strip",
        thicknesses_mm: &[0.1, 0.15, 0.2, 0.3],
        least_width_mm: 4.0,
        most_layers: 4,
        note: "any spot welder can do up to 0.2 mm; add layers one by one",
    },
    Usual {
        metal: StripMetal::NickelPlatedSteel,
        what: "nickel-plated steel strip",
        thicknesses_mm: &[0.15, 0.2, 0.3],
        least_width_mm: 4.0,
        most_layers: 4,
        note: "twice the resistance of nickel; scratched and put in salt water it rusts, pure nickel does not",
    },
    Usual {
        metal: StripMetal::Copper,
        what: "copper strip",
        thicknesses_mm: &[0.1, 0.2, 0.3],
        least_width_mm: 4.0,
        most_layers: 2,
        note: "needs a strong welder, a slot, and a nickel or steel strip on top",
    },
    Usual {
        metal: StripMetal::Aluminium,
        what: "aluminium bar",
        thicknesses_mm: &[0.5, 1.0, 2.0],
        least_width_mm: 10.0,
        most_layers: 1,
        note: "cannot be spot-welded at home: screwed to studs or tabs",
    },
];
/// Usual widths. Common practice, no source.
const WIDTHS_MM: [f64; 9] = [4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0];

/// A strip that would do.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StripOffer {
    /// Its metal and size.
    pub name: String,
    /// How it is joined.
    pub note: &'static str,
    /// Current of the pack it is rated for continuously.
    pub limit_a: f64,
    /// Voltage lost in all strips and joints at the continuous current.
    pub drop_v: f64,
    /// Mass of all strips.
    pub mass_g: f64,
    /// The changes that choose it.
    pub changes: Vec<Change>,
    /// Whether the plan has that metal and size.
    pub chosen: bool,
}

/// The lightest strip of each metal that is rated for the continuous current and the peak; none while the current is unknown.
pub fn strip_offers(plan: &Plan) -> Vec<StripOffer> {
    strip_task(plan, |task| METALS.iter().filter_map(|metal| lightest(plan, &task, metal)).collect())
        .unwrap_or_default()
}

fn lightest(plan: &Plan, task: &StripTask<'_>, usual: &Usual) -> Option<StripOffer> {
    let widths_mm = || WIDTHS_MM.iter().filter(|w| **w >= usual.least_width_mm);
    let sizes = usual.thicknesses_mm.iter().flat_map(|&t| widths_mm().map(move |&w| (t, w)));
    let mut tries: Vec<Strip> = sizes
        .flat_map(|(thickness_mm, width_mm)| {
            (1..=usual.most_layers).map(move |layers| Strip {
                offer: Offer::default(),
                metal: usual.metal,
                width_mm,
                thickness_mm,
                layers,
                side_by_side: task.counts.1,
                length_mm: task.laid.map_or(20.0, |l| l.grid.pitch_mm[0]),
            })
        })
        .filter(|s| task.laid.is_none_or(|l| near(l.pieces(), &l.grid, s.width_mm).is_empty()))
        .collect();
    let area_mm2 = |s: &Strip| s.width_mm * s.thickness_mm * f64::from(s.layers);
    // At equal mass the one of fewer layers is less work.
    tries.sort_by(|a, b| area_mm2(a).total_cmp(&area_mm2(b)).then(a.layers.cmp(&b.layers)));
    tries.into_iter().find_map(|mut strip| {
        let borne = rating(task, &strip)?;
        if above(task.continuous_a, borne.limit_a) || task.peak.zip(borne.peak_a).is_some_and(|(p, a)| above(p.0, a)) {
            return None;
        }
        let layers = if strip.layers > 1 { format!(", {} layers", strip.layers) } else { String::new() };
        let size = |mm: f64| show(mm, Unit::Mm).trim_end_matches(" mm").to_owned();
        let name = format!("{} {} × {}{layers}", usual.what, size(strip.thickness_mm), show(strip.width_mm, Unit::Mm));
        strip.offer.name.clone_from(&name);
        let now = plan.main_pack().and_then(|p| p.strip.part());
        let alike = |a: &Strip| {
            (a.metal, a.width_mm, a.thickness_mm, a.layers)
                == (strip.metal, strip.width_mm, strip.thickness_mm, strip.layers)
        };
        Some(StripOffer {
            note: usual.note,
            limit_a: borne.limit_a,
            drop_v: task.continuous_a * borne.ohm,
            mass_g: borne.mass_g,
            chosen: now.is_some_and(alike),
            changes: vec![Change::put("/packs/0/strip", Choice::chosen(&strip))],
            name,
        })
    })
}

struct Rating {
    limit_a: f64,
    peak_a: Option<f64>,
    ohm: f64,
    mass_g: f64,
}

/// What a strip is rated for in the brick as laid, or as a link that is used.
fn rating(task: &StripTask<'_>, strip: &Strip) -> Option<Rating> {
    let Some(laid) = task.laid else {
        let links = f64::from(task.counts.0 + 1);
        return Some(Rating {
            limit_a: link_limit_a(strip),
            peak_a: task.peak.map(|(_, s)| link_short_time_a(strip, s)),
            ohm: links * crate::physics::brick::link_ohm(strip),
            mass_g: links * link_mass_g(strip),
        });
    };
    let take_off = laid.pack.brick.take_off;
    let sharing = Sharing::of(laid, strip, task.cell_ohm, task.joint, take_off)?;
    Some(Rating {
        limit_a: sharing.weakest()?.1,
        peak_a: task.peak.and_then(|(_, s)| sharing.short_time_a(s)),
        ohm: sharing.joints_ohm,
        mass_g: cuts(laid, strip).iter().map(|c| c.mass_g).sum(),
    })
}
