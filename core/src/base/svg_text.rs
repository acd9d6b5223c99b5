//! Drawings as text that every reader of XML takes.

use svg::node::element::SVG;

/// An SVG document as text. Signs that XML does not know, which a name may hold, are shown as what is not known.
/// Source: XML 1.0, production 2, Char.
pub(crate) fn svg_text(document: &SVG) -> String {
    let known = |c: char| matches!(c, '\t' | '\n' | '\r' | ' '..='\u{d7ff}' | '\u{e000}'..='\u{fffd}' | '\u{10000}'..);
    document.to_string().chars().map(|c| if known(c) { c } else { '\u{fffd}' }).collect()
}
