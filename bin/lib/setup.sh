# Installs what is missing: Debian's packages, Composer's, npm's; builds the interface and the runtime.

STAMPS="$PELLIX_ROOT/var/stamps"

# command, "php:EXTENSION" or "python:MODULE" => Debian package, for serving and for testing
SERVE_NEEDS=(
    php=php-cli php:mbstring=php-mbstring php:dom=php-xml php:curl=php-curl php:pdo_mysql=php-mysql php:zip=php-zip
    composer=composer unzip=unzip git=git node=nodejs npm=npm
    mariadbd=mariadb-server mariadb=mariadb-client nginx=nginx-light php-fpm=php-fpm supervisord=supervisor setpriv=util-linux
    chromium=chromium chromedriver=chromium-driver
)
TEST_NEEDS=(Rscript=r-base-core python3=python3 python:prometheus_client=python3-prometheus-client)

has() {
    case "$1" in
        php:*) command -v php >/dev/null && php -r 'exit(extension_loaded($argv[1]) ? 0 : 1);' "${1#php:}" ;;
        php-fpm) [ -n "$(php_fpm)" ] ;;
        python:*) /usr/bin/python3 -c "import ${1#python:}" 2>/dev/null ;;
        *) command -v "$1" >/dev/null ;;
    esac
}

# The php-fpm of the same version as the php on the path: Debian names it after the version.
php_fpm() {
    command -v php >/dev/null || return 0
    command -v "php-fpm$(php -r 'echo PHP_MAJOR_VERSION, ".", PHP_MINOR_VERSION;')" || true
}

ensure_debian_packages() {
    local need missing=()
    for need in "$@"; do
        has "${need%%=*}" || missing+=("${need#*=}")
    done
    [ ${#missing[@]} -eq 0 ] && return 0
    if [ "$(id -u)" -ne 0 ]; then
        die "These Debian packages are missing, and only root can install them:

  sudo apt-get install --no-install-recommends ${missing[*]}

Then run the same command again."
    fi
    say "Installing ${missing[*]}"
    step "Debian packages"
    quietly "$PELLIX_ROOT/var/log/apt.log" apt-get update
    # RUNLEVEL=1 keeps the packages from starting servers of their own: Pellix starts its own, on its own ports.
    RUNLEVEL=1 DEBIAN_FRONTEND=noninteractive quietly "$PELLIX_ROOT/var/log/apt.log" \
        apt-get install -y --no-install-recommends "${missing[@]}"
    done_step
}

# Debian's own Node.js may be older than the build tools allow; the npm registry has a newer one as a package.
ensure_node() {
    local tools="$PELLIX_ROOT/var/tools"
    [ -x "$tools/node_modules/node/bin/node" ] && export PATH="$tools/node_modules/node/bin:$PATH"
    node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' && return 0
    step "Node.js 20"
    mkdir -p "$tools"
    quietly "$PELLIX_ROOT/var/log/node.log" npm install --prefix "$tools" --no-audit --no-fund node@20
    export PATH="$tools/node_modules/node/bin:$PATH"
    done_step "$(node --version)"
}

# once NAME FINGERPRINT WANTED-FILE COMMAND… : runs the command unless it was run for the same fingerprint before
once() {
    local name="$1" print="$2" wanted="$3"
    shift 3
    [ -e "$wanted" ] && [ "$(cat "$STAMPS/$name" 2>/dev/null)" = "$print" ] && return 0
    step "$name"
    quietly "$PELLIX_ROOT/var/log/$name.log" "$@"
    mkdir -p "$STAMPS"
    printf '%s' "$print" >"$STAMPS/$name"
    done_step
}

ensure_php_packages() {
    ensure_debian_packages php=php-cli php:mbstring=php-mbstring php:dom=php-xml php:curl=php-curl php:pdo_mysql=php-mysql php:zip=php-zip \
        composer=composer unzip=unzip git=git
    cd "$PELLIX_ROOT"
    # As root Composer asks whether it may; nobody is there to answer.
    COMPOSER_ALLOW_SUPERUSER=1 once composer "$(fingerprint composer.json packages)" vendor/autoload.php \
        composer update --no-interaction --no-progress
}

ensure_built() {
    ensure_node
    cd "$PELLIX_ROOT"
    once npm "$(fingerprint package.json package-lock.json)" node_modules/.package-lock.json npm ci --no-audit --no-fund
    once build "$(fingerprint package-lock.json resources runtime/src loupe/src docs/openapi.yaml vite.config.ts vite.runtime.config.ts vite.loupe.config.ts)" \
        public/build/manifest.json npm run build
}

ensure_ready_to_serve() {
    ensure_debian_packages "${SERVE_NEEDS[@]}"
    ensure_php_packages
    ensure_built
}
