#' Who learns what together?
#'
#' Groups to teach, each student in one and with the reason: by need, by overall
#' standing, or mixed with a helper in each.
#'
#' @inheritParams review_key
#' @param basis `"need"`: each student with others who need the same standard, or
#'   hold the same misconception; `"score"`: by overall standing; `"mixed"`:
#'   groups as alike as can be, a helper in each.
#' @param size The most students in a group, at least 2.
#' @param least The fewest students in a group by need.
#' @param groups The number of groups (by need: the most) in each class; by
#'   default as many as `size` asks for.
#' @param cut With `basis = "score"`: shares where the next group begins, instead
#'   of groups of near-equal size.
#' @param topics By need: codes of the standards and misconceptions to group on; all
#'   by default.
#' @param tag By need: the name of a column of the items, such as `"type"`, whose values
#'   take the place of the standards. A test without standards is grouped by its
#'   questions, but for those whose key or wording is in doubt.
#' @param by The name of a column of the students within which groups are made:
#'   sections by default, where there are any; `NULL` for all together.
#' @return A data frame, a row a student present, group after group: the column
#'   `by`; `group`: a number within it, `NA` for students in none; `topic`,
#'   `title`: the standard or misconception it is about (by need), or what it is;
#'   `role`: `learns`, `helps` (could explain it), `ready_for_more` (at or above
#'   the setting `mastery_cut` on every standard, and no misconception likely
#'   held), `on_their_own` (needs what no group is about); `student`, `name`;
#'   `share`: of the points; `because`: why, in words; `by_hand`: whether a teacher put
#'   the student there ([adjust()], action `group`), with what was reckoned in
#'   `because`. Absent students are left out.
#' @details By need: a student's need of a standard is the expected shortfall below
#' `mastery_cut` c of a score whose posterior is Beta(a, b), a and b the points earned and
#' missed plus 1/2 (Jeffreys), or, where it can be had, the estimate with the help of the
#' rest of the test (see `helped` of [summarise_standards()]): of two items alone nobody
#' can tell; c F(c; a, b) - a/(a+b) F(c; a+1, b). So it is large where
#' the score is low and the evidence good. Priority standards count half as much again. A
#' misconception that is likely held counts the same way, the answers that avoid it as
#' earned. Students, topics, the number of groups on each and who is in which are chosen
#' together so that the sum of the needs met is the largest that the sizes allow
#' (mixed-integer linear programme, solved exactly). Helpers reach the cut on the topic;
#' which group each helps is chosen so that their scores on the topics add up to most
#' (assignment problem, solved exactly).
#'
#' Students whom a teacher has moved stay where they were put as long as the groups by
#' need have such a place; who has nothing to learn helps there.
#'
#' Equal cases are settled by the order of the responses, so that the same
#' sitting gives the same groups.
#' @section Errors: `pregunta_error_call` for an unknown basis, sizes that
#'   contradict each other, when there is nothing to group by need, or by need a class of
#'   more than 5,000 students.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' group_students(quiz) |> subset(section == "Harbour A")
#' group_students(quiz, "mixed", size = 4) |> head(4)
group_students <- function(sitting, basis = "need", size = 6, least = 2,
                           groups = NULL, cut = NULL, by = "section",
                           topics = NULL, tag = NULL) {
  check_is_sitting(sitting)
  if (identical(basis, "need")) sitting <- with_topics(sitting, tag)
  made <- reckoned_groups(sitting, basis, size, least, groups, cut, by, topics)
  table <- made$table
  if (basis == "need") {
    table <- with_moves(table, made$class, sitting$changes, is.null(topics))
  } else {
    table$by_hand <- rep(FALSE, nrow(table))
  }
  by <- made$by
  label <- made$class[match(table$student, made$table$student)]
  table <- cbind(data.frame(by = label), table)
  rownames(table) <- NULL
  names(table)[1] <- if (is.null(by)) "class" else by
  if (is.null(by)) {
    table$class <- NULL
  }
  places <- if (basis == "need") group_places(made$table, made$class)
  priority <- any(sitting$standards$emphasis %in% "priority")
  new_summary(table, "groups", sitting$settings, by, places = places, priority = priority)
}

# The groups as they are reckoned: the table, the class of each row, and the column
# that the classes are of, NULL where all are together.
reckoned_groups <- function(sitting, basis = "need", size = 6, least = 2,
                            groups = NULL, cut = NULL, by = "section",
                            topics = NULL) {
  check_grouping(basis, size, least, groups, cut)
  by <- column_of_classes(sitting, by)
  classes <- classes_of(sitting, by)
  if (basis == "need") check_class_is_small(classes)
  students <- as.data.frame(summarise_students(sitting))
  present <- which(was_present(sitting) & !is.na(students$share))
  needs <- if (basis == "need") student_needs(sitting, present, topics)
  of_class <- lapply(seq_along(classes$labels), function(class) {
    which(classes$index[present] == class)
  })
  pieces <- lapply(of_class, function(here) {
    if (!length(here)) return(NULL)
    people <- students[present[here], c("student", "name", "share")]
    switch(basis,
      need = groups_by_need(
        people,
        needs,
        here,
        size,
        least,
        groups
      ),
      score = groups_by_score(people, size, groups, cut),
      mixed = groups_mixed(people, size, groups)
    )
  })
  list(
    table = do.call(rbind, c(list(no_group), pieces)),
    class = rep(
      if (is.null(by)) "" else as.character(classes$labels),
      lengths(of_class)
    ),
    by = by
  )
}

