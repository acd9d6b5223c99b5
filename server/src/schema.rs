//! The JSON Schema of plan files, made from the types.

use brick_core::Plan;
use brick_core::plan::{FORMAT, VERSION};
use serde_json::{Map, Value, json};
use utoipa::{PartialSchema, ToSchema};

/// The schema as text, ending in a newline. JSON Schema 2020-12, the dialect of OpenAPI 3.1.
pub fn plan_schema() -> serde_json::Result<String> {
    let mut found = vec![];
    Plan::schemas(&mut found);
    let mut definitions = Map::new();
    for (name, schema) in found {
        definitions.insert(name, serde_json::to_value(schema)?);
    }
    let mut plan = serde_json::to_value(Plan::schema())?;
    plan["properties"]["format"] = json!({"const": FORMAT});
    plan["properties"]["version"] = json!({"const": VERSION});
    let mut schema = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Dense Brick plan",
    });
    if let (Value::Object(schema), Value::Object(plan)) = (&mut schema, plan) {
        schema.extend(plan);
        schema.insert("$defs".to_owned(), Value::Object(definitions));
    }
    lead_home(&mut schema);
    serde_json::to_string_pretty(&schema).map(|text| text + "\n")
}

/// References of OpenAPI's components become references of the schema itself.
fn lead_home(value: &mut Value) {
    match value {
        Value::Object(map) => {
            if let Some(Value::String(target)) = map.get_mut("$ref") {
                *target = target.replace("#/components/schemas/", "#/$defs/");
            }
            map.values_mut().for_each(lead_home);
        }
        Value::Array(items) => items.iter_mut().for_each(lead_home),
        _ => {}
    }
}
