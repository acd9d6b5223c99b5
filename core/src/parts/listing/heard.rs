//! How sellers say the figures of a part: the patterns of the table of figures, compiled.

use std::collections::HashMap;
use std::sync::LazyLock;

use regex::Regex;
use serde_json::{Value, json};

use super::clauses::{Clause, Figure};
use crate::base::quantity::Unit;
use crate::plan::fields::{self, Clear, Field, Form, Heard, PartKind};

/// Words and a unit that name a number.
pub struct Number {
    /// The figure.
    pub field: &'static Field,
    /// How clearly.
    pub clear: Clear,
    /// Whether it is the upper end of a range.
    pub upper: bool,
    words: Regex,
    not: Option<Regex>,
    within: (f64, f64),
}

impl Number {
    /// Unit of the number.
    pub fn unit(&self) -> Unit {
        self.field.range().map_or(Unit::Ratio, |r| r.unit)
    }

    /// The value of a figure that these words name.
    pub fn reads(&self, figure: &Figure) -> Option<f64> {
        let unless = self.not.as_ref().is_some_and(|not| not.is_match(&figure.named));
        if figure.unit != self.unit() || !self.words.is_match(&figure.named) || unless {
            return None;
        }
        let value = if self.upper { figure.upper? } else { figure.value };
        (self.within.0..=self.within.1).contains(&value).then_some(value)
    }
}

/// Words that say a figure by themselves.
pub struct Saying {
    /// The figure.
    pub field: &'static Field,
    /// What they say.
    pub value: Value,
    words: Regex,
}

impl Saying {
    /// Whether a clause says it.
    pub fn is_in(&self, clause: &Clause) -> bool {
        self.words.is_match(&clause.lower)
    }

    /// What they say, as a person reads it.
    pub fn shown(&self) -> String {
        match &self.value {
            Value::Bool(true) => "yes".to_owned(),
            Value::Bool(false) => "no".to_owned(),
            Value::String(word) => self.field.word(word).unwrap_or(word).to_owned(),
            _ => "none".to_owned(),
        }
    }
}

/// Everything a seller may say of one kind of part.
pub struct Words {
    /// Numbers, the clearest first.
    pub numbers: Vec<Number>,
    /// Words, the most special of each figure first.
    pub sayings: Vec<Saying>,
}

/// What is listened for in the text of one kind of part.
pub fn words(kind: PartKind) -> &'static Words {
    static ALL: LazyLock<HashMap<PartKind, Words>> =
        LazyLock::new(|| PartKind::ALL.into_iter().map(|kind| (kind, compiled(kind))).collect());
    &ALL[&kind]
}

fn compiled(kind: PartKind) -> Words {
    let mut words = Words { numbers: vec![], sayings: vec![] };
    for field in fields::of(kind) {
        for heard in field.heard {
            words.add(field, heard);
        }
        if let Form::Choice(choices) = field.form {
            for choice in choices.iter().rev().filter(|c| !c.heard.is_empty()) {
                words.says(field, choice.heard, json!(choice.value));
            }
        }
    }
    words.numbers.sort_by_key(|n| n.clear);
    words
}

impl Words {
    // Patterns are constants of the table; a test sees that each is one.
    fn add(&mut self, field: &'static Field, heard: &Heard) {
        match *heard {
            Heard::Number { words, not, within, clear, upper } => {
                let not = Some(not).filter(|not| !not.is_empty()).and_then(|not| Regex::new(not).ok());
                let number = Regex::new(words).map(|words| Number { field, clear, upper, words, not, within });
                self.numbers.extend(number.ok());
            }
            Heard::Yes(words) => self.says(field, words, json!(true)),
            Heard::No(words) => {
                let none = matches!(field.form, Form::Quantity(_));
                self.says(field, words, if none { json!(0.0) } else { json!(false) });
            }
        }
    }

    fn says(&mut self, field: &'static Field, words: &str, value: Value) {
        self.sayings.extend(Regex::new(words).map(|words| Saying { field, value, words }).ok());
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_pattern_of_the_table_is_one() {
        for field in fields::all() {
            for heard in field.heard {
                let patterns = match *heard {
                    Heard::Number { words, not, .. } => vec![words, not],
                    Heard::Yes(words) | Heard::No(words) => vec![words],
                };
                patterns.iter().for_each(|p| assert!(Regex::new(p).is_ok(), "{}: {p}", field.at));
                assert!(field.range().is_some() || !matches!(heard, Heard::Number { .. }), "{}", field.at);
                assert!(!field.settles.is_empty() || !matches!(heard, Heard::Number { .. }), "{}", field.at);
            }
            if let Form::Choice(words) = field.form {
                words.iter().for_each(|w| assert!(Regex::new(w.heard).is_ok(), "{}: {}", field.at, w.heard));
            }
        }
    }
}
