//! The parts catalogue as a table, in and out: one line a part, one column a figure, an empty one is not stated.

use std::collections::HashSet;

use serde_json::{Map, Value, json};

use super::columns::{Column, Written, columns};
use super::{Item, ItemKind};
use crate::base::range;
use crate::base::table::{self, LineError, Row, Table, whole};
use crate::plan::fields::{PartKind, put, put_the_usual};

/// Most parts of a catalogue.
pub const PARTS_MAX: usize = 2000;
/// Columns about the entry, not the part.
const ENTRY: [&str; 4] = ["id", "kind", "at_hand", "note"];

/// Writes parts as a sheet; columns that none of them uses are left out.
///
/// `None` when a row cannot be written, which no text brings about.
pub fn write_parts(items: &[Item]) -> Option<String> {
    let bodies: Vec<Value> = items.iter().map(body).collect();
    let used: Vec<&Column> = columns()
        .iter()
        .filter(|c| {
            let uses = |(item, body): (&Item, &Value)| {
                has(c, item.kind()) && body.pointer(&c.at).is_some_and(|v| !v.is_null())
            };
            items.iter().zip(&bodies).any(uses)
        })
        .collect();
    let head = ENTRY.iter().copied().chain(used.iter().map(|c| c.name.as_str())).map(str::to_owned).collect();
    let row = |(item, body): (&Item, &Value)| {
        let entry = [item.id.clone(), kind_word(item.kind()), written(&json!(item.at_hand)), item.note.clone()];
        let figures = used.iter().map(|c| {
            let value = if has(c, item.kind()) { body.pointer(&c.at) } else { None };
            value.map_or_else(String::new, written)
        });
        entry.into_iter().chain(figures).collect()
    };
    table::written(std::iter::once(head).chain(items.iter().zip(&bodies).map(row)))
}

/// Reads a sheet, and the names of columns that were not used. A line without an id gets one from its name. All bad
/// lines are told.
pub fn read_parts(text: &str) -> Result<(Vec<Item>, Vec<String>), Vec<LineError>> {
    let table = Table::read(text, PARTS_MAX)?;
    for needed in ["kind", "name"] {
        if table.column(needed).is_none() {
            return Err(whole(format!("there is no column “{needed}”")));
        }
    }
    let (mut items, mut errors) = (vec![], vec![]);
    let mut seen = HashSet::new();
    for row in &table.rows {
        let line = row.line;
        match item(&table, row) {
            Ok(found) if !seen.insert(found.id.clone()) => {
                errors.push(LineError { line, reason: format!("id: “{}” is listed above already", found.id) });
            }
            Ok(found) => items.push(found),
            Err(reasons) => errors.extend(reasons.into_iter().map(|reason| LineError { line, reason })),
        }
    }
    let known: Vec<&str> = ENTRY.into_iter().chain(columns().iter().map(|c| c.name.as_str())).collect();
    let unused = table.unknown(&known).into_iter().map(str::to_owned).collect();
    if errors.is_empty() { Ok((items, unused)) } else { Err(errors) }
}

fn has(column: &Column, kind: ItemKind) -> bool {
    column.kinds.iter().any(|k| k.held_as() == kind_word(kind))
}

/// The part below its kind, as JSON.
fn body(item: &Item) -> Value {
    // Every type of a part turns into JSON: its maps have text keys and its floats are finite.
    let part = serde_json::to_value(&item.part).unwrap_or_default();
    part.get(kind_word(item.kind())).cloned().unwrap_or_default()
}

fn kind_word(kind: ItemKind) -> String {
    format!("{kind:?}").to_lowercase()
}

fn written(value: &Value) -> String {
    match value {
        Value::Bool(true) => "yes".to_owned(),
        Value::Bool(false) => "no".to_owned(),
        Value::String(text) => text.clone(),
        Value::Number(number) => number.to_string(),
        _ => String::new(),
    }
}

