//! One flaw at a time in a sound plan, with the finding it must bring.

use brick_core::assess::Severity;
use serde_json::{Value, json};

mod charging;
mod choosing;
mod feeding;
mod guarding;
mod holding;
mod joining;
pub mod laying;
mod matching;
mod running;
mod sharing;
mod surveying;
mod taking;
mod wiring;

pub use guarding::with_run;

use super::{charger, known, module, offer, sound};

/// A flaw: what is changed, the finding it must bring.
#[derive(Clone)]
pub struct Flaw {
    pub name: &'static str,
    /// Changes that are themselves sound, made before the flaw.
    pub given: Vec<(&'static str, Value)>,
    pub flaw: Vec<(&'static str, Value)>,
    pub brings: &'static str,
    pub severity: Severity,
    /// Other findings that rightly come with it.
    pub along: &'static [&'static str],
}

fn flaw(name: &'static str, flaw: Vec<(&'static str, Value)>, severity: Severity, brings: &'static str) -> Flaw {
    Flaw { name, given: vec![], flaw, brings, severity, along: &[] }
}

impl Flaw {
    fn given(mut self, given: Vec<(&'static str, Value)>) -> Self {
        self.given = given;
        self
    }

    fn along(mut self, along: &'static [&'static str]) -> Self {
        self.along = along;
        self
    }
}

fn none() -> Value {
    json!({"state": "none"})
}

fn converter(topology: &str, output_v: f64) -> Value {
    module(
        "converter",
        json!({"converts": {"topology": topology, "output_v": output_v, "wired_in": false, "efficiency": 0.9}}),
    )
}

/// One step of taking apart, done.
fn apart(pulls_wire: bool, reversible: bool) -> Value {
    json!([{"id": "plug", "what": "Take the plug off", "pulls_wire": pulls_wire, "reversible": reversible, "done": true}])
}

/// The sound plan behind a step-down converter at 9 V.
fn bucked() -> Vec<(&'static str, Value)> {
    vec![("converter", converter("buck", 9.0)), ("device/original/series", json!(8)), ("fuse/rating_a", json!(15.0))]
}

/// Chosen cells in so many groups of two; the last has a capacity and rests at volts of its own.
fn chosen(groups: usize, last_ah: f64, last_v: f64) -> Value {
    let cell = |g: usize, k: usize| {
        let last = g + 1 == groups && k == 1;
        let (ah, v) = if last { (last_ah, last_v) } else { (2.5, 4.1) };
        json!({"label": format!("C{g}{k}"), "capacity_ah": ah, "resistance_ohm": 0.03, "rested_v": v})
    };
    (0..groups).map(|g| json!({"cells": [cell(g, 0), cell(g, 1)]})).collect()
}

/// Sources of the thresholds: PRACTICE figures are common practice without a source unless one is named.
pub fn flaws() -> Vec<Flaw> {
    [
        surveying::flaws(),
        matching::flaws(),
        choosing::flaws(),
        joining::flaws(),
        guarding::flaws(),
        charging::flaws(),
        wiring::flaws(),
        running::flaws(),
        feeding::flaws(),
        laying::flaws(),
        sharing::flaws(),
        taking::flaws(),
        holding::flaws(),
    ]
    .concat()
}

/// Two packs need a second pack node; the list is built from the sound plan.
pub fn changes_of(flaw: &Flaw) -> Vec<(&'static str, Value)> {
    if flaw.brings != "voltage.other-packs" {
        return flaw.flaw.clone();
    }
    let plan = serde_json::to_value(sound()).unwrap();
    let mut second = plan["packs"][0].clone();
    second["id"] = json!("pack-two");
    let mut nodes = plan["nodes"].as_array().unwrap().clone();
    nodes.push(json!({"id": "pack-two", "kind": "pack", "part": {"state": "none"}}));
    vec![("packs", json!([plan["packs"][0], second])), ("nodes", json!(nodes))]
}
