//! The circuit of a plan with both poles of everything, as it stands in one condition.
//!
//! The graph of the plan has one line; here each wire of it is two, a board opens the minus, a switch the plus. `line` wires
//! what stands between the pack and the device, `charge` what stands between the pack and the supply of its charger, `lamps` what
//! shines outside in the place of a module's lamp.

mod charge;
mod lamps;
mod line;

use std::collections::HashMap;

use super::Condition;
use super::circuit::{Circuit, Element};
use crate::assess::Workspace;
use crate::plan::ContactKind;

/// A closed contact, a fuse, a joint of which no one stated a resistance: small enough not to count.
pub const JOINT_OHM: f64 = 1e-6;
/// What neither draws nor gives.
pub const NOTHING: Element = Element::Current { current_a: 0.0 };
/// A device or a converter that is off still ties its plus to its minus. Assumed: enough for a meter to read nothing there.
pub const OFF_OHM: f64 = 1e5;

/// The plus and the minus of one place, as nodes of the circuit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Poles {
    /// Node of the plus.
    pub plus: usize,
    /// Node of the minus.
    pub minus: usize,
}

/// What a block is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Piece {
    /// A pair of wires.
    Wire,
    /// A protection board, in the minus.
    Board,
    /// A fuse, in the plus.
    Fuse,
    /// A cut-off board, in the plus.
    CutOff,
    /// A switch, in the plus.
    Switch,
    /// A connector or a jack, in both.
    Contacts,
    /// A converter with a common minus.
    Converter,
    /// The divider of a gauge, across.
    Gauge {
        /// Node of the sense input.
        sense: usize,
    },
    /// A second pack and the contacts that set it in series or beside the first.
    Selector {
        /// Minus of the second pack.
        second: usize,
    },
    /// A change-over to the pack.
    ChangeOver {
        /// The other feed.
        mains: usize,
    },
    /// A panel meter, across.
    Meter,
    /// A lamp that hangs on the pads of a module's own.
    Lamp {
        /// Node of the pad that the module switches.
        pad: usize,
        /// Whether its other contact is on the plus.
        on_plus: bool,
    },
    /// The device.
    Device,
    /// The charger.
    Charger,
    /// What feeds the charger.
    Supply,
}

/// Where a block stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// Between the pack and the device.
    Load,
    /// Between the pack and the supply of its charger.
    Charge,
}

/// One thing that the current passes, from the pack's side to the other.
#[derive(Debug, Clone, PartialEq)]
pub struct Block {
    /// Id of its node or run; a word for what the graph has none of.
    pub id: String,
    /// What it is.
    pub piece: Piece,
    /// Its name in a word.
    pub title: &'static str,
    /// Which one.
    pub detail: String,
    /// Where it stands.
    pub side: Side,
    /// Whether its part is still to be chosen.
    pub undecided: bool,
    /// Whether it lets nothing through now.
    pub open: bool,
    /// Its poles on the pack's side.
    pub from: Poles,
    /// Its poles on the other side.
    pub to: Poles,
    /// The element whose current is its current.
    pub through: Option<usize>,
    /// Whether it is closed and no one stated its resistance, so that what it loses is not known.
    pub loses_unknown: bool,
}

/// Elements that are set again until the circuit is at rest with itself.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Live {
    /// Of the device.
    pub device: Option<usize>,
    /// Input and output of the converter.
    pub converter: Option<(usize, usize)>,
    /// Contact of the change-over.
    pub change: Option<usize>,
    /// Output of the charger, and its input.
    pub charger: Option<(usize, usize)>,
}

/// The circuit with what its nodes and elements are.
#[derive(Debug, Clone, PartialEq)]
pub struct Wired {
    /// Its resistances and sources.
    pub circuit: Circuit,
    /// Name of each node.
    pub names: Vec<String>,
    /// Nodes B0 to BS.
    pub taps: Vec<usize>,
    /// Every block, in the order of the current away from the pack: the line first, then the charge.
    pub blocks: Vec<Block>,
    /// Where the charge joins the line: behind the board, or at the pack.
    pub charge_from: Option<Poles>,
    /// Block of the line that the charge joins behind, where that is neither.
    pub charge_behind: Option<String>,
    /// Elements to be set again.
    pub live: Live,
    /// Plus and minus of the device in words, with the maker's own word for each.
    pub device_says: [String; 2],
}

