//! The device as surveyed.

use super::contacts;
use crate::assess::figures::device::{ALARM_V, CHARGER_OVER, CUTOUT_V, HIGHEST_V, ORIGINAL_V, SELECTOR_LOW_V};
use crate::assess::figures::feed::ALARM_TRUE_V;
use crate::assess::figures::voltage::{CUTOFF_V, LINE_FULL_V};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::ledger::at;
use crate::assess::rule;
use crate::assess::workspace::Asked;
use crate::base::chemistry::Chemistry;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::physics::device::{
    self,
    apart::{is_photographed, is_proved},
};
use crate::plan::{ContactKind, How, OpeningPurpose};

/// How far off its label a regulated charger may stand. Common practice, no source: a few percent.
const REGULATED: f64 = 0.05;

/// How far voltage on a label may stand from a chemistry's. Common practice, no source: 3.6 and 3.7 V are the same cell.
const LABEL_SHARE: f64 = 0.045;
/// How near voltage on a label are to the chemistry that has them.
const PRINTED_V: f64 = 0.12;
/// Share of its label that an old battery gave in a run, below and above which something does not go together. Common
/// practice, no source: worn cells hold half, and a load varies by a third.
const OLD_RUN_LEAST: f64 = 0.4;
const OLD_RUN_MOST: f64 = 1.5;

pub fn check(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let d = &workspace.plan.device;
    let assumed = match &d.highest_v {
        None => workspace.ledger.value(&HIGHEST_V).is_some(),
        Some(known) => known.how == How::Assumed,
    };
    if assumed {
        f.tell(
            Severity::Caution,
            rule::device::HIGHEST_ASSUMED,
            "Maximum device voltage only assumed",
            "Nothing states the maximum; {device.highest_v} is what the original battery gave when fresh. Test it on a current-limited supply before you buy cells.",
        );
    }
    if d.original.cells_fit == Some(true) {
        f.tell(
            Severity::Stop,
            rule::device::OLD_CELLS_FIT,
            "Old cells still fit beside the new pack",
            "Unequal cells in parallel drive a current that nothing limits. Block the bay, or cut its wire.",
        );
    }
    electronics(f);
    contacts::check(f);
    alarms(f);
    charger(f);
    surroundings(f);
    old_words(f);
    old_label(f);
    metal_walls(f);
    lamps(f);
    old_run(f);
    taken_apart(f);
}

fn electronics(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let electronics = &f.workspace.plan.device.electronics;
    if electronics.soft_start == Some(true) && electronics.soft_start_kept == Some(false) {
        f.tell(
            Severity::Caution,
            rule::device::SOFT_START_BYPASSED,
            "Soft start bypassed",
            "The motor then draws its full stall current at every start. Board, fuse, switch and gearbox must all be rated for it.",
        );
    }
    if electronics.selector == Some(true)
        && matches!((l.value(&CUTOUT_V), l.value(&SELECTOR_LOW_V)), (Some(cutout_v), Some(low_v)) if above(cutout_v, low_v))
    {
        f.tell(
            Severity::Stop,
            rule::device::LOWER_SETTING_NEVER_RUNS,
            "Selector's lower setting never runs",
            "The device cuts out below {device.cutout_v}; at its lower setting the packs give {device.selector_low_v}.",
        );
    }
    if electronics.identity_pins == Some(true) {
        let sensed = f.workspace.plan.device.contact(ContactKind::Sense);
        let read = sensed.and_then(|c| Some((c.name.as_str(), show(c.old_battery_ohm.as_ref()?.value, Unit::Ohm))));
        let measure = match &read {
            Some((name, ohm)) => format!("It has {ohm} between “{name}” and minus: give the new pack the same."),
            None => "Measure it before you take the pack apart, and keep it.".to_owned(),
        };
        f.add(
            Severity::Note,
            Says {
                rule: rule::device::WANTS_IDENTITY,
                subject: "",
                title: "Device needs the original pack's identification",
                why: "Without the resistor or chip of the original pack it may not start or charge. {$0}",
                words: &[&measure],
            },
        );
    }
    if electronics.temperature_pins == Some(true) {
        f.tell(
            Severity::Note,
            rule::device::WANTS_TEMPERATURE,
            "Device needs the pack's temperature sensor",
            "Fix the sensor of the original pack, or one with the same resistance at the same temperature, to the new cells. A fixed resistor in its place makes the device blind to a hot pack.",
        );
    }
}

