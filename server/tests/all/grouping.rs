//! Grouping and measuring over the API: jobs, reservations, the tester.

use crate::common;

use std::time::Duration;

use brick_bench::tester::{Tester, Trouble};
use common::stock::{ended, get, ids, import, make_lot, table};
use common::{body, client, lot, post};
use dense_brick::store;
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;
use tokio::net::TcpListener;

async fn group(client: &Client, lots: &[&str], series: usize, parallel: usize, more: Value) -> Value {
    let mut request = json!({"lots": lots, "series": series, "parallel": parallel, "mix_lots": true, "with_watched": true,
        "seed": 1, "effort": "quick"});
    for (key, value) in more.as_object().unwrap() {
        request[key] = value.clone();
    }
    let (status, job) = post(client, "/api/stock/grouping", &request).await;
    assert_eq!(status, Status::Accepted, "{job}");
    ended(client, &job).await
}

fn groups_of(job: &Value) -> Vec<Vec<String>> {
    let groups = job["grouped"]["grouping"]["groups"].as_array().unwrap();
    let labels =
        |g: &Value| g["cells"].as_array().unwrap().iter().map(|c| c["label"].as_str().unwrap().to_owned()).collect();
    groups.iter().map(labels).collect()
}

async fn plan(client: &Client, name: &str) -> Value {
    post(client, "/api/plans", &json!({"name": name, "job": "motor_tool"})).await.1
}

