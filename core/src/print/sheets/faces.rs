//! The faces of the brick as printed: laid on the cells, a print shows where each strip goes.

use svg::node::element::{Circle, Group, Line, Path, Rectangle, SVG};

use super::Sheet;
use super::page::{LEFT_MM, ROOM_MM, TOP_MM, line, page, words};
use crate::base::quantity::{Unit, show};
use crate::physics::brick::{CellMark, Drawing, Face, Laid, LeadKind, NodeMark, draw};
use crate::plan::Plan;

/// Room round a face for leads and dimensions.
const AROUND_MM: f64 = 20.0;
/// Side of a minus mark, diameter of a plus mark, at most.
const MARK_MM: f64 = 6.0;

/// A page for each face, more where a face is larger than one.
pub fn pages(plan: &Plan) -> Vec<Sheet> {
    let Some(laid) = Laid::of(plan) else { return vec![] };
    let drawing = draw(&laid);
    drawing.faces.iter().flat_map(|f| face_pages(plan, &drawing, f)).collect()
}

fn face_pages(plan: &Plan, drawing: &Drawing, face: &Face) -> Vec<Sheet> {
    let room_mm = [face.width_mm + 2.0 * AROUND_MM, face.height_mm + 2.0 * AROUND_MM];
    let tiles = [0, 1].map(|i| (room_mm[i] / ROOM_MM[i]).ceil().max(1.0));
    let count = tiles[0] * tiles[1];
    let side = face.title.split(',').next().unwrap_or_default().to_lowercase().replace(' ', "-");
    let mut found = vec![];
    for down in 0..tiles[1] as usize {
        for across in 0..tiles[0] as usize {
            let number = down * tiles[0] as usize + across + 1;
            let of = if count > 1.0 { format!(", page {number} of {count}") } else { String::new() };
            let from_mm = [across as f64 * ROOM_MM[0] - AROUND_MM, down as f64 * ROOM_MM[1] - AROUND_MM];
            let window = SVG::new()
                .set("x", LEFT_MM)
                .set("y", TOP_MM)
                .set("width", ROOM_MM[0])
                .set("height", ROOM_MM[1])
                .set("viewBox", (from_mm[0], from_mm[1], ROOM_MM[0], ROOM_MM[1]))
                .add(drawn(drawing, face));
            let mut content = Group::new().add(window);
            if face.turned {
                content = content.add(turn());
            }
            let name = if count > 1.0 { format!("face-{side}-{number}") } else { format!("face-{side}") };
            let under = if face.turned {
                "As seen after the brick is turned over from left to right. Round is plus, square is minus."
            } else {
                "As seen from this side. Round is plus, square is minus."
            };
            found.push(page(name, format!("{}: {}{of}", plan.name, face.title), under, content));
        }
    }
    found
}

/// How the brick is turned: over from left to right, about the line up the middle.
fn turn() -> Group {
    let stroke =
        |d: &str| Path::new().set("d", d).set("fill", "none").set("stroke", "#0e5560").set("stroke-width", 0.6);
    Group::new()
        .set("class", "turn")
        .set("transform", "translate(165 8)")
        .add(stroke("M2 8 C 8 -1, 18 -1, 24 7"))
        .add(stroke("M24 7 L 19.5 6 M 24 7 L 24.5 2.5"))
        .add(stroke("M13 3 V 14").set("stroke-dasharray", "1.5 1").set("stroke-width", 0.3))
}

