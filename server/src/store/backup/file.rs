//! The file of a backup: lines of JSON. A head, then for each table its name and number of rows and the rows, then
//! the SHA-256 of all that stands above it, so that no byte can change or be missing unseen.

use std::collections::BTreeMap;
use std::fs::{File, OpenOptions};
use std::io::{BufRead, BufReader, BufWriter, ErrorKind, Read, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

use chrono::Utc;
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use sha2::{Digest, Sha256};

use super::super::MIGRATOR;
use super::{BackupError, TABLES, newest_migration};

/// What the `format` field of every backup says.
const FORMAT: &str = "dense-brick/backup";
/// Version of the file's own shape. The first was one JSON object without a checksum; it is still read.
const VERSION: u32 = 2;
/// A head is much shorter; a file whose first line is longer is of the first version, or none of ours.
const HEAD_BYTES: u64 = 4096;

#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Head {
    format: String,
    version: u32,
    /// When it was made, for whoever looks into the file.
    made_at: String,
    /// Newest migration the tables had.
    migration: i64,
}

#[derive(Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct TableLine {
    table: String,
    rows: u64,
}

#[derive(Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct EndLine {
    sha256: String,
}

/// A backup of the first version.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct First {
    format: String,
    version: u32,
    #[serde(rename = "made_at")]
    _made_at: String,
    migration: i64,
    tables: BTreeMap<String, Vec<Box<RawValue>>>,
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}

/// Writes a backup beside its place and moves it there when it is whole and on the disk. Only its owner may read it.
pub(super) struct Writer {
    file: BufWriter<File>,
    hash: Sha256,
    making: PathBuf,
    place: PathBuf,
}

impl Writer {
    pub(super) fn create(place: &Path, migration: i64) -> Result<Self, BackupError> {
        let mut name = place.as_os_str().to_owned();
        name.push(format!(".{}.making", std::process::id()));
        let making = PathBuf::from(name);
        let file = OpenOptions::new().write(true).create(true).truncate(true).mode(0o600).open(&making)?;
        let mut writer = Writer { file: BufWriter::new(file), hash: Sha256::new(), making, place: place.to_owned() };
        let head = Head { format: FORMAT.to_owned(), version: VERSION, made_at: Utc::now().to_rfc3339(), migration };
        writer.json(&head)?;
        Ok(writer)
    }

    fn json(&mut self, line: &impl Serialize) -> Result<(), BackupError> {
        let text = serde_json::to_string(line).map_err(std::io::Error::from)?;
        self.row(&text)
    }

    pub(super) fn table(&mut self, table: &str, rows: i64) -> Result<(), BackupError> {
        self.json(&TableLine { table: table.to_owned(), rows: u64::try_from(rows).unwrap_or(0) })
    }

    /// One line: JSON as the database writes it has no line break.
    pub(super) fn row(&mut self, text: &str) -> Result<(), BackupError> {
        for bytes in [text.as_bytes(), b"\n"] {
            self.hash.update(bytes);
            self.file.write_all(bytes)?;
        }
        Ok(())
    }

    pub(super) fn finish(mut self) -> Result<(), BackupError> {
        let sha256 = hex(&self.hash.clone().finalize());
        self.json(&EndLine { sha256 })?;
        self.file.flush()?;
        self.file.get_ref().sync_all()?;
        std::fs::rename(&self.making, &self.place)?;
        if let Some(folder) = self.place.parent().filter(|folder| !folder.as_os_str().is_empty()) {
            File::open(folder)?.sync_all()?;
        }
        Ok(())
    }
}

impl Drop for Writer {
    fn drop(&mut self) {
        // After finish() it is not there any more; before, half a backup is none.
        let _ = std::fs::remove_file(&self.making);
    }
}

/// A backup that is whole: every byte is as it was written, every table of its version is there, every row is JSON.
#[derive(Debug)]
pub struct Checked {
    path: PathBuf,
    pub(super) migration: i64,
    rows: BTreeMap<String, u64>,
    /// Written again from a file of the first version; removed with this.
    is_scratch: bool,
}

impl Drop for Checked {
    fn drop(&mut self) {
        if self.is_scratch {
            // A scratch file that is left over harms nothing.
            let _ = std::fs::remove_file(&self.path);
        }
    }
}

