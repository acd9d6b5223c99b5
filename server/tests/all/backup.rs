//! Everything in one file, out and in again: exact, all or nothing, across versions, and under saves.

use std::path::{Path, PathBuf};

use crate::common;

use common::{assert_problem, body, client, post};
use dense_brick::store;
use dense_brick::store::backup::{self, Checked, TABLES};
use rocket::http::Status;
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use sqlx::PgPool;
use tempfile::TempDir;

async fn downloaded(client: &Client) -> String {
    client.get("/api/backup").dispatch().await.into_string().await.unwrap()
}

/// The rows of a backup: all but its head, which has the time, and its checksum.
fn rows(text: &str) -> Vec<&str> {
    let lines: Vec<&str> = text.lines().collect();
    lines[1..lines.len() - 1].to_vec()
}

/// A backup of the first version with the rows of one of today.
pub fn first_version(text: &str, change: impl FnOnce(&mut Value)) -> String {
    let mut tables = serde_json::Map::new();
    let mut table = String::new();
    for line in rows(text) {
        let line: Value = serde_json::from_str(line).unwrap();
        match (line["table"].as_str(), line.get("rows")) {
            (Some(name), Some(_)) => {
                name.clone_into(&mut table);
                tables.insert(table.clone(), json!([]));
            }
            _ => tables[&table].as_array_mut().unwrap().push(line),
        }
    }
    let head: Value = serde_json::from_str(text.lines().next().unwrap()).unwrap();
    let mut whole = json!({"format": "dense-brick/backup", "version": 1, "made_at": "2026-11-01T08:00:00Z",
        "migration": head["migration"], "tables": tables});
    change(&mut whole);
    whole.to_string()
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_was_backed_up_comes_back_row_for_row(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let (_, reel) = post(&client, "/api/plans", &json!({"name": "Kite reel"})).await;
    client.delete(format!("/api/plans/{}", reel["id"].as_str().unwrap())).dispatch().await;
    let before = downloaded(&client).await;
    assert!(rows(&before).len() > 500);

    // Work goes on, then the backup is put back; the second time as a file of the first version.
    for text in [before.clone(), first_version(&before, |_| ())] {
        let list = body(client.get("/api/plans").dispatch().await).await;
        let boat = list[0]["id"].as_str().unwrap();
        client.delete(format!("/api/plans/{boat}")).dispatch().await;
        post(&client, "/api/plans", &json!({"name": "Later"})).await;
        let response = client.post("/api/restore").body(text).dispatch().await;
        assert_eq!(response.status(), Status::Ok, "{:?}", response.into_string().await);
        assert_eq!(rows(&downloaded(&client).await), rows(&before));
    }
    // A deleted plan can still be taken back.
    let restored = client.post(format!("/api/plans/{}/restore", reel["id"].as_str().unwrap())).dispatch().await;
    assert_eq!(restored.status(), Status::NoContent);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_backup_that_cannot_be_taken_changes_nothing(pool: PgPool) {
    let client = client(pool.clone()).await;
    post(&client, "/api/demo", &json!(null)).await;
    let good = downloaded(&client).await;
    let spoilt = |pointer: &str, value: Value| {
        first_version(&good, |whole| *whole.pointer_mut(pointer).unwrap_or_else(|| panic!("{pointer}")) = value)
    };
    let without = |table: &str| first_version(&good, |w| drop(w["tables"].as_object_mut().unwrap().remove(table)));
    for (damaged, told) in [
        (good[..good.len() / 2].to_owned(), "damaged"),
        (good.replacen("Bait boat", "Bait goat", 1), "checksum"),
        (first_version(&good, |_| ())[..3000].to_owned(), "not a backup"),
        (spoilt("/format", json!("shopping/list")), "/format"),
        (spoilt("/version", json!(99)), "version 99"),
        (spoilt("/migration", json!(9999)), "version 9999"),
        (spoilt("/tables", json!({})), "missing"),
        (without("cell_event"), "cell_event: this table is missing"),
        (spoilt("/tables/plan/0/name", json!("")), "plan name length"),
        (spoilt("/tables/plan/0/revision", json!("many")), "plan: a row"),
        (
            spoilt("/tables/plan/0", json!({"id": "0190a000-0000-7000-8000-000000000000"})),
            "plan: a row has not the columns",
        ),
        (spoilt("/tables/plan_revision/0/document/packs", json!([])), "plan_revision"),
        (spoilt("/tables/plan_revision/0/plan_id", json!("0190a000-0000-7000-8000-000000000000")), "plan_revision"),
        (spoilt("/tables/part/0/document", json!({"id": "x"})), "part:"),
        (spoilt("/tables/lot/0/document/cell", json!(7)), "lot:"),
        (spoilt("/tables/cell/0/digest", json!(7)), "cell:"),
        (spoilt("/tables/cell_reading/0/value", json!("infinity")), "cell reading value"),
        (spoilt("/tables/cell_reading/0/value", json!("NaN")), "cell reading value"),
        (spoilt("/tables/cell/0/arrival_v", json!("infinity")), "cell figures finite"),
        (first_version(&good, |w| w["tables"]["kitchen"] = json!([])), "kitchen"),
    ] {
        let response = client.post("/api/restore").body(damaged).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{told}");
        let problem = body(response).await;
        assert!(problem["detail"].as_str().unwrap().contains(told), "{told}: {problem}");
        assert_eq!(rows(&downloaded(&client).await), rows(&good), "{told}");
    }
    let announced = rocket::http::Header::new("Content-Length", (3_u64 << 30).to_string());
    let too_large = client.post("/api/restore").header(announced).dispatch().await;
    assert_eq!(too_large.status(), Status::PayloadTooLarge);
    assert_problem(&body(too_large).await, Status::PayloadTooLarge);
}

/// Every table that the migrations make is one of ours, so that none is left out of a backup.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn no_table_is_forgotten(pool: PgPool) {
    let found: Vec<(String,)> = sqlx::query_as(
        "select tablename::text from pg_tables where schemaname = 'public' and tablename <> '_sqlx_migrations'",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    let mut found: Vec<&str> = found.iter().map(|(name,)| name.as_str()).collect();
    let mut ours = TABLES.to_vec();
    found.sort_unstable();
    ours.sort_unstable();
    assert_eq!(found, ours);
}

/// Tables of others in the same database: neither in the backup nor harmed by a restore, also those with our names.
#[sqlx::test(migrations = false)]
async fn a_shared_database_keeps_its_other_tables(pool: PgPool) {
    sqlx::raw_sql("create table plan (dish text); insert into plan values ('soup'); create table kitchen (pot text);")
        .execute(&pool)
        .await
        .unwrap();
    let (home, folder) = at_home(&pool).await;
    let client = client(home).await;
    let text = downloaded(&client).await;
    assert!(!text.contains("soup") && !text.contains("kitchen"));
    let response = client.post("/api/restore").body(text).dispatch().await;
    assert_eq!(response.status(), Status::Ok);
    let dish: String = sqlx::query_scalar("select dish from public.plan").fetch_one(&pool).await.unwrap();
    assert_eq!(dish, "soup");
    drop(folder);
}

/// A database of a version that kept its tables in `public`: they are found and moved, with what they hold.
#[sqlx::test(migrations = false)]
async fn tables_of_an_older_version_move_into_their_schema(pool: PgPool) {
    store::MIGRATOR.run_to(5, &pool).await.unwrap();
    sqlx::raw_sql("create table kitchen (pot text); insert into lot (id, name, document) values ('0190a000-0000-7000-8000-000000000001', 'Yard', '{}')")
        .execute(&pool)
        .await
        .unwrap();
    let (home, folder) = at_home(&pool).await;
    let lots: i64 = sqlx::query_scalar("select count(*) from lot").fetch_one(&home).await.unwrap();
    assert_eq!(lots, 1);
    let left: Vec<(String,)> = sqlx::query_as("select tablename::text from pg_tables where schemaname = 'public'")
        .fetch_all(&pool)
        .await
        .unwrap();
    assert_eq!(left, [("kitchen".to_owned(),)]);
    assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 1, "a backup was kept before the migration");
}

/// The database of a test as the program opens it.
async fn at_home(pool: &PgPool) -> (PgPool, TempDir) {
    let folder = tempfile::tempdir().unwrap();
    let name: String = sqlx::query_scalar("select current_database()").fetch_one(pool).await.unwrap();
    let url = std::env::var("DATABASE_URL").unwrap();
    let (server, _) = url.rsplit_once('/').unwrap();
    (store::open(&format!("{server}/{name}"), folder.path()).await.unwrap(), folder)
}

/// The database as the first version left it: a backup is kept before it is brought up to date, and that backup,
/// older than the program, can be restored.
#[sqlx::test(migrations = false)]
async fn a_backup_is_kept_before_a_migration_and_restores_into_the_newer_program(pool: PgPool) {
    let folder = tempfile::tempdir().unwrap();
    assert!(backup::before_migration(&pool, folder.path()).await.unwrap().is_none(), "an empty database has nothing");
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
    let file = backup::before_migration(&pool, folder.path()).await.unwrap().expect("a migration is pending");
    store::MIGRATOR.run(&pool).await.unwrap();
    assert!(backup::before_migration(&pool, folder.path()).await.unwrap().is_none(), "nothing is pending now");

    sqlx::query("delete from plan").execute(&pool).await.unwrap();
    let old = Checked::open(&file).unwrap();
    backup::test_restore(&pool, &old).await.unwrap();
    assert_eq!(store::plans::list(&pool).await.unwrap().len(), 0, "a restore on trial changes nothing");
    backup::restore(&pool, &old, &folder.path().join("kept.jsonl")).await.unwrap();
    let plans = store::plans::list(&pool).await.unwrap();
    assert_eq!((plans.len(), plans[0].edit), (1, 1));
    assert_eq!(plans[0].document.name, "Kite reel");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_days_backup_is_restored_on_trial_and_one_that_cannot_be_is_told(pool: PgPool) {
    let folder = tempfile::tempdir().unwrap();
    let (_, plan) = post(&client(pool.clone()).await, "/api/plans", &json!({"name": "Kite reel"})).await;
    let file = backup::daily(&pool, folder.path()).await.unwrap();
    assert_eq!(Checked::open(&file).unwrap().plan_count(), 1);
    assert!(backup::is_kept_daily(folder.path(), chrono::Utc::now()));
    sqlx::query("update plan_revision set document = '{}' where plan_id = $1::uuid")
        .bind(plan["id"].as_str().unwrap())
        .execute(&pool)
        .await
        .unwrap();
    let told = backup::daily(&pool, folder.path()).await.unwrap_err().to_string();
    assert!(told.contains("plan_revision"), "{told}");
}

/// Plans named in a backup.
fn names(file: &Path) -> Vec<String> {
    let text = std::fs::read_to_string(file).unwrap();
    let lines = text.lines().filter_map(|line| serde_json::from_str::<Value>(line).ok());
    lines.filter_map(|row| row["name"].as_str().map(str::to_owned)).collect()
}

/// While ten savers make plans, a backup is restored again and again: whatever was acknowledged is afterwards in the
/// database or in one of the backups that the restores kept.
#[sqlx::test(migrator = "store::MIGRATOR")]
async fn no_save_that_was_acknowledged_is_lost_in_a_restore(pool: PgPool) {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("some.jsonl");
    backup::write(&pool, &file).await.unwrap();
    let checked = Checked::open(&file).unwrap();
    let savers = (0..10).map(|saver| {
        let pool = pool.clone();
        tokio::spawn(async move {
            let mut acknowledged = vec![];
            for i in 0..30 {
                let name = format!("Saver {saver}, plan {i}");
                if store::plans::create(&pool, &brick_core::Plan::blank(&name)).await.is_ok() {
                    acknowledged.push(name);
                }
            }
            acknowledged
        })
    });
    let savers: Vec<_> = savers.collect();
    let mut kept: Vec<PathBuf> = vec![];
    for i in 0..5 {
        tokio::time::sleep(std::time::Duration::from_millis(60)).await;
        kept.push(folder.path().join(format!("kept-{i}.jsonl")));
        backup::restore(&pool, &checked, &kept[i]).await.unwrap();
    }
    let mut acknowledged = vec![];
    for saver in savers {
        acknowledged.extend(saver.await.unwrap());
    }
    assert!(acknowledged.len() > 100, "{}", acknowledged.len());
    let mut found: Vec<String> = kept.iter().flat_map(|file| names(file)).collect();
    assert!(!found.is_empty(), "no restore met a save");
    found.extend(store::plans::list(&pool).await.unwrap().into_iter().map(|p| p.document.0.name));
    let lost: Vec<&String> = acknowledged.iter().filter(|name| !found.contains(name)).collect();
    assert!(lost.is_empty(), "{lost:?}");
}
