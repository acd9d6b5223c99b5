//! Who acts first when too much current flows: fuse and board against what cells, strips, wires and plugs are rated for.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::cells::{LIMIT_A, PACK_OHM};
use super::figures::load::{CONTINUOUS_A, PEAK_A, PEAK_S};
use super::figures::voltage::FULL_V;
use super::figures::{brick as strips, wiring as wires};
use super::fill;
use super::finding::Severity;
use super::workspace::Workspace;
use crate::base::quantity::{Unit, show};
use crate::physics::brick::{cell_heat_j_per_k, link_pulse_a2s};
use crate::physics::protection::{Endurance, Window, board_window, fuse_window};
use crate::physics::wiring;
use crate::plan::{Bms, FieldError, Fuse, NodeKind, Plan, Step};

/// An overload: this many times the continuous current. Chosen: something rubs, nothing is stalled yet.
const OVERLOAD: f64 = 1.5;
/// Rise that a cell withstands from a pulse beyond its rating. Assumed: from the hottest use to 60 °C and a little.
const CELL_RISE_K: f64 = 30.0;
/// A short that ends within this does not warm a plug or a switch. Chosen.
const MOMENT_S: f64 = 0.05;
/// Currents of the chart from below the smallest to above the largest, so many a decade.
const POINTS_A_DECADE: f64 = 24.0;

/// A point of a curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct TimePoint {
    /// At this current.
    pub current_a: f64,
    /// It certainly holds so long.
    pub least_s: f64,
    /// It has certainly opened after this; of a limit the same as the least; absent is never for sure.
    pub most_s: Option<f64>,
}

/// Whether a curve opens the circuit or is harmed by the current.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CurveKind {
    /// It opens the circuit.
    Acts,
    /// It is harmed.
    Withstands,
}

/// Time against current of one link.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TimeCurve {
    /// Node or run it stands for; `cells` and `strips` for the pack's own.
    pub id: String,
    /// What it is.
    pub label: String,
    /// Whether it opens or is a limit.
    pub kind: CurveKind,
    /// Largest current it holds or is rated for continuously.
    pub holds_a: f64,
    /// Its curve, from there on; none where nothing is stated beyond.
    pub points: Vec<TimePoint>,
}

/// A current of the device on the chart.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelMark {
    /// The maker's word for it.
    pub name: String,
    /// At the battery.
    pub current_a: f64,
    /// How long it lasts; absent is without an end.
    pub duration_s: Option<f64>,
}

/// One thing that goes wrong, and what happens.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FaultCase {
    /// What goes wrong.
    pub name: &'static str,
    /// The current then.
    pub current_a: f64,
    /// Who acts first; absent if nothing does.
    pub first: Option<String>,
    /// It certainly acts within this.
    pub within_s: Option<f64>,
    /// What is harmed before that, the soonest first.
    pub harmed: Vec<String>,
    /// What is over its rating before that, and nothing states how long that may last.
    pub over_rating: Vec<String>,
    /// Whether that is right: a stop is not, a caution leaves it open.
    pub verdict: Option<Severity>,
    /// The same in words.
    pub words: String,
}

/// The chart and what it says.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Coordination {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// Smallest and largest current of the chart.
    pub current_from_a: f64,
    /// Largest current of the chart.
    pub current_to_a: f64,
    /// Current that a dead short behind the fuse draws, or at the pack's wires without one.
    pub short_a: Option<f64>,
    /// Currents of the device.
    pub levels: Vec<LevelMark>,
    /// Everything on the way from the cells to the device, or to the converter.
    pub curves: Vec<TimeCurve>,
    /// Overload, stall, dead short.
    pub cases: Vec<FaultCase>,
}

/// Something that opens the circuit.
enum Actor<'a> {
    /// A fuse in air of that temperature.
    Fuse(&'a Fuse, f64),
    Board(&'a Bms),
}

impl Actor<'_> {
    fn window(&self, current_a: f64) -> Window {
        match self {
            Actor::Fuse(fuse, air_c) => fuse_window(fuse, current_a, *air_c),
            Actor::Board(board) => board_window(board, current_a),
        }
    }
}

