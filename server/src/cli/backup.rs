//! `dense-brick backup` and `dense-brick restore`.

use std::path::Path;

use anyhow::{Context, bail};

use super::Database;
use crate::store;
use crate::store::backup::{self, Checked};

/// Writes a backup; never over a file that is there.
pub async fn write(database: &Database, file: &Path) -> anyhow::Result<()> {
    if file.exists() {
        bail!("{} is there already; name another file", file.display());
    }
    let pool = store::connect(&database.database_url).await.context("the database cannot be opened")?;
    backup::write(&pool, file).await.with_context(|| format!("{} was not written", file.display()))?;
    let written = Checked::open(file).with_context(|| file.display().to_string())?;
    println!("{} plans are in {}.", written.plan_count(), file.display());
    Ok(())
}

/// Restores a backup: all of it or nothing.
pub async fn restore(database: &Database, file: &Path) -> anyhow::Result<()> {
    let backup = Checked::open(file).with_context(|| file.display().to_string())?;
    let pool = store::open(&database.database_url, &database.backups).await.context("the database cannot be opened")?;
    let kept = backup::place(&database.backups, "before-restore")?;
    backup::restore(&pool, &backup, &kept).await.context("nothing was restored")?;
    println!("{} plans are restored; what was there is in {}.", backup.plan_count(), kept.display());
    Ok(())
}
