//! The private database: a real cluster in a scratch folder, hurt in the ways a workshop's machine is hurt.

use std::fs;
use std::os::unix::fs::PermissionsExt;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use tempfile::TempDir;

/// A copy of the scripts with a cluster of their own, which is ended with it.
struct Workshop(TempDir);

impl Workshop {
    fn open() -> Self {
        let folder = tempfile::tempdir().unwrap();
        fs::set_permissions(folder.path(), fs::Permissions::from_mode(0o755)).unwrap();
        let root = Path::new(env!("CARGO_MANIFEST_DIR")).parent().unwrap();
        fs::create_dir(folder.path().join("scripts")).unwrap();
        for file in fs::read_dir(root.join("scripts")).unwrap().map(|e| e.unwrap().path()).filter(|p| p.is_file()) {
            fs::copy(&file, folder.path().join("scripts").join(file.file_name().unwrap())).unwrap();
        }
        fs::create_dir(folder.path().join("web")).unwrap();
        for file in ["start", "Cargo.toml", "web/package.json"] {
            fs::copy(root.join(file), folder.path().join(file)).unwrap();
        }
        Workshop(folder)
    }

    fn data(&self) -> PathBuf {
        self.0.path().join("data")
    }

    /// Runs lines of bash after the scripts were read in; `$data` is the cluster's folder.
    fn bash(&self, lines: &str) -> Output {
        let script = format!("source scripts/common.sh\ndata='{}'\n{lines}", self.data().display());
        Command::new("bash").arg("-c").arg(script).current_dir(self.0.path()).output().unwrap()
    }

    fn says(&self, lines: &str) -> String {
        let output = self.bash(lines);
        let text = String::from_utf8_lossy(&output.stdout).trim().to_owned();
        assert!(output.status.success(), "{text} {}", String::from_utf8_lossy(&output.stderr));
        text.lines().last().unwrap_or_default().to_owned()
    }
}

impl Drop for Workshop {
    fn drop(&mut self) {
        if self.data().exists() {
            // What has ended already needs no ending.
            let _ = self.bash("stop_cluster \"$data\"");
        }
    }
}

#[test]
fn a_left_over_pid_file_stops_nobody_and_ends_nobody() {
    let workshop = Workshop::open();
    workshop.says("make_cluster \"$data\" \"$state/password\"");
    // Another process of the database's user, which is what PostgreSQL itself would believe.
    let told = workshop.says(
        "as_db bash -c 'echo $$; exec sleep 60' >pid 2>/dev/null & sleep 0.5; other=$(cat pid)
         printf '%s\\n%s\\n1\\n5999\\n' \"$other\" \"$data\" >\"$data/postmaster.pid\"
         cluster_runs \"$data\" && echo 'believed'
         port=$(start_cluster \"$data\"); stop_cluster \"$data\"
         kill -0 \"$other\" && [ \"$port\" -lt 32768 ] && echo \"lives\"; kill \"$other\"",
    );
    assert_eq!(told, "lives");
}

#[test]
fn a_database_that_was_killed_comes_back_where_it_was() {
    let workshop = Workshop::open();
    let told = workshop.says(
        "make_cluster \"$data\" \"$state/password\"; port=$(start_cluster \"$data\")
         make_database \"$port\" \"$state/password\" brick; make_database \"$port\" \"$state/password\" brick
         keep_cluster \"$data\" \"$port\" & keeper=$!
         kill -9 \"$(as_db sed -n 1p \"$data/postmaster.pid\")\"
         for _ in $(seq 300); do
           if [ \"$(PGPASSWORD=$(cat \"$state/password\") \"$(pg_bin)/psql\" -h 127.0.0.1 -p \"$port\" -U app -d brick -At \
             -c 'show data_checksums' 2>/dev/null || true)\" = on ]; then echo back; break; fi
           sleep 0.1
         done
         kill \"$keeper\"",
    );
    assert_eq!(told, "back");
}

#[test]
fn the_program_owns_its_database_and_may_nothing_else() {
    let workshop = Workshop::open();
    let told = workshop.says(
        "make_cluster \"$data\" \"$state/password\"; port=$(start_cluster \"$data\")
         make_database \"$port\" \"$state/password\" brick_data
         # As an older version left it: tables of the cluster's own role.
         as_admin \"$port\" \"$state/password\" brick_data <<<'create table plan (id int); insert into plan values (7)'
         give_to_program \"$port\" \"$state/password\" brick_data; give_to_program \"$port\" \"$state/password\" brick_data
         as_program() { \"$(pg_bin)/psql\" -q -At -c \"$1\" \"$(database_url \"$port\" \"$state/password\" brick_data \"$program_role\")\"; }
         as_program 'create schema dense_brick; alter table public.plan set schema dense_brick'
         if as_program 'create role more' 2>/dev/null; then echo 'may make roles'; exit; fi
         if as_program \"copy (select 1) to '/tmp/dense-brick-written'\" 2>/dev/null; then echo 'may write files'; exit; fi
         as_program \"select id || ',' || (select rolsuper from pg_roles where rolname = current_user) from dense_brick.plan\"",
    );
    assert_eq!(told, "7,false");
}

#[test]
fn a_cluster_is_made_whole_or_not_at_all() {
    let workshop = Workshop::open();
    workshop
        .says("mkdir -p \"$data.making/base\"; make_cluster \"$data\" \"$state/password\"; [ ! -e \"$data.making\" ]");
    assert!(
        workshop.data().join("PG_VERSION").exists()
            || workshop.says("as_db cat \"$data/PG_VERSION\"").parse::<u32>().is_ok()
    );
}

#[test]
fn two_starts_at_once_do_not_build_over_each_other() {
    let workshop = Workshop::open();
    let output =
        workshop.bash("exec 9>\"$state/start.lock\"; flock 9; exec 9>&-; (flock 8; ./start) 8>\"$state/start.lock\"");
    let text = String::from_utf8_lossy(&output.stderr);
    assert!(!output.status.success() && text.contains("another ./start is at work"), "{text}");
    let output = workshop.bash("./start --stop");
    assert!(output.status.success());
}
