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
