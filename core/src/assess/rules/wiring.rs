//! Wires, connectors and switches of the line.

use crate::assess::figures::device::LOWEST_V;
use crate::assess::figures::load::CONTINUOUS_A;
use crate::assess::figures::local::local;
use crate::assess::figures::run::LOADED_NOMINAL_V;
use crate::assess::figures::voltage::FULL_V;
use crate::assess::figures::wiring::{
    DROP_SHARE, DROP_V, LIMIT_A, OUTPUT_ARRIVES_V, OUTPUT_DROP_SHARE, OUTPUT_DROP_V, PEAK_LIMIT_A,
};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::ledger::at;
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::physics::wiring::area_mm2;
use crate::plan::{Connector, Node, NodeKind, Plan, StateName};

/// Drop both ways that is good, and the most that is accepted. Common practice, no source.
const GOOD_DROP: f64 = 0.03;
const MOST_DROP: f64 = 0.05;

pub fn check(f: &mut Findings<'_, '_>) {
    ways(f);
    wires(f);
    drop(f);
    let workspace = f.workspace;
    for node in workspace.line.nodes.iter().chain(&workspace.charge_path.nodes) {
        if let Some(part) = node.connector() {
            let on_line = workspace.line.nodes.iter().any(|n| n.id == node.id);
            connector(f, &node.id, part, on_line);
        }
    }
    own_plug(f);
    switches(f);
}

/// A circuit that is not closed: an open part in a state in which it should carry current, or a wire that is not there.
fn ways(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    if !workspace.reaches_device() {
        let told = no_way(workspace.plan, NodeKind::Pack, NodeKind::Device, StateName::Running);
        f.add(
            Severity::Stop,
            Says {
                rule: rule::wiring::NO_WAY,
                subject: "",
                title: "No current reaches the device",
                why: "{$0} Nothing else in the circuit can be judged before it is closed.",
                words: &[&told],
            },
        );
    }
    if workspace.plan.module(NodeKind::Charger).is_some() && workspace.charge_path.nodes.is_empty() {
        let told = no_way(workspace.plan, NodeKind::Charger, NodeKind::Pack, StateName::Charging);
        f.add(
            Severity::Stop,
            Says {
                rule: rule::wiring::NO_WAY,
                subject: "charge",
                title: "No charge current reaches the cells",
                why: "{$0}",
                words: &[&told],
            },
        );
    }
}

fn no_way(plan: &Plan, from: NodeKind, to: NodeKind, state: StateName) -> String {
    let name =
        |n: &Node| n.part.part().map_or_else(|| format!("the {}", n.kind.word()), |p| format!("“{}”", p.offer().name));
    let open: &[String] = plan.states.iter().find(|s| s.name == state).map_or(&[], |s| &s.open);
    let doing = if state == StateName::Charging { "charging" } else { "running" };
    if let Some(way) = plan.path_if_closed(from, to) {
        let opened: Vec<String> = way.nodes.iter().filter(|n| open.contains(&n.id)).map(|n| name(n)).collect();
        return format!("{} is open while {doing}.", opened.join(" and "));
    }
    match plan.reaches(from) {
        Some(last) if last.kind != from => {
            format!("A wire is missing: current from the {} gets as far as {}.", from.word(), name(last))
        }
        _ => format!("A wire is missing: nothing is connected to the {}.", from.word()),
    }
}

fn wires(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    for run in &workspace.line.connections {
        let Some(wire) = run.wire.part() else {
            continue;
        };
        let local = local(workspace, &run.id);
        let id = at(&LIMIT_A, &run.id);
        if let Some(severity) = f.exceeds(local.continuous.id, &id) {
            let why = format!(
                "It carries {{{}}} and is rated for {{{id}}} at a rise of 30 K. Use a thicker one.",
                local.continuous.id
            );
            f.add(
                severity,
                Says {
                    rule: rule::wiring::WIRE_OVER_CURRENT,
                    subject: &run.id,
                    title: "Wire overloaded",
                    why: &why,
                    words: &[],
                },
            );
        }
        let peak_id = at(&PEAK_LIMIT_A, &run.id);
        if let Some(severity) = f.exceeds(local.peak.id, &peak_id) {
            let why = format!(
                "For {{load.peak_s}} it is rated for {{{peak_id}}} before its insulation is damaged; the peak is {{{}}}.",
                local.peak.id
            );
            f.add(
                severity,
                Says {
                    rule: rule::wiring::WIRE_OVER_PEAK,
                    subject: &run.id,
                    title: "Wire overheats at the peak",
                    why: &why,
                    words: &[],
                },
            );
        }
        let old = workspace.plan.device.original.wire.as_ref();
        // On the battery's side of a step-down converter less current flows than before.
        let same_side = workspace.converter().is_none() || workspace.is_behind_converter(&run.id);
        if same_side && old.is_some_and(|old| below(area_mm2(&wire.size), area_mm2(old))) {
            let why = format!("“{{$0}}” has {{wire.area_mm2@{}}}, less than the wire it replaces.", run.id);
            f.add(
                Severity::Caution,
                Says {
                    rule: rule::wiring::THINNER_THAN_BEFORE,
                    subject: &run.id,
                    title: "Wire thinner than the one it replaces",
                    why: &why,
                    words: &[&wire.offer.name],
                },
            );
        }
    }
}

