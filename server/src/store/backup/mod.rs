//! Everything in one file: every table as rows of JSON, with the version of the migrations they belong to.
//!
//! `file` is the file's shape, `restore` puts one in the place of everything, `keep` writes them before something
//! drastic and once a day. All of it goes row by row, whatever the size.

mod file;
mod keep;
mod restore;

use std::path::Path;

use rocket::futures::StreamExt;
use sqlx::{PgConnection, PgPool, Row};
use thiserror::Error;

pub use file::Checked;
pub(crate) use keep::place;
pub use keep::{before_migration, daily, is_kept_daily};
pub use restore::{restore, test_restore};

use super::MIGRATOR;

/// The tables that are ours, those that others refer to first. Whatever else is in the database is someone's.
pub const TABLES: [&str; 13] = [
    "plan",
    "plan_revision",
    "part",
    "demo_load",
    "photo",
    "lot",
    "cell",
    "cell_reading",
    "cell_event",
    "build",
    "build_event",
    "pack",
    "pack_entry",
];

/// Why a backup was not written or restored. Nothing was changed.
#[derive(Debug, Error)]
pub enum BackupError {
    /// Not a backup of ours.
    #[error("this is not a backup of Dense Brick: {0}")]
    Shape(String),
    /// Cut off, or a byte of it was changed.
    #[error("this backup is damaged: {0}")]
    Damaged(String),
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
    /// The file cannot be read or written.
    #[error("the file cannot be read or written: {0}")]
    File(#[from] std::io::Error),
    /// The database failed.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
}

impl From<sqlx::migrate::MigrateError> for BackupError {
    fn from(error: sqlx::migrate::MigrateError) -> Self {
        BackupError::Database(sqlx::Error::from(error))
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

/// Which of our tables are there, each with the columns of its key: an older version has fewer.
async fn tables_there(tx: &mut PgConnection) -> sqlx::Result<Vec<(&'static str, String)>> {
    let found: Vec<(String, String)> = sqlx::query_as(
        "select t.relname::text, string_agg(quote_ident(c.attname), ', ' order by array_position(k.indkey, c.attnum)) \
         from pg_class t join pg_index k on k.indrelid = t.oid and k.indisprimary \
         join pg_attribute c on c.attrelid = t.oid and c.attnum = any (k.indkey) \
         where t.relkind = 'r' and t.relnamespace = current_schema()::regnamespace group by t.relname",
    )
    .fetch_all(tx)
    .await?;
    let key_of = |table: &str| found.iter().find(|(name, _)| name == table).map(|(_, key)| key.clone());
    Ok(TABLES.into_iter().filter_map(|table| Some((table, key_of(table)?))).collect())
}

/// Writes everything, as of one moment, into a file; one that is there is replaced once the new one is whole.
pub async fn write(pool: &PgPool, to: &Path) -> Result<(), BackupError> {
    let mut tx = pool.begin().await?;
    sqlx::query("set transaction isolation level repeatable read, read only").execute(&mut *tx).await?;
    write_within(&mut tx, to).await?;
    tx.commit().await?;
    Ok(())
}

/// Writes everything that a transaction sees.
async fn write_within(tx: &mut PgConnection, to: &Path) -> Result<(), BackupError> {
    sqlx::query("set local statement_timeout = 0").execute(&mut *tx).await?;
    let migration = migration_of(tx).await?;
    let tables = tables_there(tx).await?;
    let mut file = file::Writer::create(to, migration)?;
    for (table, key) in tables {
        // The names are ours, not somebody's text.
        let (rows,): (i64,) =
            sqlx::query_as(sqlx::AssertSqlSafe(format!("select count(*) from {table}"))).fetch_one(&mut *tx).await?;
        file.table(table, rows)?;
        let query = format!("select to_jsonb(t)::text from {table} t order by {key}");
        let mut found = sqlx::query(sqlx::AssertSqlSafe(query)).fetch(&mut *tx);
        while let Some(row) = found.next().await {
            file.row(row?.try_get::<&str, _>(0)?)?;
        }
    }
    file.finish()?;
    Ok(())
}
