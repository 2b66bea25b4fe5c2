# How a summary of items looks in the terminal.

#' @export
print.pregunta_items <- function(x, ...) {
  print_lines(x, show_items)
}

# A summary that has lost columns prints as the data frame it still is; of one
# with some of its rows it is said that what is read is about these.
# says: whether there is something to say of a whole table without rows.
print_lines <- function(x, show, says = FALSE) {
  if (says && !nrow(x) && is_summary(x) && is_whole(x)) {
    put_lines(show(x))
    return(invisible(x))
  }
  if (!nrow(x) || !is_summary(x)) return(print_plain(x))
  put_lines(show(x))
  if (!is_whole(x)) {
    rows <- nrow(attr(x, "made")$table)
    put_lines(
      "",
      say(
        "cli-items.these_are_of_rows",
        n = nrow(x),
        rows = rows
      )
    )
  }
  invisible(x)
}

# What is said of the whole only: a part of it prints as a data frame.
print_whole <- function(x, show) {
  if (!is_summary(x) || !is_whole(x)) return(print_plain(x))
  put_lines(show(x))
  invisible(x)
}

print_plain <- function(x) {
  print(plain_table(x))
  invisible(x)
}

show_items <- function(items, look = NULL) {
  few <- all(items$n < settings_of(items)$thresholds$few_students)
  c(
    item_table(hardest_first(items), attr(items, "by")),
    "",
    show_look(look, few = few),
    wrap_lines(say("legends.items"))
  )
}

item_table <- function(items, by) {
  hardness <- ifelse(
    items$difficulty_band %in% "hard",
    "ochre",
    "teal"
  )
  sharpness <- ifelse(
    items$discrimination_band %in% "reversed",
    "ochre",
    NA
  )
  format_table(
    group_columns(items, by),
    text_column("item", items$item),
    text_column("type", type_words(items$type)),
    text_column("n", items$n, "right"),
    gauge_column(
      "points_earned",
      items$difficulty,
      colour = hardness
    ),
    interval_column(
      "interval",
      items$difficulty_low,
      items$difficulty_high
    ),
    share_column("low", items$low),
    share_column("mid", items$middle),
    share_column("high", items$high),
    text_column(
      "discrimination",
      paste(
        pad(number(items$discrimination), "right"),
        say_discrimination(items)
      ),
      colour = sharpness,
      shrink = "wrap"
    ),
    text_column("blank", blank_counts(items), "right")
  )
}

# The band of the discrimination in words, or why there is none.
say_discrimination <- function(items) {
  band <- words_for(items$discrimination_band, "discrimination_bands")
  ifelse(
    is.na(items$reason),
    band,
    in_parentheses(say_reason(items$reason))
  )
}

blank_counts <- function(items) {
  data.table::fcase(
    is.na(items$omitted), "",
    items$not_reached > 0, paste0(items$omitted, "+", items$not_reached),
    !is.na(items$omitted), as.character(items$omitted)
  )
}

show_look <- function(look, most = 5, few = FALSE) {
  if (is.null(look)) return(NULL)
  if (!nrow(look)) {
    nothing <- if (few) {
      say("cli-items.too_few_students_to")
    } else {
      say("cli-items.nothing_stands_out_go")
    }
    return(c(nothing, ""))
  }
  shown <- utils::head(look, most)
  advice <- paste0(shown$item, ": ", shown$what, " ", shown$do)
  c(
    bold_line(say("cli-items.look_first_at")),
    wrap_lines(advice, 2, 6),
    if (nrow(look) > most) {
      say("cli-items.and_then_at", item = join_some(look$item[-seq_len(most)]))
    },
    ""
  )
}
