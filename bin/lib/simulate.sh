# bin/pellix simulate: visitors for a copy that is running; with --to=FILE an event log, without a server.

run_simulate() {
    local word
    for word in "$@"; do
        case "$word" in
            --to=* | --to | --list-faults)
                [ -f "$PELLIX_ROOT/vendor/autoload.php" ] || (ensure_php_packages) >&2
                exec php "${COMPILED[@]}" "$PELLIX_ROOT/demo/log.php" "$@"
                ;;
        esac
    done
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" simulate "$@"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    need_running
    exec php "$PELLIX_ROOT/artisan" pellix:simulate "$@"
}
