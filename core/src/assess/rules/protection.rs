//! The board against load, pack and strips; what guards the pack at all.

use crate::assess::figures::brick::LINK_LIMIT_A;
use crate::assess::figures::cells::{LIMIT_A, PACK_AH, PEAK_LIMIT_A};
use crate::assess::figures::charging::C_RATE;
use crate::assess::figures::load::{CONTINUOUS_A, PEAK_A, PEAK_S};
use crate::assess::figures::protection::{BLEED_A, BOARD_A, FUSE_A, RESERVE_DAYS, TRICKLE_A, TRIP_A};
use crate::assess::figures::run::{REARM_V, REBOUND_V};
use crate::assess::figures::voltage::CELL_FLOOR_V;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::assess::workspace::Workspace;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::physics::charging::TAPER_C_RATE;
use crate::physics::protection::{board_withstands_a, reckoned, stated_band_a, trip_band_a};
use crate::plan::{Bms, CellOrigin, Connection, DeviceKind, Node, NodeKind, Plan, Port, Resets, StateName};

/// Discharge and charge, in C, from which temperature sensing and balancing are wanted. Common practice, no source.
const HIGH_DISCHARGE_C: f64 = 2.0;
const HIGH_CHARGE_C: f64 = 1.0;
/// Days from cut-off to the floor that are worth a caution: a month forgotten on a shelf. Common practice, no source.
const SOON_AT_FLOOR_DAYS: f64 = 30.0;

pub fn check(f: &mut Findings<'_, '_>) {
    presence(f);
    level(f);
    if let Some((module, board)) = f.workspace.any_board() {
        let name = module.offer.name.clone();
        match_pack(f, board, &name);
        board_currents(f, board, &name);
        trip_as_stated(f, board, &name);
        contradictions(f, board, &name);
        ends_too_low(f, board, &name);
        balance(f, board);
        habits(f, board, &name);
    }
    no_taps(f);
    chatter(f);
    rearm_below(f);
    out_reversed(f);
    if f.workspace.ledger.value(&RESERVE_DAYS).is_some_and(|days| below(days, SOON_AT_FLOOR_DAYS)) {
        f.tell(
            Severity::Caution,
            rule::protection::RESERVE_DRAINS,
            "Little reserve after the cut-off opens",
            "{pack.after_cutoff_a} keep draining the pack: about {pack.reserve_days} until the cells are damaged. Charge it the same day, or unplug it.",
        );
    }
}

/// A pack without a balance plug does not show its groups: no board and no hobby charger sees them.
fn no_taps(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let Some(ready) = workspace.ready().filter(|ready| ready.taps == Some(false) && ready.series > 1) else { return };
    let board = workspace.any_board().map(|(module, _)| module.offer.name.as_str());
    let charger = workspace.charges().filter(|c| c.balance_a.is_some());
    let charger = charger.and(workspace.plan.module(NodeKind::Charger)).map(|m| m.offer.name.as_str());
    let Some(blind) = board.or(charger) else { return };
    f.add(
        Severity::Stop,
        Says {
            rule: rule::protection::NO_TAPS,
            subject: "",
            title: "Pack has no balance plug for the board",
            why: "“{$0}” watches every cell through the taps; “{$1}” has none outside. Use a pack with a balance plug, or one with its own protection and a plain charger.",
            words: &[blind, &ready.offer.name],
        },
    );
}

/// A cut-off that closes again on the rebound opens and closes without end.
fn chatter(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if let (Some(rearm_v), Some(rebound_v)) = (l.value(&REARM_V), l.value(&REBOUND_V))
        && !above(rearm_v, rebound_v)
        && !below(rearm_v, 0.0)
    {
        f.tell(
            Severity::Caution,
            rule::protection::CUTOFF_CHATTER,
            "Cut-off will chatter",
            "When it opens, the pack recovers by at least {cutoff.rebound_v}; it closes again after {cutoff.rearm_v}. It switches on and off until the pack is damaged.",
        );
    }
}

/// A cut-off that is said to close again below where it opens.
fn rearm_below(f: &mut Findings<'_, '_>) {
    for node in &f.workspace.line.nodes {
        let Some((module, cuts)) = node.module().and_then(|m| Some((m, m.cuts_off.as_ref()?))) else { continue };
        if cuts.rearm_v.is_some_and(|v| below(v, cuts.at_v)) {
            f.add(
                Severity::Caution,
                Says {
                    rule: rule::protection::REARM_BELOW,
                    subject: &node.id,
                    title: "Cut-off closes below its opening voltage",
                    why: "“{$0}” opens at {$1} and is said to close again at {$2}. Both cannot be true; one of them is mistyped.",
                    words: &[
                        &module.offer.name,
                        &show(cuts.at_v, Unit::V),
                        &show(cuts.rearm_v.unwrap_or_default(), Unit::V),
                    ],
                },
            );
        }
    }
}

