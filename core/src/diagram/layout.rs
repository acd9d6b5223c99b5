//! The diagram on the page. The pack stands upright; its plus goes out along the upper rail, its minus along the lower one: to
//! the right the load, to the left the charge, under the pack the board with the taps in their order. So no wire crosses another.

use serde::Serialize;
use utoipa::ToSchema;

use super::NodeVolts;
use super::pen::Pen;
use super::symbols::{self, HALF_MM};
use super::wired::{Block, Piece, Poles, Side, Wired};
use crate::assess::Bench;
use crate::plan::{Choice, Joining, NodeKind};
use crate::quantity::{Unit, show};

/// Room round everything.
const EDGE_MM: f64 = 4.0;
/// Height of words, the width of one letter against it, and from line to line.
const WORDS_MM: f64 = 3.0;
const LETTER: f64 = 0.53;
const LINE_MM: f64 = 3.7;
/// Most letters in a line, and most lines of a detail.
const LETTERS: usize = 14;
const DETAIL_LINES: usize = 4;
/// Words stand this far over a rail; a switch that is open reaches up to there.
const OVER_MM: f64 = 6.5;
/// Room beside a symbol for the volts behind it.
const COLUMN_MM: f64 = 15.0;
/// For each part between the pack and its board.
const BEFORE_MM: f64 = 16.0;
/// Room for the volts beside the pack; more where those of the groups stand beside those of the taps.
const VOLTS_MM: f64 = 21.0;
const BOTH_VOLTS_MM: f64 = 31.0;
/// Cells of one group that are drawn.
const CELLS_DRAWN: u32 = 3;
const CELL_APART_MM: f64 = 10.0;

/// How a stroke is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StrokeRole {
    /// A thin line.
    Line,
    /// A thick line.
    Heavy,
    /// A dashed line.
    Dashed,
    /// An outline filled like paper.
    Body,
    /// Filled.
    Fill,
}

/// A stroke of a symbol.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Stroke {
    /// How it is drawn.
    pub role: StrokeRole,
    /// SVG path data, in millimetres.
    pub d: String,
}

/// What words are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WordsRole {
    /// Name of a block.
    Title,
    /// Which one.
    Detail,
    /// Volts of a node against pack minus.
    Volts,
    /// Name of a pin.
    Pin,
}

/// Words on the page.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Words {
    /// What they are.
    pub role: WordsRole,
    /// The words; before the volts, where they have some.
    pub text: String,
    /// Volts that they end with.
    pub reads_v: Option<f64>,
    /// Where they stand, by `anchor`.
    pub x_mm: f64,
    /// Their base line.
    pub y_mm: f64,
    /// SVG's text-anchor.
    pub anchor: &'static str,
    /// The node they speak of.
    pub node: Option<usize>,
}

impl Words {
    /// All of them.
    pub fn whole(&self) -> String {
        let volts = self.reads_v.map(|v| show(v, Unit::V));
        [Some(self.text.clone()).filter(|t| !t.is_empty()), volts].into_iter().flatten().collect::<Vec<_>>().join("  ")
    }
}

/// A wire of one node.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DrawnWire {
    /// Its node.
    pub node: usize,
    /// Its corners.
    pub corners_mm: Vec<[f64; 2]>,
    /// Whether the pack's current flows in it.
    pub carries: bool,
}

/// Where wires of one node meet.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Dot {
    /// Its node.
    pub node: usize,
    /// From the left.
    pub x_mm: f64,
    /// From above.
    pub y_mm: f64,
}

/// A symbol.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DrawnBlock {
    /// Id of its node or run in the plan; a word for what the graph has none of.
    pub id: String,
    /// Whether its part is still to be chosen.
    pub undecided: bool,
    /// Its strokes.
    pub strokes: Vec<Stroke>,
    /// The box in which it is touched: from the left, from above, width, height.
    pub reach_mm: [f64; 4],
}

/// The diagram in millimetres.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Schematic {
    /// Its left edge.
    pub left_mm: f64,
    /// Its upper edge.
    pub top_mm: f64,
    /// Its width.
    pub width_mm: f64,
    /// Its height.
    pub height_mm: f64,
    /// Wires, below everything.
    pub wires: Vec<DrawnWire>,
    /// Where they meet.
    pub dots: Vec<Dot>,
    /// Symbols.
    pub blocks: Vec<DrawnBlock>,
    /// Words, above everything.
    pub words: Vec<Words>,
}

