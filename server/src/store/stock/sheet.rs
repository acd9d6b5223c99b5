//! The stock as files, in and out.

use std::collections::HashMap;

use brick_core::base::table::LineError;
use brick_core::stock::{Digest, Fault, SheetCell, Written, write_cells, write_readings};
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

use super::inspection::{hold_lots_of, reinspect};
use super::lots::insert_cells;
use super::readings::{NewReading, ReadingRow, by_cell, insert_readings};
use super::{StockError, StockResult};

/// What an import brought.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Imported {
    /// Cells that are new.
    pub new_cells: usize,
    /// Cells that were there and got readings.
    pub known_cells: usize,
    /// Readings.
    pub readings: usize,
}

/// Takes the cells of a file in: all of them or none. `lot` is for lines that name no lot.
pub async fn import(pool: &PgPool, sheet: &[SheetCell], lot: Option<Uuid>) -> StockResult<Imported> {
    let mut tx = pool.begin().await?;
    let imported = insert_sheet(&mut tx, sheet, lot).await?;
    tx.commit().await?;
    Ok(imported)
}

/// Takes the cells of a file in, inside a transaction.
pub(in crate::store) async fn insert_sheet(
    tx: &mut PgConnection,
    sheet: &[SheetCell],
    lot: Option<Uuid>,
) -> StockResult<Imported> {
    let lots: Vec<(Uuid, String)> =
        sqlx::query_as("select id, lower(name) from lot where deleted_at is null order by id for update")
            .fetch_all(&mut *tx)
            .await?;
    let by_name: HashMap<&str, Uuid> = lots.iter().map(|(id, name)| (name.as_str(), *id)).collect();
    if lot.is_some_and(|lot| lots.iter().all(|(id, _)| *id != lot)) {
        return Err(StockError::Missing("lot"));
    }
    let labels: Vec<String> = sheet.iter().map(|c| c.label.to_lowercase()).collect();
    let known: Vec<(String, Uuid, Uuid, String)> = sqlx::query_as(
        "select lower(c.label), c.id, c.lot_id, l.name from cell c join lot l on l.id = c.lot_id
         where lower(c.label) = any($1) and c.deleted_at is null",
    )
    .bind(&labels)
    .fetch_all(&mut *tx)
    .await?;
    let known: HashMap<String, (Uuid, Uuid, String)> =
        known.into_iter().map(|(label, id, lot, name)| (label, (id, lot, name))).collect();
    let mut errors = vec![];
    let mut new: HashMap<Uuid, Vec<&SheetCell>> = HashMap::new();
    let mut touched: Vec<(Uuid, &SheetCell)> = vec![];
    for cell in sheet {
        let mut refuse = |reason: String| errors.push(LineError { line: cell.line, reason });
        let wanted = match cell.lot.as_deref() {
            None => lot,
            Some(name) => match by_name.get(name.to_lowercase().as_str()) {
                Some(id) => Some(*id),
                None => {
                    refuse(format!("lot: there is no lot “{name}”; make it first"));
                    continue;
                }
            },
        };
        match (known.get(&cell.label.to_lowercase()), wanted) {
            (Some((_, there, name)), Some(wanted)) if *there != wanted => {
                refuse(format!("label: “{}” is on a cell of the lot “{name}”", cell.label));
            }
            (Some((id, ..)), _) => touched.push((*id, cell)),
            (None, Some(lot)) => new.entry(lot).or_default().push(cell),
            (None, None) => refuse("lot: is missing, and no lot was chosen for such lines".to_owned()),
        }
    }
    if !errors.is_empty() {
        errors.sort_by_key(|e| e.line);
        return Err(StockError::Lines(errors));
    }
    let known_cells = touched.len();
    for (lot, cells) in &new {
        let labels: Vec<String> = cells.iter().map(|c| c.label.clone()).collect();
        let ids = insert_cells(&mut *tx, *lot, &labels).await?;
        touched.extend(ids.into_iter().zip(cells.iter().copied()));
    }
    let column = |of: fn(&SheetCell) -> Option<String>| touched.iter().map(|(_, c)| of(c)).collect::<Vec<_>>();
    sqlx::query(
        "update cell c set keep_with = coalesce(n.keep_with, c.keep_with), faults = coalesce(n.faults::jsonb, c.faults)
         from unnest($1::uuid[], $2::text[], $3::text[]) as n (id, keep_with, faults) where c.id = n.id",
    )
    .bind(touched.iter().map(|(id, _)| *id).collect::<Vec<_>>())
    .bind(column(|c| c.keep_with.clone()))
    .bind(column(|c| c.faults.as_ref().and_then(|f| serde_json::to_string(f).ok())))
    .execute(&mut *tx)
    .await?;
    let readings: Vec<NewReading> = touched
        .iter()
        .flat_map(|(id, c)| c.readings.iter().map(|r| NewReading { cell: *id, reading: r.clone() }))
        .collect();
    if !readings.is_empty() {
        insert_readings(&mut *tx, None, &readings).await?;
    }
    // Lots whose cells came without readings, or with faults only, are judged too.
    let ids: Vec<Uuid> = touched.iter().map(|(id, _)| *id).collect();
    let lots = hold_lots_of(tx, &ids).await?;
    reinspect(&mut *tx, &lots).await?;
    Ok(Imported { new_cells: touched.len() - known_cells, known_cells, readings: readings.len() })
}

#[derive(FromRow)]
struct Line {
    id: Uuid,
    label: String,
    lot: String,
    state: String,
    verdict: String,
    keep_with: Option<String>,
    faults: Option<Json<Vec<Fault>>>,
    digest: Json<Digest>,
}

impl Line {
    fn written(&self) -> Written<'_> {
        Written {
            label: &self.label,
            lot: &self.lot,
            state: &self.state,
            verdict: &self.verdict,
            keep_with: self.keep_with.as_deref(),
            faults: self.faults.as_ref().map(|f| f.0.as_slice()),
        }
    }
}

async fn lines(pool: &PgPool, lot: Option<Uuid>) -> sqlx::Result<Vec<Line>> {
    sqlx::query_as(
        "select c.id, c.label, l.name as lot, c.state, c.verdict, c.keep_with, c.faults, c.digest
         from cell c join lot l on l.id = c.lot_id
         where c.deleted_at is null and ($1::uuid is null or l.id = $1) order by lower(l.name), c.label_order, c.id",
    )
    .bind(lot)
    .fetch_all(pool)
    .await
}

/// One line a cell; `None` as for `table::written`.
pub async fn cells_sheet(pool: &PgPool, lot: Option<Uuid>) -> sqlx::Result<Option<String>> {
    let lines = lines(pool, lot).await?;
    Ok(write_cells(lines.iter().map(|l| (l.written(), &l.digest.0))))
}

/// One line a reading, without those struck out; `None` as for `table::written`.
pub async fn readings_sheet(pool: &PgPool, lot: Option<Uuid>) -> sqlx::Result<Option<String>> {
    let lines = lines(pool, lot).await?;
    let rows: Vec<ReadingRow> = sqlx::query_as(
        "select r.cell_id, r.kind, r.value, r.conditions, r.taken_at from cell_reading r join cell c on c.id = r.cell_id
         where r.struck_at is null and c.deleted_at is null and ($1::uuid is null or c.lot_id = $1)
         order by r.taken_at, r.id",
    )
    .bind(lot)
    .fetch_all(pool)
    .await?;
    let readings = by_cell(rows);
    let of = |l: &Line| readings.get(&l.id).map_or(&[][..], Vec::as_slice);
    Ok(write_readings(lines.iter().map(|l| (l.written(), of(l)))))
}
