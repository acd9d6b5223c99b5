//! The gauge's divider, the change-over, two switched packs, and a converter's adjuster.

use crate::assess::figures::cells::{LIMIT_A, PACK_AH};
use crate::assess::figures::converter::{LEAST_V, OPEN_V};
use crate::assess::figures::device::{CUTOUT_V, HIGHEST_V, LOWEST_V};
use crate::assess::figures::feed::{
    AFTER_OFF, APART_CELL_V, ENDS_AH, EQUALISE_A, ERROR, FALL_V, GAUGE_DAYS, HAS_F, HOLD_UP_F, HYSTERESIS_V, LEFT_AH,
    SERIES_FULL_V,
};
use crate::assess::figures::load::CONTINUOUS_A;
use crate::assess::figures::voltage::{CELL_FLOOR_V, FULL_V};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::chemistry::Chemistry;
use crate::base::limit::{above, below};
use crate::plan::{FedFrom, SecondPack};

/// Days within which a divider's drain is worth a caution: half a year on a shelf. Common practice, no source.
const DIVIDER_DAYS: f64 = 180.0;
/// Share by which a gauge may read off before it is worth a caution: a tenth of the charge of a Li-ion cell. Assumed.
const GAUGE_OFF: f64 = 0.02;
/// Difference of a cell at which packs may be joined in parallel. Common practice, no source.
const APART_V: f64 = 0.05;
/// On phosphate's plateau 50 mV are tens of percent. Common practice, no source.
const PLATEAU_APART_V: f64 = 0.01;
/// Share of the smaller that may be left in the larger before it is worth a word. Common practice, no source.
const LEFT_SHARE: f64 = 0.05;

pub fn check(f: &mut Findings<'_, '_>) {
    adjuster(f);
    beside(f);
    divider(f);
    change_over(f);
    comparator(f);
    if f.workspace.plan.feed.second.is_some() {
        positions(f);
        joined(f);
    }
}

fn adjuster(f: &mut Findings<'_, '_>) {
    let Some((module, c)) = f.workspace.converter() else { return };
    let words: &[&str] = &[&module.offer.name];
    if c.adjustable == Some(true) && c.fixed_socket == Some(true) {
        f.add(Severity::Stop, Says {
            rule: rule::voltage::FIXED_SOCKET,
            subject: "",
            title: "Fixed-voltage socket on an adjustable output",
            why: "Whatever is plugged in gets the voltage “{$0}” was last turned to. Give the socket its own regulator.",
            words,
        });
    }
    if c.adjuster_on_leads != Some(true) {
        return;
    }
    let l = &f.workspace.ledger;
    if c.adjuster_clamped != Some(true) {
        let why = if l.value(&OPEN_V).is_some() {
            "The adjuster of “{$0}” sits on leads. When one breaks, the feedback opens. With {adjuster.series_ohm} in series and {adjuster.across_ohm} across it, an open lead gives {adjuster.open_v}."
        } else {
            "The adjuster of “{$0}” sits on leads. When one breaks or wears, the feedback opens. Use end resistors, or a clamp at the output."
        };
        f.add(
            Severity::Caution,
            Says {
                rule: rule::voltage::ADJUSTER_OPEN,
                subject: "",
                title: "Open adjuster lead gives maximum output voltage",
                why,
                words,
            },
        );
    } else if matches!((l.value(&OPEN_V), l.get(HIGHEST_V.id)), (Some(open_v), Some(highest)) if above(open_v, highest.ends().1))
    {
        f.add(Severity::Caution, Says {
            rule: rule::voltage::ADJUSTER_OPEN,
            subject: "ends",
            title: "End resistors leave the output too high",
            why: "With {adjuster.across_ohm} across it, an open lead of the adjuster still gives {adjuster.open_v}; the device is limited to {device.highest_v}. Use an adjuster of lower resistance, or a clamp.",
            words,
        });
    }
}

/// What is connected beside the device, where its output is turned.
fn beside(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let Some((_, c)) = workspace.converter().filter(|(_, c)| c.adjustable == Some(true)) else { return };
    let least_v = workspace.ledger.value(&LEAST_V).or(c.output_min_v);
    for consumer in workspace.plan.feed.beside.iter().filter(|b| b.fed == FedFrom::Output) {
        let words: &[&str] = &[&consumer.name];
        match consumer.own_v {
            None => f.add(Severity::Stop, Says {
                rule: rule::voltage::FIXED_SOCKET,
                subject: &consumer.id,
                title: "Fixed-voltage consumer on an adjustable output",
                why: "“{$0}” gets whatever the output was last turned to. Connect it to the battery through a regulator of its own.",
                words,
            }),
            Some(own_v) if least_v.is_none_or(|least_v| below(least_v, own_v)) => f.add(Severity::Caution, Says {
                rule: rule::voltage::SOCKET_STARVES,
                subject: &consumer.id,
                title: "Low output voltage starves a regulator",
                why: "The regulator of “{$0}” needs more than its own output voltage at its input, and the adjustable output goes lower. Connect it to the battery.",
                words,
            }),
            Some(_) => {}
        }
    }
}

