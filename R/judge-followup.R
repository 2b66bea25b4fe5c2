#' A follow-up test for the students who need it
#'
#' Draws questions on their weak standards that they have not had before.
#'
#' @inheritParams review_key
#' @param pool Where to draw from: what [read_pool()] returns.
#' @param standards Codes of the standards to ask about; by default those of
#'   [plan_reteach()].
#' @param students Ids of the students it is for; by default those who are below the
#'   setting `mastery_cut` on one of the standards.
#' @param forms `"one"` for all, or `"group"`: each student with the others of the
#'   groups of [group_students()] that are about the same standard, a form for each.
#' @param length How many questions a form has.
#' @param least How many a standard has at least.
#' @param difficulty Two shares: only questions whose difficulty lies between them,
#'   where it is known; those in the middle of them come first.
#' @param used More sittings whose questions were used with these students, or what
#'   [items_asked()] gives of a record.
#' @return An object of class `pregunta_followup`, a data frame with a row a form and
#'   question, in the order of the form: `form`; `item` (its new name), `from` (its name
#'   or number in the pool), `standards`, `type`, `points`, `prompt`, `difficulty`,
#'   `discrimination` (of its last use, `NA` when it was never used); `information`: how
#'   much it tells of the students the follow-up is for, the mean over their places on the
#'   scale of `sitting`, and `expected`: the share of its points that they are expected to
#'   earn, both `NA` where the pool does not know its place on that scale. Attributes:
#'   `items`, `options`, `standards`, `misconceptions`: the tables of the new test;
#'   `people`:
#'   `student`, `form`, `because`; `found`: for each form and standard `wanted` and
#'   `found` questions and `why` some are missing; `left_out`: how many of the pool were
#'   used before, or lie outside `difficulty`.
#' @details Each standard is given `least` questions, and the rest of `length` in the
#'   proportion of the needs on it (Jeffreys' expected shortfall, as in
#'   [group_students()]), by largest remainders. The questions that fill these quotas best
#'   are chosen together (integer linear programme, solved exactly): as few missing as can
#'   be, and then those that tell most of these students (Lord 1980), where their places
#'   are known: the pool is a record, a folder with responses, or a bank whose questions
#'   were kept with places (see [summarise_scale()]), and at least 5 of its questions are
#'   in `sitting`, or in a test that shares 5 with it. Of the others, those in the middle
#'   of `difficulty` and of high discrimination. A question on several of the standards
#'   counts for each. When `length` is too short for `least` of each, the standards with
#'   the smallest needs are left out. A question is used before when its wording, type and
#'   options are those of a question of `sitting` or `used`. Equal cases are settled by
#'   the order of the pool.
#' @section Errors: `pregunta_error_call` for an unknown standard or student, or
#'   when the pool holds no question on any of the standards that is new to them.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' draw_followup(quiz, read_pool(demo_path("pool")), length = 6)
draw_followup <- function(sitting, pool, standards = NULL, students = NULL,
                          forms = c("one", "group"), length = 8, least = 2,
                          difficulty = c(0, 1), used = list()) {
  check_is_sitting(sitting)
  forms <- match.arg(forms)
  check_whole_number(
    length,
    say("judge-followup.a_form_has_at"),
    1
  )
  check_whole_number(
    least,
    say("judge-followup.a_standard_has_at"),
    1
  )
  codes <- if (is.null(standards)) {
    standards_to_reteach(sitting, standards_planned)$code
  } else {
    known_codes(standards, sitting)
  }
  needs <- needs_for_followup(sitting, codes)
  people <- people_for_followup(
    sitting,
    needs,
    codes,
    students,
    forms
  )
  if (!nrow(people)) stop_nobody_needs(sitting, codes)
  usable <- usable_items(pool, c(list(sitting), used), difficulty)
  pool$figures <- with_information(pool, sitting, people$student)
  pool$standards <- rbind_standards(sitting$standards, pool$standards)
  plans <- lapply(
    split_in_order(people, people$form),
    function(mine) {
      about <- if (forms == "one") codes else unique(mine$topic)
      weight <- colSums(
        needs$need[
          match(mine$student, needs$student),
          match(about, needs$code),
          drop = FALSE
        ]
      )
      draw_form(
        pool,
        usable,
        stats::setNames(weight, about),
        length,
        least,
        mine$form[1]
      )
    }
  )
  drawn <- do.call(rbind, lapply(plans, `[[`, "drawn"))
  found <- do.call(rbind, lapply(plans, `[[`, "found"))
  if (!nrow(drawn)) stop_nothing_drawn(codes, usable)
  followup_of(pool, drawn, found, people, usable, sitting)
}

