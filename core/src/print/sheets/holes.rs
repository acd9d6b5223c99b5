//! Drilling templates: each hole at 1:1, with its distance from the edges of the wall where that is known.

use svg::node::element::{Circle, Group};

use super::Sheet;
use super::page::{LEFT_MM, ROOM_MM, TOP_MM, line, page, words};
use crate::base::quantity::{Unit, show};
use crate::plan::{Compartment, Opening, OpeningPurpose, Plan, Sign, Wall};

/// Way between two holes on a page, at least.
const APART_MM: f64 = 12.0;
/// Room for the words beside a hole.
const WORDS_MM: f64 = 6.0;

/// Pages of each compartment that has openings.
pub fn pages(plan: &Plan) -> Vec<Sheet> {
    plan.device.compartments.iter().filter(|c| !c.openings.is_empty()).flat_map(|c| place_pages(plan, c)).collect()
}

fn place_pages(plan: &Plan, place: &Compartment) -> Vec<Sheet> {
    let mut drawings = vec![];
    let mut drawing = Group::new();
    let mut y_mm = TOP_MM;
    let mut is_empty = true;
    for opening in &place.openings {
        let size_mm = opening.hole_mm.max(opening.body_mm.unwrap_or(0.0)).max(4.0 * WORDS_MM);
        if !is_empty && y_mm + size_mm > TOP_MM + ROOM_MM[1] {
            drawings.push(std::mem::replace(&mut drawing, Group::new()));
            y_mm = TOP_MM;
        }
        // A hole wider than the page is cut off by it and cannot be drilled anyway.
        drawing =
            drawing.add(hole(opening, LEFT_MM + size_mm.min(ROOM_MM[0]) / 2.0 + 5.0, y_mm + size_mm / 2.0, size_mm));
        is_empty = false;
        y_mm += size_mm + APART_MM;
    }
    drawings.push(drawing);
    let count = drawings.len();
    let under = "Tape it to the wall, centre-punch through the cross, drill small first, with the pack out.";
    drawings
        .into_iter()
        .enumerate()
        .map(|(k, drawing)| {
            let of = if count > 1 { format!(", page {} of {count}", k + 1) } else { String::new() };
            let number = if count > 1 { format!("-{}", k + 1) } else { String::new() };
            page(
                format!("holes-{}{number}", place.id),
                format!("{}: holes in {}{of}", plan.name, place.name),
                under,
                drawing,
            )
        })
        .collect()
}

fn hole(opening: &Opening, x_mm: f64, y_mm: f64, size_mm: f64) -> Group {
    let reach_mm = opening.hole_mm / 2.0 + 3.0;
    let circle = |r_mm: f64| {
        Circle::new().set("cx", x_mm).set("cy", y_mm).set("r", r_mm).set("fill", "none").set("stroke", "#1e2422")
    };
    let mut all = Group::new()
        .set("class", "hole")
        .add(circle(opening.hole_mm / 2.0).set("class", "drill").set("stroke-width", 0.3))
        .add(line(x_mm - reach_mm, y_mm, x_mm + reach_mm, y_mm))
        .add(line(x_mm, y_mm - reach_mm, x_mm, y_mm + reach_mm));
    if let Some(body_mm) = opening.body_mm.filter(|b| *b > opening.hole_mm) {
        all = all.add(circle(body_mm / 2.0).set("stroke-width", 0.2).set("stroke-dasharray", "2 1"));
    }
    for (k, text) in told(opening).into_iter().enumerate() {
        let top_mm = y_mm - 1.5 * WORDS_MM + 3.0;
        all = all.add(words(text, x_mm + size_mm / 2.0 + 6.0, top_mm + k as f64 * WORDS_MM));
    }
    all
}

fn told(opening: &Opening) -> Vec<String> {
    let mm = |mm: f64| show(mm, Unit::Mm);
    let purpose = match opening.purpose {
        OpeningPurpose::Jack => "Charge jack",
        OpeningPurpose::Lamp => "Lamp",
        OpeningPurpose::Switch => "Switch",
        OpeningPurpose::Cable => "Cable gland",
        OpeningPurpose::Gauge => "Gauge",
    };
    let mut found = vec![format!("{purpose}: drill {}", mm(opening.hole_mm))];
    if let Some(wall) = opening.wall {
        let place = match (opening.along_mm, opening.up_mm) {
            (Some(along_mm), Some(up_mm)) => format!(", {} along and {} up", mm(along_mm), mm(up_mm)),
            _ => String::new(),
        };
        found.push(format!("In {}{place}, measured inside", wall_words(wall)));
    }
    let depths = [
        ("wall", opening.wall_mm),
        ("pad", opening.pad_mm),
        ("thread reaches", opening.thread_mm),
        ("part needs", opening.part_mm),
        ("free behind", opening.behind_mm),
    ];
    let depths: Vec<String> =
        depths.into_iter().filter_map(|(what, v)| v.map(|v| format!("{what} {}", mm(v)))).collect();
    if !depths.is_empty() {
        found.push(depths.join(", "));
    }
    if !opening.shows.is_empty() {
        let signs: Vec<&str> = opening.shows.iter().map(|s| sign_words(*s)).collect();
        found.push(format!("Shows: {}", signs.join(", ")));
    }
    found
}

fn sign_words(sign: Sign) -> &'static str {
    match sign {
        Sign::Charging => "charging",
        Sign::Full => "full",
        Sign::On => "on",
    }
}

fn wall_words(wall: Wall) -> &'static str {
    match wall {
        Wall::XLow => "the near end wall",
        Wall::XHigh => "the far end wall",
        Wall::YLow => "the near side wall",
        Wall::YHigh => "the far side wall",
        Wall::ZLow => "the floor",
        Wall::ZHigh => "the lid",
    }
}
