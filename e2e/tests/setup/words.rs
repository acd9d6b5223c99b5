//! How the program speaks: no word of the list on the left comes back into a text that a maker reads. The word to say instead stands on
//! the right of each; what is allowed all the same is named one by one.

use std::fs;
use std::path::{Path, PathBuf};

use proc_macro2::{TokenStream, TokenTree};
use regex::Regex;
use serde_json::Value;

/// What is not said, as a pattern, and what is said instead.
const NOT_SAID: &[(&str, &str)] = &[
    (r"\bfor good\b", "continuously, permanently"),
    (r"\bfor ever\b", "continuously"),
    (r"\blasting (current|load)", "continuous"),
    (r"\bbears?\b|\bborne\b", "is rated for, is limited to, withstands"),
    (r"\breckon\w*", "calculate"),
    (r"\banew\b", "again"),
    (r"\bbrains\b", "electronics"),
    (r"\bwants\b|\bwant waking\b", "needs"),
    (r"\b[Nn]obody\b|\b[Ss]omebody\b", "name who, or say it without"),
    (r"\b[Gg]ive out\b", "export"),
    (r"\b[Tt]ak(e|es|en|ing) in (a|the|from)\b", "import"),
    (r"\bcell bench\b|\bbox of cells\b", "cell stock"),
    (r"\bleaks? back\b", "reverse leakage"),
    (r"\bdrain at rest\b|\bfor itself\b", "standby drain"),
    (r"\ba watt\b|\bK(elvin)? a\b", "K/W, per watt"),
    (r"(\bV|mV|\bA|mA|Ah|Ω|\}) an? (cell|group|metre|day|month|hour)\b", "per cell, per day"),
    (r"\bhead[ -]room\b", "headroom"),
    (r"\bset point\b", "set-point"),
    (r"\bworks from\b", "minimum input voltage"),
    (r"\bshould read\b", "predicted, should show"),
    (r"\b[Ff]ellows?\b", "the others, partner"),
    (r"\b[Oo]ver-(charg|current)", "overcharge, overcurrent"),
    (r"\bcount(s|ed)? on\b", "use"),
    (r"\bway round the board\b", "trickle path"),
    (r"\blives? between\b", "voltage range"),
    (r"\bon-resistance of one\b", "on-resistance per MOSFET"),
    (r"\btaking apart\b", "disassembly"),
];

/// Volts beside a number, a column of that name and words a seller's text is read by are allowed; as a quantity's name they are not.
const VOLTS: &str = r"(?i:\b(battery|pack|cell|full|empty|end|nominal|loaded|lowest|highest|equal|the|of|what|which|few|more|constant|fixed|DC|supply|charge|cut-off|their|its) volts\b)|^Volts\b";

/// Texts in which a word stands that is allowed there.
const ALLOWED: &[&str] = &[
    // The error's field, not a quantity: the column of that name.
    "volts: nothing",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().expect("a folder above").to_owned()
}

fn files(folder: &Path, ending: &str, into: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder").flatten() {
        let path = entry.path();
        if path.is_dir() {
            files(&path, ending, into);
        } else if path.to_string_lossy().ends_with(ending) {
            into.push(path);
        }
    }
}

fn all(folder: &str, ending: &str) -> Vec<PathBuf> {
    let mut found = vec![];
    files(&root().join(folder), ending, &mut found);
    found.sort();
    found
}

fn read(path: &Path) -> String {
    fs::read_to_string(path).expect("a file of this project")
}

/// Every text in quotes of Rust code without its tests; with `docs` the documentation of items, too, which clap prints as help.
fn quoted(tokens: TokenStream, docs: bool, into: &mut Vec<String>) {
    let mut tests = false;
    let mut attribute = false;
    for token in tokens {
        match token {
            TokenTree::Ident(ident) => tests = ident == "tests" || (tests && ident == "mod"),
            TokenTree::Group(group) if !tests => {
                let is_doc = attribute && group.stream().to_string().starts_with("doc =");
                if !is_doc || docs {
                    quoted(group.stream(), docs, into);
                }
            }
            TokenTree::Group(_) => tests = false,
            TokenTree::Literal(literal) => {
                if let Ok(Value::String(text)) = serde_json::from_str(&literal.to_string().replace("\\'", "'")) {
                    into.push(text);
                }
            }
            TokenTree::Punct(punct) => {
                attribute = punct.as_char() == '#' || (attribute && punct.as_char() == '!');
                continue;
            }
        }
        attribute = false;
    }
}

