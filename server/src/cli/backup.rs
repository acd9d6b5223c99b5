//! `dense-brick backup` and `dense-brick restore`.

use std::path::Path;

use anyhow::{Context, bail};

use super::Database;
use crate::store;
use crate::store::backup::{self, Backup};

/// Writes a backup; never over a file that is there.
pub async fn write(database: &Database, file: &Path) -> anyhow::Result<()> {
    if file.exists() {
        bail!("{} is there already; name another file", file.display());
    }
    let pool = store::connect(&database.database_url).await.context("the database cannot be opened")?;
    let backup = backup::read(&pool).await?;
    std::fs::write(file, backup.to_json()?).with_context(|| format!("cannot write {}", file.display()))?;
    println!("{} plans are in {}.", backup.plan_count(), file.display());
    Ok(())
}

/// Restores a backup: all of it or nothing.
pub async fn restore(database: &Database, file: &Path) -> anyhow::Result<()> {
    let text = std::fs::read_to_string(file).with_context(|| file.display().to_string())?;
    let backup = Backup::from_json(&text).with_context(|| file.display().to_string())?;
    let pool = store::open(&database.database_url, &database.backups).await.context("the database cannot be opened")?;
    let kept = backup::keep(&pool, &database.backups, "before-restore").await?;
    backup::restore(&pool, &backup).await.context("nothing was restored")?;
    println!("{} plans are restored; what was there is in {}.", backup.plan_count(), kept.display());
    Ok(())
}
