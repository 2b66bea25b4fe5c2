#' How did the class do on each standard?
#'
#' A student's score on a standard is the points earned over the points open,
#' on the items tagged with it or with any standard below it. An item with
#' several standards counts in each.
#'
#' @inheritParams summarise_items
#' @param by The name of a column of the students, several of them one inside the
#'   other (see [summarise_items()]), or `"student"` for a row a student and standard.
#' @param tag The name of a column of the items, such as `"type"` or a tag of your
#'   own, to count by instead of standards: its values, with `;` between where an
#'   item has several, then stand in `code`.
#' @param helped Whether to say as well what is known with the help of the rest: of a
#'   student's score on a few items with that of the rest of the test, of a small group's
#'   mean with that of the other groups.
#' @return A data frame in the order of the standards' tree, those without an
#'   item left out: `code`, `title`; `items`, `points`: on how many it rests;
#'   `n`: students with a score on it; `share`: mean of their scores, with the
#'   95% t interval over students, cut to 0..1, `share_low`, `share_high` (`NA` for one
#'   student); for each level the share of students in it; `emphasis`: priority or
#'   supporting; `shown_by`: the items, with `;` between, the hardest first;
#'   `out_of_reach`: levels, with `;` between, that no score on these items falls into
#'   (45 to 60% of five items of one point), else `NA`.
#'
#'   With `by`, `difference`: the group's mean minus that of the other students (of the
#'   group around it), with its 95% interval `difference_low`, `difference_high` (Welch
#'   1947); `beyond_chance`: whether it is more than chance would bring, among all
#'   comparisons in the group around (Benjamini & Hochberg 1995, at .05). The bounds and
#'   the answer are `NA` below two students on a side, and where all scores on a side are
#'   equal.
#'
#'   By `"student"`: `student`, `name`, `section`, `code`, `title`, `items`, `earned`,
#'   `open`, `share` (`NA` when nothing was open), the 95% Beta interval with a
#'   Jeffreys prior, `share_low`, `share_high`, on the share earned and missed of as many
#'   trials as the items are worth: (Σ m)² / Σ m² for items of m points (Kish 1965), where
#'   m² counts in proportion to the variance of the item's points beside that of an item
#'   of the same difficulty that is earned or not (from 15 students; at least a tenth);
#'   `level`; `unsure`: whether the interval reaches into another level; `emphasis`.
#'   Absent students are left out.
#'
#'   With `helped`, by `"student"`: `estimate`: the share that the student would earn on
#'   many more such items, with its 95% interval `estimate_low`, `estimate_high`;
#'   `estimate_level`, and `still_unsure`: whether that interval reaches into another
#'   level. Of a group: `estimate`, `estimate_low`, `estimate_high`: its mean drawn to
#'   that of all. The raw figures stay what they are. `NA` of one item, and below 30
#'   students, 5 other items, or 5 groups.
#'
#'   Levels are those of the setting `levels`, with the setting `cuts` where a
#'   standard has cuts of its own, after rounding to the setting's step.
#' @details Two items say little, and a student who does well on all the rest will mostly
#'   do well on these: `estimate` is the best linear prediction of the true share from the
#'   score on the standard and that on the rest of the test (Wainer et al. 2001, with two
#'   parts), m + b1 (x - m) + b2 (r - m'), b from their covariances and the reliability of
#'   x: the largest of its own alpha, of what the test's alpha comes to for so few items,
#'   and of what its correlation with the rest asks for; the interval is of a Beta
#'   distribution with the mean and variance so found. In simulations it lies half as far
#'   from the truth as the score on two items, see `vignette("accuracy")`. A group's mean
#'   is drawn to all groups' mean by its reliability, between / (between + error) (Kelley
#'   1947; Morris 1983), where `between`, the variance of true means, is by moments
#'   (DerSimonian & Laird 1986). [group_students()], [plan_reteach()] and
#'   [draw_followup()] go by these estimates where they can be had.
#' @references Wainer, H. et al. (2001). Augmented scores: "borrowing strength" to compute
#' scores based on small numbers of items. In Thissen & Wainer (eds.), *Test Scoring*,
#' 343-387. Erlbaum.
#'
#' Morris, C. N. (1983). Parametric empirical Bayes inference: theory and applications.
#' *Journal of the American Statistical Association* 78, 47-55.
#'
#' DerSimonian, R. & Laird, N. (1986). Meta-analysis in clinical trials. *Controlled
#' Clinical Trials* 7, 177-188.
#'
#' Benjamini, Y. & Hochberg, Y. (1995). Controlling the false discovery rate.
#' *Journal of the Royal Statistical Society, Series B* 57, 289-300.
#'
#' Kish, L. (1965). *Survey Sampling*. Wiley.
#'
#' Welch, B. L. (1947). The generalization of "Student's" problem when several
#' different population variances are involved. *Biometrika* 34, 28-35.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' summarise_standards(quiz)
#' summarise_standards(quiz, by = c("teacher", "section")) |>
#'   subset(code == "TC.2.b", c(teacher, section, n, share, difference, beyond_chance))
#' summarise_standards(quiz, by = "student") |> head(3)
summarise_standards <- function(sitting, by = NULL, tag = NULL, helped = FALSE) {
  check_is_sitting(sitting)
  tree <- if (is.null(tag)) {
    standards_in_use(sitting)
  } else {
    tags_in_use(sitting, tag)
  }
  scores <- lapply(tree$items, function(items) {
    row_scores(sitting$codes, sitting$cells, items)
  })
  if (identical(by, "student")) {
    return(student_standards(sitting, tree, scores, tag, helped))
  }
  by_depth(sitting, by, function(sitting, by) {
    group_standards(sitting, by, tree, scores, tag, helped)
  })
}

