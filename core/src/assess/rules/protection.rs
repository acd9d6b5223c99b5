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
use crate::physics::protection::{board_bears_a, reckoned, stated_band_a, trip_band_a};
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
            "After a cut-off the pack soon reaches its floor",
            "{pack.after_cutoff_a} go on draining: about {pack.reserve_days} until the cells are damaged. Charge it the same day, or unplug it.",
        );
    }
}

/// A pack without a balance plug shows its groups to nobody: no board and no hobby charger sees them.
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
            title: "The pack has no balance plug to see its cells by",
            why: "“{$0}” watches every cell over the taps; “{$1}” has none outside. Take a pack with a balance plug, or one that guards itself and a plain charger.",
            words: &[blind, &ready.offer.name],
        },
    );
}

/// A cut-off that closes again on the rebound opens and closes for ever.
fn chatter(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    if let (Some(rearm_v), Some(rebound_v)) = (l.value(&REARM_V), l.value(&REBOUND_V))
        && !above(rearm_v, rebound_v)
        && !below(rearm_v, 0.0)
    {
        f.tell(
            Severity::Caution,
            rule::protection::CUTOFF_CHATTER,
            "The cut-off will chatter",
            "When it opens, the pack recovers by at least {cutoff.rebound_v}, and it closes again after {cutoff.rearm_v}: it switches to and fro until the pack is damaged.",
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
                    title: "It would close again below where it opens",
                    why: "“{$0}” opens at {$1} and is said to close again at {$2}: both at once cannot be. One of them is mistyped.",
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
            "The charger is wired round the board",
            "A way leads from the charger to the cells past the board: nothing then ends the charge when one cell is full before the others. Take the charger to the terminals of the board meant for it.",
        );
    } else if workspace.charge_board().is_some() && !on_line && workspace.reaches_device() {
        f.tell(
            Severity::Caution,
            rule::protection::CHARGE_SIDE_ONLY,
            "The board guards the charge only",
            "It sees no load current: over-discharge, overload and a short on the device's side are not its business.",
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
        "The way from the pack to the device stays as it was made, and nobody knows whether anything in the pack ends a dead short, which draws {pack.short_a}. Look for a fuse or a board on it."
    } else if words.is_empty() {
        "There is neither a fuse nor a board between pack and device; a dead short draws {pack.short_a}."
    } else {
        "“{$0}” would, but a way leads past it: {$1}. A dead short there draws {pack.short_a}."
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
                title: "Current gets past a part that should guard",
                why: "A way leads past “{$0}”: {$1}. What flows there it neither sees nor ends.",
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
                title: "The board is for another series count",
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
            title: "The board is for another chemistry",
            why: "“{$0}” ends the charge at {board.over_charge_v} a cell; a full cell of this pack has {cell.full_v}, and must never go above {cell.never_above_v}.",
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
                title: "The board carries more than it is rated for",
                why: "The load asks for {load.continuous_a} continuously; “{$0}” is rated for {board.continuous_a}.",
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
                title: "The board may trip under the ordinary load",
                why: "{load.continuous_a} for good reach into the trip band of “{$0}” around {board.trip_a}: warm, or with a weak detector, it opens in the middle of the work.",
                words,
            },
        );
    }
    if let (Some(peak_a), Some(peak_s)) = (l.value(&PEAK_A), l.value(&PEAK_S))
        && board_bears_a(board, peak_s).is_some_and(|bears_a| above(peak_a, bears_a))
    {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::protection::TRIP_IN_PEAK,
                subject: "",
                title: "The board may trip in the peak",
                why: "{load.peak_a} for {load.peak_s} reaches into the trip band of “{$0}” around {board.trip_a}.",
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
            title: "The board trips later than the cells would like",
            why: "“{$0}” lets up to {board.trip_a} through; the cells are rated for {cells.limit_a}, and no fuse stands between.",
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
            title: "The board trips later than the strips would like",
            why: "“{$0}” lets up to {board.trip_a} through for good; the strips bear {strip.limit_a}, and no fuse stands between.",
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
                title: "The board cannot trip where it says",
                why: "“{$0}” is said to trip at {board.trip_a}; its detector and transistors trip at {board.trip_cold_a} cold and {board.trip_warm_a} warm. Read it in its arrival test.",
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
            "Nothing keeps the cells level",
            "The pack has no balancer; salvaged or hard-driven cells drift apart until one ends every charge and every run.",
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
                "The balancer cannot hold a full cell against the charger",
                "{board.bleed_a} is less than the current at the end of the charge: cells come level only over many charges.",
            );
        }
    }
    if let (Some(trickle_a), Some(bleed_a)) = (l.value(&TRICKLE_A), l.value(&BLEED_A).or(Some(0.0)))
        && above(trickle_a, bleed_a)
    {
        f.tell(
            Severity::Caution,
            rule::protection::TRICKLE_ABOVE_BLEED,
            "The way round the board carries more than it can bleed off",
            "{board.trickle_a} go on into cells that are full already; a bleeder holds only what it takes. After a cut-off the same way drains them.",
        );
    }
    let fast_charge = l.value(&C_RATE).is_some_and(|c| above(c, HIGH_CHARGE_C));
    if board.senses_temperature == Some(false) && (is_driven_hard(f.workspace) || fast_charge) {
        f.tell(
            Severity::Caution,
            rule::protection::NO_TEMPERATURE,
            "Nothing feels the cells' temperature",
            "Cells that are driven or charged hard want a board with a sensor in the middle of the brick.",
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
            "The board wants waking",
            "“{$0}” shows 0 V at its output until a charger has been connected once, and after every over-discharge: it is not dead, and in the field it stays off.",
        );
    }
    if board.port == Some(Port::Separate) {
        habit(
            Severity::Note,
            rule::protection::SEPARATE_PORT,
            "The charger has a minus of its own",
            "“{$0}” has separate ports: the charger’s minus goes to C−. On P− nothing would end the charge.",
        );
    }
    if board.resets == Some(Resets::ByItself) && turns {
        habit(
            Severity::Caution,
            rule::protection::STARTS_AGAIN,
            "It starts again by itself",
            "After a trip “{$0}” closes by itself: a stalled tool starts again in the hand that frees it. Switch off and unplug before touching it, or take a board that waits.",
        );
    }
}

