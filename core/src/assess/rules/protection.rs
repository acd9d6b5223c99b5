//! The board against load, pack and strips; what guards the pack at all.

use crate::assess::bench::Bench;
use crate::assess::figures::brick::LINK_LIMIT_A;
use crate::assess::figures::cells::{LIMIT_A, PACK_AH, PEAK_LIMIT_A};
use crate::assess::figures::charging::C_RATE;
use crate::assess::figures::load::{CONTINUOUS_A, PEAK_A, PEAK_S};
use crate::assess::figures::protection::{BLEED_A, BOARD_A, FUSE_A, RESERVE_DAYS, TRICKLE_A, TRIP_A};
use crate::assess::figures::run::{REARM_V, REBOUND_V};
use crate::assess::finding::{Findings, Says, Severity};
use crate::charging::TAPER_C_RATE;
use crate::limit::{above, below};
use crate::plan::{CellOrigin, DeviceKind, NodeKind, Port, Protects, Resets};
use crate::protection::{board_bears_a, reckoned, stated_band_a, trip_band_a};
use crate::source::Source;

/// Discharge and charge, in C, from which temperature sensing and balancing are wanted. Common practice, no source.
const HIGH_DISCHARGE_C: f64 = 2.0;
const HIGH_CHARGE_C: f64 = 1.0;
/// Days from cut-off to the floor that are worth a caution: a month forgotten on a shelf. Common practice, no source.
const SOON_AT_FLOOR_DAYS: f64 = 30.0;

pub fn look(f: &mut Findings<'_, '_>) {
    presence(f);
    level(f);
    if let Some((module, board)) = f.bench.any_board() {
        let name = module.offer.name.clone();
        match_pack(f, board, &name);
        board_currents(f, board, &name);
        trip_as_stated(f, board, &name);
        balance(f, board);
        habits(f, board, &name);
    }
    chatter(f);
    if f.bench.ledger.value(&RESERVE_DAYS).is_some_and(|days| below(days, SOON_AT_FLOOR_DAYS)) {
        f.tell(
            Severity::Caution,
            "protection.reserve-drains",
            Source::Assumed,
            "After a cut-off the pack soon reaches its floor",
            "{pack.after_cutoff_a} go on draining: about {pack.reserve_days} until the cells are damaged. Charge it the same day, or unplug it.",
        );
    }
}

/// A cut-off that closes again on the rebound opens and closes for ever.
fn chatter(f: &mut Findings<'_, '_>) {
    let l = &f.bench.ledger;
    if let (Some(rearm_v), Some(rebound_v)) = (l.value(&REARM_V), l.value(&REBOUND_V))
        && !above(rearm_v, rebound_v)
    {
        f.tell(
            Severity::Caution,
            "protection.cutoff-chatter",
            Source::CommonPractice,
            "The cut-off will chatter",
            "When it opens, the pack recovers by at least {cutoff.rebound_v}, and it closes again after {cutoff.rearm_v}: it switches to and fro until the pack is damaged.",
        );
    }
}

fn presence(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let fuse = bench.line.nodes.iter().any(|n| n.fuse().is_some());
    let decided = !bench.is_open(NodeKind::Board) && !bench.is_open(NodeKind::Fuse);
    let on_line = bench.line_board().is_some();
    if decided && !fuse && !on_line {
        f.tell(
            Severity::Stop,
            "protection.no-over-current",
            Source::CommonPractice,
            "Nothing ends a short circuit",
            "There is neither a fuse nor a board between pack and device; a dead short draws {pack.short_a}.",
        );
    }
    let charger = bench.plan.module(NodeKind::Charger).is_some();
    // A hobby charger sees every cell over the tap plug.
    let watched = bench.charges().is_some_and(|c| c.balance_a.is_some());
    if on_line && charger && !watched && bench.charge_board().is_none() {
        f.tell(
            Severity::Stop,
            "protection.charger-round-board",
            Source::CommonPractice,
            "The charger is wired round the board",
            "Nothing then ends the charge when one cell is full before the others. Take the charger to the board's pack side terminals meant for it.",
        );
    } else if bench.charge_board().is_some() && !on_line {
        f.tell(
            Severity::Caution,
            "protection.charge-side-only",
            Source::CommonPractice,
            "The board guards the charge only",
            "It sees no load current: over-discharge, overload and a short on the device's side are not its business.",
        );
    }
}

