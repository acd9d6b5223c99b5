//! The list of plans: pages of summaries, each made once for an edit and kept.

use std::str::FromStr;

use brick_core::advise::bill::bill;
use brick_core::assess::{Finding, Severity, Verdict};
use brick_core::plan::FieldError;
use brick_core::{Catalogue, Plan};
use chrono::{DateTime, Utc};
use rocket::serde::json::Json;
use rocket::{FromForm, State, get};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgPool;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::Problem;
use crate::api::http::asked::{Asked, given, within};
use crate::store::plans::{self as store, Order, Page};
use crate::store::{RULES, parts};
use crate::work::work;

/// Plans on a page, unless said otherwise, and at most.
const USUAL: i64 = 100;
const MOST: i64 = 500;
/// Plans far down the list.
const FURTHEST: i64 = 1_000_000;
/// Letters of a search.
const SEARCH_LENGTH: usize = 120;
/// Summaries made at a time where all are wanted.
const AT_A_TIME: i64 = 200;

/// A plan as the list shows it.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlanSummary {
    /// Id.
    id: Uuid,
    /// Name.
    name: String,
    /// Number of its newest revision.
    revision: i32,
    /// When it was last saved.
    updated_at: DateTime<Utc>,
    /// What core says of it.
    #[serde(flatten)]
    summary: Summary,
}

/// What core says of a plan, as it is kept.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Summary {
    /// Whether this program can read it; one that it cannot is listed without figures.
    readable: bool,
    /// Counts: 4S2P.
    counts: String,
    /// Chemistry in words.
    chemistry: Option<String>,
    /// Energy of the pack.
    pack_wh: Option<f64>,
    /// Run time.
    run_s: Option<f64>,
    /// Stops to clear.
    stops: usize,
    /// Cautions not accepted.
    cautions: usize,
    /// Stages whose decision is still open.
    open_stages: usize,
    /// Stages that are decided, and without an open question.
    #[serde(default)]
    done_stages: usize,
    /// What to do next, in words; absent where the plan cannot be assessed.
    #[serde(default)]
    next: Option<String>,
    /// Currency of its prices.
    currency: String,
    /// Price of what must still be bought.
    to_buy_price: Option<f64>,
    /// Different parts that must still be bought.
    to_buy_lines: Option<usize>,
    /// Different parts that it takes.
    lines: Option<usize>,
    /// Share of them that are at hand.
    at_hand_share: Option<f64>,
}

/// What the list is ordered by.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ListOrder {
    /// Newest change first.
    Newest,
    /// Most of its parts at hand first.
    AtHand,
    /// Least still to pay first.
    Price,
}

impl FromStr for ListOrder {
    type Err = serde_json::Error;

    fn from_str(word: &str) -> Result<Self, Self::Err> {
        serde_json::from_value(word.into())
    }
}

/// Which part of the list.
#[derive(Debug, FromForm, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ListQuery {
    /// Order; newest change first unless said.
    #[param(inline, value_type = Option<ListOrder>)]
    order: Option<Asked<ListOrder>>,
    /// Part of the name.
    #[param(max_length = 120)]
    search: Option<String>,
    /// Plans before this page.
    #[param(value_type = Option<i64>, minimum = 0, maximum = 1_000_000)]
    from: Option<Asked<i64>>,
    /// Plans on it, 100 unless said.
    #[param(value_type = Option<i64>, minimum = 1, maximum = 500)]
    count: Option<Asked<i64>>,
}

/// The plans, a page of them.
#[utoipa::path(context_path = "/api", params(ListQuery),
    responses((status = 200, body = Vec<PlanSummary>), (status = 422, body = Problem)))]
#[get("/plans?<query..>")]
pub async fn list_plans(query: ListQuery, pool: &State<PgPool>) -> Result<Json<Vec<PlanSummary>>, Problem> {
    let page = page_of(query)?;
    let made_by = format!("{}.{}", RULES, parts::state(pool).await?);
    if page.order != Order::Newest {
        renew_all(pool, &made_by).await?;
    }
    let mut rows = store::page(pool, &page).await?;
    let current = |r: &store::Listed| r.summary_of.as_deref() == Some(&format!("{}.{}.{made_by}", r.revision, r.edit));
    let old: Vec<Uuid> = rows.iter().filter(|r| !current(r)).map(|r| r.id).collect();
    for (id, summary) in renew(pool, &old, &made_by).await? {
        if let Some(row) = rows.iter_mut().find(|r| r.id == id) {
            row.summary = Some(summary);
        }
    }
    Ok(Json(rows.into_iter().map(summary).collect()))
}