impl Checked {
    /// Reads a file through; says what is wrong with one that is damaged or no backup.
    pub fn open(path: &Path) -> Result<Checked, BackupError> {
        let mut head = String::new();
        let first = BufReader::new(File::open(path)?).take(HEAD_BYTES).read_line(&mut head);
        match first {
            Err(error) if error.kind() != ErrorKind::InvalidData => return Err(error.into()),
            _ => {}
        }
        match serde_json::from_str::<Head>(&head) {
            Ok(head) if head.version >= VERSION => read_through(path, &head),
            _ => first_version(path),
        }
    }

    /// How many rows of a table it holds.
    pub fn rows_of(&self, table: &str) -> u64 {
        self.rows.get(table).copied().unwrap_or(0)
    }

    /// The tables it holds.
    pub(super) fn tables(&self) -> impl Iterator<Item = &str> {
        self.rows.keys().map(String::as_str)
    }

    /// How many plans it holds, deleted ones included.
    pub fn plan_count(&self) -> u64 {
        self.rows_of("plan")
    }

    /// Its lines behind the head, one after the other.
    pub(super) fn lines(&self) -> std::io::Result<Lines> {
        let mut lines = Lines { file: BufReader::new(File::open(&self.path)?), left: 0, table: String::new() };
        lines.line()?;
        Ok(lines)
    }
}

/// Rows of a backup that was checked.
pub(super) struct Lines {
    file: BufReader<File>,
    left: u64,
    table: String,
}

impl Lines {
    fn line(&mut self) -> std::io::Result<String> {
        let mut line = String::new();
        self.file.read_line(&mut line)?;
        line.truncate(line.trim_end_matches('\n').len());
        Ok(line)
    }

    /// The next row with its table; none at the end.
    pub(super) fn next(&mut self) -> std::io::Result<Option<(&str, String)>> {
        while self.left == 0 {
            let Ok(TableLine { table, rows }) = serde_json::from_str(&self.line()?) else { return Ok(None) };
            (self.table, self.left) = (table, rows);
        }
        self.left -= 1;
        let row = self.line()?;
        Ok(Some((&self.table, row)))
    }
}

fn check_head(format: &str, version: u32, migration: i64) -> Result<(), BackupError> {
    if format != FORMAT {
        return Err(BackupError::Shape(format!("/format is “{format}”, not “{FORMAT}”")));
    }
    if version > VERSION {
        return Err(BackupError::Newer { found: version.into(), newest: VERSION.into() });
    }
    if migration > newest_migration() {
        return Err(BackupError::Newer { found: migration, newest: newest_migration() });
    }
    if !MIGRATOR.version_exists(migration) {
        return Err(BackupError::Shape(format!("/migration {migration} never was")));
    }
    Ok(())
}

fn read_through(path: &Path, head: &Head) -> Result<Checked, BackupError> {
    check_head(&head.format, head.version, head.migration)?;
    let mut file = BufReader::new(File::open(path)?);
    let (mut hash, mut number) = (Sha256::new(), 0_u64);
    let mut rows: BTreeMap<String, u64> = BTreeMap::new();
    let (mut table, mut left) = (String::new(), 0_u64);
    let mut line = String::new();
    loop {
        line.clear();
        let read = file.read_line(&mut line).map_err(|error| match error.kind() {
            ErrorKind::InvalidData => BackupError::Damaged(format!("line {} is no text", number + 1)),
            _ => error.into(),
        })?;
        number += 1;
        let damaged = |what: &str| BackupError::Damaged(format!("line {number} {what}"));
        if read == 0 {
            return Err(BackupError::Damaged("its end is missing".to_owned()));
        }
        let Some(text) = line.strip_suffix('\n') else { return Err(damaged("is cut off")) };
        if number > 1 && left > 0 {
            left -= 1;
            serde_json::from_str::<&RawValue>(text).map_err(|_| damaged("is no row"))?;
        } else if number > 1 {
            if let Ok(end) = serde_json::from_str::<EndLine>(text) {
                let mut more = [0];
                if end.sha256 != hex(&hash.finalize()) || text != serde_json::to_string(&end).unwrap_or_default() {
                    return Err(BackupError::Damaged(
                        "its checksum does not fit: something in it was changed".to_owned(),
                    ));
                }
                if file.read(&mut more)? > 0 {
                    return Err(damaged("should be the last"));
                }
                break;
            }
            let next: TableLine = serde_json::from_str(text)
                .map_err(|_| damaged(&format!("should be behind the last row of {table}")))?;
            if rows.insert(next.table.clone(), next.rows).is_some() {
                return Err(damaged(&format!("names {} again", next.table)));
            }
            (table, left) = (next.table, next.rows);
        }
        hash.update(line.as_bytes());
    }
    Ok(Checked { path: path.to_owned(), migration: head.migration, rows, is_scratch: false })
}

