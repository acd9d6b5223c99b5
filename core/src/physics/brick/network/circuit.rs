//! Sources with a resistance, and resistors between their terminals: which current flows where.

use crate::base::conductance::{Factored, Mesh};

/// A terminal of a cell: plus or minus.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Terminal {
    /// Its cell.
    pub cell: usize,
    /// Whether it is the plus terminal.
    pub plus: bool,
}

impl Terminal {
    fn index(self) -> usize {
        2 * self.cell + usize::from(self.plus)
    }
}

/// A resistor between two terminals.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Resistor {
    /// Its ends; its current counts from the first to the second.
    pub ends: [Terminal; 2],
    /// Its resistance.
    pub ohm: f64,
}

/// Cells and the resistors between their terminals, and where a load is joined.
#[derive(Debug, Clone, PartialEq)]
pub struct Circuit {
    /// Resistance of each cell.
    pub cell_ohm: Vec<f64>,
    /// Strips and wires.
    pub resistors: Vec<Resistor>,
    /// Terminals that the lead of pack minus joins: the reference.
    pub minus: Vec<Terminal>,
    /// Terminals that the lead of pack plus joins.
    pub plus: Vec<Terminal>,
}

/// What flows in a circuit.
#[derive(Debug, Clone, PartialEq)]
pub struct Flow {
    /// Current of each cell, positive while it discharges.
    pub cell_a: Vec<f64>,
    /// Current of each resistor, from its first end to its second.
    pub resistor_a: Vec<f64>,
    /// Voltage of each terminal over pack minus: minus and plus of the first cell, and so on.
    pub terminal_v: Vec<f64>,
    /// Voltage from lead to lead.
    pub pack_v: f64,
}

/// A circuit made ready for any number of loads.
#[derive(Debug, Clone, PartialEq)]
pub struct Solver {
    circuit: Circuit,
    node_of: Vec<Option<usize>>,
    nodes: usize,
    factored: Factored,
}

impl Circuit {
    /// Makes it ready. `None` if a part of it hangs in the air, or nothing is joined to its leads.
    pub fn solver(&self) -> Option<Solver> {
        let feed = self.plus.first()?;
        self.minus.first()?;
        let mut node_of: Vec<Option<usize>> = vec![Some(usize::MAX); 2 * self.cell_ohm.len()];
        self.minus.iter().for_each(|t| node_of[t.index()] = None);
        let mut nodes = 0;
        for node in node_of.iter_mut().flatten() {
            *node = nodes;
            nodes += 1;
        }
        // Terminals that one lead joins are one node.
        let fed = node_of[feed.index()];
        self.plus.iter().for_each(|t| node_of[t.index()] = fed);
        let factored = self.mesh(&node_of, nodes).factor()?;
        Some(Solver { circuit: self.clone(), node_of, nodes, factored })
    }

    fn mesh(&self, node_of: &[Option<usize>], nodes: usize) -> Mesh {
        let mut mesh = Mesh::new(nodes);
        for (cell, ohm) in self.cell_ohm.iter().enumerate() {
            mesh.join(node_of[2 * cell], node_of[2 * cell + 1], 1.0 / ohm);
        }
        for r in &self.resistors {
            mesh.join(node_of[r.ends[0].index()], node_of[r.ends[1].index()], 1.0 / r.ohm);
        }
        // A node that nothing refers to any more must not hang in the air.
        let mut used = vec![false; nodes];
        node_of.iter().flatten().for_each(|&n| used[n] = true);
        used.iter().enumerate().filter(|(_, used)| !**used).for_each(|(n, _)| mesh.join(Some(n), None, 1.0));
        mesh
    }
}

impl Solver {
    /// The same circuit with other resistances of its cells. `None` as for `Circuit::solver`.
    pub fn refit(&mut self, cell_ohm: &[f64]) -> Option<()> {
        self.circuit.cell_ohm.copy_from_slice(cell_ohm);
        self.factored = self.circuit.mesh(&self.node_of, self.nodes).factor()?;
        Some(())
    }

    /// Resistances of the cells as they are calculated with.
    pub fn cell_ohm(&self) -> &[f64] {
        &self.circuit.cell_ohm
    }

    /// What flows while `load_a` is drawn from plus to minus; charging is negative. One EMF for each cell.
    pub fn flow(&self, emf_v: &[f64], load_a: f64) -> Flow {
        let mut put_in = vec![0.0; self.nodes];
        let mut put = |node: Option<usize>, a: f64| {
            if let Some(node) = node {
                put_in[node] += a;
            }
        };
        for (cell, (emf_v, ohm)) in emf_v.iter().zip(&self.circuit.cell_ohm).enumerate() {
            put(self.node_of[2 * cell], -emf_v / ohm);
            put(self.node_of[2 * cell + 1], emf_v / ohm);
        }
        let feed = self.circuit.plus.first().map(|t| t.index());
        put(feed.and_then(|t| self.node_of[t]), -load_a);
        let v = self.factored.solve(&put_in);
        let terminal_v: Vec<f64> = self.node_of.iter().map(|n| n.map_or(0.0, |n| v[n])).collect();
        let cell_a = emf_v.iter().zip(&self.circuit.cell_ohm).enumerate();
        let cell_a = cell_a.map(|(k, (e, ohm))| (e - (terminal_v[2 * k + 1] - terminal_v[2 * k])) / ohm).collect();
        let across = |r: &Resistor| (terminal_v[r.ends[0].index()] - terminal_v[r.ends[1].index()]) / r.ohm;
        Flow {
            cell_a,
            resistor_a: self.circuit.resistors.iter().map(across).collect(),
            pack_v: feed.map_or(0.0, |t| terminal_v[t]),
            terminal_v,
        }
    }
}
