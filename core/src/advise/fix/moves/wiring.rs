//! What is worth trying for findings about wires, connectors and switches.

use super::{At, Move, cell, put, these, thicker};
use crate::assess::Assessment;
use crate::assess::rule;
use crate::base::quantity::{Unit, show};
use crate::plan::{NodeKind, Plan, StateName, Step};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::wiring::PLUGS_SWAP => vec![put("/wiring/plugs_swap", false, "Plugs of two kinds, or a switch")],
        rule::wiring::NO_STRAIN_RELIEF => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::wiring::METER_NOT_ISOLATED => {
            vec![put("/wiring/meter_isolated", true, "Give the meter its own supply")]
        }
        rule::wiring::TAP_ORDER => {
            vec![put("/wiring/taps/order_read", true, "I have read every pin against pack minus")]
        }
        rule::wiring::CHARGE_WIRE => these(&[thicker(at.finding.subject())]),
        rule::wiring::WIRE_OVER_CURRENT | rule::wiring::WIRE_OVER_PEAK | rule::wiring::THINNER_THAN_BEFORE => {
            these(&[thicker(at.finding.subject())])
        }
        rule::wiring::DROP | rule::wiring::DROP_BELOW_DEVICE => {
            let behind = at.finding.subject() == "behind"
                || at.assessment.figure("output.arrives_v").is_some()
                    && at.finding.subject().is_empty()
                    && at.finding.rule == rule::wiring::DROP_BELOW_DEVICE;
            these(&[worst_run(at.plan, at.assessment, behind).as_deref().and_then(thicker)])
        }
        rule::wiring::BARE_LIVE_PINS => these(&[swap_halves(at.plan, at.finding.subject()), at.subject_part()]),
        rule::wiring::PACK_PLUG_OVER_CURRENT => these(&[larger_plug(at), cell(at.plan)]),
        rule::wiring::PACK_PLUG_BARE => {
            vec![put("/packs/0/ready/part/plug_bare", false, "I cap it, or fit a plug with covered pins")]
        }
        rule::wiring::CONNECTOR_OVER_CURRENT
        | rule::wiring::CONNECTOR_PEAK
        | rule::wiring::CONNECTOR_VOLTS
        | rule::wiring::UNKEYED
        | rule::wiring::SWITCH_OVER_CURRENT
        | rule::wiring::SWITCH_PEAK
        | rule::wiring::SWITCH_VOLTS
        | rule::wiring::SWITCH_NOT_DC => these(&[at.subject_part()]),
        _ => vec![],
    }
}

/// A plug on the pack that carries the load with a quarter to spare. Common practice, no source.
fn larger_plug(at: &At<'_>) -> Option<Move> {
    let carries_a = at.assessment.figure("load.continuous_a")?.value;
    let rated_a = (1.25 * carries_a / 5.0).ceil() * 5.0;
    let label = format!("Fit a plug for {} on it, one wire after the other", show(rated_a, Unit::A));
    Some(put("/packs/0/ready/part/plug_a", rated_a, label))
}

fn swap_halves(plan: &Plan, node: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.id == node)?;
    plan.nodes[i].connector()?;
    Some(put(format!("/nodes/{i}/part/part/connector/live_pins_bare"), false, "Swap the halves"))
}

/// The run that loses most, before or behind the converter.
fn worst_run(plan: &Plan, assessment: &Assessment, behind: bool) -> Option<String> {
    let line = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let converts = |step: &Step<'_>| matches!(step, Step::Node(n) if n.kind == NodeKind::Converter);
    let at = line.steps.iter().position(converts).unwrap_or(line.steps.len());
    let side = if behind { &line.steps[at..] } else { &line.steps[..at] };
    let runs =
        side.iter().filter_map(|step| if let Step::Connection(run) = step { Some(run.id.as_str()) } else { None });
    let drops = runs.filter_map(|id| Some((assessment.figure(&format!("wire.ohm@{id}"))?.value, id)));
    drops.max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, run)| run.to_owned())
}
