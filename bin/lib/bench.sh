# bin/pellix bench: the budgets of the design, measured as ratios and sizes in one run on a copy of its own.

run_bench() {
    ensure_ready_to_serve
    use_data_folder "$PELLIX_ROOT/var/bench"
    claim_data_folder
    trap 'trap - EXIT; stop_services; exit 130' INT TERM HUP
    trap 'stop_services' EXIT
    local port demo_port
    port="$(free_port)"
    demo_port="$(free_port)"
    serve_fresh_demo "$port" "$demo_port"
    php "$PELLIX_ROOT/bin/bench.php" "http://localhost:$port" "$(secret demo 6)"
}
