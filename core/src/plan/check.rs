//! What must hold in any plan: values in range, ids unique, references that lead somewhere. All faults at once.

use std::collections::HashSet;
use std::fmt;

use serde::Serialize;
use utoipa::ToSchema;

use super::{
    Cell, CellSize, Choice, Compartment, Connector, Draw, FORMAT, Fuse, Known, Module, NodeKind, Offer, Part, Plan,
    Space, Strip, Switch, VERSION, Wire, WireSize,
};
use crate::range::{self, Range};

/// Most cells in one plan.
const CELLS_MAX: u32 = 400;
/// Most load levels, packs, nodes, runs, accepted cautions in one plan.
const LOADS_MAX: usize = 24;
const PACKS_MAX: usize = 4;
const NODES_MAX: usize = 60;
const RUNS_MAX: usize = 100;
const ACCEPTED_MAX: usize = 200;
/// Most alarms, compartments, obstructions and openings.
const FEW_MAX: usize = 12;
/// Longest label.
const TEXT_MAX: usize = 400;
/// Longest name and longest note.
const NAME_MAX: usize = 120;
const NOTES_MAX: usize = 20_000;

/// One field of a plan that cannot stand, by JSON pointer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FieldError {
    /// JSON pointer of the field.
    pub field: String,
    /// What is wrong, with the allowed range.
    pub message: String,
}

impl fmt::Display for FieldError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.field, self.message)
    }
}

impl Plan {
    /// Checks every field and lists all that cannot stand.
    pub fn check(&self) -> Result<(), Vec<FieldError>> {
        let mut c = Checker::default();
        c.require(self.format == FORMAT, "/format", || format!("must be “{FORMAT}”"));
        c.require(self.version == VERSION, "/version", || format!("must be {VERSION}"));
        c.name("/name", &self.name);
        c.require(self.notes.chars().count() <= NOTES_MAX, "/notes", || format!("at most {NOTES_MAX} characters"));
        let currency = self.currency.chars().count();
        c.require((1..=8).contains(&currency), "/currency", || "1 to 8 characters".to_owned());
        self.check_device(&mut c);
        self.check_packs(&mut c);
        self.check_graph(&mut c);
        c.at_most("/accepted", self.accepted.len(), ACCEPTED_MAX);
        for (i, a) in self.accepted.iter().enumerate() {
            c.require(!a.reason.trim().is_empty(), &format!("/accepted/{i}/reason"), || "write why".to_owned());
        }
        if c.errors.is_empty() { Ok(()) } else { Err(c.errors) }
    }

