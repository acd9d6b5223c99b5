//! The converter between pack and device.

use crate::assess::figures::converter::{HEAT_W, HOTTEST_C};
use crate::assess::figures::device::{HIGHEST_V, LOWEST_V};
use crate::assess::figures::load::{CONTINUOUS_A, OUTPUT_CONTINUOUS_A, OUTPUT_PEAK_A, PEAK_A};
use crate::assess::figures::protection::FLAT_DAYS;
use crate::assess::figures::voltage::{CONVERTER_NEEDS_V, FEED_V, LINE_EMPTY_V, LINE_FULL_V, OUTPUT_MOST_V};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::plan::{Converter, NodeKind, Topology};

/// Days within which a standby drain is worth a caution. Common practice, no source.
const SOON_FLAT_DAYS: f64 = 90.0;
/// Heat that a bare module sheds in open air. Common practice, no source.
const BARE_W: f64 = 5.0;
/// A peak up to so many times the lasting rating is a risk; beyond it a converter folds back or dies. Common practice, no
/// source.
const SHORT_FACTOR: f64 = 1.5;
/// Parts of a module are made for 85 or 105 °C, its transistors for 125 °C. Common practice, no source.
const WARM_C: f64 = 85.0;
const HOT_C: f64 = 125.0;
/// Heat that needs a piece of metal of its own. Common practice, no source.
const SINK_W: f64 = 10.0;
/// A set-point this far off is not the one meant.
const SET_POINT_OFF: f64 = 0.03;

