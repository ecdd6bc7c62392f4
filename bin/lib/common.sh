# Small helpers that every command uses.

say() { printf '%s\n' "$*"; }
step() { printf '  %-28s' "$1"; }
done_step() { printf '%s\n' "${1:-ready}"; }

die() {
    printf '\n%s\n' "$*" >&2
    exit 1
}

# Runs a command with its output in a file, and shows the end of it when the command fails.
quietly() {
    local log="$1"
    shift
    mkdir -p "$(dirname "$log")"
    "$@" >"$log" 2>&1 || {
        printf 'failed\n\n' >&2
        tail -n 40 "$log" >&2
        die "The whole output is in $log"
    }
}

port_is_free() {
    php -r '$s = @stream_socket_server("tcp://127.0.0.1:".$argv[1]); exit($s ? 0 : 1);' "$1"
}

free_port() {
    php -r '$s = stream_socket_server("tcp://127.0.0.1:0"); echo explode(":", stream_socket_get_name($s, false))[1];'
}

random_text() { php -r 'echo bin2hex(random_bytes((int) $argv[1]));' "$1"; }

# A fingerprint of files and folders, to tell whether a step has to be done again. What the step itself makes is none of them.
fingerprint() {
    (cd "$PELLIX_ROOT" && find "$@" -type f ! -name schema.d.ts -print0 2>/dev/null | sort -z | xargs -0 sha1sum | sha1sum | cut -d' ' -f1)
}

# Compiled to machine code, long logs take half of the time.
# shellcheck disable=SC2034
COMPILED=(-d opcache.enable_cli=1 -d opcache.jit=tracing -d opcache.jit_buffer_size=64M)
