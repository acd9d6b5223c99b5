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
