#!/usr/bin/env bash
# The window as a screen reader finds it, through the desktop's accessibility bus, and by Tab alone: every view.
# Usage: tests/hands/aloud.sh [build folder]
set -u
[ -n "${MARRAM_OWN_BUS:-}" ] || MARRAM_OWN_BUS=1 exec dbus-run-session -- "$0" "$@" 2>/dev/null
build=$(cd "${1:-build}" && pwd)
. "$(dirname "$0")/screen.sh"
export QT_LINUX_ACCESSIBILITY_ALWAYS_ON=1
"$build/bin/marram-cli" demo --out "$work/one.marram" >/dev/null || exit 1
"$build/bin/marram" "$work/one.marram" >"$work/log" 2>&1 &
window=$!
timeout 240 /usr/bin/python3 "$(dirname "$0")/aloud.py"
