//! Where our tables live: a schema of their own, so that a shared database keeps its other tables to itself.

use sqlx::postgres::PgConnectOptions;
use sqlx::{AssertSqlSafe, ConnectOptions, Connection};

use super::MIGRATOR;
use super::backup::TABLES;

/// Name of the schema.
pub const SCHEMA: &str = "dense_brick";

/// Makes the schema, and moves the tables of a version that kept them in `public` there.
///
/// Tables are ours if the first migration in the list beside them is our first one, by its checksum.
pub async fn make(options: &PgConnectOptions) -> sqlx::Result<()> {
    let mut connection = options.connect().await?;
    let (there,): (bool,) = sqlx::query_as("select exists (select from pg_namespace where nspname = $1)")
        .bind(SCHEMA)
        .fetch_one(&mut connection)
        .await?;
    if !there {
        let mut tx = connection.begin().await?;
        // Two programs may start at once on one database.
        sqlx::query("select pg_advisory_xact_lock(hashtext($1))").bind(SCHEMA).execute(&mut *tx).await?;
        sqlx::query(AssertSqlSafe(format!("create schema if not exists {SCHEMA}"))).execute(&mut *tx).await?;
        for table in ours_in_public(&mut tx).await? {
            let query = format!("alter table public.{table} set schema {SCHEMA}");
            sqlx::query(AssertSqlSafe(query)).execute(&mut *tx).await?;
        }
        tx.commit().await?;
    }
    connection.close().await
}

/// Our tables in `public`, with the list of migrations; none if they are someone else's.
async fn ours_in_public(tx: &mut sqlx::PgConnection) -> sqlx::Result<Vec<String>> {
    let (listed,): (bool,) =
        sqlx::query_as("select to_regclass('public._sqlx_migrations') is not null").fetch_one(&mut *tx).await?;
    let Some(first) = MIGRATOR.iter().next().filter(|_| listed) else { return Ok(vec![]) };
    let (ours,): (bool,) =
        sqlx::query_as("select exists (select from public._sqlx_migrations where version = $1 and checksum = $2)")
            .bind(first.version)
            .bind(first.checksum.as_ref())
            .fetch_one(&mut *tx)
            .await?;
    if !ours {
        return Ok(vec![]);
    }
    let found: Vec<(String,)> =
        sqlx::query_as("select tablename::text from pg_tables where schemaname = 'public'").fetch_all(tx).await?;
    Ok(found
        .into_iter()
        .map(|(name,)| name)
        .filter(|n| n == "_sqlx_migrations" || TABLES.contains(&n.as_str()))
        .collect())
}
