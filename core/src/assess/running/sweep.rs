//! Many runs at once: one or two things turned from one end to the other, as a map.

use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::setup::{Detail, Pace, Setup};
use super::{Recorded, StartsAt, Turned, WhatIf, check, missing, range};
use crate::assess::figures::load::CONTINUOUS_A;
use crate::assess::fill as filled;
use crate::physics::run::{Who, simulate};
use crate::plan::{FieldError, Plan, Position};

/// Most stops of an axis.
const MOST_STOPS: u32 = 24;

/// One thing that is turned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SweepAxis {
    /// What.
    pub turned: Turned,
    /// First stop.
    pub from: f64,
    /// Last stop.
    pub to: f64,
    /// How many stops.
    pub stops: u32,
}

/// What is swept: one axis or two.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sweep {
    /// Across.
    pub across: SweepAxis,
    /// Up, if two are turned.
    #[serde(default)]
    pub up: Option<SweepAxis>,
    /// What else is different from the plan.
    #[serde(default)]
    pub what: WhatIf,
}

/// One run of a sweep.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct SweptCell {
    /// How long it runs.
    pub time_s: f64,
    /// Energy into the device or its converter.
    pub feed_wh: f64,
    /// Hottest cell.
    pub hottest_c: f64,
    /// Least voltage at the device or its converter.
    pub least_v: f64,
    /// Who ended it.
    pub who: Who,
}

/// A map of runs.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Swept {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// Stops across.
    pub across: Vec<f64>,
    /// Stops up; one without a second axis.
    pub up: Vec<f64>,
    /// Row by row from the lowest stop, each from the first stop across; absent where it cannot be calculated.
    pub cells: Vec<Option<SweptCell>>,
}

/// Simulates a plan at every stop, under its surveyed load or a recorded one. Groups stand as one cell each.
pub fn sweep(plan: &Plan, sweep: &Sweep, recorded: Recorded<'_>) -> Result<Swept, Vec<FieldError>> {
    plan.check()?;
    check(plan, std::slice::from_ref(&sweep.what))?;
    check_axes(plan, sweep)?;
    let workspace = filled(plan, None)?;
    if let Some(words) = missing(&workspace, recorded) {
        return Ok(Swept { missing: Some(words.to_owned()), ..Swept::default() });
    }
    let (across, up) = (stops(&sweep.across), sweep.up.as_ref().map_or_else(|| vec![f64::NAN], stops));
    let at = |(y, x): (f64, f64)| {
        let what = sweep.what.with(sweep.across.turned, x);
        sweep.up.map_or(what, |axis| what.with(axis.turned, y))
    };
    let places: Vec<(f64, f64)> = up.iter().flat_map(|&y| across.iter().map(move |&x| (y, x))).collect();
    let cells = places.into_par_iter().map(|place| one(plan, &at(place), recorded)).collect();
    let up = if sweep.up.is_some() { up } else { vec![0.0] };
    Ok(Swept { missing: None, across, up, cells })
}

/// The run with so many cells in their holders.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct CountRun {
    /// Cells side by side.
    pub cells: u32,
    /// How long; absent where the load collapses at once, or cannot be followed.
    pub time_s: Option<f64>,
    /// Continuous current per cell.
    pub each_a: Option<f64>,
}

/// Most counts that are gone through.
const MOST_COUNTS: u32 = 12;

/// One run for each number of cells that the holders of a plan may have in.
pub(super) fn by_count(plan: &Plan, recorded: Recorded<'_>) -> Vec<CountRun> {
    let Some((holder, most)) = plan.feed.holder.as_ref().zip(plan.main_pack().and_then(|pack| pack.parallel)) else {
        return vec![];
    };
    let each_a = |cells: u32| {
        let what = WhatIf { parallel: Some(cells), ..WhatIf::default() };
        let varied = what.of(plan);
        let continuous_a = filled(&varied, None).ok()?.ledger.value(&CONTINUOUS_A)?;
        Some(continuous_a / f64::from(cells))
    };
    let counts: Vec<u32> = (holder.fewest.max(1)..=most).take(MOST_COUNTS as usize).collect();
    let run = |cells: u32| {
        let swept = one(plan, &WhatIf { parallel: Some(cells), ..WhatIf::default() }, recorded);
        CountRun { cells, time_s: swept.map(|s| s.time_s), each_a: each_a(cells) }
    };
    counts.into_par_iter().map(run).collect()
}

