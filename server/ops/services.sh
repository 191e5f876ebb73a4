# Starts and stops the processes, all of them under one supervisor. Sourced by ../../velvet.
# shellcheck shell=bash

supervisor() { supervisorctl -c "$VELVET_HOME/etc/supervisord.conf" "$@"; }

# Fills the templates with this instance's paths. What holds for root alone, or with a key, stands in lines of its own.
services_configure() {
    local template root=d key=d access='' session=''
    [[ $(id -u) != 0 ]] || root='s|^@ROOT_ONLY@ ||'
    if ! is_demo; then
        key='s|^\( *\)@WITH_KEY@ |\1|'
        access=$(access_key)
        session=$(sha256sum <<<"the session of $access")
    fi
    for template in "$ROOT"/server/ops/*.conf; do
        # through standard input, so that the key stands in no list of processes
        sed -f - "$template" >"$VELVET_HOME/etc/$(basename "$template")" <<SED
s|@ROOT@|$ROOT|g; s|@HOME@|$VELVET_HOME|g; s|@RUN@|$RUN/own|g; s|@PORT@|$VELVET_PORT|g; s|@PG_BIN@|$PG_BIN|g
s|@DB@|$DB_FOLDER|g; s|@SOCKETS@|$PG_SOCKETS|g; s|@CORES@|$(nproc)|g; s|@HASH@|$HOME_HASH|g
s|@KEY@|$access|g; s|@SESSION@|${session:0:64}|g; s|@AS_ROOT@|$([[ $(id -u) != 0 ]] || echo -R)|g
/^@ROOT_ONLY@ /$root
/^ *@WITH_KEY@ /$key
SED
    done
    printf %s "$VELVET_PORT" >"$VELVET_HOME/etc/port"
}

supervisor_start() {
    # one that an older version started keeps its sockets elsewhere
    if supervisor_pid >/dev/null; then
        ! grep -qF "file=$RUN/own/supervisor.sock" "$VELVET_HOME/etc/supervisord.conf" || return 0
        services_stop
    fi
    leftovers_end
    services_configure
    # their umask is the caller's: what is filed is as readable as the photographer wants it
    (
        cd / && PATH=$PATH:/usr/sbin:/sbin VELVET_SUPERVISED=$VELVET_HOME \
            supervisord -c "$VELVET_HOME/etc/supervisord.conf"
    ) 9>&- ||
        fail "The supervisor did not start; see $VELVET_HOME/log/supervisord.log"
}

services_start() {
    local pid
    database_start
    # one that was begun for a question to the ledger has the bays of that moment
    if pid=$(supervisor_pid) && ! pages_run && ! grep -qzxF -- "VELVET_BAYS=$VELVET_BAYS" "/proc/$pid/environ"; then
        nobody_asks || fail "A command is at work in this home, and other bays than now were watched when it began." \
            'Nothing was changed. Start again when it is done.'
        services_stop >/dev/null 2>&1
        database_start
    fi
    demo_drives_connect
    supervisor start work:* >/dev/null 2>&1 9>&- & # each of them is waited for a second
    supervisor start pages:* >/dev/null 2>&1 || true
    await "The server does not answer at $(address); see $VELVET_HOME/log" ask api/bays
}

# Whether the database has nobody to answer but us: nothing breaks off when it is started anew.
nobody_asks() {
    [[ $(database_ask "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'client backend'") == 1 ]]
}

# Whether more than the database is running.
pages_run() { [[ $(supervisor status pages:web 2>/dev/null) == *RUNNING* ]]; }

services_stop() {
    local pid
    if pid=$(supervisor_pid); then
        kill -TERM "$pid"
        await 'The supervisor does not end.' not_running "$pid"
    fi
    leftovers_end
    demo_drives_disconnect
    say 'Velvet Ledger is stopped.'
}

services_status() {
    local running=false lines='' json
    supervisor_pid >/dev/null && { running=true; lines=$(supervisor status || true); }
    if [[ ${1:-} == --json ]]; then
        json=$(
            awk 'NF { printf "%s{\"name\": \"%s\", \"state\": \"%s\"}", n++ ? ", " : "", $1, tolower($2) }' <<<"$lines"
        )
        printf '{"running": %s, "address": "%s", "home": "%s", "processes": [%s]}\n' \
            "$running" "$(address)" "$VELVET_HOME" "$json"
    elif [[ $running == true ]]; then
        printf 'Velvet Ledger runs at %s (home %s)\n%s\n' "$(address)" "$VELVET_HOME" "$lines"
    else
        printf 'Velvet Ledger is not running (home %s)\n' "$VELVET_HOME"
    fi
}
