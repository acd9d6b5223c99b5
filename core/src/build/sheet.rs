//! The sheet of a build: its steps in order.

use super::event::BuildEvent;
use super::making::Making;
use super::predict::Predicted;
use super::step::{BuildSheet, BuildStep, Phase, Undecided};
use super::{apart, arrival, board, brick, cells, first_charge, first_power, hand_over, leads};
use crate::advise::prove::proofs;
use crate::assess::{assess, at_workspace};
use crate::base::severity::Severity;
use crate::plan::{FieldError, NodeKind, Plan};

/// The sheet of a plan. What is predicted rests on the groups as they were read in the build, where they were.
///
/// A phase begins when the one before it is through; within a phase the steps go one after the other, but for tests on arrival
/// and disassembly, which wait for nothing. Common practice, no source. Refuses a plan that cannot stand.
pub fn sheet(plan: &Plan, events: &[BuildEvent]) -> Result<BuildSheet, Vec<FieldError>> {
    let assessment = assess(plan)?;
    let stops =
        assessment.findings.iter().filter(|f| f.severity == Severity::Stop).map(|f| f.title.text.clone()).collect();
    let predicted = Predicted::of(plan, events)?;
    let proofs = proofs(plan, &assessment);
    at_workspace(plan, |workspace| {
        let making = Making { workspace, plan, predicted, proofs };
        let steps = in_order(vec![
            apart::steps(&making),
            arrival::steps(&making),
            cells::steps(&making),
            brick::steps(&making),
            board::steps(&making),
            leads::steps(&making),
            first_power::steps(&making),
            first_charge::steps(&making),
            hand_over::steps(&making),
        ]);
        BuildSheet { plan: plan.name.clone(), stops, undecided: undecided(&making), steps }
    })
}

/// Ties each step to those it needs: the one before it in its phase, and the end of the phases before.
fn in_order(phases: Vec<Vec<BuildStep>>) -> Vec<BuildStep> {
    let mut all: Vec<BuildStep> = vec![];
    // Everything that later phases wait for.
    let mut ends: Vec<String> = vec![];
    for mut steps in phases {
        let free = steps.first().is_some_and(|s| s.phase == Phase::Arrival);
        let mut before: Option<String> = None;
        for step in &mut steps {
            match &before {
                Some(key) if !free => step.needs.push(key.clone()),
                _ if step.phase > Phase::Arrival => step.needs.extend(ends.iter().cloned()),
                _ => {}
            }
            before = Some(step.key.clone());
        }
        if free {
            ends.extend(steps.iter().map(|s| s.key.clone()));
        } else if let Some(last) = before {
            // Nothing is joined in a device that is not open yet, but cells are read and welded on the bench.
            if steps.first().is_some_and(|s| s.phase > Phase::Arrival) {
                ends = vec![last];
            } else {
                ends.push(last);
            }
        }
        all.extend(steps);
    }
    all
}

fn undecided(making: &Making<'_>) -> Vec<Undecided> {
    let series = making.workspace.pack.series.is_none();
    let counts = series.then(|| Undecided { what: "cells in series".to_owned(), shuts: Some(Phase::Cells) });
    let nodes = making.plan.nodes.iter().filter(|n| n.part.is_open()).map(|n| {
        let shuts = match n.kind {
            NodeKind::Board | NodeKind::Fuse => Some(Phase::FirstPower),
            NodeKind::Charger => Some(Phase::FirstCharge),
            _ => None,
        };
        Undecided { what: n.kind.word().to_owned(), shuts }
    });
    counts.into_iter().chain(nodes).collect()
}
