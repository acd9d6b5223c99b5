//! The wiring diagram over HTTP: of a plan as it is sent, and of a saved one as a page.

use crate::common::{ask, assert_problem, body, client};
use dense_brick::store;
use rocket::http::{ContentType, Status};
use serde_json::{Value, json};
use sqlx::PgPool;

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_diagram_is_drawn_in_the_condition_that_is_asked_for_and_in_no_other(pool: PgPool) {
    let client = client(pool).await;
    let blank = serde_json::to_value(brick_core::Plan::blank("Lamp")).unwrap();
    assert_eq!(ask(&client, &blank, &json!({"about": "diagram"})).await, (Status::Ok, Value::Null));
    let mut plan = blank.clone();
    (plan["packs"][0]["series"], plan["packs"][0]["chemistry"]) = (json!(3), json!("li_ion"));
    let (status, drawn) = ask(&client, &plan, &json!({"about": "diagram"})).await;
    assert_eq!(status, Status::Ok);
    assert!((drawn["nodes"][3]["node_v"].as_f64().unwrap() - 12.6).abs() < 1e-9, "{}", drawn["nodes"][3]);
    let asked = json!({"about": "diagram", "shown": {"condition": "resting"}});
    let (status, problem) = ask(&client, &plan, &asked).await;
    assert_problem(&problem, status);
    assert_eq!(status, Status::UnprocessableEntity);

    let import = |plan: &Value| client.post("/api/plans/import").header(ContentType::JSON).body(plan.to_string());
    let (saved, empty) = (body(import(&plan).dispatch().await).await, body(import(&blank).dispatch().await).await);
    let page = |id: &Value, asked: &str| format!("/api/plans/{}/diagram-file{asked}", id["id"].as_str().unwrap());
    let response = client.get(page(&saved, "?condition=tripped&held=half")).dispatch().await;
    assert_eq!((response.status(), response.content_type()), (Status::Ok, Some(ContentType::SVG)));
    let named = response.headers().get_one("Content-Disposition").unwrap().to_owned();
    assert_eq!(named, "inline; filename=\"lamp-wiring.svg\"");
    assert!(response.into_string().await.unwrap().contains("The board has opened"));
    for (address, status, field) in [
        (page(&saved, "?held=nearly"), Status::UnprocessableEntity, Some("/held")),
        (page(&saved, "?condition="), Status::UnprocessableEntity, Some("/condition")),
        (page(&empty, ""), Status::Conflict, None),
    ] {
        let problem = body(client.get(&address).dispatch().await).await;
        assert_problem(&problem, status);
        assert_eq!(problem["errors"][0]["field"].as_str(), field, "{address}");
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_is_odd_is_diagnosed_and_what_cannot_be_is_named_by_its_field(pool: PgPool) {
    let client = client(pool).await;
    let plan: Value = serde_json::from_str(include_str!("../../../demo/plans/hedge-shears.brick.json")).unwrap();
    let about = |evidence: Value| json!({"about": "diagnosis", "evidence": evidence});
    let taken = |red: &str, volts: f64| json!({"red": red, "black": "T0", "condition": "rest", "volts": volts});
    let (status, found) =
        ask(&client, &plan, &about(json!({"readings": [taken("T1", 3.64), taken("T2", 10.9), taken("T3", 7.28)]})))
            .await;
    assert_eq!(status, Status::Ok, "{found}");
    assert_eq!((&found["hypotheses"][0]["fault"], &found["hypotheses"][0]["at"]), (&json!("taps_swapped"), &json!(2)));
    assert_eq!(found["hypotheses"][0]["place"]["nodes"].as_array().map(Vec::len), Some(2));
    assert_eq!((&found["sure"], &found["fits"]), (&json!(true), &json!(true)));
    for (evidence, field) in [
        (json!({"readings": [taken("T9", 3.6)]}), "/readings/0/red"),
        (json!({"readings": [taken("T1", 9e9)]}), "/readings/0/volts"),
        (json!({"answers": [{"question": "colour", "answer": "red"}]}), "/answers/0/question"),
    ] {
        let (status, refused) = ask(&client, &plan, &about(evidence)).await;
        assert_eq!(status, Status::UnprocessableEntity, "{refused}");
        assert!(refused.to_string().contains(field), "{refused}");
    }
    // What the page offers is what is understood: every symptom and every answer of the reference.
    let reference: Value = client.get("/api/reference").dispatch().await.into_json().await.unwrap();
    let symptoms: Vec<&Value> = reference["symptoms"].as_array().unwrap().iter().map(|s| &s["symptom"]).collect();
    assert!(symptoms.len() >= 13);
    for question in reference["odd_questions"].as_array().unwrap() {
        let answer = json!([{"question": question["id"], "answer": question["answers"][0]["id"]}]);
        let (status, found) = ask(&client, &plan, &about(json!({"seen": [symptoms[0]], "answers": answer}))).await;
        assert_eq!(status, Status::Ok, "{found}");
    }
}