/// A face at its own scale, its first cell in the corner.
fn drawn(drawing: &Drawing, face: &Face) -> Group {
    let node = |n: usize| -> &NodeMark { &drawing.nodes[n] };
    let mut all = Group::new().set("class", "face");
    for cell in &face.cells {
        // A flat cell shows two potentials on one face: its strips are coloured instead.
        let fill = if cell.round { node(cell.terminals[0].node).fill.as_str() } else { "#d8d1c2" };
        all = all.add(body(cell, fill));
    }
    for s in &face.sheets {
        all = all.add(line(s.x1_mm, s.y1_mm, s.x2_mm, s.y2_mm).set("stroke-width", 0.4).set("stroke-dasharray", "2 1"));
    }
    for s in &face.strips {
        let strip = Line::new()
            .set("class", if s.carries { "strip carries" } else { "strip" })
            .set("x1", s.x1_mm)
            .set("y1", s.y1_mm)
            .set("x2", s.x2_mm)
            .set("y2", s.y2_mm)
            .set("stroke", node(s.node).fill.clone())
            .set("stroke-width", s.width_mm)
            .set("stroke-opacity", 0.55)
            .set("stroke-linecap", "square");
        all = all.add(strip);
    }
    for lead in &face.leads {
        let name = match lead.kind {
            LeadKind::Minus => format!("{} −", node(lead.node).label),
            LeadKind::Plus => format!("{} +", node(lead.node).label),
            LeadKind::Tap => node(lead.node).label.clone(),
            LeadKind::Joint => format!("{} wire", node(lead.node).label),
        };
        all = all
            .add(line(lead.x1_mm, lead.y1_mm, lead.x2_mm, lead.y2_mm).set("stroke", "#a9561f").set("stroke-width", 0.6))
            .add(words(name, lead.x2_mm, lead.y2_mm + 4.0).set("text-anchor", "middle").set("font-weight", 600));
    }
    for cell in &face.cells {
        for t in &cell.terminals {
            let half = (MARK_MM / 2.0).min(cell.width_mm / 4.0);
            if t.plus && cell.round {
                let ring = Circle::new().set("class", "ring").set("cx", t.x_mm).set("cy", t.y_mm).set("r", half * 1.5);
                let dashed = ring.set("stroke-width", 0.3).set("stroke-dasharray", "1.2 0.7");
                all = all.add(dashed.set("fill", "none").set("stroke", "#1e2422"));
            }
            all = if t.plus {
                all.add(
                    Circle::new()
                        .set("cx", t.x_mm)
                        .set("cy", t.y_mm)
                        .set("r", half)
                        .set("fill", "#ffffff")
                        .set("stroke", "#1e2422")
                        .set("stroke-width", 0.3),
                )
                .add(line(t.x_mm, t.y_mm - half * 0.6, t.x_mm, t.y_mm + half * 0.6).set("stroke-width", 0.5))
            } else {
                all.add(
                    square(t.x_mm, t.y_mm, half)
                        .set("fill", "#ffffff")
                        .set("stroke", "#1e2422")
                        .set("stroke-width", 0.3),
                )
            };
            all = all.add(line(t.x_mm - half * 0.6, t.y_mm, t.x_mm + half * 0.6, t.y_mm).set("stroke-width", 0.5));
        }
        let name = cell.stock.as_ref().map_or_else(|| cell.label.clone(), |stock| format!("{} {stock}", cell.label));
        let y_mm = cell.y_mm + cell.height_mm / 2.0 - 1.2;
        let text = words(name, cell.x_mm, y_mm)
            .set("text-anchor", "middle")
            .set("font-size", 2.8)
            .set("font-weight", 600)
            .set("stroke", "#ffffff")
            .set("stroke-width", 0.9)
            .set("paint-order", "stroke");
        all = all.add(text);
    }
    dimension(all, face)
}

fn body(cell: &CellMark, fill: &str) -> Group {
    let group = Group::new().set("class", "cell").set("data-label", cell.label.clone());
    if cell.round {
        let circle = Circle::new()
            .set("cx", cell.x_mm)
            .set("cy", cell.y_mm)
            .set("r", cell.width_mm / 2.0)
            .set("fill", fill)
            .set("fill-opacity", 0.35)
            .set("stroke", "#1e2422")
            .set("stroke-width", 0.3);
        return group.add(circle);
    }
    let rect = Rectangle::new()
        .set("x", cell.x_mm - cell.width_mm / 2.0)
        .set("y", cell.y_mm - cell.height_mm / 2.0)
        .set("width", cell.width_mm)
        .set("height", cell.height_mm)
        .set("fill", fill)
        .set("fill-opacity", 0.35)
        .set("stroke", "#1e2422")
        .set("stroke-width", 0.3);
    group.add(rect)
}

fn square(x_mm: f64, y_mm: f64, half_mm: f64) -> Rectangle {
    Rectangle::new()
        .set("x", x_mm - half_mm)
        .set("y", y_mm - half_mm)
        .set("width", 2.0 * half_mm)
        .set("height", 2.0 * half_mm)
}

/// Width and height of the cells, above and to the left of the face.
fn dimension(all: Group, face: &Face) -> Group {
    let (w, h, off) = (face.width_mm, face.height_mm, -6.0);
    let text = |mm: f64| show(mm, Unit::Mm);
    all.add(line(0.0, off, w, off).set("class", "dimension"))
        .add(line(0.0, off - 1.5, 0.0, -1.0))
        .add(line(w, off - 1.5, w, -1.0))
        .add(words(text(w), w / 2.0, off - 1.5).set("text-anchor", "middle"))
        .add(line(off, 0.0, off, h).set("class", "dimension"))
        .add(line(off - 1.5, 0.0, -1.0, 0.0))
        .add(line(off - 1.5, h, -1.0, h))
        .add(
            words(text(h), off - 1.5, h / 2.0)
                .set("text-anchor", "middle")
                .set("transform", format!("rotate(-90 {} {})", off - 1.5, h / 2.0)),
        )
}