fn divider(f: &mut Findings<'_, '_>) {
    let Some(gauge) = &f.workspace.plan.feed.gauge else { return };
    if gauge.in_hand_ohm.is_some()
        && f.workspace.ledger.value(&ERROR).is_some_and(|share| above(share.abs(), GAUGE_OFF))
    {
        f.tell(
            Severity::Caution,
            rule::voltage::GAUGE_OFF,
            "Resistor in hand leaves the gauge wrong",
            "With {gauge.ohm} the gauge is {gauge.error_share} off; exactly right is {gauge.exact_ohm}. A gauge that reads high says full when the pack is not. Two resistors in series or in parallel come closer.",
        );
    }
    if f.workspace.ledger.value(&AFTER_OFF).is_some_and(|share| above(share.abs(), GAUGE_OFF)) {
        f.tell(
            Severity::Caution,
            rule::voltage::GAUGE_AFTER,
            "Changed gauge differs from the calculation",
            "It reads {gauge.after_share} off what {gauge.ohm} should give. Check that the old resistor is out of the circuit and that the new one has the value printed on it. Then read both voltages again.",
        );
    }
    if gauge.always_on != Some(true) {
        return;
    }
    if f.workspace.ledger.value(&GAUGE_DAYS).is_some_and(|days| below(days, DIVIDER_DAYS)) {
        f.tell(
            Severity::Caution,
            rule::voltage::DIVIDER_DRAINS,
            "Gauge divider drains the stored pack",
            "It draws {gauge.drain_a} all the time and empties the pack in {gauge.flat_days}. Connect it after the switch, or use larger resistors.",
        );
    }
    f.tell(
        Severity::Caution,
        rule::voltage::UNPOWERED_PIN,
        "Gauge divider feeds an unpowered pin",
        "While the device is off, the pack pushes current through the sense pin: the device half wakes, or the pin is damaged. Connect the divider after the switch.",
    );
}

fn change_over(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if f.workspace.plan.feed.change_over.is_none() {
        return;
    }
    if l.value(&FALL_V).is_some_and(|fall_v| !above(fall_v, 0.0)) {
        f.tell(
            Severity::Caution,
            rule::voltage::CHANGE_OVER_TOO_LOW,
            "Voltage after the change-over too low",
            "{device.feed_v} less {change.loss_v} is not above the {device.lowest_v} that the device needs.",
        );
    } else if matches!((l.value(&HAS_F), l.value(&HOLD_UP_F)), (Some(has_f), Some(needs_f)) if below(has_f, needs_f)) {
        f.tell(
            Severity::Caution,
            rule::voltage::HOLD_UP_SMALL,
            "Capacitor does not bridge the change-over",
            "It takes {change.hold_up_f} to stay above {device.lowest_v} for {change.gap_s}; there is {change.has_f}. The device restarts each time the mains fails.",
        );
    }
}

fn comparator(f: &mut Findings<'_, '_>) {
    let Some(c) = &f.workspace.plan.feed.change_over else { return };
    let (Some(charging), Some(on_battery)) = (&c.host_charging_v, &c.host_on_battery_v) else { return };
    let blind = c.threshold_v.is_some_and(|v| !below(v, charging.value) || !above(v, on_battery.value));
    if blind || !above(charging.value, on_battery.value) {
        f.tell(
            Severity::Caution,
            rule::voltage::COMPARATOR_BLIND,
            "Comparator cannot tell charging from running",
            "Set its threshold between the voltage it sees while the host charges and the one while it runs on the pack.",
        );
    } else if matches!((c.hysteresis_v, f.workspace.ledger.value(&HYSTERESIS_V)),
        (Some(set_v), Some(wanted_v)) if below(set_v, wanted_v / 2.0))
    {
        f.tell(
            Severity::Caution,
            rule::voltage::COMPARATOR_CHATTER,
            "Comparator will chatter",
            "Ripple and sag cross a single threshold again and again. Use two thresholds {comparator.hysteresis_v} apart, around {comparator.threshold_v}.",
        );
    }
}

