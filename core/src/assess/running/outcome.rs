//! Answers of a simulated run.

use serde::Serialize;
use utoipa::ToSchema;

use super::WhatIf;
use super::said::said;
use super::setup::{Detail, Pace, Setup};
use crate::assess::figures::voltage::CELL_FLOOR_V;
use crate::base::chemistry::OcvCurve;
use crate::physics::brick::label;
use crate::physics::run::{PackRun, PackTask, RunEvent, RunPoint, Through, simulate};

/// Points of a course on the screen, about.
const POINTS: usize = 300;

/// Something that happened, in words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ToldEvent {
    /// What.
    pub event: RunEvent,
    /// The same in words.
    pub says: String,
}

/// A group at the end of a run.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct GroupLeft {
    /// Its capacity.
    pub capacity_ah: f64,
    /// Its voltage when the run ended, under load.
    pub loaded_v: f64,
    /// What it comes back to at rest.
    pub rested_v: f64,
    /// State of charge left.
    pub soc: f64,
    /// Charge left.
    pub left_ah: f64,
}

/// A run and its answers.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunOutcome {
    /// What was different from the plan.
    pub what: WhatIf,
    /// How long it runs.
    pub time_s: f64,
    /// The same with every input at the end of its band that shortens it.
    pub low_s: f64,
    /// The same with those that lengthen it.
    pub high_s: f64,
    /// Who ended it.
    pub end: RunEvent,
    /// The same in words.
    pub says: String,
    /// What else happened, in the order of time.
    pub events: Vec<ToldEvent>,
    /// Charge out of the pack.
    pub taken_ah: f64,
    /// Energy out of the pack.
    pub pack_wh: f64,
    /// Energy into the device; behind a converter into that.
    pub feed_wh: f64,
    /// Energy into the device behind its converter; absent without one.
    pub output_wh: Option<f64>,
    /// Charge into the device behind its converter, at its set-point; absent without one.
    pub output_ah: Option<f64>,
    /// Heat of the cells.
    pub cells_wh: f64,
    /// Least voltage at the device; behind a converter at the input of that.
    pub least_v: f64,
    /// When that was.
    pub least_at_s: f64,
    /// Least voltage there if the largest level that comes now and then came at the worst time.
    pub peak_least_v: Option<f64>,
    /// From when on the pack cannot give such a level; absent where it always is.
    pub peak_borne_s: Option<f64>,
    /// Hottest cell.
    pub hottest_c: f64,
    /// Which: group and letter where cells are told apart.
    pub hottest: Option<String>,
    /// When.
    pub hottest_at_s: f64,
    /// How far the weakest group still was from the floor of its cells.
    pub above_floor_v: f64,
    /// Share of the charge that the pack still held.
    pub left_share: f64,
    /// Every group at the end.
    pub groups: Vec<GroupLeft>,
    /// The course.
    pub points: Vec<RunPoint>,
    /// Whether cells were told apart, through the strips.
    pub cell_by_cell: bool,
}

/// How much of a course is told.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Told {
    /// As many points as a chart shows.
    Chart,
    /// Every moment, in steps of a length of their own where one is asked for.
    EveryMoment {
        /// Length of a step.
        step_s: Option<f64>,
    },
}