/// Lays out a circuit; its nodes say what volts stand beside them.
pub fn lay(bench: &Bench<'_>, wired: &Wired, nodes: &[NodeVolts]) -> Schematic {
    let fed = wired.blocks.iter().any(|b| b.piece == Piece::Supply);
    let mut page = Page { drawing: Schematic::default(), nodes, told: vec![], fed };
    let stack = stack(bench, wired);
    page.pack(bench, wired, &stack);
    page.under(bench, wired, &stack);
    let right_mm = page.alarm(bench, wired, &stack);
    page.row(wired, &stack, Side::Load, 1.0, right_mm);
    page.row(wired, &stack, Side::Charge, -1.0, stack.left_mm);
    page.close()
}

/// Where the pack stands, and the levels of both rails.
struct Stack {
    /// Middle of the first cell of each group.
    x_mm: f64,
    /// From tap to tap.
    pitch_mm: f64,
    /// From tap to tap on the way to the board.
    lane_mm: f64,
    /// Highest tap.
    top_mm: f64,
    /// Lowest tap.
    foot_mm: f64,
    /// Upper and lower rail.
    plus_mm: f64,
    minus_mm: f64,
    /// Cells drawn side by side.
    across: u32,
    /// The box below the pack: its pins reach from its right end to the left.
    under: Option<[f64; 4]>,
    /// Where the charge begins.
    left_mm: f64,
    /// Blocks between the pack and the board.
    before: Vec<Block>,
}

impl Stack {
    /// Height of a tap.
    fn tap_mm(&self, k: usize) -> f64 {
        self.foot_mm - k as f64 * self.pitch_mm
    }

    /// Room for the volts beside the cells.
    fn volts_mm(&self) -> f64 {
        if self.is_tight() { BOTH_VOLTS_MM } else { VOLTS_MM }
    }

    /// Whether the taps stand so close that volts have one line only.
    fn is_tight(&self) -> bool {
        self.pitch_mm < 10.0
    }

    /// Right end of the cells.
    fn right_mm(&self) -> f64 {
        self.x_mm + f64::from(self.across - 1) * CELL_APART_MM + 4.0
    }

    /// A pin of the box below the pack.
    fn pin_mm(&self, k: usize) -> f64 {
        self.x_mm - 8.0 - k as f64 * self.lane_mm
    }
}

fn stack(bench: &Bench<'_>, wired: &Wired) -> Stack {
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
    let taps = tap_box(bench, wired);
    let pins_mm = (series as f64 + 1.0) * lane_mm;
    let words = board.map_or_else(|| lines("to the charger"), detail);
    let words_mm = words.iter().map(|w| width_mm(w)).fold(width_mm("Board"), f64::max) + 16.0;
    let box_mm = pins_mm.max(words_mm) + 4.0;
    let x_mm = 0.0;
    let height_mm = 11.0 + LINE_MM * (1.0 + words.len() as f64);
    let box_top_mm = foot_mm + 9.0;
    let under = taps.map(|_| [x_mm - 6.0 - box_mm, box_top_mm, box_mm, height_mm]);
    let alarm = has_alarm(bench);
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
        across: bench.pack.parallel.unwrap_or(1).clamp(1, CELLS_DRAWN),
        left_mm: under.map_or(x_mm - 8.0, |b| b[0]),
        under,
        before,
    }
}

/// What the taps go to below the pack: the board, or a plug for the charger that levels over them.
fn tap_box(bench: &Bench<'_>, wired: &Wired) -> Option<&'static str> {
    if wired.board().is_some() {
        return Some("Board");
    }
    let levels = bench.charges().is_some_and(|c| c.balance_a.is_some());
    levels.then_some("Tap plug")
}

fn has_alarm(bench: &Bench<'_>) -> bool {
    bench.plan.nodes.iter().any(|n| n.kind == NodeKind::Alarm && !matches!(n.part, Choice::None))
}

/// The detail of a block in lines.
fn detail(block: &Block) -> Vec<String> {
    let all = if block.undecided { "to be chosen" } else { block.detail.as_str() };
    lines(all)
}

fn lines(all: &str) -> Vec<String> {
    let mut found: Vec<String> = vec![];
    for word in all.split_whitespace() {
        match found.last_mut() {
            Some(last) if last.chars().count() + 1 + word.chars().count() <= LETTERS => {
                last.push(' ');
                last.push_str(word);
            }
            _ => found.push(word.chars().take(LETTERS).collect()),
        }
    }
    if found.len() > DETAIL_LINES {
        found.truncate(DETAIL_LINES);
        found[DETAIL_LINES - 1].push('…');
    }
    found
}

fn width_mm(text: &str) -> f64 {
    text.chars().count() as f64 * WORDS_MM * LETTER
}

struct Page<'n> {
    drawing: Schematic,
    nodes: &'n [NodeVolts],
    /// Nodes whose volts stand on the page already.
    told: Vec<usize>,
    /// Whether the charger has a supply.
    fed: bool,
}

