//! The first charge under watch: what is predicted beside what was logged.

use serde::Serialize;
use utoipa::ToSchema;

use super::charge_line::ChargeLine;
use super::charge_log::{EndedBy, LOGGED, ended_by, stop_at_once};
use super::event::{BuildEvent, What, logged};
use super::predict::as_read;
use super::step::BuildSheet;
use crate::assess::{FillsFrom, WhatIf, fills};
use crate::plan::{FieldError, Plan};

/// One moment of the predicted charge.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ChargeMoment {
    /// Since the charger was connected; below zero for what the pack had in it already.
    pub t_s: f64,
    /// At the cells.
    pub pack_v: f64,
    /// Into the pack.
    pub current_a: f64,
}

/// The first charge, as predicted and as it was logged.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChargeWatch {
    /// Why nothing is predicted.
    pub missing: Option<String>,
    /// The predicted course, laid so that it begins where the log does.
    pub predicted: Vec<ChargeMoment>,
    /// When it should be full, counted from the start of the log.
    pub full_s: Option<f64>,
    /// How far apart the groups are predicted to be at the end.
    pub apart_after_v: Option<f64>,
    /// What was logged, in the order of time.
    pub lines: Vec<ChargeLine>,
    /// When the newest line was written, RFC 3339.
    pub written_at: Option<String>,
    /// Charge that went in, from the currents that were logged.
    pub charged_ah: f64,
    /// Who ended it; none while it goes on.
    pub ended: Option<EndedBy>,
    /// That in words; what to do next while it goes on.
    pub says: String,
    /// What means to stop at once, as in the last line.
    pub stop: Vec<String>,
}

/// The first charge of a build. Refuses a plan that cannot stand.
pub fn charge_watch(
    plan: &Plan,
    sheet: &BuildSheet,
    events: &[BuildEvent],
) -> Result<Option<ChargeWatch>, Vec<FieldError>> {
    let Some(limits) = sheet.step(LOGGED).and_then(|step| step.logs.as_ref()) else { return Ok(None) };
    let lines = logged(events, LOGGED);
    let (from, plan) = match as_read(plan, events) {
        Some(read) => (FillsFrom::AsRead, read),
        None => (FillsFrom::Empty, plan.clone()),
    };
    let filled = fills(&plan, &WhatIf::default(), from)?;
    // A pack that was half full begins half-way: the course is laid on the first volts that were read.
    let first = lines.iter().find_map(|l| Some((l.after_s, l.pack_v?)));
    let begins_s = first.map_or(0.0, |(after_s, v)| {
        let reached = filled.points.iter().find(|p| p.pack_v >= v).or(filled.points.last());
        reached.map_or(0.0, |p| p.t_s - after_s)
    });
    let predicted = filled
        .points
        .iter()
        .map(|p| ChargeMoment { t_s: p.t_s - begins_s, pack_v: p.pack_v, current_a: p.current_a })
        .collect();
    let ended = ended_by(&lines, limits);
    let says = match (ended, lines.len()) {
        (Some(ended), _) => ended.says().to_owned(),
        (None, 0) => "Connect the charger, then write down what you read; again after five minutes.".to_owned(),
        (None, _) => "Still charging. Read again every quarter of an hour, and stay with it.".to_owned(),
    };
    Ok(Some(ChargeWatch {
        missing: filled.missing,
        predicted,
        full_s: filled.full_s.map(|s| s - begins_s),
        apart_after_v: (filled.groups.len() > 1).then_some(filled.apart_after_v),
        written_at: events
            .iter()
            .rev()
            .find(|e| e.step == LOGGED && matches!(e.happened, What::Logged { .. }))
            .map(|e| e.at.clone())
            .filter(|_| !lines.is_empty()),
        charged_ah: charged_ah(&lines),
        stop: lines.last().map(|line| stop_at_once(line, limits)).unwrap_or_default(),
        lines,
        ended,
        says,
    }))
}

/// Σ mean of two currents × time between them; before the first line nothing is counted.
fn charged_ah(lines: &[ChargeLine]) -> f64 {
    const S_PER_H: f64 = 3600.0;
    let read: Vec<(f64, f64)> = lines.iter().filter_map(|l| Some((l.after_s, l.current_a?))).collect();
    read.windows(2).map(|w| (w[1].0 - w[0].0) * (w[0].1 + w[1].1) / 2.0 / S_PER_H).sum()
}
