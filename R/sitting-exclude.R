# Rows that are left out: ids, patterns of ids, and conditions on columns of the
# responses or of the students.

exclude_rows <- function(rows, settings, students) {
  out <- rep(FALSE, length(rows$student))
  findings <- list()
  for (entry in settings$exclude) {
    hit <- if (is.list(entry)) {
      meets_all(rows, students, entry)
    } else {
      fits_pattern(rows$student, entry)
    }
    out <- out | hit
    findings <- with_finding(
      findings,
      if (any(hit)) "note" else "warning",
      "test.yml",
      "exclude",
      say_exclude(entry),
      if (any(hit)) {
        say("sitting-exclude.leaves_out_rows_of", n = sum(hit))
      } else if (is.list(entry)) {
        say("sitting-exclude.holds_for_no_row")
      } else {
        say("sitting-exclude.matches_no_student")
      },
      if (any(hit)) {
        say("sitting-exclude.nothing_to_do")
      } else {
        say("sitting-exclude.see_the_spelling_or")
      }
    )
  }
  if (all(out)) {
    said <- vapply(settings$exclude, say_exclude, "")
    abort_pregunta(
      c("nobody_left", "input"),
      say("sitting-exclude.the_setting_exclude_leaves"),
      say("sitting-exclude.exclude", exclude = some_of(said)),
      say("sitting-exclude.take_the_one_out")
    )
  }
  if (!any(out)) {
    rows$findings <- c(rows$findings, findings)
    return(rows)
  }
  keep_rows(rows, which(!out), findings)
}

say_exclude <- function(entry) {
  if (!is.list(entry)) return(entry)
  paste(
    names(entry),
    vapply(
      entry,
      function(wanted) join_words(wanted, "or"),
      ""
    ),
    sep = ": ",
    collapse = ", "
  )
}

# `*` stands for anything and `?` for one letter; all else is itself.
fits_pattern <- function(values, pattern) {
  plain <- gsub("([][{}()+^$|.\\\\])", "\\\\\\1", pattern)
  any <- gsub("*", ".*", plain, fixed = TRUE)
  grepl(paste0("(?s)^", gsub("?", ".", any, fixed = TRUE), "$"), values, perl = TRUE)
}

# All conditions of an entry hold.
meets_all <- function(rows, students, conditions) {
  Reduce(
    `&`,
    lapply(names(conditions), function(column) {
      values <- column_of_rows(rows, students, column)
      Reduce(
        `|`,
        lapply(conditions[[column]], function(wanted) meets(values, wanted))
      )
    })
  )
}

# A column of the responses, or of the students along the rows.
column_of_rows <- function(rows, students, column) {
  own <- list(
    student = rows$student,
    attempt = rows$attempt,
    seconds = rows$seconds,
    submitted = rows$submitted
  )
  if (!is.null(own[[column]])) return(own[[column]])
  if (column %in% names(rows$about)) return(rows$about[[column]])
  if (column %in% names(students)) {
    return(students[[column]][match(rows$student, students$student)])
  }
  there <- !vapply(own, is.null, TRUE)
  known <- unique(c(names(own)[there], names(rows$about), names(students)))
  abort_pregunta(
    "input",
    say("sitting-exclude.the_setting_exclude_names"),
    say("sitting-exclude.test_yml_exclude", column = quoted(column)),
    did_you_mean(column, known)
  )
}

# A value (with * for anything), yes or no, or a bound such as "< 60".
meets <- function(values, wanted) {
  if (is.logical(wanted)) {
    return(
      tolower(values) %in% (if (wanted) c(yes_words, "1") else c(no_words, "0"))
    )
  }
  bound <- regmatches(wanted, regexec(bound_pattern, wanted))[[1]]
  if (!length(bound)) return(!is.na(values) & fits_pattern(values, wanted))
  compare <- match.fun(bound[2])
  limit <- read_number(bound[3])
  held <- if (!is.na(limit)) {
    compare(if (is.numeric(values)) values else read_number(values), limit)
  } else {
    compare(
      as.numeric(read_time(values)),
      as.numeric(time_limit(bound[2], bound[3]))
    )
  }
  held %in% TRUE
}

bound_pattern <- "^(<=|>=|<|>) *(.+)$"

is_bound <- function(wanted) grepl(bound_pattern, wanted)

# Up to a day, or after it, is up to its end.
time_limit <- function(compare, limit) {
  if (compare %in% c("<=", ">") && !grepl(":", limit, fixed = TRUE)) {
    limit <- paste(limit, "23:59:59")
  }
  read_time(limit)
}
