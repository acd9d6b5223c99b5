//! Nodes joined by conductances: potentials from the currents that are put in, or temperatures from the heat.
//!
//! Kirchhoff's current law at every node is G v = i. G is symmetric, and positive definite as long as every node is
//! joined to the reference, so it is factored once, L D Lᵀ, inside its envelope; nodes are numbered so that the envelope
//! stays narrow (Cuthill and McKee 1969, reversed by George 1971).

use std::collections::VecDeque;

/// A pivot below this share of the node's own conductance says that the node hangs in the air.
const LEAST_PIVOT: f64 = 1e-12;

/// Nodes, numbered from 0, and what joins them to one another and to the reference.
#[derive(Debug, Clone, PartialEq)]
pub struct Mesh {
    links: Vec<(usize, usize, f64)>,
    to_reference: Vec<f64>,
}

impl Mesh {
    /// So many nodes, not joined yet.
    pub fn new(nodes: usize) -> Mesh {
        Mesh { links: vec![], to_reference: vec![0.0; nodes] }
    }

    /// Joins two nodes; `None` is the reference.
    pub fn join(&mut self, a: Option<usize>, b: Option<usize>, conductance: f64) {
        match (a, b) {
            (Some(a), Some(b)) if a != b => self.links.push((a, b, conductance)),
            (Some(one), None) | (None, Some(one)) => self.to_reference[one] += conductance,
            _ => {}
        }
    }

    /// Factors the conductances for any number of solutions. `None` if a node is not joined to the reference.
    pub fn factor(&self) -> Option<Factored> {
        let count = self.to_reference.len();
        let order = self.numbered();
        let mut place = vec![0; count];
        order.iter().enumerate().for_each(|(new, &old)| place[old] = new);
        let mut first: Vec<usize> = (0..count).collect();
        for &(a, b, _) in &self.links {
            let (low, high) = (place[a].min(place[b]), place[a].max(place[b]));
            first[high] = first[high].min(low);
        }
        let mut rows: Vec<Vec<f64>> = first.iter().enumerate().map(|(i, &f)| vec![0.0; i - f]).collect();
        let mut diagonal: Vec<f64> = order.iter().map(|&old| self.to_reference[old]).collect();
        for &(a, b, g) in &self.links {
            let (low, high) = (place[a].min(place[b]), place[a].max(place[b]));
            rows[high][low - first[high]] -= g;
            diagonal[low] += g;
            diagonal[high] += g;
        }
        for i in 0..count {
            let (above, from_here) = rows.split_at_mut(i);
            let row = &mut from_here[0];
            for j in first[i]..i {
                let from = first[i].max(first[j]);
                let other = &above[j][from - first[j]..];
                let sum: f64 = row[from - first[i]..j - first[i]].iter().zip(other).map(|(a, b)| a * b).sum();
                row[j - first[i]] -= sum;
            }
            let own = diagonal[i];
            let mut left = own;
            for (value, &pivot) in row.iter_mut().zip(&diagonal[first[i]..i]) {
                let scaled = *value / pivot;
                left -= *value * scaled;
                *value = scaled;
            }
            diagonal[i] = left;
            if left.is_nan() || left <= LEAST_PIVOT * own {
                return None;
            }
        }
        Some(Factored { order, first, rows, diagonal })
    }

    /// Old numbers of the nodes in their new order: each next to those it is joined to.
    fn numbered(&self) -> Vec<usize> {
        let count = self.to_reference.len();
        let mut near: Vec<Vec<usize>> = vec![vec![]; count];
        for &(a, b, _) in &self.links {
            near[a].push(b);
            near[b].push(a);
        }
        let mut order: Vec<usize> = Vec::with_capacity(count);
        let mut seen = vec![false; count];
        for start in 0..count {
            if seen[start] {
                continue;
            }
            // From an end of the part, found by walking to the farthest node: the envelope is narrow from there.
            let far = walk(&near, start, &mut vec![false; count]).last().copied().unwrap_or(start);
            order.extend(walk(&near, far, &mut seen));
        }
        order.reverse();
        order
    }
}

/// Nodes in the order of their distance from a start, those with few neighbours first.
fn walk(near: &[Vec<usize>], start: usize, seen: &mut [bool]) -> Vec<usize> {
    let mut found = vec![];
    let mut waiting = VecDeque::from([start]);
    seen[start] = true;
    while let Some(node) = waiting.pop_front() {
        found.push(node);
        let mut next: Vec<usize> = near[node].iter().copied().filter(|&n| !seen[n]).collect();
        next.sort_by_key(|&n| near[n].len());
        for n in next {
            if !std::mem::replace(&mut seen[n], true) {
                waiting.push_back(n);
            }
        }
    }
    found
}

