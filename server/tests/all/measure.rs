//! Measuring over the API: logs, readings, ways; bad ones are told by line and by field.

use crate::common;

use common::{assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::Status;
use serde_json::json;
use sqlx::PgPool;

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_log_gives_its_levels_and_a_bad_one_every_bad_line(pool: PgPool) {
    let client = client(pool).await;
    let lines: String =
        (0..240).map(|i| format!("{},{}\n", f64::from(i) * 0.5, if i % 60 == 0 { 10.0 } else { 4.0 })).collect();
    let response = client.post("/api/load-log?range_a=10&meter=hand%20meter").body(lines).dispatch().await;
    assert_eq!(response.status(), Status::Ok);
    let reading = body(response).await;
    assert_eq!(reading["run_a"], 4.0);
    assert_eq!(reading["peak"]["count"], 4);
    assert_eq!(reading["levels"][0]["draw"]["value_a"]["meter"], "hand meter");
    assert_eq!(reading["levels"][1]["draw"]["value_a"]["how"], "lower_bound");

    let response = client.post("/api/load-log").body("time,current\n0,1\n1,one\n2,2\n2,3").dispatch().await;
    assert_eq!(response.status(), Status::UnprocessableEntity);
    let problem = body(response).await;
    assert_problem(&problem, Status::UnprocessableEntity);
    let fields: Vec<_> = problem["errors"].as_array().unwrap().iter().map(|e| e["field"].clone()).collect();
    assert_eq!(fields, ["/text/3", "/text/5"]);

    let response = client.post("/api/load-log?interval_s=-1").body("1\n2").dispatch().await;
    assert_eq!(response.status(), Status::UnprocessableEntity);
    assert_eq!(body(response).await["errors"][0]["field"], "/interval_s");
    let large = client.post("/api/load-log").body("1,2\n".repeat(3_000_000)).dispatch().await;
    assert_eq!(large.status(), Status::PayloadTooLarge);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_reading_gets_its_error_and_a_swapped_or_impossible_one_is_refused(pool: PgPool) {
    let client = client(pool).await;
    let meter = json!({"id": "hand", "name": "hand meter", "reads": "volts", "range": 20.0, "step": 0.01,
        "error_share": 0.005, "error_steps": 2.0});
    let ask = |reading: f64, unit: &str| json!({"meter": meter, "reading": reading, "unit": unit});
    let (status, judged) = post(&client, "/api/reading", &ask(16.38, "v")).await;
    assert_eq!(status, Status::Ok);
    assert!((judged["error"].as_f64().unwrap() - 0.1019).abs() < 1e-9);
    for (reading, unit, told) in [(21.0, "v", "beyond its range"), (0.5, "a", "swapped")] {
        let (status, problem) = post(&client, "/api/reading", &ask(reading, unit)).await;
        assert_eq!(status, Status::UnprocessableEntity);
        assert_problem(&problem, Status::UnprocessableEntity);
        assert!(problem["detail"].as_str().unwrap().contains(told), "{problem}");
    }
    let (status, ways) = post(&client, "/api/ways", &json!({"meters": [meter], "current_a": 30.0})).await;
    assert_eq!((status, ways.as_array().unwrap().len()), (Status::Ok, 1));
    let (status, problem) = post(&client, "/api/ways", &json!({"meters": [], "current_a": 0.0})).await;
    assert_eq!((status, &problem["errors"][0]["field"]), (Status::UnprocessableEntity, &json!("/current_a")));
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_plan_of_the_first_version_is_upgraded_wherever_it_comes_from(pool: PgPool) {
    let client = client(pool.clone()).await;
    let text =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../core/tests/frozen/first-version.brick.json"));
    let text = text.unwrap();
    let imported = body(client.post("/api/plans/import").body(text.clone()).dispatch().await).await;
    assert_eq!(imported["plan"]["version"], brick_core::plan::VERSION);
    assert_eq!(imported["plan"]["meters"], json!([]));
    // One that was stored by the first version.
    let id = "0190a000-0000-7000-8000-000000000001";
    sqlx::query("insert into plan (id, name, revision) values ($1::uuid, 'Old', 1)")
        .bind(id)
        .execute(&pool)
        .await
        .unwrap();
    sqlx::query("insert into plan_revision (plan_id, revision, document) values ($1::uuid, 1, $2)")
        .bind(id)
        .bind(serde_json::from_str::<serde_json::Value>(&text).unwrap())
        .execute(&pool)
        .await
        .unwrap();
    let opened = body(client.get(format!("/api/plans/{id}")).dispatch().await).await;
    assert_eq!(opened["plan"], imported["plan"]);
    assert_eq!(post(&client, "/api/assess", &opened["plan"]).await.0, Status::Ok);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_plan_can_start_from_a_kind_of_job(pool: PgPool) {
    let client = client(pool).await;
    let new = json!({"name": "Field meter", "job": "instrument_with_charger", "currency": "CHF"});
    let (status, made) = post(&client, "/api/plans", &new).await;
    assert_eq!(status, Status::Created);
    assert_eq!(made["plan"]["device"]["job"], "instrument_with_charger");
    assert_eq!(made["plan"]["device"]["brains"]["charges_itself"], json!(null), "to be found out");
    assert_eq!(made["plan"]["device"]["brains"]["soft_start"], false);
    assert_eq!(made["plan"]["currency"], "CHF");
    let (status, problem) = post(&client, "/api/plans", &json!({"name": "x", "job": "kitchen"})).await;
    assert_eq!((status, &problem["errors"][0]["field"]), (Status::UnprocessableEntity, &json!("/job")));
}
