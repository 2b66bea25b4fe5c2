#' How have they grown over the year?
#'
#' @param record What [open_record()] gave.
#' @param by `"student"`, or the name of a column of the students such as `"section"`, or
#'   several, one inside the other, as in `c("school", "teacher")`; `NULL` for all
#'   together.
#' @param windows The periods of the year, as in `list(autumn =
#'   "2026-09-01..2026-10-31")`; by default the setting `window` of each sitting, else
#'   each sitting is one by itself. A sitting outside all windows is left out.
#' @param skills `"last"`: only what the last sitting covered; `"all"`: all there is.
#' @param section,student Only these sections (as they are now), only these students.
#' @param from,to,kind Only sittings of these dates, of this kind.
#' @param renamed Codes that are called something else now, as in `c(OLD = "NEW")`;
#'   by default the settings `renamed` of all the sittings.
#' @param scale The name of the sitting on whose questions all those are read that are
#'   on one scale with it; by default the first of each scale.
#' @param only Conditions on columns of the students, as in `list(teacher = c("Moor",
#'   "Reed"))`, written as for [narrow_sitting()].
#' @return By `"student"` a data frame, a row a student, code and window from the first
#'   result on: `student`, `name`, `section` (as they are now), `code` (`(all)` for the
#'   whole test), `title`; `window`; `sitting`, `date`: where the result is from;
#'   `earned`, `open`, `share`, `level`; `level_since`: the date of the first result at
#'   that level or above; `carried`: whether it was carried forward from an earlier
#'   window, since there is no new one; `baseline`: the first share, and `gain`: the share
#'   minus it; `first_there`: the date of the first share at or above `mastery_cut`;
#'   `linked`: whether the sitting stands on one scale with others, by questions that they
#'   share; `scale`: the first of these; `linked_share`: the share of its questions (on
#'   that code) that the student would earn, with its 95% interval `linked_low`,
#'   `linked_high`, and `linked_gain`: it minus that of the first result on the same
#'   scale:
#'   what an easier test gives is in neither; `reason`: why they are `NA`:
#'   `no_shared_items`, `few_shared_items`, `few_students`, `no_place`. Of several results
#'   in one window the latest stands.
#'
#'   Else a row a group, code and window: the group; `code`, `title`, `window`; `n`:
#'   students with a new result in it, `share`: their mean with its 95% t interval
#'   `share_low`, `share_high`; the share of them in each level; `gain`: the mean over the
#'   students with a new result in it and an earlier one, `gain_n` of them, of what they
#'   stand above their own first result, with its 95% t interval `gain_low`, `gain_high`:
#'   unlike two means of `share` it is about the same students; `NA` in the first window;
#'   `carried`: students whose earlier result is carried, `share_carried`: the mean with
#'   theirs; `linked`, `scale`, `reason` as above, or `other_scale` where the results
#'   are on different scales; `linked_share`: the mean of those with a new
#'   result, with its 95% interval `linked_low`, `linked_high`; `linked_gain`: the mean of
#'   `gain` on that scale, with `linked_gain_low`, `linked_gain_high`. The error of the
#'   links is in these intervals. [compare_sittings()] says how tests are linked.
#'
#'   Levels, cuts and `mastery_cut` are those of the last sitting, for all. Groups under
#'   its setting `smallest_group` are withheld.
#' @section Errors: `pregunta_error_record`, see [open_record()]; `pregunta_error_input`
#'   when windows overlap or a sitting names one that is not there; `pregunta_error_call`
#'   for an unknown section or student.
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path()), "tides")
#' add_sitting(record, read_sitting(demo_path("follow-up")), "tides again")
#' growth(record, by = "section") |> subset(code == "TC.1", c(section, window, n, share))
#' growth(record, "student", student = "h012", skills = "all") |>
#'   subset(carried, c(code, window, date))
#' close_record(record)
growth <- function(record, by = "student", windows = NULL,
                   skills = c("last", "all"), section = NULL, student = NULL,
                   from = NULL, to = NULL, kind = NULL, renamed = NULL,
                   scale = NULL, only = NULL) {
  skills <- match.arg(skills)
  windows <- check_windows(windows, function(what, fix) {
    abort_pregunta("input", what, NULL, fix)
  })
  sittings <- sittings_between(record, from, to, kind)
  sittings$period <- windows_of(sittings, windows)
  people <- recorded_people(record, section, student)
  people <- people_that_fit(record, people, only, settings_recorded(sittings))
  renamed <- if (is.null(renamed)) all_renamed(sittings) else renamed
  scores <- recorded_scores(
    record,
    sittings,
    people,
    is.null(section) && is.null(student) && is.null(only)
  )
  scores$code <- now_called(scores$code, renamed)
  settings <- settings_recorded(sittings)
  standards <- standards_recorded(record, sittings, renamed)
  codes <- codes_to_show(scores, sittings, standards, skills)
  link <- link_of_record(
    record, sittings, people, codes, standards, renamed, scale
  )
  table <- student_growth(
    scores,
    sittings,
    people,
    windows,
    codes,
    settings,
    standards,
    link
  )
  order <- windows_sat(sittings, windows)
  finish <- function(table, by) {
    new_summary(
      table,
      "growth",
      settings,
      by,
      windows = order,
      tree = standards,
      cut = settings$mastery_cut,
      link = told_of_links(link, sittings),
      outside = sittings[is.na(sittings$period), c("name", "date")]
    )
  }
  if (identical(by, "student")) {
    inner <- c("slope", "first_slope", "from", "first_from", "begins")
    return(finish(table[setdiff(names(table), inner)], by))
  }
  at <- match(table$student, people$student)
  # Of every depth of several columns.
  pieces <- lapply(seq_len(max(1, length(by))), function(depth) {
    columns <- utils::head(by, depth)
    group <- group_of_people(record, people, columns)[at]
    grouped <- group_growth(table, group, order, settings, standards, link)
    with_group_columns(grouped, columns)
  })
  grouped <- if (length(by) > 1) stack_depths(pieces, by) else pieces[[1]]
  finish(
    withhold_small(
      grouped,
      "n",
      c("code", "title", "window", by),
      settings,
      by,
      c("code", "window"),
      list(
        counts_of_students(names(settings$levels), shares = TRUE),
        figures_of_some(
          "gain_n",
          c(
            "gain", "gain_low", "gain_high", "linked_gain", "linked_gain_low",
            "linked_gain_high"
          )
        ),
        figures_of_some("carried", "share_carried")
      )
    ),
    by
  )
}