/// Factored conductances.
#[derive(Debug, Clone, PartialEq)]
pub struct Factored {
    order: Vec<usize>,
    first: Vec<usize>,
    rows: Vec<Vec<f64>>,
    diagonal: Vec<f64>,
}

impl Factored {
    /// Potential of each node over the reference, from the current put in at each.
    pub fn solve(&self, put_in: &[f64]) -> Vec<f64> {
        let mut v: Vec<f64> = self.order.iter().map(|&old| put_in[old]).collect();
        for i in 0..v.len() {
            let (done, rest) = v.split_at_mut(i);
            rest[0] -= self.rows[i].iter().zip(&done[self.first[i]..]).map(|(l, x)| l * x).sum::<f64>();
        }
        v.iter_mut().zip(&self.diagonal).for_each(|(x, d)| *x /= d);
        for i in (0..v.len()).rev() {
            let (before, rest) = v.split_at_mut(i);
            let x = rest[0];
            before[self.first[i]..].iter_mut().zip(&self.rows[i]).for_each(|(b, l)| *b -= l * x);
        }
        let mut found = vec![0.0; v.len()];
        self.order.iter().zip(v).for_each(|(&old, x)| found[old] = x);
        found
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand: 1 A through 2 ohm in series with 3 ohm and 6 ohm side by side, to the reference: 2 + 2 V.
    #[test]
    fn resistors_in_series_and_side_by_side_add_as_in_the_books() {
        let mut mesh = Mesh::new(2);
        mesh.join(Some(0), Some(1), 1.0 / 2.0);
        mesh.join(Some(1), None, 1.0 / 3.0);
        mesh.join(None, Some(1), 1.0 / 6.0);
        let v = mesh.factor().unwrap().solve(&[1.0, 0.0]);
        assert!((v[0] - 4.0).abs() < 1e-12 && (v[1] - 2.0).abs() < 1e-12, "{v:?}");
    }

    /// An unbalanced bridge, by Gaussian elimination with row exchange: a slow and obvious twin.
    #[test]
    fn any_mesh_solves_as_by_elimination() {
        let mut random = fastrand::Rng::with_seed(7);
        for count in [1, 2, 5, 17, 40] {
            let mut mesh = Mesh::new(count);
            let mut full = vec![vec![0.0; count + 1]; count];
            let mut add = |a: usize, b: usize, g: f64| {
                mesh.join(Some(a), Some(b), g);
                full[a][a] += g;
                full[b][b] += g;
                full[a][b] -= g;
                full[b][a] -= g;
            };
            for a in 1..count {
                add(a, random.usize(0..a), random.f64() + 0.1);
            }
            for _ in 0..count {
                let (a, b) = (random.usize(0..count), random.usize(0..count));
                if a != b {
                    add(a, b, random.f64() + 0.1);
                }
            }
            mesh.join(Some(count / 2), None, 0.7);
            full[count / 2][count / 2] += 0.7;
            let put_in: Vec<f64> = (0..count).map(|_| random.f64() - 0.5).collect();
            full.iter_mut().zip(&put_in).for_each(|(row, i)| row[count] = *i);
            for k in 0..count {
                let best = (k..count).max_by(|&a, &b| full[a][k].abs().total_cmp(&full[b][k].abs())).unwrap();
                full.swap(k, best);
                let pivot = full[k].clone();
                for (i, row) in full.iter_mut().enumerate().filter(|(i, _)| *i != k) {
                    let share = row[k] / pivot[k];
                    assert_ne!(i, k);
                    row.iter_mut().zip(&pivot).for_each(|(x, p)| *x -= share * p);
                }
            }
            let found = mesh.factor().unwrap().solve(&put_in);
            for (k, v) in found.iter().enumerate() {
                let wanted = full[k][count] / full[k][k];
                assert!((v - wanted).abs() < 1e-9 * (1.0 + wanted.abs()), "{count} nodes, node {k}: {v} not {wanted}");
            }
        }
    }

    #[test]
    fn a_node_that_hangs_in_the_air_has_no_potential() {
        let mut mesh = Mesh::new(3);
        mesh.join(Some(0), None, 1.0);
        mesh.join(Some(1), Some(2), 1.0);
        assert_eq!(mesh.factor(), None);
    }
}
