//! Photographs, by the hash of what is kept.

use sqlx::PgPool;

use brick_photo::Photo;

/// Keeps a photograph; one that is there already stays as it is.
pub async fn keep(pool: &PgPool, photo: &Photo) -> sqlx::Result<()> {
    // Both sides are at most 2048.
    let px = |side: u32| i32::try_from(side).unwrap_or(i32::MAX);
    sqlx::query(
        "insert into photo (sha256, jpeg, width_px, height_px) values ($1, $2, $3, $4) on conflict (sha256) do nothing",
    )
    .bind(&photo.sha256)
    .bind(&photo.jpeg)
    .bind(px(photo.width_px))
    .bind(px(photo.height_px))
    .execute(pool)
    .await?;
    Ok(())
}

/// The photographs that a document names.
pub async fn named_in(pool: &PgPool, document: &str) -> sqlx::Result<Vec<String>> {
    sqlx::query_scalar("select sha256 from photo where strpos($1, sha256) > 0").bind(document).fetch_all(pool).await
}

/// The JPEG of that hash.
pub async fn jpeg(pool: &PgPool, sha256: &str) -> sqlx::Result<Option<Vec<u8>>> {
    let row: Option<(Vec<u8>,)> =
        sqlx::query_as("select jpeg from photo where sha256 = $1").bind(sha256).fetch_optional(pool).await?;
    Ok(row.map(|(jpeg,)| jpeg))
}
