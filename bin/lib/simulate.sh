# bin/pellix simulate: visitors for a copy that is running.

run_simulate() {
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" simulate "$@"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    need_running
    exec php "$PELLIX_ROOT/artisan" pellix:simulate "$@"
}
