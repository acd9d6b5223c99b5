//! How far each stage is, and what it would still like to know.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::bench::Bench;
use super::figures::{brick, charging, device, laid, load, protection, run, wiring};
use super::find_out::{ToFindOut, to_find_out};
use super::finding::{Finding, Severity};
use super::ledger::FigureDef;
use super::stage::Stage;
use crate::base::phrase::Phrase;
use crate::plan::{Choice, NodeKind};

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
                Phrase::words(format!("{count} of ")).value(each, crate::base::quantity::Unit::Ah)
            }
            _ => Phrase::words("not chosen yet"),
        },
        Stage::Brick if has(&laid::BRICK_X_MM) => {
            let sizes = [&laid::BRICK_X_MM, &laid::BRICK_Y_MM, &laid::BRICK_Z_MM];
            let whole: Vec<String> =
                sizes.into_iter().filter_map(|def| bench.ledger.value(def)).map(|mm| format!("{mm:.0}")).collect();
            Phrase::words(format!("{} mm", whole.join(" × ")))
        }
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
