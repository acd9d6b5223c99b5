//! The diagram as SVG on one A4 page, landscape: the drawing, and under it every reading worth taking.

use svg::node::element::{Circle, Group, Path, Polyline, Rectangle, SVG, Text};

use crate::base::svg_text::svg_text;

use super::{Diagram, DrawnWire, NodeVolts, StrokeRole, WordsRole};
use crate::base::quantity::{Unit, show};

const WIDTH_MM: f64 = 297.0;
const HEIGHT_MM: f64 = 210.0;
const EDGE_MM: f64 = 12.0;
/// Room of the drawing, and where it begins.
const ROOM_MM: [f64; 2] = [WIDTH_MM - 2.0 * EDGE_MM, 130.0];
const TOP_MM: f64 = 27.0;
/// Not larger than this, however small the circuit.
const LARGEST: f64 = 1.3;
const INK: &str = "#1e2422";
const SOFT: &str = "#5a615c";
/// A wire that nothing joins to the pack.
const LOOSE: &str = "#bfb6a4";
/// The readings: columns, and from line to line.
const COLUMNS: usize = 4;
const LINE_MM: f64 = 4.0;

/// The page.
pub fn svg(diagram: &Diagram) -> String {
    let d = &diagram.drawing;
    let scale = (ROOM_MM[0] / d.width_mm).min(ROOM_MM[1] / d.height_mm).min(LARGEST);
    let left = EDGE_MM + (ROOM_MM[0] - d.width_mm * scale) / 2.0;
    let under = match diagram.not_reckoned {
        Some(why) => format!("{} {why}", diagram.says),
        None => format!("{} Voltage against pack minus, B0. Same colour, same potential.", diagram.says),
    };
    let window = SVG::new()
        .set("x", left)
        .set("y", TOP_MM)
        .set("width", d.width_mm * scale)
        .set("height", d.height_mm * scale)
        .set("viewBox", (d.left_mm, d.top_mm, d.width_mm, d.height_mm))
        .add(drawn(diagram));
    let page = SVG::new()
        .set("xmlns", "http://www.w3.org/2000/svg")
        .set("width", format!("{WIDTH_MM}mm"))
        .set("height", format!("{HEIGHT_MM}mm"))
        .set("viewBox", (0, 0, WIDTH_MM, HEIGHT_MM))
        .set("font-family", "sans-serif")
        .add(Rectangle::new().set("width", WIDTH_MM).set("height", HEIGHT_MM).set("fill", "#ffffff"))
        .add(words(format!("{}: wiring", diagram.name), EDGE_MM, 15.0, 5.5).set("font-weight", 600))
        .add(words(under, EDGE_MM, 21.5, 3.4))
        .add(window)
        .add(readings(diagram, TOP_MM + d.height_mm * scale + 6.0));
    svg_text(&page)
}

fn words(text: impl Into<String>, x_mm: f64, y_mm: f64, size_mm: f64) -> Text {
    Text::new(text).set("x", x_mm).set("y", y_mm).set("font-size", size_mm).set("fill", INK)
}

fn colour(nodes: &[NodeVolts], node: usize) -> &str {
    nodes[node].colour.as_deref().unwrap_or(LOOSE)
}

fn drawn(diagram: &Diagram) -> Group {
    let d = &diagram.drawing;
    let mut all = Group::new().set("class", "diagram");
    // A dark edge keeps light potentials readable on white.
    for edge in [true, false] {
        for wire in &d.wires {
            all = all.add(wire_line(wire, if edge { INK } else { colour(&diagram.nodes, wire.node) }, edge));
        }
    }
    for dot in &d.dots {
        let mark = Circle::new().set("cx", dot.x_mm).set("cy", dot.y_mm).set("r", 1.1).set("fill", INK);
        all = all.add(mark);
    }
    for block in &d.blocks {
        for stroke in &block.strokes {
            let path = Path::new().set("d", stroke.d.clone()).set("stroke", INK).set("stroke-linejoin", "round");
            let path = match stroke.role {
                StrokeRole::Line => path.set("fill", "none").set("stroke-width", 0.45),
                StrokeRole::Heavy => path.set("fill", "none").set("stroke-width", 1.0),
                StrokeRole::Dashed => {
                    path.set("fill", "none").set("stroke-width", 0.3).set("stroke-dasharray", "1.5 1.2")
                }
                StrokeRole::Body => path.set("fill", "#ffffff").set("stroke-width", 0.45),
                StrokeRole::Fill => path.set("fill", INK).set("stroke-width", 0.2),
            };
            let unsure = block.undecided && stroke.role != StrokeRole::Fill;
            all = all.add(if unsure { path.set("stroke-dasharray", "1.5 1.2") } else { path });
        }
    }
    for w in &d.words {
        let (size_mm, weight, fill) = match w.role {
            WordsRole::Title => (3.0, 600, INK),
            WordsRole::Volts => (2.9, 600, INK),
            WordsRole::Detail => (2.8, 400, SOFT),
            WordsRole::Pin => (2.3, 400, INK),
        };
        let text = words(w.whole(), w.x_mm, w.y_mm, size_mm);
        all = all.add(text.set("font-weight", weight).set("fill", fill).set("text-anchor", w.anchor));
    }
    all
}

fn wire_line(wire: &DrawnWire, stroke: &str, edge: bool) -> Polyline {
    let width_mm = if wire.carries { 1.0 } else { 0.6 } + if edge { 0.5 } else { 0.0 };
    let points: Vec<String> = wire.corners_mm.iter().map(|[x, y]| format!("{x:.2},{y:.2}")).collect();
    Polyline::new()
        .set("points", points.join(" "))
        .set("fill", "none")
        .set("stroke", stroke)
        .set("stroke-width", width_mm)
        .set("stroke-linecap", "round")
        .set("stroke-linejoin", "round")
}

/// What the meter should show, in columns.
fn readings(diagram: &Diagram, top: f64) -> Group {
    let mut all = Group::new().set("class", "readings");
    all = all.add(words("What the meter should show", EDGE_MM, top, 3.4).set("font-weight", 600));
    let rows = diagram.probes.len().div_ceil(COLUMNS).max(1);
    let (wide, line_mm) = (ROOM_MM[0] / COLUMNS as f64, LINE_MM.min((HEIGHT_MM - 8.0 - top) / rows as f64));
    for (i, probe) in diagram.probes.iter().enumerate() {
        let x = EDGE_MM + (i / rows) as f64 * wide;
        let y = top + (i % rows + 1) as f64 * line_mm + 0.6;
        let reads = probe.reads_v.map_or_else(|| "–".to_owned(), |v| show(v, Unit::V));
        all = all.add(words(probe.what.clone(), x, y, 2.7));
        all = all.add(words(reads, x + wide - 6.0, y, 2.7).set("text-anchor", "end").set("font-weight", 600));
    }
    all
}