/// Longest over-current delay that still is one: beyond it nothing that a trip guards is left. Common practice, no source:
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
        wrong.push(format!("it is to carry {} for good and trips by {}", a(continuous_a), a(trip_a)));
    }
    if let (Some(short_a), Some(trip)) = (board.short_a, &board.trip_a)
        && below(short_a, trip.value)
    {
        wrong.push(format!(
            "its short-circuit trip of {} lies below its over-current trip of {}",
            a(short_a),
            a(trip.value)
        ));
    }
    if let Some(delay_s) = board.trip_delay_s.filter(|s| above(*s, LONGEST_DELAY_S)) {
        wrong.push(format!("it waits {} before it trips", show(delay_s, Unit::S)));
    }
    if let Some(bleed_a) = board.bleed_a.filter(|bleed_a| above(*bleed_a, MOST_BLEED_A)) {
        wrong.push(format!("it bleeds {}, where boards bleed some ten milliamperes to some hundred", a(bleed_a)));
    }
    if let (Some(over_v), Some(under_v)) = (board.over_charge_v, board.over_discharge_v)
        && !above(over_v, under_v)
    {
        wrong.push("it ends the discharge above where it ends the charge".to_owned());
    }
    if wrong.is_empty() {
        return;
    }
    f.add(
        Severity::Caution,
        Says {
            rule: rule::protection::BOARD_CONTRADICTS,
            subject: "",
            title: "Figures of the board contradict each other",
            why: "Of “{$0}”: {$1}. One of them is mistyped or made up: look them up, or read them in its arrival test.",
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
                title: "The board ends the discharge too low for these cells",
                why: "“{$0}” opens at {board.over_discharge_v} a cell; the cells are harmed below {cell.floor_v}. It guards, if at all, after the harm.",
                words: &[name],
            },
        );
    } else if !below(under_v, facts.nominal_v) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::protection::OTHER_CHEMISTRY,
                subject: "discharge",
                title: "The board is for another chemistry",
                why: "“{$0}” ends the discharge at {board.over_discharge_v} a cell, above the {cell.nominal_v} of a half-full one of this pack: it hardly runs.",
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
                title: "The way out of the pack reads reversed",
                why: "Red on plus, the meter shows {$0}: plus and minus are swapped behind the board, or the probes are. Read it again; connect nothing before it reads plus.",
                words: &[&show(out_v.value, Unit::V)],
            },
        );
    }
}
