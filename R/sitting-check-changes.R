# What the recorded changes and the times of handing in mean for the figures.

# A line for each change of a question; those of single students are counted.
check_changes <- function(sitting) {
  changes <- sitting$changes
  if (!nrow(changes)) return(NULL)
  origin <- origin_of(sitting$adjustments)
  lines <- line_of(sitting$adjustments)[changes$row]
  whole <- which(changes$action %in% c("key", "accept", "drop", "credit"))
  said <- say_change(changes)
  findings <- lapply(whole, function(k) {
    reason <- changes$reason[k]
    new_finding(
      "note",
      origin,
      changes$action[k],
      NA,
      said[k],
      if (is.na(reason)) {
        say("sitting-check-changes.nothing_to_do")
      } else {
        say("sitting-check-changes.reason", reason = reason)
      },
      line = lines[k]
    )
  })
  single <- setdiff(seq_len(nrow(changes)), whole)
  kinds <- table(factor(changes$action[single], names(adjustment_actions)))
  kinds <- kinds[kinds > 0]
  if (length(single)) {
    findings <- with_finding(
      findings,
      "note",
      origin,
      NA,
      NA,
      say(
        "sitting-check-changes.changes_for_single_students",
        n = length(single),
        kinds = in_a_row(paste(kinds, words_for(names(kinds), "action_names")))
      ),
      say("sitting-check-changes.nothing_to_do"),
      line = if (length(single) == 1) lines[single] else NA
    )
  }
  c(findings, check_lonely_points(sitting, changes, lines))
}

# Points for somebody who answered nothing: then all the rest counts as blank.
check_lonely_points <- function(sitting, changes, lines) {
  answers <- cell_states(sitting)
  given <- which(changes$action == "points" & !duplicated(changes$student))
  row <- match(changes$student[given], sitting$students$student)
  by_hand <- table(
    factor(changes$student[changes$action == "points"], changes$student[given])
  )
  with_points <- rowSums(answers == match("answered", cell_state_names))[row]
  lonely <- given[
    with_points > 0 &
      with_points <= as.vector(by_hand) &
      ncol(answers) > with_points
  ]
  lapply(lonely, function(k) {
    new_finding(
      "warning",
      origin_of(sitting$adjustments),
      "student",
      changes$student[k],
      say("sitting-check-changes.has_points_by_hand"),
      say("sitting-check-changes.if_they_were_not"),
      line = lines[k]
    )
  })
}

# A time that cannot be read, and a due time without times.
check_times <- function(sitting) {
  rows <- sitting$handed_in$rows
  odd <- which(!is.na(rows$submitted) & is.na(read_time(rows$submitted)))
  findings <- if (length(odd)) {
    list(new_finding(
      "warning",
      rows$origin,
      "submitted",
      rows$submitted[odd[1]],
      say("sitting-check-changes.is_no_time_that", n = length(odd)),
      say("sitting-check-changes.write_times_as_2026"),
      line = rows$line[odd[1]]
    ))
  }
  if (!is.na(sitting$settings$due) && all(is.na(rows$submitted))) {
    findings <- with_finding(
      findings,
      "warning",
      "test.yml",
      "due",
      sitting$settings$due,
      say("sitting-check-changes.is_set_but_the"),
      say("sitting-check-changes.nobody_is_called_late")
    )
  }
  findings
}
