# bin/pellix rehearse: a real browser walks through an experiment of a copy that is running.

run_rehearse() {
    local words=() word file fd
    for word in "$@"; do
        case "$word" in
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
            *) words+=("$word") ;;
        esac
    done
    as_owner "${PELLIX_DATA:-$PELLIX_ROOT/var/main}" rehearse "${words[@]}"
    use_data_folder "${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    need_running
    exec php "$PELLIX_ROOT/artisan" pellix:rehearse "${words[@]}"
}
