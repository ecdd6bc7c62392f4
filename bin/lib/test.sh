# bin/pellix test: sets everything up and runs all tests. `core` runs the core's alone; another word filters by name.

failed=()

# check NAME COMMAND… : one line on how it went, and its output where it failed
check() {
    local name="$1" log begin=$SECONDS
    shift
    log="$CHECKS/$(printf '%s' "$name" | tr -c 'A-Za-z0-9' -).log"
    if "$@" >"$log" 2>&1; then
        printf '  %-28sfine, %d s\n' "$name" $((SECONDS - begin))
    else
        printf '  %-28sFAILED\n' "$name"
        tail -n 60 "$log"
        printf '%s\n' "$name" >>"$CHECKS/failed"
    fi
}

check_php() {
    check "code style (PHP)" vendor/bin/php-cs-fixer check --diff
    check "PHPStan" vendor/bin/phpstan analyse --no-progress --memory-limit=1G
    check "PHPStan (application)" env PELLIX_DATA="$CHECKS" vendor/bin/phpstan analyse -c phpstan.app.neon --no-progress --memory-limit=1G
}

check_typescript() {
    check "TypeScript" npm run --silent typecheck
    check "code style (TypeScript)" npm run --silent lint
    check "runtime and interface" npm run --silent test
}

# The names of tests hold whatever their data holds, bytes that are no text too: so this reads no XML.
slowest_tests() {
    php -r '
        $text = implode("", array_map(file_get_contents(...), array_slice($argv, 1)));
        preg_match_all("~<testcase name=\"([^\"]*)\"[^>]*? class(?:name)?=\"([^\"]*)\"[^>]*? time=\"([\d.]+)\"~", $text, $all, PREG_SET_ORDER);
        usort($all, fn (array $a, array $b): int => (float) $b[3] <=> (float) $a[3]);
        echo "The slowest tests:\n";
        foreach (array_slice($all, 0, 20) as [, $name, $class, $seconds]) { printf("%7.1f s  %s\n", $seconds, mb_strimwidth(mb_scrub("{$class}: {$name}", "UTF-8"), 0, 120, "…")); }
    ' "$@"
}

# run_pest REPORT OPTION… : one run of Pest, with a report of that name and a cache of its own
run_pest() {
    local report="$1"
    shift
    exec vendor/bin/pest "$@" --cache-directory "$PELLIX_DATA/phpunit/$report" --log-junit "$PELLIX_DATA/$report.xml"
}

run_test() {
    cd "$PELLIX_ROOT"
    CHECKS="$PELLIX_ROOT/var/checks"
    if [ -z "${PELLIX_LOWERED:-}" ]; then
        ensure_php_packages
        if [ "${1:-}" = core ]; then
            exec vendor/bin/pest --testsuite=core
        fi
        say "Pellix, all tests"
        ensure_debian_packages "${SERVE_NEEDS[@]}" "${TEST_NEEDS[@]}"
        ensure_built
        # A plug-in of Pest wants to make this whenever it starts, and the tests may run as somebody else.
        mkdir -p vendor/pestphp/pest-plugin-mutate/.temp/pest-mutate-cache
        rm -rf "$CHECKS"
        mkdir -p "$CHECKS"
        if [ $# -eq 0 ]; then
            # They share nothing: one on each core.
            check_php &
            check_typescript
            wait
        fi
    fi
    lower_privileges "$PELLIX_ROOT/var/test" test "$@"
    [ ! -s "$CHECKS/failed" ] || mapfile -t failed <"$CHECKS/failed"
    use_data_folder "$PELLIX_ROOT/var/test"
    claim_data_folder
    trap 'trap - EXIT; kill "${tests:-}" "${inside:-}" 2>/dev/null; stop_services; exit 130' INT TERM HUP
    trap 'stop_services' EXIT

    serve_for_tests
    rm -f "$PELLIX_DATA"/junit*.xml
    if [ $# -gt 0 ]; then
        # The word filters by name.
        run_pest junit --filter "$1" &
        tests=$!
    else
        # Two at a time: what needs no served copy shares nothing with what does. Its words follow when the others have been said.
        run_pest junit-inside --testsuite core,reference,feature >"$PELLIX_DATA/inside.log" 2>&1 &
        inside=$!
        run_pest junit-served --testsuite served,browser &
        tests=$!
    fi
    # In the background, since bash hears no signal while it waits for a command in the foreground.
    wait "$tests" || failed+=("Pest")
    if [ -n "${inside:-}" ]; then
        wait "$inside" || failed+=("Pest (core, reference, feature)")
        cat "$PELLIX_DATA/inside.log"
        slowest_tests "$PELLIX_DATA"/junit-*.xml || true
    fi
    if [ ${#failed[@]} -gt 0 ]; then
        say ""
        say "Failed: ${failed[*]}"
        exit 1
    fi
}

# A copy with the demo's data for the tests that meet it from outside, and a second database for those inside one process.
serve_for_tests() {
    export PELLIX_METRICS_TOKEN=token-of-the-tests
    local port demo_port
    port="$(free_port)"
    demo_port="$(free_port)"
    serve_fresh_demo "$port" "$demo_port"
    mariadb --no-defaults --socket="$RUN/db.sock" --user="$(id -un)" -e "
        CREATE DATABASE IF NOT EXISTS pellix_feature CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
        DROP DATABASE IF EXISTS pellix_upgrade;
        CREATE DATABASE pellix_upgrade CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
        GRANT ALL ON pellix_feature.* TO pellix@localhost;
        GRANT ALL ON pellix_upgrade.* TO pellix@localhost;"

    mkdir -p "$PELLIX_DATA"/feature/{cache,storage/framework/views,storage/logs}
    sed -e 's/^DB_DATABASE=.*/DB_DATABASE=pellix_feature/' -e 's/^APP_ENV=.*/APP_ENV=testing/' -e 's/^CACHE_STORE=.*/CACHE_STORE=array/' \
        -e 's/^SESSION_DRIVER=.*/SESSION_DRIVER=array/' -e 's/^QUEUE_CONNECTION=.*/QUEUE_CONNECTION=sync/' -e 's/^PELLIX_FETCH_PAUSE_MS=.*/PELLIX_FETCH_PAUSE_MS=0/' -e "s#^PELLIX_PUBLISHED=.*#PELLIX_PUBLISHED=\"$PELLIX_DATA/feature/published\"#" \
        "$PELLIX_DATA/.env" >"$PELLIX_DATA/feature/.env"
    export PELLIX_FEATURE_DATA="$PELLIX_DATA/feature" PELLIX_TEST_DATA="$PELLIX_DATA" PELLIX_TEST_SOCKET="$RUN/db.sock"
    export PELLIX_TEST_ORIGIN="http://localhost:$port" PELLIX_TEST_DEMO_ORIGIN="http://larkhollow.localhost:$demo_port"
    PELLIX_TEST_PASSWORD="$(secret demo 10)"
    PELLIX_TEST_DB_PASSWORD="$(secret database 20)"
    export PELLIX_TEST_PASSWORD PELLIX_TEST_DB_PASSWORD
}
