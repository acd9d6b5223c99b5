//! Moves made concrete: labelled sets of changes, in the order in which they are tried.

use serde_json::Value;

use super::moves::Move;
use super::offers::Offers;
use crate::advise::suggest::{SECOND_GUARD, Suggestion, layouts, place_pointer};
use crate::assess::Severity;
use crate::base::chemistry::Chemistry;
use crate::base::quantity::{Unit, show};
use crate::physics::voltage::FeedPath;
use crate::physics::wiring::area_mm2;
use crate::plan::{Change, CutsOff, FieldError, Node, NodeKind, Plan, TakeOff, apply};

/// Most cells in parallel, layers and strips that are tried beyond those that are there.
const MOST_MORE: u32 = 12;
/// Layers that can still be welded through. Common practice, no source.
const MOST_LAYERS: u32 = 3;
const MOST_SIDE_BY_SIDE: u32 = 4;

/// A labelled change to be judged.
#[derive(Clone)]
pub struct Try {
    pub label: String,
    pub changes: Vec<Change>,
    /// Whether parts that no longer suit are exchanged along with it.
    pub mends: bool,
    /// The place that it is about itself: what is put there is not exchanged again.
    pub own: Option<String>,
}

impl Try {
    pub fn plain(label: String, changes: Vec<Change>) -> Try {
        Try { label, changes, mends: false, own: None }
    }
}

/// Thresholds above that of the cut-off board, up to the nominal voltage of the pack; where it closes again moves along.
fn higher_cut_offs(plan: &Plan) -> Vec<Try> {
    /// From one to the next, for a group.
    const STEP_V: f64 = 0.05;
    let Some(pack) = plan.main_pack() else { return vec![] };
    let (Some(series), Some(facts)) = (pack.series.map(f64::from), pack.chemistry.map(Chemistry::facts)) else {
        return vec![];
    };
    let cuts = |node: &Node| node.module().and_then(|m| m.cuts_off.clone());
    let Some((index, cuts)) = plan.nodes.iter().enumerate().find_map(|(i, node)| Some((i, cuts(node)?))) else {
        return vec![];
    };
    let at = format!("/nodes/{index}/part/part/module/cuts_off");
    let higher = |k: u32| {
        let by_v = f64::from(k) * STEP_V * series;
        let at_v = ((cuts.at_v + by_v) * 100.0).round() / 100.0;
        let changes = vec![Change::put(at.clone(), CutsOff { at_v, rearm_v: cuts.rearm_v.map(|v| v + by_v) })];
        Try::plain(format!("Cut-off at {}", show(at_v, Unit::V)), changes)
    };
    let most = ((facts.nominal_v - cuts.at_v / series) / STEP_V).floor().max(0.0) as u32;
    (1..=most).map(higher).collect()
}

/// The tries of a move; the first that clears the finding is the fix.
pub fn of(offers: &Offers<'_>, a_move: &Move) -> Result<Vec<Try>, Vec<FieldError>> {
    let plan = offers.plan;
    Ok(match a_move {
        Move::Put { at, value, label } => vec![Try::plain(label.clone(), vec![Change::put(at.clone(), value)])],
        Move::Part { place } => {
            let mut found = offers.parts(place)?;
            if plan.node(place).is_some_and(|n| n.kind == NodeKind::Jack) {
                // A plug of which nobody says that a wall holds it is no way out.
                let socket = |s: &Suggestion| part_of(s)?.pointer("/connector/wall_socket")?.as_bool();
                found.retain(|s| socket(s) == Some(true));
            }
            let mut tries = parts(found);
            if place == SECOND_GUARD {
                tries.iter_mut().for_each(|t| t.label = format!("Protection for the second pack: {}", t.label));
            }
            tries
        }
        Move::Nearest { place } => {
            let mut found = offers.parts(place)?;
            if let Some(now) = now_at(plan, place).as_ref().and_then(size_of) {
                let distance = |s: &Suggestion| {
                    part_of(s).and_then(size_of).map_or(f64::MAX, |of| (of.size / now.size).ln().abs())
                };
                let other = |s: &Suggestion| part_of(s).and_then(size_of).is_none_or(|of| of.make != now.make);
                found.sort_by(|a, b| other(a).cmp(&other(b)).then(distance(a).total_cmp(&distance(b))));
            }
            let own = Some(place.clone());
            parts(found).into_iter().map(|a_try| Try { mends: true, own: own.clone(), ..a_try }).collect()
        }
        Move::MoreParallel => offers.more_parallel().to_vec(),
        Move::HigherCutOff => higher_cut_offs(plan),
        Move::MoreLayers => strip_counts(
            plan,
            "layers",
            |now| MOST_LAYERS.saturating_sub(now),
            |n| match n {
                2 => "Two layers of strip".to_owned(),
                n => format!("{n} layers of strip"),
            },
        ),
        Move::MoreStrips => {
            strip_counts(plan, "side_by_side", |_| MOST_SIDE_BY_SIDE, |n| format!("{n} strips side by side"))
        }
        Move::TakeOff => TakeOff::ALL
            .into_iter()
            .map(|t| Try::plain(take_off_label(t).to_owned(), vec![Change::put("/packs/0/brick/take_off", t)]))
            .collect(),
        Move::Layout => {
            let fitting = offers.layouts().iter().filter(|o| o.arrangement.fits);
            fitting.map(|o| Try::plain(o.name.clone(), o.changes.clone())).collect()
        }
        Move::SmallerBrick => {
            let done = offers.ways_out().iter().filter(|w| !w.changes.is_empty());
            done.map(|w| Try::plain(w.name.clone(), w.changes.clone())).collect()
        }
        Move::Voltage { regulated } => {
            let mut found = offers.voltages()?.to_vec();
            found.retain(|o| o.worst != Some(Severity::Stop) && !o.chosen);
            found.retain(|o| o.path.topology().is_some() == *regulated && (o.path == FeedPath::Direct || *regulated));
            // The chemistry that is there keeps its cells: the smaller change.
            found.sort_by_key(|o| plan.main_pack().is_none_or(|p| p.chemistry != Some(o.chemistry)));
            found.into_iter().map(|o| Try { label: o.name, changes: o.changes, mends: true, own: None }).collect()
        }
    })
}

