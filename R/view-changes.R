# What is shown of recorded changes, of two tests side by side, and of the year.

# The list of changes: a row each, with its line in the file and whether it stands.
view_changes <- function(sitting) {
  list <- sitting$adjustments
  data.frame(
    line = line_of(list),
    list[adjustment_columns],
    stands = seq_len(nrow(list)) %in% sitting$changes$row
  )
}

# The change that takes back the one of a line, named so that it stays plain which.
undoing <- function(sitting, line) {
  list <- sitting$adjustments
  row <- match(line, line_of(list))
  if (is.na(row) || list$action[row] == "undo") {
    standing <- line_of(list)[list$action != "undo"]
    abort_pregunta(
      "call",
      say("view-changes.line_holds_no_change", line = line),
      say("view-changes.changes_are_on", lines = some_of(standing, 12)),
      say("view-changes.adjust_shows_them")
    )
  }
  named <- c(list$action[row], if (!is.na(list$value[row])) list$value[row])
  data.frame(
    student = list$student[row],
    item = list$item[row],
    action = "undo",
    value = paste(named, collapse = " "),
    reason = NA_character_
  )
}

# Names behind the counts of a change: of each lowest standard who is below the cut
# now, lowest first; and who sat only one of the two, named by there.
view_whereabouts <- function(change, students) {
  tree <- attr(change, "tree")
  here <- attr(change, "here")
  named <- function(table) ifelse(is.na(table$name), table$student, table$name)
  codes <- setdiff(
    unique(change$code[change$n > 0]),
    c(tree$parent, if (nrow(change) > 1) whole_code)
  )
  still <- students[students$outcome %in% c("still_to_come", "fell_back"), ]
  still <- still[order(still$share_after), ]
  absent <- c("not_there_after", "not_there_before")
  list(
    below = lapply(stats::setNames(nm = codes), function(code) {
      named(still[still$code == code, ])
    }),
    away = lapply(stats::setNames(nm = absent), function(there) {
      named(here[here$there == there, ])
    })
  )
}

# Resampling is quick for a class; for many groups or a district it is done when it is
# asked for.
most_resampled <- 1e6

replicates_for <- function(sitting, by = NULL, asked = NULL) {
  if (!is.null(asked)) return(asked)
  if (is.null(by) && length(sitting$codes) <= most_resampled) 1000 else 0
}

# The ladders of a record climbed: scores are the growth of its students in all skills.
view_skills <- function(scores, ladders, pass = NULL, by = NULL) {
  if (is.null(pass)) pass <- attr(scores, "cut")
  pieces <- lapply(names(ladders), function(name) {
    climbed <- climb_ladder(scores, ladders[[name]], pass)
    cbind(data.frame(ladder = rep(name, nrow(climbed))), plain_rows(climbed))
  })
  new_summary(
    do.call(rbind, pieces),
    "ladder",
    settings_of(scores),
    by,
    ladders = ladders,
    tree = attr(scores, "tree"),
    pass = pass
  )
}
