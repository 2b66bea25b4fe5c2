#' Which misconceptions do the wrong answers stand for, and who holds them?
#'
#' An option may carry the code of a misconception (column `misconception` of
#' `options.csv`). Choosing such options again and again, on different items,
#' is evidence that a student holds it; one time may be an oversight or a guess.
#'
#' @inheritParams summarise_items
#' @param by The name of a column of the students, several of them one inside the
#'   other (see [summarise_items()]), or `"student"` for a row a student and
#'   misconception.
#' @return A data frame, a row a misconception (and group), in the order of
#'   `misconceptions.csv`: `code`, `description`; `items`: the items that offer
#'   it, with `;` between; `n`: students who answered at least one of them;
#'   `likely`, `now_and_then`, `once`, `never`: how many of them hold it likely
#'   (chose it at least twice, in at least half of their chances, and more often than
#'   chance lets those who hold nothing and know as much), chose it
#'   twice or more otherwise, chose it once, never; `share`: `likely / n`,
#'   with its 95% Wilson score interval `share_low`, `share_high` (Wilson 1927),
#'   `NA` without students; `chosen`, `chances`: times chosen, and answered items
#'   that offered it, over all of them.
#'
#'   By `"student"`: `student`, `name`, `section`, `code`, `description`;
#'   `chances`, `chosen`; `by_chance`: the probability that a student who holds nothing
#'   and has such a score on the other items chose as many: each item's own rate among
#'   such students (log-odds linear in the score), without those who hold it where more
#'   students chose several than chance lets them (Dempster, Laird & Rubin 1977); likely
#'   held asks for less than .05, so that of those who hold nothing at most 5 in 100 are
#'   said to; `status`: `likely` (held), `now_and_then`, `once`,
#'   `never`, or `NA` without a chance; `answers`: the very answers, such as
#'   "Q2: A; Q9: C". Absent students are left out.
#'
#'   A blank is no chance. Items that are dropped, and options that the key asks
#'   for, are no evidence. With `by`, groups under the setting `smallest_group`
#'   are withheld.
#' @inheritSection summarise_items Errors
#' @references Dempster, A. P., Laird, N. M. & Rubin, D. B. (1977). Maximum likelihood
#' from incomplete data via the EM algorithm. *Journal of the Royal Statistical Society,
#' Series B* 39, 1-38.
#'
#' Wilson, E. B. (1927). Probable inference, the law of succession, and
#' statistical inference. *Journal of the American Statistical Association* 22,
#' 209-212.
#' @seealso [suggest_misconceptions()] for wrong answers without a code that go
#'   together.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' summarise_misconceptions(quiz)
#' held <- summarise_misconceptions(quiz, by = "student")
#' subset(held, status == "likely", c(student, code, chosen, chances, answers)) |>
#'   head(3)
summarise_misconceptions <- function(sitting, by = NULL) {
  check_is_sitting(sitting)
  present <- which(was_present(sitting))
  coded <- coded_cells(sitting)
  seen <- lapply(
    coded,
    times_chosen,
    sitting = sitting,
    present = present
  )
  if (identical(by, "student")) {
    return(student_misconceptions(
      sitting,
      present,
      misconceptions_in_use(sitting, names(coded)),
      seen
    ))
  }
  by_depth(sitting, by, function(sitting, by) {
    group_misconceptions(sitting, by, present, coded, seen)
  })
}

group_misconceptions <- function(sitting, by, present, coded, seen) {
  groups <- student_groups(sitting, by)
  about <- misconceptions_in_use(sitting, names(coded))
  pieces <- lapply(seq_along(coded), function(k) {
    class_misconception(
      seen[[k]],
      groups$index[present],
      length(groups$labels),
      items_of_code(sitting, coded[[k]])
    )
  })
  code <- rep(seq_along(coded), each = length(groups$labels))
  table <- cbind(about[code, ], do.call(rbind, c(list(no_class), pieces)))
  table <- table[order(rep(seq_along(groups$labels), length(coded))), ]
  table <- with_group(
    table,
    list(by = by, groups = groups$labels),
    length(coded)
  )
  shares <- list(likely = c("share", "share_low", "share_high"))
  table <- withhold_small(
    table,
    "n",
    c("code", "description", "items", by),
    sitting$settings,
    by,
    "code",
    list(counts_of_students(held_codes, with = shares))
  )
  new_summary(table, "misconceptions", sitting$settings, by)
}

# For each code the items that offer it: of each, which cells chose it and which
# are answered. A sitting that several summaries are taken of may bring them along.
coded_cells <- function(sitting) {
  if (!is.null(sitting$coded)) return(sitting$coded)
  parts <- answer_parts(tally_responses(sitting))
  option <- sitting$options[!is.na(sitting$options$misconception), ]
  id <- function(table) paste(table$item, table$option, sep = "\r")
  right <- id(parts$table)[parts$table$key]
  option <- option[
    !id(option) %in% right & !option$item %in% dropped_items(sitting),
  ]
  offset <- cell_offsets(sitting$cells)
  codes <- unique(c(sitting$misconceptions$code, option$misconception))
  codes <- codes[codes %in% option$misconception]
  lapply(split(option, factor(option$misconception, codes)), function(one) {
    item <- match(unique(one$item), sitting$items$item)
    cells <- parts$member$cell[
      parts$member$part %in% match(id(one), id(parts$table))
    ]
    lapply(item, function(j) {
      states <- sitting$cells[[j]]$state
      list(
        item = j,
        chose = (offset[j] + seq_along(states)) %in% cells,
        answered = states == "answered"
      )
    })
  })
}

