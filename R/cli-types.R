# An item type in the terminal.

#' @export
print.pregunta_item_type <- function(x, ...) {
  writeLines(describe_type(x))
  invisible(x)
}

describe_type <- function(type) {
  c(
    paste0("Item type ", type$name, ": ", type$answer),
    if (length(type$examples)) {
      paste0("  keys such as ", paste(type$examples, collapse = ", "))
    },
    paste0(
      "  scored as ", paste(type$scorings, collapse = " or "), "; QTI ",
      type$qti$interaction
    )
  )
}
