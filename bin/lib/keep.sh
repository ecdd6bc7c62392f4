#!/usr/bin/env bash
# keep.sh NAME COMMAND…: runs a server or a worker, and again whenever it ends, so that one that dies takes nothing else down.
# What dies again and again is started ever more slowly. Whatever a process leaves behind of its own group goes with it: a
# master that was killed leaves workers that would hold its port.
name="$1"
shift
mkdir -p "$PELLIX_RUN/pids"
own="$PELLIX_RUN/pids/$name"

# By its environment; or by its command, since some servers write over both.
is_ours() {
    grep -qzxF "PELLIX_DATA=$PELLIX_DATA" "/proc/$1/environ" 2>/dev/null || tr '\0' ' ' <"/proc/$1/cmdline" 2>/dev/null | grep -qF "$PELLIX_DATA/"
}

sweep() { [ -n "${child:-}" ] && kill -KILL -- "-$child" 2>/dev/null; }

# One that an earlier keeper left behind, if it really is ours.
child="$(cat "$own" 2>/dev/null)"
if [ -n "$child" ] && is_ours "$child"; then
    kill -TERM "$child" 2>/dev/null
    for _ in $(seq 100); do
        kill -0 "$child" 2>/dev/null || break
        sleep 0.1
    done
    sweep
fi

trap 'trap - TERM; kill -TERM "$child" 2>/dev/null; wait "$child"; sweep; rm -f "$own"; exit 0' TERM
pause=0.2
while :; do
    begin=$SECONDS
    setsid "$@" &
    child=$!
    printf '%s' "$child" >"$own"
    wait "$child" && code=0 || code=$?
    sweep
    [ $((SECONDS - begin)) -gt 10 ] && pause=0.2
    printf '%s %s ended with %s and is started again in %s s\n' "$(date -u +%Y-%m-%dT%H:%M:%SZ)" "$name" "$code" "$pause"
    # In the background, so that a signal is heard meanwhile.
    sleep "$pause" &
    wait $!
    pause="$(awk -v p="$pause" 'BEGIN { p *= 2; print (p > 10 ? 10 : p) }')"
done
