//! A seller's text read: which figures of a part can be proposed, what contradicts what, what is not stated, and which
//! test settles each. Nothing is taken for true because a seller wrote it.

mod clauses;
mod doubts;
mod heard;
mod sold;

use serde::Serialize;
use serde_json::{Value, json};
use utoipa::ToSchema;

use crate::parts::catalogue::ItemPart;
use crate::plan::Known;
use crate::plan::fields::{self, Clear, Field, Form, PartKind, put, put_the_usual};
use clauses::Clause;
use heard::Number;

pub use sold::SOLD;

/// A figure that the text states.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proposed {
    /// JSON pointer of the figure in the part.
    pub at: &'static str,
    /// What it is called.
    pub label: &'static str,
    /// The figure, with its unit.
    pub shown: String,
    /// The words it was read from.
    pub from: String,
    /// Whether the words say clearly that it is this figure.
    pub sure: bool,
    #[serde(skip)]
    value: Value,
}

/// What contradicts something, or can be read in two ways.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Doubt {
    /// What is doubtful.
    pub about: String,
    /// Why.
    pub why: String,
    /// What settles it.
    pub test: String,
}

/// A figure that the text does not state.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Unstated {
    /// Its name.
    pub label: &'static str,
    /// What settles it.
    pub test: &'static str,
}

/// A seller's text, read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Listing {
    /// What it seems to sell.
    pub sold: PartKind,
    /// Figures that can be proposed.
    pub proposed: Vec<Proposed>,
    /// Contradictions and figures of two meanings.
    pub doubts: Vec<Doubt>,
    /// Figures that are not stated.
    pub unstated: Vec<Unstated>,
    /// The part with everything proposed; absent while a figure it cannot be without is missing.
    pub part: Option<ItemPart>,
}

/// Longest text that is read.
pub const TEXT_MAX: usize = 20_000;

/// Reads a seller's text. What it sells is guessed from its words unless it is said.
pub fn read_listing(text: &str, sold: Option<PartKind>) -> Listing {
    let text: String = text.chars().take(TEXT_MAX).collect();
    let sold = sold.unwrap_or_else(|| sold::guess(&text));
    let clauses = clauses::split(&text);
    let mut proposed: Vec<Proposed> = vec![];
    let mut doubts = vec![];
    let words = heard::words(sold);
    for clause in &clauses {
        for figure in &clause.figures {
            for upper in [false, true] {
                let mut named = words.numbers.iter().filter(|n| n.upper == upper);
                if let Some((number, value)) = named.find_map(|n| Some((n, n.reads(figure)?))) {
                    propose(&mut proposed, &mut doubts, number, value, clause);
                }
            }
        }
    }
    for saying in &words.sayings {
        if let Some(clause) = clauses.iter().find(|c| saying.is_in(c))
            && proposed.iter().all(|p| p.at != saying.field.at)
        {
            let (field, from, value) = (saying.field, clause.text.clone(), saying.value.clone());
            proposed.push(Proposed {
                at: field.at,
                label: field.label,
                shown: saying.shown(),
                from,
                sure: true,
                value,
            });
        }
    }
    doubts::find(sold, &text, &clauses, &mut proposed, &mut doubts);
    Listing { sold, unstated: unstated(sold, &proposed), part: part(sold, &text, &proposed), proposed, doubts }
}

/// What a buyer must know and the text does not state, the weightiest first.
fn unstated(sold: PartKind, proposed: &[Proposed]) -> Vec<Unstated> {
    let mut asked: Vec<&Field> = fields::of(sold).filter(|f| f.weight > 0).collect();
    asked.sort_by_key(|f| f.weight);
    asked.retain(|f| proposed.iter().all(|p| p.at != f.at));
    asked.into_iter().map(|f| Unstated { label: f.label, test: f.settles }).collect()
}

/// Proposes a figure. One that stands there already keeps its place unless the new one was said more clearly; two that
/// differ are a doubt, and the more careful one is kept.
fn propose(found: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>, number: &Number, value: f64, clause: &Clause) {
    let (field, sure) = (number.field, number.clear != Clear::Bare);
    let whole = field.range().is_some_and(|r| r.whole);
    let new = Proposed {
        at: field.at,
        label: field.label,
        shown: crate::base::quantity::show(value, number.unit()),
        from: clause.text.clone(),
        sure,
        value: if whole { json!(value.round() as i64) } else { json!(value) },
    };
    let Some(old) = found.iter_mut().find(|p| p.at == field.at) else {
        found.push(new);
        return;
    };
    let before = old.value.as_f64().unwrap_or(value);
    if (before - value).abs() <= 0.01 * before.abs() {
        old.sure |= sure;
        return;
    }
    doubts.push(Doubt {
        about: field.label.to_owned(),
        why: format!("{} in “{}”, {} in “{}”.", old.shown, old.from, new.shown, new.from),
        test: field.settles.to_owned(),
    });
    let careful = if field.careful_is_larger { value > before } else { value < before };
    if (sure, careful) > (old.sure, !careful) {
        *old = new;
    }
    old.sure = false;
}

/// The part with everything proposed.
fn part(sold: PartKind, text: &str, proposed: &[Proposed]) -> Option<ItemPart> {
    let name = text.lines().map(str::trim).find(|l| !l.is_empty()).unwrap_or("part");
    let name: String = name.chars().take(120).collect();
    let mut body = json!({"offer": {"name": name}});
    if let Some(does) = sold.does() {
        body[does] = json!({});
    }
    for p in proposed {
        // A reading says how it is known.
        let is_reading = fields::of(sold).any(|f| f.at == p.at && matches!(f.form, Form::Known(_)));
        let value = if is_reading { json!(Known::stated(p.value.as_f64()?)) } else { p.value.clone() };
        put(&mut body, p.at, value);
    }
    // A size says in which standard.
    if let Some(size) = body.get_mut("size").and_then(Value::as_object_mut) {
        let standard = if size.contains_key("awg") { "awg" } else { "metric" };
        size.retain(|key, _| key == "awg" || standard == "metric");
        size.insert("standard".to_owned(), json!(standard));
    }
    let kind = sold.held_as();
    put_the_usual(&mut body, sold);
    serde_json::from_value(json!({"kind": kind, kind: body})).ok()
}
