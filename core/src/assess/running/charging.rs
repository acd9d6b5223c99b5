//! The simulated charge of a plan: how its groups fill, who ends it, and how far apart they stay.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::read_start::start_says;
use super::setup::{Setup, charged_to_v};
use super::{StartsAt, WhatIf, check};
use crate::assess::Workspace;
use crate::assess::figures::charging::{CHARGER_A, ENDS_A, PER_CELL_V};
use crate::assess::figures::protection::BLEED_A;
use crate::assess::figures::voltage::CELL_CUTOFF_V;
use crate::assess::fill as filled;
use crate::base::chemistry::curve;
use crate::base::quantity::{Unit, show};
use crate::physics::charging::TYPICAL_EFFICIENCY;
use crate::physics::run::{Bleeds, FillEvent, FillTask, FillWhat, Filler, Opens, fill};
use crate::plan::{ChargesAs, FieldError, Plan};

/// Points of a course on the screen, about.
const POINTS: usize = 300;
/// Steps that a charge is gone through in.
const STEP_S: f64 = 10.0;
/// The calculation ends after three days.
const MOST_S: f64 = 72.0 * 3600.0;
/// Bleeders on a board begin so much below full. Common practice, no source: 4.18 to 4.20 V; the lower they begin, the further
/// apart the groups stay, since in the end all of them are bled alike.
const BLEEDS_BELOW_FULL_V: f64 = 0.005;
/// A board closes the charge again so much below the voltage it opened at. Common practice, no source: 0.1 to 0.2 V.
const CLOSES_LOWER_V: f64 = 0.15;

/// Where a charge begins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FillsFrom {
    /// At the sensible end of the discharge, all groups alike.
    #[default]
    Empty,
    /// At the voltage that was read.
    AsRead,
}

/// One point of a charge.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FillPoint {
    /// Since the start.
    pub t_s: f64,
    /// At the pack.
    pub pack_v: f64,
    /// Into the pack.
    pub current_a: f64,
    /// Highest group.
    pub strongest_v: f64,
    /// Lowest group.
    pub weakest_v: f64,
    /// Mean state of charge.
    pub soc: f64,
    /// Hottest group.
    pub hottest_c: f64,
    /// Groups that are bled.
    pub bled: usize,
}

/// Something that happened, in words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ToldFill {
    /// What.
    pub event: FillEvent,
    /// The same in words.
    pub says: String,
}

/// A group before and after.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct GroupFilled {
    /// State of charge before.
    pub from_soc: f64,
    /// State of charge after.
    pub soc: f64,
    /// Voltage it rests at after.
    pub rested_v: f64,
}

/// The charge of a plan.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct FillReport {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// When 80 % is in; absent where it never is.
    pub most_s: Option<f64>,
    /// When the charge has ended; absent where it does not end in three days.
    pub full_s: Option<f64>,
    /// How it ends, in words.
    pub says: String,
    /// What happens, in the order of time.
    pub events: Vec<ToldFill>,
    /// Charge out of the charger.
    pub charged_ah: f64,
    /// Energy into the pack.
    pub pack_wh: f64,
    /// Energy that bleeders turn into heat.
    pub bled_wh: f64,
    /// How often the board opens.
    pub opened: u32,
    /// Hottest group.
    pub hottest_c: f64,
    /// How far the groups are apart at rest before and after.
    pub apart_before_v: f64,
    /// The same after.
    pub apart_after_v: f64,
    /// Every group.
    pub groups: Vec<GroupFilled>,
    /// The course.
    pub points: Vec<FillPoint>,
    /// How little the voltage that was read say of the charge it begins with, in words.
    pub start_says: Option<String>,
    /// Whether the open-circuit curve is a line through common figures only.
    pub assumed: bool,
}

/// Simulates the charge of a plan: from empty, or from the voltage that was read.
pub fn fills(plan: &Plan, what: &WhatIf, from: FillsFrom) -> Result<FillReport, Vec<FieldError>> {
    plan.check()?;
    check(plan, std::slice::from_ref(what))?;
    let varied = what.of(plan);
    let workspace = filled(&varied, None)?;
    let missing = |words: &str| Ok(FillReport { missing: Some(words.to_owned()), ..FillReport::default() });
    if workspace.cell().is_none() || workspace.counts().is_none() || workspace.pack.chemistry.is_none() {
        return missing("Choose chemistry, counts and a cell first.");
    }
    if workspace.charges().is_none_or(|c| c.kind != ChargesAs::CcCv) {
        return missing("Choose a charger that holds a current, then voltage, first: another kind is not simulated.");
    }
    match Setup::of(&workspace, what, StartsAt::AsRead, None).and_then(|s| report(&s, from)) {
        Some(report) => Ok(report),
        None => missing("Type the current of the charger first."),
    }
}

