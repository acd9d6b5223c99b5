//! The demo data: plans and parts from the files of a folder, loaded once.

use std::path::Path;

use anyhow::Context;
use brick_core::{Catalogue, Plan};
use sqlx::PgPool;

use super::{parts, plans};

/// What the demo folder holds.
pub struct Demo {
    catalogue: Catalogue,
    plans: Vec<Plan>,
}

/// Reads and checks the demo folder: `catalogue.json` and `plans/*.brick.json`.
pub fn read(folder: &Path) -> anyhow::Result<Demo> {
    let text = |path: &Path| std::fs::read_to_string(path).with_context(|| format!("cannot read {}", path.display()));
    let catalogue_path = folder.join("catalogue.json");
    let catalogue =
        Catalogue::from_json(&text(&catalogue_path)?).with_context(|| catalogue_path.display().to_string())?;
    let folder = folder.join("plans");
    let entries = std::fs::read_dir(&folder).with_context(|| format!("cannot read {}", folder.display()))?;
    let mut files: Vec<_> = entries.filter_map(|e| e.ok().map(|e| e.path())).collect();
    files.retain(|path| path.to_string_lossy().ends_with(".brick.json"));
    files.sort();
    let plans = files
        .iter()
        .map(|path| Plan::from_json(&text(path)?).with_context(|| path.display().to_string()))
        .collect::<anyhow::Result<_>>()?;
    Ok(Demo { catalogue, plans })
}

/// Loads the demo unless it was loaded before: all of it or nothing. Tells whether it was loaded now.
pub async fn load(pool: &PgPool, demo: &Demo) -> sqlx::Result<bool> {
    let mut tx = pool.begin().await?;
    let first = sqlx::query("insert into demo_load default values on conflict do nothing").execute(&mut *tx).await?;
    if first.rows_affected() == 0 {
        return Ok(false);
    }
    for item in &demo.catalogue.items {
        parts::insert(&mut tx, item).await?;
    }
    for plan in &demo.plans {
        plans::insert(&mut tx, plan).await?;
    }
    tx.commit().await?;
    Ok(true)
}
