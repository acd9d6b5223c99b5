//! Readings: written, struck out, taken back.

use std::collections::HashMap;

use brick_core::stock::{CellState, Conditions, Kind, TestReading};
use chrono::{DateTime, Utc};
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

use super::inspection::{hold_lots_of, redigest, reinspect};
use super::states::note_state;
use super::{StockError, StockResult};

/// A reading as the database has it.
#[derive(Debug, FromRow)]
pub(super) struct ReadingRow {
    cell_id: Uuid,
    kind: String,
    value: f64,
    conditions: Json<Conditions>,
    taken_at: DateTime<Utc>,
}

/// Readings as core knows them, by cell.
pub(super) fn by_cell(rows: Vec<ReadingRow>) -> HashMap<Uuid, Vec<TestReading>> {
    let mut found: HashMap<Uuid, Vec<TestReading>> = HashMap::new();
    for row in rows {
        // The table takes no kind that core does not know.
        let Some(kind) = Kind::of(&row.kind) else { continue };
        let taken_s = row.taken_at.timestamp();
        let reading = TestReading { kind, value: row.value, conditions: row.conditions.0, taken_s };
        found.entry(row.cell_id).or_default().push(reading);
    }
    found
}

/// A reading on a cell.
#[derive(Debug, Clone)]
pub struct NewReading {
    /// The cell.
    pub cell: Uuid,
    /// What was read.
    pub reading: TestReading,
}

/// Writes readings down: all or none. New cells become tested; their lots are judged again.
///
/// Under a key they are written once: the first of them has it as its id.
pub async fn add_readings(pool: &PgPool, key: Option<Uuid>, readings: &[NewReading]) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    let cells: Vec<Uuid> = readings.iter().map(|r| r.cell).collect();
    let lots = hold_lots_of(&mut tx, &cells).await?;
    if let Some(key) = key {
        let there: bool = sqlx::query_scalar("select exists (select from cell_reading where id = $1)")
            .bind(key)
            .fetch_one(&mut *tx)
            .await?;
        if there {
            return Ok(());
        }
    }
    insert_readings(&mut tx, key, readings).await?;
    reinspect(&mut tx, &lots).await?;
    tx.commit().await?;
    Ok(())
}

/// Writes readings inside a transaction that holds their lots, and gathers them into digests; the lots are to be judged
/// again when everything is written.
pub(in crate::store) async fn insert_readings(
    tx: &mut PgConnection,
    key: Option<Uuid>,
    readings: &[NewReading],
) -> StockResult<()> {
    let mut cells: Vec<Uuid> = readings.iter().map(|r| r.cell).collect();
    cells.sort_unstable();
    cells.dedup();
    let there: Vec<(Uuid, String)> =
        sqlx::query_as("select id, state from cell where id = any($1) and deleted_at is null for update")
            .bind(&cells)
            .fetch_all(&mut *tx)
            .await?;
    if there.len() != cells.len() {
        return Err(StockError::Missing("cell"));
    }
    let moment = |s: i64| DateTime::<Utc>::from_timestamp(s, 0).unwrap_or_default();
    sqlx::query(
        "insert into cell_reading (id, cell_id, kind, value, conditions, taken_at)
         select * from unnest($1::uuid[], $2::uuid[], $3::text[], $4::float8[], $5::jsonb[], $6::timestamptz[])",
    )
    .bind(key.into_iter().chain(std::iter::repeat_with(Uuid::now_v7)).take(readings.len()).collect::<Vec<_>>())
    .bind(readings.iter().map(|r| r.cell).collect::<Vec<_>>())
    .bind(readings.iter().map(|r| r.reading.kind.key()).collect::<Vec<_>>())
    .bind(readings.iter().map(|r| r.reading.value).collect::<Vec<_>>())
    .bind(readings.iter().map(|r| Json(&r.reading.conditions)).collect::<Vec<_>>())
    .bind(readings.iter().map(|r| moment(r.reading.taken_s)).collect::<Vec<_>>())
    .execute(&mut *tx)
    .await?;
    let new: Vec<Uuid> = there.iter().filter(|(_, state)| state == CellState::New.key()).map(|(id, _)| *id).collect();
    note_state(tx, &new, CellState::Tested, None, "").await?;
    redigest(tx, &cells).await?;
    Ok(())
}

/// Strikes a reading out, or takes that back. It stays in the record and counts no more.
pub async fn strike(pool: &PgPool, reading: Uuid, struck: bool) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    let cell: Option<Uuid> = sqlx::query_scalar("select cell_id from cell_reading where id = $1")
        .bind(reading)
        .fetch_optional(&mut *tx)
        .await?;
    let cell = cell.ok_or(StockError::Missing("reading"))?;
    let lots = hold_lots_of(&mut tx, &[cell]).await?;
    let done = sqlx::query(
        "update cell_reading r set struck_at = case when $2 then now() end
         from cell c where r.id = $1 and c.id = r.cell_id and c.deleted_at is null and (r.struck_at is null) = $2",
    )
    .bind(reading)
    .bind(struck)
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        return Err(StockError::Missing("reading"));
    }
    redigest(&mut tx, &[cell]).await?;
    reinspect(&mut tx, &lots).await?;
    tx.commit().await?;
    Ok(())
}
