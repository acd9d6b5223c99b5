//! The command line, without a database.

use std::process::{Command, Output};

fn run(arguments: &[&str]) -> Output {
    let mut command = Command::new(env!("CARGO_BIN_EXE_dense-brick"));
    command.args(arguments).env_remove("DATABASE_URL").output().unwrap()
}

fn demo(name: &str) -> String {
    format!("{}/../demo/plans/{name}", env!("CARGO_MANIFEST_DIR"))
}

#[test]
fn assess_prints_the_assessment_as_json() {
    let out = run(&["assess", &demo("hedge-shears.brick.json")]);
    assert!(out.status.success() && out.stderr.is_empty());
    let told: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
    assert_eq!(told["nameplate"]["counts"], "4S2P");
    assert_eq!(told["findings"][0]["severity"], "stop");
}

#[test]
fn what_cannot_be_read_is_said_on_stderr_with_a_failing_code() {
    let folder = std::env::temp_dir().join(format!("dense-brick-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let damaged = folder.join("damaged.brick.json");
    let text = std::fs::read_to_string(demo("bait-boat.brick.json")).unwrap();
    std::fs::write(&damaged, text.replacen("\"series\": 4", "\"series\": 99", 1)).unwrap();
    for (path, told) in [(damaged.to_str().unwrap(), "/packs/0/series"), ("no-such-file.brick.json", "no-such-file")] {
        let out = run(&["assess", path]);
        let said = String::from_utf8(out.stderr).unwrap();
        assert!(!out.status.success() && out.stdout.is_empty());
        assert!(said.contains(told), "{said}");
    }
    std::fs::remove_dir_all(folder).unwrap();
}

#[test]
fn serving_without_a_database_says_what_is_missing() {
    let out = run(&["serve"]);
    assert!(!out.status.success());
    assert!(String::from_utf8(out.stderr).unwrap().contains("--database-url"));
}

#[test]
fn the_committed_schema_is_current_takes_every_plan_and_refuses_what_is_none() {
    let out = run(&["schema"]);
    let now = String::from_utf8(out.stdout).unwrap();
    let kept = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../docs/plan.schema.json")).unwrap();
    assert!(kept == now, "docs/plan.schema.json is stale: cargo run -p dense-brick -- schema > docs/plan.schema.json");

    let schema = jsonschema::draft202012::new(&serde_json::from_str(&now).unwrap()).unwrap();
    let mut plans = vec![];
    for file in std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/plans")).unwrap() {
        let text = std::fs::read_to_string(file.unwrap().path()).unwrap();
        plans.push(serde_json::from_str::<serde_json::Value>(&text).unwrap());
    }
    plans.push(serde_json::to_value(brick_core::Plan::blank("Kite reel")).unwrap());
    for plan in &plans {
        let faults: Vec<_> = schema.iter_errors(plan).map(|e| e.to_string()).collect();
        assert!(faults.is_empty(), "{}: {faults:?}", plan["name"]);
    }
    let spoil = |pointer: &str, value: serde_json::Value| {
        let mut plan = plans[0].clone();
        *plan.pointer_mut(pointer).unwrap() = value;
        schema.is_valid(&plan)
    };
    assert!(!spoil("/version", serde_json::json!(99)));
    assert!(!spoil("/packs/0/series", serde_json::json!("four")));
    assert!(!spoil("/environment", serde_json::json!({"use_min_c": 0.0})));
    assert!(!spoil("/device", serde_json::json!({"kind": "kitchen"})));
}

#[test]
fn every_command_explains_itself() {
    for arguments in
        [&["--help"][..], &["assess", "--help"], &["serve", "--help"], &["backup", "--help"], &["restore", "--help"]]
    {
        let out = run(arguments);
        assert!(out.status.success(), "{arguments:?}");
        assert!(String::from_utf8(out.stdout).unwrap().contains("Usage: dense-brick"), "{arguments:?}");
    }
    let out = run(&["kitchen"]);
    assert!(!out.status.success() && out.stdout.is_empty() && !out.stderr.is_empty());
}
