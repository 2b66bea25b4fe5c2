#' Where does the cut go?
#'
#' What judges expect of a student who just about passes, and where the teacher's own
#' placement of students divides; and what each of these cuts would do.
#'
#' @inheritParams summarise_items
#' @param judges A data frame, a row a judge and item (and round): `judge`, `item`,
#'   `estimate`: the share of its points that a student earns who just about passes, from
#'   0 to 1, or from 0 to 100 where any is above 1; `round` where they judged again.
#' @param placed A data frame, a row a student (and judge): `student`, `placed`: `above`,
#'   `borderline` or `below`, as the teacher knows the student from the work in class.
#' @param cut Further cuts to try, as shares of the points.
#' @param by `NULL`, or a column of the students: what each cut would do in each group.
#' @return A data frame, a row a way to find a cut (and group): `way`: `now` (the setting
#'   `mastery_cut`), `judges` (the last round; `judges_before` the ones before),
#'   `borderline`, `contrasting`, `tried`; `round`; `basis`: how many judges, or students
#'   placed; `cut`, a share, `cut_points`; `cut_se` and the 95% interval `cut_low`,
#'   `cut_high`: where another such panel, or other such students, might have put it;
#'   `spread`: the standard deviation of the judges' cuts; `n`, `passed`, `pass_share`
#'   with its interval `pass_low`, `pass_high`, `agreement`, `kappa`: as in
#'   [summarise_decisions()]; `reason`: why `cut` is `NA`: `few_students` (fewer than 5 on
#'   a side), `no_order` (those placed above do not score higher), or why `agreement` is.
#' @details Judges: the mean over judges of the sum of their estimates times the points,
#'   over the points (Angoff 1971); `cut_se` is their standard deviation over the root of
#'   their number, the interval by t; `NA` with one judge. A judge who did not judge every
#'   item that counts is left out, and named in the attribute `incomplete`.
#'
#'   Borderline: the median of the borderline students' scores, with the interval between
#'   two of these scores that a sign test gives. Contrasting: the score at which being
#'   placed above is as likely as not, by logistic regression on the score of those placed
#'   above and below (Livingston & Zieky 1982), the interval by Fieller's theorem; where
#'   the scores divide the two groups without overlap, the middle of the gap, with no
#'   interval.
#' @references Angoff, W. H. (1971). Scales, norms, and equivalent scores. In Thorndike
#' (ed.), *Educational Measurement*, 2nd edition, 508-600. American Council on Education.
#'
#' Livingston, S. A. & Zieky, M. J. (1982). *Passing scores*. Educational Testing Service.
#'
#' Fieller, E. C. (1954). Some problems in interval estimation. *Journal of the Royal
#' Statistical Society B* 16, 175-185.
#' @section Errors: `pregunta_error_input` when a table lacks a column, names an item or a
#'   student that is not there, or holds an estimate or a placement that cannot be read.
#' @seealso [summarise_judges()], how the judges differ.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' judges <- expand.grid(judge = c("Ames", "Bell", "Cole"), item = quiz$items$item)
#' judges$estimate <- c(0.6, 0.7, 0.55)
#' summarise_cuts(quiz, judges)
summarise_cuts <- function(sitting, judges = NULL, placed = NULL, cut = NULL, by = NULL) {
  check_is_sitting(sitting)
  counted <- which(!sitting$items$item %in% dropped_items(sitting))
  most <- sum(sitting$items$points[counted])
  judged <- if (!is.null(judges)) check_judges(judges, sitting, counted)
  rows <- c(
    list(cut_row("now", sitting$settings$mastery_cut)),
    cuts_of_judges(judged),
    if (!is.null(placed)) cuts_of_placed(check_placed(placed, sitting), sitting),
    lapply(cut, function(one) cut_row("tried", one))
  )
  table <- do.call(rbind, rows)
  table$cut_points <- table$cut * most
  new_summary(
    with_decisions(table, sitting, by), "cuts", sitting$settings, by,
    incomplete = judged$incomplete,
    most = most
  )
}

cut_row <- function(way, cut, basis = NA_integer_, se = NA_real_, low = NA_real_,
                    high = NA_real_, spread = NA_real_, round = NA_integer_,
                    reason = NA_character_) {
  data.frame(
    way = way, round = as.integer(round), basis = as.integer(basis), cut = cut,
    cut_points = NA_real_, cut_se = se, cut_low = pmax(0, low), cut_high = pmin(1, high),
    spread = spread, reason = reason
  )
}

