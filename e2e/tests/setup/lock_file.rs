//! The front end's lock file is whole: npm before 11.5 refuses one that leaves out what an optional package asks for.

use std::path::Path;

use serde_json::Value;

#[test]
fn every_package_that_a_locked_one_asks_for_is_locked() {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../web/package-lock.json");
    let lock: Value = serde_json::from_str(&std::fs::read_to_string(file).unwrap()).unwrap();
    let packages = lock["packages"].as_object().unwrap();
    // A package sees those beside it, and those beside every package it lies in.
    let seen_from = |from: &str, name: &str| {
        let mut folder = Some(from);
        std::iter::from_fn(|| {
            let here = folder?;
            folder =
                if here.is_empty() { None } else { Some(here.rfind("/node_modules/").map_or("", |at| &here[..at])) };
            Some(if here.is_empty() { format!("node_modules/{name}") } else { format!("{here}/node_modules/{name}") })
        })
        .any(|place| packages.contains_key(&place))
    };
    let mut missing = vec![];
    for (place, package) in packages {
        for name in package["dependencies"].as_object().into_iter().flat_map(|d| d.keys()) {
            if !seen_from(place, name) {
                missing.push(format!("{place} asks for {name}"));
            }
        }
    }
    assert_eq!(missing, [""; 0]);
    assert!(packages.len() > 150 && !seen_from("", "no-such-package"));
}
