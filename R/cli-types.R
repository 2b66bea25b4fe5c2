# An item type in the terminal.

#' @export
print.pregunta_item_type <- function(x, ...) {
  put_lines(describe_type(x))
  invisible(x)
}

describe_type <- function(type) {
  c(
    say(
      "cli-types.item_type",
      name = type$name,
      answer = type$answer
    ),
    if (length(type$examples)) {
      say(
        "cli-types.keys_such_as",
        examples = paste(type$examples, collapse = ", ")
      )
    },
    say(
      "cli-types.scored_as_qti",
      scorings = join_words(type$scorings, "or"),
      interaction = type$qti$interaction
    )
  )
}
