//! The stages in the order of the work: how far each is, what it would still like to know.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::bench::Bench;
use super::figures::{brick, charging, device, load, protection, run, wiring};
use super::finding::{Finding, Severity};
use super::ledger::FigureDef;
use crate::phrase::Phrase;
use crate::plan::{Choice, NodeKind};

/// A stage of the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// Survey the device.
    Device,
    /// Match the voltage.
    Voltage,
    /// Choose the cells.
    Cells,
    /// Join them.
    Brick,
    /// Guard them.
    Protection,
    /// Charge them.
    Charging,
    /// Wire them.
    Wiring,
    /// Predict the run.
    Run,
}

impl Stage {
    /// All stages, in order.
    pub const ALL: [Stage; 8] = [
        Stage::Device,
        Stage::Voltage,
        Stage::Cells,
        Stage::Brick,
        Stage::Protection,
        Stage::Charging,
        Stage::Wiring,
        Stage::Run,
    ];

    /// The stage a rule belongs to: the word before its dot.
    pub fn of_rule(rule: &str) -> Stage {
        match rule.split('.').next().unwrap_or_default() {
            "device" => Stage::Device,
            "voltage" => Stage::Voltage,
            "cells" => Stage::Cells,
            "brick" => Stage::Brick,
            "protection" => Stage::Protection,
            "charging" => Stage::Charging,
            "wiring" => Stage::Wiring,
            _ => Stage::Run,
        }
    }
}

/// How a stage stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Its decision is still open.
    NothingYet,
    /// Nothing to say against it.
    Fine,
    /// Worth knowing.
    Note,
    /// A caution.
    Caution,
    /// A stop.
    Stop,
}

/// Something a measurement or a label would settle.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ToFindOut {
    /// What to find out, and how.
    pub what: String,
    /// What it settles.
    pub settles: String,
}

/// A stage's report.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StageReport {
    /// The stage.
    pub stage: Stage,
    /// How it stands.
    pub verdict: Verdict,
    /// Its key figure in a few words.
    pub key: Phrase,
    /// What is not known, the most settling first.
    pub to_find_out: Vec<ToFindOut>,
}

/// Reports every stage.
pub fn report(bench: &Bench<'_>, findings: &[Finding]) -> Vec<StageReport> {
    Stage::ALL
        .into_iter()
        .map(|stage| {
            let worst = findings.iter().filter(|f| f.stage == stage && f.accepted.is_none()).map(|f| f.severity).max();
            let verdict = match worst {
                Some(Severity::Stop) => Verdict::Stop,
                _ if !decided(bench, stage) => Verdict::NothingYet,
                Some(Severity::Caution) => Verdict::Caution,
                Some(Severity::Note) => Verdict::Note,
                None => Verdict::Fine,
            };
            StageReport { stage, verdict, key: key(bench, stage), to_find_out: to_find_out(bench, stage) }
        })
        .collect()
}

/// Whether what the stage decides is decided.
fn decided(bench: &Bench<'_>, stage: Stage) -> bool {
    let has = |def: &FigureDef| bench.ledger.value(def).is_some();
    match stage {
        Stage::Device => has(&device::HIGHEST_V) && !bench.plan.device.loads.is_empty(),
        Stage::Voltage => bench.pack.series.is_some() && bench.pack.chemistry.is_some(),
        Stage::Cells => bench.cell().is_some() && bench.counts().is_some(),
        Stage::Brick => !bench.pack.strip.is_open(),
        Stage::Protection => !bench.is_open(NodeKind::Board) && !bench.is_open(NodeKind::Fuse),
        Stage::Charging => !bench.is_open(NodeKind::Charger),
        Stage::Wiring => bench.plan.runs.iter().all(|r| !matches!(r.wire, Choice::Open)),
        Stage::Run => has(&run::TIME_S),
    }
}

