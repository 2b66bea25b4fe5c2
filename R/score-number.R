# A number within a tolerance or a range. Decimal comma and point both count.
score_number <- list(
  example = "12.4, 12.4\u00b10.2 or 12..13",
  scorings = "all",
  read_key = function(key) alternatives(key, read_range),
  normalise = function(x, offered) {
    number <- read_number(x)
    ifelse(is.na(number), x, format_plain(number))
  },
  share = function(x, key, scoring) {
    number <- read_number(x)
    best_share(key, function(range) as.numeric(!is.na(number) & in_range(number, range)))
  },
  parts = function(x) as.list(x),
  right_parts = NULL
)

# The ends between which a number is right; the very number as `middle`, which a
# range does not have.
read_range <- function(key) {
  tolerance <- trimws(strsplit(key, "\u00b1|\\+/-")[[1]])
  range <- trimws(strsplit(key, "..", fixed = TRUE)[[1]])
  ends <- if (length(range) == 2) {
    read_number(range)
  } else if (length(tolerance) == 2) {
    read_number(tolerance[1]) + c(-1, 1) * read_number(tolerance[2])
  } else {
    rep(read_number(trimws(key)), 2)
  }
  if (anyNA(ends)) bad_key("is no number")
  if (ends[1] > ends[2]) bad_key("has its ends the wrong way round")
  structure(ends, middle = if (length(range) != 2) mean(ends) |> signif(12))
}

# 12.4 + 0.2 is a hair less than 12.6 to a computer; not to a teacher.
in_range <- function(number, range) {
  hair <- 1e-9 * max(1, abs(range))
  number >= range[1] - hair & number <= range[2] + hair
}
