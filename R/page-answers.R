# Every answer to every question in one table that sorts and filters, each opened
# to who gave it; and what each student answered, once in the page.

report_answers <- function(view, is_class) {
  options <- view$tables[["option-table"]]
  if (!nrow(options)) return(NULL)
  page_section(
    "options",
    "The answers",
    help_line(
      paste0(
        "The most chosen wrong answers first",
        if (is_class) "; press a row to see who gave an answer",
        ". Filter by a question, \u201cwrong\u201d, \u201cblank\u201d, how the wrong ",
        "answers fall (\u201cshared\u201d, ",
        "\u201cspread\u201d) or an idea."
      )
    ),
    wide(
      "The answers",
      page_table(
        "option-table",
        options,
        list(
          item = page_column("Item", width = item_width(view) - 14),
          option = page_column("Answer", "strong", width = 120),
          text = page_column("What it says", rooms = "asked", minWidth = 180),
          right = page_column("Is", "right", width = 76),
          share = bar_column("Chosen by", width = 150),
          low_third = figure_column("Low", "percent", "thirds"),
          middle = figure_column("Mid", "percent", "thirds"),
          high_third = figure_column("High", "percent", "thirds"),
          pattern = page_column(
            "Wrong ones fall",
            term = "pattern",
            rooms = "roomy",
            width = 144
          ),
          idea = page_column("Idea behind it", rooms = "roomy", minWidth = 130)
        ),
        "answers",
        if (is_class) "option",
        at_once = 20
      )
    )
  )
}

option_data <- function(figures) {
  options <- as.data.frame(figures$options)
  options <- options[options$state != "waiting", ]
  right <- ifelse(
    options$key,
    "right",
    ifelse(options$state == "blank", "blank", "wrong")
  )
  order <- order(match(right, c("wrong", "right", "blank")), -options$share)
  options <- options[order, ]
  data.frame(
    item = cell_words(options$item),
    option = cell_words(shown_answer(options$option, options$state)),
    text = cell_words(options$text),
    right = right[order],
    share = options$share,
    count = options$count,
    ochre = !options$key,
    low_third = options$low,
    middle = options$middle,
    high_third = options$high,
    pattern = cell_words(ifelse(options$key, NA, options$pattern)),
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
  about <- lapply(seq_len(nrow(items)), function(j) {
    list(
      item = cell_words(items$item[j]),
      asks = cell_words(items$prompt[j]),
      why = cell_words(items$rationale[j]),
      right = right[j],
      most = items$points[j]
    )
  })
  if (is_class) {
    Map(c, about, given_answers(sitting), chosen_answers(sitting, people))
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
    given <- paste(answers[, j], points[, j], kinds[, j], sep = "\r")
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
      chosen = list(option = I(runs$values), n = I(runs$lengths), who = I(student[rows]))
    )
  }))
}
