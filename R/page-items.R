# The questions of the report: a table that sorts, and opens to the answers.

report_items <- function(view) {
  title <- say("page-items.the_questions")
  table <- page_table(
    "item-table",
    view$tables[["item-table"]],
    item_columns(item_width(view)),
    "questions",
    "item",
    sorted = list(difficulty = "asc")
  )
  page_section(
    "items",
    title,
    help_line(
      say("page-items.hardest_first"),
      " ",
      on_screen(say("page-items.press_a_heading_to"), " "),
      say("page-items.low_mid_and_high")
    ),
    wide(title, table)
  )
}

# As wide as the longest name of an item, within reason.
item_width <- function(view) {
  letters <- nchar(view$tables[["item-table"]]$item, "width")
  min(190, max(78, 34 + 8 * letters))
}

item_columns <- function(width) {
  list(
    item = page_column("item", "item", width = width),
    prompt = page_column(
      "question",
      rooms = "asked",
      minWidth = 220
    ),
    difficulty = bar_column("points_earned", "bar", "difficulty"),
    low_third = figure_column("low", "percent", "thirds"),
    middle = figure_column("mid", "percent", "thirds"),
    high_third = figure_column("high", "percent", "thirds"),
    discrimination = figure_column(
      "discrimination",
      "discrimination",
      "discrimination",
      158
    ),
    blank = figure_column("blank", term = "blank", width = 68),
    verdict = page_column(
      "verdict",
      rooms = "roomy",
      width = max(118, room_for(all_words("verdicts")))
    )
  )
}

# A row an item; `say`: the verdict in words and what the answers add; `asks`:
# whether something is to be done; `reasons`: what students wrote.
item_data <- function(sitting, figures, people) {
  items <- figures$items
  review <- figures$review[match(items$item, figures$review$item), ]
  band <- or_else(
    say_reason(items$reason),
    words_for(items$discrimination_band, "discrimination_bands")
  )
  data <- data.frame(
    item = cell_words(items$item),
    prompt = cell_words(or_else(sitting$items$prompt, items$type)),
    difficulty = items$difficulty,
    low = items$difficulty_low,
    high = items$difficulty_high,
    ochre = items$difficulty_band %in% "hard",
    low_third = items$low,
    middle = items$middle,
    high_third = items$high,
    discrimination = items$discrimination,
    band = cell_words(band),
    blank = items$omitted + items$not_reached,
    verdict = words_for(review$verdict, "verdicts"),
    asks = review$verdict %in% asking_verdicts,
    say = cell_words(paste(review$what, review$do))
  )
  data$more <- say_answers_of(sitting, figures)
  data$reasons <- reasons_of(sitting, figures, people)
  data
}

say_answers_of <- function(sitting, figures) {
  whole <- figures$whole
  if (is.null(whole)) return(vector("list", nrow(sitting$items)))
  rows <- split(seq_along(whole$item), factor(whole$item, sitting$items$item))
  lapply(seq_along(rows), function(j) {
    printable(
      say_answers(
        rows_of(whole, rows[[j]]),
        sitting$items[j, ],
        figures$look
      )
    )
  })
}

# What students wrote as their reason, the right answers first; the same words once.
reasons_of <- function(sitting, figures, people) {
  none <- rep(list(list()), nrow(sitting$items))
  if (!figures$is_class) return(none)
  reasons <- summarise_explanations(sitting)
  if (!nrow(reasons)) return(none)
  reasons$option <- paste0(
    ifelse(reasons$key %in% TRUE, "\u2713 ", ""),
    reasons$option
  )
  rows <- split(
    seq_len(nrow(reasons)),
    factor(reasons$item, sitting$items$item)
  )
  lapply(rows, function(rows) {
    same <- paste(
      reasons$option[rows], reasons$explanation[rows], sep = "\r"
    )
    lapply(unname(split_in_order(rows, same)), function(rows) {
      list(
        option = cell_words(reasons$option[rows[1]]),
        words = cell_words(reasons$explanation[rows[1]]),
        who = I(match(reasons$student[rows], people$student) - 1L)
      )
    })
  }) |>
    unname()
}
