//! Lines of text in a frame, to be cut out: the label of the pack, the label of warnings.

use svg::node::element::{Group, Rectangle};

use super::page::{LEFT_MM, TOP_MM, words};

/// Width of a letter as a share of its height, at most on average; and the border inside the frame.
const LETTER_SHARE: f64 = 0.6;
const BORDER_MM: f64 = 4.0;

/// One paragraph: height of its letters, their weight, its text.
pub type Paragraph = (f64, u32, String);

/// Paragraphs in a frame of that id and width, broken into lines; it is as high as they need, but no lower than `least_mm`.
pub fn framed(id: &str, width_mm: f64, least_mm: f64, paragraphs: Vec<Paragraph>) -> Group {
    let mut y_mm = TOP_MM + 1.5;
    let mut text = Group::new();
    for (size_mm, weight, paragraph) in paragraphs {
        for line in wrapped(&paragraph, ((width_mm - 2.0 * BORDER_MM) / (size_mm * LETTER_SHARE)) as usize) {
            y_mm += size_mm * 1.4;
            let line = words(line, LEFT_MM + BORDER_MM, y_mm).set("class", "line");
            text = text.add(line.set("font-size", size_mm).set("font-weight", weight));
        }
        y_mm += 0.6;
    }
    let height_mm = (y_mm + BORDER_MM - TOP_MM).max(least_mm);
    let frame = Rectangle::new()
        .set("id", id)
        .set("x", LEFT_MM)
        .set("y", TOP_MM)
        .set("width", width_mm)
        .set("height", height_mm)
        .set("rx", 2)
        .set("fill", "none")
        .set("stroke", "#1e2422")
        .set("stroke-width", 0.4);
    Group::new().add(frame).add(text)
}

/// Text in lines of at most so many letters, broken between words; a longer word is cut.
fn wrapped(text: &str, letters: usize) -> Vec<String> {
    let mut lines: Vec<String> = vec![];
    let pieces = text.split_whitespace().flat_map(|word| {
        let letters_of: Vec<char> = word.chars().collect();
        letters_of.chunks(letters).map(|piece| piece.iter().collect::<String>()).collect::<Vec<_>>()
    });
    for word in pieces {
        match lines.last_mut() {
            Some(line) if line.chars().count() + 1 + word.chars().count() <= letters => {
                line.push(' ');
                line.push_str(&word);
            }
            _ => lines.push(word),
        }
    }
    lines
}