async fn reserve(client: &Client, plan: &Value, groups: &[Vec<String>]) -> (Status, Value) {
    let all = ids(client, "limit=500").await;
    let id = |label: &String| all.iter().find(|c| c.0 == *label).map(|c| c.1.clone()).unwrap();
    let groups: Vec<Vec<String>> = groups.iter().map(|g| g.iter().map(id).collect()).collect();
    let request = json!({"plan": plan["id"], "revision": plan["revision"], "edit": plan["edit"], "groups": groups});
    post(client, "/api/stock/reservations", &request).await
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn cells_are_grouped_held_left_out_and_reserved_for_one_plan_only(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 40)).await;
    let job = group(&client, &[&pump], 4, 2, json!({})).await;
    assert_eq!(job["stage"], "done", "{job}");
    let first = groups_of(&job);
    assert_eq!(first.iter().map(Vec::len).collect::<Vec<_>>(), [2, 2, 2, 2]);
    assert_eq!(job["grouped"]["schools"].as_array().unwrap().len(), 3);
    let cells = ids(&client, "limit=500").await;
    let id = |label: &str| cells.iter().find(|c| c.0 == label).unwrap().1.clone();
    let held = json!({"locked": [{"cell": id("T1"), "group": 3}], "excluded": [id(&first[0][0])]});
    let again = group(&client, &[&pump], 4, 2, held).await;
    assert!(groups_of(&again)[2].contains(&"T1".to_owned()), "{:?}", groups_of(&again));
    assert!(!groups_of(&again).concat().contains(&first[0][0]));

    let shears = plan(&client, "Shears").await;
    let (status, saved) = reserve(&client, &shears, &first).await;
    assert_eq!(status, Status::Ok, "{saved}");
    assert_eq!((&saved["plan"]["packs"][0]["series"], &saved["plan"]["packs"][0]["parallel"]), (&json!(4), &json!(2)));
    assert_eq!(saved["plan"]["packs"][0]["groups"][0]["cells"][0]["label"], first[0][0].as_str());
    assert_eq!(ids(&client, "state=reserved").await.len(), 8);
    // Another plan cannot have them: neither by grouping, nor by force, nor by a copy of the document.
    let without = group(&client, &[&pump], 4, 2, json!({})).await;
    assert!(first.concat().iter().all(|l| !groups_of(&without).concat().contains(l)));
    let saw = plan(&client, "Saw").await;
    let (status, told) = reserve(&client, &saw, &first).await;
    assert_eq!(status, Status::Conflict);
    assert!(told["detail"].as_str().unwrap().contains("reserved for “Shears”"), "{told}");
    let (status, copy) = post(&client, "/api/plans", &json!({"plan": saved["plan"]})).await;
    assert_eq!(status, Status::Created);
    assert_eq!(copy["plan"]["packs"][0]["groups"][0]["cells"][0]["stock_id"], Value::Null);

    // Saved without them, the plan gives them back; an older revision takes them again, unless somebody has them by now.
    let path = format!("/api/plans/{}", shears["id"].as_str().unwrap());
    let mut empty = saved["plan"].clone();
    empty["packs"][0]["groups"] = json!([]);
    let save = |from: &Value, plan: &Value| {
        json!({"revision": from["revision"], "edit": from["edit"], "plan": plan, "apart": true}).to_string()
    };
    let released = body(client.put(path.clone()).body(save(&saved, &empty)).dispatch().await).await;
    assert!(ids(&client, "state=reserved").await.is_empty());
    let (status, _) = reserve(&client, &saw, &first[..1]).await;
    assert_eq!(status, Status::Ok);
    let refused = client.put(path.clone()).body(save(&released, &saved["plan"])).dispatch().await;
    assert_eq!(refused.status(), Status::Conflict);
    assert!(body(refused).await["detail"].as_str().unwrap().contains("for “Saw”"));
    assert_eq!(ids(&client, "state=reserved").await.len(), 2, "a refused save left something behind");

    // A deleted plan gives its cells back, and gets them again with its restoration if they are free.
    let saw_path = format!("/api/plans/{}", saw["id"].as_str().unwrap());
    client.delete(saw_path.clone()).dispatch().await;
    assert!(ids(&client, "state=reserved").await.is_empty());
    assert_eq!(client.post(format!("{saw_path}/restore")).dispatch().await.status(), Status::NoContent);
    assert_eq!(ids(&client, "state=reserved").await.len(), 2);
    client.delete(saw_path.clone()).dispatch().await;
    let back = client.put(path).body(save(&released, &saved["plan"])).dispatch().await;
    assert_eq!(back.status(), Status::Ok);
    let refused = client.post(format!("{saw_path}/restore")).dispatch().await;
    assert_eq!(refused.status(), Status::Conflict);
    // Reserved cells are built in by hand, and their lot cannot be deleted.
    let all: Vec<String> = ids(&client, "state=reserved").await.into_iter().map(|c| c.1).collect();
    let (status, _) = post(&client, "/api/stock/states", &json!({"cells": all, "state": "built_in"})).await;
    assert_eq!(status, Status::NoContent);
    assert_eq!(client.delete(format!("/api/stock/lots/{pump}")).dispatch().await.status(), Status::Conflict);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_cannot_be_grouped_is_refused_or_ends_with_its_reason(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 10)).await;
    let mut other = lot("Flat");
    other["cell"]["chemistry"] = json!("li_fe_po4");
    other["cell"]["rated_ah"] = json!(1.5);
    let (_, flat) = post(&client, "/api/stock/lots", &json!({"lot": other, "labels": "F1-F4"})).await;
    let too_few = group(&client, &[&pump], 4, 4, json!({})).await;
    assert_eq!(too_few["stage"], "failed");
    assert!(too_few["problem"]["detail"].as_str().unwrap().contains("16 cells are needed; 10 can be chosen"));
    let base = json!({"lots": [pump, flat["id"]], "series": 2, "parallel": 2, "mix_lots": true, "with_watched": true, "seed": 1, "effort": "quick"});
    for (change, field) in [
        (json!({}), "/lots"),
        (json!({"lots": []}), "/lots"),
        (json!({"lots": [pump], "locked": [{"cell": pump, "group": 3}]}), "/locked/0/group"),
        (json!({"lots": [pump], "effort": "endless"}), "/effort"),
    ] {
        let mut request = base.clone();
        for (key, value) in change.as_object().unwrap() {
            request[key] = value.clone();
        }
        let (status, told) = post(&client, "/api/stock/grouping", &request).await;
        assert_eq!(status, Status::UnprocessableEntity, "{field}");
        assert_eq!(told["errors"][0]["field"], field, "{told}");
    }
    let nobody = "00000000-0000-0000-0000-000000000000";
    assert_eq!(client.get(format!("/api/jobs/{nobody}")).dispatch().await.status(), Status::NotFound);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_long_search_is_watched_by_events_and_ended(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 400)).await;
    let request = json!({"lots": [pump], "series": 16, "parallel": 10, "mix_lots": true, "with_watched": true, "seed": 1,
        "effort": "thorough"});
    let (_, job) = post(&client, "/api/stock/grouping", &request).await;
    let path = format!("/api/jobs/{}", job["id"].as_str().unwrap());
    assert_eq!(client.delete(path.clone()).dispatch().await.status(), Status::NoContent);
    let text = client.get(format!("{path}/events")).dispatch().await.into_string().await.unwrap();
    let last = text.lines().rfind(|l| l.starts_with("data:")).unwrap();
    let last: Value = serde_json::from_str(last.trim_start_matches("data:")).unwrap();
    assert_eq!(last["stage"], "stopped", "{last}");
    assert_eq!(last["grouped"], Value::Null);
}