# A row a student: chances, times chosen, and of each item whether chosen.
times_chosen <- function(items, sitting, present) {
  pick <- function(field) {
    matrix(
      unlist(lapply(items, function(one) {
        one[[field]][sitting$codes[present, one$item]]
      })),
      length(present)
    )
  }
  answered <- pick("answered")
  chose <- pick("chose") & answered
  item <- vapply(items, `[[`, 0L, "item")
  chosen <- rowSums(chose)
  chances <- rowSums(answered)
  by_chance <- held_by_chance(
    chose,
    answered,
    rest_shares(sitting, present, item)
  )
  list(
    chances = chances,
    chosen = chosen,
    chose = chose,
    item = item,
    by_chance = by_chance,
    status = held_status(chosen, chances, by_chance)
  )
}

# Each student's share of the points on the other items, where they are enough to tell who
# knows what.
rest_shares <- function(sitting, present, item) {
  others <- setdiff(seq_along(sitting$cells), item)
  if (length(others) < least_others) return(rep(NA_real_, length(present)))
  codes <- sitting$codes[present, , drop = FALSE]
  row_scores(codes, sitting$cells, others)$share
}

misconceptions_in_use <- function(sitting, codes) {
  listed <- match(codes, sitting$misconceptions$code)
  data.frame(
    code = codes,
    description = sitting$misconceptions$description[listed]
  )
}

items_of_code <- function(sitting, items) {
  paste(
    sitting$items$item[vapply(items, `[[`, 0L, "item")],
    collapse = ";"
  )
}

least_others <- 3

held_codes <- c("likely", "now_and_then", "once", "never")

held_status <- function(chosen, chances, by_chance) {
  word <- data.table::fcase(
    chosen >= 2 & chosen >= chances / 2 & by_chance < 0.05, "likely",
    chosen >= 2, "now_and_then",
    chosen == 1, "once",
    default = "never"
  )
  ifelse(chances > 0, word, NA)
}

no_class <- data.frame(
  items = character(),
  n = integer(),
  likely = integer(),
  now_and_then = integer(),
  once = integer(),
  never = integer(),
  share = numeric(),
  share_low = numeric(),
  share_high = numeric(),
  chosen = numeric(),
  chances = numeric()
)

class_misconception <- function(seen, group, n_groups, items) {
  status <- factor(seen$status, held_codes)
  group <- factor(group, seq_len(n_groups))
  names <- list(NULL, held_codes)
  counts <- matrix(
    table(group, status),
    n_groups,
    dimnames = names
  )
  n <- as.integer(rowSums(counts))
  share <- ifelse(n > 0, counts[, "likely"] / n, NA_real_)
  around <- wilson_interval(share, n)
  sums <- sum_by(
    list(chosen = seen$chosen, chances = seen$chances),
    group,
    n_groups
  )
  data.frame(
    items = rep(items, n_groups),
    n = n,
    counts,
    share = share,
    share_low = around$low,
    share_high = around$high,
    sums
  )
}

student_misconceptions <- function(sitting, present, about, seen) {
  tables <- lapply(seq_along(seen), function(k) {
    one <- seen[[k]]
    data.frame(
      sitting$students[present, c("student", "name", "section")],
      about[rep(k, length(present)), ],
      chances = one$chances,
      chosen = one$chosen,
      by_chance = ifelse(
        one$chances > 0,
        one$by_chance,
        NA_real_
      ),
      status = one$status,
      answers = answers_chosen(sitting, present, one),
      row.names = NULL
    )
  })
  none <- data.frame(
    student = character(),
    name = character(),
    section = character(),
    code = character(),
    description = character(),
    chances = numeric(),
    chosen = numeric(),
    by_chance = numeric(),
    status = character(),
    answers = character()
  )
  table <- do.call(rbind, c(list(none), tables))
  table <- table[order(match(table$student, sitting$students$student)), ]
  new_summary(
    table,
    "misconceptions",
    sitting$settings,
    "student"
  )
}

# "Q2: A; Q9: C" for each student; empty where none was chosen.
answers_chosen <- function(sitting, present, seen) {
  if (!any(seen$chose)) return(rep("", length(present)))
  at <- which(seen$chose, arr.ind = TRUE)
  at <- at[order(at[, 1], seen$item[at[, 2]]), , drop = FALSE]
  item <- seen$item[at[, 2]]
  answer <- character(nrow(at))
  for (j in unique(item)) {
    mine <- which(item == j)
    answer[mine] <- sitting$cells[[j]]$answer[
      sitting$codes[cbind(present[at[mine, 1]], j)]
    ]
  }
  said <- tapply(
    paste0(sitting$items$item[item], ": ", answer),
    factor(at[, 1], seq_along(present)),
    paste,
    collapse = "; "
  )
  or_blank(said) |> unname() |> as.vector()
}