    fn check_device(&self, c: &mut Checker) {
        let d = &self.device;
        c.known("/device/lowest_v", &d.lowest_v, &range::DEVICE_VOLTS);
        c.known("/device/highest_v", &d.highest_v, &range::DEVICE_VOLTS);
        c.known("/device/cutout_v", &d.cutout_v, &range::DEVICE_VOLTS);
        c.number("/device/wanted_run_s", d.wanted_run_s, &range::RUN_TIME);
        if let (Some(low), Some(high)) = (&d.lowest_v, &d.highest_v) {
            c.require(low.value < high.value, "/device/lowest_v", || {
                format!("the lowest volts ({}) must lie below the highest ({})", low.value, high.value)
            });
        }
        let o = &d.original;
        c.number("/device/original/series", o.series.map(f64::from), &range::ORIGINAL_SERIES);
        c.known("/device/original/capacity_ah", &o.capacity_ah, &range::BATTERY_AH);
        c.known("/device/original/mass_g", &o.mass_g, &range::MASS);
        c.known("/device/original/charger_v", &o.charger_v, &range::DEVICE_VOLTS);
        c.known("/device/original/run_s", &o.run_s, &range::RUN_TIME);
        if let Some(size) = &o.wire {
            c.wire_size("/device/original/wire", size);
        }
        c.at_most("/device/loads", d.loads.len(), LOADS_MAX);
        c.unique("/device/loads", d.loads.iter().map(|l| l.id.as_str()));
        for (i, load) in d.loads.iter().enumerate() {
            let at = format!("/device/loads/{i}");
            c.name(&format!("{at}/name"), &load.name);
            match &load.draw {
                Draw::Current { value_a } => c.reading(&format!("{at}/draw/value_a"), value_a, &range::CURRENT),
                Draw::Power { value_w } => c.reading(&format!("{at}/draw/value_w"), value_w, &range::POWER),
                Draw::Resistance { value_ohm } => {
                    c.reading(&format!("{at}/draw/value_ohm"), value_ohm, &range::LOAD_OHM);
                }
            }
            c.number(&format!("{at}/duration_s"), load.duration_s, &range::DURATION);
            c.number(&format!("{at}/every_s"), load.every_s, &range::DURATION);
            if let Some(every_s) = load.every_s {
                c.require(load.duration_s.is_some_and(|d| d <= every_s), &format!("{at}/every_s"), || {
                    "needs a duration, and cannot come more often than it lasts".to_owned()
                });
            }
        }
        self.check_survey(c);
        let e = &self.environment;
        for (name, value_c) in [
            ("use_min_c", e.use_min_c),
            ("use_max_c", e.use_max_c),
            ("charge_min_c", e.charge_min_c),
            ("charge_max_c", e.charge_max_c),
        ] {
            c.number(&format!("/environment/{name}"), Some(value_c), &range::TEMPERATURE);
        }
        c.require(e.use_min_c <= e.use_max_c, "/environment/use_min_c", || {
            "the coldest use cannot be warmer than the hottest".to_owned()
        });
        c.require(e.charge_min_c <= e.charge_max_c, "/environment/charge_min_c", || {
            "the coldest charge cannot be warmer than the hottest".to_owned()
        });
    }

    fn check_survey(&self, c: &mut Checker) {
        let d = &self.device;
        for (name, text) in [("label", &d.label), ("connector", &d.connector)] {
            let length = text.chars().count();
            c.require(length <= TEXT_MAX, &format!("/device/{name}"), || format!("at most {TEXT_MAX} characters"));
        }
        c.number("/device/original/charger_label_v", d.original.charger_label_v, &range::DEVICE_VOLTS);
        c.number("/device/original/charger_label_a", d.original.charger_label_a, &range::CURRENT);
        c.known("/device/brains/charge_v", &d.brains.charge_v, &range::DEVICE_VOLTS);
        c.known("/device/brains/selector_low_v", &d.brains.selector_low_v, &range::DEVICE_VOLTS);
        let p = &d.proving;
        c.number("/device/proving/limit_a", p.limit_a, &range::CURRENT);
        for (name, read) in [("idle_a", &p.idle_a), ("draw_a", &p.draw_a)] {
            c.known(&format!("/device/proving/{name}"), read, &range::BENCH_CURRENT);
        }
        c.known("/device/proving/stops_at_v", &p.stops_at_v, &range::DEVICE_VOLTS);
        c.known("/device/proving/ran_at_v", &p.ran_at_v, &range::DEVICE_VOLTS);
        c.at_most("/device/brains/alarms", d.brains.alarms.len(), FEW_MAX);
        for (i, alarm) in d.brains.alarms.iter().enumerate() {
            c.name(&format!("/device/brains/alarms/{i}/name"), &alarm.name);
            c.reading(&format!("/device/brains/alarms/{i}/at_v"), &alarm.at_v, &range::DEVICE_VOLTS);
        }
        c.at_most("/device/compartments", d.compartments.len(), FEW_MAX);
        c.unique("/device/compartments", d.compartments.iter().map(|k| k.id.as_str()));
        for (i, compartment) in d.compartments.iter().enumerate() {
            check_compartment(c, &format!("/device/compartments/{i}"), compartment);
        }
        c.at_most("/meters", self.meters.len(), LOADS_MAX);
        c.unique("/meters", self.meters.iter().map(|m| m.id.as_str()));
        for (i, meter) in self.meters.iter().enumerate() {
            let at = format!("/meters/{i}");
            c.name(&format!("{at}/name"), &meter.name);
            c.number(&format!("{at}/range"), Some(meter.range), &range::METER_RANGE);
            c.number(&format!("{at}/step"), Some(meter.step), &range::METER_STEP);
            c.require(meter.step <= meter.range, &format!("{at}/step"), || {
                "the step cannot exceed the range".to_owned()
            });
            c.number(&format!("{at}/error_share"), Some(meter.error_share), &range::TOLERANCE);
            c.number(&format!("{at}/error_steps"), Some(meter.error_steps), &range::METER_STEPS);
            c.number(&format!("{at}/burden_ohm"), meter.burden_ohm, &range::BURDEN);
            c.number(&format!("{at}/every_s"), meter.every_s, &range::DURATION);
        }
    }

