//! The charger: its kind, its voltage, its current, and the temperature it charges at.

use crate::assess::figures::charging::{
    BACK_DAYS, C_RATE, CHARGER_A, CHARGER_V, COLDEST_C, HOTTEST_C, LIMIT_A, LIVES, PER_CELL_V, RESTART_V, RESTED_V,
    TIME_S,
};
use crate::assess::figures::local::contact_current;
use crate::assess::figures::protection::OVER_V;
use crate::assess::figures::voltage::{CELL_FULL_V, CELL_NEVER_V, CELL_NOMINAL_V};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::plan::{Charger, ChargesAs, How, Module, NodeKind, Plan, StateName};

/// End voltage over full that are still a caution: 1 %. Common practice, no source.
const OVER_SHARE: f64 = 0.01;
/// End voltage under full by which a charge is called partial.
const UNDER_SHARE: f64 = 0.005;
/// Usual highest charge current, in C. Common practice, no source.
const USUAL_C: f64 = 1.0;
/// Days within which a back-leak is worth a caution: half a year on a shelf. Common practice, no source.
const BACK_DAYS_LEAST: f64 = 180.0;
/// Charge time that is called long.
const LONG_S: f64 = 12.0 * 3600.0;

pub fn check(f: &mut Findings<'_, '_>) {
    let Some(module) = f.workspace.plan.module(NodeKind::Charger) else {
        return;
    };
    let Some(charges) = &module.charges else {
        return;
    };
    let name = module.offer.name.clone();
    kind(f, charges, &name);
    volts(f, charges, &name);
    currents(f, charges, &name);
    around(f);
    temperature(f);
}

fn kind(f: &mut Findings<'_, '_>, charges: &Charger, name: &str) {
    let charges_lithium = |m: &Module| m.charges.as_ref().is_some_and(|c| c.kind == ChargesAs::CcCv);
    let charged_on_the_way = f.workspace.charge_path.nodes.iter().any(|n| n.module().is_some_and(charges_lithium));
    let mut stop = |rule, title, why| {
        f.add(Severity::Stop, Says { rule, subject: "", title, why, words: &[name] });
    };
    match charges.kind {
        ChargesAs::CcCv => {}
        // A wall brick that feeds a module with a charger on it is its supply.
        ChargesAs::FixedVolts if charged_on_the_way => {}
        ChargesAs::FixedVolts => stop(
            rule::charging::NO_CURRENT_LIMIT,
            "Converter used as a charger",
            "“{$0}” holds its voltage at any current, so an empty pack takes all it can deliver. Use a charger with constant current, then constant voltage.",
        ),
        ChargesAs::Nickel | ChargesAs::LeadAcid => stop(
            rule::charging::OLD_CHARGER,
            "Wrong charger: made for nickel or lead",
            "“{$0}” does not stop at {pack.full_v} and would overcharge the pack.",
        ),
    }
}

