//! What each link is rated for, continuously and for a peak, and who says so.

use super::super::figures::{brick as strips, cells as cell_figures, protection as guard, wiring as wires};
use super::super::ledger::{Input, fig, fig_at, from_plan};
use super::super::stage::Stage;
use super::super::workspace::Workspace;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::physics::protection;
use crate::physics::wiring::BothSizes;
use crate::physics::{brick, cells, wiring};
use crate::plan::{Cell, Connection, FuseStyle, Insulation, Node, Part, Strip, Wire};

/// A link before its limits are entered.
pub struct Ceiling<'a> {
    pub id: &'a str,
    pub label: &'static str,
    pub detail: String,
    pub size: Option<BothSizes>,
    pub stage: Stage,
    /// Factor from where it sits to the battery.
    pub referred: f64,
    what: What<'a>,
}

enum What<'a> {
    Cells(&'a Cell),
    Strips(&'a Strip),
    Part(&'a Part),
    /// The plug that a pack comes with.
    Plug(f64),
    Wire(&'a Wire),
}

/// One limit where the link sits, with what it rests on.
pub struct Limit {
    pub value_a: f64,
    pub inputs: Vec<Input>,
    pub set_by: &'static str,
    pub source: Source,
}

/// Cells, strips, and the plug that a pack comes with.
pub fn of_pack<'a>(workspace: &Workspace<'a>) -> Vec<Ceiling<'a>> {
    let mut ceilings = vec![];
    if let (Some(cell), Some(parallel)) = (workspace.cell(), workspace.pack.parallel) {
        ceilings.push(Ceiling {
            id: "cells",
            label: "Cells",
            detail: format!("{parallel} in parallel"),
            size: None,
            stage: Stage::Cells,
            referred: 1.0,
            what: What::Cells(cell),
        });
    }
    if let Some(strip) = workspace.strip() {
        ceilings.push(Ceiling {
            id: "strips",
            label: "Strips",
            detail: strip.offer.name.clone(),
            size: None,
            stage: Stage::Brick,
            referred: 1.0,
            what: What::Strips(strip),
        });
    }
    if let Some((ready, plug_a)) = workspace.ready().and_then(|ready| Some((ready, ready.plug_a?))) {
        ceilings.push(Ceiling {
            id: "pack-plug",
            label: "Its plug",
            detail: ready.offer.name.clone(),
            size: None,
            stage: Stage::Wiring,
            referred: 1.0,
            what: What::Plug(plug_a),
        });
    }
    ceilings
}

/// The part at a node of the line, if one is chosen.
pub fn of_node(node: &Node, referred: f64) -> Option<Ceiling<'_>> {
    let part = node.part.part()?;
    let (label, detail, stage) = match part {
        Part::Module { module } if module.protects.is_some() => ("Board", &module.offer.name, Stage::Protection),
        Part::Module { module } if module.converts.is_some() => ("Converter", &module.offer.name, Stage::Voltage),
        Part::Module { module } => ("Cut-off", &module.offer.name, Stage::Protection),
        Part::Fuse { fuse } => ("Fuse", &fuse.offer.name, Stage::Protection),
        Part::Connector { connector } => ("Plug", &connector.offer.name, Stage::Wiring),
        Part::Switch { switch } => ("Switch", &switch.offer.name, Stage::Wiring),
    };
    Some(Ceiling { id: &node.id, label, detail: detail.clone(), size: None, stage, referred, what: What::Part(part) })
}

/// The wire of a run, if one is chosen.
pub fn of_wire(run: &Connection, referred: f64) -> Option<Ceiling<'_>> {
    let wire = run.wire.part()?;
    let detail = wiring::size_name(&wire.size);
    Some(Ceiling {
        id: &run.id,
        label: "Wire",
        detail,
        size: Some(wiring::both_sizes(&wire.size)),
        stage: Stage::Wiring,
        referred,
        what: What::Wire(wire),
    })
}

/// Current of the most loaded cell against an even share, once the cells are laid out.
fn most_share(workspace: &Workspace<'_>) -> f64 {
    workspace.sharing.as_ref().map_or(1.0, |s| s.most_loaded().1)
}

/// Where the part of a link stands in the plan.
fn pointer(workspace: &Workspace<'_>, id: &str, tail: &str) -> String {
    let index = workspace.plan.nodes.iter().position(|n| n.id == id).unwrap_or_default();
    format!("/nodes/{index}/part/part/{tail}")
}

fn stated(workspace: &Workspace<'_>, id: &str, value_a: Option<f64>, tail: &str, label: &'static str) -> Option<Limit> {
    let value_a = value_a?;
    let inputs = vec![from_plan(pointer(workspace, id, tail), label, value_a, Unit::A)];
    Some(Limit { value_a, inputs, set_by: "its rating", source: Source::PartSheet })
}

