//! What a meter would read at every point for one fault, as a linear law in what is not known: the voltage of the groups, the
//! resistance of the cells, the draw of the device.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

use super::faults::Variant;
use super::kind::FaultKind;
use super::points::{At, Points};
use crate::base::conductance::{Factored, Mesh};
use crate::print::diagram::circuit::Element;
use crate::print::diagram::wired::Wired;

/// Input of a hand meter. Common practice, no source: 10 megohms.
const METER_OHM: f64 = 1e7;
/// What ties a piece that hangs in the air: insulation.
const LEAK_S: f64 = 1e-9;
/// The least resistance that is told from none.
const LEAST_OHM: f64 = 2e-3;
/// A pin of a tap plug with its lead.
const PIN_OHM: f64 = 0.03;
/// What a board's inputs tie each group with, where a fault does not make it show. Assumed.
const INPUT_OHM: f64 = 1e6;
/// By how much cells may have more resistance than stated, at rest and while a charger of unknown current works. Assumed.
const MORE_CELL_OHM: f64 = 1.25;
const MORE_CHARGING_OHM: f64 = 1.7;
/// A charger that gives several times its stated current: what is printed on it is often that of its input. Assumed.
const STRONGER_CHARGER_OHM: f64 = 0.15;
/// By how much less resistance a device may have than was surveyed. Assumed.
const LESS_DEVICE_OHM: f64 = 0.85;

/// A reading as a law: what each group adds, and what stands beside them.
#[derive(Debug, Clone)]
pub(super) struct Law {
    /// Voltage for a volt of each group.
    pub of_group: Vec<f64>,
    /// Voltage without any of them.
    pub beside: f64,
}

impl Law {
    /// The reading at this voltage of the groups.
    pub fn at(&self, group_v: &[f64]) -> f64 {
        self.beside + self.of_group.iter().zip(group_v).map(|(c, v)| c * v).sum::<f64>()
    }
}

/// A reading with what it would be with more resistance in the cells, and with more draw.
#[derive(Debug, Clone)]
pub(super) struct Laws {
    pub law: Law,
    pub more_ohm: Option<Law>,
    pub more_draw: Option<Law>,
    pub more_leak: Option<Law>,
}

/// One circuit, factored.
struct Solvable {
    factored: Factored,
    /// Nodes and ohms of the groups, from pack minus.
    groups: Vec<(usize, usize, f64)>,
    /// Currents put in by everything else.
    beside: Vec<f64>,
    nodes: usize,
}

/// The circuits of one fault in one condition.
pub(super) struct Network {
    solvable: Solvable,
    more_ohm: Option<Solvable>,
    more_draw: Option<Solvable>,
    more_leak: Option<Solvable>,
    points: Points,
    swaps_device: bool,
    /// Readings that were worked out before, by the nodes of both probes.
    known: RefCell<HashMap<(usize, usize), Rc<Laws>>>,
}

impl Network {
    /// Of a circuit that the fault has changed already.
    pub fn of(wired: &Wired, points: &Points, variant: &Variant, at: At) -> Option<Network> {
        let build = |taken: Taken| solvable(wired, points, variant, taken);
        let (more_ohm, more_draw) = match at {
            At::Rest => (None, None),
            At::On => {
                (build(Taken { cell: MORE_CELL_OHM, ..USUAL }), build(Taken { device: LESS_DEVICE_OHM, ..USUAL }))
            }
            At::Charging => (
                build(Taken { cell: MORE_CHARGING_OHM, ..USUAL }),
                // Current only ever lifts a sound pack: its sizes say so, which a normal to both sides would not.
                (!matches!(variant.fault.kind, FaultKind::Healthy | FaultKind::ChargerReversed))
                    .then(|| build(Taken { charger: STRONGER_CHARGER_OHM, ..USUAL }))
                    .flatten(),
            ),
        };
        Some(Network {
            solvable: build(USUAL)?,
            more_ohm,
            more_draw,
            more_leak: build(Taken { leak_s: MORE_LEAK_S, ..USUAL }),
            points: points.clone(),
            // A plain load draws the same either way round: only what is read over it turns.
            swaps_device: variant.fault.kind == FaultKind::PlugReversed,
            known: RefCell::default(),
        })
    }

    /// The reading between two points. `None` where one of them is not there.
    pub fn laws(&self, red: &str, black: &str) -> Option<Rc<Laws>> {
        let name = |name: &str| match name {
            "Dp" if self.swaps_device => "Dm".to_owned(),
            "Dm" if self.swaps_device => "Dp".to_owned(),
            other => other.to_owned(),
        };
        let (red, black) = (self.points.node(&name(red))?, self.points.node(&name(black))?);
        let work_out = || {
            Rc::new(Laws {
                law: self.solvable.law(red, black),
                more_ohm: self.more_ohm.as_ref().map(|s| s.law(red, black)),
                more_draw: self.more_draw.as_ref().map(|s| s.law(red, black)),
                more_leak: self.more_leak.as_ref().map(|s| s.law(red, black)),
            })
        };
        Some(self.known.borrow_mut().entry((red, black)).or_insert_with(work_out).clone())
    }
}