struct Acts<'a> {
    id: String,
    label: String,
    actor: Actor<'a>,
}

struct Withstands {
    id: String,
    label: String,
    endurance: Endurance,
}

/// Lays all of it over one another. Behind a converter currents are others: the chart ends before it.
pub fn coordination(plan: &Plan) -> Result<Coordination, Vec<FieldError>> {
    plan.check()?;
    let workspace = fill(plan, None)?;
    let (acts, withstands) = links(&workspace);
    let short_a = short_a(&workspace);
    let Some(continuous_a) = workspace.ledger.value(&CONTINUOUS_A) else {
        let missing = Some("Survey what the device draws first.".to_owned());
        return Ok(Coordination { missing, short_a, ..Coordination::default() });
    };
    let levels: Vec<LevelMark> = workspace
        .asked
        .iter()
        .map(|a| LevelMark { name: a.load.name.clone(), current_a: a.level.current_a, duration_s: a.level.duration_s })
        .collect();
    let largest_a = levels.iter().map(|l| l.current_a).chain(short_a).fold(continuous_a, f64::max);
    let smallest_a = levels.iter().map(|l| l.current_a).fold(continuous_a, f64::min);
    let (from_a, to_a) = (smallest_a / 2.0, largest_a * 2.0);
    let mut curves: Vec<TimeCurve> = acts.iter().map(|a| acting(a, from_a, to_a)).collect();
    curves.extend(withstands.iter().map(|b| withstanding(b, to_a)));
    let mut cases = vec![case("overload", OVERLOAD * continuous_a, None, &acts, &withstands)];
    if let Some((peak_a, peak_s)) = workspace.ledger.value(&PEAK_A).zip(workspace.ledger.value(&PEAK_S)) {
        cases.push(case("stall that does not end", peak_a, Some(peak_s), &acts, &withstands));
    }
    cases.extend(short_a.map(|a| case("dead short", a, None, &acts, &withstands)));
    Ok(Coordination { missing: None, current_from_a: from_a, current_to_a: to_a, short_a, levels, curves, cases })
}

/// What a dead short does in a plan in which something opens: the case of the chart, for a rule to tell.
pub(super) fn dead_short(workspace: &Workspace<'_>) -> Option<FaultCase> {
    let (acts, withstands) = links(workspace);
    let short_a = short_a(workspace).filter(|_| !acts.is_empty())?;
    Some(case("dead short", short_a, None, &acts, &withstands))
}

/// Everything from the cells up to a converter.
fn links<'a>(workspace: &Workspace<'a>) -> (Vec<Acts<'a>>, Vec<Withstands>) {
    let l = &workspace.ledger;
    let (mut acts, mut withstands) = (vec![], vec![]);
    let mut add = |id: &str, label: String, continuous_a: Option<f64>, pulse_a2s: Option<f64>| {
        if let Some(continuous_a) = continuous_a {
            withstands.push(Withstands { id: id.to_owned(), label, endurance: Endurance { continuous_a, pulse_a2s } });
        }
    };
    let most_share = workspace.sharing.as_ref().map_or(1.0, |s| s.most_loaded().1);
    add("cells", "cells".to_owned(), l.value(&LIMIT_A).map(|a| a / most_share), cells_pulse_a2s(workspace, most_share));
    if let Some(strip) = workspace.strip() {
        let pulse = workspace.sharing.as_ref().map_or(Some(link_pulse_a2s(strip)), |s| s.strips_pulse_a2s());
        add("strips", "strips".to_owned(), l.value(&strips::LINK_LIMIT_A), pulse);
    }
    for step in &workspace.line.steps {
        match step {
            Step::Connection(run) => {
                if let Some(wire) = run.wire.part() {
                    let label = format!("{} wire", wiring::size_name(&wire.size));
                    add(&run.id, label, l.value_at(&wires::LIMIT_A, &run.id), Some(wiring::pulse_a2s(wire)));
                }
            }
            Step::Node(node) => {
                if node.module().is_some_and(|m| m.converts.is_some()) {
                    break;
                }
                if let Some(fuse) = node.fuse() {
                    let label = format!("{} fuse", show(fuse.rating_a, Unit::A));
                    acts.push(Acts { id: node.id.clone(), label, actor: Actor::Fuse(fuse, workspace.air_c()) });
                } else if let Some(board) = node.module().and_then(|m| m.protects.as_ref()) {
                    acts.push(Acts { id: node.id.clone(), label: "board".to_owned(), actor: Actor::Board(board) });
                } else if let Some(plug) = node.connector() {
                    add(&node.id, "plug".to_owned(), plug.continuous_a, None);
                } else if let Some(crate::plan::Part::Switch { switch }) = node.part.part() {
                    add(&node.id, "switch".to_owned(), switch.continuous_a, None);
                }
            }
        }
    }
    (acts, withstands)
}

