//! The diagram on the page. The pack stands upright; its plus goes out along the upper rail, its minus along the lower one: to
//! the right the load, to the left the charge, under the pack the board with the taps in their order. So no wire crosses another.

mod page;
mod row;
mod stack;

use super::NodeVolts;
use super::drawing::{Schematic, Stroke};
use super::pen::Pen;
use super::symbols;
use super::wired::{Block, Piece, Side, Wired};
use crate::assess::Workspace;
use page::Page;
use stack::stack;

/// Lays out a circuit; its nodes say what voltage stands beside them.
pub fn lay(workspace: &Workspace<'_>, wired: &Wired, nodes: &[NodeVolts]) -> Schematic {
    let fed = wired.is_fed();
    let mut page = Page { drawing: Schematic::default(), nodes, told: vec![], fed };
    let stack = stack(workspace, wired);
    page.pack(workspace, wired, &stack);
    page.under(workspace, wired, &stack);
    let right_mm = page.alarm(workspace, wired, &stack);
    page.row(wired, &stack, Side::Load, 1.0, right_mm);
    page.row(wired, &stack, Side::Charge, -1.0, stack.left_mm);
    page.close()
}

/// The strokes of what stands in a wire.
fn in_wire(b: &Block, pen: Pen) -> Vec<Stroke> {
    match b.piece {
        Piece::Fuse => symbols::fuse(pen),
        Piece::Switch => symbols::switch(pen, b.open),
        Piece::CutOff => symbols::cut_off(pen, b.open),
        Piece::Contacts => symbols::contacts(pen, b.open),
        _ => symbols::wire_mark(pen),
    }
}
