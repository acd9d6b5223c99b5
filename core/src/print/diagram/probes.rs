//! Where to hold the probes, and what the meter should show there.

use serde::Serialize;
use utoipa::ToSchema;

use super::circuit::Solved;
use super::read_v;
use super::wired::{Block, Piece, Side, Wired};

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Probe {
    /// Id of the block it is read at; `pack` for the groups.
    pub at: String,
    /// What is read.
    pub what: String,
    /// Node for the red probe.
    pub red: usize,
    /// Node for the black probe.
    pub black: usize,
    /// What the meter should show; absent where nothing joins the two points, so that it shows nothing steady.
    pub reads_v: Option<f64>,
    /// What is usual there, where what is read cannot be calculated; empty elsewhere.
    pub usual: &'static str,
}

/// Current from which a part's own resistance shows on a hand meter.
const SHOWS_A: f64 = 0.01;
/// Over a closed part of which no one stated a resistance.
const USUAL_LOSS: &str = "not known; some ten millivolts are usual";

/// Every reading worth taking, in the order in which it is built: groups, pack, board, then outwards.
pub fn probes(wired: &Wired, solved: Option<&Solved>) -> Vec<Probe> {
    let read = |at: &str, what: String, red: usize, black: usize| Probe {
        at: at.to_owned(),
        what,
        red,
        black,
        reads_v: read_v(solved, red, black),
        usual: "",
    };
    let over = |b: &Block, what: String, red: usize, black: usize| {
        let flows = b.through.zip(solved).is_some_and(|(e, s)| wired.circuit.current_a(e, s).abs() > SHOWS_A);
        let known = read(&b.id, what, red, black);
        if b.loses_unknown && flows { Probe { reads_v: None, usual: USUAL_LOSS, ..known } } else { known }
    };
    let (pack, series) = (wired.pack(), wired.taps.len() - 1);
    let mut found = vec![];
    let mut charged = false;
    for (k, pair) in wired.taps.windows(2).enumerate() {
        found.push(read("pack", format!("group {}", k + 1), pair[1], pair[0]));
    }
    if series > 1 {
        let taps = wired.taps.iter().enumerate().skip(2).take(series - 2);
        found.extend(taps.map(|(k, &tap)| read("pack", format!("tap B{k} from pack minus"), tap, pack.minus)));
        found.push(read("pack", "the whole pack".to_owned(), pack.plus, pack.minus));
    }
    for b in &wired.blocks {
        let word = b.title.to_lowercase();
        let side = if b.side == Side::Load { "behind the" } else { "at the" };
        match b.piece {
            Piece::Board => {
                found.push(read(&b.id, "board, output".to_owned(), b.to.plus, b.to.minus));
                found.push(over(b, "across the board’s MOSFETs".to_owned(), b.to.minus, b.from.minus));
            }
            Piece::Fuse | Piece::CutOff | Piece::Switch => {
                found.push(read(&b.id, format!("{side} {word}"), b.to.plus, b.to.minus));
                found.push(over(b, format!("across the {word}"), b.from.plus, b.to.plus));
            }
            Piece::Wire => {}
            Piece::Contacts => {
                // Behind the charger as one goes out from the pack: it is the charger's own input.
                let input = charged && b.side == Side::Charge;
                let (own, other) = match (input, b.side) {
                    (true, _) => ("charger", "supply"),
                    (false, Side::Charge) => ("pack", "charger"),
                    (false, Side::Load) => ("pack", "device"),
                };
                found.push(read(&b.id, format!("{word}, {own}’s half"), b.from.plus, b.from.minus));
                found.push(read(&b.id, format!("{word}, {other}’s half"), b.to.plus, b.to.minus));
            }
            Piece::Converter => {
                found.push(read(&b.id, "input of the converter".to_owned(), b.from.plus, b.from.minus));
                found.push(read(&b.id, "output of the converter".to_owned(), b.to.plus, b.to.minus));
            }
            Piece::Gauge { sense } => {
                found.push(read(&b.id, "sense input of the gauge".to_owned(), sense, b.from.minus))
            }
            Piece::Selector { second } => {
                found.push(read(&b.id, "the second pack".to_owned(), b.to.plus, second));
                found.push(read(&b.id, "behind the selector".to_owned(), b.to.plus, b.to.minus));
            }
            Piece::ChangeOver { .. } => {
                found.push(read(&b.id, "behind the change-over".to_owned(), b.to.plus, b.to.minus))
            }
            Piece::Meter => found.push(read(&b.id, "what the panel meter shows".to_owned(), b.from.plus, b.from.minus)),
            Piece::Lamp { pad, on_plus } => {
                let (red, black) = if on_plus { (b.from.plus, pad) } else { (pad, b.from.minus) };
                found.push(read(&b.id, "pads of the lamp".to_owned(), red, black));
            }
            Piece::Device => found.push(read(&b.id, "at the device".to_owned(), b.from.plus, b.from.minus)),
            Piece::Charger => {
                charged = true;
                found.push(read(&b.id, "output of the charger".to_owned(), b.from.plus, b.from.minus));
                if wired.is_fed() {
                    found.push(read(&b.id, "input of the charger".to_owned(), b.to.plus, b.to.minus));
                }
            }
            Piece::Supply => found.push(read(&b.id, "at the supply".to_owned(), b.from.plus, b.from.minus)),
        }
    }
    found
}
