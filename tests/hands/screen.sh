# A screen of its own with a window manager, in a folder of its own that is $HOME too; sourced. Leaves $work,
# $DISPLAY, and ends what it began, with $window, when the shell ends.
work=$(mktemp -d)
export HOME=$work XDG_RUNTIME_DIR=$work/run LC_ALL=C.UTF-8
unset QT_QPA_PLATFORM WAYLAND_DISPLAY
mkdir -m 700 "$XDG_RUNTIME_DIR"
exec 3>"$work/display"
Xvfb -displayfd 3 -screen 0 1280x800x24 >/dev/null 2>&1 &
x=$!
for _ in $(seq 100); do [ -s "$work/display" ] && break; sleep 0.1; done
export DISPLAY=:$(cat "$work/display")
openbox >/dev/null 2>&1 &
manager=$!
window=
trap 'kill ${window:-} $manager $x 2>/dev/null; rm -rf "$work"' EXIT
