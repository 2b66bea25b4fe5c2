# Verdicts on the items, and keys in doubt, in the terminal.

run_review <- function(call, quiz) {
  before <- if (!is.null(call$before)) read_sitting(call$before)
  if (!is.null(before) && quiz$settings$purpose != "mastery") {
    message(
      "The change since ",
      call$before,
      " is in the table (--format csv). To judge by it, write purpose: mastery in ",
      "test.yml."
    )
  }
  put_out(
    call,
    shown_rows(call, review_items(quiz, before)),
    show_review
  )
}

run_keys <- function(call, quiz) {
  keys <- shown_rows(call, review_key(quiz))
  if (!nrow(keys) && call$format == "text" && is.null(call$out)) {
    cat("No key is in doubt.\n")
    return(0L)
  }
  put_out(call, keys, show_keys)
}

run_walkthrough <- function(call) {
  quiz <- read_for_figures(call)
  path <- if (is.null(call$out)) file.path(call$folder, "walkthrough.html") else call$out
  write_walkthrough(quiz, path, split_commas(call$item), call$most)
  review <- review_items(quiz)
  doubtful <- review$item[
    review$verdict == "check the key" &
      (is.null(call$item) | review$item %in% split_commas(call$item))
  ]
  if (length(doubtful)) {
    message(
      "Before you show it: check the key of ",
      join_words(doubtful),
      " (pregunta items ",
      call$folder,
      " --keys)."
    )
  }
  message("Page written: ", path)
  0L
}

#' @export
print.pregunta_review <- function(x, ...) print_lines(x, show_review)

#' @export
print.pregunta_keys <- function(x, ...) print_lines(x, show_keys)

# A heading for each verdict, and under it what happened and what to do.
show_review <- function(review) {
  count <- table(factor(review$verdict, verdicts))
  count <- count[count > 0]
  groups <- split(seq_len(nrow(review)), factor(review$verdict, unique(review$verdict)))
  width <- max(nchar(review$item))
  c(
    wrap_lines(
      paste0(
        count_of(nrow(review), "question"), ": ",
        paste(count, names(count), collapse = ", "), "."
      )
    ),
    unlist(lapply(names(groups), function(verdict) {
      c(
        "",
        paint(toupper(verdict), if (verdict %in% asking_verdicts) "ochre" else "teal"),
        unlist(lapply(groups[[verdict]], function(row) {
          review_lines(review[row, ], width)
        }))
      )
    })),
    "",
    wrap_lines(say_purpose(settings_of(review)))
  )
}

review_lines <- function(row, width) {
  more <- strsplit(row$reasons, "; ", fixed = TRUE)[[1]][-1]
  text <- paste(
    row$what, row$do, if (length(more)) paste0("(Also: ", join_words(more), ".)")
  )
  lines <- wrap_lines(printable(trimws(text)), 0, 0, table_width - width - 4)
  paste0(
    "  ",
    c(
      paint(formatC(row$item, width = -width), "bold"),
      rep(strrep(" ", width), length(lines) - 1)
    ),
    "  ",
    lines
  )
}

say_purpose <- function(settings) {
  if (settings$purpose == "mastery") {
    return(
      paste0(
        "Judged as a test for mastery (purpose in test.yml): that all get it right is ",
        "good news."
      )
    )
  }
  paste(
    paste0(
      "Judged as a test that tells students apart. If it is to show who has learnt it, ",
      "write purpose: mastery"
    ),
    "in test.yml: then that all get it right is good news."
  )
}

show_keys <- function(keys) {
  c(
    format_table(
      list(
        text_column("item", keys$item),
        text_column("key", keys$key),
        text_column("rival", keys$rival),
        text_column("chosen", paste(keys$key_count, ":", keys$rival_count), "right"),
        text_column(
          "strongest 27%",
          paste(percent(keys$key_upper), ":", percent(keys$rival_upper)),
          "right"
        ),
        text_column(
          "with the rest",
          paste(number(keys$key_rest), ":", number(keys$rival_rest)),
          "right"
        ),
        text_column(
          "doubt",
          keys$doubt,
          colour = ifelse(keys$doubt == "clear", "ochre", NA)
        ),
        text_column(
          "if changed",
          paste0(keys$rise, " rise, ", keys$fall, " fall"),
          shrink = TRUE
        ),
        text_column(
          "alpha",
          paste(number(keys$alpha_before), "\u2192", number(keys$alpha_after))
        )
      )
    ),
    "",
    unlist(lapply(which(keys$doubt == "clear"), function(row) {
      wrap_lines(
        printable(paste0(keys$item[row], ": ", keys$what[row], " ", keys$do[row])),
        0,
        4
      )
    })),
    if (any(keys$doubt == "possible")) {
      "Of the others none is sure: with these numbers it may be chance."
    },
    "",
    wrap_lines(
      paste(
        paste0(
          "Each pair is the key against the rival. with the rest: how choosing it goes ",
          "with the score on"
        ),
        "the rest of the test; a right answer should be above 0, a wrong one below."
      )
    )
  )
}
