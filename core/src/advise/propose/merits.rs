//! What a whole plan comes to, on the scales shared by all proposals.

use crate::advise::bill::bill;
use crate::assess::{Assessment, StartsAt, WhatIf, runs};
use crate::parts::catalogue::Catalogue;
use crate::plan::{Joining, Pack, Plan};

use super::Merits;

/// The merits of a plan; its run by the closed form, which a simulation takes the place of where it matters.
pub fn merits(plan: &Plan, assessment: &Assessment, catalogue: &Catalogue) -> Option<Merits> {
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let run = assessment.figure("run.time_s");
    let bill = bill(plan, catalogue).ok()?;
    let buying = || bill.lines.iter().filter(|l| l.to_buy > 0.0);
    let unpriced = buying().filter(|l| l.each_price.is_none()).count();
    let undated = buying().any(|l| l.arrives_days.is_none());
    let pack = plan.packs.first();
    let welded = |p: &&Pack| p.cell.part().is_some() && p.brick.joined_by != Some(Joining::Springs);
    let one = pack.filter(welded).and_then(|p| Some(p.series? * p.parallel?));
    // Further packs of cells are welded like the first.
    let alike = plan.feed.second.as_ref().filter(|s| s.ready.part().is_none()).map_or(0, |s| s.count.unwrap_or(1));
    Some(Merits {
        run_s: run.map(|f| f.value),
        run_low_s: run.and_then(|f| f.low),
        run_high_s: run.and_then(|f| f.high),
        mass_g: value("plate.mass_g").filter(|g| *g > 0.0),
        price: (unpriced == 0).then_some(bill.to_buy_price),
        unpriced,
        arrives_days: if bill.to_buy_lines == 0 { Some(0.0) } else { bill.arrives_days.filter(|_| !undated) },
        to_buy: bill.to_buy_lines,
        welded: one.unwrap_or(0) * (1 + alike),
        at_hand: bill.at_hand_share,
    })
}

/// The same with the run as it is simulated.
pub fn simulated(plan: &Plan, merits: Merits) -> Merits {
    let run = runs(plan, &[WhatIf::default()], StartsAt::Full, None).ok().and_then(|r| r.runs.into_iter().next());
    match run {
        Some(run) => {
            Merits { run_s: Some(run.time_s), run_low_s: Some(run.low_s), run_high_s: Some(run.high_s), ..merits }
        }
        None => merits,
    }
}
