//! The line of a plan: what stands between the pack and the device, each wire of it two.

use super::super::Condition;
use super::super::circuit::Element;
use super::{Block, Builder, JOINT_OHM, OFF_OHM, Piece, Poles, Rest, Side};
use crate::assess::figures::feed::CHOSEN_OHM;
use crate::assess::figures::wiring::OHM;
use crate::base::quantity::{Unit, show};
use crate::physics::gauge::Leg;
use crate::physics::protection::fuse_ohm;
use crate::physics::wiring;
use crate::plan::{ChangesBy, Choice, Connection, GaugeDivider, Node, NodeKind, SecondPack, Step};

impl Builder<'_> {
    /// Whether a node of the graph is open in this condition.
    fn is_open(&self, id: &str) -> bool {
        let state = self.condition.state();
        self.workspace.plan.states.iter().any(|s| s.name == state && s.open.iter().any(|o| o == id))
    }

    pub(super) fn line(&mut self, rest: &Rest, in_series: bool) {
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
                            self.lamps(Side::Load, at);
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
    pub(super) fn pass(&mut self, node: &Node, at: Poles, side: Side) -> Poles {
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
            Piece::Fuse => node.fuse().map(fuse_ohm),
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

    /// The two wires of a run; joined directly they are nothing.
    pub(super) fn run(&mut self, run: &Connection, at: Poles, side: Side) -> Poles {
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
        // All further packs as one: in a row, or side by side.
        let (emf_v, ohm) = if in_series { (s.alike() * emf_v, s.alike() * ohm) } else { (emf_v, ohm / s.alike()) };
        let through = self.wired.circuit.put(to.plus, second, Element::Source { emf_v, ohm: ohm.max(JOINT_OHM) });
        // A charger for one pack cannot fill two in a row: they come apart, and each is charged by itself.
        let apart = in_series && self.condition == Condition::Charging;
        if in_series && !apart {
            self.join(at.plus, second, JOINT_OHM);
        } else if !apart {
            self.join(at.plus, to.plus, JOINT_OHM);
            self.join(second, at.minus, JOINT_OHM);
        }
        let series = s.series.or(self.workspace.pack.series).map(|n| match s.count {
            Some(count) if count > 1 => format!("{count} packs of {n} groups, "),
            _ => format!("{n} groups, "),
        });
        let set = match (apart, in_series) {
            (true, _) => "disconnected, charged by itself",
            (_, true) => "set in series",
            _ => "set in parallel",
        };
        let detail = format!("{}{set}", series.unwrap_or_default());
        let id = "second-pack".to_owned();
        let piece = Piece::Selector { second };
        let (side, undecided, open) = (Side::Load, false, apart);
        let through = Some(through);
        let loses_unknown = false;
        let title = if s.alike() > 1.0 { "Further packs" } else { "Second pack" };
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
                ChangesBy::IdealDiode => "an ideal diode for each feed",
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
            let own = if plan.wiring.meter_isolated == Some(true) { "on its own supply" } else { "" };
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
}
