//! A seller's text read: which figures of a part can be proposed, what contradicts what, what is not stated, and which
//! test settles each. Nothing is taken for true because a seller wrote it.

mod asks;
mod clauses;
mod doubts;
mod rules;
mod said;
mod sold;

use serde::Serialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::suggest::ItemPart;
use clauses::Clause;
use rules::Rule;

pub use sold::Sold;

/// A figure that the text states.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proposed {
    /// JSON pointer of the figure in the part.
    pub at: &'static str,
    /// Its name.
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
    pub sold: Sold,
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
pub fn read_listing(text: &str, sold: Option<Sold>) -> Listing {
    let text: String = text.chars().take(TEXT_MAX).collect();
    let sold = sold.unwrap_or_else(|| sold::guess(&text));
    let clauses = clauses::split(&text);
    let mut proposed: Vec<Proposed> = vec![];
    let mut doubts = vec![];
    let rules = rules::of(sold);
    for clause in &clauses {
        for figure in &clause.figures {
            for upper in [false, true] {
                let mut named = rules.iter().filter(|r| r.upper == upper);
                if let Some((rule, value)) = named.find_map(|r| Some((r, r.reads(figure)?))) {
                    propose(&mut proposed, &mut doubts, rule, value, clause);
                }
            }
        }
    }
    for word in said::said(sold) {
        if let Some(clause) = clauses.iter().find(|c| word.is_in(&c.lower))
            && proposed.iter().all(|p| p.at != word.at)
        {
            let value = word.value();
            let shown = match &value {
                Value::Bool(true) => "yes".to_owned(),
                Value::Bool(false) => "no".to_owned(),
                Value::Number(_) => "none".to_owned(),
                other => other.as_str().unwrap_or_default().replace('_', " "),
            };
            let from = clause.text.clone();
            proposed.push(Proposed { at: word.at, label: word.label, shown, from, sure: true, value });
        }
    }
    doubts::look(sold, &text, &clauses, &mut proposed, &mut doubts);
    let stated = |at: &str| proposed.iter().any(|p| p.at == at);
    let unstated = asks::asks(sold).iter().filter(|a| !stated(a.at)).map(|a| Unstated { label: a.label, test: a.test });
    Listing { sold, unstated: unstated.collect(), part: part(sold, &text, &proposed), proposed, doubts }
}

/// Proposes a figure. One that stands there already keeps its place unless the new one was said more clearly; two that
/// differ are a doubt, and the more careful one is kept.
fn propose(found: &mut Vec<Proposed>, doubts: &mut Vec<Doubt>, rule: &Rule, value: f64, clause: &Clause) {
    let sure = !rule.bare;
    let new = Proposed {
        at: rule.at,
        label: rule.label,
        shown: crate::quantity::show(value, rule.unit),
        from: clause.text.clone(),
        sure,
        value: if rule.whole { json!(value.round() as i64) } else { json!(value) },
    };
    let Some(old) = found.iter_mut().find(|p| p.at == rule.at) else {
        found.push(new);
        return;
    };
    let before = old.value.as_f64().unwrap_or(value);
    if (before - value).abs() <= 0.01 * before.abs() {
        old.sure |= sure;
        return;
    }
    doubts.push(Doubt {
        about: rule.label.to_owned(),
        why: format!("{} in “{}”, {} in “{}”.", old.shown, old.from, new.shown, new.from),
        test: rule.test.to_owned(),
    });
    let careful = if rule.largest { value > before } else { value < before };
    if (sure, careful) > (old.sure, !careful) {
        *old = new;
    }
    old.sure = false;
}

/// The part with everything proposed.
fn part(sold: Sold, text: &str, proposed: &[Proposed]) -> Option<ItemPart> {
    let name = text.lines().map(str::trim).find(|l| !l.is_empty()).unwrap_or("part");
    let name: String = name.chars().take(120).collect();
    let (kind, mut body) = sold::blank(sold);
    body["offer"] = json!({"name": name});
    for p in proposed {
        let mut place = &mut body;
        for key in p.at.split('/').skip(1) {
            if !place.is_object() {
                *place = Value::Object(Map::new());
            }
            place = &mut place[key];
        }
        *place = p.value.clone();
        // A reading says how it is known.
        if let Some(known) = p.at.strip_suffix("/value").and_then(|at| body.pointer_mut(at)) {
            known["how"] = json!("stated");
        }
    }
    // A size says in which standard.
    if let Some(size) = body.get_mut("size").and_then(Value::as_object_mut) {
        let standard = if size.contains_key("awg") { "awg" } else { "metric" };
        size.retain(|key, _| key == "awg" || standard == "metric");
        size.insert("standard".to_owned(), json!(standard));
    }
    serde_json::from_value(json!({"kind": kind, kind: body})).ok()
}
