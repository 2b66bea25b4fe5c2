# Cells as they are typed: marks, shares, blanks.

# Signs that there is none, in every language; the words for it are in `headers` of each.
gone_signs <- c("-", "--", ".", "\u2013", "\u2014", "\u00b7")
gone_codes <- c(gone_signs, "n/a", "n.a.", "na", "null", "#n/a")

# What says yes or right, and what no or wrong, in a cell of an export.
said_words <- function() {
  said <- heading_words()$cell
  list(
    yes = c(yes_words, names(said)[said %in% c("yes", "right")]),
    no = c(no_words, names(said)[said %in% c("no", "wrong")])
  )
}

# Whether cells say that there is nothing; and whether the student was excused.
says_nothing <- function(cells) {
  tolower(cells) %in% gone_codes | means_in_cell(cells, "none")
}

says_excused <- function(cells) means_in_cell(cells, "excused")

means_in_cell <- function(cells, meaning) {
  said <- heading_words()$cell
  plain_text(cells) %in% names(said)[said == meaning]
}

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
  number[odd] <- or_else(
    read_number(whole),
    ifelse(nzchar(whole), NA, 0)
  ) +
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
  share[percent] <- read_number(sub("%", "", cells[percent])) /
    100
  whole[fraction] <- read_number(sub(".*/", "", cells[fraction]))
  share[fraction] <- read_number(sub("/.*", "", cells[fraction])) /
    whole[fraction]
  data.frame(share = share, whole = whole, percent = percent)
}

# Marks as plain numbers: a dash or "absent" among them is a blank, "excused" takes the
# cell out, 3/5 is 3 of 5, 50 % half of what the question gives. Answers that a key or
# points beside them value stay as they are, but for the signs of a blank.
clean_marks <- function(bundle) {
  table <- bundle$responses
  items <- bundle$items
  long <- is_long_table(table)
  rows <- if (long) split(seq_len(nrow(table)), factor(table$item, items$item))
  gone <- 0
  for (part in c("response", "points")) {
    column <- if (long) table[[part]]
    if (long && is.null(column)) next
    for (j in which(!items$item %in% bundle$strict)) {
      name <- paste(
        c(items$item[j], if (part == "points") part),
        collapse = " "
      )
      cells <- if (long) column[rows[[j]]] else table[[name]]
      if (!length(cells)) next
      points <- part == "points"
      clean <- if (points || holds_marks(bundle, items[j, ])) {
        marks_as_numbers
      } else {
        blank_signs
      }
      given <- if (points) {
        truth_as_points(cells, item_worth(items[j, ]))
      } else {
        cells
      }
      cleaned <- clean(given, items[j, ])
      if (is.null(cleaned)) next
      gone <- gone + sum(cleaned$cells == "" & cells != "")
      items$points[j] <- cleaned$points
      if (long) {
        column[rows[[j]]] <- cleaned$cells
      } else {
        table[[name]] <- cleaned$cells
      }
    }
    if (long) {
      table[[part]] <- column
    }
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

# Whether what stands in the cells of an item can be marks: nothing else values it.
holds_marks <- function(bundle, item) {
  is.na(item$key) &&
    (is.na(item$type) || is_points_cell(item$type)) &&
    all(cells_of(bundle, item$item)$points == "")
}

# Marks as numbers, and the points that they say the question gives; NULL when not all
# of them are marks.
marks_as_numbers <- function(cells, item) {
  distinct <- distinct_cells(cells)
  if (!are_marks(distinct)) return(NULL)
  share <- share_of(distinct)
  whole <- max(c(share$whole, -Inf), na.rm = TRUE)
  points <- item$points
  if (is.na(points) && is.finite(whole)) {
    points <- format_plain(whole)
  }
  worth <- or_else(read_number(points), 1)
  plain <- plain_marks(
    distinct,
    share,
    rep(worth, length(distinct))
  )
  list(cells = plain[match(cells, distinct)], points = points)
}

# Points that say yes and no: all that the question gives, or none.
truth_as_points <- function(cells, worth) {
  plain <- plain_text(cells)
  said <- said_words()
  cells[plain %in% said$yes] <- format_plain(or_else(worth, 1))
  cells[plain %in% said$no] <- "0"
  cells
}

# Answers with what stands for none as blanks: signs, unless the key has them; words only
# where the others chose a letter.
blank_signs <- function(cells, item) {
  distinct <- distinct_cells(cells)
  single <- grepl("^[A-Za-z]$", distinct)
  plain <- tolower(distinct)
  none <- if (any(single)) says_nothing(distinct) else plain %in% gone_signs
  none <- none & !plain %in% tolower(split_parts(item$key, "|")[[1]])
  if (!any(none)) return(NULL)
  list(
    cells = ifelse(none, "", distinct)[match(cells, distinct)],
    points = item$points
  )
}

# Whether all that stands there is a mark or says that there is none.
are_marks <- function(cells) {
  plain <- tolower(unique(cells))
  plain <- plain[
    plain != "" & plain != "ab" & !says_nothing(plain) & !says_excused(plain)
  ]
  length(plain) > 0 &&
    all(
      !is.na(mark_of(plain)) |
        grepl(share_pattern, plain) |
        plain_text(plain) %in% unlist(said_words())
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
  means <- unname(heading_words()$cell[plain_text(plain)])
  means[plain %in% c(yes_words, no_words)] <- NA # as they are
  cells[means %in% "yes"] <- yes_words[1]
  cells[means %in% "no"] <- no_words[1]
  cells[means %in% "right"] <- format_plain(worth[means %in% "right"])
  cells[means %in% "wrong"] <- "0"
  # ab: absent, where marks stand
  cells[says_nothing(plain) | plain %in% "ab"] <- ""
  cells[says_excused(plain)] <- blank_words[["excused"]]
  cells
}
