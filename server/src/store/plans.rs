//! Plans and their revisions.

use brick_core::Plan;
use chrono::{DateTime, Utc};
use sqlx::types::Json;
use sqlx::{FromRow, PgPool};
use uuid::Uuid;

/// A stored plan.
#[derive(Debug, FromRow)]
pub struct Stored {
    /// Id.
    pub id: Uuid,
    /// Number of this revision.
    pub revision: i32,
    /// The document.
    pub document: Json<Plan>,
    /// When it was last saved.
    pub updated_at: DateTime<Utc>,
}

/// How a save ended.
#[derive(Debug)]
pub enum Saved {
    /// Saved as this revision.
    As(Stored),
    /// Somebody saved since: what is stored now.
    Stale(Stored),
    /// There is no such plan.
    Missing,
}

/// Every plan that is not deleted, newest change first.
pub async fn list(pool: &PgPool) -> sqlx::Result<Vec<Stored>> {
    sqlx::query_as(
        "select p.id, p.revision, r.document, p.updated_at
         from plan p join plan_revision r on r.plan_id = p.id and r.revision = p.revision
         where p.deleted_at is null
         order by p.updated_at desc, p.id",
    )
    .fetch_all(pool)
    .await
}

/// One plan that is not deleted.
pub async fn get(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Stored>> {
    sqlx::query_as(
        "select p.id, p.revision, r.document, p.updated_at
         from plan p join plan_revision r on r.plan_id = p.id and r.revision = p.revision
         where p.id = $1 and p.deleted_at is null",
    )
    .bind(id)
    .fetch_optional(pool)
    .await
}

/// Stores a new plan as revision 1; plan and revision together.
pub async fn create(pool: &PgPool, plan: &Plan) -> sqlx::Result<Stored> {
    let mut tx = pool.begin().await?;
    let stored = insert(&mut tx, plan).await?;
    tx.commit().await?;
    Ok(stored)
}

/// Stores a new plan inside a transaction.
pub(super) async fn insert(tx: &mut sqlx::PgConnection, plan: &Plan) -> sqlx::Result<Stored> {
    let id = Uuid::now_v7();
    sqlx::query("insert into plan (id, name, revision) values ($1, $2, 1)")
        .bind(id)
        .bind(plan.name.trim())
        .execute(&mut *tx)
        .await?;
    let saved_at: (DateTime<Utc>,) =
        sqlx::query_as("insert into plan_revision (plan_id, revision, document) values ($1, 1, $2) returning saved_at")
            .bind(id)
            .bind(Json(plan))
            .fetch_one(&mut *tx)
            .await?;
    Ok(Stored { id, revision: 1, document: Json(plan.clone()), updated_at: saved_at.0 })
}

/// Saves a plan that was opened at a revision; refuses when another was saved since. Check and write together.
pub async fn save(pool: &PgPool, id: Uuid, from_revision: i32, plan: &Plan) -> sqlx::Result<Saved> {
    let mut tx = pool.begin().await?;
    let updated: Option<(i32, DateTime<Utc>)> = sqlx::query_as(
        "update plan set name = $3, revision = revision + 1, updated_at = now()
         where id = $1 and revision = $2 and deleted_at is null
         returning revision, updated_at",
    )
    .bind(id)
    .bind(from_revision)
    .bind(plan.name.trim())
    .fetch_optional(&mut *tx)
    .await?;
    let Some((revision, updated_at)) = updated else {
        tx.rollback().await?;
        return Ok(get(pool, id).await?.map_or(Saved::Missing, Saved::Stale));
    };
    sqlx::query("insert into plan_revision (plan_id, revision, document) values ($1, $2, $3)")
        .bind(id)
        .bind(revision)
        .bind(Json(plan))
        .execute(&mut *tx)
        .await?;
    tx.commit().await?;
    Ok(Saved::As(Stored { id, revision, document: Json(plan.clone()), updated_at }))
}

/// Marks a plan as deleted; false if there is none.
pub async fn delete(pool: &PgPool, id: Uuid) -> sqlx::Result<bool> {
    let done = sqlx::query("update plan set deleted_at = now() where id = $1 and deleted_at is null")
        .bind(id)
        .execute(pool)
        .await?;
    Ok(done.rows_affected() == 1)
}

/// Takes a deletion back; false if the plan is not deleted.
pub async fn restore(pool: &PgPool, id: Uuid) -> sqlx::Result<bool> {
    let done = sqlx::query("update plan set deleted_at = null where id = $1 and deleted_at is not null")
        .bind(id)
        .execute(pool)
        .await?;
    Ok(done.rows_affected() == 1)
}
