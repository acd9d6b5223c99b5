//! The one next step of a plan: what makes later work void first, then what the order of the work asks for.

use serde::Serialize;
use utoipa::ToSchema;

use super::finding::{Finding, Severity};
use super::report::{StageReport, decided};
use super::stage::Stage;
use super::workspace::Workspace;
use crate::plan::{Choice, NodeKind};

/// What kind of step it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NextKind {
    /// A stop is to be cleared.
    ClearStop,
    /// Something is to be measured or read.
    Measure,
    /// A part or a value is to be chosen.
    Choose,
    /// A caution is to be cleared or accepted.
    Decide,
    /// The plan is done: it is built.
    Build,
}

/// The step that comes next.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct NextStep {
    /// What kind of step.
    pub kind: NextKind,
    /// What to do.
    pub says: String,
    /// What it settles; absent where that is plain.
    pub settles: Option<String>,
    /// The stage it is done in; absent for the build.
    pub stage: Option<Stage>,
    /// Where it is done, as a pointer into the plan.
    pub at: Option<String>,
    /// Key of the finding it is about.
    pub finding: Option<String>,
}

/// The next step of a plan as it stands.
///
/// Stage by stage, in the order of the work: without a voltage range nothing later holds, so that is measured first; then a stop is cleared,
/// then what the stage decides is chosen. Once all is chosen and no stop is left come the open questions, then the cautions, then the build.
pub fn next_step(workspace: &Workspace<'_>, stages: &[StageReport], findings: &[Finding]) -> NextStep {
    let open = |severity| move |f: &&Finding| f.severity == severity && f.accepted.is_none() && f.follows.is_none();
    for report in stages {
        let stop = findings.iter().filter(open(Severity::Stop)).find(|f| f.stage == report.stage);
        if let Some(stop) = stop {
            return of_finding(NextKind::ClearStop, stop);
        }
        if !decided(workspace, report.stage) {
            return choose(workspace, report);
        }
    }
    // A consequence whose cause is accepted stands for itself.
    let stop = findings.iter().find(|f| f.severity == Severity::Stop && f.accepted.is_none());
    if let Some(stop) = stop {
        return of_finding(NextKind::ClearStop, stop);
    }
    if let Some((stage, question)) = stages.iter().find_map(|r| Some((r.stage, r.to_find_out.first()?))) {
        return NextStep {
            kind: NextKind::Measure,
            says: question.what.clone(),
            settles: Some(question.settles.clone()),
            stage: Some(stage),
            at: Some(question.at.clone()),
            finding: None,
        };
    }
    match findings.iter().find(open(Severity::Caution)) {
        Some(caution) => of_finding(NextKind::Decide, caution),
        None => NextStep {
            kind: NextKind::Build,
            says: "Buy the parts and begin the build".to_owned(),
            settles: None,
            stage: None,
            at: None,
            finding: None,
        },
    }
}

fn of_finding(kind: NextKind, finding: &Finding) -> NextStep {
    let verb = if kind == NextKind::ClearStop { "Clear the stop" } else { "Clear or accept" };
    NextStep {
        kind,
        says: format!("{verb}: {}", finding.title.text),
        settles: None,
        stage: Some(finding.stage),
        at: None,
        finding: Some(finding.key.clone()),
    }
}

/// What a stage whose decision is open asks for first.
fn choose(workspace: &Workspace<'_>, report: &StageReport) -> NextStep {
    let (says, at) = match report.stage {
        Stage::Device => return survey(report),
        Stage::Voltage => ("Choose the voltage".to_owned(), "/packs/0/chemistry".to_owned()),
        Stage::Cells if workspace.cell().is_none() => ("Choose the cells".to_owned(), "/packs/0/cell".to_owned()),
        Stage::Cells => ("Choose how many cells in parallel".to_owned(), "/packs/0/parallel".to_owned()),
        Stage::Brick => ("Choose the strips".to_owned(), "/packs/0/strip".to_owned()),
        Stage::Protection => {
            let (word, kind) =
                if workspace.is_open(NodeKind::Board) { ("board", NodeKind::Board) } else { ("fuse", NodeKind::Fuse) };
            (format!("Choose the {word}"), workspace.pointer(kind) + "/part")
        }
        Stage::Charging => ("Choose the charger".to_owned(), workspace.pointer(NodeKind::Charger) + "/part"),
        Stage::Wiring => {
            let open = workspace.plan.connections.iter().position(|r| matches!(r.wire, Choice::Undecided));
            ("Choose the wires".to_owned(), format!("/runs/{}/wire", open.unwrap_or(0)))
        }
        Stage::Run => return survey(report),
    };
    NextStep { kind: NextKind::Choose, says, settles: None, stage: Some(report.stage), at: Some(at), finding: None }
}

/// What must be known of the device before anything can be chosen: what it was made for, then what it draws.
fn survey(report: &StageReport) -> NextStep {
    const FIRST: [&str; 5] = [
        "/device/original/chemistry",
        "/device/original/series",
        "/device/highest_v",
        "/device/lowest_v",
        "/device/loads",
    ];
    let question = FIRST.iter().find_map(|at| report.to_find_out.iter().find(|q| q.at == *at));
    let (says, settles, at) = match question.or(report.to_find_out.first()) {
        Some(q) => (q.what.clone(), Some(q.settles.clone()), q.at.clone()),
        None => ("Say what the device draws".to_owned(), None, "/device/loads".to_owned()),
    };
    NextStep { kind: NextKind::Measure, says, settles, stage: Some(Stage::Device), at: Some(at), finding: None }
}
