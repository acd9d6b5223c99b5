//! Everything in one file, out and in again: exact, all or nothing, across versions.

use crate::common;

use common::{assert_problem, body, client, post};
use dense_brick::store;
use dense_brick::store::backup::{self, Backup};
use rocket::http::Status;
use serde_json::{Value, json};
use sqlx::PgPool;

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_was_backed_up_comes_back_row_for_row(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let (_, reel) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    client.delete(format!("/api/plans/{}", reel["id"].as_str().unwrap())).dispatch().await;
    let text = client.get("/api/backup").dispatch().await.into_string().await.unwrap();
    let before: Value = serde_json::from_str(&text).unwrap();
    assert!(before["tables"]["plan_revision"].as_array().unwrap().len() > 2);

    // Work goes on, then the backup is put back.
    let list = body(client.get("/api/plans").dispatch().await).await;
    let boat = list[0]["id"].as_str().unwrap();
    client.delete(format!("/api/plans/{boat}")).dispatch().await;
    post(&client, "/api/plans", &json!({"name": "Later"})).await;
    let response = client.post("/api/restore").body(text).dispatch().await;
    assert_eq!(response.status(), Status::Ok, "{:?}", response.into_string().await);
    let after: Value =
        serde_json::from_str(&client.get("/api/backup").dispatch().await.into_string().await.unwrap()).unwrap();
    assert_eq!(after["tables"], before["tables"]);
    // A deleted plan can still be taken back.
    let restored = client.post(format!("/api/plans/{}/restore", reel["id"].as_str().unwrap())).dispatch().await;
    assert_eq!(restored.status(), Status::NoContent);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_backup_that_cannot_be_taken_changes_nothing(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let text = client.get("/api/backup").dispatch().await.into_string().await.unwrap();
    let good: Value = serde_json::from_str(&text).unwrap();
    let spoilt = |pointer: &str, value: Value| {
        let mut backup = good.clone();
        *backup.pointer_mut(pointer).unwrap() = value;
        backup.to_string()
    };
    for (damaged, told) in [
        (text[..text.len() / 2].to_owned(), "not a backup"),
        (spoilt("/format", json!("shopping/list")), "/format"),
        (spoilt("/version", json!(99)), "version 99"),
        (spoilt("/migration", json!(9999)), "version 9999"),
        (spoilt("/tables/plan/0/name", json!("")), "plan name length"),
        (spoilt("/tables/plan/0/revision", json!("many")), "plan: a row"),
        (spoilt("/tables/plan_revision/0/document/packs", json!([])), "plan_revision"),
        (spoilt("/tables/plan_revision/0/plan_id", json!("0190a000-0000-7000-8000-000000000000")), "plan_revision"),
        (text.replacen("\"tables\":{", "\"tables\":{\"kitchen\":[],", 1), "kitchen"),
    ] {
        let response = client.post("/api/restore").body(damaged).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{told}");
        let problem = body(response).await;
        assert!(problem["detail"].as_str().unwrap().contains(told), "{told}: {problem}");
        let now: Value =
            serde_json::from_str(&client.get("/api/backup").dispatch().await.into_string().await.unwrap()).unwrap();
        assert_eq!(now["tables"], good["tables"], "{told}");
    }
    let too_large = client.post("/api/restore").body(" ".repeat(257 * 1024 * 1024)).dispatch().await;
    assert_eq!(too_large.status(), Status::PayloadTooLarge);
    assert_problem(&body(too_large).await, Status::PayloadTooLarge);
}

/// The database as the first version left it: a backup is kept before it is brought up to date, and that backup,
/// older than the program, can be restored.
#[sqlx::test(migrations = false)]
async fn a_backup_is_kept_before_a_migration_and_restores_into_the_newer_program(pool: PgPool) {
    let folder = std::env::temp_dir().join(format!("dense-brick-migration-{}", std::process::id()));
    assert_eq!(backup::keep_before_migration(&pool, &folder).await.unwrap(), None, "an empty database has nothing");
    store::MIGRATOR.run_to(1, &pool).await.unwrap();
    let plan = serde_json::to_value(brick_core::Plan::blank("Kite reel")).unwrap();
    sqlx::query(
        "insert into plan (id, name, revision) values ('0190a000-0000-7000-8000-000000000001', 'Kite reel', 1)",
    )
    .execute(&pool)
    .await
    .unwrap();
    sqlx::query("insert into plan_revision (plan_id, revision, document) values ('0190a000-0000-7000-8000-000000000001', 1, $1)")
        .bind(&plan)
        .execute(&pool)
        .await
        .unwrap();
    let file = backup::keep_before_migration(&pool, &folder).await.unwrap().expect("a migration is pending");
    store::MIGRATOR.run(&pool).await.unwrap();
    assert_eq!(backup::keep_before_migration(&pool, &folder).await.unwrap(), None, "nothing is pending now");

    sqlx::query("delete from plan").execute(&pool).await.unwrap();
    let old = Backup::from_json(&std::fs::read_to_string(&file).unwrap()).unwrap();
    backup::restore(&pool, &old).await.unwrap();
    let plans = store::plans::list(&pool).await.unwrap();
    assert_eq!((plans.len(), plans[0].edit), (1, 1));
    assert_eq!(plans[0].document.name, "Kite reel");
    std::fs::remove_dir_all(folder).unwrap();
}
