//! Wires, connectors and switches of the line.

use crate::assess::figures::device::LOWEST_V;
use crate::assess::figures::feed::LINE_FULL_V;
use crate::assess::figures::load::{CONTINUOUS_A, PEAK_A};
use crate::assess::figures::run::LOADED_NOMINAL_V;
use crate::assess::figures::voltage::FULL_V;
use crate::assess::figures::wiring::{DROP_SHARE, DROP_V, LIMIT_A, PEAK_LIMIT_A};
use crate::assess::finding::{Findings, Says, Severity};
use crate::assess::ledger::at;
use crate::limit::{above, below};
use crate::plan::Connector;
use crate::source::Source;
use crate::wiring::area_mm2;

/// Drop both ways that is good, and the most that is accepted. Common practice, no source.
const GOOD_DROP: f64 = 0.03;
const MOST_DROP: f64 = 0.05;

pub fn look(f: &mut Findings<'_, '_>) {
    wires(f);
    drop(f);
    let bench = f.bench;
    for node in bench.line.nodes.iter().chain(&bench.charge_way.nodes) {
        if let Some(part) = node.connector() {
            let on_line = bench.line.nodes.iter().any(|n| n.id == node.id);
            connector(f, &node.id, part, on_line);
        }
    }
    switches(f);
}

fn wires(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let l = &bench.ledger;
    let Some(continuous_a) = l.value(&CONTINUOUS_A) else {
        return;
    };
    for run in &bench.line.runs {
        let Some(wire) = run.wire.part() else {
            continue;
        };
        let id = at(&LIMIT_A, &run.id);
        if l.get(&id).is_some_and(|limit| above(continuous_a, limit.value)) {
            let why =
                format!("It carries {{load.continuous_a}} and bears {{{id}}} for a rise of 30 K. Take a thicker one.");
            f.add(
                Severity::Stop,
                Says {
                    rule: "wiring.wire-over-current",
                    subject: &run.id,
                    source: Source::ChurchillChu,
                    title: "A wire carries more than it bears",
                    why: &why,
                    words: &[],
                },
            );
        }
        let peak_id = at(&PEAK_LIMIT_A, &run.id);
        if matches!((l.value(&PEAK_A), l.get(&peak_id)), (Some(a), Some(limit)) if above(a, limit.value)) {
            let why = format!(
                "For {{load.peak_s}} it bears {{{peak_id}}} before its insulation suffers; the peak is {{load.peak_a}}."
            );
            f.add(
                Severity::Stop,
                Says {
                    rule: "wiring.wire-over-peak",
                    subject: &run.id,
                    source: Source::Iec60364,
                    title: "The peak heats a wire too far",
                    why: &why,
                    words: &[],
                },
            );
        }
        let old = bench.plan.device.original.wire.as_ref();
        if old.is_some_and(|old| below(area_mm2(&wire.size), area_mm2(old))) {
            let why = format!("“{{$0}}” has {{wire.area_mm2@{}}}, less than the wire it replaces.", run.id);
            f.add(
                Severity::Caution,
                Says {
                    rule: "wiring.thinner-than-before",
                    subject: &run.id,
                    source: Source::CommonPractice,
                    title: "A wire is thinner than the one it replaces",
                    why: &why,
                    words: &[&wire.offer.name],
                },
            );
        }
    }
}

fn drop(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    if f.bench.converter().is_none()
        && let (Some(loaded_v), Some(drop_v), Some(lowest_v)) =
            (l.value(&LOADED_NOMINAL_V), l.value(&DROP_V), l.value(&LOWEST_V))
        && below(loaded_v, lowest_v)
        && !below(loaded_v + drop_v, lowest_v)
    {
        f.tell(
            Severity::Stop,
            "wiring.drop-below-device",
            Source::CircuitLaw,
            "The wires take the volts the device needs",
            "Half full and under load {run.loaded_nominal_v} reach the device, which needs {device.lowest_v}; without the \
             {wire.drop_v} lost in the wires it would live. Thicker or shorter wire.",
        );
        return;
    }
    let Some(share) = f.bench.ledger.value(&DROP_SHARE) else {
        return;
    };
    let (title, why) = if above(share, MOST_DROP) {
        (
            "The wires lose far too much",
            "{wire.drop_v} of drop is {wire.drop_share} of the volts, over the 5 % that is the limit: thicker or shorter wire.",
        )
    } else if above(share, GOOD_DROP) {
        (
            "The wires lose more than is good",
            "{wire.drop_v} of drop is {wire.drop_share} of the volts; up to 3 % is good.",
        )
    } else {
        return;
    };
    f.tell(Severity::Caution, "wiring.drop", Source::CommonPractice, title, why);
}

