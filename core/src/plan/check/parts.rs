//! What must hold in a part, inside a plan as in the catalogue.

use std::collections::HashSet;

use super::{Checker, FieldError};
use crate::plan::{Cell, CellSize, Connector, Fuse, Module, NodeKind, Offer, Pack, Part, Strip, Switch, Wire};
use crate::range;

/// Longest note on a part of the catalogue.
const NOTE_MAX: usize = 2000;

/// Whether a part may stand at a node of that kind.
pub(super) fn part_belongs(part: &Part, kind: NodeKind) -> bool {
    use NodeKind::{Alarm, Board, Charger, Connector, Converter, CutOff, Device, Fuse, Jack, Pack, Supply, Switch};
    match kind {
        Pack | Device => false,
        Fuse => matches!(part, Part::Fuse { .. }),
        Switch => matches!(part, Part::Switch { .. }),
        Connector | Jack => matches!(part, Part::Connector { .. }),
        Board | Converter | CutOff | Alarm | Charger | Supply => {
            matches!(part, Part::Module { .. })
        }
    }
}

pub(super) fn check_offer(c: &mut Checker, at: &str, offer: &Offer) {
    c.name(&format!("{at}/offer/name"), &offer.name);
    c.number(&format!("{at}/offer/price"), offer.price, &range::PRICE);
    c.number(&format!("{at}/offer/arrives_days"), offer.arrives_days, &range::ARRIVAL);
    c.number(&format!("{at}/offer/mass_g"), offer.mass_g, &range::MASS);
}

pub(super) fn check_cell(c: &mut Checker, at: &str, cell: &Cell) {
    check_offer(c, at, &cell.offer);
    c.number(&format!("{at}/rated_ah"), Some(cell.rated_ah), &range::CELL_AH);
    c.known(&format!("{at}/dcir_ohm"), &cell.dcir_ohm, &range::DCIR);
    c.number(&format!("{at}/discharge_a"), cell.discharge_a, &range::CURRENT);
    c.number(&format!("{at}/pulse_a"), cell.pulse_a, &range::CURRENT);
    c.number(&format!("{at}/pulse_s"), cell.pulse_s, &range::DURATION);
    c.number(&format!("{at}/charge_a"), cell.charge_a, &range::CURRENT);
    c.number(&format!("{at}/full_v"), cell.full_v, &range::CELL_VOLTS);
    c.number(&format!("{at}/end_v"), cell.end_v, &range::CELL_VOLTS);
    let sizes_mm: &[(&str, f64)] = match cell.size {
        CellSize::Cylindrical { diameter_mm, length_mm } => &[("diameter_mm", diameter_mm), ("length_mm", length_mm)],
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => {
            &[("thickness_mm", thickness_mm), ("width_mm", width_mm), ("length_mm", length_mm)]
        }
    };
    for &(name, size_mm) in sizes_mm {
        c.number(&format!("{at}/size/{name}"), Some(size_mm), &range::SIZE);
    }
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
                format!("“{}” stands in the pack already", cell.label)
            });
            c.number(&format!("{at}/capacity_ah"), cell.capacity_ah, &range::READ_AH);
            c.number(&format!("{at}/resistance_ohm"), cell.resistance_ohm, &range::DCIR);
            c.number(&format!("{at}/rested_v"), cell.rested_v, &range::READ_VOLTS);
        }
    }
}

pub(super) fn check_strip(c: &mut Checker, at: &str, strip: &Strip) {
    check_offer(c, at, &strip.offer);
    c.number(&format!("{at}/width_mm"), Some(strip.width_mm), &range::SIZE);
    c.number(&format!("{at}/thickness_mm"), Some(strip.thickness_mm), &range::SIZE);
    c.number(&format!("{at}/length_mm"), Some(strip.length_mm), &range::SIZE);
    c.number(&format!("{at}/layers"), Some(f64::from(strip.layers)), &range::STRIP_COUNT);
    c.number(&format!("{at}/side_by_side"), Some(f64::from(strip.side_by_side)), &range::STRIP_COUNT);
}

