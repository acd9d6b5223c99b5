//! Parts of the catalogue for one place of the plan, best first, each misfit with its reason.

use std::collections::HashSet;

use serde::Serialize;
use utoipa::ToSchema;

use super::merits::merits;
use crate::assess::{Assessment, Finding, Severity, Stage, assess_at_face_value};
use crate::base::phrase::Phrase;
use crate::parts::catalogue::{Catalogue, Item, ItemPart};
use crate::physics::cells::{Decided, parallel_count};
use crate::plan::fields::PartKind;
use crate::plan::{
    Change, Charger, ChargesAs, Choice, FieldError, How, Known, Module, NodeKind, Offer, Part, Plan, apply,
};

/// A part for one place of the plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Suggestion {
    /// Id in the catalogue.
    pub catalogue_id: String,
    /// Its name, price and arrival.
    pub offer: Offer,
    /// How bad what it brings is; absent is fine.
    pub worst: Option<Severity>,
    /// What it brings: titles of the findings that come with it.
    pub reasons: Vec<Phrase>,
    /// What speaks for it, in figures; and what its seller does not state.
    pub merits: Vec<Phrase>,
    /// Pieces at hand.
    pub at_hand: Option<u32>,
    /// For a cell: how many in parallel, and what decided that.
    pub parallel: Option<Phrase>,
    /// Whether the plan has it now.
    pub chosen: bool,
    /// The changes to the plan that choose it.
    pub changes: Vec<Change>,
}

/// The place of the second pack's own board or cut-off.
pub const SECOND_GUARD: &str = "second-guard";
/// The place of the second pack itself, where it is taken as a whole.
pub const SECOND_PACK: &str = "second-pack";
/// Id of the charger that a ready pack comes with, among those of the catalogue.
const OWN_CHARGER: &str = "own-charger";
/// The place of the switch that changes the positions of two packs.
pub const SELECTOR: &str = "selector";

/// Suggests parts for a place: `cell`, `ready`, `strip`, `second-pack`, `second-guard`, `selector`, a node's id or a run's id.
///
/// Each part is tried in the plan; what it brings is the findings that are not there while the place is open. Order:
/// no finding before note, caution, stop; less overload; fewer findings; at hand before to buy; cheaper. An unknown place is refused.
pub fn suggest(plan: &Plan, catalogue: &Catalogue, place: &str) -> Result<Vec<Suggestion>, Vec<FieldError>> {
    plan.check()?;
    let Some(pointer) = place_pointer(plan, place) else {
        return Err(vec![FieldError {
            field: "/place".to_owned(),
            message: format!(
                "no place “{place}” in this plan; use cell, ready, strip, second-pack, second-guard, selector, or the id of a node or run"
            ),
        }]);
    };
    let without = assess_with(plan, &[Change::put(&pointer, Choice::<()>::Undecided)])?;
    let known: HashSet<&str> = without.findings.iter().map(|f| f.key.as_str()).collect();
    let now = plan_id(plan, &pointer);
    let (stage, link) = stage_and_link(plan, place);
    let mut found = vec![];
    let own = own_charger(plan);
    for item in own.iter().chain(&catalogue.items) {
        let Some(mut changes) = place_item(plan, item, place, &pointer) else {
            continue;
        };
        let mut trial = assess_with(plan, &changes)?;
        let mut parallel = None;
        if let ItemPart::Cell { .. } = item.part
            && let Some(count) = trial.figure("cells.proposed").map(|f| f.value as u32)
        {
            changes.push(Change::put("/packs/0/parallel", count.clamp(1, 40)));
            trial = assess_with(plan, &changes).or_else(|_| assess_with(plan, &changes[..1]))?;
            parallel = Some(parallel_reason(&trial, count));
        }
        let worth_telling = |f: &&Finding| f.severity > Severity::Note || f.stage == stage;
        let brought: Vec<_> =
            trial.findings.iter().filter(|f| !known.contains(f.key.as_str())).filter(worth_telling).collect();
        let overload =
            trial.path.links.iter().find(|l| l.id == link).and_then(|l| l.used).map_or(0.0, |u| (u - 1.0).max(0.0));
        let suggestion = Suggestion {
            catalogue_id: item.id.clone(),
            offer: item.offer().clone(),
            worst: brought.iter().map(|f| f.severity).max(),
            reasons: brought.iter().map(|f| f.title.clone()).collect(),
            merits: merits(&item.part, &trial),
            at_hand: item.at_hand,
            parallel,
            chosen: now.as_deref() == Some(&item.id),
            changes,
        };
        found.push((overload, suggestion));
    }
    found.sort_by(|(a_over, a), (b_over, b)| {
        let days = |s: &Suggestion| match s.at_hand {
            Some(pieces) if pieces > 0 => 0.0,
            _ => s.offer.arrives_days.unwrap_or(f64::MAX),
        };
        let price = |s: &Suggestion| s.offer.price.unwrap_or(f64::MAX);
        a.worst
            .cmp(&b.worst)
            .then(a_over.total_cmp(b_over))
            .then(a.reasons.len().cmp(&b.reasons.len()))
            .then((days(a) > 0.0).cmp(&(days(b) > 0.0)))
            .then(price(a).total_cmp(&price(b)))
    });
    Ok(found.into_iter().map(|(_, suggestion)| suggestion).collect())
}

