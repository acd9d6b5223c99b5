//! Saves, revisions and files: nothing is overwritten, everything can be gone back to.

use crate::common;

use common::{ask, assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;

async fn put(client: &Client, path: &str, opened: &Value, plan: &Value, apart: bool) -> (Status, Value) {
    let save = json!({"revision": opened["revision"], "edit": opened["edit"], "apart": apart, "plan": plan});
    let response = client.put(path.to_owned()).body(save.to_string()).dispatch().await;
    let status = response.status();
    (status, body(response).await)
}

async fn get(client: &Client, path: &str) -> Value {
    body(client.get(path.to_owned()).dispatch().await).await
}

fn noted(plan: &Value, notes: &str) -> Value {
    let mut plan = plan.clone();
    plan["notes"] = json!(notes);
    plan
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn ten_minutes_of_work_are_one_revision_and_the_first_one_stays(pool: PgPool) {
    let client = client(pool.clone()).await;
    let (_, first) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let path = format!("/api/plans/{}", first["id"].as_str().unwrap());
    let (_, second) = put(&client, &path, &first, &noted(&first["plan"], "a"), false).await;
    assert_eq!((&second["revision"], &second["edit"]), (&json!(2), &json!(1)), "the start is never written over");
    let (_, third) = put(&client, &path, &second, &noted(&first["plan"], "b"), false).await;
    assert_eq!((&third["revision"], &third["edit"]), (&json!(2), &json!(2)));
    // The same revision written twice is still told apart: the tab that missed the second write is stale.
    let (status, problem) = put(&client, &path, &second, &noted(&first["plan"], "from another tab"), false).await;
    assert_eq!(status, Status::Conflict);
    assert_eq!(problem["current"]["plan"]["notes"], "b");

    sqlx::query("update plan_revision set began_at = began_at - interval '11 minutes'").execute(&pool).await.unwrap();
    let (_, later) = put(&client, &path, &third, &noted(&first["plan"], "c"), false).await;
    assert_eq!((&later["revision"], &later["edit"]), (&json!(3), &json!(1)), "work of another time");
    let (_, apart) = put(&client, &path, &later, &noted(&first["plan"], "d"), true).await;
    assert_eq!(apart["revision"], 4, "a save that must stand apart does");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_history_tells_what_changed_and_leads_back(pool: PgPool) {
    let client = client(pool).await;
    let (_, first) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let path = format!("/api/plans/{}", first["id"].as_str().unwrap());
    let mut plan = first["plan"].clone();
    plan["packs"][0]["series"] = json!(3);
    put(&client, &path, &first, &plan, false).await;

    let history = get(&client, &format!("{path}/revisions")).await;
    assert_eq!(history.as_array().unwrap().len(), 2);
    assert_eq!(history[0]["revision"], 2);
    let change = json!({"at": "/packs/0/series", "what": "series", "before": null, "after": "3"});
    assert_eq!(history[0]["changes"], json!([change]));
    assert_eq!(history[1]["changes"], json!([]));
    assert_eq!(get(&client, &format!("{path}/revisions/1")).await, first["plan"]);
    for missing in
        [format!("{path}/revisions/9"), "/api/plans/0190a000-0000-7000-8000-000000000000/revisions".to_owned()]
    {
        let response = client.get(missing).dispatch().await;
        assert_eq!(response.status(), Status::NotFound);
        assert_problem(&body(response).await, Status::NotFound);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_plan_goes_out_as_a_file_and_comes_back_value_for_value(pool: PgPool) {
    let client = client(pool.clone()).await;
    let demo = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/plans/hedge-shears.brick.json"));
    let response = client.post("/api/plans/import").body(demo.unwrap()).dispatch().await;
    assert_eq!(response.status(), Status::Created);
    let imported = body(response).await;
    let path = format!("/api/plans/{}", imported["id"].as_str().unwrap());
    let file = client.get(format!("{path}/file")).dispatch().await;
    let named = file.headers().get_one("Content-Disposition").unwrap().to_owned();
    assert_eq!(named, "attachment; filename=\"hedge-shears.brick.json\"");
    let text = file.into_string().await.unwrap();
    let again = body(client.post("/api/plans/import").body(text.clone()).dispatch().await).await;
    assert_eq!(again["plan"], imported["plan"]);
    assert_ne!(again["id"], imported["id"], "an import is a new plan");

    let kept = || async { sqlx::query_as::<_, (i64,)>("select count(*) from plan").fetch_one(&pool).await.unwrap().0 };
    let before = kept().await;
    let version = |newer: u32| format!("\"version\": {}", brick_core::plan::VERSION + newer);
    for (damaged, told) in [
        (text.replacen(&version(0), &version(1), 1), "newer"),
        (text.replacen("\"series\": 4", "\"series\": 99", 1), "/packs/0/series"),
        (text.replacen("\"series\": 4", "\"series\": \"four\"", 1), "/packs/0/series"),
        (text.replacen("\"loads\"", "\"laods\"", 1), "laods"),
        (text.replacen("dense-brick/plan", "shopping/list", 1), "/format"),
        (text[..text.len() / 2].to_owned(), "line"),
        ("a photograph".to_owned(), "line 1"),
    ] {
        let response = client.post("/api/plans/import").body(damaged).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{told}");
        let problem = body(response).await;
        assert!(problem["detail"].as_str().unwrap().contains(told), "{told}: {problem}");
    }
    assert_eq!(kept().await, before, "a damaged file leaves nothing behind");

    let response = client.post(format!("{path}/duplicate")).dispatch().await;
    let copy = body(response).await;
    assert_eq!(copy["plan"]["name"], "Hedge shears, copy");
    assert_eq!(copy["plan"]["packs"], imported["plan"]["packs"]);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_fixes_of_every_finding_are_offered_over_the_api(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let plans = get(&client, "/api/plans").await;
    let shears = plans.as_array().unwrap().iter().find(|p| p["name"] == "Hedge shears").unwrap();
    let plan = get(&client, &format!("/api/plans/{}", shears["id"].as_str().unwrap())).await["plan"].clone();
    let (status, found) = ask(&client, &plan, &json!({"about": "fixes"})).await;
    assert_eq!(status, Status::Ok);
    let strips = found.as_array().unwrap().iter().find(|f| f["finding"] == "brick.strip-over-current").unwrap();
    let first = &strips["fixes"][0];
    assert!(!first["label"].as_str().unwrap().is_empty() && !first["changes"].as_array().unwrap().is_empty());
}

/// Twenty tabs save at once from the same revision: one wins, all others are told what is stored, nothing is lost.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn of_many_saves_at_once_exactly_one_is_taken(pool: PgPool) {
    let client = client(pool.clone()).await;
    let (_, first) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let id: uuid::Uuid = first["id"].as_str().unwrap().parse().unwrap();
    let plan: brick_core::Plan = serde_json::from_value(first["plan"].clone()).unwrap();
    let saves = (0..20).map(|tab| {
        let (pool, plan) = (pool.clone(), brick_core::Plan { notes: format!("tab {tab}"), ..plan.clone() });
        tokio::spawn(async move {
            let from = store::plans::From { revision: 1, edit: 1, apart: false, key: None };
            store::plans::save(&pool, id, from, &plan).await.unwrap()
        })
    });
    let mut taken = vec![];
    for save in saves.collect::<Vec<_>>() {
        match save.await.unwrap() {
            store::plans::Saved::As(stored) => taken.push(stored.document.notes.clone()),
            store::plans::Saved::Stale(stored) => assert_eq!((stored.revision, stored.edit), (2, 1)),
            other => panic!("the plan is there and names no cell: {other:?}"),
        }
    }
    assert_eq!(taken.len(), 1, "{taken:?}");
    let stored = store::plans::get(&pool, id).await.unwrap().unwrap();
    assert_eq!(stored.document.notes, taken[0]);
    let kept: (i64,) = sqlx::query_as("select count(*) from plan_revision").fetch_one(&pool).await.unwrap();
    assert_eq!(kept.0, 2);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_deleted_plan_can_neither_be_saved_nor_read_until_it_is_taken_back(pool: PgPool) {
    let client = client(pool).await;
    let (_, first) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let path = format!("/api/plans/{}", first["id"].as_str().unwrap());
    assert_eq!(client.delete(path.clone()).dispatch().await.status(), Status::NoContent);
    let (status, problem) = put(&client, &path, &first, &noted(&first["plan"], "late"), false).await;
    assert_eq!(status, Status::NotFound);
    assert_problem(&problem, Status::NotFound);
    for gone in ["", "/file", "/revisions", "/revisions/1"] {
        assert_eq!(client.get(format!("{path}{gone}")).dispatch().await.status(), Status::NotFound, "{gone}");
    }
    assert_eq!(client.post(format!("{path}/duplicate")).dispatch().await.status(), Status::NotFound);
    client.post(format!("{path}/restore")).dispatch().await;
    let (status, _) = put(&client, &path, &first, &noted(&first["plan"], "late"), false).await;
    assert_eq!(status, Status::Ok, "the history goes on where it was");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_clock_that_went_back_does_not_gather_work_for_as_long(pool: PgPool) {
    let client = client(pool.clone()).await;
    let (_, made) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let id: uuid::Uuid = made["id"].as_str().unwrap().parse().unwrap();
    let plan = brick_core::Plan::blank("Kite reel");
    let from = |revision, edit| store::plans::From { revision, edit, apart: false, key: None };
    store::plans::save(&pool, id, from(1, 1), &plan).await.unwrap();
    // Revision 2 was begun at a time that the clock, put back since, has not reached yet.
    sqlx::query("update plan_revision set began_at = now() + interval '3 days' where revision = 2")
        .execute(&pool)
        .await
        .unwrap();
    let saved = store::plans::save(&pool, id, from(2, 1), &plan).await.unwrap();
    assert!(matches!(saved, store::plans::Saved::As(ref s) if s.revision == 3), "{saved:?}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_was_deleted_long_ago_goes_and_nothing_else(pool: PgPool) {
    let client = client(pool.clone()).await;
    for name in ["Kept", "Deleted lately", "Deleted long ago"] {
        let (_, made) = post(&client, "/api/plans", &json!({"name": name})).await;
        if name != "Kept" {
            client.delete(format!("/api/plans/{}", made["id"].as_str().unwrap())).dispatch().await;
        }
    }
    sqlx::query("update plan set deleted_at = now() - interval '91 days' where name = 'Deleted long ago'")
        .execute(&pool)
        .await
        .unwrap();
    let photo = |text: &'static str, named: bool| {
        let pool = pool.clone();
        async move {
            let (sha,): (String,) = sqlx::query_as(
                "insert into photo (sha256, jpeg, width_px, height_px, kept_at)
                 values (encode(sha256($1::bytea), 'hex'), $1::bytea, 1, 1, now() - interval '100 days') returning sha256",
            )
            .bind(text.as_bytes())
            .fetch_one(&pool)
            .await
            .unwrap();
            if named {
                sqlx::query(
                    "update plan_revision set document = jsonb_set(document, '{name}', to_jsonb($1::text))
                             where plan_id = (select id from plan where name = 'Kept')",
                )
                .bind(&sha)
                .execute(&pool)
                .await
                .unwrap();
            }
        }
    };
    photo("used", true).await;
    photo("unused", false).await;
    let purged = store::purge::purge(&pool).await.unwrap();
    assert_eq!(purged, store::purge::Purged { plans: 1, packs: 0, photos: 1 });
    let left: Vec<(String,)> = sqlx::query_as("select name from plan order by name").fetch_all(&pool).await.unwrap();
    assert_eq!(left.iter().map(|(n,)| n.as_str()).collect::<Vec<_>>(), ["Deleted lately", "Kept"]);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_save_that_is_sent_again_is_saved_once_and_no_conflict(pool: PgPool) {
    let client = client(pool.clone()).await;
    let (_, made) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let path = format!("/api/plans/{}", made["id"].as_str().unwrap());
    let send = async |from: &Value, key: Option<&str>, name: &str| {
        let mut plan = from["plan"].clone();
        plan["name"] = json!(name);
        let save = json!({"revision": from["revision"], "edit": from["edit"], "key": key, "plan": plan});
        let response = client.put(&path).body(save.to_string()).dispatch().await;
        (response.status(), body(response).await)
    };
    let key = "0190a000-0000-4000-8000-000000000001";
    let (status, saved) = send(&made, Some(key), "Kite reel, new").await;
    assert_eq!((status, saved["key"].as_str()), (Status::Ok, Some(key)));
    // The answer was lost, and the browser sends it again.
    let (status, again) = send(&made, Some(key), "Kite reel, new").await;
    assert_eq!(status, Status::Ok);
    assert_eq!((&again["revision"], &again["edit"]), (&saved["revision"], &saved["edit"]));
    // Another tab, from the same start, is refused, and told whose save is stored.
    let (status, refused) = send(&made, Some("0190a000-0000-4000-8000-000000000002"), "Other").await;
    assert_eq!((status, refused["current"]["key"].as_str()), (Status::Conflict, Some(key)));
    assert_eq!(send(&made, None, "Other").await.0, Status::Conflict);
    // Once somebody saved without a key, the old key proves nothing.
    assert_eq!(send(&saved, None, "Third").await.0, Status::Ok);
    assert_eq!(send(&made, Some(key), "Kite reel, new").await.0, Status::Conflict);
}