fn match_pack(f: &mut Findings<'_, '_>, board: &Protects, name: &str) {
    let bench = f.bench;
    let words: &[&str] = &[name];
    if let (Some(made_for), Some(series)) = (board.series, bench.pack.series)
        && made_for != series
    {
        let (made_for, series) = (made_for.to_string(), series.to_string());
        f.add(
            Severity::Stop,
            Says {
                rule: "protection.other-series",
                subject: "",
                source: Source::PartSheet,
                title: "The board is for another series count",
                why: "“{$0}” is made for {$1} in series, the pack has {$2}. It would not see every cell.",
                words: &[name, &made_for, &series],
            },
        );
    }
    let Some(facts) = bench.facts() else { return };
    let by_threshold =
        board.over_charge_v.zip(facts.over_charge).map(|(v, band)| below(v, band.low_v) || above(v, band.high_v));
    let by_name = board.chemistry.map(|c| c.facts().full_v != facts.full_v);
    if by_threshold.or(by_name) == Some(true) {
        f.add(Severity::Stop, Says {
            rule: "protection.other-chemistry",
            subject: "",
            source: Source::CommonPractice,
            title: "The board is for another chemistry",
            why: "“{$0}” ends the charge at {board.over_charge_v} a cell; a full cell of this pack has {cell.full_v}, and must never go above {cell.never_above_v}.",
            words,
        });
    }
}

fn board_currents(f: &mut Findings<'_, '_>, board: &Protects, name: &str) {
    let l = &f.bench.ledger;
    if f.bench.line_board().is_none() {
        return;
    }
    let words: &[&str] = &[name];
    if let (Some(asked_a), Some(board_a)) = (l.value(&CONTINUOUS_A), l.value(&BOARD_A))
        && above(asked_a, board_a)
    {
        f.add(
            Severity::Stop,
            Says {
                rule: "protection.board-over-current",
                subject: "",
                source: Source::PartSheet,
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
                rule: "protection.trip-in-load",
                subject: "",
                source: Source::CommonPractice,
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
                rule: "protection.trip-in-peak",
                subject: "",
                source: Source::CommonPractice,
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
            rule: "protection.trip-above-cells",
            subject: "",
            source: Source::CommonPractice,
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
            rule: "protection.trip-above-strips",
            subject: "",
            source: Source::CommonPractice,
            title: "The board trips later than the strips would like",
            why: "“{$0}” lets up to {board.trip_a} through for good; the strips bear {strip.limit_a}, and no fuse stands between.",
            words,
        });
    }
}

/// What is stated and what detector and transistors make of it cannot both be true.
fn trip_as_stated(f: &mut Findings<'_, '_>, board: &Protects, name: &str) {
    let (Some(stated), Some(reckoned)) = (stated_band_a(board), reckoned(board).map(|r| r.band_a())) else {
        return;
    };
    if above(stated.0, reckoned.1) || below(stated.1, reckoned.0) {
        f.add(
            Severity::Caution,
            Says {
                rule: "protection.trip-not-as-stated",
                subject: "",
                source: Source::CircuitLaw,
                title: "The board cannot trip where it says",
                why: "“{$0}” is said to trip at {board.trip_a}; its detector and transistors trip at {board.trip_cold_a} cold and {board.trip_warm_a} warm. Read it in its arrival test.",
                words: &[name],
            },
        );
    }
}

fn is_salvaged(bench: &Bench<'_>) -> bool {
    bench.cell().is_some_and(|c| c.origin == CellOrigin::Salvaged)
}

