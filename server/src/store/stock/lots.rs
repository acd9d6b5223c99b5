//! Lots.

use brick_core::physics::grouping::natural_key;
use brick_core::stock::Lot;
use chrono::{DateTime, Utc};
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

use super::inspection::reinspect;
use super::{StockError, StockResult};
use crate::store::RULES;

/// A lot with what its cells came to.
#[derive(Debug, FromRow)]
pub struct LotRow {
    /// Id.
    pub id: Uuid,
    /// The lot.
    pub document: Json<Lot>,
    /// When it was made.
    pub created_at: DateTime<Utc>,
    /// Cells.
    pub cells: i64,
    /// Cells by verdict, in the order of the verdicts.
    pub verdicts: Vec<i64>,
    /// Cells by state, in the order of the states.
    pub states: Vec<i64>,
}

const LOT: &str = "select l.id, l.document, l.created_at, count(c.id) as cells,
     array[count(*) filter (where c.verdict = 'unfinished'), count(*) filter (where c.verdict = 'fine'),
           count(*) filter (where c.verdict = 'watch'), count(*) filter (where c.verdict = 'recover'),
           count(*) filter (where c.verdict = 'scrap')] as verdicts,
     array[count(*) filter (where c.state = 'new'), count(*) filter (where c.state = 'tested'),
           count(*) filter (where c.state = 'reserved'), count(*) filter (where c.state = 'built_in'),
           count(*) filter (where c.state = 'retired')] as states
     from lot l left join cell c on c.lot_id = l.id
     where l.deleted_at is null and ($1::uuid is null or l.id = $1)
     group by l.id order by l.created_at, l.id";

/// Every lot that is not deleted, the oldest first.
pub async fn lots(pool: &PgPool) -> sqlx::Result<Vec<LotRow>> {
    sqlx::query_as(LOT).bind(None::<Uuid>).fetch_all(pool).await
}

