//! Packs over HTTP: logs that only grow, what is due as a calendar, labels that a phone reads, and one file for all of it.

use crate::common;

use common::{body, client, post};
use dense_brick::store;
use image::{DynamicImage, ImageFormat};
use regex::Regex;
use rocket::futures::future::join_all;
use rocket::http::{ContentType, Status};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn get(client: &Client, path: &str) -> Value {
    body(client.get(path.to_owned()).dispatch().await).await
}

async fn text(client: &Client, path: &str) -> String {
    client.get(path.to_owned()).dispatch().await.into_string().await.unwrap()
}

/// A refusal that names the field.
fn assert_problem(status: Status, problem: &Value, code: u16, field: &str) {
    assert_eq!(status.code, code, "{problem}");
    common::assert_problem(problem, status);
    let fields = problem["errors"].as_array().unwrap();
    assert!(fields.iter().any(|e| e["field"] == field), "{field}: {problem}");
}

fn card(name: &str) -> Value {
    json!({"name": name, "chemistry": "li_ion", "series": 3, "rated_ah": 2.5, "made_on": "2025-01-01"})
}

/// A pack as it was found; its path.
async fn found(client: &Client, name: &str) -> String {
    let (status, pack) = post(client, "/api/packs", &json!({"card": card(name)})).await;
    assert_eq!(status, Status::Created, "{pack}");
    format!("/api/packs/{}", pack["id"].as_str().unwrap())
}

fn entry(at: &str, happened: &Value) -> Value {
    json!({"key": Uuid::now_v7(), "entry": {"at": at, "happened": happened}})
}

async fn log(client: &Client, pack: &str, at: &str, happened: Value) -> Value {
    let (status, told) = post(client, &format!("{pack}/entries"), &entry(at, &happened)).await;
    assert_eq!(status, Status::Ok, "{told}");
    told
}

