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

    proptest::proptest! {
        /// Numbers behind the same letters are ordered as numbers, with or without leading zeros.
        #[test]
        fn numbers_are_ordered_as_numbers(stem in "[A-Za-z]{0,4}", a in 0u64..100_000, b in 0u64..100_000, zeros in 0usize..4) {
            let label = |n: u64| format!("{stem}{}{n}", "0".repeat(zeros));
            proptest::prop_assert_eq!(natural(&label(a), &format!("{stem}{b}")), a.cmp(&b));
            proptest::prop_assert_eq!(natural(&label(a).to_uppercase(), &label(a).to_lowercase()), Ordering::Equal);
        }

        /// The order by which the database sorts is the order in which labels are compared.
        #[test]
        fn the_key_sorts_as_the_labels_do(mut labels in proptest::collection::vec("[A-C]{0,2}[0-9]{0,4}[a-b]{0,1}", 2..12)) {
            let mut by_key = labels.clone();
            by_key.sort_by_key(|l| (natural_key(l), l.clone()));
            labels.sort_by(|a, b| natural(a, b).then_with(|| a.cmp(b)));
            proptest::prop_assert_eq!(by_key, labels);
        }
    }
}