fn is_driven_hard(bench: &Bench<'_>) -> bool {
    let discharge_c = bench.ledger.value(&CONTINUOUS_A).zip(bench.ledger.value(&PACK_AH)).map(|(a, ah)| a / ah);
    discharge_c.is_some_and(|c| above(c, HIGH_DISCHARGE_C))
}

/// Cells in series that drift, and nothing that brings them level: no board, or one without a balancer.
fn level(f: &mut Findings<'_, '_>) {
    let bench = f.bench;
    let several = bench.pack.series.is_some_and(|s| s > 1);
    let drifts = match bench.any_board() {
        Some((_, board)) => {
            board.bleed_a.is_some_and(|bleed_a| bleed_a <= 0.0) && (is_salvaged(bench) || is_driven_hard(bench))
        }
        // A hobby pack without a board is levelled by its charger, over the balance plug.
        None => !bench.is_open(NodeKind::Board) && is_salvaged(bench),
    };
    let levelled = bench.charges().is_some_and(|c| c.balance_a.is_some());
    if several && drifts && !levelled {
        f.tell(
            Severity::Caution,
            "protection.no-balancing",
            Source::CommonPractice,
            "Nothing keeps the cells level",
            "The pack has no balancer; salvaged or hard-driven cells drift apart until one ends every charge and every run.",
        );
    }
}

fn balance(f: &mut Findings<'_, '_>, board: &Protects) {
    let l = &f.bench.ledger;
    if let Some(bleed_a) = board.bleed_a.filter(|bleed_a| *bleed_a > 0.0) {
        let taper_a = l.value(&PACK_AH).map(|ah| TAPER_C_RATE * ah);
        if taper_a.is_some_and(|taper_a| below(bleed_a, taper_a)) {
            f.tell(
                if is_salvaged(f.bench) { Severity::Caution } else { Severity::Note },
                "protection.bleed-weak",
                Source::CommonPractice,
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
            "protection.trickle-above-bleed",
            Source::CommonPractice,
            "The way round the board carries more than it can bleed off",
            "{board.trickle_a} go on into cells that are full already; a bleeder holds only what it takes. After a cut-off the same way drains them.",
        );
    }
    let fast_charge = l.value(&C_RATE).is_some_and(|c| above(c, HIGH_CHARGE_C));
    if board.senses_temperature == Some(false) && (is_driven_hard(f.bench) || fast_charge) {
        f.tell(
            Severity::Caution,
            "protection.no-temperature",
            Source::CommonPractice,
            "Nothing feels the cells' temperature",
            "Cells that are driven or charged hard want a board with a sensor in the middle of the brick.",
        );
    }
}

fn habits(f: &mut Findings<'_, '_>, board: &Protects, name: &str) {
    let turns = matches!(f.bench.plan.device.kind, DeviceKind::Motor | DeviceKind::FanOrPump);
    let mut habit = |severity, rule, title, why| {
        f.add(severity, Says { rule, subject: "", source: Source::CommonPractice, title, why, words: &[name] });
    };
    if board.wants_waking == Some(true) {
        habit(
            Severity::Caution,
            "protection.wants-waking",
            "The board wants waking",
            "“{$0}” shows 0 V at its output until a charger has been connected once, and after every over-discharge: it is not dead, and in the field it stays off.",
        );
    }
    if board.port == Some(Port::Separate) {
        habit(
            Severity::Note,
            "protection.separate-port",
            "The charger has a minus of its own",
            "“{$0}” has separate ports: the charger’s minus goes to C−. On P− nothing would end the charge.",
        );
    }
    if board.resets == Some(Resets::ByItself) && turns {
        habit(
            Severity::Caution,
            "protection.starts-again",
            "It starts again by itself",
            "After a trip “{$0}” closes by itself: a stalled tool starts again in the hand that frees it. Switch off and unplug before touching it, or take a board that waits.",
        );
    }
}
