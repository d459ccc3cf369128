# Shared by the commands: paths, installation of missing packages, starting and stopping processes.
# Sourced by start, test, attic and bench.

ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
NAME=$(printf '%s' "$ROOT" | sha256sum | cut -c1-10)
if [ "$(id -u)" = 0 ]; then
    STATE_HOME=/var/lib/attic-ledger
else
    STATE_HOME=${XDG_DATA_HOME:-$HOME/.local/share}/attic-ledger
fi
# Outside the clone, because PostgreSQL's unprivileged user has to be able to read it.
STATE=${ATTIC_STATE:-$STATE_HOME/$NAME}

export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_GENERATE_ASPNET_CERTIFICATE=false
# No build server stays running after a build.
export MSBUILDDISABLENODEREUSE=1 DOTNET_CLI_USE_MSBUILD_SERVER=0 UseSharedCompilation=false

say() { printf '%s\n' "$*"; }
fail() { printf '%s\n' "$*" >&2; exit 1; }

as_root() {
    if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi
}

# PostgreSQL will not run as root.
as_database_user() {
    if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else (cd / && "$@"); fi
}

apt_install() {
    say "Installing $* …"
    as_root env DEBIAN_FRONTEND=noninteractive apt-get update -qq >/dev/null
    as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null || fail "apt-get could not install $*."
}

