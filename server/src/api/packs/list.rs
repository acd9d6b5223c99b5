//! The list of packs: what each is, where it stands, what is due.

use brick_core::base::severity::Severity;
use brick_core::years::{PackState, without_forecast};
use chrono::Utc;
use rocket::serde::json::Json;
use rocket::serde::json::serde_json;
use rocket::{State, get};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::store::packs::{self, Listed};
use crate::work::work;

/// Something due at a pack.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct DueItem {
    /// Key: one of a kind a pack.
    pub key: String,
    /// What is to be done.
    pub title: String,
    /// Why, and how.
    pub says: String,
    /// When, in seconds since 1970.
    pub on_s: i64,
    /// How much hangs on it.
    pub severity: Severity,
}

/// What the list says of a pack beside its card.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct PackSummary {
    /// Where it is in its life.
    pub state: PackState,
    /// What is or will be due, the soonest first.
    pub due: Vec<DueItem>,
    /// When something last happened to it, in seconds since 1970.
    pub last_s: Option<i64>,
    /// What is left of its first capacity, as last tested.
    pub left_share: Option<f64>,
    /// Last spread of its groups at rest.
    pub spread_v: Option<f64>,
    /// Charges in its log.
    pub charges: usize,
}

/// A pack in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct PackRow {
    /// Id.
    pub id: Uuid,
    /// Number on its label.
    pub number: i32,
    /// Name.
    pub name: String,
    /// Counts and chemistry in words: 4S2P Li-ion.
    pub what: String,
    /// Its plan.
    pub plan_id: Option<Uuid>,
    /// The build it came from.
    pub build_id: Option<Uuid>,
    /// What its log comes to.
    pub summary: PackSummary,
}

/// Every pack with what its log comes to.
pub(super) async fn rows(pool: &PgPool) -> Result<Vec<PackRow>, Problem> {
    let mut found = vec![];
    for listed in packs::list(pool).await? {
        let known = listed.summary.as_ref().and_then(|s| serde_json::from_value(s.0.clone()).ok());
        let summary = match known {
            Some(summary) => summary,
            None => match summarised(pool, &listed).await? {
                Some(summary) => summary,
                // Deleted meanwhile.
                None => continue,
            },
        };
        let card = listed.card.0;
        found.push(PackRow {
            id: listed.id,
            number: listed.number,
            what: format!("{} {}", card.counts(), card.chemistry.facts().short),
            name: card.name,
            plan_id: listed.plan_id,
            build_id: listed.build_id,
            summary,
        });
    }
    Ok(found)
}

/// Reads the log of a pack and keeps what it comes to.
async fn summarised(pool: &PgPool, listed: &Listed) -> Result<Option<PackSummary>, Problem> {
    let Some(pack) = packs::get(pool, listed.id).await? else { return Ok(None) };
    let (card, entries) = (pack.card.clone(), pack.entries.clone());
    let told = work(move || Ok::<_, Problem>(without_forecast(&card, &entries, Utc::now().timestamp()))).await?;
    let item = |d: brick_core::years::Due| DueItem {
        key: d.key.to_owned(),
        title: d.title,
        says: d.says,
        on_s: d.on_s,
        severity: d.severity,
    };
    let summary = PackSummary {
        state: told.state,
        last_s: told.lines.iter().find(|l| l.struck.is_none()).map(|l| l.at_s),
        left_share: told.measured.capacity.iter().rev().find(|p| p.is_like).map(|p| p.first_share),
        spread_v: told.spread.points.last().map(|p| p.spread_v),
        charges: told.habit.charges,
        due: told.due.into_iter().map(item).collect(),
    };
    let kept = serde_json::to_value(&summary).map_err(|e| Problem::fault(&e))?;
    packs::summarise(pool, &pack, &kept).await?;
    Ok(Some(summary))
}

/// Every pack, by number.
#[utoipa::path(context_path = "/api", responses((status = 200, body = Vec<PackRow>)))]
#[get("/packs")]
pub async fn list_packs(pool: &State<PgPool>) -> Result<Json<Vec<PackRow>>, Problem> {
    Ok(Json(rows(pool).await?))
}
