//! The strips to cut for a laid brick: how long, how heavy, how many welds.

use super::laid::Laid;
use super::metal::terminal_mm;
use super::strip::metal_g_per_mm3;
use crate::plan::Strip;

/// Pulses on each terminal under each layer of a strip. Common practice, no source.
const WELDS_EACH: u32 = 2;

/// A strip to cut.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cut {
    /// Place of its piece.
    pub piece: usize,
    /// Place of the strip in the piece.
    pub line: usize,
    /// Cut length: from first to last weld, and half its width beyond each.
    pub length_mm: f64,
    /// Terminals it is welded to.
    pub terminals: usize,
    /// Welding pulses, all layers together.
    pub welds: u32,
    /// Mass, all layers together.
    pub mass_g: f64,
}

/// Every strip of a layout, piece by piece.
pub fn cuts(laid: &Laid<'_>, strip: &Strip) -> Vec<Cut> {
    let mut found = vec![];
    for (piece, p) in laid.pieces().iter().enumerate() {
        for (line, sites) in p.lines.iter().map(|l| &l.sites).enumerate() {
            let [[ax, ay], [bx, by]] = [sites[0], sites[sites.len() - 1]].map(|s| terminal_mm(&laid.grid, s, p.end));
            let length_mm = (ax - bx).hypot(ay - by) + strip.width_mm;
            let layers = f64::from(strip.layers);
            found.push(Cut {
                piece,
                line,
                length_mm,
                terminals: sites.len(),
                welds: WELDS_EACH * sites.len() as u32 * strip.layers,
                mass_g: length_mm * strip.width_mm * strip.thickness_mm * layers * metal_g_per_mm3(strip.metal),
            });
        }
    }
    found
}
