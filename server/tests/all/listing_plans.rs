//! The list of plans: in pages, searched, ordered, and whole whatever one of its plans is like.

use crate::common;

use brick_core::Plan;
use brick_core::assess::{Finding, Severity, assess};
use common::{assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;

async fn names(client: &Client, query: &str) -> Vec<String> {
    let response = client.get(format!("/api/plans{query}")).dispatch().await;
    assert_eq!(response.status(), Status::Ok, "{query}");
    let list = body(response).await;
    list.as_array().unwrap().iter().map(|p| p["name"].as_str().unwrap().to_owned()).collect()
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_long_list_comes_in_pages_and_is_searched(pool: PgPool) {
    let client = client(pool.clone()).await;
    for i in 0..7 {
        post(&client, "/api/plans", &json!({"name": format!("Reel {i}")})).await;
    }
    post(&client, "/api/plans", &json!({"name": "100 % LAMP_"})).await;
    assert_eq!(names(&client, "?count=3").await, ["100 % LAMP_", "Reel 6", "Reel 5"]);
    assert_eq!(names(&client, "?count=3&from=3").await, ["Reel 4", "Reel 3", "Reel 2"]);
    assert_eq!(names(&client, "?count=3&from=9").await, [""; 0]);
    assert_eq!(names(&client, "?search=lamp").await, ["100 % LAMP_"]);
    // Signs that mean something to a database mean themselves.
    assert_eq!(names(&client, "?search=%25").await, ["100 % LAMP_"]);
    assert_eq!(names(&client, "?search=_").await, ["100 % LAMP_"]);
    for bad in [
        "?count=0",
        "?count=501",
        "?from=-1",
        "?search=%00",
        "?from=9223372036854775807",
        "?from=9223372036854775808",
        "?count=x",
        "?order=AAA",
    ] {
        let response = client.get(format!("/api/plans{bad}")).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{bad}");
        assert_problem(&body(response).await, Status::UnprocessableEntity);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_summary_is_made_once_and_anew_when_plan_or_catalogue_changes(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let one = async |name: &str| -> Value {
        let list = body(client.get("/api/plans").dispatch().await).await;
        list.as_array().unwrap().iter().find(|p| p["name"].as_str().unwrap().contains(name)).unwrap().clone()
    };
    let made_of = async || -> Vec<String> {
        sqlx::query_scalar("select summary_of from plan order by id").fetch_all(&pool).await.unwrap()
    };
    let boat = one("Bait boat").await;
    assert!(boat["counts"] == "4S1P" || boat["pack_wh"].as_f64().unwrap() > 0.0, "{boat}");
    let first = made_of().await;
    one("Bait boat").await;
    assert_eq!(made_of().await, first, "nothing changed");
    // What is kept is what is shown: the plan itself is not assessed again.
    sqlx::query("update plan set summary = jsonb_set(summary, '{counts}', '\"9S9P\"')").execute(&pool).await.unwrap();
    assert_eq!(one("Bait boat").await["counts"], "9S9P");

    let path = format!("/api/plans/{}", boat["id"].as_str().unwrap());
    let opened = body(client.get(&path).dispatch().await).await;
    let save = json!({"revision": opened["revision"], "edit": opened["edit"], "plan": opened["plan"]});
    assert_eq!(client.put(&path).body(save.to_string()).dispatch().await.status(), Status::Ok);
    assert_eq!(one("Bait boat").await["counts"], boat["counts"], "made anew after a save");
    assert_eq!(one("Hedge shears").await["counts"], "9S9P");
    let parts = body(client.get("/api/parts").dispatch().await).await;
    let part = parts["items"][0]["id"].as_str().or(parts[0]["id"].as_str()).unwrap().to_owned();
    assert_eq!(client.delete(format!("/api/parts/{part}")).dispatch().await.status(), Status::NoContent);
    assert_ne!(one("Hedge shears").await["counts"], "9S9P", "made anew after a change of the catalogue");
}

/// What follows from another finding is folded under it on the plan's own page, and not counted there either.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_list_counts_findings_as_the_page_of_the_plan_does(pool: PgPool) {
    let client = client(pool).await;
    post(&client, "/api/demo", &json!(null)).await;
    let list = body(client.get("/api/plans").dispatch().await).await;
    let mut folded = 0;
    for listed in list.as_array().unwrap() {
        let opened = body(client.get(format!("/api/plans/{}", listed["id"].as_str().unwrap())).dispatch().await).await;
        let plan = Plan::from_json(&opened["plan"].to_string()).unwrap();
        let findings = assess(&plan).unwrap().findings;
        folded += findings.iter().filter(|f| f.follows.is_some()).count();
        for (severity, key) in [(Severity::Stop, "stops"), (Severity::Caution, "cautions")] {
            let shown = |f: &&Finding| f.severity == severity && f.follows.is_none() && f.accepted.is_none();
            assert_eq!(listed[key], findings.iter().filter(shown).count(), "{key} of {}", listed["name"]);
        }
    }
    assert!(folded > 0, "no demo plan has a finding that follows from another");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_order_by_figures_is_that_of_all_plans(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    post(&client, "/api/plans", &json!({"name": "Without parts"})).await;
    for (order, key, sign) in [("at_hand", "at_hand_share", -1.0), ("price", "to_buy_price", 1.0)] {
        let whole = body(client.get(format!("/api/plans?order={order}")).dispatch().await).await;
        let whole = whole.as_array().unwrap();
        let known: Vec<f64> = whole.iter().filter_map(|p| p[key].as_f64()).map(|v| v * sign).collect();
        assert!(known.len() > 2 && known.windows(2).all(|w| w[0] <= w[1]), "{order}: {known:?}");
        assert!(whole.last().unwrap()[key].is_null());
        let first = body(client.get(format!("/api/plans?order={order}&count=1")).dispatch().await).await;
        assert_eq!(first[0]["id"], whole[0]["id"]);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn one_damaged_document_is_listed_as_that_and_hides_no_other(pool: PgPool) {
    let client = client(pool.clone()).await;
    for name in ["Kite reel", "Bell"] {
        post(&client, "/api/plans", &json!({"name": name})).await;
    }
    sqlx::query(
        "update plan_revision set document = '{\"name\": 7}' where plan_id = (select id from plan where name = 'Bell')",
    )
    .execute(&pool)
    .await
    .unwrap();
    let list = body(client.get("/api/plans").dispatch().await).await;
    assert_eq!((list[0]["name"].as_str(), list[0]["readable"].as_bool()), (Some("Bell"), Some(false)));
    assert_eq!((list[1]["name"].as_str(), list[1]["readable"].as_bool()), (Some("Kite reel"), Some(true)));
}
