//! What can be wrong with a plan, how likely it is before anything was read, and what it changes.

use serde::Serialize;
use utoipa::ToSchema;

use super::kind::FaultKind;
use super::points::At;
use super::stories::Setting;
use crate::print::diagram::circuit::Element;
use crate::print::diagram::wired::{NOTHING, Piece, Side, Wired};

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

/// How far a converter that is set wrong may be off, and what one gives that limits or has no headroom.
const SET_SHARES: [f64; 4] = [0.75, 0.9, 1.12, 1.35];
const HEADROOM_SHARES: [f64; 2] = [0.93, 0.8];
const LIMIT_SHARES: [f64; 2] = [0.75, 0.45];
/// Resistance of worn and of cold cells against that of new ones at room temperature.
const WORN_OHM: [f64; 2] = [2.0, 3.5];
const COLD_OHM: [f64; 2] = [2.0, 3.0];

/// Everything that can be wrong with a circuit. Common practice, no source: work done by hand is wrong more often than parts
/// are, and most of what is measured is sound. What voltage of an ordinary meter hardly show joins once something odd was seen.
pub(super) fn variants(wired: &Wired, has_plug: bool, parallel: u32, odd: Option<&Setting<'_>>) -> Vec<Variant> {
    let series = wired.taps.len() - 1;
    let has = |piece: Piece| wired.side(Side::Load).any(|b| b.piece == piece);
    let mut all = vec![];
    let mut add = |kind: FaultKind, weight: f64, places: &[Option<usize>], sizes: &[f64]| {
        let prior = weight * odd.map_or(1.0, |s| s.factor(kind)) / (places.len() * sizes.len()).max(1) as f64;
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
        // By volts alone it is not told from a sound one; what is seen tells it.
        add(FaultKind::ChargerLimited, if odd.is_some() { 0.06 } else { 0.015 }, &once, &one);
    }
    if wired.live.converter.is_some() {
        add(FaultKind::ConverterSetWrong, 0.05, &once, &SET_SHARES);
        add(FaultKind::ConverterOutOfHeadroom, 0.03, &once, &HEADROOM_SHARES);
        add(FaultKind::ConverterInLimit, 0.03, &once, &LIMIT_SHARES);
    }
    if odd.is_some() {
        if wired.live.charger.is_some() {
            let n = series as f64;
            add(FaultKind::ChargerOtherCount, 0.03, &once, &[(n - 1.0) / n, (n + 1.0) / n]);
        }
        add(FaultKind::WornCells, 0.04, &once, &WORN_OHM);
        add(FaultKind::Cold, 0.02, &once, &COLD_OHM);
    }
    add(FaultKind::MeterScale, 0.01, &once, &FACTORS);
    add(FaultKind::MeterRange, 0.004, &once, &one);
    add(FaultKind::LeadSocket, 0.004, &once, &one);
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

    /// What of it moves the working point: variants that share it share that. `None` where nothing does.
    pub fn moves(&self) -> Option<(CircuitFault, u64)> {
        match self.fault.kind {
            FaultKind::GroupReversed
            | FaultKind::GroupDead
            | FaultKind::CellMissing
            | FaultKind::JointResistive
            | FaultKind::WornCells
            | FaultKind::Cold
            | FaultKind::FuseOpen
            | FaultKind::SwitchOpen
            | FaultKind::BoardOpen => Some((self.fault, self.size.to_bits())),
            // Its size is what the board ties the two ends with.
            FaultKind::LinkOpen => Some((self.fault, 0)),
            _ => None,
        }
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
            (FaultKind::WornCells | FaultKind::Cold, _) => {
                for k in 0..wired.taps.len() - 1 {
                    if let Some((v, ohm)) = source(wired, k) {
                        set(wired, k, v, ohm * self.size);
                    }
                }
            }
            (FaultKind::FuseOpen, _) => opened(wired, Piece::Fuse, OPEN_OHM),
            (FaultKind::SwitchOpen, _) => opened(wired, Piece::Switch, OPEN_OHM),
            (FaultKind::BoardOpen, _) => opened(wired, Piece::Board, self.size),
            _ => {}
        }
    }

    /// What converter and charger are, at the working point. A charger is its end voltage behind a resistance that lets its
    /// current through, so that it holds no current into an open circuit.
    pub fn after(&self, wired: &mut Wired, at: At, charger: Option<Charging>) {
        self.converter(wired, at);
        let (Some((output, _)), Some(Charging { end_v, pack_v, ohm })) = (wired.live.charger, charger) else { return };
        let source = |emf_v: f64, ohm: f64| Element::Source { emf_v, ohm };
        let element = match self.fault.kind {
            FaultKind::ChargerReversed => source(-end_v, ohm.max(REVERSED_OHM)),
            FaultKind::ChargerLimited => source(end_v, ohm / WEAK_SHARE),
            // Its own diode keeps the pack from feeding it.
            FaultKind::ChargerOtherCount if end_v * self.size <= pack_v => NOTHING,
            FaultKind::ChargerOtherCount => source(end_v * self.size, ohm),
            _ => source(end_v, ohm),
        };
        wired.circuit.set(output, element);
    }

    fn converter(&self, wired: &mut Wired, at: At) {
        let Some((_, output)) = wired.live.converter else { return };
        let loaded = at == At::On;
        let share = match self.fault.kind {
            FaultKind::ConverterSetWrong => self.size,
            FaultKind::ConverterOutOfHeadroom | FaultKind::ConverterInLimit if loaded => self.size,
            _ => return,
        };
        if let Element::Source { emf_v, ohm } = wired.circuit.elements()[output].2 {
            wired.circuit.set(output, Element::Source { emf_v: emf_v * share, ohm });
        }
    }
}

/// A charger at work.
#[derive(Debug, Clone, Copy)]
pub(super) struct Charging {
    /// Its end voltage.
    pub end_v: f64,
    /// The pack's at rest.
    pub pack_v: f64,
    /// What lets its current through into a sound pack.
    pub ohm: f64,
}

/// What stands in the way of the current lets through only this.
fn opened(wired: &mut Wired, piece: Piece, ohm: f64) {
    let found: Vec<usize> =
        wired.side(Side::Load).filter(|b| b.piece == piece && !b.open).filter_map(|b| b.through).collect();
    found.into_iter().for_each(|element| wired.circuit.set(element, Element::Resistance { ohm }));
}
