//! The label of a pack: its lines beside a square that a phone reads.

use qrcode::{EcLevel, QrCode};
use svg::node::element::{Group, Path, Rectangle, Text};
use svg::{Document, Node};

/// Size of the label.
const WIDTH_MM: f64 = 70.0;
const HEIGHT_MM: f64 = 32.0;
/// Room round the square: four of its modules have to stay white.
const EDGE_MM: f64 = 2.5;
const SQUARE_MM: f64 = HEIGHT_MM - 2.0 * EDGE_MM;
/// White modules round the square, as ISO/IEC 18004 asks.
const QUIET: usize = 4;
const LINE_MM: f64 = 4.9;
/// Longest text that still makes a square of modules that a phone reads at this size.
pub const SAYS_MAX: usize = 200;

/// Draws the label as SVG in millimetres. `None` where the text is too long for its square.
pub fn label(lines: &[String], says: &str) -> Option<String> {
    if says.len() > SAYS_MAX {
        return None;
    }
    let code = QrCode::with_error_correction_level(says.as_bytes(), EcLevel::M).ok()?;
    let modules = code.width();
    let mm = SQUARE_MM / (modules + 2 * QUIET) as f64;
    let mut path = String::new();
    for (i, colour) in code.to_colors().into_iter().enumerate() {
        if colour == qrcode::Color::Dark {
            let (x, y) = ((i % modules + QUIET) as f64 * mm, (i / modules + QUIET) as f64 * mm);
            // A hair wider than its place, so that no white line shows between two.
            path.push_str(&format!("M{x:.3} {y:.3}h{0:.3}v{0:.3}h-{0:.3}z", mm * 1.01));
        }
    }
    let square = Group::new()
        .set("transform", format!("translate({EDGE_MM} {EDGE_MM})"))
        .add(Path::new().set("d", path).set("fill", "#000"));
    let mut words = Group::new().set("font-family", "Atkinson Hyperlegible Next, sans-serif").set("fill", "#000");
    let top_mm = (HEIGHT_MM - LINE_MM * lines.len() as f64) / 2.0;
    for (i, line) in lines.iter().enumerate() {
        let (size, weight) = if i == 0 { (4.2, 700) } else { (3.5, 500) };
        words.append(
            Text::new(line.as_str())
                .set("x", SQUARE_MM + 1.4 * EDGE_MM)
                .set("y", format!("{:.2}", top_mm + LINE_MM * (i as f64 + 0.75)))
                .set("font-size", size)
                .set("font-weight", weight),
        );
    }
    let frame = Rectangle::new()
        .set("width", WIDTH_MM)
        .set("height", HEIGHT_MM)
        .set("rx", 1)
        .set("fill", "#fff")
        .set("stroke", "#000")
        .set("stroke-width", 0.25);
    let page = Document::new()
        .set("width", format!("{WIDTH_MM}mm"))
        .set("height", format!("{HEIGHT_MM}mm"))
        .set("viewBox", (0, 0, WIDTH_MM as i32, HEIGHT_MM as i32))
        .set("role", "img")
        .set("aria-label", format!("Label: {}", lines.join(", ")))
        .add(frame)
        .add(square)
        .add(words);
    Some(page.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_are_escaped_and_an_endless_text_is_refused() {
        let drawn = label(&["4S2P <b>".to_owned()], "pack 7").unwrap();
        assert!(drawn.contains("4S2P &lt;b&gt;") && !drawn.contains("<b>"), "{drawn}");
        assert!(label(&[], &"x".repeat(SAYS_MAX + 1)).is_none());
    }
}
