//! A page being drawn: wires, dots, symbols and words on it, and the room that they take.

use super::super::NodeVolts;
use super::super::drawing::{Dot, DrawnBlock, DrawnWire, Schematic, Stroke, Words, WordsRole};
use super::super::wired::Block;

/// Room round everything.
const EDGE_MM: f64 = 4.0;
/// Height of words, and the width of one letter against it.
const WORDS_MM: f64 = 3.0;
const LETTER: f64 = 0.53;
/// From line to line.
pub(super) const LINE_MM: f64 = 3.7;
/// Most letters in a line, and most lines of a detail.
const LETTERS: usize = 14;
const DETAIL_LINES: usize = 4;

/// The page.
pub(super) struct Page<'n> {
    pub(super) drawing: Schematic,
    pub(super) nodes: &'n [NodeVolts],
    /// Nodes whose voltage stands on the page already.
    pub(super) told: Vec<usize>,
    /// Whether the charger has a supply.
    pub(super) fed: bool,
}

impl Page<'_> {
    pub(super) fn wire(&mut self, node: usize, carries: bool, corners_mm: &[[f64; 2]]) {
        self.drawing.wires.push(DrawnWire { node, carries, corners_mm: corners_mm.to_vec() });
    }

    pub(super) fn dot(&mut self, node: usize, x_mm: f64, y_mm: f64) {
        self.drawing.dots.push(Dot { node, x_mm, y_mm });
    }

    pub(super) fn words(&mut self, role: WordsRole, text: impl Into<String>, at_mm: [f64; 2], anchor: &'static str) {
        let [x_mm, y_mm] = at_mm;
        self.drawing.words.push(Words { role, text: text.into(), reads_v: None, x_mm, y_mm, anchor, node: None });
    }

    /// The voltage of a node, once.
    pub(super) fn volts(&mut self, node: usize, at_mm: [f64; 2], anchor: &'static str) {
        if self.told.contains(&node) {
            return;
        }
        let Some(v) = self.nodes[node].node_v else { return };
        self.told.push(node);
        let [x_mm, y_mm] = at_mm;
        let (role, text, reads_v) = (WordsRole::Volts, String::new(), Some(v));
        self.drawing.words.push(Words { role, text, reads_v, x_mm, y_mm, anchor, node: Some(node) });
    }

    pub(super) fn block(&mut self, block: &Block, strokes: Vec<Stroke>, reach_mm: [f64; 4]) {
        self.symbol(&block.id, block.undecided, strokes, reach_mm);
    }

    pub(super) fn symbol(&mut self, id: &str, undecided: bool, strokes: Vec<Stroke>, reach_mm: [f64; 4]) {
        self.drawing.blocks.push(DrawnBlock { id: id.to_owned(), undecided, strokes, reach_mm });
    }

    /// Title and detail one below the other, the last line at a height.
    pub(super) fn caption(&mut self, title: &str, detail: &[String], at_mm: [f64; 2], anchor: &'static str) {
        let [x, last_y] = at_mm;
        let first_y = last_y - detail.len() as f64 * LINE_MM;
        self.words(WordsRole::Title, title, [x, first_y], anchor);
        for (i, line) in detail.iter().enumerate() {
            self.words(WordsRole::Detail, line, [x, first_y + (i + 1) as f64 * LINE_MM], anchor);
        }
    }

    /// With the room that everything takes.
    pub(super) fn close(mut self) -> Schematic {
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

/// The detail of a block in lines.
pub(super) fn detail(block: &Block) -> Vec<String> {
    let all = if block.undecided { "to be chosen" } else { block.detail.as_str() };
    lines(all)
}

pub(super) fn lines(all: &str) -> Vec<String> {
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

pub(super) fn width_mm(text: &str) -> f64 {
    text.chars().count() as f64 * WORDS_MM * LETTER
}
