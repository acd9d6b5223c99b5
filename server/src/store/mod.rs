//! The store: SQL, and nothing but SQL. What must happen together is one function in one transaction.

pub mod demo;
pub mod parts;
pub mod plans;

use std::time::Duration;

use sqlx::PgPool;
use sqlx::migrate::Migrator;
use sqlx::postgres::PgPoolOptions;

/// The migrations, forward only.
pub static MIGRATOR: Migrator = sqlx::migrate!();

/// Connects and brings the database up to date.
pub async fn open(url: &str) -> anyhow::Result<PgPool> {
    let pool = PgPoolOptions::new().max_connections(8).acquire_timeout(Duration::from_secs(5)).connect(url).await?;
    MIGRATOR.run(&pool).await?;
    Ok(pool)
}
