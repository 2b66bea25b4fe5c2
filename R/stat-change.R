#' Did it work?
#'
#' Two sittings of the same students on the same standards: how much changed,
#' who moved up, and who is still to come.
#'
#' @param before,after Two sittings, the earlier one first; see [read_sitting()].
#' @param by `NULL`; a column of the students, or several, each within the one
#'   before; `"student"` for a row a student and standard; `"item"` for the items
#'   that were used in both.
#' @param renamed Codes of standards that are called something else now, as in
#'   `c(OLD = "NEW")`; by default the setting `renamed` of the later sitting.
#' @return A data frame, a row a standard that both ask about (parents before
#'   their parts), after a first row `(all)` for all of them together:
#'   * `code`, `title`, `emphasis`; `items_before`, `items_after`. An item counts
#'     when the other sitting has one on the same standard, on one above or on one
#'     below it;
#'   * `n`: students with a score on it in both; everything else is of these.
#'     `share_before`, `share_after`: their mean scores; `change`: the mean
#'     difference, with its 95% paired t interval `change_low`, `change_high`
#'     (`NA` for one student); `standardised`: the change over the standard
#'     deviation of the scores before (Becker 1988), `NA` without spread;
#'   * `up`, `stayed`, `down`: students who moved a level or more, by the levels
#'     and cuts of the later sitting;
#'   * `below_before`: students below its setting `mastery_cut` the first time;
#'     `reached`: of these, who is there now; `below`: who is below it now (still,
#'     or again);
#'   * `gain_below`: the mean change of those below the first time;
#'     `expected_below`: the part of it that would come without any teaching,
#'     since low scores are partly bad luck: (1 - alpha)(M - m), M the mean of all
#'     who sat the first time, m that of those below (Kelley's regressed score, 1947);
#'     alpha is that of the first scores, cut to 0..1. `NA` without alpha;
#'   * `chosen_low`: whether the students of both sittings scored lower the first
#'     time than those who only sat that one, by more than chance would bring (Welch 1947,
#'     one-sided, .05); `expected`: then the part of `change` that would come by
#'     itself, found the same way, else 0;
#'   * `linked`: whether the two stand on one scale by the questions they share;
#'     `linked_share`: the mean share that the same students would have earned on the
#'     earlier questions by what they did the second time, with its 95% interval
#'     `linked_low`, `linked_high`; `linked_change`: it minus `share_before`, with
#'     `linked_change_low`, `linked_change_high`: a rise that an easier test does not
#'     make. The error of the link is in both intervals;
#'   * `reason`: why `change` is `NA`, or the linked figures: `no_shared_items`,
#'     `few_shared_items` (fewer than 5 of them could be used), `few_students` (fewer than
#'     30 sat one of them), `no_place` (no question on this standard could be placed).
#'
#'   By `"student"`: `student`, `name`, `section`, `code`, `title`,
#'   `share_before`, `share_after`, `change`, `level_before`, `level_after`;
#'   `linked_share`, `linked_low`, `linked_high`, `linked`, `reason` as above, of the
#'   student; `moved`: "up", "stayed", "down"; `outcome`: "got_there" (below the cut
#'   before, not now), "still_to_come" (below both times), "fell_back", "was_there",
#'   "not_there_before", "not_there_after".
#'
#'   By `"item"`: `item_before`, `item` (its name now), `prompt`, `standards`, `n`
#'   (students with points both times), `difficulty_before`, `difficulty_after`,
#'   `change` (Cox & Vargas 1966) with its 95% paired t interval `change_low`,
#'   `change_high`. Items are the same by a column `used_before` of the later
#'   items, else by wording, type and options, without a wording by name and key.
#'   `drift`: by how many logits it has become harder than the questions kept (easier when
#'   below 0), with its standard error `drift_se`, and `drift_p`: of that much or more
#'   without any, corrected for the number of questions (Holm 1979); `anchor`: what it is
#'   for the link: `kept`, `drifted` (left out), `other_rule` (another key or other
#'   points), `not_placed`; `NA` where it is in no link.
#'
#'   With `by`, groups under the later setting `smallest_group` are withheld.
#' @details The link: both tests are placed by the partial credit model (see
#'   [summarise_scale()]), each from all who sat it, and the second is shifted by the mean
#'   difference of the questions in both (mean/mean; Kolen & Brennan 2014), those left out
#'   whose difference lies 2.7 robust standard deviations from the median, while at least
#'   5 stay. A question is in both when `used_before` says so or its wording, type,
#'   options, key and points are the same; without wordings, when at least 10 names with
#'   keys are in both and all their keys agree. The link's error is the larger of the
#'   delta method's and of the spread of the differences over questions. A score's linked
#'   share is that expected at its weighted likelihood place, stretched by a line so that
#'   it is right on average at every place over the students of the test.
#' @section Errors: `pregunta_error_call` when the two share no student or no
#'   standard.
#' @references Becker, B. J. (1988). Synthesizing standardized mean-change measures.
#' *British Journal of Mathematical and Statistical Psychology* 41, 257-278.
#'
#' Cox, R. C. & Vargas, J. S. (1966). *A comparison of item selection techniques
#' for norm-referenced and criterion-referenced tests*. University of Pittsburgh.
#'
#' Kelley, T. L. (1947). *Fundamentals of Statistics*. Harvard University Press.
#'
#' Kolen, M. J. & Brennan, R. L. (2014). *Test equating, scaling, and linking*. Springer.
#'
#' Yuen, K. K. (1974). The two-sample trimmed t for unequal population variances.
#' *Biometrika* 61, 165-170.
#'
#' Welch, B. L. (1947). The generalization of "Student's" problem when several
#' different population variances are involved. *Biometrika* 34, 28-35.
#' @export
#' @examples
#' before <- read_sitting(demo_path())
#' after <- read_sitting(demo_path("follow-up"))
#' compare_sittings(before, after)
#' compare_sittings(before, after, by = "item")
#' compare_sittings(before, after, by = "student") |>
#'   subset(
#'     outcome == "still_to_come" & code == "TC.1.b",
#'     c(name, share_before, share_after)
#'   )
compare_sittings <- function(before, after, by = NULL,
                             renamed = after$settings$renamed) {
  pair <- pair_sittings(before, after, renamed)
  require_same_students(pair)
  pair$link <- link_of_pair(before, after, pair)
  table <- if (identical(by, "item")) {
    change_of_items(before, after, pair)
  } else if (identical(by, "student")) {
    change_of_students(pair)
  } else {
    change_by_depth(pair, by)
  }
  new_summary(
    table,
    "change",
    pair$settings,
    by,
    tree = pair$standards,
    titles = c(before$settings$title, after$settings$title),
    shared = nrow(paired_items(before, after)),
    questions = nrow(after$items),
    link = pair$link$told,
    here = attendance(pair)
  )
}

