//! The picking list: through the box once, label by label.

use std::cmp::Ordering;

use serde::Serialize;
use utoipa::ToSchema;

use super::Group;

/// One line of the list.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Pick {
    /// Label of the cell.
    pub label: String,
    /// Lot it lies with.
    pub lot: Option<String>,
    /// Group it goes to, counted from 1 at pack minus.
    pub group: usize,
}

/// Every chosen cell in the order of the labels: lot by lot, A2 before A10.
pub fn picking_list(groups: &[Group]) -> Vec<Pick> {
    let mut list: Vec<Pick> = groups
        .iter()
        .enumerate()
        .flat_map(|(g, group)| {
            let pick = move |m: &super::Member| Pick { label: m.label.clone(), lot: m.lot.clone(), group: g + 1 };
            group.cells.iter().map(pick)
        })
        .collect();
    list.sort_by(|a, b| a.lot.cmp(&b.lot).then_with(|| natural(&a.label, &b.label)));
    list
}

/// Order of labels as people read them: digits as numbers, letters whatever their case.
pub fn natural(a: &str, b: &str) -> Ordering {
    natural_key(a).cmp(&natural_key(b))
}

/// A text whose order byte by byte is the natural order of the label: numbers padded, letters small.
pub fn natural_key(label: &str) -> String {
    const WIDTH: usize = 12;
    let mut key = String::with_capacity(label.len() + WIDTH);
    let mut digits = String::new();
    let flush = |digits: &mut String, key: &mut String| {
        if !digits.is_empty() {
            let plain = digits.trim_start_matches('0');
            key.extend(std::iter::repeat_n('0', WIDTH.saturating_sub(plain.len())));
            key.push_str(plain);
            digits.clear();
        }
    };
    for c in label.chars() {
        if c.is_ascii_digit() {
            digits.push(c);
        } else {
            flush(&mut digits, &mut key);
            key.extend(c.to_lowercase());
        }
    }
    flush(&mut digits, &mut key);
    key
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn labels_are_ordered_as_people_read_them() {
        let mut labels = ["B1", "A10", "a2", "A2b", "A02", "1", "10", "9", "Ä1", ""];
        labels.sort_by(|a, b| natural(a, b).then_with(|| a.cmp(b)));
        assert_eq!(labels, ["", "1", "9", "10", "A02", "a2", "A2b", "A10", "B1", "Ä1"]);
    }
}