fn presence(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let decided = !workspace.is_open(NodeKind::Board) && !workspace.is_open(NodeKind::Fuse);
    if decided && workspace.reaches_device() {
        over_current(f);
    }
    let on_line = workspace.line_board().is_some();
    let charger = workspace.plan.module(NodeKind::Charger).is_some();
    // A hobby charger sees every cell over the tap plug.
    let watched = workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let board = |n: &Node| n.module().is_some_and(|m| m.protects.is_some());
    let round = workspace.plan.avoiding(NodeKind::Charger, NodeKind::Pack, StateName::Charging, board);
    let any = workspace.any_board().is_some();
    if (on_line || any && workspace.charge_board().is_some()) && charger && !watched && round.is_some() {
        f.tell(
            Severity::Stop,
            rule::protection::CHARGER_ROUND_BOARD,
            "Charger bypasses the board",
            "There is a path from the charger to the cells past the board. Nothing then stops the charge when one cell is full before the others. Connect the charger to the charge terminals of the board.",
        );
    } else if workspace.charge_board().is_some() && !on_line && workspace.reaches_device() {
        f.tell(
            Severity::Caution,
            rule::protection::CHARGE_SIDE_ONLY,
            "Board protects the charge only",
            "The load current does not pass through it. It does not stop over-discharge, overload or a short on the device's side.",
        );
    }
}

/// A fuse or board that all current goes through ends a short; one that a wire leads past does not.
fn over_current(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let ends_short = |n: &Node| n.fuse().is_some() || n.module().is_some_and(|m| m.protects.is_some());
    let on_battery_side: Vec<_> =
        workspace.line.nodes.iter().filter(|n| ends_short(n) && !workspace.is_behind_converter(&n.id)).collect();
    if workspace.ready().is_some_and(|ready| ready.fused == Some(true)) {
        return;
    }
    let none = on_battery_side.is_empty()
        || workspace.plan.avoiding(NodeKind::Pack, NodeKind::Device, StateName::Running, ends_short).is_some();
    if !none {
        bypassed(f);
        return;
    }
    let passed =
        on_battery_side.first().and_then(|n| Some((n.part.part()?.offer().name.clone(), workspace.past(&n.id)?)));
    let words = passed.map(|(name, runs)| (name, runs_in_words(workspace.plan, &runs)));
    let words: Vec<&str> = words.iter().flat_map(|(name, runs)| [name.as_str(), runs.as_str()]).collect();
    // The way from a pack that stays to its device is left as it was made.
    let kept = workspace.is_kept();
    let why = if kept {
        "The path from pack to device stays as it was made, and it is not known whether anything in the pack ends a dead short, which draws {pack.short_a}. Look for a fuse or a board on it."
    } else if words.is_empty() {
        "There is no fuse and no board between pack and device; a dead short draws {pack.short_a}."
    } else {
        "“{$0}” would, but a path leads past it: {$1}. A dead short there draws {pack.short_a}."
    };
    f.add(
        if kept { Severity::Caution } else { Severity::Stop },
        Says {
            rule: rule::protection::NO_OVER_CURRENT,
            subject: "",
            title: "Nothing ends a short circuit",
            why,
            words: &words,
        },
    );
}

/// A fuse, board or cut-off that a wire leads past, while something else still ends a short.
fn bypassed(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let guards = workspace
        .line
        .nodes
        .iter()
        .filter(|n| n.fuse().is_some() || n.module().is_some_and(|m| m.protects.is_some() || m.cuts_off.is_some()));
    for node in guards {
        let (Some(runs), Some(part)) = (workspace.past(&node.id), node.part.part()) else { continue };
        f.add(
            Severity::Stop,
            Says {
                rule: rule::protection::BYPASSED,
                subject: &node.id,
                title: "Current bypasses a protective part",
                why: "A path leads past “{$0}”: {$1}. “{$0}” neither sees nor stops that current.",
                words: &[&part.offer().name, &runs_in_words(workspace.plan, &runs)],
            },
        );
    }
}

/// "a wire from the board to the switch".
pub fn runs_in_words(plan: &Plan, runs: &[&Connection]) -> String {
    let name = |id: &str| plan.node(id).map_or_else(|| id.to_owned(), |n| format!("the {}", n.kind.word()));
    let words: Vec<String> = runs.iter().map(|r| format!("a wire from {} to {}", name(&r.from), name(&r.to))).collect();
    words.join(", ")
}