# The columns that name the groups in place of their path.
with_group_columns <- function(grouped, by) {
  paths <- grouped$group
  grouped$group <- NULL
  with_group(grouped, list(by = by, groups = paths), 1)
}

# In order of date; at least one.
sittings_between <- function(record, from, to, kind) {
  table <- ask_record(
    record,
    paste(
      "SELECT id, name, title, date, kind, period AS window, students, settings",
      "FROM pregunta_sitting WHERE current = 1 ORDER BY date, id"
    )
  )
  day <- function(x, word) {
    if (is.null(x)) return(NULL)
    if (is.na(read_time(x))) {
      abort_pregunta(
        "call",
        say("record-growth.this_is_no_date", date = quoted(x)),
        NULL,
        say("record-growth.write_2026_09_14", word = word)
      )
    }
    format(read_time(x), "%Y-%m-%d")
  }
  keep <- rep(TRUE, nrow(table))
  if (!is.null(from)) {
    keep <- keep & table$date >= day(from, "since")
  }
  if (!is.null(to)) {
    keep <- keep & table$date <= day(to, "until")
  }
  if (!is.null(kind)) {
    unknown <- setdiff(kind, table$kind)
    if (length(unknown)) {
      known <- setdiff(table$kind, NA)
      abort_pregunta(
        "call",
        say("record-growth.no_sitting_is_of", unknown = quoted(unknown[1])),
        NULL,
        did_you_mean(unknown[1], known)
      )
    }
    keep <- keep & table$kind %in% kind
  }
  if (!any(keep)) {
    abort_pregunta(
      "call",
      say("record-growth.the_record_holds_no"),
      say("record-growth.it_holds", n = nrow(table)),
      if (nrow(table)) {
        say(
          "record-growth.dates_run_from_to",
          date = min(table$date),
          table_date = max(table$date)
        )
      } else {
        say("record-growth.add_one_first_pregunta")
      }
    )
  }
  table[keep, , drop = FALSE]
}

recorded_people <- function(record, section = NULL, student = NULL) {
  people <- ask_record(
    record,
    "SELECT id, student, name, section FROM pregunta_person ORDER BY id"
  )
  wanted <- list(section = section, student = student)
  for (column in names(wanted)) {
    unknown <- setdiff(wanted[[column]], people[[column]])
    if (length(unknown)) {
      known <- setdiff(people[[column]], NA)
      abort_pregunta(
        "call",
        say(
          "record-growth.the_record_has_no",
          column = column,
          unknown = quoted(unknown[1])
        ),
        NULL,
        did_you_mean(unknown[1], known)
      )
    }
    if (!is.null(wanted[[column]])) {
      people <- people[people[[column]] %in% wanted[[column]], , drop = FALSE]
    }
  }
  people
}

