# What may be said of each item when it stands among all the items of its test: a claim
# has a rate of false alarm of 5% over the whole test (1% where a key is doubted), not of
# each item.

# rivals: what rivals_of_items() found. A row an item: rival, puller: the place among the
# rows of the item's options, or NA; reversed, weak, unlearnt, unchanged, shared, sound:
# whether that can be said.
claims_of_items <- function(items, options, rivals, settings) {
  items <- as.data.frame(items)
  options <- as.data.frame(options)
  item <- match(options$item, items$item)
  place <- stats::ave(seq_along(item), item, FUN = seq_along)
  at <- function(row) place[row]
  data.frame(
    rival = at(rivals$row),
    puller = at(pullers_of_items(items, options, item)),
    shared = shared_in_items(items, options, item),
    reversed = correlation_claims(items, "less", "holm"),
    weak = correlation_claims(
      items,
      "less",
      "holm",
      settings$thresholds$marginal
    ),
    sound = correlation_claims(items, "greater", "BH"),
    unlearnt = surely_below(
      items,
      "difficulty",
      settings$mastery_cut
    ),
    unchanged = surely_below(items, "change", least_gain)
  )
}

# A gain that is surely less than this share of the points is hardly one.
least_gain <- 0.1

# Whether a figure is below a bound beyond chance, over all items (Holm 1979), by the
# upper half of its interval.
surely_below <- function(items, figure, bound) {
  if (is.null(items[[figure]])) return(rep(FALSE, nrow(items)))
  half <- items[[paste0(figure, "_high")]] - items[[figure]]
  z <- (items[[figure]] - bound) / (half / stats::qnorm(upper_tail))
  is_below(stats::p.adjust(stats::pnorm(z), "holm"))
}

# Whether the correlation with the rest is surely below or above a value, over all: an
# accusation must hold for every one of them (Holm 1979), praise for 95 of 100 praised
# (Benjamini & Hochberg 1995).
correlation_claims <- function(items, side, method, than = 0) {
  z <- fisher_z(items$discrimination, items$n) - fisher_z(than, items$n)
  p <- stats::pnorm(z, lower.tail = side == "less")
  is_below(stats::p.adjust(p, method))
}

is_below <- function(p, level = 0.05) !is.na(p) & p < level

fisher_z <- function(r, n) {
  ifelse(
    n > 3,
    atanh(pmax(-0.999, pmin(0.999, r))) * sqrt(pmax(n - 3, 0)),
    NA_real_
  )
}

# Of each item the wrong option whose choosers are surely stronger than the others, over
# all wrong options of the test (Holm 1979).
pullers_of_items <- function(items, options, item) {
  open <- is_wrong(options) & is_answered(items$type, "chosen")[item]
  z <- ifelse(
    open,
    fisher_z(options$option_rest, items$n[item]),
    NA
  )
  p <- stats::p.adjust(stats::pnorm(z, lower.tail = FALSE), "holm")
  largest_in_items(
    ifelse(is_below(p), options$option_rest, NA),
    item,
    nrow(items)
  )
}

# Whether one wrong answer drew most, over all items (Holm 1979).
shared_in_items <- function(items, options, item) {
  choice <- is_answered(items$type, "chosen")
  wrong <- which(is_wrong(options) & choice[item])
  p <- piling_up(options$count[wrong], item[wrong], nrow(items))$p
  options$pattern[match(seq_len(nrow(items)), item)] %in% "shared" &
    is_below(stats::p.adjust(p, "holm"))
}

# Of each item the row with the largest value that is there, or NA.
largest_in_items <- function(value, item, n) {
  sorted <- order(item, -value, na.last = NA)
  sorted[match(seq_len(n), item[sorted])]
}

# ---- keys --------------------------------------------------------------------------

# How much likelier the answers are with another option as the key, for each item with
# one right option: row, the likeliest rival's among the options, and ratio, the log of
# the likelihood ratio; row is NA where the ratio does not suffice.
#
# Who knows the rest chooses the right option more often: log-odds of choosing it rise by
# typical_slope for each standard deviation of the rest score, those of the others do not.
# To second order in the slope the log likelihood of that is slope * r * sqrt(n I) -
# slope^2 I / 2, with I = n p (1 - p), of an option that the share p chose and that
# correlates by r with the rest. And the right option's share is like those of the other
# items' keys: normal log-odds, by their median and spread.
#
# And the strong agree on it: of those in the strongest third who did not choose the key,
# at least half chose it; else the question misleads the strong in several ways.
#
# With key_margin a test of 10 to 60 sound items raises a false alarm in about 1 of
# 100 cases (vignette "accuracy"); that the rival's own correlation be above 0 keeps an
# item that has nothing to do with the rest from being accused.
rivals_of_items <- function(items, options) {
  item <- match(options$item, items$item)
  open <- options$state == "answered" & is_answered(items$type, "chosen")[item]
  keys <- tabulate(item[open & options$key], nrow(items))
  n <- as.vector(sum_by(list(n = options$count), item, nrow(items)))[
    item
  ]
  open <- open & keys[item] == 1 & n >= least_students
  share <- (options$count + 0.5) / (n + 1)
  fit <- slope_likelihood(options$option_rest, options$count, n) +
    difficulty_likelihood(share, share[open & options$key])
  of_key <- fit[open & options$key][match(item, item[open & options$key])]
  rival <- open & !options$key & options$count > 0
  ratio <- ifelse(rival, fit - of_key, NA_real_)
  wanted <- log(sum(rival) / key_alarms) - key_margin
  high_with_key <- options$high[open & options$key][
    match(item, item[open & options$key])
  ]
  agreed <- options$high >= 0.5 * (1 - high_with_key)
  sure <- ratio > wanted & agreed & fisher_z(options$option_rest, n) > 2
  row <- largest_in_items(
    ifelse(sure %in% TRUE, ratio, NA),
    item,
    nrow(items)
  )
  list(row = row, ratio = ratio)
}

key_alarms <- 0.01
key_margin <- 2.0
typical_slope <- 0.8

slope_likelihood <- function(r, count, n) {
  share <- count / pmax(n, 1)
  information <- n * share * (1 - share)
  fit <- typical_slope * r * sqrt(n * information) -
    typical_slope^2 * information / 2
  ifelse(is.na(r), 0, fit)
}

difficulty_likelihood <- function(share, of_keys) {
  odds <- stats::qlogis(of_keys)
  few <- length(odds) < least_items
  middle <- if (few) stats::qlogis(0.65) else stats::median(odds)
  spread <- max(0.8, if (few) 1.2 else stats::mad(odds))
  stats::dnorm(stats::qlogis(share), middle, spread, log = TRUE)
}
