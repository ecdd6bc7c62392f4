#!/usr/bin/env bash
# run.sh NAME COMMAND…: what the supervisor runs for each server and worker. Ends whatever an earlier one of the same name left
# behind, which would hold its port or its files (a master that was killed leaves its workers), notes its process, and becomes
# the command.
name="$1"
shift
mkdir -p "$PELLIX_RUN/pids"
own="$PELLIX_RUN/pids/$name"

# shellcheck source=ours.sh
source "$(dirname "${BASH_SOURCE[0]}")/ours.sh"

earlier="$(cat "$own" 2>/dev/null)"
if [ -n "$earlier" ] && [ "$earlier" != $$ ]; then
    left="$(ours_of_group "$earlier")"
    # shellcheck disable=SC2086
    [ -z "$left" ] || kill -TERM $left 2>/dev/null
    for _ in $(seq 100); do
        left="$(ours_of_group "$earlier")"
        [ -n "$left" ] || break
        sleep 0.1
    done
    # shellcheck disable=SC2086
    [ -z "$left" ] || kill -KILL $left 2>/dev/null
fi
printf '%s' $$ >"$own"
exec "$@"
