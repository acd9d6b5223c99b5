//! Everything in one file: every table as rows of JSON, with the version of the migrations they belong to.
//!
//! Tables are read and written by what the database says of them, so that a backup holds whatever later migrations
//! add. An older file is restored into the tables of its own version and brought up to date from there.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use anyhow::Context;
use brick_core::Plan;
use chrono::Utc;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::{PgConnection, PgPool};
use thiserror::Error;

use super::MIGRATOR;

/// What the `format` field of every backup says.
const FORMAT: &str = "dense-brick/backup";
/// Version of the file's own shape.
const VERSION: u32 = 1;

/// A whole database.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Backup {
    format: String,
    version: u32,
    /// When it was made, for whoever looks into the file.
    made_at: String,
    /// Newest migration the tables had.
    migration: i64,
    /// Rows by table, as the database writes them.
    tables: BTreeMap<String, Vec<Value>>,
}

/// Why a backup was not restored. Nothing was changed.
#[derive(Debug, Error)]
pub enum RestoreError {
    /// Not a backup of ours.
    #[error("this is not a backup of Dense Brick: {0}")]
    Shape(String),
    /// Written by a newer program.
    #[error("this backup is of version {found}; the newest this program reads is {newest}")]
    Newer {
        /// Version found.
        found: i64,
        /// Version known.
        newest: i64,
    },
    /// A table or row that cannot be taken.
    #[error("{table}: {reason}")]
    Table {
        /// The table.
        table: String,
        /// What is wrong with it.
        reason: String,
    },
    /// The database failed.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
}

impl From<sqlx::migrate::MigrateError> for RestoreError {
    fn from(error: sqlx::migrate::MigrateError) -> Self {
        RestoreError::Database(sqlx::Error::from(error))
    }
}

/// Newest migration this program knows.
fn newest_migration() -> i64 {
    MIGRATOR.iter().map(|m| m.version).max().unwrap_or(0)
}

/// Migration the database is at; 0 when it is empty.
async fn migration_of(tx: &mut PgConnection) -> sqlx::Result<i64> {
    let (there,): (bool,) =
        sqlx::query_as("select to_regclass('_sqlx_migrations') is not null").fetch_one(&mut *tx).await?;
    if !there {
        return Ok(0);
    }
    let (version,): (Option<i64>,) =
        sqlx::query_as("select max(version) from _sqlx_migrations").fetch_one(&mut *tx).await?;
    Ok(version.unwrap_or(0))
}

/// Our tables, those that others refer to first.
async fn tables(tx: &mut PgConnection) -> sqlx::Result<Vec<String>> {
    let rows: Vec<(String,)> = sqlx::query_as(
        "with recursive depth (oid, level) as (
             select c.oid, 0 from pg_class c
             where c.relkind = 'r' and c.relnamespace = current_schema()::regnamespace and c.relname <> '_sqlx_migrations'
           union
             select f.conrelid, d.level + 1 from depth d
             join pg_constraint f on f.contype = 'f' and f.confrelid = d.oid and f.conrelid <> d.oid
             where d.level < 50
         )
         select oid::regclass::text from depth group by oid order by max(level), 1",
    )
    .fetch_all(tx)
    .await?;
    Ok(rows.into_iter().map(|(name,)| name).collect())
}

/// Reads everything, as of one moment.
pub async fn read(pool: &PgPool) -> sqlx::Result<Backup> {
    let mut tx = pool.begin().await?;
    sqlx::query("set transaction isolation level repeatable read").execute(&mut *tx).await?;
    let migration = migration_of(&mut tx).await?;
    let mut rows = BTreeMap::new();
    for table in tables(&mut tx).await? {
        // The name comes from the database's own catalogue, quoted by it.
        let query = format!("select to_jsonb(t) from {table} t order by 1");
        let found: Vec<(Value,)> = sqlx::query_as(sqlx::AssertSqlSafe(query)).fetch_all(&mut *tx).await?;
        rows.insert(table, found.into_iter().map(|(row,)| row).collect());
    }
    tx.commit().await?;
    let made_at = Utc::now().to_rfc3339();
    Ok(Backup { format: FORMAT.to_owned(), version: VERSION, made_at, migration, tables: rows })
}

