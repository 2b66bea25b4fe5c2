# What the class's misconceptions come to, in a sentence or two.

say_misconceptions <- function(found) {
  by <- attr(found, "by")
  known <- found[!is.na(found$share) & found$n > 0, ]
  if (!nrow(known)) return("Nobody has answered a question that offers one.")
  top <- known[order(-known$likely, known$code), ][1, ]
  idea <- function(row) {
    paste0(row$code, if (!is.na(row$description)) paste0(" (\"", row$description, "\")"))
  }
  if (!is.null(by)) {
    top <- known[order(-known$share, -known$n), ][1, ]
    return(
      if (top$likely == 0) {
        "Nobody likely holds one."
      } else {
        paste0(
          "Most held: ", idea(top), " in ", group_names(top, by), ", by ", top$likely,
          " of ", top$n, "."
        )
      }
    )
  }
  single <- known$code[!grepl(";", known$items, fixed = TRUE)]
  c(
    if (top$likely == 0) {
      "Nobody chose the answers of one idea often enough to say that they hold it."
    } else {
      paste0(
        "Most held: ", idea(top), ", likely by ", top$likely, " of ",
        count_of(top$n, "student"), "; it is offered by ",
        join_words(strsplit(top$items, ";")[[1]]), "."
      )
    },
    if (length(single)) {
      paste0(
        join_words(single), if (length(single) == 1) " is" else " are",
        " offered by one question alone, where once may be a slip."
      )
    }
  ) |>
    paste(collapse = " ")
}

nobody_twice <- "Nobody chose the answers of one idea twice."