# How much each question of the pool tells of these students, where it stands on the scale
# of their test.
with_information <- function(pool, sitting, students) {
  figures <- pool$figures
  figures[c("information", "expected")] <- NA_real_
  if (is.null(pool$sets)) return(figures)
  own <- placed_sitting(sitting)
  if (!length(own$scale$number)) return(figures)
  marks <- item_marks(pool$items, item_fingerprints(pool))
  people <- places_of_all(own$scale)
  at <- match(match(students, sitting$students$student), people$rows)
  sets <- c(list(set_of_test(own)), pool$sets(own$items))
  found <- information_there(marks, sets, people$place[at])
  figures[c("information", "expected")] <- found
  figures
}

known_codes <- function(codes, sitting) {
  known <- standards_in_use(sitting)$table$code
  for (code in setdiff(codes, known)) {
    abort_pregunta(
      "call",
      say("judge-followup.there_is_no_standard", code = quoted(code)),
      NULL,
      hint_for_code(code, known)
    )
  }
  codes
}

# Of each standard, a parent's too, the need of each student who was there.
needs_for_followup <- function(sitting, codes) {
  present <- which(was_present(sitting))
  topics <- standard_topics(sitting, present, codes)
  c(
    needs_of(topics, sitting$settings$mastery_cut),
    list(code = codes, student = sitting$students$student[present])
  )
}

people_for_followup <- function(sitting, needs, codes, students, forms) {
  unknown <- setdiff(students, needs$student)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("judge-followup.there_is_no_student", unknown = quoted(unknown[1])),
      NULL,
      did_you_mean(unknown[1], needs$student)
    )
  }
  below <- rowSums(needs$need > 0) > 0
  chosen <- if (is.null(students)) needs$student[below] else students
  if (forms == "group") return(people_in_groups(sitting, codes, chosen))
  at <- match(chosen, needs$student)
  because <- vapply(at, function(row) {
    low <- needs$need[row, ] > 0
    if (!any(low)) return("chosen")
    say(
      "judge-followup.below_on",
      mastery_cut = percent(sitting$settings$mastery_cut),
      code = join_words(needs$code[low])
    )
  }, "")
  data.frame(
    student = chosen,
    form = rep("A", length(chosen)),
    topic = rep(NA_character_, length(chosen)),
    because = because
  )
}

# Groups by need; those about the same standard have one form. Who is in no group
# has none.
people_in_groups <- function(sitting, codes, chosen) {
  groups <- group_students(sitting, topics = codes)
  groups <- groups[groups$role == "learns" & groups$student %in% chosen, ]
  groups <- groups[order(match(groups$topic, codes)), ]
  data.frame(
    student = groups$student,
    form = groups$topic,
    topic = groups$topic,
    because = groups$because
  )
}

# Numbers of the pool's items that may be drawn, and how many may not and why.
usable_items <- function(pool, sittings, difficulty) {
  known <- pool$figures$difficulty
  had <- item_fingerprints(pool) %in% unlist(lapply(sittings, function(one) {
    if (is.character(one)) one else item_fingerprints(one)
  }))
  outside <- !is.na(known) &
    (known < difficulty[1] - 1e-9 | known > difficulty[2] + 1e-9)
  list(
    items = which(!had & !outside),
    had = sum(had),
    outside = sum(outside & !had),
    middle = mean(difficulty)
  )
}

draw_form <- function(pool, usable, weight, length, least, form) {
  weight <- sort(weight, decreasing = TRUE)
  asked <- utils::head(weight, max(1, length %/% least))
  quota <- quotas(asked, length, least)
  about <- tags_with_parents(pool)
  on <- vapply(names(asked), function(code) {
    vapply(
      about[usable$items],
      function(tags) code %in% tags,
      TRUE
    )
  }, logical(length(usable$items)))
  on <- matrix(
    on,
    ncol = length(asked),
    dimnames = list(NULL, names(asked))
  )
  chosen <- choose_for_quotas(
    on,
    quota,
    quality_of(pool, usable),
    length
  )
  items <- usable$items[chosen]
  # a standard after the other
  place <- order(max.col(on[chosen, , drop = FALSE], "first"), items)
  drawn_on <- colSums(on[chosen, , drop = FALSE])
  list(
    drawn = data.frame(form = rep(form, length(items)), at = items[place]),
    found = found_for(form, weight, quota, drawn_on, colSums(on))
  )
}

# `least` each, the rest in proportion to the weights by largest remainders.
quotas <- function(weight, length, least) {
  least <- min(least, length)
  spare <- length - least * length(weight)
  share <- if (sum(weight) > 0) {
    spare * weight / sum(weight)
  } else {
    rep(spare / length(weight), length(weight))
  }
  whole <- floor(share + 1e-9)
  left <- spare - sum(whole)
  more <- order(-(share - whole), seq_along(share))[
    seq_len(max(0, round(left)))
  ]
  whole[more] <- whole[more] + 1
  least + whole
}

