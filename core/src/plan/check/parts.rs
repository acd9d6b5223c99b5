//! What must hold in a part, inside a plan as in the catalogue.

use std::collections::HashSet;

use super::{Checker, FieldError};
use crate::base::chemistry::OcvCurve;
use crate::base::range;
use crate::plan::fields::{Field, Figure};
use crate::plan::{Cell, CellSize, Connector, CurvePoint, Fuse, Module, Pack, Part, ReadyPack, Strip, Switch, Wire};

/// Most points of a curve.
const CURVE_POINTS_MAX: usize = 2000;

/// Shows the figures of one part, each with its line of the table.
pub(crate) trait Figures {
    fn show<'p>(&'p self, see: &mut dyn FnMut(&'static Field, Figure<'p>));
}

macro_rules! figures {
    ($($Part:ty),*) => {
        $(impl Figures for $Part {
            fn show<'p>(&'p self, see: &mut dyn FnMut(&'static Field, Figure<'p>)) {
                self.offer.each(see);
                self.each(see);
            }
        })*
    };
}

figures!(Cell, ReadyPack, Strip, Fuse, Connector, Switch, Wire);

impl Figures for Module {
    fn show<'p>(&'p self, see: &mut dyn FnMut(&'static Field, Figure<'p>)) {
        self.offer.each(see);
        self.each(see);
        self.protects.iter().for_each(|does| does.each(see));
        self.charges.iter().for_each(|does| does.each(see));
        self.converts.iter().for_each(|does| does.each(see));
        self.cuts_off.iter().for_each(|does| does.each(see));
        self.alarms.iter().for_each(|does| does.each(see));
        self.supplies.iter().for_each(|does| does.each(see));
    }
}

/// Every figure of a part in its range.
pub(super) fn check_part(c: &mut Checker, at: &str, part: &impl Figures) {
    part.show(&mut |field, figure| check_figure(c, &format!("{at}{}", field.at), field, figure));
}

/// What stands at a node.
pub(super) fn check_node_part(c: &mut Checker, at: &str, part: &Part) {
    match part {
        Part::Module { module } => check_part(c, &format!("{at}/module"), module.as_ref()),
        Part::Fuse { fuse } => check_part(c, &format!("{at}/fuse"), fuse),
        Part::Connector { connector } => check_part(c, &format!("{at}/connector"), connector),
        Part::Switch { switch } => check_part(c, &format!("{at}/switch"), switch),
    }
}

fn check_figure(c: &mut Checker, at: &str, field: &Field, figure: Figure<'_>) {
    match figure {
        Figure::Plain => {}
        Figure::Name(name) => c.name(at, name),
        Figure::Wire(size) => c.wire_size(at, size),
        Figure::Cell(size) => check_size(c, at, size),
        Figure::Number(value) => field.range().into_iter().for_each(|range| c.number(at, Some(value), range)),
        Figure::Known(known) => field.range().into_iter().for_each(|range| c.reading(at, known, range)),
    }
}

fn check_size(c: &mut Checker, at: &str, size: &CellSize) {
    let sides_mm: &[(&str, f64)] = match *size {
        CellSize::Cylindrical { diameter_mm, length_mm } => &[("diameter_mm", diameter_mm), ("length_mm", length_mm)],
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => {
            &[("thickness_mm", thickness_mm), ("width_mm", width_mm), ("length_mm", length_mm)]
        }
    };
    for &(name, side_mm) in sides_mm {
        c.number(&format!("{at}/{name}"), Some(side_mm), &range::SIZE);
    }
}

/// Points of an open-circuit curve: from 0 to 1, both rising.
pub(super) fn check_curve(c: &mut Checker, at: &str, curve: &[CurvePoint]) {
    c.at_most(at, curve.len(), CURVE_POINTS_MAX);
    for (i, point) in curve.iter().enumerate() {
        c.number(&format!("{at}/{i}/soc"), Some(point.soc), &range::SOC);
        c.number(&format!("{at}/{i}/ocv_v"), Some(point.ocv_v), &range::READ_VOLTS);
    }
    let points = curve.iter().map(|p| (p.soc, p.ocv_v)).collect();
    c.require(curve.is_empty() || OcvCurve::through(points).is_some(), at, || {
        "a curve goes from state of charge 0 to 1, with rising voltage from point to point".to_owned()
    });
}

/// Cells group by group, each named once, what was read in range. That their counts are those of the pack is a rule's.
pub(super) fn check_groups(c: &mut Checker, at: &str, pack: &Pack) {
    c.at_most(&format!("{at}/groups"), pack.groups.len(), range::SERIES.max as usize);
    let mut seen = HashSet::new();
    for (i, group) in pack.groups.iter().enumerate() {
        let at = format!("{at}/groups/{i}/cells");
        c.at_most(&at, group.cells.len(), range::PARALLEL.max as usize);
        for (k, cell) in group.cells.iter().enumerate() {
            let at = format!("{at}/{k}");
            c.name(&format!("{at}/label"), &cell.label);
            c.require(seen.insert(cell.label.to_lowercase()), &format!("{at}/label"), || {
                format!("“{}” is in the pack already", cell.label)
            });
            c.number(&format!("{at}/capacity_ah"), cell.capacity_ah, &range::READ_AH);
            c.number(&format!("{at}/resistance_ohm"), cell.resistance_ohm, &range::DCIR);
            c.number(&format!("{at}/rested_v"), cell.rested_v, &range::READ_VOLTS);
        }
    }
}

/// Faults of a part that stands outside any plan, by pointer below `at`.
pub(crate) fn faults(at: &str, part: &impl Figures) -> Vec<FieldError> {
    let mut c = Checker::default();
    check_part(&mut c, at, part);
    c.errors
}
