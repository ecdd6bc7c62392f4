# Starts and stops the servers of one copy: MariaDB, php-fpm and nginx, all on this machine's loopback.
#
# A copy is its data folder ($PELLIX_DATA). Sockets lie in a short path of their own, since a socket's path may have
# about a hundred characters and a data folder's may have more.

# shellcheck source=backup.sh
source "$(dirname "${BASH_SOURCE[0]}")/backup.sh"
# shellcheck source=ours.sh
source "$(dirname "${BASH_SOURCE[0]}")/ours.sh"

PROGRAMS=0
SUPERVISOR=""

use_data_folder() {
    mkdir -p "$1"
    PELLIX_DATA="$(cd "$1" && pwd)"
    export PELLIX_DATA
    # shellcheck disable=SC2034
    RUN="${TMPDIR:-/tmp}/pellix-$(id -u)-$(printf '%s' "$PELLIX_DATA" | sha1sum | cut -c1-8)"
    mkdir -p "$RUN" "$PELLIX_DATA"/{log,cache,storage/framework/views,storage/logs,published}
    chmod 700 "$RUN" "$PELLIX_DATA"
    [ -O "$RUN" ] || die "$RUN belongs to somebody else; remove it and start again."
    [ -O "$PELLIX_DATA" ] || die "$PELLIX_DATA belongs to $(stat -c %U "$PELLIX_DATA"). Start as that user, or give this copy other data: PELLIX_DATA=…"
    export PELLIX_RUN="$RUN"
    read_shared_settings
    # What changes with every beacon lies in memory: on a disk it would be written with every commit of the database.
    BUCKETS="$RUN/buckets"
    [ -w /dev/shm ] && BUCKETS="/dev/shm/$(basename "$RUN")"
    mkdir -p "$BUCKETS" && chmod 700 "$BUCKETS"
    [ -O "$BUCKETS" ] || die "$BUCKETS belongs to somebody else; remove it and start again."
}

# One of several machines: database and Redis are elsewhere (docs/deploy.md). The settings say so to commands that nobody gave an environment.
SHARED=(PELLIX_DATABASE PELLIX_DATABASE_PASSWORD PELLIX_REDIS PELLIX_REDIS_PASSWORD PELLIX_NODE_NAME)

read_shared_settings() {
    local name value
    [ -f "$PELLIX_DATA/settings.env" ] || return 0
    for name in "${SHARED[@]}"; do
        value="$(sed -n "s/^$name=//p" "$PELLIX_DATA/settings.env" | tail -n 1)"
        [ -n "${!name:-}" ] || [ -z "$value" ] || export "$name=$value"
    done
}

has_own_database() { [ -z "${PELLIX_DATABASE:-}" ]; }

# database_client PROGRAM ARGUMENT… : mariadb or mariadb-dump, on this copy's database
database_client() {
    local program="$1"
    shift
    if has_own_database; then
        "$program" --no-defaults --socket="$RUN/db.sock" --user="$(id -un)" "$@"
    else
        MYSQL_PWD="${PELLIX_DATABASE_PASSWORD:-}" "$program" --no-defaults --host="${PELLIX_DATABASE%:*}" --port="${PELLIX_DATABASE##*:}" --protocol=tcp --user=pellix "$@"
    fi
}

# For commands that work on a copy which serves: its own database, whatever the settings in its folder ask for.
need_running() {
    if ! has_own_database; then
        database_client mariadb -e 'DO 1' pellix >/dev/null 2>&1 || die "The database at $PELLIX_DATABASE does not answer."
        return 0
    fi
    [ -S "$RUN/db.sock" ] || die "Pellix is not running on this data. Start it first: bin/pellix start"
    grep -qxF "DB_SOCKET=$RUN/db.sock" "$PELLIX_DATA/.env" || die "$PELLIX_DATA/.env asks for another database than this copy's. Start it again, which writes that file anew."
}

# Refuses to run twice on the same data.
claim_data_folder() {
    local pid
    pid="$(cat "$PELLIX_DATA/pid" 2>/dev/null || true)"
    if [ -n "$pid" ] && kill -0 "$pid" 2>/dev/null && grep -qa pellix "/proc/$pid/cmdline" 2>/dev/null; then
        die "This copy is already running (process $pid). Stop it first, or give the new one other data: PELLIX_DATA=var/second"
    fi
    printf '%s' $$ >"$PELLIX_DATA/pid"
    clear_leftovers
}