/// Both positions of the switch against the device's window.
fn positions(f: &mut Findings<'_, '_>) {
    let Some(second) = &f.workspace.plan.feed.second else { return };
    let l = &f.workspace.ledger;
    let highest_v = l.get(HIGHEST_V.id).map(|h| h.ends().1);
    let direct = f.workspace.converter().is_none();
    if second.used_in_series == Some(true)
        && direct
        && matches!((l.value(&SERIES_FULL_V), highest_v), (Some(full_v), Some(high_v)) if above(full_v, high_v))
    {
        f.tell(
            Severity::Stop,
            rule::voltage::SERIES_ABOVE_DEVICE,
            "Packs in series exceed the device's limit",
            "Full, they give {switched.series_full_v} together; the device is limited to {device.highest_v}.",
        );
    }
    let needs_v = l.value(&CUTOUT_V).into_iter().chain(l.value(&LOWEST_V)).reduce(f64::max);
    let gives_v = l.value(&FULL_V);
    if second.used_in_parallel == Some(true)
        && direct
        && matches!((gives_v, needs_v), (Some(gives_v), Some(needs_v)) if below(gives_v, needs_v))
    {
        f.tell(
            Severity::Stop,
            rule::voltage::PARALLEL_NEVER_RUNS,
            "Packs in parallel too low for the device",
            "Even full they give {pack.full_v}; below its minimum or its cut-out the device stops after seconds.",
        );
    }
    let (Some(first), Some(other)) = (f.workspace.pack.series, second.series) else { return };
    if second.used_in_parallel == Some(true) && first != other {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::voltage::PARALLEL_OTHER_COUNTS,
                subject: "",
                title: "Packs in parallel have different cell counts",
                why: "One has {$0} cells in series, the other {$1}. The larger discharges into the smaller until its cells burn. Connect only packs of equal count and chemistry in parallel.",
                words: &[&first.to_string(), &other.to_string()],
            },
        );
    }
}

/// What two packs that are not alike do to each other.
fn joined(f: &mut Findings<'_, '_>) {
    let Some(second) = &f.workspace.plan.feed.second else { return };
    let l = &f.workspace.ledger;
    selector(f, second);
    other_chemistries(f, second);
    if second.breaks_before_it_makes() == Some(false) {
        f.tell(
            Severity::Stop,
            rule::voltage::MAKE_BEFORE_BREAK,
            "Selector switch shorts a pack while turning",
            "Between series and parallel both positions touch at once, a dead short. Use a switch that breaks before it makes.",
        );
    }
    let apart_v = if f.workspace.pack.chemistry == Some(Chemistry::LiFePo4) { PLATEAU_APART_V } else { APART_V };
    let same_counts = second.series.is_none() || second.series == f.workspace.pack.series;
    if second.used_in_parallel == Some(true) && same_counts {
        if l.value(&APART_CELL_V).is_some_and(|v| above(v, apart_v)) {
            let hard =
                matches!((l.value(&EQUALISE_A), l.value(&LIMIT_A)), (Some(a), Some(limit_a)) if above(a, limit_a));
            f.tell(
                if hard { Severity::Stop } else { Severity::Caution },
                rule::voltage::PACKS_APART,
                "Packs at different voltages",
                "They are {switched.apart_v} per cell apart. Connected in parallel, {switched.equalise_a} flows from one into the other. Charge both full first.",
            );
        } else if l.value(&APART_CELL_V).is_none() {
            f.tell(
                Severity::Caution,
                rule::voltage::PACKS_UNREAD,
                "Voltage difference of the packs not known",
                "Connected in parallel at different voltages, one discharges into the other and nothing limits the current. Read both at rest just before you connect them: within 50 mV per cell.",
            );
        }
    }
    if second.used_in_series == Some(true) || second.used_in_parallel == Some(true) {
        guarded(f, second);
    }
}

/// Cells that are full and empty at other voltages share neither a current nor a charger.
fn other_chemistries(f: &mut Findings<'_, '_>, second: &SecondPack) {
    let joined = second.used_in_series == Some(true) || second.used_in_parallel == Some(true);
    let (Some(first), Some(other)) = (f.workspace.facts(), second.ready.part().map(|r| r.chemistry.facts())) else {
        return;
    };
    if joined && (first.full_v, first.cutoff_v) != (other.full_v, other.cutoff_v) {
        f.add(Severity::Stop, Says {
            rule: rule::voltage::OTHER_CHEMISTRIES,
            subject: "",
            title: "Two packs of different chemistry joined",
            why: "The first is {$0}, the second {$1}: they are full and empty at different voltages. In parallel one overcharges the other; in series no cut-off suits both. Use them one at a time.",
            words: &[first.name, other.name],
        });
    }
}