/// Alarms of a gauge made for another battery warn early, late, or never.
fn alarms(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let levels = &workspace.plan.device.electronics.alarms;
    let led = workspace.plan.feed.gauge_led == Some(true);
    if workspace.converter().is_some() && workspace.plan.feed.gauge.is_none() && !led {
        if !levels.is_empty() {
            // A pack that shows its charge by itself takes the gauge's place.
            let shown = workspace.ready().is_some_and(|ready| ready.shows_charge == Some(true));
            f.tell(
                if shown { Severity::Note } else { Severity::Caution },
                rule::device::GAUGE_BLIND,
                "Gauge behind the converter cannot see the pack",
                "The converter holds {device.feed_v} until it stops, so the gauge reads the same to the end and never warns. Connect its sense wire to the pack through a suitable divider, or put an alarm on the pack.",
            );
        }
        return;
    }
    let (Some(full_v), Some(cutoff_v)) = (workspace.ledger.value(&LINE_FULL_V), workspace.ledger.value(&CUTOFF_V))
    else {
        return;
    };
    let old_v = workspace.ledger.value(&ORIGINAL_V);
    for (i, alarm) in levels.iter().enumerate() {
        let subject = i.to_string();
        let (id, true_id) = (at(&ALARM_V, &subject), at(&ALARM_TRUE_V, &subject));
        let true_v = workspace.ledger.get(&true_id).map_or(alarm.at_v.value, |f| f.value);
        let id = if workspace.ledger.get(&true_id).is_some() { true_id } else { id };
        // A level above the old battery's nominal volts says "full" or "good"; what warns lies below.
        let says_good = old_v.is_some_and(|old_v| above(alarm.at_v.value, old_v));
        let why = match (below(true_v, full_v), above(true_v, cutoff_v)) {
            (false, _) if says_good => format!(
                "“{{$0}}” is set to {{{id}}}; even full the pack gives {{line.full_v}}. It is never shown, and the pack never seems full."
            ),
            (false, _) => format!(
                "“{{$0}}” is set to {{{id}}}; even full the pack gives {{line.full_v}}. It warns at once, and you learn to ignore it."
            ),
            (true, false) if says_good => format!(
                "“{{$0}}” stays on down to {{{id}}}, and the run ends at {{pack.cutoff_v}}: it shows full until the device stops."
            ),
            (true, false) => {
                format!(
                    "“{{$0}}” is set to {{{id}}}, below the {{pack.cutoff_v}} at which the run ends: it never warns."
                )
            }
            (true, true) => continue,
        };
        f.add(
            Severity::Caution,
            Says {
                rule: rule::device::ALARM_NOT_RESCALED,
                subject: &subject,
                title: "Gauge level does not fit the new pack",
                why: &why,
                words: &[&alarm.name],
            },
        );
    }
}

/// A charger whose voltage is not those of its label. Only what lies outside the error of the reading is said.
fn charger(f: &mut Findings<'_, '_>) {
    let d = &f.workspace.plan.device.original;
    let (Some(over), Some(reads), Some(label_v)) =
        (f.workspace.ledger.value(&CHARGER_OVER), &d.charger_v, d.charger_label_v)
    else {
        return;
    };
    let error = reads.error.unwrap_or(0.0) / label_v;
    if above(over - error, REGULATED) {
        f.tell(
            Severity::Note,
            rule::device::CHARGER_UNREGULATED,
            "Original charger is not regulated",
            "It gives {original.charger_v}; its label says {original.charger_label_v}. Without load an unregulated charger gives 20 to 50 % more than its label. Never charge lithium with it alone.",
        );
    } else if below(over + error, -REGULATED) {
        f.tell(
            Severity::Note,
            rule::device::CHARGER_UNDER_LABEL,
            "Original charger gives less than its label",
            "It gives {original.charger_v}; its label says {original.charger_label_v}. Read it again without load. If the reading stays, the charger is damaged or the label belongs to another.",
        );
    }
}