/// The charger that a ready pack comes with: what it does is assumed until it is read.
fn own_charger(plan: &Plan) -> Option<Item> {
    let ready = plan.main_pack()?.ready.part().filter(|ready| ready.own_charger == Some(true))?;
    let full_v = ready.chemistry.facts().full_v * f64::from(ready.series);
    let output_v = Known { value: full_v, how: How::Assumed, error: None, meter: None };
    let charges = Charger { own_supply: true, ..Charger::of(ChargesAs::CcCv, output_v, ready.charge_a) };
    let offer = Offer {
        catalogue_id: Some(OWN_CHARGER.to_owned()),
        name: format!("charger of “{}”", ready.offer.name),
        price: Some(0.0),
        arrives_days: ready.offer.arrives_days,
        ..Offer::default()
    };
    let module = Module { offer, charges: Some(charges), ..Module::default() };
    Some(Item {
        id: OWN_CHARGER.to_owned(),
        part: ItemPart::Module { module: Box::new(module) },
        at_hand: None,
        note: String::new(),
    })
}

/// The stage that decides a place, and the link of the path that stands for it.
fn stage_and_link<'p>(plan: &Plan, place: &'p str) -> (Stage, &'p str) {
    match place {
        "cell" => (Stage::Cells, "cells"),
        "ready" => (Stage::Cells, "cells"),
        "strip" => (Stage::Brick, "strips"),
        SECOND_PACK | SECOND_GUARD | SELECTOR => (Stage::Voltage, place),
        _ => match plan.node(place).map(|n| n.kind) {
            Some(NodeKind::Board | NodeKind::Fuse | NodeKind::CutOff | NodeKind::Alarm) => (Stage::Protection, place),
            Some(NodeKind::Converter) => (Stage::Voltage, place),
            Some(NodeKind::Charger | NodeKind::Supply | NodeKind::Jack) => (Stage::Charging, place),
            _ => (Stage::Wiring, place),
        },
    }
}

fn assess_with(plan: &Plan, changes: &[Change]) -> Result<Assessment, Vec<FieldError>> {
    let trial =
        apply(plan, changes).map_err(|e| vec![FieldError { field: "/place".to_owned(), message: e.to_string() }])?;
    assess_at_face_value(&trial)
}

/// JSON pointer of the choice at a place: `cell`, `ready`, `strip`, `second-pack`, `second-guard`, `selector`, a node's id or a run's id.
pub fn place_pointer(plan: &Plan, place: &str) -> Option<String> {
    match place {
        "cell" => Some("/packs/0/cell".to_owned()),
        "ready" => Some("/packs/0/ready".to_owned()),
        "strip" => Some("/packs/0/strip".to_owned()),
        SECOND_PACK if plan.feed.second.is_some() => Some("/feed/second/ready".to_owned()),
        SECOND_GUARD if plan.feed.second.is_some() => Some("/feed/second/guard".to_owned()),
        SELECTOR if plan.feed.second.is_some() => Some("/feed/second/selector".to_owned()),
        _ => {
            let node = plan.nodes.iter().position(|n| n.id == place);
            let run = plan.connections.iter().position(|r| r.id == place);
            node.map(|i| format!("/nodes/{i}/part")).or(run.map(|i| format!("/runs/{i}/wire")))
        }
    }
}

/// Catalogue id of what stands at the place now.
fn plan_id(plan: &Plan, pointer: &str) -> Option<String> {
    let document = serde_json::to_value(plan).ok()?;
    let part = document.pointer(pointer)?.get("part")?;
    // Node parts hold theirs one level deeper than cells, strips and wires.
    let offer = part.get("offer").or_else(|| part.as_object()?.values().find_map(|v| v.get("offer")))?;
    offer.get("catalogue_id")?.as_str().map(str::to_owned)
}

