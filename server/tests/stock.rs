//! The stock over the API: lots, readings, files, grouping, reservations, the tester.

mod common;

use std::time::Duration;

use brick_bench::tester::{Tester, Trouble};
use common::{assert_problem, body, client, lot, post};
use dense_brick::store;
use rocket::http::{ContentType, Status};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;
use tokio::net::TcpListener;

async fn make_lot(client: &Client, name: &str, labels: &str) -> String {
    let (status, made) = post(client, "/api/stock/lots", &json!({"lot": lot(name), "labels": labels})).await;
    assert_eq!(status, Status::Created, "{made}");
    made["id"].as_str().unwrap().to_owned()
}

async fn get(client: &Client, path: &str) -> Value {
    let response = client.get(path.to_owned()).dispatch().await;
    assert_eq!(response.status(), Status::Ok, "{path}");
    body(response).await
}

async fn import(client: &Client, lot: &str, text: &str) -> (Status, Value) {
    let request = client.post(format!("/api/stock/import?lot={lot}&instrument=tester")).header(ContentType::Text);
    let response = request.body(text).dispatch().await;
    (response.status(), body(response).await)
}

/// A table of so many ordinary cells.
fn table(from: usize, count: usize) -> String {
    let mut text = "label,volts,resistance_mohm,capacity_mah\n".to_owned();
    for i in from..from + count {
        text += &format!("T{i},{},{},{}\n", 3.7 + (i % 5) as f64 * 0.002, 50 + i % 7, 2100 + (i * 37) % 240);
    }
    text
}

async fn ids(client: &Client, query: &str) -> Vec<(String, String)> {
    let window = get(client, &format!("/api/stock/cells?{query}")).await;
    let rows = window["rows"].as_array().unwrap().clone();
    rows.iter().map(|r| (r["label"].as_str().unwrap().to_owned(), r["id"].as_str().unwrap().to_owned())).collect()
}

