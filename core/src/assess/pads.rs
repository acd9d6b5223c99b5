//! Every board and module as one thing with its pads: which wire goes to which, and what a meter reads there before it is connected.

use serde::Serialize;
use utoipa::ToSchema;

use super::Workspace;
use super::figures::voltage::CELL_NOMINAL_V;
use crate::base::quantity::{Unit, show};
use crate::plan::{Bms, Contact, ContactKind, HostCircuit, Module, Node, NodeKind, Port, Sits};

/// The side of a module that a pad belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PadSide {
    /// Towards the cells.
    Cells,
    /// Towards what is fed.
    Output,
    /// Towards what feeds it.
    Input,
}

/// A pad or terminal.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Pad {
    /// As it is printed on most boards.
    pub name: String,
    /// Where its wire goes.
    pub to: String,
    /// Its side.
    pub side: PadSide,
    /// What a meter read there already, in words.
    pub read: String,
    /// What the wire has against pack minus at rest, before it is connected: sums of the groups as read, else nominal.
    pub rest_v: Option<f64>,
}

/// A module with its pads, in the order of most boards.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ThingPads {
    /// The place that has it.
    pub node: String,
    /// Its name.
    pub name: String,
    /// What it does here, in words.
    pub does: Vec<&'static str>,
    /// Where it sits.
    pub sits: Option<Sits>,
    /// Its pads.
    pub pads: Vec<Pad>,
}

/// Every module of a plan once, whatever it does at how many places.
pub fn things(workspace: &Workspace<'_>) -> Vec<ThingPads> {
    let plan = workspace.plan;
    let once = plan.nodes.iter().enumerate().filter(|(i, _)| !plan.is_seen_before(*i));
    once.filter_map(|(_, node)| thing(workspace, node, node.module()?)).chain(device(workspace)).collect()
}

/// The device by its own contacts, where any were entered.
fn device(workspace: &Workspace<'_>) -> Option<ThingPads> {
    let device = &workspace.plan.device;
    let node = workspace.plan.nodes.iter().find(|n| n.kind == NodeKind::Device)?;
    let pads: Vec<Pad> = device.contacts.iter().map(|contact| contact_pad(workspace, contact)).collect();
    let thing =
        ThingPads { node: node.id.clone(), name: "Device".to_owned(), does: vec!["contacts"], sits: None, pads };
    (!thing.pads.is_empty()).then_some(thing)
}

/// Which wire goes to a contact of the device. What nothing is planned for stays open, and insulated.
fn contact_pad(workspace: &Workspace<'_>, contact: &Contact) -> Pad {
    let pins = &workspace.plan.device.electronics;
    let hosted = workspace.plan.charging.host == Some(HostCircuit::ChargesPack);
    let old = contact.old_battery_ohm.as_ref().map(|ohm| show(ohm.value, Unit::Ohm));
    let fed_v = workspace.converter().map(|(_, converter)| converter.output_v).or(pack_v(workspace));
    let (to, rest_v) = match contact.kind {
        Some(ContactKind::BatteryPlus) => ("plus of the load, last".to_owned(), fed_v),
        Some(ContactKind::BatteryMinus) => ("minus of the load".to_owned(), fed_v.map(|_| 0.0)),
        Some(ContactKind::Charge) if hosted => ("charge input of the pack".to_owned(), None),
        Some(ContactKind::Sense) if pins.temperature_pins == Some(true) => {
            ("temperature sensor on the cells, its other end to minus".to_owned(), None)
        }
        Some(ContactKind::Sense) if pins.identity_pins == Some(true) => {
            (old.map_or("what the old battery had there".to_owned(), |ohm| format!("{ohm} to minus")), None)
        }
        Some(ContactKind::Sense) if pins.identity_pins.or(pins.temperature_pins).is_none() => {
            ("not decided: what the old battery had there, or nothing".to_owned(), None)
        }
        _ => ("nothing: insulate it".to_owned(), None),
    };
    let read: Vec<String> =
        contact.volts().map(|(when, read)| format!("{} {when}", show(read.value, Unit::V))).collect();
    Pad { name: contact.name.clone(), to, side: PadSide::Input, read: read.join(", "), rest_v }
}