/// The run in one position of two packs.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PositionRun {
    /// Which packs feed the device, in words.
    pub position: &'static str,
    /// How it goes; absent where the load collapses at once, or too little is known.
    pub run: Option<SweptCell>,
}

/// One run for each position that a plan with two packs is used in; none where that is one.
pub(super) fn by_position(plan: &Plan, recorded: Recorded<'_>) -> Vec<PositionRun> {
    let positions = plan.positions();
    if positions.len() < 2 {
        return vec![];
    }
    let run = |position: Position| {
        let placed = plan.in_position(position);
        let run = placed.and_then(|plan| one(&plan, &WhatIf::default(), recorded));
        PositionRun { position: position.words(), run }
    };
    positions.into_par_iter().map(run).collect()
}

fn one(plan: &Plan, what: &WhatIf, recorded: Recorded<'_>) -> Option<SweptCell> {
    let varied = what.of(plan);
    let workspace = filled(&varied, None).ok()?;
    let setup = Setup::of(&workspace, what, StartsAt::Full, recorded)?;
    let run = simulate(&setup.task(setup.as_believed(), Detail::Groups, &Pace::MAP)?)?;
    let least_v = Some(run.least_feed.value).filter(|v| v.is_finite()).unwrap_or(0.0);
    // One that was not followed to its end says nothing.
    let who = run.events.iter().rev().find(|e| e.ends)?.who;
    let who = Some(who).filter(|w| *w != Who::Steps)?;
    Some(SweptCell { time_s: run.time_s, feed_wh: run.feed_wh, hottest_c: run.hottest.value, least_v, who })
}

fn stops(axis: &SweepAxis) -> Vec<f64> {
    let last = f64::from(axis.stops.max(2) - 1);
    let stops = (0..axis.stops).map(|i| axis.from + (axis.to - axis.from) * f64::from(i) / last);
    let whole = match axis.turned {
        Turned::Parallel | Turned::Ambient => 1.0,
        Turned::Cutoff | Turned::Load => 0.05,
        Turned::Charge => 0.01,
    };
    let mut stops: Vec<f64> = stops.map(|v| (v / whole).round() * whole).collect();
    stops.dedup();
    stops
}

fn check_axes(plan: &Plan, sweep: &Sweep) -> Result<(), Vec<FieldError>> {
    use crate::base::limit::{above, below};
    use crate::base::quantity::show;
    let mut errors = vec![];
    let mut tell = |field: String, message: String| errors.push(FieldError { field, message });
    for (name, axis) in [("across", Some(sweep.across)), ("up", sweep.up)] {
        let Some(axis) = axis else { continue };
        let (min, max, unit) = range(axis.turned, plan);
        for (end, value) in [("from", axis.from), ("to", axis.to)] {
            if !value.is_finite() || below(value, min) || above(value, max) {
                let (value, low, high) = (show(value, unit), show(min, unit), show(max, unit));
                tell(format!("/{name}/{end}"), format!("{value} is outside {low} to {high}"));
            }
        }
        if !(2..=MOST_STOPS).contains(&axis.stops) {
            tell(format!("/{name}/stops"), format!("{} stops: 2 to {MOST_STOPS}", axis.stops));
        }
    }
    if sweep.up.is_some_and(|up| up.turned == sweep.across.turned) {
        tell("/up/turned".to_owned(), "the second axis turns something else than the first".to_owned());
    }
    if errors.is_empty() { Ok(()) } else { Err(errors) }
}
