//! The parts catalogue.

use std::sync::Arc;

use brick_core::Catalogue;
use brick_core::parts::catalogue::{Item, PARTS_MAX, id_of};
use rocket::tokio::sync::Mutex;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};

/// Why a change of the catalogue was refused.
#[derive(Debug, thiserror::Error)]
pub enum PartsError {
    /// As many parts as there may be.
    #[error("the catalogue holds at most {PARTS_MAX} parts; delete some first")]
    Full,
    /// The database.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
}

/// What an import brought.
#[derive(Debug, Default, PartialEq, Eq)]
pub struct Imported {
    /// Parts that are new.
    pub added: usize,
    /// Parts that were there and are other now.
    pub changed: usize,
    /// Parts that were there just so.
    pub unchanged: usize,
}

/// Every part.
pub async fn catalogue(pool: &PgPool) -> sqlx::Result<Catalogue> {
    let rows: Vec<(Json<Item>,)> =
        sqlx::query_as("select document from part where deleted_at is null order by id").fetch_all(pool).await?;
    Ok(Catalogue { items: rows.into_iter().map(|(Json(item),)| item).collect() })
}

/// The catalogue as it was last read, kept until a part changes.
#[derive(Debug, Default)]
pub struct Catalogues(Mutex<Option<(String, Arc<Catalogue>)>>);

impl Catalogues {
    /// The catalogue as it is now. Whether it changed is asked of the database, whoever changed it.
    pub async fn now(&self, pool: &PgPool) -> sqlx::Result<Arc<Catalogue>> {
        let stands = state(pool).await?;
        let mut kept = self.0.lock().await;
        if let Some((of, catalogue)) = kept.as_ref()
            && *of == stands
        {
            return Ok(catalogue.clone());
        }
        let read = Arc::new(catalogue(pool).await?);
        *kept = Some((stands, read.clone()));
        Ok(read)
    }
}

fn kind(item: &Item) -> String {
    format!("{:?}", item.kind()).to_lowercase()
}

/// Stores a part inside a transaction; one of the same id stays as it is.
pub(super) async fn insert(tx: &mut PgConnection, item: &Item) -> sqlx::Result<()> {
    sqlx::query("insert into part (id, kind, document) values ($1, $2, $3) on conflict (id) do nothing")
        .bind(&item.id)
        .bind(kind(item))
        .bind(Json(item))
        .execute(tx)
        .await?;
    Ok(())
}

/// Adds a part under an id made from its name, with a number behind it where that is taken, deleted parts included.
pub async fn add(pool: &PgPool, mut item: Item) -> Result<Item, PartsError> {
    let mut tx = pool.begin().await?;
    hold(&mut tx).await?;
    let stem: String = id_of(&item.offer().name).chars().take(54).collect();
    let taken: Vec<String> =
        sqlx::query_scalar("select id from part where starts_with(id, $1)").bind(&stem).fetch_all(&mut *tx).await?;
    let ids = std::iter::once(stem.clone()).chain((2..).map(|n| format!("{stem}-{n}")));
    item.id = ids.into_iter().find(|id| !taken.contains(id)).unwrap_or(stem);
    item.offer_mut().catalogue_id = Some(item.id.clone());
    insert(&mut tx, &item).await?;
    room(&mut tx).await?;
    tx.commit().await?;
    Ok(item)
}

/// Puts another part in the place of the one of that id; `false` where there is none.
pub async fn change(pool: &PgPool, item: &Item) -> sqlx::Result<bool> {
    let done = sqlx::query(
        "update part set kind = $2, document = $3, updated_at = now() where id = $1 and deleted_at is null",
    )
    .bind(&item.id)
    .bind(kind(item))
    .bind(Json(item))
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Deletes a part, or takes that back; `false` where there is none to delete or to take back.
pub async fn delete(pool: &PgPool, id: &str, deleted: bool) -> sqlx::Result<bool> {
    let done = sqlx::query(
        "update part set deleted_at = case when $2 then now() end where id = $1 and (deleted_at is null) = $2",
    )
    .bind(id)
    .bind(deleted)
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Takes parts in, all of them or none: one of a known id takes its place, a deleted one comes back.
pub async fn import(pool: &PgPool, items: &[Item]) -> Result<Imported, PartsError> {
    let mut tx = pool.begin().await?;
    hold(&mut tx).await?;
    let mut done = Imported::default();
    for item in items {
        let before: Option<(Json<Item>, bool)> =
            sqlx::query_as("select document, deleted_at is not null from part where id = $1")
                .bind(&item.id)
                .fetch_optional(&mut *tx)
                .await?;
        match before {
            Some((Json(old), false)) if old == *item => {
                done.unchanged += 1;
                continue;
            }
            Some((_, false)) => done.changed += 1,
            Some((_, true)) | None => done.added += 1,
        }
        sqlx::query(
            "insert into part (id, kind, document) values ($1, $2, $3)
             on conflict (id) do update
             set kind = excluded.kind, document = excluded.document, deleted_at = null, updated_at = now()",
        )
        .bind(&item.id)
        .bind(kind(item))
        .bind(Json(item))
        .execute(&mut *tx)
        .await?;
    }
    room(&mut tx).await?;
    tx.commit().await?;
    Ok(done)
}

/// Tells one state of the catalogue from every other.
pub async fn state(pool: &PgPool) -> sqlx::Result<String> {
    sqlx::query_scalar(
        "select count(*) filter (where deleted_at is null) || '@' ||
                coalesce(max(extract(epoch from greatest(updated_at, deleted_at))), 0)
         from part",
    )
    .fetch_one(pool)
    .await
}

/// One change of the catalogue at a time, so that ids and the count hold.
async fn hold(tx: &mut PgConnection) -> sqlx::Result<()> {
    sqlx::query("lock table part in share row exclusive mode").execute(tx).await?;
    Ok(())
}

/// Refuses more parts than there may be.
async fn room(tx: &mut PgConnection) -> Result<(), PartsError> {
    let count: i64 = sqlx::query_scalar("select count(*) from part where deleted_at is null").fetch_one(tx).await?;
    if usize::try_from(count).is_ok_and(|n| n <= PARTS_MAX) { Ok(()) } else { Err(PartsError::Full) }
}
