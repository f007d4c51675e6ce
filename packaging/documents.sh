#!/usr/bin/env bash
# Manual pages and shell completions out of what the programmes say of themselves: documents.sh BIN OUT VERSION.
set -euo pipefail
bin=$1 out=$2 version=$3
export QT_QPA_PLATFORM=offscreen LC_ALL=C.UTF-8
mkdir -p "$out/man" "$out/completions"

help_of() { # programme and verbs: the help, without where the programme lies
  "$bin/$1" "${@:2}" --help 2>/dev/null | sed "s|[^ ]*/$1\b|$1|g"
}
# The options and arguments of a help text as "name<TAB>words", a line each; of a part where one is named.
entries() {
  awk -v part="${1:-}" '
    function put() { if (name != "") { gsub(/  +/, " ", words); print name "\t" words } name = words = "" }
    /^[A-Z][a-z]*:$/ { put(); inside = (part == "" || $0 == part ":"); next }
    /^(Usage|usage)/ { next }
    !inside { next }
    /^  [^ ]/ {
      put(); line = substr($0, 3)
      if (match(line, /  +/)) { name = substr(line, 1, RSTART - 1); words = substr(line, RSTART + RLENGTH) }
      else name = line
      next
    }
    /^   +/ { sub(/^ +/, ""); words = words (words == "" ? "" : " ") $0 }
    END { put() }'
}
roff() { sed -e 's/\\/\\e/g' -e 's/-/\\-/g' -e "s/^\([.']\)/\\\\\&\1/"; }
described() { # a heading, and entries from standard input
  local head=$1 first=yes name words
  while IFS=$'\t' read -r name words; do
    [ $first = no ] || echo "$head"
    first=no
    printf '.TP\n.B %s\n%s\n' "$(roff <<<"$name")" "$(roff <<<"${words:-.}")"
  done
}
verbs_of() { help_of marram-cli "$@" | entries Subcommands | cut -f1; }

man() { # programme, one line
  local programme=$1 summary=$2 verb under
  printf '.TH %s 1 "" "Marram %s" "Marram"\n.SH NAME\n%s \\- %s\n.SH SYNOPSIS\n.B %s\n' \
    "${programme^^}" "$version" "$(roff <<<"$programme")" "$(roff <<<"$summary")" "$(roff <<<"$programme")"
  help_of "$programme" | sed -n 's/^Usage: [^ ]* *//p' | head -1 | roff
  echo '.SH DESCRIPTION'
  help_of "$programme" | grep -v '^Usage' | awk '/^[A-Z][a-z]*:$/ { exit } NF' | sed 's/^[a-z-]*: //' | roff
  help_of "$programme" | entries Positionals | described '.SH ARGUMENTS'
  help_of "$programme" | entries Arguments | described '.SH ARGUMENTS'
  help_of "$programme" | entries Options | described '.SH OPTIONS'
  if [ "$programme" = marram-cli ]; then
    echo '.SH VERBS'
    for verb in $(verbs_of); do
      verb_page "$verb"
      for under in $(verbs_of "$verb"); do verb_page "$verb" "$under"; done
    done
    printf '.SH EXIT STATUS\n0 done, 2 wrong usage, 3 unusable input, with one line on standard error.\n'
  fi
  printf '.SH FILES\n.TP\n.B *.marram\nA roster, readable by its owner only.\n'
  printf '.SH SEE ALSO\n.BR marram (1),\n.BR marram\\-cli (1),\n.BR marram\\-headunit (1)\n'
}
verb_page() {
  printf '.SS "%s"\n' "$(roff <<<"$*")"
  help_of marram-cli "$@" | head -1 | roff
  help_of marram-cli "$@" | entries Positionals | described ''
  help_of marram-cli "$@" | entries Options | sed '/^-h,--help/d' | described ''
}
man marram "plan and follow the seasons of endurance cyclists" >"$out/man/marram.1"
man marram-cli "the core of Marram for scripts and for checking a number" >"$out/man/marram-cli.1"
man marram-headunit "a simulated bike computer" >"$out/man/marram-headunit.1"

# Long options of a help text.
long_of() { entries Options | cut -f1 | { grep -o -- '--[a-z][a-z-]*' || true; } | { grep -v -- '--help-all' || true; } | sort -u | tr '\n' ' ' | sed 's/ $//'; }
words_for() { sed "s/'/’/g" <<<"$1"; }

