//! A start completed: the best part at every place that is open, stops cleared, cautions that a part clears at no price cleared, too.

use std::collections::HashSet;

use crate::advise::fix::{Fix, fixes};
use crate::advise::suggest::{SECOND_GUARD, SELECTOR, Suggestion, suggest};
use crate::assess::{Finding, Severity, Stage, assess_at_face_value};
use crate::base::phrase::Phrase;
use crate::parts::catalogue::{Catalogue, ItemPart};
use crate::plan::{Choice, NodeKind, Plan, apply};

use super::Wishes;
use super::starts::{Start, fitting};

/// Rounds in which a stop is cleared, and in which a caution is.
const CLEARING: usize = 5;
const POLISHING: usize = 6;

/// A start as far as it came.
#[derive(Debug, Clone)]
pub struct Tried {
    /// Where it started.
    pub start: Start,
    /// The plan as it is now.
    pub plan: Plan,
    /// Why it is no proposal.
    pub failed: Option<Failed>,
}

/// Why a start could not be completed.
#[derive(Debug, Clone)]
pub enum Failed {
    /// A stop that nothing clears; with the place whose part is missing from the catalogue, where it is that.
    Stop(Box<Finding>, Option<NodeKind>),
    /// No part at all for a place.
    NoPart(NodeKind),
    /// The cells do not fit, and what would help.
    NoRoom(Phrase),
}

/// What decides between parts that are equally good at a place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Prefer {
    /// The order of the suggestions: at hand, then cheap.
    AsSuggested,
    /// Those that are there first.
    Soonest,
    /// The cheapest.
    Cheapest,
    /// The lightest.
    Lightest,
}

impl Prefer {
    /// What a part costs by it; what is not stated is the most.
    fn price(self, s: &Suggestion) -> f64 {
        let there = s.at_hand.is_some_and(|pieces| pieces > 0);
        let stated = match self {
            Prefer::AsSuggested => Some(0.0),
            Prefer::Soonest | Prefer::Cheapest if there => Some(0.0),
            Prefer::Soonest => s.offer.arrives_days,
            Prefer::Cheapest => s.offer.price,
            Prefer::Lightest => s.offer.mass_g,
        };
        stated.unwrap_or(f64::MAX)
    }
}

/// The part for a place: the first of the list; where something is preferred, the best in that of all that bring no stop.
fn pick(found: Vec<Suggestion>, suits: impl Fn(&Suggestion) -> bool, prefer: Prefer) -> Option<Suggestion> {
    let mut suiting = found.into_iter().filter(suits);
    let first = suiting.next()?;
    let sound = suiting.take_while(|s| s.worst != Some(Severity::Stop));
    // The earlier in the list wins a tie.
    Some(sound.fold(first, |best, s| if prefer.price(&s) < prefer.price(&best) { s } else { best }))
}

/// Completes a start.
pub fn complete(start: Start, catalogue: &Catalogue, wishes: &Wishes, prefer: Prefer) -> Tried {
    let of_this = fitting(catalogue, start.way.chemistry, start.way.series);
    let mut plan = start.plan.clone();
    if let Some(why) = start.no_room.clone() {
        return Tried { start, plan, failed: Some(Failed::NoRoom(why)) };
    }
    let mut missing = None;
    let mut passed = HashSet::new();
    while let Some((place, kind)) = open_places(&plan).into_iter().find(|(place, _)| !passed.contains(place)) {
        let found = suggest(&plan, &of_this, &place).unwrap_or_default();
        match pick(found, |s| suits(s, &place, kind, &of_this, wishes), prefer) {
            Some(best) => {
                if best.worst == Some(Severity::Stop) {
                    missing = missing.or(kind);
                }
                plan = apply(&plan, &best.changes).unwrap_or(plan);
            }
            None => {
                if let Some(kind) = kind.filter(|kind| !may_stay_open(*kind)) {
                    return Tried { start, plan, failed: Some(Failed::NoPart(kind)) };
                }
            }
        }
        passed.insert(place);
    }
    for _ in 0..CLEARING {
        let Some(stop) = first(&plan, Severity::Stop) else { break };
        let found = fixes(&plan, &of_this, &stop.key).unwrap_or_default();
        match found.iter().find_map(|fix| mended(&plan, fix)) {
            Some(without) => plan = without,
            None => return Tried { start, plan, failed: Some(Failed::Stop(Box::new(stop), missing)) },
        }
    }
    let stop = first(&plan, Severity::Stop).map(|stop| Failed::Stop(Box::new(stop), missing));
    let failed = stop.or_else(|| needed(&plan).map(Failed::NoPart));
    Tried { start, plan, failed }
}

/// A place that must have its part, and has none.
fn needed(plan: &Plan) -> Option<NodeKind> {
    open_places(plan).into_iter().filter_map(|(_, kind)| kind).find(|kind| !may_stay_open(*kind))
}

/// A supply is only asked for by a charger that has none of its own, a jack by one that is plugged in.
fn may_stay_open(kind: NodeKind) -> bool {
    matches!(kind, NodeKind::Supply | NodeKind::Jack | NodeKind::CutOff | NodeKind::Alarm)
}

