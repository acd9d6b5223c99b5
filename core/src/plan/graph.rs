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

impl NodeKind {
    /// Its place in a word, as in the middle of a sentence.
    pub fn word(self) -> &'static str {
        match self {
            NodeKind::Pack => "pack",
            NodeKind::Board => "board",
            NodeKind::Fuse => "fuse",
            NodeKind::Switch => "switch",
            NodeKind::Connector => "plug",
            NodeKind::Converter => "converter",
            NodeKind::CutOff => "cut-off",
            NodeKind::Alarm => "alarm",
            NodeKind::Jack => "jack",
            NodeKind::Charger => "charger",
            NodeKind::Supply => "supply",
            NodeKind::Device => "device",
        }
    }
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
    /// The place whose thing does this, too: a module that guards and charges stands at two places and is one. Its part is that place's.
    #[serde(default)]
    pub with: Option<String>,
    /// Where the thing sits, if that was said.
    #[serde(default)]
    pub sits: Option<Sits>,
    /// The compartment it goes into; absent is that of the pack.
    #[serde(default)]
    pub compartment: Option<String>,
    /// Its size with its wires, where it goes into a compartment.
    #[serde(default)]
    pub size: Option<ThingSize>,
}

/// The size of a thing with its wires.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ThingSize {
    /// Longest side.
    pub length_mm: f64,
    /// Middle side.
    pub width_mm: f64,
    /// Shortest side.
    pub height_mm: f64,
}

/// Where a thing sits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Sits {
    /// In the device.
    Inside,
    /// Outside, on the bench or at the wall.
    Outside,
    /// On the lead between the two.
    OnTheLead,
}

impl Node {
    /// A place with nothing else said of it.
    pub fn place(id: &str, kind: NodeKind, part: Choice<Part>) -> Node {
        Node { id: id.to_owned(), kind, part, with: None, sits: None, compartment: None, size: None }
    }

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
pub struct Connection {
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
    Connection(&'a Connection),
}

/// A way through the graph, from one node to another.
#[derive(Debug, Clone, Default)]
pub struct CurrentPath<'a> {
    /// Nodes and runs in the order the current meets them.
    pub steps: Vec<Step<'a>>,
    /// The nodes alone.
    pub nodes: Vec<&'a Node>,
    /// The runs alone.
    pub connections: Vec<&'a Connection>,
}

/// Steps that the search for all ways takes at most: a plan has few branches, and a made-up one must not hold it up.
const MOST_STEPS: usize = 4000;

/// A node while ways are searched: the runs that lead on from it.
struct Net<'a> {
    plan: &'a Plan,
    /// For each node: run, node at its other end.
    leads: Vec<Vec<(usize, usize)>>,
}

impl<'a> Net<'a> {
    fn of(plan: &'a Plan) -> Self {
        let place = |id: &str| plan.nodes.iter().position(|n| n.id == id);
        let mut leads = vec![vec![]; plan.nodes.len()];
        for (run_index, run) in plan.connections.iter().enumerate() {
            if let (Some(from), Some(to)) = (place(&run.from), place(&run.to)) {
                leads[from].push((run_index, to));
                leads[to].push((run_index, from));
            }
        }
        Net { plan, leads }
    }

    /// Whether current can go on through a node: not through packs, the device, or what feeds from outside.
    fn passes(&self, node: usize) -> bool {
        !matches!(self.plan.nodes[node].kind, NodeKind::Pack | NodeKind::Device | NodeKind::Charger | NodeKind::Supply)
    }
}

/// Id of the fuse in the charge lead.
pub const CHARGE_FUSE: &str = "charge-fuse";

