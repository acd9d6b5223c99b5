//! The parts catalogue.

use brick_core::Catalogue;
use brick_core::suggest::Item;
use sqlx::PgPool;
use sqlx::types::Json;

/// Every part.
pub async fn catalogue(pool: &PgPool) -> sqlx::Result<Catalogue> {
    let rows: Vec<(Json<Item>,)> = sqlx::query_as("select document from part order by id").fetch_all(pool).await?;
    Ok(Catalogue { items: rows.into_iter().map(|(Json(item),)| item).collect() })
}

/// Stores a part inside a transaction; one of the same id stays as it is.
pub(super) async fn insert(tx: &mut sqlx::PgConnection, item: &Item) -> sqlx::Result<()> {
    let kind = format!("{:?}", item.kind()).to_lowercase();
    sqlx::query("insert into part (id, kind, document) values ($1, $2, $3) on conflict (id) do nothing")
        .bind(&item.id)
        .bind(kind)
        .bind(Json(item))
        .execute(tx)
        .await?;
    Ok(())
}
