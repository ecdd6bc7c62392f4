# bin/pellix simulate: visitors for a copy that is running.

run_simulate() {
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" simulate "$@"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    [ -S "$RUN/db.sock" ] || die "Pellix is not running on this data. Start it first: bin/pellix start"
    exec php "$PELLIX_ROOT/artisan" pellix:simulate "$@"
}