fn thing(workspace: &Workspace<'_>, node: &Node, module: &Module) -> Option<ThingPads> {
    let charger = module.charges.as_ref().filter(|c| !c.own_supply && c.balance_a.is_none());
    let mut does = vec![];
    let mut pads = vec![];
    if charger.is_some() {
        does.push("charges");
        pads.extend(pair("IN", "the jack", PadSide::Input, None));
    }
    if let Some(board) = &module.protects {
        does.push("protects");
        pads.extend(cell_pads(workspace, board));
        pads.extend(board_outputs(workspace, node, board, charger.is_some()));
    } else if charger.is_some() {
        pads.extend(pair("B", "the pack", PadSide::Cells, pack_v(workspace)));
    }
    if let Some(converts) = &module.converts {
        does.push("converts");
        if pads.is_empty() {
            pads.extend(pair("IN", "the battery, after its switch", PadSide::Input, pack_v(workspace)));
        }
        pads.retain(|p| p.side != PadSide::Output);
        pads.extend(pair("OUT", "the device", PadSide::Output, Some(converts.output_v)));
    }
    if let Some(cuts) = &module.cuts_off {
        does.push("cuts off");
        if pads.is_empty() {
            pads.extend(pair("IN", "the pack", PadSide::Cells, pack_v(workspace).map(|v| v.max(cuts.at_v))));
            pads.extend(pair("OUT", "the device", PadSide::Output, None));
        }
    }
    if pads.is_empty() {
        return None;
    }
    let sits = node.sits.or((node.kind == NodeKind::Charger).then(|| workspace.charger_sits()));
    Some(ThingPads { node: node.id.clone(), name: module.offer.name.clone(), does, sits, pads })
}

/// Plus and minus of one side.
fn pair(name: &str, to: &str, side: PadSide, rest_v: Option<f64>) -> [Pad; 2] {
    let minus_v = rest_v.map(|_| 0.0);
    [("−", "minus", minus_v), ("+", "plus", rest_v)].map(|(sign, word, rest_v)| Pad {
        name: format!("{name}{sign}"),
        to: format!("{word} of {to}"),
        side,
        read: String::new(),
        rest_v,
    })
}

/// B− to pack minus, the taps from the lowest group up, B+ to pack plus.
fn cell_pads(workspace: &Workspace<'_>, board: &Bms) -> Vec<Pad> {
    let Some(series) = board.series.or(workspace.pack.series) else { return vec![] };
    let tap = |k: u32| {
        let (name, to) = match k {
            0 => ("B−".to_owned(), "pack minus".to_owned()),
            k if k == series => ("B+".to_owned(), "pack plus".to_owned()),
            k => (format!("B{k}"), format!("between group {k} and {}", k + 1)),
        };
        Pad { name, to, side: PadSide::Cells, read: String::new(), rest_v: tap_v(workspace, k) }
    };
    (0..=series).map(tap).collect()
}

/// What leads away from a board: to the load, or, where it sits on the charge side only, to the jack alone.
fn board_outputs(workspace: &Workspace<'_>, node: &Node, board: &Bms, charges: bool) -> Vec<Pad> {
    let feeds = workspace.line.nodes.iter().any(|n| n.id == node.id);
    let own = |name: &str, to: &str| Pad {
        name: name.to_owned(),
        to: to.to_owned(),
        side: PadSide::Output,
        read: String::new(),
        rest_v: None,
    };
    if charges {
        return vec![own("OUT−", "minus of the load"), own("OUT+", "plus of the load")];
    }
    match (feeds, board.port) {
        (false, _) => vec![own("P−", "minus of the jack; the load stays on pack minus"), own("P+", "plus of the jack")],
        (true, Some(Port::Separate)) => vec![
            own("P−", "minus of the load"),
            own("C−", "minus of the jack"),
            own("P+", "plus of load and jack, with B+"),
        ],
        (true, _) => vec![own("P−", "minus of load and jack"), own("P+", "plus of load and jack, with B+")],
    }
}

/// Voltage of a tap above pack minus: the groups below it as read, where all were, else nominal.
fn tap_v(workspace: &Workspace<'_>, tap: u32) -> Option<f64> {
    let read = &workspace.pack.group_v;
    if workspace.pack.series == u32::try_from(read.len()).ok() && !read.is_empty() {
        return Some(read.iter().take(tap as usize).map(|known| known.value).sum());
    }
    Some(f64::from(tap) * workspace.ledger.value(&CELL_NOMINAL_V)?)
}

fn pack_v(workspace: &Workspace<'_>) -> Option<f64> {
    tap_v(workspace, workspace.pack.series?)
}