require_same_students <- function(pair) {
  both <- pair$people$status_before %in% sat_statuses &
    pair$people$status_after %in% sat_statuses
  if (any(both)) return(invisible())
  abort_pregunta(
    "call",
    say("stat-change.nobody_sat_both_tests"),
    say(
      "stat-change.before_after",
      student = some_of(
        pair$people$student[pair$people$status_before %in% sat_statuses],
        4
      ),
      pair_people = some_of(
        pair$people$student[pair$people$status_after %in% sat_statuses],
        4
      )
    ),
    say("stat-change.the_students_need_the")
  )
}

# Who sat both, who only one, and who neither.
attendance <- function(pair) {
  people <- pair$people
  first <- people$status_before %in% sat_statuses
  second <- people$status_after %in% sat_statuses
  word <- data.table::fcase(
    first & second, "both",
    first, "not_there_after",
    second, "not_there_before",
    default = "neither"
  )
  data.frame(people[c("student", "name", "section")], there = word)
}

# One column of groups, or every depth of several, as the other summaries do.
change_by_depth <- function(pair, by) {
  depths <- seq_len(max(1, length(by)))
  pieces <- lapply(depths, function(depth) {
    change_of_groups(pair, by[seq_len(depth)])
  })
  table <- if (length(by) > 1) stack_depths(pieces, by) else pieces[[1]]
  kept <- c(
    "code", "title", "emphasis", "items_before", "items_after", by
  )
  cells <- lapply(
    c("below_before", "reached", "below"),
    counts_of_students,
    rows = FALSE
  )
  cells <- c(list(counts_of_students(c("up", "stayed", "down"))), cells)
  withhold_small(
    table,
    "n",
    kept,
    pair$settings,
    by,
    "code",
    cells
  )
}

