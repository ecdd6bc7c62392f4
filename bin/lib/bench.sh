# bin/pellix bench: the budgets of the design, measured as ratios and sizes in one run on a copy of its own.
# bin/pellix bench scale [--events=N]: the same for views, workers and the collector on millions of events.
# bin/pellix bench audit [files|stored|rates|power] [--events=N] [--logs=N]: the audit's speed, false alarms, and what it finds.

run_bench() {
    local what="${1:-budgets}" events=5000000 logs=300 part="" word
    case "$what" in
        budgets) ;;
        scale)
            case "${2:-}" in
                --events=*) events="${2#--events=}" ;;
                "") ;;
                *) die "bench scale knows --events=N only, not \"$2\"." ;;
            esac
            [[ "$events" =~ ^[0-9]{5,9}$ ]] || die "--events takes a whole number from 10000 on."
            ;;
        audit)
            for word in "${@:2}"; do
                case "$word" in
                    files | stored | rates | power) part="$word" ;;
                    --events=*) events="${word#--events=}" ;;
                    --logs=*) logs="${word#--logs=}" ;;
                    *) die "bench audit knows files, stored, rates, power, --events=N and --logs=N, not \"$word\"." ;;
                esac
            done
            [[ "$events" =~ ^[0-9]{5,9}$ && "$logs" =~ ^[0-9]{1,5}$ ]] || die "--events takes a whole number from 10000 on, --logs one up to 99999."
            ;;
        *) die "bench measures \"scale\" or, without a word, the budgets of the design; not \"$what\"." ;;
    esac
    if [ "$what" = audit ] && [ "$part" != "" ] && [ "$part" != stored ]; then
        [ -f "$PELLIX_ROOT/vendor/autoload.php" ] || ensure_php_packages
        bench_audit "$part" "" "$events" "$logs"
        return
    fi
    if [ -z "${PELLIX_LOWERED:-}" ]; then
        ensure_ready_to_serve
        ensure_debian_packages chromium=chromium chromedriver=chromium-driver
    fi
    lower_privileges "$PELLIX_ROOT/var/bench" bench "$@"
    use_data_folder "$PELLIX_ROOT/var/bench"
    claim_data_folder
    trap 'trap - EXIT; stop_services; exit 130' INT TERM HUP
    trap 'stop_services' EXIT
    local port demo_port
    port="$(free_port)"
    demo_port="$(free_port)"
    BENCH_LOCATION="location = /bare { fastcgi_param SCRIPT_FILENAME \"$PELLIX_ROOT/bench/bare.php\"; include \"$PELLIX_ROOT/bin/lib/fastcgi.conf\"; fastcgi_pass unix:@RUN@/collector.sock; }"
    # What is measured is the collector, not its patience.
    export PELLIX_CLIENT_BEACONS=100000 PELLIX_SITE_EVENTS=1000000
    rm -rf "$PELLIX_DATA/mysql"
    if [ "$what" = audit ]; then
        # Workers would count the same events meanwhile.
        fill_fresh_demo "$port" "$demo_port"
        for word in ${part:-files stored rates power}; do
            bench_audit "$word" "$RUN/db.sock" "$events" "$logs"
        done
        return
    fi
    serve_fresh_demo "$port" "$demo_port"
    if [ "$what" = scale ]; then
        php "$PELLIX_ROOT/bench/scale.php" "http://localhost:$port" "$(secret demo 6)" "$RUN/db.sock" "$events"
    else
        php "$PELLIX_ROOT/bench/budgets.php" "http://localhost:$port" "http://larkhollow.localhost:$demo_port" "$(secret demo 6)"
    fi
}

# One part of it: files, stored, rates or power.
bench_audit() {
    local folder="${TMPDIR:-/tmp}/pellix-audit.$$" number="$3" result=0
    [ "$1" = rates ] && number="$4"
    mkdir -p "$folder"
    php "${COMPILED[@]}" "$PELLIX_ROOT/bench/audit.php" "$1" "$folder" "$2" "$number" || result=$?
    rm -rf "$folder"
    return "$result"
}
