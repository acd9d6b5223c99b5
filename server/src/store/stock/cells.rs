//! Cells: listed a window at a time, looked at one by one.

use brick_core::stock::{CellState, CellVerdict, Conditions, Fault};
use chrono::{DateTime, Utc};
use serde::Serialize;
use sqlx::types::Json;
use sqlx::{FromRow, PgPool, Postgres, QueryBuilder};
use utoipa::ToSchema;
use uuid::Uuid;

use super::inspection::{hold_lots_of, reinspect};
use super::{StockError, StockResult};

/// A cell as the table shows it.
#[derive(Debug, Serialize, FromRow, ToSchema)]
pub struct CellRow {
    /// Id.
    pub id: Uuid,
    /// Label.
    pub label: String,
    /// Id of its lot.
    pub lot_id: Uuid,
    /// Name of its lot.
    pub lot: String,
    /// State.
    pub state: String,
    /// Plan that uses it.
    pub plan_id: Option<Uuid>,
    /// Name of that plan.
    pub plan: Option<String>,
    /// Verdict.
    pub verdict: String,
    /// Its worst fault, in a few words.
    pub reason: String,
    /// Partner or mark it is kept with.
    pub keep_with: Option<String>,
    /// Voltage it rests at, as far as is known.
    pub arrival_v: Option<f64>,
    /// Mean resistance.
    pub resistance_ohm: Option<f64>,
    /// Mean capacity.
    pub capacity_ah: Option<f64>,
    /// Voltage lost in a day.
    pub lost_a_day_v: Option<f64>,
}

/// Which cells, in which order, which window of them.
#[derive(Debug, Clone, Default)]
pub struct CellFilter {
    /// Of one lot.
    pub lot: Option<Uuid>,
    /// In one state.
    pub state: Option<CellState>,
    /// Of one verdict.
    pub verdict: Option<CellVerdict>,
    /// With this in the label.
    pub search: Option<String>,
    /// Column to sort by; the label otherwise.
    pub sort: Sort,
    /// The largest first.
    pub descending: bool,
    /// First row wanted.
    pub offset: i64,
    /// How many.
    pub limit: i64,
}

/// Columns the table is sorted by.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum Sort {
    /// As people read labels.
    #[default]
    Label,
    /// Lot by lot.
    Lot,
    /// In the order of a cell's life.
    State,
    /// The worst last.
    Verdict,
    /// By voltage.
    Volts,
    /// By resistance.
    Resistance,
    /// By capacity.
    Capacity,
    /// By voltage lost in a day.
    Loss,
}

impl Sort {
    /// The column of that name.
    pub fn of(name: &str) -> Option<Sort> {
        Some(match name {
            "label" => Sort::Label,
            "lot" => Sort::Lot,
            "state" => Sort::State,
            "verdict" => Sort::Verdict,
            "arrival_v" => Sort::Volts,
            "resistance_ohm" => Sort::Resistance,
            "capacity_ah" => Sort::Capacity,
            "lost_a_day_v" => Sort::Loss,
            _ => return None,
        })
    }

    fn sql(self) -> &'static str {
        match self {
            Sort::Label => "c.label_order",
            Sort::Lot => "lower(l.name)",
            Sort::State => "array_position(array['new','tested','reserved','built_in','retired'], c.state)",
            Sort::Verdict => "array_position(array['unfinished','fine','watch','recover','scrap'], c.verdict)",
            Sort::Volts => "c.arrival_v",
            Sort::Resistance => "c.resistance_ohm",
            Sort::Capacity => "c.capacity_ah",
            Sort::Loss => "c.lost_a_day_v",
        }
    }
}

const FROM: &str =
    " from cell c join lot l on l.id = c.lot_id left join plan p on p.id = c.plan_id where c.deleted_at is null";

impl CellFilter {
    fn narrow(&self, query: &mut QueryBuilder<Postgres>) {
        if let Some(lot) = self.lot {
            query.push(" and c.lot_id = ").push_bind(lot);
        }
        if let Some(state) = self.state {
            query.push(" and c.state = ").push_bind(state.key());
        }
        if let Some(verdict) = self.verdict {
            query.push(" and c.verdict = ").push_bind(verdict.key());
        }
        if let Some(search) = self.search.as_deref().map(str::trim).filter(|s| !s.is_empty()) {
            query.push(" and position(lower(").push_bind(search.to_owned()).push(") in lower(c.label)) > 0");
        }
    }
}

