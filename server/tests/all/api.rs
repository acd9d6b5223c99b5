//! The routes against a real database: what is kept, what is refused and how.

use crate::common;

use brick_core::Plan;
use common::{ask, assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::Status;
use serde_json::{Value, json};
use sqlx::PgPool;

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_plan_is_made_saved_found_deleted_and_taken_back(pool: PgPool) {
    let client = client(pool).await;
    let (status, made) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    assert_eq!(status, Status::Created);
    assert_eq!(made["revision"], 1);
    let path = format!("/api/plans/{}", made["id"].as_str().unwrap());

    let mut plan = made["plan"].clone();
    plan["notes"] = json!("a drum, a brake, a motor");
    plan["environment"]["use_max_c"] = json!(33.3);
    let save = json!({"revision": 1, "edit": 1, "plan": plan});
    let saved = client.put(path.clone()).body(save.to_string()).dispatch().await;
    assert_eq!(saved.status(), Status::Ok);
    assert_eq!(body(saved).await["revision"], 2);

    let found = body(client.get(path.clone()).dispatch().await).await;
    assert_eq!(found["plan"], plan, "what was saved is found value for value");

    assert_eq!(client.delete(path.clone()).dispatch().await.status(), Status::NoContent);
    assert_eq!(body(client.get("/api/plans").dispatch().await).await, json!([]));
    let gone = client.get(path.clone()).dispatch().await;
    assert_eq!(gone.status(), Status::NotFound);
    assert_problem(&body(gone).await, Status::NotFound);
    assert_eq!(client.delete(path.clone()).dispatch().await.status(), Status::NotFound);
    assert_eq!(post(&client, &format!("{path}/restore"), &json!(null)).await.0, Status::NoContent);
    assert_eq!(body(client.get("/api/plans").dispatch().await).await[0]["name"], "Kite reel");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_stale_save_is_refused_with_what_is_stored_and_changes_nothing(pool: PgPool) {
    let client = client(pool).await;
    let (_, made) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    let path = format!("/api/plans/{}", made["id"].as_str().unwrap());
    let save = |name: &str| {
        let mut plan = made["plan"].clone();
        plan["name"] = json!(name);
        json!({"revision": 1, "edit": 1, "plan": plan}).to_string()
    };
    assert_eq!(client.put(path.clone()).body(save("first")).dispatch().await.status(), Status::Ok);
    let stale = client.put(path.clone()).body(save("second")).dispatch().await;
    assert_eq!(stale.status(), Status::Conflict);
    let problem = body(stale).await;
    assert_problem(&problem, Status::Conflict);
    assert_eq!(problem["current"]["plan"]["name"], "first");
    assert_eq!(body(client.get(path).dispatch().await).await["plan"]["name"], "first");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn bad_input_is_told_apart_and_names_the_field(pool: PgPool) {
    let client = client(pool.clone()).await;
    let blank = serde_json::to_value(Plan::blank("Kite reel")).unwrap();
    let with = |pointer: &str, value: Value| {
        let mut plan = blank.clone();
        *plan.pointer_mut(pointer).unwrap() = value;
        plan.to_string()
    };
    let nan = blank.to_string().replace("\"use_max_c\":35.0", "\"use_max_c\":NaN");
    let huge = blank.to_string().replace("\"use_max_c\":35.0", "\"use_max_c\":1e999");
    let cases: [(String, u16, &str); 10] = [
        (with("/packs/0/series", json!(25)), 422, "/packs/0/series"),
        (with("/packs/0/series", json!(-1)), 422, "/packs/0/series"),
        (with("/packs/0/series", json!("four")), 422, "/packs/0/series"),
        (with("/environment/use_max_c", json!(1e308)), 422, "/environment/use_max_c"),
        (with("/runs/0/to", json!("nowhere")), 422, "/runs/0/to"),
        (with("/name", json!("")), 422, "/name"),
        (with("/packs", json!([])), 422, "/packs"),
        (nan, 400, ""),
        (huge, 422, "/environment/use_max_c"),
        ("{".to_owned(), 400, ""),
    ];
    for (text, status, field) in cases {
        let mut bodies = vec![("/api/assess", text.clone())];
        // A plan that is cut off inside a question is another one.
        bodies.extend((text != "{").then(|| ("/api/answers", asking(&text))));
        for (path, text) in bodies {
            let response = client.post(path).body(text.clone()).dispatch().await;
            assert_eq!(response.status().code, status, "{path}: {text}");
            assert_eq!(response.content_type().unwrap().to_string(), "application/problem+json");
            let problem = body(response).await;
            assert_problem(&problem, Status::from_code(status).unwrap());
            if !field.is_empty() {
                // A body that holds the plan names its shape from the body on.
                let named = |e: &Value| e["field"].as_str().is_some_and(|f| f.ends_with(field));
                assert!(problem["errors"].as_array().unwrap().iter().any(named), "{problem}");
            }
        }
    }
    // A refused save leaves nothing behind.
    let new = json!({"plan": serde_json::from_str::<Value>(&with("/packs/0/series", json!(25))).unwrap()});
    assert_eq!(post(&client, "/api/plans", &new).await.0, Status::UnprocessableEntity);
    let kept: (i64,) = sqlx::query_as("select count(*) from plan").fetch_one(&pool).await.unwrap();
    assert_eq!(kept.0, 0);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn too_large_unknown_and_unusable_requests_are_problems(pool: PgPool) {
    let client = client(pool).await;
    let large = client.post("/api/assess").body(" ".repeat(600 * 1024)).dispatch().await;
    assert_eq!(large.status(), Status::PayloadTooLarge);
    assert_problem(&body(large).await, Status::PayloadTooLarge);
    let unknown = "/api/plans/0190a000-0000-7000-8000-000000000000";
    for (path, status) in [(unknown, 404), ("/api/plans/seven", 422), ("/api/kitchen", 404)] {
        let response = client.get(path).dispatch().await;
        assert_eq!(response.status().code, status, "{path}");
        assert_problem(&body(response).await, Status::from_code(status).unwrap());
    }
    let wrong = ask(&client, &json!(Plan::blank("x")), &json!({"about": "suggestions", "place": "kitchen"})).await;
    assert_eq!(wrong.1["errors"][0]["field"], "/place");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_demo_is_loaded_once_and_never_over_what_somebody_changed(pool: PgPool) {
    let client = client(pool).await;
    let empty = ask(&client, &json!(Plan::blank("x")), &json!({"about": "suggestions", "place": "board"})).await;
    assert_eq!(empty, (Status::Ok, json!([])), "without the demo there are no parts");
    assert_eq!(post(&client, "/api/demo", &json!(null)).await.1["loaded"], true);
    let plans = body(client.get("/api/plans").dispatch().await).await;
    let names: Vec<&str> = plans.as_array().unwrap().iter().filter_map(|p| p["name"].as_str()).collect();
    assert!(names.contains(&"Bait boat") && names.contains(&"Hedge shears"), "{names:?}");
    let id = plans[0]["id"].as_str().unwrap();
    assert_eq!(client.delete(format!("/api/plans/{id}")).dispatch().await.status(), Status::NoContent);
    assert_eq!(post(&client, "/api/demo", &json!(null)).await.1["loaded"], false);
    let left = body(client.get("/api/plans").dispatch().await).await;
    assert_eq!(left.as_array().unwrap().len(), names.len() - 1);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn figures_are_read_as_typed(pool: PgPool) {
    let client = client(pool).await;
    let (status, read) = post(&client, "/api/quantity", &json!({"text": "76 m", "range": "dcir"})).await;
    assert_eq!((status, read["value"].as_f64()), (Status::Ok, Some(0.076)));
    let (status, read) = post(&client, "/api/quantity", &json!({"text": "1,200", "range": "device_volts"})).await;
    assert_eq!((status, read["value"].is_null()), (Status::Ok, true));
    assert!(read["refused"].as_str().unwrap().contains("1200"), "{read}");
    assert_eq!(post(&client, "/api/quantity", &json!({"text": "1", "range": "taste"})).await.0.code, 422);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn assess_over_http_says_what_core_says(pool: PgPool) {
    let client = client(pool).await;
    let text = std::fs::read_to_string(format!("{}/../demo/plans/hedge-shears.brick.json", env!("CARGO_MANIFEST_DIR")));
    let plan = Plan::from_json(&text.unwrap()).unwrap();
    let (status, told) = post(&client, "/api/assess", &serde_json::to_value(&plan).unwrap()).await;
    assert_eq!(status, Status::Ok);
    assert_eq!(told, serde_json::to_value(brick_core::assess(&plan).unwrap()).unwrap());
    let reference = body(client.get("/api/reference").dispatch().await).await;
    let formulas = reference["formulas"].as_array().unwrap();
    for figure in told["figures"].as_array().unwrap() {
        let formula = &figure["working"]["formula"];
        assert!(formulas.iter().any(|f| &f["id"] == formula), "{formula} has no text");
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_database_that_is_gone_is_told_plainly(pool: PgPool) {
    let client = client(pool.clone()).await;
    pool.close().await;
    let response = client.get("/api/plans").dispatch().await;
    assert_eq!(response.status(), Status::ServiceUnavailable);
    let problem = body(response).await;
    assert_problem(&problem, Status::ServiceUnavailable);
    // What needs no database still works.
    let plan = serde_json::to_value(Plan::blank("x")).unwrap();
    assert_eq!(post(&client, "/api/assess", &plan).await.0, Status::Ok);
}

#[test]
fn the_committed_openapi_document_is_current() {
    let kept = std::fs::read_to_string(format!("{}/../openapi.json", env!("CARGO_MANIFEST_DIR"))).unwrap();
    let now = dense_brick::api::openapi().unwrap();
    assert!(kept == now, "openapi.json is stale: cargo run -p dense-brick -- openapi > openapi.json");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn who_acts_first_is_told_of_any_plan_and_a_broken_one_is_refused(pool: PgPool) {
    let client = client(pool).await;
    let blank = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await.1["plan"].clone();
    let (status, told) = ask(&client, &blank, &json!({"about": "coordination"})).await;
    assert_eq!(status, Status::Ok);
    assert!(told["missing"].as_str().unwrap().contains("draws"), "{told}");

    let text = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/plans/hedge-shears.brick.json"));
    let mut plan: Value = serde_json::from_str(&text.unwrap()).unwrap();
    let told = ask(&client, &plan, &json!({"about": "coordination"})).await.1;
    let verdicts: Vec<(&str, &str)> = told["cases"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| (c["name"].as_str().unwrap(), c["verdict"].as_str().unwrap_or("right")))
        .collect();
    // Its strips bear less than its fuse lets pass; the board ends a short in time.
    assert_eq!(verdicts, [("overload", "stop"), ("stall that does not end", "stop"), ("dead short", "right")]);

    plan["packs"][0]["strip"]["part"]["thickness_mm"] = json!(-0.2);
    let (status, refused) = ask(&client, &plan, &json!({"about": "coordination"})).await;
    assert_problem(&refused, status);
    assert_eq!(refused["errors"][0]["field"], "/packs/0/strip/part/thickness_mm");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn signs_that_are_no_text_are_refused_by_name_or_drawn_as_unknown(pool: PgPool) {
    let client = client(pool).await;
    for (path, body, field) in [
        ("/api/plans", r#"{"name": "a\u0000b"}"#, "/name"),
        ("/api/stock/lots", r#"{"lot": {"name": "a\u0000"}, "labels": ""}"#, "/lot/name"),
        ("/api/plans/import", r#"{"name": "a\u0000b"}"#, "/name"),
        ("/api/parts-import", "id,kind\na\u{0},cell\n", "/text/2"),
        ("/api/stock/import?instrument=x", "label\nA\u{0}1\n", "/text/2"),
    ] {
        let response = client.post(path).body(body).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{path}");
        let problem = self::body(response).await;
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
    }
    // Written with a backslash before it, it is a text like any.
    let (status, _) = post(&client, "/api/plans", &json!({"name": "a\\u0000b"})).await;
    assert_eq!(status, Status::Created);
    for path in ["/api/parts/%00", "/api/plans?search=%00", "/api/photos/%00"] {
        let status = client.get(path).dispatch().await.status();
        assert!((400..500).contains(&status.code), "{path}: {status}");
    }
    let status = client.delete("/api/parts/%00").dispatch().await.status();
    assert!((400..500).contains(&status.code), "{status}");
    // A bell and a broken escape in a name: the drawing stays one.
    post(&client, "/api/demo", &json!(null)).await;
    let list = body(client.get("/api/plans?search=bait").dispatch().await).await;
    let id = list[0]["id"].as_str().unwrap();
    let opened = body(client.get(format!("/api/plans/{id}")).dispatch().await).await;
    let mut plan = opened["plan"].clone();
    plan["name"] = json!("Boat \u{7} \u{1b}[2J <&> \u{fffe}");
    let save = json!({"revision": opened["revision"], "edit": opened["edit"], "plan": plan});
    assert_eq!(client.put(format!("/api/plans/{id}")).body(save.to_string()).dispatch().await.status(), Status::Ok);
    let page = client.get(format!("/api/plans/{id}/diagram-file")).dispatch().await.into_string().await.unwrap();
    assert!(page.contains("Boat \u{fffd} \u{fffd}[2J &lt;&amp;&gt; \u{fffd}"), "{page}");
}

/// Two who choose the same name at once: one has it, the other is told so, and nobody sees a fault.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn racing_for_a_name_ends_with_one_winner_and_clear_refusals(pool: PgPool) {
    let client = std::sync::Arc::new(client(pool.clone()).await);
    let tries = (0..12).map(|_| {
        let client = client.clone();
        tokio::spawn(async move {
            post(&client, "/api/stock/lots", &json!({"lot": common::lot("Yard"), "labels": "A1-A4"})).await.0
        })
    });
    let mut won = 0;
    for one in tries.collect::<Vec<_>>() {
        match one.await.unwrap() {
            Status::Created => won += 1,
            status => assert!(matches!(status.code, 409 | 422), "{status}"),
        }
    }
    assert_eq!(won, 1);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_value_that_cannot_be_read_is_never_taken_as_absent(pool: PgPool) {
    let client = client(pool).await;
    post(&client, "/api/demo", &json!(null)).await;
    let list = body(client.get("/api/plans").dispatch().await).await;
    let drawn = format!("/api/plans/{}/diagram-file", list[0]["id"].as_str().unwrap());
    for (path, field) in [
        ("/api/stock/cells?offset=9223372036854775808", "/offset"),
        ("/api/stock/cells?offset=-1", "/offset"),
        ("/api/stock/cells?limit=501", "/limit"),
        ("/api/stock/cells?descending=perhaps", "/descending"),
        (&format!("{drawn}?in_series=2"), "/in_series"),
    ] {
        let response = client.get(path).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{path}");
        assert_eq!(body(response).await["errors"][0]["field"], field, "{path}");
    }
    let log = client.post("/api/load-log?interval_s=often").body("1\n2\n").dispatch().await;
    assert_eq!(log.status(), Status::UnprocessableEntity);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn an_address_that_is_there_for_another_method_says_so(pool: PgPool) {
    let client = client(pool).await;
    for (method, path, status) in [
        (rocket::http::Method::Delete, "/api/plans", 405),
        (rocket::http::Method::Trace, "/api/stock/cells", 405),
        (rocket::http::Method::Get, "/api/assess", 405),
        (rocket::http::Method::Get, "/api/no-such-thing", 404),
        (rocket::http::Method::Patch, "/api/plans/0190a000-0000-7000-8000-000000000000", 405),
    ] {
        let response = client.req(method, path).dispatch().await;
        assert_eq!(response.status().code, status, "{method} {path}");
        assert_problem(&body(response).await, Status::from_code(status).unwrap());
    }
}

/// What nobody can mean is refused by name: a value given twice, a list in the place of an object.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_can_be_read_in_two_ways_is_refused(pool: PgPool) {
    let client = client(pool).await;
    for (path, name) in [
        ("/api/plans?order=name&order=price", "/order"),
        ("/api/plans?order=null&order=null", "/order"),
        ("/api/stock/cells?offset=0&count=5&offset=0", "/offset"),
    ] {
        let response = client.get(path).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{path}");
        let problem = body(response).await;
        assert_problem(&problem, Status::UnprocessableEntity);
        assert_eq!(problem["errors"][0]["field"], name, "{problem}");
    }
    for (path, list) in
        [("/api/plans", json!(["Kite reel"])), ("/api/quantity", json!(["3 V", "v", null])), ("/api/assess", json!([]))]
    {
        let (status, problem) = post(&client, path, &list).await;
        assert!(status.code >= 400 && status.code < 500, "{path}: {status}");
        assert_problem(&problem, status);
    }
}

/// The body of a question about a plan that is written as text.
fn asking(plan: &str) -> String {
    format!(r#"{{"questions": [{{"about": "bill"}}], "plan": {plan}}}"#)
}

/// Everything a page wants to know in one call; what one question is refused for spoils no other.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn many_questions_are_answered_in_one_call_each_by_itself(pool: PgPool) {
    let client = client(pool).await;
    post(&client, "/api/demo", &json!(null)).await;
    let plan = json!(Plan::blank("Lamp"));
    let about = |questions: Value| json!({"plan": plan, "edit": 7, "questions": questions});
    let questions = json!([
        {"about": "assessment"}, {"about": "suggestions", "place": "kitchen"}, {"about": "bill"}, {"about": "later"}
    ]);
    let (status, told) = post(&client, "/api/answers", &about(questions)).await;
    assert_eq!((status, &told["edit"]), (Status::Ok, &json!(7)));
    let replies = told["replies"].as_array().unwrap();
    let abouts: Vec<&Value> = replies.iter().map(|r| &r["answer"]["about"]).collect();
    assert_eq!(abouts, [&json!("assessment"), &Value::Null, &json!("bill"), &json!("later")]);
    assert!(replies[0]["answer"]["answer"]["stages"].as_array().is_some_and(|s| !s.is_empty()));
    assert_eq!(replies[1]["problem"]["errors"][0]["field"], "/place");
    let many: Vec<Value> = (0..41).map(|_| json!({"about": "bill"})).collect();
    for wrong in [json!([]), json!(many)] {
        let (status, refused) = post(&client, "/api/answers", &about(wrong)).await;
        assert_problem(&refused, status);
        assert_eq!(refused["errors"][0]["field"], "/questions", "{refused}");
    }
    let (status, refused) = post(&client, "/api/answers", &about(json!([{"about": "weather"}]))).await;
    assert_problem(&refused, status);
    // A field that is missing is told by the thing that lacks it.
    for (body, field) in [
        (json!({"questions": [{"about": "bill"}]}), "/"),
        (json!({"plan": {}, "questions": [{"about": "bill"}]}), "/plan"),
        (json!({"plan": {"name": 5}, "questions": [{"about": "bill"}]}), "/plan/name"),
    ] {
        let (_, refused) = post(&client, "/api/answers", &body).await;
        assert_eq!(refused["errors"][0]["field"], field, "{refused}");
    }
}

/// The catalogue is kept between questions, and never longer than it is true: whoever changed a part.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_part_that_changed_is_offered_as_it_is_now(pool: PgPool) {
    let client = client(pool.clone()).await;
    let plan = json!(Plan::blank("Lamp"));
    let names = async || {
        let (_, found) = ask(&client, &plan, &json!({"about": "suggestions", "place": "fuse"})).await;
        found.as_array().unwrap().iter().map(|s| s["offer"]["name"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    assert!(names().await.is_empty());
    let fuse = json!({"offer": {"name": "Blade 15 A"}, "style": "blade", "rating_a": 15.0});
    let entry = json!({"part": {"kind": "fuse", "fuse": fuse}, "at_hand": null, "note": ""});
    post(&client, "/api/parts", &entry).await;
    assert_eq!(names().await, ["Blade 15 A"]);
    sqlx::query("update part set document = jsonb_set(document, '{part,fuse,offer,name}', '\"Blade 10 A\"'), updated_at = now()")
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(names().await, ["Blade 10 A"]);
}
