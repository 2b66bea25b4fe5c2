# Verdicts on the items, and keys in doubt, in the terminal.

run_review <- function(call, sitting) {
  before <- if (!is.null(call$before)) read_sitting(call$before)
  if (!is.null(before) && sitting$settings$purpose != "mastery") {
    tell_user(say("cli-review.the_change_since_is", before = call$before))
  }
  review <- view_asked(
    view_review,
    call,
    sitting,
    before = before
  )
  put_out(call, review, show_review)
}

run_keys <- function(call, sitting) {
  keys <- view_asked(view_keys, call, sitting)
  if (!nrow(keys) && call$format == "text" && is.null(call$out)) {
    put_lines(say("cli-review.no_key_is_in"))
    return(0L)
  }
  put_out(call, keys, show_keys)
}

run_walkthrough <- function(call) {
  sitting <- read_for_figures(call)
  path <- if (is.null(call$out)) {
    file.path(call$folder, "walkthrough.html")
  } else {
    call$out
  }
  items <- item_ids(call$item, sitting)
  write_walkthrough(
    sitting,
    path,
    items,
    call$most
  )
  tell_doubtful(call, sitting, items, "shown")
  tell_user(say("cli-review.page_written", path = path))
  0L
}

# A key in doubt, before it is shown, kept or goes home as what is right.
tell_doubtful <- function(call, sitting, items, what) {
  doubtful <- doubtful_keys(sitting, items)
  if (!length(doubtful)) return(invisible())
  tell_user(say(
    "cli-review.before_it_is",
    what = what,
    doubtful = join_words(doubtful),
    folder = call$folder
  ))
}

#' @export
print.pregunta_review <- function(x, ...) print_lines(x, show_review)

#' @export
print.pregunta_keys <- function(x, ...) print_lines(x, show_keys)

# A heading for each verdict, and under it what happened and what to do.
show_review <- function(review) {
  count <- table(factor(review$verdict, verdicts))
  count <- count[count > 0]
  counted <- in_a_row(say(
    "cli-review.count",
    n = as.vector(count),
    verdict = words_for(names(count), "verdicts")
  ))
  groups <- split_in_order(seq_len(nrow(review)), review$verdict)
  width <- max(nchar(review$item))
  lines <- lapply(names(groups), function(verdict) {
    colour <- if (verdict %in% asking_verdicts) "ochre" else "teal"
    rows <- lapply(groups[[verdict]], function(row) {
      review_lines(review[row, ], width)
    })
    c(
      "", paint(toupper(words_for(verdict, "verdicts")), colour), unlist(rows)
    )
  })
  c(
    wrap_lines(say("cli-review.questions", n = nrow(review), count = counted)),
    unlist(lines),
    "",
    wrap_lines(say_purpose(settings_of(review)))
  )
}

review_lines <- function(row, width) {
  more <- strsplit(row$reasons, "; ", fixed = TRUE)[[1]][-1]
  text <- say(
    "cli-review.also",
    what = row$what,
    do = row$do,
    more = join_words(words_for(more, "review_reasons")),
    any_more = length(more)
  )
  lines <- wrap_lines(trimws(text), 0, 0, table_width - width - 4)
  name <- bold_line(formatC(row$item, width = -width))
  margin <- c(name, rep(strrep(" ", width), length(lines) - 1))
  paste0("  ", margin, "  ", lines)
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
  strongest <- paste(
    percent(keys$key_upper), ":", percent(keys$rival_upper)
  )
  with_rest <- paste(
    number(keys$key_rest), ":", number(keys$rival_rest)
  )
  alpha <- paste(
    number(keys$alpha_before), "\u2192", number(keys$alpha_after)
  )
  changed <- rep("", nrow(keys))
  tried <- !is.na(keys$rise)
  changed[tried] <- say(
    "cli-review.rise_fall",
    rise = keys$rise[tried],
    fall = keys$fall[tried]
  )
  clear <- keys[keys$doubt == "clear", ]
  lines <- format_table(
    text_column("item", keys$item),
    text_column("key", keys$key),
    text_column("rival", keys$rival),
    text_column(
      "chosen",
      paste(keys$key_count, ":", keys$rival_count),
      "right"
    ),
    text_column("strongest_27", strongest, "right"),
    text_column("with_the_rest", with_rest, "right"),
    text_column(
      "doubt",
      words_for(keys$doubt, "doubts"),
      colour = ifelse(keys$doubt == "clear", "ochre", NA)
    ),
    text_column("if_changed", changed, shrink = "wrap"),
    text_column("alpha", alpha)
  )
  advice <- paste0(
    clear$item, ": ", clear$what, " ", clear$do, recycle0 = TRUE
  )
  c(
    lines,
    "",
    wrap_lines(advice, 0, 4),
    if (any(keys$doubt == "possible")) say("cli-review.of_the_others_none"),
    "",
    wrap_lines(say("cli-review.each_pair_is_the"))
  )
}
