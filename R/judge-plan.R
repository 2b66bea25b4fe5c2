#' What to teach again, to whom, and why
#'
#' The few standards where teaching again helps most, each with what shows it,
#' what is likely behind it, who needs it, and fields for you to fill in.
#'
#' @inheritParams review_key
#' @param most The most standards to plan for.
#' @param size,by As in [group_students()]: the most students in a group, and the
#'   column of the students within which groups are made.
#' @param earlier An earlier plan (a data frame as read from `plan.csv`): what was
#'   typed into it is kept.
#' @param tag The name of a column of the items, such as `"type"`, whose values take the
#'   place of the standards. A test without standards and misconceptions is planned for by
#'   its questions.
#' @return A data frame, a row a standard to teach again, the most pressing first:
#'   * `code`, `title`, `emphasis`; `items`, `n`, `share`: as in
#'     [summarise_standards()]; `below`: students below the setting `mastery_cut`;
#'   * `need`: the sum of the students' needs (see [group_students()]; priority standards
#'     count half as much again), by which they are chosen: so it is large where the gap
#'     is wide, many are in it and the evidence is good; `reason`: the same in words;
#'   * `know`: what a student should know and be able to do: the standard's title
#'     and what the rationales of its items say;
#'   * `cause`: the likely misconception, or that many seem to guess; `settle`: items
#'     to look at first, since the gap may be theirs;
#'   * `shown_by`: its items, the hardest first; `students`: the groups, as in
#'     "Harbour A 1: h012, h015 | Harbour B 1: h040";
#'   * `activity`, `day`, `check`, `note`: yours to fill in; any other column that
#'     you added is kept too.
#'   * `n_after`, `share_after`, `reached`, `still_below`, `closed` (the date of the
#'     follow-up): what came of it; see [close_plan()].
#'
#'   A standard of the earlier plan that is no longer among those chosen stays, at
#'   the end, when something was typed there or it was closed.
#'
#'   Attributes: `well`, sentences on what went well; `nothing`, the sentence that
#'   nothing needs to be taught again, where it is so; `evidence`, for each standard
#'   a data frame of its items (`item`, `prompt`, `difficulty`, `wrong`,
#'   `wrong_text`, `wrong_share`, `misconception`, `idea` (its description), `pattern`);
#'   `groups`, as in [group_students()]; `ungrouped`, the sentence that a class is too
#'   large for them, where it is so.
#' @section Errors: `pregunta_error_call` when no item names a standard.
#' @export
#' @examples
#' plan <- plan_reteach(read_sitting(demo_path()))
#' plan
#' plan$students[1]
plan_reteach <- function(sitting, most = standards_planned, size = 6,
                         by = "section", earlier = NULL, tag = NULL) {
  check_is_sitting(sitting)
  sitting <- with_topics(sitting, tag, titled = FALSE)
  check_whole_number(most, say("judge-plan.a_plan_is_for"), 1)
  items <- summarise_items(sitting)
  options <- summarise_options(sitting, near_misses = FALSE)
  plan_from(
    sitting,
    list(
      items = items,
      options = options,
      look = look_first(items, options),
      standards = summarise_standards(sitting),
      students = summarise_students(sitting)
    ),
    most,
    size,
    by,
    earlier
  )
}

