//! An A4 page in millimetres, with the rule by which the print is checked.

use svg::node::element::{Group, Line, Rectangle, SVG, Text};

use crate::base::svg_text::svg_text;

use super::Sheet;

/// A4.
pub const WIDTH_MM: f64 = 210.0;
pub const HEIGHT_MM: f64 = 297.0;
/// Where the drawing begins, and the room it has.
pub const LEFT_MM: f64 = 15.0;
pub const TOP_MM: f64 = 30.0;
pub const ROOM_MM: [f64; 2] = [180.0, 240.0];
/// Length of the rule.
const RULE_MM: f64 = 50.0;
/// Height of letters.
pub const TEXT_MM: f64 = 3.4;

/// Words on a page.
pub fn words(text: impl Into<String>, x_mm: f64, y_mm: f64) -> Text {
    Text::new(text)
        .set("x", x_mm)
        .set("y", y_mm)
        .set("font-size", TEXT_MM)
        .set("font-family", "sans-serif")
        .set("fill", "#1e2422")
}

/// A thin line.
pub fn line(x1_mm: f64, y1_mm: f64, x2_mm: f64, y2_mm: f64) -> Line {
    Line::new()
        .set("x1", x1_mm)
        .set("y1", y1_mm)
        .set("x2", x2_mm)
        .set("y2", y2_mm)
        .set("stroke", "#1e2422")
        .set("stroke-width", 0.2)
}

/// A page with its heading, a drawing in millimetres, and the rule.
pub fn page(name: String, title: String, under: &str, drawing: Group) -> Sheet {
    let y_mm = HEIGHT_MM - 14.0;
    let mut rule = Group::new().set("class", "rule");
    rule = rule.add(line(LEFT_MM, y_mm, LEFT_MM + RULE_MM, y_mm).set("id", "rule"));
    for tick in 0..=5 {
        let x_mm = LEFT_MM + RULE_MM * f64::from(tick) / 5.0;
        rule = rule.add(line(x_mm, y_mm - if tick % 5 == 0 { 3.0 } else { 1.5 }, x_mm, y_mm));
    }
    let check =
        "Print at 100 %, not fitted to the page. This line must be 50 mm long; measure it before you use the sheet.";
    let document = SVG::new()
        .set("xmlns", "http://www.w3.org/2000/svg")
        .set("width", format!("{WIDTH_MM}mm"))
        .set("height", format!("{HEIGHT_MM}mm"))
        .set("viewBox", (0, 0, WIDTH_MM, HEIGHT_MM))
        .add(Rectangle::new().set("width", WIDTH_MM).set("height", HEIGHT_MM).set("fill", "#ffffff"))
        .add(words(&title, LEFT_MM, 15.0).set("font-size", 5.5).set("font-weight", 600))
        .add(words(under, LEFT_MM, 22.0))
        .add(drawing)
        .add(rule)
        .add(words(check, LEFT_MM, y_mm + 5.0).set("font-size", 2.8));
    Sheet { name, title, svg: svg_text(&document) }
}
