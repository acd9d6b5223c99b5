//! In which order a brick is welded, so that every face that is not being welded is covered.

use serde::Serialize;
use utoipa::ToSchema;

use super::drawing::{Drawing, Face, LeadKind};
use super::grid::Form;
use super::laid::Laid;

/// What a step is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StepKind {
    /// Meter and insulate the cells.
    Prepare,
    /// Seat the cells of a layer.
    Seat,
    /// Cover every face.
    Cover,
    /// Bare one face.
    Bare,
    /// Weld strips on it.
    Weld,
    /// Put wires on it.
    Wire,
    /// Put layers on one another.
    Stack,
}

/// One step.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WeldStep {
    /// What it is.
    pub kind: StepKind,
    /// What to do, in words.
    pub what: String,
    /// The face it is done on, as its place in the drawing.
    pub face: Option<usize>,
    /// Strips welded in it, by their numbers on that face.
    pub strips: Vec<usize>,
    /// Nodes whose wires are put on in it.
    pub nodes: Vec<usize>,
    /// Which faces are bare while it is done.
    pub bare: Vec<usize>,
}

/// The steps of a brick, in order.
///
/// On each face first the strips along the groups, whose terminals have one potential, then those from group to group
/// from pack minus up, then the wires; the ends of the pack come last, one at a time. Common practice, no source.
pub fn steps(laid: &Laid<'_>, drawing: &Drawing) -> Vec<WeldStep> {
    let step = |kind, what: String| WeldStep { kind, what, face: None, strips: vec![], nodes: vec![], bare: vec![] };
    let mut found = vec![step(
        StepKind::Prepare,
        match laid.grid.form {
            Form::Round => {
                "Read every cell: those of a group within 0.05 V of each other. Put an insulating ring on each plus end.".to_owned()
            }
            Form::Flat => {
                "Read every cell: those of a group within 0.05 V of each other. Tape over every tab.".to_owned()
            }
        },
    )];
    for layer in 0..laid.grid.counts[2] {
        let faces: Vec<(usize, &Face)> = drawing.faces.iter().enumerate().filter(|(_, f)| f.layer == layer).collect();
        let name = if laid.grid.counts[2] > 1 { format!(" of layer {}", layer + 1) } else { String::new() };
        let sheet = " Sheet between groups.";
        found.push(step(
            StepKind::Seat,
            match laid.grid.form {
                Form::Round => {
                    format!("Place the cells{name} as the top shows them: round is plus, square is minus.{sheet}")
                }
                Form::Flat => {
                    format!("Stack the cells{name} as drawn, tabs to one side: round is plus, square is minus.{sheet}")
                }
            },
        ));
        found.push(step(StepKind::Cover, format!("Cover every face{name} with a sheet; tape it down.")));
        for (index, face) in faces {
            let on = |kind, what: String, strips: Vec<usize>, nodes: Vec<usize>| WeldStep {
                kind,
                what,
                face: Some(index),
                strips,
                nodes,
                bare: vec![index],
            };
            let place = place_of(face);
            let turn = if face.turned { "Turn the brick over from left to right. " } else { "" };
            found.push(on(StepKind::Bare, format!("{turn}Bare {place} only."), vec![], vec![]));
            let mut along: Vec<_> = face.strips.iter().filter(|s| !s.carries).collect();
            along.sort_by_key(|s| s.node);
            if !along.is_empty() {
                let what = format!("Weld the strips along the groups on {place}: they join points of one potential.");
                found.push(on(StepKind::Weld, what, along.iter().map(|s| s.strip).collect(), vec![]));
            }
            for node in 0..drawing.nodes.len() {
                let across: Vec<_> = face.strips.iter().filter(|s| s.carries && s.node == node).collect();
                if !across.is_empty() {
                    let from = across.iter().map(|s| s.joins.join("–")).collect::<Vec<_>>().join(", ");
                    let what = format!("Weld B{node} across, from group {node} to group {}: {from}.", node + 1);
                    found.push(on(StepKind::Weld, what, across.iter().map(|s| s.strip).collect(), vec![]));
                }
            }
            let taps: Vec<usize> = face.leads.iter().filter(|l| l.kind == LeadKind::Tap).map(|l| l.node).collect();
            if !taps.is_empty() {
                let names = taps.iter().map(|n| format!("B{n}")).collect::<Vec<_>>().join(", ");
                let what = format!("Put the tap {names} on {place}, one wire at a time; insulate its free end first.");
                found.push(on(StepKind::Wire, what, vec![], taps));
            }
            found.push(step(StepKind::Cover, format!("Cover {place}.")));
        }
    }
    if laid.grid.counts[2] > 1 {
        found.push(step(
            StepKind::Stack,
            "Put the layers on top of each other with a sheet between them, all faces covered.".to_owned(),
        ));
    }
    for (kind, first, words) in [
        (LeadKind::Joint, "Join by wire", "the two pieces of"),
        (LeadKind::Minus, "Put the wire of pack minus on", ""),
        (LeadKind::Plus, "Put the wire of pack plus on", ""),
    ] {
        for (index, face) in drawing.faces.iter().enumerate() {
            for lead in face.leads.iter().filter(|l| l.kind == kind) {
                let what = format!("{first} {words} B{}, on {}; then cover it.", lead.node, place_of(face));
                found.push(WeldStep {
                    kind: StepKind::Wire,
                    what: what.replace("  ", " "),
                    face: Some(index),
                    strips: vec![],
                    nodes: vec![lead.node],
                    bare: vec![index],
                });
            }
        }
    }
    found
}

fn place_of(face: &Face) -> String {
    let title = face.title.split(',').next().unwrap_or_default();
    format!("the {}{}", title[..1].to_lowercase(), &title[1..])
}