# The plan from figures that are there already. grouped: whether with groups.
plan_from <- function(sitting, figures, most = standards_planned, size = 6,
                      by = "section", earlier = NULL, grouped = TRUE) {
  items <- figures$items
  options <- figures$options
  chosen <- standards_to_reteach(sitting, most, figures$standards)
  grouped <- grouped && nrow(chosen) > 0
  ungrouped <- if (grouped) say_too_large(classes_of(sitting, by))
  groups <- if (grouped && is.null(ungrouped)) {
    groups_of_plan(sitting, chosen$code, size, by)
  }
  evidence <- lapply(stats::setNames(nm = chosen$code), function(code) {
    plain_rows(evidence_for(sitting, code, items = items, options = options))
  })
  press <- figures$look$item[figures$look$rule %in% pressing_rules]
  table <- data.frame(
    chosen,
    know = vapply(seq_along(evidence), function(k) {
      say_know(sitting, chosen$code[k], evidence[[k]])
    }, ""),
    cause = vapply(
      evidence,
      function(one) say_cause(sitting, one),
      ""
    ),
    settle = vapply(
      evidence,
      function(one) say_settle(one, press),
      ""
    ),
    shown_by = vapply(
      evidence,
      function(one) paste(one$item, collapse = ";"),
      ""
    ),
    students = vapply(
      chosen$code,
      function(code) list_groups(groups, code),
      ""
    ),
    row.names = NULL
  )
  table <- with_typed(with_fields(table), earlier)
  new_summary(
    table,
    "plan",
    sitting$settings,
    NULL,
    well = say_well(sitting, figures),
    nothing = say_nothing(table, figures),
    evidence = evidence,
    groups = groups,
    ungrouped = ungrouped,
    free = c(plan_fields, closing_fields)
  )
}

standards_planned <- 3 # few enough to be done

check_whole_number <- function(x, what, from) {
  if (is.numeric(x) &&
    length(x) == 1 &&
    !is.na(x) &&
    x == round(x) &&
    x >= from) {
    return(invisible())
  }
  abort_pregunta(
    "call",
    what,
    say("judge-plan.given", given = some_of(x)),
    say("judge-plan.give_a_whole_number", from = from)
  )
}

# The lowest standards by the sum of needs on them; none where nobody has a need.
standards_to_reteach <- function(sitting, most,
                                 standards = summarise_standards(sitting)) {
  present <- which(was_present(sitting))
  topics <- standard_topics(sitting, present)
  if (!nrow(topics$about)) {
    abort_pregunta(
      "call",
      say("judge-plan.there_is_nothing_to"),
      say("judge-plan.no_item_of_this"),
      say("judge-plan.add_a_column_standards")
    )
  }
  needs <- needs_of(topics, sitting$settings$mastery_cut)
  standards <- as.data.frame(standards)
  standards <- standards[
    match(topics$about$code, standards$code),
    c("code", "title", "emphasis", "items", "n", "share")
  ]
  standards$below <- colSums(!needs$reached & topics$open > 0)
  standards$need <- colSums(needs$need)
  standards <- standards[standards$need > 0, , drop = FALSE]
  standards <- utils::head(standards[order(-standards$need), ], most)
  standards$reason <- say_plan_reason(standards, sitting$settings)
  rownames(standards) <- NULL
  standards
}

# Numbered in the order of the plan.
groups_of_plan <- function(sitting, codes, size, by) {
  groups <- group_students(
    sitting,
    size = size,
    by = by,
    topics = codes
  )
  by <- attr(groups, "by")
  class <- if (is.null(by)) rep("", nrow(groups)) else groups[[by]]
  order <- order(
    class,
    match(groups$topic, codes),
    groups$group,
    seq_along(class)
  )
  groups <- groups[order, ]
  group <- paste(class[order], groups$group)
  new <- stats::ave(
    match(group, unique(group)),
    class[order],
    FUN = function(x) {
      match(x, unique(x))
    }
  )
  groups$group <- ifelse(is.na(groups$group), NA, new)
  groups
}

plan_fields <- c("activity", "day", "check", "note")
closing_fields <- c(
  "n_after", "share_after", "reached", "still_below", "closed"
)

with_fields <- function(table) {
  for (field in setdiff(plan_fields, names(table))) {
    table[[field]] <- rep("", nrow(table))
  }
  for (field in setdiff(closing_fields, names(table))) {
    table[[field]] <- rep(
      if (field == "closed") NA_character_ else NA_real_,
      nrow(table)
    )
  }
  table
}