group_standards <- function(sitting, by, tree, scores, tag, helped) {
  groups <- student_groups(sitting, by)
  n_groups <- length(groups$labels)
  n_codes <- nrow(tree$table)
  present <- was_present(sitting)
  figures <- lapply(seq_len(n_codes), function(k) {
    group_shares(
      scores[[k]]$share[present],
      groups$index[present],
      n_groups,
      sitting$settings,
      tree$levels[[k]]
    )
  })
  # Standards within groups, as everywhere: the first group's whole list first.
  group <- rep(seq_len(n_groups), n_codes)
  code <- rep(seq_len(n_codes), each = n_groups)
  none <- group_shares(numeric(), integer(), 0L, sitting$settings)
  figures <- do.call(rbind, c(list(none), figures))
  apart <- if (!is.null(by)) {
    against_the_rest(
      figures$n,
      figures$share,
      figures$sd,
      parents_of(groups$labels)[group],
      code
    )
  }
  estimates <- if (helped && !is.null(by)) {
    helped_groups(figures, parents_of(groups$labels)[group], code)
  }
  figures$sd <- NULL
  table <- c(
    as.list(tree$table[code, c("code", "title", "items", "points")]),
    figures,
    as.list(tree$table[code, c("emphasis", "shown_by")]),
    list(out_of_reach = out_of_reach(sitting, tree)[code]),
    apart,
    estimates
  )
  table <- quick_frame(table)[order(group, code), ]
  table <- with_group(
    table,
    list(by = by, groups = groups$labels),
    n_codes
  )
  kept <- c(
    "code",
    "title",
    "items",
    "points",
    "emphasis",
    "shown_by",
    "out_of_reach",
    by
  )
  levels <- counts_of_students(names(sitting$settings$levels), shares = TRUE)
  settings <- sitting$settings
  table <- withhold_small(
    table,
    "n",
    kept,
    settings,
    by,
    "code",
    list(levels)
  )
  tagged_summary(table, sitting, by, tag)
}

tagged_summary <- function(table, sitting, by, tag) {
  standards <- sitting$standards
  new_summary(
    table,
    "standards",
    sitting$settings,
    by,
    tag = tag,
    tree = if (is.null(tag)) standards else standards[0, ]
  )
}

# Of each standard the levels that no number of its points falls into.
out_of_reach <- function(sitting, tree) {
  steps <- lapply(
    seq_len(nrow(sitting$items)),
    possible_points,
    sitting = sitting
  )
  found <- lapply(seq_along(tree$items), function(k) {
    items <- tree$items[[k]]
    levels <- tree$levels[[k]]
    scores <- possible_sums(steps[items])
    if (is.null(scores)) return(NA_character_)
    reached <- level_of(
      scores / max(scores),
      sitting$settings,
      levels
    )
    none <- setdiff(names(levels), reached)
    if (length(none)) paste(none, collapse = ";") else NA_character_
  })
  as.character(unlist(found))
}