/// A file of the first version, written again as one of today's beside it: its rows then take the same way.
fn first_version(path: &Path) -> Result<Checked, BackupError> {
    let first: First = serde_json::from_reader(BufReader::new(File::open(path)?))
        .map_err(|error| BackupError::Shape(error.to_string()))?;
    check_head(&first.format, first.version, first.migration)?;
    if let Some(strange) = first.tables.keys().find(|table| !TABLES.contains(&table.as_str())) {
        return Err(BackupError::Table { table: strange.clone(), reason: "there is no such table".to_owned() });
    }
    let mut name = path.as_os_str().to_owned();
    name.push(".today");
    let scratch = PathBuf::from(name);
    let mut writer = Writer::create(&scratch, first.migration)?;
    for table in TABLES {
        if let Some(rows) = first.tables.get(table) {
            writer.table(table, i64::try_from(rows.len()).unwrap_or(i64::MAX))?;
            for row in rows {
                // Whoever wrote the file may have spread a row over lines.
                writer.row(&row.get().replace(['\n', '\r'], " "))?;
            }
        }
    }
    writer.finish()?;
    let rows = first.tables.iter().map(|(table, rows)| (table.clone(), rows.len() as u64)).collect();
    Ok(Checked { path: scratch, migration: first.migration, rows, is_scratch: true })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn written(folder: &Path) -> PathBuf {
        let path = folder.join("some.jsonl");
        let mut writer = Writer::create(&path, newest_migration()).unwrap();
        for (table, rows) in [("plan", 2), ("part", 0), ("lot", 1)] {
            writer.table(table, rows).unwrap();
            for i in 0..rows {
                writer.row(&format!("{{\"id\": {i}, \"name\": \"{table} {i}, 60.0 V\"}}")).unwrap();
            }
        }
        writer.finish().unwrap();
        path
    }

    #[test]
    fn what_is_written_is_read_and_only_its_owner_may() {
        use std::os::unix::fs::PermissionsExt;
        let folder = tempfile::tempdir().unwrap();
        let path = written(folder.path());
        assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o600);
        let checked = Checked::open(&path).unwrap();
        assert_eq!((checked.plan_count(), checked.rows_of("part"), checked.rows_of("lot")), (2, 0, 1));
        let mut lines = checked.lines().unwrap();
        let mut found = vec![];
        while let Some((table, row)) = lines.next().unwrap() {
            found.push(format!("{table} {row}"));
        }
        assert_eq!(found[2], "lot {\"id\": 0, \"name\": \"lot 0, 60.0 V\"}");
        assert_eq!(found.len(), 3);
        assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 1, "nothing is left beside it");
    }

    #[test]
    fn no_bit_of_a_backup_can_change_and_no_byte_be_missing() {
        let folder = tempfile::tempdir().unwrap();
        let path = written(folder.path());
        let good = std::fs::read(&path).unwrap();
        for at in 0..good.len() {
            for bit in 0..8 {
                let mut bytes = good.clone();
                bytes[at] ^= 1 << bit;
                std::fs::write(&path, &bytes).unwrap();
                assert!(Checked::open(&path).is_err(), "byte {at} bit {bit}: {}", String::from_utf8_lossy(&bytes));
            }
            std::fs::write(&path, &good[..at]).unwrap();
            assert!(Checked::open(&path).is_err(), "cut off behind {at} bytes");
        }
        std::fs::write(&path, [&good[..], b"\n"].concat()).unwrap();
        assert!(Checked::open(&path).is_err());
    }

    #[test]
    fn half_a_backup_is_none_and_leaves_the_one_before() {
        let folder = tempfile::tempdir().unwrap();
        let path = written(folder.path());
        let before = std::fs::read(&path).unwrap();
        let mut writer = Writer::create(&path, newest_migration()).unwrap();
        writer.table("plan", 1).unwrap();
        drop(writer);
        assert_eq!(std::fs::read(&path).unwrap(), before);
        assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 1);
    }
}
