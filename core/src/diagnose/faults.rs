//! What can be wrong with a plan, how likely it is before anything was read, and what it changes.

use serde::Serialize;
use utoipa::ToSchema;

use crate::print::diagram::circuit::Element;
use crate::print::diagram::wired::{Piece, Side, Wired};

/// A contact that is open, as its insulation.
pub(super) const OPEN_OHM: f64 = 1e9;
/// Transistors of a board that are off. Common practice, no source: some megohms.
const OFF_BOARD_OHM: [f64; 4] = [1e6, 2e6, 4e6, 1e7];
/// What a board's inputs tie each group with, where that shows. Assumed: some hundred kilohms to a few megohms.
pub(super) const INPUT_OHM: [f64; 6] = [3e5, 4.5e5, 6.5e5, 1e6, 1.6e6, 3e6];
/// A dead group still conducts, badly. Common practice, no source.
const DEAD_OHM: f64 = 1.0;
/// A charger on the wrong poles is held by its own limit. Common practice, no source.
const REVERSED_OHM: f64 = 6.0;
/// A supply that is far too weak gives this share of the current. Common practice, no source.
const WEAK_SHARE: f64 = 0.04;

/// What can be wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FaultKind {
    /// Nothing.
    Healthy,
    /// Two neighbouring pins of the tap plug are exchanged.
    TapsSwapped,
    /// A pin of the tap plug makes no contact.
    TapOpen,
    /// A group is the wrong way round.
    GroupReversed,
    /// A group has no volts.
    GroupDead,
    /// A group is far below the others.
    GroupLow,
    /// One of the parallel cells of a group is not joined.
    CellMissing,
    /// The strip before a group is not joined.
    LinkOpen,
    /// A joint has a resistance.
    JointResistive,
    /// The fuse has blown or makes no contact.
    FuseOpen,
    /// The switch does not close.
    SwitchOpen,
    /// The board has opened, or was never woken.
    BoardOpen,
    /// The plug to the device is the wrong way round.
    PlugReversed,
    /// The charger is the wrong way round.
    ChargerReversed,
    /// The charger, or what feeds it, gives far too little.
    ChargerLimited,
    /// The meter shows too much or too little.
    MeterScale,
    /// The meter's leads are exchanged.
    LeadsSwapped,
    /// None of these: nothing that is known reads like that.
    Other,
}

/// What is wrong, and where.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, ToSchema)]
pub struct CircuitFault {
    /// What.
    pub kind: FaultKind,
    /// Which group from pack minus, from 1; for the tap plug the pin from 0, the lower of two.
    pub at: Option<usize>,
}

/// One way in which a fault shows: its size is not known, so that a few stand for all.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Variant {
    pub fault: CircuitFault,
    /// Probability before anything was read.
    pub prior: f64,
    /// Its size: ohms of a joint, of a board’s inputs or transistors, factor of a meter, share of a charger’s resistance.
    pub size: f64,
}

/// Resistances of a bad joint.
const JOINT_OHM: [f64; 4] = [0.03, 0.08, 0.2, 0.6];
/// Resistance of a sound charger against that which lets its stated current through: what is printed on it is often that of
/// its input, and it gives several times as much. Assumed.
const CHARGER_SHARES: [f64; 3] = [1.0, 0.35, 0.12];
/// Factors of a meter that is off, as with a battery that is low.
const FACTORS: [f64; 6] = [0.88, 0.93, 0.96, 1.04, 1.08, 1.13];