fn match_pack(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    let workspace = f.workspace;
    let words: &[&str] = &[name];
    if let (Some(made_for), Some(series)) = (board.series, workspace.pack.series)
        && made_for != series
    {
        let (made_for, series) = (made_for.to_string(), series.to_string());
        f.add(
            Severity::Stop,
            Says {
                rule: rule::protection::OTHER_SERIES,
                subject: "",
                title: "Board made for another series count",
                why: "“{$0}” is made for {$1} in series, the pack has {$2}. It would not see every cell.",
                words: &[name, &made_for, &series],
            },
        );
    }
    let Some(facts) = workspace.facts() else { return };
    let by_threshold =
        board.over_charge_v.zip(facts.over_charge).map(|(v, band)| below(v, band.low_v) || above(v, band.high_v));
    let by_name = board.chemistry.map(|c| c.facts().full_v != facts.full_v);
    if by_threshold.or(by_name) == Some(true) {
        f.add(Severity::Stop, Says {
            rule: rule::protection::OTHER_CHEMISTRY,
            subject: "",
            title: "Board made for another chemistry",
            why: "“{$0}” ends the charge at {board.over_charge_v} per cell; a full cell of this pack has {cell.full_v}, and the limit is {cell.never_above_v}.",
            words,
        });
    }
}

fn board_currents(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    if f.workspace.line_board().is_none() {
        return;
    }
    let l = &f.workspace.ledger;
    let words: &[&str] = &[name];
    if let Some(severity) = f.exceeds(CONTINUOUS_A.id, BOARD_A.id) {
        f.add(
            severity,
            Says {
                rule: rule::protection::BOARD_OVER_CURRENT,
                subject: "",
                title: "Board overloaded",
                why: "The load takes {load.continuous_a} continuously; “{$0}” is rated for {board.continuous_a}.",
                words,
            },
        );
    }
    if let (Some(asked_a), Some((low_a, _))) = (l.value(&CONTINUOUS_A), trip_band_a(board))
        && above(asked_a, low_a)
    {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::protection::TRIP_IN_LOAD,
                subject: "",
                title: "Board may trip under normal load",
                why: "{load.continuous_a} continuously is within the trip band of “{$0}” around {board.trip_a}. When warm, or with a sensitive detector, it opens during work.",
                words,
            },
        );
    }
    if let (Some(peak_a), Some(peak_s)) = (l.value(&PEAK_A), l.value(&PEAK_S))
        && board_withstands_a(board, peak_s).is_some_and(|rated_a| above(peak_a, rated_a))
    {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::protection::TRIP_IN_PEAK,
                subject: "",
                title: "Board may trip at the peak",
                why: "{load.peak_a} for {load.peak_s} is within the trip band of “{$0}” around {board.trip_a}.",
                words,
            },
        );
    }
    let cells_a = l.value(&PEAK_LIMIT_A).or(l.value(&LIMIT_A));
    if let (Some(trip_a), Some(cells_a)) = (l.value(&TRIP_A), cells_a)
        && above(trip_a, cells_a)
        && l.value(&FUSE_A).is_none_or(|fuse_a| above(fuse_a, cells_a))
    {
        f.add(Severity::Caution, Says {
            rule: rule::protection::TRIP_ABOVE_CELLS,
            subject: "",
            title: "Board trips above the cell rating",
            why: "“{$0}” passes up to {board.trip_a}; the cells are rated for {cells.limit_a}, and there is no fuse.",
            words,
        });
    }
    if let (Some(trip_a), Some(strips_a)) = (l.value(&TRIP_A), l.value(&LINK_LIMIT_A))
        && above(trip_a, strips_a)
        && l.value(&FUSE_A).is_none()
    {
        f.add(Severity::Caution, Says {
            rule: rule::protection::TRIP_ABOVE_STRIPS,
            subject: "",
            title: "Board trips above the strip rating",
            why: "“{$0}” passes up to {board.trip_a} continuously; the strips are rated for {strip.limit_a}, and there is no fuse.",
            words,
        });
    }
}

/// What is stated and what detector and transistors make of it cannot both be true.
fn trip_as_stated(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    let (Some(stated), Some(reckoned)) = (stated_band_a(board), reckoned(board).map(|r| r.band_a())) else {
        return;
    };
    if above(stated.0, reckoned.1) || below(stated.1, reckoned.0) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::protection::TRIP_NOT_AS_STATED,
                subject: "",
                title: "Board's stated trip current is impossible",
                why: "“{$0}” is said to trip at {board.trip_a}; by its detection voltage and MOSFETs it trips at {board.trip_cold_a} cold and {board.trip_warm_a} warm. Measure it in its arrival test.",
                words: &[name],
            },
        );
    }
}

