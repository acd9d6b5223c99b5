//! What changed from one revision of a plan to the next, in words.

use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;

use super::Plan;
use super::fields::{self, Field};
use crate::base::quantity::{Unit, show};

/// One thing that changed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Difference {
    /// JSON pointer of the place, in the newer plan.
    pub at: String,
    /// The place in words: "fuse, rating".
    pub what: String,
    /// What stood there; absent where nothing did.
    pub before: Option<String>,
    /// What stands there; absent where nothing does.
    pub after: Option<String>,
}

/// Everything that differs between two plans, in the order of the document.
///
/// A part that was exchanged is one difference, not one for each of its figures.
pub fn differences(before: &Plan, after: &Plan) -> Vec<Difference> {
    // Every type of the plan turns into JSON: its maps have text keys and its floats are finite.
    let (old, new) =
        (serde_json::to_value(before).unwrap_or_default(), serde_json::to_value(after).unwrap_or_default());
    let mut found = vec![];
    compare(&mut found, "", &[], Some(&old), Some(&new));
    found
}

fn compare(found: &mut Vec<Difference>, at: &str, words: &[String], old: Option<&Value>, new: Option<&Value>) {
    let (old, new) = (old.filter(|v| !v.is_null()), new.filter(|v| !v.is_null()));
    if old == new {
        return;
    }
    match (old, new) {
        (Some(Value::Object(a)), Some(Value::Object(b))) if !is_one_thing(old, new) => {
            for key in b.keys().chain(a.keys().filter(|k| !b.contains_key(*k))) {
                compare(
                    found,
                    &format!("{at}/{key}"),
                    &with(words, &format!("{at}/{key}"), key, a.get(key).or(b.get(key))),
                    a.get(key),
                    b.get(key),
                );
            }
        }
        (Some(Value::Array(a)), Some(Value::Array(b))) => {
            for (i, item) in b.iter().enumerate() {
                let before = a.iter().find(|x| id_of(x) == id_of(item));
                compare(found, &format!("{at}/{i}"), &with(words, at, "", Some(item)), before, Some(item));
            }
            for (i, item) in a.iter().enumerate().filter(|(_, x)| b.iter().all(|y| id_of(x) != id_of(y))) {
                compare(found, &format!("{at}/{i}"), &with(words, at, "", Some(item)), Some(item), None);
            }
        }
        _ => found.push(Difference {
            at: at.to_owned(),
            what: words.join(", "),
            before: old.map(|v| told(at, v)),
            after: new.map(|v| told(at, v)),
        }),
    }
}

/// Whether two objects are told as a whole: readings, and choices that hold another part.
fn is_one_thing(old: Option<&Value>, new: Option<&Value>) -> bool {
    let name = |v: Option<&Value>| v.and_then(part_name).map(str::to_owned);
    let has = |key: &str| [old, new].iter().flatten().any(|v| v.get(key).is_some());
    if has("how") || has("as") || has("standard") || has("shape") {
        return true;
    }
    has("state") && (old.and_then(|v| v.get("state")) != new.and_then(|v| v.get("state")) || name(old) != name(new))
}

/// Name of the part in a choice; parts of nodes lie one level deeper than cells, strips and wires.
fn part_name(choice: &Value) -> Option<&str> {
    let part = choice.get("part")?;
    let offer = part.get("offer").or_else(|| part.as_object()?.values().find_map(|v| v.get("offer")))?;
    offer.get("name")?.as_str()
}

/// What tells items of a list apart.
fn id_of(item: &Value) -> &Value {
    ["id", "finding", "test", "name"].iter().find_map(|key| item.get(*key)).unwrap_or(item)
}

