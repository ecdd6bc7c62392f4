# bin/pellix backup FILE and bin/pellix restore FILE: everything that one copy holds, in one file.

# dump_database : the database of the started copy, as SQL on standard output, as it was at one moment
dump_database() {
    database_client mariadb-dump --single-transaction --quick --skip-lock-tables --hex-blob pellix
}

# The archive itself is written by whoever asks for it, the copy is read by its owner: neither needs the other's rights.
run_backup() {
    local target="${1:-}" data="${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    [ -n "$target" ] && [ $# -eq 1 ] || die "Say where to: bin/pellix backup FILE.tar.gz"
    if [ "$target" != - ]; then
        [ ! -e "$target" ] || die "$target is there already; choose another name."
        target="$(cd "$(dirname "$target")" 2>/dev/null && pwd)/$(basename "$target")" || die "The folder of $target cannot be opened."
        # Who holds the file holds the secrets of the copy.
        umask 077
        step "backup"
        "$PELLIX_ROOT/bin/pellix" backup - >"$target.part" || { rm -f "$target.part"; exit 1; }
        mv "$target.part" "$target"
        done_step "$(du -h "$target" | cut -f1)"
        say "Backup: $target"
        return 0
    fi
    as_owner "$data" backup -
    use_data_folder "$data"
    need_running
    umask 077
    parts="$(mktemp -d "$PELLIX_DATA/tmp/backup.XXXXXX")"
    # Not local: it is needed when the function is over.
    trap 'rm -rf "${parts:-}"' EXIT
    dump_database | gzip >"$parts/database.sql.gz"
    [ "${PIPESTATUS[0]}" -eq 0 ] || die "The database could not be read."
    cp -a "$PELLIX_DATA"/secret-* "$PELLIX_DATA/published" "$parts/"
    printf 'pellix backup 1\n' >"$parts/pellix-backup"
    tar -cz -C "$parts" . || die "The file could not be written."
}

run_restore() {
    local source="${1:-}" force="${2:-}" data="${PELLIX_DATA:-$PELLIX_ROOT/var/main}"
    [ "$source" = - ] || [ -f "$source" ] || die "Say what: bin/pellix restore FILE.tar.gz"
    [ -z "$force" ] || [ "$force" = --replace ] || die "restore knows --replace only, not \"$force\"."
    ensure_debian_packages "${SERVE_NEEDS[@]}"
    # Whoever calls this may read the file; the user whom the servers run as need not.
    [ "$source" = - ] || exec <"$source"
    lower_privileges "$data" restore - ${force:+"$force"}
    use_data_folder "$data"
    [ ! -d "$PELLIX_DATA/mysql" ] || [ "$force" = --replace ] || die "There is data in $PELLIX_DATA already. Restore to another folder (PELLIX_DATA=var/other), or replace it: bin/pellix restore FILE --replace"
    claim_data_folder
    trap 'stop_services; rm -rf "${parts:-}"' EXIT
    trap 'exit 130' INT TERM HUP
    umask 077
    mkdir -p "$PELLIX_DATA/tmp"
    parts="$(mktemp -d "$PELLIX_DATA/tmp/restore.XXXXXX")"
    # Looked at as a whole before anything is replaced.
    tar -xz -C "$parts" --no-same-owner 2>/dev/null && grep -qx 'pellix backup 1' "$parts/pellix-backup" 2>/dev/null || die "This is no backup of Pellix, or it is damaged."
    gzip -t "$parts/database.sql.gz" || die "This backup is damaged: its database cannot be unpacked."
    rm -rf "$PELLIX_DATA/mysql" "$PELLIX_DATA/published"
    cp -a "$parts"/secret-* "$parts/published" "$PELLIX_DATA/"
    start_database
    step "data"
    gzip -dc "$parts/database.sql.gz" | database_client mariadb pellix || die "The database could not be filled."
    done_step
    say "Restored. Start it: bin/pellix start"
}

# Before the first change to a database that holds something: a way back, the newest three of them.
backup_before_migrating() {
    local tables
    tables="$(database_client mariadb -Ne "select count(*) from information_schema.tables where table_schema = 'pellix'")"
    [ "$tables" -gt 0 ] || return 0
    artisan migrate:status --pending 2>/dev/null | grep -q Pending || return 0
    mkdir -p "$PELLIX_DATA/backups"
    step "backup before the upgrade"
    (umask 077 && dump_database | gzip >"$PELLIX_DATA/backups/before-upgrade-$(date -u +%Y%m%dT%H%M%SZ).sql.gz")
    # shellcheck disable=SC2012
    ls -t "$PELLIX_DATA"/backups/before-upgrade-*.sql.gz | tail -n +4 | xargs -r rm -f
    done_step "made"
}
