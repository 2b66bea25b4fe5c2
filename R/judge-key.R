#' Which keys are in doubt, and what would a change do?
#'
#' A key is in doubt when another option's correlation with the rest of the test
#' is positive and higher than the key's, or when more of the upper group chose
#' it than the key. Only choice items with one right option can be.
#'
#' @param sitting A [sitting()].
#' @return A data frame, a row an item and rival, the clearest case first:
#'   * `item`, `key`, `rival`, `rival_text`; `n`;
#'   * `doubt`: "clear" when the answers are so much likelier with the rival as the key
#'     that sound items would be accused in about 1 of 100 tests (from 15 students; the
#'     likelihood ratio of both keys, where the log-odds of the right option rise by 0.8
#'     for each standard deviation of the rest score and its share is like those of the
#'     other items' keys), else "possible"; `vignette("accuracy")` says what it finds;
#'   * `key_count`, `rival_count`; `key_rest`, `rival_rest`: correlation of "chose
#'     it" with the rest; `key_upper`, `rival_upper`: share of the upper 27% by
#'     total (ties shared) that chose each;
#'   * what would happen with the rival as the key: `rise`, `fall`: number of students
#'     whose share of the points moves; `mean_before`, `mean_after` of the test, as
#'     shares; `alpha_before`, `alpha_after`; `discrimination_after` of the item; see
#'     [what_if()]. Of more than 200 rivals NA beyond the 200 clearest;
#'   * `what`, `do`: in words.
#' @section Errors: `pregunta_error_call` when it is no sitting.
#' @export
#' @examples
#' review_key(read_sitting(demo_path()))
review_key <- function(sitting) {
  check_is_sitting(sitting)
  tally <- tally_responses(sitting)
  rivals <- rivals_of_keys(
    tally,
    summarise_items(tally),
    summarise_options(tally, near_misses = FALSE)
  )
  before <- key_figures(sitting)
  tried <- utils::head(rivals, most_rivals_tried)
  effects <- each_row(tried, function(row) {
    effect_of_key(sitting, before, tried$item[row], tried$rival[row])
  })
  none <- data.frame(
    rise = integer(),
    fall = integer(),
    mean_before = numeric(),
    mean_after = numeric(),
    alpha_before = numeric(),
    alpha_after = numeric(),
    discrimination_after = numeric()
  )
  effects <- do.call(rbind, c(list(none), effects))
  table <- cbind(rivals, effects[seq_len(nrow(rivals)), ])
  said <- say_rivals(table)
  table$what <- said$what
  table$do <- said$do
  new_summary(table, "keys", sitting$settings, NULL)
}

# Each takes a tally of its own; 800 of them stand in a test of 500 questions of noise.
most_rivals_tried <- 200

rivals_of_keys <- function(tally, items, options) {
  options$upper <- upper_shares(tally, options)
  sure <- rivals_of_items(items, options)$row
  pieces <- lapply(
    items$item[
      is_answered(items$type, "chosen") & !items$reason %in% "dropped"
    ],
    function(item) {
      mine <- options[
        options$item == item & options$state == "answered",
      ]
      key <- mine[mine$key, ]
      if (nrow(key) != 1) return(NULL)
      better <- !is.na(mine$option_rest) &
        mine$option_rest > 0 &
        (is.na(key$option_rest) | mine$option_rest > key$option_rest)
      # Where nobody of the upper group was given the item there is no share of them.
      more_of_upper <- mine$upper > key$upper + 1e-9
      rival <- mine[
        which(!mine$key & mine$count > 0 & (better | more_of_upper)),
      ]
      if (!nrow(rival)) return(NULL)
      n <- items$n[items$item == item]
      clear <- options$option[sure[match(item, items$item)]]
      data.frame(
        item = item,
        key = key$option,
        rival = rival$option,
        rival_text = rival$text,
        n = n,
        doubt = ifelse(
          rival$option %in% clear,
          "clear",
          "possible"
        ),
        key_count = key$count,
        rival_count = rival$count,
        key_rest = key$option_rest,
        rival_rest = rival$option_rest,
        key_upper = key$upper,
        rival_upper = rival$upper
      )
    }
  )
  none <- data.frame(
    item = character(),
    key = character(),
    rival = character(),
    rival_text = character(),
    n = numeric(),
    doubt = character(),
    key_count = numeric(),
    rival_count = numeric(),
    key_rest = numeric(),
    rival_rest = numeric(),
    key_upper = numeric(),
    rival_upper = numeric()
  )
  table <- do.call(rbind, c(list(none), pieces))
  gap <- table$rival_rest - or_else(table$key_rest, 0)
  table[order(table$doubt, -gap), ]
}

# Of the upper group, the share that chose each option of a choice item.
upper_shares <- function(tally, options) {
  sums <- tally$sums
  given <- which(!sums$state %in% c("not_given", "excused"))
  n <- sums$weighted[given, "upper"]
  item <- tally$items$item[sums$item[given]]
  answer <- unlist(lapply(tally$cells, `[[`, "answer"))[
    sums$cell[given]
  ]
  chosen <- rowsum(n, paste(item, answer, sep = "\r"))
  whole <- rowsum(n, item)
  found <- chosen[
    match(
      paste(options$item, options$option, sep = "\r"),
      rownames(chosen)
    ),
    1
  ]
  as.vector(
    or_else(found, 0) / whole[match(options$item, rownames(whole)), 1]
  )
}

# What what_if() would say of the rival as the key; only what the table shows is summed
# up, and what holds before the change once.
effect_of_key <- function(sitting, before, item, rival) {
  change <- change_rows("key", item, rival)
  after <- key_figures(with_changes(sitting, change))
  moved <- after$share - before$share
  data.frame(
    rise = sum(moved > 1e-9, na.rm = TRUE),
    fall = sum(moved < -1e-9, na.rm = TRUE),
    mean_before = before$mean_share,
    mean_after = after$mean_share,
    alpha_before = before$alpha,
    alpha_after = after$alpha,
    discrimination_after = after$discrimination[[item]]
  )
}

key_figures <- function(sitting) {
  tally <- tally_responses(sitting, products = TRUE)
  items <- summarise_items(tally)
  use <- tally$scores$open > 1e-9
  shares <- tally$scores$earned / tally$scores$open
  list(
    share = ifelse(was_present(sitting), student_points(sitting)$share, NA),
    mean_share = total_figures(shares[use], tally$scores$n[use], 1)$mean_share,
    alpha = test_reliability(tally)$alpha,
    discrimination = stats::setNames(items$discrimination, items$item)
  )
}

say_rivals <- function(table) {
  what <- say(
    "judge-key.of_chose_the_key",
    rival_count = table$rival_count,
    n = table$n,
    rival = table$rival,
    rival_text = or_blank(
      table$rival_text,
      paste0(" ", in_parentheses(cited(table$rival_text)))
    ),
    key_count = table$key_count,
    key = table$key,
    rival_upper = percent(table$rival_upper),
    key_upper = percent(table$key_upper),
    tried = !is.na(table$mean_before),
    rise = table$rise,
    fall = table$fall,
    mean_before = percent(table$mean_before),
    mean_after = percent(table$mean_after)
  )
  list(
    what = if (nrow(table)) what else character(),
    do = if (nrow(table)) {
      say(
        "judge-key.what_to_do",
        doubt = table$doubt,
        rival = table$rival
      )
    } else {
      character()
    }
  )
}
