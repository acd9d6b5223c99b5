//! Builds and what happened in them.

use brick_core::Plan;
use brick_core::build::BuildEvent;
use chrono::{DateTime, Utc};
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

/// Most events of one build: a device of sixty steps has about three hundred.
pub const MOST_EVENTS: usize = 5000;

/// A build as the list shows it.
#[derive(Debug, FromRow)]
pub struct Listed {
    /// Id.
    pub id: Uuid,
    /// Revision of the plan it follows.
    pub revision: i32,
    /// When it was begun.
    pub started_at: DateTime<Utc>,
    /// Events so far.
    pub events: i64,
}

/// A build with everything that its sheet is made of.
#[derive(Debug)]
pub struct Stored {
    /// Id.
    pub id: Uuid,
    /// Its plan.
    pub plan_id: Uuid,
    /// Revision of the plan it follows.
    pub revision: i32,
    /// The plan as it is built.
    pub plan: Plan,
    /// Newest revision of the plan.
    pub newest_revision: i32,
    /// The plan as it is saved now.
    pub newest: Plan,
    /// When it was begun.
    pub started_at: DateTime<Utc>,
    /// What happened, in order.
    pub events: Vec<BuildEvent>,
}

#[derive(FromRow)]
struct Row {
    plan_id: Uuid,
    revision: i32,
    document: Json<Plan>,
    newest_revision: i32,
    newest: Json<Plan>,
    started_at: DateTime<Utc>,
}

/// The builds of a plan, the newest first. `None` where there is no such plan.
pub async fn list(pool: &PgPool, plan_id: Uuid) -> sqlx::Result<Option<Vec<Listed>>> {
    let there: Option<(Uuid,)> = sqlx::query_as("select id from plan where id = $1 and deleted_at is null")
        .bind(plan_id)
        .fetch_optional(pool)
        .await?;
    if there.is_none() {
        return Ok(None);
    }
    let found = sqlx::query_as(
        "select b.id, b.revision, b.started_at, (select count(*) from build_event e where e.build_id = b.id) as events
         from build b where b.plan_id = $1 order by b.started_at desc, b.id",
    )
    .bind(plan_id)
    .fetch_all(pool)
    .await?;
    Ok(Some(found))
}

/// Begins a build of the plan's newest revision. `None` where there is no such plan.
pub async fn begin(pool: &PgPool, plan_id: Uuid) -> sqlx::Result<Option<Uuid>> {
    let id = Uuid::now_v7();
    let begun = sqlx::query(
        "insert into build (id, plan_id, revision, document)
         select $1, p.id, p.revision, r.document
         from plan p join plan_revision r on r.plan_id = p.id and r.revision = p.revision
         where p.id = $2 and p.deleted_at is null",
    )
    .bind(id)
    .bind(plan_id)
    .execute(pool)
    .await?;
    Ok((begun.rows_affected() == 1).then_some(id))
}

/// Puts a build in that came from elsewhere, with its events.
pub async fn insert(tx: &mut PgConnection, plan_id: Uuid, plan: &Plan, events: &[BuildEvent]) -> sqlx::Result<Uuid> {
    let id = Uuid::now_v7();
    sqlx::query("insert into build (id, plan_id, revision, document) values ($1, $2, 1, $3)")
        .bind(id)
        .bind(plan_id)
        .bind(Json(plan))
        .execute(&mut *tx)
        .await?;
    for (i, event) in events.iter().enumerate() {
        write(&mut *tx, id, i + 1, Uuid::now_v7(), event).await?;
    }
    Ok(id)
}

async fn write(tx: &mut PgConnection, id: Uuid, number: usize, key: Uuid, event: &BuildEvent) -> sqlx::Result<()> {
    sqlx::query("insert into build_event (build_id, number, key, event) values ($1, $2, $3, $4)")
        .bind(id)
        .bind(i32::try_from(number).unwrap_or(i32::MAX))
        .bind(key)
        .bind(Json(event))
        .execute(tx)
        .await?;
    Ok(())
}

/// A build with its events.
pub async fn get(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Stored>> {
    let mut connection = pool.acquire().await?;
    read(&mut connection, id).await
}

async fn read(connection: &mut PgConnection, id: Uuid) -> sqlx::Result<Option<Stored>> {
    let row: Option<Row> = sqlx::query_as(
        "select b.plan_id, b.revision, b.document, p.revision as newest_revision, n.document as newest, b.started_at
         from build b
         join plan p on p.id = b.plan_id and p.deleted_at is null
         join plan_revision n on n.plan_id = b.plan_id and n.revision = p.revision
         where b.id = $1",
    )
    .bind(id)
    .fetch_optional(&mut *connection)
    .await?;
    let Some(row) = row else { return Ok(None) };
    let events: Vec<(Json<BuildEvent>,)> =
        sqlx::query_as("select event from build_event where build_id = $1 order by number")
            .bind(id)
            .fetch_all(connection)
            .await?;
    Ok(Some(Stored {
        id,
        plan_id: row.plan_id,
        revision: row.revision,
        plan: row.document.0,
        newest_revision: row.newest_revision,
        newest: row.newest.0,
        started_at: row.started_at,
        events: events.into_iter().map(|(event,)| event.0).collect(),
    }))
}

/// A build that no one else writes to until this is given back.
pub struct Held {
    tx: sqlx::Transaction<'static, sqlx::Postgres>,
    /// The build.
    pub build: Stored,
}

impl Held {
    /// Takes a build. `None` where there is none.
    pub async fn take(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Held>> {
        let mut tx = pool.begin().await?;
        sqlx::query("select from build where id = $1 for update").bind(id).execute(&mut *tx).await?;
        let build = read(&mut tx, id).await?;
        Ok(build.map(|build| Held { tx, build }))
    }

    /// Whether something was kept under this key before.
    pub async fn has(&mut self, key: Uuid) -> sqlx::Result<bool> {
        let found: Option<(i32,)> = sqlx::query_as("select number from build_event where build_id = $1 and key = $2")
            .bind(self.build.id)
            .bind(key)
            .fetch_optional(&mut *self.tx)
            .await?;
        Ok(found.is_some())
    }

    /// Appends what happened.
    pub async fn append(&mut self, key: Uuid, event: BuildEvent) -> sqlx::Result<()> {
        write(&mut self.tx, self.build.id, self.build.events.len() + 1, key, &event).await?;
        self.build.events.push(event);
        Ok(())
    }

    /// Goes on with the newest revision of the plan.
    pub async fn follow_newest(&mut self) -> sqlx::Result<()> {
        let build = &mut self.build;
        sqlx::query("update build set revision = $2, document = $3 where id = $1")
            .bind(build.id)
            .bind(build.newest_revision)
            .bind(Json(&build.newest))
            .execute(&mut *self.tx)
            .await?;
        build.revision = build.newest_revision;
        build.plan = build.newest.clone();
        Ok(())
    }

    /// Keeps what was written and gives the build back.
    pub async fn keep(self) -> sqlx::Result<Stored> {
        self.tx.commit().await?;
        Ok(self.build)
    }
}
