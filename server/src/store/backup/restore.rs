//! A backup in the place of everything: all of it or nothing, and no save that was acknowledged is lost on the way.

use std::collections::BTreeMap;
use std::path::Path;

use brick_core::Plan;
use brick_core::build::BuildEvent;
use brick_core::parts::catalogue::Item;
use brick_core::stock::{Conditions, Digest, Fault, Lot};
use rocket::futures::StreamExt;
use serde::de::{DeserializeOwned, IgnoredAny};
use sqlx::{AssertSqlSafe, PgConnection, PgPool, Row};

use super::super::MIGRATOR;
use super::file::Checked;
use super::{BackupError, TABLES, tables_there, write_within};

/// Where the rows of a backup stand until they are known to be good.
const SCRATCH: &str = "dense_brick_restoring";
/// Rows that go to the database at a time, and their text at most before they do.
const ROWS_AT_ONCE: usize = 500;
const BYTES_AT_ONCE: usize = 4 << 20;

/// Puts a checked backup in the place of everything there is, and what was there into the file `kept`.
///
/// The rows are filled into tables of their own, brought up to date and read as this program reads them; then the
/// real tables are locked, kept and exchanged within one transaction. A save that comes meanwhile waits, and is
/// either in `kept` or in what stands afterwards.
pub async fn restore(pool: &PgPool, backup: &Checked, kept: &Path) -> Result<(), BackupError> {
    let mut tx = pool.begin().await?;
    let home = fill(&mut tx, backup).await?;
    let all = TABLES.map(|table| format!("{home}.{table}")).join(", ");
    run(&mut tx, format!("lock table {all} in access exclusive mode")).await?;
    write_within(&mut tx, kept).await?;
    run(&mut tx, format!("truncate {all}")).await?;
    for table in TABLES {
        let columns = columns(&mut tx, table).await?.join(", ");
        let query = format!("insert into {home}.{table} ({columns}) select {columns} from {SCRATCH}.{table}");
        run(&mut tx, query).await?;
    }
    run(&mut tx, format!("drop schema {SCRATCH} cascade")).await?;
    tx.commit().await?;
    Ok(())
}

/// Does all of a restore but the exchange, and takes it back: whether this backup could be restored today.
pub async fn test_restore(pool: &PgPool, backup: &Checked) -> Result<(), BackupError> {
    let mut tx = pool.begin().await?;
    fill(&mut tx, backup).await?;
    tx.rollback().await?;
    Ok(())
}

async fn run(tx: &mut PgConnection, query: String) -> sqlx::Result<()> {
    // Made of names of ours and of the catalogue's, quoted by it.
    sqlx::query(AssertSqlSafe(query)).execute(tx).await?;
    Ok(())
}

/// Names of a table's columns in the current schema, quoted.
async fn columns(tx: &mut PgConnection, table: &str) -> sqlx::Result<Vec<String>> {
    let rows: Vec<(String,)> = sqlx::query_as(
        "select quote_ident(attname) from pg_attribute
         where attrelid = to_regclass($1) and attnum > 0 and not attisdropped order by attnum",
    )
    .bind(table)
    .fetch_all(tx)
    .await?;
    Ok(rows.into_iter().map(|(name,)| name).collect())
}

/// Fills the rows into the scratch schema and leaves the search path as it was. Tells the schema of the real tables.
async fn fill(tx: &mut PgConnection, backup: &Checked) -> Result<String, BackupError> {
    run(tx, "set local statement_timeout = 0".to_owned()).await?;
    let (home,): (String,) = sqlx::query_as("select quote_ident(current_schema())").fetch_one(&mut *tx).await?;
    run(tx, format!("create schema {SCRATCH}")).await?;
    run(tx, format!("set local search_path to {SCRATCH}")).await?;
    MIGRATOR.run_direct(Some(backup.migration), &mut *tx, false).await?;
    let known: Vec<_> = tables_there(tx).await?.into_iter().map(|(table, _)| table).collect();
    let refused = |table: &str, reason: &str| BackupError::Table { table: table.to_owned(), reason: reason.to_owned() };
    if let Some(strange) = backup.tables().find(|table| !known.contains(table)) {
        return Err(refused(strange, "there is no such table"));
    }
    if let Some(missing) = known.iter().find(|table| !backup.tables().any(|there| there == **table)) {
        return Err(refused(missing, "this table is missing"));
    }
    insert_rows(tx, backup).await?;
    MIGRATOR.run_direct(None, &mut *tx, false).await?;
    check_documents(tx).await?;
    run(tx, format!("set local search_path to {home}")).await?;
    Ok(home)
}