fn item(table: &Table, row: &Row) -> Result<Item, Vec<String>> {
    let one = |reason: String| vec![reason];
    let word = table.text(row, "kind").map(str::to_lowercase).ok_or_else(|| one("kind: is missing".to_owned()))?;
    let kind: ItemKind = serde_json::from_value(json!(word))
        .map_err(|_| one(format!("kind: “{word}” is none of cell, strip, module, fuse, connector, switch, wire")))?;
    let body = read_body(table, row, kind)?;
    let name = table.text(row, "name").ok_or_else(|| one("name: is needed".to_owned()))?;
    let id = table.text(row, "id").map_or_else(|| id_of(name), str::to_owned);
    let at_hand = table.figure(row, "at_hand", 1.0, &range::AT_HAND).map_err(one)?;
    let document = json!({
        "id": id, "part": {"kind": word, word.as_str(): body}, "at_hand": at_hand.map(|n| n as u32),
        "note": table.text(row, "note").unwrap_or_default()
    });
    let mut item: Item = serde_path_to_error::deserialize(&document).map_err(|e| one(refused(&e.into_inner())))?;
    item.offer_mut().catalogue_id = Some(item.id.clone());
    let errors = item.check("");
    if !errors.is_empty() {
        return Err(errors.iter().map(|e| format!("{}: {}", column_at(&e.field), e.message)).collect());
    }
    Ok(item)
}

/// The figures of a line as JSON, in the shape of the part.
fn read_body(table: &Table, row: &Row, kind: ItemKind) -> Result<Value, Vec<String>> {
    let mut body = Value::Object(Map::new());
    let mut errors = vec![];
    for column in columns().iter().filter(|c| has(c, kind)) {
        match table.text(row, &column.name).map(|text| value(table, column, text)) {
            Some(Ok(value)) => put(&mut body, &column.at, value),
            Some(Err(reason)) => errors.push(format!("{}: {reason}", column.name)),
            None => {}
        }
    }
    for kind in PartKind::ALL.into_iter().filter(|k| k.held_as() == kind_word(kind)) {
        put_the_usual(&mut body, kind);
    }
    // A reading that is typed into a sheet is as the seller states it.
    for how in columns().iter().filter(|c| has(c, kind) && c.at.ends_with("/how")) {
        if let Some(reading) = how.at.strip_suffix("/how").and_then(|at| body.pointer_mut(at))
            && reading.get("how").is_none()
        {
            reading["how"] = json!("stated");
        }
    }
    if let Some(column) = columns().iter().find(|c| !has(c, kind) && table.text(row, &c.name).is_some()) {
        errors.push(format!("{}: a {} has no such figure", column.name, kind_word(kind)));
    }
    if errors.is_empty() { Ok(body) } else { Err(errors) }
}

fn value(table: &Table, column: &Column, text: &str) -> Result<Value, String> {
    match column.written {
        Written::Number => table.number(text).map(|v| json!(v)).ok_or_else(|| format!("“{text}” is not a number")),
        Written::Count => text.parse::<i64>().map(|n| json!(n)).map_err(|_| format!("“{text}” is not a whole number")),
        Written::Text => Ok(json!(text)),
        Written::Word => Ok(json!(text.to_lowercase().replace(' ', "_"))),
        Written::YesNo => match text.to_lowercase().as_str() {
            "yes" | "true" | "1" => Ok(json!(true)),
            "no" | "false" | "0" => Ok(json!(false)),
            _ => Err(format!("“{text}” is neither yes nor no")),
        },
    }
}

/// The column in which a field stands; its pointer where none does.
fn column_at(field: &str) -> &str {
    columns().iter().find(|c| c.at == field).map_or(field, |c| &c.name)
}

/// Why a line is no part, by the columns' names where serde names a field.
fn refused(error: &serde_json::Error) -> String {
    let told = error.to_string();
    match told.strip_prefix("missing field `").and_then(|rest| rest.split_once('`')) {
        Some((field, _)) => {
            let column = columns().iter().find(|c| c.at.ends_with(&format!("/{field}")));
            format!("{}: is needed", column.map_or(field, |c| c.name.as_str()))
        }
        None => told,
    }
}

/// An id from a name: its letters and digits, the rest as hyphens.
pub fn id_of(name: &str) -> String {
    let plain = |c: char| if c.is_ascii_alphanumeric() || c == '.' { c.to_ascii_lowercase() } else { '-' };
    let id: String = name.chars().map(plain).collect();
    let words: Vec<&str> = id.split('-').filter(|w| !w.is_empty()).collect();
    let short: String = words.join("-").chars().take(60).collect();
    if short.is_empty() { "part".to_owned() } else { short }
}
