//! The wiring diagram over HTTP: of a plan as it is sent, and of a saved one as a page.

use crate::common::{ask, assert_problem, body, client};
use dense_brick::store;
use rocket::http::{ContentType, Status};
use serde_json::{Value, json};
use sqlx::PgPool;

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_diagram_is_drawn_in_the_condition_that_is_asked_for_and_in_no_other(pool: PgPool) {
    let client = client(pool).await;
    let blank = serde_json::to_value(brick_core::Plan::blank("Lamp")).unwrap();
    assert_eq!(ask(&client, &blank, &json!({"about": "diagram"})).await, (Status::Ok, Value::Null));
    let mut plan = blank.clone();
    (plan["packs"][0]["series"], plan["packs"][0]["chemistry"]) = (json!(3), json!("li_ion"));
    let (status, drawn) = ask(&client, &plan, &json!({"about": "diagram"})).await;
    assert_eq!(status, Status::Ok);
    assert!((drawn["nodes"][3]["node_v"].as_f64().unwrap() - 12.6).abs() < 1e-9, "{}", drawn["nodes"][3]);
    let asked = json!({"about": "diagram", "shown": {"condition": "resting"}});
    let (status, problem) = ask(&client, &plan, &asked).await;
    assert_problem(&problem, status);
    assert_eq!(status, Status::UnprocessableEntity);

    let import = |plan: &Value| client.post("/api/plans/import").header(ContentType::JSON).body(plan.to_string());
    let (saved, empty) = (body(import(&plan).dispatch().await).await, body(import(&blank).dispatch().await).await);
    let page = |id: &Value, asked: &str| format!("/api/plans/{}/diagram-file{asked}", id["id"].as_str().unwrap());
    let response = client.get(page(&saved, "?condition=tripped&held=half")).dispatch().await;
    assert_eq!((response.status(), response.content_type()), (Status::Ok, Some(ContentType::SVG)));
    let named = response.headers().get_one("Content-Disposition").unwrap().to_owned();
    assert_eq!(named, "inline; filename=\"lamp-wiring.svg\"");
    assert!(response.into_string().await.unwrap().contains("The board has opened"));
    for (address, status, field) in [
        (page(&saved, "?held=nearly"), Status::UnprocessableEntity, Some("/held")),
        (page(&saved, "?condition="), Status::UnprocessableEntity, Some("/condition")),
        (page(&empty, ""), Status::Conflict, None),
    ] {
        let problem = body(client.get(&address).dispatch().await).await;
        assert_problem(&problem, status);
        assert_eq!(problem["errors"][0]["field"].as_str(), field, "{address}");
    }
}