/// What a page shows: what stands between its tags, and everything in quotes that has a space in it.
fn shown(source: &str) -> Vec<String> {
    let comment =
        Regex::new(r"(?s:<!--.*?-->|/\*.*?\*/|<style.*?</style>)|(?m:^\s*//[^\n]*$| // [^\n]*$)").expect("a pattern");
    let text =
        Regex::new(r#"(?s)>([^<>{}]+)<|"([^"\n]* [^"\n]*)"|'([^'\n]* [^'\n]*)'|`([^`]* [^`]*)`|\}\}([^<>{}]+)[<{]"#)
            .expect("a pattern");
    let bare = comment.replace_all(source, "");
    // What is computed stands between signs that no sentence has.
    let code = Regex::new(r"[={}]|\(\)|\?\.|&&|\|\||^\w+\.|\) in ").expect("a pattern");
    let filled = Regex::new(r"\$\{[^}]*\}").expect("a pattern");
    let texts = text.captures_iter(&bare).filter_map(|c| c.iter().skip(1).flatten().next());
    texts.map(|m| filled.replace_all(m.as_str(), "…").into_owned()).filter(|text| !code.is_match(text)).collect()
}

/// Every description in the document of the API.
fn described(value: &Value, into: &mut Vec<String>) {
    match value {
        Value::Object(fields) => {
            for (key, value) in fields {
                match value {
                    Value::String(text) if key == "description" || key == "summary" => into.push(text.clone()),
                    value => described(value, into),
                }
            }
        }
        Value::Array(values) => values.iter().for_each(|value| described(value, into)),
        _ => {}
    }
}

/// The running text of a page in Markdown.
fn prose(source: &str) -> String {
    Regex::new(r"(?s)```.*?```|`[^`]*`|(?m)^    .*$").expect("a pattern").replace_all(source, "").into_owned()
}

/// Everything a maker may read, with where it comes from.
fn texts() -> Vec<(String, String)> {
    let mut found = vec![];
    let mut add = |path: &Path, texts: Vec<String>| {
        let from = path.strip_prefix(root()).unwrap_or(path).display().to_string();
        found.extend(texts.into_iter().map(|text| (from.clone(), text)));
    };
    for path in [all("core/src", ".rs"), all("server/src", ".rs")].concat() {
        let (store, cli) = (path.to_string_lossy().contains("/store/"), path.to_string_lossy().contains("/cli/"));
        let tokens: TokenStream = read(&path).parse().expect("Rust");
        let mut texts = vec![];
        quoted(tokens, cli, &mut texts);
        // What is asked of the database, and patterns a seller's text is read by, are read by no maker.
        texts.retain(|text| !store || !text.contains(" from "));
        texts.retain(|text| !text.contains(r"\b") && !text.contains('|') && text.contains(' '));
        add(&path, texts);
    }
    for path in [all("web/src", ".vue"), all("web/src", ".ts")].concat() {
        if !path.to_string_lossy().ends_with(".test.ts") && !path.ends_with("api/schema.d.ts") {
            add(&path, shown(&read(&path)));
        }
    }
    let api = root().join("openapi.json");
    let mut texts = vec![];
    described(&serde_json::from_str(&read(&api)).expect("JSON"), &mut texts);
    add(&api, texts);
    for path in [all("docs", ".md"), vec![root().join("README.md"), root().join("CONTRIBUTING.md")]].concat() {
        add(&path, vec![prose(&read(&path))]);
    }
    found
}

#[test]
fn no_text_says_what_the_glossary_says_otherwise() {
    let patterns: Vec<(Regex, &str)> = NOT_SAID
        .iter()
        .chain(&[(VOLTS, "voltage")])
        .map(|(pattern, say)| (Regex::new(pattern).expect("a pattern"), *say))
        .collect();
    let texts = texts();
    let wrong: Vec<String> = texts
        .iter()
        .filter(|(_, text)| !ALLOWED.iter().any(|allowed| text.contains(allowed)))
        .flat_map(|(from, text)| {
            patterns.iter().filter_map(move |(pattern, say)| {
                let found = pattern.find(text)?;
                let around: String = text.chars().take(160).collect::<String>().replace('\n', " ");
                Some(format!("{from}: “{}” ({say}): {around}", found.as_str()))
            })
        })
        .collect();
    assert!(texts.len() > 5_000, "{} texts were found", texts.len());
    assert!(wrong.is_empty(), "{} texts:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn texts_are_found_where_a_maker_reads_them() {
    let texts = texts();
    for (from, part) in [
        ("core/src/assess/rules/fuse.rs", "Fuse too large for the wire"),
        ("core/src/assess/figures/cells.rs", "Continuous current of the cells"),
        ("web/src/plans/PlansView.vue", "Lithium cells burn."),
        ("server/src/cli/mod.rs", "Needs no database."),
        ("openapi.json", "Cells in series"),
        ("README.md", "multi-cell lithium pack"),
    ] {
        assert!(texts.iter().any(|(of, text)| of == from && text.contains(part)), "{from}: {part}");
    }
    // What the tests of a file say is no text of the program.
    assert!(!texts.iter().any(|(_, text)| text.contains("the smaller pack ends a run in series")));
}