/// The switch that changes the positions carries what either position asks for, and breaks what both packs have in series.
fn selector(f: &mut Findings<'_, '_>, second: &SecondPack) {
    let Some(switch) = second.selector() else { return };
    let l = &f.workspace.ledger;
    let over =
        |value: Option<f64>, limit: Option<f64>| matches!((value, limit), (Some(v), Some(limit)) if above(v, limit));
    let most_v = l.value(&SERIES_FULL_V).filter(|_| second.used_in_series == Some(true)).or(l.value(&FULL_V));
    let why = if over(l.value(&CONTINUOUS_A), switch.continuous_a) {
        "“{$0}” carries {load.continuous_a} and is rated for less: its contacts overheat."
    } else if over(most_v, switch.dc_v) {
        "“{$0}” is rated for less DC voltage than the two packs have: the arc between its contacts does not go out."
    } else {
        return;
    };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::voltage::SELECTOR_SMALL,
            subject: "",
            title: "Switch of the two packs too small",
            why,
            words: &[&switch.offer.name],
        },
    );
}

/// A guard sees its own pack only: the other goes on, in series even below nothing.
fn guarded(f: &mut Findings<'_, '_>, second: &SecondPack) {
    second_guard(f, second);
    let workspace = f.workspace;
    let l = &workspace.ledger;
    let series = second.used_in_series == Some(true);
    let unequal = matches!((l.value(&LEFT_AH), l.value(&ENDS_AH)),
        (Some(left_ah), Some(ends_ah)) if above(left_ah, LEFT_SHARE * ends_ah));
    let each = workspace.each_guarded();
    if each == Some(true) {
        return;
    }
    let severity = if each == Some(false) { Severity::Stop } else { Severity::Caution };
    if series && unequal {
        let first_ends = matches!((l.value(&PACK_AH), l.value(&ENDS_AH)), (Some(first_ah), Some(ends_ah)) if !above(first_ah, ends_ah));
        f.add(severity, Says {
            rule: rule::voltage::PACKS_UNEQUAL,
            subject: "",
            title: "Larger pack in series reverses the smaller",
            words: &[if first_ends { "first" } else { "second" }],
            why: "The {$0} pack is empty after {switched.ends_ah}; {switched.left_ah} of the larger then flows through it and reverses its cells. Each pack needs its own protection.",
        });
        return;
    }
    // Side by side both are at the same volts: what ends the discharge of the line ends that of both.
    let line_ends = workspace.guards.iter().any(|g| !g.only_warns && !g.own_pack && g.pack_v.is_some());
    if !series && line_ends {
        return;
    }
    // Chosen for the second, it is the first that has none of its own.
    let unguarded = if workspace.second_guard_v().is_some() { "first" } else { "second" };
    f.add(
        severity,
        Says {
            rule: rule::voltage::SECOND_UNGUARDED,
            subject: "",
            title: "One of two packs has no cut-off",
            words: &[unguarded],
            why: "A board sees the cells of its own pack. The {$0} goes on until its cells are below {cell.floor_v}; in series the emptier one is even reversed. Use a board or cut-off in each pack.",
        },
    );
}

/// The guard chosen for the second pack: made for its cells, opening in time, and bearing what flows.
fn second_guard(f: &mut Findings<'_, '_>, second: &SecondPack) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    let (Some(module), Some(series)) = (second.guard(), workspace.second_series()) else { return };
    let (made_for, has) = match module.protects.as_ref().and_then(|board| board.series) {
        Some(n) if n != series => (n.to_string(), series.to_string()),
        _ => (String::new(), String::new()),
    };
    let board = module.protects.as_ref();
    let chemistry = board.and_then(|b| b.chemistry).zip(workspace.facts());
    let floor_v = l.value(&CELL_FLOOR_V).map(|v| v * f64::from(series));
    let too_low = workspace.second_guard_v().zip(floor_v).is_some_and(|(opens_v, floor_v)| below(opens_v, floor_v));
    let too_much =
        board.and_then(|b| b.continuous_a).zip(l.value(&CONTINUOUS_A)).is_some_and(|(a, asked_a)| above(asked_a, a));
    let why = if !has.is_empty() {
        "“{$0}” is made for {$1} in series, the second pack has {$2}. It would not see every cell."
    } else if chemistry.is_some_and(|(sold_for, facts)| sold_for.facts().full_v != facts.full_v) {
        "“{$0}” is made for another chemistry: it opens at the wrong voltage for these cells."
    } else if too_low {
        "“{$0}” opens when the cells of the second pack are below {cell.floor_v}: if it opens at all, the damage is done."
    } else if too_much {
        "The load takes {load.continuous_a} continuously, and in series or alone the second pack carries all of it; “{$0}” is rated for less."
    } else {
        return;
    };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::voltage::SECOND_GUARD,
            subject: "",
            title: "Second pack's protection does not suit it",
            words: &[&module.offer.name, &made_for, &has],
            why,
        },
    );
}
