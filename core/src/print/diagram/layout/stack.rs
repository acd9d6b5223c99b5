//! The pack upright, the board or the tap plug below it, the alarm beside it.

use super::super::drawing::{Stroke, StrokeRole, Words, WordsRole};
use super::super::pen::Pen;
use super::super::symbols::{self, HALF_MM};
use super::super::wired::{Block, Piece, Side, Wired};
use super::in_wire;
use super::page::{LINE_MM, Page, detail, lines, width_mm};
use crate::assess::Workspace;
use crate::plan::{Choice, Joining, NodeKind};

/// Words stand this far over a rail; a switch that is open reaches up to there.
pub(super) const OVER_MM: f64 = 6.5;
/// For each part between the pack and its board.
const BEFORE_MM: f64 = 16.0;
/// Room for the voltage beside the pack; more where those of the groups stand beside those of the taps.
const VOLTS_MM: f64 = 21.0;
const BOTH_VOLTS_MM: f64 = 31.0;
/// Cells of one group that are drawn.
const CELLS_DRAWN: u32 = 3;
const CELL_APART_MM: f64 = 10.0;

/// Where the pack stands, and the levels of both rails.
pub(super) struct Stack {
    /// Middle of the first cell of each group.
    pub(super) x_mm: f64,
    /// From tap to tap.
    pub(super) pitch_mm: f64,
    /// From tap to tap on the way to the board.
    pub(super) lane_mm: f64,
    /// Highest tap.
    pub(super) top_mm: f64,
    /// Lowest tap.
    pub(super) foot_mm: f64,
    /// Upper and lower rail.
    pub(super) plus_mm: f64,
    pub(super) minus_mm: f64,
    /// Cells drawn side by side.
    pub(super) across: u32,
    /// The box below the pack: its pins reach from its right end to the left.
    pub(super) under: Option<[f64; 4]>,
    /// Where the charge begins.
    pub(super) left_mm: f64,
    /// Blocks between the pack and the board.
    pub(super) before: Vec<Block>,
}

impl Stack {
    /// Height of a tap.
    pub(super) fn tap_mm(&self, k: usize) -> f64 {
        self.foot_mm - k as f64 * self.pitch_mm
    }

    /// Room for the voltage beside the cells.
    pub(super) fn volts_mm(&self) -> f64 {
        if self.is_tight() { BOTH_VOLTS_MM } else { VOLTS_MM }
    }

    /// Whether the taps stand so close that voltage has one line only.
    pub(super) fn is_tight(&self) -> bool {
        self.pitch_mm < 10.0
    }

    /// Right end of the cells.
    pub(super) fn right_mm(&self) -> f64 {
        self.x_mm + f64::from(self.across - 1) * CELL_APART_MM + 4.0
    }

    /// A pin of the box below the pack.
    pub(super) fn pin_mm(&self, k: usize) -> f64 {
        self.x_mm - 8.0 - k as f64 * self.lane_mm
    }
}

pub(super) fn stack(workspace: &Workspace<'_>, wired: &Wired) -> Stack {
    let series = wired.taps.len() - 1;
    let pitch_mm = match series {
        1..=4 => 13.0,
        5..=8 => 10.0,
        _ => 7.5,
    };
    let lane_mm = if series > 8 { 3.4 } else { 4.8 };
    let board = wired.board();
    let before: Vec<Block> = match board {
        Some(b) => wired.blocks.iter().take_while(|o| o.id != b.id).filter(|o| o.side == b.side).cloned().collect(),
        None => vec![],
    };
    let upright = board.is_some_and(|b| b.side == Side::Load);
    let most_lines = wired.blocks.iter().map(|b| 1 + detail(b).len()).max().unwrap_or(1);
    let plus_mm = OVER_MM + most_lines as f64 * LINE_MM;
    let top_mm = plus_mm + if upright { before.len() as f64 * BEFORE_MM } else { 0.0 };
    let foot_mm = top_mm + series as f64 * pitch_mm;
    let taps = tap_box(workspace, wired);
    let pins_mm = (series as f64 + 1.0) * lane_mm;
    let words = board.map_or_else(|| lines("to the charger"), detail);
    let words_mm = words.iter().map(|w| width_mm(w)).fold(width_mm("Board"), f64::max) + 16.0;
    let box_mm = pins_mm.max(words_mm) + 4.0;
    let x_mm = 0.0;
    let height_mm = 11.0 + LINE_MM * (1.0 + words.len() as f64);
    let box_top_mm = foot_mm + 9.0;
    let under = taps.map(|_| [x_mm - 6.0 - box_mm, box_top_mm, box_mm, height_mm]);
    let alarm = has_alarm(workspace);
    let minus_mm = match (board, under) {
        (Some(_), _) => box_top_mm + height_mm - 4.5,
        (None, Some(_)) => box_top_mm + height_mm + 6.0,
        (None, None) => foot_mm + 10.0,
    };
    let minus_mm = if alarm { minus_mm.max(foot_mm + 22.0) } else { minus_mm };
    Stack {
        x_mm,
        pitch_mm,
        lane_mm,
        top_mm,
        foot_mm,
        plus_mm,
        minus_mm,
        across: workspace.pack.parallel.unwrap_or(1).clamp(1, CELLS_DRAWN),
        left_mm: under.map_or(x_mm - 8.0, |b| b[0]),
        under,
        before,
    }
}

