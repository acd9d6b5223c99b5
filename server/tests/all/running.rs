//! Runs, charges and maps over HTTP, and a maker's own cell.

use crate::common::{ask, assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::{ContentType, Status};
use serde_json::{Value, json};
use sqlx::PgPool;

fn demo(name: &str) -> Value {
    let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap()
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn variants_are_run_side_by_side_and_wrong_ones_are_named(pool: PgPool) {
    let client = client(pool).await;
    let plan = demo("hedge-shears");
    let asked = json!({"plan": plan, "variants": [{}, {"parallel": 3}, {"cutoff_v": 13.5}]});
    let (status, told) = post(&client, "/api/run", &asked).await;
    assert_eq!(status, Status::Ok);
    let time_s = |i: usize| told["runs"][i]["time_s"].as_f64().unwrap();
    assert!(time_s(1) > 1.3 * time_s(0) && time_s(2) < time_s(0));
    assert_eq!(told["runs"][2]["end"]["who"], "cut_off");
    assert!(told["original"]["time_s"].as_f64().unwrap() > 0.0 && told["sliders"].as_array().unwrap().len() == 5);
    for (wrong, field) in [
        (json!({"plan": plan, "variants": []}), "/variants"),
        (json!({"plan": plan, "variants": [{"charge_v": 5.0}]}), "/variants/0/charge_v"),
        (json!({"plan": plan, "variants": [{}], "recorded": "time_s,current_a\n0,2\n5,x\n"}), "/recorded/3"),
    ] {
        let (status, problem) = post(&client, "/api/run", &wrong).await;
        assert_problem(&problem, Status::UnprocessableEntity);
        assert_eq!((status, &problem["errors"][0]["field"]), (Status::UnprocessableEntity, &json!(field)));
    }
    let (_, recorded) =
        post(&client, "/api/run", &json!({"plan": plan, "variants": [{}], "recorded": "time_s,current_a\n0,2\n5,2\n"}))
            .await;
    assert!(recorded["runs"][0]["time_s"].as_f64().unwrap() > 4.0 * time_s(0), "2 A instead of the shears' load");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn charges_and_maps_are_answered_and_refused(pool: PgPool) {
    let client = client(pool).await;
    let boat = demo("bait-boat");
    let (status, filled) = ask(&client, &boat, &json!({"about": "fill"})).await;
    assert_eq!(status, Status::Ok);
    assert!(filled["full_s"].as_f64().unwrap() > filled["most_s"].as_f64().unwrap());
    let axis = |turned: &str, from: f64, to: f64, stops: u32| json!({"turned": turned, "from": from, "to": to, "stops": stops});
    let map = |across: Value| json!({"plan": boat, "sweep": {"across": across, "up": axis("ambient", 0.0, 30.0, 2)}});
    let (status, swept) = post(&client, "/api/run-map", &map(axis("load", 0.5, 2.0, 4))).await;
    assert_eq!((status, swept["cells"].as_array().unwrap().len()), (Status::Ok, 8));
    for (wrong, field) in [
        (axis("load", 0.5, 99.0, 4), "/across/to"),
        (axis("load", 0.5, 2.0, 400), "/across/stops"),
        (axis("ambient", 0.0, 9.0, 3), "/up/turned"),
    ] {
        let (status, problem) = post(&client, "/api/run-map", &map(wrong)).await;
        assert_problem(&problem, status);
        assert_eq!(problem["errors"][0]["field"], field);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_saved_run_is_a_file_and_a_log_is_fitted(pool: PgPool) {
    let client = client(pool).await;
    let import = |plan: &Value| client.post("/api/plans/import").header(ContentType::JSON).body(plan.to_string());
    let saved = body(import(&demo("hedge-shears")).dispatch().await).await;
    let blank = serde_json::to_value(brick_core::Plan::blank("Lamp")).unwrap();
    let empty = body(import(&blank).dispatch().await).await;
    let file = |id: &Value| format!("/api/plans/{}/run-file", id["id"].as_str().unwrap());
    let response = client.get(file(&saved)).dispatch().await;
    assert_eq!((response.status(), response.content_type()), (Status::Ok, Some(ContentType::CSV)));
    let text = response.into_string().await.unwrap();
    let mut lines = text.lines();
    assert!(lines.next().unwrap().starts_with("Test Time / s,Voltage / V,Current / A,"));
    let first: Vec<f64> = lines.next().unwrap().split(',').map(|c| c.parse().unwrap()).collect();
    assert!(first[0] == 0.0 && first[1] > 15.0 && first[2] < 0.0, "a discharge is negative there: {first:?}");
    assert_problem(&body(client.get(file(&empty)).dispatch().await).await, Status::Conflict);

    let log: String = (0..300).map(|k| format!("{},{},2\n", k * 15, 4.1 - 0.004 * f64::from(k))).collect();
    let asked = |plan: &Value, text: &str| json!({"plan": plan, "text": text});
    let good = format!("time_s,voltage_v,current_a\n{log}");
    let (status, told) = post(&client, "/api/own-cell", &asked(&demo("hedge-shears"), &good)).await;
    assert_eq!((status, &told["change"]["at"]), (Status::Ok, &json!("/packs/0/fitted")), "{told}");
    let (status, problem) = post(&client, "/api/own-cell", &asked(&blank, &good)).await;
    assert_problem(&problem, Status::Conflict);
    assert_eq!(status, Status::Conflict);
    let (_, problem) =
        post(&client, "/api/own-cell", &asked(&demo("hedge-shears"), "time_s,voltage_v,current_a\n0,44,2\n")).await;
    assert_problem(&problem, Status::UnprocessableEntity);
    assert_eq!(problem["errors"][0]["field"], "/text/2");
    // Charge and volts as a data sheet prints them, with a bad current, and a second discharge that is none.
    let printed: String = (0..50).map(|k| format!("{},{}\n", 50 * k, 4.1 - 0.0245 * f64::from(k))).collect();
    let printed = format!("capacity_mah,voltage_v\n{printed}");
    let sheet = |current_a: f64| json!({"plan": demo("hedge-shears"), "text": printed, "current_a": current_a});
    let (status, told) = post(&client, "/api/own-cell", &sheet(2.0)).await;
    assert_eq!(status, Status::Ok, "{told}");
    let curve = told["change"]["value"]["curve"].as_array().unwrap();
    assert!(curve.len() > 10 && curve[0]["soc"] == 0.0, "{curve:?}");
    let (_, problem) = post(&client, "/api/own-cell", &sheet(-2.0)).await;
    assert_eq!(problem["errors"][0]["field"], "/current_a", "{problem}");
    let mut both = asked(&demo("hedge-shears"), &good);
    both["second"] = json!({"text": "time_s,voltage_v,current_a\n0,44,2\n"});
    let (_, problem) = post(&client, "/api/own-cell", &both).await;
    assert_eq!(problem["errors"][0]["field"], "/second/text/2", "{problem}");
}
