# How summaries of items and options look in the terminal.

#' @export
print.pregunta_items <- function(x, ...) {
  print_lines(x, c("item", "n", "difficulty", "discrimination", "low", "high"), show_items)
}

#' @export
print.pregunta_options <- function(x, ...) {
  print_lines(x, c("item", "option", "key", "count", "share", "low", "high", "option_rest"), show_options)
}

# A summary that has lost columns prints as the data frame it still is.
print_lines <- function(x, needed, show) {
  if (nrow(x) && all(needed %in% names(x))) cat(show(x), sep = "\n") else print.data.frame(x)
  invisible(x)
}

show_items <- function(items, look = NULL) {
  sorted <- if (is.null(attr(items, "sorted"))) items[order(items$difficulty), ] else items
  columns <- c(group_columns(items), list(
    text_column("item", sorted$item),
    text_column("type", sorted$type),
    text_column("n", sorted$n, "right"),
    text_column("points earned", paste(bar(sorted$difficulty), pad(percent(sorted$difficulty), "right")),
      colour = ifelse(sorted$difficulty_band %in% "hard", "ochre", "teal")),
    text_column("95%", between(sorted$difficulty_low, sorted$difficulty_high), "right"),
    text_column("low", percent(sorted$low), "right"),
    text_column("mid", percent(sorted$middle), "right"),
    text_column("high", percent(sorted$high), "right"),
    text_column("discrimination", paste(pad(number(sorted$discrimination), "right"),
      ifelse(is.na(sorted$reason), sorted$discrimination_band, paste0("(", sorted$reason, ")"))),
      colour = ifelse(sorted$discrimination_band %in% "reversed", "ochre", NA), shrink = TRUE),
    text_column("blank", blank_counts(sorted), "right")
  ))
  if (length(group_columns(items))) columns[[1]] <- text_column(attr(items, "by"), sorted[[attr(items, "by")]],
    shrink = TRUE)
  c(format_table(columns), "", show_look(look, few = all(items$n < settings_of(items)$thresholds$few_students)),
    wrap_lines(items_legend))
}

items_legend <- paste(
  "low, mid, high: what the weakest, middle and strongest third earned. discrimination: how well the question",
  "tells strong from weak, from -1 to 1; below 0 the strong do worse on it than the weak.",
  "blank: left out + not reached."
)

blank_counts <- function(items) {
  ifelse(is.na(items$omitted), "",
    ifelse(items$not_reached > 0, paste0(items$omitted, "+", items$not_reached), items$omitted))
}

show_look <- function(look, most = 5, few = FALSE) {
  if (is.null(look)) return(NULL)
  if (few && !nrow(look)) return(c("Too few students to say anything against a question.", ""))
  if (!nrow(look)) return(c("Nothing stands out. Go over the first few above, the hardest ones, with the class.", ""))
  shown <- utils::head(look, most)
  c(
    paint("Look first at", "bold"),
    unlist(lapply(seq_len(nrow(shown)), function(row) {
      wrap_lines(paste0(shown$item[row], ": ", printable(shown$what[row]), " ", shown$do[row]), 2, 6)
    })),
    if (nrow(look) > most) paste0("  and then at ", join_some(look$item[-seq_len(most)]), "."),
    ""
  )
}

show_options <- function(options, items = NULL, look = NULL) {
  sets <- split(seq_len(nrow(options)), factor(options$item, unique(options$item)))
  c(unlist(lapply(sets, function(rows) show_item_options(options[rows, ], items, look)), use.names = FALSE),
    wrap_lines(options_legend))
}

options_legend <- paste(
  "low, mid, high: share of the weakest, middle and strongest third that gave the answer. rest: mean score of those",
  "who gave it on the rest of the test; r: how giving it goes with that score, from -1 to 1."
)

show_item_options <- function(table, items, look) {
  grouped <- group_columns(table)
  alone <- !length(grouped) && !is.null(look)
  doubtful <- look$rule[match(table$item[1], look$item)] %in% c("key", "reversed")
  c(
    paint(option_heading(table$item[1], items), "bold"),
    format_table(c(grouped, option_columns(table))),
    if (alone) wrap_lines(printable(say_options(table, table$item[1], look)), 2),
    if (alone && !doubtful) option_pattern_words(table),
    ""
  )
}

option_heading <- function(item, items) {
  row <- match(item, items$item)
  if (is.na(row) || is.null(items$prompt) || is.na(items$prompt[row])) return(item)
  shorten(printable(paste0(item, "  ", items$prompt[row])), table_width)
}

option_columns <- function(table) {
  words <- ifelse(is.na(table$text), "", table$text)
  words <- ifelse(is.na(table$misconception), words, paste0(words, " [", table$misconception, "]"))
  list(
    text_column("", ifelse(table$key, "\u2713", " "), colour = ifelse(table$key, "teal", NA)),
    text_column("option", table$option, shrink = TRUE),
    if (any(nzchar(words))) text_column("text", words, shrink = TRUE),
    text_column("chosen by", paste(bar(table$share, 6), pad(percent(table$share), "right")),
      colour = ifelse(table$key, "teal", NA)),
    text_column("n", table$count, "right"),
    text_column("low", percent(table$low), "right"),
    text_column("mid", percent(table$middle), "right"),
    text_column("high", percent(table$high), "right"),
    text_column("rest", percent(table$mean_rest), "right"),
    text_column("r", number(table$option_rest), "right"),
    if (any(!is.na(table$distractor))) text_column("", table$distractor,
      colour = ifelse(table$distractor %in% "draws the strong", "ochre", NA))
  )
}

pattern_words <- c(
  shared = "The wrong answers pile up on one option, more than chance: one idea behind them.",
  spread = "The wrong answers are spread evenly, as guessing would.",
  mixed = "The wrong answers favour some options, not clearly one."
)

option_pattern_words <- function(table) {
  word <- pattern_words[table$pattern[1]]
  if (is.na(word)) NULL else paste0("  ", word)
}
