# The list of recorded changes: what each action needs, which of them stand, and
# what is refused. sitting-change.R does what they say.

# Of each action: whether it takes a student, an item, a value ("needed", "none"
# or "may"). A blank student stands for all.
adjustment_actions <- list(
  key = list(
    student = "none",
    item = "needed",
    value = "needed"
  ),
  accept = list(
    student = "none",
    item = "needed",
    value = "needed"
  ),
  drop = list(
    student = "none",
    item = "needed",
    value = "none"
  ),
  credit = list(
    student = "none",
    item = "needed",
    value = "none"
  ),
  points = list(
    student = "needed",
    item = "needed",
    value = "needed"
  ),
  excuse = list(
    student = "needed",
    item = "may",
    value = "none"
  ),
  extra = list(
    student = "may",
    item = "none",
    value = "needed"
  ),
  comment = list(
    student = "may",
    item = "may",
    value = "needed"
  ),
  group = list(
    student = "needed",
    item = "none",
    value = "needed"
  ),
  undo = list(
    student = "may",
    item = "may",
    value = "may"
  )
)

adjustment_columns <- c("student", "item", "action", "value", "reason")

complete_adjustments <- function(adjustments) {
  if (is.null(adjustments)) {
    none <- rep(list(character()), length(adjustment_columns))
    names(none) <- adjustment_columns
    return(named_origin(as.data.frame(none), "adjustments"))
  }
  adjustments <- text_columns(named_origin(adjustments, "adjustments"))
  require_its_columns(adjustments, "adjustments")
  line <- line_of(adjustments)
  filled <- !is_empty_row(adjustments)
  adjustments <- keep_origin(
    add_missing(adjustments, adjustment_columns)[filled, , drop = FALSE],
    adjustments
  )
  attr(adjustments, "line") <- line[filled]
  adjustments$action <- tolower(adjustments$action)
  rownames(adjustments) <- NULL
  adjustments
}

# The changes that stand after those that were undone are out, each possible for
# what was handed in and none against another. `row` is the place in the list.
standing_changes <- function(adjustments, handed_in) {
  if (!nrow(adjustments)) return(cbind(adjustments, row = integer()))
  require_actions(adjustments)
  stands <- !undone_rows(adjustments)
  changes <- cbind(adjustments, row = seq_len(nrow(adjustments)))[
    stands & adjustments$action != "undo", ,
    drop = FALSE
  ]
  check_people_and_items(adjustments, changes, handed_in)
  check_values(
    adjustments,
    changes,
    handed_in$items,
    handed_in$options
  )
  check_contradictions(adjustments, changes)
  changes
}

require_actions <- function(adjustments) {
  unknown <- which(!adjustments$action %in% names(adjustment_actions))
  if (length(unknown)) {
    action <- adjustments$action[unknown[1]]
    abort_cell(
      adjustments,
      unknown[1],
      "action",
      say("sitting-adjustments.there_is_no_such"),
      if (is.na(action)) {
        say(
          "sitting-adjustments.known_are",
          adjustment_actions = some_of(names(adjustment_actions), 12)
        )
      } else {
        did_you_mean(action, names(adjustment_actions))
      }
    )
  }
  for (column in c("student", "item", "value")) {
    need <- vapply(adjustment_actions[adjustments$action], function(action) {
      action[[column]]
    }, "")
    blank <- is.na(adjustments[[column]])
    for (row in utils::head(
      which((need == "needed" & blank) | (need == "none" & !blank)),
      1
    )) {
      abort_cell(
        adjustments,
        row,
        column,
        say(
          "sitting-adjustments.action_needs",
          action = quoted(adjustments$action[row]),
          needs = blank[row],
          column = column
        ),
        if (blank[row]) {
          say("sitting-adjustments.fill_in_the", column = column)
        } else {
          hint_for(adjustments$action[row], column)
        }
      )
    }
  }
}

