//! What it would take to raise the continuous current: every link that is rated for less, with the cheapest change that makes it
//! carry as much. Wires, strips and plugs must withstand the larger fuse too, or it would not guard them.

use serde::Serialize;
use utoipa::ToSchema;

use super::moves::Move;
use super::offers::Offers;
use super::tries::{self, Try};
use crate::assess::{Assessment, Link, Severity, assess_at_face_value};
use crate::base::limit::below;
use crate::base::phrase::Phrase;
use crate::base::range;
use crate::parts::catalogue::Catalogue;
use crate::physics::device;
use crate::physics::protection::{pairs_for, trip_band_a};
use crate::plan::{Change, Draw, FieldError, How, Known, Load, NodeKind, Plan, StateName, apply};

/// One link that is rated for less than is wanted.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RaiseStep {
    /// Node or run it stands for; `cells` and `strips` for the pack's own.
    pub link: String,
    /// What it is.
    pub label: &'static str,
    /// Which one.
    pub detail: String,
    /// What it is rated for now; absent is not stated.
    pub now_a: Option<f64>,
    /// The change, in a few words; absent where nothing of the catalogue does it.
    pub change: Option<String>,
    /// What it is rated for then.
    pub then_a: Option<f64>,
    /// What it costs, in the plan's currency; absent where no price is known.
    pub price: Option<f64>,
    /// The changes to the plan.
    pub changes: Vec<Change>,
}

/// What it would take.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Raise {
    /// Continuous current wanted at the battery.
    pub wanted_a: f64,
    /// The links to change, the cheapest first, those without a price last.
    pub steps: Vec<RaiseStep>,
    /// Sum of the known prices.
    pub price: f64,
    /// Whether every price is known.
    pub price_complete: bool,
    /// What the finished plan is rated for continuously, if every step is taken.
    pub then_a: Option<f64>,
    /// Stops and cautions that the plan would have then and has not now, stops first.
    pub brings: Vec<Brought>,
}

/// A finding that comes with the larger current.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Brought {
    /// How bad it is.
    pub severity: Severity,
    /// What is wrong.
    pub title: Phrase,
}

/// Tries one change for each link in turn, the fuse first: what it guards must withstand its rating.
///
/// Refuses a plan that cannot stand, and a current outside the range.
pub fn raise(plan: &Plan, catalogue: &Catalogue, wanted_a: f64) -> Result<Raise, Vec<FieldError>> {
    range::CURRENT
        .check(wanted_a)
        .map_err(|e| vec![FieldError { field: "/wanted_a".to_owned(), message: e.to_string() }])?;
    let before = assess_at_face_value(plan)?;
    let mut now = drawing(plan, &before, wanted_a);
    let mut places: Vec<String> = before.path.links.iter().map(|l| l.id.clone()).collect();
    places.sort_by_key(|id| plan.node(id).is_none_or(|n| n.kind != NodeKind::Fuse));
    let mut steps = vec![];
    for place in places {
        let assessment = assess_at_face_value(&now)?;
        let Some(link) = assessment.path.links.iter().find(|l| l.id == place) else { continue };
        let least_a = least_a(&now, &place, wanted_a);
        if link.continuous_a.is_some_and(|a| !below(a, least_a)) && !may_trip(&now, &place, least_a) {
            continue;
        }
        let step = step(&now, &assessment, link, catalogue, least_a)?;
        if step.now_a.is_none() && step.change.is_none() {
            continue;
        }
        if let Ok(changed) = apply(&now, &step.changes) {
            now = changed;
        }
        steps.push(step);
    }
    let after = assess_at_face_value(&now)?;
    steps.sort_by(|a, b| a.price.unwrap_or(f64::MAX).total_cmp(&b.price.unwrap_or(f64::MAX)));
    let then_a = after.path.links.iter().filter_map(|l| l.continuous_a).reduce(f64::min);
    let new = after.findings.iter().filter(|f| f.severity > Severity::Note);
    let new = new.filter(|f| before.findings.iter().all(|b| b.key != f.key));
    Ok(Raise {
        wanted_a,
        price: steps.iter().filter_map(|s| s.price).sum(),
        price_complete: steps.iter().all(|s| s.price.is_some()),
        then_a,
        brings: new.map(|f| Brought { severity: f.severity, title: f.title.clone() }).collect(),
        steps,
    })
}