tags_with_parents <- function(pool) {
  lapply(split_codes(pool$items$standards), function(codes) {
    with_ancestors(codes, pool$standards)
  })
}

# From 0 to 1: how much it tells of these students against the most that any tells, where
# that is known; else half of how near it is known to be to the middle of the range
# wanted, and how sharp.
quality_of <- function(pool, usable) {
  figures <- pool$figures[usable$items, , drop = FALSE]
  tells <- figures$information
  if (!is.null(tells) && any(!is.na(tells))) {
    return(or_else(tells / max(tells, na.rm = TRUE), plain_quality(figures, usable) / 2))
  }
  plain_quality(figures, usable)
}

plain_quality <- function(figures, usable) {
  near <- 1 - abs(figures$difficulty - usable$middle)
  sharp <- pmax(0, pmin(1, figures$discrimination))
  (or_else(near, 0.5) + or_else(sharp, 0.2)) / 2
}

# Which items: the fewest missing from the quotas, then the best. A column for
# each item, and one for what is missing of each standard.
choose_for_quotas <- function(on, quota, quality, length) {
  n <- nrow(on)
  useful <- rowSums(on) > 0
  if (!any(useful)) return(integer())
  k <- ncol(on)
  pairs <- which(on, arr.ind = TRUE)
  value <- c(0.1 * quality - 1e-6 * seq_len(n) / n - 0.2 * !useful, rep(-10, k))
  rows <- rbind(
    cbind(pairs[, 2], pairs[, 1], 1),
    cbind(seq_len(k), n + seq_len(k), 1),
    cbind(k + 1, seq_len(n), 1),
    cbind(k + 1 + seq_len(n), seq_len(n), 1)
  )
  found <- maximise(
    value,
    rows,
    c(rep(">=", k), rep("<=", n + 1)),
    c(quota, length, rep(1, n)),
    whole = seq_len(n)
  )
  which(found[seq_len(n)] > 0.5)
}

found_for <- function(form, weight, quota, got, there) {
  wanted <- ifelse(
    names(weight) %in% names(quota),
    quota[names(weight)],
    0
  )
  found <- unname(got[names(weight)])
  found[is.na(found)] <- 0
  in_pool <- there[names(weight)]
  in_pool[is.na(in_pool)] <- 0
  why <- data.table::fcase(
    wanted == 0, say("judge-followup.no_room_in_this"),
    found < wanted, say("judge-followup.the_pool_has_that", there = in_pool),
    default = ""
  )
  data.frame(
    form = rep(form, length(weight)),
    code = names(weight),
    wanted = wanted,
    found = found,
    why = unname(why)
  )
}

stop_nobody_needs <- function(sitting, codes) {
  abort_pregunta(
    "call",
    say("judge-followup.nobody_needs_a_follow"),
    say(
      "judge-followup.all_are_at_or",
      mastery_cut = percent(sitting$settings$mastery_cut),
      codes = some_of(codes, 8),
      any_codes = length(codes)
    ),
    say("judge-followup.name_the_students_and")
  )
}

stop_nothing_drawn <- function(codes, usable) {
  abort_pregunta(
    "call",
    say("judge-followup.no_question_could_be"),
    say(
      "judge-followup.on_the_pool_holds",
      codes = some_of(codes, 8),
      had = usable$had,
      outside = usable$outside
    ),
    say("judge-followup.name_another_bank_or")
  )
}

# The new test's tables: the items drawn for any form, named anew.
followup_of <- function(pool, drawn, found, people, usable, sitting) {
  at <- unique(drawn$at)
  items <- pool$items[at, , drop = FALSE]
  names_of <- paste0("F", seq_along(at))
  options <- pool$options[pool$options$item %in% items$item, , drop = FALSE]
  options$item <- names_of[match(options$item, items$item)]
  from <- items$item
  items$item <- names_of
  table <- data.frame(
    form = drawn$form,
    item = names_of[match(drawn$at, at)],
    from = pool$items$item[drawn$at],
    pool$items[drawn$at, c("standards", "type", "points", "prompt")],
    pool$figures[drawn$at, c("difficulty", "discrimination", "information", "expected")],
    row.names = NULL
  )
  items$from <- from
  new_summary(
    table,
    "followup",
    sitting$settings,
    NULL,
    items = items,
    options = options,
    standards = pool$standards,
    misconceptions = known_ideas(pool, sitting),
    people = people,
    found = found,
    left_out = usable[c("had", "outside")],
    listed = sitting$students
  )
}

known_ideas <- function(pool, sitting) {
  both <- rbind(
    sitting$misconceptions[c("code", "description")],
    pool$misconceptions[c("code", "description")]
  )
  both[!duplicated(both$code), , drop = FALSE]
}
