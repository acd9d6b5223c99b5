//! What speaks for a board, fuse or cut-off board in a plan, in figures; and what its seller does not state.

use crate::assess::Assessment;
use crate::base::phrase::Phrase;
use crate::parts::catalogue::ItemPart;
use crate::plan::{Bms, Fuse, Module, Port, Resets};

/// A figure's value, if the trial has it.
struct Read<'t>(&'t Assessment);

impl Read<'_> {
    /// Texts and figures in turn; nothing where a figure is missing.
    fn words(&self, template: &[&str]) -> Option<Phrase> {
        let mut phrase = Phrase::default();
        for (i, piece) in template.iter().enumerate() {
            phrase = if i % 2 == 0 {
                phrase.text(*piece)
            } else {
                let figure = self.0.figure(piece)?;
                phrase.figure(figure.value, figure.unit, None)
            };
        }
        Some(phrase)
    }
}

/// Merits of a part tried in a plan: what it carries, when it acts, what it leaves; then what is not stated.
pub fn merits(item: &ItemPart, trial: &Assessment) -> Vec<Phrase> {
    let read = Read(trial);
    match item {
        ItemPart::Module { module } => match (&module.protects, &module.cuts_off) {
            (Some(board), _) => of_board(board, &read),
            (None, Some(_)) => of_cut_off(module, &read),
            (None, None) => vec![],
        },
        ItemPart::Fuse { fuse } => of_fuse(fuse, &read),
        _ => vec![],
    }
}

fn of_board(board: &Bms, read: &Read<'_>) -> Vec<Phrase> {
    let balances = match board.bleed_a {
        Some(a) if a > 0.0 => read.words(&["balances the cells with ", "board.bleed_a"]),
        Some(_) => Some(Phrase::words("no balancer")),
        None => None,
    };
    let feels = match board.senses_temperature {
        Some(true) => Some(Phrase::words("senses the cells’ temperature")),
        Some(false) => Some(Phrase::words("no temperature sensor")),
        None => None,
    };
    let delay = read.words(&["waits ", "board.trip_delay_s", " against a start-up peak of ", "load.peak_s"]);
    let port = match board.port {
        Some(Port::Common) => Some(Phrase::words("charger and load on P−")),
        Some(Port::Separate) => Some(Phrase::words("charger on C−")),
        None => None,
    };
    let resets = board.resets.map(|by| {
        Phrase::words(match by {
            Resets::LoadOff => "closes again when the load is off",
            Resets::Charger => "closes again on a charger only",
            Resets::ByItself => "closes again by itself",
        })
    });
    let unstated = [
        ("continuous current", board.continuous_a.is_none()),
        ("trip", board.trip_a.is_none() && board.detect_v.is_none()),
        ("bleed", board.bleed_a.is_none()),
        ("charge current", board.charge_a.is_none()),
        ("ports", board.port.is_none()),
    ];
    let merits = [
        read.words(&["carries ", "board.continuous_a", " of ", "load.continuous_a"]),
        read.words(&["trips around ", "board.trip_a", ", peak ", "load.peak_a"]),
        delay,
        balances,
        feels,
        port,
        resets,
        read.words(&["", "pack.reserve_days", " from cut-off to cell damage"]),
        unstated_words(&unstated),
    ];
    merits.into_iter().flatten().collect()
}

fn of_cut_off(module: &Module, read: &Read<'_>) -> Vec<Phrase> {
    let unstated = [
        ("the voltage at which it closes again", module.cuts_off.as_ref().is_some_and(|c| c.rearm_v.is_none())),
        ("its own standby drain", module.standby_a.is_none()),
    ];
    let merits = [
        read.words(&["ends the run at ", "guard.pack_v", ", the cells' minimum is ", "pack.floor_v"]),
        read.words(&["closes again after ", "cutoff.rearm_v", ", the rebound is ", "cutoff.rebound_v"]),
        unstated_words(&unstated),
    ];
    merits.into_iter().flatten().collect()
}

fn of_fuse(fuse: &Fuse, read: &Read<'_>) -> Vec<Phrase> {
    let unstated = [("DC voltage", fuse.dc_v.is_none()), ("breaking capacity", fuse.breaking_a.is_none())];
    let merits = [
        read.words(&["carries ", "fuse.carries_a", " of ", "load.continuous_a", " continuously"]),
        read.words(&["holds ", "fuse.peak_a", " of ", "load.peak_a", " at start-up"]),
        read.words(&["breaks ", "fuse.breaking_a", ", a dead short draws ", "pack.short_a"]),
        read.words(&["opens at up to ", "fuse.dc_v", ", the full pack has ", "line.full_v"]),
        unstated_words(&unstated),
    ];
    merits.into_iter().flatten().collect()
}

fn unstated_words(fields: &[(&str, bool)]) -> Option<Phrase> {
    let missing: Vec<&str> = fields.iter().filter(|(_, missing)| *missing).map(|(name, _)| *name).collect();
    (!missing.is_empty()).then(|| Phrase::words(format!("not stated: {}", missing.join(", "))))
}
