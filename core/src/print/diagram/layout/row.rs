//! Load and charge: blocks in a row, out from the pack along both rails.

use super::super::drawing::{Stroke, StrokeRole, WordsRole};
use super::super::pen::Pen;
use super::super::symbols::{self, HALF_MM};
use super::super::wired::{Block, Piece, Poles, Side, Wired};
use super::in_wire;
use super::page::{LINE_MM, Page, detail, lines, width_mm};
use super::stack::{OVER_MM, Stack};

/// Room beside a symbol for the voltage behind it.
const COLUMN_MM: f64 = 15.0;

/// How far a row has come.
struct Row<'s> {
    s: &'s Stack,
    way: f64,
    x: f64,
}

/// The anchor of words that begin here and go on that way.
fn outward(way: f64) -> &'static str {
    if way > 0.0 { "start" } else { "end" }
}

impl Page<'_> {
    /// Blocks in a row, out from the pack.
    pub(super) fn row(&mut self, wired: &Wired, s: &Stack, side: Side, way: f64, begins_mm: f64) {
        let board = wired.board();
        let behind_board = |b: &&Block| {
            board.is_none_or(|board| board.side != side || !s.before.contains(b)) && b.piece != Piece::Board
        };
        let blocks: Vec<&Block> = wired.side(side).filter(behind_board).collect();
        let Some(poles) = (match side {
            Side::Load => blocks.first().map(|b| b.from),
            Side::Charge if wired.charge_behind.is_some() => None,
            Side::Charge => blocks.first().map(|b| b.from),
        }) else {
            return;
        };
        // From the pack, or from the pin of the board, to the first block.
        let from_plus = match (side, s.under) {
            (Side::Load, _) => s.x_mm,
            (Side::Charge, Some(_)) => s.pin_mm(wired.taps.len() - 1),
            (Side::Charge, None) => s.x_mm,
        };
        let from_minus = match (side, board.is_some()) {
            (Side::Load, _) => s.right_mm(),
            (Side::Charge, true) => s.left_mm,
            (Side::Charge, false) => s.x_mm,
        };
        let mut x = begins_mm;
        self.wire(poles.plus, true, &[[from_plus, s.plus_mm], [x, s.plus_mm]]);
        self.wire(poles.minus, true, &[[from_minus, s.minus_mm], [x, s.minus_mm]]);
        if side == Side::Load {
            self.volts(poles.plus, [s.right_mm() + 1.5, s.plus_mm + 4.2], "start");
        } else {
            self.volts(poles.minus, [from_minus - 1.5, s.minus_mm + 4.2], "end");
        }
        for block in blocks {
            let mut row = Row { s, way, x };
            self.place(block, &mut row);
            x = row.x;
            if side == Side::Load && wired.charge_behind.as_deref() == Some(block.id.as_str()) {
                let mut row = Row { s, way, x };
                self.charge_in_between(wired, block.to, &mut row);
                x = row.x;
            }
        }
    }

    /// A block with the wires that lead to it and away from it.
    fn place(&mut self, b: &Block, row: &mut Row<'_>) {
        let words = detail(b);
        let widest = words.iter().map(|w| width_mm(w)).fold(width_mm(b.title), f64::max);
        match b.piece {
            Piece::Converter | Piece::Charger | Piece::Supply | Piece::Device => {
                self.boxed(b, row, &words, widest + 6.0)
            }
            Piece::Gauge { sense } => self.divider(b, row, sense, widest),
            Piece::Meter => self.hanging(b, row, widest),
            Piece::Lamp { pad, on_plus } => self.lamp(b, row, pad, on_plus, widest),
            Piece::Selector { second } => self.selector(b, row, second, widest),
            Piece::ChangeOver { mains } => self.change_over(b, row, mains, widest),
            _ => {
                let width = (widest + 4.0).max(2.0 * HALF_MM + COLUMN_MM);
                let middle = row.x + row.way * (HALF_MM + 2.0).max(width / 2.0 - 4.0);
                let end = row.x + row.way * width;
                self.in_row(b, row, middle, end);
                let at = [middle, row.s.plus_mm - OVER_MM];
                self.caption(b.title, &words, at, "middle");
                row.x = end;
            }
        }
    }

    /// A symbol in the upper rail, or in both.
    fn in_row(&mut self, b: &Block, row: &Row<'_>, middle: f64, end: f64) {
        let (s, way) = (row.s, row.way);
        let pen = Pen::level(middle, s.plus_mm, way);
        let half =
            if b.piece == Piece::Wire { 0.0 } else { HALF_MM + if b.piece == Piece::CutOff { 1.5 } else { 0.0 } };
        let mut strokes = in_wire(b, pen);
        self.wire(b.from.plus, true, &[[row.x, s.plus_mm], [middle - way * half, s.plus_mm]]);
        self.wire(b.to.plus, true, &[[middle + way * half, s.plus_mm], [end, s.plus_mm]]);
        if b.from.minus == b.to.minus {
            self.wire(b.from.minus, true, &[[row.x, s.minus_mm], [end, s.minus_mm]]);
            if b.piece == Piece::CutOff {
                self.wire(b.from.minus, false, &[[middle, s.plus_mm + 5.0], [middle, s.minus_mm]]);
                self.dot(b.from.minus, middle, s.minus_mm);
            }
        } else {
            self.wire(b.from.minus, true, &[[row.x, s.minus_mm], [middle - way * half, s.minus_mm]]);
            self.wire(b.to.minus, true, &[[middle + way * half, s.minus_mm], [end, s.minus_mm]]);
            strokes.extend(in_wire(b, Pen::level(middle, s.minus_mm, way)));
            if b.piece == Piece::Contacts {
                let link = Pen::level(middle, s.plus_mm, way).line(&[[0.6, 3.0], [0.6, s.minus_mm - s.plus_mm - 3.0]]);
                strokes.push(Stroke { role: StrokeRole::Dashed, d: link });
            }
            self.volts(b.to.minus, [middle + way * (half + 1.5), s.minus_mm + 4.2], outward(way));
        }
        self.volts(b.to.plus, [middle + way * (half + 1.5), s.plus_mm + 4.2], outward(way));
        let both = b.from.minus != b.to.minus;
        let height = if both { s.minus_mm - s.plus_mm + 10.0 } else { 10.0 };
        self.block(b, strokes, [middle - 7.0, s.plus_mm - 5.0, 14.0, height]);
    }

    /// A box between both rails, with its words in the middle of it.
    fn boxed(&mut self, b: &Block, row: &mut Row<'_>, words: &[String], wide: f64) {
        let (s, way) = (row.s, row.way);
        let width = wide.max(24.0);
        // Room for the volts of what leads to it.
        let near = row.x + way * 4.5;
        let far = near + way * width;
        let left = near.min(far);
        let rectangle = Pen::level(left + width / 2.0, (s.plus_mm + s.minus_mm) / 2.0, 1.0).rectangle(
            0.0,
            width / 2.0,
            (s.minus_mm - s.plus_mm) / 2.0 + 5.0,
        );
        let strokes = vec![Stroke { role: StrokeRole::Body, d: rectangle }];
        self.wire(b.from.plus, true, &[[row.x, s.plus_mm], [near, s.plus_mm]]);
        self.wire(b.from.minus, true, &[[row.x, s.minus_mm], [near, s.minus_mm]]);
        self.block(b, strokes, [left, s.plus_mm - 5.0, width, s.minus_mm - s.plus_mm + 10.0]);
        let pin = |x: f64, inward: f64| (x + inward * 1.5, outward(inward));
        let goes_on = b.piece == Piece::Converter || b.piece == Piece::Charger && self.fed;
        let ends: &[(f64, f64)] = if goes_on { &[(near, way), (far, -way)] } else { &[(near, way)] };
        for &(x, inward) in ends {
            let (x, anchor) = pin(x, inward);
            self.words(WordsRole::Pin, "+", [x, s.plus_mm + 1.0], anchor);
            self.words(WordsRole::Pin, "−", [x, s.minus_mm + 1.0], anchor);
        }
        let middle_y = (s.plus_mm + s.minus_mm + LINE_MM * words.len() as f64) / 2.0;
        self.caption(b.title, words, [left + width / 2.0, middle_y], "middle");
        row.x = far;
        if goes_on {
            let end = far + way * 17.0;
            self.wire(b.to.plus, true, &[[far, s.plus_mm], [end, s.plus_mm]]);
            self.wire(b.to.minus, true, &[[far, s.minus_mm], [end, s.minus_mm]]);
            self.volts(b.to.plus, [far + way * 1.5, s.plus_mm + 4.2], outward(way));
            row.x = end;
        }
    }

    /// What hangs between both rails, in the middle of its column. Gives the middle and leads the rails past it.
    fn column(&mut self, at: Poles, row: &mut Row<'_>, width: f64) -> f64 {
        let (s, way) = (row.s, row.way);
        let end = row.x + way * width;
        let middle = (row.x + end) / 2.0;
        for (node, y) in [(at.plus, s.plus_mm), (at.minus, s.minus_mm)] {
            self.wire(node, true, &[[row.x, y], [end, y]]);
            self.dot(node, middle, y);
        }
        row.x = end;
        middle
    }

    fn hanging(&mut self, b: &Block, row: &mut Row<'_>, widest: f64) {
        let s = row.s;
        let middle = self.column(b.from, row, (widest + 4.0).max(16.0));
        let y = (s.plus_mm + s.minus_mm) / 2.0;
        let half = HALF_MM - 1.0;
        self.wire(b.from.plus, false, &[[middle, s.plus_mm], [middle, y - half]]);
        self.wire(b.from.minus, false, &[[middle, y + half], [middle, s.minus_mm]]);
        self.block(b, symbols::round(Pen::level(middle, y, 1.0)), [middle - 5.0, y - 5.0, 10.0, 10.0]);
        self.words(WordsRole::Title, "V", [middle, y + 1.1], "middle");
        self.caption(b.title, &detail(b), [middle, s.plus_mm - OVER_MM], "middle");
    }

    /// From the pole that its lamps share through diode and resistor to the pad that the module switches.
    fn lamp(&mut self, b: &Block, row: &mut Row<'_>, pad: usize, on_plus: bool, widest: f64) {
        let (s, way) = (row.s, row.way);
        let end = row.x + way * (widest + 4.0).max(24.0);
        let middle = (row.x + end) / 2.0;
        for (node, y) in [(b.from.plus, s.plus_mm), (b.from.minus, s.minus_mm)] {
            self.wire(node, true, &[[row.x, y], [end, y]]);
        }
        row.x = end;
        let (pole, rail, inward) =
            if on_plus { (b.from.plus, s.plus_mm, 1.0) } else { (b.from.minus, s.minus_mm, -1.0) };
        let room = s.minus_mm - s.plus_mm;
        let (diode, resistor) = (rail + inward * room * 0.25, rail + inward * room * 0.6);
        let pad_y = resistor + inward * (HALF_MM + 2.0);
        self.dot(pole, middle, rail);
        self.wire(pole, false, &[[middle, rail], [middle, diode - inward * HALF_MM]]);
        self.wire(pad, false, &[[middle, resistor + inward * HALF_MM], [middle, pad_y]]);
        self.dot(pad, middle, pad_y);
        let mut strokes = symbols::lamp(Pen::upright(middle, diode));
        strokes.extend(symbols::resistor(Pen::upright(middle, resistor)));
        let between = [[middle, diode + inward * HALF_MM], [middle, resistor - inward * HALF_MM]];
        let d = Pen::level(0.0, 0.0, 1.0).line(&between);
        strokes.push(Stroke { role: StrokeRole::Line, d });
        let top = pad_y.min(diode - HALF_MM);
        self.block(b, strokes, [middle - 5.0, top, 12.0, (pad_y.max(diode + HALF_MM)) - top]);
        self.volts(pad, [middle + 2.5, pad_y + 1.2], "start");
        self.caption(b.title, &detail(b), [middle, s.plus_mm - OVER_MM], "middle");
    }

    fn divider(&mut self, b: &Block, row: &mut Row<'_>, sense: usize, widest: f64) {
        let s = row.s;
        let middle = self.column(b.from, row, (widest + 4.0).max(30.0));
        let y = (s.plus_mm + s.minus_mm) / 2.0;
        let (upper, lower) = ((s.plus_mm + y) / 2.0, (s.minus_mm + y) / 2.0);
        self.wire(b.from.plus, false, &[[middle, s.plus_mm], [middle, upper - HALF_MM]]);
        self.wire(sense, false, &[[middle, upper + HALF_MM], [middle, lower - HALF_MM]]);
        self.wire(sense, false, &[[middle, y], [middle + 6.0, y]]);
        self.wire(b.from.minus, false, &[[middle, lower + HALF_MM], [middle, s.minus_mm]]);
        self.dot(sense, middle, y);
        let mut strokes = symbols::resistor(Pen::upright(middle, upper));
        strokes.extend(symbols::resistor(Pen::upright(middle, lower)));
        let arrow = Pen::level(middle + 6.0, y, 1.0).line(&[[-1.6, -1.2], [0.0, 0.0], [-1.6, 1.2]]);
        strokes.push(Stroke { role: StrokeRole::Line, d: arrow });
        self.block(b, strokes, [middle - 4.0, s.plus_mm + 2.0, 12.0, s.minus_mm - s.plus_mm - 4.0]);
        self.volts(sense, [middle + 2.5, y - 1.6], "start");
        self.caption(b.title, &detail(b), [middle, s.plus_mm - OVER_MM], "middle");
    }

    /// The second pack hangs from the line; two contacts set it beside the first pack, one in series with it.
    fn selector(&mut self, b: &Block, row: &mut Row<'_>, second: usize, widest: f64) {
        let s = row.s;
        let in_series = b.detail.ends_with("series");
        let (x, y) = (row.x, s.minus_mm - (s.minus_mm - s.plus_mm) * 0.35);
        let (first, hangs) = (x + 3.0, x + 27.0);
        let end = hangs + (widest / 2.0 + 4.0).max(16.0);
        let mut strokes = symbols::switch(Pen::level(x + 14.0, s.plus_mm, 1.0), in_series);
        strokes.extend(symbols::switch(Pen::level(x + 14.0, y, 1.0), !in_series));
        strokes.extend(symbols::switch(Pen::upright(hangs, (y + s.minus_mm) / 2.0), in_series));
        let cells = Pen::upright(hangs, (s.plus_mm + y) / 2.0);
        strokes.extend(symbols::cell(cells, 3.0));
        self.wire(b.from.plus, true, &[[x, s.plus_mm], [x + 14.0 - HALF_MM, s.plus_mm]]);
        self.dot(b.from.plus, first, s.plus_mm);
        self.wire(b.from.plus, true, &[[first, s.plus_mm], [first, y], [x + 14.0 - HALF_MM, y]]);
        self.wire(second, true, &[[x + 14.0 + HALF_MM, y], [hangs, y], [hangs, (y + s.minus_mm) / 2.0 - HALF_MM]]);
        self.wire(second, true, &[[hangs, y], [hangs, (s.plus_mm + y) / 2.0 + 3.0]]);
        self.dot(second, hangs, y);
        self.wire(b.to.plus, true, &[[x + 14.0 + HALF_MM, s.plus_mm], [end, s.plus_mm]]);
        self.wire(b.to.plus, true, &[[hangs, s.plus_mm], [hangs, (s.plus_mm + y) / 2.0 - 3.0]]);
        self.dot(b.to.plus, hangs, s.plus_mm);
        self.wire(b.from.minus, true, &[[hangs, (y + s.minus_mm) / 2.0 + HALF_MM], [hangs, s.minus_mm]]);
        self.wire(b.from.minus, true, &[[x, s.minus_mm], [end, s.minus_mm]]);
        self.dot(b.from.minus, hangs, s.minus_mm);
        self.volts(b.to.plus, [hangs + 1.5, s.plus_mm + 4.2], "start");
        self.volts(second, [hangs + 1.5, y + 4.2], "start");
        self.block(b, strokes, [x + 8.0, s.plus_mm - 5.0, hangs - x - 2.0, s.minus_mm - s.plus_mm]);
        self.caption(b.title, &detail(b), [hangs, s.plus_mm - OVER_MM], "middle");
        row.x = end;
    }

    /// The other feed comes from below.
    fn change_over(&mut self, b: &Block, row: &mut Row<'_>, mains: usize, widest: f64) {
        let s = row.s;
        let width = (widest + 4.0).max(2.0 * HALF_MM + COLUMN_MM);
        let middle = row.x + (HALF_MM + 2.0).max(width / 2.0 - 4.0);
        let end = row.x + width;
        let y = (s.plus_mm + s.minus_mm) / 2.0 + 4.0;
        self.wire(b.from.plus, true, &[[row.x, s.plus_mm], [middle - HALF_MM, s.plus_mm]]);
        self.wire(b.to.plus, true, &[[middle + HALF_MM, s.plus_mm], [end, s.plus_mm]]);
        self.wire(b.from.minus, true, &[[row.x, s.minus_mm], [end, s.minus_mm]]);
        self.wire(mains, true, &[[middle, s.plus_mm + HALF_MM], [middle, y - 6.0]]);
        self.wire(b.from.minus, true, &[[middle, y + 6.0], [middle, s.minus_mm]]);
        self.dot(b.from.minus, middle, s.minus_mm);
        let mut strokes = symbols::change_over(Pen::level(middle, s.plus_mm, 1.0));
        strokes.push(Stroke { role: StrokeRole::Body, d: Pen::level(middle, y, 1.0).rectangle(0.0, 10.0, 6.0) });
        self.block(b, strokes, [middle - 10.0, s.plus_mm - 5.0, 20.0, y + 11.0 - s.plus_mm]);
        self.words(WordsRole::Detail, "the other", [middle, y - 0.6], "middle");
        self.words(WordsRole::Detail, "feed", [middle, y + 3.0], "middle");
        self.volts(b.to.plus, [middle + HALF_MM + 1.5, s.plus_mm + 4.2], "start");
        self.caption(b.title, &detail(b), [middle, s.plus_mm - OVER_MM], "middle");
        row.x = end;
    }

    /// A charge that joins the line behind its parts: everything of it in one box.
    fn charge_in_between(&mut self, wired: &Wired, at: Poles, row: &mut Row<'_>) {
        let s = row.s;
        let parts: Vec<String> = wired.side(Side::Charge).map(|b| b.title.to_lowercase()).collect();
        let words = lines(&parts.join(", "));
        let widest = words.iter().map(|w| width_mm(w)).fold(20.0, f64::max) + 4.0;
        let middle = self.column(at, row, widest + 6.0);
        let y = (s.plus_mm + s.minus_mm) / 2.0;
        let half = 4.0 + LINE_MM * words.len() as f64 / 2.0;
        self.wire(at.plus, true, &[[middle, s.plus_mm], [middle, y - half]]);
        self.wire(at.minus, true, &[[middle, y + half], [middle, s.minus_mm]]);
        let rectangle = Pen::level(middle, y, 1.0).rectangle(0.0, widest / 2.0, half);
        let id = wired.side(Side::Charge).last().map_or("charge", |b| b.id.as_str());
        let strokes = vec![Stroke { role: StrokeRole::Body, d: rectangle }];
        self.symbol(id, false, strokes, [middle - widest / 2.0, y - half, widest, 2.0 * half]);
        self.caption("Charge", &words, [middle, y + LINE_MM * words.len() as f64 / 2.0], "middle");
    }
}
