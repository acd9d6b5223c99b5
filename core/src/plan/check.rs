//! What must hold in any plan: values in range, ids unique, references that lead somewhere. All faults at once.

mod brick;
mod feed;
mod parts;
mod survey;

use std::collections::HashSet;
use std::fmt;

use serde::Serialize;
use utoipa::ToSchema;

use super::fields::PartKind;
use super::{Choice, FORMAT, Known, NodeKind, Plan, VERSION, WireSize};
use crate::base::range::{self, Range};
pub(crate) use parts::faults;
use parts::{check_curve, check_groups, check_node_part, check_part};

/// Most cells in one plan.
pub(crate) const CELLS_MAX: u32 = 400;
/// Most load levels, packs, nodes, runs, accepted cautions in one plan.
const LOADS_MAX: usize = 24;
const PACKS_MAX: usize = 4;
const NODES_MAX: usize = 60;
const RUNS_MAX: usize = 100;
const ACCEPTED_MAX: usize = 200;
/// Most outcomes of arrival tests.
const ARRIVALS_MAX: usize = 200;
/// Most things that are used up.
const EXTRAS_MAX: usize = 40;
/// Most alarms, compartments, obstructions and openings.
const FEW_MAX: usize = 12;
/// Most photographs.
const PHOTOS_MAX: usize = 60;
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
        feed::check_feed(&mut c, self);
        self.check_around(&mut c);
        c.number("/dummy/resistor_ohm", self.dummy.resistor_ohm, &range::LOAD_OHM);
        c.number("/dummy/capacitor_f", self.dummy.capacitor_f, &range::CAPACITANCE);
        c.at_most("/arrivals", self.arrivals.len(), ARRIVALS_MAX);
        for (i, a) in self.arrivals.iter().enumerate() {
            let at = format!("/arrivals/{i}");
            c.require(self.node(&a.place).is_some(), &format!("{at}/place"), || format!("no node “{}”", a.place));
            c.name(&format!("{at}/test"), &a.test);
            c.name(&format!("{at}/part"), &a.part);
            // Which unit it is in is the test's to say; none of them goes below nothing or beyond this.
            c.known(&format!("{at}/reading"), &a.reading, &range::ARRIVAL_OHM);
        }
        c.at_most("/accepted", self.accepted.len(), ACCEPTED_MAX);
        for (i, a) in self.accepted.iter().enumerate() {
            c.require(!a.reason.trim().is_empty(), &format!("/accepted/{i}/reason"), || "write why".to_owned());
        }
        if c.errors.is_empty() { Ok(()) } else { Err(c.errors) }
    }

    /// What stands beside the circuit: readings of the charge, the wiring, what is bought.
    fn check_around(&self, c: &mut Checker) {
        let read = &self.charging;
        for (name, read) in [("jack_v", &read.jack_v), ("plug_v", &read.plug_v), ("out_v", &read.out_v)] {
            c.known(&format!("/charging/{name}"), read, &range::PROBE_VOLTS);
        }
        c.known("/charging/cells_v", &read.cells_v, &range::DEVICE_VOLTS);
        if let Some(taps) = &self.wiring.taps {
            if let Some(size) = &taps.size {
                c.wire_size("/wiring/taps/size", size);
            }
            c.number("/wiring/taps/length_mm", taps.length_mm, &range::RUN_LENGTH);
        }
        c.number("/wiring/meter_a", self.wiring.meter_a, &range::BENCH_CURRENT);
        c.number("/wiring/meter_supply_ah", self.wiring.meter_supply_ah, &range::BATTERY_AH);
        c.number("/buying/replacement_price", self.buying.replacement_price, &range::PRICE);
        c.at_most("/buying/extras", self.buying.extras.len(), EXTRAS_MAX);
        for (i, extra) in self.buying.extras.iter().enumerate() {
            let at = format!("/buying/extras/{i}");
            c.name(&format!("{at}/name"), &extra.name);
            c.number(&format!("{at}/count"), Some(extra.count), &range::EXTRA_COUNT);
            c.number(&format!("{at}/price"), extra.price, &range::PRICE);
        }
    }

    fn check_device(&self, c: &mut Checker) {
        let d = &self.device;
        c.known("/device/lowest_v", &d.lowest_v, &range::DEVICE_VOLTS);
        c.known("/device/highest_v", &d.highest_v, &range::DEVICE_VOLTS);
        c.known("/device/cutout_v", &d.cutout_v, &range::DEVICE_VOLTS);
        c.number("/device/wanted_run_s", d.wanted_run_s, &range::RUN_TIME);
        if let (Some(low), Some(high)) = (&d.lowest_v, &d.highest_v) {
            c.require(low.value < high.value, "/device/lowest_v", || {
                format!("the minimum voltage ({}) must be below the maximum ({})", low.value, high.value)
            });
        }
        let o = &d.original;
        c.number("/device/original/series", o.series.map(f64::from), &range::ORIGINAL_SERIES);
        c.number("/device/original/label_v", o.label_v, &range::DEVICE_VOLTS);
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
            feed::check_draw(c, &format!("{at}/draw"), &load.draw);
            c.number(&format!("{at}/duration_s"), load.duration_s, &range::DURATION);
            c.number(&format!("{at}/every_s"), load.every_s, &range::DURATION);
            if let Some(every_s) = load.every_s {
                c.require(load.duration_s.is_some_and(|d| d <= every_s), &format!("{at}/every_s"), || {
                    "needs a duration, and cannot come more often than it lasts".to_owned()
                });
            }
        }
        survey::check_survey(c, self);
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

    fn check_packs(&self, c: &mut Checker) {
        c.require(!self.packs.is_empty(), "/packs", || "a plan has at least one pack".to_owned());
        c.at_most("/packs", self.packs.len(), PACKS_MAX);
        c.unique("/packs", self.packs.iter().map(|p| p.id.as_str()));
        let mut cells: u32 = 0;
        for (i, pack) in self.packs.iter().enumerate() {
            let at = format!("/packs/{i}");
            c.number(&format!("{at}/series"), pack.series.map(f64::from), &range::SERIES);
            c.number(&format!("{at}/parallel"), pack.parallel.map(f64::from), &range::PARALLEL);
            check_groups(c, &at, pack);
            brick::check_brick(c, &format!("{at}/brick"), &pack.brick);
            c.at_most(&format!("{at}/group_v"), pack.group_v.len(), range::SERIES.max as usize);
            for (k, read) in pack.group_v.iter().enumerate() {
                c.reading(&format!("{at}/group_v/{k}"), read, &range::TAP_VOLTS);
            }
            if let Some(fitted) = &pack.fitted {
                let at = format!("{at}/fitted");
                c.name(&format!("{at}/of"), &fitted.of);
                c.number(&format!("{at}/capacity_ah"), Some(fitted.capacity_ah), &range::CELL_AH);
                c.number(&format!("{at}/dcir_ohm"), Some(fitted.dcir_ohm), &range::DCIR);
                c.number(&format!("{at}/diffusion_s"), Some(fitted.diffusion_s), &range::DIFFUSION);
                c.number(&format!("{at}/error_v"), Some(fitted.error_v), &range::READ_VOLTS);
                check_curve(c, &format!("{at}/curve"), &fitted.curve);
            }
            cells = cells.saturating_add(pack.series.unwrap_or(1).saturating_mul(pack.parallel.unwrap_or(1)));
            if let Choice::Chosen { part } = &pack.ready {
                check_part(c, &format!("{at}/ready/part"), part);
            }
            if let Choice::Chosen { part } = &pack.cell {
                check_part(c, &format!("{at}/cell/part"), part);
            }
            if let Choice::Chosen { part } = &pack.strip {
                check_part(c, &format!("{at}/strip/part"), part);
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
        c.at_most("/runs", self.connections.len(), RUNS_MAX);
        c.unique("/nodes", self.nodes.iter().map(|n| n.id.as_str()));
        c.unique("/runs", self.connections.iter().map(|r| r.id.as_str()));
        let known: HashSet<&str> = self.nodes.iter().map(|n| n.id.as_str()).collect();
        for (i, node) in self.nodes.iter().enumerate() {
            let at = format!("/nodes/{i}");
            if let Some(with) = &node.with {
                let other = self.nodes.iter().find(|n| n.id == *with && n.id != node.id && n.with.is_none());
                c.require(other.is_some(), &format!("{at}/with"), || {
                    format!("no other place “{with}” that has a part of its own")
                });
            }
            if let Some(size) = &node.size {
                let sides = [("length_mm", size.length_mm), ("width_mm", size.width_mm), ("height_mm", size.height_mm)];
                for (name, side_mm) in sides {
                    c.number(&format!("{at}/size/{name}"), Some(side_mm), &range::SIZE);
                }
            }
            let Choice::Chosen { part } = &node.part else {
                continue;
            };
            c.require(PartKind::at(node.kind).is_some_and(|kind| kind.may_be(part)), &format!("{at}/part"), || {
                "this kind of part does not belong at this node".to_owned()
            });
            check_node_part(c, &format!("{at}/part/part"), part);
        }
        for (i, run) in self.connections.iter().enumerate() {
            let at = format!("/runs/{i}");
            for (name, end) in [("from", &run.from), ("to", &run.to)] {
                c.require(known.contains(end.as_str()), &format!("{at}/{name}"), || format!("no node “{end}”"));
            }
            c.require(run.from != run.to, &format!("{at}/to"), || "a connection joins two different nodes".to_owned());
            c.number(&format!("{at}/length_mm"), run.length_mm, &range::RUN_LENGTH);
            if let Choice::Chosen { part } = &run.wire {
                check_part(c, &format!("{at}/wire/part"), part);
            }
        }
        for (i, state) in self.states.iter().enumerate() {
            for (k, id) in state.open.iter().enumerate() {
                c.require(known.contains(id.as_str()), &format!("/states/{i}/open/{k}"), || format!("no node “{id}”"));
            }
        }
    }
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