impl Page<'_> {
    fn wire(&mut self, node: usize, carries: bool, corners_mm: &[[f64; 2]]) {
        self.drawing.wires.push(DrawnWire { node, carries, corners_mm: corners_mm.to_vec() });
    }

    fn dot(&mut self, node: usize, x_mm: f64, y_mm: f64) {
        self.drawing.dots.push(Dot { node, x_mm, y_mm });
    }

    fn words(&mut self, role: WordsRole, text: impl Into<String>, at_mm: [f64; 2], anchor: &'static str) {
        let [x_mm, y_mm] = at_mm;
        self.drawing.words.push(Words { role, text: text.into(), reads_v: None, x_mm, y_mm, anchor, node: None });
    }

    /// The volts of a node, once.
    fn volts(&mut self, node: usize, at_mm: [f64; 2], anchor: &'static str) {
        if self.told.contains(&node) {
            return;
        }
        let Some(v) = self.nodes[node].node_v else { return };
        self.told.push(node);
        let [x_mm, y_mm] = at_mm;
        let (role, text, reads_v) = (WordsRole::Volts, String::new(), Some(v));
        self.drawing.words.push(Words { role, text, reads_v, x_mm, y_mm, anchor, node: Some(node) });
    }

    fn block(&mut self, block: &Block, strokes: Vec<Stroke>, reach_mm: [f64; 4]) {
        self.symbol(&block.id, block.undecided, strokes, reach_mm);
    }

    fn symbol(&mut self, id: &str, undecided: bool, strokes: Vec<Stroke>, reach_mm: [f64; 4]) {
        self.drawing.blocks.push(DrawnBlock { id: id.to_owned(), undecided, strokes, reach_mm });
    }

    /// Title and detail one below the other, the last line at a height.
    fn caption(&mut self, title: &str, detail: &[String], at_mm: [f64; 2], anchor: &'static str) {
        let [x, last_y] = at_mm;
        let first_y = last_y - detail.len() as f64 * LINE_MM;
        self.words(WordsRole::Title, title, [x, first_y], anchor);
        for (i, line) in detail.iter().enumerate() {
            self.words(WordsRole::Detail, line, [x, first_y + (i + 1) as f64 * LINE_MM], anchor);
        }
    }

    /// Cells, group by group, with the volts of taps and groups beside them.
    fn pack(&mut self, bench: &Bench<'_>, wired: &Wired, s: &Stack) {
        let series = wired.taps.len() - 1;
        let half_mm = s.pitch_mm / 2.0;
        let springs = bench.pack.brick.joined_by == Some(Joining::Springs);
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
        let parallel = bench.pack.parallel.unwrap_or(1);
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
    fn before_the_board(&mut self, s: &Stack) {
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
    fn under(&mut self, bench: &Bench<'_>, wired: &Wired, s: &Stack) {
        let pack = wired.pack();
        let (Some([left, top, width, height]), Some(title)) = (s.under, tap_box(bench, wired)) else {
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
    fn lowest(&mut self, wired: &Wired, s: &Stack, pin_mm: f64, top_mm: f64, carries: bool) {
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
    fn straight_down(&mut self, node: usize, s: &Stack) {
        if s.under.is_some() {
            self.dot(node, s.x_mm, s.foot_mm + 5.0);
        }
        self.wire(node, true, &[[s.x_mm, s.foot_mm], [s.x_mm, s.minus_mm], [s.right_mm(), s.minus_mm]]);
    }

    /// The upper rail from the pack to a place on its left, past what lies between pack and a board on the charge side.
    fn plus_to_the_left(&mut self, wired: &Wired, s: &Stack, until_mm: f64) {
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
    fn alarm(&mut self, bench: &Bench<'_>, wired: &Wired, s: &Stack) -> f64 {
        let begins_mm = s.right_mm() + s.volts_mm();
        let alarm = bench.plan.nodes.iter().find(|n| n.kind == NodeKind::Alarm && !matches!(n.part, Choice::None));
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
        let undecided = matches!(node.part, Choice::Open);
        let strokes = vec![Stroke { role: StrokeRole::Body, d: rectangle }];
        self.symbol(&node.id, undecided, strokes, [left, top, width, height]);
        self.caption("Alarm", &words, [left + width / 2.0, top + height - 2.0], "middle");
        left + width + 5.0
    }

    /// Blocks in a row, out from the pack.
    fn row(&mut self, wired: &Wired, s: &Stack, side: Side, way: f64, begins_mm: f64) {
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
            Piece::Meter | Piece::Lamp => self.hanging(b, row, widest),
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
            let anchor = if way > 0.0 { "start" } else { "end" };
            self.volts(b.to.minus, [middle + way * (half + 1.5), s.minus_mm + 4.2], anchor);
        }
        let anchor = if way > 0.0 { "start" } else { "end" };
        self.volts(b.to.plus, [middle + way * (half + 1.5), s.plus_mm + 4.2], anchor);
        let both = b.from.minus != b.to.minus;
        let height = if both { s.minus_mm - s.plus_mm + 10.0 } else { 10.0 };
        self.block(b, strokes, [middle - 7.0, s.plus_mm - 5.0, 14.0, height]);
    }

    /// A box between both rails, with its words in the middle of it.
    fn boxed(&mut self, b: &Block, row: &mut Row<'_>, words: &[String], wide: f64) {
        let (s, way) = (row.s, row.way);
        let width = wide.max(24.0);
        // Room for the volts of what leads to it.
        let near = row.x + way * 3.0;
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
        let pin = |x: f64, inward: f64| (x + inward * 1.5, if inward > 0.0 { "start" } else { "end" });
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
            let anchor = if way > 0.0 { "start" } else { "end" };
            self.wire(b.to.plus, true, &[[far, s.plus_mm], [end, s.plus_mm]]);
            self.wire(b.to.minus, true, &[[far, s.minus_mm], [end, s.minus_mm]]);
            self.volts(b.to.plus, [far + way * 1.5, s.plus_mm + 4.2], anchor);
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
        let lamp = b.piece == Piece::Lamp;
        self.block(b, symbols::round(Pen::level(middle, y, 1.0), lamp), [middle - 5.0, y - 5.0, 10.0, 10.0]);
        if !lamp {
            self.words(WordsRole::Title, "V", [middle, y + 1.1], "middle");
        }
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

    /// With the room that everything takes.
    fn close(mut self) -> Schematic {
        let d = &mut self.drawing;
        let mut low = [f64::INFINITY; 2];
        let mut high = [f64::NEG_INFINITY; 2];
        let mut meets = |x: f64, y: f64| {
            low = [low[0].min(x), low[1].min(y)];
            high = [high[0].max(x), high[1].max(y)];
        };
        d.wires.iter().flat_map(|w| &w.corners_mm).for_each(|c| meets(c[0], c[1]));
        for [x, y, w, h] in d.blocks.iter().map(|b| b.reach_mm) {
            meets(x, y);
            meets(x + w, y + h);
        }
        for w in &d.words {
            let wide = width_mm(&w.whole());
            let left = match w.anchor {
                "start" => w.x_mm,
                "end" => w.x_mm - wide,
                _ => w.x_mm - wide / 2.0,
            };
            meets(left, w.y_mm - WORDS_MM);
            meets(left + wide, w.y_mm + 1.0);
        }
        [d.left_mm, d.top_mm] = low.map(|end| end - EDGE_MM);
        [d.width_mm, d.height_mm] = [0, 1].map(|i| high[i] - low[i] + 2.0 * EDGE_MM);
        self.drawing
    }
}

/// How far a row has come.
struct Row<'s> {
    s: &'s Stack,
    way: f64,
    x: f64,
}

/// The strokes of what stands in a wire.
fn in_wire(b: &Block, pen: Pen) -> Vec<Stroke> {
    match b.piece {
        Piece::Fuse => symbols::fuse(pen),
        Piece::Switch => symbols::switch(pen, b.open),
        Piece::CutOff => symbols::cut_off(pen, b.open),
        Piece::Contacts => symbols::contacts(pen, b.open),
        _ => symbols::wire_mark(pen),
    }
}
