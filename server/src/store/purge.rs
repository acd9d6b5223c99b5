//! What is dropped in the end: plans and packs that were deleted long ago, and photographs that nothing refers to.

use sqlx::PgPool;

/// Days that deleting can be taken back.
pub const KEPT_DAYS: i32 = 90;

/// What was dropped.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Purged {
    /// Plans with all their revisions.
    pub plans: u64,
    /// Packs with their logs.
    pub packs: u64,
    /// Photographs.
    pub photos: u64,
}

/// Drops plans and packs deleted so many days ago, then photographs as old that no revision of any plan, no build and no pack names.
pub async fn purge(pool: &PgPool) -> sqlx::Result<Purged> {
    let mut tx = pool.begin().await?;
    let plans = sqlx::query(
        "delete from plan p where deleted_at < now() - make_interval(days => $1)
         and not exists (select from cell c where c.plan_id = p.id)",
    )
    .bind(KEPT_DAYS)
    .execute(&mut *tx)
    .await?
    .rows_affected();
    let packs = sqlx::query("delete from pack where deleted_at < now() - make_interval(days => $1)")
        .bind(KEPT_DAYS)
        .execute(&mut *tx)
        .await?
        .rows_affected();
    let photos = sqlx::query(
        "delete from photo p where kept_at < now() - make_interval(days => $1)
         and not exists (select from plan_revision r where strpos(r.document::text, p.sha256) > 0)
         and not exists (select from build b where strpos(b.document::text, p.sha256) > 0)
         and not exists (select from pack_entry e where e.entry ->> 'photo' = p.sha256)
         and not exists (select from build_event e where e.event #>> '{happened,sha256}' = p.sha256)",
    )
    .bind(KEPT_DAYS)
    .execute(&mut *tx)
    .await?
    .rows_affected();
    tx.commit().await?;
    Ok(Purged { plans, packs, photos })
}