pub(super) fn check_module(c: &mut Checker, at: &str, m: &Module) {
    check_offer(c, at, &m.offer);
    c.number(&format!("{at}/standby_a"), m.standby_a.filter(|&a| a != 0.0), &range::CURRENT);
    if let Some(p) = &m.protects {
        let at = format!("{at}/protects");
        c.number(&format!("{at}/series"), p.series.map(f64::from), &range::SERIES);
        for (name, v) in [("over_charge_v", p.over_charge_v), ("over_discharge_v", p.over_discharge_v)] {
            c.number(&format!("{at}/{name}"), v, &range::CELL_VOLTS);
        }
        for (name, a) in [("continuous_a", p.continuous_a), ("charge_a", p.charge_a), ("short_a", p.short_a)] {
            c.number(&format!("{at}/{name}"), a, &range::CURRENT);
        }
        c.number(&format!("{at}/bleed_a"), p.bleed_a.filter(|&a| a != 0.0), &range::CURRENT);
        c.known(&format!("{at}/trip_a"), &p.trip_a, &range::CURRENT);
        c.number(&format!("{at}/trip_delay_s"), p.trip_delay_s, &range::DURATION);
        c.number(&format!("{at}/path_ohm"), p.path_ohm, &range::DCIR);
        c.number(&format!("{at}/detect_v"), p.detect_v, &range::DETECTOR);
        c.number(&format!("{at}/detect_tolerance"), p.detect_tolerance, &range::TOLERANCE);
        c.number(&format!("{at}/transistor_ohm"), p.transistor_ohm, &range::DCIR);
        c.number(&format!("{at}/pairs"), p.pairs.map(f64::from), &range::PAIRS);
        c.number(&format!("{at}/trickle_a"), p.trickle_a.filter(|&a| a != 0.0), &range::CURRENT);
    }
    if let Some(g) = &m.charges {
        let at = format!("{at}/charges");
        c.reading(&format!("{at}/output_v"), &g.output_v, &range::DEVICE_VOLTS);
        for (name, a) in [
            ("output_a", g.output_a),
            ("printed_a", g.printed_a),
            ("pre_charge_a", g.pre_charge_a),
            ("ends_a", g.ends_a),
            ("balance_a", g.balance_a),
            ("back_leak_a", g.back_leak_a.filter(|&a| a != 0.0)),
        ] {
            c.number(&format!("{at}/{name}"), a, &range::CURRENT);
        }
        for (name, v) in [("input_min_v", g.input_min_v), ("input_max_v", g.input_max_v), ("restart_v", g.restart_v)] {
            c.number(&format!("{at}/{name}"), v, &range::DEVICE_VOLTS);
        }
        c.number(&format!("{at}/tolerance"), g.tolerance, &range::TOLERANCE);
        c.number(&format!("{at}/efficiency"), g.efficiency, &range::EFFICIENCY);
    }
    if let Some(k) = &m.converts {
        let at = format!("{at}/converts");
        c.number(&format!("{at}/output_v"), Some(k.output_v), &range::DEVICE_VOLTS);
        c.known(&format!("{at}/set_point_v"), &k.set_point_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/output_max_v"), k.output_max_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_min_v"), k.input_min_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_max_v"), k.input_max_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_a"), k.input_a, &range::CURRENT);
        c.number(&format!("{at}/output_a"), k.output_a, &range::CURRENT);
        c.number(&format!("{at}/efficiency"), k.efficiency, &range::EFFICIENCY);
        c.number(&format!("{at}/dropout_v"), k.dropout_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/sheds_w"), k.sheds_w, &range::POWER);
        c.number(&format!("{at}/own_w"), k.own_w, &range::OWN_POWER);
        c.number(&format!("{at}/path_ohm"), k.path_ohm, &range::DCIR);
        c.number(&format!("{at}/diode_v"), k.diode_v, &range::SMALL_VOLTS);
        c.number(&format!("{at}/k_per_w"), k.k_per_w, &range::K_PER_W);
    }
    if let Some(o) = &m.cuts_off {
        c.number(&format!("{at}/cuts_off/at_v"), Some(o.at_v), &range::DEVICE_VOLTS);
        c.number(&format!("{at}/cuts_off/rearm_v"), o.rearm_v, &range::DEVICE_VOLTS);
    }
    if let Some(a) = &m.alarms {
        c.number(&format!("{at}/alarms/at_cell_v"), Some(a.at_cell_v), &range::CELL_VOLTS);
    }
    if let Some(s) = &m.supplies {
        c.number(&format!("{at}/supplies/output_v"), Some(s.output_v), &range::DEVICE_VOLTS);
        c.number(&format!("{at}/supplies/output_a"), Some(s.output_a), &range::CURRENT);
    }
}