/// The wires take what the device would have lived on: without a converter on the way from the pack, with one behind it.
fn drop_below_device(f: &mut Findings<'_, '_>) -> bool {
    let l = &f.workspace.ledger;
    let Some(lowest_v) = l.value(&LOWEST_V) else { return false };
    let short = |arrives: Option<f64>, drop: Option<f64>| matches!((arrives, drop), (Some(v), Some(drop_v)) if below(v, lowest_v) && !below(v + drop_v, lowest_v));
    let title = "Voltage drop in the wires too large";
    let rule = rule::wiring::DROP_BELOW_DEVICE;
    if f.workspace.converter().is_none() {
        if !short(l.value(&LOADED_NOMINAL_V), l.value(&DROP_V)) {
            return false;
        }
        f.tell(
            Severity::Stop,
            rule,
            title,
            "Half full and under load {run.loaded_nominal_v} reaches the device, which needs {device.lowest_v}. Without the {wire.drop_v} lost in the wires it would run. Use thicker or shorter wire.",
        );
    } else {
        if !short(l.value(&OUTPUT_ARRIVES_V), l.value(&OUTPUT_DROP_V)) {
            return false;
        }
        f.tell(
            Severity::Stop,
            rule,
            title,
            "Of the converter's {device.feed_v}, {output.arrives_v} reaches the device, which needs {device.lowest_v}; {wire.output_drop_v} is lost in the wires after it. Use thicker or shorter wire.",
        );
    }
    true
}

fn drop(f: &mut Findings<'_, '_>) {
    if drop_below_device(f) {
        return;
    }
    let sides = [
        ("", &DROP_SHARE, "{wire.drop_v} of voltage drop is {wire.drop_share} of the pack voltage"),
        (
            "behind",
            &OUTPUT_DROP_SHARE,
            "After the converter {wire.output_drop_v} of voltage drop is {wire.output_drop_share} of its output",
        ),
    ];
    for (subject, share, told) in sides {
        let Some(share) = f.workspace.ledger.value(share) else {
            continue;
        };
        let (title, rest) = if above(share, MOST_DROP) {
            ("Voltage drop in the wires above 5 %", ", over the limit of 5 %. Use thicker or shorter wire.")
        } else if above(share, GOOD_DROP) {
            ("Voltage drop in the wires above 3 %", "; up to 3 % is recommended.")
        } else {
            continue;
        };
        let why = format!("{told}{rest}");
        f.add(Severity::Caution, Says { rule: rule::wiring::DROP, subject, title, why: &why, words: &[] });
    }
}

/// The plug that a pack comes with: it stays, so that it decides what may be drawn through it.
fn own_plug(f: &mut Findings<'_, '_>) {
    let Some(ready) = f.workspace.ready() else { return };
    let over = matches!((f.workspace.ledger.value(&CONTINUOUS_A), ready.plug_a), (Some(a), Some(limit_a)) if above(a, limit_a));
    let mut add = |severity, rule, title, why| {
        f.add(severity, Says { rule, subject: "", title, why, words: &[&ready.offer.name] });
    };
    if over {
        add(
            Severity::Stop,
            rule::wiring::PACK_PLUG_OVER_CURRENT,
            "Pack's own plug overloaded",
            "The plug of “{$0}” carries {load.continuous_a} and is rated for less. Its contacts heat up and loosen.",
        );
    }
    if ready.plug_bare == Some(true) {
        add(
            Severity::Caution,
            rule::wiring::PACK_PLUG_BARE,
            "Pack's own plug has bare live pins",
            "Unplugged, the pins of “{$0}” stay live, and anything metal shorts them. Keep a cap on them, or fit a plug with covered pins, one wire after the other.",
        );
    }
}

