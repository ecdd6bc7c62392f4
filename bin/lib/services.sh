# Starts and stops the servers of one copy: MariaDB, php-fpm and nginx, all on this machine's loopback.
#
# A copy is its data folder ($PELLIX_DATA). Sockets lie in a short path of their own, since a socket's path may have
# about a hundred characters and a data folder's may have more.

# shellcheck source=backup.sh
source "$(dirname "${BASH_SOURCE[0]}")/backup.sh"

PIDS=()
NAMES=()

use_data_folder() {
    mkdir -p "$1"
    PELLIX_DATA="$(cd "$1" && pwd)"
    export PELLIX_DATA
    # shellcheck disable=SC2034
    RUN="${TMPDIR:-/tmp}/pellix-$(id -u)-$(printf '%s' "$PELLIX_DATA" | sha1sum | cut -c1-8)"
    mkdir -p "$RUN" "$PELLIX_DATA"/{log,cache,storage/framework/views,storage/logs,published}
    chmod 700 "$RUN" "$PELLIX_DATA"
    [ -O "$RUN" ] || die "$RUN belongs to somebody else; remove it and start again."
    export PELLIX_RUN="$RUN"
    # What changes with every beacon lies in memory: on a disk it would be written with every commit of the database.
    BUCKETS="$RUN/buckets"
    [ -w /dev/shm ] && BUCKETS="/dev/shm/$(basename "$RUN")"
    mkdir -p "$BUCKETS" && chmod 700 "$BUCKETS"
    [ -O "$BUCKETS" ] || die "$BUCKETS belongs to somebody else; remove it and start again."
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
    local folder
    # Processes end while they are looked at, which is no news.
    exec 2>/dev/null
    for folder in /proc/[0-9]*; do
        [ "${folder#/proc/}" != $$ ] || continue
        # By its environment; or by its command, since some servers write over both.
        grep -qzxF "PELLIX_DATA=$PELLIX_DATA" "$folder/environ" 2>/dev/null || tr '\0' ' ' <"$folder/cmdline" 2>/dev/null | grep -qF -e "$PELLIX_DATA/nginx.conf" -e "$PELLIX_DATA/php-fpm.conf" || continue
        if tr '\0' ' ' <"$folder/cmdline" 2>/dev/null | grep -qE '^(\S*bash \S*keep\.sh|nice .*keep\.sh|\S*mariadbd |nginx: |\S*nginx |php-fpm: |\S*php-fpm|\S*php \S*artisan (queue:work|pellix:gather|schedule:work))'; then
            printf '%s ' "${folder#/proc/}"
        fi
    done
}

clear_leftovers() {
    local left pid
    left="$(leftovers)"
    [ -z "$left" ] && return 0
    step "left by an earlier start"
    # Keepers first, which stop what they keep.
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
    done_step "stopped"
}

declare -A COMMANDS=()

# launch NAME COMMAND… : starts a server with a keeper, in a session of its own, so that Ctrl-C reaches only this script,
# which stops it
launch() {
    local name="$1"
    shift
    COMMANDS[$name]="$(printf '%q ' "$@")"
    setsid "$PELLIX_ROOT/bin/lib/keep.sh" "$name" "$@" >>"$PELLIX_DATA/log/$name.log" 2>&1 </dev/null &
    PIDS+=($!)
    NAMES+=("$name")
}

# Until a signal comes: a keeper that was killed is started again, and takes over what it kept.
stay() {
    local i
    while :; do
        wait -n "${PIDS[@]}" || true
        for i in "${!PIDS[@]}"; do
            kill -0 "${PIDS[$i]}" 2>/dev/null && continue
            say "The keeper of ${NAMES[$i]} was killed, and is started again."
            eval "setsid \"\$PELLIX_ROOT/bin/lib/keep.sh\" \"\${NAMES[$i]}\" ${COMMANDS[${NAMES[$i]}]}" >>"$PELLIX_DATA/log/${NAMES[$i]}.log" 2>&1 </dev/null &
            PIDS[i]=$!
        done
    done
}