/// The plan with every caution cleared that another part or a simple change clears without bringing one.
pub fn polish(start: &Start, plan: Plan, catalogue: &Catalogue) -> Plan {
    let of_this = fitting(catalogue, start.way.chemistry, start.way.series);
    let mut plan = plan;
    let mut passed: HashSet<String> = HashSet::new();
    for _ in 0..POLISHING {
        let Ok(now) = assess_at_face_value(&plan) else { return plan };
        // What only the device says is for the maker to find out; what the cells and their count cost was weighed when they were chosen.
        let about_parts =
            |f: &&Finding| matches!(f.stage, Stage::Brick | Stage::Protection | Stage::Charging | Stage::Wiring);
        let caution = now
            .findings
            .iter()
            .filter(|f| f.severity == Severity::Caution && f.follows.is_none())
            .filter(about_parts)
            .find(|f| !passed.contains(&f.key));
        let Some(caution) = caution else { return plan };
        passed.insert(caution.key.clone());
        let found = fixes(&plan, &of_this, &caution.key).unwrap_or_default();
        if let Some(better) = found.iter().filter(|fix| fix.brings.is_empty()).find_map(|fix| mended(&plan, fix)) {
            plan = better;
        }
    }
    plan
}

/// The plan with a fix made. `None` where that is more than parts, counts and the way they are laid: an answer about the device would be put
/// into the maker's mouth, another way gone, or cells counted that were never tested.
fn mended(plan: &Plan, fix: &Fix) -> Option<Plan> {
    let chosen = ["/nodes/", "/runs/", "/packs/0/"];
    // The plug that a pack comes with is the maker's to change, with an iron.
    let stated = "/packs/0/ready/part/plug_";
    let may = |at: &str| !at.starts_with(stated) && chosen.iter().any(|place| at.starts_with(place));
    if !fix.changes.iter().all(|change| may(&change.at)) {
        return None;
    }
    let after = apply(plan, &fix.changes).ok()?;
    let (before, now) = (plan.packs.first()?, after.packs.first()?);
    let same_way = (now.chemistry, now.series, now.brick.joined_by)
        == (before.chemistry, before.series, before.brick.joined_by)
        && (now.cell.part().is_some(), now.ready.part().is_some())
            == (before.cell.part().is_some(), before.ready.part().is_some());
    let same_cells = before.groups.is_empty() || (&now.groups, &now.cell) == (&before.groups, &before.cell);
    (same_way && same_cells).then_some(after)
}

/// Places of the plan that wait for a part, in the order in which one decides the next.
fn open_places(plan: &Plan) -> Vec<(String, Option<NodeKind>)> {
    // The fuse before the board: what a board may let through hangs on the fuse behind it.
    const ORDER: [NodeKind; 6] =
        [NodeKind::Converter, NodeKind::Fuse, NodeKind::Board, NodeKind::CutOff, NodeKind::Connector, NodeKind::Switch];
    const CHARGE: [NodeKind; 3] = [NodeKind::Charger, NodeKind::Supply, NodeKind::Jack];
    let mut found = vec![];
    let welded = plan.packs.first().is_some_and(|p| p.cell.part().is_some() && matches!(p.strip, Choice::Undecided));
    if welded {
        found.push(("strip".to_owned(), None));
    }
    let nodes = |kind: NodeKind| {
        let open = move |n: &&crate::plan::Node| {
            n.kind == kind && n.with.is_none() && (matches!(n.part, Choice::Undecided) || is_placeholder(n))
        };
        plan.nodes.iter().filter(open).map(move |n| (n.id.clone(), Some(kind)))
    };
    found.extend(ORDER.into_iter().flat_map(nodes));
    if let Some(second) = &plan.feed.second {
        if second.guard.is_open() && second.each_guarded != Some(true) {
            found.push((SECOND_GUARD.to_owned(), Some(NodeKind::Board)));
        }
        if second.selector.is_open() {
            found.push((SELECTOR.to_owned(), Some(NodeKind::Switch)));
        }
    }
    let runs = plan.connections.iter().filter(|r| matches!(r.wire, Choice::Undecided));
    found.extend(runs.map(|r| (r.id.clone(), None)));
    found.extend(CHARGE.into_iter().flat_map(nodes));
    found
}

/// A converter of which only kind and set-point are decided stands for one still to be chosen.
fn is_placeholder(node: &crate::plan::Node) -> bool {
    let converts = node.module().and_then(|m| m.converts.as_ref());
    converts.is_some_and(|c| c.input_max_v.is_none() && c.output_a.is_none())
}

/// Whether a part may be taken at its place, whatever it brings.
fn suits(s: &Suggestion, place: &str, kind: Option<NodeKind>, of_this: &Catalogue, wishes: &Wishes) -> bool {
    let item = of_this.items.iter().find(|i| i.id == s.catalogue_id);
    let module = match item.map(|i| &i.part) {
        Some(ItemPart::Module { module }) => module,
        // Between two packs only what is known to leave one position before it makes the other.
        Some(ItemPart::Switch { switch }) => return place != SELECTOR || switch.break_before_make == Some(true),
        _ => return true,
    };
    // What is charged from USB has a module inside, fed from there.
    !(wishes.usb && kind == Some(NodeKind::Charger) && module.charges.as_ref().is_some_and(|c| c.own_supply))
}

fn first(plan: &Plan, severity: Severity) -> Option<Finding> {
    let now = assess_at_face_value(plan).ok()?;
    now.findings.into_iter().find(|f| f.severity == severity && f.accepted.is_none())
}
