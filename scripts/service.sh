# A systemd user unit that starts Dense Brick at login and again when it fails. Sourced.

service=dense-brick.service

# As a word of a unit file: quoted, with what systemd would read as its own doubled (systemd.service(5), systemd.syntax(7)).
unit_word() {
  local word=${1//\\/\\\\}
  word=${word//\"/\\\"}
  printf '"%s"' "${word//%/%%}"
}

unit_text() { # options of ./start
  local command word
  command=$(unit_word "$root/start")
  for word in "$@"; do command+=" $(unit_word "$word")"; done
  cat <<UNIT
[Unit]
Description=Dense Brick, planner for lithium packs

[Service]
# The server says when it listens; ./start may have to build first, which takes minutes.
Type=notify
NotifyAccess=all
TimeoutStartSec=infinity
ExecStart=$command
# ./start ends the server, lets it finish what it writes, then ends the database.
KillMode=mixed
TimeoutStopSec=90
SuccessExitStatus=130 143
Restart=on-failure
RestartSec=5
${DATABASE_URL:+Environment=$(unit_word "DATABASE_URL=$DATABASE_URL")
}
[Install]
WantedBy=default.target
UNIT
}

install_service() { # options of ./start
  local folder="${XDG_CONFIG_HOME:-${HOME:?}/.config}/systemd/user"
  mkdir -p "$folder"
  # It may hold the password of an outside database.
  (umask 077 && unit_text "$@" >"$folder/$service.making")
  mv "$folder/$service.making" "$folder/$service"
  say "Written: $folder/$service"
  if command -v systemctl >/dev/null && systemctl --user daemon-reload 2>/dev/null; then
    systemctl --user enable --now "$service" || die "systemd does not start it; 'journalctl --user -u dense-brick' says why"
    cat <<'DONE'
Dense Brick runs, and will whenever you are logged in.
  what it says:           journalctl --user -u dense-brick
  to end it:              systemctl --user stop dense-brick
  no longer by itself:    systemctl --user disable --now dense-brick
  also while logged out:  loginctl enable-linger
DONE
  else
    cat <<'DONE'
No systemd of yours can be reached from here. Log in as the user it is for, and run
  systemctl --user daemon-reload && systemctl --user enable --now dense-brick
DONE
  fi
}