need_tools() {
    command -v dotnet >/dev/null || fail "The .NET 10 SDK is missing: install it and try again."
    command -v node >/dev/null || fail "Node.js 20 is missing: install it and try again."
    local missing=()
    command -v curl >/dev/null || missing+=(curl)
    command -v git >/dev/null || missing+=(git)
    command -v setsid >/dev/null || missing+=(util-linux)
    [ ${#missing[@]} = 0 ] || apt_install "${missing[@]}"
}

need_postgres() {
    if ! PG_BIN=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1) || [ ! -x "$PG_BIN/initdb" ]; then
        # Debian's default cluster is never created.
        apt_install postgresql-common
        as_root sed -i 's/^#\?create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf
        apt_install postgresql
        PG_BIN=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
    fi
}

# An independent program for spreadsheets, used only by the tests.
need_office() {
    [ -x /usr/bin/soffice ] || apt_install libreoffice-calc-nogui
}

need_chromium() {
    [ -x /usr/bin/chromium ] || apt_install chromium
}

port_is_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

need_port() {
    port_is_free "$1" || fail "Port $1, for $2, is taken. Free it, or choose another: $3=… ./start"
}

# A free port below those that the system gives to connections: such a one could be taken before it is used.
free_port() {
    node -e 'const server = require("net").createServer();
        const look = () => server.listen(20000 + Math.floor(Math.random() * 12000), "127.0.0.1");
        server.on("error", look).on("listening", () => { console.log(server.address().port); server.close(); });
        look();'
}

# demo_ports: free ports, so that a demo can run beside other installations.
demo_ports() {
    ATTIC_PORT=$(free_port) ATTIC_DATABASE_PORT=$(free_port)
    SLIPWAY_PORT=$(free_port) FRONT_PORT=$(free_port) STAFF_PORT=$(free_port) MAIL_PORT=$(free_port) SMTP_PORT=$(free_port) LANTERN_PORT=$(free_port) QUAY_PORT=$(free_port)
    export ATTIC_PORT ATTIC_DATABASE_PORT
}

secret() { od -An -N24 -tx1 /dev/urandom | tr -d ' \n'; }

# database_make FOLDER: creates a cluster with a superuser, the owner's role and the servers' role, each with its own password.
database_make() {
    local folder=$1
    [ -f "$folder/secrets" ] && return
    mkdir -p "$folder"
    chmod 711 "$folder"
    (umask 077 && printf 'PG_SUPER=%s\nPG_OWNER=%s\nPG_SERVER=%s\n' "$(secret)" "$(secret)" "$(secret)" >"$folder/secrets.new")
    . "$folder/secrets.new"
    rm -rf "$folder/pg"
    mkdir "$folder/pg"
    [ "$(id -u)" != 0 ] || chown postgres: "$folder/pg"
    local pw=$folder/pg.pw
    (umask 077 && printf '%s' "$PG_SUPER" >"$pw")
    [ "$(id -u)" != 0 ] || chown postgres: "$pw"
    as_database_user "$PG_BIN/initdb" -D "$folder/pg" -U attic_super --pwfile="$pw" -A scram-sha-256 -E UTF8 --locale=C.UTF-8 >/dev/null || fail "initdb failed in $folder."
    rm -f "$pw"
    mv "$folder/secrets.new" "$folder/secrets"
}

# database_start FOLDER PORT
database_start() {
    local folder=$1 port=$2
    as_database_user "$PG_BIN/pg_ctl" -D "$folder/pg" status >/dev/null 2>&1 && return
    as_database_user "$PG_BIN/pg_ctl" -D "$folder/pg" -l "$folder/pg/log" -w -t 60 \
        -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=200 ${PG_OPTIONS:-}" start >/dev/null \
        || fail "PostgreSQL did not start; see $folder/pg/log."
    . "$folder/secrets"
    super "$port" postgres <<SQL
do \$\$ begin
    if not exists (select from pg_roles where rolname = 'attic_owner') then
        create role attic_owner login createdb password '$PG_OWNER';
        create role attic_server login password '$PG_SERVER';
    end if;
end \$\$;
select 'create database attic owner attic_owner' where not exists (select from pg_database where datname = 'attic') \gexec
SQL
}

super() {
    PGPASSWORD=$PG_SUPER "$PG_BIN/psql" -q -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$1" -U attic_super "$2" >/dev/null
}

# Checks only the process, because this runs every second.
database_is_up() { [ -f "$1/pg/postmaster.pid" ] && kill -0 "$(head -1 "$1/pg/postmaster.pid")" 2>/dev/null; }

database_stop() {
    as_database_user "$PG_BIN/pg_ctl" -D "$1/pg" -m fast -w stop >/dev/null 2>&1 || true
}

# database_settings FOLDER PORT: sets the connection of the servers' role in the environment.
database_settings() {
    . "$1/secrets"
    export ATTIC_DATABASE="Host=127.0.0.1;Port=$2;Database=attic;Username=attic_server;Password=$PG_SERVER"
}

# as_owner FOLDER PORT COMMAND…: runs a command with the owner's connection. No long-running process ever has it.
as_owner() {
    local folder=$1 port=$2
    shift 2
    (. "$folder/secrets" && ATTIC_OWNER_DATABASE="Host=127.0.0.1;Port=$port;Database=attic;Username=attic_owner;Password=$PG_OWNER" exec "$@")
}

# host_tokens FOLDER: one token for each connected service, created at the first start.
host_tokens() {
    local of
    [ -f "$1/tokens" ] || (umask 077 && for of in SLIPWAY LANTERN QUAY STAFF; do printf 'ATTIC_%s_TOKEN=%s\n' "$of" "$(secret)"; done >"$1/tokens")
    . "$1/tokens"
}

# Whether the files are the same as at the last mark_built. A deleted file counts as a change.
fingerprint() { (cd "$ROOT" && git ls-files -co --exclude-standard -z -- "$@" | { xargs -0 -r sha256sum 2>/dev/null || true; } | sha256sum | cut -c1-40); }
is_built() { [ -f "$ROOT/build/$1" ] && [ "$(cat "$ROOT/build/$1")" = "$(fingerprint "${@:2}")" ]; }
mark_built() { mkdir -p "$ROOT/build"; fingerprint "${@:2}" >"$ROOT/build/$1"; }

BUILD_FILES=(Directory.Build.props Directory.Packages.props global.json .editorconfig)

build_code() {
    is_built code src "${BUILD_FILES[@]}" && [ -f "$ROOT/src/Server/bin/Release/net10.0/AtticLedger.Server.dll" ] && return
    say "Building …"
    mkdir -p "$ROOT/build"
    local project
    for project in Server StandIns Cli; do
        dotnet build "$ROOT/src/$project/$project.csproj" -c Release -v quiet --nologo >"$ROOT/build/log" 2>&1 || { cat "$ROOT/build/log" >&2; fail "The build failed."; }
    done
    mark_built code src "${BUILD_FILES[@]}"
}

need_packages_of_web() {
    is_built packages web/package-lock.json web/.npmrc && [ -d "$ROOT/web/node_modules" ] && return
    say "Installing the web application's packages …"
    (cd "$ROOT/web" && npm ci --no-progress --loglevel=error) || fail "npm ci failed."
    mark_built packages web/package-lock.json web/.npmrc
}

build_web() {
    is_built web web docs/words.md && [ -f "$ROOT/web/dist/index.html" ] && return
    need_packages_of_web
    say "Building the web application …"
    (cd "$ROOT/web" && npm run --silent build -- --logLevel warn) || fail "The web application's build failed."
    mark_built web web docs/words.md
}

# Under root the servers run as a user of their own, who may read the programs and write to their own folders.
SERVICE=attic-ledger
AS_SERVICE=()
PROGRAMS=$ROOT

# programs_for FOLDER: copies the programs to where that user can read them, because the clone may be in root's home.
programs_for() {
    [ "$(id -u)" = 0 ] || return 0
    getent passwd $SERVICE >/dev/null || useradd --system --user-group --no-create-home --shell /usr/sbin/nologin $SERVICE || fail "The user $SERVICE could not be created."
    AS_SERVICE=(env "HOME=$1/home" setpriv "--reuid=$SERVICE" "--regid=$SERVICE" --clear-groups --no-new-privs --)
    PROGRAMS=$1/programs
    "${AS_SERVICE[@]}" test -x "$(readlink -f "$(command -v dotnet)")" || fail "The user $SERVICE cannot reach $(readlink -f "$(command -v dotnet)"): install the .NET SDK where every user can run it, or run this without root."
    local part
    for part in src/Server/bin/Release/net10.0 src/StandIns/bin/Release/net10.0 web/dist; do
        mkdir -p "$PROGRAMS/$part"
        rm -rf "${PROGRAMS:?}/$part"
        cp -r "$ROOT/$part" "$PROGRAMS/$part"
    done
    chmod -R u=rwX,go=rX "$PROGRAMS"
}

# own_folder FOLDER: creates a folder that the programs write to.
own_folder() {
    mkdir -p "$1"
    chmod 700 "$1"
    [ "$(id -u)" != 0 ] || chown -R "$SERVICE:" "$1"
}

# launch NAME FOLDER COMMAND…: starts a command in a session of its own, so that Ctrl-C reaches only the script. Only the
# user can read the log.
launch() {
    local name=$1 folder=$2
    shift 2
    (umask 077 && : >>"$folder/$name.log")
    chmod 600 "$folder/$name.log"
    (umask 077 && exec setsid ${AS_SERVICE[@]+"${AS_SERVICE[@]}"} "$@") >>"$folder/$name.log" 2>&1 </dev/null &
    echo $! >"$folder/$name.pid"
}

is_running() { [ -f "$1" ] && kill -0 "$(cat "$1")" 2>/dev/null; }

# halt NAME FOLDER: sends SIGTERM, waits up to 15 s, then sends SIGKILL.
halt() {
    local file=$2/$1.pid pid
    [ -f "$file" ] || return 0
    pid=$(cat "$file")
    if kill -TERM "$pid" 2>/dev/null; then
        local i
        for i in $(seq 1 150); do
            kill -0 "$pid" 2>/dev/null || break
            [ "$i" = 150 ] && kill -KILL "$pid" 2>/dev/null
            sleep 0.1
        done
    fi
    rm -f "$file"
}

# await URL NAME FOLDER: waits until the URL answers or the process has ended.
await() {
    local i
    for i in $(seq 1 600); do
        curl -fsS -o /dev/null "$1" 2>/dev/null && return
        is_running "$3/$2.pid" || { tail -20 "$3/$2.log" >&2; fail "The $2 ended; its log is $3/$2.log."; }
        sleep 0.1
    done
    fail "The $2 does not answer at $1; its log is $3/$2.log."
}

# server_start NAME FOLDER PORT: starts a server and waits for it. Several can share one database.
server_start() {
    server_launch "$@"
    await "http://127.0.0.1:$3/health" "$1" "$2"
}

# server_launch NAME FOLDER PORT: starts a server. Only the first writes a snapshot of its index, because two cannot share the file.
server_launch() {
    own_folder "$2/home"
    own_folder "$2/snapshots"
    local snapshots=
    [ "$1" != server ] || snapshots=$2/snapshots
    ATTIC_WEB=$PROGRAMS/web/dist ATTIC_SNAPSHOTS=$snapshots ATTIC_STAFF_TOKEN=$ATTIC_STAFF_TOKEN ATTIC_DEMO_CLOCK_TOKEN=$ATTIC_SLIPWAY_TOKEN \
        launch "$1" "$2" dotnet "$PROGRAMS/src/Server/bin/Release/net10.0/AtticLedger.Server.dll" --urls "http://127.0.0.1:$3"
}

# standins_launch FOLDER: starts the simulated hosts, staff list, mail server and public sites on the ports in the environment.
standins_launch() {
    own_folder "$1/home"
    own_folder "$1/standins"
    STANDINS_SLIPWAY_TOKEN=$ATTIC_SLIPWAY_TOKEN STANDINS_LANTERN_TOKEN=$ATTIC_LANTERN_TOKEN STANDINS_QUAY_TOKEN=$ATTIC_QUAY_TOKEN STANDINS_STAFF_TOKEN=$ATTIC_STAFF_TOKEN \
        launch standins "$1" dotnet "$PROGRAMS/src/StandIns/bin/Release/net10.0/AtticLedger.StandIns.dll" \
        --folder "$1/standins" --slipway "$SLIPWAY_PORT" --lantern "$LANTERN_PORT" --quay "$QUAY_PORT" --front "$FRONT_PORT" --staff "$STAFF_PORT" --mail "$MAIL_PORT" --smtp "$SMTP_PORT"
}

# host_settings PLACE NAME PORT TOKEN PREFIX: a simulated host for the server to connect.
host_settings() {
    export "ATTIC_HOSTS__$1__NAME=$2" "ATTIC_HOSTS__$1__KIND=${2,,}" "ATTIC_HOSTS__$1__ADDRESS=http://127.0.0.1:$3" "ATTIC_HOSTS__$1__TOKEN=$4" "ATTIC_HOSTS__$1__PREFIX=$5"
}

# instance_start FOLDER demo|empty: starts database, stand-ins and server on the ports in the environment.
instance_start() {
    local folder=$1 kind=$2
    database_make "$folder"
    database_start "$folder" "$ATTIC_DATABASE_PORT"
    database_settings "$folder" "$ATTIC_DATABASE_PORT"
    host_tokens "$folder"
    programs_for "$folder"
    export ATTIC_ADDRESS=http://127.0.0.1:$ATTIC_PORT
    (umask 077 && : >"$folder/migrate.log")
    as_owner "$folder" "$ATTIC_DATABASE_PORT" "$ROOT/attic" migrate >"$folder/migrate.log" 2>&1 || { cat "$folder/migrate.log" >&2; fail "The migration failed."; }
    if [ -n "${BUNDLE:-}" ] && [ ! -f "$folder/bundle-imported" ]; then
        say "Importing the bundle …"
        as_owner "$folder" "$ATTIC_DATABASE_PORT" "$ROOT/attic" import "$BUNDLE" || fail "Nothing was imported. Correct the bundle, then run ./start --bundle DIR --reset"
        touch "$folder/bundle-imported"
    fi
    if [ "$kind" = demo ]; then
        standins_launch "$folder"
        await "http://127.0.0.1:$FRONT_PORT/" standins "$folder"
        "$ROOT/attic" demo organisation >/dev/null
        host_settings 0 Slipway "$SLIPWAY_PORT" "$ATTIC_SLIPWAY_TOKEN" slipway.example
        host_settings 1 Lantern "$LANTERN_PORT" "$ATTIC_LANTERN_TOKEN" ""
        host_settings 2 Quay "$QUAY_PORT" "$ATTIC_QUAY_TOKEN" quay.example
        export ATTIC_HOSTS__0__FRONT=http://127.0.0.1:$FRONT_PORT ATTIC_STAFF=http://127.0.0.1:$STAFF_PORT ATTIC_DEMO_CLOCK=http://127.0.0.1:$SLIPWAY_PORT
        export ATTIC_SMTP=smtp://127.0.0.1:$SMTP_PORT ATTIC_MAIL_FROM=attic-ledger@merrowby.example ATTIC_DEMO=true
    fi
    server_start server "$folder" "$ATTIC_PORT"
    if [ "$kind" = demo ] && [ ! -f "$folder/demo-imported" ]; then
        local i
        for i in $(seq 1 300); do
            ATTIC_DEMO_PASSWORD=$DEMO_PASSWORD "$ROOT/attic" demo accounts >/dev/null 2>&1 && has_sites && demo_list && { touch "$folder/demo-imported"; return; }
            is_running "$folder/server.pid" || fail "The server ended; its log is $folder/server.log."
            sleep 0.2
        done
        fail "The demo's sources were not synced; see $folder/server.log."
    fi
}

# The list that Merrowby keeps manually for a host without a connector.
demo_list() {
    export ATTIC_PASSWORD=$DEMO_PASSWORD
    "$ROOT/attic" host procedure --as n.bell@merrowby.example --host Foreshore "$ROOT/src/Cli/Demo/foreshore.procedure.json" >/dev/null 2>&1 &&
        "$ROOT/attic" sites import --as n.bell@merrowby.example --host Foreshore "$ROOT/src/Cli/Demo/foreshore.csv" >/dev/null 2>&1
}

has_sites() {
    [ -n "$(PGPASSWORD=$PG_SERVER "$PG_BIN/psql" -At -h 127.0.0.1 -p "$ATTIC_DATABASE_PORT" -U attic_server attic -c "select 1 from source where name in ('Slipway', 'Lantern', 'Quay') and complete having count(*) = 3" 2>/dev/null)" ]
}

# many_start FOLDER SITES: starts an installation with a generated register and without stand-ins. An administrator and a
# steward have no passwords yet; ATTIC_FIRST_LINK and ATTIC_SECOND_LINK set them.
many_start() {
    local folder=$1
    unset "${!ATTIC_HOSTS__@}" ATTIC_DEMO_CLOCK ATTIC_STAFF ATTIC_SMTP ATTIC_DEMO
    mkdir -p "$folder"
    chmod 711 "$folder"
    export ATTIC_SITES=$2 ATTIC_PORT ATTIC_DATABASE_PORT
    ATTIC_PORT=$(free_port) ATTIC_DATABASE_PORT=$(free_port)
    "$ROOT/attic" generate --sites "$ATTIC_SITES" --seed 7 "$folder/bundle"
    BUNDLE=$folder/bundle PG_OPTIONS="-c fsync=off -c shared_buffers=1GB -c work_mem=64MB" instance_start "$folder" empty
    account() { "$ROOT/attic" account add --mail "$1@merrowby.example" --name "$2" --address "http://127.0.0.1:$ATTIC_PORT" "${@:3}"; }
    ATTIC_FIRST_LINK=$(account first "Nora Bell" --role Administrator) ATTIC_SECOND_LINK=$(account second "Hari Nair" --role Steward --scope U000)
    export ATTIC_FIRST_LINK ATTIC_SECOND_LINK
}

instance_stop() {
    halt server "$1"
    halt standins "$1"
    database_stop "$1"
}

DEMO_PASSWORD=merrowby-harbour
