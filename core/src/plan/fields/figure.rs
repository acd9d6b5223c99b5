//! What a figure of a part holds, seen without its type.

use crate::base::chemistry::Chemistry;
use crate::plan::{
    CellOrigin, CellSize, ChargesAs, FuseStyle, Insulation, Known, Port, ReadyKind, Resets, StripMetal, Topology,
    WireSize,
};

/// The value of a figure.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Figure<'p> {
    /// Not stated, or nothing that has a range.
    Plain,
    /// A number.
    Number(f64),
    /// A number with how it is known.
    Known(&'p Known),
    /// A name.
    Name(&'p str),
    /// Thickness of a wire.
    Wire(&'p WireSize),
    /// Outer size of a cell.
    Cell(&'p CellSize),
}

/// A type of figure, seen as one.
pub trait Seen {
    /// What it holds.
    fn seen(&self) -> Figure<'_>;
}

impl Seen for f64 {
    fn seen(&self) -> Figure<'_> {
        Figure::Number(*self)
    }
}

impl Seen for u32 {
    fn seen(&self) -> Figure<'_> {
        Figure::Number(f64::from(*self))
    }
}

impl Seen for Known {
    fn seen(&self) -> Figure<'_> {
        Figure::Known(self)
    }
}

impl Seen for String {
    fn seen(&self) -> Figure<'_> {
        Figure::Name(self)
    }
}

impl Seen for WireSize {
    fn seen(&self) -> Figure<'_> {
        Figure::Wire(self)
    }
}

impl Seen for CellSize {
    fn seen(&self) -> Figure<'_> {
        Figure::Cell(self)
    }
}

impl<T: Seen> Seen for Option<T> {
    fn seen(&self) -> Figure<'_> {
        self.as_ref().map_or(Figure::Plain, T::seen)
    }
}

// Words of a choice have no range: their type holds them.
macro_rules! plain {
    ($($Type:ty),*) => {
        $(impl Seen for $Type {
            fn seen(&self) -> Figure<'_> {
                Figure::Plain
            }
        })*
    };
}

plain!(bool, Chemistry, CellOrigin, ReadyKind, StripMetal, Topology, ChargesAs, FuseStyle, Insulation, Port, Resets);
