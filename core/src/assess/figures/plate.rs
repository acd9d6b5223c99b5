//! What stands on the type plate besides the stages' own figures: mass, price, arrival, weakest link.

use super::figures;
use super::laid::{STRIPS_G, STRIPS_MM};
use super::path::LINK_A;
use crate::assess::bench::Bench;
use crate::assess::ledger::{Input, fig, fig_at, from_plan};
use crate::plan::{Choice, Offer};
use crate::quantity::Unit;

figures! {
    MASS_G = "plate.mass_g", "Mass of the cells and all parts that state one", G, "Σ count × mass of one; strips as cut, once laid out", Arithmetic;
    COST = "plate.cost", "Price of all parts that state one", Money, "Σ count × price of one; wire and strip by the metre", Arithmetic;
    DAYS = "plate.days", "Days until the last part is there", Days, "largest of the stated arrivals", Arithmetic;
    UNPRICED = "plate.unpriced", "Parts without a price", Count, "count of the parts that state none", Arithmetic;
    WEAKEST_A = "plate.weakest_a", "Limit of the weakest link", A, "continuous limit of the link of largest demand against limit", Arithmetic;
}

/// A part that must be there, and how many or how many metres of it.
struct Wanted<'a> {
    offer: &'a Offer,
    count: f64,
    pointer: String,
}

/// Enters the plate's figures; `weakest` is the id of the weakest link.
pub fn enter(bench: &mut Bench<'_>, weakest: Option<&str>) {
    let parts = wanted(bench);
    let stated = |of: fn(&Offer) -> Option<f64>| -> Vec<(&Wanted<'_>, f64)> {
        parts.iter().filter_map(|w| Some((w, of(w.offer)?))).collect()
    };
    let inputs = |found: &[(&Wanted<'_>, f64)], field: &str, label: &'static str, unit: Unit| -> Vec<Input> {
        let input = |(w, value): &(&Wanted<'_>, f64)| {
            from_plan(format!("{}/offer/{field}", w.pointer), label, *value, unit).about(&w.offer.name, w.count)
        };
        found.iter().map(input).collect()
    };
    let (masses, prices, arrivals) = (stated(|o| o.mass_g), stated(|o| o.price), stated(|o| o.arrives_days));
    let sum = |found: &[(&Wanted<'_>, f64)]| found.iter().map(|(w, each)| w.count * each).sum::<f64>();
    let l = &mut bench.ledger;
    if !masses.is_empty() {
        let mut rests_on = inputs(&masses, "mass_g", "Mass", Unit::G);
        // A strip whose mass nobody states has the mass of its metal.
        let unstated = l.value(&STRIPS_G).filter(|_| bench.pack.strip.part().is_some_and(|s| s.offer.mass_g.is_none()));
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

/// Every chosen part of the plan.
fn wanted<'a>(bench: &Bench<'a>) -> Vec<Wanted<'a>> {
    const MM_PER_M: f64 = 1000.0;
    let mut parts = vec![];
    if let (Some(cell), Some((series, parallel))) = (bench.cell(), bench.counts()) {
        parts.push(Wanted { offer: &cell.offer, count: series * parallel, pointer: "/packs/0/cell/part".to_owned() });
    }
    if let (Some(strip), Some(series)) = (bench.strip(), bench.pack.series) {
        let counted_on_mm = f64::from((series + 1) * strip.side_by_side) * strip.length_mm;
        let one_layer_mm = bench.ledger.value(&STRIPS_MM).unwrap_or(counted_on_mm);
        let count = f64::from(strip.layers) * one_layer_mm / MM_PER_M;
        parts.push(Wanted { offer: &strip.offer, count, pointer: "/packs/0/strip/part".to_owned() });
    }
    for (i, node) in bench.plan.nodes.iter().enumerate() {
        let Choice::Chosen { part } = &node.part else {
            continue;
        };
        parts.push(Wanted {
            offer: part.offer(),
            count: 1.0,
            pointer: format!("/nodes/{i}/part/part/{}", part.kind()),
        });
    }
    for (i, run) in bench.plan.runs.iter().enumerate() {
        if let (Some(wire), Some(length_mm)) = (run.wire.part(), run.length_mm) {
            let count = 2.0 * length_mm / MM_PER_M;
            parts.push(Wanted { offer: &wire.offer, count, pointer: format!("/runs/{i}/wire/part") });
        }
    }
    parts
}