fn key(bench: &Bench<'_>, stage: Stage) -> Phrase {
    let has = |def: &FigureDef| bench.ledger.value(def).is_some();
    let say = |template: &str, words: &[&str]| bench.ledger.say(template, words);
    match stage {
        Stage::Device if has(&load::USUAL_A) && has(&device::HIGHEST_V) => {
            say("to {device.highest_v}, {load.usual_a}", &[])
        }
        Stage::Device if has(&device::HIGHEST_V) => say("to {device.highest_v}, load unknown", &[]),
        Stage::Device => Phrase::words("not surveyed yet"),
        Stage::Voltage => match (bench.pack.series, bench.facts(), bench.converter()) {
            (Some(s), Some(f), None) => say("{$0} series {$1}, direct", &[&s.to_string(), f.short]),
            (Some(s), Some(f), Some(_)) => say("{$0} series {$1}, regulated", &[&s.to_string(), f.short]),
            _ => Phrase::words("not chosen yet"),
        },
        Stage::Cells => match (bench.cell(), bench.counts()) {
            (Some(_), Some((s, p))) => {
                let count = format!("{}", s * p);
                let each = bench.cell().map_or(0.0, |c| c.rated_ah);
                Phrase::words(format!("{count} of ")).value(each, crate::quantity::Unit::Ah)
            }
            _ => Phrase::words("not chosen yet"),
        },
        Stage::Brick if has(&brick::LINK_LIMIT_A) => say("strips bear {strip.limit_a}", &[]),
        Stage::Brick => Phrase::words("no strips yet"),
        Stage::Protection if has(&protection::FUSE_A) && has(&protection::BOARD_A) => {
            say("{board.continuous_a} board, {fuse.rating_a} fuse", &[])
        }
        Stage::Protection if has(&protection::FUSE_A) => say("{fuse.rating_a} fuse", &[]),
        Stage::Protection if bench.any_board().is_some() => Phrase::words("board, no fuse"),
        Stage::Protection => Phrase::words("no board, no fuse"),
        Stage::Charging if has(&charging::CHARGER_A) => say("{charger.output_v}, {charger.output_a}", &[]),
        Stage::Charging if has(&charging::CHARGER_V) => say("{charger.output_v}", &[]),
        Stage::Charging => Phrase::words("no charger yet"),
        Stage::Wiring if has(&wiring::DROP_V) => say("drop {wire.drop_v}", &[]),
        Stage::Wiring => Phrase::words("no wire yet"),
        Stage::Run if has(&run::TIME_S) => say("{run.time_s}", &[]),
        Stage::Run => Phrase::words("not enough known"),
    }
}

fn to_find_out(bench: &Bench<'_>, stage: Stage) -> Vec<ToFindOut> {
    let d = &bench.plan.device;
    let cell = bench.cell();
    let board = bench.any_board().map(|(_, p)| p);
    let fuse = bench.line.nodes.iter().find_map(|n| n.fuse());
    let charges = bench.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref());
    let wire_without_length = bench.plan.runs.iter().any(|r| r.wire.part().is_some() && r.length_mm.is_none());
    let questions: Vec<(bool, &str, &str)> = match stage {
        Stage::Device => vec![
            (
                d.loads.is_empty(),
                "Running current, with a meter in series",
                "cells in parallel, board, fuse, wire and run time",
            ),
            (
                d.highest_v.is_none(),
                "Highest volts: the label, or the old battery fresh off its charger",
                "which packs may feed it directly",
            ),
            (
                d.lowest_v.is_none() && d.cutout_v.is_none(),
                "Lowest volts: sweep a current-limited supply down until it stops",
                "how much of the charge it can use",
            ),
            (
                !d.loads.is_empty() && !bench.asked.iter().any(|a| !a.level.is_long()),
                "Start or stall peak; a hand meter under-reads it",
                "trip current, fuse and pulse rating",
            ),
            (
                d.original.chemistry.is_none() || d.original.series.is_none(),
                "Chemistry and cells of the old battery",
                "what may be assumed until it is measured",
            ),
            (d.original.run_s.is_none() && d.wanted_run_s.is_none(), "How long it should run", "cells in parallel"),
        ],
        Stage::Voltage => vec![(
            bench.converter().is_some_and(|(_, c)| c.set_point_v.is_none()),
            "Set point of the converter, read before it is wired in and again under load",
            "whether the device gets the volts meant for it",
        )],
        Stage::Cells => vec![
            (
                cell.is_some_and(|c| c.discharge_a.is_none()),
                "Continuous rating of the cell, from its data sheet",
                "the limit of the cells",
            ),
            (
                cell.is_some_and(|c| c.dcir_ohm.is_none()),
                "DCIR of the cell: volts before and during a known current",
                "sag, run time, short-circuit current",
            ),
            (cell.is_some_and(|c| c.charge_a.is_none()), "Highest charge current of the cell", "the charger"),
        ],
        Stage::Brick => vec![],
        Stage::Protection => vec![
            (board.is_some_and(|p| p.trip_a.is_none()), "Trip current of the board", "who acts first in a stall"),
            (
                board.is_some_and(|p| p.over_discharge_v.is_none()),
                "Volts at which the board ends the discharge",
                "how deep the cells go",
            ),
            (board.is_some_and(|p| p.continuous_a.is_none()), "Continuous current of the board", "the weakest link"),
            (
                fuse.is_some_and(|f| f.breaking_a.is_none()),
                "Breaking capacity of the fuse",
                "whether it can end a dead short",
            ),
            (
                board.is_some_and(|p| p.bleed_a.is_none()),
                "Bleed current of the board, or that it has none",
                "how spread cells come level",
            ),
        ],
        Stage::Charging => vec![(
            charges.is_some_and(|c| c.output_a.is_none()),
            "Charge current: is the rated current input or output?",
            "charge time, supply, cell and board limits",
        )],
        Stage::Wiring => vec![(wire_without_length, "Length of each wire, one way", "drop and resistance")],
        Stage::Run => vec![],
    };
    questions
        .into_iter()
        .filter(|&(open, ..)| open)
        .map(|(_, what, settles)| ToFindOut { what: what.to_owned(), settles: settles.to_owned() })
        .collect()
}
