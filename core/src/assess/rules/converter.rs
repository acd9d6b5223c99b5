//! The converter between pack and device.

use crate::assess::figures::converter::HEAT_W;
use crate::assess::figures::device::{HIGHEST_V, LOWEST_V};
use crate::assess::figures::feed::LINE_FULL_V;
use crate::assess::figures::load::CONTINUOUS_A;
use crate::assess::figures::protection::FLAT_DAYS;
use crate::assess::figures::voltage::{CONVERTER_NEEDS_V, EMPTY_V, FEED_V, FULL_V};
use crate::assess::finding::{Findings, Says, Severity};
use crate::device;
use crate::limit::{above, below};
use crate::plan::{NodeKind, Topology};
use crate::source::Source;

/// Days within which a standby drain is worth a caution. Common practice, no source.
const SOON_FLAT_DAYS: f64 = 90.0;
/// Heat that a bare module sheds in open air. Common practice, no source.
const BARE_W: f64 = 5.0;
/// A set point this far off is not the one meant.
const SET_POINT_OFF: f64 = 0.03;

pub fn look(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let Some((module, c)) = bench.converter() else {
        return;
    };
    let l = &bench.ledger;
    let words: &[&str] = &[&module.offer.name];
    let mut stop = |rule, title, why| {
        f.add(Severity::Stop, Says { rule, subject: "", source: Source::PartSheet, title, why, words });
    };
    if let (Some(full_v), Some(max_v)) = (l.value(&LINE_FULL_V), c.input_max_v)
        && above(full_v, max_v)
    {
        stop(
            "voltage.converter-input-high",
            "The full pack is above the converter's input",
            "“{$0}” is destroyed by {line.full_v}; its highest input is stated lower.",
        );
    }
    if c.topology == Topology::Boost && l.value(&LINE_FULL_V).is_some_and(|full_v| above(full_v, c.output_v)) {
        stop(
            "voltage.boost-overfed",
            "The full pack is above the boost's output",
            "A boost passes {line.full_v} straight through its diode: it cannot hold a lower output.",
        );
    }
    if let (Some(full_v), Some(empty_v), Some(needs_v)) =
        (l.value(&FULL_V), l.value(&EMPTY_V), l.value(&CONVERTER_NEEDS_V))
        && c.topology == Topology::Buck
        && !below(full_v, needs_v)
        && below(empty_v, needs_v)
    {
        stop(
            "voltage.buck-headroom",
            "The buck runs out of head room",
            "It needs {converter.needs_v} at its input; the pack at its sensible end has {pack.empty_v}.",
        );
    }
    if let (Some(full_v), Some(needs_v)) = (l.value(&FULL_V), l.value(&CONVERTER_NEEDS_V))
        && below(full_v, needs_v)
    {
        stop(
            "voltage.converter-input-low",
            "Even full, the pack is below the converter's input",
            "It needs {converter.needs_v}; the full pack has {pack.full_v}.",
        );
    }
    if let (Some(continuous_a), Some(input_a)) = (l.value(&CONTINUOUS_A), c.input_a)
        && above(continuous_a, input_a)
    {
        stop(
            "voltage.converter-input-current",
            "The converter's input current is over its rating",
            "At {pack.cutoff_v} it draws {load.continuous_a}, more than it is rated for.",
        );
    }
    let output_a = bench.asked.iter().filter(|a| a.level.is_long());
    let output_a = output_a.map(|a| device::draw_a(&a.load.draw, c.output_v)).fold(0.0, f64::max);
    if let Some(rated_a) = c.output_a
        && above(output_a, rated_a)
    {
        stop(
            "voltage.converter-output-current",
            "The converter's output current is over its rating",
            "The device draws more at its output than “{$0}” is rated for.",
        );
    }
    if let (Some(feed_v), Some(highest)) = (l.value(&FEED_V), l.get(HIGHEST_V.id))
        && above(feed_v, highest.high.unwrap_or(highest.value))
    {
        stop(
            "voltage.output-above-device",
            "The converter is set above what the device bears",
            "“{$0}” gives {device.feed_v}; the device bears {device.highest_v}.",
        );
    }
    if let (Some(feed_v), Some(lowest_v)) = (l.value(&FEED_V), l.value(&LOWEST_V))
        && below(feed_v, lowest_v)
    {
        stop(
            "voltage.output-below-device",
            "The converter is set below what the device needs",
            "“{$0}” gives {device.feed_v}; the device needs {device.lowest_v}.",
        );
    }
    match &c.set_point_v {
        Some(read) if above((read.value - c.output_v).abs(), SET_POINT_OFF * c.output_v) => stop(
            "voltage.set-point-off",
            "The converter is set to other volts than meant",
            "The set point read on “{$0}” is not the one this plan counts on. Set it before the device is connected.",
        ),
        None if c.wired_in => stop(
            "voltage.set-point-unread",
            "Wired in, and its set point was never read",
            "“{$0}” may have arrived at any volts. Read it on a meter without the device, then again under load.",
        ),
        _ => {}
    }
    if let (Some(heat_w), Some(sheds_w)) = (l.value(&HEAT_W), c.sheds_w)
        && above(heat_w, sheds_w)
    {
        f.add(Severity::Caution, Says {
            rule: "voltage.converter-heat",
            subject: "",
            source: Source::PartSheet,
            title: "The converter makes more heat than it can shed",
            why: "At {load.continuous_a} it makes {converter.heat_w}, more than its place sheds: give it metal, air, or take a larger one.",
            words,
        });
    }
    if c.sheds_w.is_none() && l.value(&HEAT_W).is_some_and(|heat_w| above(heat_w, BARE_W)) {
        f.add(Severity::Note, Says {
            rule: "voltage.heat-unplaced",
            subject: "",
            source: Source::CommonPractice,
            title: "The converter's heat has no place yet",
            why: "“{$0}” makes {converter.heat_w}; a bare module sheds about 5 W. Say what its place sheds: metal, air, a larger one.",
            words,
        });
    }
    let switch_absent = !bench.is_open(NodeKind::Switch) && !bench.line.nodes.iter().any(|n| n.switch().is_some());
    if switch_absent
        && module.standby_a.is_some()
        && l.value(&FLAT_DAYS).is_some_and(|days| below(days, SOON_FLAT_DAYS))
    {
        f.tell(
            Severity::Caution,
            "voltage.standby-drain",
            Source::CommonPractice,
            "The converter drains the pack in standby",
            "{pack.standby_a} at rest flatten a full pack in {pack.flat_days}. Put a switch on its battery side.",
        );
    }
}