/// A job as it has ended.
async fn ended(client: &Client, job: &Value) -> Value {
    let path = format!("/api/jobs/{}", job["id"].as_str().unwrap());
    for _ in 0..2000 {
        let state = get(client, &path).await;
        if state["stage"] != "working" {
            return state;
        }
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    panic!("the job never ended")
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_lot_is_made_changed_deleted_and_taken_back(pool: PgPool) {
    let client = client(pool).await;
    let id = make_lot(&client, "Pump batteries", "A1-A12").await;
    assert_eq!(get(&client, "/api/stock/lots").await[0]["cells"], 12);
    let natural: Vec<String> = ids(&client, "").await.into_iter().map(|c| c.0).collect();
    assert_eq!(natural[1..3], ["A2", "A3"]);
    assert_eq!(natural[11], "A12");
    for (labels, name, field) in [
        ("a7", "Other", "/labels"),
        ("B1 B1", "Other", "/labels"),
        ("B1", "pump BATTERIES", "/lot/name"),
        ("B1", " ", "/lot/cell/offer/name"),
    ] {
        let (status, told) = post(&client, "/api/stock/lots", &json!({"lot": lot(name), "labels": labels})).await;
        assert_eq!(status, Status::UnprocessableEntity, "{labels} {name}");
        assert_problem(&told, status);
        assert_eq!(told["errors"][0]["field"], field, "{told}");
    }
    assert_eq!(get(&client, "/api/stock/lots").await.as_array().unwrap().len(), 1, "a refused lot was half written");

    let path = format!("/api/stock/lots/{id}");
    let mut changed = lot("Pump batteries, sorted");
    changed["cell"]["rated_ah"] = json!(9.9);
    let response = client.put(path.clone()).body(json!({"lot": changed, "labels": "A13"}).to_string()).dispatch().await;
    assert_eq!(response.status(), Status::Ok);
    assert_eq!(body(response).await["verdicts"], json!([0, 0, 0, 0, 13]), "an impossible claim condemns the lot");
    let inspection = get(&client, &path).await;
    assert_eq!(inspection["report"]["judgements"][0]["rule"], "stock.impossible-claim");

    assert_eq!(client.delete(path.clone()).dispatch().await.status(), Status::NoContent);
    assert!(ids(&client, "").await.is_empty());
    assert_eq!(client.get(path.clone()).dispatch().await.status(), Status::NotFound);
    // Its labels are free again: taking it back is refused while another bears one.
    let other = make_lot(&client, "Other", "A5").await;
    let refused = client.post(format!("{path}/restore")).dispatch().await;
    assert_eq!(refused.status(), Status::UnprocessableEntity);
    assert!(body(refused).await["detail"].as_str().unwrap().contains("A5"));
    client.delete(format!("/api/stock/lots/{other}")).dispatch().await;
    assert_eq!(client.post(format!("{path}/restore")).dispatch().await.status(), Status::NoContent);
    assert_eq!(ids(&client, "").await.len(), 13);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn readings_are_typed_struck_out_and_taken_back(pool: PgPool) {
    let client = client(pool).await;
    make_lot(&client, "Pump", "A1-A3").await;
    let cells = ids(&client, "").await;
    let typed = |texts: &[&str]| {
        let entries: Vec<Value> = texts.iter().zip(&cells).map(|(t, c)| json!({"cell": c.1, "text": t})).collect();
        json!({"kind": "resistance_ohm", "conditions": {"instrument": "bench meter", "method": "ac1khz"}, "entries": entries})
    };
    let (status, told) = post(&client, "/api/stock/readings", &typed(&["62 m", "sixty", "1,200"])).await;
    assert_eq!(status, Status::UnprocessableEntity);
    let fields: Vec<&str> = told["errors"].as_array().unwrap().iter().map(|e| e["field"].as_str().unwrap()).collect();
    assert_eq!(fields, ["/entries/1/text", "/entries/2/text"]);
    assert!(ids(&client, "state=tested").await.is_empty(), "a paste was half taken");
    for text in ["62 m", "0.066 ohm", "64 mΩ"] {
        let (status, _) = post(&client, "/api/stock/readings", &typed(&[text])).await;
        assert_eq!(status, Status::NoContent);
    }
    let path = format!("/api/stock/cells/{}", cells[0].1);
    let cell = get(&client, &path).await;
    assert!((cell["row"]["resistance_ohm"].as_f64().unwrap() - 0.064).abs() < 1e-9, "{cell}");
    assert_eq!((&cell["row"]["state"], &cell["events"][0]["to_state"]), (&json!("tested"), &json!("tested")));
    let reading = cell["readings"].as_array().unwrap().iter().find(|r| r["value"] == 0.066).unwrap();
    let reading = format!("/api/stock/readings/{}", reading["id"].as_str().unwrap());
    assert_eq!(client.delete(reading.clone()).dispatch().await.status(), Status::NoContent);
    assert_eq!(client.delete(reading.clone()).dispatch().await.status(), Status::NotFound);
    assert!((get(&client, &path).await["row"]["resistance_ohm"].as_f64().unwrap() - 0.063).abs() < 1e-9);
    assert_eq!(client.post(format!("{reading}/restore")).dispatch().await.status(), Status::NoContent);
    assert!((get(&client, &path).await["row"]["resistance_ohm"].as_f64().unwrap() - 0.064).abs() < 1e-9);
    // What cannot be: no rest for a loss, a day to come, nothing at all.
    for (change, field) in [
        (json!({"kind": "self_discharge_v"}), "/conditions/rest_s"),
        (json!({"taken_at": "2100-01-01"}), "/taken_at"),
        (json!({"taken_at": "soon"}), "/taken_at"),
        (json!({"entries": []}), "/entries"),
        (json!({"conditions": {"soc_share": 1.5}}), "/conditions/soc_share"),
    ] {
        let mut bad = typed(&["0.05"]);
        for (key, value) in change.as_object().unwrap() {
            bad[key] = value.clone();
        }
        let (status, told) = post(&client, "/api/stock/readings", &bad).await;
        assert_eq!(status, Status::UnprocessableEntity, "{field}");
        assert_eq!(told["errors"][0]["field"], field, "{told}");
    }
}

/// Two people at one bench: every reading of both is kept, and the lot is judged as if they had come one by one.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn readings_typed_at_the_same_time_are_all_counted(pool: PgPool) {
    use brick_core::stock::{Kind, TestReading};
    use store::stock::{NewReading, add_readings};
    let client = client(pool.clone()).await;
    make_lot(&client, "Pump", "A1-A12").await;
    let cells = ids(&client, "").await;
    let writes = cells.iter().enumerate().flat_map(|(i, (_, id))| {
        let cell: uuid::Uuid = id.parse().unwrap();
        let of = |kind, value| TestReading { kind, value, conditions: Default::default(), taken_s: 100 };
        let ohm = if i == 3 { 0.200 } else { 0.050 + 0.001 * (i % 3) as f64 };
        [of(Kind::ArrivalV, 3.7), of(Kind::ResistanceOhm, ohm), of(Kind::CapacityAh, 2.2)].map(|reading| {
            let pool = pool.clone();
            tokio::spawn(async move { add_readings(&pool, &[NewReading { cell, reading }]).await })
        })
    });
    for write in writes.collect::<Vec<_>>() {
        write.await.unwrap().unwrap();
    }
    let kept: i64 = sqlx::query_scalar("select count(*) from cell_reading").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 36);
    let window = get(&client, "/api/stock/cells").await;
    let verdicts: Vec<&str> =
        window["rows"].as_array().unwrap().iter().map(|r| r["verdict"].as_str().unwrap()).collect();
    assert_eq!(verdicts.iter().filter(|v| **v == "fine").count(), 11, "{verdicts:?}");
    assert_eq!(verdicts[3], "watch", "its resistance is far above its fellows'");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_look_and_a_state_are_kept_with_their_history(pool: PgPool) {
    let client = client(pool).await;
    make_lot(&client, "Pump", "A1-A3").await;
    let cells = ids(&client, "").await;
    let path = format!("/api/stock/cells/{}", cells[0].1);
    let look = json!({"faults": ["swollen"], "keep_with": " A2 "}).to_string();
    let seen = body(client.put(path.clone()).body(look).dispatch().await).await;
    assert_eq!((&seen["report"]["verdict"], &seen["row"]["keep_with"]), (&json!("scrap"), &json!("A2")));
    assert_eq!(ids(&client, "verdict=scrap").await.len(), 1);
    let state = |cells: &[&str], state: &str| json!({"cells": cells, "state": state, "note": "swollen"});
    let all: Vec<&str> = cells.iter().map(|c| c.1.as_str()).collect();
    assert_eq!(post(&client, "/api/stock/states", &state(&all[..1], "retired")).await.0, Status::NoContent);
    let event = &get(&client, &path).await["events"][0];
    assert_eq!(
        (&event["from_state"], &event["to_state"], &event["note"]),
        (&json!("new"), &json!("retired"), &json!("swollen"))
    );
    // All or none: A1 cannot be retired twice, so A2 is not either.
    let (status, told) = post(&client, "/api/stock/states", &state(&all[..2], "retired")).await;
    assert_eq!(status, Status::Conflict);
    assert!(told["detail"].as_str().unwrap().contains("A1 is retired"), "{told}");
    assert_eq!(ids(&client, "state=retired").await.len(), 1);
    assert_eq!(post(&client, "/api/stock/states", &state(&all[1..2], "reserved")).await.0, Status::Conflict);
    let response = client.put(path).body(json!({"faults": ["green"], "keep_with": null}).to_string()).dispatch().await;
    assert_eq!(response.status(), Status::UnprocessableEntity);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_table_comes_in_whole_or_not_at_all_and_goes_out_again(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    let spoiled = table(1, 30).replace("T7,3.712,", "T7,many,") + "T3,3.7,50,2000\n";
    let (status, told) = import(&client, &pump, &spoiled).await;
    assert_eq!(status, Status::UnprocessableEntity);
    let messages: Vec<&str> =
        told["errors"].as_array().unwrap().iter().map(|e| e["message"].as_str().unwrap()).collect();
    assert!(messages.len() == 2 || messages.len() == 1, "{messages:?}");
    assert!(messages.iter().any(|m| m.contains("line 32") && m.contains("line 4 already")), "{messages:?}");
    assert!(ids(&client, "").await.is_empty(), "half an import was taken");
    let (status, done) = import(&client, &pump, &table(1, 30)).await;
    assert_eq!((status, &done["new_cells"], &done["readings"]), (Status::Ok, &json!(30), &json!(90)));
    let (status, told) = import(&client, &pump, "label,lot,capacity_mah\nX1,Nowhere,2000\nX2,,2000\n").await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert!(told["detail"].as_str().unwrap().contains("no lot “Nowhere”"), "{told}");

    let text = client.get("/api/stock/readings-file").dispatch().await.into_string().await.unwrap();
    assert_eq!(text.lines().count(), 91);
    let before = get(&client, "/api/stock/cells?sort=capacity_ah&descending=true").await;
    client.delete(format!("/api/stock/lots/{pump}")).dispatch().await;
    let again = make_lot(&client, "Pump", "").await;
    let (status, done) = import(&client, &again, &text).await;
    assert_eq!((status, &done["readings"]), (Status::Ok, &json!(90)));
    let after = get(&client, "/api/stock/cells?sort=capacity_ah&descending=true").await;
    for i in 0..30 {
        for key in ["label", "verdict", "reason", "arrival_v", "resistance_ohm", "capacity_ah"] {
            assert_eq!(before["rows"][i][key], after["rows"][i][key], "{key} of row {i}");
        }
    }
    let wide = client.get(format!("/api/stock/cells-file?lot={again}")).dispatch().await.into_string().await.unwrap();
    assert!(wide.starts_with("label,lot,state,verdict"), "{wide}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn five_thousand_cells_are_sorted_and_filtered_a_window_at_a_time(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "").await;
    let (status, done) = import(&client, &pump, &table(0, 5000)).await;
    assert_eq!((status, &done["new_cells"]), (Status::Ok, &json!(5000)));
    let window = get(&client, "/api/stock/cells?sort=capacity_ah&descending=true&offset=4900&limit=100").await;
    assert_eq!((&window["total"], window["rows"].as_array().unwrap().len()), (&json!(5000), 100));
    let capacities: Vec<f64> =
        window["rows"].as_array().unwrap().iter().map(|r| r["capacity_ah"].as_f64().unwrap()).collect();
    assert!(capacities.windows(2).all(|w| w[0] >= w[1]) && capacities[99] == 2.1, "{capacities:?}");
    assert_eq!(get(&client, "/api/stock/cells?search=t499").await["total"], 11);
    assert_eq!(get(&client, "/api/stock/points").await.as_array().unwrap().len(), 5000);
    for query in ["sort=colour", "state=lost", "verdict=nice", "lot=7"] {
        let response = client.get(format!("/api/stock/cells?{query}")).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{query}");
    }
    let most = get(&client, "/api/stock/cells?limit=100000&offset=-5").await;
    assert_eq!(most["rows"].as_array().unwrap().len(), 500);
}

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
