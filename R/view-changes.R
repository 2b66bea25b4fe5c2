# What is shown of recorded changes, of changes tried, and of two tests side by side.

# The list of changes: a row each, with its line in the file, whether it stands, and who
# made it where that is written.
view_changes <- function(sitting) {
  list <- sitting$adjustments
  told <- intersect(c("when", "who"), names(list))
  data.frame(
    line = line_of(list),
    list[adjustment_columns],
    list[if ("who" %in% told) told],
    stands = seq_len(nrow(list)) %in% sitting$changes$row
  )
}

# The change that takes back the one of a line, named so that it stays plain which.
undoing <- function(sitting, line) {
  list <- sitting$adjustments
  if (line == "last") line <- last_standing_line(sitting)
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

# Of the last change that was not taken back.
last_standing_line <- function(sitting) {
  changes <- view_changes(sitting)
  standing <- changes$line[changes$stands & changes$action != "undo"]
  if (length(standing)) return(utils::tail(standing, 1))
  abort_pregunta("call", say("view-changes.nothing_to_take_back"))
}

# What changes would do: of the students who move, or, as asked, of the test or the
# questions. about: students, test or items.
view_tried <- function(sitting, changes, about = "students") {
  tried <- compare_changes(
    sitting,
    with_changes(sitting, changes),
    changes
  )
  if (about == "students") tried else attr(tried, about)
}

# Figures before and after, of the test and of each question that is touched; those
# that stay as they are only where they are always wanted.
figures_moved <- function(tried) {
  test <- attr(tried, "test")
  items <- attr(tried, "items")
  moved <- !test$figure %in% c("n", "sem") | test$before != test$after
  whole <- cbind(item = say("view-changes.the_test"), test[moved, ])
  table <- rbind(whole, items)
  table[!(is.na(table$before) & is.na(table$after)), ]
}

# change: two tests side by side; who: the names behind the counts, where they are
# told and nothing was narrowed.
view_compared <- function(before, after, by = NULL, told = TRUE, ...,
                          student = NULL, sort = NULL) {
  if (!is.null(student)) {
    by <- "student"
  }
  change <- compare_sittings(before, after, by)
  change <- view_rows(change, ..., student = student, sort = sort)
  who <- if (told && is.null(by) && is.null(sort)) {
    view_whereabouts(
      change,
      compare_sittings(before, after, "student")
    )
  }
  list(change = change, who = who)
}

outcome_order <- c(
  "still_to_come", "fell_back", "got_there", "was_there", "not_there_after",
  "not_there_before"
)

# Of several students a row each, on all standards, those still to come first; of one
# the standards.
students_moved <- function(change) {
  if (length(unique(change$student)) < 2) return(change)
  whole <- change[change$code == whole_code, ]
  whole[order(match(whole$outcome, outcome_order), whole$share_after), ]
}

# Names behind the counts of a change: of each lowest standard who is below the cut
# now, lowest first; and who sat only one of the two, named by there.
view_whereabouts <- function(change, students) {
  tree <- attr(change, "tree")
  here <- attr(change, "here")
  named <- function(table) or_else(table$name, table$student)
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