hint_for <- function(action, column) {
  if (column == "student") {
    return(say("sitting-adjustments.it_is_for_all"))
  }
  if (action == "extra") {
    return(
      say("sitting-adjustments.extra_points_go_to")
    )
  }
  say("sitting-adjustments.leave_the_blank", column = column)
}

# An undo takes back the last change that stands for its student and item; its
# value can name the action ("key"), or the action and its value ("accept eb").
undone_rows <- function(adjustments) {
  undone <- rep(FALSE, nrow(adjustments))
  whom <- paste(adjustments$student, adjustments$item, sep = "\r")
  is_undo <- adjustments$action == "undo"
  named <- ifelse(
    is.na(adjustments$value),
    adjustments$action,
    paste(adjustments$action, adjustments$value)
  )
  for (row in which(is_undo)) {
    wanted <- adjustments$value[row]
    fits <- seq_along(undone) < row &
      !undone &
      !is_undo &
      whom == whom[row] &
      (is.na(wanted) | adjustments$action == tolower(wanted) | named == wanted)
    if (!any(fits)) {
      abort_cell(
        adjustments,
        row,
        "value",
        say("sitting-adjustments.there_is_nothing_to"),
        say("sitting-adjustments.give_the_student_and", action = quoted("key"))
      )
    }
    undone[max(which(fits))] <- TRUE
  }
  undone
}

check_people_and_items <- function(adjustments, changes, handed_in) {
  known <- list(
    student = unique(c(handed_in$students$student, handed_in$rows$student)),
    item = handed_in$items$item
  )
  for (column in names(known)) {
    value <- changes[[column]]
    for (k in utils::head(
      which(!is.na(value) & !value %in% known[[column]]),
      1
    )) {
      abort_cell(
        adjustments,
        changes$row[k],
        column,
        say(
          "sitting-adjustments.there_is_no",
          column = column,
          value = quoted(value[k])
        ),
        did_you_mean(value[k], known[[column]])
      )
    }
  }
}

check_values <- function(adjustments, changes, items, options) {
  for (k in which(changes$action %in% c("key", "accept"))) {
    check_new_key(
      adjustments,
      changes[k, ],
      items[match(changes$item[k], items$item), ],
      options
    )
  }
  points <- read_number(changes$value)
  most <- items$points[match(changes$item, items$item)]
  wrong <- changes$action == "points" &
    (is.na(points) | points < 0 | points > most + 1e-9)
  for (k in utils::head(which(wrong), 1)) {
    abort_cell(
      adjustments,
      changes$row[k],
      "value",
      say("sitting-adjustments.these_are_no_points"),
      say(
        "sitting-adjustments.give_a_number_from",
        most = shown_number(most[k])
      )
    )
  }
  for (k in utils::head(
    which(changes$action == "extra" & (is.na(points) | points <= 0)),
    1
  )) {
    abort_cell(
      adjustments,
      changes$row[k],
      "value",
      say("sitting-adjustments.extra_points_must_be"),
      say("sitting-adjustments.such_as_1_or")
    )
  }
}

# A key or an answer to accept must be one of the item's type, of its options.
check_new_key <- function(adjustments, change, item, options) {
  type <- item_type(item$type)
  refuse <- function(what, fix) {
    abort_cell(adjustments, change$row, "value", what, fix)
  }
  if (is.null(type$read_key)) {
    refuse(
      say("sitting-adjustments.is_marked_by_hand", item = item$item),
      say("sitting-adjustments.use_points_to_change")
    )
  }
  key <- tryCatch(
    type$read_key(change$value),
    pregunta_bad_key = function(problem) {
      refuse(
        say(
          "sitting-adjustments.this_of",
          action = change$action,
          item = item$item,
          problem = conditionMessage(problem)
        ),
        say(
          "sitting-adjustments.one_of_type_looks",
          type = item$type,
          example = say_examples(type)
        )
      )
    }
  )
  offered <- options$option[options$item == item$item]
  if (!type$offers || !length(offered)) return(invisible())
  strange <- setdiff(as_offered(type$right_parts(key), offered), offered)
  if (length(strange)) {
    refuse(
      say(
        "sitting-adjustments.is_no_option_of",
        strange = quoted(strange[1]),
        item = item$item
      ),
      say("sitting-adjustments.its_options_are", offered = some_of(offered, 12))
    )
  }
}

