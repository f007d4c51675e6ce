#!/usr/bin/env bash
# Catalogues of languages: po/marram.pot is what the sources say, po/LANGUAGE.po what a language makes of it.
# Without an argument both are brought up to date; what a language does not have yet is counted. With --check
# nothing is written, and it fails where a catalogue is not of these sources or not complete.
set -euo pipefail
cd "$(dirname "$0")/.."
new=$(mktemp -d)
trap 'rm -rf "$new"' EXIT
git ls-files -co --exclude-standard 'src/*.cpp' 'src/*.h' | LC_ALL=C sort | tr '\n' '\0' |
  xargs -0 xgettext --from-code=UTF-8 --language=C++ --no-wrap --sort-output --add-location=file --package-name=Marram \
    --keyword --keyword=phrase --keyword=wording --keyword=marked --keyword=translated \
    --keyword=counted:2,3 --keyword=countedWording:2,3 --keyword=countedForm:2,3 --keyword=howMany:2,3 \
    -o "$new/marram.pot" 2>"$new/said" || { cat "$new/said" >&2; exit 1; }
# Without the day, so that the same sources give the same file; a per cent sign of ours is no place of C's.
sed -i '/^"POT-Creation-Date/d; /^#, c-format$/d; s/^#, c-format, /#, /' "$new/marram.pot"
said() { LC_ALL=C grep -v '^#' "$1"; }
if [ "${1:-}" = --check ]; then
  diff <(said po/marram.pot) <(said "$new/marram.pot") >/dev/null ||
    { echo "po/marram.pot is not of these sources: run ./dev words"; exit 1; }
else
  cp "$new/marram.pot" po/marram.pot
fi
for language in po/*.po; do
  msgmerge --quiet --no-fuzzy-matching --no-wrap --sort-output "$language" "$new/marram.pot" -o "$new/merged.po"
  msgattrib --no-obsolete --no-wrap "$new/merged.po" -o "$new/merged.po"
  open=$(msgattrib --untranslated --no-obsolete "$new/merged.po" | grep -c '^msgid ' || true)
  [ "$open" -gt 0 ] && open=$((open - 1))
  if [ "${1:-}" = --check ]; then
    [ "$open" -eq 0 ] || { echo "$language: $open texts have no translation"; exit 1; }
  else
    cp "$new/merged.po" "$language"
    echo "$language: $open of $(($(grep -c '^msgid ' po/marram.pot) - 1)) texts are still to be translated"
  fi
done