fn rest(groups_v: [f64; 3]) -> Value {
    json!({"what": "rest", "groups_v": groups_v})
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn an_entry_is_kept_once_however_often_it_is_sent_and_none_is_changed(pool: PgPool) {
    let client = client(pool).await;
    let pack = found(&client, "Lantern").await;
    let path = format!("{pack}/entries");
    let sent: Vec<Value> = (1..=10).map(|d| entry(&format!("2025-02-{d:02}"), &rest([3.8, 3.81, 3.8]))).collect();
    let answers = join_all(sent.iter().chain(&sent).map(|e| post(&client, &path, e))).await;
    assert!(answers.iter().all(|(status, _)| *status == Status::Ok));
    let told = get(&client, &pack).await;
    assert_eq!(told["story"]["lines"].as_array().unwrap().len(), 10);
    // What was wrong is struck out, with a reason, and stays in sight.
    let strike = entry("2025-02-11", &json!({"what": "struck", "number": 4}));
    let (status, refused) = post(&client, &path, &strike).await;
    assert_problem(status, &refused, 422, "/entry/words");
    let mut strike = strike;
    strike["entry"]["words"] = json!("typed for another pack");
    let (status, told) = post(&client, &path, &strike).await;
    assert_eq!(status, Status::Ok);
    let lines = told["story"]["lines"].as_array().unwrap();
    let struck: Vec<&Value> = lines.iter().filter(|l| !l["struck"].is_null()).collect();
    assert_eq!((lines.len(), struck.len(), &struck[0]["struck"]), (10, 1, &json!("typed for another pack")));
    for (bad, field) in [
        (rest([3.8, 38.0, 3.8]), "/entry/happened/groups_v/1"),
        (json!({"what": "rest", "groups_v": [3.8]}), "/entry/happened/groups_v"),
        (json!({"what": "capacity", "charge_ah": -1.0}), "/entry/happened/charge_ah"),
    ] {
        let (status, refused) = post(&client, &path, &entry("2025-03-01", &bad)).await;
        assert_problem(status, &refused, 422, field);
    }
    assert_eq!(get(&client, &pack).await["story"]["lines"].as_array().unwrap().len(), 10);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_card_is_put_right_and_not_written_over_unseen(pool: PgPool) {
    let client = client(pool).await;
    let pack = found(&client, "Lantern").await;
    let put = async |revision: i64, card: Value| {
        let path = format!("{pack}/card");
        let request = client.put(path).header(ContentType::JSON);
        let response = request.body(json!({"revision": revision, "card": card}).to_string()).dispatch().await;
        (response.status(), body(response).await)
    };
    let (status, told) = put(1, card("Lantern, red")).await;
    assert_eq!((status, &told["card"]["name"], &told["revision"]), (Status::Ok, &json!("Lantern, red"), &json!(2)));
    assert_eq!(put(1, card("Lantern, blue")).await.0, Status::Conflict);
    let mut hot = card("Lantern");
    hot["charged_to_v"] = json!(4.5);
    let (status, refused) = put(2, hot).await;
    assert_problem(status, &refused, 422, "/card/charged_to_v");
    log(&client, &pack, "2025-02-01", rest([3.8, 3.8, 3.8])).await;
    let mut longer = card("Lantern");
    longer["series"] = json!(4);
    let (status, refused) = put(2, longer).await;
    assert_problem(status, &refused, 422, "/card/series");
    assert_eq!(get(&client, &pack).await["card"]["name"], "Lantern, red");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_build_becomes_a_pack_with_the_cells_of_its_lot(pool: PgPool) {
    let client = client(pool.clone()).await;
    client.post("/api/demo").dispatch().await;
    let plans = get(&client, "/api/plans").await;
    let plan = plans.as_array().unwrap().iter().find(|p| p["name"] == "Hedge shears").unwrap();
    let (_, build) = post(&client, &format!("/api/plans/{}/builds", plan["id"].as_str().unwrap()), &json!({})).await;
    let path = format!("/api/builds/{}/pack", build["id"].as_str().unwrap());
    let (status, pack) = post(&client, &path, &json!({})).await;
    assert_eq!(status, Status::Created, "{pack}");
    // The demo's own pack has number 1.
    assert_eq!((&pack["number"], &pack["counts"], &pack["plan_id"]), (&json!(2), &json!("4S2P"), &plan["id"]));
    assert_eq!(pack["build_id"], build["id"]);
    assert!(pack["label"].as_array().unwrap().iter().any(|l| l == "Charge 16.8 V only"), "{}", pack["label"]);
    // A lot remembers the packs that its cells went into.
    let lots = get(&client, "/api/stock/lots").await;
    let lot = lots.as_array().unwrap().iter().find(|l| l["lot"]["name"] == "Scooter pack").unwrap();
    let lot = get(&client, &format!("/api/stock/lots/{}", lot["id"].as_str().unwrap())).await;
    assert_eq!((&lot["packs"][0]["number"], &lot["packs"][0]["cells"]), (&json!(1), &json!(8)), "{}", lot["packs"]);
    // Without its plan a pack goes on.
    client.delete(format!("/api/plans/{}", plan["id"].as_str().unwrap())).dispatch().await;
    let still = get(&client, &format!("/api/packs/{}", pack["id"].as_str().unwrap())).await;
    assert_eq!((&still["plan_id"], &still["counts"]), (&Value::Null, &json!("4S2P")));
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_demo_pack_tells_a_story_of_two_years(pool: PgPool) {
    let client = client(pool).await;
    client.post("/api/demo").dispatch().await;
    let row = get(&client, "/api/packs").await[0].clone();
    assert_eq!((&row["number"], &row["summary"]["due"][0]["title"]), (&json!(1), &json!("Group 3 falls behind")));
    let story = get(&client, &format!("/api/packs/{}", row["id"].as_str().unwrap())).await["story"].clone();
    assert_eq!(story["spread"]["suspect"], 3);
    let shares: Vec<f64> =
        story["measured"]["capacity"].as_array().unwrap().iter().map(|c| c["first_share"].as_f64().unwrap()).collect();
    assert!(shares.len() == 5 && shares.windows(2).all(|w| w[1] < w[0]) && shares[4] > 0.85, "{shares:?}");
    assert!(story["forecast"]["course"]["worn"]["middle_s"].is_i64());
    assert_eq!(story["lines"].as_array().unwrap().iter().filter(|l| !l["struck"].is_null()).count(), 1);
    // Its days move with the day it is loaded: the last is a week ago.
    let ago_s = chrono::Utc::now().timestamp() - row["summary"]["last_s"].as_i64().unwrap();
    assert!((7 * 86_400..10 * 86_400).contains(&ago_s), "{ago_s}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_list_follows_what_is_logged_and_deleting_is_taken_back(pool: PgPool) {
    let client = client(pool).await;
    let pack = found(&client, "Lantern").await;
    let row = async || get(&client, "/api/packs").await[0].clone();
    assert_eq!(row().await["summary"]["spread_v"], Value::Null);
    log(&client, &pack, "2025-02-01", rest([3.80, 3.86, 3.84])).await;
    let listed = row().await;
    assert!((listed["summary"]["spread_v"].as_f64().unwrap() - 0.06).abs() < 1e-9, "{listed}");
    assert_eq!(row().await, listed, "told the same from what was kept");
    log(&client, &pack, "2025-03-01", json!({"what": "state", "to": "retired"})).await;
    assert_eq!(row().await["summary"]["state"], "retired");
    assert_eq!(client.delete(pack.clone()).dispatch().await.status(), Status::NoContent);
    assert_eq!(get(&client, "/api/packs").await, json!([]));
    assert_eq!(client.get(pack.clone()).dispatch().await.status(), Status::NotFound);
    assert_eq!(client.post(format!("{pack}/restore")).dispatch().await.status(), Status::NoContent);
    assert_eq!(client.post(format!("{pack}/restore")).dispatch().await.status(), Status::NotFound);
    // Numbers stand on labels: none is given twice, whoever is deleted.
    client.delete(pack.clone()).dispatch().await;
    let next = found(&client, "Torch").await;
    assert_eq!(get(&client, &next).await["number"], 2);
}

/// Five hundred packs, each with a year of entries: the list rests on what was reckoned when something was logged.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn five_hundred_packs_are_listed_without_reading_their_logs_again(pool: PgPool) {
    let client = client(pool.clone()).await;
    sqlx::query(
        "insert into pack (id, number, card)
         select gen_random_uuid(), n, jsonb_build_object('name', 'Pack ' || n, 'chemistry', 'li_ion', 'series', 3)
         from generate_series(1, 500) n",
    )
    .execute(&pool)
    .await
    .unwrap();
    sqlx::query(
        "insert into pack_entry (pack_id, number, key, entry)
         select p.id, n, gen_random_uuid(), jsonb_build_object('at', to_char(date '2025-01-01' + n * 15, 'YYYY-MM-DD'),
            'happened', jsonb_build_object('what', 'rest', 'groups_v', jsonb_build_array(3.8, 3.81, 3.8)))
         from pack p, generate_series(1, 24) n",
    )
    .execute(&pool)
    .await
    .unwrap();
    let first = get(&client, "/api/packs").await;
    assert_eq!(first.as_array().unwrap().len(), 500);
    let (kept,): (i64,) =
        sqlx::query_as("select count(*) from pack where summary is not null").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 500);
    // The logs could be gone: what was reckoned stands.
    sqlx::query("delete from pack_entry").execute(&pool).await.unwrap();
    assert_eq!(get(&client, "/api/packs").await, first);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_log_comes_in_from_a_table_whole_or_not_at_all(pool: PgPool) {
    let client = client(pool).await;
    let pack = found(&client, "Lantern").await;
    let send = async |table: &str| {
        let response = client.post(format!("{pack}/entries-file")).body(table).dispatch().await;
        (response.status(), body(response).await)
    };
    let good = "at;what;groups_v;charge_ah;took_min;ended;colour\n\
        2025-02-01;rest;3,80 3,81 3,80;;;;\n2025-02-02 10:30;charge;;2,1;95;charger;red\n";
    let (status, told) = send(good).await;
    assert_eq!((status, &told["taken"], &told["unused"]), (Status::Ok, &json!(2), &json!(["colour"])), "{told}");
    // The same table again brings nothing twice.
    let (_, again) = send(good).await;
    assert_eq!((&again["taken"], &again["known"]), (&json!(0), &json!(2)));
    let (status, refused) = send("at;what;groups_v\n2025-03-01;rest;3,80 3,81 3,80\n2025-03-02;rest;3,80\n").await;
    assert_problem(status, &refused, 422, "/text/3");
    assert_eq!(get(&client, &pack).await["story"]["lines"].as_array().unwrap().len(), 2);
    let out = text(&client, &format!("{pack}/entries-file")).await;
    assert!(out.lines().count() == 3 && out.contains("3.8 3.81 3.8"), "{out}");
}

/// Read by the crate `ical`, which shares nothing with the one that writes.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_is_due_is_a_calendar_that_others_read(pool: PgPool) {
    let client = client(pool).await;
    client.post("/api/demo").dispatch().await;
    found(&client, "Lantern; \"comma, and\" semicolon").await;
    for path in [
        "/api/packs/due.ics".to_owned(),
        format!("/api/packs/{}/due.ics", get(&client, "/api/packs").await[0]["id"].as_str().unwrap()),
    ] {
        let written = text(&client, &path).await;
        let read = ical::IcalParser::new(written.as_bytes()).next().unwrap().unwrap();
        assert!(!read.events.is_empty());
        let of = |event: &ical::parser::ical::component::IcalEvent, name: &str| {
            event.properties.iter().find(|p| p.name == name).and_then(|p| p.value.clone()).unwrap_or_default()
        };
        let mut uids: Vec<String> = read.events.iter().map(|e| of(e, "UID")).collect();
        let count = uids.len();
        uids.sort();
        uids.dedup();
        assert_eq!(uids.len(), count);
        for event in &read.events {
            assert_eq!(of(event, "DTSTART").len(), 8, "a whole day: {}", of(event, "DTSTART"));
            assert!(of(event, "SUMMARY").starts_with("Pack ") && !of(event, "DTSTAMP").is_empty());
        }
        assert!(read.events.iter().any(|e| of(e, "SUMMARY").contains("Group 3 falls behind")));
        // RFC 5545: lines end with CRLF and are folded at 75 octets.
        assert!(written.split("\r\n").all(|line| line.len() <= 75), "{written}");
        assert_eq!(text(&client, &path).await.replace("\r\n ", "").matches("UID:").count(), count);
    }
}

/// The square of a label as a picture: dark modules where the drawing has them.
fn rastered(svg: &str) -> image::GrayImage {
    const PX_PER_MM: f64 = 12.0;
    let module = Regex::new(r"M([\d.]+) ([\d.]+)h([\d.]+)").unwrap();
    let mut picture = image::GrayImage::from_pixel(340, 340, image::Luma([255]));
    let mut count = 0;
    for m in module.captures_iter(svg) {
        let [x, y, side] = [1, 2, 3].map(|i| m[i].parse::<f64>().unwrap() * PX_PER_MM);
        count += 1;
        for i in x.round() as u32..(x + side).round() as u32 {
            for j in y.round() as u32..(y + side).round() as u32 {
                picture.put_pixel(i, j, image::Luma([0]));
            }
        }
    }
    assert!(count > 100, "{svg}");
    picture
}

/// Read by the crate `rqrr`, which shares nothing with the one that draws.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_square_of_a_label_says_where_its_log_is(pool: PgPool) {
    let client = client(pool).await;
    let pack = found(&client, "Läntern <3>").await;
    let id = pack.rsplit('/').next().unwrap();
    for (query, says) in [
        ("?origin=https://192.0.2.7:8081", format!("https://192.0.2.7:8081/packs/{id}")),
        ("", "Läntern <3>: 3S Li-ion; 10.8 V  2.5 Ah  27 Wh; Charge 12.6 V only; made 2025-01, no. 1".to_owned()),
    ] {
        let svg = text(&client, &format!("{pack}/label{query}")).await;
        assert!(svg.contains("Charge 12.6 V only") && svg.contains("no. 1"), "{svg}");
        let picture = rastered(&svg);
        let (width, height) = (picture.width() as usize, picture.height() as usize);
        let grey = |x: usize, y: usize| picture.get_pixel(x as u32, y as u32).0[0];
        let mut read = rqrr::PreparedImage::prepare_from_greyscale(width, height, grey);
        let grids = read.detect_grids();
        assert_eq!(grids.len(), 1);
        assert_eq!(grids[0].decode().unwrap().1, says);
    }
    for bad in ["javascript:alert(1)", "http://a%20b", "https://x%0Ay"] {
        let response = client.get(format!("{pack}/label?origin={bad}")).dispatch().await;
        let status = response.status();
        assert_problem(status, &body(response).await, 422, "/origin");
    }
    let sheet = get(&client, &format!("{pack}/hand-on?origin=")).await;
    let titles: Vec<&str> = sheet["parts"].as_array().unwrap().iter().map(|p| p["title"].as_str().unwrap()).collect();
    assert_eq!(titles, ["What it is", "Wiring", "How to charge it", "What not to do", "What was done to it"]);
    assert!(sheet["label"].as_str().unwrap().starts_with("<svg"));
}

fn photograph() -> Vec<u8> {
    let mut file = vec![];
    let dots = image::RgbImage::from_fn(90, 60, |x, y| image::Rgb([(x * 2) as u8, (y * 3) as u8, 90]));
    DynamicImage::from(dots).write_to(&mut std::io::Cursor::new(&mut file), ImageFormat::Png).unwrap();
    file
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_pack_goes_to_another_workshop_in_one_file(pool: PgPool) {
    let client = client(pool.clone()).await;
    client.post("/api/demo").dispatch().await;
    let plans = get(&client, "/api/plans").await;
    let plan = plans.as_array().unwrap().iter().find(|p| p["name"] == "Hedge shears").unwrap();
    let (_, build) = post(&client, &format!("/api/plans/{}/builds", plan["id"].as_str().unwrap()), &json!({})).await;
    let build = format!("/api/builds/{}", build["id"].as_str().unwrap());
    let kept = body(client.post("/api/photos").body(photograph()).dispatch().await).await;
    let photo = kept["sha256"].as_str().unwrap();
    let event =
        json!({"step": "cells/look", "at": "2026-03-02T10:00:00Z", "happened": {"what": "photo", "sha256": photo}});
    assert_eq!(
        post(&client, &format!("{build}/events"), &json!({"key": Uuid::now_v7(), "event": event})).await.0,
        Status::Ok
    );
    let (_, pack) = post(&client, &format!("{build}/pack"), &json!({})).await;
    let path = format!("/api/packs/{}", pack["id"].as_str().unwrap());
    let mut note = entry("2026-04-01", &json!({"what": "note"}));
    note["entry"]["photo"] = json!(photo);
    assert_eq!(post(&client, &format!("{path}/entries"), &note).await.0, Status::Ok);
    let file = text(&client, &format!("{path}/file")).await;

    // Elsewhere there is nothing of it.
    sqlx::query("truncate pack, pack_entry, build, build_event, plan, plan_revision, photo, cell, lot cascade")
        .execute(&pool)
        .await
        .unwrap();
    let response = client.post("/api/packs/file").body(file.clone()).dispatch().await;
    assert_eq!(response.status(), Status::Created);
    let taken = body(response).await;
    assert_eq!((&taken["number"], &taken["card"]), (&json!(1), &pack["card"]));
    let there = taken["story"]["lines"][0]["entry"]["photo"].as_str().unwrap();
    assert_eq!(client.get(format!("/api/photos/{there}")).dispatch().await.status(), Status::Ok);
    let plan = get(&client, &format!("/api/plans/{}", taken["plan_id"].as_str().unwrap())).await;
    assert_eq!(plan["plan"]["name"], "Hedge shears");
    let build = get(&client, &format!("/api/builds/{}/file", taken["build_id"].as_str().unwrap())).await;
    assert_eq!(build["events"][0]["happened"]["sha256"], there);

    // Nothing is half taken in.
    let mut spoiled: Value = serde_json::from_str(&file).unwrap();
    spoiled["entries"][0]["at"] = json!("once");
    let mut forged: Value = serde_json::from_str(&file).unwrap();
    forged["photos"][0]["jpeg"] = json!("bm90IGEgcGljdHVyZQ==");
    let mut foreign: Value = serde_json::from_str(&file).unwrap();
    foreign["format"] = json!("some/other");
    for (bad, field) in [(spoiled, "/entries/0/at"), (forged, "/photos/0/jpeg"), (foreign, "/format")] {
        let response = client.post("/api/packs/file").body(bad.to_string()).dispatch().await;
        let status = response.status();
        assert_problem(status, &body(response).await, 422, field);
    }
    assert_eq!(get(&client, "/api/packs").await.as_array().unwrap().len(), 1);
    assert_eq!(get(&client, "/api/plans").await.as_array().unwrap().len(), 1);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn packs_and_their_photographs_outlive_a_restore_and_a_purge(pool: PgPool) {
    let client = client(pool.clone()).await;
    let pack = found(&client, "Lantern").await;
    let kept = body(client.post("/api/photos").body(photograph()).dispatch().await).await;
    let mut note = entry("2025-04-01", &json!({"what": "note"}));
    note["entry"]["photo"] = kept["sha256"].clone();
    post(&client, &format!("{pack}/entries"), &note).await;
    let before = get(&client, &pack).await;
    let backup = text(&client, "/api/backup").await;
    sqlx::query("truncate pack cascade").execute(&pool).await.unwrap();
    assert_eq!(client.post("/api/restore").body(backup).dispatch().await.status(), Status::Ok);
    assert_eq!(get(&client, &pack).await["story"]["lines"], before["story"]["lines"]);
    sqlx::query("update photo set kept_at = now() - interval '100 days'").execute(&pool).await.unwrap();
    let gone = found(&client, "Torch").await;
    client.delete(gone).dispatch().await;
    sqlx::query("update pack set deleted_at = now() - interval '100 days' where deleted_at is not null")
        .execute(&pool)
        .await
        .unwrap();
    let purged = store::purge::purge(&pool).await.unwrap();
    assert_eq!(purged, store::purge::Purged { plans: 0, packs: 1, photos: 0 });
}