fn surroundings(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let s = &workspace.plan.device.surroundings;
    let wet_or_dusty = s.wet == Some(true) || s.dusty == Some(true);
    if s.vented == Some(true) && wet_or_dusty {
        f.tell(
            Severity::Caution,
            rule::device::VENTED_IN_THE_WET,
            "Water or dust enters through the vents",
            "Splashes and conductive dust bridge taps and board. Close the compartment and conduct the heat through its wall.",
        );
    }
    // Once a pack is planned, what is round it decides.
    let planned = workspace.cell().is_some() && workspace.any_board().is_some();
    let shelled = workspace.pack.brick.clearances.shell_mm > 0.0;
    let closed = s.vented == Some(false) || shelled;
    if planned && s.wet == Some(true) && s.vented.is_none() && !closed {
        f.tell(
            Severity::Caution,
            rule::device::WET_OPEN_BOARD,
            "Nothing keeps water off board and taps",
            "A drop between two taps draws current until the copper is gone, and a wet board trips, or never does. Close the shell round the pack, coat the board, lead the wires out downwards.",
        );
    }
    if planned && s.chemicals == Some(true) && !closed {
        f.tell(
            Severity::Caution,
            rule::device::CHEMICALS_OPEN_PACK,
            "Oil, solvent or salt reaches the pack",
            "Oil and solvents soften wrap, tape and PVC insulation; salt and fertiliser corrode tabs and taps. Put a closed, resistant shell round the pack.",
        );
    }
    if planned && s.shocks == Some(true) && workspace.plan.wiring.strain_relief.is_none() {
        f.tell(
            Severity::Caution,
            rule::device::KNOCKS_UNHELD,
            "Nothing holds leads and board against knocks",
            "Every drop pulls at the joints, and the heaviest part tears its leads off. Hold the brick on all sides, the board on a pad, and every lead before its joint.",
        );
    }
}

/// Voltage printed on the old battery against what its chemistry and count would have.
fn old_label(f: &mut Findings<'_, '_>) {
    let o = &f.workspace.plan.device.original;
    let (Some(label_v), Some(chemistry), Some(series)) = (o.label_v, o.chemistry, o.series) else { return };
    let each_v = label_v / f64::from(series);
    let facts = chemistry.facts();
    // Labels state nominal volts, some the full ones.
    let fits = |v: f64, of: f64| (v / of - 1.0).abs() <= LABEL_SHARE;
    if fits(each_v, facts.nominal_v)
        || fits(each_v, facts.full_v)
        || (chemistry == Chemistry::LiIon && fits(each_v, 3.7))
    {
        return;
    }
    let other = crate::base::chemistry::TABLE.iter().find(|other| (each_v - other.nominal_v).abs() < PRINTED_V);
    let guess = other.map_or(String::new(), |other| format!(" {} has that.", other.name));
    let severity = if chemistry.facts().rechargeable_lithium { Severity::Caution } else { Severity::Note };
    f.add(
        severity,
        Says {
            rule: rule::device::LABEL_VOLTS,
            subject: "",
            title: "Label voltage does not match the chemistry",
            why: "{$0} printed for {$1} in series is {$2} per cell; {$3} has {$4}.{$5} The device's limits and every assumption depend on this. Read one of its cells.",
            words: &[
                &show(label_v, Unit::V),
                &series.to_string(),
                &show(each_v, Unit::V),
                facts.name,
                &show(facts.nominal_v, Unit::V),
                &guess,
            ],
        },
    );
}

/// What is printed on the old battery against what is entered, and what it says that is not entered yet.
fn old_words(f: &mut Findings<'_, '_>) {
    let o = &f.workspace.plan.device.original;
    let read = device::printed(&o.words);
    let name = |chemistry: Option<Chemistry>| chemistry.map_or("", |c| c.facts().name);
    if let (Some(says), Some(entered)) = (read.chemistry, o.chemistry)
        && says != entered
    {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::device::LABEL_WORDS,
                subject: "chemistry",
                title: "Battery label names another chemistry",
                why: "The label says {$0}, the plan {$1}. Fresh voltage, cell count and original charger follow from it. Read the voltage of one cell.",
                words: &[name(Some(says)), name(Some(entered))],
            },
        );
        return;
    }
    let new = [
        read.chemistry.filter(|_| o.chemistry.is_none()).map(|c| c.facts().name.to_owned()),
        read.series().filter(|_| o.series.is_none()).map(|n| format!("{n} in series")),
        read.capacity_ah.filter(|_| o.capacity_ah.is_none()).map(|ah| show(ah, Unit::Ah)),
    ];
    let new: Vec<String> = new.into_iter().flatten().collect();
    if !new.is_empty() {
        f.add(
            Severity::Note,
            Says {
                rule: rule::device::LABEL_WORDS,
                subject: "says",
                title: "Battery label says more than is entered",
                why: "The label reads as {$0}. Enter it, or correct the words.",
                words: &[&new.join(", ")],
            },
        );
    }
}

