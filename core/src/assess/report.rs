//! How far each stage is, and what it would still like to know.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::figures::{brick, cells, charging, device, laid, load, protection, run, wiring};
use super::find_out::{ToFindOut, to_find_out};
use super::finding::{Finding, Severity};
use super::ledger::FigureDef;
use super::stage::Stage;
use super::workspace::Workspace;
use crate::base::phrase::Phrase;
use crate::plan::{Choice, NodeKind};

/// How a stage stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Its decision is still open.
    NothingYet,
    /// Decided, but a question is open, or it rests on an assumption.
    Open,
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
pub fn report(workspace: &Workspace<'_>, findings: &[Finding]) -> Vec<StageReport> {
    Stage::ALL
        .into_iter()
        .map(|stage| {
            let questions = to_find_out(workspace, stage);
            let worst = findings.iter().filter(|f| f.stage == stage && f.accepted.is_none()).map(|f| f.severity).max();
            let verdict = match worst {
                Some(Severity::Stop) => Verdict::Stop,
                _ if !decided(workspace, stage) => Verdict::NothingYet,
                Some(Severity::Caution) => Verdict::Caution,
                Some(Severity::Note) => Verdict::Note,
                None if !questions.is_empty() || rests_on_assumption(workspace, stage) => Verdict::Open,
                None => Verdict::Fine,
            };
            StageReport { stage, verdict, key: key(workspace, stage), to_find_out: questions }
        })
        .collect()
}

/// Whether what the stage decides is decided.
pub(super) fn decided(workspace: &Workspace<'_>, stage: Stage) -> bool {
    let has = |def: &FigureDef| workspace.ledger.value(def).is_some();
    match stage {
        Stage::Device => has(&device::HIGHEST_V) && !workspace.plan.device.loads.is_empty(),
        Stage::Voltage => workspace.pack.series.is_some() && workspace.pack.chemistry.is_some(),
        Stage::Cells => workspace.cell().is_some() && workspace.counts().is_some(),
        // Without strips there must be cells that need none.
        Stage::Brick => match workspace.pack.strip {
            Choice::Undecided => workspace.ready().is_some(),
            Choice::None => workspace.cell().is_some(),
            Choice::Chosen { .. } => true,
        },
        Stage::Protection => !workspace.is_open(NodeKind::Board) && !workspace.is_open(NodeKind::Fuse),
        Stage::Charging => !workspace.is_open(NodeKind::Charger),
        Stage::Wiring => workspace.plan.connections.iter().all(|r| !matches!(r.wire, Choice::Undecided)),
        Stage::Run => has(&run::TIME_S),
    }
}

/// Whether one of the figures that decide the stage is only assumed.
fn rests_on_assumption(workspace: &Workspace<'_>, stage: Stage) -> bool {
    let deciding: &[&FigureDef] = match stage {
        Stage::Device => &[&device::HIGHEST_V, &device::LOWEST_V, &load::USUAL_A],
        Stage::Cells => &[&cells::LIMIT_A, &cells::PACK_AH],
        Stage::Protection => &[&protection::BOARD_A, &protection::FUSE_A],
        Stage::Charging => &[&charging::CHARGER_V, &charging::CHARGER_A],
        Stage::Run => &[&run::TIME_S],
        Stage::Voltage | Stage::Brick | Stage::Wiring => &[],
    };
    deciding.iter().any(|def| workspace.ledger.get(def.id).is_some_and(|f| f.assumed))
}

fn key(workspace: &Workspace<'_>, stage: Stage) -> Phrase {
    let has = |def: &FigureDef| workspace.ledger.value(def).is_some();
    let say = |template: &str, words: &[&str]| workspace.ledger.say(template, words);
    match stage {
        Stage::Device if has(&load::USUAL_A) && has(&device::HIGHEST_V) => {
            say("to {device.highest_v}, {load.usual_a}", &[])
        }
        Stage::Device if has(&device::HIGHEST_V) => say("to {device.highest_v}, load not known", &[]),
        Stage::Device => Phrase::words("not surveyed yet"),
        Stage::Voltage => match (workspace.pack.series, workspace.facts(), workspace.converter()) {
            (Some(s), Some(f), None) => say("{$0} series {$1}, direct", &[&s.to_string(), f.short]),
            (Some(s), Some(f), Some(_)) => say("{$0} series {$1}, regulated", &[&s.to_string(), f.short]),
            _ => Phrase::words("not chosen yet"),
        },
        Stage::Cells if workspace.ready().is_some() => {
            let each = workspace.cell().map_or(0.0, |c| c.rated_ah);
            Phrase::words("ready pack, ").value(each, crate::base::quantity::Unit::Ah)
        }
        Stage::Cells => match (workspace.cell(), workspace.counts()) {
            (Some(_), Some((s, p))) => {
                let count = format!("{}", s * p);
                let each = workspace.cell().map_or(0.0, |c| c.rated_ah);
                Phrase::words(format!("{count} of ")).value(each, crate::base::quantity::Unit::Ah)
            }
            _ => Phrase::words("not chosen yet"),
        },
        Stage::Brick if has(&laid::BRICK_X_MM) => {
            let sizes = [&laid::BRICK_X_MM, &laid::BRICK_Y_MM, &laid::BRICK_Z_MM];
            let whole: Vec<String> =
                sizes.into_iter().filter_map(|def| workspace.ledger.value(def)).map(|mm| format!("{mm:.0}")).collect();
            Phrase::words(format!("{} mm", whole.join(" × ")))
        }
        Stage::Brick if has(&brick::LINK_LIMIT_A) => say("strips rated {strip.limit_a}", &[]),
        Stage::Brick if workspace.ready().is_some() => Phrase::words("comes as a whole"),
        Stage::Brick if matches!(workspace.pack.strip, Choice::None) => Phrase::words("without strips"),
        Stage::Brick => Phrase::words("no strips yet"),
        Stage::Protection if has(&protection::FUSE_A) && has(&protection::BOARD_A) => {
            say("{board.continuous_a} board, {fuse.rating_a} fuse", &[])
        }
        Stage::Protection if has(&protection::FUSE_A) => say("{fuse.rating_a} fuse", &[]),
        Stage::Protection if workspace.any_board().is_some() => Phrase::words("board, no fuse"),
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
