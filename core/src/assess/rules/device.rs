//! The device as surveyed.

use crate::assess::figures::device::{ALARM_V, CHARGER_OVER, CUTOUT_V, HIGHEST_V, SELECTOR_LOW_V};
use crate::assess::figures::feed::ALARM_TRUE_V;
use crate::assess::figures::voltage::{CUTOFF_V, FULL_V};
use crate::assess::finding::{Findings, Says, Severity};
use crate::assess::ledger::at;
use crate::device::apart::{is_photographed, is_proved};
use crate::limit::{above, below};
use crate::plan::How;
use crate::source::Source;

/// How far off its label a regulated charger may stand. Common practice, no source: a few percent.
const REGULATED: f64 = 0.05;

pub fn look(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let d = &bench.plan.device;
    let assumed = match &d.highest_v {
        None => bench.ledger.value(&HIGHEST_V).is_some(),
        Some(known) => known.how == How::Assumed,
    };
    if assumed {
        f.tell(
            Severity::Caution,
            "device.highest-assumed",
            Source::CommonPractice,
            "Highest volts are only assumed",
            "Nothing states what the device bears; {device.highest_v} is what its old battery gave \
             fresh. Prove it on a current-limited supply before buying cells.",
        );
    }
    if d.original.cells_fit == Some(true) {
        f.tell(
            Severity::Stop,
            "device.old-cells-fit",
            Source::CommonPractice,
            "Old cells can still be put in beside the new pack",
            "Somebody will. Unequal cells in parallel drive a current that nothing limits: block the bay or cut its wire.",
        );
    }
    brains(f);
    alarms(f);
    charger(f);
    surroundings(f);
    taken_apart(f);
}

fn brains(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    let brains = &f.bench.plan.device.brains;
    if brains.soft_start == Some(true) && brains.soft_start_kept == Some(false) {
        f.tell(
            Severity::Caution,
            "device.soft-start-bypassed",
            Source::CommonPractice,
            "The soft start is bypassed",
            "The motor then starts with its full stall current at every switching on: board, fuse and switch must bear it, and the gearbox too.",
        );
    }
    if brains.selector == Some(true)
        && matches!((l.value(&CUTOUT_V), l.value(&SELECTOR_LOW_V)), (Some(cutout_v), Some(low_v)) if above(cutout_v, low_v))
    {
        f.tell(
            Severity::Stop,
            "device.lower-setting-never-runs",
            Source::CircuitLaw,
            "The selector's lower setting never runs",
            "The device cuts out below {device.cutout_v}; at its lower setting the packs give {device.selector_low_v}.",
        );
    }
    if brains.identity_pins == Some(true) {
        f.tell(
            Severity::Note,
            "device.wants-identity",
            Source::CommonPractice,
            "The device wants a pack that names itself",
            "Without the resistor or chip of the old pack it may not start or charge: measure it before the old pack is taken apart, and keep it.",
        );
    }
}

/// Alarms of a gauge made for another battery warn early, or never.
fn alarms(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    // Behind a converter the gauge sees its output, unless its divider was led to the pack.
    if bench.converter().is_some() && bench.plan.feed.gauge.is_none() {
        return;
    }
    let (Some(full_v), Some(cutoff_v)) = (bench.ledger.value(&FULL_V), bench.ledger.value(&CUTOFF_V)) else {
        return;
    };
    for (i, alarm) in bench.plan.device.brains.alarms.iter().enumerate() {
        let subject = i.to_string();
        let (id, true_id) = (at(&ALARM_V, &subject), at(&ALARM_TRUE_V, &subject));
        let true_v = bench.ledger.get(&true_id).map_or(alarm.at_v.value, |f| f.value);
        let id = if bench.ledger.get(&true_id).is_some() { true_id } else { id };
        let why = if !below(true_v, full_v) {
            format!(
                "“{{$0}}” comes at {{{id}}}; even full the new pack has {{pack.full_v}}: it warns at once, and nobody heeds it."
            )
        } else if !above(true_v, cutoff_v) {
            format!("“{{$0}}” comes at {{{id}}}, not before the run ends at {{pack.cutoff_v}}: it never warns.")
        } else {
            continue;
        };
        f.add(
            Severity::Caution,
            Says {
                rule: "device.alarm-not-rescaled",
                subject: &subject,
                source: Source::CircuitLaw,
                title: "A level of the gauge does not fit the new pack",
                why: &why,
                words: &[&alarm.name],
            },
        );
    }
}

/// A charger whose volts are not those of its label. Only what lies outside the error of the reading is said.
fn charger(f: &mut Findings<'_, '_>) {
    let d = &f.bench.plan.device.original;
    let (Some(over), Some(reads), Some(label_v)) =
        (f.bench.ledger.value(&CHARGER_OVER), &d.charger_v, d.charger_label_v)
    else {
        return;
    };
    let error = reads.error.unwrap_or(0.0) / label_v;
    if above(over - error, REGULATED) {
        f.tell(
            Severity::Note,
            "device.charger-unregulated",
            Source::CommonPractice,
            "The old charger is not regulated",
            "It puts out {original.charger_v} against {original.charger_label_v} on its label: off load an unregulated one \
             stands 20 to 50 % over it. It must never charge lithium by itself.",
        );
    } else if below(over + error, -REGULATED) {
        f.tell(
            Severity::Note,
            "device.charger-under-label",
            Source::CommonPractice,
            "The old charger gives less than its label",
            "It puts out {original.charger_v} against {original.charger_label_v}. Read it again off load; if it stays, it is \
             damaged, or the label is another's.",
        );
    }
}

fn surroundings(f: &mut Findings<'_, '_>) {
    let s = &f.bench.plan.device.surroundings;
    if s.vented == Some(true) && (s.wet == Some(true) || s.dusty == Some(true)) {
        f.tell(
            Severity::Caution,
            "device.vented-in-the-wet",
            Source::CommonPractice,
            "Water or dust comes in by the air holes",
            "Splash and conducting dust bridge taps and board. Close the compartment and lead the heat through its wall instead.",
        );
    }
}

fn taken_apart(f: &mut Findings<'_, '_>) {
    let d = &f.bench.plan.device;
    let done = || d.apart.iter().filter(|s| s.done);
    for step in done().filter(|s| s.pulls_wire && !is_photographed(d, s)) {
        f.add(
            Severity::Note,
            Says {
                rule: "device.pulled-unseen",
                subject: &step.id,
                source: Source::CommonPractice,
                title: "A wire was pulled without a photograph",
                why: "“{$0}”: draw from memory now, with colours and sides, which wire sat where, and photograph the drawing.",
                words: &[&step.what],
            },
        );
    }
    if let Some(step) = done().find(|s| !s.reversible).filter(|_| !is_proved(d)) {
        f.add(
            Severity::Caution,
            Says {
                rule: "device.no-way-back-unproved",
                subject: "",
                source: Source::CommonPractice,
                title: "Past the last reversible step, and not proved",
                why: "“{$0}” cannot be undone. Prove on a current-limited supply that the device lives, and between which volts, before more is spent on it.",
                words: &[&step.what],
            },
        );
    }
}
