//! What depends on readings: digests and verdicts, calculated by core and kept beside the cells.

use brick_core::stock::{
    CellReport, CellState, CellVerdict, Digest, Fault, Inspected, Lot, LotReport, digest, inspect,
};
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

use super::readings::{ReadingRow, by_cell};

/// A cell as core looks at it.
#[derive(Debug, FromRow)]
pub struct Kept {
    /// Id.
    pub id: Uuid,
    /// Label.
    pub label: String,
    /// What its readings come to.
    pub digest: Json<Digest>,
    /// Faults found.
    pub faults: Option<Json<Vec<Fault>>>,
    /// Partner or mark.
    pub keep_with: Option<String>,
    verdict: String,
    reason: String,
}

/// Reckons the digests of some cells again from their readings.
pub(super) async fn redigest(tx: &mut PgConnection, cells: &[Uuid]) -> sqlx::Result<()> {
    let rows: Vec<ReadingRow> = sqlx::query_as(
        "select cell_id, kind, value, conditions, taken_at from cell_reading
         where cell_id = any($1) and struck_at is null",
    )
    .bind(cells)
    .fetch_all(&mut *tx)
    .await?;
    let readings = by_cell(rows);
    // A cell whose readings were all struck out has a digest of none.
    let of = |cell: &Uuid| readings.get(cell).map_or(&[][..], Vec::as_slice);
    let digests: Vec<(Uuid, Digest)> = cells.iter().map(|cell| (*cell, digest(of(cell)))).collect();
    let column = |of: &dyn Fn(&Digest) -> Option<f64>| digests.iter().map(|(_, d)| of(d)).collect::<Vec<_>>();
    sqlx::query(
        "update cell c set digest = n.digest, arrival_v = n.arrival_v, resistance_ohm = n.resistance_ohm,
             capacity_ah = n.capacity_ah, lost_a_day_v = n.lost_a_day_v
         from unnest($1::uuid[], $2::jsonb[], $3::float8[], $4::float8[], $5::float8[], $6::float8[])
             as n (id, digest, arrival_v, resistance_ohm, capacity_ah, lost_a_day_v)
         where c.id = n.id",
    )
    .bind(digests.iter().map(|(id, _)| *id).collect::<Vec<_>>())
    .bind(digests.iter().map(|(_, d)| Json(d)).collect::<Vec<_>>())
    .bind(column(&Digest::now_v))
    .bind(column(&|d| d.resistance.as_ref().and_then(|m| m.usable())))
    .bind(column(&|d| d.capacity.as_ref().and_then(|m| m.usable())))
    .bind(column(&|d| d.drop.as_ref().map(|r| r.lost_a_day_v())))
    .execute(tx)
    .await?;
    Ok(())
}

async fn kept(tx: &mut PgConnection, lot: Uuid) -> sqlx::Result<Option<(Lot, Vec<Kept>)>> {
    let document: Option<Json<Lot>> =
        sqlx::query_scalar("select document from lot where id = $1").bind(lot).fetch_optional(&mut *tx).await?;
    let Some(Json(document)) = document else { return Ok(None) };
    let cells = sqlx::query_as(
        "select id, label, digest, faults, keep_with, verdict, reason from cell where lot_id = $1 order by label_order, id",
    )
    .bind(lot)
    .fetch_all(tx)
    .await?;
    Ok(Some((document, cells)))
}

fn inspect_all(lot: &Lot, cells: &[Kept]) -> (LotReport, Vec<CellReport>) {
    let inspected: Vec<Inspected<'_>> = cells
        .iter()
        .map(|c| Inspected {
            label: &c.label,
            digest: &c.digest,
            faults: c.faults.as_ref().map(|f| f.0.as_slice()),
            keep_with: c.keep_with.as_deref(),
        })
        .collect();
    inspect(lot, &inspected)
}

