//! The points of a circuit that a meter is held to, by short names that stay while the plan is changed.

use serde::Serialize;
use utoipa::ToSchema;

use super::wired::{Piece, Side, Wired};

/// A point that a probe may be held to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MeterPoint {
    /// Its name: `B0..Bn` a joint on the cells, `Pm` the board's output minus, `F` and `S` behind fuse and switch, `C` the
    /// output of the converter, `Dp` and `Dm` at the device, `Jp` and `Jm` at the charge jack.
    pub name: String,
    /// Where it is, in words.
    pub says: String,
    /// Its node in the diagram.
    pub node: usize,
}

/// Every point, in the order of the path from pack minus to the device and the jack.
pub fn meter_points(wired: &Wired) -> Vec<MeterPoint> {
    let series = wired.taps.len() - 1;
    let point = |name: &str, says: &str, node: usize| MeterPoint { name: name.to_owned(), says: says.to_owned(), node };
    let mut found: Vec<MeterPoint> = wired
        .taps
        .iter()
        .enumerate()
        .map(|(k, &tap)| {
            let end = match k {
                0 => ", pack minus",
                k if k == series => ", pack plus",
                _ => "",
            };
            point(&format!("B{k}"), &format!("joint B{k} on the cells{end}"), tap)
        })
        .collect();
    let load = |piece: Piece| wired.side(Side::Load).find(|b| b.piece == piece);
    let mut put = |name: &str, says: &str, node: Option<usize>| {
        found.extend(node.map(|node| point(name, says, node)));
    };
    put("Pm", "output minus of the board", Some(load(Piece::Board).map_or(wired.taps[0], |b| b.to.minus)));
    put("F", "behind the fuse", load(Piece::Fuse).map(|b| b.to.plus));
    put("S", "behind the switch", load(Piece::Switch).map(|b| b.to.plus));
    put("C", "output of the converter", load(Piece::Converter).map(|b| b.to.plus));
    put("Dp", &wired.device_says[0], load(Piece::Device).map(|b| b.from.plus));
    put("Dm", &wired.device_says[1], load(Piece::Device).map(|b| b.from.minus));
    // On the pack's half: it stays live when the charger's plug is pulled.
    let jack = wired.side(Side::Charge).find(|b| b.piece == Piece::Contacts).map(|b| b.from).or(wired.charge_from);
    put("Jp", "plus of the charge jack", jack.map(|j| j.plus));
    put("Jm", "minus of the charge jack", jack.map(|j| j.minus));
    found
}