# Two changes of the same thing that cannot both be.
check_contradictions <- function(adjustments, changes) {
  same <- function(rows, key) {
    rows <- rows[
      !duplicated(paste(key[rows], changes$action[rows], changes$value[rows]))
    ]
    twice <- which(duplicated(key[rows]))
    if (length(twice)) rows[c(match(key[rows[twice[1]]], key[rows]), twice[1])]
  }
  on <- function(...) which(changes$action %in% c(...))
  cell <- paste(changes$student, changes$item, sep = "\r")
  clash <- c(
    same(on("key"), changes$item),
    same(on("drop", "credit"), changes$item),
    same(on("points", "excuse"), cell),
    same_whole(changes)
  )
  if (!length(clash)) return(invisible())
  second <- changes$row[clash[2]]
  abort_pregunta(
    "input",
    say("sitting-adjustments.two_changes_contradict_each"),
    say(
      "sitting-adjustments.but_says",
      adjustments = where_is(
        adjustments,
        second,
        "value",
        adjustments$value[second]
      ),
      changes = say_change(changes[clash[2], ]),
      adjustments_changes = say_place(adjustments, changes$row[clash[1]]),
      changes_clash = say_change(changes[clash[1], ])
    ),
    say("sitting-adjustments.undo_the_one_that")
  )
}

# Excused from everything and given points on something.
same_whole <- function(changes) {
  wholly <- which(changes$action == "excuse" & is.na(changes$item))
  points <- which(
    changes$action == "points" & changes$student %in% changes$student[wholly]
  )
  if (length(points)) {
    sort(c(
      wholly[match(changes$student[points[1]], changes$student[wholly])],
      points[1]
    ))
  }
}

say_place <- function(adjustments, row) {
  line <- attr(adjustments, "line")
  if (is.null(line)) {
    say("sitting-adjustments.row", row = row)
  } else if (is.na(line[row])) {
    say("sitting-adjustments.the_one_before")
  } else {
    say("sitting-adjustments.line", line = line[row])
  }
}

# What a change says, in words.
say_change <- function(changes) {
  vapply(seq_len(nrow(changes)), function(k) {
    said <- say_with(
      paste0("actions.", changes$action[k]),
      list(
        item = or_else(changes$item[k], say("sitting-adjustments.everything")),
        student = or_else(
          changes$student[k],
          say("sitting-adjustments.everybody")
        ),
        value = value_of_change(changes[k, ])
      )
    )
    if (changes$action[k] == "comment") {
      paste0(said, ": ", changes$value[k])
    } else {
      said
    }
  }, "")
}

# A place among the groups is a code, or outside all of them a role.
value_of_change <- function(change) {
  value <- or_else(change$value, say("sitting-adjustments.the_last_change"))
  if (change$action != "group") return(value)
  outside <- value %in% c("on_their_own", "ready_for_more")
  if (outside) return(quoted(words_for(value, "roles")))
  say("sitting-adjustments.the_group_on", code = value)
}

# A sitting with more changes at the end of its list.
with_changes <- function(sitting, rows) {
  old <- sitting$adjustments
  columns <- union(names(old), names(rows))
  all <- rbind(
    add_missing(old, columns)[columns],
    add_missing(text_columns(rows), columns)[columns]
  )
  attr(all, "origin") <- origin_of(old)
  attr(all, "line") <- if (nrow(old)) {
    c(line_of(old), rep(NA, nrow(rows)))
  } else {
    rep(NA_integer_, nrow(rows))
  }
  settle_sitting(sitting$handed_in, all)
}
