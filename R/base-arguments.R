# What a call is given to begin with: a path, a record. A sitting is looked at by
# check_is_sitting().

# One path, or several where they may be; whether it is there is another question.
check_is_path <- function(path, several = FALSE) {
  sound <- is.character(path) && length(path) > 0 && !anyNA(path)
  if (sound && (several || length(path) == 1)) return(invisible())
  refuse_kind(
    path,
    say("base-arguments.a_path_is_text"),
    say("base-arguments.give_a_path", example = dQuote("my-test", FALSE))
  )
}

check_is_record <- function(record) {
  if (inherits(record, "pregunta_record")) return(invisible())
  refuse_kind(
    record,
    say("base-arguments.this_needs_a_record"),
    say("base-arguments.open_a_record")
  )
}

# Its kind only: what was meant as an address may hold a password.
refuse_kind <- function(x, what, fix) {
  abort_pregunta("call", what, say("base-arguments.given", kind = class(x)[1]), fix)
}
