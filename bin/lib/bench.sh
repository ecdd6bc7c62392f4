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
    BENCH_LOCATION="location = /bare { fastcgi_param SCRIPT_FILENAME \"$PELLIX_ROOT/bin/lib/bare.php\"; include \"$PELLIX_ROOT/bin/lib/fastcgi.conf\"; fastcgi_pass unix:@RUN@/fpm.sock; }"
    ensure_debian_packages chromium=chromium chromedriver=chromium-driver
    serve_fresh_demo "$port" "$demo_port"
    php "$PELLIX_ROOT/bin/bench.php" "http://localhost:$port" "http://larkhollow.localhost:$demo_port" "$(secret demo 6)"
}