    fn check_packs(&self, c: &mut Checker) {
        c.require(!self.packs.is_empty(), "/packs", || "a plan has at least one pack".to_owned());
        c.at_most("/packs", self.packs.len(), PACKS_MAX);
        c.unique("/packs", self.packs.iter().map(|p| p.id.as_str()));
        let mut cells: u32 = 0;
        for (i, pack) in self.packs.iter().enumerate() {
            let at = format!("/packs/{i}");
            c.number(&format!("{at}/series"), pack.series.map(f64::from), &range::SERIES);
            c.number(&format!("{at}/parallel"), pack.parallel.map(f64::from), &range::PARALLEL);
            cells = cells.saturating_add(pack.series.unwrap_or(1).saturating_mul(pack.parallel.unwrap_or(1)));
            if let Choice::Chosen { part } = &pack.cell {
                check_cell(c, &format!("{at}/cell/part"), part);
            }
            if let Choice::Chosen { part } = &pack.strip {
                check_strip(c, &format!("{at}/strip/part"), part);
            }
            c.require(
                self.nodes.iter().any(|n| n.id == pack.id && n.kind == NodeKind::Pack),
                &format!("{at}/id"),
                || "no node of kind pack has this id".to_owned(),
            );
        }
        c.require(cells <= CELLS_MAX, "/packs/0/parallel", || {
            format!("{cells} cells are more than the {CELLS_MAX} a plan may have")
        });
    }

    fn check_graph(&self, c: &mut Checker) {
        c.at_most("/nodes", self.nodes.len(), NODES_MAX);
        c.at_most("/runs", self.runs.len(), RUNS_MAX);
        c.unique("/nodes", self.nodes.iter().map(|n| n.id.as_str()));
        c.unique("/runs", self.runs.iter().map(|r| r.id.as_str()));
        let known: HashSet<&str> = self.nodes.iter().map(|n| n.id.as_str()).collect();
        for (i, node) in self.nodes.iter().enumerate() {
            let at = format!("/nodes/{i}");
            let Choice::Chosen { part } = &node.part else {
                continue;
            };
            c.require(part_belongs(part, node.kind), &format!("{at}/part"), || {
                "this kind of part cannot stand at this node".to_owned()
            });
            match part {
                Part::Module { module } => check_module(c, &format!("{at}/part/part/module"), module),
                Part::Fuse { fuse } => check_fuse(c, &format!("{at}/part/part/fuse"), fuse),
                Part::Connector { connector } => {
                    check_connector(c, &format!("{at}/part/part/connector"), connector);
                }
                Part::Switch { switch } => check_switch(c, &format!("{at}/part/part/switch"), switch),
            }
        }
        for (i, run) in self.runs.iter().enumerate() {
            let at = format!("/runs/{i}");
            for (name, end) in [("from", &run.from), ("to", &run.to)] {
                c.require(known.contains(end.as_str()), &format!("{at}/{name}"), || format!("no node “{end}”"));
            }
            c.require(run.from != run.to, &format!("{at}/to"), || "a run joins two different nodes".to_owned());
            c.number(&format!("{at}/length_mm"), run.length_mm, &range::RUN_LENGTH);
            if let Choice::Chosen { part } = &run.wire {
                check_wire(c, &format!("{at}/wire/part"), part);
            }
        }
        for (i, state) in self.states.iter().enumerate() {
            for (k, id) in state.open.iter().enumerate() {
                c.require(known.contains(id.as_str()), &format!("/states/{i}/open/{k}"), || format!("no node “{id}”"));
            }
        }
    }
}