# What was typed stays with its standard; rows that hold something typed and are
# no longer chosen come last, without a need.
with_typed <- function(table, earlier) {
  if (is.null(earlier) || !nrow(earlier)) return(table)
  require_its_columns(earlier, "plan")
  earlier <- earlier[
    !is.na(earlier$code) & !duplicated(earlier$code), ,
    drop = FALSE
  ]
  made <- setdiff(names(table), c(plan_fields, closing_fields))
  typed <- setdiff(names(earlier), made)
  for (column in setdiff(typed, names(table))) {
    table[[column]] <- rep("", nrow(table))
  }
  at <- match(table$code, earlier$code)
  for (column in typed) {
    old <- earlier[[column]][at]
    keep <- !is.na(at) & !is_blank(old)
    if (is.numeric(table[[column]])) {
      old <- read_number(old)
    }
    table[[column]][keep] <- old[keep]
  }
  left <- earlier[
    !earlier$code %in% table$code &
      rowSums(!is_blank(as.matrix(earlier[typed]))) > 0, ,
    drop = FALSE
  ]
  rbind(table, left_rows(left, table))
}

left_rows <- function(left, like) {
  rows <- like[rep(NA_integer_, nrow(left)), , drop = FALSE]
  for (column in intersect(names(left), names(like))) {
    value <- left[[column]]
    rows[[column]] <- if (is.numeric(like[[column]])) {
      read_number(value)
    } else {
      as.character(value)
    }
  }
  rows$need <- rep(NA_real_, nrow(rows))
  rows
}

# Of items whose key or wording is in doubt.
pressing_rules <- c("key", "reversed", "misleads")

list_groups <- function(groups, code) {
  if (is.null(groups)) return("")
  mine <- groups[
    groups$topic %in% code & groups$role == "learns", ,
    drop = FALSE
  ]
  if (!nrow(mine)) return("")
  by <- attr(groups, "by")
  class <- if (is.null(by)) say("judge-plan.group") else mine[[by]]
  name <- paste(class, mine$group)
  who <- tapply(
    mine$student,
    in_order(name),
    paste,
    collapse = ", "
  )
  paste(paste0(names(who), ": ", who), collapse = " | ")
}

# One standard of the plan. groups: who learns it, and who helps; typed: what was
# filled in by hand, by field; items: those that show it.
plan_row <- function(plan, k, roles) {
  row <- plan[k, ]
  groups <- attr(plan, "groups")
  typed <- unlist(row[plan_fields])
  list(
    row = row,
    groups = if (!is.null(groups)) {
      groups[groups$topic %in% row$code & groups$role %in% roles, ]
    },
    typed = typed[!is_blank(typed)],
    items = strsplit(row$shown_by, ";", fixed = TRUE)[[1]]
  )
}

#' What came of a plan
#'
#' Writes the figures of a comparison into the rows of a plan.
#'
#' @param plan A plan of [plan_reteach()], or a data frame as read from `plan.csv`.
#' @param change What [compare_sittings()] found, without `by`.
#' @param date The date of the follow-up, in words.
#' @return The plan with, for each standard that the follow-up asked about,
#'   `n_after` (students with a score in both), `share_after`, `reached` (of those
#'   below the cut before, who is there now), `still_below` (who is below it now) and
#'   `closed` (`date`). The others stay as they are.
#' @section Errors: `pregunta_error_call` when `change` is by something.
#' @export
#' @examples
#' before <- read_sitting(demo_path())
#' change <- compare_sittings(before, read_sitting(demo_path("follow-up")))
#' closed <- close_plan(plan_reteach(before), change, "2026-10-05")
#' closed[c("code", "share", "share_after", "still_below")]
close_plan <- function(plan, change, date) {
  by <- attr(change, "by")
  if (!is.null(by)) {
    abort_pregunta(
      "call",
      say("judge-plan.a_plan_is_closed"),
      say("judge-plan.this_one_is_by", change = some_of(by)),
      say("judge-plan.leave_out_by")
    )
  }
  at <- match(plan$code, change$code)
  done <- !is.na(at) &
    change$n[at] %in% seq_len(max(c(change$n, 0), na.rm = TRUE))
  plan <- with_fields(plan)
  figures <- c(
    n_after = "n",
    share_after = "share_after",
    reached = "reached",
    still_below = "below"
  )
  for (field in names(figures)) {
    plan[[field]] <- read_number(as.character(plan[[field]]))
    plan[[field]][done] <- change[[figures[[field]]]][at[done]]
  }
  plan$closed <- as.character(plan$closed)
  plan$closed[done] <- date
  plan
}
