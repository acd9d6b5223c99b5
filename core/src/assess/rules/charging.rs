//! Charger, supply and charge temperature.

use crate::assess::figures::balancing::{AT_FULL_V, LEVEL_S, TOP_S};
use crate::assess::figures::cells::PACK_AH;
use crate::assess::figures::charging::{
    C_RATE, CHARGER_A, CHARGER_V, COLDEST_C, HOTTEST_C, LIMIT_A, PER_CELL_V, SUPPLY_A, SUPPLY_HAS_A, TIME_S,
};
use crate::assess::figures::protection::{BLEED_A, OVER_V};
use crate::assess::figures::voltage::{CELL_FULL_V, CELL_NEVER_V, CELL_NOMINAL_V};
use crate::assess::finding::{Findings, Says, Severity};
use crate::charging::TAPER_C_RATE;
use crate::limit::{above, below};
use crate::plan::{Charges, ChargesAs, How, NodeKind, Plan, StateName};
use crate::source::Source;

/// End volts over full that are still a caution: 1 %. Common practice, no source.
const OVER_SHARE: f64 = 0.01;
/// End volts under full by which a charge is called partial.
const UNDER_SHARE: f64 = 0.005;
/// Usual highest charge current, in C. Common practice, no source.
const USUAL_C: f64 = 1.0;
/// Charge time that is called long.
const LONG_S: f64 = 12.0 * 3600.0;
/// Cells are never charged below freezing, nor above 45 C. Common practice, no source.
const FREEZING_C: f64 = 0.0;
const HOT_C: f64 = 45.0;

/// How far groups part at the top of the charge before a cause is looked for. Common practice, no source.
const APART_V: f64 = 0.1;
/// Apart by less than this at the top of the charge is excellent. Common practice, no source.
const EXCELLENT_V: f64 = 0.01;

pub fn look(f: &mut Findings<'_, '_>) {
    level(f);
    if f.bench.plan.device.brains.charges_itself == Some(true) {
        f.tell(
            Severity::Caution,
            "charging.host-charges",
            Source::CommonPractice,
            "The device has a charge circuit of its own",
            "Made for the old battery, it goes on charging the new pack its own way. Cut it off, or follow it: nothing else may feed its charge node.",
        );
    }
    let Some(module) = f.bench.plan.module(NodeKind::Charger) else {
        return;
    };
    let Some(charges) = &module.charges else {
        return;
    };
    let name = module.offer.name.clone();
    kind(f, charges, &name);
    volts(f, charges, &name);
    currents(f, &name);
    around(f);
    temperature(f);
}

fn kind(f: &mut Findings<'_, '_>, charges: &Charges, name: &str) {
    let mut stop = |rule, title, why| {
        f.add(Severity::Stop, Says { rule, subject: "", source: Source::CommonPractice, title, why, words: &[name] });
    };
    match charges.kind {
        ChargesAs::CcCv => {}
        ChargesAs::FixedVolts => stop(
            "charging.no-current-limit",
            "A converter is not a charger",
            "“{$0}” holds its volts at any current: an empty pack takes all it can give. Take a charger with constant current, then constant voltage.",
        ),
        ChargesAs::Nickel | ChargesAs::LeadAcid => stop(
            "charging.old-charger",
            "A charger for nickel or lead is not one for lithium",
            "“{$0}” does not end at {pack.full_v}: it goes on until something gives way.",
        ),
    }
}

