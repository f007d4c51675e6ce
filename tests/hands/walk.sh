#!/usr/bin/env bash
# The window by real keys, through X with a window manager: what ended it once, walked again. Then what the file
# holds is read by the command line. Usage: tests/hands/walk.sh [build folder]
set -u
build=$(cd "${1:-build}" && pwd)
. "$(dirname "$0")/screen.sh"

failed=0
fail() { echo "hands: $1"; failed=1; }
keys() { for k in "$@"; do xdotool key --delay 30 "$k"; sleep 0.25; done; }
say() { xdotool type --delay 15 "$1"; sleep 0.3; }
alive() { kill -0 $window 2>/dev/null || { fail "the window ended: $1"; tail -3 "$work/log"; exit 1; }; }
start() {
  "$build/bin/marram" "$work/one.marram" >"$work/log" 2>&1 &
  window=$!
  for _ in $(seq 150); do xdotool search --onlyvisible --name Marram >/dev/null 2>&1 && break; sleep 0.1; done
  sleep 1.5
}
races() { # of all seasons of all riders in the file
  rm -rf "$work/out"
  "$build/bin/marram-cli" export "$work/one.marram" --json "$work/out" >/dev/null 2>&1
  cat "$work"/out/riders/*.json | grep -c '"priority"'
}

"$build/bin/marram-cli" demo --out "$work/one.marram" >/dev/null || exit 1
cp "$work/one.marram" "$work/two.marram"
before=$(races)
start

keys ctrl+3 Right Right ctrl+r Left Right ctrl+z
alive "a race added and taken back"
keys ctrl+r ctrl+z ctrl+y ctrl+z
alive "and again, and back"
keys Escape ctrl+k
say "add a race"
keys Return Escape
alive "a race by the action finder"
keys ctrl+4 ctrl+o
sleep 0.7
say "$work/two.marram"
keys Return
sleep 1.5
alive "another roster while the block shows"
keys ctrl+o
sleep 0.7
say "$work/one.marram"
keys Return
sleep 1.5
alive "and back"
keys ctrl+2
say "Somebody typed"
keys ctrl+n Escape Escape ctrl+z ctrl+y
alive "a name begun, another rider added, undone, redone"

# From a new rider and their files to a season that starts where they are.
files=
for ride in $(seq 12); do
  "$build/bin/marram-headunit" "$work/r" --kind endurance --hours 1.5 --stress 70 --threshold-power 250 --seed "$ride" \
    --start "$(date -u -d "$((4 * ride)) days ago" +%Y-%m-%dT09:00:00Z)" >/dev/null || fail "no ride to bring in"
done
for file in "$work"/r/*.fit; do files="$files\"$file\" "; done
began=$SECONDS
keys ctrl+n
say "Ferrin Otterby"
keys Return ctrl+i
sleep 0.7
say "$files"
keys Return
sleep 3
keys ctrl+k
say "what the record says"
keys Return
sleep 2
keys alt+t
sleep 2
took=$((SECONDS - began))
alive "a new rider's files, read and taken"
keys ctrl+3
alive "their season"
# Monday: rider after rider, words to one of them in the middle of it.
keys ctrl+shift+m
sleep 2
keys ctrl+j
sleep 1
keys alt+y ctrl+a
say "Well ridden in the wind."
keys ctrl+j ctrl+j
sleep 1
alive "Monday's page, rider after rider"
keys ctrl+z ctrl+y
alive "the words taken back, and not"
sleep 1
# The demo by the action finder: by the pointer, while it is made, given up, and by Return.
keys ctrl+k
say "see the demo"
xdotool mousemove 640 133 click 1 # the first line of the finder
sleep 1
keys Escape Escape ctrl+1 ctrl+3
alive "the demo asked for in the finder by the pointer, and given up"
keys ctrl+k
say "see the demo"
keys Return
demos() { find "$work" -name 'demo*.marram' | grep -q .; }
for _ in $(seq 60); do demos && break; sleep 0.5; done
sleep 4
keys ctrl+2 ctrl+3 Escape
alive "the demo by Return"
demos || fail "no demo was made"
kill $window
wait $window 2>/dev/null
window=
[ "$(races)" -gt "$before" ] || fail "what was typed into the action finder added no race ($before before, $(races) now)"
"$build/bin/marram-cli" check "$work/one.marram" >"$work/check" 2>&1 || { fail "the file does not check"; cat "$work/check"; }
# Twelve easy rides say what the rider holds at least; taken, they are scored by it.
ferrin=$(grep -l "Ferrin Otterby" "$work"/out/riders/*.json)
[ -n "$ferrin" ] && grep -q '"threshold_power_w": \[' "$ferrin" || fail "no threshold was taken from the new rider's files"
[ "$(grep -c '"stress_method": "power"' "$ferrin")" -eq 12 ] || fail "the new rider's rides are not scored by it"
[ "$(cat "$work"/out/riders/*.json | grep -c "Well ridden in the wind")" -eq 1 ] || fail "the words of the letter are not with one rider"
[ $took -le 60 ] || fail "it took $took s of typing from a new rider to a scored record"
[ $failed = 0 ] && echo "hands: walked (a new rider's record taken in $took s)"
exit $failed
