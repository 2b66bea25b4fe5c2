# The periods of the year: which one each sitting is in, and what stands there for
# each student and standard.

# windows: from and to of each by name, as two dates; sorted, none over another.
check_windows <- function(windows, refuse) {
  if (!length(windows)) return(NULL)
  if (is.null(names(windows)) ||
    !all(nzchar(names(windows))) ||
    anyDuplicated(names(windows))) {
    refuse(
      say("stat-windows.each_window_needs_a"),
      say("stat-windows.for_example_autumn_2026")
    )
  }
  ends <- lapply(windows, function(window) {
    given <- as.character(unlist(window))
    ends <- unlist(strsplit(given, "..", fixed = TRUE))
    days <- as.Date(read_time(trimws(ends)))
    if (length(days) == 2 && !anyNA(days) && days[1] <= days[2]) return(days)
    said <- paste(unlist(window), collapse = " ")
    refuse(
      say("stat-windows.a_window_runs_from", window = said),
      say("stat-windows.for_example_autumn_2026")
    )
  })
  end <- function(k) do.call(c, unname(lapply(ends, `[`, k)))
  table <- data.frame(
    window = names(windows),
    from = end(1),
    to = end(2)
  )
  table <- table[order(table$from), ]
  over <- which(table$from[-1] <= table$to[-nrow(table)])
  if (length(over)) {
    refuse(
      say(
        "stat-windows.two_windows_overlap_ends",
        window = table$window[over[1]],
        to = table$to[over[1]],
        table_window = table$window[over[1] + 1],
        from = table$from[over[1] + 1]
      ),
      say("stat-windows.let_one_end_before")
    )
  }
  rownames(table) <- NULL
  table
}

# Of each sitting (in order of date) its window: the one it names, else the one
# its date lies in, else, where there are no windows, itself.
windows_of <- function(sittings, windows) {
  if (is.null(windows)) {
    return(or_else(sittings$window, sittings$name))
  }
  strange <- setdiff(sittings$window[!is.na(sittings$window)], windows$window)
  if (length(strange)) {
    row <- match(strange[1], sittings$window)
    abort_pregunta(
      "input",
      say(
        "stat-windows.the_sitting_names_a",
        name = quoted(sittings$name[row])
      ),
      say("stat-windows.window", strange = strange[1]),
      did_you_mean(strange[1], windows$window)
    )
  }
  day <- as.Date(sittings$date)
  at <- findInterval(as.numeric(day), as.numeric(windows$from))
  within <- at > 0 & day <= windows$to[pmax(at, 1)]
  window <- ifelse(within, windows$window[pmax(at, 1)], NA)
  or_else(sittings$window, window)
}

# The windows in order, each with what is known of it.
window_order <- function(sittings, windows) {
  if (!is.null(windows)) return(windows$window)
  unique(sittings$period[!is.na(sittings$period)])
}

# Those in which anything was sat: of one without a test there is nothing to tell.
windows_sat <- function(sittings, windows) {
  intersect(window_order(sittings, windows), sittings$period)
}

# For each pair of student and code the row of the scores that stands in each
# window: the latest in it, else the latest before it, which is then carried.
# scores: pair (1..n) and window (1..k), in order of date.
stand_in_windows <- function(pair, window, n, k) {
  at <- matrix(NA_integer_, n, k)
  at[cbind(pair, window)] <- seq_along(pair) # the last of several stays
  carried <- matrix(FALSE, n, k)
  for (w in seq_len(k)[-1]) {
    gap <- is.na(at[, w])
    at[gap, w] <- at[gap, w - 1]
    carried[gap, w] <- !is.na(at[gap, w])
  }
  list(at = at, carried = carried)
}