/// Judges all cells of some lots again; only verdicts that changed are written.
pub(super) async fn reinspect(tx: &mut PgConnection, lots: &[Uuid]) -> sqlx::Result<()> {
    for &lot in lots {
        let Some((document, cells)) = kept(tx, lot).await? else { continue };
        let (_, reports) = inspect_all(&document, &cells);
        let (mut ids, mut verdicts, mut reasons) = (vec![], vec![], vec![]);
        for (cell, report) in cells.iter().zip(&reports) {
            let reason = report.judgements.first().map_or("", |j| j.title);
            if cell.verdict != report.verdict.key() || cell.reason != reason {
                ids.push(cell.id);
                verdicts.push(report.verdict.key());
                reasons.push(reason);
            }
        }
        if ids.is_empty() {
            continue;
        }
        sqlx::query(
            "update cell c set verdict = n.verdict, reason = n.reason
             from unnest($1::uuid[], $2::text[], $3::text[]) as n (id, verdict, reason) where c.id = n.id",
        )
        .bind(ids)
        .bind(verdicts)
        .bind(reasons)
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// Judges every lot anew whose verdicts other rules than these have made, a transaction each. Gives how many there were. A lot that cannot be
/// read stays as it is: it must not keep the program from starting.
pub async fn judge_anew(pool: &PgPool, rules: &str) -> sqlx::Result<usize> {
    let old: Vec<Uuid> =
        sqlx::query_scalar("select id from lot where judged_by <> $1 order by id").bind(rules).fetch_all(pool).await?;
    for &lot in &old {
        match judge_lot(pool, lot, rules).await {
            Err(error @ sqlx::Error::ColumnDecode { .. }) => {
                tracing::warn!(%lot, %error, "a lot cannot be judged again")
            }
            judged => judged?,
        }
    }
    Ok(old.len())
}

async fn judge_lot(pool: &PgPool, lot: Uuid, rules: &str) -> sqlx::Result<()> {
    let mut tx = pool.begin().await?;
    sqlx::query("update lot set judged_by = $2 where id = $1").bind(lot).bind(rules).execute(&mut *tx).await?;
    let cells: Vec<Uuid> =
        sqlx::query_scalar("select id from cell where lot_id = $1 order by id").bind(lot).fetch_all(&mut *tx).await?;
    redigest(&mut tx, &cells).await?;
    reinspect(&mut tx, &[lot]).await?;
    tx.commit().await
}

/// The lots some cells belong to, kept from being judged by others until this transaction ends. Taken before any cell is
/// locked, and in one order, so that no two transactions wait for each other.
pub(super) async fn hold_lots_of(tx: &mut PgConnection, cells: &[Uuid]) -> sqlx::Result<Vec<Uuid>> {
    sqlx::query_scalar(
        "select id from lot where id in (select lot_id from cell where id = any($1)) order by id for update",
    )
    .bind(cells)
    .fetch_all(tx)
    .await
}

/// A lot, its cells, and what is thought of them.
pub async fn inspected(pool: &PgPool, lot: Uuid) -> sqlx::Result<Option<(Lot, Vec<Kept>, LotReport, Vec<CellReport>)>> {
    let mut connection = pool.acquire().await?;
    Ok(kept(&mut connection, lot).await?.map(|(lot, cells)| {
        let (report, reports) = inspect_all(&lot, &cells);
        (lot, cells, report, reports)
    }))
}

/// A cell that a grouping may choose from.
#[derive(Debug, FromRow)]
pub struct Choosable {
    /// Id.
    pub id: Uuid,
    /// Label.
    pub label: String,
    /// The lot.
    pub lot: Json<Lot>,
    state: String,
    /// Plan that uses it.
    pub plan_id: Option<Uuid>,
    /// Verdict.
    verdict: String,
    /// Why.
    pub reason: String,
    /// What its readings come to.
    pub digest: Json<Digest>,
    /// Partner or mark.
    pub keep_with: Option<String>,
}

impl Choosable {
    /// State. The table takes none that core does not know.
    pub fn state(&self) -> CellState {
        CellState::of(&self.state).unwrap_or(CellState::Retired)
    }

    /// Verdict. The table takes none that core does not know.
    pub fn verdict(&self) -> CellVerdict {
        CellVerdict::of(&self.verdict).unwrap_or(CellVerdict::Unfinished)
    }
}

const CHOOSABLE: &str =
    "select c.id, c.label, l.document as lot, c.state, c.plan_id, c.verdict, c.reason, c.digest, c.keep_with
     from cell c join lot l on l.id = c.lot_id
     where c.deleted_at is null and (l.id = any($1) or c.id = any($2)) order by c.label_order, c.id";

/// Every cell of some lots, in the order of the labels.
pub async fn pool_for_grouping(pool: &PgPool, lots: &[Uuid]) -> sqlx::Result<Vec<Choosable>> {
    sqlx::query_as(CHOOSABLE).bind(lots).bind(&[] as &[Uuid]).fetch_all(pool).await
}

/// Some cells by their ids, in the order of the labels.
pub async fn chosen(pool: &PgPool, cells: &[Uuid]) -> sqlx::Result<Vec<Choosable>> {
    sqlx::query_as(CHOOSABLE).bind(&[] as &[Uuid]).bind(cells).fetch_all(pool).await
}