fn connector(f: &mut Findings<'_, '_>, id: &str, part: &Connector, on_line: bool) {
    let l = &f.workspace.ledger;
    let local = local(f.workspace, id);
    let words: &[&str] = &[&part.offer.name];
    let (continuous, peak) = (local.continuous.id, local.peak.id);
    let over_current = on_line
        && matches!((l.value(local.continuous), part.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a));
    let over_peak = on_line
        && !over_current
        && matches!((l.value(local.peak), part.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a));
    // A jack that charges one pack never sees two in series.
    let most = if on_line { local.most_v } else { &FULL_V };
    let over_volts = f.volts_exceed(most.id, part.dc_v);
    let mut add = |severity, rule, title, why: &str| {
        f.add(severity, Says { rule, subject: id, title, why, words });
    };
    if over_current {
        add(
            Severity::Stop,
            rule::wiring::CONNECTOR_OVER_CURRENT,
            "Connector overloaded",
            &format!("“{{$0}}” carries {{{continuous}}} and is rated for less. Its contacts heat up and loosen."),
        );
    }
    if over_peak {
        add(
            Severity::Caution,
            rule::wiring::CONNECTOR_PEAK,
            "Peak exceeds the connector rating",
            &format!("“{{$0}}” is rated for less than {{{peak}}}, and no rating is stated for {{load.peak_s}}."),
        );
    }
    if let Some(severity) = over_volts {
        add(
            severity,
            rule::wiring::CONNECTOR_VOLTS,
            "Connector not rated for this voltage",
            &format!("“{{$0}}” is rated for less than the {{{}}} it can see.", most.id),
        );
    }
    if part.live_pins_bare == Some(true) {
        add(
            Severity::Stop,
            rule::wiring::BARE_LIVE_PINS,
            "Live half of the connector has bare pins",
            "Unplugged, the half of “{$0}” that stays live can be shorted by anything it touches. Swap the halves.",
        );
    }
    if part.keyed == Some(false) && !is_alike_both_ways(&part.offer.name) {
        add(
            Severity::Caution,
            rule::wiring::UNKEYED,
            "Connector can be plugged in reversed",
            "“{$0}” fits both ways; reversed, plus meets minus. Use a keyed one, or mark and block it.",
        );
    }
}

/// A USB-C plug (USB Type-C 1.3, from memory) goes in either way round and is the same both ways.
pub fn is_alike_both_ways(name: &str) -> bool {
    let name = name.to_lowercase();
    ["usb-c", "usb c", "usb type-c", "usb type c"].iter().any(|usb| name.contains(usb))
}

fn switches(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    for node in &workspace.line.nodes {
        let Some(switch) = node.switch() else {
            continue;
        };
        let local = local(workspace, &node.id);
        let words: &[&str] = &[&switch.offer.name];
        let over_volts = f.volts_exceed(local.most_v.id, switch.dc_v);
        let mut add = |severity, rule, title, why: &str| {
            f.add(severity, Says { rule, subject: &node.id, title, why, words });
        };
        let over =
            |value: Option<f64>| matches!((value, switch.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a));
        if over(l.value(local.continuous)) {
            add(
                Severity::Stop,
                rule::wiring::SWITCH_OVER_CURRENT,
                "Switch overloaded",
                &format!("“{{$0}}” carries {{{}}} and is rated for less.", local.continuous.id),
            );
        } else if over(l.value(local.peak)) {
            add(
                Severity::Caution,
                rule::wiring::SWITCH_PEAK,
                "Peak exceeds the switch rating",
                &format!(
                    "“{{$0}}” is rated for less than {{{}}}. Switched on into the peak, its contacts may weld.",
                    local.peak.id
                ),
            );
        }
        match (over_volts, switch.dc_v, l.value(local.most_v)) {
            (Some(severity), ..) => add(
                severity,
                rule::wiring::SWITCH_VOLTS,
                "Switch not rated for this DC voltage",
                &format!(
                    "“{{$0}}” is rated for less DC than the {{{}}} it must interrupt. Its arc keeps burning.",
                    local.most_v.id
                ),
            ),
            (None, None, Some(_)) => add(
                Severity::Caution,
                rule::wiring::SWITCH_NOT_DC,
                "DC voltage rating of the switch not stated",
                "Nothing says what DC “{$0}” may interrupt. An AC rating does not count: DC has no zero crossing, and the arc keeps burning.",
            ),
            _ => {}
        }
    }
}
