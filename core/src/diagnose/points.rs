//! Where a meter goes, by name: joints, pins of the tap plug, and the points of the line.

use std::collections::HashMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::range;
use crate::plan::FieldError;
use crate::print::diagram::wired::Wired;
use crate::print::diagram::{Condition, meter_points};

/// What the device does while a reading is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum At {
    /// Switched off.
    Rest,
    /// Switched on, drawing its usual current.
    On,
    /// Switched off, the charger plugged in.
    Charging,
}

impl At {
    /// All of them, the least trouble first.
    pub const ALL: [At; 3] = [At::Rest, At::On, At::Charging];

    /// What to do before the probes touch anything.
    pub(super) fn how(self) -> &'static str {
        match self {
            At::Rest => "Switched off, charger unplugged.",
            At::On => "Switched on, running as usual.",
            At::Charging => "Switched off, charger plugged in.",
        }
    }

    /// The condition of the diagram that it is.
    pub(super) fn condition(self) -> Condition {
        match self {
            At::Rest => Condition::Off,
            At::On => Condition::Running,
            At::Charging => Condition::Charging,
        }
    }
}

/// A reading that was taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Taken {
    /// Where the red probe was: `B0..Bn` a joint, `T0..Tn` a pin of the tap plug, `Pm` the board's output minus, `F` and `S`
    /// behind fuse and switch, `Dp` and `Dm` at the device, `Jp` and `Jm` at the charge jack.
    pub red: String,
    /// Where the black probe was.
    pub black: String,
    /// What the device did.
    pub condition: At,
    /// What the meter showed.
    pub volts: f64,
}

/// A point that a probe may be held to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PointName {
    /// Its name.
    pub name: String,
    /// Where it is, in words.
    pub says: String,
    /// Its node in the diagram; absent for a pin of the tap plug, which the diagram does not draw.
    pub node: Option<usize>,
}

/// The points of a circuit with the nodes they are; pins of the tap plug are nodes of their own behind those of the circuit.
#[derive(Debug, Clone, Default)]
pub(super) struct Points {
    nodes: HashMap<String, usize>,
    /// Nodes of the pins, from pack minus.
    pub pins: Vec<usize>,
    /// Cells in series.
    pub series: usize,
}

impl Points {
    /// Those of a circuit. A tap plug is there where something reads the groups.
    pub fn of(wired: &Wired, has_plug: bool) -> Points {
        let mut points = Points { series: wired.taps.len() - 1, ..Points::default() };
        if has_plug {
            for k in 0..wired.taps.len() {
                let pin = wired.circuit.node_count() + k;
                points.nodes.insert(format!("T{k}"), pin);
                points.pins.push(pin);
            }
        }
        points.nodes.extend(meter_points(wired).into_iter().map(|p| (p.name, p.node)));
        points
    }

    /// The node of a point.
    pub fn node(&self, name: &str) -> Option<usize> {
        self.nodes.get(name).copied()
    }

    /// Every point with its place: joints, pins of the tap plug, then the line.
    pub fn named(&self, wired: &Wired) -> Vec<PointName> {
        let drawn = meter_points(wired).into_iter();
        let drawn = drawn.map(|p| PointName { name: p.name, says: p.says, node: Some(p.node) });
        let (joints, line): (Vec<PointName>, Vec<PointName>) = drawn.partition(|p| p.name.starts_with('B'));
        let pins = (0..self.pins.len()).map(|k| PointName {
            name: format!("T{k}"),
            says: format!("pin B{k} of the tap plug"),
            node: None,
        });
        joints.into_iter().chain(pins).chain(line).collect()
    }

    /// Every reading worth taking: groups on their joints and at the plug, then along the line.
    pub fn candidates(&self) -> Vec<(String, String, At)> {
        let n = self.series;
        let b = |k: usize| format!("B{k}");
        let t = |k: usize| format!("T{k}");
        let mut all = vec![];
        let mut add = |red: String, black: String, at: At| all.push((red, black, at));
        for k in 1..=n {
            add(b(k), b(k - 1), At::Rest);
            add(t(k), t(k - 1), At::Rest);
            add(t(k), t(0), At::Rest);
        }
        for (red, black) in [(b(n), b(0)), (b(n), "Pm".into()), ("F".into(), "Pm".into()), ("Jp".into(), "Jm".into())] {
            add(red, black, At::Rest);
        }
        for (red, black) in [
            ("Dp".into(), "Dm".to_owned()),
            ("S".into(), "Pm".into()),
            ("F".into(), "Pm".into()),
            (b(n), "Pm".into()),
            (b(n), b(0)),
            ("Pm".into(), b(0)),
            (b(n), "F".into()),
            ("F".into(), "S".into()),
            ("C".into(), "Pm".into()),
        ] {
            add(red, black, At::On);
        }
        for (red, black) in [("Jp".to_owned(), "Jm".to_owned()), (b(n), b(0)), ("Pm".into(), b(0))] {
            add(red, black, At::Charging);
        }
        for k in 1..=n {
            add(b(k), b(k - 1), At::On);
            add(b(k), b(k - 1), At::Charging);
        }
        all.retain(|(red, black, _)| self.node(red).zip(self.node(black)).is_some_and(|(r, b)| r != b));
        all.dedup();
        all
    }

    /// Whether a reading can be placed: its points are there, and its voltage is voltage.
    pub fn check(&self, index: usize, taken: &Taken) -> Vec<FieldError> {
        let mut errors = vec![];
        for (field, name) in [("red", &taken.red), ("black", &taken.black)] {
            if self.node(name).is_none() {
                let mut known: Vec<&str> = self.nodes.keys().map(String::as_str).collect();
                known.sort_unstable();
                let message = format!("“{name}” is no point of this plan; it has {}", known.join(", "));
                errors.push(FieldError { field: format!("/readings/{index}/{field}"), message });
            }
        }
        if taken.red == taken.black {
            let message = "both probes at one point read nothing".to_owned();
            errors.push(FieldError { field: format!("/readings/{index}/black"), message });
        }
        if let Err(error) = range::BUILD_VOLTS.check(taken.volts) {
            errors.push(FieldError { field: format!("/readings/{index}/volts"), message: error.to_string() });
        }
        errors
    }
}
