# Servers, workers and tests run as an ordinary user, also when root starts them: what takes bytes from strangers may change
# nothing but its own data.

SERVE_USER="${PELLIX_USER:-_pellix}"

# as_user USER COMMAND… : never again more than that user may
as_user() {
    local user="$1"
    shift
    exec setpriv --reuid="$user" --regid="$(id -g "$user")" --init-groups --no-new-privs -- "$@"
}

# lower_privileges DATA-FOLDER COMMAND [ARGUMENT…] : as root, gives the data to the ordinary user, and goes on as that user with
# the same command. Returns where there is nothing to lower.
lower_privileges() {
    local data="$1"
    shift
    [ "$(id -u)" -eq 0 ] || return 0
    id "$SERVE_USER" >/dev/null 2>&1 ||
        useradd --system --user-group --no-create-home --home-dir /nonexistent --shell /usr/sbin/nologin "$SERVE_USER" ||
        die "The user $SERVE_USER, whom servers run as, could not be made. Name one that exists: PELLIX_USER=www-data"
    [ "$(id -u "$SERVE_USER")" -ne 0 ] || die "PELLIX_USER names root; servers run as an ordinary user."
    mkdir -p "$data"
    data="$(cd "$data" && pwd)"
    # All of it is given away below: a folder that holds something else is not taken for one of ours.
    [ -z "$(ls -A "$data" | grep -vx settings.env)" ] || [ -e "$data/secret-database" ] || [ -e "$data/pellix-data" ] ||
        die "$data holds something else than a copy of Pellix. Name a folder of its own: PELLIX_DATA=var/second"
    : >"$data/pellix-data"
    mkdir -p "$data/home"
    find "$data" ! -user "$SERVE_USER" -exec chown -h "$SERVE_USER:" {} +
    # Some packages come with files that only their owner may read.
    find "$PELLIX_ROOT/vendor" "$PELLIX_ROOT/public" ! -type l ! -perm -o=r -exec chmod o+rX {} +
    if ! (as_user "$SERVE_USER" test -r "$PELLIX_ROOT/vendor/autoload.php" -a -r "$PELLIX_ROOT/bin/pellix" -a -w "$data"); then
        chown -hR 0:0 "$data"
        say "The folders that lead to $PELLIX_ROOT or to $data let nobody but root in, so servers run as root. Put Pellix where others may read it, such as /opt/pellix."
        return 0
    fi
    as_user "$SERVE_USER" env HOME="$data/home" USER="$SERVE_USER" LOGNAME="$SERVE_USER" PELLIX_LOWERED=1 "$PELLIX_ROOT/bin/pellix" "$@"
}

# as_owner DATA-FOLDER COMMAND [ARGUMENT…] : the same for a command that works on a copy which is there
as_owner() {
    local data="$1" owner
    shift
    owner="$(stat -c %U "$data" 2>/dev/null || id -un)"
    [ "$(id -u)" -eq 0 ] && [ "$owner" != root ] || return 0
    as_user "$owner" env HOME="$data/home" USER="$owner" LOGNAME="$owner" "$PELLIX_ROOT/bin/pellix" "$@"
}
