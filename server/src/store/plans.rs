//! Plans and their revisions.
//!
//! A revision is what the maker sees in the history; an edit is one write of the newest revision.

use brick_core::Plan;
use chrono::{DateTime, Utc};
use serde_json::Value;
use sqlx::types::Json;
use sqlx::{FromRow, PgPool};
use uuid::Uuid;

use super::stock::{self, StockError, StockResult};

/// A stored plan.
#[derive(Debug, FromRow)]
pub struct Stored {
    /// Id.
    pub id: Uuid,
    /// Number of this revision.
    pub revision: i32,
    /// How often this revision was written.
    pub edit: i32,
    /// The document.
    pub document: Json<Plan>,
    /// When it was last saved.
    pub updated_at: DateTime<Utc>,
    /// Key of the last save, if it had one.
    pub save_key: Option<Uuid>,
}

/// How a save ended.
#[derive(Debug)]
pub enum Saved {
    /// Saved as this revision.
    As(Stored),
    /// Someone saved since: what is stored now.
    Stale(Stored),
    /// There is no such plan.
    Missing,
    /// Cells of the stock that it names cannot be reserved for it: which, and why.
    Taken(String),
}

/// Every plan that is not deleted, newest change first.
pub async fn list(pool: &PgPool) -> sqlx::Result<Vec<Stored>> {
    sqlx::query_as(
        "select p.id, p.revision, p.edit, r.document, p.updated_at, p.save_key
         from plan p join plan_revision r on r.plan_id = p.id and r.revision = p.revision
         where p.deleted_at is null
         order by p.updated_at desc, p.id",
    )
    .fetch_all(pool)
    .await
}

/// What the list of plans is ordered by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Order {
    /// Newest change first.
    #[default]
    Newest,
    /// Most of its parts at hand first.
    AtHand,
    /// Least still to pay first.
    Price,
}

/// A page of the list.
#[derive(Debug, Clone, Default)]
pub struct Page {
    /// Order of the whole list.
    pub order: Order,
    /// Part of the name, in any case; empty for all.
    pub search: String,
    /// Plans before it.
    pub from: i64,
    /// Plans on it at most.
    pub count: i64,
}

/// A plan with what the list shows of it.
#[derive(Debug, FromRow)]
pub struct Listed {
    /// Id.
    pub id: Uuid,
    /// Number of its newest revision.
    pub revision: i32,
    /// How often that was written.
    pub edit: i32,
    /// When it was last saved.
    pub updated_at: DateTime<Utc>,
    /// Its name.
    pub name: String,
    /// What was kept to be shown, if something was.
    pub summary: Option<Value>,
    /// What that was made of.
    pub summary_of: Option<String>,
}

/// One page of the plans that are not deleted.
pub async fn page(pool: &PgPool, page: &Page) -> sqlx::Result<Vec<Listed>> {
    sqlx::query_as(
        "select id, revision, edit, updated_at, name, summary, summary_of
         from plan
         where deleted_at is null and strpos(lower(name), lower($1)) > 0
         order by
             case $2 when 1 then (summary ->> 'at_hand_share')::float8 end desc nulls last,
             case $2 when 2 then (summary ->> 'to_buy_price')::float8 end asc nulls last,
             updated_at desc, id
         offset $3 limit $4",
    )
    .bind(page.search.trim())
    .bind(page.order as i32)
    .bind(page.from)
    .bind(page.count)
    .fetch_all(pool)
    .await
}

/// Ids of the plans whose summary was not made by these rules and this catalogue, of the newest edit.
pub async fn without_summary(pool: &PgPool, made_by: &str, most: i64) -> sqlx::Result<Vec<Uuid>> {
    sqlx::query_scalar(
        "select id from plan
         where deleted_at is null and summary_of is distinct from revision || '.' || edit || '.' || $1
         order by updated_at desc limit $2",
    )
    .bind(made_by)
    .bind(most)
    .fetch_all(pool)
    .await
}

