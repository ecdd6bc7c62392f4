# bin/pellix rehearse: a real browser walks through an experiment of a copy that is running.

run_rehearse() {
    local words=() word file fd named=0
    for word in "$@"; do
        case "$word" in
            --site=* | --variant=* | --screen=* | --json) words+=("$word") ;;
            --installation)
                words+=("$word")
                named=$((named + 1))
                ;;
            --junit=php://fd/* | --html=php://fd/*) words+=("$word") ;;
            --junit=* | --html=*)
                file="${word#*=}"
                # Opened by whoever asks for it: the user whom servers run as may write nowhere but to the data.
                if [ -z "$file" ] || ! { exec {fd}>"$file"; } 2>/dev/null; then
                    printf '%s: %s cannot be written.\n' "${word%%=*}" "${file:-A file without a name}" >&2
                    exit 2
                fi
                words+=("${word%%=*}=php://fd/$fd")
                ;;
            -*)
                printf 'rehearse knows --installation, --site, --variant, --screen, --json, --junit and --html, not "%s".\n' "$word" >&2
                exit 2
                ;;
            *)
                words+=("$word")
                named=$((named + 1))
                ;;
        esac
    done
    if [ "$named" -ne 1 ]; then
        printf 'Name one experiment, by its key: bin/pellix rehearse EXPERIMENT (or --installation)\n' >&2
        exit 2
    fi
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" rehearse "${words[@]}"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    need_running
    exec php "$PELLIX_ROOT/artisan" pellix:rehearse "${words[@]}"
}
