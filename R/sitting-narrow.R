#' Only some of the students, or some of the questions
#'
#' The same figures for one section, teacher, subgroup, span of days or kind of
#' question. Every summary, verdict and picture of what comes back is about
#' these students and these questions and nobody else.
#'
#' @inheritParams what_if
#' @param ... Conditions, each named after a column of the students (`section`,
#'   `status`, `submitted`, `student`, any of your own) or of the items (`type`,
#'   `standards`, `item`, any tag of your own); all of them must hold. A name
#'   that both have is the students'. A condition is a vector of values of which
#'   one must fit, with `*` for anything; or bounds such as `">= 2026-09-14"`
#'   or `"< 60"`, of which all must hold. A day alone is the whole day. A standard stands
#'   for its parts too.
#' @return A [sitting()] with what is left. Who sat the test, which attempt
#'   counts and what was not reached stay as they were in the whole; totals, thirds
#'   and the rest of the test are of what is left.
#' @section Errors: `pregunta_error_call` when there is no such column, when nobody or
#' nothing is left, and, with the setting `smallest_group`, when fewer students than that
#' are left, or left out.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' narrow_sitting(quiz, section = "Harbour A") |> summarise_test()
#' narrow_sitting(quiz, section = c("Harbour A", "Harbour B"), type = "choice") |>
#'   summarise_standards(by = "section")
narrow_sitting <- function(sitting, ...) {
  check_is_sitting(sitting)
  conditions <- list(...)
  columns <- names(conditions)
  if (length(conditions) && (is.null(columns) || !all(nzchar(columns)))) {
    abort_pregunta(
      "call",
      say("sitting-narrow.each_condition_needs_the"),
      NULL,
      say("sitting-narrow.for_example_narrow_sitting")
    )
  }
  students <- seq_len(nrow(sitting$students))
  items <- seq_len(nrow(sitting$items))
  of_students <- columns %in% names(sitting$students)
  for (k in seq_along(conditions)) {
    if (of_students[k]) {
      values <- sitting$students[[columns[k]]]
      students <- intersect(
        students,
        rows_that_fit(
          values,
          conditions[[k]],
          columns[k],
          "student"
        )
      )
    } else {
      items <- intersect(
        items,
        items_that_fit(sitting, conditions[[k]], columns[k])
      )
    }
  }
  if (!length(students) || !length(items)) {
    abort_pregunta(
      "call",
      say("sitting-narrow.no_item_meets_all", any_students = length(students)),
      say_conditions(conditions),
      say("sitting-narrow.take_one_of_them")
    )
  }
  said <- c(
    sitting$narrowed,
    if (length(conditions)) say_conditions(conditions)
  )
  narrowed_to(sitting, students, items, said, any(of_students))
}

# The sitting with these rows of students and items; said: what it was narrowed to.
narrowed_to <- function(sitting, students, items, said, of_students = TRUE) {
  ids <- sitting$students$student[students]
  if (of_students) {
    sitting$settings <- remember_others(
      sitting$settings,
      sitting$students,
      ids
    )
    check_part_is_large(sitting$settings)
  }
  sitting <- with_items(with_students(sitting, students), items)
  sitting$narrowed <- said
  sitting
}

# What a sitting was before it was narrowed to some students: the columns of those who
# were there, and which of them are left. It goes with the settings, to wherever groups
# are withheld: a part and the whole tell of the rest.
remember_others <- function(settings, students, left) {
  around <- attr(settings, "around")
  if (is.null(around) || all(around$left)) {
    present <- students$status %in% sat_statuses
    around <- students[present, , drop = FALSE]
  }
  around$left <- around$student %in% left
  attr(settings, "around") <- around
  settings
}

# Where groups are withheld, all students go along from the start.
with_everybody <- function(settings, students) {
  if (settings$smallest_group <= 1) return(settings)
  remember_others(settings, students, students$student)
}

# Refuses a part of the students that is too small to be shown, or leaves out too few.
check_part_is_large <- function(settings) {
  around <- attr(settings, "around")
  least <- settings$smallest_group
  if (is.null(around) || least <= 1) return(invisible())
  left <- sum(around$left)
  out <- sum(!around$left)
  if (out == 0 || left == 0) return(invisible())
  if (left >= least && out >= least && !part_tells(around, least)) {
    return(invisible())
  }
  abort_pregunta(
    "call",
    say(
      "sitting-narrow.too_few",
      least = least,
      few_left = left < least && left > 0
    ),
    NULL,
    say("sitting-narrow.take_more")
  )
}

# What a sitting was narrowed to; nothing when it is whole.
say_narrowed <- function(sitting) {
  if (length(sitting$narrowed)) {
    say(
      "sitting-narrow.only",
      narrowed = in_a_row(sitting$narrowed)
    )
  }
}

say_conditions <- function(conditions) {
  paste(
    names(conditions),
    vapply(
      conditions,
      function(wanted) join_words(wanted, "or"),
      ""
    ),
    collapse = ", "
  )
}

