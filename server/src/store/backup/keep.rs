//! Backups that are kept without being asked for: before something drastic, and once a day.

use std::path::{Path, PathBuf};

use chrono::{DateTime, NaiveDateTime, TimeDelta, Utc};
use sqlx::PgPool;
use uuid::Uuid;

use super::file::Checked;
use super::{BackupError, migration_of, newest_migration, restore, write};

/// How many of each occasion are kept, the newest.
const DAILY: usize = 14;
const BEFORE: usize = 10;
const STAMP: &str = "%Y%m%dT%H%M%S%3fZ";

/// Occasions of files that are on their way only: in or out.
const PASSING: [&str; 2] = ["upload-", "download-"];

/// A place of its own for a backup in a folder, named after the occasion and the time. Makes the folder.
pub(crate) fn place(folder: &Path, occasion: &str) -> std::io::Result<PathBuf> {
    std::fs::create_dir_all(folder)?;
    // Two may be made within a millisecond.
    let own = &Uuid::new_v4().simple().to_string()[..8];
    Ok(folder.join(format!("{occasion}-{own}-{}.jsonl", Utc::now().format(STAMP))))
}

/// Keeps a backup if migrations are pending and there is something to lose. Tells where, if it did.
pub async fn before_migration(pool: &PgPool, folder: &Path) -> Result<Option<PathBuf>, BackupError> {
    let mut connection = pool.acquire().await?;
    let at = migration_of(&mut connection).await?;
    drop(connection);
    if at == 0 || at >= newest_migration() {
        return Ok(None);
    }
    let to = place(folder, &format!("before-migration-from-{at}"))?;
    write(pool, &to).await?;
    prune(folder, "before-", BEFORE)?;
    Ok(Some(to))
}

/// Whether the last daily backup is younger than a day.
pub fn is_kept_daily(folder: &Path, now: DateTime<Utc>) -> bool {
    let newest = kept(folder, "daily-").into_iter().next_back();
    let at = newest.and_then(|(at, _)| NaiveDateTime::parse_from_str(&at, STAMP).ok());
    // A clock that was put back would otherwise hold the next one up for as long.
    at.is_some_and(|at| (TimeDelta::zero()..TimeDelta::days(1)).contains(&(now - at.and_utc())))
}

/// Drops what a program that was killed left on its way a day ago or longer.
fn drop_passing(folder: &Path, now: DateTime<Utc>) -> std::io::Result<()> {
    let day_ago = (now - TimeDelta::days(1)).format(STAMP).to_string();
    for (at, file) in PASSING.iter().flat_map(|occasion| kept(folder, occasion)) {
        if at < day_ago {
            std::fs::remove_file(file)?;
        }
    }
    Ok(())
}

/// Writes today's backup, restores it on trial, and drops those that are old. What cannot be restored is told.
pub async fn daily(pool: &PgPool, folder: &Path) -> Result<PathBuf, BackupError> {
    let to = place(folder, "daily")?;
    write(pool, &to).await?;
    restore::test_restore(pool, &Checked::open(&to)?).await?;
    prune(folder, "daily-", DAILY)?;
    prune(folder, "before-", BEFORE)?;
    drop_passing(folder, Utc::now())?;
    Ok(to)
}

/// Backups of an occasion with the time in their names, the oldest first.
fn kept(folder: &Path, occasion: &str) -> Vec<(String, PathBuf)> {
    let entries = std::fs::read_dir(folder).into_iter().flatten().filter_map(Result::ok);
    let mut found: Vec<(String, PathBuf)> = entries
        .filter_map(|entry| {
            let name = entry.file_name().to_string_lossy().into_owned();
            let stem = name.strip_suffix(".jsonl").or_else(|| name.strip_suffix(".json"))?;
            let at = stem.rsplit('-').next()?.to_owned();
            (name.starts_with(occasion) && at.ends_with('Z')).then(|| (at, entry.path()))
        })
        .collect();
    found.sort();
    found
}

/// Drops all but the newest of an occasion.
fn prune(folder: &Path, occasion: &str, most: usize) -> std::io::Result<()> {
    let found = kept(folder, occasion);
    for (_, file) in found.iter().take(found.len().saturating_sub(most)) {
        std::fs::remove_file(file)?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_newest_of_each_occasion_stay() {
        let folder = tempfile::tempdir().unwrap();
        let file = |name: String| std::fs::write(folder.path().join(name), "").unwrap();
        for day in 10..30 {
            file(format!("daily-202611{day}T080000000Z.jsonl"));
        }
        file("before-restore-20260101T080000000Z.json".to_owned());
        file("mine.jsonl".to_owned());
        file("upload-1a2b3c4d-20261101T080000000Z.jsonl".to_owned());
        file("upload-1a2b3c4d-20261110T080000000Z.jsonl".to_owned());
        drop_passing(folder.path(), "2026-11-10T09:00:00Z".parse().unwrap()).unwrap();
        prune(folder.path(), "daily-", DAILY).unwrap();
        let left = kept(folder.path(), "daily-");
        assert_eq!((left.len(), left[0].0.as_str()), (DAILY, "20261116T080000000Z"));
        assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), DAILY + 3);
    }

    #[test]
    fn a_day_is_a_day_also_when_the_clock_goes_back() {
        let folder = tempfile::tempdir().unwrap();
        let at = |text: &str| text.parse::<DateTime<Utc>>().unwrap();
        assert!(!is_kept_daily(folder.path(), at("2026-11-20T09:00:00Z")));
        std::fs::write(folder.path().join("daily-20261120T080000000Z.jsonl"), "").unwrap();
        assert!(is_kept_daily(folder.path(), at("2026-11-21T07:59:00Z")));
        assert!(!is_kept_daily(folder.path(), at("2026-11-21T08:01:00Z")));
        assert!(!is_kept_daily(folder.path(), at("2026-11-19T08:00:00Z")));
    }
}