/// One lot that is not deleted.
pub async fn lot(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<LotRow>> {
    sqlx::query_as(LOT).bind(id).fetch_optional(pool).await
}

/// Makes a lot with cells of these labels: all or nothing.
pub async fn create_lot(pool: &PgPool, lot: &Lot, labels: &[String]) -> StockResult<Uuid> {
    let mut tx = pool.begin().await?;
    let id = insert_lot(&mut tx, lot).await?;
    insert_cells(&mut tx, id, labels).await?;
    reinspect(&mut tx, &[id]).await?;
    tx.commit().await?;
    Ok(id)
}

/// Stores a lot inside a transaction.
pub async fn insert_lot(tx: &mut PgConnection, lot: &Lot) -> StockResult<Uuid> {
    free_name(tx, lot.name.trim(), None).await?;
    let id = Uuid::now_v7();
    sqlx::query("insert into lot (id, name, document, judged_by) values ($1, $2, $3, $4)")
        .bind(id)
        .bind(lot.name.trim())
        .bind(Json(lot))
        .bind(RULES)
        .execute(tx)
        .await?;
    Ok(id)
}

/// Refuses a name that another lot has.
async fn free_name(tx: &mut PgConnection, name: &str, besides: Option<Uuid>) -> StockResult<()> {
    let taken: bool = sqlx::query_scalar(
        "select exists (select from lot where lower(name) = lower($1) and deleted_at is null and id is distinct from $2)",
    )
    .bind(name)
    .bind(besides)
    .fetch_one(tx)
    .await?;
    if taken { Err(StockError::NameTaken(name.to_owned())) } else { Ok(()) }
}

/// Puts new cells into a lot, inside a transaction; refuses labels that are taken. The ids in the order of the labels.
pub(in crate::store) async fn insert_cells(
    tx: &mut PgConnection,
    lot: Uuid,
    labels: &[String],
) -> StockResult<Vec<Uuid>> {
    let lower: Vec<String> = labels.iter().map(|l| l.to_lowercase()).collect();
    let mut taken: Vec<String> = sqlx::query_scalar(
        "select label from cell where lower(label) = any($1) and deleted_at is null order by label_order",
    )
    .bind(&lower)
    .fetch_all(&mut *tx)
    .await?;
    if !taken.is_empty() {
        taken.dedup();
        return Err(StockError::LabelsTaken(taken));
    }
    let ids: Vec<Uuid> = labels.iter().map(|_| Uuid::now_v7()).collect();
    let orders: Vec<String> = labels.iter().map(|l| natural_key(l)).collect();
    sqlx::query(
        "insert into cell (id, lot_id, label, label_order)
         select n.id, $1, n.label, n.label_order from unnest($2::uuid[], $3::text[], $4::text[]) as n (id, label, label_order)",
    )
    .bind(lot)
    .bind(&ids)
    .bind(labels)
    .bind(&orders)
    .execute(&mut *tx)
    .await?;
    Ok(ids)
}

/// Makes sure a lot is there and keeps others from changing it meanwhile.
async fn held(tx: &mut PgConnection, lot: Uuid) -> StockResult<()> {
    let found: Option<Uuid> = sqlx::query_scalar("select id from lot where id = $1 and deleted_at is null for update")
        .bind(lot)
        .fetch_optional(tx)
        .await?;
    found.map(|_| ()).ok_or(StockError::Missing("lot"))
}

/// Changes what is known of a lot and puts new cells into it; all its cells are judged again.
pub async fn update_lot(pool: &PgPool, id: Uuid, lot: &Lot, labels: &[String]) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    held(&mut tx, id).await?;
    free_name(&mut tx, lot.name.trim(), Some(id)).await?;
    sqlx::query("update lot set name = $2, document = $3 where id = $1")
        .bind(id)
        .bind(lot.name.trim())
        .bind(Json(lot))
        .execute(&mut *tx)
        .await?;
    insert_cells(&mut tx, id, labels).await?;
    reinspect(&mut tx, &[id]).await?;
    tx.commit().await?;
    Ok(())
}

/// Marks a lot and its cells as deleted; refused while plans use some.
pub async fn delete_lot(pool: &PgPool, id: Uuid) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    held(&mut tx, id).await?;
    let counted_on: Vec<String> = sqlx::query_scalar(
        "select label from cell where lot_id = $1 and plan_id is not null order by label_order limit 3",
    )
    .bind(id)
    .fetch_all(&mut *tx)
    .await?;
    if !counted_on.is_empty() {
        let told =
            format!("plans use cells of this lot ({} and perhaps more); release them first", counted_on.join(", "));
        return Err(StockError::State(told));
    }
    sqlx::query("update lot set deleted_at = now() where id = $1").bind(id).execute(&mut *tx).await?;
    sqlx::query("update cell set deleted_at = now() where lot_id = $1").bind(id).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(())
}

/// Takes a deletion back; refused when its name or labels were given to others since.
pub async fn restore_lot(pool: &PgPool, id: Uuid) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    let name: Option<String> =
        sqlx::query_scalar("select name from lot where id = $1 and deleted_at is not null for update")
            .bind(id)
            .fetch_optional(&mut *tx)
            .await?;
    free_name(&mut tx, &name.ok_or(StockError::Missing("deleted lot"))?, Some(id)).await?;
    let taken: Vec<String> = sqlx::query_scalar(
        "select mine.label from cell mine join cell other on lower(other.label) = lower(mine.label)
         where mine.lot_id = $1 and other.deleted_at is null order by mine.label_order",
    )
    .bind(id)
    .fetch_all(&mut *tx)
    .await?;
    if !taken.is_empty() {
        return Err(StockError::LabelsTaken(taken));
    }
    sqlx::query("update lot set deleted_at = null where id = $1").bind(id).execute(&mut *tx).await?;
    sqlx::query("update cell set deleted_at = null where lot_id = $1").bind(id).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(())
}