fn volts(f: &mut Findings<'_, '_>, charges: &Charger, name: &str) {
    let l = &f.workspace.ledger;
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
            rule: rule::charging::OVER_VOLTS,
            subject: "",
            title: "Charger overcharges the pack",
            why: "“{$0}” ends at {charger.output_v}, which is {charge.per_cell_v} per cell. Full is {cell.full_v}; the limit is {cell.never_above_v}.",
            words,
        });
    } else if l.value(&CELL_NOMINAL_V).is_some_and(|nominal_v| below(per_cell_v, nominal_v)) {
        f.add(Severity::Stop, Says {
            rule: rule::charging::OTHER_COUNT,
            subject: "",
            title: "Charger voltage too low for this pack",
            why: "“{$0}” ends at {charger.output_v}, which is {charge.per_cell_v} per cell: below the {cell.nominal_v} of a half-full cell, so the pack hardly charges. It is made for fewer cells or another chemistry.",
            words,
        });
    } else if above(per_cell_v, full_v) {
        f.add(Severity::Caution, Says {
            rule: rule::charging::SLIGHTLY_OVER,
            subject: "",
            title: "Charger ends slightly above full",
            why: "“{$0}” ends at {charge.per_cell_v} per cell, within 1 % of {cell.full_v}. It shortens the life of the cells, and the board may end the charge.",
            words,
        });
    } else if below(per_cell_v, full_v * (1.0 - UNDER_SHARE)) {
        let why = if l.value(&LIVES).is_some() {
            "At {charge.per_cell_v} per cell the pack reaches {charge.reached} of full, and the cells last about {charge.lives} times as long. A balancer that starts at a higher voltage never works."
        } else {
            "At {charge.per_cell_v} per cell the pack reaches {charge.reached} of full. The cells last longer; a balancer that starts at a higher voltage never works."
        };
        f.add(
            Severity::Note,
            Says { rule: rule::charging::BELOW_FULL, subject: "", title: "Charge ends below full", why, words },
        );
    }
    let most_v = l.get(PER_CELL_V.id).map_or(per_cell_v, |end| end.ends().1);
    if !over && !measured && above(most_v, never_v) {
        f.add(Severity::Caution, Says {
            rule: rule::charging::END_UNSURE,
            subject: "",
            title: "Charger tolerance allows overcharge",
            why: "“{$0}” is stated to end at {charger.output_v}; at the end of its tolerance a cell exceeds {cell.never_above_v}. Read the charger voltage to the last digit and enter it.",
            words,
        });
    }
    if let Some(over_v) = l.value(&OVER_V)
        && !below(per_cell_v, over_v)
    {
        f.tell(
            Severity::Caution,
            rule::charging::ENDED_BY_GUARD,
            "Board ends the charge before the charger",
            "The board opens at {board.over_charge_v} per cell, before the charger's {charge.per_cell_v}. The last line of protection is then used at every charge.",
        );
    }
}

fn currents(f: &mut Findings<'_, '_>, charges: &Charger, name: &str) {
    let workspace = f.workspace;
    let l = &workspace.ledger;
    let Some(charge_a) = l.value(&CHARGER_A) else {
        return;
    };
    let words: &[&str] = &[name];
    match l.value(&LIMIT_A) {
        Some(limit_a) if above(charge_a, limit_a) => f.add(Severity::Stop, Says {
            rule: rule::charging::OVER_CELLS,
            subject: "",
            title: "Charge current exceeds the cell rating",
            why: "“{$0}” delivers {charger.output_a}; the cells are rated for {charge.limit_a}.",
            words,
        }),
        None if l.value(&C_RATE).is_some_and(|c| above(c, USUAL_C)) => f.add(Severity::Caution, Says {
            rule: rule::charging::FAST,
            subject: "",
            title: "Charge faster than usual",
            why: "{charger.output_a} is {charge.c_rate} times the capacity per hour. Once is the usual limit, and the cells' own limit is not stated.",
            words,
        }),
        _ => {}
    }
    if let Some((board_module, board)) = workspace.charge_board()
        && board.charge_a.is_some_and(|limit_a| above(charge_a, limit_a))
    {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::charging::OVER_BOARD,
                subject: "",
                title: "Charge current exceeds the board rating",
                why: "“{$0}” delivers {charger.output_a}; “{$1}” is rated for less charge current.",
                words: &[name, &board_module.offer.name],
            },
        );
    }
    for node in workspace.charge_contacts() {
        let Some(jack) = node.connector() else {
            continue;
        };
        let current = contact_current(workspace, node);
        if matches!((l.value(current), jack.continuous_a), (Some(a), Some(limit_a)) if above(a, limit_a)) {
            let why = format!("“{{$0}}” drives {{{}}} through “{{$1}}”, which is rated for less.", current.id);
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::charging::OVER_JACK,
                    subject: &node.id,
                    title: "Charge current exceeds the contact rating",
                    why: &why,
                    words: &[name, &jack.offer.name],
                },
            );
        }
    }
    if matches!((l.value(&RESTED_V), l.value(&RESTART_V), charges.restart_v), (Some(rested_v), Some(restart_v), Some(_)) if !above(rested_v, restart_v))
    {
        f.tell(
            Severity::Caution,
            rule::charging::RESTARTS,
            "Charger restarts as soon as it ends",
            "The pack rests at {charge.rested_v}, and the charger restarts at {charge.restart_v}. Left connected it tops up again and again, and the cells stay full.",
        );
    }
    if charges.kind == ChargesAs::CcCv && charges.ends_itself == Some(false) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::NEVER_ENDS,
                subject: "",
                title: "Charger does not stop by itself",
                why: "“{$0}” keeps {charger.output_v} on the pack, as a bench supply does. Disconnect it when the current has fallen to {charge.ends_a}: left on, the cells stay full and age faster.",
                words,
            },
        );
    }
    if l.value(&BACK_DAYS).is_some_and(|days| below(days, BACK_DAYS_LEAST)) {
        f.tell(
            Severity::Caution,
            rule::charging::BACK_LEAK,
            "Unpowered charger drains the pack",
            "Reverse leakage into the charger empties the pack in {charge.back_days}. Unplug it at the pack, or add a diode or a switch.",
        );
    }
    if l.value(&TIME_S).is_some_and(|s| above(s, LONG_S)) {
        f.tell(
            Severity::Caution,
            rule::charging::SLOW,
            "Charge takes longer than a night",
            "From empty the charge takes {charge.time_s} at {charger.output_a}. Do not leave it unattended.",
        );
    }
}

