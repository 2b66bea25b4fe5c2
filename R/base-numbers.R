# Numbers as they are typed, rounded and shown.

read_number <- function(x) {
  x <- gsub("\u2212", "-", x, fixed = TRUE)
  x <- ifelse(
    grepl("^[^.,]*,[^.,]*$", x),
    sub(",", ".", x, fixed = TRUE),
    x
  )
  plain <- grepl("^[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$", x)
  number <- rep(NA_real_, length(x))
  number[plain] <- as.numeric(x[plain])
  number
}

format_plain <- function(x) {
  ifelse(is.na(x), NA_character_, format_number(x))
}

# A number as a person types it: 1000000, where R writes 1e+06.
as_typed <- function(x) {
  said <- as.character(x)
  large <- grepl("e", said, fixed = TRUE)
  said[large] <- format_number(x[large])
  said
}

format_number <- function(x) {
  # Numbers are many, different ones few.
  distinct <- unique(unname(x))
  said <- vapply(
    distinct,
    function(v) format(v, digits = 15, scientific = FALSE),
    ""
  )
  stats::setNames(said[match(x, distinct)], names(x))
}

# The same, to be read.
shown_number <- function(x) in_digits(format_number(x))

# 0.5 goes up, as teachers round; a hair below it from sums of tenths too.
round_half_up <- function(x, digits = 0) {
  scale <- 10^digits
  sign(x) * floor(abs(x) * scale + 0.5 + 1e-9) / scale
}

percent <- function(share) {
  ifelse(is.na(share), "\u2013", in_percent(hundredths(share)))
}

# A number with the sign for percent where the language has it.
in_percent <- function(n) {
  pattern <- strsplit(language_fact("percent"), "{n}", fixed = TRUE)[[1]]
  paste0(pattern[1], n, or_blank(pattern[2]), recycle0 = TRUE)
}

# A share as a whole number from 0 to 100.
hundredths <- function(share) round_half_up(100 * pmax(0, pmin(1, share)))

number <- function(x, digits = 2) {
  ifelse(
    is.na(x),
    "\u2013",
    in_digits(formatC(
      round_half_up(x, digits) + 0, # no -0.0
      digits = digits,
      format = "f"
    ))
  )
}

plain_points <- function(x) {
  if (!length(x)) return(character())
  x <- round_half_up(x, 2)
  distinct <- unique(x)
  said <- vapply(distinct, function(v) {
    format(v, digits = 15, scientific = FALSE, trim = TRUE)
  }, "")
  said <- in_digits(said)
  said[is.na(distinct)] <- "\u2013"
  said[match(x, distinct)]
}

# Whether a share reaches a cut; 0.7 out of tenths added up is 0.7.
reaches <- function(share, cut) share >= cut - 1e-9

# Runs code with random numbers of its own, and leaves R's as they were.
with_seed <- function(seed, code) {
  had <- get0(".Random.seed", globalenv(), inherits = FALSE)
  on.exit(
    if (is.null(had)) {
      rm(".Random.seed", envir = globalenv())
    } else {
      assign(".Random.seed", had, globalenv())
    }
  )
  set.seed(seed, "Mersenne-Twister", "Inversion", "Rejection")
  code
}
