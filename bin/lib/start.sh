# bin/pellix start: serves Pellix and its demo site until Ctrl-C.

run_start() {
    local fresh=no empty=no port="${PELLIX_PORT:-8900}" demo_port="${PELLIX_DEMO_PORT:-8901}" word
    for word in "$@"; do
        case "$word" in
            --fresh) fresh=yes ;;
            --empty) empty=yes ;;
            *) die "start knows --fresh and --empty, not \"$word\"." ;;
        esac
    done
    if [ -z "${PELLIX_LOWERED:-}" ]; then
        say "Pellix"
        ensure_ready_to_serve
    fi
    lower_privileges "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" start "$@"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    claim_data_folder
    trap 'trap - EXIT; printf "\nStopping…\n"; stop_services; say "Stopped."; exit 0' INT TERM HUP
    trap 'stop_services' EXIT
    [ "$port" != "$demo_port" ] || die "PELLIX_PORT and PELLIX_DEMO_PORT must differ; both are $port."
    port_is_free "$port" || die "Port $port is taken by another program. Choose another one: PELLIX_PORT=8910 bin/pellix start"
    port_is_free "$demo_port" || die "Port $demo_port is taken by another program. Choose another one: PELLIX_DEMO_PORT=8911 bin/pellix start"

    if [ "$fresh" = yes ]; then
        rm -rf "$PELLIX_DATA/mysql" "$PELLIX_DATA/published" "$PELLIX_DATA/storage" "$PELLIX_DATA/empty"
        use_data_folder "$PELLIX_DATA"
    fi
    # A copy that began empty stays one, however it is started again.
    [ "$empty" = no ] || { has_own_database && [ -d "$PELLIX_DATA/mysql" ]; } || touch "$PELLIX_DATA/empty"
    if [ "$empty" = yes ] && [ ! -e "$PELLIX_DATA/empty" ]; then
        die "$PELLIX_DATA holds a copy with the demo. Choose another folder: PELLIX_DATA=/some/folder bin/pellix start --empty"
    fi
    start_database
    write_settings "$port" "$demo_port"
    prepare_application
    if [ ! -e "$PELLIX_DATA/empty" ]; then
        step "demo data"
        quietly "$PELLIX_DATA/log/seed.log" artisan pellix:fill
        done_step
    fi
    quietly "$PELLIX_DATA/log/publish.log" artisan pellix:publish
    start_web "$port" "$demo_port"
    start_workers

    local address
    address="$(sed -n 's/^APP_URL=//p' "$PELLIX_DATA/.env" | tail -n 1)"
    say ""
    say "  Pellix     $address"
    if [ -e "$PELLIX_DATA/empty" ]; then
        say "  begin      $address/begin#$(secret setup 16)   (the first account; good until it is made)"
    else
        say "  sign in    ines@larkhollow.example"
        say "  password   $(secret demo 10)"
        say "  demo site  http://larkhollow.localhost:$demo_port"
    fi
    say ""
    say "Ctrl-C stops everything."
    # A signal ends the script through its trap; a server that dies is started again by the supervisor.
    stay
}
