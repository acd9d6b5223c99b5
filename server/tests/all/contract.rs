//! The contract: every route of the document refuses what it cannot take, as a problem; every figure says its unit.

use crate::common;

use common::{assert_problem, body, client};
use dense_brick::store;
use rocket::http::Status;
use serde_json::Value;
use sqlx::PgPool;

const NOBODY: &str = "0190a000-0000-7000-8000-000000000000";

fn document() -> Value {
    serde_json::from_str(&dense_brick::api::openapi().unwrap()).unwrap()
}

/// Every operation: path with an id that nobody has, method, whether it takes a JSON body.
fn operations() -> Vec<(String, String, bool)> {
    let mut found = vec![];
    for (path, methods) in document()["paths"].as_object().unwrap() {
        for (method, operation) in methods.as_object().unwrap() {
            let takes_json = operation.pointer("/requestBody/content/application~1json").is_some();
            let path = path
                .replace("{id}", NOBODY)
                .replace("{number}", "1")
                .replace("{name}", "label")
                .replace("{part}", "nobody");
            found.push((path, method.clone(), takes_json));
        }
    }
    found
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn every_route_that_takes_json_refuses_what_is_none(pool: PgPool) {
    let client = client(pool.clone()).await;
    let mut asked = 0;
    for (path, method, _) in operations().into_iter().filter(|(.., takes_json)| *takes_json) {
        for (text, statuses) in
            [("{", &[400, 422][..]), ("[]", &[422]), ("\"text\"", &[422]), ("\u{0}", &[400, 422]), ("", &[400, 422])]
        {
            let request = match method.as_str() {
                "post" => client.post(path.clone()),
                "put" => client.put(path.clone()),
                other => panic!("{other} {path} takes a body"),
            };
            let response = request.body(text).dispatch().await;
            let status = response.status();
            assert!(statuses.contains(&status.code), "{method} {path} answers {status} to {text:?}");
            assert_eq!(response.content_type().unwrap().to_string(), "application/problem+json", "{method} {path}");
            assert_problem(&body(response).await, status);
            asked += 1;
        }
    }
    assert!(asked >= 60, "only {asked} requests");
    let kept: (i64,) = sqlx::query_as("select count(*) from plan").fetch_one(&pool).await.unwrap();
    assert_eq!(kept.0, 0, "a refused request left something behind");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn every_route_of_a_plan_says_when_there_is_none_and_when_the_id_is_no_id(pool: PgPool) {
    let client = client(pool).await;
    let plan = serde_json::json!({"revision": 1, "edit": 1, "plan": brick_core::Plan::blank("x")});
    // A body that each resource would take if it were there.
    let sample = |path: &str| match path {
        p if p.contains("/stock/cells") => serde_json::json!({"faults": null, "keep_with": null}),
        p if p.contains("/builds/") => {
            let event = serde_json::json!({"step": "label", "at": "", "happened": {"what": "done"}});
            serde_json::json!({"key": NOBODY, "event": event})
        }
        p if p.contains("/packs/") && p.ends_with("/card") => {
            let card = serde_json::json!({"name": "Lantern", "chemistry": "li_ion", "series": 3});
            serde_json::json!({"revision": 1, "card": card})
        }
        p if p.contains("/packs/") => {
            let entry = serde_json::json!({"at": "2026-01-01", "happened": {"what": "looked", "is_sound": true}});
            serde_json::json!({"key": NOBODY, "entry": entry})
        }
        p if p.contains("/stock/lots") => serde_json::json!({"labels": "", "lot": common::lot("Pump")}),
        _ => plan.clone(),
    };
    let mut asked = 0;
    for (path, method, _) in operations().into_iter().filter(|(path, ..)| path.contains(NOBODY)) {
        for (path, status) in
            [(path.clone(), Status::NotFound), (path.replace(NOBODY, "seven"), Status::UnprocessableEntity)]
        {
            let request = match method.as_str() {
                "get" => client.get(path.clone()),
                "post" => client.post(path.clone()),
                "put" => client.put(path.clone()),
                "delete" => client.delete(path.clone()),
                other => panic!("{other} {path}"),
            };
            let response = request.body(sample(&path).to_string()).dispatch().await;
            assert_eq!(response.status(), status, "{method} {path}");
            assert_problem(&body(response).await, status);
            asked += 1;
        }
    }
    assert!(asked >= 14, "only {asked} requests");
}

/// Endings that say a unit, and names that have none by their nature: shares, factors, ranges of any unit.
const ENDINGS: &[&str] = &[
    "_v", "_a", "_ohm", "_ah", "_wh", "_w", "_s", "_c", "_mm", "_mm2", "_g", "_days", "_share", "_soc", "_ohm_ah",
    "_steps", "_f", "_change", "_value", "_price",
];
const WITHOUT_UNIT: &[&str] = &[
    "value",
    "error",
    "efficiency",
    "tolerance",
    "detect_tolerance",
    "soc",
    "soc_low",
    "soc_high",
    "count",
    "at_hand",
    "to_buy",
    "lives",
    "min",
    "max",
    "low",
    "high",
    "price",
    "used",
    "duty",
    "range",
    "step",
    "times",
    "reading",
    "meant",
    "now",
    "from",
    "to",
    "load_factor",
    // Of a diagnosis: how likely, and volts as the table of readings calls them.
    "probability",
    "volts",
    // Of a log.
    "full_cycles",
    "charges_a_month",
    // What a label says of a pack: times its capacity an hour.
    "c_rating",
    // Weights of a grouping.
    "capacity",
    "resistance",
    "self_discharge",
];

#[test]
fn every_figure_of_the_api_says_its_unit_in_its_name() {
    let document = document();
    let mut unnamed = vec![];
    let mut seen = 0;
    for (schema, shape) in document["components"]["schemas"].as_object().unwrap() {
        walk(schema, shape, &mut |place, name| {
            seen += 1;
            if !ENDINGS.iter().any(|e| name.ends_with(e)) && !WITHOUT_UNIT.contains(&name) {
                unnamed.push(format!("{place}.{name}"));
            }
        });
    }
    assert!(seen > 100, "{seen} figures");
    assert!(unnamed.is_empty(), "no unit in {unnamed:?}");
}

/// Every property that is a floating-point number, wherever it is declared.
fn walk(place: &str, shape: &Value, meet: &mut impl FnMut(&str, &str)) {
    if let Some(properties) = shape.get("properties").and_then(Value::as_object) {
        for (name, property) in properties {
            let kind = &property["type"];
            let number = kind == "number" || kind.as_array().is_some_and(|k| k.iter().any(|k| k == "number"));
            if number {
                meet(place, name);
            }
            walk(&format!("{place}.{name}"), property, meet);
        }
    }
    for list in ["oneOf", "allOf", "anyOf"] {
        for part in shape.get(list).and_then(Value::as_array).into_iter().flatten() {
            walk(place, part, meet);
        }
    }
    if let Some(items) = shape.get("items") {
        walk(place, items, meet);
    }
}

/// The files that are handed out name themselves, and nothing in a name can leave its quotes.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn downloads_have_plain_names_whatever_the_plan_is_called(pool: PgPool) {
    let client = client(pool).await;
    for (name, file) in
        [("Säge \"12 V\"\\..", "s-ge-12-v.brick.json"), ("…", "plan.brick.json"), ("a/b;c=d", "a-b-c-d.brick.json")]
    {
        let new = serde_json::json!({ "name": name });
        let made = body(client.post("/api/plans").body(new.to_string()).dispatch().await).await;
        let path = format!("/api/plans/{}/file", made["id"].as_str().unwrap());
        let response = client.get(path).dispatch().await;
        let named = response.headers().get_one("Content-Disposition").unwrap();
        assert_eq!(named, format!("attachment; filename=\"{file}\""), "{name}");
    }
    let backup = client.get("/api/backup").dispatch().await;
    assert!(
        backup.headers().get_one("Content-Disposition").unwrap().starts_with("attachment; filename=\"dense-brick-20")
    );
}