fn page_of(query: ListQuery) -> Result<Page, Problem> {
    let field = |field: &str, message: String| Problem::fields(vec![FieldError { field: field.to_owned(), message }]);
    let search = query.search.unwrap_or_default();
    if search.chars().count() > SEARCH_LENGTH || search.contains('\0') {
        return Err(field("/search", format!("at most {SEARCH_LENGTH} characters of text")));
    }
    Ok(Page {
        order: match given("order", query.order, "newest, at_hand or price")? {
            None | Some(ListOrder::Newest) => Order::Newest,
            Some(ListOrder::AtHand) => Order::AtHand,
            Some(ListOrder::Price) => Order::Price,
        },
        search,
        from: within("from", query.from, 0, 0, FURTHEST)?,
        count: within("count", query.count, USUAL, 1, MOST)?,
    })
}

/// An order by figures needs the figures of all.
async fn renew_all(pool: &PgPool, made_by: &str) -> Result<(), Problem> {
    loop {
        let old = store::without_summary(pool, made_by, AT_A_TIME).await?;
        if renew(pool, &old, made_by).await?.is_empty() {
            return Ok(());
        }
    }
}

/// Makes summaries again and keeps them. Tells them, by plan.
async fn renew(pool: &PgPool, plans: &[Uuid], made_by: &str) -> Result<Vec<(Uuid, Value)>, Problem> {
    if plans.is_empty() {
        return Ok(vec![]);
    }
    let catalogue = parts::catalogue(pool).await?;
    let documents = store::documents(pool, plans).await?;
    let made = work(move || {
        let summary =
            |document: &Value| serde_json::to_value(summarise(document, &catalogue)).map_err(|e| Problem::fault(&e));
        let one = |(id, r, e, document): (Uuid, i32, i32, Value)| Ok::<_, Problem>(((id, r, e), summary(&document)?));
        documents.into_iter().map(one).collect::<Result<Vec<_>, Problem>>()
    });
    let mut done = vec![];
    for (of, summary) in made.await? {
        store::keep_summary(pool, of, &summary, made_by).await?;
        done.push((of.0, summary));
    }
    Ok(done)
}

fn summary(row: store::Listed) -> PlanSummary {
    let summary = row.summary.and_then(|kept| serde_json::from_value(kept).ok()).unwrap_or_else(unreadable);
    PlanSummary { id: row.id, name: row.name, revision: row.revision, updated_at: row.updated_at, summary }
}

fn unreadable() -> Summary {
    Summary {
        readable: false,
        counts: "?S?P".to_owned(),
        chemistry: None,
        pack_wh: None,
        run_s: None,
        stops: 0,
        cautions: 0,
        open_stages: 0,
        done_stages: 0,
        next: None,
        currency: String::new(),
        to_buy_price: None,
        to_buy_lines: None,
        lines: None,
        at_hand_share: None,
    }
}

fn summarise(document: &Value, catalogue: &Catalogue) -> Summary {
    let Ok(plan) = Plan::from_json(&document.to_string()) else { return unreadable() };
    // A stored plan was checked when it was saved; one that no longer passes is listed without figures.
    let assessment = brick_core::assess(&plan).ok();
    let a = assessment.as_ref();
    let bill = bill(&plan, catalogue).ok().filter(|b| !b.lines.is_empty());
    let value = |id: &str| a.and_then(|a| a.figure(id)).map(|f| f.value);
    // As the plan's own page counts: what follows from another finding is folded under it.
    let open = |f: &&Finding| f.accepted.is_none() && f.follows.is_none();
    let count = |severity| a.map_or(0, |a| a.findings.iter().filter(open).filter(|f| f.severity == severity).count());
    Summary {
        readable: true,
        counts: a.map_or_else(|| "?S?P".to_owned(), |a| a.nameplate.counts.clone()),
        chemistry: a.and_then(|a| a.nameplate.chemistry).map(str::to_owned),
        pack_wh: value("pack.wh"),
        run_s: value("run.time_s"),
        stops: count(Severity::Stop),
        cautions: count(Severity::Caution),
        open_stages: a.map_or(0, |a| a.stages.iter().filter(|s| s.verdict == Verdict::NothingYet).count()),
        done_stages: a.map_or(0, |a| a.stages.iter().filter(|s| is_done(s.verdict)).count()),
        next: a.map(|a| a.next.says.clone()),
        to_buy_price: bill.as_ref().map(|b| b.to_buy_price),
        to_buy_lines: bill.as_ref().map(|b| b.to_buy_lines),
        lines: bill.as_ref().map(|b| b.lines.len()),
        at_hand_share: bill.as_ref().map(|b| b.at_hand_share),
        currency: plan.currency,
    }
}

/// Whether nothing of a stage is left to do.
fn is_done(verdict: Verdict) -> bool {
    matches!(verdict, Verdict::Fine | Verdict::Note)
}
