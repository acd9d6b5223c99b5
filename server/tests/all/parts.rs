//! The parts catalogue over the API: added to, changed, deleted and taken back, as a sheet, and from a seller's text.

use crate::common;

use common::stock::get;
use common::{ask, assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;

fn fuse(name: &str, rating_a: f64) -> Value {
    json!({"part": {"kind": "fuse", "fuse": {"offer": {"name": name, "price": 0.4}, "style": "blade",
        "rating_a": rating_a, "dc_v": 32.0, "breaking_a": null}}, "at_hand": 3, "note": "drawer two"})
}

async fn put(client: &Client, path: &str, part: &Value) -> (Status, Value) {
    let response = client.put(path.to_owned()).body(part.to_string()).dispatch().await;
    (response.status(), body(response).await)
}

async fn import(client: &Client, text: &str) -> (Status, Value) {
    let response = client.post("/api/parts-import").body(text).dispatch().await;
    (response.status(), body(response).await)
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_part_is_added_changed_deleted_and_taken_back(pool: PgPool) {
    let client = client(pool).await;
    let (status, added) = post(&client, "/api/parts", &fuse("Blade 15 A", 15.0)).await;
    assert_eq!((status, &added["id"]), (Status::Created, &json!("blade-15-a")));
    assert_eq!(added["part"]["fuse"]["offer"]["catalogue_id"], "blade-15-a");
    // Another of the same name is another part.
    let (_, second) = post(&client, "/api/parts", &fuse("Blade 15 A", 15.0)).await;
    assert_eq!(second["id"], "blade-15-a-2");
    let path = "/api/parts/blade-15-a";
    let (status, changed) = put(&client, path, &fuse("Blade 20 A", 20.0)).await;
    assert_eq!((status, &changed["id"]), (Status::Ok, &json!("blade-15-a")));
    for (rating_a, name, field) in [(-1.0, "Blade", "/rating_a"), (5.0, " ", "/offer/name")] {
        let (status, told) = put(&client, path, &fuse(name, rating_a)).await;
        assert_eq!(status, Status::UnprocessableEntity);
        assert_problem(&told, status);
        assert_eq!(told["errors"][0]["field"], field, "{told}");
    }
    assert_eq!(get(&client, "/api/parts").await[0]["part"]["fuse"]["rating_a"], 20.0, "a refused change did nothing");
    assert_eq!(client.delete(path).dispatch().await.status(), Status::NoContent);
    assert_eq!(get(&client, "/api/parts").await.as_array().unwrap().len(), 1);
    for (status, answer) in [
        (Status::NotFound, client.delete(path).dispatch().await.status()),
        (Status::NotFound, put(&client, path, &fuse("Blade", 5.0)).await.0),
        (Status::NoContent, client.post(format!("{path}/restore")).dispatch().await.status()),
        (Status::NotFound, client.post(format!("{path}/restore")).dispatch().await.status()),
        (Status::NotFound, client.delete("/api/parts/nobody").dispatch().await.status()),
    ] {
        assert_eq!(answer, status);
    }
    assert_eq!(get(&client, "/api/parts").await.as_array().unwrap().len(), 2);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_sheet_goes_out_and_in_and_a_bad_line_stops_all_of_it(pool: PgPool) {
    let client = client(pool).await;
    post(&client, "/api/demo", &json!({})).await;
    let before = get(&client, "/api/parts").await;
    let sheet = client.get("/api/parts-file").dispatch().await.into_string().await.unwrap();
    let count = before.as_array().unwrap().len();
    let (status, done) = import(&client, &sheet).await;
    assert_eq!(status, Status::Ok);
    assert_eq!((&done["added"], &done["changed"], &done["unchanged"]), (&json!(0), &json!(0), &json!(count)));
    assert_eq!(get(&client, "/api/parts").await, before);

    let (_, done) = import(&client, "id,kind,name,rating_a\nfuse-blade-5,fuse,blade 5,5\nmine,fuse,mine,7.5\n").await;
    assert_eq!((&done["added"], &done["changed"], &done["unchanged"]), (&json!(1), &json!(1), &json!(0)));
    // What was deleted comes back with a sheet that names it.
    client.delete("/api/parts/mine").dispatch().await;
    let (_, done) = import(&client, "id,kind,name,rating_a\nmine,fuse,mine,10\n").await;
    assert_eq!(done["added"], 1);

    let kept = get(&client, "/api/parts").await;
    let (status, told) = import(&client, "id,kind,name,rating_a\nnew-one,fuse,new,5\nother,fuse,other,lots\n").await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert_problem(&told, status);
    assert!(told["errors"][0]["message"].as_str().unwrap().starts_with("line 3: rating_a"), "{told}");
    assert_eq!(get(&client, "/api/parts").await, kept, "a bad sheet was half taken");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_seller_s_text_is_read_and_an_empty_one_is_refused(pool: PgPool) {
    let client = client(pool).await;
    let text = "4S 30A protection board, continuous 15 A, balance current 60 mA";
    let (status, listing) = post(&client, "/api/listing", &json!({"text": text})).await;
    assert_eq!((status, &listing["sold"]), (Status::Ok, &json!("board")));
    assert_eq!(listing["part"]["module"]["protects"]["continuous_a"], 15.0);
    assert_eq!(listing["doubts"][0]["about"], "Continuous current");
    // What was read can be kept as it is.
    let (status, kept) =
        post(&client, "/api/parts", &json!({"part": listing["part"], "at_hand": null, "note": ""})).await;
    assert_eq!(status, Status::Created, "{kept}");
    for text in ["  ".to_owned(), "a".repeat(20_001)] {
        let (status, told) = post(&client, "/api/listing", &json!({"text": text})).await;
        assert_eq!((status, &told["errors"][0]["field"]), (Status::UnprocessableEntity, &json!("/text")));
        assert_problem(&told, status);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn arrival_tests_places_and_what_more_current_takes_are_answered(pool: PgPool) {
    let client = client(pool).await;
    post(&client, "/api/demo", &json!({})).await;
    let plans = get(&client, "/api/plans").await;
    let id = plans.as_array().unwrap().iter().find(|p| p["name"] == "Hedge shears").unwrap()["id"].as_str().unwrap();
    let plan = get(&client, &format!("/api/plans/{id}")).await["plan"].clone();
    let (status, tests) = ask(&client, &plan, &json!({"about": "arrival_tests"})).await;
    assert_eq!(status, Status::Ok);
    let board = tests.as_array().unwrap().iter().find(|t| t["place"] == "board").unwrap();
    assert!(board["tests"].as_array().unwrap().len() >= 6, "{board}");
    let (_, places) = ask(&client, &plan, &json!({"about": "board_places"})).await;
    assert_eq!(places.as_array().unwrap().len(), 2);
    let (status, raise) = ask(&client, &plan, &json!({"about": "raise", "wanted_a": 40.0})).await;
    assert_eq!(status, Status::Ok);
    assert!(!raise["steps"].as_array().unwrap().is_empty(), "{raise}");
    let (status, told) = ask(&client, &plan, &json!({"about": "raise", "wanted_a": 0.0})).await;
    assert_eq!((status, &told["errors"][0]["field"]), (Status::UnprocessableEntity, &json!("/wanted_a")));
}

/// What lies in the drawer is not bought, on the screen, in the table and in the list of plans alike.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_bill_counts_what_the_drawer_holds(pool: PgPool) {
    let client = client(pool).await;
    let (_, kept) = post(&client, "/api/parts", &fuse("Blade 15 A", 15.0)).await;
    let mut plan = serde_json::to_value(brick_core::Plan::blank("Lamp")).unwrap();
    plan["nodes"][2]["part"] = json!({"state": "chosen", "part": {"type": "fuse", "fuse": kept["part"]["fuse"]}});
    plan["buying"] = json!({"extras": [{"name": "=sleeve, \"wide\"", "count": 2, "price": 1.5}]});
    let (status, bill) = ask(&client, &plan, &json!({"about": "bill"})).await;
    assert_eq!((status, bill["lines"].as_array().map(Vec::len)), (Status::Ok, Some(2)));
    assert_eq!((&bill["lines"][0]["to_buy"], &bill["lines"][0]["note"]), (&json!(0.0), &json!("drawer two")));
    assert_eq!((&bill["to_buy_price"], &bill["to_buy_lines"]), (&json!(3.0), &json!(1)));
    plan["buying"]["extras"][0]["count"] = json!(0);
    let (status, told) = ask(&client, &plan, &json!({"about": "bill"})).await;
    assert_problem(&told, status);
    assert_eq!(told["errors"][0]["field"], "/buying/extras/0/count");
    plan["buying"]["extras"][0]["count"] = json!(2);
    let (_, opened) = post(&client, "/api/plans", &json!({"plan": plan})).await;
    let path = format!("/api/plans/{}/bill-file", opened["id"].as_str().unwrap());
    let text = client.get(path).dispatch().await.into_string().await.unwrap();
    assert!(text.contains("Blade 15 A,1,pieces,0.4,0.4,1,0,0,"), "{text}");
    // No spreadsheet takes the name for a formula.
    assert!(text.contains("\"'=sleeve, \"\"wide\"\"\",2,pieces,1.5,3,0,2,3,"), "{text}");
    let listed = get(&client, "/api/plans").await;
    assert_eq!((&listed[0]["lines"], &listed[0]["to_buy_lines"]), (&json!(2), &json!(1)));
    assert_eq!(listed[0]["at_hand_share"], 0.5);
}
