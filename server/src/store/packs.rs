//! Packs: their cards, and what happened to them.

use brick_core::years::{PackCard, PackEntry};
use serde_json::Value;
use sqlx::types::Json;
use sqlx::{FromRow, PgConnection, PgPool};
use uuid::Uuid;

/// Most entries of one pack: a charge and a run a day for ten years.
pub const MOST_ENTRIES: usize = 10_000;
/// Most packs.
pub const MOST_PACKS: i64 = 5000;

/// A pack as the list shows it.
#[derive(Debug, FromRow)]
pub struct Listed {
    /// Id.
    pub id: Uuid,
    /// Number on its label.
    pub number: i32,
    /// Its plan, if it was built from one that is still there.
    pub plan_id: Option<Uuid>,
    /// The build it came from.
    pub build_id: Option<Uuid>,
    /// Its card.
    pub card: Json<PackCard>,
    /// What the list says of it; none where it was never calculated.
    pub summary: Option<Json<Value>>,
}

/// A pack with its log.
#[derive(Debug)]
pub struct Stored {
    /// Id.
    pub id: Uuid,
    /// Number on its label.
    pub number: i32,
    /// Its plan, if it was built from one that is still there.
    pub plan_id: Option<Uuid>,
    /// The build it came from.
    pub build_id: Option<Uuid>,
    /// Its card.
    pub card: PackCard,
    /// How often the card was written.
    pub revision: i32,
    /// What happened, in the order in which it was written down.
    pub entries: Vec<PackEntry>,
}

/// Where a pack comes from.
#[derive(Debug, Clone, Copy, Default)]
pub struct Origin {
    /// Its plan.
    pub plan_id: Option<Uuid>,
    /// Its build.
    pub build_id: Option<Uuid>,
}

#[derive(FromRow)]
struct Row {
    number: i32,
    plan_id: Option<Uuid>,
    build_id: Option<Uuid>,
    card: Json<PackCard>,
    revision: i32,
}

/// Every pack that is not deleted, by number.
pub async fn list(pool: &PgPool) -> sqlx::Result<Vec<Listed>> {
    sqlx::query_as(
        "select id, number, plan_id, build_id, card, summary from pack where deleted_at is null order by number",
    )
    .fetch_all(pool)
    .await
}

