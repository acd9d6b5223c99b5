//! The demo data: plans, parts and a stock of cells from the files of a folder, loaded once.

use std::collections::HashMap;
use std::path::{Path, PathBuf};

use anyhow::Context;
use brick_core::base::table::{moment, written_moment};
use brick_core::plan::FieldError;
use brick_core::stock::{Defaults, Lot, SheetCell, read_sheet};
use brick_core::years::{PackCard, PackEntry};
use brick_core::{Catalogue, Plan};
use chrono::Utc;
use serde::Deserialize;
use sqlx::PgPool;

use super::packs::Origin;
use super::stock::{StockResult, insert_lot, insert_sheet};
use super::{packs, parts, plans};

/// What the demo folder holds.
pub struct Demo {
    catalogue: Catalogue,
    /// By the name of the file.
    plans: Vec<(String, Plan)>,
    lots: Vec<Lot>,
    cells: Vec<SheetCell>,
    packs: Vec<DemoPack>,
}

/// A pack with a log of some years, and the file of the plan that it was built from.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoPack {
    plan: String,
    card: PackCard,
    entries: Vec<PackEntry>,
}

/// Days from the last entry of a log to the day on which it is loaded.
const LAST_DAYS_AGO: i64 = 8;

impl DemoPack {
    fn check(&self) -> Vec<FieldError> {
        let entries = self.entries.iter().enumerate();
        self.card
            .check()
            .into_iter()
            .chain(entries.flat_map(|(i, e)| e.check(&self.card, &self.entries[..i])))
            .collect()
    }

    /// The same with its days moved so that the last was a week ago: what is due stays as it is meant.
    fn lately(&self, today_s: i64) -> (PackCard, Vec<PackEntry>) {
        let last_s = self.entries.iter().filter_map(|e| moment(&e.at)).max().unwrap_or(today_s);
        let later_s = ((today_s - last_s).div_euclid(DAY_S) - LAST_DAYS_AGO) * DAY_S;
        let moved = |at: &str| moment(at).map_or_else(String::new, |s| written_moment(s + later_s));
        let made_on = self.card.made_on.as_deref().and_then(|d| moved(d).get(..10).map(str::to_owned));
        let entries = self.entries.iter().map(|e| PackEntry { at: moved(&e.at), ..e.clone() });
        (PackCard { made_on, ..self.card.clone() }, entries.collect())
    }
}

const DAY_S: i64 = 86_400;

/// Reads and checks the demo folder: `catalogue.json`, `plans/*.brick.json`, `stock/lots.json`, `stock/readings.csv`,
/// `packs/*.json`.
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
    let plan = |path: &PathBuf| {
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        Ok((name, Plan::from_json(&text(path)?).with_context(|| path.display().to_string())?))
    };
    let plans = files_in(&folder.join("plans"), ".brick.json")?.iter().map(plan).collect::<anyhow::Result<_>>()?;
    let pack = |path: &PathBuf| {
        let pack: DemoPack = serde_json::from_str(&text(path)?).with_context(|| path.display().to_string())?;
        let errors = pack.check();
        anyhow::ensure!(errors.is_empty(), "{}: {errors:?}", path.display());
        Ok(pack)
    };
    let packs = files_in(&folder.join("packs"), ".json")?.iter().map(pack).collect::<anyhow::Result<_>>()?;
    Ok(Demo { catalogue, plans, lots, cells, packs })
}

/// The files of a folder whose names end so, by name.
fn files_in(folder: &Path, ending: &str) -> anyhow::Result<Vec<PathBuf>> {
    let entries = std::fs::read_dir(folder).with_context(|| format!("cannot read {}", folder.display()))?;
    let mut files: Vec<_> = entries.filter_map(|e| e.ok().map(|e| e.path())).collect();
    files.retain(|path| path.to_string_lossy().ends_with(ending));
    files.sort();
    Ok(files)
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
    let mut ids = HashMap::new();
    for (name, plan) in &demo.plans {
        ids.insert(name.as_str(), plans::insert(&mut tx, plan).await?.id);
    }
    for lot in &demo.lots {
        insert_lot(&mut tx, lot).await?;
    }
    insert_sheet(&mut tx, &demo.cells, None).await?;
    for pack in &demo.packs {
        let (card, entries) = pack.lately(Utc::now().timestamp());
        let origin = Origin { plan_id: ids.get(pack.plan.as_str()).copied(), build_id: None };
        packs::insert(&mut tx, origin, &card, &entries).await?;
    }
    tx.commit().await?;
    Ok(true)
}