# What an item can give: all or nothing, or, once somebody earned or was given a part,
# any such part.
possible_points <- function(sitting, j) {
  most <- sitting$items$points[j]
  seen <- sitting$cells[[j]]$points
  seen <- seen[!is.na(seen)]
  by_hand <- is_marked(sitting$items$type[j])
  if (!by_hand && all(seen < 1e-9 | seen > most - 1e-9)) return(c(0, most))
  parts <- points_unit(c(most, seen))
  if (parts > most_parts) return(NULL)
  seq(0, round(most * parts)) / parts
}

most_parts <- 100

# All sums of one value of each; NULL where they are not few.
possible_sums <- function(steps) {
  if (!length(steps) || any(lengths(steps) == 0)) return(NULL)
  sums <- 0
  for (values in steps) {
    sums <- unique(round(as.vector(outer(sums, values, `+`)), 9))
    if (length(sums) > most_parts^2) return(NULL)
  }
  sums
}

# A row a group: mean share with its interval and standard deviation, and the
# share of students in each level.
group_shares <- function(share, group, n_groups, settings,
                         levels = settings$levels) {
  use <- which(!is.na(share))
  moments <- moments_by(
    share[use],
    rep(1, length(use)),
    group[use],
    n_groups
  )
  n <- moments$n
  mean <- ifelse(n > 0, moments$mean_x, NA_real_)
  sd <- ifelse(n > 1, sqrt(moments$xx / (n - 1)), NA_real_)
  around <- t_interval_within(mean, sd, n, 0, 1)
  reached <- factor(
    level_of(share[use], settings, levels),
    names(levels)
  )
  counts <- table(factor(group[use], seq_len(n_groups)), reached)
  shares <- matrix(
    counts / ifelse(n > 0, n, NA_real_),
    n_groups,
    length(levels),
    dimnames = list(NULL, names(levels))
  )
  data.frame(
    n = n,
    share = mean,
    share_low = around$low,
    share_high = around$high,
    shares,
    sd = sd,
    check.names = FALSE
  )
}

student_standards <- function(sitting, tree, scores, tag, helped) {
  present <- which(was_present(sitting))
  pick <- function(field) {
    n <- length(present)
    columns <- vapply(
      scores,
      function(score) score[[field]][present],
      numeric(n)
    )
    as.vector(columns)
  }
  n_codes <- nrow(tree$table)
  open <- pick("open")
  trials <- trials_of_items(sitting, tree$items)[present, , drop = FALSE]
  interval <- jeffreys_interval(pick("share"), as.vector(trials))
  none <- !(open > 0)
  code <- rep(seq_len(n_codes), each = length(present))
  table <- data.frame(
    sitting$students[rep(present, n_codes), c("student", "name", "section")],
    tree$table[code, c("code", "title", "items")],
    earned = pick("earned"),
    open = open,
    share = pick("share"),
    share_low = ifelse(none, NA_real_, interval$low),
    share_high = ifelse(none, NA_real_, interval$high)
  )
  level <- function(share) {
    pieces <- lapply(seq_len(n_codes), function(k) {
      level_of(
        share[code == k],
        sitting$settings,
        tree$levels[[k]]
      )
    })
    as.character(unlist(pieces))
  }
  table$level <- level(table$share)
  table$unsure <- level(table$share_low) != level(table$share_high)
  table$emphasis <- tree$table$emphasis[code]
  if (helped) {
    table <- cbind(table, helped_columns(sitting, tree$items, present, tree$levels))
  }
  table <- table[order(match(table$student, sitting$students$student)), ]
  tagged_summary(table, sitting, "student", tag)
}

# Of how many trials each student's score on each set of items is: the items, not the
# points, are tried. Items of different weights m are as good as (sum of m)^2 / (sum of
# m^2) equal ones (Kish 1965); an item that can be earned in part wavers less than one
# that is earned or not, and its m^2 counts by how much less.
trials_of_items <- function(sitting, sets) {
  wavers <- waver_of_items(sitting)
  columns <- lapply(sets, function(items) {
    open <- squares <- numeric(nrow(sitting$codes))
    for (j in items) {
      cell <- sitting$cells[[j]]
      most <- ifelse(is.na(cell$points), 0, cell$most)[
        sitting$codes[, j]
      ]
      open <- open + most
      squares <- squares + most^2 * wavers[j]
    }
    ifelse(squares > 0, open^2 / squares, 0)
  })
  matrix(
    as.numeric(unlist(columns)),
    nrow(sitting$codes),
    length(sets)
  )
}

