# Every answer to every question in one table that sorts and filters, each opened
# to who gave it; and what each student answered, once in the page.

report_answers <- function(view, is_class) {
  options <- view$tables[["option-table"]]
  if (!nrow(options)) return(NULL)
  title <- say("page-answers.the_answers")
  table <- page_table(
    "option-table",
    options,
    answer_columns(item_width(view) - 14),
    "answers",
    if (is_class) "option",
    at_once = 20
  )
  page_section(
    "options",
    title,
    help_line(say("page-answers.the_most_chosen_wrong", is_class = is_class)),
    wide(title, table)
  )
}

answer_columns <- function(width) {
  list(
    item = page_column("item", width = width),
    option = page_column("answer", "strong", rooms = "brief", width = 120),
    text = page_column(
      "what_it_says",
      rooms = "asked",
      minWidth = 180
    ),
    right = page_column(
      "is",
      "right",
      rooms = "roomy",
      width = max(76, room_for(all_words("answer_kinds")))
    ),
    share = bar_column("chosen_by", width = 150),
    low_third = figure_column("low", "percent", "thirds"),
    middle = figure_column("mid", "percent", "thirds"),
    high_third = figure_column("high", "percent", "thirds"),
    pattern = page_column(
      "wrong_ones_fall",
      term = "pattern",
      rooms = "roomy",
      width = max(144, room_for(all_words("patterns")))
    ),
    idea = page_column(
      "idea_behind_it",
      rooms = "roomy",
      minWidth = 130
    )
  )
}

option_data <- function(figures) {
  options <- answers_listed(figures$options)
  pattern <- words_for(options$pattern, "patterns")
  data.frame(
    item = cell_words(options$item),
    option = cell_words(shown_answer(options$option, options$state)),
    text = cell_words(options$text),
    right = options$kind,
    share = options$share,
    count = options$count,
    ochre = !options$key,
    low_third = options$low,
    middle = options$middle,
    high_third = options$high,
    pattern = cell_words(ifelse(options$key, NA, pattern)),
    idea = cell_words(options$idea),
    misconception = cell_words(ifelse(options$key, NA, options$misconception))
  )
}

# Everybody, as a name and the alias that stands for it, or the alias alone.
shared_people <- function(people) {
  lapply(seq_along(people$student), function(k) {
    I(c(if (people$names) printable(people$label[k]), people$alias[k]))
  })
}

# Of every item what it asks, why the right answer is right, and, of a class, the
# distinct answers (with points and kind), which of them each student gave, and who
# gave which option: of each in turn so many. Students are numbered from 0.
shared_items <- function(sitting, people, is_class) {
  items <- sitting$items
  right <- cell_words(right_in_words(sitting))
  about <- each_row(items, function(j) {
    list(
      item = cell_words(items$item[j]),
      asks = cell_words(items$prompt[j]),
      why = cell_words(items$rationale[j]),
      right = right[j],
      most = items$points[j]
    )
  })
  if (is_class) {
    Map(
      c,
      about,
      given_answers(sitting),
      chosen_answers(sitting, people)
    )
  } else {
    about
  }
}

given_answers <- function(sitting) {
  present <- which(was_present(sitting))
  kinds <- answer_kinds(sitting)[present, , drop = FALSE]
  points <- cell_points(sitting)[present, , drop = FALSE]
  answers <- printable(shown_cells(sitting)[present, , drop = FALSE])
  answers <- matrix(answers, length(present), ncol(kinds))
  lapply(seq_len(ncol(kinds)), function(j) {
    given <- paste(
      answers[, j], points[, j], kinds[, j], sep = "\r"
    )
    first <- which(!duplicated(given))
    list(
      given = list(
        answer = I(answers[first, j]),
        points = I(points[first, j]),
        kind = I(kinds[first, j])
      ),
      by = I(match(given, given[first]) - 1L)
    )
  })
}

chosen_answers <- function(sitting, people) {
  chosen <- who_chose(sitting)
  student <- match(chosen$student, people$student) - 1L
  option <- printable(shown_answer(chosen$option, chosen$state))
  rows <- split(seq_len(nrow(chosen)), factor(chosen$item, sitting$items$item))
  unname(lapply(rows, function(rows) {
    rows <- rows[order(option[rows], method = "radix")]
    runs <- rle(option[rows])
    list(
      chosen = list(
        option = I(runs$values),
        n = I(runs$lengths),
        who = I(student[rows])
      )
    )
  }))
}
