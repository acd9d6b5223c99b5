//! The demo data: plans, parts and a stock of cells from the files of a folder, loaded once.

use std::path::Path;

use anyhow::Context;
use brick_core::stock::{Defaults, Lot, SheetCell, read_sheet};
use brick_core::{Catalogue, Plan};
use sqlx::PgPool;

use super::stock::{StockResult, insert_lot, insert_sheet};
use super::{parts, plans};

/// What the demo folder holds.
pub struct Demo {
    catalogue: Catalogue,
    plans: Vec<Plan>,
    lots: Vec<Lot>,
    cells: Vec<SheetCell>,
}

/// Reads and checks the demo folder: `catalogue.json`, `plans/*.brick.json`, `stock/lots.json`, `stock/readings.csv`.
pub fn read(folder: &Path) -> anyhow::Result<Demo> {
    let text = |path: &Path| std::fs::read_to_string(path).with_context(|| format!("cannot read {}", path.display()));
    let catalogue_path = folder.join("catalogue.json");
    let catalogue =
        Catalogue::from_json(&text(&catalogue_path)?).with_context(|| catalogue_path.display().to_string())?;
    let lots_path = folder.join("stock/lots.json");
    let lots: Vec<Lot> = serde_json::from_str(&text(&lots_path)?).with_context(|| lots_path.display().to_string())?;
    for lot in &lots {
        let errors = lot.check();
        anyhow::ensure!(errors.is_empty(), "{}: {}: {errors:?}", lots_path.display(), lot.name);
    }
    let readings_path = folder.join("stock/readings.csv");
    let (cells, _) = read_sheet(&text(&readings_path)?, &Defaults::default()).map_err(|errors| {
        let told: Vec<String> = errors.iter().map(ToString::to_string).collect();
        anyhow::anyhow!("{}: {}", readings_path.display(), told.join("; "))
    })?;
    let folder = folder.join("plans");
    let entries = std::fs::read_dir(&folder).with_context(|| format!("cannot read {}", folder.display()))?;
    let mut files: Vec<_> = entries.filter_map(|e| e.ok().map(|e| e.path())).collect();
    files.retain(|path| path.to_string_lossy().ends_with(".brick.json"));
    files.sort();
    let plans = files
        .iter()
        .map(|path| Plan::from_json(&text(path)?).with_context(|| path.display().to_string()))
        .collect::<anyhow::Result<_>>()?;
    Ok(Demo { catalogue, plans, lots, cells })
}

/// Loads the demo unless it was loaded before: all of it or nothing. Tells whether it was loaded now.
///
/// Refused where the maker's own lots or labels stand in the way of the demo's.
pub async fn load(pool: &PgPool, demo: &Demo) -> StockResult<bool> {
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
    for lot in &demo.lots {
        insert_lot(&mut tx, lot).await?;
    }
    insert_sheet(&mut tx, &demo.cells, None).await?;
    tx.commit().await?;
    Ok(true)
}
