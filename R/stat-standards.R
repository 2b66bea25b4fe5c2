#' How did the class do on each standard?
#'
#' A student's score on a standard is the points earned over the points open,
#' on the items tagged with it or with any standard below it. An item with
#' several standards counts in each.
#'
#' @inheritParams summarise_items
#' @param by The name of a column of the students, or `"student"` for a row a
#'   student and standard.
#' @param tag The name of a column of the items, such as `"type"` or a tag of your
#'   own, to count by instead of standards: its values, with `;` between where an
#'   item has several, then stand in `code`.
#' @return A data frame in the order of the standards' tree, those without an
#'   item left out: `code`, `title`; `items`, `points`: on how many it rests;
#'   `n`: students with a score on it; `share`: mean of their scores, with the
#'   95% t interval over students `share_low`, `share_high` (`NA` for one
#'   student); and for each level the share of students in it.
#'
#'   By `"student"`: `student`, `name`, `code`, `title`, `items`, `earned`,
#'   `open`, `share` (`NA` when nothing was open), the 95% Beta interval with a
#'   Jeffreys prior on points earned and missed, `share_low`, `share_high`;
#'   `level`; `unsure`: whether the interval reaches into another level.
#'   Absent students are left out.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' summarise_standards(quiz)
#' summarise_standards(quiz, by = "student") |> head(3)
summarise_standards <- function(sitting, by = NULL, tag = NULL) {
  tree <- if (is.null(tag)) standards_in_use(sitting) else tags_in_use(sitting, tag)
  scores <- lapply(tree$items, function(items) row_scores(sitting$codes, sitting$cells, items))
  if (identical(by, "student")) return(student_standards(sitting, tree, scores, tag))
  groups <- student_groups(sitting, by)
  present <- was_present(sitting)
  figures <- lapply(scores, function(score) {
    group_shares(score$share[present], groups$index[present], length(groups$labels), sitting$settings)
  })
  # Standards within groups, as everywhere: the first group's whole list first.
  rows <- order(rep(seq_along(groups$labels), nrow(tree$table)),
    rep(seq_len(nrow(tree$table)), each = length(groups$labels)))
  table <- cbind(
    tree$table[rep(seq_len(nrow(tree$table)), length(groups$labels)), ],
    do.call(rbind, figures)[rows, ]
  )
  table <- with_group(table, list(by = by, groups = groups$labels), nrow(tree$table))
  table <- withhold_small(table, "n", c("code", "title", "items", "points", by), sitting$settings, by, "code")
  tagged_summary(table, sitting, by, tag)
}

tagged_summary <- function(table, sitting, by, tag) {
  standards <- sitting$standards
  structure(new_summary(table, "standards", sitting$settings, by), tag = tag,
    tree = if (is.null(tag)) standards else standards[0, ])
}

# A row a group: mean share with its interval, and the share of students in each level.
group_shares <- function(share, group, n_groups, settings) {
  use <- which(!is.na(share))
  moments <- moments_by(share[use], rep(1, length(use)), group[use], n_groups)
  n <- moments$n
  mean <- ifelse(n > 0, moments$mean_x, NA_real_)
  around <- t_interval(mean, sqrt(moments$xx / (n - 1)), n)
  levels <- names(settings$levels)
  reached <- factor(level_of(share[use], settings), levels)
  counts <- table(factor(group[use], seq_len(n_groups)), reached)
  shares <- matrix(counts / ifelse(n > 0, n, NA_real_), n_groups, dimnames = list(NULL, levels))
  data.frame(n = n, share = mean, share_low = around$low, share_high = around$high, shares, check.names = FALSE)
}

student_standards <- function(sitting, tree, scores, tag) {
  present <- which(was_present(sitting))
  pick <- function(field) as.vector(vapply(scores, function(score) score[[field]][present], numeric(length(present))))
  n_codes <- nrow(tree$table)
  open <- pick("open")
  interval <- jeffreys_interval(pick("earned"), open)
  none <- !(open > 0)
  table <- data.frame(
    sitting$students[rep(present, n_codes), c("student", "name")],
    tree$table[rep(seq_len(n_codes), each = length(present)), c("code", "title", "items")],
    earned = pick("earned"), open = open, share = pick("share"),
    share_low = ifelse(none, NA_real_, interval$low), share_high = ifelse(none, NA_real_, interval$high)
  )
  table$level <- level_of(table$share, sitting$settings)
  table$unsure <- level_of(table$share_low, sitting$settings) != level_of(table$share_high, sitting$settings)
  table <- table[order(match(table$student, sitting$students$student)), ]
  tagged_summary(table, sitting, "student", tag)
}

# The standards that items ask about, parents before their parts, with the
# numbers of the items under each.
standards_in_use <- function(sitting) {
  standards <- sitting$standards
  tags <- split_codes(ifelse(sitting$items$item %in% dropped_items(sitting), NA, sitting$items$standards))
  with_parents <- lapply(tags,
    function(codes) unique(c(codes, unlist(lapply(codes, ancestors, standards = standards)))))
  codes <- tree_order(standards)
  items_under(sitting, codes, standards$title[match(codes, standards$code)], with_parents)
}

# The values of a column of the items, in the order in which they first appear.
tags_in_use <- function(sitting, tag) {
  ours <- c("item", "key", "points", "scoring", "standards", "prompt", "rationale")
  columns <- setdiff(names(sitting$items), ours)
  if (length(tag) != 1 || !tag %in% columns) {
    abort_pregunta("call", paste0("The items have no tag ", quoted(tag[1]), "."),
      paste0("Tags: ", some_of(columns, 12), "."), did_you_mean(tag[1], columns))
  }
  value <- as.character(sitting$items[[tag]])
  tags <- split_codes(ifelse(sitting$items$item %in% dropped_items(sitting), NA, value))
  codes <- unique(unlist(tags))
  items_under(sitting, codes, rep(NA_character_, length(codes)), tags)
}

# items: under each code that has any; table: a row each. tags: of each item.
items_under <- function(sitting, codes, titles, tags) {
  items <- lapply(codes, function(code) which(vapply(tags, function(tag) code %in% tag, TRUE)))
  used <- lengths(items) > 0
  list(
    items = items[used],
    table = data.frame(
      code = as.character(codes[used]), title = titles[used], items = lengths(items[used]),
      points = vapply(items[used], function(j) sum(sitting$items$points[j]), 0)
    )
  )
}

tree_order <- function(standards) {
  below <- function(code) {
    children <- standards$code[which(standards$parent == code)]
    c(code, unlist(lapply(children, below)))
  }
  unlist(lapply(standards$code[is.na(standards$parent)], below))
}
