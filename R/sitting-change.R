# What the recorded changes do, in this order whatever the order of the list:
# keys (key, then accept) and with them the points of every attempt; drop and
# credit; then the attempt that counts is settled; then points and excuses of
# single students; extra points come on top of a student's total.

change_items <- function(items, changes) {
  for (action in c("key", "accept")) {
    for (k in which(changes$action == action)) {
      row <- match(changes$item[k], items$item)
      value <- changes$value[k]
      items$key[row] <- if (action == "accept" && !is.na(items$key[row])) {
        paste(items$key[row], value, sep = "|")
      } else {
        value
      }
    }
  }
  items
}

change_cells <- function(handed_in, items, changes) {
  cells <- handed_in$cells
  rekeyed <- unique(changes$item[changes$action %in% c("key", "accept")])
  for (j in match(rekeyed, items$item)) {
    cells[[j]] <- value_again(cells[[j]], items[j, ], handed_in)
  }
  for (j in match(changes$item[changes$action == "credit"], items$item)) {
    cells[[j]] <- credit_cells(cells[[j]])
  }
  for (j in match(changes$item[changes$action == "drop"], items$item)) {
    cells[[j]] <- drop_cells(cells[[j]])
  }
  cells
}

# The answers of an item by another key.
value_again <- function(cells, item, handed_in) {
  again <- which(
    cells$state %in% c("answered", "pending") & !is_blank(cells$answer)
  )
  if (!length(again)) return(cells)
  value <- value_answers(
    cells$answer[again],
    NULL,
    item,
    item_type(item$type),
    handed_in$options,
    handed_in$settings
  )
  for (field in c("answer", "points", "state")) {
    cells[[field]][again] <- value[[field]]
  }
  cells
}

# Everybody who had the item earns its points, also for a blank.
credit_cells <- function(cells) {
  had <- !cells$state %in% c("not_given", "excused")
  cells$points[had] <- cells$most
  cells$state[cells$state == "pending"] <- "answered"
  cells
}

drop_cells <- function(cells) {
  had <- cells$state != "not_given"
  cells$points[had] <- NA
  cells$state[had] <- "excused"
  cells
}

# An answer that is nowhere in the data but has points.
answer_by_hand <- "(by hand)"

change_answers <- function(before, students, items, changes) {
  changed <- before
  by_hand <- changes[changes$action == "points", ]
  for (j in unique(match(by_hand$item, items$item))) {
    own <- by_hand[by_hand$item == items$item[j], ]
    given <- give_points(
      before$cells[[j]],
      before$codes[, j],
      match(own$student, students),
      read_number(own$value),
      items$type[j]
    )
    changed$cells[[j]] <- given$cells
    changed$codes[, j] <- given$codes
  }
  for (k in which(changes$action == "excuse")) {
    j <- if (is.na(changes$item[k])) {
      seq_len(nrow(items))
    } else {
      match(changes$item[k], items$item)
    }
    changed$codes[match(changes$student[k], students), j] <- match(
      "excused",
      fixed_states
    )
  }
  changed
}

# The codes of one item along the students, some of them (`rows`) with other
# points. A dropped item stays dropped.
give_points <- function(cells, codes, rows, points, type) {
  if (all(cells$state %in% c("not_given", "excused"))) {
    return(list(cells = cells, codes = codes))
  }
  for (k in seq_along(rows)) {
    code <- codes[rows[k]]
    answer <- if (is_points_cell(type)) {
      format_plain(points[k])
    } else if (cells$state[code] %in% fixed_states ||
      is_blank(cells$answer[code])) {
      answer_by_hand
    } else {
      cells$answer[code]
    }
    added <- with_cell(cells, answer, points[k], "answered")
    cells <- added$cells
    codes[rows[k]] <- added$code
  }
  list(cells = cells, codes = codes)
}

# The code of an answer with these points; the item's cells get one if there is none.
with_cell <- function(cells, answer, points, state) {
  same <- which(
    cells$state == state &
      cells$answer %in% answer &
      (if (is.na(points)) {
        is.na(cells$points)
      } else {
        abs(cells$points - points) < 1e-12 & !is.na(cells$points)
      })
  )
  if (!length(same)) {
    cells$answer <- c(cells$answer, answer)
    cells$points <- c(cells$points, points)
    cells$state <- c(cells$state, state)
    same <- length(cells$answer)
  }
  list(cells = cells, code = same[1])
}

excused_wholly <- function(sitting) {
  changes <- sitting$changes
  changes$student[changes$action == "excuse" & is.na(changes$item)]
}

dropped_items <- function(sitting) {
  sitting$changes$item[sitting$changes$action == "drop"]
}

# The extra points of each student.
extra_points <- function(sitting) {
  changes <- sitting$changes[sitting$changes$action == "extra", ]
  points <- read_number(changes$value)
  of_whom <- match(changes$student, sitting$students$student)
  own <- !is.na(of_whom)
  extra <- numeric(nrow(sitting$students))
  sums <- rowsum(points[own], of_whom[own])
  extra[as.integer(rownames(sums))] <- sums
  extra + sum(points[is.na(changes$student)])
}

# What the teacher wrote to a student on an answer: in the list of changes, or
# beside the answer that counts. A row a student and item (NA: on the whole).
comments_of <- function(sitting) {
  rows <- sitting$source$row
  said <- said_in_rows(sitting$handed_in$rows$said, rows)
  said <- said[said$kind == "comment", ]
  beside <- data.frame(
    student = sitting$students$student[said$row],
    item = sitting$items$item[said$item],
    comment = as.character(said$text)
  )
  changes <- sitting$changes[sitting$changes$action == "comment", ]
  written <- each_row(changes, function(k) {
    whom <- if (is.na(changes$student[k])) {
      sitting$students$student[was_present(sitting)]
    } else {
      changes$student[k]
    }
    data.frame(
      student = whom,
      item = changes$item[k],
      comment = changes$value[k]
    )
  })
  all <- do.call(rbind, c(list(beside), written))
  all[
    order(
      match(all$student, sitting$students$student),
      match(all$item, sitting$items$item)
    ), ,
    drop = FALSE
  ]
}
