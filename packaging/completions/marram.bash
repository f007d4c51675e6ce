# Completion of Marram for bash.
_marram() {
  local word=${COMP_WORDS[COMP_CWORD]}
  [[ $word == -* ]] && COMPREPLY=($(compgen -W "--dark --demo --demo-anew --help --language --rider --safe --shots --text-scale --version" -- "$word"))
}
complete -o default -F _marram marram
_marram_headunit() {
  local word=${COMP_WORDS[COMP_CWORD]}
  [[ $word == -* ]] && COMPREPLY=($(compgen -W "--cut-short --help --hours --kind --legs --max-hr --no-heart-rate --no-power --no-stops-or-dropouts --rest-hr --seed --start --stress --temperature --threshold-hr --threshold-power --version --workout" -- "$word"))
}
complete -o default -F _marram_headunit marram-headunit
_marram_cli() {
  local word=${COMP_WORDS[COMP_CWORD]} verb=${COMP_WORDS[1]} under=${COMP_WORDS[2]}
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "score curve model plan compare chance course session block demo import letter squad export bring check backup learn --help" -- "$word"))
    return
  fi
  case "$verb $under" in
  "score "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --low-threshold --max-hr --rest-hr --sex --threshold-hr --threshold-power" -- "$word")) ;;
  "curve "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help" -- "$word")) ;;
  "model "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--fatigue --fitness --help --tau-fatigue --tau-fitness" -- "$word")) ;;
  "plan "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --lp --out" -- "$word")) ;;
  "compare "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--equal-stress --help" -- "$word")) ;;
  "chance "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --ill-days --ill-per-year --miss --run --seasons --seed" -- "$word")) ;;
  "course "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--cda --crr --density --efficiency --help --intensity --mass --threshold-power" -- "$word")) ;;
  "session "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--fit --help --low-threshold --threshold-power" -- "$word")) ;;
  "block "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--done --fit --from --help --ics --meant --weeks" -- "$word")) ;;
  "demo "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --out" -- "$word")) ;;
  "import "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --other-rider --overlap" -- "$word")) ;;
  "letter "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--all --help --pdf --week" -- "$word")) ;;
  "squad "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--csv --from --group --help --pdf --weeks" -- "$word")) ;;
  "export "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help" -- "$word")) ;;
  "bring "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help" -- "$word")) ;;
  "check "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help" -- "$word")) ;;
  "backup "*) [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --list --restore --to" -- "$word")) ;;
  "learn values") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --seed" -- "$word")) ;;
  "learn response") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--at --help --seed" -- "$word")) ;;
  "learn gate") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --seed" -- "$word")) ;;
  "learn before") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --seed" -- "$word")) ;;
  "learn change") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --seed --split" -- "$word")) ;;
  "learn habits") [[ $word == -* ]] && COMPREPLY=($(compgen -W "--help --seed" -- "$word")) ;;
  "learn "*) COMPREPLY=($(compgen -W "values response gate before change habits" -- "$word")) ;;
  esac
}
complete -o default -F _marram_cli marram-cli