change_of_groups <- function(pair, by) {
  groups <- student_groups(list(students = pair$people), if (length(by)) by)
  n_codes <- nrow(pair$tree)
  group <- factor(groups$index, seq_along(groups$labels))
  members <- unname(split(seq_along(group), group))
  figures <- lapply(members, function(here) {
    lapply(
      seq_len(n_codes),
      function(k) change_figures(pair, here, k)
    )
  })
  # a vector a figure
  figures <- do.call(Map, c(list(c), unlist(figures, recursive = FALSE)))
  about <- pair$tree[
    rep(seq_len(n_codes), length(groups$labels)),
    c("code", "title", "emphasis", "items_before", "items_after")
  ]
  table <- quick_frame(c(as.list(about), figures))
  with_group(
    table,
    list(by = if (length(by)) by, groups = groups$labels),
    n_codes
  )
}

# Of the students `here` on the k-th standard.
change_figures <- function(pair, here, k) {
  first <- pair$before$share[here, k]
  second <- pair$after$share[here, k]
  both <- !is.na(first) & !is.na(second)
  a <- first[both]
  b <- second[both]
  n <- length(a)
  around <- t_interval_within(
    mean(b - a),
    stats::sd(b - a),
    n,
    -1,
    1
  )
  cut <- pair$settings$mastery_cut - 1e-9
  move <- sign(level_step(pair, b, k) - level_step(pair, a, k))
  below <- a < cut
  by_itself <- function(low) {
    regressed_gain(
      pair$before$alpha[k],
      mean(first, na.rm = TRUE),
      mean(low)
    )
  }
  low <- was_chosen_low(a, first[!is.na(first) & !both])
  none <- n == 0
  list(
    n = n,
    share_before = or_na(mean(a), none),
    share_after = or_na(mean(b), none),
    change = or_na(mean(b - a), none),
    change_low = around$low,
    change_high = around$high,
    standardised = standardised_change(a, b),
    up = sum(move > 0),
    stayed = sum(move == 0),
    down = sum(move < 0),
    below_before = sum(below),
    reached = sum(below & b >= cut),
    below = sum(b < cut),
    gain_below = or_na(mean((b - a)[below]), !any(below)),
    expected_below = or_na(by_itself(a[below]), !any(below)),
    chosen_low = low,
    expected = ifelse(low, by_itself(a), 0)
  ) |>
    c(linked_figures(pair$link, here[both], a, k, none))
}

# Of the students `here` on the k-th standard, who had the share `first` before.
linked_figures <- function(link, here, first, k, none) {
  share <- link$share[here, k]
  known <- !is.na(share)
  error <- or_na(abs(mean(link$slope[here, k][known])) * link$error, !any(known))
  then <- linked_mean(share[known], error, link$df)
  gain <- linked_mean((share - first)[known], error, link$df, -1)
  reason <- or_else(link$reason[k], if (any(known)) NA_character_ else "no_place")
  list(
    linked = any(known),
    linked_share = then$mean,
    linked_low = then$low,
    linked_high = then$high,
    linked_change = gain$mean,
    linked_change_low = gain$low,
    linked_change_high = gain$high,
    reason = if (none) "few_students" else reason
  )
}

or_na <- function(x, none) if (none) NA_real_ else x

level_step <- function(pair, share, k) {
  levels <- levels_for(
    pair$tree$code[k],
    pair$settings,
    pair$standards
  )
  match(level_of(share, pair$settings, levels), names(levels))
}

# Becker 1988: in standard deviations of the scores before.
standardised_change <- function(a, b) {
  spread <- if (length(a) > 1) stats::sd(a) else NA
  if (is.na(spread) || spread < 1e-9) NA_real_ else mean(b - a) / spread
}

# Kelley 1947: a score is expected again as alpha of its distance from the mean.
regressed_gain <- function(alpha, mean_all, mean_low) {
  if (is.na(alpha)) return(NA_real_)
  (1 - max(0, min(1, alpha))) * (mean_all - mean_low)
}

