# Sentences are templates filled with the data's own values, so that wording
# stands in one place.

# In one pass, so that braces in what a student typed stay as they are.
fill_sentence <- function(template, values) {
  from <- gregexpr("{[A-Za-z0-9_]+}", template, perl = TRUE)[[1]]
  if (from[1] < 0) return(template)
  to <- from + attr(from, "match.length")
  said <- substring(template, from, to - 1)
  known <- match(substring(said, 2, nchar(said) - 1), names(values))
  said[!is.na(known)] <- unlist(values[known[!is.na(known)]])
  paste(
    c(rbind(substring(template, c(1, to), c(from - 1, nchar(template))), c(said, ""))),
    collapse = ""
  )
}
