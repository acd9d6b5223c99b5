//! What becomes of cells: states with their history, and the cells that a plan uses.

use std::collections::HashMap;

use brick_core::Plan;
use brick_core::stock::CellState;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

use super::{StockError, StockResult};

/// A change by hand.
#[derive(Debug, Clone)]
pub struct StateChange {
    /// The cells.
    pub cells: Vec<Uuid>,
    /// State wanted.
    pub state: CellState,
    /// Why, in the maker's words.
    pub note: String,
}

/// Puts cells into a state and writes it into their history.
///
/// The plan is kept where the new state belongs to one.
pub(super) async fn note_state(
    tx: &mut PgConnection,
    cells: &[Uuid],
    state: CellState,
    plan: Option<Uuid>,
    note: &str,
) -> sqlx::Result<()> {
    if cells.is_empty() {
        return Ok(());
    }
    let ids: Vec<Uuid> = cells.iter().map(|_| Uuid::now_v7()).collect();
    sqlx::query(
        "insert into cell_event (id, cell_id, from_state, to_state, plan_id, note)
         select n.id, c.id, c.state, $3, coalesce($4, c.plan_id), $5
         from unnest($1::uuid[], $2::uuid[]) as n (id, cell) join cell c on c.id = n.cell",
    )
    .bind(&ids)
    .bind(cells)
    .bind(state.key())
    .bind(plan)
    .bind(note)
    .execute(&mut *tx)
    .await?;
    sqlx::query("update cell set state = $2, plan_id = $3 where id = any($1)")
        .bind(cells)
        .bind(state.key())
        .bind(plan)
        .execute(tx)
        .await?;
    Ok(())
}

/// Puts cells into another state by hand: all or none.
pub async fn set_state(pool: &PgPool, change: &StateChange) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    let there: Vec<(Uuid, String, String, Option<Uuid>)> = sqlx::query_as(
        "select id, label, state, plan_id from cell where id = any($1) and deleted_at is null for update",
    )
    .bind(&change.cells)
    .fetch_all(&mut *tx)
    .await?;
    if there.len() != change.cells.len() {
        return Err(StockError::Missing("cell"));
    }
    for (_, label, state, _) in &there {
        let may = CellState::of(state).is_some_and(|s| s.may_become(change.state));
        if !may {
            let words = |key: &str| key.replace('_', " ");
            let told = format!("{label} is {} and cannot become {} by hand", words(state), words(change.state.key()));
            let hint = if state == "reserved" { ": release it in its plan first" } else { "" };
            return Err(StockError::State(format!("{told}{hint}")));
        }
    }
    let keeps_plan = change.state == CellState::BuiltIn;
    let mut by_plan: HashMap<Option<Uuid>, Vec<Uuid>> = HashMap::new();
    for (id, _, _, plan) in there {
        by_plan.entry(plan.filter(|_| keeps_plan)).or_default().push(id);
    }
    for (plan, cells) in by_plan {
        note_state(&mut tx, &cells, change.state, plan, &change.note).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// A cell that a plan names or has.
#[derive(FromRow)]
struct Claimed {
    id: Uuid,
    label: String,
    state: String,
    plan_id: Option<Uuid>,
    plan: Option<String>,
}

/// Makes the reservations of the stock those of a plan that is being saved, inside its transaction.
///
/// Cells it names are reserved for it, those it no longer names are released. Refused when one of them is gone, retired,
/// or used by another plan.
pub async fn sync_plan(tx: &mut PgConnection, plan: Uuid, document: &Plan) -> StockResult<()> {
    let wanted: Vec<Uuid> = document.stock_cells().filter_map(|c| c.stock_id.as_deref()?.parse().ok()).collect();
    let there: Vec<Claimed> = sqlx::query_as(
        "select c.id, c.label, c.state, c.plan_id, p.name as plan from cell c left join plan p on p.id = c.plan_id
         where c.deleted_at is null and (c.id = any($1) or c.plan_id = $2) order by c.label_order for update of c",
    )
    .bind(&wanted)
    .bind(plan)
    .fetch_all(&mut *tx)
    .await?;
    let found: Vec<Uuid> = there.iter().map(|c| c.id).collect();
    if let Some(gone) = document
        .stock_cells()
        .find(|c| c.stock_id.as_deref().is_some_and(|id| id.parse().is_ok_and(|id| !found.contains(&id))))
    {
        return Err(StockError::State(format!("{} is no longer in the stock", gone.label)));
    }
    let mut taken = vec![];
    let (mut reserve, mut release) = (vec![], vec![]);
    for Claimed { id, label, state, plan_id, plan: name } in there {
        match (wanted.contains(&id), plan_id) {
            (true, Some(other)) if other != plan => {
                taken.push(format!("{label} ({} for “{}”)", state.replace('_', " "), name.unwrap_or_default()));
            }
            (true, None) if state == CellState::Retired.key() => taken.push(format!("{label} (retired)")),
            (true, None) => reserve.push(id),
            (false, Some(own)) if own == plan => release.push(id),
            _ => {}
        }
    }
    if !taken.is_empty() {
        return Err(StockError::State(format!("these cells are not free: {}", taken.join(", "))));
    }
    note_state(tx, &reserve, CellState::Reserved, Some(plan), "").await?;
    note_state(tx, &release, CellState::Tested, None, "released by its plan").await?;
    Ok(())
}

/// Gives back every cell that a plan uses, inside the transaction that deletes it.
pub async fn release_plan(tx: &mut PgConnection, plan: Uuid) -> sqlx::Result<()> {
    let cells: Vec<Uuid> =
        sqlx::query_scalar("select id from cell where plan_id = $1 and state = 'reserved' for update")
            .bind(plan)
            .fetch_all(&mut *tx)
            .await?;
    note_state(tx, &cells, CellState::Tested, None, "its plan was deleted").await
}