pub fn check(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let Some((module, c)) = workspace.converter() else {
        return;
    };
    let l = &workspace.ledger;
    let words: &[&str] = &[&module.offer.name];
    if let Some(severity) = f.volts_exceed(LINE_FULL_V.id, c.input_max_v) {
        let (rule, title) = (rule::voltage::CONVERTER_INPUT_HIGH, "Full pack exceeds the converter's input limit");
        let why = "The full pack gives {line.full_v}, which destroys “{$0}”: its maximum input voltage is lower.";
        f.add(severity, Says { rule, subject: "", title, why, words });
    }
    let mut stop = |rule, title, why| {
        f.add(Severity::Stop, Says { rule, subject: "", title, why, words });
    };
    if c.topology == Topology::Boost && l.value(&LINE_FULL_V).is_some_and(|full_v| above(full_v, c.output_v)) {
        stop(
            rule::voltage::BOOST_OVERFED,
            "Full pack exceeds the boost converter's output",
            "A boost converter passes {line.full_v} straight through its diode and cannot hold a lower output.",
        );
    }
    if let (Some(full_v), Some(empty_v), Some(needs_v)) =
        (l.value(&LINE_FULL_V), l.value(&LINE_EMPTY_V), l.value(&CONVERTER_NEEDS_V))
        && c.topology == Topology::Buck
        && !below(full_v, needs_v)
        && below(empty_v, needs_v)
    {
        // Typical modules need 1 to 2 V: by less than that nothing is sure before the module's own is known.
        let stated = c.dropout_v.is_some() || c.input_min_v.is_some_and(|v| !below(v, needs_v));
        let sure = stated || below(empty_v, c.output_v);
        let (severity, why) = if sure {
            (
                Severity::Stop,
                "The converter needs {converter.needs_v} at its input; at the end of the run the pack gives {line.empty_v}.",
            )
        } else {
            (
                Severity::Caution,
                "With a usual headroom the converter needs {converter.needs_v} at its input; at the end of the run the pack gives {line.empty_v}. Measure the headroom: turn a bench supply down until the output falls.",
            )
        };
        let (rule, title) = (rule::voltage::BUCK_HEADROOM, "Not enough headroom for the buck converter");
        f.add(severity, Says { rule, subject: "", title, why, words });
    }
    let l = &workspace.ledger;
    let mut stop = |rule, title, why| {
        f.add(Severity::Stop, Says { rule, subject: "", title, why, words });
    };
    if let (Some(full_v), Some(needs_v)) = (l.value(&LINE_FULL_V), l.value(&CONVERTER_NEEDS_V))
        && below(full_v, needs_v)
    {
        stop(
            rule::voltage::CONVERTER_INPUT_LOW,
            "Pack voltage below the converter's input range",
            "The converter needs {converter.needs_v} at its input; even full the pack gives only {line.full_v}.",
        );
    }
    let local = |def: &crate::assess::FigureDef, rated: Option<f64>| l.value(def).zip(rated);
    if local(&CONTINUOUS_A, c.input_a).is_some_and(|(a, rated_a)| above(a, rated_a)) {
        stop(
            rule::voltage::CONVERTER_INPUT_CURRENT,
            "Converter input overloaded",
            "At {pack.cutoff_v} the converter draws {load.continuous_a} from the battery, more than its input rating.",
        );
    }
    if local(&OUTPUT_CONTINUOUS_A, c.output_a).is_some_and(|(a, rated_a)| above(a, rated_a)) {
        stop(
            rule::voltage::CONVERTER_OUTPUT_CURRENT,
            "Converter output overloaded",
            "The device draws {output.continuous_a} at the output, more than “{$0}” is rated for.",
        );
    }
    if let (Some(feed_v), Some(highest)) = (l.value(&FEED_V), l.get(HIGHEST_V.id))
        && above(feed_v, highest.high.unwrap_or(highest.value))
    {
        stop(
            rule::voltage::OUTPUT_ABOVE_DEVICE,
            "Converter set too high for the device",
            "“{$0}” gives {device.feed_v}; the device is limited to {device.highest_v}.",
        );
    }
    if let (Some(feed_v), Some(lowest_v)) = (l.value(&FEED_V), l.value(&LOWEST_V))
        && below(feed_v, lowest_v)
    {
        stop(
            rule::voltage::OUTPUT_BELOW_DEVICE,
            "Converter set too low for the device",
            "“{$0}” gives {device.feed_v}; the device needs {device.lowest_v}.",
        );
    }
    match &c.set_point_v {
        Some(read) if above((read.value - c.output_v).abs(), SET_POINT_OFF * c.output_v) => stop(
            rule::voltage::SET_POINT_OFF,
            "Converter set-point differs from the plan",
            "The voltage read at “{$0}” is not the one this plan uses. Set it before you connect the device.",
        ),
        None if c.wired_in => stop(
            rule::voltage::SET_POINT_UNREAD,
            "Converter wired in, set-point never read",
            "“{$0}” may arrive set to any voltage. Read it with a meter without the device, then again under load.",
        ),
        _ => {}
    }
    peaks(f, c, words);
    turned(f, c, words);
    hot(f, words);
    let l = &workspace.ledger;
    if let (Some(heat_w), Some(sheds_w)) = (l.value(&HEAT_W), c.sheds_w)
        && above(heat_w, sheds_w)
    {
        f.add(Severity::Caution, Says {
            rule: rule::voltage::CONVERTER_HEAT,
            subject: "",
            title: "Converter makes too much heat",
            why: "At {load.continuous_a} the converter makes {converter.heat_w}, more than its place can carry away. Give it metal or air, or use a larger one.",
            words,
        });
    }
    if let Some(heat_w) = l.value(&HEAT_W).filter(|heat_w| c.sheds_w.is_none() && above(*heat_w, BARE_W)) {
        let severity = if above(heat_w, SINK_W) { Severity::Caution } else { Severity::Note };
        f.add(severity, Says {
            rule: rule::voltage::HEAT_UNPLACED,
            subject: "",
            title: "No place for the converter's heat",
            why: "“{$0}” makes {converter.heat_w}; a bare module gets rid of about 5 W. Say what its place can carry away: bare, on metal, in moving air.",
            words,
        });
    }
    let switch_absent =
        !workspace.is_open(NodeKind::Switch) && !workspace.line.nodes.iter().any(|n| n.switch().is_some());
    if switch_absent
        && module.standby_a.is_some()
        && l.value(&FLAT_DAYS).is_some_and(|days| below(days, SOON_FLAT_DAYS))
    {
        f.tell(
            Severity::Caution,
            rule::voltage::STANDBY_DRAIN,
            "Converter drains the pack in standby",
            "{pack.standby_a} of standby drain empties a full pack in {pack.flat_days}. Put a switch between pack and converter.",
        );
    }
}