/// Whether a part may stand at a node of that kind.
fn part_belongs(part: &Part, kind: NodeKind) -> bool {
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

fn check_compartment(c: &mut Checker, at: &str, compartment: &Compartment) {
    c.name(&format!("{at}/name"), &compartment.name);
    let sizes_mm: Vec<(&str, f64)> = match compartment.space {
        Space::Box { length_mm, width_mm, depth_mm } => {
            vec![("length_mm", length_mm), ("width_mm", width_mm), ("depth_mm", depth_mm)]
        }
        Space::Cylinder { diameter_mm, length_mm } => vec![("diameter_mm", diameter_mm), ("length_mm", length_mm)],
    };
    for (name, size_mm) in sizes_mm {
        c.number(&format!("{at}/space/{name}"), Some(size_mm), &range::SIZE);
    }
    c.at_most(&format!("{at}/obstructions"), compartment.obstructions.len(), FEW_MAX);
    for (i, o) in compartment.obstructions.iter().enumerate() {
        let at = format!("{at}/obstructions/{i}");
        c.name(&format!("{at}/name"), &o.name);
        for (name, size_mm) in [("length_mm", o.length_mm), ("width_mm", o.width_mm), ("depth_mm", o.depth_mm)] {
            c.number(&format!("{at}/{name}"), Some(size_mm), &range::SIZE);
        }
    }
    c.at_most(&format!("{at}/openings"), compartment.openings.len(), FEW_MAX);
    for (i, o) in compartment.openings.iter().enumerate() {
        let at = format!("{at}/openings/{i}");
        c.number(&format!("{at}/hole_mm"), Some(o.hole_mm), &range::SIZE);
        c.number(&format!("{at}/behind_mm"), o.behind_mm, &range::SIZE);
        c.number(&format!("{at}/wall_mm"), o.wall_mm, &range::SIZE);
    }
}

fn check_offer(c: &mut Checker, at: &str, offer: &Offer) {
    c.name(&format!("{at}/offer/name"), &offer.name);
    c.number(&format!("{at}/offer/price"), offer.price, &range::PRICE);
    c.number(&format!("{at}/offer/arrives_days"), offer.arrives_days, &range::ARRIVAL);
    c.number(&format!("{at}/offer/mass_g"), offer.mass_g, &range::MASS);
}

fn check_cell(c: &mut Checker, at: &str, cell: &Cell) {
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

fn check_strip(c: &mut Checker, at: &str, strip: &Strip) {
    check_offer(c, at, &strip.offer);
    c.number(&format!("{at}/width_mm"), Some(strip.width_mm), &range::SIZE);
    c.number(&format!("{at}/thickness_mm"), Some(strip.thickness_mm), &range::SIZE);
    c.number(&format!("{at}/length_mm"), Some(strip.length_mm), &range::SIZE);
    c.number(&format!("{at}/layers"), Some(f64::from(strip.layers)), &range::STRIP_COUNT);
    c.number(&format!("{at}/side_by_side"), Some(f64::from(strip.side_by_side)), &range::STRIP_COUNT);
}

fn check_module(c: &mut Checker, at: &str, m: &Module) {
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
    }
    if let Some(g) = &m.charges {
        let at = format!("{at}/charges");
        c.reading(&format!("{at}/output_v"), &g.output_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/output_a"), g.output_a, &range::CURRENT);
        c.number(&format!("{at}/tolerance"), g.tolerance, &range::TOLERANCE);
        c.number(&format!("{at}/efficiency"), g.efficiency, &range::EFFICIENCY);
    }
    if let Some(k) = &m.converts {
        let at = format!("{at}/converts");
        c.number(&format!("{at}/output_v"), Some(k.output_v), &range::DEVICE_VOLTS);
        c.known(&format!("{at}/set_point_v"), &k.set_point_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_min_v"), k.input_min_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_max_v"), k.input_max_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/input_a"), k.input_a, &range::CURRENT);
        c.number(&format!("{at}/output_a"), k.output_a, &range::CURRENT);
        c.number(&format!("{at}/efficiency"), k.efficiency, &range::EFFICIENCY);
        c.number(&format!("{at}/dropout_v"), k.dropout_v, &range::DEVICE_VOLTS);
        c.number(&format!("{at}/sheds_w"), k.sheds_w, &range::POWER);
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

fn check_fuse(c: &mut Checker, at: &str, fuse: &Fuse) {
    check_offer(c, at, &fuse.offer);
    c.number(&format!("{at}/rating_a"), Some(fuse.rating_a), &range::CURRENT);
    c.number(&format!("{at}/dc_v"), fuse.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/breaking_a"), fuse.breaking_a, &range::BREAKING);
}

fn check_connector(c: &mut Checker, at: &str, connector: &Connector) {
    check_offer(c, at, &connector.offer);
    c.number(&format!("{at}/continuous_a"), connector.continuous_a, &range::CURRENT);
    c.number(&format!("{at}/dc_v"), connector.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/contact_ohm"), connector.contact_ohm, &range::DCIR);
}

fn check_switch(c: &mut Checker, at: &str, switch: &Switch) {
    check_offer(c, at, &switch.offer);
    c.number(&format!("{at}/continuous_a"), switch.continuous_a, &range::CURRENT);
    c.number(&format!("{at}/dc_v"), switch.dc_v, &range::DEVICE_VOLTS);
    c.number(&format!("{at}/contact_ohm"), switch.contact_ohm, &range::DCIR);
}

fn check_wire(c: &mut Checker, at: &str, wire: &Wire) {
    check_offer(c, at, &wire.offer);
    c.wire_size(&format!("{at}/size"), &wire.size);
}

/// Collects the faults of a plan.
#[derive(Default)]
struct Checker {
    errors: Vec<FieldError>,
}

impl Checker {
    fn require(&mut self, holds: bool, field: &str, message: impl FnOnce() -> String) {
        if !holds {
            self.errors.push(FieldError { field: field.to_owned(), message: message() });
        }
    }

    fn number(&mut self, field: &str, value: Option<f64>, range: &Range) {
        if let Some(value) = value
            && let Err(error) = range.check(value)
        {
            self.errors.push(FieldError { field: field.to_owned(), message: error.to_string() });
        }
    }

    fn reading(&mut self, field: &str, known: &Known, range: &Range) {
        self.number(&format!("{field}/value"), Some(known.value), range);
        self.number(&format!("{field}/error"), known.error, &range::READING_ERROR);
    }

    fn known(&mut self, field: &str, known: &Option<Known>, range: &Range) {
        if let Some(known) = known {
            self.reading(field, known, range);
        }
    }

    fn wire_size(&mut self, field: &str, size: &WireSize) {
        match *size {
            WireSize::Awg { awg } => self.number(&format!("{field}/awg"), Some(f64::from(awg)), &range::AWG),
            WireSize::Metric { area_mm2 } => self.number(&format!("{field}/area_mm2"), Some(area_mm2), &range::AREA),
        }
    }

    fn name(&mut self, field: &str, name: &str) {
        let length = name.trim().chars().count();
        self.require((1..=NAME_MAX).contains(&length), field, || format!("a name of 1 to {NAME_MAX} characters"));
    }

    fn at_most(&mut self, field: &str, count: usize, most: usize) {
        self.require(count <= most, field, || format!("{count} entries; at most {most} are allowed"));
    }

    fn unique<'a>(&mut self, field: &str, ids: impl Iterator<Item = &'a str>) {
        let mut seen = HashSet::new();
        for (i, id) in ids.enumerate() {
            let plain = !id.is_empty() && id.len() <= 40 && id.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-');
            self.require(plain, &format!("{field}/{i}/id"), || {
                "an id is 1 to 40 letters, digits and hyphens".to_owned()
            });
            self.require(seen.insert(id), &format!("{field}/{i}/id"), || format!("“{id}” is used twice"));
        }
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
        c.errors
    }
}