# Those who meet all conditions; refused where small groups are withheld and so few are
# left, or left out.
people_that_fit <- function(record, people, only, settings) {
  if (!length(only)) return(people)
  fits <- seq_len(nrow(people))
  for (column in names(only)) {
    values <- people[[column]]
    if (is.null(values)) values <- column_of_people(record, people, column)
    fits <- intersect(fits, rows_that_fit(values, only[[column]], column, "student"))
  }
  if (!length(fits)) {
    abort_pregunta(
      "call",
      say("sitting-narrow.no_item_meets_all", any_students = FALSE),
      say_conditions(only),
      say("sitting-narrow.take_one_of_them")
    )
  }
  out <- nrow(people) - length(fits)
  least <- settings$smallest_group
  if (least > 1 && (length(fits) < least || out > 0 && out < least)) {
    abort_pregunta(
      "call",
      say("sitting-narrow.too_few", least = least, few_left = length(fits) < least),
      NULL,
      say("sitting-narrow.take_more")
    )
  }
  people[fits, , drop = FALSE]
}

most_bound <- 500 # ids in one question

recorded_scores <- function(record, sittings, people, everybody) {
  columns <- "SELECT sitting, person, code, earned, open FROM pregunta_score"
  scores <- if (everybody || nrow(people) > most_bound) {
    ask_record(record, columns)
  } else {
    of_sittings <- paste0(
      "WHERE sitting IN (", value_marks(nrow(sittings)), ")"
    )
    of_people <- paste0(
      "AND person IN (", value_marks(nrow(people)), ")"
    )
    query <- paste(columns, of_sittings, of_people)
    values <- as.list(c(sittings$id, people$id))
    do.call(ask_record, c(list(record, query), values))
  }
  scores$sitting <- match(scores$sitting, sittings$id)
  scores$person <- match(scores$person, people$id)
  scores <- rows_of(
    scores,
    which(!is.na(scores$sitting) & !is.na(scores$person))
  )
  scores$code[scores$code == ""] <- whole_code
  scores
}

recorded_settings <- function(json) {
  given <- jsonlite::fromJSON(json, simplifyVector = FALSE)
  replace_fields(default_settings(), Filter(length, given))
}

settings_recorded <- function(sittings) {
  recorded_settings(sittings$settings[nrow(sittings)])
}

all_renamed <- function(sittings) {
  maps <- lapply(
    sittings$settings[
      grepl("\"renamed\":{\"", sittings$settings, fixed = TRUE)
    ],
    function(json) unlist(recorded_settings(json)$renamed)
  )
  unlist(maps)
}

# A code that was renamed twice ends at its last name.
now_called <- function(codes, renamed) {
  renamed <- unlist(renamed)
  for (turn in seq_along(renamed)) {
    at <- match(codes, names(renamed))
    if (all(is.na(at))) break
    codes <- ifelse(is.na(at), codes, unname(renamed)[at])
  }
  codes
}

# As the latest sitting that lists a code has it.
standards_recorded <- function(record, sittings, renamed) {
  table <- ask_record(
    record,
    "SELECT sitting, place, code, parent, title, emphasis FROM pregunta_standard"
  )
  table <- table[table$sitting %in% sittings$id, , drop = FALSE]
  table <- table[
    order(-match(table$sitting, sittings$id), table$place), ,
    drop = FALSE
  ]
  table$code <- now_called(table$code, renamed)
  table$parent <- now_called(table$parent, renamed)
  columns <- c("code", "parent", "title", "emphasis")
  rbind_standards(table[columns], table[0, columns])
}

codes_to_show <- function(scores, sittings, standards, skills) {
  last <- scores$sitting == max(c(scores$sitting, 0))
  there <- unique(scores$code[if (skills == "last") last else TRUE])
  c(
    intersect(whole_code, there),
    intersect(tree_order(standards), there),
    setdiff(there, c(whole_code, standards$code))
  )
}

# The value of a column for each of these people: sections as they are now, others
# as the last sitting that knows them has it.
group_of_people <- function(record, people, by) {
  if (is.null(by)) return(rep("", nrow(people)))
  values <- lapply(by, function(column) {
    value <- if (column == "section") {
      people$section
    } else {
      column_of_people(record, people, column)
    }
    or_else(value, "(none)")
  })
  do.call(paste, c(values, sep = path_separator))
}

column_of_people <- function(record, people, column) {
  rows <- ask_record(
    record,
    paste(
      "SELECT p.person, p.about FROM pregunta_presence p",
      paste0(
        "JOIN pregunta_sitting s ON s.id = p.sitting WHERE s.current = 1 ORDER BY ",
        "s.date DESC, s.id DESC"
      )
    )
  )
  rows <- rows[!duplicated(rows$person), ]
  about <- jsonlite::fromJSON(
    paste0("[", paste(rows$about, collapse = ","), "]")
  )
  if (!is.data.frame(about) || !column %in% names(about)) {
    known <- c("section", if (is.data.frame(about)) names(about))
    abort_pregunta(
      "call",
      say("record-growth.the_students_of_the", column = quoted(column)),
      say("record-growth.columns", known = some_of(known, 12)),
      did_you_mean(column, known)
    )
  }
  as.character(about[[column]])[match(people$id, rows$person)]
}