fn volts(f: &mut Findings<'_, '_>, charges: &Charges, name: &str) {
    let l = &f.bench.ledger;
    let (Some(per_cell_v), Some(full_v), Some(never_v)) =
        (l.value(&PER_CELL_V), l.value(&CELL_FULL_V), l.value(&CELL_NEVER_V))
    else {
        return;
    };
    if charges.kind != ChargesAs::CcCv {
        return;
    }
    let words: &[&str] = &[name];
    let measured = charges.output_v.how == How::Measured;
    let over = above(per_cell_v, full_v * (1.0 + OVER_SHARE)) || (measured && above(per_cell_v, never_v));
    if over {
        f.add(Severity::Stop, Says {
            rule: "charging.over-volts",
            subject: "",
            source: Source::Iec62133,
            title: "The charger over-charges the pack",
            why: "“{$0}” ends at {charger.output_v}, {charge.per_cell_v} a cell; full is {cell.full_v} and never above {cell.never_above_v}.",
            words,
        });
    } else if l.value(&CELL_NOMINAL_V).is_some_and(|nominal_v| below(per_cell_v, nominal_v)) {
        f.add(Severity::Stop, Says {
            rule: "charging.other-count",
            subject: "",
            source: Source::Arithmetic,
            title: "The charger is for fewer cells or another chemistry",
            why: "“{$0}” ends at {charger.output_v}, {charge.per_cell_v} a cell: below the {cell.nominal_v} of a half-full one, so that it puts hardly anything in.",
            words,
        });
    } else if above(per_cell_v, full_v) {
        f.add(Severity::Caution, Says {
            rule: "charging.slightly-over",
            subject: "",
            source: Source::CommonPractice,
            title: "The charger ends slightly above full",
            why: "“{$0}” ends at {charge.per_cell_v} a cell, within 1 % of {cell.full_v}: it costs life, and the guard may end the charge.",
            words,
        });
    } else if below(per_cell_v, full_v * (1.0 - UNDER_SHARE)) {
        f.add(Severity::Note, Says {
            rule: "charging.below-full",
            subject: "",
            source: Source::CircuitLaw,
            title: "The charge ends below full",
            why: "At {charge.per_cell_v} a cell it reaches {charge.reached} of full. Cells live longer so; a balancer that starts higher never works.",
            words,
        });
    }
    if let Some(over_v) = l.value(&OVER_V)
        && !below(per_cell_v, over_v)
    {
        f.tell(
            Severity::Caution,
            "charging.ended-by-guard",
            Source::CommonPractice,
            "The guard ends the charge, not the charger",
            "The board opens at {board.over_charge_v} a cell, before the charger's {charge.per_cell_v}: the last guard is then used at every charge.",
        );
    }
}

fn currents(f: &mut Findings<'_, '_>, name: &str) {
    let bench = f.bench;
    let l = &bench.ledger;
    let Some(charge_a) = l.value(&CHARGER_A) else {
        return;
    };
    let words: &[&str] = &[name];
    match l.value(&LIMIT_A) {
        Some(limit_a) if above(charge_a, limit_a) => f.add(Severity::Stop, Says {
            rule: "charging.over-cells",
            subject: "",
            source: Source::PartSheet,
            title: "The charge current is over the cells' rating",
            why: "“{$0}” gives {charger.output_a}; the cells take {charge.limit_a}.",
            words,
        }),
        None if l.value(&C_RATE).is_some_and(|c| above(c, USUAL_C)) => f.add(Severity::Caution, Says {
            rule: "charging.fast",
            subject: "",
            source: Source::CommonPractice,
            title: "The charge is faster than usual",
            why: "{charger.output_a} is {charge.c_rate} times the capacity an hour; once is the usual most, and the cells' own limit is not stated.",
            words,
        }),
        _ => {}
    }
    if let Some((board_module, board)) = bench.charge_board()
        && board.charge_a.is_some_and(|limit_a| above(charge_a, limit_a))
    {
        f.add(
            Severity::Stop,
            Says {
                rule: "charging.over-board",
                subject: "",
                source: Source::PartSheet,
                title: "The charge current is over the board's rating",
                why: "“{$0}” gives {charger.output_a}; “{$1}” is rated for less charge current.",
                words: &[name, &board_module.offer.name],
            },
        );
    }
    for node in &bench.charge_way.nodes {
        let Some(jack) = node.connector() else {
            continue;
        };
        if jack.continuous_a.is_some_and(|a| above(charge_a, a)) {
            f.add(
                Severity::Stop,
                Says {
                    rule: "charging.over-jack",
                    subject: &node.id,
                    source: Source::PartSheet,
                    title: "The charge current is over the jack's rating",
                    why: "“{$0}” gives {charger.output_a}; “{$1}” is rated for less.",
                    words: &[name, &jack.offer.name],
                },
            );
        }
    }
    let wants_supply =
        bench.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()).is_some_and(|c| !c.own_supply);
    if wants_supply && !bench.is_open(NodeKind::Supply) && bench.plan.module(NodeKind::Supply).is_none() {
        f.add(
            Severity::Caution,
            Says {
                rule: "charging.no-supply",
                subject: "",
                source: Source::CircuitLaw,
                title: "Nothing feeds the charger",
                why: "“{$0}” does not plug into the wall itself: it wants a supply of {supply.needed_w}.",
                words,
            },
        );
    }
    if let (Some(needed_a), Some(has_a)) = (l.value(&SUPPLY_A), l.value(&SUPPLY_HAS_A))
        && above(needed_a, has_a)
    {
        f.tell(
            Severity::Caution,
            "charging.supply-weak",
            Source::CircuitLaw,
            "The supply is too weak for the charger",
            "At the top of the charge it must give {supply.needed_a}, and has {supply.output_a}: it sags, and the charger flickers.",
        );
    }
    if l.value(&TIME_S).is_some_and(|s| above(s, LONG_S)) {
        f.tell(
            Severity::Note,
            "charging.slow",
            Source::CircuitLaw,
            "The charge takes longer than a night",
            "From empty it takes {charge.time_s} at {charger.output_a}. Do not leave it unattended.",
        );
    }
}

