# bin/pellix simulate: visitors for a copy that is running; with --to=FILE an event log, without a server.

run_simulate() {
    local word
    for word in "$@"; do
        case "$word" in
            --to=* | --to | --list-faults)
                [ -f "$PELLIX_ROOT/vendor/autoload.php" ] || (ensure_php_packages) >&2
                exec php -d opcache.enable_cli=1 -d opcache.jit=tracing -d opcache.jit_buffer_size=64M "$PELLIX_ROOT/demo/log.php" "$@"
                ;;
        esac
    done
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" simulate "$@"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    need_running
    exec php "$PELLIX_ROOT/artisan" pellix:simulate "$@"
}
