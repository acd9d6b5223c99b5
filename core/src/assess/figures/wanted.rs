//! Every part of a plan that must be there, and how much of it.

use serde::Serialize;
use utoipa::ToSchema;

use super::laid::STRIPS_MM;
use crate::assess::workspace::Workspace;
use crate::base::quantity::{Unit, show};
use crate::plan::{Choice, EachCell, NodeKind, Offer, ReadyKind};

const MM_PER_M: f64 = 1000.0;

/// How a part is counted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CountedIn {
    /// One by one.
    Pieces,
    /// By the metre.
    Metres,
}

/// A part that must be there.
#[derive(Debug, Clone)]
pub(crate) struct Wanted {
    /// Name, price and arrival.
    pub offer: Offer,
    /// How many, or how many metres.
    pub count: f64,
    /// Pieces or metres.
    pub counted_in: CountedIn,
    /// What it is, or the node or run where it stands.
    pub place: String,
    /// Where price and mass are typed.
    pub offer_at: String,
    /// Whether it lies there already, where the plan says so.
    pub at_hand: Option<bool>,
}

/// Cells and strips, or the pack that comes as a whole, the chosen part of every node, the wire of every run, and what is used up; in the order of the work.
pub(crate) fn wanted(workspace: &Workspace<'_>) -> Vec<Wanted> {
    let part = |offer: &Offer, count, place: &str, offer_at: String| Wanted {
        offer: offer.clone(),
        count,
        counted_in: CountedIn::Pieces,
        place: place.to_owned(),
        offer_at,
        at_hand: None,
    };
    let by_metre = |wanted: Wanted| Wanted { counted_in: CountedIn::Metres, ..wanted };
    let mut parts = vec![];
    if let Some(ready) = workspace.ready() {
        // What stays in the device is not bought.
        let offer_at = || "/packs/0/ready/part/offer".to_owned();
        if !workspace.is_kept() {
            parts.push(part(&ready.offer, 1.0, "pack", offer_at()));
        }
        let alike = workspace.second_series() == workspace.pack.series;
        let second = workspace.plan.feed.second.as_ref().filter(|s| alike && s.ready.is_open());
        if let Some(second) = second {
            parts.push(part(&ready.offer, second.alike(), "second pack", offer_at()));
        }
    } else if let (Some(cell), Some((series, parallel))) = (workspace.cell(), workspace.counts()) {
        parts.push(part(&cell.offer, series * parallel, "cell", "/packs/0/cell/part/offer".to_owned()));
        if let Some(second) = workspace.plan.feed.second.as_ref().filter(|s| s.ready.is_open()) {
            // As the first, in its own count, where nothing else is stated.
            let count = second.alike() * second.series.map_or(series, f64::from) * parallel;
            parts.push(part(&cell.offer, count, "second pack", "/packs/0/cell/part/offer".to_owned()));
        }
    }
    if let (Some(strip), Some(series)) = (workspace.strip(), workspace.pack.series) {
        let counted_on_mm = f64::from((series + 1) * strip.side_by_side) * strip.length_mm;
        let one_layer_mm = workspace.ledger.value(&STRIPS_MM).unwrap_or(counted_on_mm);
        let metres = f64::from(strip.layers) * one_layer_mm / MM_PER_M;
        parts.push(by_metre(part(&strip.offer, metres, "strip", "/packs/0/strip/part/offer".to_owned())));
    }
    let second = workspace.plan.feed.second.as_ref();
    let alike = second.map_or(0.0, |s| s.alike());
    if let Some(ready) = second.and_then(|s| s.ready.part()).filter(|ready| ready.kind != ReadyKind::Kept) {
        parts.push(part(&ready.offer, alike, "second pack", "/feed/second/ready/part/offer".to_owned()));
    }
    if let Some(guard) = second.and_then(|s| s.guard()) {
        let offer_at = "/feed/second/guard/part/module/offer".to_owned();
        parts.push(part(&guard.offer, alike, "protection of the second pack", offer_at));
    }
    if let Some(selector) = second.and_then(|s| s.selector()) {
        let offer_at = "/feed/second/selector/part/switch/offer".to_owned();
        parts.push(part(&selector.offer, 1.0, "switch of the two packs", offer_at));
    }
    // Said to be guarded, and not with what: with a board like that of the first.
    let second_alike = second.is_some_and(|s| s.guard.is_open() && s.each_guarded == Some(true));
    for (i, node) in workspace.plan.nodes.iter().enumerate() {
        if let Choice::Chosen { part: chosen } = &node.part
            && !workspace.plan.is_seen_before(i)
        {
            let offer_at = format!("/nodes/{i}/part/part/{}/offer", chosen.kind());
            parts.push(part(chosen.offer(), 1.0, &node.id, offer_at.clone()));
            if second_alike && node.kind == NodeKind::Board {
                parts.push(part(chosen.offer(), alike, "protection of the second pack", offer_at));
            }
        }
    }
    for (i, run) in workspace.plan.connections.iter().enumerate() {
        if let (Some(wire), Some(length_mm)) = (run.wire.part(), run.length_mm) {
            let offer_at = format!("/runs/{i}/wire/part/offer");
            parts.push(by_metre(part(&wire.offer, 2.0 * length_mm / MM_PER_M, &run.id, offer_at)));
        }
    }
    for (i, consumer) in workspace.plan.feed.beside.iter().enumerate().filter(|(_, b)| b.own_v.is_some()) {
        let own_v = consumer.own_v.map(|v| show(v, Unit::V)).unwrap_or_default();
        let offer = Offer { name: format!("{own_v} regulator of “{}”", consumer.name), ..Offer::default() };
        parts.push(part(&offer, 1.0, "consumer", format!("/feed/beside/{i}")));
    }
    if let Some((holder, slots)) = workspace.plan.feed.holder.as_ref().zip(workspace.pack.parallel) {
        let named = |name: &str| Offer { name: name.to_owned(), ..Offer::default() };
        let mut each =
            |name: &str| parts.push(part(&named(name), f64::from(slots), "holder", "/feed/holder".to_owned()));
        each("cell holder");
        match holder.each {
            Some(EachCell::Fuse) => each("fuse of one cell"),
            Some(EachCell::IdealDiode) => each("ideal diode of one cell"),
            Some(EachCell::Nothing) | None => {}
        }
    }
    for (i, extra) in workspace.plan.buying.extras.iter().enumerate() {
        let offer = Offer { name: extra.name.clone(), price: extra.price, ..Offer::default() };
        let used_up = part(&offer, extra.count, "used up", format!("/buying/extras/{i}"));
        parts.push(Wanted { at_hand: extra.at_hand, ..used_up });
    }
    parts
}