fn connector(f: &mut Findings<'_, '_>, id: &str, part: &Connector, on_line: bool) {
    let l = &f.bench.ledger;
    let words: &[&str] = &[&part.offer.name];
    let mut add = |severity, rule, title, why| {
        f.add(severity, Says { rule, subject: id, source: Source::PartSheet, title, why, words });
    };
    let over_current =
        on_line && matches!((l.value(&CONTINUOUS_A), part.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a));
    if over_current {
        add(
            Severity::Stop,
            "wiring.connector-over-current",
            "A connector carries more than it is rated for",
            "“{$0}” carries {load.continuous_a} and is rated for less: its contacts heat and loosen.",
        );
    }
    let over_peak = on_line
        && !over_current
        && matches!((l.value(&PEAK_A), part.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a));
    if over_peak {
        add(
            Severity::Caution,
            "wiring.connector-peak",
            "The peak is over a connector's rating",
            "“{$0}” is rated for less than {load.peak_a}, and nothing states what it bears for {load.peak_s}.",
        );
    }
    // A jack that charges one pack never sees two in series.
    let full = if on_line { &LINE_FULL_V } else { &FULL_V };
    if matches!((l.value(full), part.dc_v), (Some(v), Some(limit_v)) if above(v, limit_v)) {
        add(
            Severity::Stop,
            "wiring.connector-volts",
            "A connector is not rated for these volts",
            "“{$0}” is rated for less than the {line.full_v} it sees when all is full.",
        );
    }
    if part.live_pins_bare == Some(true) {
        add(
            Severity::Stop,
            "wiring.bare-live-pins",
            "The live half has bare pins",
            "Unplugged, the half of “{$0}” that stays live can be shorted by anything it touches. Swap the halves.",
        );
    }
    if part.keyed == Some(false) {
        add(
            Severity::Caution,
            "wiring.unkeyed",
            "A connector fits either way round",
            "“{$0}” can be plugged in reversed. Take a keyed one, or mark and block it.",
        );
    }
}

fn switches(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    let bench = f.bench;
    for node in &bench.line.nodes {
        let Some(switch) = node.switch() else {
            continue;
        };
        let words: &[&str] = &[&switch.offer.name];
        if matches!((l.value(&CONTINUOUS_A), switch.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a)) {
            f.add(
                Severity::Stop,
                Says {
                    rule: "wiring.switch-over-current",
                    subject: &node.id,
                    source: Source::PartSheet,
                    title: "The switch carries more than it is rated for",
                    why: "“{$0}” carries {load.continuous_a} and is rated for less.",
                    words,
                },
            );
        }
        if matches!((l.value(&CONTINUOUS_A), switch.continuous_a), (Some(a), Some(limit_a)) if !above(a, limit_a))
            && matches!((l.value(&PEAK_A), switch.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a))
        {
            f.add(
                Severity::Caution,
                Says {
                    rule: "wiring.switch-peak",
                    subject: &node.id,
                    source: Source::PartSheet,
                    title: "The peak is over the switch's rating",
                    why: "“{$0}” is rated for less than {load.peak_a}: switched on into the peak, its contacts may weld.",
                    words,
                },
            );
        }
        match (switch.dc_v, l.value(&LINE_FULL_V)) {
            (Some(limit_v), Some(full_v)) if above(full_v, limit_v) => f.add(Severity::Stop, Says {
                rule: "wiring.switch-volts",
                subject: &node.id,
                source: Source::PartSheet,
                title: "The switch cannot break these volts",
                why: "“{$0}” is rated for less DC than the {line.full_v} of the full pack: its arc does not go out.",
                words,
            }),
            (None, Some(_)) => f.add(Severity::Caution, Says {
                rule: "wiring.switch-not-dc",
                subject: &node.id,
                source: Source::CommonPractice,
                title: "The switch has no DC rating",
                why: "Only AC is stated for “{$0}”. DC does not pass through zero: it breaks far less.",
                words,
            }),
            _ => {}
        }
    }
}
