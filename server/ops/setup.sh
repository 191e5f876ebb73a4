# Sets up what is missing, a line a step. Sourced by ../../velvet.
# shellcheck shell=bash

DEBIAN_PACKAGES=(postgresql-15 nginx-light supervisor php8.2-cli php8.2-fpm php8.2-pgsql php8.2-intl php8.2-mbstring
    php8.2-xml php8.2-curl php8.2-gd php8.2-zip libvips42 libvips-tools librsvg2-2 libimage-exiftool-perl exiv2
    libraw-bin dcraw ffmpeg libtiff-tools xxhash strace shellcheck chromium fonts-dejavu-core curl unzip zopfli)
PROGRAMS=("$PG_BIN/postgres" nginx supervisord php-fpm8.2 exiftool exiv2 ffmpeg dcraw unprocessed_raw tiffinfo
    xxh128sum vips strace shellcheck chromium curl unzip zopfli)
PHP_EXTENSIONS=(pdo_pgsql pgsql intl mbstring xml gd FFI pcntl posix)

setup() {
    WAS_RUNNING=$(supervisor_pid || true)
    instance_folders
    # one set-up at a time in one checkout; who may not write there sets up nothing but a home
    if [[ -n $IS_OURS ]]; then
        mkdir -p "$ROOT/var"
        exec 9>"$ROOT/var/setup.lock"
        flock 9
    fi
    setup_packages
    setup_composer
    setup_web
    [[ -n $WAS_RUNNING ]] || leftovers_end
    database_prepare
    schema_is_current || schema_must_be_known
    setup_lenses
    setup_container
    schema_is_current || schema_migrate
    if [[ -n $IS_OURS ]]; then
        flock -u 9
        exec 9>&-
    fi
}

missing_programs() {
    local program modules
    for program in "${PROGRAMS[@]}"; do
        command -v "$program" >/dev/null || PATH=$PATH:/usr/sbin:/sbin command -v "$program" >/dev/null ||
            printf '%s ' "$program"
    done
    [[ $(PATH=$PATH:/usr/sbin:/sbin ldconfig -p) == *libvips.so.42* ]] || printf 'libvips '
    modules=$(php -m)
    for program in "${PHP_EXTENSIONS[@]}"; do
        grep -qix "$program" <<<"$modules" || printf 'php-%s ' "$program"
    done
}

setup_packages() {
    local missing
    missing=$(missing_programs)
    [[ -z $missing ]] && return
    [[ $(id -u) == 0 ]] || fail "Missing: $missing. Ask an administrator to run: apt-get install ${DEBIAN_PACKAGES[*]}"
    say "Debian packages: installing (missing: $missing)"
    {
        # a database cluster of Debian's own is not wanted: ours lives under VELVET_HOME
        [[ -d /etc/postgresql-common ]] || {
            mkdir -p /etc/postgresql-common
            echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
        }
        apt-get update &&
            DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends "${DEBIAN_PACKAGES[@]}"
    } >"$VELVET_HOME/log/apt.log" 2>&1 || fail "Debian packages could not be installed; see $VELVET_HOME/log/apt.log"
    missing=$(missing_programs)
    [[ -z $missing ]] || fail "Still missing after the installation: $missing"
}

# Runs a step when what it depends on has changed since it last succeeded.
#   step FOLDER-OF-STAMPS NAME HASH "what is said" command…
step() {
    local stamp=$1/$2 hash=$3 words=$4
    shift 4
    [[ -f $stamp && $(<"$stamp") == "$hash" ]] && return
    [[ -w ${stamp%/*} ]] || fail "The Velvet Ledger in $ROOT is not set up to its end ($words)." \
        "It belongs to $(stat -c %U "$ROOT"): let them run $ROOT/velvet setup."
    say "$words"
    "$@"
    printf %s "$hash" >"$stamp"
}

# (what the build itself generates does not count)
hash_of() {
    find "$@" -type f ! -name schema.d.ts ! -name reference.php -print0 |
        LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum
}

setup_composer() {
    [[ -d $ROOT/vendor ]] || rm -f "$ROOT/var/composer.stamp"
    step "$ROOT/var" composer.stamp "$(hash_of "$ROOT/composer.json")" 'Composer packages: installing' composer_install
}

composer_install() {
    (cd "$ROOT" && composer update --no-interaction --no-progress) >"$VELVET_HOME/log/composer.log" 2>&1 ||
        fail "Composer packages could not be installed; see $VELVET_HOME/log/composer.log"
    chmod -R a+rX "$ROOT/vendor" # some packages are for their owner alone; others of this computer run them, too
}

setup_web() {
    [[ -d $ROOT/web/node_modules ]] || rm -f "$ROOT/var/npm.stamp"
    [[ -f $ROOT/web/dist/index.html ]] || rm -f "$ROOT/var/web.stamp"
    step "$ROOT/var" npm.stamp "$(hash_of "$ROOT/web/package.json" "$ROOT/web/package-lock.json")" \
        'npm packages: installing' npm_install
    step "$ROOT/var" web.stamp "$(
        hash_of "$ROOT"/web/{src,public,index.html,package.json,vite.config.ts,tsconfig.json} \
            "$ROOT/server/openapi.yaml"
    )" 'Front end: building' web_build
}

npm_install() {
    (cd "$ROOT/web" && npm ci --no-audit --no-fund) >"$VELVET_HOME/log/npm.log" 2>&1 ||
        fail "npm packages could not be installed; see $VELVET_HOME/log/npm.log"
}

web_build() {
    (cd "$ROOT/web" && npm run --silent build) >"$VELVET_HOME/log/web.log" 2>&1 ||
        fail "The front end could not be built; see $VELVET_HOME/log/web.log"
}

# Names of lenses by their numbers; a newer package brings newer ones.
setup_lenses() {
    local tables
    tables=$(perl -e 'print((grep { -d } map { "$_/Image/ExifTool" } @INC)[0])')
    [[ -f $VELVET_HOME/etc/lenses.tsv ]] || rm -f "$VELVET_HOME/stamps/lenses"
    step "$VELVET_HOME/stamps" lenses "$(
        hash_of "$ROOT/core/bin/lens-table" "$tables"/{Canon,Minolta,Pentax}.pm
    )" 'Lenses: listing their names' lens_table
}

lens_table() {
    "$ROOT/core/bin/lens-table" >"$VELVET_HOME/etc/lenses.tsv.new" 2>"$VELVET_HOME/log/lenses.log" ||
        fail "The names of lenses could not be listed; see $VELVET_HOME/log/lenses.log"
    mv "$VELVET_HOME/etc/lenses.tsv.new" "$VELVET_HOME/etc/lenses.tsv"
}

setup_container() {
    step "$VELVET_HOME/stamps" container "$(
        hash_of "$ROOT"/server/{src,config} "$ROOT/core/src" "$ROOT/composer.json"
    )" 'Server: preparing' container_build
}

container_build() {
    find "$VELVET_HOME/cache" -mindepth 1 -delete
    console cache:warmup --quiet >&2
    # what runs must run the new code; it takes up its work where it was
    if pages_run; then supervisor restart pages:* work:* >/dev/null 2>&1 || true; fi
}
