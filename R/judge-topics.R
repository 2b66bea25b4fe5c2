# What groups and plans are about: standards, else the values of a tag of the items, else
# the questions themselves; misconceptions besides.

names_standards <- function(sitting) any(!is.na(sitting$items$standards))

# The sitting with these in place of its standards. tag: a column of the items, or NULL;
# titled: whether a question goes by its wording as well.
with_topics <- function(sitting, tag = NULL, titled = TRUE) {
  items <- sitting$items
  if (is.null(tag) && names_standards(sitting)) return(sitting)
  if (is.null(tag)) {
    codes <- items$item
    codes[codes %in% items_to_settle(sitting)] <- NA
    titles <- if (titled) items$prompt[!is.na(codes)]
  } else {
    # A tag that is not there is told as summarise_standards() tells it.
    summarise_standards(sitting, tag = tag)
    codes <- as.character(items[[tag]])
    titles <- NULL
  }
  sitting$items$standards <- codes
  known <- unique(codes[!is.na(codes)])
  sitting$standards <- data.frame(
    code = known,
    parent = rep(NA_character_, length(known)),
    title = if (is.null(titles)) rep(NA_character_, length(known)) else titles,
    emphasis = rep(NA_character_, length(known))
  )
  sitting
}

# Where questions stand for themselves: those whose key or wording is in doubt. Who misses
# such a one may know what it asks.
items_to_settle <- function(sitting) {
  doubt <- sitting$unsettled
  if (is.null(doubt)) {
    review <- review_items(sitting)
    doubt <- review$item[review$rule %in% pressing_rules]
  }
  doubt <- intersect(doubt, sitting$items$item)
  # Of nothing else is anything known.
  if (all(sitting$items$item %in% doubt)) character() else doubt
}

# A part of the students leaves out what is to be settled by the answers of all.
with_unsettled <- function(sitting) {
  if (!names_standards(sitting)) sitting$unsettled <- items_to_settle(sitting)
  sitting
}

# What groups and a plan go by where no question names a standard, and what is left out.
say_topics <- function(sitting) {
  if (names_standards(sitting)) return(NULL)
  doubt <- items_to_settle(sitting)
  paste(c(
    say("judge-topics.by_question"),
    if (length(doubt)) {
      say("judge-topics.left_out", items = join_some(doubt), n = length(doubt))
    }
  ), collapse = " ")
}
