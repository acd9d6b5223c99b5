//! The stock over the API: lots, readings, looks, files.

use crate::common;

use common::stock::{get, ids, import, make_lot, table};
use common::{assert_problem, body, client, lot, post};
use dense_brick::store;
use rocket::http::Status;
use serde_json::{Value, json};
use sqlx::PgPool;

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
            tokio::spawn(async move { add_readings(&pool, None, &[NewReading { cell, reading }]).await })
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
    let most = get(&client, "/api/stock/cells?limit=500").await;
    assert_eq!(most["rows"].as_array().unwrap().len(), 500);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn every_column_sorts_both_ways_with_what_is_unknown_last(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "Z1 Z2").await;
    import(&client, &pump, &table(1, 40)).await;
    let other = make_lot(&client, "a lamp", "").await;
    import(&client, &other, "label,volts,rested_v,faults\nL1,3.7,1.1,rust\nL2,2.7,2.7,none\n").await;
    for (column, is_figure) in [
        ("arrival_v", true),
        ("resistance_ohm", true),
        ("capacity_ah", true),
        ("lost_a_day_v", true),
        ("label", false),
        ("lot", false),
        ("state", false),
        ("verdict", false),
    ] {
        for descending in [false, true] {
            let window = get(&client, &format!("/api/stock/cells?sort={column}&descending={descending}")).await;
            let rows = window["rows"].as_array().unwrap();
            assert_eq!(rows.len(), 44, "{column}");
            let figures: Vec<Option<f64>> = rows.iter().map(|r| r[column].as_f64()).collect();
            if is_figure {
                let known: Vec<f64> = figures.iter().copied().flatten().collect();
                assert!(
                    figures[..known.len()].iter().all(Option::is_some),
                    "{column}: an unknown one stands before a known"
                );
                let ordered = known.windows(2).all(|w| if descending { w[0] >= w[1] } else { w[0] <= w[1] });
                assert!(ordered, "{column} {descending}: {known:?}");
            } else if column == "verdict" {
                let order = ["unfinished", "fine", "watch", "recover", "scrap"];
                let places: Vec<usize> =
                    rows.iter().map(|r| order.iter().position(|o| r["verdict"] == *o).unwrap()).collect();
                assert!(places.windows(2).all(|w| if descending { w[0] >= w[1] } else { w[0] <= w[1] }), "{places:?}");
            } else {
                let first = if descending { rows.len() - 1 } else { 0 };
                let expected = match column {
                    "label" => ("label", "L1"),
                    "lot" => ("lot", "a lamp"),
                    _ => ("state", "new"),
                };
                assert_eq!(rows[first][expected.0], expected.1, "{column} {descending}");
            }
        }
    }
    // Filters narrow together.
    let of = async |query: &str| get(&client, &format!("/api/stock/cells?{query}")).await["total"].clone();
    assert_eq!(of(&format!("lot={other}")).await, 2);
    assert_eq!(of(&format!("lot={other}&verdict=scrap")).await, 1);
    assert_eq!(of(&format!("lot={other}&verdict=recover&state=tested&search=l2")).await, 1);
    assert_eq!(of("state=new").await, 2);
    assert_eq!(of("search=100%25_'").await, 0);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_lot_that_is_known_better_is_judged_anew(pool: PgPool) {
    let client = client(pool).await;
    let id = make_lot(&client, "Pump", "").await;
    import(&client, &id, "label,volts,resistance_mohm,capacity_mah\nA1,2.3,50,2400\nA2,3.3,50,2400\n").await;
    let verdicts = async |chemistry: &str, rated_ah: f64| {
        let mut changed = lot("Pump");
        changed["cell"]["chemistry"] = json!(chemistry);
        changed["cell"]["rated_ah"] = json!(rated_ah);
        changed["cell"]["size"] = json!({"shape": "cylindrical", "diameter_mm": 26.2, "length_mm": 65.3});
        let body = json!({"lot": changed, "labels": ""}).to_string();
        assert_eq!(client.put(format!("/api/stock/lots/{id}")).body(body).dispatch().await.status(), Status::Ok);
        let window = get(&client, "/api/stock/cells").await;
        let verdict = |i: usize| window["rows"][i]["verdict"].as_str().unwrap().to_owned();
        (verdict(0), verdict(1))
    };
    // 2.3 V is below the floor of cobalt and between floor and cut-off of phosphate.
    assert_eq!(verdicts("li_ion", 2.5).await, ("scrap".to_owned(), "fine".to_owned()));
    assert_eq!(verdicts("li_fe_po4", 2.5).await, ("recover".to_owned(), "fine".to_owned()));
    assert_eq!(verdicts("li_fe_po4", 3.3).await, ("recover".to_owned(), "watch".to_owned()));
}