/// Groups apart by more than their readings' errors, and a balancer that takes long over it.
fn level(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    // No verdict is finer than the meter: the low end counts.
    let surely_v = l.get(AT_FULL_V.id).map(|found| found.ends().0);
    if surely_v.is_some_and(|v| above(v, APART_V)) {
        f.tell(
            Severity::Caution,
            "charging.groups-apart",
            Source::CommonPractice,
            "The groups are far apart",
            "{balance.apart_v} at rest are {balance.apart_ah}; at the top of the charge they part by {balance.at_full_v}. Level them once with a hobby charger over the taps, then look for the cause: a weak cell, a bad joint, an unequal drain.",
        );
    }
    let (Some(level_s), Some(top_s)) = (l.value(&LEVEL_S), l.value(&TOP_S)) else { return };
    let taper_a = l.value(&PACK_AH).map(|ah| TAPER_C_RATE * ah);
    let held = l.value(&BLEED_A).zip(taper_a).is_some_and(|(bleed_a, taper_a)| !below(bleed_a, taper_a));
    if surely_v.is_some_and(|v| above(v, EXCELLENT_V)) && above(level_s, top_s) && !held {
        f.tell(
            Severity::Caution,
            "charging.balancing-long",
            Source::CircuitLaw,
            "Levelling takes longer than the top of a charge",
            "{balance.apart_ah} at {board.bleed_a} take {balance.level_s}; the charge stays at its top {balance.top_s}, and its last current is above the bleed. Leave it on under watch with the supply limited to the bleed, or level the groups once by hand.",
        );
    }
}

/// Whether the device stays connected to the pack while it is charged.
fn load_stays_on(plan: &Plan) -> bool {
    !plan.way(NodeKind::Pack, NodeKind::Device, StateName::Charging).nodes.is_empty()
}

fn around(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    if !bench.is_open(NodeKind::Switch) && load_stays_on(bench.plan) && bench.ledger.value(&CHARGER_V).is_some() {
        f.tell(
            Severity::Caution,
            "charging.load-on",
            Source::CommonPractice,
            "The device stays connected while it charges",
            "A load that runs keeps the current above the end of the charge, so that it never ends. Switch it off, or take the pack out.",
        );
    }
    if bench.plan.device.original.charger_fits == Some(true) {
        f.tell(
            Severity::Caution,
            "charging.old-charger-fits",
            Source::CommonPractice,
            "The old charger still fits the jack",
            "Somebody will plug it in; it does not end at {pack.full_v}. Change the jack, or label it.",
        );
    }
}

fn temperature(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    let (coldest_c, hottest_c) = (l.value(&COLDEST_C), l.value(&HOTTEST_C));
    let senses = f.bench.charge_board().is_some_and(|(_, b)| b.senses_temperature == Some(true));
    if coldest_c.is_some_and(|c| below(c, FREEZING_C)) && !senses {
        f.tell(
            Severity::Caution,
            "charging.freezing",
            Source::CommonPractice,
            "Nothing prevents charging below freezing",
            "It is charged down to {charge.coldest_c}. Lithium then plates out as metal, unseen, and the cell is unsafe for good. Charge indoors, or take a board that senses temperature.",
        );
    }
    if hottest_c.is_some_and(|c| above(c, HOT_C)) {
        f.tell(
            Severity::Caution,
            "charging.hot",
            Source::CommonPractice,
            "Charged above 45 °C",
            "It is charged at up to {charge.hottest_c}. Cells are charged between 10 and 45 °C; warmer costs life quickly.",
        );
    }
}