/// What the taps go to below the pack: the board, or a plug for the charger that levels over them.
pub(super) fn tap_box(workspace: &Workspace<'_>, wired: &Wired) -> Option<&'static str> {
    if wired.board().is_some() {
        return Some("Board");
    }
    let levels = workspace.charges().is_some_and(|c| c.balance_a.is_some());
    levels.then_some("Tap plug")
}

pub(super) fn has_alarm(workspace: &Workspace<'_>) -> bool {
    workspace.plan.nodes.iter().any(|n| n.kind == NodeKind::Alarm && !matches!(n.part, Choice::None))
}

impl Page<'_> {
    /// Cells, group by group, with the voltage of taps and groups beside them.
    pub(super) fn pack(&mut self, workspace: &Workspace<'_>, wired: &Wired, s: &Stack) {
        let series = wired.taps.len() - 1;
        let half_mm = s.pitch_mm / 2.0;
        let springs = workspace.pack.brick.joined_by == Some(Joining::Springs);
        let right_mm = s.right_mm();
        let mut strokes = vec![];
        for k in 1..=series {
            let middle_mm = s.tap_mm(k) + half_mm;
            for cell in 0..s.across {
                let pen = Pen::upright(s.x_mm + f64::from(cell) * CELL_APART_MM, middle_mm);
                strokes.extend(symbols::cell(pen, half_mm));
                if springs {
                    strokes.extend(symbols::springs(pen, half_mm));
                }
            }
            let over_v = self.nodes[wired.taps[k]].node_v.zip(self.nodes[wired.taps[k - 1]].node_v).map(|(a, b)| a - b);
            if let Some(over_v) = over_v {
                // Beside the volts of the taps where these stand close to one another.
                let (x_mm, anchor) =
                    if s.is_tight() { (right_mm + s.volts_mm() - 2.0, "end") } else { (right_mm + 1.5, "start") };
                self.drawing.words.push(Words {
                    role: WordsRole::Detail,
                    text: String::new(),
                    reads_v: Some(over_v),
                    x_mm,
                    y_mm: middle_mm + 1.0,
                    anchor,
                    node: None,
                });
            }
        }
        for (k, &tap) in wired.taps.iter().enumerate() {
            let y = s.tap_mm(k);
            let last_x = s.x_mm + f64::from(s.across - 1) * CELL_APART_MM;
            self.wire(tap, true, &[[s.x_mm - 0.4, y], [last_x + 0.4, y]]);
            self.told.push(tap);
            // Over the wire to an alarm, and over the rail.
            let (x_mm, y_mm) = (right_mm + 1.5, y - 1.4);
            self.drawing.words.push(Words {
                role: WordsRole::Volts,
                text: format!("B{k}"),
                reads_v: self.nodes[tap].node_v,
                x_mm,
                y_mm,
                anchor: "start",
                node: Some(tap),
            });
        }
        let parallel = workspace.pack.parallel.unwrap_or(1);
        let reach = [s.x_mm - 5.0, s.top_mm, right_mm - s.x_mm + 6.0, s.foot_mm - s.top_mm];
        self.symbol("pack", false, strokes, reach);
        if parallel > 1 {
            let held = if springs { "in a holder, " } else { "" };
            let all = if parallel > s.across { format!(", {} drawn", s.across) } else { String::new() };
            let text = format!("{held}{parallel} in parallel{all}");
            self.words(WordsRole::Detail, text, [s.x_mm + 6.0, s.foot_mm + 7.2], "start");
        } else if springs {
            self.words(WordsRole::Detail, "in a holder", [s.x_mm + 6.0, s.foot_mm + 7.2], "start");
        }
        self.before_the_board(s);
    }

    /// From the top of the pack to the upper rail.
    pub(super) fn before_the_board(&mut self, s: &Stack) {
        if s.top_mm <= s.plus_mm {
            return;
        }
        for (i, block) in s.before.iter().enumerate() {
            let below_mm = s.top_mm - i as f64 * BEFORE_MM;
            let middle_mm = below_mm - BEFORE_MM / 2.0;
            let pen = Pen::upright(s.x_mm, middle_mm);
            let strokes = in_wire(block, pen);
            let half_mm = if block.piece == Piece::Wire { 0.0 } else { HALF_MM };
            self.wire(block.from.plus, true, &[[s.x_mm, below_mm], [s.x_mm, middle_mm + half_mm]]);
            self.wire(block.to.plus, true, &[[s.x_mm, middle_mm - half_mm], [s.x_mm, below_mm - BEFORE_MM]]);
            self.block(block, strokes, [s.x_mm - 4.0, below_mm - BEFORE_MM, 8.0, BEFORE_MM]);
            let words = [&[block.title.to_owned()], &detail(block)[..1.min(detail(block).len())]].concat().join(" ");
            self.words(WordsRole::Detail, words, [s.right_mm() + 1.5, middle_mm + 1.4], "start");
        }
    }

    /// Board or tap plug, with the taps in their order.
    pub(super) fn under(&mut self, workspace: &Workspace<'_>, wired: &Wired, s: &Stack) {
        let pack = wired.pack();
        let (Some([left, top, width, height]), Some(title)) = (s.under, tap_box(workspace, wired)) else {
            self.straight_down(pack.minus, s);
            return;
        };
        let board = wired.board();
        let (inner, lines) = board.map_or_else(|| (pack, lines("to the charger")), |b| (b.from, detail(b)));
        let series = wired.taps.len() - 1;
        for (k, &tap) in wired.taps.iter().enumerate() {
            let x = s.pin_mm(k);
            let y = s.tap_mm(k);
            if k == 0 {
                let carries = board.is_some();
                self.lowest(wired, s, x, top, carries);
            } else if k < series {
                self.wire(tap, false, &[[s.x_mm, y], [x, y], [x, top]]);
            } else {
                self.dot(inner.plus, x, s.plus_mm);
                self.wire(inner.plus, false, &[[x, s.plus_mm], [x, top]]);
            }
            let name = match k {
                0 => "B−".to_owned(),
                k if k == series => "B+".to_owned(),
                k => format!("{k}"),
            };
            self.words(WordsRole::Pin, name, [x, top + 3.2], "middle");
        }
        if workspace.plan.wiring.taps.as_ref().and_then(|t| t.fused) == Some(true) {
            let fuses = (1..=series).flat_map(|k| symbols::small_fuse(Pen::upright(s.pin_mm(k), top - 4.0))).collect();
            let reach = [s.pin_mm(series) - 2.0, top - 7.0, s.pin_mm(1) - s.pin_mm(series) + 4.0, 6.0];
            self.symbol("tap-fuses", false, fuses, reach);
        }
        // The upper rail reaches left to the pin of the pack's plus.
        let reach = s.pin_mm(series);
        self.plus_to_the_left(wired, s, reach);
        let rectangle =
            Pen::level(left + width / 2.0, top + height / 2.0, 1.0).rectangle(0.0, width / 2.0, height / 2.0);
        let strokes = vec![Stroke { role: StrokeRole::Body, d: rectangle }];
        let (id, undecided) = board.map_or(("tap-plug", false), |b| (b.id.as_str(), b.undecided));
        self.symbol(id, undecided, strokes, [left, top, width, height]);
        let middle = left + width / 2.0;
        self.caption(title, &lines, [middle, top + 7.6 + LINE_MM * lines.len() as f64], "middle");
        let Some(board) = board else {
            self.straight_down(pack.minus, s);
            return;
        };
        let y = s.minus_mm;
        if board.open {
            self.words(WordsRole::Pin, "open", [middle, top + height - 1.2], "middle");
        }
        if board.side == Side::Load {
            self.words(WordsRole::Pin, "P−", [left + width - 1.2, y + 1.0], "end");
            self.wire(board.to.minus, true, &[[left + width, y], [s.right_mm(), y]]);
            self.volts(board.to.minus, [left + width + 1.5, y + 4.2], "start");
        } else {
            self.straight_down(pack.minus, s);
        }
        if wired.charge_from.is_some() && wired.charge_behind.is_none() {
            let name = if wired.charge_from.is_some_and(|c| c.minus == board.to.minus) || board.side == Side::Charge {
                "P−"
            } else {
                "C−"
            };
            self.words(WordsRole::Pin, name, [left + 1.2, y + 1.0], "start");
        }
    }

    /// From the lowest tap to the first pin, past what lies between pack and board.
    pub(super) fn lowest(&mut self, wired: &Wired, s: &Stack, pin_mm: f64, top_mm: f64, carries: bool) {
        let (pack, foot) = (wired.pack(), s.foot_mm);
        let marked = s.before.iter().filter(|b| b.piece == Piece::Wire).collect::<Vec<_>>();
        let turn = foot + 5.0;
        match (marked.first(), marked.last()) {
            (Some(first), Some(last)) => {
                let middle = (s.x_mm + pin_mm) / 2.0;
                self.wire(first.from.minus, carries, &[[s.x_mm, foot], [s.x_mm, turn], [middle, turn]]);
                self.wire(last.to.minus, carries, &[[middle, turn], [pin_mm, turn], [pin_mm, top_mm]]);
                let mark = symbols::wire_mark(Pen::level(middle, turn, -1.0));
                self.symbol(&first.id, first.undecided, mark, [middle - 3.0, turn - 3.0, 6.0, 6.0]);
            }
            _ => self.wire(pack.minus, carries, &[[s.x_mm, foot], [s.x_mm, turn], [pin_mm, turn], [pin_mm, top_mm]]),
        }
    }

    /// From the lowest tap down to the lower rail.
    pub(super) fn straight_down(&mut self, node: usize, s: &Stack) {
        if s.under.is_some() {
            self.dot(node, s.x_mm, s.foot_mm + 5.0);
        }
        self.wire(node, true, &[[s.x_mm, s.foot_mm], [s.x_mm, s.minus_mm], [s.right_mm(), s.minus_mm]]);
    }

    /// The upper rail from the pack to a place on its left, past what lies between pack and a board on the charge side.
    pub(super) fn plus_to_the_left(&mut self, wired: &Wired, s: &Stack, until_mm: f64) {
        let y = s.plus_mm;
        let Some(board) = wired.board().filter(|b| b.side == Side::Charge) else {
            let node = wired.board().map_or(wired.pack().plus, |b| b.from.plus);
            self.wire(node, true, &[[s.x_mm, y], [until_mm, y]]);
            return;
        };
        let mut x = s.x_mm;
        let step = (s.x_mm - until_mm) / (s.before.len() as f64 + 1.0);
        for block in &s.before {
            let middle = x - step;
            self.wire(block.from.plus, true, &[[x, y], [middle, y]]);
            let mark = symbols::wire_mark(Pen::level(middle, y, -1.0));
            self.block(block, mark, [middle - 4.0, y - 4.0, 8.0, 8.0]);
            self.caption(block.title, &detail(block), [middle, y - OVER_MM], "middle");
            x = middle;
        }
        self.wire(board.from.plus, true, &[[x, y], [until_mm, y]]);
    }

    /// The alarm on the taps, to the right of the pack. Says where the load may begin.
    pub(super) fn alarm(&mut self, workspace: &Workspace<'_>, wired: &Wired, s: &Stack) -> f64 {
        let begins_mm = s.right_mm() + s.volts_mm();
        let alarm = workspace.plan.nodes.iter().find(|n| n.kind == NodeKind::Alarm && !matches!(n.part, Choice::None));
        let Some(node) = alarm else { return begins_mm };
        let series = wired.taps.len() - 1;
        let name = node.part.part().map_or("to be chosen", |p| p.offer().name.as_str());
        let words = lines(name);
        let widest = words.iter().map(|w| width_mm(w)).fold(width_mm("Alarm"), f64::max) + 4.0;
        let (left, top) = (begins_mm, s.foot_mm + 5.0);
        let width = widest.max(series as f64 * s.lane_mm + 6.0);
        let height = 6.0 + LINE_MM * words.len() as f64;
        for (k, &tap) in wired.taps.iter().enumerate() {
            let (x, y) = (left + 3.0 + k as f64 * s.lane_mm, s.tap_mm(k));
            let last_x = s.x_mm + f64::from(s.across - 1) * CELL_APART_MM;
            if k == series && s.top_mm <= s.plus_mm {
                self.dot(tap, x, y);
                self.wire(tap, false, &[[x, y], [x, top]]);
            } else {
                self.wire(tap, false, &[[last_x, y], [x, y], [x, top]]);
            }
        }
        let rectangle =
            Pen::level(left + width / 2.0, top + height / 2.0, 1.0).rectangle(0.0, width / 2.0, height / 2.0);
        let undecided = matches!(node.part, Choice::Undecided);
        let strokes = vec![Stroke { role: StrokeRole::Body, d: rectangle }];
        self.symbol(&node.id, undecided, strokes, [left, top, width, height]);
        self.caption("Alarm", &words, [left + width / 2.0, top + height - 2.0], "middle");
        left + width + 5.0
    }
}
