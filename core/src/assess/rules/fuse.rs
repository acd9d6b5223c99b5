//! The fuse against voltage, short circuit, load, place, and everything that it should guard.

use crate::assess::coordination;
use crate::assess::figures::brick::{LINK_LIMIT_A, SHORT_A};
use crate::assess::figures::local::local;
use crate::assess::figures::protection::{
    FUSE_A, FUSE_BREAKS_A, FUSE_CARRIES_A, FUSE_DC_V, FUSE_NEEDED_A, FUSE_PEAK_A, UNGUARDED_MM,
};
use crate::assess::figures::voltage::LINE_FULL_V;
use crate::assess::figures::wiring;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::ledger::at;
use crate::assess::rule;
use crate::base::limit::{COMPUTED, above};

/// A fuse this many times the least rating no longer guards the load. Common practice, no source.
const USELESS_FACTOR: f64 = 3.5;
/// Smallest blade fuse that is easily had; a smaller load cannot have a closer one. Common practice, no source.
const SMALLEST_FUSE_A: f64 = 3.0;
/// Wire between pack and fuse beyond which a chafed wire has nothing before it. Common practice, no source.
const FAR_MM: f64 = 200.0;

pub fn check(f: &mut Findings<'_, '_>) {
    limits(f);
    load(f);
    place(f);
    short(f);
}

fn limits(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    let place = workspace.line.nodes.iter().find(|n| n.fuse().is_some());
    let most_v = place.map_or(&LINE_FULL_V, |n| local(workspace, &n.id).most_v);
    if let Some(severity) = f.volts_exceed(most_v.id, l.value(&FUSE_DC_V)) {
        let why = format!(
            "It is rated for {{fuse.dc_v}} DC; up to {{{}}} is present. The arc would keep burning.",
            most_v.id
        );
        let (rule, title) = (rule::protection::FUSE_VOLTS, "Fuse not rated for this voltage");
        f.add(severity, Says { rule, subject: "", title, why: &why, words: &[] });
    } else if l.value(&FUSE_A).is_some() && l.value(&FUSE_DC_V).is_none() {
        f.tell(
            Severity::Stop,
            rule::protection::FUSE_NOT_DC,
            "DC voltage rating of the fuse not stated",
            "Nothing says what DC voltage it may interrupt. An AC rating does not count: DC has no zero crossing, and the arc keeps burning. Use a fuse rated for at least {line.full_v} DC.",
        );
    }
    if let (Some(breaks_a), Some(short_a)) = (l.value(&FUSE_BREAKS_A), l.value(&SHORT_A))
        && above(short_a, breaks_a)
    {
        f.tell(
            Severity::Stop,
            rule::protection::FUSE_BREAKING,
            "Fuse cannot interrupt a short circuit",
            "A dead short draws {pack.short_a}; the fuse can interrupt {fuse.breaking_a}.",
        );
    }
    let Some(fuse_a) = l.value(&FUSE_A) else {
        return;
    };
    // Behind a converter it sees another current than cells, strips and the wires before it.
    let Some(node) = workspace.line.nodes.iter().find(|n| n.fuse().is_some()) else { return };
    let behind = workspace.is_behind_converter(&node.id);
    if let Some(severity) = f.exceeds(FUSE_A.id, LINK_LIMIT_A.id).filter(|_| !behind) {
        f.tell(
            severity,
            rule::protection::FUSE_ABOVE_STRIPS,
            "Fuse too large for the series strips",
            "The fuse carries {fuse.rating_a} continuously; the strips of a link are rated for {strip.limit_a}. In an overload the strips burn first.",
        );
    }
    let same_side = |id: &str| workspace.is_behind_converter(id) == behind;
    for run in workspace.line.connections.iter().filter(|r| same_side(&r.id)) {
        let id = at(&wiring::LIMIT_A, &run.id);
        if let Some(severity) = f.exceeds(FUSE_A.id, &id) {
            let why = format!(
                "The fuse carries {{fuse.rating_a}} continuously, this wire {{{id}}}. In an overload the wire would burn first."
            );
            f.add(
                severity,
                Says {
                    rule: rule::protection::FUSE_ABOVE_WIRE,
                    subject: &run.id,
                    title: "Fuse too large for the wire",
                    why: &why,
                    words: &[],
                },
            );
        }
    }
    for node in workspace.line.nodes.iter().filter(|n| same_side(&n.id)) {
        let Some(connector) = node.connector() else {
            continue;
        };
        if connector.continuous_a.is_some_and(|a| above(fuse_a, a)) {
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::protection::FUSE_ABOVE_CONNECTOR,
                    subject: &node.id,
                    title: "Fuse too large for the connector",
                    why: "The fuse carries {fuse.rating_a} continuously; “{$0}” is rated for less.",
                    words: &[&connector.offer.name],
                },
            );
        }
    }
}

