# While a class works: how each question stands, where everybody is, and who has been at
# one question for long. All of half a class, and said as such.

# cells: what is known of each answer so far, students by items:
#   share   of the points of the question; NA where there is no answer or no points yet
#   there   whether there is an answer
#   took    seconds it took; NA where nothing tells
# Of the students: `begun`; `last`, when they last did something; `at`, the question they
# are known to be at (an index), NA where nothing tells.
live_figures <- function(cells, items, expected) {
  right <- colSums(cells$there & cells$share >= 1, na.rm = TRUE)
  wrong <- colSums(cells$there & cells$share <= 0, na.rm = TRUE)
  valued <- colSums(cells$there & !is.na(cells$share))
  answered <- colSums(cells$there)
  share <- colSums(ifelse(cells$there, cells$share, NA), na.rm = TRUE) / valued
  around <- wilson_interval(share, valued)
  surely <- wilson_interval(share, valued, live_z)
  data.frame(
    item = items,
    right = as.integer(right),
    partly = as.integer(valued - right - wrong),
    wrong = as.integer(wrong),
    waiting = as.integer(answered - valued),
    not_yet = as.integer(pmax(expected - answered, 0)),
    share = ifelse(valued > 0, share, NA),
    share_low = around$low,
    share_high = around$high,
    sign = live_sign(valued, surely),
    row.names = NULL
  )
}

# It is looked at again and again while answers come: at each look a usual interval would
# err in a few of a hundred, over all looks in many. With this one a question on which
# half of the points are earned gets either sign at any of the looks from 10 to 100
# answers in fewer than 1 of 100 classes (tests: live).
live_z <- 3.3
least_answers <- 10

live_sign <- function(n, around) {
  data.table::fcase(
    n < least_answers, "too_few",
    around$high < 0.5, "most_miss_it",
    around$low > 0.5, "most_have_it",
    default = "open"
  )
}

# ---- where everybody is -----------------------------------------------------------

# The question that each is at: as told, else the first without an answer behind the last
# that was answered, else the first without any; NA for who has answered all.
live_place <- function(there, told) {
  m <- ncol(there)
  vapply(seq_len(nrow(there)), function(i) {
    open <- which(!there[i, ])
    if (!length(open)) return(NA_integer_)
    if (!is.na(told[i]) && told[i] %in% open) return(as.integer(told[i]))
    last <- max(0L, which(there[i, ]))
    behind <- open[open > last]
    if (length(behind)) behind[1] else open[1]
  }, 1L)
}

# Who is at one question for longer than twice what nine of ten of the others took there,
# and for a minute at least. Nothing is said of a question that fewer than 8 others have
# answered in a known time, and of nobody while the whole class is silent for so long:
# then it has stopped.
live_stuck <- function(place, last, took, now) {
  since <- now - last
  quiet <- if (any(!is.na(since))) min(since, na.rm = TRUE) else NA
  limits <- vapply(seq_len(ncol(took)), function(j) {
    known <- took[!is.na(took[, j]), j]
    if (length(known) < least_times) return(NA_real_)
    max(60, 2 * stats::quantile(known, 0.9, names = FALSE))
  }, 0)
  limit <- limits[place]
  stuck <- !is.na(limit) & !is.na(since) & since > limit & quiet <= limit
  data.frame(since = since, limit = limit, stuck = stuck)
}

least_times <- 8