/// What other rules have judged is judged anew at the start, in their words of today; once.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn verdicts_of_other_rules_are_made_anew(pool: PgPool) {
    let client = client(pool.clone()).await;
    let id = make_lot(&client, "Pump", "").await;
    import(&client, &id, "label,volts,resistance_mohm,capacity_mah\nA1,2.3,50,2400\n").await;
    let first = async || get(&client, "/api/stock/cells").await["rows"][0].clone();
    let before = first().await;
    assert_eq!(before["verdict"], "scrap");
    for change in
        ["update cell set verdict = 'fine', reason = 'as it was said then'", "update lot set judged_by = 'others'"]
    {
        sqlx::query(change).execute(&pool).await.unwrap();
    }
    assert_eq!(first().await["verdict"], "fine");
    assert_eq!(store::stock::judge_anew(&pool, store::RULES).await.unwrap(), 1);
    assert_eq!(first().await, before);
    assert_eq!(store::stock::judge_anew(&pool, store::RULES).await.unwrap(), 0);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn looks_and_pairs_come_with_a_table_without_readings(pool: PgPool) {
    let client = client(pool).await;
    let pump = make_lot(&client, "Pump", "A1").await;
    let (status, done) =
        import(&client, &pump, "label,faults,keep_with\nA1,swollen leaking,A2\nA2,none,\nA3,,\n").await;
    assert_eq!((status, &done["new_cells"], &done["known_cells"]), (Status::Ok, &json!(2), &json!(1)));
    let cells = ids(&client, "").await;
    let first = get(&client, &format!("/api/stock/cells/{}", cells[0].1)).await;
    assert_eq!((&first["faults"], &first["row"]["keep_with"]), (&json!(["swollen", "leaking"]), &json!("A2")));
    assert_eq!(first["row"]["state"], "new", "a look is no reading");
    assert_eq!(get(&client, &format!("/api/stock/cells/{}", cells[1].1)).await["faults"], json!([]));
    assert_eq!(get(&client, &format!("/api/stock/cells/{}", cells[2].1)).await["faults"], Value::Null);
    // A later table without the column leaves what was seen.
    import(&client, &pump, "label,volts\nA1,3.7\n").await;
    assert_eq!(
        get(&client, &format!("/api/stock/cells/{}", cells[0].1)).await["faults"],
        json!(["swollen", "leaking"])
    );
    assert_eq!(get(&client, "/api/stock/cells?verdict=scrap").await["total"], 1);
}

/// 120 cells of three salvaged lots, each bad in its own way.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_demo_brings_three_lots_once_and_steps_on_no_label(pool: PgPool) {
    let first = client(pool.clone()).await;
    assert_eq!(post(&first, "/api/demo", &json!({})).await.1["loaded"], true);
    assert_eq!(post(&first, "/api/demo", &json!({})).await.1["loaded"], false);
    let lots = get(&first, "/api/stock/lots").await;
    let told: Vec<(&str, i64, i64)> = lots
        .as_array()
        .unwrap()
        .iter()
        .map(|l| (l["lot"]["name"].as_str().unwrap(), l["cells"].as_i64().unwrap(), l["verdicts"][4].as_i64().unwrap()))
        .collect();
    assert_eq!(told.iter().map(|t| t.1).sum::<i64>(), 120);
    assert_eq!(told[2], ("Bazaar sticks", 16, 16), "6.8 Ah on an 18650 condemns the lot");
    assert!(told[..2].iter().all(|t| t.2 >= 4 && t.2 < t.1 / 2), "{told:?}");
    for l in lots.as_array().unwrap() {
        let report = get(&first, &format!("/api/stock/lots/{}", l["id"].as_str().unwrap())).await;
        assert!(!report["report"]["judgements"].as_array().unwrap().is_empty());
    }
    // A maker whose own cells bear such labels keeps them; the demo is not half loaded.
    sqlx::query("truncate demo_load, plan, part, lot cascade").execute(&pool).await.unwrap();
    let own = client(pool.clone()).await;
    make_lot(&own, "Mine", "S07").await;
    let (status, told) = post(&own, "/api/demo", &json!({})).await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert!(told["detail"].as_str().unwrap().contains("S07"), "{told}");
    assert_eq!(get(&own, "/api/plans").await, json!([]));
    assert_eq!(get(&own, "/api/stock/lots").await.as_array().unwrap().len(), 1);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn readings_that_are_sent_again_are_kept_once(pool: PgPool) {
    let client = client(pool.clone()).await;
    make_lot(&client, "Yard", "A1-A3").await;
    let cells = ids(&client, "sort=label").await;
    let entries: Vec<Value> = cells.iter().map(|(_, id)| json!({"cell": id, "text": "62 m"})).collect();
    let send = async |key: Option<&str>| {
        let typed = json!({"kind": "resistance_ohm", "key": key, "entries": entries});
        post(&client, "/api/stock/readings", &typed).await.0
    };
    let count =
        async || -> i64 { sqlx::query_scalar("select count(*) from cell_reading").fetch_one(&pool).await.unwrap() };
    for _ in 0..3 {
        assert_eq!(send(Some("0190a000-0000-4000-8000-000000000001")).await, Status::NoContent);
        assert_eq!(count().await, 3);
    }
    assert_eq!(send(Some("0190a000-0000-4000-8000-000000000002")).await, Status::NoContent);
    assert_eq!(send(None).await, Status::NoContent);
    assert_eq!(count().await, 9);
}
