//! Which tools are chosen and fetched, and what a failing step does.

use super::machine::Machine;

/// All but a Node.js.
const BUILDERS: &str = "postgresql gcc cargo-web rustc-web rustfmt-web rust-web-clippy";

fn asked_for(asked: &[String], what: &str) -> bool {
    asked.iter().any(|line| line.contains(what))
}

#[test]
fn a_bare_debian_12_gets_packages_and_a_node_whose_npm_works() {
    let machine = Machine::bare();
    let ended = machine.set_up();
    let asked = machine.asked();
    assert_eq!(ended.code, 0, "{}", ended.text);
    assert!(asked_for(&asked, "install -y -qq --no-install-recommends postgresql gcc libc6-dev cargo-web rustc-web"));
    assert!(asked_for(&asked, "python3-venv") && !asked_for(&asked, " nodejs "), "{asked:?}");
    assert!(asked_for(&asked, "pip -q install --target"), "{asked:?}");
    assert!(asked_for(&asked, "npm ci --no-fund") && asked_for(&asked, "npm run --silent build"), "{asked:?}");
    assert!(asked_for(&asked, "cargo build --workspace --bins --examples"));
    assert!(
        ended.text.contains("next: Building the front end") && ended.text.contains("Set up in 1 min 39 s"),
        "{}",
        ended.text
    );
    assert!(machine.path("project/web/dist/index.html").exists());
}

#[test]
fn a_second_time_nothing_is_fetched_or_built_but_what_changed() {
    let machine = Machine::bare();
    assert_eq!(machine.set_up().code, 0);
    machine.asked();
    assert_eq!(machine.set_up().code, 0);
    // Cargo itself sees that nothing changed.
    assert_eq!(
        machine.asked(),
        ["cargo build --workspace --bins --examples (no certificates, no proxy)"].map(|l| {
            let file = "/etc/ssl/certs/ca-certificates.crt";
            if std::fs::File::open(file).is_ok() { l.replace("no certificates", file) } else { l.to_owned() }
        })
    );
    machine.file("project/web/src/main.ts", "changed");
    machine.set_up();
    let asked = machine.asked();
    assert!(asked_for(&asked, "npm run --silent build") && !asked_for(&asked, "npm ci"), "{asked:?}");
    machine.file("project/web/package-lock.json", "changed");
    machine.set_up();
    let asked = machine.asked();
    assert!(asked_for(&asked, "npm ci --no-fund") && asked_for(&asked, "npm run --silent build"), "{asked:?}");
}

#[test]
fn debians_node_is_taken_where_it_is_new_enough() {
    let machine = Machine::bare();
    machine.file("candidates", "nodejs 20.19.2+dfsg-1\nnpm 9.2.0~ds1-3\n");
    assert_eq!(machine.set_up().code, 0);
    let asked = machine.asked();
    assert!(asked_for(&asked, "nodejs npm") && !asked_for(&asked, "pip"), "{asked:?}");
}

#[test]
fn a_node_that_is_too_old_or_whose_npm_refuses_the_lock_file_gives_way() {
    for (version, refuses) in [("v18.20.4", false), ("v20.19.2", true)] {
        let machine = Machine::bare().having(BUILDERS).having("nodejs npm python3-venv");
        machine.program("bin/node", &format!("echo {version}"));
        if refuses {
            machine.file("npm-refuses", "");
        }
        let ended = machine.set_up();
        assert_eq!(ended.code, 0, "{version}: {}", ended.text);
        let asked = machine.asked();
        assert!(asked_for(&asked, "pip") && !asked_for(&asked, "apt-get"), "{version}: {asked:?}");
    }
    let machine = Machine::bare().having(BUILDERS).having("nodejs npm");
    assert_eq!(machine.set_up().code, 0);
    assert!(!asked_for(&machine.asked(), "pip"));
}

#[test]
fn a_node_without_npm_is_none() {
    let machine = Machine::bare().having(BUILDERS).having("nodejs python3-venv");
    assert_eq!(machine.set_up().code, 0);
    assert!(asked_for(&machine.asked(), "pip"));
}

#[test]
fn without_root_one_line_is_printed_and_nothing_done() {
    let machine = Machine::bare().with("WHO", "1000");
    let ended = machine.set_up();
    assert_eq!(ended.code, 1);
    let lines: Vec<&str> = ended.text.lines().filter(|l| l.contains("apt-get install")).collect();
    assert_eq!(lines.len(), 1, "{}", ended.text);
    assert!(lines[0].contains("sudo apt-get update && sudo apt-get install -y --no-install-recommends postgresql gcc"));
    assert!(machine.asked().is_empty());
    let machine = machine.having(lines[0].split("recommends ").nth(1).unwrap());
    assert_eq!(machine.set_up().code, 0);
}

