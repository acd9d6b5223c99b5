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

/// A table in a file that goes with the test.
fn with_table(name: &str, text: &str, test: impl FnOnce(&str)) {
    let folder = std::env::temp_dir().join(format!("dense-brick-{name}-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let file = folder.join("cells.csv");
    std::fs::write(&file, text).unwrap();
    test(file.to_str().unwrap());
    std::fs::remove_dir_all(folder).unwrap();
}

/// One of the cases of reference/grouping: 12 cells of one model into 4S3P, best spread 7 mAh by full enumeration.
#[test]
fn group_prints_the_groups_of_a_table_as_json() {
    let cases = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../reference/grouping/instances.json"));
    let cases: serde_json::Value = serde_json::from_str(&cases.unwrap()).unwrap();
    let case = cases["instances"].as_array().unwrap().iter().find(|c| c["id"] == "a_4s3p").unwrap();
    let mut text = "label;capacity_mah;colour\n".to_owned();
    for (i, mah) in case["capacities_mah"].as_array().unwrap().iter().enumerate() {
        text += &format!("C{i};{mah};blue\n");
    }
    with_table("group", &text, |file| {
        let run_with = |more: &[&str]| {
            let out = run(&[&["group", file, "--series", "4", "--parallel", "3"], more].concat());
            assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
            serde_json::from_slice::<serde_json::Value>(&out.stdout).unwrap()
        };
        let told = run_with(&[]);
        assert_eq!((&told["spread_mah"], &told["weakest_mah"]), (&serde_json::json!(7.0), &serde_json::json!(6401.0)));
        let groups = told["groups"].as_array().unwrap();
        let mut labels: Vec<&str> =
            groups.iter().flat_map(|g| g.as_array().unwrap()).map(|l| l.as_str().unwrap()).collect();
        assert!(groups.len() == 4 && groups.iter().all(|g| g.as_array().unwrap().len() == 3));
        labels.sort_unstable();
        labels.dedup();
        assert_eq!(labels.len(), 12);
        assert_eq!(told["unused_columns"], serde_json::json!(["colour"]));
        assert_eq!(run_with(&["--seed", "7"])["groups"], run_with(&["--seed", "7"])["groups"]);
        assert_eq!(run_with(&["--weights", "capacity=2"])["terms"][0]["weight_share"], 2.0);
        for (more, words) in [
            (&["--weights", "colour=1"][..], "weights are capacity"),
            (&["--weights", "capacity"], "name=weight"),
            (&["--weights", "capacity=-1"], "Weight"),
            (&["--chemistry", "alkaline"], "li_fe_po4"),
        ] {
            let out = run(&[&["group", file, "--series", "4", "--parallel", "3"], more].concat());
            assert!(!out.status.success() && out.stdout.is_empty());
            let said = String::from_utf8(out.stderr).unwrap();
            assert!(said.contains(words), "{said}");
        }
        let out = run(&["group", file, "--series", "5", "--parallel", "3"]);
        assert!(!out.status.success());
        assert!(String::from_utf8(out.stderr).unwrap().contains("15 cells are needed; 12 can be chosen"));
    });
    with_table("group-bad", "label,capacity_mah\nA,many\nB,2000\nB,2000\n", |file| {
        let out = run(&["group", file, "--series", "1", "--parallel", "1"]);
        let said = String::from_utf8(out.stderr).unwrap();
        assert!(!out.status.success() && out.stdout.is_empty());
        assert!(said.contains("line 2: ") && said.contains("line 4: "), "{said}");
    });
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

/// Two pins of the tap plug exchanged: their readings against the plug's minus are those of each other.
#[test]
fn diagnose_prints_the_likeliest_faults_and_what_to_read_next() {
    let plan = demo("hedge-shears.brick.json");
    let told = |readings: &str, more: &[&str]| {
        let mut out = None;
        with_table("diagnose", readings, |file| out = Some(run(&[&["diagnose", &plan, file], more].concat())));
        let out = out.unwrap();
        let words = String::from_utf8(out.stderr).unwrap();
        (serde_json::from_slice::<serde_json::Value>(&out.stdout).ok(), words)
    };
    let header = "red,black,condition,volts\n";
    let (found, words) = told(&format!("{header}B4,Pm,rest,15.9\nT2,T0,rest,3.98\n"), &[]);
    let found = found.unwrap_or_else(|| panic!("{words}"));
    assert_eq!((&found["hypotheses"][0]["fault"], &found["hypotheses"][0]["at"]), (&"taps_swapped".into(), &1.into()));
    assert!(found["hypotheses"][0]["cure"].as_str().unwrap().contains("swap the two pins back"));
    let (open, _) = told(&format!("{header}B4,Pm,rest,15.9\n"), &[]);
    let next = open.unwrap()["next"].clone();
    assert!(next["red"].is_string() && next["black"].is_string() && next["condition"].is_string(), "{next}");
    // What is seen weighs beside what is read.
    let share = |found: serde_json::Value, fault: &str| {
        let all = found["hypotheses"].as_array().cloned().unwrap();
        all.iter().filter(|h| h["fault"] == fault).filter_map(|h| h["probability"].as_f64()).sum::<f64>()
    };
    let line = format!("{header}B4,Pm,rest,15.9\n");
    let asleep = told(&line, &["--symptom", "flat-after-a-week"]).0.unwrap();
    assert!(share(asleep, "healthy") < share(told(&line, &[]).0.unwrap(), "healthy"));
    // A header alone will do, and so will no table: what is seen and answered leads on.
    let weak = told(header, &["--symptom", "lamp-flickers", "--answer", "feed-voltage=falls"]).0.unwrap();
    assert_eq!(weak["hypotheses"][0]["fault"], "charger_limited");
    assert_eq!(weak["hypotheses"][0]["reasons"][0]["fault"], "supply_limiting");
    let asked = run(&["diagnose", &plan, "--symptom", "dies-after-seconds"]);
    let asked: serde_json::Value = serde_json::from_slice(&asked.stdout).unwrap();
    assert!(asked["ask"]["says"].is_string() && asked["ask"]["answers"][0]["id"].is_string(), "{}", asked["ask"]);
    for (readings, more, says) in [
        (format!("{header}B9,Pm,rest,15.9\n"), &[][..], "line 2, red: “B9” is no point of this plan"),
        (line.clone(), &["--answer", "setting"][..], "question=answer"),
        (line.clone(), &["--answer", "setting=blue"][..], "“blue” is none of every, strong, weak, unknown"),
        (format!("{header}B4,Pm,warm,15.9\n"), &[][..], "line 2: condition"),
        (format!("{header}B4,Pm,rest,lots\n"), &[][..], "volts"),
        ("red,black,volts\nB4,Pm,15.9\n".to_owned(), &[][..], "condition"),
        (line.clone(), &["--symptom", "hiss"][..], "outdoors"),
    ] {
        let (none, words) = told(&readings, more);
        assert!(none.is_none() && words.contains(says), "{readings}: {words}");
    }
}

#[test]
fn every_command_explains_itself() {
    for arguments in [
        &["--help"][..],
        &["assess", "--help"],
        &["serve", "--help"],
        &["backup", "--help"],
        &["restore", "--help"],
        &["group", "--help"],
        &["diagnose", "--help"],
        &["practice-tester", "--help"],
    ] {
        let out = run(arguments);
        assert!(out.status.success(), "{arguments:?}");
        assert!(String::from_utf8(out.stdout).unwrap().contains("Usage: dense-brick"), "{arguments:?}");
    }
    let out = run(&["kitchen"]);
    assert!(!out.status.success() && out.stdout.is_empty() && !out.stderr.is_empty());
}

#[test]
fn brick_prints_the_arrangements_and_writes_the_sheets() {
    let folder = std::env::temp_dir().join(format!("dense-brick-sheets-{}", std::process::id()));
    let out = run(&["brick", &demo("hedge-shears.brick.json"), "--sheets", folder.to_str().unwrap()]);
    assert!(out.status.success() && out.stderr.is_empty(), "{}", String::from_utf8_lossy(&out.stderr));
    let told: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
    assert_eq!(told["options"][0]["name"], "4 × 2, upright");
    for name in ["face-top", "face-bottom", "holes-handle", "label"] {
        let text = std::fs::read_to_string(folder.join(format!("{name}.svg"))).unwrap();
        assert!(text.contains("id=\"rule\""), "{name}");
    }
    std::fs::remove_dir_all(&folder).unwrap();
}

/// A plan whose cell is still open cannot be laid out: said on stderr, nothing written.
#[test]
fn brick_says_what_must_be_known_first() {
    let text = std::fs::read_to_string(demo("hedge-shears.brick.json")).unwrap();
    let mut plan: serde_json::Value = serde_json::from_str(&text).unwrap();
    plan["packs"][0]["cell"] = serde_json::json!({"state": "open"});
    with_table("open-cell", &plan.to_string(), |file| {
        let out = run(&["brick", file]);
        assert!(!out.status.success() && out.stdout.is_empty());
        assert!(String::from_utf8(out.stderr).unwrap().contains("Choose the cell first"));
    });
}

#[test]
fn run_prints_the_answers_and_writes_the_course() {
    let csv = std::env::temp_dir().join(format!("dense-brick-run-{}.csv", std::process::id()));
    let out = run(&["run", &demo("hedge-shears.brick.json"), "--dt", "2", "--csv", csv.to_str().unwrap()]);
    assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    let told: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
    let points = told["points"].as_array().unwrap();
    assert!(told["says"].as_str().unwrap().contains("opens the discharge") && points.len() > 600);
    let text = std::fs::read_to_string(&csv).unwrap();
    std::fs::remove_file(&csv).unwrap();
    assert_eq!(text.lines().count(), points.len() + 1);
    for (dt, told) in [("0", "step_s"), ("900", "0.01 to 60 s")] {
        let out = run(&["run", &demo("hedge-shears.brick.json"), "--dt", dt]);
        let said = String::from_utf8(out.stderr).unwrap();
        assert!(!out.status.success() && out.stdout.is_empty() && said.contains(told), "{said}");
    }
}

/// By hand: 2.5 A through 20 milliohm takes 50 mV at once from 4.0 V on a straight curve from 3.0 to 4.2 V at SOC 5/6; the pair of
/// 10 milliohm and 1000 F adds 25 mV (1 − exp(−t / 10 s)); after 60 s 2.5 × 60 / 9000 of the charge is out.
#[test]
fn cell_run_prints_one_cell_through_a_profile() {
    let cell = r#"{"capacity_ah": 2.5, "soc": 0.8333333333333334, "ocv": [[0, 3.0], [1, 4.2]], "r0_ohm": 0.02, "rc": [[0.01, 1000]],
        "thermal": {"ambient_c": 25, "cell_j_per_k": 45, "cell_jig_w_per_k": 0.5, "jig_j_per_k": 200, "jig_air_w_per_k": 0.5}}"#;
    with_table("cell-run", "duration_s,current_a\n60,2.5\n30,0\n", |profile| {
        let file = std::path::Path::new(profile).with_file_name("cell.json");
        std::fs::write(&file, cell).unwrap();
        let out = run(&["cell-run", file.to_str().unwrap(), profile]);
        assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
        let told: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
        let at = |i: usize, key: &str| told["rows"][i][key].as_f64().unwrap();
        assert!((at(0, "voltage_v") - 3.95).abs() < 1e-12);
        let soc = 5.0 / 6.0 - 2.5 * 60.0 / 9000.0;
        let v = 3.0 + 1.2 * soc - 0.05 - 0.025 * (1.0 - (-6.0f64).exp());
        assert!(
            (at(60, "soc") - soc).abs() < 1e-12 && (at(60, "voltage_v") - v).abs() < 1e-9,
            "{}",
            at(60, "voltage_v")
        );
        assert!(at(60, "cell_c") > 25.0 && at(61, "current_a") == 0.0);
        std::fs::write(&file, cell.replace("2.5,", "-2.5,")).unwrap();
        let refused = run(&["cell-run", file.to_str().unwrap(), profile]);
        assert!(String::from_utf8(refused.stderr).unwrap().contains("capacity_ah") && !refused.status.success());
    });
}

/// The file of `reference/life`, which an open library answered with the same models.
#[test]
fn life_prints_what_cells_keep_with_a_band() {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../reference/life");
    let told = std::fs::read_to_string(format!("{folder}/life.csv")).unwrap();
    let out = run(&["life", &format!("{folder}/cases.json")]);
    assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    let text = String::from_utf8(out.stdout).unwrap();
    assert_eq!(text.lines().next(), Some("set,case,day,capacity_share,low,high"));
    let rows: std::collections::HashMap<String, Vec<f64>> = text
        .lines()
        .skip(1)
        .map(|line| {
            let columns: Vec<&str> = line.split(',').collect();
            (columns[..3].join(","), columns[3..].iter().map(|c| c.parse().unwrap()).collect())
        })
        .collect();
    assert_eq!(rows.len(), told.lines().count() - 1);
    for line in told.lines().skip(1) {
        let (key, share) = line.rsplit_once(',').unwrap();
        let [is, low, high] = rows[key][..] else { panic!("{key}") };
        let within = if key.contains("shelf") { 0.02 } else { 0.03 };
        assert!((is - share.parse::<f64>().unwrap()).abs() <= within, "{line}: {is}");
        assert!(low <= is && is <= high);
    }
    let one = run(&["life", &format!("{folder}/cases.json"), "--set", "nmc111_schmalstieg2014"]);
    let one = String::from_utf8(one.stdout).unwrap();
    assert!(one.lines().skip(1).all(|l| l.starts_with("nmc111_schmalstieg2014,")) && one.lines().count() == 144);
    // Only a neighbour's model: said, and wider.
    let kin = run(&["life", &format!("{folder}/cases.json"), "--set", "lco_pouch"]);
    assert!(kin.status.success() && String::from_utf8(kin.stderr).unwrap().contains("no model of its own"));
    let width = |text: &str| -> f64 {
        let of = |l: &str| l.rsplitn(3, ',').take(2).map(|v| v.parse::<f64>().unwrap()).collect::<Vec<_>>();
        text.lines().skip(1).map(|l| of(l)[0] - of(l)[1]).sum()
    };
    assert!(width(&String::from_utf8(kin.stdout).unwrap()) > width(&one));
    let strange = run(&["life", &format!("{folder}/cases.json"), "--set", "granite"]);
    assert!(!strange.status.success());
    assert!(String::from_utf8(strange.stderr).unwrap().contains("nmc111_schmalstieg2014"));
    with_table("life", r#"{"cases": [{"id": "a", "rest_soc": 1.5, "temp_c": 20}]}"#, |file| {
        let out = run(&["life", file]);
        let said = String::from_utf8(out.stderr).unwrap();
        assert!(!out.status.success() && said.contains("a: ") && said.contains("/rest_soc"), "{said}");
    });
}