# Sections, where there are any.
column_of_classes <- function(sitting, by) {
  if (identical(by, "section") && all(is.na(sitting$students$section))) NULL else by
}

classes_of <- function(sitting, by) {
  student_groups(sitting, single_column(column_of_classes(sitting, by)))
}

# More to choose among than can be weighed in a minute; and no class is so large.
most_in_class <- 5000

largest_class <- function(classes) max(tabulate(classes$index), 0)

say_too_large <- function(classes) {
  largest <- largest_class(classes)
  if (largest <= most_in_class) return(NULL)
  say("judge-groups.a_class_too_large", n = largest, most = most_in_class)
}

check_class_is_small <- function(classes) {
  said <- say_too_large(classes)
  if (is.null(said)) return(invisible())
  abort_pregunta("call", said, NULL, say("judge-groups.group_within"))
}

no_group <- data.frame(
  group = integer(),
  topic = character(),
  title = character(),
  role = character(),
  student = character(),
  name = character(),
  share = numeric(),
  because = character()
)

check_grouping <- function(basis, size, least, groups, cut) {
  bases <- c("need", "score", "mixed")
  refuse <- function(what, given, fix) {
    abort_pregunta(
      "call",
      what,
      say("judge-groups.given", given = given),
      fix
    )
  }
  if (length(basis) != 1 || !basis %in% bases) {
    refuse(
      say("judge-groups.groups_are_made_by"),
      some_of(basis),
      did_you_mean(basis[1], bases)
    )
  }
  whole <- function(x) {
    is.numeric(x) && length(x) == 1 && !is.na(x) && x == round(x)
  }
  if (!whole(size) || size < 2) {
    refuse(
      say("judge-groups.a_group_has_at"),
      some_of(size),
      say("judge-groups.give_size_a_whole")
    )
  }
  if (!whole(least) || least < 1 || least > size) {
    refuse(
      say("judge-groups.the_fewest_in_a"),
      say("judge-groups.to", least = least, size = size),
      say("judge-groups.for_example_2_to")
    )
  }
  if (!is.null(groups) && (!whole(groups) || groups < 1)) {
    refuse(
      say("judge-groups.the_number_of_groups"),
      some_of(groups),
      say("judge-groups.for_example_4")
    )
  }
  if (!is.null(cut) &&
    (!is.numeric(cut) || anyNA(cut) || any(cut <= 0 | cut >= 1))) {
    refuse(
      say("judge-groups.cuts_are_shares_between"),
      some_of(cut),
      say("judge-groups.for_example_0_5")
    )
  }
}

# Near-equal groups from the weakest to the strongest, or as the cuts say.
groups_by_score <- function(people, size, groups, cut) {
  n <- nrow(people)
  rising <- order(people$share, seq_len(n))
  if (is.null(cut)) {
    k <- if (is.null(groups)) ceiling(n / size) else min(groups, n)
    group <- integer(n)
    group[rising] <- sort(rep_len(seq_len(k), n))
  } else {
    step <- findInterval(people$share + 1e-9, sort(cut))
    group <- match(step, sort(unique(step)))
  }
  span <- vapply(split(people$share, group), function(share) {
    if (length(share) == 1) {
      percent(share)
    } else {
      say(
        "judge-groups.to_2",
        low = percent(min(share)),
        high = percent(max(share))
      )
    }
  }, "")
  rank <- n + 1 - rank(people$share, ties.method = "max")
  table <- data.frame(
    group = group,
    topic = "score",
    title = unname(span[as.character(group)]),
    role = "learns",
    people,
    because = say(
      "judge-groups.of_the_points_rank",
      share = percent(people$share),
      rank = rank,
      n = n
    )
  )
  table[order(group, -people$share), ]
}

# As many helpers as groups, the strongest; the others are dealt out in order of
# their scores, there and back, so that every group has one of each standing.
groups_mixed <- function(people, size, groups) {
  n <- nrow(people)
  k <- if (is.null(groups)) ceiling(n / size) else min(groups, n)
  falling <- order(-people$share, seq_len(n))
  turn <- (seq_len(n) - 1) %/% k
  place <- (seq_len(n) - 1) %% k + 1
  group <- integer(n)
  group[falling] <- ifelse(turn %% 2 == 0, place, k + 1 - place)
  role <- rep("learns", n)
  role[falling[seq_len(k)]] <- "helps"
  table <- data.frame(
    group = group,
    topic = "mixed",
    title = NA_character_,
    role = role,
    people,
    because = say(
      "judge-groups.of_the_points_among",
      share = percent(people$share),
      is_helps = role == "helps"
    )
  )
  table[order(group, -people$share), ]
}
