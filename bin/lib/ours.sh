# Which processes are this copy's, among all of the machine. One look at all of them at a time: each fork costs more than a file.

# ours : by their environment; or by their command, since some servers write over both
ours() {
    {
        grep -lzxF "PELLIX_DATA=$PELLIX_DATA" /proc/[0-9]*/environ
        grep -laF -e "$PELLIX_DATA/nginx.conf" -e "$PELLIX_DATA/php-fpm.conf" /proc/[0-9]*/cmdline
    } 2>/dev/null | tr -dc '0-9\n'
}

# ours_of_group LEADER : what is left of a group whose leader the supervisor started, also children that name nothing of ours
ours_of_group() {
    local pid known
    [ -n "$1" ] || return 0
    known="$(ours)"
    # After the name, which may hold anything: state, parent, group.
    for pid in $(cat /proc/[0-9]*/stat 2>/dev/null | awk -v group="$1" '{ pid = $1; sub(/.*\) /, ""); if ($3 == group) print pid }'); do
        if grep -qx "$pid" <<<"$known" || grep -qaE '^(nginx: worker|php-fpm: pool)' "/proc/$pid/cmdline" 2>/dev/null; then
            printf '%s ' "$pid"
        fi
    done
}