/// A tester at work on loopback, with its trouble.
async fn tester(trouble: Trouble) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap().to_string();
    tokio::spawn(Tester { trouble, ..Tester::default() }.serve(listener));
    address
}

async fn measure(client: &Client, address: Option<&str>, rate_a: Option<f64>) -> Value {
    let cells: Vec<String> = ids(client, "").await.into_iter().map(|c| c.1).collect();
    let request = json!({"address": address, "cells": cells, "volts": true, "ohms_times": 3, "rate_a": rate_a,
        "cutoff_v": rate_a.map(|_| 2.8)});
    let (status, job) = post(client, "/api/tester/runs", &request).await;
    assert_eq!(status, Status::Accepted, "{job}");
    ended(client, &job).await
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_practice_tester_measures_a_lot_and_its_readings_are_kept(pool: PgPool) {
    let client = client(pool.clone()).await;
    make_lot(&client, "Pump", "A1-A4").await;
    // Ten amperes: the bench passes an hour in a second, and a test need not take long.
    let job = measure(&client, None, Some(10.0)).await;
    assert_eq!((&job["stage"], &job["doing"]), (&json!("done"), &json!("20 readings are kept.")), "{job}");
    let window = get(&client, "/api/stock/cells").await;
    for row in window["rows"].as_array().unwrap() {
        assert!(row["arrival_v"].as_f64().is_some() && row["capacity_ah"].as_f64().is_some(), "{row}");
    }
    let conditions: Value =
        sqlx::query_scalar("select conditions from cell_reading where kind = 'resistance_ohm' limit 1")
            .fetch_one(&pool)
            .await
            .unwrap();
    assert_eq!((&conditions["instrument"], &conditions["method"]), (&json!("practice tester"), &json!("ac1khz")));
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_tester_in_trouble_is_told_and_what_was_read_is_kept(pool: PgPool) {
    let client = client(pool).await;
    make_lot(&client, "Pump", "A1-A3").await;
    let gone = {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        listener.local_addr().unwrap().to_string()
    };
    let babbling = tester(Trouble::OnlyBabbles).await;
    let hanging = tester(Trouble::HangsUpAt(7)).await;
    for (address, told, kept) in [
        (gone.as_str(), "nothing answers at", "0 readings are kept"),
        (babbling.as_str(), "5 lines in a row that mean nothing while measuring A1", "0 readings are kept"),
        (hanging.as_str(), "hung up while measuring A2", "4 readings are kept"),
    ] {
        let job = measure(&client, Some(address), None).await;
        let detail = job["problem"]["detail"].as_str().unwrap_or_default();
        assert_eq!(job["stage"], "failed", "{job}");
        assert!(detail.contains(told) && detail.contains(kept), "{detail}");
    }
    assert_eq!(ids(&client, "state=tested").await.len(), 1);
    let mumbling = measure(&client, Some(&tester(Trouble::Babbles).await), None).await;
    assert_eq!(mumbling["stage"], "done", "{mumbling}");
    assert!(mumbling["lines"].as_array().unwrap().iter().any(|l| l.as_str().unwrap().contains("not understood")));
    let loose = measure(&client, Some(&tester(Trouble::NoContact).await), None).await;
    assert_eq!((&loose["stage"], &loose["doing"]), (&json!("done"), &json!("0 readings are kept.")));
    assert!(loose["lines"][1].as_str().unwrap().contains("no contact"));
    let cells: Vec<String> = ids(&client, "").await.into_iter().map(|c| c.1).collect();
    for (change, field) in [
        (json!({"address": "192.0.2.1:7070"}), "/address"),
        (json!({"cells": []}), "/cells"),
        (json!({"ohms_times": 99}), "/ohms_times"),
        (json!({"rate_a": 0.5}), "/cutoff_v"),
        (json!({"volts": false, "ohms_times": 0}), "/volts"),
    ] {
        let mut request = json!({"cells": cells, "volts": true, "ohms_times": 3});
        for (key, value) in change.as_object().unwrap() {
            request[key] = value.clone();
        }
        let (status, told) = post(&client, "/api/tester/runs", &request).await;
        assert_eq!(status, Status::UnprocessableEntity, "{field}: {told}");
        assert_eq!(told["errors"][0]["field"], field, "{told}");
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_silent_tester_and_a_stopped_test_end(pool: PgPool) {
    let client = client(pool).await;
    make_lot(&client, "Pump", "A1-A2").await;
    let cells: Vec<String> = ids(&client, "").await.into_iter().map(|c| c.1).collect();
    let request =
        json!({"address": null, "cells": cells, "volts": false, "ohms_times": 0, "rate_a": 0.05, "cutoff_v": 2.8});
    let (_, job) = post(&client, "/api/tester/runs", &request).await;
    tokio::time::sleep(Duration::from_millis(300)).await;
    client.delete(format!("/api/jobs/{}", job["id"].as_str().unwrap())).dispatch().await;
    assert_eq!(ended(&client, &job).await["stage"], "stopped");
    let silent = measure(&client, Some(&tester(Trouble::SilentAt(2)).await), None).await;
    assert!(silent["problem"]["detail"].as_str().unwrap().contains("said nothing for 8 s"), "{silent}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_stock_travels_with_a_backup(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 20)).await;
    let shears = plan(&client, "Shears").await;
    let job = group(&client, &[&pump], 4, 2, json!({"plan": shears["id"]})).await;
    assert_eq!(reserve(&client, &shears, &groups_of(&job)).await.0, Status::Ok);
    let before = get(&client, "/api/stock/cells?limit=500").await;
    let text = client.get("/api/backup").dispatch().await.into_string().await.unwrap();
    assert_eq!(client.post("/api/restore").body(text).dispatch().await.status(), Status::Ok);
    assert_eq!(get(&client, "/api/stock/cells?limit=500").await, before);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn cells_tested_otherwise_are_left_out_and_it_is_said_why(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    let mut text = "label,resistance_mohm,method,capacity_mah,rate_a\n".to_owned();
    for i in 1..=20 {
        let (method, rate) = if i <= 14 { ("ac", 0.5) } else { ("dc", 2.0) };
        text += &format!("E{i},{},{method},{},{rate}\n", 50 + i, 2100 + i);
    }
    assert_eq!(import(&client, &pump, &text).await.0, Status::Ok);
    let job = group(&client, &[&pump], 4, 3, json!({})).await;
    let chosen = groups_of(&job).concat();
    assert_eq!(chosen.len(), 12);
    let otherwise: Vec<String> = (15..=20).map(|i| format!("E{i}")).collect();
    assert!(otherwise.iter().all(|l| !chosen.contains(l)), "{chosen:?}");
    let left = job["grouped"]["grouping"]["left_out"].as_array().unwrap();
    let why = |label: &str| left.iter().find(|l| l["label"] == label).unwrap()["why"].as_str().unwrap().to_owned();
    assert!(why("E15").contains("the rate differing from the others'"), "{}", why("E15"));
    // Where they would be needed, it is said that they are there and how they fall short.
    let short = group(&client, &[&pump], 5, 3, json!({})).await;
    assert_eq!(short["stage"], "failed");
    assert!(short["problem"]["detail"].as_str().unwrap().contains("15 cells are needed; 14 can be chosen"), "{short}");
}

/// Two plans reach for the same cells at the same moment: one has them, the other is told, and nothing is half written.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn of_two_plans_that_reach_for_the_same_cells_one_has_them(pool: PgPool) {
    let client = client(pool.clone()).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 12)).await;
    let groups = groups_of(&group(&client, &[&pump], 4, 2, json!({})).await);
    let mut plans = vec![];
    for i in 0..6 {
        plans.push(plan(&client, &format!("Plan {i}")).await);
    }
    let mut held = vec![];
    for round in futures_of(&client, &plans, &groups).await {
        match round {
            (Status::Ok, saved) => held.push(saved["id"].clone()),
            (Status::Conflict, told) => {
                assert!(told["detail"].as_str().unwrap().contains("reserved for"), "{told}");
            }
            other => panic!("{other:?}"),
        }
    }
    assert_eq!(held.len(), 1, "{held:?}");
    let owners: Vec<uuid::Uuid> = sqlx::query_scalar("select distinct plan_id from cell where plan_id is not null")
        .fetch_all(&pool)
        .await
        .unwrap();
    assert_eq!(owners.iter().map(ToString::to_string).collect::<Vec<_>>(), [held[0].as_str().unwrap()]);
    let revisions: i64 = sqlx::query_scalar("select count(*) from plan_revision").fetch_one(&pool).await.unwrap();
    assert_eq!(revisions, 7, "a refused reservation wrote a revision");
}

/// Every plan reserves the same cells, all at once.
async fn futures_of(client: &Client, plans: &[Value], groups: &[Vec<String>]) -> Vec<(Status, Value)> {
    let mut waiting: Vec<_> = plans.iter().map(|p| Box::pin(reserve(client, p, groups))).collect();
    let mut done = vec![];
    std::future::poll_fn(|context| {
        let mut i = 0;
        while i < waiting.len() {
            match waiting[i].as_mut().poll(context) {
                std::task::Poll::Ready(answer) => {
                    done.push(answer);
                    drop(waiting.remove(i));
                }
                std::task::Poll::Pending => i += 1,
            }
        }
        if waiting.is_empty() { std::task::Poll::Ready(()) } else { std::task::Poll::Pending }
    })
    .await;
    done
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_reservation_that_cannot_be_changes_neither_plan_nor_stock(pool: PgPool) {
    let client = client(pool.clone()).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 12)).await;
    let groups = groups_of(&group(&client, &[&pump], 4, 2, json!({})).await);
    let shears = plan(&client, "Shears").await;
    let uneven = [groups[0].clone(), groups[1][..1].to_vec()];
    assert_eq!(reserve(&client, &shears, &uneven).await.0, Status::UnprocessableEntity);
    let stale = json!({"id": shears["id"], "revision": 9, "edit": 1});
    let (status, told) = reserve(&client, &stale, &groups).await;
    assert_eq!((status, &told["title"]), (Status::Conflict, &json!("Someone else saved this plan")));
    let nobody = "0190a000-0000-7000-8000-000000000000";
    let request = json!({"plan": nobody, "revision": 1, "edit": 1, "groups": [[nobody]]});
    assert_eq!(post(&client, "/api/stock/reservations", &request).await.0, Status::NotFound);
    let request =
        json!({"plan": shears["id"], "revision": shears["revision"], "edit": shears["edit"], "groups": [[nobody]]});
    assert_eq!(post(&client, "/api/stock/reservations", &request).await.0, Status::NotFound);
    // Twice the same cell is no group.
    let twice = [vec![groups[0][0].clone(), groups[0][0].clone()]];
    let (status, told) = reserve(&client, &shears, &twice).await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert!(told["detail"].as_str().unwrap().contains("is in the pack already"), "{told}");
    // A cell that was retired meanwhile.
    let all = ids(&client, "limit=500").await;
    let first = all.iter().find(|c| c.0 == groups[0][0]).unwrap().1.clone();
    post(&client, "/api/stock/states", &json!({"cells": [first], "state": "retired"})).await;
    let (status, told) = reserve(&client, &shears, &groups).await;
    assert_eq!(status, Status::Conflict);
    assert!(told["detail"].as_str().unwrap().contains(&format!("{} (retired)", groups[0][0])), "{told}");
    assert!(ids(&client, "state=reserved").await.is_empty());
    let path = format!("/api/plans/{}", shears["id"].as_str().unwrap());
    let now = get(&client, &path).await;
    assert_eq!((&now["revision"], &now["plan"]), (&shears["revision"], &shears["plan"]));
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_fifth_job_waits_its_turn(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    import(&client, &pump, &table(1, 400)).await;
    let request = json!({"lots": [pump], "series": 16, "parallel": 10, "mix_lots": true, "with_watched": true, "seed": 1,
        "effort": "thorough"});
    let mut jobs = vec![];
    for _ in 0..4 {
        let (status, job) = post(&client, "/api/stock/grouping", &request).await;
        assert_eq!(status, Status::Accepted);
        jobs.push(job);
    }
    let (status, told) = post(&client, "/api/stock/grouping", &request).await;
    assert_eq!((status.code, &told["title"]), (429, &json!("Too much at once")));
    for job in &jobs {
        client.delete(format!("/api/jobs/{}", job["id"].as_str().unwrap())).dispatch().await;
        assert_eq!(ended(&client, job).await["stage"], "stopped");
    }
    assert_eq!(post(&client, "/api/stock/grouping", &request).await.0, Status::Accepted);
}