stop_services() {
    local pid i
    # In the reverse order: nobody is left talking to a database that is gone.
    for ((i = ${#PIDS[@]} - 1; i >= 0; i--)); do
        pid="${PIDS[$i]}"
        kill -TERM "$pid" 2>/dev/null || true
        for _ in $(seq 300); do
            kill -0 "$pid" 2>/dev/null || break
            sleep 0.1
        done
        kill -KILL -- "-$pid" 2>/dev/null || true
        # What a keeper left that was killed before.
        kill -KILL -- "-$(cat "${RUN:-/nowhere}/pids/${NAMES[$i]}" 2>/dev/null)" 2>/dev/null || true
    done
    PIDS=()
    NAMES=()
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
    user="$(id -un)"
    [ "$(id -u)" -eq 0 ] && as_root=(--user=root)
    if [ ! -d "$PELLIX_DATA/mysql/mysql" ]; then
        step "database"
        rm -rf "$PELLIX_DATA/mysql"
        # The database's own administrator is whoever owns this copy, known by the socket: no password, no network.
        quietly "$PELLIX_DATA/log/mariadb-install.log" mariadb-install-db --no-defaults --datadir="$PELLIX_DATA/mysql" \
            --auth-root-authentication-method=socket --auth-root-socket-user="$user" --skip-test-db "${as_root[@]}"
        done_step "made"
    fi
    # A folder of its own: a server that starts clears away the temporary tables that it finds, another one's too.
    mkdir -p "$PELLIX_DATA/tmp"
    launch mariadb mariadbd --no-defaults --datadir="$PELLIX_DATA/mysql" --tmpdir="$PELLIX_DATA/tmp" --socket="$RUN/db.sock" --pid-file="$RUN/db.pid" \
        --skip-networking --innodb-buffer-pool-size="$(buffer_pool)" --innodb-log-file-size=512M --innodb-flush-log-at-trx-commit=1 \
        --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --max-connections=100 "${as_root[@]}"
    for _ in $(seq 300); do
        mariadb-admin --no-defaults --socket="$RUN/db.sock" --user="$user" ping >/dev/null 2>&1 && break
        sleep 0.1
    done
    mariadb-admin --no-defaults --socket="$RUN/db.sock" --user="$user" ping >/dev/null 2>&1 || die "MariaDB did not start; see $PELLIX_DATA/log/mariadb.log"
    mariadb --no-defaults --socket="$RUN/db.sock" --user="$user" -e "
        CREATE DATABASE IF NOT EXISTS pellix CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
        CREATE USER IF NOT EXISTS pellix@localhost;
        ALTER USER pellix@localhost IDENTIFIED BY '$(secret database 20)';
        GRANT ALL ON pellix.* TO pellix@localhost;"
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
APP_URL=http://localhost:$1
DB_SOCKET=$RUN/db.sock
DB_DATABASE=pellix
DB_USERNAME=pellix
DB_PASSWORD=$(secret database 20)
SESSION_DRIVER=database
SESSION_COOKIE=pellix_session_$1
CACHE_STORE=database
QUEUE_CONNECTION=database
LOG_CHANNEL=single
PELLIX_COMPANION=Demo\\DemoProvider
PELLIX_DEMO_ORIGIN=http://larkhollow.localhost:$2
PELLIX_DEMO_PASSWORD=$(secret demo 6)
PELLIX_SITE_EVENTS=${PELLIX_SITE_EVENTS:-2000}
PELLIX_BUCKETS=$BUCKETS
PELLIX_KEEP_EVENTS=${PELLIX_KEEP_EVENTS:-0}
PELLIX_KEEP_REJECTED=${PELLIX_KEEP_REJECTED:-90}
PELLIX_KEEP_INSPECTIONS=${PELLIX_KEEP_INSPECTIONS:-400}
PELLIX_FETCH_PAUSE_MS=${PELLIX_FETCH_PAUSE_MS:-50}
PELLIX_PUBLISHED="$PELLIX_DATA/published"
ENV
    )
    # What the caller's environment holds of the same names would go before the file, and lead to another database.
    local name
    while IFS='=' read -r name _; do
        unset "$name"
    done <"$PELLIX_DATA/.env"
    # The caches hold the settings of the last start.
    rm -f "$PELLIX_DATA"/cache/*.php
}

artisan() { php "$PELLIX_ROOT/artisan" "$@"; }

prepare_application() {
    quietly "$PELLIX_DATA/log/cache.log" artisan config:cache
    quietly "$PELLIX_DATA/log/cache.log" artisan route:cache
    backup_before_migrating
    quietly "$PELLIX_DATA/log/migrate.log" artisan migrate --force
}

# start_web PORT DEMO-PORT
start_web() {
    local as_root=() user_line=""
    [ "$(id -u)" -eq 0 ] && as_root=(-R) && user_line="user root;"
    sed -e "s#@RUN@#$RUN#g" -e "s#@DATA@#$PELLIX_DATA#g" "$PELLIX_ROOT/bin/lib/php-fpm.conf" >"$PELLIX_DATA/php-fpm.conf"
    sed -e "s~#BENCH#~${BENCH_LOCATION:-}~" -e "s#@RUN@#$RUN#g" -e "s#@DATA@#$PELLIX_DATA#g" -e "s#@ROOT@#$PELLIX_ROOT#g" -e "s#@USER@#$user_line#g" \
        -e "s#@CLIENT_BEACONS@#${PELLIX_CLIENT_BEACONS:-200}#g" -e "s#@CLIENT_BURST@#$((10 * ${PELLIX_CLIENT_BEACONS:-200}))#g" \
        -e "s#@PORT@#$1#g" -e "s#@DEMO_PORT@#$2#g" "$PELLIX_ROOT/bin/lib/nginx.conf" >"$PELLIX_DATA/nginx.conf"
    launch php-fpm "$(php_fpm)" --nodaemonize --fpm-config "$PELLIX_DATA/php-fpm.conf" "${as_root[@]}"
    launch nginx nginx -p "$RUN" -c "$PELLIX_DATA/nginx.conf" -e "$PELLIX_DATA/log/nginx.log" -g 'daemon off;'
    for _ in $(seq 100); do
        curl -fsS -o /dev/null "http://127.0.0.1:$1/favicon.svg" 2>/dev/null && return 0
        sleep 0.1
    done
    die "The web server did not answer; see $PELLIX_DATA/log/nginx.log and php-fpm.log"
}

# Works off scans and other jobs, keeps the figures up to date, and starts what is due each day.
start_workers() {
    launch worker nice -n 10 php "$PELLIX_ROOT/artisan" queue:work --sleep=0.5 --tries=5 --timeout=120 --memory=256
    launch gatherer nice -n 10 php "$PELLIX_ROOT/artisan" pellix:gather
    launch scheduler nice -n 10 php "$PELLIX_ROOT/artisan" schedule:work
}

# serve_fresh_demo PORT DEMO-PORT : a copy that begins with new demo data each time, for tests and measurements
serve_fresh_demo() {
    start_database
    write_settings "$1" "$2"
    step "demo data"
    quietly "$PELLIX_DATA/log/seed.log" artisan migrate:fresh --force
    quietly "$PELLIX_DATA/log/seed.log" artisan pellix:fill
    done_step
    prepare_application
    quietly "$PELLIX_DATA/log/publish.log" artisan pellix:publish
    start_web "$1" "$2"
    start_workers
}
