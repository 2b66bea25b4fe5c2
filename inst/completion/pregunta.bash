# Completion of pregunta in bash.
_pregunta() {
  local IFS=$'\n' now="${COMP_WORDS[COMP_CWORD]}" verb="${COMP_WORDS[1]}"
  local before="${COMP_WORDS[COMP_CWORD-1]}" flags='' words=''
  _pregunta_of() { COMPREPLY=($(IFS=' '; compgen -W "$1" -- "$now")); }
  if [ "$COMP_CWORD" -eq 1 ]; then
    _pregunta_of '@verbs@'
    return
  fi
  case "$verb:$before" in
@values@
  esac
  case "$verb" in
@options@
  esac
  case "$now" in
    -*) _pregunta_of "$flags"; return ;;
  esac
  if [ "$COMP_CWORD" -eq 2 ] && [ -n "$words" ]; then
    _pregunta_of "$words"
    return
  fi
  COMPREPLY=($(compgen -f -- "$now"))
}
complete -o filenames -F _pregunta pregunta
