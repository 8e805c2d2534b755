#!/usr/bin/env bash
# Runs a test as if nothing else ran: with folders of its own for settings, caches and recovered
# projects, and, after --display, on a display of its own. So tests run beside each other.
# Usage: apart.sh [--display] PROGRAM [ARGUMENT…]
set -u
work=$(mktemp -d)
server=
finish() {
    [ -n "$server" ] && kill "$server" 2>/dev/null && wait "$server" 2>/dev/null
    rm -rf "$work"
}
trap finish EXIT
export XDG_RUNTIME_DIR=$work/runtime XDG_STATE_HOME=$work/state XDG_CONFIG_HOME=$work/config
export XDG_CACHE_HOME=$work/cache TMPDIR=$work/tmp QT_ACCESSIBILITY=0
mkdir -m 700 "$XDG_RUNTIME_DIR" && mkdir "$TMPDIR"
if [ "$1" = --display ]; then
    shift
    mkfifo "$work/number"
    Xvfb -displayfd 3 -screen 0 1920x1080x24 -nolisten tcp 3>"$work/number" >"$work/said" 2>&1 &
    server=$!
    # Ends with an empty number when the server does.
    read -r number <"$work/number" || { cat "$work/said"; exit 1; }
    export DISPLAY=:$number
fi
"$@"