# What an item is called for is its type, its standards or a tag; not its key.
items_that_fit <- function(sitting, wanted, column) {
  columns <- c(
    "item", "type", "standards", tag_columns(sitting$items)
  )
  if (!column %in% columns) {
    known <- unique(c(names(sitting$students), columns))
    abort_pregunta(
      "call",
      say("sitting-narrow.neither_the_students_nor", column = quoted(column)),
      say("sitting-narrow.columns", known = some_of(known, 20)),
      did_you_mean(column, known)
    )
  }
  values <- split_codes(sitting$items[[column]])
  if (column == "standards") {
    values <- lapply(values, function(codes) {
      with_ancestors(codes, sitting$standards)
    })
  }
  fits <- rows_that_fit(unlist(values), wanted, column, "item")
  whose <- rep(seq_along(values), lengths(values))
  sort(unique(whose[fits]))
}

rows_that_fit <- function(values, wanted, column, thing) {
  wanted <- as.character(wanted)
  bound <- is_bound(wanted)
  fits <- Map(function(one, bound) {
    if (bound) meets(values, one) else fits_value(values, one)
  }, wanted, bound)
  for (k in which(!vapply(fits, any, TRUE))) {
    known <- unique(as.character(values[!is.na(values)]))
    abort_pregunta(
      "call",
      say(
        "sitting-narrow.no_has",
        thing = thing,
        column = column,
        wanted = wanted[k]
      ),
      NULL,
      did_you_mean(wanted[k], sort(known))
    )
  }
  within <- Reduce(`&`, fits[bound], rep(TRUE, length(values)))
  none <- rep(FALSE, length(values))
  one_of <- all(bound) | Reduce(`|`, fits[!bound], none)
  which(within & one_of)
}

# A day alone fits any hour of it.
fits_value <- function(values, wanted) {
  if (grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", wanted)) {
    wanted <- paste0(wanted, "*")
  }
  !is.na(values) & fits_pattern(as.character(values), wanted)
}

# ---- the sitting, with a part of its rows or columns -------------------------------

with_students <- function(sitting, keep) {
  if (length(keep) == nrow(sitting$students)) return(sitting)
  ids <- sitting$students$student[keep]
  handed_in <- sitting$handed_in
  rows <- which(handed_in$rows$student %in% ids)
  # who is only listed has no row
  settled <- keep[keep <= length(sitting$source$row)]
  handed_in$codes <- handed_in$codes[rows, , drop = FALSE]
  handed_in$rows <- keep_rows(handed_in$rows, rows, NULL)
  if (!is.null(handed_in$students)) {
    handed_in$students <- pick_rows(
      handed_in$students,
      handed_in$students$student %in% ids
    )
  }
  sitting$source <- list(
    origin = sitting$source$origin,
    line = sitting$source$line[settled],
    given = lapply(sitting$source$given, coded_rows, settled),
    row = match(sitting$source$row[settled], rows)
  )
  sitting$students <- pick_rows(sitting$students, keep)
  sitting$codes <- sitting$codes[keep, , drop = FALSE]
  sitting$before$codes <- sitting$before$codes[keep, , drop = FALSE]
  sitting$handed_in <- handed_in
  with_changes_of(sitting, "student", ids)
}

# The students of one who teaches them: no part of what is shown to others, so nothing of
# it is withheld; of what does not add up it keeps what stands in their rows.
own_students <- function(sitting, keep) {
  own <- with_students(sitting, keep)
  own$settings$smallest_group <- 1
  attr(own$settings, "around") <- NULL
  own$findings <- Filter(function(finding) {
    finding$file %in% own$source$origin &&
      !is.na(finding$line) &&
      finding$line %in% own$source$line
  }, own$findings)
  own
}

with_items <- function(sitting, keep) {
  if (length(keep) == nrow(sitting$items)) return(sitting)
  ids <- sitting$items$item[keep]
  narrowed <- function(part) {
    part$codes <- part$codes[, keep, drop = FALSE]
    part$cells <- part$cells[keep]
    part
  }
  listed <- function(part) {
    part$items <- pick_rows(part$items, keep)
    part$options <- pick_rows(part$options, part$options$item %in% ids)
    part
  }
  sitting <- listed(narrowed(sitting))
  sitting$before <- narrowed(sitting$before)
  sitting$handed_in <- listed(narrowed(sitting$handed_in))
  sitting$source$given <- sitting$source$given[keep]
  rows <- sitting$handed_in$rows
  rows$answers <- rows$answers[keep]
  rows$given <- rows$given[keep]
  rows$timed <- rows$timed[, keep, drop = FALSE]
  if (!is.null(rows$said)) {
    rows$said$item <- match(rows$said$item, keep)
    rows$said <- rows$said[!is.na(rows$said$item), , drop = FALSE]
  }
  sitting$handed_in$rows <- rows
  with_changes_of(sitting, "item", ids)
}

# The changes that concern any of these, or all.
with_changes_of <- function(sitting, column, ids) {
  concerned <- function(table) {
    which(is.na(table[[column]]) | table[[column]] %in% ids)
  }
  kept <- concerned(sitting$adjustments)
  sitting$adjustments <- pick_rows(sitting$adjustments, kept)
  sitting$changes <- sitting$changes[concerned(sitting$changes), , drop = FALSE]
  sitting$changes$row <- match(sitting$changes$row, kept)
  sitting
}
