#!/usr/bin/env bash
# keep.sh COMMAND…: runs a worker, and again whenever it ends; a worker that fails must not take the rest of this copy down.
trap 'trap - TERM; kill -TERM "$child" 2>/dev/null; wait "$child"; exit 0' TERM
while :; do
    "$@" &
    child=$!
    wait "$child" && code=0 || code=$?
    printf '%s ended with %s and is started again\n' "$*" "$code"
    sleep 1
done
