//! A standby supply through the day: what feeds the device and what becomes of the battery while the mains is there, fails, is away and returns.

use serde::Serialize;
use utoipa::ToSchema;

use super::Workspace;
use super::figures::charging::{CHARGER_A, SUPPLY_W};
use super::figures::feed::{CHANGE_LOSS_V, DRAWS_A, FALL_V, GAP_S, HAS_F};
use super::figures::run::TIME_S;
use super::figures::voltage::FEED_V;
use crate::base::limit::above;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::plan::NodeKind;

/// One state of the mains.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MainsState {
    /// Which, in words.
    pub when: &'static str,
    /// What the device gets.
    pub device: Phrase,
    /// What becomes of the battery.
    pub battery: Phrase,
}

/// The four states in order; none where nothing changes over.
pub fn mains_states(workspace: &Workspace<'_>) -> Vec<MainsState> {
    let Some(change) = &workspace.plan.feed.change_over else { return vec![] };
    let l = &workspace.ledger;
    let charger = workspace.plan.module(NodeKind::Charger).map(|m| m.offer.name.as_str());
    let waits = match charger {
        Some(name) => Phrase::words(format!("kept full by “{name}”")),
        None => Phrase::words("nothing charges it"),
    };
    let waits = match change.coil_a.filter(|a| *a > 0.0) {
        Some(coil_a) => waits.text("; the relay's coil takes ").value(coil_a, Unit::A).text(" from it"),
        None => waits,
    };
    let loss_v = l.value(&CHANGE_LOSS_V).unwrap_or(0.0);
    let feeds = match l.value(&FEED_V) {
        Some(feed_v) => Phrase::words("the battery: ").value(feed_v - loss_v, Unit::V),
        None => Phrase::words("the battery"),
    };
    let runs = match l.value(&TIME_S) {
        Some(time_s) => Phrase::words("lasts ").value(time_s, Unit::S),
        None => Phrase::words("how long is not known yet"),
    };
    let returns = match l.value(&CHARGER_A) {
        Some(charge_a) => Phrase::words("charged with ").value(charge_a, Unit::A),
        None => Phrase::words("not charged"),
    };
    let returns = match l.value(&SUPPLY_W) {
        Some(w) => returns.text(": the supply gives ").value(w, Unit::W).text(" beside what the device takes"),
        None => returns,
    };
    vec![
        MainsState { when: "Mains in", device: Phrase::words("the mains side"), battery: waits },
        MainsState { when: "Mains fails", device: gap(workspace), battery: Phrase::words("takes over") },
        MainsState { when: "Mains out", device: feeds, battery: runs },
        MainsState { when: "Mains returns", device: gap(workspace), battery: returns },
    ]
}

/// What the device sees while its feed changes: nothing for a while, and how far a capacitor lets it fall. V = I t / C.
fn gap(workspace: &Workspace<'_>) -> Phrase {
    let l = &workspace.ledger;
    let gap_s = l.value(&GAP_S).unwrap_or(0.0);
    if gap_s <= 0.0 {
        return Phrase::words("no gap");
    }
    let told = Phrase::words("no feed for ").value(gap_s, Unit::S);
    let Some((has_f, draws_a)) = l.value(&HAS_F).zip(l.value(&DRAWS_A)) else {
        return told.text("; nothing bridges it, so it may start again");
    };
    let falls_v = draws_a * gap_s / has_f;
    let told = told.text("; its capacitor falls by ").value(falls_v, Unit::V);
    match l.value(&FALL_V) {
        Some(most_v) if above(falls_v, most_v) => told.text(", more than it tolerates, so it starts again"),
        Some(_) => told.text(", and it runs on"),
        None => told,
    }
}
