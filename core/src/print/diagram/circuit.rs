//! A circuit of resistances, sources and currents, and the voltage of its nodes by nodal equations.
//!
//! Kirchhoff's current law at every node; a source with a resistance is a current beside it (Norton). Nodes that nothing
//! joins to the reference are a part of their own, with a reference of its own, and have no voltage against the rest.

use std::collections::VecDeque;

use crate::base::conductance::Mesh;

/// What lies between two nodes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Element {
    /// A resistance.
    Resistance {
        /// Its value; more than nothing.
        ohm: f64,
    },
    /// Voltage behind a resistance, plus towards the first node.
    Source {
        /// Without a current.
        emf_v: f64,
        /// Behind it; more than nothing.
        ohm: f64,
    },
    /// A current that leaves it at the first node, whatever the voltage.
    Current {
        /// Its size.
        current_a: f64,
    },
}

/// Nodes, numbered from 0, and the elements between them.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Circuit {
    nodes: usize,
    elements: Vec<(usize, usize, Element)>,
}

/// The voltage of a solved circuit.
#[derive(Debug, Clone, PartialEq)]
pub struct Solved {
    /// Of each node, against the reference of its part.
    pub node_v: Vec<f64>,
    /// The part each node belongs to; that of node 0 is 0.
    pub part: Vec<usize>,
}

impl Solved {
    /// Voltage from one node to another; `None` where nothing joins them.
    pub fn between_v(&self, red: usize, black: usize) -> Option<f64> {
        (self.part[red] == self.part[black]).then(|| self.node_v[red] - self.node_v[black])
    }
}

impl Circuit {
    /// Another node.
    pub fn node(&mut self) -> usize {
        self.nodes += 1;
        self.nodes - 1
    }

    /// Puts an element between two nodes, and gives its number.
    pub fn put(&mut self, a: usize, b: usize, element: Element) -> usize {
        self.elements.push((a, b, element));
        self.elements.len() - 1
    }

    /// Changes an element.
    pub fn set(&mut self, number: usize, element: Element) {
        self.elements[number].2 = element;
    }

    /// Its elements, with the two nodes of each.
    pub fn elements(&self) -> &[(usize, usize, Element)] {
        &self.elements
    }

    /// How many nodes it has.
    pub fn node_count(&self) -> usize {
        self.nodes
    }

    /// Current out of an element at its first node.
    pub fn current_a(&self, number: usize, solved: &Solved) -> f64 {
        let (a, b, element) = self.elements[number];
        let over_v = solved.node_v[a] - solved.node_v[b];
        match element {
            Element::Resistance { ohm } => -over_v / ohm,
            Element::Source { emf_v, ohm } => (emf_v - over_v) / ohm,
            Element::Current { current_a } => current_a,
        }
    }

    /// Voltage of every node. `None` for a circuit whose numbers are no numbers.
    pub fn solve(&self) -> Option<Solved> {
        let (part, references) = self.parts();
        let mut mesh = Mesh::new(self.nodes);
        let mut put_in = vec![0.0; self.nodes];
        for &(a, b, element) in &self.elements {
            match element {
                Element::Resistance { ohm } => mesh.join(Some(a), Some(b), 1.0 / ohm),
                Element::Source { emf_v, ohm } => {
                    mesh.join(Some(a), Some(b), 1.0 / ohm);
                    put_in[a] += emf_v / ohm;
                    put_in[b] -= emf_v / ohm;
                }
                Element::Current { current_a } => {
                    put_in[a] += current_a;
                    put_in[b] -= current_a;
                }
            }
        }
        // What is put in adds up to nothing in every part, so that no current flows into its reference.
        references.iter().for_each(|&node| mesh.join(Some(node), None, 1.0));
        let node_v = mesh.factor()?.solve(&put_in);
        node_v.iter().all(|v| v.is_finite()).then(|| {
            let node_v = (0..self.nodes).map(|n| node_v[n] - node_v[references[part[n]]]).collect();
            Solved { node_v, part }
        })
    }

    /// The part of each node, and the first node of each part.
    fn parts(&self) -> (Vec<usize>, Vec<usize>) {
        let mut near = vec![vec![]; self.nodes];
        for &(a, b, element) in &self.elements {
            if !matches!(element, Element::Current { .. }) {
                near[a].push(b);
                near[b].push(a);
            }
        }
        let (mut part, mut references) = (vec![usize::MAX; self.nodes], vec![]);
        for start in 0..self.nodes {
            if part[start] != usize::MAX {
                continue;
            }
            let number = references.len();
            references.push(start);
            part[start] = number;
            let mut waiting = VecDeque::from([start]);
            while let Some(node) = waiting.pop_front() {
                for &next in &near[node] {
                    if part[next] == usize::MAX {
                        part[next] = number;
                        waiting.push_back(next);
                    }
                }
            }
        }
        (part, references)
    }
}
