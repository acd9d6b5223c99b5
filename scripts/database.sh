# A private PostgreSQL cluster on loopback. Sourced.

port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

free_port() { # first free one from $1 on
  local port=$1
  while ! port_free "$port"; do port=$((port + 1)); done
  printf '%s\n' "$port"
}

# The database refuses root: as root everything of it runs as postgres. It does not keep the lock of ./start open.
as_db() {
  if [ "$(id -u)" -eq 0 ]; then
    (cd / && setpriv --reuid=postgres --regid=postgres --init-groups --reset-env -- "$@" 9>&-)
  else
    "$@" 9>&-
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

# Makes a cluster in folder $1 with the password in file $2, pages with checksums. Made beside and moved into place,
# so that a half-made one is never mistaken for a good one.
make_cluster() {
  local data=$1 secret=$2 making="$1.making" given
  rm -rf "$making"
  mkdir -p "$making"
  chmod 700 "$making"
  (umask 077 && od -An -N24 -tx1 /dev/urandom | tr -d ' \n' >"$secret")
  given=$(mktemp)
  cat "$secret" >"$given"
  if [ "$(id -u)" -eq 0 ]; then chown postgres "$making" "$given"; fi
  step "Making the database" "Is there room on the disk?" as_db "$(pg_bin)/initdb" -D "$making" -U app -E UTF8 \
    --locale=C.UTF-8 --data-checksums --auth=scram-sha-256 --pwfile="$given"
  rm -f "$given"
  mv "$making" "$data"
}

cluster_port() { as_db sed -n 4p "$1/postmaster.pid" 2>/dev/null; }

# Processes that work in folder $1, which the server and its helpers do.
cluster_processes() {
  as_db bash -c 'for p in /proc/[0-9]*; do if [ "$(readlink "$p/cwd")" = "$1" ]; then echo "${p#/proc/}"; fi; done' \
    - "$(as_db realpath "$1")" 2>/dev/null || true
}

# Does the server of folder $1 run? Its pid file may be left over from a crash and name a process of somebody else.
cluster_runs() {
  local pid
  pid=$(as_db sed -n 1p "$1/postmaster.pid" 2>/dev/null) || return 1
  [ -n "$pid" ] && cluster_processes "$1" | grep -qx "$pid"
}

cluster_start() { # folder, port, options of the server
  local data=$1 port=$2
  shift 2
  # PostgreSQL believes any living process that a left-over file names; here nothing works in the folder any more.
  if [ -z "$(cluster_processes "$data")" ]; then as_db rm -f "$data/postmaster.pid"; fi
  as_db "$(pg_bin)/pg_ctl" -D "$data" -w -t 120 -s -l "$data/server.log" \
    -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' $*" start >/dev/null 2>&1 </dev/null
}

# Starts the cluster in folder $1, or finds it running; the options behind it go to the server. Prints its port.
start_cluster() {
  local data=$1 port
  shift
  if cluster_runs "$data"; then
    cluster_port "$data"
    return
  fi
  # Below the ports that the system deals out by itself, which from one moment to the next are somebody's.
  port=$(free_port $((15000 + RANDOM % 16000)))
  if ! cluster_start "$data" "$port" "$@"; then
    as_db tail -n 8 "$data/server.log" >&2 || true
    die "the database did not start; the lines above are the last of $data/server.log"
  fi
  printf '%s\n' "$port"
}

# Starts the cluster again, on the port it had, whenever it has ended: killed, or with a full disk that has room again.
keep_cluster() { # folder, port
  local told=
  while sleep 2 && kill -0 "$$" 2>/dev/null; do
    if cluster_runs "$1"; then continue; fi
    if cluster_start "$1" "$2"; then
      printf 'The database had ended; it runs again.\n' >&2
      told=
    elif [ -z "$told" ]; then
      printf 'The database ended and does not start; it is tried again until it does. The last line of %s/server.log:\n' "$1" >&2
      as_db tail -n 1 "$1/server.log" >&2 || true
      told=1
    fi
  done
}

stop_cluster() { if cluster_runs "$1"; then as_db "$(pg_bin)/pg_ctl" -D "$1" -m fast -w -s stop >/dev/null 2>&1 || true; fi; }

database_url() { # port, file with the password, database, role
  printf 'postgres://%s:%s@127.0.0.1:%s/%s\n' "${4:-app}" "$(cat "$2")" "$1" "$3"
}

as_admin() { # port, file with the password, database; SQL on standard input
  PGPASSWORD=$(cat "$2") "$(pg_bin)/psql" -q -h 127.0.0.1 -p "$1" -U app -d "$3" -At -v ON_ERROR_STOP=1 -f -
}

make_database() { # port, file with the password, database
  local found
  found=$(as_admin "$1" "$2" postgres <<<"select 1 from pg_database where datname = '$3'")
  if [ "$found" != 1 ]; then as_admin "$1" "$2" postgres <<<"create database $3"; fi
}

# The role the program works under: it owns its database and may nothing else. What an older version made as the
# cluster's own role is handed over.
program_role=brick
give_to_program() { # port, file with the password, database
  as_admin "$1" "$2" "$3" <<SQL
set client_min_messages = warning;
do \$\$
declare
  thing record;
begin
  if not exists (select from pg_roles where rolname = '$program_role') then
    create role $program_role login nosuperuser nocreatedb nocreaterole;
  end if;
  for thing in
    select nspname, relname from pg_class c join pg_namespace n on n.oid = c.relnamespace
    where relkind in ('r', 'p') and nspname in ('public', 'dense_brick') and pg_get_userbyid(relowner) <> '$program_role'
  loop
    execute format('alter table %I.%I owner to $program_role', thing.nspname, thing.relname);
  end loop;
  if exists (select from pg_namespace where nspname = 'dense_brick') then
    alter schema dense_brick owner to $program_role;
  end if;
end
\$\$;
alter role $program_role password '$(cat "$2")';
alter database $3 owner to $program_role;
SQL
}
