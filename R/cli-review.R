# Verdicts on the items, and keys in doubt, in the terminal.

run_review <- function(call, sitting) {
  before <- if (!is.null(call$before)) read_sitting(call$before)
  if (!is.null(before) && sitting$settings$purpose != "mastery") {
    message(say("cli-review.the_change_since_is", before = call$before))
  }
  put_out(
    call,
    shown_rows(call, review_items(sitting, before)),
    show_review
  )
}

run_keys <- function(call, sitting) {
  keys <- shown_rows(call, review_key(sitting))
  if (!nrow(keys) && call$format == "text" && is.null(call$out)) {
    cat(say("cli-review.no_key_is_in"), "\n", sep = "")
    return(0L)
  }
  put_out(call, keys, show_keys)
}

run_walkthrough <- function(call) {
  sitting <- read_for_figures(call)
  path <- if (is.null(call$out)) file.path(call$folder, "walkthrough.html") else call$out
  write_walkthrough(sitting, path, split_commas(call$item), call$most)
  doubtful <- doubtful_keys(sitting, split_commas(call$item))
  if (length(doubtful)) {
    message(
      say(
        "cli-review.before_you_show_it",
        doubtful = join_words(doubtful),
        folder = call$folder
      )
    )
  }
  message(say("cli-review.page_written", path = path))
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
      say(
        "cli-review.questions",
        n = nrow(review),
        count = paste(count, words_for(names(count), "verdicts"), collapse = ", ")
      )
    ),
    unlist(lapply(names(groups), function(verdict) {
      c(
        "",
        paint(
          toupper(words_for(verdict, "verdicts")),
          if (verdict %in% asking_verdicts) "ochre" else "teal"
        ),
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
  more <- words_for(more, "review_reasons")
  text <- say(
    "cli-review.also",
    what = row$what,
    do = row$do,
    more = join_words(more),
    any_more = length(more)
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
      say("cli-review.judged_as_a_test")
    )
  }
  say("cli-review.judged_as_a_test_that")
}

show_keys <- function(keys) {
  columns <- list(
    text_column("item", keys$item),
    text_column("key", keys$key),
    text_column("rival", keys$rival),
    text_column("chosen", paste(keys$key_count, ":", keys$rival_count), "right"),
    text_column(
      "strongest_27",
      paste(percent(keys$key_upper), ":", percent(keys$rival_upper)),
      "right"
    ),
    text_column(
      "with_the_rest",
      paste(number(keys$key_rest), ":", number(keys$rival_rest)),
      "right"
    ),
    text_column(
      "doubt",
      words_for(keys$doubt, "doubts"),
      colour = ifelse(keys$doubt == "clear", "ochre", NA)
    ),
    text_column(
      "if_changed",
      say("cli-review.rise_fall", rise = keys$rise, fall = keys$fall),
      shrink = TRUE
    ),
    text_column(
      "alpha",
      paste(number(keys$alpha_before), "\u2192", number(keys$alpha_after))
    )
  )
  c(
    format_table(
      columns
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
      say("cli-review.of_the_others_none")
    },
    "",
    wrap_lines(
      say("cli-review.each_pair_is_the")
    )
  )
}