/// What a link must withstand: the wanted current, and what a fuse guards, its rating.
fn least_a(plan: &Plan, place: &str, wanted_a: f64) -> f64 {
    let guarded = match plan.node(place) {
        Some(node) => node.kind == NodeKind::Connector,
        None => place != "cells",
    };
    let line = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let rating_a = line.nodes.iter().find_map(|n| n.fuse()).map(|f| f.rating_a);
    rating_a.filter(|_| guarded).map_or(wanted_a, |a| a.max(wanted_a))
}

/// Whether the board at a place may trip at a current that stays, whatever it is rated for.
fn may_trip(plan: &Plan, place: &str, current_a: f64) -> bool {
    let board = plan.node(place).and_then(|n| n.module()).and_then(|m| m.protects.as_ref());
    board.and_then(trip_band_a).is_some_and(|(low_a, _)| below(low_a, current_a))
}

/// Whether a stop says only that something behind the fuse must grow with it: its own step follows.
fn follows(rule: &str) -> bool {
    rule.starts_with("protection.fuse-above-")
}

/// The plan with its lasting levels drawing so much more that the continuous current is the wanted one.
fn drawing(plan: &Plan, before: &Assessment, wanted_a: f64) -> Plan {
    let mut plan = plan.clone();
    let now_a = before.figure("load.continuous_a").map(|f| f.value).filter(|a| *a > 0.0);
    match now_a {
        Some(now_a) => {
            let factor = wanted_a / now_a;
            for load in plan.device.loads.iter_mut().filter(|l| device::is_long(l.duration_s)) {
                match &mut load.draw {
                    Draw::Current { value_a } => value_a.value *= factor,
                    Draw::Power { value_w } => value_w.value *= factor,
                    Draw::Resistance { value_ohm } => value_ohm.value /= factor,
                }
            }
        }
        None => plan.device.loads.push(Load {
            id: "wanted".to_owned(),
            name: "wanted".to_owned(),
            draw: Draw::Current { value_a: Known { how: How::Assumed, ..Known::stated(wanted_a) } },
            duration_s: None,
            every_s: None,
        }),
    }
    plan
}

/// The cheapest change that makes a link carry the current and brings no stop that was not there.
fn step(
    plan: &Plan,
    assessment: &Assessment,
    link: &Link,
    catalogue: &Catalogue,
    wanted_a: f64,
) -> Result<RaiseStep, Vec<FieldError>> {
    let mut best: Option<(Try, f64, Option<f64>)> = None;
    for a_try in candidates(plan, link, catalogue, wanted_a)? {
        let Some((changed, then)) = judged(plan, &a_try) else { continue };
        let Some(rated_a) = then.path.links.iter().find(|l| l.id == link.id).and_then(|l| l.continuous_a) else {
            continue;
        };
        let new_stop = then.findings.iter().any(|f| {
            f.severity == Severity::Stop && !follows(&f.rule) && assessment.findings.iter().all(|b| b.key != f.key)
        });
        if below(rated_a, wanted_a) || may_trip(&changed, &link.id, wanted_a) || new_stop {
            continue;
        }
        let price = price(plan, &changed, &link.id);
        let cheaper = |old: &Option<f64>| price.unwrap_or(f64::MAX) < old.unwrap_or(f64::MAX);
        if best.as_ref().is_none_or(|(_, _, old)| cheaper(old)) {
            best = Some((a_try, rated_a, price));
        }
    }
    let (change, then_a, price, changes) = match best {
        Some((a_try, rated_a, price)) => (Some(a_try.label), Some(rated_a), price, a_try.changes),
        None => (None, None, None, vec![]),
    };
    Ok(RaiseStep {
        link: link.id.clone(),
        label: link.label,
        detail: link.detail.clone(),
        now_a: link.continuous_a,
        change,
        then_a,
        price,
        changes,
    })
}