/// What the link is rated for continuously.
pub fn continuous(workspace: &Workspace<'_>, ceiling: &Ceiling<'_>) -> Option<Limit> {
    let l = &workspace.ledger;
    match ceiling.what {
        What::Cells(cell) => Some(Limit {
            value_a: l.value(&cell_figures::LIMIT_A)? / most_share(workspace),
            inputs: vec![fig(&cell_figures::LIMIT_A)],
            set_by: if cell.origin == crate::plan::CellOrigin::Hobby { "half their label" } else { "their rating" },
            source: Source::PartSheet,
        }),
        What::Strips(_) => Some(Limit {
            value_a: l.value(&strips::LINK_LIMIT_A)?,
            inputs: vec![fig(&strips::LINK_LIMIT_A)],
            set_by: "a rise of 30 K, or the trade's rule",
            source: Source::CommonPractice,
        }),
        What::Wire(_) => Some(Limit {
            value_a: l.value_at(&wires::LIMIT_A, ceiling.id)?,
            inputs: vec![fig_at(&wires::LIMIT_A, ceiling.id)],
            set_by: "a rise of 30 K, or the trade's rule",
            source: Source::ChurchillChu,
        }),
        What::Plug(plug_a) => Some(Limit {
            value_a: plug_a,
            inputs: vec![from_plan("/packs/0/ready/part/plug_a", "Rating of its plug", plug_a, Unit::A)],
            set_by: "its rating",
            source: Source::PartSheet,
        }),
        What::Part(Part::Fuse { fuse }) => Some(Limit {
            value_a: protection::fuse_carries_a(fuse, workspace.air_c()),
            inputs: vec![fig(&guard::FUSE_CARRIES_A)],
            set_by: if fuse.style == FuseStyle::Blade { "75 % of its rating, warm" } else { "its rating, warm" },
            source: if fuse.style == FuseStyle::Blade { Source::CommonPractice } else { Source::Iec60127 },
        }),
        What::Part(Part::Module { module }) => {
            if let Some(board) = &module.protects {
                let tail = "module/protects/continuous_a";
                stated(workspace, ceiling.id, board.continuous_a, tail, "Continuous current of the board")
            } else if let Some(c) = &module.converts {
                stated(workspace, ceiling.id, c.input_a, "module/converts/input_a", "Input current of the converter")
            } else {
                None
            }
        }
        What::Part(Part::Connector { connector }) => {
            stated(workspace, ceiling.id, connector.continuous_a, "connector/continuous_a", "Rating of the connector")
        }
        What::Part(Part::Switch { switch }) => {
            stated(workspace, ceiling.id, switch.continuous_a, "switch/continuous_a", "Rating of the switch")
        }
    }
}

/// What the link can carry for a peak of that length; nothing where nothing stated limits it.
pub fn limit_of(workspace: &Workspace<'_>, ceiling: &Ceiling<'_>, load: &str, duration_s: f64) -> Option<Limit> {
    let index = workspace.plan.device.loads.iter().position(|l| l.id == load)?;
    let lasts = || from_plan(format!("/device/loads/{index}/duration_s"), "Length of the peak", duration_s, Unit::S);
    match ceiling.what {
        What::Cells(cell) => {
            let parallel = f64::from(workspace.pack.parallel?);
            let count = from_plan("/packs/0/parallel", "Parallel count", parallel, Unit::Count);
            let mut inputs = vec![count, lasts()];
            let pulse =
                cell.pulse_a.filter(|pulse_a| cells::counted_peak_a(cell, duration_s).is_some_and(|a| a >= *pulse_a));
            if let Some(pulse_a) = pulse {
                inputs.push(from_plan("/packs/0/cell/part/pulse_a", "Pulse rating of a cell", pulse_a, Unit::A));
            } else {
                inputs.push(fig(&cell_figures::LIMIT_A));
            }
            Some(Limit {
                value_a: cells::counted_peak_a(cell, duration_s)? * parallel / most_share(workspace),
                inputs,
                set_by: if pulse.is_some() { "their pulse rating" } else { "their continuous rating" },
                source: Source::PartSheet,
            })
        }
        What::Strips(strip) => Some(Limit {
            value_a: match &workspace.sharing {
                Some(sharing) => sharing.short_time_a(duration_s)?,
                None => brick::link_short_time_a(strip, duration_s),
            },
            inputs: match &workspace.sharing {
                Some(_) => vec![fig(&strips::ONE_AREA), fig(&strips::LARGEST_SHARE), lasts()],
                None => vec![fig(&strips::LINK_AREA), lasts()],
            },
            set_by: "30 K from its own heat",
            source: Source::MetalsHandbook,
        }),
        What::Wire(wire) => Some(Limit {
            value_a: wiring::short_time_a(wire, duration_s, workspace.plan.environment.use_max_c),
            inputs: vec![fig_at(&wires::AREA, ceiling.id), lasts()],
            set_by: match wire.insulation {
                Insulation::Pvc => "its PVC insulation",
                Insulation::Silicone => "its insulation",
            },
            source: Source::Iec60364,
        }),
        What::Part(Part::Fuse { fuse }) => Some(Limit {
            value_a: protection::fuse_withstands_a(fuse, duration_s, workspace.air_c()),
            inputs: vec![fig(&guard::FUSE_A), lasts()],
            set_by: "its curve of least opening",
            source: if fuse.style == FuseStyle::Blade { Source::Iso8820 } else { Source::Iec60127 },
        }),
        What::Part(Part::Module { module }) if module.protects.is_some() => {
            let board = module.protects.as_ref()?;
            let trip_a = protection::board_withstands_a(board, duration_s)?;
            let waits = board.trip_delay_s.is_some_and(|delay_s| delay_s > duration_s);
            let mut inputs = vec![fig(&guard::TRIP_A), lasts()];
            if workspace.ledger.value(&guard::TRIP_DELAY_S).is_some() {
                inputs.push(fig(&guard::TRIP_DELAY_S));
            }
            Some(Limit {
                value_a: board.continuous_a.map_or(trip_a, |a| a.max(trip_a)),
                inputs,
                set_by: if waits { "its short-circuit trip" } else { "the low end of its trip" },
                source: Source::CommonPractice,
            })
        }
        What::Part(_) | What::Plug(_) => continuous(workspace, ceiling),
    }
}
