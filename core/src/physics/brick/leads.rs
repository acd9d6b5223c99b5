//! Which terminals the wires leave: pack minus and plus by how the pack is taken off, taps, and joints between pieces.

use super::drawing::LeadKind;
use super::grid::{Grid, Site};
use super::joints::to_edge_mm;
use super::laid::Laid;
use super::metal::{End, Piece};
use crate::plan::{Edge, TakeOff};

/// A wire that leaves a terminal.
#[derive(Debug, Clone, PartialEq)]
pub struct Leaving {
    /// Its node.
    pub node: usize,
    /// What it is for.
    pub kind: LeadKind,
    /// Layer of its terminal.
    pub layer: u32,
    /// Face of its terminal.
    pub end: End,
    /// Site of its terminal.
    pub site: Site,
    /// Further sites it is on, where it feeds every cell.
    pub also: Vec<Site>,
    /// Edge toward which it leaves.
    pub edge: Edge,
}

/// One lead a node from its best piece; a further piece of the same node gets the wire that joins it.
pub fn leads(laid: &Laid<'_>, take_off: Option<TakeOff>) -> Vec<Leaving> {
    let wanted = laid.wanted();
    let mut found = vec![];
    for node in 0..=laid.series {
        let (kind, edge) = match node {
            0 => (LeadKind::Minus, wanted.minus_at),
            n if n == laid.series => (LeadKind::Plus, wanted.plus_at),
            _ => (LeadKind::Tap, None),
        };
        let edge = edge.unwrap_or(Edge::Lower);
        for (k, piece) in pieces_of(laid, node).into_iter().enumerate() {
            let kind = if k == 0 { kind } else { LeadKind::Joint };
            // A lead does not run over other cells to an edge that is only wished for.
            let reaches =
                |e: Edge| piece.sites.iter().any(|&s| to_edge_mm(&laid.grid, s, e) < laid.grid.pitch_mm[0] / 2.0);
            let edge = if k == 0 && reaches(edge) { edge } else { Edge::Lower };
            let nearest = piece.sites.iter().min_by(|a, b| {
                to_edge_mm(&laid.grid, **a, edge).total_cmp(&to_edge_mm(&laid.grid, **b, edge)).then(a.cmp(b))
            });
            if let Some(&site) = nearest {
                found.push(Leaving { node, kind, layer: piece.layer, end: piece.end, site, also: vec![], edge });
            }
        }
    }
    if let Some(take_off) = take_off {
        take(laid, take_off, &mut found);
    }
    found
}

/// Pieces of a node, the one that most strips cross first.
fn pieces_of<'l>(laid: &'l Laid<'_>, node: usize) -> Vec<&'l Piece> {
    let mut own: Vec<&Piece> = laid.pieces().iter().filter(|p| p.node == node).collect();
    own.sort_by_key(|p| std::cmp::Reverse(p.lines.iter().map(|l| l.crossings).sum::<usize>()));
    own
}

/// Puts the leads of both ends where the pack is taken off.
fn take(laid: &Laid<'_>, take_off: TakeOff, leads: &mut [Leaving]) {
    let sites = |node: usize| pieces_of(laid, node).first().map(|p| p.sites.clone()).unwrap_or_default();
    let (minus, plus) = (sites(0), sites(laid.series));
    let minus_now = leads.iter().find(|l| l.kind == LeadKind::Minus).map(|l| l.site);
    let Some(ends) = minus_now.and_then(|now| ends(&laid.grid, &minus, &plus, now)) else { return };
    let last = laid.series;
    for lead in leads.iter_mut().filter(|l| matches!(l.kind, LeadKind::Minus | LeadKind::Plus)) {
        let (at, own) = if lead.node == last { (&ends.plus, &plus) } else { (&ends.minus, &minus) };
        lead.site = match (take_off, lead.node == last) {
            (TakeOff::Middle, _) => at.middle,
            (TakeOff::Diagonal, true) => at.far,
            _ => at.near,
        };
        if take_off == TakeOff::EveryCell {
            lead.also = own.iter().copied().filter(|s| *s != lead.site).collect();
        }
    }
}

/// Three sites of an end group.
#[derive(Debug, Clone, Copy, PartialEq)]
struct EndOf {
    near: Site,
    far: Site,
    middle: Site,
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Ends {
    minus: EndOf,
    plus: EndOf,
}

/// Outermost and middle sites of both end groups; `near` of both lie on one side of the brick, that of `now`.
fn ends(grid: &Grid, minus: &[Site], plus: &[Site], now: Site) -> Option<Ends> {
    let apart_mm = |a: Site, b: Site| {
        let (a, b) = (grid.middle_in_mm(a, [0.0; 3]), grid.middle_in_mm(b, [0.0; 3]));
        a.iter().zip(b).map(|(a, b)| (a - b).powi(2)).sum::<f64>().sqrt()
    };
    let outermost = |sites: &[Site]| {
        let pairs = sites.iter().flat_map(|&a| sites.iter().map(move |&b| (a, b)));
        pairs.max_by(|x, y| apart_mm(x.0, x.1).total_cmp(&apart_mm(y.0, y.1)).then(y.cmp(x)))
    };
    let middle = |sites: &[Site]| {
        let sum_mm = |s: Site| sites.iter().map(|&other| apart_mm(s, other)).sum::<f64>();
        sites.iter().copied().min_by(|&a, &b| sum_mm(a).total_cmp(&sum_mm(b)).then(a.cmp(&b)))
    };
    let (mut m, mut p) = (outermost(minus)?, outermost(plus)?);
    if apart_mm(m.1, now) < apart_mm(m.0, now) {
        m = (m.1, m.0);
    }
    if apart_mm(m.0, p.1) + apart_mm(m.1, p.0) < apart_mm(m.0, p.0) + apart_mm(m.1, p.1) {
        p = (p.1, p.0);
    }
    Some(Ends {
        minus: EndOf { near: m.0, far: m.1, middle: middle(minus)? },
        plus: EndOf { near: p.0, far: p.1, middle: middle(plus)? },
    })
}