fn parts(found: Vec<Suggestion>) -> Vec<Try> {
    found.into_iter().filter(|s| !s.chosen).map(|s| Try::plain(s.offer.name, s.changes)).collect()
}

/// One cell more in parallel, two more, and so on, as long as they fit into their place: where some do not, more do not either.
pub fn more_parallel(plan: &Plan) -> Vec<Try> {
    let now = plan.main_pack().and_then(|p| p.parallel).unwrap_or(1);
    let more = |n: u32| {
        let changes = relaid(plan, with_strips(plan, n))?;
        Some(Try { label: format!("{n} cells in parallel"), changes, mends: true, own: None })
    };
    (now + 1..=now + MOST_MORE).map_while(more).collect()
}

/// More cells in parallel; strips that lie one to a cell grow with them.
fn with_strips(plan: &Plan, parallel: u32) -> Vec<Change> {
    let mut changes = vec![Change::put("/packs/0/parallel", parallel)];
    if let Some(pack) = plan.main_pack()
        && let Some(strip) = pack.strip.part()
        && Some(strip.side_by_side) == pack.parallel
    {
        changes.push(Change::put("/packs/0/strip/part/side_by_side", parallel));
    }
    changes
}

/// The same changes with the cells laid out again for them, where they are laid out. `None` where they do not fit.
fn relaid(plan: &Plan, mut changes: Vec<Change>) -> Option<Vec<Change>> {
    if plan.main_pack()?.brick.layout.is_none() {
        return Some(changes);
    }
    let offers = layouts::offers(&apply(plan, &changes).ok()?).ok()?;
    changes.extend(offers.options.into_iter().find(|o| o.arrangement.fits)?.changes);
    Some(changes)
}

fn take_off_label(take_off: TakeOff) -> &'static str {
    match take_off {
        TakeOff::SameEnd => "Take the current off at one end",
        TakeOff::Diagonal => "Take the current off diagonally",
        TakeOff::Middle => "Take the current off in the middle",
        TakeOff::EveryCell => "Take the current off from every cell",
    }
}

fn strip_counts(plan: &Plan, field: &str, more: impl Fn(u32) -> u32, label: impl Fn(u32) -> String) -> Vec<Try> {
    let Some(strip) = plan.main_pack().and_then(|p| p.strip.part()) else {
        return vec![];
    };
    let now = if field == "layers" { strip.layers } else { strip.side_by_side };
    let at = format!("/packs/0/strip/part/{field}");
    let own = Some("strip".to_owned());
    let mended = |n| Try { mends: true, own: own.clone(), ..Try::plain(label(n), vec![Change::put(at.clone(), n)]) };
    (now + 1..=now + more(now)).map(mended).collect()
}

/// The part that a suggestion puts in, as JSON.
fn part_of(suggestion: &Suggestion) -> Option<&Value> {
    suggestion.changes.first()?.value.get("part")
}

/// What makes one fuse or wire larger than another, and what makes it of another make.
struct Sized {
    /// Rating of a fuse, cross-section of a wire.
    size: f64,
    /// Style of a fuse; insulation and system of a wire.
    make: String,
}

/// The part at a place, as JSON.
fn now_at(plan: &Plan, place: &str) -> Option<Value> {
    let document = serde_json::to_value(plan).ok()?;
    document.pointer(&place_pointer(plan, place)?)?.get("part").cloned()
}

/// Size and make of a fuse or wire.
fn size_of(part: &Value) -> Option<Sized> {
    if let Some(fuse) = part.get("fuse") {
        return Some(Sized { size: fuse.get("rating_a")?.as_f64()?, make: fuse.get("style")?.to_string() });
    }
    let (size, insulation) = (part.get("size")?, part.get("insulation")?);
    let make = format!("{insulation} {}", size.get("standard")?);
    Some(Sized { size: area_mm2(&serde_json::from_value(size.clone()).ok()?), make })
}