#[test]
fn an_old_cargo_gives_way_to_a_newer_one_further_on() {
    let machine = Machine::bare().having("postgresql gcc rust-web-clippy python3-venv");
    machine.program("bin/cargo", "echo cargo 1.63.0");
    machine.program("bin/rustc", ":");
    machine.program("home/.cargo/bin/rustc", ":");
    machine.program(
        "home/.cargo/bin/cargo",
        "[ \"$1\" = --version ] && { echo cargo 1.95.0; exit; }; echo newer >>\"$LOG\"",
    );
    let ended = machine.set_up();
    assert_eq!(ended.code, 0, "{}", ended.text);
    assert!(asked_for(&machine.asked(), "newer"));
}

#[test]
fn a_failing_step_ends_all_of_it_and_says_which_and_why() {
    let cases = [
        ("npm-fails", 7, "Fetching front-end packages", "npm ERR! network"),
        ("vite-fails", 3, "Building the front end", "vite: no"),
        ("cargo-fails", 101, "Building the server", "no space left on device"),
        ("pip-fails", 1, "Fetching Node.js", "no route"),
    ];
    for (fault, code, step, words) in cases {
        let machine = Machine::bare();
        machine.file(fault, "");
        let ended = machine.set_up();
        assert_eq!(ended.code, code, "{fault}: {}", ended.text);
        assert!(ended.text.contains(&format!("\"{step}\" failed (exit code {code})")), "{fault}: {}", ended.text);
        assert!(ended.text.contains(words) && ended.text.contains("Everything it said:"), "{fault}: {}", ended.text);
        assert!(!ended.text.contains("Set up in"), "{fault}");
        std::fs::remove_file(machine.path(fault)).unwrap();
        let again = machine.set_up();
        assert_eq!(again.code, 0, "{fault}: half of a step was taken for the whole: {}", again.text);
        assert!(machine.path("project/web/dist/index.html").exists(), "{fault}");
    }
}

#[test]
fn a_front_end_that_does_not_build_leaves_the_one_before() {
    let machine = Machine::bare();
    assert_eq!(machine.set_up().code, 0);
    machine.file("vite-fails", "");
    machine.file("project/web/src/main.ts", "broken");
    assert_eq!(machine.set_up().code, 3);
    assert!(machine.path("project/web/dist/index.html").exists());
}

#[test]
fn packages_that_were_cut_off_are_set_up_first() {
    let machine = Machine::bare();
    machine.file("half-installed", "gcc is not configured\n");
    assert_eq!(machine.set_up().code, 0);
    let asked = machine.asked();
    let at = |what: &str| asked.iter().position(|line| line.contains(what)).unwrap();
    assert!(at("dpkg --configure -a") < at("apt-get install"), "{asked:?}");
}

#[test]
fn certificates_and_proxy_of_the_machine_reach_those_who_fetch() {
    let machine = Machine::bare().with("SSL_CERT_FILE", "/etc/hosts").with("https_proxy", "http://127.0.0.1:9");
    assert_eq!(machine.set_up().code, 0);
    let asked = machine.asked();
    for who in ["npm ci --no-fund", "pip -q install", "cargo build"] {
        let line = asked.iter().find(|l| l.contains(who)).unwrap();
        assert!(line.ends_with("(/etc/hosts, http://127.0.0.1:9)"), "{line}");
    }
}

#[test]
fn what_cargo_counts_is_shown() {
    let machine = Machine::bare();
    let ended = machine.run("source scripts/common.sh; printf '   Compiling a\\n    Building [==>   ] 7/345: a\\r    Building [===>  ] 41/345: serde, syn(build)   \\r' >log; how_far log");
    assert_eq!(ended.text.trim(), "41 of 345 built; now serde, syn(build)");
}

#[test]
fn a_warning_of_the_compiler_fails_the_lints() {
    let machine = Machine::bare();
    let built = |log: &str| {
        machine.file("project/.dense-brick/logs/Building-and-linting-Rust.log", log);
        machine.run("source scripts/common.sh; no_warnings 'Building and linting, Rust'").code
    };
    assert_eq!(
        built("warning: needless borrow\n --> core/src/lib.rs\nwarning: `brick-core` (lib) generated 1 warning\n"),
        1
    );
    assert_eq!(built("   Compiling brick-core\n    Finished `dev` profile\n"), 0);
}
