//! What stands on the type plate besides the stages' own figures: mass, price, arrival, weakest link.

use super::figures;
use super::laid::STRIPS_G;
use super::path::LINK_A;
use super::wanted::{Wanted, wanted};
use crate::assess::ledger::{Input, fig, fig_at, from_plan};
use crate::assess::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::plan::{NodeKind, Offer, Plan};

figures! {
    MASS_G = "plate.mass_g", "Mass of the pack: cells and all parts on it that state one", G, "Σ count × mass of one; strips as cut, once laid out", Arithmetic;
    COST = "plate.cost", "Price of all parts that state one", Money, "Σ count × price of one; wire and strip by the metre", Arithmetic;
    DAYS = "plate.days", "Days until the last part is there", Days, "largest of the stated arrivals", Arithmetic;
    UNPRICED = "plate.unpriced", "Parts without a price", Count, "count of the parts that state none", Arithmetic;
    WEAKEST_A = "plate.weakest_a", "Limit of the weakest link", A, "continuous limit of the link of largest demand against limit", Arithmetic;
}

/// Enters the plate's figures; `weakest` is the id of the weakest link.
pub fn enter(workspace: &mut Workspace<'_>, weakest: Option<&str>) {
    let parts = wanted(workspace);
    let stated = |of: fn(&Offer) -> Option<f64>| -> Vec<(&Wanted, f64)> {
        parts.iter().filter_map(|w| Some((w, of(&w.offer)?))).collect()
    };
    let inputs = |found: &[(&Wanted, f64)], field: &str, label: &'static str, unit: Unit| -> Vec<Input> {
        let input = |(w, value): &(&Wanted, f64)| {
            from_plan(format!("{}/{field}", w.offer_at), label, *value, unit).about(&w.offer.name, w.count)
        };
        found.iter().map(input).collect()
    };
    let (mut masses, prices, arrivals) = (stated(|o| o.mass_g), stated(|o| o.price), stated(|o| o.arrives_days));
    // What stays on the wall is not carried; without the cells a mass says nothing.
    masses.retain(|(w, _)| !stays_behind(workspace.plan, &w.place));
    let weighed = masses.iter().any(|(w, _)| ["cell", "pack"].contains(&w.place.as_str()));
    let sum = |found: &[(&Wanted, f64)]| found.iter().map(|(w, each)| w.count * each).sum::<f64>();
    let l = &mut workspace.ledger;
    if weighed {
        let mut rests_on = inputs(&masses, "mass_g", "Mass", Unit::G);
        // A strip whose mass nobody states has the mass of its metal.
        let unstated = l.value(&STRIPS_G).filter(|_| workspace.pack.strip().is_some_and(|s| s.offer.mass_g.is_none()));
        rests_on.extend(unstated.map(|_| fig(&STRIPS_G)));
        l.put(&MASS_G, sum(&masses) + unstated.unwrap_or(0.0), rests_on);
    }
    if !prices.is_empty() {
        l.put(&COST, sum(&prices), inputs(&prices, "price", "Price", Unit::Money));
        l.put(&UNPRICED, (parts.len() - prices.len()) as f64, vec![]);
    }
    if let Some(days) = arrivals.iter().map(|(_, days)| *days).reduce(f64::max) {
        l.put(&DAYS, days, inputs(&arrivals, "arrives_days", "Arrives in", Unit::Days));
    }
    if let Some(id) = weakest
        && let Some(limit_a) = l.value_at(&LINK_A, id)
    {
        l.put(&WEAKEST_A, limit_a, vec![fig_at(&LINK_A, id)]);
    }
}

/// Whether a part is no part of the finished device: a wall charger, a hobby charger, a supply.
fn stays_behind(plan: &Plan, place: &str) -> bool {
    let Some(node) = plan.node(place) else { return false };
    let charges = node.module().and_then(|m| m.charges.as_ref());
    node.kind == NodeKind::Supply
        || node.kind == NodeKind::Charger && charges.is_some_and(|c| c.own_supply || c.balance_a.is_some())
}
