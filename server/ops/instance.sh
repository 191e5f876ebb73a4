# This home: its folders, its processes and its port. Sourced by ../../velvet.
# shellcheck shell=bash

# One name for one home, however it was called; sockets and pid files lie in it, so that TMPDIR has no say. A socket's
# name may not be longer than 107 bytes: for a home with a long path they lie in a folder under /tmp.
instance_resolve() {
    local LC_ALL=C
    VELVET_HOME=$(readlink -m -- "$VELVET_HOME")
    HOME_HASH=$(printf %s "$VELVET_HOME" | sha256sum)
    HOME_HASH=${HOME_HASH:0:12}
    RUN=$VELVET_HOME/run
    ((${#VELVET_HOME} <= 75)) || RUN=/tmp/velvet-$(id -u)-$HOME_HASH
    export VELVET_DRAWERS=$RUN/own/draw.sock
}

# Makes the home's own folders, readable by its user alone, and refuses a home that is not ours.
instance_folders() {
    local folder
    [[ ! -e $VELVET_HOME || -d $VELVET_HOME ]] ||
        fail "$VELVET_HOME is no folder. Choose another home with VELVET_HOME."
    mkdir -p "$VELVET_HOME" 2>/dev/null ||
        fail "The home $VELVET_HOME cannot be made. Choose another one with VELVET_HOME."
    [[ -O $VELVET_HOME ]] ||
        fail "The home $VELVET_HOME belongs to $(stat -c %U "$VELVET_HOME")." \
            'Start Velvet Ledger as that user, or choose another home.'
    has_room
    for folder in log pictures cache stamps etc backups; do
        mkdir -p -m 700 "$VELVET_HOME/$folder"
        chmod 700 "$VELVET_HOME/$folder"
    done
    run_folder
}

# A database that cannot write ends in the middle of things: a full disk is told before anything is touched.
has_room() {
    local free needed=$((64 * 1024)) # KiB
    free=$(df --output=avail -k "$VELVET_HOME" | tail -n 1)
    ((free >= needed)) || fail \
        "The disk of the home $VELVET_HOME is full: $((free / 1024)) MB are free, 64 MB are needed." \
        'Nothing was changed. Make room there and start again.'
}

run_folder() {
    mkdir -p -m 711 "$RUN" 2>/dev/null || true
    [[ -d $RUN && ! -L $RUN && -O $RUN && -z $(find "$RUN" -maxdepth 0 -perm /022) ]] ||
        fail "$RUN is not a folder of yours that only you can write to. Remove it and start again."
    mkdir -p -m 700 "$RUN/own"
}

# The supervisor of this home: a running process of ours that was started with this home's configuration. No pid file is
# believed.
supervisor_pid() {
    local found pid
    for found in $(grep -lzxF -- "$VELVET_HOME/etc/supervisord.conf" /proc/[0-9]*/cmdline 2>/dev/null); do
        pid=${found//[!0-9]/}
        # in a trap a bare return would give the status of what failed before
        [[ -O /proc/$pid && $(cat "/proc/$pid/comm" 2>/dev/null) == supervisord ]] && printf %s "$pid" && return 0
    done
    return 1
}

# What runs under the supervisor of this home, or was left behind by one that was killed: what says so in its
# environment, or (they write over theirs) web server and database with this home's files in their arguments.
supervised_pids() {
    local found pid
    {
        grep -lzxF -- "VELVET_SUPERVISED=$VELVET_HOME" /proc/[0-9]*/environ
        grep -lF -e "$VELVET_HOME/etc/nginx.conf" -e "$VELVET_HOME/etc/php-fpm.conf" /proc/[0-9]*/cmdline
        grep -lzxF -- "${DB_FOLDER:-$VELVET_HOME/db}" /proc/[0-9]*/cmdline
        find /proc/[0-9]*/fd/2 -lname "$VELVET_HOME/log/*.log" # workers whose master was killed, too
    } 2>/dev/null | sort -u | while read -r found; do
        pid=${found#/proc/}
        pid=${pid%%/*}
        if [[ $(cat "/proc/$pid/comm" 2>/dev/null) =~ ^(nginx|php-fpm8.2|postgres|php|nice)$ ]]; then
            printf '%s\n' "$pid"
        fi
    done | sort -u || true # grep finds nothing
}

# Ends what a killed supervisor left running: first who works and shows pages, then the database beneath them.
leftovers_end() {
    local pids pid
    pids=$(supervised_pids)
    [[ -n $pids ]] || return 0
    say 'The supervisor of this home was killed; what it left running is ended.'
    for pid in $(without_database <<<"$pids"); do kill -TERM "$pid" 2>/dev/null || true; done
    await_end 40 || for pid in $(without_database <<<"$(supervised_pids)"); do
        kill -KILL "$pid" 2>/dev/null || true
    done
    for pid in $(supervised_pids); do kill -INT "$pid" 2>/dev/null || true; done # a fast shutdown
    await 'The database that was left running does not end.' none_supervised
}

without_database() {
    local pid
    while read -r pid; do
        if [[ -n $pid && $(cat "/proc/$pid/comm" 2>/dev/null) != postgres ]]; then printf '%s\n' "$pid"; fi
    done
}

await_end() {
    local i
    for ((i = 0; i < $1; i++)); do
        [[ -n $(without_database <<<"$(supervised_pids)") ]] || return 0
        sleep 0.1
    done
    return 1
}

none_supervised() { [[ -z $(supervised_pids) ]]; }

not_running() { ! kill -0 "$1" 2>/dev/null; }

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

# A home that runs keeps the port that it was started with.
instance_port() {
    local running
    running=$(cat "$VELVET_HOME/etc/port" 2>/dev/null) && supervisor_pid >/dev/null || return 0
    if [[ -n $PORT_WANTED && $PORT_WANTED != "$running" ]]; then
        PORT_REFUSED="Velvet Ledger already runs for this home, at http://127.0.0.1:$running/."
        PORT_REFUSED+=' To change the port, ./velvet stop comes first.'
    fi
    VELVET_PORT=$running
}

address() { printf 'http://127.0.0.1:%s/' "$VELVET_PORT"; }

# Before pages are started: the port is free, or held by us.
port_is_ours() {
    local other whose
    [[ -z $PORT_REFUSED ]] || fail "$PORT_REFUSED"
    [[ $VELVET_PORT =~ ^[1-9][0-9]{0,4}$ ]] && ((VELVET_PORT < 65536)) ||
        fail "VELVET_PORT is $VELVET_PORT; it must be a number from 1 to 65535."
    if (exec 3<>"/dev/tcp/127.0.0.1/$VELVET_PORT") 2>/dev/null; then
        other=$(curl -sI --max-time 2 "$(address)" | tr -d '\r' | sed -n 's/^Velvet-Ledger: //Ip') || true
        case $other in
            "$HOME_HASH") return ;;
            ?*) whose='the Velvet Ledger of another home' ;;
            *) whose='another program' ;;
        esac
        fail "Port $VELVET_PORT is taken by $whose. Nothing was changed." \
            "Choose another: VELVET_PORT=$((VELVET_PORT + 1)) ./velvet start"
    fi
}

# The key that lets a browser or a script in. The demo has none: there is nothing in it but the demo.
is_demo() { [[ -f $VELVET_HOME/demo-home ]]; }

access_key() {
    local file=$VELVET_HOME/access-key
    [[ -s $file ]] ||
        (umask 077 && head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n' >"$file.new" && mv "$file.new" "$file")
    cat "$file"
}

# The address that opens the pages.
address_with_key() {
    if is_demo; then address; else printf '%senter?key=%s' "$(address)" "$(access_key)"; fi
}

# Asks one page, with the key; it never stands in a list of processes.
ask() { curl -fsS --max-time 2 -H @<(is_demo || printf 'Authorization: Bearer %s\n' "$(access_key)") "$(address)$1"; }
