# What groups and plans are about: standards and misconceptions, else the values of a tag
# of the items, else the questions themselves.

# Whether something says what questions are about.
knows_topics <- function(sitting) {
  any(!is.na(sitting$items$standards)) || length(coded_cells(sitting)) > 0
}

# The sitting with these in place of its standards. tag: a column of the items, or NULL;
# titled: whether a question goes by its wording as well.
with_topics <- function(sitting, tag = NULL, titled = TRUE) {
  items <- sitting$items
  if (is.null(tag) && knows_topics(sitting)) return(sitting)
  if (is.null(tag)) {
    codes <- items$item
    titles <- if (titled) items$prompt
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
