//! A laid brick as a circuit, and how the current shares itself among its cells and strips.

use super::circuit::{Circuit, Resistor, Terminal};
use crate::physics::brick::drawing::LeadKind;
use crate::physics::brick::grid::Site;
use crate::physics::brick::laid::Laid;
use crate::physics::brick::leads::leads;
use crate::physics::brick::metal::{End, terminal_mm};
use crate::physics::brick::strip::{link_limit_a, link_pulse_a2s, link_short_time_a, strip_ohm_per_mm};
use crate::plan::{Joining, Strip, TakeOff};

/// Way of a joint's wire round the edge of the brick, besides the way between its ends. Assumed.
const JOINT_SLACK_MM: f64 = 30.0;
/// Two contacts of a spring holder. Common practice, no source: 20 to 100 milliohm each.
const SPRINGS_OHM: f64 = 2.0 * 0.05;

/// The wire that joins two pieces of one node.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct JointWire {
    /// Its resistance.
    pub ohm_per_mm: f64,
    /// What it is rated for continuously, if that is known.
    pub limit_a: Option<f64>,
}

/// A strip between two welds next to one another, or the wire of a joint.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Segment {
    /// Its node.
    pub node: usize,
    /// Terminals it joins.
    pub ends: [Terminal; 2],
    /// Place of its piece, and of its strip there; absent is a wire.
    pub strip: Option<(usize, usize)>,
    /// Its length.
    pub length_mm: f64,
    /// Its resistance.
    pub ohm: f64,
}

/// How one ampere of the pack shares itself. All cells of a group have the same open-circuit voltage: they rest joined.
#[derive(Debug, Clone, PartialEq)]
pub struct Sharing {
    /// Strips from weld to weld, and wires.
    pub segments: Vec<Segment>,
    /// Share of each segment, from its first end to its second.
    pub segment_share: Vec<f64>,
    /// Share of each cell; those of a group make one.
    pub cell_share: Vec<f64>,
    /// Resistance of each cell, as put in.
    pub cell_ohm: Vec<f64>,
    /// Contacts of a holder, in each of them.
    pub contacts_ohm: f64,
    /// Terminals on which the wire of pack minus sits.
    pub minus: Vec<Terminal>,
    /// Terminals on which the wire of pack plus sits.
    pub plus: Vec<Terminal>,
    /// Cells in parallel.
    pub parallel: usize,
    /// Resistance from lead to lead.
    pub ohm: f64,
    /// What of it is strips, wires, and uneven sharing: the cells alone would have the rest.
    pub joints_ohm: f64,
    one_strip: Strip,
    joint: JointWire,
}

impl Sharing {
    /// How a laid brick shares its current. `None` where its cells are not all joined, or nothing is known of them.
    ///
    /// `cell_ohm` counts for every cell, unless each chosen one was read. Strips are resistors from weld to weld (R =
    /// rho l / A); welds and tabs count nothing.
    pub fn of(
        laid: &Laid<'_>,
        strip: &Strip,
        cell_ohm: f64,
        joint: JointWire,
        take_off: Option<TakeOff>,
    ) -> Option<Sharing> {
        if !laid.suits() {
            return None;
        }
        let one_strip = Strip { side_by_side: 1, ..strip.clone() };
        let (segments, minus, plus) = segments(laid, &one_strip, joint, take_off)?;
        let contacts_ohm = if laid.pack.brick.joined_by == Some(Joining::Springs) { SPRINGS_OHM } else { 0.0 };
        let cell_ohm: Vec<f64> = resistances(laid, cell_ohm).into_iter().map(|ohm| ohm + contacts_ohm).collect();
        let resistors = segments.iter().map(|s| Resistor { ends: s.ends, ohm: s.ohm }).collect();
        let circuit = Circuit { cell_ohm, resistors, minus, plus };
        let flow = circuit.solver()?.flow(&vec![0.0; circuit.cell_ohm.len()], 1.0);
        let cells_ohm: f64 = circuit
            .cell_ohm
            .chunks(laid.parallel)
            .map(|group| 1.0 / group.iter().map(|ohm| 1.0 / (ohm - contacts_ohm)).sum::<f64>())
            .sum();
        let ohm = -flow.pack_v;
        Some(Sharing {
            segments,
            segment_share: flow.resistor_a,
            cell_share: flow.cell_a,
            cell_ohm: circuit.cell_ohm,
            contacts_ohm,
            minus: circuit.minus,
            plus: circuit.plus,
            parallel: laid.parallel,
            ohm,
            joints_ohm: ohm - cells_ohm,
            one_strip,
            joint,
        })
    }

    /// Cells, strips and wires as a circuit.
    pub fn circuit(&self) -> Circuit {
        Circuit {
            cell_ohm: self.cell_ohm.clone(),
            resistors: self.segments.iter().map(|s| Resistor { ends: s.ends, ohm: s.ohm }).collect(),
            minus: self.minus.clone(),
            plus: self.plus.clone(),
        }
    }

    /// The most loaded cell, and its current against an even share of its group's.
    pub fn most_loaded(&self) -> (usize, f64) {
        let even = 1.0 / self.parallel as f64;
        let most = self.cell_share.iter().enumerate().max_by(|a, b| a.1.total_cmp(b.1));
        most.map_or((0, 1.0), |(cell, share)| (cell, share / even))
    }