/// Whether the device stays connected to the pack while it is charged.
fn load_stays_on(plan: &Plan) -> bool {
    !plan.path(NodeKind::Pack, NodeKind::Device, StateName::Charging).nodes.is_empty()
}

fn around(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let taken_out = workspace.plan.charging.taken_out == Some(true);
    if !workspace.is_open(NodeKind::Switch)
        && !taken_out
        && load_stays_on(workspace.plan)
        && workspace.ledger.value(&CHARGER_V).is_some()
    {
        f.tell(
            Severity::Caution,
            rule::charging::LOAD_ON,
            "Device stays connected during the charge",
            "A load of more than {charge.ends_a} keeps the current above the end of the charge, so the charge never ends. Switch the device off, or take the pack out.",
        );
    }
}

/// Each chemistry by its own limits: never below the least, slowly between that and where it charges as it should.
fn temperature(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let Some(facts) = f.workspace.facts() else { return };
    let may = &facts.charge;
    let (coldest_c, hottest_c) = (l.value(&COLDEST_C), l.value(&HOTTEST_C));
    let senses = f.workspace.charge_board().is_some_and(|(_, b)| b.senses_temperature == Some(true));
    let (least, most) = (show(may.least_c, Unit::C), show(may.most_c, Unit::C));
    if coldest_c.is_some_and(|c| below(c, may.least_c)) && !senses {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::FREEZING,
                subject: "",
                title: "Nothing prevents charging in the cold",
                why: "You charge down to {charge.coldest_c}; {$0} must not be charged below {$1}. {$2} Charge indoors, or use a board with a temperature sensor.",
                words: &[facts.name, &least, may.too_cold],
            },
        );
    } else if coldest_c.is_some_and(|c| below(c, may.slow_below_c))
        && l.value(&C_RATE).is_some_and(|rate| above(rate, may.slow_rate_share))
    {
        let (slow, rate) = (show(may.slow_below_c, Unit::C), show(may.slow_rate_share, Unit::Ratio));
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::COLD_FAST,
                subject: "",
                title: "Charge too fast for the cold",
                why: "At {charge.coldest_c} the pack gets {charger.output_a}, {charge.c_rate} times its capacity per hour. Below {$0} {$1} is limited to {$2} times. {$3} Charge it warmer, or slower.",
                words: &[&slow, facts.name, &rate, may.too_cold],
            },
        );
    }
    if hottest_c.is_some_and(|c| above(c, may.most_c)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::HOT,
                subject: "",
                title: "Charged too hot",
                why: "You charge at up to {charge.hottest_c}; {$0} may be charged up to {$1}. Heat ages the cells quickly.",
                words: &[facts.name, &most],
            },
        );
    }
}
