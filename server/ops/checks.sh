# Every test and every check, in the order in which they fail fastest. Sourced by ../../velvet.
# shellcheck shell=bash

check() {
    say "== $1"
    shift
    "$@"
}

# The tests run on homes of their own, so that they touch nobody's data and can run beside a running instance.
with_home() {
    local home=$1 port=$2
    shift 2
    env -u VELVET_DATABASE -u PGPASSWORD VELVET_HOME="$home" VELVET_PORT="$port" VELVET_BAYS="$home/demo/bay" "$@"
}

server_tests() {
    setup
    database_start
    supervisor start work:draw >/dev/null 2>&1 || true
    local result=0
    APP_ENV=test APP_DEBUG=1 "$ROOT/vendor/bin/phpunit" -c "$ROOT" --testsuite server "$@" || result=$?
    services_stop
    return $result
}

# browser_tests [SPEC...] [PLAYWRIGHT'S OPTIONS]. Each spec begins with a demo of its own, so that none needs another.
browser_tests() {
    local result=0 specs=() spec
    while [[ -n ${1:-} && $1 != -* ]]; do
        specs+=("$1")
        shift
    done
    ((${#specs[@]} > 0)) || mapfile -t specs < <(cd "$ROOT/web/e2e" && printf '%s\n' *.spec.ts)
    setup
    export VELVET_DEMO_CARDS=$VELVET_HOME.cards
    rm -rf "$VELVET_DEMO_CARDS"
    demo_draw "$VELVET_DEMO_CARDS" 1 # the same pictures as the demo's, a quarter of their pixels
    for spec in "${specs[@]}"; do
        cmd_demo --fresh
        (cd "$ROOT/web" && npx playwright test ${1:+--pass-with-no-tests} "$spec" "$@") || result=$?
    done
    services_stop
    rm -rf "$VELVET_DEMO_CARDS"
    return $result
}

fault_trials() {
    local result=0
    setup
    database_start
    php -d memory_limit=512M "$ROOT/bench/trials.php" "$@" || result=$?
    say 'The model of the promise'
    VELVET_SEQUENCES=${1:-300} VELVET_SEED=${2:-1} APP_ENV=test APP_DEBUG=1 \
        "$ROOT/vendor/bin/phpunit" -c "$ROOT" --testsuite server --filter PromiseTest >&2 || result=$?
    services_stop
    return $result
}

# No line of code is wider than 120 columns; migrations that ran somewhere stay as they are, and what is generated.
lines_are_short() {
    ! find core server/src server/tests bench web/src web/tests web/e2e web/bench \
        \( -name '*.php' -o -name '*.ts' -o -name '*.tsx' -o -name '*.mjs' \) ! -name 'schema.d.ts' -print0 | LC_ALL=C.UTF-8 xargs -0 grep -nP '^.{121,}$'
}

checks_run() {
    # what the set-up starts is stopped again, unless it was running before
    supervisor_pid >/dev/null || trap services_stop EXIT
    setup
    cd "$ROOT"
    check 'Shell scripts (shellcheck)' shellcheck -x velvet server/ops/serve .ci/run
    check 'Lines by 120 columns' lines_are_short
    check 'PHP style' vendor/bin/php-cs-fixer check --quiet
    check 'PHP as 8.2 says it (Rector)' vendor/bin/rector process --dry-run --no-progress-bar
    check 'PHP types (PHPStan)' vendor/bin/phpstan analyse --no-progress --memory-limit=1G
    check 'TypeScript types and style' npm --prefix web run --silent check
    check 'Front end (vitest)' npm --prefix web run --silent test
    check 'Core (PHPUnit)' vendor/bin/phpunit --testsuite core
    check 'Server (PHPUnit, PostgreSQL)' with_home "$ROOT/var/test" 8418 "$ROOT/velvet" _server-tests
    check 'Browser (Playwright, Chromium)' with_home "$ROOT/var/e2e" 8419 "$ROOT/velvet" _browser-tests
    say 'Every test passed.'
}
