//! A build over HTTP: what happened is kept once and in order, shut gates stay shut, and whoever watches is told at once.

use std::time::Duration;

use crate::common;

use common::{assert_problem, body, client, post};
use dense_brick::store;
use rocket::futures::future::join_all;
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn get(client: &Client, path: &str) -> Value {
    body(client.get(path.to_owned()).dispatch().await).await
}

/// A demo plan that can be built, and a build of it.
async fn begun(client: &Client) -> (Value, String) {
    client.post("/api/demo").dispatch().await;
    let plans = get(client, "/api/plans").await;
    let plans = plans.as_array().unwrap();
    let plan = plans.iter().find(|p| p["name"] == "Hedge shears").unwrap_or(&plans[0]);
    let opened = get(client, &format!("/api/plans/{}", plan["id"].as_str().unwrap())).await;
    let (status, build) =
        post(client, &format!("/api/plans/{}/builds", plan["id"].as_str().unwrap()), &json!({})).await;
    assert_eq!(status, Status::Created, "{build}");
    (opened, format!("/api/builds/{}", build["id"].as_str().unwrap()))
}

fn note(text: &str) -> Value {
    let event = json!({"step": "cells/look", "at": "2026-03-02T10:00:00Z", "happened": {"what": "note", "text": text}});
    json!({"key": Uuid::now_v7(), "event": event})
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_happened_is_kept_once_however_often_it_is_sent(pool: PgPool) {
    let client = client(pool).await;
    let (_, path) = begun(&client).await;
    let events = format!("{path}/events");
    let sent = note("bought in May");
    let (status, first) = post(&client, &events, &sent).await;
    assert_eq!((status, &first["count"]), (Status::Ok, &json!(1)), "{first}");
    let (status, again) = post(&client, &events, &sent).await;
    assert_eq!((status, &again["count"]), (Status::Ok, &json!(1)));
    // Ten at once from two tables: each is kept, none twice.
    let notes: Vec<Value> = (0..10).map(|i| note(&format!("number {i}"))).collect();
    let answers = join_all(notes.iter().chain(&notes).map(|n| post(&client, &events, n))).await;
    assert!(answers.iter().all(|(status, _)| *status == Status::Ok));
    let build = get(&client, &path).await;
    assert_eq!(build["count"], 11);
    let file = get(&client, &format!("{path}/file")).await;
    assert_eq!(file["events"].as_array().unwrap().len(), 11);
    assert_eq!(file["events"][0]["happened"]["text"], "bought in May");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_shut_gate_and_nonsense_are_refused_by_name_and_change_nothing(pool: PgPool) {
    let client = client(pool).await;
    let (_, path) = begun(&client).await;
    let events = format!("{path}/events");
    let of = |step: &str, happened: Value| json!({"key": Uuid::now_v7(), "event": {"step": step, "at": "2026-03-02T10:00:00Z", "happened": happened}});
    for (sent, field) in [
        (of("power/load", json!({"what": "done"})), "/step"),
        (of("no/such-step", json!({"what": "done"})), "/step"),
        (of("cells/look", json!({"what": "note", "text": ""})), "/text"),
        (of("cells/look", json!({"what": "photo", "sha256": "../../etc"})), "/sha256"),
        (of("cells/look", json!({"what": "read", "ask": "sound", "value": 3.7})), "/ask"),
    ] {
        let (status, problem) = post(&client, &events, &sent).await;
        assert_eq!(status, Status::UnprocessableEntity, "{problem}");
        assert_problem(&problem, Status::UnprocessableEntity);
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
    }
    let (status, _) = post(&client, &events, &json!({"key": "x", "event": {}})).await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert_eq!(get(&client, &path).await["count"], 0);
    let missing = format!("/api/builds/{}", Uuid::now_v7());
    assert_problem(&get(&client, &missing).await, Status::NotFound);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_plan_that_changes_leaves_the_build_until_it_is_told_to_follow(pool: PgPool) {
    let client = client(pool).await;
    let (opened, path) = begun(&client).await;
    let build = get(&client, &path).await;
    assert_eq!(build["is_changed"], false);
    let step = build["sheet"]["steps"].as_array().unwrap().iter().find(|s| s["phase"] == "arrival").unwrap().clone();
    let ask = step["asks"].as_array().unwrap().iter().find(|a| a["expects"]["as"] == "yes").unwrap();
    let happened = json!({"what": "answered", "ask": ask["key"], "yes": true});
    let event = json!({"step": step["key"], "at": "2026-03-02T10:00:00Z", "happened": happened});
    let (status, _) = post(&client, &format!("{path}/events"), &json!({"key": Uuid::now_v7(), "event": event})).await;
    assert_eq!(status, Status::Ok);

    let mut plan = opened["plan"].clone();
    plan["notes"] = json!("Nothing that is built changes.");
    let save = json!({"revision": opened["revision"], "edit": opened["edit"], "plan": plan});
    let place = format!("/api/plans/{}", opened["id"].as_str().unwrap());
    let response = client.put(place).body(save.to_string()).dispatch().await;
    assert_eq!(response.status(), Status::Ok);
    let build = get(&client, &path).await;
    assert_eq!((&build["is_changed"], &build["again"]), (&json!(true), &json!([])));
    let (status, now) = post(&client, &format!("{path}/newest"), &json!({})).await;
    assert_eq!((status, &now["is_changed"]), (Status::Ok, &json!(false)));
    assert_eq!(now["count"], 1, "what was read stays");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn who_watches_a_build_is_told_at_once(pool: PgPool) {
    use rocket::tokio::io::{AsyncBufReadExt, BufReader};
    use rocket::tokio::time::timeout;
    let client = client(pool).await;
    let (_, path) = begun(&client).await;
    let watch = client.get(format!("{path}/watch")).dispatch().await;
    let mut lines = BufReader::new(watch).lines();
    let next = async |lines: &mut rocket::tokio::io::Lines<_>| loop {
        let line = lines.next_line().await.unwrap().unwrap();
        if let Some(id) = line.strip_prefix("data:") {
            return id.to_owned();
        }
    };
    let first = timeout(Duration::from_secs(20), next(&mut lines)).await.unwrap();
    let (status, _) = post(&client, &format!("{path}/events"), &note("seen?")).await;
    assert_eq!(status, Status::Ok);
    let second = timeout(Duration::from_secs(20), next(&mut lines)).await.unwrap();
    assert_eq!(first, second);
}