# What each cut would do, of all or of each group.
with_decisions <- function(table, sitting, by) {
  known <- which(!is.na(table$cut) & table$cut > 0)
  figures <- c(
    "n", "passed", "pass_share", "pass_low", "pass_high", "agreement", "kappa"
  )
  found <- if (length(known)) {
    as.data.frame(summarise_decisions(sitting, cut = table$cut[known], by = by))
  }
  groups <- if (is.null(by)) 1 else max(1, length(unique(found[[by]])))
  row <- rep(seq_len(nrow(table)), groups)
  group <- rep(seq_len(groups), each = nrow(table))
  at <- (group - 1) * length(known) + match(row, known)
  out <- rows_of(table, row)
  for (figure in figures) out[[figure]] <- found[[figure]][at]
  out$reason <- or_else(out$reason, found$reason[at])
  out <- out[c(setdiff(names(out), "reason"), "reason")]
  if (is.null(by)) return(out)
  labels <- unique(found[[by]])[group]
  out <- cbind(stats::setNames(data.frame(labels), by), out)
  out[order(group, row), , drop = FALSE]
}

# ---- judges
# ------------------------------------------------------------------------------

# estimates: judges by items, as shares of all points; one matrix a round, the last last.
check_judges <- function(judges, sitting, counted) {
  judges <- named_origin(text_columns(judges), "judges")
  require_its_columns(judges, "judges")
  item <- match(trim_text(judges$item), sitting$items$item)
  refuse_row(judges, is.na(item), "item", say("stat-cuts.no_such_item"))
  estimate <- read_share(judges$estimate)
  refuse_row(
    judges, is.na(estimate) | estimate < 0 | estimate > 1, "estimate",
    say("stat-cuts.no_estimate")
  )
  round <- if (is.null(judges$round)) rep(1, nrow(judges)) else read_number(judges$round)
  refuse_row(judges, is.na(round), "round", say("stat-cuts.no_round"))
  who <- trim_text(judges$judge)
  rounds <- lapply(sort(unique(round)), function(one) {
    mine <- which(round == one & item %in% counted)
    names <- sort(unique(who[mine]))
    estimates <- matrix(NA_real_, length(names), length(counted))
    at <- cbind(match(who[mine], names), match(item[mine], counted))
    estimates[at] <- estimate[mine]
    rownames(estimates) <- names
    list(round = one, estimates = estimates)
  })
  whole <- lapply(rounds, function(one) {
    one$complete <- rowSums(is.na(one$estimates)) == 0
    one
  })
  list(
    rounds = whole,
    weight = sitting$items$points[counted] / sum(sitting$items$points[counted]),
    incomplete = unique(unlist(lapply(whole, function(one) {
      rownames(one$estimates)[!one$complete]
    })))
  )
}

# "60%", 0.6, or 60 where any of them is above 1.
read_share <- function(written) {
  written <- trim_text(as.character(written))
  percent <- grepl("%$", written)
  share <- read_number(sub(" *%$", "", written))
  of_100 <- any(share[!percent] > 1, na.rm = TRUE)
  ifelse(percent | of_100, share / 100, share)
}

refuse_row <- function(table, wrong, column, fix) {
  if (!any(wrong)) return(invisible())
  abort_cell(
    table, which(wrong)[1], column, say("stat-cuts.cannot_be_read", column = column), fix
  )
}

cuts_of_judges <- function(judged) {
  last <- length(judged$rounds)
  lapply(seq_along(judged$rounds), function(k) {
    one <- judged$rounds[[k]]
    way <- if (k == last) "judges" else "judges_before"
    cuts <- as.vector(one$estimates[one$complete, , drop = FALSE] %*% judged$weight)
    n <- length(cuts)
    if (!n) return(cut_row(way, NA_real_, 0L, round = one$round, reason = "few_students"))
    spread <- if (n > 1) stats::sd(cuts) else NA_real_
    around <- t_interval(mean(cuts), spread, n)
    cut_row(
      way, mean(cuts), n, spread / sqrt(n), around$low, around$high, spread, one$round
    )
  })
}

# ---- students placed
# ------------------------------------------------------------------------

placements <- c("below", "borderline", "above")

# A row a student who sat it, as most of those who placed the student did.
check_placed <- function(placed, sitting) {
  placed <- named_origin(text_columns(placed), "placements")
  require_its_columns(placed, "placements")
  student <- match(trim_text(placed$student), sitting$students$student)
  refuse_row(placed, is.na(student), "student", say("stat-cuts.no_such_student"))
  said <- tolower(trim_text(placed$placed))
  blank <- is.na(said) | !nzchar(said)
  place <- match(said, placements)
  refuse_row(
    placed, is.na(place) & !blank, "placed",
    say("stat-cuts.placed_as", words = join_words(placements, "or"))
  )
  whole <- tapply(place[!blank], student[!blank], stats::median)
  rows <- as.integer(names(whole))
  kept <- was_present(sitting)[rows]
  figures <- summarise_students(sitting)
  share <- figures$share[match(sitting$students$student[rows], figures$student)]
  # Between two of them: at the border.
  place <- ifelse(whole == round(whole), whole, 2)
  data.frame(place = as.integer(place), share = share)[kept & !is.na(share), ]
}

least_placed <- 5