impl Plan {
    /// Puts a place for a fuse into the charge lead, where the jack's wire reaches the pack or its board: what lies behind it is then
    /// guarded. `false` where there is no such wire, or a fuse in it already.
    pub fn fuse_the_charge_lead(&mut self) -> bool {
        let kind_of = |id: &str| self.nodes.iter().find(|n| n.id == id).map(|n| n.kind);
        let reaches = |id: &str| matches!(kind_of(id), Some(NodeKind::Board | NodeKind::Pack));
        let jack = |id: &str| kind_of(id) == Some(NodeKind::Jack);
        let found =
            self.connections.iter().position(|r| jack(&r.from) && reaches(&r.to) || jack(&r.to) && reaches(&r.from));
        let Some(lead) = found.filter(|_| self.node(CHARGE_FUSE).is_none()) else { return false };
        let run = &self.connections[lead];
        let at_jack = jack(&run.from);
        let end = if at_jack { run.to.clone() } else { run.from.clone() };
        let lead = &mut self.connections[lead];
        *(if at_jack { &mut lead.to } else { &mut lead.from }) = CHARGE_FUSE.to_owned();
        self.nodes.push(Node::place(CHARGE_FUSE, NodeKind::Fuse, Choice::Undecided));
        self.connections.push(Connection {
            id: "charge-fuse-lead".to_owned(),
            from: CHARGE_FUSE.to_owned(),
            to: end,
            wire: Choice::None,
            length_mm: None,
        });
        true
    }

    /// Whether the part of a node is one thing with that of an earlier node: a module that does several things, placed at each.
    pub fn is_seen_before(&self, index: usize) -> bool {
        if self.nodes.get(index).is_some_and(|n| n.with.is_some()) {
            return true;
        }
        let Some(module) = self.nodes.get(index).and_then(Node::module) else { return false };
        let does = [
            module.protects.is_some(),
            module.charges.is_some(),
            module.converts.is_some(),
            module.cuts_off.is_some(),
            module.alarms.is_some(),
            module.supplies.is_some(),
        ];
        let several = does.into_iter().filter(|does| *does).count() > 1;
        several && self.nodes[..index].iter().any(|n| n.module() == Some(module))
    }

    fn is_open_in(&self, node: usize, state: StateName) -> bool {
        let open: &[String] = self.states.iter().find(|s| s.name == state).map_or(&[], |s| &s.open);
        // Only a part that is there can be open.
        open.contains(&self.nodes[node].id) && !matches!(self.nodes[node].part, Choice::None)
    }

