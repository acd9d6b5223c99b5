//! The house: who uses whom. A room uses those before it, and none is used by one that it uses.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use regex::Regex;

/// Which floors each floor may use.
const FLOORS: [(&str, &[&str]); 11] = [
    ("base", &[]),
    ("plan", &["base"]),
    ("physics", &["base", "plan"]),
    ("parts", &["base", "plan", "physics"]),
    ("stock", &["base", "plan", "physics"]),
    ("assess", &["base", "plan", "physics"]),
    ("advise", &["base", "plan", "physics", "parts", "assess"]),
    ("print", &["base", "plan", "physics", "assess", "advise"]),
    ("diagnose", &["base", "plan", "physics", "assess", "print"]),
    ("years", &["base", "plan", "physics", "assess"]),
    ("build", &["base", "plan", "physics", "assess", "advise", "print", "diagnose"]),
];

type Uses = BTreeMap<String, BTreeSet<String>>;

fn files(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            files(&path, found);
        } else if path.extension().is_some_and(|e| e == "rs") {
            found.push(path);
        }
    }
}

/// Every room (`floor/room`, or the floor itself for its own file) and the rooms that its files name.
fn uses() -> Uses {
    let source = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut found = vec![];
    files(&source, &mut found);
    let room_of = |path: &Path| {
        let mut names: Vec<String> = path
            .strip_prefix(&source)
            .unwrap()
            .with_extension("")
            .iter()
            .map(|n| n.to_str().unwrap().to_owned())
            .collect();
        if names.last().is_some_and(|n| n == "mod") {
            names.pop();
        }
        names
    };
    let rooms: BTreeSet<String> =
        found.iter().map(|p| room_of(p).into_iter().take(2).collect::<Vec<_>>().join("/")).collect();
    let named = Regex::new(r"\bcrate::(\w+)(?:::(\w+))?").unwrap();
    let above = Regex::new(r"\bsuper::((?:super::)*)(\w+)").unwrap();
    let mut uses = Uses::new();
    for path in &found {
        let names = room_of(path);
        if names[0] == "lib" {
            continue;
        }
        let room = names.iter().take(2).cloned().collect::<Vec<_>>().join("/");
        let text = std::fs::read_to_string(path).unwrap();
        let text = text.split("#[cfg(test)]\nmod tests").next().unwrap();
        let lines = text.lines().map(|l| l.split("//").next().unwrap()).collect::<Vec<_>>().join("\n");
        let from_root = named.captures_iter(&lines).map(|c| {
            let (floor, room) = (c[1].to_owned(), c.get(2).map_or("", |m| m.as_str()));
            let full = format!("{floor}/{room}");
            if rooms.contains(&full) { full } else { floor }
        });
        let from_here = above.captures_iter(&lines).filter_map(|c| {
            let up = 1 + c[1].matches("super::").count();
            let mut at: Vec<String> = names[..names.len().checked_sub(up)?].to_vec();
            at.push(c[2].to_owned());
            Some(at.into_iter().take(2).collect::<Vec<_>>().join("/"))
        });
        let all: Vec<String> = from_root.chain(from_here).filter(|r| *r != room && rooms.contains(r)).collect();
        uses.entry(room).or_default().extend(all);
    }
    uses
}

#[test]
fn a_floor_uses_only_those_below_it() {
    for (room, used) in uses() {
        let floor = room.split('/').next().unwrap();
        let (_, may) =
            FLOORS.iter().find(|(name, _)| *name == floor).unwrap_or_else(|| panic!("{room} is on no floor"));
        for other in used {
            let its = other.split('/').next().unwrap();
            assert!(its == floor || may.contains(&its), "{room} uses {other}, which {floor} may not");
        }
    }
}

#[test]
fn no_room_is_used_by_one_that_it_uses() {
    let uses = uses();
    assert!(uses.len() > 60, "{} rooms were found", uses.len());
    for start in uses.keys() {
        let (mut way, mut seen) = (vec![vec![start.clone()]], BTreeSet::new());
        while let Some(here) = way.pop() {
            for next in uses.get(here.last().unwrap()).into_iter().flatten() {
                let mut on = here.clone();
                on.push(next.clone());
                assert!(next != start, "a cycle: {}", on.join(" -> "));
                if seen.insert(next.clone()) {
                    way.push(on);
                }
            }
        }
    }
}

/// The API's document keeps one type a name: of two it would describe only the one that comes last.
#[test]
fn no_two_types_of_the_api_share_a_name() {
    let core = Path::new(env!("CARGO_MANIFEST_DIR"));
    let mut found = vec![];
    files(&core.join("src"), &mut found);
    files(&core.join("../server/src"), &mut found);
    let described = Regex::new(
        r"#\[derive\([^)]*ToSchema[^)]*\)\]((?:\s*#\[[^\n]*\]|\s*///[^\n]*)*)\s*pub(?:\([^)]*\))? (?:struct|enum) (\w+)",
    )
    .unwrap();
    let named = Regex::new(r"schema\([^)]*\bas = (\w+)").unwrap();
    let mut at: BTreeMap<String, PathBuf> = BTreeMap::new();
    for path in found {
        let text = std::fs::read_to_string(&path).unwrap();
        for found in described.captures_iter(&text) {
            let name = named.captures(&found[1]).map_or(found[2].to_owned(), |n| n[1].to_owned());
            if let Some(other) = at.insert(name.clone(), path.clone()) {
                panic!("{name} is in {} and in {}", other.display(), path.display());
            }
        }
    }
    assert!(at.len() > 200, "only {} found", at.len());
}

/// Every sentence of a rule, whether it was ever said in a test or not, names figures that there are.
#[test]
fn every_sentence_names_figures_that_exist() {
    let source = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/assess");
    let (mut figures, mut rules) = (vec![], vec![]);
    files(&source.join("figures"), &mut figures);
    files(&source.join("rules"), &mut rules);
    let defined = Regex::new(r#"= "([a-z_0-9]+\.[a-z_0-9]+)","#).unwrap();
    let known: BTreeSet<String> = figures
        .iter()
        .flat_map(|path| {
            let text = std::fs::read_to_string(path).unwrap();
            defined.captures_iter(&text).map(|found| found[1].to_owned()).collect::<Vec<_>>()
        })
        .collect();
    let named = Regex::new(r"\{([a-z_0-9]+\.[a-z_0-9]+)(?:@[^}]*)?\}").unwrap();
    let (mut seen, mut unknown) = (0, vec![]);
    for path in &rules {
        for found in named.captures_iter(&std::fs::read_to_string(path).unwrap()) {
            seen += 1;
            if !known.contains(&found[1]) {
                unknown.push(format!("{}: {{{}}}", path.display(), &found[1]));
            }
        }
    }
    assert!(seen > 150 && known.len() > 150, "{seen} named, {} defined", known.len());
    assert!(unknown.is_empty(), "{}", unknown.join("\n"));
}