async fn insert_rows(tx: &mut PgConnection, backup: &Checked) -> Result<(), BackupError> {
    let mut lines = backup.lines()?;
    let (mut table, mut names, mut batch, mut bytes) = (String::new(), vec![], vec![], 0);
    loop {
        let next = lines.next()?.map(|(of, row)| (of.to_owned(), row));
        let is_new = next.as_ref().is_none_or(|(of, _)| *of != table);
        if !batch.is_empty() && (is_new || batch.len() >= ROWS_AT_ONCE || bytes >= BYTES_AT_ONCE) {
            insert(tx, &table, &batch).await?;
            (batch, bytes) = (vec![], 0);
        }
        let Some((of, row)) = next else { return Ok(()) };
        if is_new {
            names = columns(tx, &of).await?;
            table = of;
        }
        let keys: BTreeMap<String, IgnoredAny> = serde_json::from_str(&row).unwrap_or_default();
        if keys.len() != names.len() || !names.iter().all(|name| keys.contains_key(name.trim_matches('"'))) {
            let reason = "a row has not the columns of this table".to_owned();
            return Err(BackupError::Table { table, reason });
        }
        bytes += row.len();
        batch.push(row);
    }
}

async fn insert(tx: &mut PgConnection, table: &str, rows: &[String]) -> Result<(), BackupError> {
    let query = format!("insert into {table} select * from jsonb_populate_recordset(null::{table}, $1::jsonb)");
    let rows = format!("[{}]", rows.join(","));
    sqlx::query(AssertSqlSafe(query)).bind(rows).execute(tx).await.map_err(|error| refused(table, error))?;
    Ok(())
}

/// A row the database did not take, without its words about tables and columns.
fn refused(table: &str, error: sqlx::Error) -> BackupError {
    match &error {
        sqlx::Error::Database(e) if e.code().is_some_and(|code| code.starts_with("22") || code.starts_with("23")) => {
            let reason = match e.constraint() {
                Some(rule) => format!("a row breaks the rule {}", rule.replace('_', " ")),
                None => "a row has not the shape of this table".to_owned(),
            };
            BackupError::Table { table: table.to_owned(), reason }
        }
        _ => BackupError::Database(error),
    }
}

/// Every document must be one this program can read: one that is not would stand in the way of all others.
async fn check_documents(tx: &mut PgConnection) -> Result<(), BackupError> {
    fn read<T: DeserializeOwned>(text: &str) -> Result<T, String> {
        serde_json::from_str(text).map_err(|error| error.to_string())
    }
    each(tx, "plan_revision", "document", "plan_id::text || ', revision ' || revision", |text| {
        Plan::from_json(text).map(drop).map_err(|error| error.to_string())
    })
    .await?;
    each(tx, "part", "document", "id", |text| {
        let errors = read::<Item>(text)?.check("");
        errors.first().map_or(Ok(()), |error| Err(error.to_string()))
    })
    .await?;
    each(tx, "build", "document", "id::text", |text| {
        Plan::from_json(text).map(drop).map_err(|error| error.to_string())
    })
    .await?;
    each(tx, "build_event", "event", "build_id::text || ', event ' || number", |text| {
        read::<BuildEvent>(text)?.check().map_err(|errors| errors.first().map(ToString::to_string).unwrap_or_default())
    })
    .await?;
    each(tx, "lot", "document", "name", |text| {
        let errors = read::<Lot>(text)?.check();
        errors.first().map_or(Ok(()), |error| Err(error.to_string()))
    })
    .await?;
    each(tx, "cell", "digest", "label", |text| read::<Digest>(text).map(drop)).await?;
    each(tx, "cell", "faults", "label", |text| read::<Vec<Fault>>(text).map(drop)).await?;
    each(tx, "cell_reading", "conditions", "id::text", |text| read::<Conditions>(text).map(drop)).await
}

async fn each(
    tx: &mut PgConnection,
    table: &str,
    column: &str,
    name: &str,
    check: impl Fn(&str) -> Result<(), String>,
) -> Result<(), BackupError> {
    let query = format!("select {column}::text, {name} from {table} where {column} is not null");
    let mut rows = sqlx::query(AssertSqlSafe(query)).fetch(tx);
    while let Some(row) = rows.next().await {
        let row = row?;
        if let Err(reason) = check(row.try_get(0)?) {
            let of: String = row.try_get(1)?;
            return Err(BackupError::Table { table: table.to_owned(), reason: format!("{of}: {reason}") });
        }
    }
    Ok(())
}