/// Peaks at both sides: most modules state only what they are rated for continuously.
fn peaks(f: &mut Findings<'_, '_>, c: &Converter, words: &[&str]) {
    let sides = [
        (
            &PEAK_A,
            &CONTINUOUS_A,
            c.input_a,
            rule::voltage::CONVERTER_INPUT_PEAK,
            "Peak exceeds the converter's input rating",
            "The peak draws {load.peak_a} from the battery for {load.peak_s}; “{$0}” is rated for less. It limits the current and the device restarts, or it fails.",
        ),
        (
            &OUTPUT_PEAK_A,
            &OUTPUT_CONTINUOUS_A,
            c.output_a,
            rule::voltage::CONVERTER_OUTPUT_PEAK,
            "Peak exceeds the converter's output rating",
            "The device takes {output.peak_a} for {load.peak_s}; “{$0}” is rated for less. It limits the current and the device restarts, or it fails.",
        ),
    ];
    for (peak, continuous, rated, rule, title, why) in sides {
        let l = &f.workspace.ledger;
        let (Some(peak_a), Some(rated_a)) = (l.value(peak), rated) else { continue };
        let lasting = l.value(continuous).is_some_and(|a| above(a, rated_a));
        if lasting || !above(peak_a, rated_a) {
            continue;
        }
        let severity = if above(peak_a, SHORT_FACTOR * rated_a) { Severity::Stop } else { Severity::Caution };
        f.add(severity, Says { rule, subject: "", title, why, words });
    }
}

/// An output that its user turns, against what the device is rated for.
fn turned(f: &mut Findings<'_, '_>, c: &Converter, words: &[&str]) {
    let l = &f.workspace.ledger;
    if c.adjustable != Some(true) {
        return;
    }
    let (Some(most_v), Some(highest)) = (l.value(&OUTPUT_MOST_V), l.get(HIGHEST_V.id)) else { return };
    if !above(most_v, highest.ends().1) || l.value(&FEED_V).is_some_and(|v| above(v, highest.ends().1)) {
        return;
    }
    // A stated end of its range is a fact; that a step-down one goes as far as its input is usual, not sure.
    let severity = if c.output_max_v.is_some() { Severity::Stop } else { Severity::Caution };
    f.add(
        severity,
        Says {
            rule: rule::voltage::ADJUSTER_ABOVE_DEVICE,
            subject: "",
            title: "Output adjusts above the device's limit",
            why: "“{$0}” goes up to {output.most_v}; the device is limited to {device.highest_v}. One wrong turn destroys it. Add end resistors, a fixed set-point, or a clamp.",
            words,
        },
    );
}

/// How hot its hottest part becomes: the air and its own rise together.
fn hot(f: &mut Findings<'_, '_>, words: &[&str]) {
    let Some(hottest_c) = f.workspace.ledger.value(&HOTTEST_C).filter(|c| above(*c, WARM_C)) else { return };
    let severity = if above(hottest_c, HOT_C) { Severity::Stop } else { Severity::Caution };
    f.add(
        severity,
        Says {
            rule: rule::voltage::CONVERTER_HOT,
            subject: "",
            title: "Converter too hot in its place",
            why: "In surroundings of {use.hottest_c} its hottest part reaches {converter.hottest_c}; capacitors are rated for 85 to 105 °C. Give it metal or air, or use a larger one.",
            words,
        },
    );
}
