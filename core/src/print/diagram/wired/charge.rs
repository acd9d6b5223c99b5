//! The charge of a plan: from where it joins the line, out to the supply of the charger.

use super::super::Condition;
use super::super::circuit::Element;
use super::{Block, Builder, JOINT_OHM, NOTHING, Piece, Poles, Side};
use crate::plan::{Choice, HostCircuit, Node, NodeKind, Port, StateName, Step};

impl Builder<'_> {
    /// From where the charge joins, out to the supply.
    pub(super) fn charge(&mut self) {
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
                        self.lamps(Side::Charge, at);
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