/// The change that puts an item at a place, if it belongs there.
fn place_item(plan: &Plan, item: &Item, place: &str, pointer: &str) -> Option<Vec<Change>> {
    let kind = plan.node(place).map(|n| n.kind);
    let node_part = |part: Part| Some(vec![Change::put(pointer, Choice::chosen(part))]);
    match (&item.part, kind) {
        (ItemPart::Cell { cell }, None) if place == "cell" => {
            let fits = plan.main_pack()?.chemistry.is_none_or(|c| c == cell.chemistry);
            fits.then(|| vec![Change::put(pointer, Choice::chosen(cell))])
        }
        (ItemPart::Pack { pack }, None) if place == "ready" || place == SECOND_PACK => {
            Some(vec![Change::put(pointer, Choice::chosen(pack))])
        }
        (ItemPart::Strip { strip }, None) if place == "strip" => {
            let side_by_side = plan.main_pack()?.parallel.unwrap_or(1);
            let strip = crate::plan::Strip { side_by_side, ..strip.clone() };
            Some(vec![Change::put(pointer, Choice::chosen(strip))])
        }
        (ItemPart::Wire { wire }, None) if plan.connections.iter().any(|r| r.id == place) => {
            Some(vec![Change::put(pointer, Choice::chosen(wire))])
        }
        (ItemPart::Module { module }, None)
            if place == SECOND_GUARD
                && [PartKind::Board, PartKind::CutOff].iter().any(|kind| kind.is_done_by(module)) =>
        {
            node_part(Part::Module { module: module.clone() })
        }
        (ItemPart::Module { module }, Some(kind)) if PartKind::at(kind).is_some_and(|k| k.is_done_by(module)) => {
            Some(in_all_its_places(plan, &set_as_planned(plan, module), place, pointer))
        }
        (ItemPart::Fuse { fuse }, Some(NodeKind::Fuse)) => node_part(Part::Fuse { fuse: fuse.clone() }),
        (ItemPart::Switch { switch }, None) if place == SELECTOR => node_part(Part::Switch { switch: switch.clone() }),
        (ItemPart::Switch { switch }, Some(NodeKind::Switch)) => node_part(Part::Switch { switch: switch.clone() }),
        // What is made for a wall is no plug on a lead, and the other way round.
        (ItemPart::Connector { connector }, Some(kind @ (NodeKind::Connector | NodeKind::Jack))) => {
            let fits = connector.wall_socket.is_none_or(|socket| socket == (kind == NodeKind::Jack));
            fits.then(|| node_part(Part::Connector { connector: connector.clone() }))?
        }
        _ => None,
    }
}

/// A converter that can be set, set to what the plan's converter is to give, where it reaches that; any other module as it is.
fn set_as_planned(plan: &Plan, module: &Module) -> Module {
    let mut set = module.clone();
    let planned_v = plan.module(NodeKind::Converter).and_then(|m| m.converts.as_ref()).map(|c| c.output_v);
    if let (Some(converts), Some(v)) = (set.converts.as_mut(), planned_v)
        && let (Some(least_v), Some(most_v)) = (converts.output_min_v, converts.output_max_v)
        && (least_v..=most_v).contains(&v)
    {
        converts.output_v = v;
    }
    set
}

/// A module at a place, and at every other place that it serves, too, as far as nothing else stands there: it is taken once.
fn in_all_its_places(plan: &Plan, module: &Module, place: &str, pointer: &str) -> Vec<Change> {
    let part = Part::Module { module: Box::new(module.clone()) };
    let mut changes = vec![Change::put(pointer, Choice::chosen(part))];
    for (i, node) in plan.nodes.iter().enumerate() {
        let serves = PartKind::at(node.kind).is_some_and(|kind| kind.is_done_by(module));
        // Where it was a place's own thing before, it now is this one's.
        let same = node.module().is_some_and(|now| now.offer.catalogue_id == module.offer.catalogue_id);
        if node.id == place {
            changes.push(Change::put(format!("/nodes/{i}/with"), None::<String>));
        } else if serves && (node.part.part().is_none() || same) {
            changes.push(Change::put(format!("/nodes/{i}/with"), place));
        } else if node.with.as_deref() == Some(place) {
            // What the former part did here, this one does not.
            changes.push(Change::put(format!("/nodes/{i}/with"), None::<String>));
            changes.push(Change::put(format!("/nodes/{i}/part"), Choice::<Part>::Undecided));
        }
    }
    changes
}

fn parallel_reason(trial: &Assessment, count: u32) -> Phrase {
    let value = |id: &str| trial.figure(id).map(|f| f.value);
    let decided = parallel_count(value("cells.for_run"), value("cells.for_current"));
    let why = decided.map_or(Decided::Neither, |(_, decided)| decided).why();
    Phrase::words(format!("{count} in parallel: {why}"))
}