fn load(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let (Some(fuse_a), Some(carries_a)) = (l.value(&FUSE_A), l.value(&FUSE_CARRIES_A)) else {
        return;
    };
    let Some(node) = f.workspace.line.nodes.iter().find(|n| n.fuse().is_some()) else { return };
    let local = local(f.workspace, &node.id);
    // Within what a fuse's curve is known to, it is hardly a nuisance.
    let over = |a: f64, rated_a: f64| {
        let surely = above(a, rated_a * (1.0 + COMPUTED));
        above(a, rated_a).then_some(if surely { Severity::Caution } else { Severity::Note })
    };
    let lasting = l.value(local.continuous).and_then(|a| over(a, carries_a));
    let peak = l.value(local.peak).zip(l.value(&FUSE_PEAK_A)).and_then(|(a, rated_a)| over(a, rated_a));
    let mut say = |severity, rule, title, why: &str| {
        f.add(severity, Says { rule, subject: "", title, why, words: &[] });
    };
    if let Some(severity) = lasting.filter(|severity| peak.is_none_or(|p| *severity >= p)) {
        let asked = local.continuous.id;
        say(
            severity,
            rule::protection::FUSE_NUISANCE,
            "Fuse too small for the load",
            &format!(
                "It carries {{fuse.carries_a}} continuously; the load takes {{{asked}}}. It will eventually blow in normal use."
            ),
        );
    } else if let Some(severity) = peak {
        let peak = local.peak.id;
        say(
            severity,
            rule::protection::FUSE_PEAK,
            "Fuse may blow at the peak",
            &format!("For {{load.peak_s}} the fuse is sure to hold {{fuse.peak_a}}; the peak is {{{peak}}}."),
        );
    }
    if l.value(&FUSE_NEEDED_A).is_some_and(|needed_a| above(fuse_a, (USELESS_FACTOR * needed_a).max(SMALLEST_FUSE_A))) {
        f.tell(
            Severity::Caution,
            rule::protection::FUSE_OVERSIZED,
            "Fuse much larger than the load",
            "The fuse is {fuse.rating_a} where {fuse.needed_a} would do. It does not blow in an overload that is not a dead short.",
        );
    }
}

fn place(f: &mut Findings<'_, '_>) {
    if f.workspace.ledger.value(&UNGUARDED_MM).is_some_and(|mm| above(mm, FAR_MM)) {
        f.tell(
            Severity::Caution,
            rule::protection::FUSE_FAR,
            "Fuse too far from the pack",
            "{fuse.unguarded_mm} of wire lies between pack and fuse. Nothing but the board ends a short there. Put the fuse at pack plus, within a hand's width.",
        );
    }
}

/// What the time-current curves say about a dead short: something acts, but too late.
fn short(f: &mut Findings<'_, '_>) {
    let Some(case) = coordination::dead_short(f.workspace).filter(|case| !case.harmed.is_empty()) else {
        return;
    };
    f.add(
        Severity::Caution,
        Says {
            rule: rule::protection::SHORT_TOO_LATE,
            subject: "",
            title: "A dead short damages something first",
            why: "{$0}",
            words: &[&case.words],
        },
    );
}