# The variance of each item's points beside that of an item of the same difficulty that is
# earned or not. With few students it cannot be told and is taken as such an item's.
waver_of_items <- function(sitting) {
  wavers <- Map(
    function(seen, most) {
      n <- sum(seen$count)
      if (n < least_for_waver) return(1)
      share <- seen$points / most
      mean <- sum(seen$count * share) / n
      squares <- sum(seen$count * share^2) / n - mean^2
      whole <- mean * (1 - mean)
      if (whole > 1e-9) min(1, max(least_waver, squares / whole)) else 1
    },
    if (is.null(sitting$seen_by_all)) points_seen(sitting) else sitting$seen_by_all,
    sitting$items$points
  )
  unlist(wavers)
}

least_for_waver <- 15
least_waver <- 0.1

# The standards that items ask about, parents before their parts, with the
# numbers of the items under each.
standards_in_use <- function(sitting) {
  standards <- sitting$standards
  tags <- split_codes(
    ifelse(
      sitting$items$item %in% dropped_items(sitting),
      NA,
      sitting$items$standards
    )
  )
  with_parents <- lapply(tags, function(codes) {
    with_ancestors(codes, standards)
  })
  codes <- tree_order(standards)
  at <- match(codes, standards$code)
  tree <- items_under(
    sitting,
    codes,
    standards$title[at],
    with_parents
  )
  tree$table$emphasis <- standards$emphasis[
    match(tree$table$code, standards$code)
  ]
  tree$levels <- lapply(
    tree$table$code,
    levels_for,
    sitting$settings,
    standards
  )
  tree
}

# The levels with the cuts of this standard, or of the nearest above it that has
# its own.
levels_for <- function(code, settings, standards) {
  if (!length(settings$cuts)) return(settings$levels)
  own <- intersect(c(code, ancestors(code, standards)), names(settings$cuts))
  if (length(own)) settings$cuts[[own[1]]] else settings$levels
}

# The values of a column of the items, in the order in which they first appear.
tags_in_use <- function(sitting, tag) {
  columns <- tag_columns(sitting$items)
  if (length(tag) != 1 || !tag %in% columns) {
    abort_pregunta(
      "call",
      say("stat-standards.the_items_have_no", tag = quoted(tag[1])),
      say("stat-standards.tags", columns = some_of(columns, 12)),
      did_you_mean(tag[1], columns)
    )
  }
  value <- as.character(sitting$items[[tag]])
  tags <- split_codes(
    ifelse(
      sitting$items$item %in% dropped_items(sitting),
      NA,
      value
    )
  )
  codes <- unique(unlist(tags))
  tree <- items_under(
    sitting,
    codes,
    rep(NA_character_, length(codes)),
    tags
  )
  tree$table$emphasis <- rep(NA_character_, nrow(tree$table))
  tree$levels <- rep(list(sitting$settings$levels), nrow(tree$table))
  tree
}

# items: under each code that has any; table: a row each. tags: of each item.
items_under <- function(sitting, codes, titles, tags) {
  item <- rep(seq_along(tags), lengths(tags))
  items <- unname(split(item, factor(unlist(tags), codes)))
  used <- lengths(items) > 0
  points <- cell_points(sitting)[was_present(sitting), , drop = FALSE]
  earned <- colMeans(points, na.rm = TRUE) / sitting$items$points
  hardest <- function(j) sitting$items$item[j[order(earned[j], j)]]
  list(
    items = items[used],
    table = frame_of(
      list(
        code = as.character(codes[used]),
        title = titles[used],
        items = lengths(items[used]),
        points = vapply(
          items[used],
          function(j) sum(sitting$items$points[j]),
          0
        ),
        shown_by = vapply(items[used], function(j) {
          paste(hardest(j), collapse = ";")
        }, "")
      )
    )
  )
}
