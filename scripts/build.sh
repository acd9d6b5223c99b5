# Builds the front end and the server, each only when something it is made of has changed. Sourced.

web="$root/web"
web_packages_stamp="$web/node_modules/.dense-brick-lock"
web_stamp="$web/dist/.made-of"

# One line that tells the contents of files apart; times do not count, a fresh clone has new ones.
digest() { # files and folders
  find "$@" -type f -print0 | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1
}

web_lock() { (cd "$web" && digest package-lock.json); }

web_packages_due() { [ "$(cat "$web_packages_stamp" 2>/dev/null || true)" != "$(web_lock)" ]; }

web_sources() {
  (cd "$web" && digest src public index.html package.json package-lock.json vite.config.ts compress.mjs tsconfig.json)
}

web_due() { [ "$(cat "$web_stamp" 2>/dev/null || true)" != "$(web_sources)" ]; }

fetch_web_packages() {
  cd "$web"
  npm ci --no-fund --no-audit --loglevel=error
  web_lock >"$web_packages_stamp"
}

# The stamp is written into what is built before that takes its place, so a build that was cut off is no build.
make_web() {
  cd "$web"
  rm -rf dist.making dist.before
  npm run --silent build
  web_sources >dist.making/.made-of
  if [ -d dist ]; then mv dist dist.before; fi
  mv dist.making dist
  rm -rf dist.before
}

need_web_packages() {
  web_packages_due || return 0
  step "Fetching front-end packages" "Is the network there? A proxy is taken from https_proxy, a certificate from SSL_CERT_FILE." \
    fetch_web_packages
}

build_web() {
  need_web_packages
  web_due || return 0
  step "Building the front end" "If you changed it, mend what the lines above name; else report them." make_web
}

# What the next steps are called, for those who wait.
build_ahead() {
  ahead=()
  if web_packages_due; then ahead+=("Fetching front-end packages"); fi
  if web_due; then ahead+=("Building the front end"); fi
  ahead+=("Building the server")
}

# With the examples the same features are chosen as for the tests, so that neither builds over the other.
build_server() {
  [ -x "$root/target/debug/dense-brick" ] || printf 'The server takes longest: 10 to 20 minutes on two cores, the first time.\n'
  step "Building the server" "If you changed it, mend what the lines above name. If the disk is full or the network was away, run this again." \
    run_cargo build --workspace --bins --examples
}

# Cargo with its count of crates, also where no terminal is, for the one who waits.
run_cargo() { # arguments
  cd "$root"
  CARGO_TERM_COLOR=never CARGO_TERM_PROGRESS_WHEN=always CARGO_TERM_PROGRESS_WIDTH=100 cargo "$@"
}

# Cargo for those who change it: the rules are not optimized, and so built in a third of the time. Dependencies are shared
# with ./start and ./test; what is built of the workspace stands beside theirs.
quick_cargo() { # arguments
  cd "$root"
  cargo --config 'profile.dev.package.brick-core.opt-level=0' "$@"
}

# Compiler and clippy warn; ./test takes no warning. Cargo repeats the warnings of what it did not build anew.
no_warnings() { # name of the step that built
  local log
  log=$(step_log "$1")
  if grep -qE '^warning: .* generated [0-9]+ warnings?' "$log"; then
    grep -B 2 -A 12 -E '^(warning|error)' "$log" | grep -v '^ *Building \[' | head -n 60 >&2
    die "warnings of compiler or clippy; all of them: $log"
  fi
}
