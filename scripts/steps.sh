# A step: one command of the set-up, shown while it lasts, its output kept, its failure told. Sourced.

say() { printf '\033[1m%s\033[0m\n' "$*"; }
die() {
  printf 'dense-brick: %s\n' "$*" >&2
  exit 1
}

duration() { # seconds
  if [ "$1" -lt 60 ]; then printf '%s s\n' "$1"; else printf '%s min %s s\n' $(($1 / 60)) $(($1 % 60)); fi
}

logs="$state/logs"
# What has taken how long in this run, and what is still to come: lines of text.
took=()
ahead=()

step_log() { printf '%s/%s.log\n' "$logs" "$(printf '%s' "$1" | tr -cs 'A-Za-z0-9' '-')"; }

# How far the command that writes log $1 is: cargo's own count where there is one.
how_far() {
  tail -c 4000 "$1" 2>/dev/null | tr '\r' '\n' \
    | sed -nE 's|^ *Building \[[^]]*\] ([0-9]+)/([0-9]+): *(.*[^ ]) *$|\1 of \2 built; now \3|p' | tail -n 1
}

# Shows every second on a terminal, else every half minute, how far the step is.
watch_step() { # log
  local began=$SECONDS line last=$SECONDS
  while sleep 1 && kill -0 "$$" 2>/dev/null; do
    line="  $(duration $((SECONDS - began)))  $(how_far "$1")"
    if [ -t 1 ]; then
      printf '\r\033[K%s' "${line:0:$((${COLUMNS:-80} - 1))}"
    elif [ $((SECONDS - last)) -ge 30 ]; then
      last=$SECONDS
      printf '%s\n' "$line"
    fi
  done
}

# Runs one step. What it prints goes to a file in $logs; if it fails, its last lines and the advice are shown and
# everything ends with its exit code. Call it plainly: behind "||", "&&" or "if" bash would ignore failures inside it.
step() { # name, advice, command and arguments
  local name=$1 advice=$2 began=$SECONDS code=0 log watcher next
  shift 2
  log=$(step_log "$name")
  mkdir -p "$logs"
  if [ "${ahead[0]:-}" = "$name" ]; then ahead=("${ahead[@]:1}"); fi
  next=${ahead[0]:+ (next: ${ahead[0]})}
  say "$name$next"
  : >"$log"
  watch_step "$log" 9>&- &
  watcher=$!
  set +e
  (
    set -e
    "$@"
  ) >"$log" 2>&1 </dev/null
  code=$?
  set -e
  kill "$watcher" 2>/dev/null || true
  wait "$watcher" 2>/dev/null || true
  if [ -t 1 ]; then printf '\r\033[K'; fi
  if [ "$code" -ne 0 ]; then
    {
      printf 'dense-brick: "%s" failed (exit code %s). Its last lines:\n\n' "$name" "$code"
      tr '\r' '\n' <"$log" | grep -v '^ *Building \[' | tail -n 15 | sed 's/^/    /'
      printf '\n%s\nEverything it said: %s\n' "$advice" "$log"
    } >&2
    exit "$code"
  fi
  took+=("$name: $(duration $((SECONDS - began)))")
}

# What was done, how long it took, and what the next time will be like; nothing if nothing took long.
sum_up() { # seconds that all of it took
  [ "$1" -ge 20 ] || return 0
  say "Set up in $(duration "$1")."
  printf '  %s\n' "${took[@]}"
  printf 'All of this is kept: without changes the next start takes seconds, and after a change only what has changed is built.\n'
}
