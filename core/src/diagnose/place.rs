//! Where in the diagram a fault is.

use serde::Serialize;
use utoipa::ToSchema;

use super::faults::CircuitFault;
use super::kind::FaultKind::{self, *};
use super::points::Points;
use crate::print::diagram::wired::{Piece, Side, Wired};

/// Blocks and nodes of the diagram that a fault is at; both empty where it is nowhere in it.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, ToSchema)]
pub struct FaultPlace {
    /// Ids of blocks.
    pub blocks: Vec<String>,
    /// Numbers of nodes.
    pub nodes: Vec<usize>,
}

pub(super) fn place(fault: CircuitFault, wired: &Wired, points: &Points) -> FaultPlace {
    let nodes = match (fault.kind, fault.at) {
        (TapsSwapped, Some(pin)) => tap(wired, &[pin, pin + 1]),
        (TapOpen, Some(pin)) => tap(wired, &[pin]),
        (_, Some(group)) => tap(wired, &[group - 1, group]),
        (WrongSideOfBoard, None) => tap(wired, &[0]).into_iter().chain(points.node("Pm")).collect(),
        _ => vec![],
    };
    let blocks = match pieces(fault.kind) {
        Some((side, piece)) => wired.side(side).filter(|b| b.piece == piece).map(|b| b.id.clone()).collect(),
        None if matches!(fault.kind, WornCells | Cold) => vec!["pack".to_owned()],
        None => vec![],
    };
    FaultPlace { blocks, nodes }
}

fn tap(wired: &Wired, numbers: &[usize]) -> Vec<usize> {
    numbers.iter().filter_map(|k| wired.taps.get(*k).copied()).collect()
}

fn pieces(kind: FaultKind) -> Option<(Side, Piece)> {
    Some(match kind {
        FuseOpen | FuseTooSmall | Short => (Side::Load, Piece::Fuse),
        SwitchOpen => (Side::Load, Piece::Switch),
        BoardOpen | WrongSideOfBoard => (Side::Load, Piece::Board),
        PlugReversed | DeviceCutOut | SoftStartLost | ChangeOverGap => (Side::Load, Piece::Device),
        ConverterSetWrong | ConverterOutOfHeadroom | ConverterInLimit => (Side::Load, Piece::Converter),
        ComparatorChatter => (Side::Load, Piece::CutOff),
        ChargerReversed | ChargerLimited | ChargerOtherCount => (Side::Charge, Piece::Charger),
        _ => return None,
    })
}
