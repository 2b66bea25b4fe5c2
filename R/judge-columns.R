# What each column of the summaries means, in a line: for the workbook and the
# schemas. What the glossary explains is taken from there.

meaning_of <- function(columns, levels = character()) {
  said <- unname(all_words("columns")[columns])
  bare <- is.na(said)
  said[bare & columns %in% levels] <- say("judge-columns.share_or_number_of")
  terms <- glossary()
  explained <- strsplit(terms$column, ", ", fixed = TRUE)
  known <- stats::setNames(
    rep(terms$short, lengths(explained)),
    unlist(explained)
  )
  said <- or_else(said, unname(known[columns]))
  for (end in c("low", "high", "before", "after")) {
    mine <- is.na(said) & grepl(paste0("_", end, "$"), columns)
    bare <- gsub(
      "_",
      " ",
      sub(paste0("_", end, "$"), "", columns[mine])
    )
    said[mine] <- say_with(paste0("columns_ending.", end), list(column = bare))
  }
  or_blank(said)
}

# The columns that hold codes, and where among the words the codes stand. The same
# name holds the codes of one section in one summary, and of another in another.
coded_columns <- list(
  verdict = "verdicts",
  reason = "reasons",
  rule = "review_reasons",
  pattern = c("patterns", "fitting"),
  distractor = "distractors",
  difficulty_band = "difficulty_bands",
  discrimination_band = "discrimination_bands",
  doubt = "doubts",
  worth = "worth",
  class = "classes",
  status = c("statuses", "held"),
  reads_as = "guessing",
  outcome = "outcomes",
  moved = "moves",
  anchor = "anchors",
  way = "cut_ways",
  became = "moved",
  role = "roles",
  severity = "severities",
  fit = "fits",
  state = "states"
)

# The codes that a column of a summary may hold, given values that it holds; NULL of
# a column of words.
codes_of <- function(column, values) {
  for (section in coded_columns[[column]]) {
    codes <- names(all_words(section))
    if (all(values %in% c(codes, NA))) return(codes)
  }
}