# Whether those who sat both had been lower than those who did not come again.
was_chosen_low <- function(compared, others) {
  if (!length(compared)) return(NA)
  if (length(compared) < 2 || length(others) < 2) return(FALSE)
  if (stats::sd(compared) < 1e-9 && stats::sd(others) < 1e-9) {
    return(mean(compared) < mean(others) - 1e-9)
  }
  test <- welch(
    mean(compared) - mean(others),
    stats::sd(compared),
    length(compared),
    stats::sd(others),
    length(others)
  )
  mean(compared) < mean(others) && test$p / 2 < 0.05
}

# ---- a row a student and standard --------------------------------------------------

change_of_students <- function(pair) {
  people <- pair$people
  n <- nrow(people)
  k <- rep(seq_len(nrow(pair$tree)), n)
  at <- cbind(rep(seq_len(n), each = nrow(pair$tree)), k)
  first <- pair$before$share[at]
  second <- pair$after$share[at]
  level <- function(share) {
    steps <- integer(length(share))
    for (code in seq_len(nrow(pair$tree))) {
      steps[k == code] <- level_step(pair, share[k == code], code)
    }
    steps
  }
  from <- level(first)
  to <- level(second)
  names_of <- names(pair$settings$levels)
  about <- rows_of(people[c("student", "name", "section")], at[, 1])
  standard <- rows_of(pair$tree[c("code", "title")], k)
  moves <- c("down", "stayed", "up")
  table <- quick_frame(
    c(
      as.list(about),
      as.list(standard),
      list(
        share_before = first,
        share_after = second,
        change = second - first,
        level_before = names_of[from],
        level_after = names_of[to],
        moved = moves[sign(to - from) + 2],
        outcome = outcome_of(first, second, pair$settings)
      ),
      linked_of_students(pair$link, at)
    )
  )
  rows_of(table, which(!is.na(first) | !is.na(second)))
}

linked_of_students <- function(link, at) {
  share <- link$share[at]
  list(
    linked = !is.na(share),
    linked_share = share,
    linked_low = link$low[at],
    linked_high = link$high[at],
    reason = ifelse(is.na(share), or_else(link$reason[at[, 2]], "no_place"), NA)
  )
}

outcome_of <- function(first, second, settings) {
  cut <- settings$mastery_cut - 1e-9
  data.table::fcase(
    is.na(first), "not_there_before",
    is.na(second), "not_there_after",
    first < cut & second < cut, "still_to_come",
    first < cut, "got_there",
    second < cut, "fell_back",
    default = "was_there"
  )
}

# ---- items used in both ------------------------------------------------------------

change_of_items <- function(before, after, pair) {
  same <- paired_items(before, after)
  share <- function(sitting, items) {
    points <- cell_points(sitting)[
      match(pair$people$student, sitting$students$student),
      items,
      drop = FALSE
    ]
    present <- sitting$students$student[was_present(sitting)]
    points[!pair$people$student %in% present, ] <- NA
    sweep(points, 2, sitting$items$points[items], "/")
  }
  first <- share(before, same$before)
  second <- share(after, same$after)
  first[is.na(second)] <- NA
  second[is.na(first)] <- NA
  n <- colSums(!is.na(first))
  mean_of <- function(x) ifelse(n > 0, colMeans(x, na.rm = TRUE), NA_real_)
  gone <- second - first
  spread <- apply(gone, 2, stats::sd, na.rm = TRUE)
  around <- t_interval_within(mean_of(gone), spread, n, -1, 1)
  data.frame(
    item_before = before$items$item[same$before],
    item = after$items$item[same$after],
    prompt = after$items$prompt[same$after],
    standards = after$items$standards[same$after],
    n = unname(n),
    difficulty_before = mean_of(first),
    difficulty_after = mean_of(second),
    change = mean_of(gone),
    change_low = around$low,
    change_high = around$high,
    drift_of_items(pair$link, same$after)
  )
}

drift_of_items <- function(link, numbers) {
  anchors <- link$anchors
  if (is.null(anchors)) anchors <- no_anchors()
  row <- match(numbers, anchors$number)
  anchors[row, c("drift", "drift_se", "drift_p", "anchor"), drop = FALSE]
}