    /// Most that strips and take-off load a cell beyond what its own resistance would give it in its group.
    pub fn uneven(&self) -> f64 {
        let groups = self.cell_share.chunks(self.parallel).zip(self.cell_ohm.chunks(self.parallel));
        let worst = |(share, ohm): (&[f64], &[f64])| {
            let all: f64 = ohm.iter().map(|r| 1.0 / r).sum();
            share.iter().zip(ohm).map(|(i, r)| i * r * all).fold(1.0, f64::max)
        };
        groups.map(worst).fold(1.0, f64::max)
    }

    /// What one segment is rated for continuously: a wire of unknown limit counts as unlimited.
    pub fn segment_limit_a(&self, segment: usize) -> f64 {
        match self.segments[segment].strip {
            Some(_) => link_limit_a(&self.one_strip),
            None => self.joint.limit_a.unwrap_or(f64::INFINITY),
        }
    }

    /// The segment that is the first to reach its limit, and the current of the pack then.
    pub fn weakest(&self) -> Option<(usize, f64)> {
        let pack_a = |k: usize| self.segment_limit_a(k) / self.segment_share[k].abs();
        (0..self.segments.len()).map(|k| (k, pack_a(k))).min_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// Largest share of a strip.
    pub fn largest_share(&self) -> Option<f64> {
        let strips = self.segments.iter().zip(&self.segment_share).filter(|(s, _)| s.strip.is_some());
        strips.map(|(_, share)| share.abs()).reduce(f64::max)
    }

    /// Current of the pack that the most loaded strip can carry for a short time.
    pub fn short_time_a(&self, duration_s: f64) -> Option<f64> {
        Some(link_short_time_a(&self.one_strip, duration_s) / self.largest_share()?)
    }

    /// I²t of the pack that the most loaded strip withstands.
    pub fn strips_pulse_a2s(&self) -> Option<f64> {
        Some(link_pulse_a2s(&self.one_strip) / self.largest_share()?.powi(2))
    }

    /// Heat of each cell for one ampere squared of the pack: its own, and half of every strip and wire on it.
    pub fn heat_w_per_a2(&self) -> Vec<f64> {
        let mut heat: Vec<f64> = self.cell_share.iter().zip(&self.cell_ohm).map(|(i, r)| i * i * r).collect();
        for (segment, share) in self.segments.iter().zip(&self.segment_share) {
            for end in segment.ends {
                heat[end.cell] += share * share * segment.ohm / 2.0;
            }
        }
        heat
    }
}

/// Resistance of each cell: as read on each, where all were; else alike.
fn resistances(laid: &Laid<'_>, cell_ohm: f64) -> Vec<f64> {
    let count = laid.layout.cells.len();
    let read: Vec<f64> =
        laid.pack.groups.iter().flat_map(|g| &g.cells).filter_map(|c| c.resistance_ohm).filter(|r| *r > 0.0).collect();
    if read.len() == count { read } else { vec![cell_ohm; count] }
}

/// Every strip from weld to weld and every wire between pieces; the terminals of pack minus and plus.
fn segments(
    laid: &Laid<'_>,
    strip: &Strip,
    joint: JointWire,
    take_off: Option<TakeOff>,
) -> Option<(Vec<Segment>, Vec<Terminal>, Vec<Terminal>)> {
    let grid = &laid.grid;
    let cells = laid.cells_by_place();
    let terminal = |site: Site, end: End| -> Option<Terminal> {
        let cell = cells[grid.index(site)]?;
        Some(Terminal { cell, plus: laid.layout.cells[cell].plus_up == (end == End::Top) })
    };
    let ohm_per_mm = strip_ohm_per_mm(strip);
    let mut found = vec![];
    for (at, piece) in laid.pieces().iter().enumerate() {
        for (line, sites) in piece.lines.iter().map(|l| &l.sites).enumerate() {
            for pair in sites.windows(2) {
                let [[ax, ay], [bx, by]] = [pair[0], pair[1]].map(|s| terminal_mm(grid, s, piece.end));
                let length_mm = (ax - bx).hypot(ay - by);
                found.push(Segment {
                    node: piece.node,
                    ends: [terminal(pair[0], piece.end)?, terminal(pair[1], piece.end)?],
                    strip: Some((at, line)),
                    length_mm,
                    ohm: ohm_per_mm * length_mm,
                });
            }
        }
    }
    let leaving = leads(laid, take_off);
    let (mut minus, mut plus) = (vec![], vec![]);
    for lead in &leaving {
        let own = terminal(lead.site, lead.end)?;
        match lead.kind {
            LeadKind::Minus | LeadKind::Plus => {
                let all = if lead.kind == LeadKind::Minus { &mut minus } else { &mut plus };
                all.push(own);
                all.extend(lead.also.iter().filter_map(|&s| terminal(s, lead.end)));
            }
            LeadKind::Tap => {}
            LeadKind::Joint => {
                let first = leaving.iter().find(|l| l.node == lead.node && l.kind != LeadKind::Joint)?;
                let (a, b) = (grid.middle_in_mm(first.site, [0.0; 3]), grid.middle_in_mm(lead.site, [0.0; 3]));
                let through_mm = if first.end == lead.end { 0.0 } else { grid.cell_mm[2] };
                let length_mm = a.iter().zip(b).map(|(a, b)| (a - b).abs()).sum::<f64>() + through_mm + JOINT_SLACK_MM;
                let ends = [terminal(first.site, first.end)?, own];
                let ohm = joint.ohm_per_mm * length_mm;
                found.push(Segment { node: lead.node, ends, strip: None, length_mm, ohm });
            }
        }
    }
    Some((found, minus, plus))
}
