//! The rules: each compares figures across rooms and tells what it finds. One file a stage.
//!
//! A rule fires only on what is known; what is still open is never a stop. Equal to a limit passes.

mod arrival;
mod brick;
mod cells;
mod charge_fuse;
mod charging;
mod contacts;
mod converter;
mod device;
mod feed;
mod fuse;
mod holders;
mod host;
mod laid;
mod leads;
mod levelling;
mod polarity;
mod protection;
mod readings;
mod run;
mod sharing;
mod supply;
mod voltage;
mod wiring;

pub use readings::is_damning;

use super::finding::Finding;
use super::findings::Findings;
use super::workspace::Workspace;

/// What the rules of the voltage stage find on a bench, in no order.
pub fn check_volts(workspace: &Workspace<'_>) -> Vec<Finding> {
    let mut f = Findings::over(workspace);
    voltage::check(&mut f);
    converter::check(&mut f);
    feed::check(&mut f);
    f.into_found()
}

/// Everything the rules find on a bench, stops first.
pub fn check(workspace: &Workspace<'_>) -> Vec<Finding> {
    let mut f = Findings::over(workspace);
    all(&mut f);
    f.into_sorted()
}

/// The same in no order and without reasons, for one who only asks which findings there are.
pub fn check_briefly(workspace: &Workspace<'_>) -> Vec<Finding> {
    let mut f = Findings::brief(workspace);
    all(&mut f);
    f.into_found()
}

/// What the rules find in the geometry of the brick and its compartment, in no order.
pub fn check_layout(workspace: &Workspace<'_>) -> Vec<Finding> {
    let mut f = Findings::over(workspace);
    laid::check(&mut f);
    sharing::check(&mut f);
    f.into_found()
}

fn all(f: &mut Findings<'_, '_>) {
    device::check(f);
    voltage::check(f);
    converter::check(f);
    feed::check(f);
    cells::check(f);
    holders::check(f);
    brick::check(f);
    protection::check(f);
    fuse::check(f);
    arrival::check(f);
    charging::check(f);
    charge_fuse::check(f);
    supply::check(f);
    host::check(f);
    polarity::check(f);
    readings::check(f);
    levelling::check(f);
    wiring::check(f);
    leads::check(f);
    run::check(f);
}

#[cfg(test)]
mod tests {
    use std::collections::HashSet;
    use std::path::Path;

    use regex::Regex;

    use crate::assess::figures;

    /// A slip in the id of a figure would read "unknown" in the sentence, on the screen of someone with a hot battery.
    #[test]
    fn every_figure_that_a_sentence_names_is_one_that_a_stage_enters() {
        let known: HashSet<&str> = figures::all().into_iter().map(|d| d.id).collect();
        // No format string of Rust has a point in a name, so that whatever has one is a figure.
        let named = Regex::new(r"\{(?P<id>[a-z_]+\.[a-z0-9_]+)(?:@[^}]*)?\}").unwrap();
        let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/assess/rules");
        let mut looked_at = 0;
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            let text = std::fs::read_to_string(&path).unwrap();
            for found in named.captures_iter(&text) {
                assert!(known.contains(&found["id"]), "{}: {}", path.display(), &found["id"]);
                looked_at += 1;
            }
        }
        assert!(looked_at > 150, "{looked_at} figures were found in sentences");
    }
}
