//! Makes Cargo notice new migrations, which are read at build time, and names the rules that are built in.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::{Path, PathBuf};

fn main() -> std::io::Result<()> {
    println!("cargo:rerun-if-changed=migrations");
    // A summary that was stored is of the rules that made it: other rules, another summary.
    let mut files = vec![];
    for folder in ["../core/src", "../core/data"] {
        println!("cargo:rerun-if-changed={folder}");
        collect(Path::new(folder), &mut files)?;
    }
    files.sort();
    let mut hash = DefaultHasher::new();
    for file in files {
        std::fs::read(file)?.hash(&mut hash);
    }
    println!("cargo:rustc-env=BRICK_RULES={:016x}", hash.finish());
    Ok(())
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> std::io::Result<()> {
    for entry in std::fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            collect(&path, files)?;
        } else {
            files.push(path);
        }
    }
    Ok(())
}
