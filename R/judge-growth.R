# Growth over the windows in a sentence or two.

say_growth <- function(growth) {
  by <- attr(growth, "by")
  new <- growth[
    growth$n %in% seq_len(max(c(growth$n, 0), na.rm = TRUE)) & !is.na(growth$share), ,
    drop = FALSE
  ]
  tree <- attr(growth, "tree")
  leaf <- new[!new$code %in% c(tree$parent, whole_code), , drop = FALSE]
  if (!nrow(leaf)) leaf <- new
  if (!nrow(leaf)) return("There are no results yet.")
  row <- paste(if (is.null(by)) "" else leaf[[by]], leaf$code, sep = "\r")
  first <- leaf[!duplicated(row), ]
  last <- leaf[!duplicated(row, fromLast = TRUE), ]
  last <- last[match(unique(row), row[!duplicated(row, fromLast = TRUE)]), ]
  apart <- first$window != last$window
  if (!any(apart)) {
    return(
      "There is only one window with results so far: growth shows from the second on."
    )
  }
  first <- first[apart, ]
  last <- last[apart, ]
  gain <- last$share - first$share
  named <- function(k) {
    paste0(
      first$code[k], if (!is.null(by)) paste0(" in ", first[[by]][k]), " (",
      percent(first$share[k]), " to ", percent(last$share[k]), ")"
    )
  }
  best <- which.max(gain)
  least <- which.min(gain)
  if (best == least) {
    return(paste0(
      "From ", first$window[best], " to ", last$window[best], ": ", named(best), "."
    ))
  }
  paste0("Most was gained on ", named(best), ", least on ", named(least), ".")
}

say_own_growth <- function(growth, who) {
  last <- growth[
    !duplicated(growth$code, fromLast = TRUE) & growth$code != whole_code, ,
    drop = FALSE
  ]
  leaf <- last[!last$code %in% attr(growth, "tree")$parent, , drop = FALSE]
  if (!nrow(leaf)) {
    leaf <- growth[!duplicated(growth$code, fromLast = TRUE), , drop = FALSE]
  }
  there <- sum(!is.na(leaf$first_there))
  paste0(
    who, " has been at ", percent(attr(growth, "cut")), " or above on ", there, " of ",
    count_of(nrow(leaf), "standard"), ", and gained most on ",
    leaf$code[which.max(leaf$gain)], " (", signed_points(max(leaf$gain)), ")."
  )
}

say_students_growth <- function(growth) {
  last <- growth[!duplicated(growth$student, fromLast = TRUE), , drop = FALSE]
  where <- if (growth$code[1] == whole_code) {
    "On the whole test "
  } else {
    paste0(growth$code[1], ": ")
  }
  paste0(
    where, sum(last$gain > 1e-9), " of ", count_of(nrow(last), "student"),
    " stand higher than at first, ", sum(last$gain < -1e-9), " lower; ",
    sum(!is.na(last$first_there)), " have been at ", percent(attr(growth, "cut")),
    " or above."
  )
}