# Processes of this copy that a start command left behind which was killed: they still serve, and hold the ports.
leftovers() {
    local pid leader
    for pid in $(ours); do
        [ "$pid" != $$ ] || continue
        if tr '\0' ' ' 2>/dev/null <"/proc/$pid/cmdline" | grep -qE '^(\S*python3 \S*supervisord |\S*bash \S*run\.sh |\S*mariadbd |nginx: |\S*nginx |php-fpm: |\S*php-fpm|\S*php .*artisan (queue:work|pellix:gather|pellix:mirror|pellix:rehearser|pellix:auditor|schedule:work)|\S*chromedriver |\S*chromium)'; then
            printf '%s ' "$pid"
        fi
    done 2>/dev/null
    for leader in "$RUN"/pids/*; do
        ours_of_group "$(cat "$leader" 2>/dev/null)"
    done
}

clear_leftovers() {
    [ -n "$(leftovers)" ] || return 0
    step "left by an earlier start"
    end_leftovers
    done_step "stopped"
}

end_leftovers() {
    local left pid
    left="$(leftovers)"
    [ -n "$left" ] || return 0
    # A supervisor stops what it watches.
    # shellcheck disable=SC2086
    kill -TERM $left 2>/dev/null || true
    for _ in $(seq 150); do
        left="$(leftovers)"
        [ -z "$left" ] && break
        sleep 0.1
    done
    # shellcheck disable=SC2086
    for pid in $left; do
        kill -KILL -- "-$pid" 2>/dev/null || kill -KILL "$pid" 2>/dev/null || true
    done
}

# Debian's supervisor starts what dies again, alone, ever more slowly if it dies at once, and keeps the logs small.
start_supervisor() {
    # In a session of its own, so that Ctrl-C reaches only this script, which stops it.
    setsid supervisord --nodaemon --configuration "$PELLIX_DATA/supervisor.conf" >>"$PELLIX_DATA/log/start.log" 2>&1 </dev/null &
    SUPERVISOR=$!
}

new_supervisor() {
    cat >"$PELLIX_DATA/supervisor.conf" <<CONF
[supervisord]
logfile=$PELLIX_DATA/log/supervisor.log
logfile_maxbytes=5MB
logfile_backups=1
childlogdir=$PELLIX_DATA/log
pidfile=$RUN/supervisor.pid
minfds=1024

[unix_http_server]
file=$RUN/supervisor.sock
chmod=0700

[supervisorctl]
serverurl=unix://$RUN/supervisor.sock

[rpcinterface:supervisor]
supervisor.rpcinterface_factory = supervisor.rpcinterface:make_main_rpcinterface
CONF
    # One that was killed leaves its socket.
    rm -f "$RUN/supervisor.sock"
    start_supervisor
    for _ in $(seq 100); do
        [ -S "$RUN/supervisor.sock" ] && return 0
        sleep 0.1
    done
    die "The supervisor did not start; see $PELLIX_DATA/log/start.log and supervisor.log"
}

# launch NAME STOP-SIGNAL COMMAND… : a server or a worker, under the supervisor
launch() {
    local name="$1" signal="$2" command
    shift 2
    [ -n "$SUPERVISOR" ] || new_supervisor
    command="$(printf '"%s" ' "$PELLIX_ROOT/bin/lib/run.sh" "$name" "$@")"
    # A per cent sign has a meaning of its own in this file.
    cat >>"$PELLIX_DATA/supervisor.conf" <<CONF

[program:$name]
command=${command//%/%%}
priority=$((++PROGRAMS * 10))
autorestart=true
startretries=1000000
stopsignal=$signal
stopwaitsecs=30
killasgroup=true
redirect_stderr=true
stdout_logfile=$PELLIX_DATA/log/$name.log
stdout_logfile_maxbytes=10MB
stdout_logfile_backups=1
CONF
    quietly "$PELLIX_DATA/log/start.log" supervisorctl --configuration "$PELLIX_DATA/supervisor.conf" update
}

# Until a signal comes: a supervisor that was killed is started again, and takes over what it watched.
stay() {
    while :; do
        wait "$SUPERVISOR" 2>/dev/null || true
        say "The supervisor has ended, and is started again."
        sleep 1
        start_supervisor
    done
}

stop_services() {
    # It stops what it watches in the reverse order: nobody is left talking to a database that is gone.
    if [ -n "$SUPERVISOR" ]; then
        kill -TERM "$SUPERVISOR" 2>/dev/null || true
        for _ in $(seq 600); do
            kill -0 "$SUPERVISOR" 2>/dev/null || break
            sleep 0.1
        done
        kill -KILL "$SUPERVISOR" 2>/dev/null || true
        (end_leftovers)
        SUPERVISOR=""
    fi
    [ -n "${RUN:-}" ] && rm -rf "$RUN" "/dev/shm/$(basename "$RUN")"
    [ "$(cat "$PELLIX_DATA/pid" 2>/dev/null)" = "$$" ] && rm -f "$PELLIX_DATA/pid"
    return 0
}

secret() {
    local file="$PELLIX_DATA/secret-$1"
    [ -s "$file" ] || (umask 077 && random_text "$2" >"$file")
    cat "$file"
}

# A fifth of the machine's memory, between 256 MB and 4 GB: figures are read and written all over their tables.
buffer_pool() {
    awk '/MemTotal/ { mb = $2 / 5120; if (mb < 256) mb = 256; if (mb > 4096) mb = 4096; printf "%dM", mb }' /proc/meminfo
}

start_database() {
    local as_root=() user
    if ! has_own_database; then
        [[ "$PELLIX_DATABASE" =~ ^[A-Za-z0-9.-]+:[0-9]+$ ]] || die "PELLIX_DATABASE is a host and a port, such as 127.0.0.1:3306."
        [ -n "${PELLIX_REDIS:-}" ] || die "Several machines share their sessions and locks: name the Redis too, PELLIX_REDIS=host:port."
        for _ in $(seq 60); do
            database_client mariadb -e 'DO 1' pellix >/dev/null 2>&1 && return 0
            sleep 0.5
        done
        die "The database at $PELLIX_DATABASE does not answer, or has no database \"pellix\" that the user \"pellix\" may use."
    fi
    user="$(id -un)"
    [ "$(id -u)" -eq 0 ] && as_root=(--user=root)
    [ "$user" != pellix ] || die "The database's own account is called pellix, so the servers cannot run as a user of that name."
    if [ ! -d "$PELLIX_DATA/mysql/mysql" ]; then
        step "database"
        rm -rf "$PELLIX_DATA/mysql"
        # The database's own administrator is whoever owns this copy, known by the socket: no password, no network.
        quietly "$PELLIX_DATA/log/mariadb-install.log" mariadb-install-db --no-defaults --datadir="$PELLIX_DATA/mysql" \
            --auth-root-authentication-method=socket --skip-test-db "${as_root[@]}"
        done_step "made"
    fi
    # Each start says whose the server is: it may have been another user's before.
    (
        umask 077
        cat >"$PELLIX_DATA/accounts.sql" <<SQL
CREATE OR REPLACE USER '$user'@localhost IDENTIFIED VIA unix_socket;
GRANT ALL ON *.* TO '$user'@localhost WITH GRANT OPTION;
CREATE DATABASE IF NOT EXISTS pellix CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
CREATE USER IF NOT EXISTS pellix@localhost;
ALTER USER pellix@localhost IDENTIFIED BY '$(secret database 20)';
GRANT ALL ON pellix.* TO pellix@localhost;
SQL
    )
    # A folder of its own: a server that starts clears away the temporary tables that it finds, another one's too.
    mkdir -p "$PELLIX_DATA/tmp"
    launch mariadb TERM mariadbd --no-defaults --datadir="$PELLIX_DATA/mysql" --tmpdir="$PELLIX_DATA/tmp" --socket="$RUN/db.sock" --pid-file="$RUN/db.pid" \
        --init-file="$PELLIX_DATA/accounts.sql" --skip-networking --innodb-buffer-pool-size="$(buffer_pool)" --innodb-log-file-size=512M --innodb-flush-log-at-trx-commit=1 \
        --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --max-connections=100 "${as_root[@]}"
    for _ in $(seq 300); do
        mariadb --no-defaults --socket="$RUN/db.sock" --user="$user" -e 'USE pellix' >/dev/null 2>&1 && return 0
        sleep 0.1
    done
    die "MariaDB did not start; see $PELLIX_DATA/log/mariadb.log"
}

# companion DEMO-PORT : the demo, on a copy that did not begin empty
companion() {
    [ ! -e "$PELLIX_DATA/empty" ] || return 0
    printf 'PELLIX_COMPANION=Demo\\DemoProvider\nPELLIX_DEMO_ORIGIN=http://larkhollow.localhost:%s\nPELLIX_DEMO_PASSWORD=%s\n' "$1" "$(secret demo 10)"
}

# where_state_is PORT : of one machine in its own database, of several in what they share
where_state_is() {
    if has_own_database; then
        printf 'DB_SOCKET=%s\nDB_PASSWORD=%s\n' "$RUN/db.sock" "$(secret database 20)"
    else
        printf 'DB_SOCKET=\nDB_HOST=%s\nDB_PORT=%s\nDB_PASSWORD="%s"\n' "${PELLIX_DATABASE%:*}" "${PELLIX_DATABASE##*:}" "${PELLIX_DATABASE_PASSWORD:-}"
    fi
    if [ -z "${PELLIX_REDIS:-}" ]; then
        printf 'SESSION_DRIVER=database\nSESSION_COOKIE=pellix_session_%s\nCACHE_STORE=database\nQUEUE_CONNECTION=database\n' "$1"
    else
        printf 'SESSION_DRIVER=redis\nSESSION_COOKIE=pellix_session\nCACHE_STORE=redis\nQUEUE_CONNECTION=redis\nREDIS_HOST=%s\nREDIS_PORT=%s\nREDIS_PASSWORD="%s"\n' \
            "${PELLIX_REDIS%:*}" "${PELLIX_REDIS##*:}" "${PELLIX_REDIS_PASSWORD:-}"
    fi
}

# write_settings PORT DEMO-PORT : the configuration that Laravel and the collector read
write_settings() {
    (
        umask 077
        cat >"$PELLIX_DATA/.env" <<ENV
APP_NAME=Pellix
APP_ENV=production
APP_DEBUG=false
APP_KEY=base64:$(secret app 16 | base64 -w0)
APP_URL=${PELLIX_URL:-http://localhost:$1}
DB_DATABASE=pellix
DB_USERNAME=pellix
LOG_CHANNEL=single
$(where_state_is "$1")
PELLIX_PROCESSES=$RUN/pids
$(companion "$2")
PELLIX_SETUP_CODE=$(secret setup 16)
PELLIX_OPENID_ISSUER="${PELLIX_OPENID_ISSUER:-}"
PELLIX_OPENID_CLIENT_ID="${PELLIX_OPENID_CLIENT_ID:-}"
PELLIX_OPENID_CLIENT_SECRET="${PELLIX_OPENID_CLIENT_SECRET:-}"
PELLIX_OPENID_NAME="${PELLIX_OPENID_NAME:-single sign-on}"
PELLIX_FETCH_PRIVATE=${PELLIX_FETCH_PRIVATE:-0}
PELLIX_SITE_EVENTS=${PELLIX_SITE_EVENTS:-2000}
PELLIX_BUCKETS=$BUCKETS
PELLIX_NODE_NAME="${PELLIX_NODE_NAME:-$(hostname)}"
PELLIX_METRICS_TOKEN="${PELLIX_METRICS_TOKEN:-}"
PELLIX_KEEP_EVENTS=${PELLIX_KEEP_EVENTS:-0}
PELLIX_KEEP_REJECTED=${PELLIX_KEEP_REJECTED:-90}
PELLIX_KEEP_INSPECTIONS=${PELLIX_KEEP_INSPECTIONS:-400}
PELLIX_KEEP_LOGS=${PELLIX_KEEP_LOGS:-90}
PELLIX_KEEP_SECURITY=${PELLIX_KEEP_SECURITY:-400}
PELLIX_SESSION_IDLE_MINUTES=${PELLIX_SESSION_IDLE_MINUTES:-60}
PELLIX_SESSION_HOURS=${PELLIX_SESSION_HOURS:-24}
SESSION_LIFETIME=$(( ${PELLIX_SESSION_HOURS:-24} * 60 ))
PELLIX_FETCH_PAUSE_MS=${PELLIX_FETCH_PAUSE_MS:-50}
PELLIX_PUBLISHED="$PELLIX_DATA/published"
PELLIX_REHEARSALS="$PELLIX_DATA/rehearsals"
PELLIX_NODE="$(command -v node)"
ENV
        # What whoever runs this copy has written down goes before all that.
        [ ! -f "$PELLIX_DATA/settings.env" ] || cat "$PELLIX_DATA/settings.env" >>"$PELLIX_DATA/.env"
    )
    # What the caller's environment holds of the same names would go before the file, and lead to another database.
    local name
    while IFS='=' read -r name _; do
        # What tells where the database is stays: the commands that follow ask for it.
        [[ " ${SHARED[*]} " == *" $name "* ]] || unset "$name"
    done <"$PELLIX_DATA/.env"
    # The caches hold the settings of the last start.
    rm -f "$PELLIX_DATA"/cache/*.php
}

artisan() { php "$PELLIX_ROOT/artisan" "$@"; }

prepare_application() {
    quietly "$PELLIX_DATA/log/cache.log" artisan config:cache
    quietly "$PELLIX_DATA/log/cache.log" artisan route:cache
    backup_before_migrating
    # Of several machines that start at once, one changes the database.
    # shellcheck disable=SC2046
    quietly "$PELLIX_DATA/log/migrate.log" artisan migrate --force $([ -z "${PELLIX_REDIS:-}" ] || printf -- --isolated=0)
}

# Whose word counts about who the client is (PELLIX_TRUSTED_PROXIES, addresses or networks with commas): lines for nginx.
trusted_proxies() {
    local one
    [ -n "${PELLIX_TRUSTED_PROXIES:-}" ] || return 0
    for one in ${PELLIX_TRUSTED_PROXIES//,/ }; do
        [[ "$one" =~ ^[0-9a-fA-F:./]+$ ]] || die "PELLIX_TRUSTED_PROXIES: \"$one\" is no address and no network."
        printf 'set_real_ip_from %s; ' "$one"
    done
    printf 'real_ip_header X-Forwarded-For; real_ip_recursive on;'
}

# start_web PORT DEMO-PORT
start_web() {
    local as_root=() user_line=""
    [ "$(id -u)" -eq 0 ] && as_root=(-R) && user_line="user root;"
    sed -e "s#@RUN@#$RUN#g" -e "s#@DATA@#$PELLIX_DATA#g" "$PELLIX_ROOT/bin/lib/php-fpm.conf" >"$PELLIX_DATA/php-fpm.conf"
    sed -e "s~#BENCH#~${BENCH_LOCATION:-}~" -e "s#@RUN@#$RUN#g" -e "s#@DATA@#$PELLIX_DATA#g" -e "s#@BUCKETS@#$BUCKETS#g" -e "s#@ROOT@#$PELLIX_ROOT#g" -e "s#@USER@#$user_line#g" \
        -e "s~@PROXIES@~$(trusted_proxies)~" -e "s#@CLIENT_BEACONS@#${PELLIX_CLIENT_BEACONS:-200}#g" -e "s#@CLIENT_BURST@#$((10 * ${PELLIX_CLIENT_BEACONS:-200}))#g" \
        -e "s#@LISTEN@#${PELLIX_LISTEN:-127.0.0.1}#g" -e "s#@PORT@#$1#g" -e "s#@DEMO_PORT@#$2#g" "$PELLIX_ROOT/bin/lib/nginx.conf" >"$PELLIX_DATA/nginx.conf"
    launch php-fpm QUIT "$(php_fpm)" --nodaemonize --fpm-config "$PELLIX_DATA/php-fpm.conf" "${as_root[@]}"
    launch nginx QUIT nginx -p "$RUN" -c "$PELLIX_DATA/nginx.conf" -e "$PELLIX_DATA/log/nginx.log" -g 'daemon off;'
    for _ in $(seq 100); do
        curl -fsS -o /dev/null "http://${PELLIX_LISTEN:-127.0.0.1}:$1/favicon.svg" 2>/dev/null && return 0
        sleep 0.1
    done
    die "The web server did not answer; see $PELLIX_DATA/log/nginx.log and php-fpm.log"
}

# Works off scans and other jobs, keeps the figures up to date, and starts what is due each day.
start_workers() {
    # A job has bounded memory: one that needs more ends this process alone, and is not tried for ever.
    launch worker TERM nice -n 10 php -d memory_limit=512M "$PELLIX_ROOT/artisan" queue:work --sleep=0.5 --tries=5 --timeout=120 --memory=256
    launch gatherer TERM nice -n 10 php "$PELLIX_ROOT/artisan" pellix:gather
    launch rehearser TERM nice -n 10 php -d memory_limit=768M "$PELLIX_ROOT/artisan" pellix:rehearser
    launch auditor TERM nice -n 10 php -d memory_limit=512M "$PELLIX_ROOT/artisan" pellix:auditor
    [ -z "${PELLIX_REDIS:-}" ] || launch mirror TERM nice -n 10 php "$PELLIX_ROOT/artisan" pellix:mirror
    launch scheduler TERM nice -n 10 php "$PELLIX_ROOT/artisan" schedule:work
}

# fill_fresh_demo PORT DEMO-PORT : the database alone, with new demo data
fill_fresh_demo() {
    start_database
    write_settings "$1" "$2"
    step "demo data"
    quietly "$PELLIX_DATA/log/seed.log" artisan migrate:fresh --force
    quietly "$PELLIX_DATA/log/seed.log" artisan pellix:fill
    done_step
}

# serve_fresh_demo PORT DEMO-PORT : a copy that begins with new demo data each time, for tests and measurements
serve_fresh_demo() {
    fill_fresh_demo "$1" "$2"
    prepare_application
    quietly "$PELLIX_DATA/log/publish.log" artisan pellix:publish
    start_web "$1" "$2"
    start_workers
}