/// A lamp that takes the place of one on a module, at voltage that do not light it.
fn lamps(f: &mut Findings<'_, '_>) {
    for place in &f.workspace.plan.device.compartments {
        for (i, opening) in place.openings.iter().enumerate() {
            let Some(lamp) = opening.lamp.as_ref().filter(|lamp| lamp.keeps == Some(false)) else { continue };
            let Some((colour, fed_v)) = lamp.colour.zip(lamp.fed_v) else { continue };
            if device::lamp::series_ohm(colour, fed_v).is_some() {
                continue;
            }
            let wants = show(device::lamp::forward_v(colour), Unit::V);
            f.add(
                Severity::Caution,
                Says {
                    rule: rule::device::LAMP_DARK,
                    subject: &format!("{}/{i}", place.id),
                    title: "Too little voltage for this lamp",
                    why: "There are {$0} between its pads; a lamp of this colour needs {$1}, plus some for its resistor. Use red, yellow or green, or lead out the light of the module's own lamp.",
                    words: &[&show(fed_v, Unit::V), &wants],
                },
            );
        }
    }
}

/// A jack or switch with bare metal in a metal wall puts the wall on its voltage.
fn metal_walls(f: &mut Findings<'_, '_>) {
    for place in f.workspace.plan.device.compartments.iter().filter(|p| p.metal == Some(true)) {
        for (i, opening) in place.openings.iter().enumerate() {
            let touches = matches!(opening.purpose, OpeningPurpose::Jack | OpeningPurpose::Switch);
            if !touches || opening.insulated == Some(true) {
                continue;
            }
            let what = if opening.purpose == OpeningPurpose::Jack { "jack" } else { "switch" };
            f.add(
                Severity::Caution,
                Says {
                    rule: rule::device::METAL_WALL,
                    subject: &format!("{}/{i}", place.id),
                    title: "Part in a metal wall may touch it",
                    why: "The thread of most jacks is their outer contact, so the metal of “{$0}” carries the voltage of the {$1}, and one slipped wire shorts the pack through the housing. Use an insulated part, or insulating washers.",
                    words: &[&place.name, what],
                },
            );
        }
    }
}

/// What the old battery gave in its last runs against its label.
fn old_run(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let o = &workspace.plan.device.original;
    // What it gave under a meter counts before what its label says.
    let (Some(ah), Some(run)) = (o.gave_ah.as_ref().or(o.capacity_ah.as_ref()), &o.run_s) else { return };
    // What somebody thinks he remembers proves nothing.
    if run.how == How::Assumed || ah.how == How::Assumed {
        return;
    }
    let levels: Vec<device::Level> = match (workspace.converter(), workspace.ledger.value(&ORIGINAL_V)) {
        (_, Some(old_v)) => {
            let at_old =
                |a: &Asked<'_>| device::Level { current_a: device::draw_a(&a.load.draw, old_v), ..a.level.clone() };
            workspace.asked.iter().map(at_old).collect()
        }
        (None, None) => workspace.asked.iter().map(|a| a.level.clone()).collect(),
        (Some(_), None) => return,
    };
    let mean_a = device::mean_a(&levels);
    if mean_a <= 0.0 {
        return;
    }
    let took_ah = mean_a * run.value / 3600.0;
    let share = took_ah / ah.value;
    let why = if below(share, OLD_RUN_LEAST) {
        "At {$0} the device took {$1} out in {$2}, of {$3} on the label. The old cells held far less than the label says, or the current was read in other use. Plan by the current, not by the old run."
    } else if above(share, OLD_RUN_MOST) {
        "At {$0} for {$2} the device would have taken {$1} out of a battery of {$3}. The run was shorter, the load lighter, or the label belongs to another battery. Read the current again in ordinary use."
    } else {
        return;
    };
    f.add(
        Severity::Caution,
        Says {
            rule: rule::device::OLD_RUN_DOUBTFUL,
            subject: "",
            title: "Old run, load and label contradict each other",
            why,
            words: &[
                &show(mean_a, Unit::A),
                &show(took_ah, Unit::Ah),
                &show(run.value, Unit::S),
                &show(ah.value, Unit::Ah),
            ],
        },
    );
}

fn taken_apart(f: &mut Findings<'_, '_>) {
    let d = &f.workspace.plan.device;
    let done = || d.apart.iter().filter(|s| s.done);
    for step in done().filter(|s| s.pulls_wire && !is_photographed(d, s)) {
        f.add(
            Severity::Note,
            Says {
                rule: rule::device::PULLED_UNSEEN,
                subject: &step.id,
                title: "Wire pulled without a photo",
                why: "“{$0}”: draw from memory now which wire sat where, with colours and sides, and photograph the drawing.",
                words: &[&step.what],
            },
        );
    }
    if let Some(step) = done().find(|s| s.reversible == Some(false)).filter(|_| !is_proved(d)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::device::NO_WAY_BACK_UNPROVED,
                subject: "",
                title: "Past the last reversible step without a test",
                why: "“{$0}” cannot be undone. Test on a current-limited supply that the device works, and in which voltage range, before you spend more on it.",
                words: &[&step.what],
            },
        );
    }
}
