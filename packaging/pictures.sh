#!/usr/bin/env bash
# Which code each picture of the documents was drawn by: `pictures.sh write` after they were drawn, `pictures.sh
# check` says which are older than their view. Comments do not count.
set -euo pipefail
export LC_ALL=C
cd "$(dirname "$0")/.."
of() {
  case "$1" in
    season*) echo season ;;
    block*) echo block ;;
    roster* | check-ins* | squad*) echo roster ;;
    rider*) echo rider ;;
    rides*) echo rides ;;
    review*) echo review ;;
    *) echo "no view is known for the picture $1" >&2; return 1 ;;
  esac
}
list() {
  local picture name view
  for picture in docs/screenshots/*.png; do
    name=$(basename "$picture" .png) view=$(of "$(basename "$picture" .png)")
    echo "$name $(cat src/app/{"$view",theme,shell}/*.{cpp,h} 2>/dev/null | { grep -v '^ *//' || true; } | sha256sum | cut -c1-16)"
  done
}
case "${1:-check}" in
  write) list >docs/screenshots/drawn-by.txt ;;
  check)
    old=$(list | diff - docs/screenshots/drawn-by.txt | sed -n 's/^< \([^ ]*\) .*/\1/p' || true)
    [ -z "$old" ] || { echo "pictures older than their view; run ./dev shots:" $old; exit 1; }
    ;;
esac