{
  echo '# Completion of Marram for bash.'
  for programme in marram marram-headunit; do
    f=_${programme//-/_}
    printf '%s() {\n  local word=${COMP_WORDS[COMP_CWORD]}\n' "$f"
    printf '  [[ $word == -* ]] && COMPREPLY=($(compgen -W "%s" -- "$word"))\n}\ncomplete -o default -F %s %s\n' \
      "$(help_of $programme | long_of)" "$f" "$programme"
  done
  printf '_marram_cli() {\n  local word=${COMP_WORDS[COMP_CWORD]} verb=${COMP_WORDS[1]} under=${COMP_WORDS[2]}\n'
  printf '  if [ "$COMP_CWORD" -eq 1 ]; then\n    COMPREPLY=($(compgen -W "%s --help" -- "$word"))\n    return\n  fi\n' "$(verbs_of | tr '\n' ' ' | sed 's/ $//')"
  printf '  case "$verb $under" in\n'
  for verb in $(verbs_of); do
    unders=$(verbs_of "$verb" | tr '\n' ' ')
    for under in $unders; do
      printf '  "%s %s") [[ $word == -* ]] && COMPREPLY=($(compgen -W "%s" -- "$word")) ;;\n' "$verb" "$under" "$(help_of marram-cli "$verb" "$under" | long_of)"
    done
    if [ -n "$unders" ]; then
      printf '  "%s "*) COMPREPLY=($(compgen -W "%s" -- "$word")) ;;\n' "$verb" "${unders% }"
    else
      printf '  "%s "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "%s" -- "$word")) ;;\n' "$verb" "$(help_of marram-cli "$verb" | long_of)"
    fi
  done
  printf '  esac\n}\ncomplete -o default -F _marram_cli marram-cli\n'
} >"$out/completions/marram.bash"

{
  echo '# Completion of Marram for fish.'
  for programme in marram marram-headunit; do
    help_of $programme | entries Options | while IFS=$'\t' read -r name words; do
      long=$(grep -o -- '--[a-z][a-z-]*' <<<"$name" | head -1 || true)
      [ -z "$long" ] || printf "complete -c %s -l %s -d '%s'\n" "$programme" "${long#--}" "$(words_for "$words")"
    done
  done
  help_of marram-cli | entries Subcommands | while IFS=$'\t' read -r verb words; do
    printf "complete -c marram-cli -n __fish_use_subcommand -a %s -d '%s'\n" "$verb" "$(words_for "$words")"
  done
  for verb in $(verbs_of); do
    help_of marram-cli "$verb" | entries Subcommands | while IFS=$'\t' read -r under words; do
      printf "complete -c marram-cli -f -n '__fish_seen_subcommand_from %s' -a %s -d '%s'\n" "$verb" "$under" "$(words_for "$words")"
    done
    help_of marram-cli "$verb" | entries Options | while IFS=$'\t' read -r name words; do
      long=$(grep -o -- '--[a-z][a-z-]*' <<<"$name" | head -1 || true)
      [ -z "$long" ] || printf "complete -c marram-cli -n '__fish_seen_subcommand_from %s' -l %s -d '%s'\n" "$verb" "${long#--}" "$(words_for "$words")"
    done
  done
} >"$out/completions/marram.fish"

{
  echo '#compdef marram marram-cli marram-headunit'
  echo '# Completion of Marram for zsh.'
  specs() { # options as _arguments wants them
    entries Options | while IFS=$'\t' read -r name words; do
      long=$(grep -o -- '--[a-z][a-z-]*' <<<"$name" | head -1 || true)
      [ -z "$long" ] || printf " '%s[%s]'" "$long" "$(words_for "$words" | tr '[]:' '()，')"
    done
  }
  printf 'case $service in\n'
  for programme in marram marram-headunit; do
    printf '%s) _arguments%s %s ;;\n' "$programme" "$(help_of $programme | specs)" "'*:file:_files'"
  done
  printf 'marram-cli)\n  if (( CURRENT == 2 )); then\n    local -a verbs\n    verbs=('
  help_of marram-cli | entries Subcommands | while IFS=$'\t' read -r verb words; do printf " '%s:%s'" "$verb" "$(words_for "$words")"; done
  printf ")\n    _describe verb verbs\n  else\n    case \$words[2] in\n"
  for verb in $(verbs_of); do
    printf '    %s) shift words; (( CURRENT-- )); _arguments%s %s ;;\n' "$verb" "$(help_of marram-cli "$verb" | specs)" "'*:file:_files'"
  done
  printf '    esac\n  fi ;;\nesac\n'
} >"$out/completions/_marram"
