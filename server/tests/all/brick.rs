//! The brick over HTTP: arrangements, drawing, edits by hand, the search as a job, the sheets.

use crate::common;

use common::stock::ended;
use common::{ask, assert_problem, body, client, post};
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
    let (status, found) = ask(&client, &plan, &json!({"about": "arrangements"})).await;
    assert_eq!((status, &found["missing"]), (Status::Ok, &Value::Null));
    let first = &found["options"][0];
    assert_eq!((first["name"].as_str(), &first["arrangement"]["fits"]), (Some("4 × 2, upright"), &json!(true)));
    assert_eq!(first["changes"][0]["at"], "/packs/0/brick/layout");
    plan["packs"][0]["brick"]["layout"] = first["changes"][0]["value"].clone();
    let again = ask(&client, &plan, &json!({"about": "arrangements"})).await.1;
    let chosen: Vec<&Value> =
        again["options"].as_array().unwrap().iter().filter(|o| o["chosen"] == json!(true)).collect();
    assert_eq!(chosen.len(), 1);

    // A place too small is told with what would help.
    plan["device"]["compartments"][0]["space"]["depth_mm"] = json!(69.0);
    let tight = ask(&client, &plan, &json!({"about": "arrangements"})).await.1;
    let names: Vec<&str> = tight["ways_out"].as_array().unwrap().iter().map(|w| w["name"].as_str().unwrap()).collect();
    assert!(names.contains(&"No foam round it"), "{names:?}");
    assert!(names.iter().any(|n| n.contains("mm more along the depth")), "{names:?}");

    let blank = json!({"name": "pump", "job": "pump"});
    let made = post(&client, "/api/plans", &blank).await.1;
    let missing = ask(&client, &made["plan"], &json!({"about": "arrangements"})).await.1;
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
        for about in ["brick", "arrangements", "assessment"] {
            let (status, problem) = ask(&client, &plan, &json!({"about": about})).await;
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
    assert_eq!(names, ["face-top", "face-bottom", "holes-tray", "label", "warnings"]);
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

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_network_is_solved_and_its_time_kept_within_its_range(pool: PgPool) {
    let client = client(pool).await;
    let plan = demo("hedge-shears");
    let (status, found) = ask(&client, &plan, &json!({"about": "network", "after_s": 60.0})).await;
    assert_eq!((status, &found["network"]["missing"]), (Status::Ok, &Value::Null));
    assert_eq!(found["network"]["levels"][0]["after_s"], 60.0);
    assert_eq!(found["network"]["cells"].as_array().unwrap().len(), 8);
    assert_eq!(found["strips"].as_array().unwrap().len(), 4);
    // Each proposed strip, taken, clears the stop.
    for strip in found["strips"].as_array().unwrap() {
        let mut better = plan.clone();
        better["packs"][0]["strip"] = strip["changes"][0]["value"].clone();
        let judged = post(&client, "/api/assess", &better).await.1;
        let rules: Vec<&str> =
            judged["findings"].as_array().unwrap().iter().map(|f| f["rule"].as_str().unwrap()).collect();
        assert!(!rules.iter().any(|r| r.starts_with("brick.strip")), "{}: {rules:?}", strip["name"]);
    }
    for (after_s, field) in [(json!(0.0), "/after_s"), (json!(1e12), "/after_s")] {
        let (status, refused) = ask(&client, &plan, &json!({"about": "network", "after_s": after_s})).await;
        assert_eq!(
            (status, refused["errors"][0]["field"].as_str()),
            (Status::UnprocessableEntity, Some(field)),
            "{refused}"
        );
        assert!(refused["errors"][0]["message"].as_str().unwrap().contains("outside 1 s to"), "{refused}");
    }
    let mut wrong = plan.clone();
    wrong["packs"][0]["brick"]["holder"]["floor_mm"] = json!(9.0);
    let (status, refused) = ask(&client, &wrong, &json!({"about": "network"})).await;
    assert_eq!(status, Status::UnprocessableEntity);
    assert_eq!(refused["errors"][0]["field"], "/packs/0/brick/holder/floor_mm", "{refused}");
}

/// Saves a plan and fetches its files.
async fn saved_files(client: &Client, plan: &Value) -> (String, Value) {
    let (status, made) = post(client, "/api/plans/import", plan).await;
    assert!(matches!(status, Status::Ok | Status::Created), "{made}");
    let id = made["id"].as_str().unwrap().to_owned();
    let list = body(client.get(format!("/api/plans/{id}/files")).dispatch().await).await;
    (id, list)
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_files_of_a_brick_are_handed_out_and_read_back(pool: PgPool) {
    let client = client(pool).await;
    let mut plan = demo("hedge-shears");
    plan["packs"][0]["brick"]["clearances"]["gap_mm"] = json!(1.2);
    let (id, list) = saved_files(&client, &plan).await;
    assert!(list.as_array().unwrap().iter().all(|f| f["refused"].is_null()), "{list}");
    let file = async |name: &str| {
        let answer = client.get(format!("/api/plans/{id}/files/{name}")).dispatch().await;
        assert_eq!(answer.status(), Status::Ok, "{name}");
        let head = answer.headers().get_one("Content-Disposition").unwrap().to_owned();
        assert_eq!(head, format!("attachment; filename=\"hedge-shears-{name}\""));
        answer.into_bytes().await.unwrap()
    };

    // DXF: outlines of 14 closed strips of the strip's width, in millimetres, and 28 welds on them.
    let drawing = dxf::Drawing::load(&mut file("strips.dxf").await.as_slice()).unwrap();
    assert_eq!(drawing.header.default_drawing_units, dxf::enums::Units::Millimeters);
    let mut counts = std::collections::BTreeMap::new();
    for entity in drawing.entities() {
        *counts.entry(entity.common.layer.clone()).or_insert(0) += 1;
        if let dxf::entities::EntityType::LwPolyline(outline) = &entity.specific {
            assert!(outline.is_closed() && outline.vertices.len() == 4);
            let side = |a: usize, b: usize| {
                let (a, b) = (&outline.vertices[a], &outline.vertices[b]);
                (a.x - b.x).hypot(a.y - b.y)
            };
            assert!((side(1, 2) - 8.0).abs() < 1e-9 && (side(0, 1) - 27.6).abs() < 1e-9, "{}", side(0, 1));
        }
    }
    assert_eq!((counts["strips"], counts["welds"], counts["cells"]), (14, 28, 16));

    // STL: what is read is a closed surface.
    let bytes = file("holder.stl").await;
    let mesh = stl_io::read_stl(&mut std::io::Cursor::new(bytes)).unwrap();
    mesh.validate().unwrap();
    assert!(mesh.faces.len() > 1000);

    let netlist = String::from_utf8(file("network.cir").await).unwrap();
    assert!(netlist.starts_with("* Hedge shears") && netlist.ends_with(".end\n"));
    for (table, lines) in [("strips.csv", 15), ("welds.csv", 29)] {
        assert_eq!(String::from_utf8(file(table).await).unwrap().lines().count(), lines, "{table}");
    }
    let missing = client.get(format!("/api/plans/{id}/files/holder.obj")).dispatch().await;
    assert_eq!(missing.status(), Status::NotFound);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_file_that_cannot_be_made_says_why(pool: PgPool) {
    let client = client(pool).await;
    let (id, list) = saved_files(&client, &demo("hedge-shears")).await;
    let holder = list.as_array().unwrap().iter().find(|f| f["name"] == "holder.stl").unwrap();
    assert!(holder["refused"].as_str().unwrap().contains("1 mm between cells"), "{holder}");
    let answer = client.get(format!("/api/plans/{id}/files/holder.stl")).dispatch().await;
    assert_eq!(answer.status(), Status::Conflict);
    assert!(body(answer).await["detail"].as_str().unwrap().contains("1 mm between cells"));
}