/// How many cells there are under a filter, and one window of them.
pub async fn cells(pool: &PgPool, filter: &CellFilter) -> sqlx::Result<(i64, Vec<CellRow>)> {
    let mut count = QueryBuilder::new(format!("select count(*){FROM}"));
    filter.narrow(&mut count);
    let total: i64 = count.build_query_scalar().fetch_one(pool).await?;
    let mut query = QueryBuilder::new(format!(
        "select c.id, c.label, c.lot_id, l.name as lot, c.state, c.plan_id, p.name as plan, c.verdict, c.reason, c.keep_with,
             c.arrival_v, c.resistance_ohm, c.capacity_ah, c.lost_a_day_v{FROM}"
    ));
    filter.narrow(&mut query);
    let direction = if filter.descending { "desc" } else { "asc" };
    query.push(format!(" order by {} {direction} nulls last, c.label_order, c.id", filter.sort.sql()));
    query.push(" offset ").push_bind(filter.offset).push(" limit ").push_bind(filter.limit);
    Ok((total, query.build_query_as().fetch_all(pool).await?))
}

/// A cell as the plots show it.
#[derive(Debug, Serialize, FromRow, ToSchema)]
pub struct Point {
    /// Id.
    pub id: Uuid,
    /// Label.
    pub label: String,
    /// Verdict.
    pub verdict: String,
    /// Mean resistance.
    pub resistance_ohm: Option<f64>,
    /// Mean capacity.
    pub capacity_ah: Option<f64>,
}

/// Every cell of a lot, or of all, that has a capacity or a resistance.
pub async fn points(pool: &PgPool, lot: Option<Uuid>) -> sqlx::Result<Vec<Point>> {
    sqlx::query_as(
        "select id, label, verdict, resistance_ohm, capacity_ah from cell
         where deleted_at is null and ($1::uuid is null or lot_id = $1)
           and (resistance_ohm is not null or capacity_ah is not null)
         order by label_order, id",
    )
    .bind(lot)
    .fetch_all(pool)
    .await
}

/// A reading as kept.
#[derive(Debug, Serialize, FromRow, ToSchema)]
pub struct KeptReading {
    /// Id.
    pub id: Uuid,
    /// What was read.
    pub kind: String,
    /// In the unit of its kind.
    pub value: f64,
    /// Conditions.
    #[schema(value_type = Conditions)]
    pub conditions: Json<Conditions>,
    /// When.
    pub taken_at: DateTime<Utc>,
    /// When it was struck out, if it was.
    pub struck_at: Option<DateTime<Utc>>,
}

/// A change of state.
#[derive(Debug, Serialize, FromRow, ToSchema)]
pub struct Event {
    /// When.
    pub at: DateTime<Utc>,
    /// From which state; absent for its first.
    pub from_state: Option<String>,
    /// To which.
    pub to_state: String,
    /// For which plan.
    pub plan: Option<String>,
    /// In the maker's words.
    pub note: String,
}

/// Everything kept of one cell.
#[derive(Debug)]
pub struct CellDetail {
    /// The row.
    pub row: CellRow,
    /// Faults found; `None` when it was not inspected.
    pub faults: Option<Vec<Fault>>,
    /// Readings, the newest first.
    pub readings: Vec<KeptReading>,
    /// History, the newest first.
    pub events: Vec<Event>,
}

/// One cell with all that is kept of it.
pub async fn detail(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<CellDetail>> {
    let query = format!(
        "select c.id, c.label, c.lot_id, l.name as lot, c.state, c.plan_id, p.name as plan, c.verdict, c.reason, c.keep_with,
             c.arrival_v, c.resistance_ohm, c.capacity_ah, c.lost_a_day_v{FROM} and c.id = $1"
    );
    let row: Option<CellRow> = sqlx::query_as(sqlx::AssertSqlSafe(query)).bind(id).fetch_optional(pool).await?;
    let Some(row) = row else { return Ok(None) };
    let faults: Option<Json<Vec<Fault>>> =
        sqlx::query_scalar("select faults from cell where id = $1").bind(id).fetch_one(pool).await?;
    let readings = sqlx::query_as(
        "select id, kind, value, conditions, taken_at, struck_at from cell_reading
         where cell_id = $1 order by taken_at desc, id desc",
    )
    .bind(id)
    .fetch_all(pool)
    .await?;
    let events = sqlx::query_as(
        "select e.at, e.from_state, e.to_state, p.name as plan, e.note
         from cell_event e left join plan p on p.id = e.plan_id where e.cell_id = $1 order by e.at desc, e.id desc",
    )
    .bind(id)
    .fetch_all(pool)
    .await?;
    Ok(Some(CellDetail { row, faults: faults.map(|f| f.0), readings, events }))
}

/// Keeps what was seen on a cell, and whom it is kept with.
pub async fn set_look(pool: &PgPool, id: Uuid, faults: Option<&[Fault]>, keep_with: Option<&str>) -> StockResult<()> {
    let mut tx = pool.begin().await?;
    let lots = hold_lots_of(&mut tx, &[id]).await?;
    let done = sqlx::query("update cell set faults = $2, keep_with = $3 where id = $1 and deleted_at is null")
        .bind(id)
        .bind(faults.map(Json))
        .bind(keep_with)
        .execute(&mut *tx)
        .await?;
    if done.rows_affected() == 0 {
        return Err(StockError::Missing("cell"));
    }
    reinspect(&mut tx, &lots).await?;
    tx.commit().await?;
    Ok(())
}
