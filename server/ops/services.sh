# Starts and stops the processes, all of them under one supervisor. Sourced by ../../velvet.
# shellcheck shell=bash

supervisor() { supervisorctl -c "$VELVET_HOME/etc/supervisord.conf" "$@"; }

supervisor_pid() {
    local pid
    pid=$(cat "$RUN/supervisord.pid" 2>/dev/null) || return 1
    [[ -n $pid ]] && kill -0 "$pid" 2>/dev/null && printf %s "$pid"
}

# Fills the templates with this instance's paths.
services_configure() {
    local template php_user=
    mkdir -p "$VELVET_HOME/etc"
    [[ $(id -u) == 0 ]] && php_user=root
    for template in "$ROOT"/server/ops/*.conf; do
        sed -e "s|@ROOT@|$ROOT|g; s|@HOME@|$VELVET_HOME|g; s|@RUN@|$RUN|g; s|@PORT@|$VELVET_PORT|g; s|@PG_BIN@|$PG_BIN|g; s|@DB@|$DB_FOLDER|g" \
            -e "s|@CORES@|$(nproc)|g" -e "s|@AS_ROOT@|${php_user:+-R}|g" \
            -e "$([[ $php_user == root ]] && echo 's|^@ROOT_ONLY@ ||' || echo '/^@ROOT_ONLY@ /d')" \
            "$template" >"$VELVET_HOME/etc/$(basename "$template")"
    done
}

supervisor_start() {
    supervisor_pid >/dev/null && return
    services_configure
    mkdir -p -m 711 "$RUN"
    (cd / && PATH=$PATH:/usr/sbin:/sbin supervisord -c "$VELVET_HOME/etc/supervisord.conf") 9>&- ||
        fail "The supervisor did not start; see $VELVET_HOME/log/supervisord.log"
}

# Waits for a command to succeed; looks ten times a second for at most half a minute.
await() {
    local words=$1 i
    shift
    for ((i = 0; i < 300; i++)); do
        "$@" >/dev/null 2>&1 && return
        sleep 0.1
    done
    fail "$words"
}

database_answers() { psql -h "$RUN/pg" -U velvet -d "$1" -Atc 'SELECT 1'; }

database_start() {
    supervisor_start
    database_answers velvet >/dev/null 2>&1 && return
    supervisor start database >/dev/null 2>&1 || true
    await "The database does not answer; see $VELVET_HOME/log/database.log" database_answers postgres
    psql -h "$RUN/pg" -U velvet -d postgres -Atc "SELECT 1 FROM pg_database WHERE datname = 'velvet'" | grep -q 1 ||
        psql -q -h "$RUN/pg" -U velvet -d postgres -c 'CREATE DATABASE velvet' >/dev/null
}

services_start() {
    database_start
    demo_drives_connect
    supervisor start pages:* work:* >/dev/null 2>&1 || true
    await "The server does not answer at $(address); see $VELVET_HOME/log" curl -fsS -o /dev/null --max-time 2 "$(address)api/bays"
}

services_stop() {
    local pid
    if pid=$(supervisor_pid); then
        kill -TERM "$pid"
        await 'The supervisor does not end.' not_running "$pid"
    fi
    demo_drives_disconnect
    rm -rf "$RUN"
    say 'Velvet Ledger is stopped.'
}

not_running() { ! kill -0 "$1" 2>/dev/null; }

services_status() {
    local running=false lines='' json
    supervisor_pid >/dev/null && { running=true; lines=$(supervisor status || true); }
    if [[ ${1:-} == --json ]]; then
        json=$(awk 'NF { printf "%s{\"name\": \"%s\", \"state\": \"%s\"}", n++ ? ", " : "", $1, tolower($2) }' <<<"$lines")
        printf '{"running": %s, "address": "%s", "home": "%s", "processes": [%s]}\n' "$running" "$(address)" "$VELVET_HOME" "$json"
    elif [[ $running == true ]]; then
        printf 'Velvet Ledger runs at %s (home %s)\n%s\n' "$(address)" "$VELVET_HOME" "$lines"
    else
        printf 'Velvet Ledger is not running (home %s)\n' "$VELVET_HOME"
    fi
}