/// I²t of the pack that warms its most loaded cell by [`CELL_RISE_K`] without losing heat.
fn cells_pulse_a2s(workspace: &Workspace<'_>, most_share: f64) -> Option<f64> {
    let (cell, (series, parallel)) = (workspace.cell()?, workspace.counts()?);
    let cell_ohm = workspace.ledger.value(&PACK_OHM)? * parallel / series;
    let heat_j = cell_heat_j_per_k(&cell.size, cell.offer.mass_g) * CELL_RISE_K;
    Some(heat_j / cell_ohm * (parallel / most_share).powi(2))
}

/// Full voltage over cells, strips, and the wires up to the fuse, both ways; without a fuse at the first wire's begin.
fn short_a(workspace: &Workspace<'_>) -> Option<f64> {
    const COLD_WIRE_C: f64 = 20.0;
    let l = &workspace.ledger;
    let mut ohm = l.value(&PACK_OHM)? + l.value(&strips::STRIPS_OHM).unwrap_or(0.0);
    if workspace.line.nodes.iter().any(|n| n.kind == NodeKind::Fuse && n.fuse().is_some()) {
        for step in &workspace.line.steps {
            match step {
                Step::Node(node) if node.fuse().is_some() => break,
                Step::Node(node) => ohm += node.module().and_then(|m| m.protects.as_ref()?.path_ohm).unwrap_or(0.0),
                Step::Connection(run) => {
                    if let Some((wire, length_mm)) = run.wire.part().zip(run.length_mm) {
                        ohm += 2.0 * wiring::wire_ohm(&wire.size, length_mm, COLD_WIRE_C);
                    }
                }
            }
        }
    }
    Some(l.value(&FULL_V)? / ohm)
}

/// Currents of the chart.
fn currents(from_a: f64, to_a: f64) -> impl Iterator<Item = f64> {
    let count = ((to_a / from_a).log10() * POINTS_A_DECADE).ceil().max(1.0) as u32;
    (0..=count).map(move |k| from_a * (to_a / from_a).powf(f64::from(k) / f64::from(count)))
}

fn acting(acts: &Acts<'_>, from_a: f64, to_a: f64) -> TimeCurve {
    let point = |current_a: f64| {
        let window = acts.actor.window(current_a);
        Some(TimePoint { current_a, least_s: window.least_s?, most_s: window.most_s })
    };
    let holds_a = match &acts.actor {
        Actor::Fuse(fuse, air_c) => crate::physics::protection::fuse_carries_a(fuse, *air_c),
        Actor::Board(board) => crate::physics::protection::trip_band_a(board).map_or(to_a, |(low, _)| low),
    };
    TimeCurve {
        id: acts.id.clone(),
        label: acts.label.clone(),
        kind: CurveKind::Acts,
        holds_a,
        points: currents(from_a.max(holds_a), to_a).filter_map(point).collect(),
    }
}