/// What the groups are at rest.
#[derive(Debug, Clone, PartialEq)]
pub struct Rest {
    /// Of each group, from pack minus.
    pub group_v: Vec<f64>,
    /// Resistance of a group with its strips.
    pub group_ohm: f64,
    /// Of the second pack, with its resistance.
    pub second: Option<(f64, f64)>,
}

/// Wires a plan in a condition. `in_series` says how a second pack is set.
pub fn wire(workspace: &Workspace<'_>, rest: &Rest, condition: Condition, in_series: bool) -> Wired {
    let mut w = Builder {
        workspace,
        condition,
        wired: Wired::empty(),
        behind_node: HashMap::new(),
        behind_run: HashMap::new(),
    };
    w.pack(rest);
    w.line(rest, in_series);
    w.charge();
    w.wired.device_says =
        [("plus", ContactKind::BatteryPlus), ("minus", ContactKind::BatteryMinus)].map(|(pole, kind)| {
            let own = workspace.plan.device.contact(kind).map_or(String::new(), |c| format!(", “{}”", c.name));
            format!("{pole} of the device{own}")
        });
    w.wired
}

struct Builder<'b> {
    workspace: &'b Workspace<'b>,
    condition: Condition,
    wired: Wired,
    /// Poles behind each node of the line.
    behind_node: HashMap<String, Poles>,
    /// Poles behind each run of the line.
    behind_run: HashMap<String, Poles>,
}

impl Wired {
    fn empty() -> Wired {
        Wired {
            circuit: Circuit::default(),
            names: vec![],
            taps: vec![],
            blocks: vec![],
            charge_from: None,
            charge_behind: None,
            live: Live::default(),
            device_says: [String::new(), String::new()],
        }
    }

    /// Both poles of the pack.
    pub fn pack(&self) -> Poles {
        Poles { plus: self.taps[self.taps.len() - 1], minus: self.taps[0] }
    }

    /// The board, wherever it stands.
    pub fn board(&self) -> Option<&Block> {
        self.blocks.iter().find(|b| b.piece == Piece::Board)
    }

    /// Whether something feeds the charger: its supply, or a jack for one.
    pub fn is_fed(&self) -> bool {
        self.side(Side::Charge).skip_while(|b| b.piece != Piece::Charger).nth(1).is_some()
    }

    /// The blocks of one side, in their order from the pack.
    pub fn side(&self, side: Side) -> impl Iterator<Item = &Block> {
        self.blocks.iter().filter(move |b| b.side == side)
    }
}

impl Builder<'_> {
    fn node(&mut self, name: impl Into<String>) -> usize {
        self.wired.names.push(name.into());
        self.wired.circuit.node()
    }

    fn join(&mut self, a: usize, b: usize, ohm: f64) -> usize {
        self.wired.circuit.put(a, b, Element::Resistance { ohm: ohm.max(JOINT_OHM) })
    }

    fn pack(&mut self, rest: &Rest) {
        let series = rest.group_v.len();
        for k in 0..=series {
            let pole = match k {
                0 => ", pack minus",
                k if k == series => ", pack plus",
                _ => "",
            };
            let tap = self.node(format!("B{k}{pole}"));
            self.wired.taps.push(tap);
        }
        let ohm = rest.group_ohm.max(JOINT_OHM);
        for (k, &emf_v) in rest.group_v.iter().enumerate() {
            let (plus, minus) = (self.wired.taps[k + 1], self.wired.taps[k]);
            self.wired.circuit.put(plus, minus, Element::Source { emf_v, ohm });
        }
    }

    fn block(&mut self, block: Block) -> Poles {
        let to = block.to;
        self.wired.blocks.push(block);
        to
    }
}