fn candidates(plan: &Plan, link: &Link, catalogue: &Catalogue, wanted_a: f64) -> Result<Vec<Try>, Vec<FieldError>> {
    let part = |place: &str| Move::Part { place: place.to_owned() };
    let moves = match link.id.as_str() {
        "cells" => vec![Move::MoreParallel, part("cell")],
        "strips" => vec![Move::MoreLayers, Move::MoreStrips, part("strip")],
        place => vec![Move::Nearest { place: place.to_owned() }],
    };
    let offers = Offers::of(plan, catalogue);
    let mut found = vec![];
    for a_move in moves {
        found.extend(tries::of(&offers, &a_move)?);
    }
    found.extend(more_pairs(plan, &link.id, wanted_a));
    Ok(found)
}

/// A board of known transistors re-made with as many pairs as the current needs.
fn more_pairs(plan: &Plan, place: &str, wanted_a: f64) -> Option<Try> {
    let i = plan.nodes.iter().position(|n| n.id == place)?;
    let board = plan.nodes[i].module()?.protects.as_ref()?;
    let (now, wanted) = (board.pairs?, pairs_for(board, wanted_a)?);
    let at = format!("/nodes/{i}/part/part/module/protects");
    let more = wanted.checked_sub(now).filter(|more| *more > 0 && wanted <= 40)?;
    let label = format!("{more} more MOSFET pairs on the board, {wanted} in all; measure its trip again");
    let changes = vec![
        Change::put(format!("{at}/pairs"), wanted),
        // What it carries for good grows with its transistors; what it was said to trip at no longer holds.
        Change::put(format!("{at}/continuous_a"), wanted_a),
        Change::put(format!("{at}/trip_a"), Option::<Known>::None),
    ];
    Some(Try::plain(label, changes))
}

fn judged(plan: &Plan, a_try: &Try) -> Option<(Plan, Assessment)> {
    let changed = apply(plan, &a_try.changes).ok()?;
    let assessment = assess_at_face_value(&changed).ok()?;
    Some((changed, assessment))
}

/// What a change at a link costs: a new part whole, more cells and strips by how many more.
fn price(before: &Plan, after: &Plan, link: &str) -> Option<f64> {
    let (old, new) = (before.main_pack()?, after.main_pack()?);
    match link {
        "cells" => {
            let cell = new.cell()?;
            let count = |p: &crate::plan::Pack| Some(f64::from(p.series?) * f64::from(p.parallel?));
            let same = old.cell() == Some(cell);
            Some((count(new)? - if same { count(old)? } else { 0.0 }) * cell.offer.price?)
        }
        "strips" => {
            let strip = new.strip.part()?;
            let metres = |s: &crate::plan::Strip| {
                f64::from(s.layers * s.side_by_side) * s.length_mm / 1000.0 * f64::from(new.series.unwrap_or(1) + 1)
            };
            let had = old.strip.part().filter(|s| s.offer.name == strip.offer.name).map_or(0.0, metres);
            Some((metres(strip) - had).max(0.0) * strip.offer.price?)
        }
        place => match after.connections.iter().find(|r| r.id == place) {
            // Both ways.
            Some(run) => Some(2.0 * run.length_mm? / 1000.0 * run.wire.part()?.offer.price?),
            None => {
                let offer = |plan: &Plan| Some(plan.node(place)?.part.part()?.offer().clone());
                let new = offer(after)?;
                new.price.filter(|_| offer(before).is_none_or(|old| old.name != new.name))
            }
        },
    }
}
