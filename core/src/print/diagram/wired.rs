//! The circuit of a plan with both poles of everything, as it stands in one condition.
//!
//! The graph of the plan has one line; here each wire of it is two, a board opens the minus, a switch the plus.

use std::collections::HashMap;

use super::Condition;
use super::circuit::{Circuit, Element};
use crate::assess::Workspace;
use crate::assess::figures::feed::CHOSEN_OHM;
use crate::assess::figures::wiring::OHM;
use crate::base::quantity::{Unit, show};
use crate::physics::gauge::Leg;
use crate::physics::wiring;
use crate::plan::{
    ChangesBy, Choice, Connection, GaugeDivider, HostCircuit, Node, NodeKind, Port, SecondPack, StateName, Step,
};

/// A closed contact, a fuse, a joint of which nobody stated a resistance: small enough not to count.
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
    /// Whether it is closed and nobody stated its resistance, so that what it loses is not known.
    pub loses_unknown: bool,
}

/// Elements that are set anew until the circuit is at rest with itself.
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
    /// Elements to be set anew.
    pub live: Live,
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

    /// Whether a node of the graph is open in this condition.
    fn is_open(&self, id: &str) -> bool {
        let state = self.condition.state();
        self.workspace.plan.states.iter().any(|s| s.name == state && s.open.iter().any(|o| o == id))
    }

    fn line(&mut self, rest: &Rest, in_series: bool) {
        let workspace = self.workspace;
        let feed = &workspace.plan.feed;
        let mut at = self.wired.pack();
        let board = workspace.line.nodes.iter().position(|n| n.kind == NodeKind::Board);
        let mut gauge = feed.gauge.as_ref();
        // What hangs on the pack day and night is joined to it before the switch.
        let early = gauge.is_some_and(|g| g.always_on == Some(true));
        let mut second = feed.second.as_ref();
        let mut passed = 0;
        for step in &workspace.line.steps {
            let guarded = board.is_none_or(|i| passed > i);
            if guarded && passed > 0 {
                if let Some(s) = second.take() {
                    at = self.selector(s, rest, in_series, at);
                }
                if early && let Some(g) = gauge.take() {
                    self.gauge(g, at);
                }
            }
            match step {
                Step::Connection(run) => at = self.run(run, at, Side::Load),
                Step::Node(node) => {
                    passed += 1;
                    match node.kind {
                        NodeKind::Converter => {
                            gauge.take().into_iter().for_each(|g| self.gauge(g, at));
                            at = self.converter(node, at);
                        }
                        NodeKind::Device => {
                            gauge.take().into_iter().for_each(|g| self.gauge(g, at));
                            at = self.at_the_device(at);
                            self.device(at);
                        }
                        NodeKind::Pack => {}
                        _ => at = self.pass(node, at, Side::Load),
                    }
                    self.behind_node.insert(node.id.clone(), at);
                }
            }
        }
    }

    /// A node in the way of the current: what it breaks, and its resistance.
    fn pass(&mut self, node: &Node, at: Poles, side: Side) -> Poles {
        let open = self.is_open(&node.id);
        let undecided = matches!(node.part, Choice::Undecided);
        let detail = node.part.part().map(|p| p.offer().name.clone()).unwrap_or_default();
        let (piece, title) = match node.kind {
            NodeKind::Board => (Piece::Board, "Board"),
            NodeKind::Fuse => (Piece::Fuse, "Fuse"),
            NodeKind::CutOff => (Piece::CutOff, "Cut-off"),
            NodeKind::Switch => (Piece::Switch, "Switch"),
            NodeKind::Jack => (Piece::Contacts, "Jack"),
            _ => (Piece::Contacts, "Plug"),
        };
        let word = title.to_lowercase();
        let to = match piece {
            Piece::Board => Poles { plus: at.plus, minus: self.node("P−") },
            Piece::Contacts => Poles {
                plus: self.node(format!("plus, far side of the {word}")),
                minus: self.node(format!("minus, far side of the {word}")),
            },
            _ => Poles { plus: self.node(format!("plus behind the {word}")), minus: at.minus },
        };
        let stated = match piece {
            Piece::Board => node.module().and_then(|m| m.protects.as_ref()?.path_ohm),
            Piece::Switch => node.switch().and_then(|s| s.contact_ohm),
            Piece::Contacts => node.connector().and_then(|c| c.contact_ohm).map(|both| both / 2.0),
            _ => None,
        };
        let ohm = stated.unwrap_or(JOINT_OHM);
        // The charger's plug is pulled whenever it does not charge.
        let open = open || node.kind == NodeKind::Jack && self.condition != Condition::Charging;
        let mut through = None;
        if !open {
            if piece != Piece::Board {
                through = Some(self.join(at.plus, to.plus, ohm));
            }
            if matches!(piece, Piece::Board | Piece::Contacts) {
                let minus = self.join(to.minus, at.minus, ohm);
                through = through.or(Some(minus));
            }
        }
        let loses_unknown = !open && stated.is_none();
        let id = node.id.clone();
        self.block(Block { id, piece, title, detail, side, undecided, open, from: at, to, through, loses_unknown })
    }

    fn block(&mut self, block: Block) -> Poles {
        let to = block.to;
        self.wired.blocks.push(block);
        to
    }

    /// The two wires of a run; joined directly they are nothing.
    fn run(&mut self, run: &Connection, at: Poles, side: Side) -> Poles {
        let undecided = matches!(run.wire, Choice::Undecided);
        let both_ohm = self.workspace.ledger.value_at(&OHM, &run.id).or_else(|| {
            // What is outside the line has no figure of its own.
            let (wire, length_mm) = (run.wire.part()?, run.length_mm?);
            Some(2.0 * wiring::wire_ohm(&wire.size, length_mm, self.workspace.plan.environment.use_max_c))
        });
        let to = match run.wire {
            Choice::None => at,
            _ => {
                let end = |id: &str| id.replace('-', " ");
                let far = match side {
                    Side::Load => end(&run.to),
                    // The input jack stands behind the module: what comes from the pack ends at the module.
                    Side::Charge
                        if self.workspace.plan.node(&run.from).is_some_and(|n| self.workspace.is_input_jack(n)) =>
                    {
                        "charger".to_owned()
                    }
                    Side::Charge => end(&run.from),
                };
                let to = Poles {
                    plus: self.node(format!("plus, wire’s end at the {far}")),
                    minus: self.node(format!("minus, wire’s end at the {far}")),
                };
                let through = self.join(at.plus, to.plus, both_ohm.unwrap_or(0.0) / 2.0);
                self.join(to.minus, at.minus, both_ohm.unwrap_or(0.0) / 2.0);
                let length = run.length_mm.map(|mm| show(mm, Unit::Mm));
                let size = run.wire.part().map(|w| wiring::size_name(&w.size));
                let detail = [size, length].into_iter().flatten().collect::<Vec<_>>().join(", ");
                let (id, piece) = (run.id.clone(), Piece::Wire);
                self.block(Block {
                    id,
                    piece,
                    title: "Wire",
                    detail,
                    side,
                    undecided,
                    open: false,
                    from: at,
                    to,
                    through: Some(through),
                    loses_unknown: false,
                })
            }
        };
        self.behind_run.insert(run.id.clone(), to);
        to
    }

    fn across(&mut self, id: &str, piece: Piece, title: &'static str, detail: String, at: Poles) -> &mut Block {
        let block = Block {
            id: id.to_owned(),
            piece,
            title,
            detail,
            side: Side::Load,
            undecided: false,
            open: false,
            from: at,
            to: at,
            through: None,
            loses_unknown: false,
        };
        let last = self.wired.blocks.len();
        self.wired.blocks.push(block);
        &mut self.wired.blocks[last]
    }

    fn gauge(&mut self, g: &GaugeDivider, at: Poles) {
        let new_ohm = self.workspace.ledger.value(&CHOSEN_OHM);
        let leg = |which: Leg, was: f64| if g.changes == which { new_ohm.unwrap_or(was) } else { was };
        let (top_ohm, bottom_ohm) = (leg(Leg::Top, g.top_ohm), leg(Leg::Bottom, g.bottom_ohm));
        let sense = self.node("sense input of the gauge");
        let through = self.join(at.plus, sense, top_ohm);
        self.join(sense, at.minus, bottom_ohm);
        if let Some(input_ohm) = g.input_ohm {
            self.join(sense, at.minus, input_ohm);
        }
        let detail = format!("{} over {}", show(top_ohm, Unit::Ohm), show(bottom_ohm, Unit::Ohm));
        self.across("gauge", Piece::Gauge { sense }, "Gauge", detail, at).through = Some(through);
    }

    /// Break before make: either the two contacts of the parallel position are closed, or the one of the series position.
    fn selector(&mut self, s: &SecondPack, rest: &Rest, in_series: bool, at: Poles) -> Poles {
        let to = Poles { plus: self.node("plus of the second pack"), minus: at.minus };
        let second = self.node("minus of the second pack");
        let (emf_v, ohm) = rest.second.unwrap_or((0.0, JOINT_OHM));
        let through = self.wired.circuit.put(to.plus, second, Element::Source { emf_v, ohm: ohm.max(JOINT_OHM) });
        // A charger for one pack cannot fill two in a row: they come apart, and each is charged by itself.
        let apart = in_series && self.condition == Condition::Charging;
        if in_series && !apart {
            self.join(at.plus, second, JOINT_OHM);
        } else if !apart {
            self.join(at.plus, to.plus, JOINT_OHM);
            self.join(second, at.minus, JOINT_OHM);
        }
        let series = s.series.or(self.workspace.pack.series).map(|n| format!("{n} groups, "));
        let set = match (apart, in_series) {
            (true, _) => "apart, charged by itself",
            (_, true) => "set in series",
            _ => "set in parallel",
        };
        let detail = format!("{}{set}", series.unwrap_or_default());
        let id = "second-pack".to_owned();
        let piece = Piece::Selector { second };
        let (side, undecided, open) = (Side::Load, false, apart);
        let through = Some(through);
        let loses_unknown = false;
        let title = "Second pack";
        self.block(Block { id, piece, title, detail, side, undecided, open, from: at, to, through, loses_unknown })
    }

    fn converter(&mut self, node: &Node, at: Poles) -> Poles {
        let to = Poles { plus: self.node("output of the converter"), minus: at.minus };
        let input = self.join(at.plus, at.minus, OFF_OHM);
        let output = self.wired.circuit.put(to.plus, to.minus, Element::Source { emf_v: 0.0, ohm: JOINT_OHM });
        self.wired.live.converter = Some((input, output));
        let detail = node.part.part().map(|p| p.offer().name.clone()).unwrap_or_default();
        self.block(Block {
            id: node.id.clone(),
            piece: Piece::Converter,
            title: "Converter",
            detail,
            side: Side::Load,
            undecided: matches!(node.part, Choice::Undecided),
            open: false,
            from: at,
            to,
            through: Some(output),
            loses_unknown: false,
        })
    }

    /// What stands right before the device: change-over, panel meter.
    fn at_the_device(&mut self, at: Poles) -> Poles {
        let plan = self.workspace.plan;
        let mut at = at;
        if let Some(change) = &plan.feed.change_over {
            let mains = self.node("the other feed");
            let to = Poles { plus: self.node("plus behind the change-over"), minus: at.minus };
            let through = self.join(at.plus, to.plus, JOINT_OHM);
            self.wired.live.change = Some(through);
            let detail = match change.by {
                ChangesBy::Diode => "a diode for each feed",
                ChangesBy::IdealDiode => "a driven transistor for each feed",
                ChangesBy::Relay => "a relay",
            };
            at = self.block(Block {
                id: "change-over".to_owned(),
                piece: Piece::ChangeOver { mains },
                title: "Change-over",
                detail: detail.to_owned(),
                side: Side::Load,
                undecided: false,
                open: false,
                from: at,
                to,
                through: Some(through),
                loses_unknown: false,
            });
        }
        if plan.wiring.panel_meter == Some(true) {
            let own = if plan.wiring.meter_isolated == Some(true) { "on a supply of its own" } else { "" };
            self.across("meter", Piece::Meter, "Meter", own.to_owned(), at);
        }
        at
    }

    fn device(&mut self, at: Poles) {
        let through = self.join(at.plus, at.minus, OFF_OHM);
        self.wired.live.device = Some(through);
        let name = self.workspace.plan.name.clone();
        let id = self.workspace.plan.nodes.iter().find(|n| n.kind == NodeKind::Device).map(|n| n.id.clone());
        self.across(&id.unwrap_or_default(), Piece::Device, "Device", name, at).through = Some(through);
    }

    /// From where the charge joins, out to the supply.
    fn charge(&mut self) {
        let workspace = self.workspace;
        let mut at = self.wired.pack();
        let mut outside = false;
        let mut input_jack = None;
        for step in workspace.charge_path.steps.iter().rev() {
            let shared = match step {
                Step::Node(node) => self.behind_node.get(&node.id),
                Step::Connection(run) => self.behind_run.get(&run.id),
            };
            if !outside && let Some(&shared) = shared {
                at = shared;
                if let Step::Node(node) = step {
                    match node.kind {
                        NodeKind::Board => at = self.charge_port(node, at),
                        NodeKind::Pack => {}
                        _ => self.wired.charge_behind = Some(node.id.clone()),
                    }
                }
                continue;
            }
            if !outside && !matches!(step, Step::Node(n) if n.kind == NodeKind::Pack) {
                outside = true;
                self.wired.charge_from = Some(at);
            }
            match step {
                Step::Connection(run) => at = self.run(run, at, Side::Charge),
                Step::Node(node) => match node.kind {
                    NodeKind::Pack => {}
                    NodeKind::Charger => {
                        at = self.charger(node, at);
                        if let Some(jack) = input_jack.take() {
                            at = self.pass(jack, at, Side::Charge);
                        }
                    }
                    _ if workspace.is_input_jack(node) => input_jack = Some(node),
                    _ => at = self.pass(node, at, Side::Charge),
                },
            }
        }
        if self.wired.live.charger.is_some() {
            self.supply(at);
        }
    }

    /// A board of the line with a minus of its own for the charger.
    fn charge_port(&mut self, node: &Node, at: Poles) -> Poles {
        let board = node.module().and_then(|m| m.protects.as_ref());
        if board.and_then(|b| b.port) != Some(Port::Separate) {
            return at;
        }
        let Some(inner) = self.wired.board().map(|b| b.from.minus) else { return at };
        let minus = self.node("C−");
        let ohm = board.and_then(|b| b.path_ohm).unwrap_or(JOINT_OHM);
        self.join(minus, inner, ohm);
        Poles { plus: at.plus, minus }
    }

    fn charger(&mut self, node: &Node, at: Poles) -> Poles {
        let to = Poles { plus: self.node("input of the charger"), minus: at.minus };
        let output = self.wired.circuit.put(at.plus, at.minus, NOTHING);
        let input = self.wired.circuit.put(to.plus, to.minus, NOTHING);
        self.wired.live.charger = Some((output, input));
        let detail = node.part.part().map(|p| p.offer().name.clone()).unwrap_or_default();
        let open = self.condition != Condition::Charging
            || self.workspace.plan.charging.host == Some(HostCircuit::ChargesPack);
        self.block(Block {
            id: node.id.clone(),
            piece: Piece::Charger,
            title: "Charger",
            detail,
            side: Side::Charge,
            undecided: matches!(node.part, Choice::Undecided),
            open,
            from: at,
            to,
            through: Some(output),
            loses_unknown: false,
        })
    }

    fn supply(&mut self, at: Poles) {
        let workspace = self.workspace;
        if workspace.charges().is_some_and(|c| c.own_supply) {
            return;
        }
        let Some(node) = workspace.plan.nodes.iter().find(|n| n.kind == NodeKind::Supply) else { return };
        if matches!(node.part, Choice::None) {
            return;
        }
        let mut at = at;
        let fed = workspace.plan.path(NodeKind::Supply, NodeKind::Charger, StateName::Charging);
        for run in fed.connections.iter().rev() {
            at = self.run(run, at, Side::Charge);
        }
        let emf_v = workspace.supplies().map_or(0.0, |s| s.output_v);
        let ohm = JOINT_OHM;
        let through = self.wired.circuit.put(at.plus, at.minus, Element::Source { emf_v, ohm });
        let detail = node.part.part().map(|p| p.offer().name.clone()).unwrap_or_default();
        self.block(Block {
            id: node.id.clone(),
            piece: Piece::Supply,
            title: "Supply",
            detail,
            side: Side::Charge,
            undecided: matches!(node.part, Choice::Undecided),
            open: false,
            from: at,
            to: at,
            through: Some(through),
            loses_unknown: false,
        });
    }
}