fn report(setup: &Setup<'_, '_>, from: FillsFrom) -> Option<FillReport> {
    let workspace = setup.workspace;
    let task = task(setup, from)?;
    let done = fill(&task)?;
    let ocv = curve(workspace.pack.chemistry?);
    let groups: Vec<GroupFilled> = task
        .soc
        .iter()
        .zip(&done.states)
        .zip(&done.rested_v)
        .map(|((from_soc, state), rested_v)| GroupFilled { from_soc: *from_soc, soc: state.soc, rested_v: *rested_v })
        .collect();
    let before_v: Vec<f64> = task.soc.iter().map(|soc| ocv.ocv_v(*soc)).collect();
    let told = |event: &FillEvent| ToldFill { event: *event, says: said(event, &task) };
    let every = (done.moments.len() / POINTS).max(1);
    let last = done.moments.len().saturating_sub(1);
    let kept = done.moments.iter().enumerate().filter(|(k, _)| k % every == 0 || *k == last);
    let points = kept
        .map(|(_, m)| FillPoint {
            t_s: m.t_s,
            pack_v: m.pack_v,
            current_a: m.current_a,
            strongest_v: m.group_v.iter().copied().fold(f64::NEG_INFINITY, f64::max),
            weakest_v: m.group_v.iter().copied().fold(f64::INFINITY, f64::min),
            soc: m.soc,
            hottest_c: m.hottest_c,
            bled: m.bled,
        })
        .collect();
    let full_s = done.full_s;
    Some(FillReport {
        missing: None,
        most_s: done.most_s,
        full_s,
        says: ends(&done.events, full_s.is_some(), apart(&done.rested_v)),
        events: done.events.iter().map(told).collect(),
        charged_ah: done.charged_ah,
        pack_wh: done.pack_wh,
        bled_wh: done.bled_wh,
        opened: done.opened,
        hottest_c: done.hottest_c,
        apart_before_v: apart(&before_v),
        apart_after_v: apart(&done.rested_v),
        groups,
        points,
        start_says: (from == FillsFrom::AsRead).then(|| start_says(workspace)).flatten(),
        assumed: ocv.assumed,
    })
}

fn task(setup: &Setup<'_, '_>, from: FillsFrom) -> Option<FillTask> {
    let workspace = setup.workspace;
    let l = &workspace.ledger;
    let (series, _) = workspace.counts()?;
    let charges = workspace.charges()?;
    let off = setup.as_believed();
    let groups = setup.groups(off);
    let cell_v = setup.what.charge_v.or_else(|| charged_to_v(workspace))?;
    let share = charges.efficiency.unwrap_or(TYPICAL_EFFICIENCY);
    let read = setup.starts_at();
    let soc = match from {
        FillsFrom::Empty => vec![0.0; groups.len()],
        FillsFrom::AsRead => read,
    };
    let board = workspace.charge_board().or(workspace.line_board()).and_then(|(_, b)| b.over_charge_v);
    Some(FillTask {
        warmth: setup.block(off.ambient_c)?,
        groups,
        soc,
        path_ohm: charge_path_ohm(workspace),
        charger: Filler {
            current_a: l.value(&CHARGER_A)?,
            end_v: series * end_v(workspace, setup.what, cell_v),
            ends_a: charges.ends_a.or_else(|| l.value(&ENDS_A)),
            pre: charges.pre_charge_a.zip(l.value(&CELL_CUTOFF_V)),
            supply_w: workspace.supplies().filter(|_| !charges.own_supply).map(|s| s.output_v * s.output_a * share),
            restart_v: charges.restart_v,
        },
        bleeds: bleeds(workspace, cell_v),
        board: board.map(|at_v| Opens { at_v, closes_v: at_v - CLOSES_LOWER_V }),
        step_s: STEP_S,
        most_s: MOST_S,
    })
}

/// End voltage of the charger for a cell, however wrong they are set.
fn end_v(workspace: &Workspace<'_>, what: &WhatIf, cell_v: f64) -> f64 {
    what.charge_v.or_else(|| workspace.ledger.value(&PER_CELL_V)).unwrap_or(cell_v)
}

fn bleeds(workspace: &Workspace<'_>, full_v: f64) -> Option<Bleeds> {
    if let Some(bleed_a) = workspace.charges().and_then(|c| c.balance_a) {
        return Some(Bleeds::ToTheLowest { bleed_a });
    }
    let bleed_a = workspace.ledger.value(&BLEED_A).filter(|a| *a > 0.0)?;
    Some(Bleeds::Above { group_v: full_v - BLEEDS_BELOW_FULL_V, bleed_a })
}

/// Board and contacts on the way from the charger; its wires are short beside them.
fn charge_path_ohm(workspace: &Workspace<'_>) -> f64 {
    let board_ohm = workspace.charge_board().and_then(|(_, b)| b.path_ohm).unwrap_or(0.0);
    let contacts = workspace.charge_contacts();
    board_ohm + contacts.iter().filter_map(|n| n.connector()?.contact_ohm).sum::<f64>()
}

fn apart(volts: &[f64]) -> f64 {
    let most = volts.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let least = volts.iter().copied().fold(f64::INFINITY, f64::min);
    (most - least).max(0.0)
}

fn ends(events: &[FillEvent], ended: bool, apart_v: f64) -> String {
    let left = format!("the groups then rest within {}", show(apart_v, Unit::V));
    let opened = events.iter().find(|e| e.what == FillWhat::BoardOpens);
    match (opened, ended) {
        (Some(event), _) => {
            let group = event.group.map_or(0, |g| g + 1);
            format!("The board opens on group {group} before the others are full: {left}.")
        }
        (None, true) => format!("The charger ends it; {left}."),
        (None, false) => format!("It has not ended after three days; {left}."),
    }
}

fn said(event: &FillEvent, task: &FillTask) -> String {
    let group = event.group.map_or_else(|| "a group".to_owned(), |g| format!("group {}", g + 1));
    match event.what {
        FillWhat::Holds => {
            format!("The charger holds {} from here; the current falls.", show(task.charger.end_v, Unit::V))
        }
        FillWhat::MostOfIt => "80 % is in.".to_owned(),
        FillWhat::Bleeds => format!("The first to be bled is {group}."),
        FillWhat::BoardOpens => format!("The board opens the charge: {group} is full."),
        FillWhat::BoardCloses => format!("The board closes again: {group} has fallen back."),
        FillWhat::Ends => "The charger ends.".to_owned(),
        FillWhat::Restarts => "The charger begins again.".to_owned(),
        FillWhat::Level => "All groups are within half a percent of charge of one another.".to_owned(),
        FillWhat::Time => "Three days have passed.".to_owned(),
    }
}