fn is_salvaged(workspace: &Workspace<'_>) -> bool {
    workspace.cell().is_some_and(|c| c.origin == CellOrigin::Salvaged)
}

fn is_driven_hard(workspace: &Workspace<'_>) -> bool {
    let discharge_c = workspace.ledger.value(&CONTINUOUS_A).zip(workspace.ledger.value(&PACK_AH)).map(|(a, ah)| a / ah);
    discharge_c.is_some_and(|c| above(c, HIGH_DISCHARGE_C))
}

/// Cells in series that drift, and nothing that brings them level: no board, or one without a balancer.
fn level(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let several = workspace.pack.series.is_some_and(|s| s > 1);
    let drifts = match workspace.any_board() {
        Some((_, board)) => {
            board.bleed_a.is_some_and(|bleed_a| bleed_a <= 0.0) && (is_salvaged(workspace) || is_driven_hard(workspace))
        }
        // A hobby pack without a board is levelled by its charger, over the balance plug.
        None => !workspace.is_open(NodeKind::Board) && is_salvaged(workspace),
    };
    let levelled = workspace.charges().is_some_and(|c| c.balance_a.is_some());
    if several && drifts && !levelled {
        f.tell(
            Severity::Caution,
            rule::protection::NO_BALANCING,
            "No balancer in this pack",
            "Salvaged or hard-driven cells drift apart until one ends every charge and every run. Use a board with a balancer, or balance with the charger.",
        );
    }
}

fn balance(f: &mut Findings<'_, '_>, board: &Bms) {
    let l = &f.workspace.ledger;
    if let Some(bleed_a) = board.bleed_a.filter(|bleed_a| *bleed_a > 0.0) {
        let taper_a = l.value(&PACK_AH).map(|ah| TAPER_C_RATE * ah);
        // New cells of one batch hardly part: nearly every board bleeds less than a charge ends at, and it does.
        let levelled = f.workspace.charges().is_some_and(|c| c.balance_a.is_some());
        if is_salvaged(f.workspace) && !levelled && taper_a.is_some_and(|taper_a| below(bleed_a, taper_a)) {
            f.tell(
                Severity::Caution,
                rule::protection::BLEED_WEAK,
                "Balancer too weak for this charger",
                "{board.bleed_a} is less than the current at the end of the charge: the cells come into balance only over many charges.",
            );
        }
    }
    if let (Some(trickle_a), Some(bleed_a)) = (l.value(&TRICKLE_A), l.value(&BLEED_A).or(Some(0.0)))
        && above(trickle_a, bleed_a)
    {
        f.tell(
            Severity::Caution,
            rule::protection::TRICKLE_ABOVE_BLEED,
            "Trickle path exceeds the balancer's current",
            "{board.trickle_a} keeps flowing into cells that are full already; the balancer takes only its own current. After a cut-off the same path drains them.",
        );
    }
    let fast_charge = l.value(&C_RATE).is_some_and(|c| above(c, HIGH_CHARGE_C));
    if board.senses_temperature == Some(false) && (is_driven_hard(f.workspace) || fast_charge) {
        f.tell(
            Severity::Caution,
            rule::protection::NO_TEMPERATURE,
            "No temperature sensor at the cells",
            "Cells that are loaded or charged hard need a board with a sensor in the middle of the brick.",
        );
    }
}

fn habits(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    let turns = matches!(f.workspace.plan.device.kind, DeviceKind::Motor | DeviceKind::FanOrPump);
    let mut habit = |severity, rule, title, why| {
        f.add(severity, Says { rule, subject: "", title, why, words: &[name] });
    };
    if board.wants_waking == Some(true) {
        habit(
            Severity::Caution,
            rule::protection::WANTS_WAKING,
            "New board shows 0 V until charged",
            "“{$0}” shows 0 V at its output until a charger has been connected once, and after every over-discharge. It is not faulty, but away from a charger it stays off.",
        );
    }
    if board.port == Some(Port::Separate) {
        habit(
            Severity::Note,
            rule::protection::SEPARATE_PORT,
            "Charger minus goes to C−, not P−",
            "“{$0}” has separate ports. Connect the charger's minus to C−: on P− nothing would end the charge.",
        );
    }
    if board.resets == Some(Resets::ByItself) && turns {
        habit(
            Severity::Caution,
            rule::protection::STARTS_AGAIN,
            "Board restarts by itself after a trip",
            "After a trip “{$0}” closes by itself: a stalled tool restarts in the hand that frees it. Switch off and unplug before you touch it, or use a board that stays off.",
        );
    }
}

