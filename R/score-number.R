# A number within a tolerance or a range. Decimal comma and point both count.
score_number <- list(
  example = "12.4, 12.4\u00b10.2 or 12..13",
  scorings = "all",
  read_key = function(key) {
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
    ends
  },
  normalise = function(x, offered) {
    number <- read_number(x)
    ifelse(is.na(number), x, format_plain(number))
  },
  # 12.4 + 0.2 is a hair less than 12.6 to a computer; not to a teacher.
  share = function(x, key, scoring) {
    number <- read_number(x)
    hair <- 1e-9 * max(1, abs(key))
    as.numeric(!is.na(number) & number >= key[1] - hair & number <= key[2] + hair)
  },
  parts = function(x) as.list(x),
  right_parts = NULL
)
