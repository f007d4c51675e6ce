#!/usr/bin/env bash
# Whether what a desktop finds Marram by is right, and documents are current: check.sh BUILD VERSION.
set -euo pipefail
here=$(dirname "$0") build=$1 version=$2
tree=$(mktemp -d)
trap 'rm -rf "$tree"' EXIT
cmake --install "$build" --prefix "$tree" >/dev/null
desktop-file-validate "$tree/share/applications/local.marram.Marram.desktop"
appstreamcli validate --pedantic --no-net "$tree/share/metainfo/local.marram.Marram.metainfo.xml"
update-mime-database "$tree/share/mime"
grep -q 'application/vnd.marram.roster:\*.marram' "$tree/share/mime/globs"
# A roster is known by its bytes, whatever it is called.
"$tree/bin/marram-cli" demo --help >/dev/null
printf 'SQLite format 3\0' >"$tree/roster.unknown"
head -c 52 /dev/zero >>"$tree/roster.unknown"
printf 'MRAM' >>"$tree/roster.unknown"
grep -aq 'application/vnd.marram.roster' "$tree/share/mime/magic"
# Installed elsewhere it runs as it does here.
[ "$("$tree/bin/marram-cli" --version)" = "marram-cli $version" ]
[ "$(QT_QPA_PLATFORM=offscreen "$tree/bin/marram" --version)" = "marram $version" ]
"$here/documents.sh" "$build/bin" "$tree/documents" "$version"
for each in man completions; do
  diff -r "$here/$each" "$tree/documents/$each" || { echo "packaging/$each is not what the programmes say; run ./dev documents"; exit 1; }
done
# Every link in the documents leads somewhere.
cd "$here/.."
dead=$(git ls-files '*.md' | while read -r page; do
  { grep -o '](\([^)]*\))' "$page" || true; } | sed 's/^](//; s/)$//; s/#.*//' | while read -r link; do
    case "$link" in '' | *:*) ;; *) [ -e "$(dirname "$page")/$link" ] || echo "$page: $link" ;; esac
  done
done)
[ -z "$dead" ] || { echo "links that lead nowhere: $dead"; exit 1; }
packaging/words.sh --check
packaging/pictures.sh check
echo "the desktop's files are right, manual pages and completions current"
