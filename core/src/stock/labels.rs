//! Labels, typed as ranges: "A01-A40, B3".

use super::{CELLS_MAX, LABEL_MAX};

/// The labels that a text names: single ones, and ranges from a number to a number, parted by commas or blanks.
///
/// The width of the first number is kept: A01-A10 begins A01. Refused with what is wrong.
pub fn label_range(text: &str) -> Result<Vec<String>, String> {
    let mut found: Vec<String> = vec![];
    let pieces = text.replace(" - ", "-").replace(['–', '—'], "-").replace("..", "-");
    for piece in pieces.split(|c: char| c == ',' || c == ';' || c.is_whitespace()).filter(|p| !p.is_empty()) {
        match range(piece)? {
            Some((stem, width, first, last)) => {
                let many = last - first + 1;
                if found.len() as u64 + many > CELLS_MAX as u64 {
                    return Err(format!("“{piece}” makes more than {CELLS_MAX} labels"));
                }
                found.extend((first..=last).map(|n| format!("{stem}{n:0width$}")));
            }
            None => found.push(piece.to_owned()),
        }
    }
    if let Some(long) = found.iter().find(|l| l.chars().count() > LABEL_MAX) {
        return Err(format!("“{long}” is longer than {LABEL_MAX} characters"));
    }
    let mut seen = std::collections::HashSet::new();
    if let Some(twice) = found.iter().find(|l| !seen.insert(l.to_lowercase())) {
        return Err(format!("“{twice}” is named twice"));
    }
    if found.is_empty() { Err("type labels, for example A01-A40".to_owned()) } else { Ok(found) }
}

/// Stem, width, first and last number of a range; `None` for a single label.
fn range(piece: &str) -> Result<Option<(&str, usize, u64, u64)>, String> {
    let Some((from, to)) = piece.split_once('-') else { return Ok(None) };
    let split = |label: &str| label.trim_end_matches(|c: char| c.is_ascii_digit()).len();
    let (stem, first) = from.split_at(split(from));
    let (other, last) = to.split_at(split(to));
    let (Ok(a), Ok(b)) = (first.parse::<u64>(), last.parse::<u64>()) else {
        // A label with a hyphen in it.
        return Ok(None);
    };
    if !other.is_empty() && !other.eq_ignore_ascii_case(stem) {
        return Err(format!("“{piece}” goes from {stem} to {other}: a range keeps its letters"));
    }
    if b < a {
        return Err(format!("“{piece}” runs backwards"));
    }
    Ok(Some((stem, first.len(), a, b)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ranges_and_single_labels_are_read_as_written_on_the_cells() {
        let read = |text: &str| label_range(text).unwrap().join(" ");
        assert_eq!(read("A08-A11"), "A08 A09 A10 A11");
        assert_eq!(read("a1..3, B7;C9"), "a1 a2 a3 B7 C9");
        assert_eq!(read("9–11"), "9 10 11");
        assert_eq!(read("pump-left x"), "pump-left x");
        assert_eq!(read("A8 - A9"), "A8 A9");
    }

    #[test]
    fn what_is_no_range_is_told() {
        for (text, told) in [
            (" ,", "type labels"),
            ("A5-A2", "backwards"),
            ("A1-B5", "keeps its letters"),
            ("A1-A9999999", "more than 5000"),
            ("A1-A3 a2", "“a2” is named twice"),
            ("x123456789012345678901234567890123456789012", "longer than 40"),
        ] {
            assert!(label_range(text).unwrap_err().contains(told), "{text}");
        }
    }
}
