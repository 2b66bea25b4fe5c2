# The list of recorded changes: what each action needs, which of them stand, and
# what is refused. sitting-change.R does what they say.

# Of each action: whether it takes a student, an item, a value ("needed", "none"
# or "may"), and what it says. A blank student stands for all.
adjustment_actions <- list(
  key = list(
    student = "none",
    item = "needed",
    value = "needed",
    says = "the key of {item} is {value}"
  ),
  accept = list(
    student = "none",
    item = "needed",
    value = "needed",
    says = "{value} is right on {item} too"
  ),
  drop = list(
    student = "none",
    item = "needed",
    value = "none",
    says = "{item} does not count"
  ),
  credit = list(
    student = "none",
    item = "needed",
    value = "none",
    says = "{item} earns everybody its points"
  ),
  points = list(
    student = "needed",
    item = "needed",
    value = "needed",
    says = "{student} has {value} on {item}"
  ),
  excuse = list(
    student = "needed",
    item = "may",
    value = "none",
    says = "{student} is excused from {item}"
  ),
  extra = list(
    student = "may",
    item = "none",
    value = "needed",
    says = "{student} has {value} extra"
  ),
  comment = list(
    student = "may",
    item = "may",
    value = "needed",
    says = "a comment for {student} on {item}"
  ),
  undo = list(
    student = "may",
    item = "may",
    value = "may",
    says = "{value} is taken back"
  )
)

adjustment_columns <- c("student", "item", "action", "value", "reason")

complete_adjustments <- function(adjustments) {
  if (is.null(adjustments)) {
    return(named_origin(
      as.data.frame(stats::setNames(rep(list(character()), 5), adjustment_columns)),
      "adjustments"
    ))
  }
  adjustments <- text_columns(named_origin(adjustments, "adjustments"))
  require_columns(adjustments, "action")
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
  check_values(adjustments, changes, handed_in$items, handed_in$options)
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
      "There is no such change.",
      if (is.na(action)) {
        paste0("Known are: ", some_of(names(adjustment_actions), 12), ".")
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
        paste0(
          "The action ", quoted(adjustments$action[row]), say_need(blank[row], column),
          column, "."
        ),
        if (blank[row]) {
          paste0("Fill in the ", column, ".")
        } else {
          hint_for(adjustments$action[row], column)
        }
      )
    }
  }
}

say_need <- function(blank, column) {
  if (!blank) return(" takes no ")
  if (column == "item") " needs an " else " needs a "
}

hint_for <- function(action, column) {
  if (column == "student") {
    return("It is for all: leave the student blank, or see points and excuse.")
  }
  if (action == "extra") {
    return(
      "Extra points go to the student's total; to change one answer's mark use points."
    )
  }
  paste0("Leave the ", column, " blank.")
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
        "There is nothing to undo.",
        paste0(
          "Give the student and the item of a change that stands above, and as value ",
          "its action, such as ",
          quoted("key"),
          "."
        )
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
    for (k in utils::head(which(!is.na(value) & !value %in% known[[column]]), 1)) {
      abort_cell(
        adjustments,
        changes$row[k],
        column,
        paste0("There is no ", column, " ", quoted(value[k]), "."),
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
      "These are no points that the item can give.",
      paste0("Give a number from 0 to ", format_number(most[k]), ".")
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
      "Extra points must be a number above 0.",
      "Such as 1 or 0.5."
    )
  }
}

# A key or an answer to accept must be one of the item's type, of its options.
check_new_key <- function(adjustments, change, item, options) {
  type <- item_type(item$type)
  refuse <- function(what, fix) abort_cell(adjustments, change$row, "value", what, fix)
  if (is.null(type$read_key)) {
    refuse(
      paste0(item$item, " is marked by hand and has no key."),
      "Use points to change a mark."
    )
  }
  key <- tryCatch(type$read_key(change$value), pregunta_bad_key = function(problem) {
    refuse(
      paste0(
        "This ", change$action, " of ", item$item, " ", conditionMessage(problem), "."
      ),
      paste0("One of type ", item$type, " looks like ", say_examples(type), ".")
    )
  })
  offered <- options$option[options$item == item$item]
  if (!type$offers || !length(offered)) return(invisible())
  strange <- setdiff(as_offered(type$right_parts(key), offered), offered)
  if (length(strange)) {
    refuse(
      paste0(quoted(strange[1]), " is no option of ", item$item, "."),
      paste0("Its options are: ", some_of(offered, 12), ".")
    )
  }
}

# Two changes of the same thing that cannot both be.
check_contradictions <- function(adjustments, changes) {
  same <- function(rows, key) {
    rows <- rows[!duplicated(paste(key[rows], changes$action[rows], changes$value[rows]))]
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
    "Two changes contradict each other.",
    paste0(
      where_is(adjustments, second, "value", adjustments$value[second]), ": ",
      say_change(changes[clash[2], ]), "; but ",
      say_place(adjustments, changes$row[clash[1]]), " says: ",
      say_change(changes[clash[1], ])
    ),
    paste0(
      "Undo the one that is wrong: add a line with the action undo, or run pregunta ",
      "adjust FOLDER --undo LINE."
    )
  )
}

# Excused from everything and given points on something.
same_whole <- function(changes) {
  wholly <- which(changes$action == "excuse" & is.na(changes$item))
  points <- which(
    changes$action == "points" & changes$student %in% changes$student[wholly]
  )
  if (length(points)) {
    sort(c(wholly[match(changes$student[points[1]], changes$student[wholly])], points[1]))
  }
}

say_place <- function(adjustments, row) {
  line <- attr(adjustments, "line")
  if (is.null(line)) {
    paste("row", row)
  } else if (is.na(line[row])) {
    "the one before"
  } else {
    paste("line", line[row])
  }
}

# What a change says, in words.
say_change <- function(changes) {
  vapply(seq_len(nrow(changes)), function(k) {
    said <- fill_sentence(
      adjustment_actions[[changes$action[k]]]$says,
      list(
        item = if (is.na(changes$item[k])) "everything" else changes$item[k],
        student = if (is.na(changes$student[k])) "everybody" else changes$student[k],
        value = if (is.na(changes$value[k])) "the last change" else changes$value[k]
      )
    )
    if (changes$action[k] == "comment") paste0(said, ": ", changes$value[k]) else said
  }, "")
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
