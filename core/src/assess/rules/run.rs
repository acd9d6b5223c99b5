//! What the finished device will do, and how it may travel.

use crate::assess::figures::cells::PACK_WH;
use crate::assess::figures::device::{CUTOUT_V, LOWEST_V, ORIGINAL_RUN_S, WANTED_S};
use crate::assess::figures::load::PEAK_A;
use crate::assess::figures::run::{GIVES_A, HOTTEST_USE_C, PEAK_V, TIME_S};
use crate::assess::figures::voltage::CONVERTER_NEEDS_V;
use crate::assess::finding::Severity;
use crate::assess::findings::Findings;
use crate::assess::rule;
use crate::base::limit::{above, below};

/// Limits for passenger baggage: without asking, and with the airline's approval. IATA DGR (from memory).
const BAGGAGE_WH: f64 = 100.0;
const APPROVED_WH: f64 = 160.0;
/// No cell is used above this. Common practice, no source.
const CELL_MOST_C: f64 = 60.0;

pub fn check(f: &mut Findings<'_, '_>) {
    time(f);
    brown_out(f);
    if f.workspace.ledger.value(&HOTTEST_USE_C).is_some_and(|c| above(c, CELL_MOST_C)) {
        f.tell(
            Severity::Stop,
            rule::run::OVER_60,
            "Cell above 60 °C",
            "It is used at up to {use.hottest_c}, before its own heat is added. Above 60 °C cells swell, vent and burn.",
        );
    }
    let Some(wh) = f.workspace.ledger.value(&PACK_WH) else {
        return;
    };
    let why = if above(wh, APPROVED_WH) {
        "{pack.wh} are over 160 Wh: no passenger baggage. A home-made pack has passed no transport test."
    } else if above(wh, BAGGAGE_WH) {
        "{pack.wh} are over 100 Wh: only with the airline's approval. A home-made pack has passed no transport test."
    } else {
        return;
    };
    f.tell(Severity::Note, rule::run::BAGGAGE, "Not allowed in ordinary passenger baggage", why);
}

fn time(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    let Some(run) = l.get(TIME_S.id) else { return };
    let best_s = run.high.unwrap_or(run.value);
    if l.value(&ORIGINAL_RUN_S).is_some_and(|before_s| below(best_s, before_s)) {
        f.tell(
            Severity::Caution,
            rule::run::SHORTER_THAN_BEFORE,
            "Runs shorter than the original battery",
            "{run.time_s} against {original.run_s} when the old battery was good.",
        );
    } else if l.value(&WANTED_S).is_some_and(|wanted_s| below(best_s, wanted_s)) {
        f.tell(
            Severity::Caution,
            rule::run::SHORTER_THAN_WANTED,
            "Runs shorter than you want",
            "{run.time_s} against the {device.wanted_run_s} you want. Use more cells in parallel, or larger ones.",
        );
    }
}

fn brown_out(f: &mut Findings<'_, '_>) {
    let l = &f.workspace.ledger;
    // More than a dead short would draw: no volts are left, and none are shown.
    if matches!((l.value(&PEAK_A), l.value(&GIVES_A)), (Some(a), Some(gives_a)) if !below(a, gives_a)) {
        f.tell(
            Severity::Caution,
            rule::run::BROWN_OUT,
            "Pack cannot deliver the peak",
            "Half full at the coldest use it gives {run.gives_a} at most, into a dead short; the device takes {load.peak_a}. A motor that stalls takes what it gets and stands still. Use cells of lower resistance, or more in parallel.",
        );
        return;
    }
    let Some(peak_v) = l.value(&PEAK_V) else {
        return;
    };
    let needed = if f.workspace.converter().is_some() {
        l.value(&CONVERTER_NEEDS_V)
    } else {
        l.value(&CUTOUT_V).or(l.value(&LOWEST_V))
    };
    if needed.is_some_and(|needed_v| below(peak_v, needed_v)) {
        f.tell(
            Severity::Caution,
            rule::run::BROWN_OUT,
            "Peak pulls the voltage too low",
            "At the coldest use {load.peak_a} pulls the half-full pack down to {run.peak_v}, below what the device needs. Use cells of lower resistance, or more in parallel.",
        );
    }
}
