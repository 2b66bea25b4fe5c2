#compdef pregunta
# Completion of pregunta in zsh.
_pregunta() {
  local -a verbs
  verbs=(
@verbs@
  )
  if (( CURRENT == 2 )); then
    _describe verb verbs
    return
  fi
  local verb=$words[2]
  shift words
  (( CURRENT-- ))
  case $verb in
@options@
  esac
}
if [ "$funcstack[1]" = "_pregunta" ]; then
  _pregunta "$@"
else
  compdef _pregunta pregunta
fi