cuts_of_placed <- function(placed, sitting) {
  list(borderline_cut(placed$share[placed$place == 2]), contrasting_cut(placed))
}

borderline_cut <- function(share) {
  n <- length(share)
  if (n < least_placed) {
    return(cut_row("borderline", NA_real_, n, reason = "few_students"))
  }
  share <- sort(share)
  # The widest pair of ranks between which the median lies in 95 of 100 samples.
  rank <- stats::qbinom(1 - upper_tail, n, 0.5)
  bounds <- if (rank >= 1) share[c(rank, n + 1 - rank)] else c(NA, NA)
  cut_row("borderline", stats::median(share), n, low = bounds[1], high = bounds[2])
}

contrasting_cut <- function(placed) {
  sides <- placed[placed$place != 2, ]
  above <- sides$place == 3
  n <- nrow(sides)
  if (min(sum(above), sum(!above)) < least_placed) {
    return(cut_row("contrasting", NA_real_, n, reason = "few_students"))
  }
  low <- max(sides$share[!above])
  high <- min(sides$share[above])
  if (low < high) return(cut_row("contrasting", (low + high) / 2, n))
  fit <- stats::glm(above ~ sides$share, family = stats::binomial())
  b <- unname(stats::coef(fit))
  v <- unname(stats::vcov(fit))
  if (b[2] <= 0) return(cut_row("contrasting", NA_real_, n, reason = "no_order"))
  cut <- -b[1] / b[2]
  if (cut < 0 || cut > 1) {
    return(cut_row("contrasting", NA_real_, n, reason = "no_order"))
  }
  around <- fieller(b, v)
  se <- sqrt(max(0, v[1, 1] + 2 * cut * v[1, 2] + cut^2 * v[2, 2])) / b[2]
  cut_row("contrasting", cut, n, se, around[1], around[2])
}

# Where a + b x is 0, with the error of both; no bounds where the slope may be 0.
fieller <- function(b, v) {
  z <- stats::qnorm(upper_tail)
  square <- b[2]^2 - z^2 * v[2, 2]
  cross <- b[1] * b[2] - z^2 * v[1, 2]
  last <- b[1]^2 - z^2 * v[1, 1]
  root <- cross^2 - square * last
  if (square <= 0 || root < 0) return(c(NA_real_, NA_real_))
  sort((-cross + c(-1, 1) * sqrt(root)) / square)
}

#' How do the judges of a cut differ?
#'
#' @inheritParams summarise_cuts
#' @return A data frame, a row a judge and round: `judge`, `round`; `items` judged; `cut`:
#'   the share that this judge's estimates come to, `NA` where items are missing; `above`:
#'   it minus the mean of the judges of that round; `follows`: the rank correlation of the
#'   estimates with the items' difficulty among the students, so whether the judge sees
#'   which questions are hard (Spearman 1904), `NA` for fewer than 5 items; `changed`: the
#'   mean absolute change of the estimates from the round before.
#' @references Spearman, C. (1904). The proof and measurement of association between two
#' things. *American Journal of Psychology* 15, 72-101.
#' @inheritSection summarise_cuts Errors
#' @export
#' @examples
#' quiz <- read_sitting(demo_path("weather"))
#' judges <- expand.grid(judge = c("Ames", "Bell"), item = quiz$items$item)
#' judges$estimate <- round(seq(0.4, 0.9, length.out = nrow(judges)), 2)
#' summarise_judges(quiz, judges)
summarise_judges <- function(sitting, judges) {
  check_is_sitting(sitting)
  counted <- which(!sitting$items$item %in% dropped_items(sitting))
  judged <- check_judges(judges, sitting, counted)
  difficulty <- summarise_items(sitting)$difficulty[counted]
  before <- NULL
  rows <- lapply(judged$rounds, function(one) {
    estimates <- one$estimates
    cut <- ifelse(one$complete, as.vector(estimates %*% judged$weight), NA)
    names <- rownames(estimates)
    follows <- vapply(seq_along(names), function(k) {
      both <- !is.na(estimates[k, ]) & !is.na(difficulty)
      own <- estimates[k, both]
      if (sum(both) < least_items || stats::sd(own) < 1e-9) return(NA_real_)
      stats::cor(own, difficulty[both], method = "spearman")
    }, 0)
    again <- match(names, rownames(before))
    earlier <- if (!is.null(before)) before[again, , drop = FALSE]
    changed <- if (is.null(earlier)) {
      rep(NA_real_, length(names))
    } else {
      rowMeans(abs(estimates - earlier), na.rm = TRUE)
    }
    before <<- estimates
    data.frame(
      judge = names, round = as.integer(one$round),
      items = as.integer(rowSums(!is.na(estimates))), cut = cut,
      above = cut - mean(cut, na.rm = TRUE), follows = follows,
      changed = ifelse(is.nan(changed), NA, changed)
    )
  })
  new_summary(do.call(rbind, rows), "judges", sitting$settings, NULL)
}