/// The documents of some plans as they are stored, readable or not, with revision and edit.
pub async fn documents(pool: &PgPool, ids: &[Uuid]) -> sqlx::Result<Vec<(Uuid, i32, i32, Value)>> {
    sqlx::query_as(
        "select p.id, p.revision, p.edit, r.document
         from plan p join plan_revision r on r.plan_id = p.id and r.revision = p.revision
         where p.id = any($1)",
    )
    .bind(ids)
    .fetch_all(pool)
    .await
}

/// Keeps what the list shows of a plan, unless it was saved since.
pub async fn keep_summary(
    pool: &PgPool,
    (id, revision, edit): (Uuid, i32, i32),
    summary: &Value,
    made_by: &str,
) -> sqlx::Result<()> {
    sqlx::query(
        "update plan set summary = $4, summary_of = $2 || '.' || $3 || '.' || $5
         where id = $1 and revision = $2 and edit = $3",
    )
    .bind(id)
    .bind(revision)
    .bind(edit)
    .bind(summary)
    .bind(made_by)
    .execute(pool)
    .await?;
    Ok(())
}

/// One plan that is not deleted.
pub async fn get(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Stored>> {
    sqlx::query_as(
        "select p.id, p.revision, p.edit, r.document, p.updated_at, p.save_key
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

/// Stores a new plan inside a transaction. A new plan uses no cell of the stock: a copy would claim another's.
pub async fn insert(tx: &mut sqlx::PgConnection, plan: &Plan) -> sqlx::Result<Stored> {
    let plan = &plan.clone().without_reservations();
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
    Ok(Stored { id, revision: 1, edit: 1, document: Json(plan.clone()), updated_at: saved_at.0, save_key: None })
}

/// A save, with what it started from.
#[derive(Debug, Clone, Copy)]
pub struct From {
    /// Revision that was opened.
    pub revision: i32,
    /// How often it had been written.
    pub edit: i32,
    /// Whether the save must become a revision of its own.
    pub apart: bool,
    /// What this save is known by when it is sent again.
    pub key: Option<Uuid>,
}

/// Minutes of work that autosave gathers in one revision.
const GATHERED_MINUTES: i32 = 10;

/// Saves a plan that was opened at a revision and edit; refuses when another save came between.
///
/// Within ten minutes of a revision's first write it is written again; the first revision of a plan, which is what
/// it started from, never is. Check and write together.
pub async fn save(pool: &PgPool, id: Uuid, from: From, plan: &Plan) -> sqlx::Result<Saved> {
    let mut tx = pool.begin().await?;
    // The lock first, by itself: what a statement that waited for it would join is as old as its wait.
    let now: Option<(i32, i32)> =
        sqlx::query_as("select revision, edit from plan where id = $1 and deleted_at is null for update")
            .bind(id)
            .fetch_optional(&mut *tx)
            .await?;
    let Some((revision, edit)) = now else {
        return Ok(Saved::Missing);
    };
    if (revision, edit) != (from.revision, from.edit) {
        tx.rollback().await?;
        let Some(stored) = get(pool, id).await? else { return Ok(Saved::Missing) };
        // The same save again, whose answer was lost: it is done.
        let again = from.key.is_some() && stored.save_key == from.key;
        return Ok(if again { Saved::As(stored) } else { Saved::Stale(stored) });
    }
    if let Some(told) = taken(stock::sync_plan(&mut tx, id, plan).await)? {
        return Ok(Saved::Taken(told));
    }
    let fresh: bool = sqlx::query_scalar(
        // A clock that went back leaves a beginning in the future, which would gather work for as long.
        "select revision > 1 and began_at > now() - make_interval(mins => $3) and began_at <= now()
         from plan_revision where plan_id = $1 and revision = $2",
    )
    .bind(id)
    .bind(revision)
    .bind(GATHERED_MINUTES)
    .fetch_one(&mut *tx)
    .await?;
    let (revision, edit) = if fresh && !from.apart { (revision, edit + 1) } else { (revision + 1, 1) };
    sqlx::query(
        "insert into plan_revision (plan_id, revision, document) values ($1, $2, $3)
         on conflict (plan_id, revision) do update set document = excluded.document, saved_at = now()",
    )
    .bind(id)
    .bind(revision)
    .bind(Json(plan))
    .execute(&mut *tx)
    .await?;
    let (updated_at,): (DateTime<Utc>,) = sqlx::query_as(
        "update plan set name = $2, revision = $3, edit = $4, save_key = $5, updated_at = now()
         where id = $1 returning updated_at",
    )
    .bind(id)
    .bind(plan.name.trim())
    .bind(revision)
    .bind(edit)
    .bind(from.key)
    .fetch_one(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(Saved::As(Stored { id, revision, edit, document: Json(plan.clone()), updated_at, save_key: from.key }))
}

/// What stands against a reservation, if something does.
fn taken(result: StockResult<()>) -> sqlx::Result<Option<String>> {
    match result {
        Ok(()) => Ok(None),
        Err(StockError::Database(error)) => Err(error),
        Err(other) => Ok(Some(other.to_string())),
    }
}

/// A revision as it was saved.
#[derive(Debug, FromRow)]
pub struct Revision {
    /// Its number.
    pub revision: i32,
    /// Last write.
    pub saved_at: DateTime<Utc>,
    /// The document.
    pub document: Json<Plan>,
}

/// The newest revisions of a plan that is not deleted, newest first; none if there is no such plan.
pub async fn revisions(pool: &PgPool, id: Uuid, most: i64) -> sqlx::Result<Vec<Revision>> {
    sqlx::query_as(
        "select r.revision, r.saved_at, r.document
         from plan_revision r join plan p on p.id = r.plan_id
         where p.id = $1 and p.deleted_at is null
         order by r.revision desc limit $2",
    )
    .bind(id)
    .bind(most)
    .fetch_all(pool)
    .await
}

/// One revision of a plan that is not deleted.
pub async fn revision(pool: &PgPool, id: Uuid, number: i32) -> sqlx::Result<Option<Plan>> {
    let found: Option<(Json<Plan>,)> = sqlx::query_as(
        "select r.document from plan_revision r join plan p on p.id = r.plan_id
         where p.id = $1 and p.deleted_at is null and r.revision = $2",
    )
    .bind(id)
    .bind(number)
    .fetch_optional(pool)
    .await?;
    Ok(found.map(|(Json(plan),)| plan))
}

/// Marks a plan as deleted and gives its reserved cells back to the stock; false if there is none.
pub async fn delete(pool: &PgPool, id: Uuid) -> sqlx::Result<bool> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query("update plan set deleted_at = now() where id = $1 and deleted_at is null")
        .bind(id)
        .execute(&mut *tx)
        .await?;
    stock::release_plan(&mut tx, id).await?;
    tx.commit().await?;
    Ok(done.rows_affected() == 1)
}

/// How taking a deletion back ended.
#[derive(Debug, PartialEq, Eq)]
pub enum Restored {
    /// The plan is back, with its cells.
    Back,
    /// The plan is not deleted.
    Missing,
    /// Its cells were given to others: which, and to whom.
    Taken(String),
}

/// Takes a deletion back and reserves the cells of the plan again.
pub async fn restore(pool: &PgPool, id: Uuid) -> sqlx::Result<Restored> {
    let mut tx = pool.begin().await?;
    let revision: Option<i32> = sqlx::query_scalar(
        "update plan set deleted_at = null where id = $1 and deleted_at is not null returning revision",
    )
    .bind(id)
    .fetch_optional(&mut *tx)
    .await?;
    let Some(revision) = revision else { return Ok(Restored::Missing) };
    let Json(plan): Json<Plan> =
        sqlx::query_scalar("select document from plan_revision where plan_id = $1 and revision = $2")
            .bind(id)
            .bind(revision)
            .fetch_one(&mut *tx)
            .await?;
    if let Some(told) = taken(stock::sync_plan(&mut tx, id, &plan).await)? {
        return Ok(Restored::Taken(told));
    }
    tx.commit().await?;
    Ok(Restored::Back)
}