/// A pack with its log.
pub async fn get(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Stored>> {
    let mut connection = pool.acquire().await?;
    read(&mut connection, id).await
}

async fn read(connection: &mut PgConnection, id: Uuid) -> sqlx::Result<Option<Stored>> {
    let row: Option<Row> = sqlx::query_as(
        "select p.number, (select l.id from plan l where l.id = p.plan_id and l.deleted_at is null) as plan_id,
            p.build_id, p.card, p.revision
         from pack p where p.id = $1 and p.deleted_at is null",
    )
    .bind(id)
    .fetch_optional(&mut *connection)
    .await?;
    let Some(row) = row else { return Ok(None) };
    let entries: Vec<(Json<PackEntry>,)> =
        sqlx::query_as("select entry from pack_entry where pack_id = $1 order by number")
            .bind(id)
            .fetch_all(connection)
            .await?;
    Ok(Some(Stored {
        id,
        number: row.number,
        plan_id: row.plan_id,
        build_id: row.build_id,
        card: row.card.0,
        revision: row.revision,
        entries: entries.into_iter().map(|(entry,)| entry.0).collect(),
    }))
}

/// Puts a pack in under the next number. `None` where there are as many as are kept.
pub async fn insert(
    tx: &mut PgConnection,
    origin: Origin,
    card: &PackCard,
    entries: &[PackEntry],
) -> sqlx::Result<Option<Uuid>> {
    // Two that come at the same time would take the same number.
    sqlx::query("lock table pack in share row exclusive mode").execute(&mut *tx).await?;
    let (count,): (i64,) = sqlx::query_as("select count(*) from pack").fetch_one(&mut *tx).await?;
    if count >= MOST_PACKS {
        return Ok(None);
    }
    let id = Uuid::now_v7();
    sqlx::query(
        "insert into pack (id, number, plan_id, build_id, card)
         select $1, coalesce(max(number), 0) + 1, $2, $3, $4 from pack",
    )
    .bind(id)
    .bind(origin.plan_id)
    .bind(origin.build_id)
    .bind(Json(card))
    .execute(&mut *tx)
    .await?;
    for (i, entry) in entries.iter().enumerate() {
        write(&mut *tx, id, i + 1, Uuid::now_v7(), entry).await?;
    }
    Ok(Some(id))
}

async fn write(tx: &mut PgConnection, id: Uuid, number: usize, key: Uuid, entry: &PackEntry) -> sqlx::Result<()> {
    sqlx::query("insert into pack_entry (pack_id, number, key, entry) values ($1, $2, $3, $4)")
        .bind(id)
        .bind(i32::try_from(number).unwrap_or(i32::MAX))
        .bind(key)
        .bind(Json(entry))
        .execute(tx)
        .await?;
    Ok(())
}

/// A pack that no one else writes to until this is given back.
pub struct Held {
    tx: sqlx::Transaction<'static, sqlx::Postgres>,
    /// The pack.
    pub pack: Stored,
}

impl Held {
    /// Takes a pack. `None` where there is none.
    pub async fn take(pool: &PgPool, id: Uuid) -> sqlx::Result<Option<Held>> {
        let mut tx = pool.begin().await?;
        sqlx::query("select from pack where id = $1 for update").bind(id).execute(&mut *tx).await?;
        let pack = read(&mut tx, id).await?;
        Ok(pack.map(|pack| Held { tx, pack }))
    }

    /// Whether something was kept under this key before.
    pub async fn has(&mut self, key: Uuid) -> sqlx::Result<bool> {
        let found: Option<(i32,)> = sqlx::query_as("select number from pack_entry where pack_id = $1 and key = $2")
            .bind(self.pack.id)
            .bind(key)
            .fetch_optional(&mut *self.tx)
            .await?;
        Ok(found.is_some())
    }

    /// Appends what happened.
    pub async fn append(&mut self, key: Uuid, entry: PackEntry) -> sqlx::Result<()> {
        write(&mut self.tx, self.pack.id, self.pack.entries.len() + 1, key, &entry).await?;
        self.pack.entries.push(entry);
        Ok(())
    }

    /// Writes the card over.
    pub async fn change_card(&mut self, card: PackCard) -> sqlx::Result<()> {
        let (revision,): (i32,) =
            sqlx::query_as("update pack set card = $2, revision = revision + 1 where id = $1 returning revision")
                .bind(self.pack.id)
                .bind(Json(&card))
                .fetch_one(&mut *self.tx)
                .await?;
        self.pack.card = card;
        self.pack.revision = revision;
        Ok(())
    }

    /// Gives the pack back with nothing written.
    pub fn give_back(self) -> Stored {
        self.pack
    }

    /// Keeps what was written; what the list says of the pack is to be calculated again.
    pub async fn keep(mut self) -> sqlx::Result<Stored> {
        sqlx::query("update pack set summary = null where id = $1").bind(self.pack.id).execute(&mut *self.tx).await?;
        self.tx.commit().await?;
        Ok(self.pack)
    }
}

/// Keeps what the list says of a pack that has so many entries; one that has more by now is left alone.
pub async fn summarise(pool: &PgPool, pack: &Stored, summary: &Value) -> sqlx::Result<()> {
    sqlx::query(
        "update pack set summary = $2 where id = $1 and revision = $3
         and (select count(*) from pack_entry where pack_id = $1) = $4",
    )
    .bind(pack.id)
    .bind(Json(summary))
    .bind(pack.revision)
    .bind(i64::try_from(pack.entries.len()).unwrap_or(i64::MAX))
    .execute(pool)
    .await?;
    Ok(())
}

/// Marks a pack as deleted, or takes that back; false if there is none.
pub async fn set_deleted(pool: &PgPool, id: Uuid, is_deleted: bool) -> sqlx::Result<bool> {
    let done = sqlx::query(
        "update pack set deleted_at = case when $2 then now() end where id = $1 and (deleted_at is null) = $2",
    )
    .bind(id)
    .bind(is_deleted)
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Packs with cells of a lot: id, number, name, how many cells.
pub async fn with_lot(pool: &PgPool, lot: &str) -> sqlx::Result<Vec<(Uuid, i32, String, i64)>> {
    sqlx::query_as(
        "select p.id, p.number, p.card ->> 'name', count(*)
         from pack p, jsonb_array_elements(p.card -> 'cells') c
         where p.deleted_at is null and c ->> 'lot' = $1
         group by p.id order by p.number",
    )
    .bind(lot)
    .fetch_all(pool)
    .await
}