/// What is taken for what no one stated.
#[derive(Clone, Copy)]
struct Taken {
    /// Resistance of the cells against what was stated.
    cell: f64,
    /// Resistance of the device against what was surveyed.
    device: f64,
    /// Resistance of the charger against that which lets its stated current through.
    charger: f64,
    /// What leaks from pack plus to the output's minus, through a jack, a display, a switch that is off.
    leak_s: f64,
}

const USUAL: Taken = Taken { cell: 1.0, device: 1.0, charger: 1.0, leak_s: 1e-8 };
/// A leak that shows where only a meter draws. Assumed: some ten megohms.
const MORE_LEAK_S: f64 = 3e-8;

fn solvable(wired: &Wired, points: &Points, variant: &Variant, taken: Taken) -> Option<Solvable> {
    let series = points.series;
    let nodes = wired.circuit.node_count() + points.pins.len();
    let mut mesh = Mesh::new(nodes);
    let mut beside = vec![0.0; nodes];
    let mut groups = vec![];
    for (number, &(a, b, element)) in wired.circuit.elements().iter().enumerate() {
        match element {
            Element::Resistance { ohm } => {
                let ohm = if wired.live.device == Some(number) { ohm * taken.device } else { ohm };
                mesh.join(Some(a), Some(b), 1.0 / ohm.max(LEAST_OHM));
            }
            Element::Source { ohm, .. } if number < series => {
                let ohm = (ohm * taken.cell).max(LEAST_OHM);
                mesh.join(Some(a), Some(b), 1.0 / ohm);
                groups.push((a, b, ohm));
            }
            Element::Source { emf_v, ohm } => {
                let is_charger = wired.live.charger.is_some_and(|(output, _)| output == number);
                let stronger = if variant.fault.kind == FaultKind::Healthy { variant.size } else { taken.charger };
                let ohm = if is_charger { ohm * stronger } else { ohm };
                let ohm = ohm.max(LEAST_OHM);
                mesh.join(Some(a), Some(b), 1.0 / ohm);
                beside[a] += emf_v / ohm;
                beside[b] -= emf_v / ohm;
            }
            Element::Current { current_a } => {
                beside[a] += current_a;
                beside[b] -= current_a;
            }
        }
    }
    let ties = matches!(variant.fault.kind, FaultKind::TapOpen | FaultKind::LinkOpen) && variant.size > 1.0;
    let input_ohm = if ties { variant.size } else { INPUT_OHM };
    let swapped = (variant.fault.kind == FaultKind::TapsSwapped).then_some(variant.fault.at).flatten();
    let open = (variant.fault.kind == FaultKind::TapOpen).then_some(variant.fault.at).flatten();
    for (pin, &node) in points.pins.iter().enumerate() {
        let joint = match swapped {
            Some(at) if pin == at => at + 1,
            Some(at) if pin == at + 1 => at,
            _ => pin,
        };
        if open != Some(pin) {
            mesh.join(Some(wired.taps[joint]), Some(node), 1.0 / PIN_OHM);
        }
        if pin > 0 {
            mesh.join(Some(points.pins[pin - 1]), Some(node), 1.0 / input_ohm);
        }
    }
    if let (Some(plus), Some(minus)) = (wired.taps.last(), points.node("Pm")) {
        mesh.join(Some(*plus), Some(minus), taken.leak_s);
    }
    for node in hanging(wired, points) {
        mesh.join(Some(node), None, LEAK_S);
    }
    mesh.join(Some(wired.taps[0]), None, 1.0);
    Some(Solvable { factored: mesh.factor()?, groups, beside, nodes })
}

/// One node of every piece that nothing joins to pack minus.
fn hanging(wired: &Wired, points: &Points) -> Vec<usize> {
    let mut piece: Vec<usize> = (0..wired.circuit.node_count() + points.pins.len()).collect();
    let pins = points.pins.windows(2).map(|p| (p[0], p[1])).chain(points.pins.first().map(|p| (*p, wired.taps[0])));
    let joined = |element: &Element| !matches!(element, Element::Current { .. });
    let elements = wired.circuit.elements().iter().filter(|(_, _, e)| joined(e)).map(|(a, b, _)| (*a, *b));
    for (a, b) in elements.chain(pins) {
        let (from, to) = (piece[a].max(piece[b]), piece[a].min(piece[b]));
        piece.iter_mut().filter(|p| **p == from).for_each(|p| *p = to);
    }
    let ground = piece[wired.taps[0]];
    (0..piece.len()).filter(|n| piece[*n] == *n && *n != ground).collect()
}

impl Solvable {
    /// Reciprocity: what a unit current between the probes lifts everywhere is what everything adds between the probes.
    fn law(&self, red: usize, black: usize) -> Law {
        let mut probes = vec![0.0; self.nodes];
        probes[red] += 1.0;
        probes[black] -= 1.0;
        let lifted = self.factored.solve(&probes);
        // The meter loads what it reads (Thévenin).
        let seen = 1.0 / (1.0 + (lifted[red] - lifted[black]) / METER_OHM);
        Law {
            of_group: self.groups.iter().map(|&(a, b, ohm)| seen * (lifted[a] - lifted[b]) / ohm).collect(),
            beside: seen * self.beside.iter().zip(&lifted).map(|(i, v)| i * v).sum::<f64>(),
        }
    }
}