/// The words of a place and the key below it; layers of the document that say nothing are left out.
fn with(words: &[String], at: &str, key: &str, value: Option<&Value>) -> Vec<String> {
    const SILENT: [&str; 14] = [
        "packs",
        "nodes",
        "runs",
        "part",
        "module",
        "fuse",
        "connector",
        "switch",
        "offer",
        "environment",
        "loads",
        "states",
        "protects",
        "charges",
    ];
    let mut words = words.to_vec();
    if key.is_empty() {
        let name = value.and_then(|v| v.get("name").or(v.get("id")).or(v.get("finding"))).and_then(Value::as_str);
        if let Some(name) = name.filter(|name| *name != "pack") {
            words.push(name.to_owned());
        }
    } else if let Some(field) = fields::at(at) {
        words.push(in_a_sentence(field.label));
    } else if !SILENT.contains(&key) {
        words.push(bare(key).replace('_', " "));
    }
    words
}

/// A label with a small letter; one of capitals keeps them.
fn in_a_sentence(label: &str) -> String {
    let mut letters = label.chars();
    match (letters.next(), letters.next()) {
        (Some(first), Some(second)) if second.is_lowercase() => {
            first.to_lowercase().chain([second]).chain(letters).collect()
        }
        _ => label.to_owned(),
    }
}

/// Endings of names that say the unit, where no part's figure does.
const ENDINGS: [(&str, Unit); 14] = [
    ("_mm2", Unit::Mm2),
    ("_mm", Unit::Mm),
    ("_ohm", Unit::Ohm),
    ("_ah", Unit::Ah),
    ("_wh", Unit::Wh),
    ("_days", Unit::Days),
    ("_v", Unit::V),
    ("_a", Unit::A),
    ("_w", Unit::W),
    ("_s", Unit::S),
    ("_c", Unit::C),
    ("_g", Unit::G),
    ("efficiency", Unit::Share),
    ("tolerance", Unit::Share),
];

fn bare(key: &str) -> &str {
    ENDINGS.iter().filter(|(e, _)| e.starts_with('_')).find_map(|(e, _)| key.strip_suffix(e)).unwrap_or(key)
}

fn told(at: &str, value: &Value) -> String {
    let name = at.rsplit('/').next().unwrap_or_default();
    let field = fields::at(at);
    let by_name = ENDINGS.iter().find(|(e, _)| name.ends_with(e)).map_or(Unit::Ratio, |&(_, unit)| unit);
    let unit = field.and_then(Field::range).map_or(by_name, |r| r.unit);
    match value {
        Value::Number(n) => n.as_f64().map_or_else(|| n.to_string(), |v| show(v, unit)),
        Value::Bool(true) => "yes".to_owned(),
        Value::Bool(false) => "no".to_owned(),
        Value::String(text) if text.chars().count() > 60 => format!("{}…", text.chars().take(59).collect::<String>()),
        Value::String(text) => field.and_then(|f| f.word(text)).map_or_else(|| text.replace('_', " "), str::to_owned),
        Value::Object(map) => told_object(at, value, map),
        Value::Array(items) => format!("{} entries", items.len()),
        Value::Null => "unknown".to_owned(),
    }
}

fn told_object(at: &str, value: &Value, map: &serde_json::Map<String, Value>) -> String {
    if let (Some(reading), Some(how)) = (map.get("value"), map.get("how").and_then(Value::as_str)) {
        return format!("{} {}", told(at, reading), how.replace('_', " "));
    }
    match map.get("state").and_then(Value::as_str) {
        Some("open") => return "open".to_owned(),
        Some("none") => return "none".to_owned(),
        Some(_) => return part_name(value).unwrap_or("chosen").to_owned(),
        None => {}
    }
    if map.contains_key("as") {
        let reading = map.iter().find(|(key, _)| key.starts_with("value_"));
        return reading.map_or_else(String::new, |(key, v)| told(&format!("{at}/{key}"), v));
    }
    if let Some(awg) = map.get("awg") {
        return format!("{awg} AWG");
    }
    if let Some(area) = map.get("area_mm2") {
        return told(&format!("{at}/area_mm2"), area);
    }
    let name = map.get("name").or(map.get("reason")).or(map.get("id")).and_then(Value::as_str);
    name.map_or_else(|| "other figures".to_owned(), str::to_owned)
}
