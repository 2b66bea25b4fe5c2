# How a summary of items looks in the terminal.

#' @export
print.pregunta_items <- function(x, ...) {
  print_lines(x, show_items)
}

# A summary that has lost columns prints as the data frame it still is; of one
# with some of its rows it is said that what is read is about these.
print_lines <- function(x, show) {
  if (!nrow(x) || !is_summary(x)) return(print_plain(x))
  cat(show(x), sep = "\n")
  if (!is_whole(x)) {
    rows <- nrow(attr(x, "made")$table)
    cat(
      "",
      say("cli-items.these_are_of_rows", n = nrow(x), rows = rows),
      sep = "\n"
    )
  }
  invisible(x)
}

# What is said of the whole only: a part of it prints as a data frame.
print_whole <- function(x, show) {
  if (!is_summary(x) || !is_whole(x)) return(print_plain(x))
  cat(show(x), sep = "\n")
  invisible(x)
}

print_plain <- function(x) {
  print(plain_table(x))
  invisible(x)
}

show_items <- function(items, look = NULL) {
  sorted <- if (is.null(attr(items, "sorted"))) {
    items[order(items$difficulty), ]
  } else {
    items
  }
  hardness <- ifelse(sorted$difficulty_band %in% "hard", "ochre", "teal")
  columns <- c(
    group_columns(sorted, attr(items, "by")),
    list(
      text_column("item", sorted$item),
      text_column("type", sorted$type),
      text_column("n", sorted$n, "right"),
      gauge_column("points_earned", sorted$difficulty, colour = hardness),
      interval_column("interval", sorted$difficulty_low, sorted$difficulty_high),
      share_column("low", sorted$low),
      share_column("mid", sorted$middle),
      share_column("high", sorted$high),
      text_column(
        "discrimination",
        paste(
          pad(number(sorted$discrimination), "right"),
          ifelse(
            is.na(sorted$reason),
            words_for(sorted$discrimination_band, "discrimination_bands"),
            paste0("(", say_reason(sorted$reason), ")")
          )
        ),
        colour = ifelse(sorted$discrimination_band %in% "reversed", "ochre", NA),
        shrink = TRUE
      ),
      text_column("blank", blank_counts(sorted), "right")
    )
  )
  c(
    format_table(columns),
    "",
    show_look(look, few = all(items$n < settings_of(items)$thresholds$few_students)),
    wrap_lines(say("legends.items"))
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
  if (few && !nrow(look)) {
    return(c(say("cli-items.too_few_students_to"), ""))
  }
  if (!nrow(look)) {
    return(c(
      say("cli-items.nothing_stands_out_go"),
      ""
    ))
  }
  shown <- utils::head(look, most)
  c(
    paint(say("cli-items.look_first_at"), "bold"),
    unlist(lapply(seq_len(nrow(shown)), function(row) {
      wrap_lines(
        paste0(shown$item[row], ": ", printable(shown$what[row]), " ", shown$do[row]),
        2,
        6
      )
    })),
    if (nrow(look) > most) {
      say("cli-items.and_then_at", item = join_some(look$item[-seq_len(most)]))
    },
    ""
  )
}
