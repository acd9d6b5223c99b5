//! Wires, connectors and parts between pack, device and charger: from the pack outwards, one lead at a time.

use super::making::Making;
use super::step::{BuildAsk, BuildStep, Counts, Expects, Phase};
use crate::base::quantity::{Unit, show};
use crate::physics::wiring::size_name;
use crate::plan::{Connection, Converter, Node, NodeKind, Part, Step as On};

const ONE_LEAD: &str = "One lead at a time. The other stays covered until this one is soldered, sleeved and tied down.";
/// How far a set-point may be off. Common practice, no source: what a trimmer can be turned to.
const SET_WITHIN: f64 = 0.01;

pub(super) fn steps(making: &Making<'_>) -> Vec<BuildStep> {
    let mut steps: Vec<BuildStep> = vec![];
    let mut charge: Vec<On<'_>> = making.workspace.charge_path.steps.clone();
    // From the pack outwards on both sides.
    charge.reverse();
    for on in making.workspace.line.steps.iter().chain(&charge) {
        let made = match on {
            On::Node(node) => fitted(making, node),
            On::Connection(wire) => soldered(making, wire),
        };
        if let Some(step) = made.filter(|step| steps.iter().all(|s| s.key != step.key)) {
            steps.push(step);
        }
    }
    steps
}

fn fitted(making: &Making<'_>, node: &Node) -> Option<BuildStep> {
    let part = node.part.part()?;
    let name = &part.offer().name;
    let key = format!("fit/{}", node.id);
    let fit = |title: String, why: &str| BuildStep::new(Phase::Leads, key.clone(), title, why).shows([node.id.clone()]);
    Some(match (node.kind, part) {
        // It has its own steps, or stands outside the device.
        (NodeKind::Board | NodeKind::Charger | NodeKind::Supply | NodeKind::Pack | NodeKind::Device, _) => return None,
        (NodeKind::Converter, Part::Module { module }) => converter(making, node, name, module.converts.as_ref()?),
        (NodeKind::CutOff, Part::Module { module }) => {
            let at_v = module.cuts_off.as_ref()?.at_v;
            fit(
                format!("Fit {name}, set to {}", show(at_v, Unit::V)),
                "Its setting is the lowest voltage the cells will ever see.",
            )
            .how([
                "Set and read on a supply before, as it was tested on arrival; its screw fixed with a drop of varnish.",
                "IN on the pack’s side, OUT towards the device.",
            ])
            .asks(vec![BuildAsk::yes("held", "Set, screw fixed, IN towards the pack, nothing pinched?")])
            .if_not("Set it on a supply first: on the pack it would take a whole discharge to see.")
        }
        (NodeKind::Fuse, _) => fit(
            format!("Fit the fuse holder for {name}, empty"),
            "As near to pack plus as it goes: the wire before it has nothing to end a short.",
        )
        .how(["Leave the fuse out until everything has been read.", "Cover the pack’s side of the holder."])
        .asks(vec![BuildAsk::yes("empty", "Holder firm, fuse still out?")])
        .if_not("Take the fuse out before you go on."),
        (NodeKind::Jack, _) => {
            fit(format!("Fit {name} in its opening"), "Lock nut and sleeve do not go over a soldered plug.")
                .how([
                    "Feed the leads through the opening first.",
                    "Lock nut and shrink sleeve onto the leads before soldering.",
                    "Plus and minus as its drawing says; write down which is inside.",
                ])
                .asks(vec![BuildAsk::yes("insulated", "Turned once: no pin touches the housing or another pin?")])
                .if_not("Move the pins apart and sleeve each one.")
        }
        (NodeKind::Connector, _) => {
            fit(format!("Fit {name}"), "The half that stays live has its contacts covered when it is unplugged.")
                .how([
                    "Socket on the pack’s side, pins on the other.",
                    "Red to plus on both halves, before they are plugged together.",
                ])
                .asks(vec![BuildAsk::yes("sides", "Plus on plus on both halves, read with the meter?")])
                .if_not("Take it apart and wire it again; do not plug it in.")
        }
        (NodeKind::Switch, _) => {
            fit(format!("Fit {name}, switched off"), "Everything behind it stays dead until it is meant to be live.")
                .asks(vec![BuildAsk::yes("off", "Off: no continuity through it? On: continuity?")])
                .if_not("Turn it round or replace it.")
        }
        _ => fit(format!("Fit {name}"), "Where the plan has it, insulated and held.")
            .asks(vec![BuildAsk::yes("held", "Held, insulated, nothing pinched?")])
            .if_not("Hold it down before you go on."),
    })
}

/// A converter is set on a bench supply before anything hangs behind it.
fn converter(making: &Making<'_>, node: &Node, name: &str, converts: &Converter) -> BuildStep {
    let set_v = converts.output_v;
    let within = set_v * SET_WITHIN + making.predicted.error_v(set_v);
    let expects = Expects::Band {
        low: Some(set_v - within),
        high: Some(set_v + within),
        unit: Unit::V,
        because: "the set-point of the plan within 1 %, with the error of the meter".to_owned(),
    };
    BuildStep::new(
        Phase::Leads,
        format!("fit/{}", node.id),
        format!("Set {name} to {} before it is wired", show(set_v, Unit::V)),
        "Many come set to another voltage; the device would get that at once.",
    )
    .how([
        "On a current-limited bench supply at the pack’s nominal voltage, nothing on its output.",
        "Turn it to the set-point, wait a minute, read again.",
        "Fix the screw with a drop of varnish.",
    ])
    .tools(&["bench supply", "meter, voltage", "screwdriver"])
    .asks(vec![
        BuildAsk::read("set", "output of the converter", ["OUT+", "OUT−"], expects)
            .counts(Counts::Figure { place: node.id.clone(), at: "/part/part/module/converts/set_point_v".to_owned() }),
    ])
    .if_not("It does not turn or does not hold: it is broken or for another voltage. Do not wire it in.")
    .shows([node.id.clone()])
}

fn soldered(making: &Making<'_>, wire: &Connection) -> Option<BuildStep> {
    let part = wire.wire.part()?;
    let word = |id: &str| {
        making.plan.node(id).map_or_else(
            || id.to_owned(),
            |n| n.part.part().map_or_else(|| n.kind.word().to_owned(), |p| p.offer().name.clone()),
        )
    };
    let length = wire.length_mm.map_or_else(String::new, |mm| format!(", {}", show(mm, Unit::Mm)));
    Some(
        BuildStep::new(
            Phase::Leads,
            format!("lead/{}", wire.id),
            format!("Lead from {} to {}", word(&wire.from), word(&wire.to)),
            "A joint that is pulled now does not open in use.",
        )
        .how([
            format!("{}{length}, both poles.", size_name(&part.size)),
            "Shrink sleeve on the lead first. Heat only the tab or the pin, not the cell.".to_owned(),
            "Sleeve over the joint, tie the lead down within a hand’s width.".to_owned(),
        ])
        .tools(&["soldering iron", "shrink sleeve", "ties"])
        .hazard(ONE_LEAD)
        .asks(vec![BuildAsk::yes("pulled", "Both joints hold a pull, sleeved and tied down?")])
        .if_not("Solder it again before the next lead is bared.")
        .shows([wire.id.clone()]),
    )
}
