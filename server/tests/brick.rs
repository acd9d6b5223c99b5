//! The brick over HTTP: arrangements, drawing, edits by hand, the search as a job, the sheets.

mod common;

use common::stock::ended;
use common::{assert_problem, body, client, post};
use dense_brick::store;
use rocket::http::{ContentType, Status};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;

fn demo(name: &str) -> Value {
    let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap()
}

async fn edit(client: &Client, plan: &Value, edit: Value) -> (Status, Value) {
    post(client, "/api/brick/edit", &json!({"plan": plan, "edit": edit})).await
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn arrangements_come_with_the_changes_that_choose_them(pool: PgPool) {
    let client = client(pool).await;
    let mut plan = demo("hedge-shears");
    plan["packs"][0]["brick"]["layout"] = Value::Null;
    let (status, found) = post(&client, "/api/brick/arrangements", &plan).await;
    assert_eq!((status, &found["missing"]), (Status::Ok, &Value::Null));
    let first = &found["options"][0];
    assert_eq!((first["name"].as_str(), &first["arrangement"]["fits"]), (Some("4 × 2, upright"), &json!(true)));
    assert_eq!(first["changes"][0]["at"], "/packs/0/brick/layout");
    plan["packs"][0]["brick"]["layout"] = first["changes"][0]["value"].clone();
    let again = post(&client, "/api/brick/arrangements", &plan).await.1;
    let chosen: Vec<&Value> =
        again["options"].as_array().unwrap().iter().filter(|o| o["chosen"] == json!(true)).collect();
    assert_eq!(chosen.len(), 1);

    // A place too small is told with what would help.
    plan["device"]["compartments"][0]["space"]["depth_mm"] = json!(69.0);
    let tight = post(&client, "/api/brick/arrangements", &plan).await.1;
    let names: Vec<&str> = tight["ways_out"].as_array().unwrap().iter().map(|w| w["name"].as_str().unwrap()).collect();
    assert!(names.contains(&"No foam round it"), "{names:?}");
    assert!(names.iter().any(|n| n.contains("mm more along the depth")), "{names:?}");

    let blank = json!({"name": "pump", "job": "pump"});
    let made = post(&client, "/api/plans", &blank).await.1;
    let missing = post(&client, "/api/brick/arrangements", &made["plan"]).await.1;
    assert!(missing["missing"].as_str().unwrap().contains("cell"), "{missing}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn an_edit_is_made_or_refused_with_its_reason(pool: PgPool) {
    let client = client(pool).await;
    let plan = demo("hedge-shears");
    let seats = &plan["packs"][0]["brick"]["layout"]["cells"];
    let (status, layout) =
        edit(&client, &plan, json!({"does": "move", "cell": 0, "column": 3, "row": 1, "layer": 0})).await;
    assert_eq!(status, Status::Ok, "{layout}");
    assert_eq!((&layout["cells"][0]["column"], &layout["cells"][0]["row"]), (&json!(3), &json!(1)));
    assert_eq!(seats.as_array().unwrap().len(), layout["cells"].as_array().unwrap().len());

    let (status, problem) = edit(&client, &plan, json!({"does": "turn_cell", "cell": 2})).await;
    assert_problem(&problem, status);
    assert_eq!(status, Status::Conflict);
    assert!(problem["detail"].as_str().unwrap().starts_with("short:"), "{problem}");

    let mut other = plan.clone();
    other["packs"][0]["parallel"] = json!(3);
    let (status, problem) = edit(&client, &other, json!({"does": "turn_group", "group": 0})).await;
    assert_eq!(
        (status, problem["errors"][0]["field"].as_str()),
        (Status::UnprocessableEntity, Some("/packs/0/brick/layout"))
    );
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_layout_that_cannot_be_read_names_its_field(pool: PgPool) {
    let client = client(pool).await;
    for (at, value, field) in [
        ("/packs/0/brick/layout/columns", json!(0), "/packs/0/brick/layout/columns"),
        ("/packs/0/brick/layout/cells/1/row", json!(7), "/packs/0/brick/layout/cells/1/row"),
        ("/packs/0/brick/layout/columns_along", json!("z"), "/packs/0/brick/layout/columns_along"),
        ("/packs/0/brick/clearances/gap_mm", json!(-1.0), "/packs/0/brick/clearances/gap_mm"),
        ("/packs/0/brick/clearances/swelling_share", json!(0.8), "/packs/0/brick/clearances/swelling_share"),
        ("/device/compartments/0/openings/0/along_mm", json!(5000.0), "/device/compartments/0/openings/0/along_mm"),
    ] {
        let mut plan = demo("hedge-shears");
        *plan.pointer_mut(at).unwrap_or_else(|| panic!("{at}")) = value;
        for path in ["/api/brick/drawing", "/api/brick/arrangements", "/api/assess"] {
            let (status, problem) = post(&client, path, &plan).await;
            assert_problem(&problem, status);
            let fields: Vec<&str> =
                problem["errors"].as_array().unwrap().iter().map(|e| e["field"].as_str().unwrap()).collect();
            assert!(fields.contains(&field), "{at}: {fields:?}");
        }
    }
    let mut short = demo("hedge-shears");
    short["packs"][0]["brick"]["layout"]["lattice"] = json!("staggered_short");
    let (_, problem) = post(&client, "/api/assess", &short).await;
    assert_eq!(problem["errors"][0]["field"], "/packs/0/brick/layout/cells/7/column", "{problem}");
    let mut twice = demo("hedge-shears");
    twice["packs"][0]["brick"]["layout"]["cells"][1] = twice["packs"][0]["brick"]["layout"]["cells"][0].clone();
    let (_, problem) = post(&client, "/api/assess", &twice).await;
    assert!(problem["errors"][0]["message"].as_str().unwrap().contains("one site"), "{problem}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_search_is_a_job_and_its_layout_has_no_fault(pool: PgPool) {
    let client = client(pool).await;
    let mut plan = demo("hedge-shears");
    let moved = edit(&client, &plan, json!({"does": "move", "cell": 0, "column": 3, "row": 1, "layer": 0})).await.1;
    plan["packs"][0]["brick"]["layout"] = moved;
    let stops = |a: &Value| {
        let all = a["findings"].as_array().unwrap();
        all.iter().filter(|f| f["rule"].as_str() == Some("brick.group-apart")).count()
    };
    assert_eq!(stops(&post(&client, "/api/assess", &plan).await.1), 2);
    let (status, job) = post(&client, "/api/brick/search", &json!({"plan": plan, "seed": 1, "thorough": false})).await;
    assert_eq!(status, Status::Accepted, "{job}");
    let done = ended(&client, &job).await;
    assert_eq!(done["stage"], "done");
    plan["packs"][0]["brick"]["layout"] = done["layout"].clone();
    assert_eq!(stops(&post(&client, "/api/assess", &plan).await.1), 0);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn sheets_of_a_saved_plan_are_listed_and_handed_out_as_svg(pool: PgPool) {
    let client = client(pool).await;
    let text = demo("bait-boat").to_string();
    let made = body(client.post("/api/plans/import").header(ContentType::JSON).body(text).dispatch().await).await;
    let base = format!("/api/plans/{}/sheets", made["id"].as_str().unwrap());
    let list = body(client.get(&base).dispatch().await).await;
    let names: Vec<&str> = list.as_array().unwrap().iter().map(|s| s["name"].as_str().unwrap()).collect();
    assert_eq!(names, ["face-top", "face-bottom", "holes-tray", "label"]);
    for name in names {
        let response = client.get(format!("{base}/{name}")).dispatch().await;
        assert_eq!((response.status(), response.content_type()), (Status::Ok, Some(ContentType::SVG)));
        let named = response.headers().get_one("Content-Disposition").unwrap().to_owned();
        assert_eq!(named, format!("inline; filename=\"bait-boat-{name}.svg\""));
        assert!(response.into_string().await.unwrap().starts_with("<svg"));
    }
    let response = client.get(format!("{base}/nothing")).dispatch().await;
    assert_eq!(response.status(), Status::NotFound);
}
