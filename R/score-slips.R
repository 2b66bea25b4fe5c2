# Wrong answers that are one step from right: which right answer, and which step.
# One small function an item type; each gives `like` and `slip`, NA for no slip.

no_slips <- function(answers) {
  list(like = rep(NA_character_, length(answers)), slip = rep(NA_character_, length(answers)))
}

# wrong: which of the answers to look at; key: as read by the type.
slips_of <- function(type, answers, wrong, key) {
  find <- list(text = spelling_slip, number = number_slip, multiple = set_slip, order = order_slip,
    match = pair_slip)[[type]]
  found <- no_slips(answers)
  if (is.null(find)) return(found)
  for (k in which(wrong)) {
    one <- find(answers[k], key)
    if (is.null(one)) next
    found$like[k] <- one[1]
    found$slip[k] <- one[2]
  }
  found
}

# One letter added, lost, changed or swapped with its neighbour; from 8 letters on
# two. Of one or two letters a change leaves nothing.
spelling_slip <- function(answer, key) {
  # One thread: threads begun here would be missing in a process forked later.
  distance <- stringdist::stringdist(answer, key, method = "osa", nthread = 1)
  fits <- which(distance <= ifelse(nchar(key) < 8, 1, 2) & nchar(key) > 2)
  if (length(fits)) c(key[fits[which.min(distance[fits])]], "spelling")
}

number_slip <- function(answer, key) {
  number <- read_number(answer)
  if (is.na(number) || number == 0) return(NULL)
  for (range in key) {
    middle <- attr(range, "middle")
    slip <- if (in_range(-number, range)) {
      "sign"
    } else if (any(in_range(number * 10^c(-3:-1, 1:3), range))) {
      "factor of 10"
    } else if (length(middle) && is_rounded(number, middle)) {
      "rounding"
    }
    shown <- if (length(middle)) format_plain(middle) else paste(format_plain(as.vector(range)), collapse = "..")
    if (!is.null(slip)) return(c(shown, slip))
  }
}

# The same number, rounded or cut to fewer places.
is_rounded <- function(number, middle) {
  places <- 0:6
  unit <- 10^places
  fewer <- abs(middle * unit - round(middle * unit)) > 1e-9
  any(abs(number - round_half_up(middle,
    places[fewer])) < 1e-9 | abs(number - trunc(middle * unit[fewer]) / unit[fewer]) < 1e-9)
}

set_slip <- function(answer, key) {
  chosen <- split_parts(answer, ";")[[1]]
  for (right in key) {
    missing <- setdiff(right, chosen)
    extra <- setdiff(chosen, right)
    if (length(missing) + length(extra) == 1) {
      return(c(paste(right, collapse = ";"), if (length(missing)) paste(missing, "missing") else paste(extra,
        "too many")))
    }
  }
}

order_slip <- function(answer, key) {
  given <- split_parts(answer, ">")[[1]]
  for (right in key) {
    if (length(given) != length(right)) next
    off <- which(given != right)
    if (length(off) == 2 && identical(given[off], rev(right[off]))) {
      return(c(paste(right, collapse = ">"), paste(paste(sort(right[off]), collapse = " and "), "swapped")))
    }
  }
}

pair_slip <- function(answer, key) {
  pairs <- split_parts(answer, ";")[[1]]
  left <- function(pair) sub("=.*", "", pair)
  partner <- function(pair) sub("^[^=]*=", "", pair)
  for (right in key) {
    off <- pairs[!pairs %in% right]
    lacking <- right[!right %in% pairs]
    slip <- if (length(lacking) == 1 && !length(off)) {
      paste(left(lacking), "missing")
    } else if (length(off) == 2 && length(lacking) == 2 && setequal(left(off), left(lacking)) &&
      setequal(partner(off), partner(lacking))) {
      paste(paste(sort(left(off)), collapse = " and "), "swapped")
    }
    if (length(slip)) return(c(paste(right, collapse = ";"), slip))
  }
}
