# What the verdicts share: sentences are templates in tables, filled with the
# data's own values, so that wording stands in one place.

# In one pass, so that braces in what a student typed stay as they are.
fill_sentence <- function(template, values) {
  from <- gregexpr("{[A-Za-z0-9_]+}", template, perl = TRUE)[[1]]
  if (from[1] < 0) return(template)
  to <- from + attr(from, "match.length")
  said <- substring(template, from, to - 1)
  known <- match(substring(said, 2, nchar(said) - 1), names(values))
  said[!is.na(known)] <- unlist(values[known[!is.na(known)]])
  paste(c(rbind(substring(template, c(1, to), c(from - 1, nchar(template))), c(said, ""))), collapse = "")
}

percent <- function(share) ifelse(is.na(share), "\u2013", paste0(round_half_up(100 * pmax(0, pmin(1, share))), "%"))

# 0.5 goes up, as teachers round; a hair below it from sums of tenths too.
round_half_up <- function(x, digits = 0) {
  scale <- 10^digits
  sign(x) * floor(abs(x) * scale + 0.5 + 1e-9) / scale
}

number <- function(x, digits = 2) {
  ifelse(is.na(x), "\u2013", formatC(round_half_up(x, digits), digits = digits, format = "f"))
}

plain_points <- function(x) {
  ifelse(is.na(x), "\u2013", vapply(x, function(v) format(round_half_up(v, 2), nsmall = 0, trim = TRUE), ""))
}

join_words <- function(words) {
  if (length(words) < 2) return(paste(words))
  paste(paste(words[-length(words)], collapse = ", "), "and", words[length(words)])
}

join_some <- function(words, most = 5) {
  if (length(words) > most) some_of(words, most) else join_words(words)
}

capital <- function(text) paste0(toupper(substr(text, 1, 1)), substring(text, 2))