/// Everything that can be wrong with a circuit. Common practice, no source: work done by hand is wrong more often than parts
/// are, and most of what is measured is sound.
pub(super) fn variants(wired: &Wired, has_plug: bool, parallel: u32) -> Vec<Variant> {
    let series = wired.taps.len() - 1;
    let has = |piece: Piece| wired.side(Side::Load).any(|b| b.piece == piece);
    let mut all = vec![];
    let mut add = |kind: FaultKind, weight: f64, places: &[Option<usize>], sizes: &[f64]| {
        let prior = weight / (places.len() * sizes.len()).max(1) as f64;
        for &at in places {
            all.extend(sizes.iter().map(|&size| Variant { fault: CircuitFault { kind, at }, prior, size }));
        }
    };
    let groups: Vec<Option<usize>> = (1..=series).map(Some).collect();
    let pins: Vec<Option<usize>> = (0..=series).map(Some).collect();
    let (once, one) = ([None], [1.0]);
    add(FaultKind::Healthy, 0.25, &once, &CHARGER_SHARES);
    if has_plug && series > 1 {
        add(FaultKind::TapsSwapped, 0.08, &pins[..series], &one);
        add(FaultKind::TapOpen, 0.07, &pins, &INPUT_OHM);
    }
    add(FaultKind::GroupReversed, 0.04, &groups, &one);
    add(FaultKind::GroupDead, 0.05, &groups, &one);
    if series > 1 {
        add(FaultKind::GroupLow, 0.07, &groups, &one);
    }
    if parallel > 1 {
        add(FaultKind::CellMissing, 0.06, &groups, &[f64::from(parallel) / f64::from(parallel - 1)]);
    }
    add(FaultKind::LinkOpen, 0.05, &groups, if has_plug { &INPUT_OHM } else { &one });
    add(FaultKind::JointResistive, 0.06, &groups, &JOINT_OHM);
    for (kind, piece, weight, sizes) in [
        (FaultKind::FuseOpen, Piece::Fuse, 0.06, &one[..]),
        (FaultKind::SwitchOpen, Piece::Switch, 0.04, &one[..]),
        (FaultKind::BoardOpen, Piece::Board, 0.07, &OFF_BOARD_OHM[..]),
    ] {
        if has(piece) {
            add(kind, weight, &once, sizes);
        }
    }
    add(FaultKind::PlugReversed, 0.03, &once, &one);
    if wired.live.charger.is_some() {
        add(FaultKind::ChargerReversed, 0.045, &once, &one);
        add(FaultKind::ChargerLimited, 0.015, &once, &one);
    }
    add(FaultKind::MeterScale, 0.01, &once, &FACTORS);
    add(FaultKind::LeadsSwapped, 0.02, &once, &one);
    add(FaultKind::Other, 0.005, &once, &one);
    let sum: f64 = all.iter().map(|v| v.prior).sum();
    all.iter_mut().for_each(|v| v.prior /= sum);
    all
}

impl Variant {
    /// The element of the group that it is about; the groups stand first in the circuit.
    fn group(&self) -> Option<usize> {
        self.fault.at.and_then(|k| k.checked_sub(1))
    }

    /// What it changes in the circuit before that finds its working point.
    pub fn before(&self, wired: &mut Wired) {
        let source = |wired: &Wired, k: usize| match wired.circuit.elements()[k].2 {
            Element::Source { emf_v, ohm } => Some((emf_v, ohm)),
            _ => None,
        };
        let group = self.group().and_then(|k| Some((k, source(wired, k)?)));
        let set =
            |wired: &mut Wired, k: usize, emf_v: f64, ohm: f64| wired.circuit.set(k, Element::Source { emf_v, ohm });
        match (self.fault.kind, group) {
            (FaultKind::GroupReversed, Some((k, (v, ohm)))) => set(wired, k, -v, ohm),
            (FaultKind::GroupDead, Some((k, (_, ohm)))) => set(wired, k, 0.15, ohm.max(DEAD_OHM)),
            (FaultKind::CellMissing, Some((k, (v, ohm)))) => set(wired, k, v, ohm * self.size),
            (FaultKind::LinkOpen, Some((k, (v, _)))) => set(wired, k, v, OPEN_OHM),
            (FaultKind::JointResistive, Some((k, (v, ohm)))) => set(wired, k, v, ohm + self.size),
            (FaultKind::FuseOpen, _) => opened(wired, Piece::Fuse, OPEN_OHM),
            (FaultKind::SwitchOpen, _) => opened(wired, Piece::Switch, OPEN_OHM),
            (FaultKind::BoardOpen, _) => opened(wired, Piece::Board, self.size),
            _ => {}
        }
    }

    /// What the charger is, at the working point: end volts behind a resistance that lets its current through, so that it holds
    /// no current into an open circuit.
    pub fn after(&self, wired: &mut Wired, charger: Option<Charging>) {
        let (Some((output, _)), Some(Charging { end_v, ohm })) = (wired.live.charger, charger) else { return };
        let element = match self.fault.kind {
            FaultKind::ChargerReversed => Element::Source { emf_v: -end_v, ohm: ohm.max(REVERSED_OHM) },
            FaultKind::ChargerLimited => Element::Source { emf_v: end_v, ohm: ohm / WEAK_SHARE },
            _ => Element::Source { emf_v: end_v, ohm },
        };
        wired.circuit.set(output, element);
    }
}

/// A charger at work.
#[derive(Debug, Clone, Copy)]
pub(super) struct Charging {
    /// Its end volts.
    pub end_v: f64,
    /// What lets its current through into a sound pack.
    pub ohm: f64,
}

/// What stands in the way of the current lets through only this.
fn opened(wired: &mut Wired, piece: Piece, ohm: f64) {
    let found: Vec<usize> =
        wired.side(Side::Load).filter(|b| b.piece == piece && !b.open).filter_map(|b| b.through).collect();
    found.into_iter().for_each(|element| wired.circuit.set(element, Element::Resistance { ohm }));
}
