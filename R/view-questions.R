# What is shown of the questions and their answers. `...`: what view_rows() takes.

# items: the figures; look: what to look at first among those shown, where it is told.
view_items <- function(sitting, by = NULL, bootstrap = 0, told = TRUE, ...) {
  items <- summarise_items(sitting, by, bootstrap)
  look <- if (told && is.null(by)) {
    # Slips are looked for where an answer may be misspelt, as the verdicts do.
    slips <- any(has_near_misses(sitting$items$type))
    look_first(items, summarise_options(sitting, slips = slips))
  }
  items <- view_rows(items, ...)
  list(items = items, look = look[look$item %in% items$item, ])
}

# options: those of the hardest question first, where it is told what to see in them;
# look, answers: for the sentences; who: who gave which answer, by name.
view_options <- function(sitting, by = NULL, told = TRUE, who = FALSE, ...) {
  options <- summarise_options(sitting, by)
  look <- answers <- NULL
  if (told && is.null(by)) {
    items <- summarise_items(sitting)
    look <- look_first(items, options)
    answers <- summarise_answers(sitting)
    hardest <- items$item[order(items$difficulty)]
    options <- options[order(match(options$item, hardest)), ]
  }
  options <- view_rows(options, ...)
  people <- if (who) who_by_name(sitting)
  list(options = options, look = look, answers = answers, who = people)
}

# Who gave which answer, by name where there is one.
who_by_name <- function(sitting) {
  who <- who_chose(sitting)
  name <- sitting$students$name[match(who$student, sitting$students$student)]
  who$label <- ifelse(is.na(name), who$student, name)
  who
}

# The same in a column of the options.
people_of <- function(options, who) {
  key <- function(table) paste(table$item, table$option, table$state, sep = "\r")
  people <- split(who$label, factor(key(who), unique(key(options))))
  unname(vapply(people, paste, "", collapse = "; ")[key(options)])
}

# The questions, of those asked for, whose key is in doubt.
doubtful_keys <- function(sitting, item = NULL) {
  review <- review_items(sitting)
  doubtful <- review$item[review$verdict == "check_key"]
  if (is.null(item)) doubtful else intersect(doubtful, item)
}
