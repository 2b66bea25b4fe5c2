# Cells as they are typed: marks, shares, blanks.

# Cells of a table of marks that say that there is none.
gone_words <- c(
  "-", ".", "\u2013", "\u2014", "\u00b7", "n/a", "na", "absent", "abs", "missing", "none",
  "null", "#n/a", "--", "ausente", "fehlt", "aus"
)
excused_words <- c("excused", "exempt", "ex")

vulgar_fractions <- c(
  "\u00bd" = 0.5,
  "\u00bc" = 0.25,
  "\u00be" = 0.75,
  "\u2153" = 1 / 3,
  "\u2154" = 2 / 3
)

# A mark as a number: 1, 0,5, 1\u00bd. What is written as a share (50 %, 3/5) is none; see
# share_of().
mark_of <- function(cells) {
  number <- read_number(trimws(cells))
  odd <- which(is.na(number) & grepl("[\u00bc-\u00be\u2153\u2154]$", cells))
  if (!length(odd)) return(number)
  last <- substring(cells[odd], nchar(cells[odd]))
  whole <- trimws(substr(cells[odd], 1, nchar(cells[odd]) - 1))
  number[odd] <- or_else(read_number(whole), ifelse(nzchar(whole), NA, 0)) +
    vulgar_fractions[last]
  number
}

# Either as a number: 3/5 is 3, 80 % is 0.8.
value_of <- function(cells) {
  share <- share_of(cells)
  or_else(mark_of(cells), share$share * or_else(share$whole, 1))
}

share_pattern <- "^[0-9]+([.,][0-9]+)? ?(%|/ ?[0-9]+([.,][0-9]+)?)$"

# 85 %, 17/20: what was reached of all that could be, as a share; with the whole.
share_of <- function(cells) {
  cells <- gsub("[\u00a0\u202f ]", "", cells)
  percent <- grepl("^[0-9]+([.,][0-9]+)?%$", cells)
  fraction <- grepl("^[0-9]+([.,][0-9]+)?/[0-9]+([.,][0-9]+)?$", cells)
  share <- rep(NA_real_, length(cells))
  whole <- share
  share[percent] <- read_number(sub("%", "", cells[percent])) / 100
  whole[fraction] <- read_number(sub(".*/", "", cells[fraction]))
  share[fraction] <- read_number(sub("/.*", "", cells[fraction])) / whole[fraction]
  data.frame(share = share, whole = whole, percent = percent)
}

# Marks as plain numbers: a dash or "absent" among them is a blank, "excused" takes the
# cell out, 3/5 is 3 of 5, 50 % half of what the question gives.
clean_marks <- function(bundle) {
  long <- is_long_table(bundle$responses)
  table <- bundle$responses
  items <- bundle$items
  columns <- if (long) {
    intersect(c("response", "points"), names(table))
  } else {
    intersect(c(items$item, paste(items$item, "points")), names(table))
  }
  gone <- 0
  for (column in columns) {
    if (!are_marks(table[[column]])) next
    of <- if (long) table$item else rep(sub(" points$", "", column), nrow(table))
    at <- match(of, items$item)
    share <- share_of(table[[column]])
    whole <- vapply(split(share$whole, factor(at, seq_len(nrow(items)))), function(x) {
      max(c(x, -Inf), na.rm = TRUE)
    }, 0)
    seen <- which(is.finite(whole) & is.na(items$points))
    items$points[seen] <- format_plain(whole[seen])
    worth <- or_else(read_number(items$points), 1)[at]
    plain <- tolower(table[[column]])
    gone <- gone + sum(plain %in% gone_words)
    table[[column]] <- plain_marks(table[[column]], share, worth)
  }
  bundle$responses <- table
  bundle$items <- items
  if (!gone) return(bundle)
  tell(
    bundle,
    say("read-items.all_together"),
    account_line("blank", say("read-marks.cells_with_a_dash", gone = gone))
  )
}

# Whether all that stands there is a mark or says that there is none.
are_marks <- function(cells) {
  plain <- tolower(unique(cells))
  plain <- plain[plain != "" & !plain %in% c(gone_words, excused_words)]
  length(plain) > 0 &&
    all(
      !is.na(mark_of(plain)) |
        grepl(share_pattern, plain) |
        plain %in% c(yes_words, no_words)
    )
}

plain_marks <- function(cells, share, worth) {
  plain <- tolower(cells)
  odd <- which(!is.na(share$share))
  cells[odd] <- format_plain(
    round(share$share[odd] * or_else(share$whole, worth)[odd], 6)
  )
  half <- which(grepl("[\u00bc-\u00be\u2153\u2154]$", cells))
  cells[half] <- format_plain(mark_of(cells[half]))
  cells[plain %in% gone_words] <- ""
  cells[plain %in% excused_words] <- blank_words[["excused"]]
  cells
}