/// Simulates a run and its band. `None` where the cells are not all joined.
pub fn outcome(setup: &Setup<'_, '_>, what: WhatIf, told: Told) -> Option<RunOutcome> {
    let detail = setup.detail();
    let task = setup.task(setup.as_believed(), detail, &Pace::FINE)?;
    let step_s = if let Told::EveryMoment { step_s } = told { step_s } else { None };
    let task = PackTask { step_s: step_s.unwrap_or(task.step_s), ..task };
    let run = simulate(&task)?;
    let ends: Vec<f64> = setup
        .ends_of_bands()
        .into_iter()
        .filter_map(|off| Some(simulate(&setup.task(off, Detail::Groups, &Pace::BAND)?)?.time_s))
        .collect();
    let in_words = |event: &RunEvent| ToldEvent { says: said(event, &task.limits), event: event.clone() };
    let end = run.events.iter().rev().find(|e| e.ends)?;
    let mut events: Vec<ToldEvent> = run.events.iter().filter(|e| !e.ends).map(in_words).collect();
    events.sort_by(|a, b| a.event.at_s.total_cmp(&b.event.at_s));
    let groups = groups(setup, &task, &run);
    let all_ah: f64 = groups.iter().map(|g| g.capacity_ah).sum();
    let cells_in_group = task.cells.len() / groups.len().max(1);
    let floor_v = setup.workspace.ledger.value(&CELL_FLOOR_V).unwrap_or(0.0);
    let name = |cell: usize| label(cell / cells_in_group, cell % cells_in_group);
    let output = match task.through {
        Through::Converter { output_v, efficiency, own_w } => {
            let wh = (run.feed_wh - own_w * run.time_s / 3600.0).max(0.0) * efficiency;
            Some((wh, wh / output_v))
        }
        Through::Straight => None,
    };
    Some(RunOutcome {
        what,
        time_s: run.time_s,
        low_s: ends.iter().copied().fold(run.time_s, f64::min),
        high_s: ends.iter().copied().fold(run.time_s, f64::max),
        end: end.clone(),
        says: said(end, &task.limits),
        events,
        taken_ah: run.taken_ah,
        pack_wh: run.pack_wh,
        feed_wh: run.feed_wh,
        output_wh: output.map(|(wh, _)| wh),
        output_ah: output.map(|(_, ah)| ah),
        cells_wh: run.cells_wh,
        least_v: if run.least_feed.value.is_finite() { run.least_feed.value } else { 0.0 },
        least_at_s: run.least_feed.at_s,
        peak_least_v: run.points.iter().filter_map(|m| m.peak_v).reduce(f64::min),
        peak_borne_s: run.peak_borne_s,
        hottest_c: run.hottest.value,
        hottest: (detail == Detail::Cells).then(|| name(run.hottest.place)),
        hottest_at_s: run.hottest.at_s,
        above_floor_v: run.weakest.value - floor_v,
        left_share: groups.iter().map(|g| g.left_ah).sum::<f64>() / all_ah,
        groups,
        points: match told {
            Told::EveryMoment { .. } => run.points,
            Told::Chart => thin(&run.points),
        },
        cell_by_cell: detail == Detail::Cells,
    })
}

fn groups(setup: &Setup<'_, '_>, task: &PackTask, run: &PackRun) -> Vec<GroupLeft> {
    let in_group = run.states.len() / run.group_v.len().max(1);
    let group = |(g, loaded_v): (usize, &f64)| {
        let cells = g * in_group..(g + 1) * in_group;
        let capacity_ah = setup.group_ah(g);
        let own_ah: f64 = cells.clone().map(|k| task.cells[k].capacity_ah).sum();
        let held_ah: f64 = cells.clone().map(|k| task.cells[k].capacity_ah * run.states[k].soc).sum();
        // Drawn further down than its curve goes, it is empty.
        let soc = (held_ah / own_ah).max(0.0);
        let curve: &OcvCurve = &task.cells[cells.start].curve;
        GroupLeft { capacity_ah, loaded_v: *loaded_v, rested_v: curve.extended_v(soc), soc, left_ah: soc * capacity_ah }
    };
    run.group_v.iter().enumerate().map(group).collect()
}

/// The lowest and the highest of each stretch of time, so that a load that comes and goes stays a band; and the ends.
fn thin(points: &[RunPoint]) -> Vec<RunPoint> {
    let stretch = 2 * (points.len() / POINTS).max(1);
    if stretch == 2 {
        return points.to_vec();
    }
    let mut kept: Vec<RunPoint> = points.first().copied().into_iter().collect();
    for part in points.chunks(stretch) {
        let by_volts = |a: &&RunPoint, b: &&RunPoint| a.feed_v.total_cmp(&b.feed_v);
        let ends = [part.iter().min_by(by_volts), part.iter().max_by(by_volts)];
        let mut ends: Vec<RunPoint> = ends.into_iter().flatten().copied().collect();
        ends.sort_by(|a, b| a.t_s.total_cmp(&b.t_s));
        kept.extend(ends);
    }
    kept.extend(points.last());
    kept.dedup_by(|a, b| a == b);
    kept
}