/// Longest overcurrent delay that still is one: beyond it nothing that a trip guards is left. Common practice, no source:
/// boards wait 5 ms to some seconds.
const LONGEST_DELAY_S: f64 = 30.0;
/// Largest bleed current of boards on sale, and more than that a slip of the unit. Common practice, no source.
const MOST_BLEED_A: f64 = 2.0;

/// Figures of a board that cannot all be true.
fn contradictions(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    let mut wrong: Vec<String> = vec![];
    let a = |v: f64| show(v, Unit::A);
    if let (Some(continuous_a), Some((_, trip_a))) = (board.continuous_a, stated_band_a(board))
        && below(trip_a, continuous_a)
    {
        wrong.push(format!("it is rated for {} continuously and trips by {}", a(continuous_a), a(trip_a)));
    }
    if let (Some(short_a), Some(trip)) = (board.short_a, &board.trip_a)
        && below(short_a, trip.value)
    {
        wrong.push(format!(
            "its short-circuit trip of {} is below its overcurrent trip of {}",
            a(short_a),
            a(trip.value)
        ));
    }
    if let Some(delay_s) = board.trip_delay_s.filter(|s| above(*s, LONGEST_DELAY_S)) {
        wrong.push(format!("it waits {} before it trips", show(delay_s, Unit::S)));
    }
    if let Some(bleed_a) = board.bleed_a.filter(|bleed_a| above(*bleed_a, MOST_BLEED_A)) {
        wrong.push(format!("it bleeds {}, where boards bleed some ten to some hundred milliamperes", a(bleed_a)));
    }
    if let (Some(over_v), Some(under_v)) = (board.over_charge_v, board.over_discharge_v)
        && !above(over_v, under_v)
    {
        wrong.push("it ends the discharge above the voltage at which it ends the charge".to_owned());
    }
    if wrong.is_empty() {
        return;
    }
    f.add(
        Severity::Caution,
        Says {
            rule: rule::protection::BOARD_CONTRADICTS,
            subject: "",
            title: "Board figures contradict each other",
            why: "Of “{$0}”: {$1}. One of them is mistyped or invented. Look them up, or measure them in its arrival test.",
            words: &[name, &wrong.join("; ")],
        },
    );
}

/// A board that ends the discharge far below what this chemistry's boards do.
fn ends_too_low(f: &mut Findings<'_, '_>, board: &Bms, name: &str) {
    let Some((under_v, facts)) = board.over_discharge_v.zip(f.workspace.facts()) else { return };
    let Some(band) = facts.over_discharge else { return };
    // Below the floor of the cells the discharge's own rule stops.
    let floor_v = f.workspace.ledger.value(&CELL_FLOOR_V).unwrap_or(facts.floor_v);
    // Where it is the highest guard, the discharge's own rule says so.
    let highest_v = f.workspace.guards.iter().filter(|g| !g.only_warns).filter_map(|g| g.pack_v).reduce(f64::max);
    let own_v = f.workspace.line_series().map(|series| series * under_v);
    let another = matches!((highest_v, own_v), (Some(high_v), Some(own_v)) if above(high_v, own_v));
    if below(under_v, band.low_v) && below(under_v, floor_v) && another {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::protection::ENDS_TOO_LOW,
                subject: "",
                title: "Discharge stops too low for these cells",
                why: "“{$0}” opens at {board.over_discharge_v} per cell; cells are damaged below {cell.floor_v}. If it opens at all, the damage is done.",
                words: &[name],
            },
        );
    } else if !below(under_v, facts.nominal_v) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::protection::OTHER_CHEMISTRY,
                subject: "discharge",
                title: "Board made for another chemistry",
                why: "“{$0}” ends the discharge at {board.over_discharge_v} per cell, above the {cell.nominal_v} of a half-full cell of this pack: it hardly runs.",
                words: &[name],
            },
        );
    }
}

/// Plus and minus swapped behind the board: what is plugged in there is destroyed.
fn out_reversed(f: &mut Findings<'_, '_>) {
    let Some(out_v) = &f.workspace.plan.charging.out_v else { return };
    if below(out_v.band().1, 0.0) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::protection::OUT_REVERSED,
                subject: "",
                title: "Pack output reads reversed",
                why: "With red on plus the meter shows {$0}. Plus and minus are swapped behind the board, or the probes are. Read again; connect nothing before it reads plus.",
                words: &[&show(out_v.value, Unit::V)],
            },
        );
    }
}