pub(super) fn check_fuse(c: &mut Checker, at: &str, fuse: &Fuse) {
    check_offer(c, at, &fuse.offer);
    c.number(&format!("{at}/rating_a"), Some(fuse.rating_a), &range::CURRENT);
    c.number(&format!("{at}/dc_v"), fuse.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/breaking_a"), fuse.breaking_a, &range::BREAKING);
}

pub(super) fn check_connector(c: &mut Checker, at: &str, connector: &Connector) {
    check_offer(c, at, &connector.offer);
    c.number(&format!("{at}/continuous_a"), connector.continuous_a, &range::CURRENT);
    c.number(&format!("{at}/dc_v"), connector.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/contact_ohm"), connector.contact_ohm, &range::DCIR);
}

pub(super) fn check_switch(c: &mut Checker, at: &str, switch: &Switch) {
    check_offer(c, at, &switch.offer);
    c.number(&format!("{at}/continuous_a"), switch.continuous_a, &range::CURRENT);
    c.number(&format!("{at}/dc_v"), switch.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/contact_ohm"), switch.contact_ohm, &range::DCIR);
}

pub(super) fn check_wire(c: &mut Checker, at: &str, wire: &Wire) {
    check_offer(c, at, &wire.offer);
    c.wire_size(&format!("{at}/size"), &wire.size);
}

impl Cell {
    /// Checks the values of a cell that stands outside any plan, in a lot of the stock.
    pub fn check(&self, at: &str) -> Vec<FieldError> {
        let mut c = Checker::default();
        check_cell(&mut c, at, self);
        c.errors
    }
}

impl crate::suggest::Item {
    /// Checks the values of a catalogue part as they are checked inside a plan.
    pub fn check(&self, at: &str) -> Vec<FieldError> {
        use crate::suggest::ItemPart;
        let mut c = Checker::default();
        match &self.part {
            ItemPart::Cell { cell } => check_cell(&mut c, at, cell),
            ItemPart::Strip { strip } => check_strip(&mut c, at, strip),
            ItemPart::Module { module } => check_module(&mut c, at, module),
            ItemPart::Fuse { fuse } => check_fuse(&mut c, at, fuse),
            ItemPart::Connector { connector } => check_connector(&mut c, at, connector),
            ItemPart::Switch { switch } => check_switch(&mut c, at, switch),
            ItemPart::Wire { wire } => check_wire(&mut c, at, wire),
        }
        let plain = |b: u8| b.is_ascii_alphanumeric() || b == b'-' || b == b'.';
        c.require((1..=60).contains(&self.id.len()) && self.id.bytes().all(plain), &format!("{at}/id"), || {
            "an id is 1 to 60 letters, digits, hyphens and points".to_owned()
        });
        c.number(&format!("{at}/at_hand"), self.at_hand.map(f64::from), &range::AT_HAND);
        c.require(self.note.chars().count() <= NOTE_MAX, &format!("{at}/note"), || {
            format!("at most {NOTE_MAX} characters")
        });
        c.errors
    }
}
