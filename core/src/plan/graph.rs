//! The graph of the plan: what the current flows through, in which state.

use std::collections::VecDeque;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Choice, Connector, Fuse, Module, Offer, Plan, Switch, Wire};

/// The place of a node in the circuit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NodeKind {
    /// A pack; the node's id is the pack's.
    Pack,
    /// A protection board.
    Board,
    /// A fuse.
    Fuse,
    /// A switch.
    Switch,
    /// A connector between pack and device.
    Connector,
    /// A converter.
    Converter,
    /// A cut-off board.
    CutOff,
    /// An alarm on the taps.
    Alarm,
    /// The charge jack.
    Jack,
    /// The charger.
    Charger,
    /// What feeds the charger.
    Supply,
    /// The device.
    Device,
}

/// What stands at a node.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "type", rename_all = "snake_case", deny_unknown_fields)]
pub enum Part {
    /// An electronic part.
    Module {
        /// Its figures.
        module: Box<Module>,
    },
    /// A fuse.
    Fuse {
        /// Its figures.
        fuse: Fuse,
    },
    /// A connector or jack.
    Connector {
        /// Its figures.
        connector: Connector,
    },
    /// A switch.
    Switch {
        /// Its figures.
        switch: Switch,
    },
}

impl Part {
    /// Its kind, as the document names it.
    pub fn kind(&self) -> &'static str {
        match self {
            Part::Module { .. } => "module",
            Part::Fuse { .. } => "fuse",
            Part::Connector { .. } => "connector",
            Part::Switch { .. } => "switch",
        }
    }

    /// Name, price and arrival.
    pub fn offer(&self) -> &Offer {
        match self {
            Part::Module { module } => &module.offer,
            Part::Fuse { fuse } => &fuse.offer,
            Part::Connector { connector } => &connector.offer,
            Part::Switch { switch } => &switch.offer,
        }
    }
}

/// One thing the current flows through.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Node {
    /// Short and stable inside the plan.
    pub id: String,
    /// Its place.
    pub kind: NodeKind,
    /// Its part; packs and the device have none of their own.
    pub part: Choice<Part>,
}

impl Node {
    /// The electronic part chosen here.
    pub fn module(&self) -> Option<&Module> {
        match self.part.part() {
            Some(Part::Module { module }) => Some(module),
            _ => None,
        }
    }

    /// The fuse chosen here.
    pub fn fuse(&self) -> Option<&Fuse> {
        match self.part.part() {
            Some(Part::Fuse { fuse }) => Some(fuse),
            _ => None,
        }
    }

    /// The connector or jack chosen here.
    pub fn connector(&self) -> Option<&Connector> {
        match self.part.part() {
            Some(Part::Connector { connector }) => Some(connector),
            _ => None,
        }
    }

    /// The switch chosen here.
    pub fn switch(&self) -> Option<&Switch> {
        match self.part.part() {
            Some(Part::Switch { switch }) => Some(switch),
            _ => None,
        }
    }
}

/// A wire, or a direct joint, between two nodes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Run {
    /// Short and stable inside the plan.
    pub id: String,
    /// Node it starts at.
    pub from: String,
    /// Node it ends at.
    pub to: String,
    /// The wire; `none` is joined directly.
    pub wire: Choice<Wire>,
    /// One-way length.
    pub length_mm: Option<f64>,
}

/// A named state of the finished device.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StateName {
    /// Nothing runs, nothing charges.
    Rest,
    /// The device runs.
    Running,
    /// The pack is charged.
    Charging,
    /// The board has opened.
    Tripped,
    /// Switched off.
    Off,
}

/// Which nodes break the circuit in a state.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct State {
    /// The state.
    pub name: StateName,
    /// Ids of nodes that let no current through.
    pub open: Vec<String>,
}

/// A step on a way.
#[derive(Debug, Clone, Copy)]
pub enum Step<'a> {
    /// Through a node.
    Node(&'a Node),
    /// Along a run.
    Run(&'a Run),
}

/// A way through the graph, from one node to another.
#[derive(Debug, Clone, Default)]
pub struct Way<'a> {
    /// Nodes and runs in the order the current meets them.
    pub steps: Vec<Step<'a>>,
    /// The nodes alone.
    pub nodes: Vec<&'a Node>,
    /// The runs alone.
    pub runs: Vec<&'a Run>,
}

impl Plan {
    /// Shortest way from the first node of one kind to the first of another, in a state; empty if there is none.
    ///
    /// Nodes decided against (`none`) are passed through like a piece of wire: they stay in the graph so that
    /// deciding otherwise needs no rewiring, and are left out of the answer.
    pub fn way(&self, from: NodeKind, to: NodeKind, state: StateName) -> Way<'_> {
        let open: &[String] = self.states.iter().find(|s| s.name == state).map_or(&[], |s| &s.open);
        let Some(start) = self.nodes.iter().position(|n| n.kind == from) else {
            return Way::default();
        };
        let mut came_by: Vec<Option<(usize, usize)>> = vec![None; self.nodes.len()];
        let mut seen = vec![false; self.nodes.len()];
        seen[start] = true;
        let mut queue = VecDeque::from([start]);
        while let Some(at) = queue.pop_front() {
            if self.nodes[at].kind == to {
                return self.trace(at, &came_by);
            }
            for (run_index, run) in self.runs.iter().enumerate() {
                let other = if run.from == self.nodes[at].id {
                    &run.to
                } else if run.to == self.nodes[at].id {
                    &run.from
                } else {
                    continue;
                };
                let Some(next) = self.nodes.iter().position(|n| &n.id == other) else {
                    continue;
                };
                let ends_here = self.nodes[next].kind == to;
                // A pack, the device and the charger are ends, not something to pass through.
                let passable = !matches!(self.nodes[next].kind, NodeKind::Pack | NodeKind::Device);
                // Only a part that is there can be open.
                let broken = open.contains(other) && !matches!(self.nodes[next].part, Choice::None);
                if !seen[next] && !broken && (passable || ends_here) {
                    seen[next] = true;
                    came_by[next] = Some((at, run_index));
                    queue.push_back(next);
                }
            }
        }
        Way::default()
    }

    fn trace(&self, end: usize, came_by: &[Option<(usize, usize)>]) -> Way<'_> {
        let mut steps = vec![Step::Node(&self.nodes[end])];
        let mut at = end;
        while let Some((before, run)) = came_by[at] {
            steps.push(Step::Run(&self.runs[run]));
            steps.push(Step::Node(&self.nodes[before]));
            at = before;
        }
        steps.reverse();
        let absent = |n: &Node| matches!(n.part, Choice::None) && !matches!(n.kind, NodeKind::Pack | NodeKind::Device);
        steps.retain(|step| !matches!(step, Step::Node(n) if absent(n)));
        let nodes = steps.iter().filter_map(|s| if let Step::Node(n) = s { Some(*n) } else { None }).collect();
        let runs = steps.iter().filter_map(|s| if let Step::Run(r) = s { Some(*r) } else { None }).collect();
        Way { steps, nodes, runs }
    }
}
