# What is shown of the questions and their answers. `...`: what view_rows() takes.

# The figures of the questions with what they come to: the verdicts, and what to look
# at first. counted: a sitting, or its tally.
judged_questions <- function(counted) {
  items <- summarise_items(counted)
  options <- summarise_options(counted)
  review <- review_figures(items, options_to_judge(counted))
  list(
    items = items,
    options = options,
    review = review,
    look = look_of(review)
  )
}

# items: the figures; look: what to look at first among those shown, where it is told.
view_items <- function(sitting, by = NULL, bootstrap = NULL, told = TRUE, ...) {
  items <- summarise_items(
    sitting,
    by,
    if (is.null(bootstrap)) 0 else bootstrap
  )
  look <- if (told && is.null(by)) {
    # Slips are looked for where an answer may be misspelt, as the verdicts do.
    near_misses <- any(has_near_misses(sitting$items$type))
    look_first(items, options_to_judge(sitting, near_misses))
  }
  items <- view_rows(items, ...)
  list(items = items, look = look[look$item %in% items$item, ])
}

# The hardest first, unless another order was asked for.
hardest_first <- function(items) {
  if (!is.null(attr(items, "sorted"))) return(items)
  items[order(items$difficulty), ]
}

# options: those of the hardest question first, where it is told what to see in them;
# look, answers: for the sentences; who: who gave which answer, by name.
view_options <- function(sitting, by = NULL, told = TRUE, who = FALSE, ...) {
  options <- summarise_options(sitting, by)
  look <- answers <- NULL
  if (told && is.null(by)) {
    items <- summarise_items(sitting)
    look <- look_first(items, options_to_judge(sitting))
    answers <- summarise_answers(sitting)
    hardest <- items$item[order(items$difficulty)]
    options <- options[order(match(options$item, hardest)), ]
  }
  options <- view_rows(options, ...)
  people <- if (who) who_by_name(sitting)
  list(
    options = options,
    look = look,
    answers = answers,
    who = people
  )
}

# Free answers have no printed order: the right ones, the nearly right ones, the rest.
likely_first <- function(table) {
  written <- is_answered(table$type[1], "written")
  if (!written || !is.null(attr(table, "sorted"))) return(table)
  last <- table$state != "answered"
  table[
    order(last, !table$key, is.na(table$near_miss), -table$count),
  ]
}

# Who gave which answer, by name where there is one.
who_by_name <- function(sitting) {
  who <- who_chose(sitting)
  name <- sitting$students$name[match(who$student, sitting$students$student)]
  who$label <- or_else(name, who$student)
  who
}

# The same in a column of the options.
people_of <- function(options, who) {
  place_of <- function(table) {
    paste(table$item, table$option, table$state, sep = "\r")
  }
  places <- place_of(options)
  people <- split(who$label, factor(place_of(who), unique(places)))
  unname(vapply(people, paste, "", collapse = "; ")[places])
}

# What the options table of a page or sheet lists: wrong answers first, the most
# chosen on top. waiting: answers that nobody has marked yet are left out.
answers_listed <- function(options) {
  options <- as.data.frame(options)
  options <- options[options$state != "waiting", ]
  options$kind <- data.table::fcase(
    options$key, "right",
    options$state == "blank", "blank",
    default = "wrong"
  )
  # A mark below the most is no wrong answer, and the most no right one.
  options$kind[is_marked(options$type) & options$kind != "blank"] <- "earned"
  kinds <- c("wrong", "right", "earned", "blank")
  options[order(match(options$kind, kinds), -options$share), ]
}

view_answers <- function(sitting, ...) {
  view_rows(summarise_answers(sitting), ...)
}

view_review <- function(sitting, before = NULL, ...) {
  view_rows(review_items(sitting, before), ...)
}

view_keys <- function(sitting, ...) view_rows(review_key(sitting), ...)

# The questions, of those asked for, whose key is in doubt.
doubtful_keys <- function(sitting, item = NULL) {
  review <- review_items(sitting)
  doubtful <- review$item[review$verdict == "check_key"]
  if (is.null(item)) doubtful else intersect(doubtful, item)
}

# What is to be settled before scores count, apart from what only deserves a look.
to_settle <- function(look) look[look$rule %in% pressing_rules, ]

view_time <- function(sitting, by = NULL, ..., student = NULL) {
  if (!is.null(student)) {
    by <- "student"
  }
  view_rows(summarise_time(sitting, by), ..., student = student)
}

view_explanations <- function(sitting, names = TRUE, ...) {
  said <- view_rows(summarise_explanations(sitting), ...)
  if (!names) {
    said[c("student", "name")] <- NULL
  }
  said
}