    /// The way from the first node of one kind to the first of another, in a state, that passes most parts; of those
    /// that pass equally many the shortest. Empty if there is none. A jumper past a part is another way, see `avoiding`.
    ///
    /// Nodes decided against (`none`) are passed through like a piece of wire: they stay in the graph so that
    /// deciding otherwise needs no rewiring, and are left out of the answer.
    pub fn path(&self, from: NodeKind, to: NodeKind, state: StateName) -> CurrentPath<'_> {
        let Some(shortest) = self.shortest(from, to, |n| !self.is_open_in(n, state)) else {
            return CurrentPath::default();
        };
        let mut search = Search { net: Net::of(self), to, state, steps: 0, best: (self.parts_on(&shortest), shortest) };
        if let Some(start) = self.nodes.iter().position(|n| n.kind == from) {
            let mut seen = vec![false; self.nodes.len()];
            seen[start] = true;
            search.go_on(start, &mut seen, &mut vec![(start, None)]);
        }
        self.trace(&search.best.1)
    }

    /// A way between two kinds of nodes that passes none of certain nodes, in a state; `None` if all pass one.
    pub fn avoiding(
        &self,
        from: NodeKind,
        to: NodeKind,
        state: StateName,
        avoid: impl Fn(&Node) -> bool,
    ) -> Option<CurrentPath<'_>> {
        let found = self.shortest(from, to, |n| !self.is_open_in(n, state) && !avoid(&self.nodes[n]))?;
        Some(self.trace(&found))
    }

    /// The way that there would be if every part were closed.
    pub fn path_if_closed(&self, from: NodeKind, to: NodeKind) -> Option<CurrentPath<'_>> {
        self.shortest(from, to, |_| true).map(|found| self.trace(&found))
    }

    /// The node farthest from the first of a kind that current can still reach, if every part were closed.
    pub fn reaches(&self, from: NodeKind) -> Option<&Node> {
        let start = self.nodes.iter().position(|n| n.kind == from)?;
        let net = Net::of(self);
        let mut seen = vec![false; self.nodes.len()];
        seen[start] = true;
        let mut queue = VecDeque::from([start]);
        let mut last = start;
        let aside = |n: usize| matches!(self.nodes[n].kind, NodeKind::Jack | NodeKind::Alarm);
        while let Some(at) = queue.pop_front() {
            last = at;
            for &(_, next) in &net.leads[at] {
                if !seen[next] && net.passes(next) && !aside(next) {
                    seen[next] = true;
                    queue.push_back(next);
                }
            }
        }
        Some(&self.nodes[last])
    }

    /// Breadth first: nodes with the run each was come by, from the start.
    fn shortest(&self, from: NodeKind, to: NodeKind, free: impl Fn(usize) -> bool) -> Option<Trail> {
        let start = self.nodes.iter().position(|n| n.kind == from)?;
        let net = Net::of(self);
        let mut came_by: Vec<Option<(usize, usize)>> = vec![None; self.nodes.len()];
        let mut seen = vec![false; self.nodes.len()];
        seen[start] = true;
        let mut queue = VecDeque::from([start]);
        while let Some(at) = queue.pop_front() {
            if self.nodes[at].kind == to {
                let mut trail = vec![];
                let mut node = at;
                loop {
                    trail.push((node, came_by[node].map(|(_, run)| run)));
                    match came_by[node] {
                        Some((before, _)) => node = before,
                        None => break,
                    }
                }
                trail.reverse();
                return Some(trail);
            }
            for &(run_index, next) in &net.leads[at] {
                let ends_here = self.nodes[next].kind == to;
                if !seen[next] && free(next) && (net.passes(next) || ends_here) {
                    seen[next] = true;
                    came_by[next] = Some((at, run_index));
                    queue.push_back(next);
                }
            }
        }
        None
    }

    /// Chosen parts on a trail that belong on a line; a jack that it leads through is only a joint.
    fn parts_on(&self, trail: &Trail) -> usize {
        let counts = |n: usize| self.nodes[n].part.part().is_some() && self.nodes[n].kind != NodeKind::Jack;
        trail.iter().filter(|(n, _)| counts(*n)).count()
    }

    fn trace(&self, trail: &Trail) -> CurrentPath<'_> {
        let mut steps = vec![];
        for &(node, run) in trail {
            steps.extend(run.map(|r| Step::Connection(&self.connections[r])));
            steps.push(Step::Node(&self.nodes[node]));
        }
        let absent = |n: &Node| matches!(n.part, Choice::None) && !matches!(n.kind, NodeKind::Pack | NodeKind::Device);
        steps.retain(|step| !matches!(step, Step::Node(n) if absent(n)));
        let nodes = steps.iter().filter_map(|s| if let Step::Node(n) = s { Some(*n) } else { None }).collect();
        let connections =
            steps.iter().filter_map(|s| if let Step::Connection(r) = s { Some(*r) } else { None }).collect();
        CurrentPath { steps, nodes, connections }
    }
}

/// Nodes from the start to the end, each with the run that led to it.
type Trail = Vec<(usize, Option<usize>)>;

/// Depth first through all ways, keeping the one with most parts.
struct Search<'a> {
    net: Net<'a>,
    to: NodeKind,
    state: StateName,
    steps: usize,
    best: (usize, Trail),
}

impl Search<'_> {
    fn go_on(&mut self, at: usize, seen: &mut Vec<bool>, trail: &mut Trail) {
        let plan = self.net.plan;
        if plan.nodes[at].kind == self.to {
            let parts = plan.parts_on(trail);
            if (parts, self.best.1.len()) > (self.best.0, trail.len()) {
                self.best = (parts, trail.clone());
            }
            return;
        }
        for k in 0..self.net.leads[at].len() {
            let (run, next) = self.net.leads[at][k];
            let goes = self.net.passes(next) || plan.nodes[next].kind == self.to;
            if self.steps >= MOST_STEPS || seen[next] || !goes || plan.is_open_in(next, self.state) {
                continue;
            }
            self.steps += 1;
            seen[next] = true;
            trail.push((next, Some(run)));
            self.go_on(next, seen, trail);
            trail.pop();
            seen[next] = false;
        }
    }
}