fn withstanding(withstands: &Withstands, to_a: f64) -> TimeCurve {
    let holds_a = withstands.endurance.continuous_a;
    let point = |current_a: f64| {
        let least_s = withstands.endurance.withstands_s(current_a)?;
        Some(TimePoint { current_a, least_s, most_s: Some(least_s) })
    };
    let stated = withstands.endurance.pulse_a2s.is_some() && holds_a < to_a;
    let points = if stated { currents(holds_a * 1.001, to_a).filter_map(point).collect() } else { vec![] };
    TimeCurve {
        id: withstands.id.clone(),
        label: withstands.label.clone(),
        kind: CurveKind::Withstands,
        holds_a,
        points,
    }
}

/// What happens at a current that stays: who acts first, and what is harmed before.
fn case(
    name: &'static str,
    current_a: f64,
    usual_s: Option<f64>,
    acts: &[Acts<'_>],
    withstands: &[Withstands],
) -> FaultCase {
    let windows: Vec<(&str, Window)> = acts.iter().map(|a| (a.label.as_str(), a.actor.window(current_a))).collect();
    let surely = windows.iter().filter_map(|(who, w)| Some((*who, w.most_s?))).min_by(|a, b| a.1.total_cmp(&b.1));
    let earliest_s = windows.iter().filter_map(|(_, w)| w.least_s).reduce(f64::min);
    let within_s = surely.map_or(f64::INFINITY, |(_, s)| s);
    let (mut harmed, mut over_rating) = (vec![], vec![]);
    for b in withstands {
        match b.endurance.withstands_s(current_a).filter(|s| *s < within_s) {
            Some(s) if b.endurance.pulse_a2s.is_some() => harmed.push((b.label.as_str(), s)),
            // A short that is ended in a moment is over before a plug is warm.
            Some(_) if within_s > MOMENT_S => over_rating.push(b.label.clone()),
            _ => {}
        }
    }
    harmed.sort_by(|a, b| a.1.total_cmp(&b.1));
    let at = show(current_a, Unit::A);
    let opens = match surely {
        Some((who, s)) => format!("At {at} the {who} opens within {}", seconds(s)),
        None => match windows.iter().find(|(_, w)| w.least_s.is_some()) {
            Some((who, _)) => format!("At {at} the {who} may not open"),
            None => format!("At {at} nothing opens"),
        },
    };
    let (verdict, tail) = if let Some((what, s)) = harmed.first() {
        (Some(Severity::Stop), format!("; first damaged: {what}, after {}.", seconds(*s)))
    } else if !over_rating.is_empty() {
        let what = over_rating.join(" and ");
        (
            Some(Severity::Caution),
            format!("; over its rating meanwhile: {what}, and it is not stated how long that may last."),
        )
    } else if usual_s.is_some_and(|usual_s| earliest_s.is_some_and(|s| s < usual_s)) {
        let lasts = seconds(usual_s.unwrap_or(0.0));
        (Some(Severity::Caution), format!("; it may do so at a normal start, which lasts {lasts}."))
    } else if surely.is_none() {
        (None, "; everything is rated for that current continuously.".to_owned())
    } else {
        (None, ", before anything is damaged.".to_owned())
    };
    FaultCase {
        name,
        current_a,
        first: surely.map(|(who, _)| who.to_owned()),
        within_s: surely.map(|(_, s)| s),
        over_rating,
        harmed: harmed.into_iter().map(|(what, _)| what.to_owned()).collect(),
        verdict,
        words: opens + &tail,
    }
}

/// A time in a sentence: to two figures, long ones in minutes or hours.
fn seconds(s: f64) -> String {
    let rounded = if s > 0.0 {
        let size = 10f64.powf(s.log10().floor() - 1.0);
        (s / size).round() * size
    } else {
        0.0
    };
    show(rounded, Unit::S)
}