impl Backup {
    /// Reads a backup from its JSON text; says what is wrong with one that is none.
    pub fn from_json(text: &str) -> Result<Backup, RestoreError> {
        let backup: Backup = serde_json::from_str(text).map_err(|e| RestoreError::Shape(e.to_string()))?;
        if backup.format != FORMAT {
            return Err(RestoreError::Shape(format!("/format is “{}”, not “{FORMAT}”", backup.format)));
        }
        if backup.version > VERSION {
            return Err(RestoreError::Newer { found: backup.version.into(), newest: VERSION.into() });
        }
        if backup.migration > newest_migration() {
            return Err(RestoreError::Newer { found: backup.migration, newest: newest_migration() });
        }
        if !MIGRATOR.version_exists(backup.migration) {
            return Err(RestoreError::Shape(format!("/migration {} never was", backup.migration)));
        }
        Ok(backup)
    }

    /// The backup as JSON text.
    pub fn to_json(&self) -> serde_json::Result<String> {
        serde_json::to_string(self).map(|text| text + "\n")
    }

    /// How many plans it holds.
    pub fn plan_count(&self) -> usize {
        self.tables.get("plan").map_or(0, Vec::len)
    }
}

/// Puts a backup in the place of everything there is: all of it or nothing.
pub async fn restore(pool: &PgPool, backup: &Backup) -> Result<(), RestoreError> {
    let mut tx = pool.begin().await?;
    let old = tables(&mut tx).await?;
    if !old.is_empty() {
        let query = format!("drop table {} cascade", old.join(", "));
        sqlx::query(sqlx::AssertSqlSafe(query)).execute(&mut *tx).await?;
    }
    sqlx::query("drop table if exists _sqlx_migrations").execute(&mut *tx).await?;
    MIGRATOR.run_direct(Some(backup.migration), &mut *tx, false).await?;
    let known = tables(&mut tx).await?;
    if let Some(table) = backup.tables.keys().find(|t| !known.contains(t)) {
        return Err(RestoreError::Table { table: table.clone(), reason: "there is no such table".to_owned() });
    }
    for table in known {
        let rows = Value::Array(backup.tables.get(&table).cloned().unwrap_or_default());
        let query = format!("insert into {table} select * from jsonb_populate_recordset(null::{table}, $1)");
        sqlx::query(sqlx::AssertSqlSafe(query)).bind(rows).execute(&mut *tx).await.map_err(|e| refused(&table, e))?;
    }
    MIGRATOR.run_direct(None, &mut *tx, false).await?;
    check_plans(&mut tx).await?;
    tx.commit().await?;
    Ok(())
}

/// A row the database did not take, without its words about tables and columns.
fn refused(table: &str, error: sqlx::Error) -> RestoreError {
    match &error {
        sqlx::Error::Database(e) => {
            let reason = match e.constraint() {
                Some(rule) => format!("a row breaks the rule {}", rule.replace('_', " ")),
                None => "a row has not the shape of this table".to_owned(),
            };
            RestoreError::Table { table: table.to_owned(), reason }
        }
        _ => RestoreError::Database(error),
    }
}

/// Every revision must be a plan this program can open.
async fn check_plans(tx: &mut PgConnection) -> Result<(), RestoreError> {
    let rows: Vec<(Value, i32)> = sqlx::query_as("select document, revision from plan_revision").fetch_all(tx).await?;
    for (document, revision) in rows {
        let name = document.get("name").and_then(Value::as_str).unwrap_or("without a name").to_owned();
        if let Err(error) = Plan::from_json(&document.to_string()) {
            let reason = format!("plan “{name}”, revision {revision}: {error}");
            return Err(RestoreError::Table { table: "plan_revision".to_owned(), reason });
        }
    }
    Ok(())
}

/// Writes a backup of everything into a folder, named after the occasion and the time. Tells where.
pub async fn keep(pool: &PgPool, folder: &Path, occasion: &str) -> anyhow::Result<PathBuf> {
    let backup = read(pool).await?;
    std::fs::create_dir_all(folder).with_context(|| format!("cannot make {}", folder.display()))?;
    let file = folder.join(format!("{occasion}-{}.json", Utc::now().format("%Y%m%dT%H%M%S%3fZ")));
    std::fs::write(&file, backup.to_json()?).with_context(|| format!("cannot write {}", file.display()))?;
    Ok(file)
}

/// Keeps a backup if migrations are pending and there is something to lose. Tells where, if it did.
pub async fn keep_before_migration(pool: &PgPool, folder: &Path) -> anyhow::Result<Option<PathBuf>> {
    let mut connection = pool.acquire().await?;
    let at = migration_of(&mut connection).await?;
    drop(connection);
    if at == 0 || at >= newest_migration() {
        return Ok(None);
    }
    keep(pool, folder, &format!("before-migration-from-{at}")).await.map(Some)
}
