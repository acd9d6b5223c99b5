//! The store: SQL, and nothing but SQL. What must happen together is one function in one transaction.

pub mod backup;
pub mod builds;
pub mod demo;
pub mod packs;
pub mod parts;
pub mod photos;
pub mod plans;
pub mod stock;

mod home;
pub mod purge;

use std::path::Path;
use std::time::Duration;

use sqlx::PgPool;
use sqlx::migrate::{MigrateError, Migrator};
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};

/// The migrations, forward only.
pub static MIGRATOR: Migrator = sqlx::migrate!();

/// Connects, keeps a backup if migrations are pending, and brings the database up to date.
pub async fn open(url: &str, backups: &Path) -> anyhow::Result<PgPool> {
    let pool = connect(url).await?;
    if let Some(file) = backup::before_migration(&pool, backups).await? {
        println!("Before the database is brought up to date, a backup was kept in {}.", file.display());
    }
    MIGRATOR.run(&pool).await.map_err(|error| match error {
        MigrateError::VersionMissing(version) => {
            anyhow::anyhow!("this database was written by a newer Dense Brick (its version {version} is unknown here)")
        }
        other => other.into(),
    })?;
    stock::judge_anew(&pool, RULES).await?;
    Ok(pool)
}

/// The rules that are built in: what was stored by others is made anew.
pub const RULES: &str = env!("BRICK_RULES");

/// Longest that one statement may take; a restore and a backup set it aside for themselves.
const STATEMENT_S: u64 = 30;

/// Connects to a database as it is, to the schema that is ours.
pub async fn connect(url: &str) -> anyhow::Result<PgPool> {
    let options: PgConnectOptions = url.parse()?;
    home::make(&options).await?;
    let limit = format!("{STATEMENT_S}s");
    let options = options.options([
        ("search_path", home::SCHEMA),
        ("statement_timeout", limit.as_str()),
        ("idle_in_transaction_session_timeout", "5min"),
    ]);
    Ok(PgPoolOptions::new().max_connections(8).acquire_timeout(Duration::from_secs(5)).connect_with(options).await?)
}
