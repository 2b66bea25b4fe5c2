# The short texts that stand in tables, pictures and pages alike.

# Above or below the others by more than chance.
apart_sign <- function(table) {
  sign <- ifelse(table$difference > 0, "\u25b2", "\u25bc")
  ifelse(table$beyond_chance %in% TRUE, sign, "")
}

between <- function(low, high) {
  ifelse(
    is.na(low) | is.na(high),
    "",
    paste0(
      hundredths(low), "\u2013", hundredths(high)
    )
  )
}

# Which standards matter most.
priority_sign <- function(standards) {
  emphasis <- emphasis_of(standards$code, attr(standards, "tree"))
  ifelse(emphasis %in% "priority", " !", "")
}
