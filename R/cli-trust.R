# Whether the scores can be trusted, in the terminal: decisions, parts,
# precision along the scores, lengths, and fairness.

run_decisions <- function(call) {
  sitting <- read_for_figures(call)
  decisions <- summarise_decisions(
    sitting,
    read_shares(call$cut, "--cut"),
    call$by,
    replicates_for(sitting, call$by, call$bootstrap)
  )
  put_out(call, view_sorted(decisions, call$sort), show_decisions)
}

run_parts <- function(call) {
  sitting <- read_for_figures(call)
  strata <- if (is.null(call$strata)) "standards" else call$strata
  parts <- summarise_parts(
    sitting,
    strata,
    call$by,
    replicates_for(sitting, call$by, call$bootstrap)
  )
  if (!nrow(parts)) {
    message(
      say("cli-trust.no_item_of_this")
    )
  }
  put_out(call, view_sorted(parts, call$sort), show_parts)
}

run_precision <- function(call) {
  put_out(
    call,
    view_sorted(summarise_precision(read_for_figures(call)), call$sort),
    show_precision
  )
}

run_fairness <- function(call) {
  if (is.null(call$by)) {
    abort_pregunta(
      "call",
      say("cli-trust.pregunta_fairness_needs_the"),
      NULL,
      say("cli-trust.for_example_pregunta_fairness", folder = call$folder)
    )
  }
  fairness <- summarise_fairness(
    read_for_figures(call),
    call$by,
    call$reference,
    split_commas(call$focal)
  )
  put_out(call, shown_rows(call, fairness), show_fairness)
}

# 0.7, 70% or several with commas.
read_shares <- function(value, flag) {
  said <- split_commas(value)
  if (is.null(said)) return(NULL)
  percents <- endsWith(said, "%")
  number <- read_number(sub("%$", "", said)) / ifelse(percents, 100, 1)
  if (anyNA(number)) {
    abort_pregunta(
      "call",
      say("cli-trust.needs_a_share_such", flag = flag),
      say("cli-trust.given", value = value),
      NULL
    )
  }
  number
}

#' @export
print.pregunta_decisions <- function(x, ...) print_lines(x, show_decisions)

#' @export
print.pregunta_parts <- function(x, ...) print_lines(x, show_parts)

#' @export
print.pregunta_precision <- function(x, ...) print_lines(x, show_precision)

#' @export
print.pregunta_fairness <- function(x, ...) print_lines(x, show_fairness)

#' @export
print.pregunta_lengths <- function(x, ...) print_lines(x, show_lengths)

# "0.84 (0.74 to 0.90)", or the figure alone where its bounds are not there.
with_bounds <- function(value, low, high, show = number) {
  bounds <- if (is.null(low)) rep(NA, length(value)) else low
  ifelse(
    is.na(value) | is.na(bounds),
    show(value),
    say("cli-trust.to", show = show(value), low = show(low), high = show(high))
  )
}

show_decisions <- function(decisions) {
  c(
    format_table(
      c(
        group_columns(decisions),
        list(
          text_column(
            "decision",
            words_for(decisions$decision, "decisions"),
            shrink = TRUE
          ),
          text_column(
            "from",
            ifelse(is.na(decisions$cut), "", percent(decisions$cut)),
            "right"
          ),
          text_column(
            "points",
            ifelse(is.na(decisions$cut_points), "", plain_points(decisions$cut_points)),
            "right"
          ),
          text_column(
            "reached",
            ifelse(
              is.na(decisions$passed),
              "",
              say("cli-trust.of", passed = decisions$passed, n = decisions$n)
            ),
            "right"
          ),
          text_column(
            "same_again",
            with_bounds(
              decisions$agreement,
              decisions$agreement_low,
              decisions$agreement_high,
              percent
            )
          ),
          text_column(
            "kappa",
            with_bounds(decisions$kappa, decisions$kappa_low, decisions$kappa_high)
          ),
          if (!all(is.na(decisions$dependability))) {
            text_column(
              "dependability",
              with_bounds(
                decisions$dependability,
                decisions$dependability_low,
                decisions$dependability_high
              )
            )
          }
        )
      )
    ),
    "",
    wrap_lines(printable(say_decisions(decisions))),
    "",
    wrap_lines(
      paste(
        c(
          say("legends.decisions"),
          if (!all(is.na(decisions$dependability))) say("legends.dependability")
        ),
        collapse = " "
      )
    )
  )
}

show_parts <- function(parts) {
  c(
    format_table(
      c(
        group_columns(parts),
        list(
          text_column("part", parts$part, shrink = TRUE),
          text_column("items", parts$items, "right"),
          text_column("points", plain_points(parts$points), "right"),
          share_column("earned", parts$share),
          text_column(
            "alpha",
            with_bounds(parts$alpha, parts$alpha_low, parts$alpha_high)
          ),
          number_column("by_its_own", parts$by_part),
          number_column("by_the_total", parts$by_total),
          text_column(
            "own_score",
            ifelse(
              is.na(parts$worth),
              paste0("(", say_reason(parts$reason), ")"),
              words_for(parts$worth, "worth")
            ),
            shrink = TRUE,
            colour = ifelse(parts$worth %in% "yes", "teal", NA)
          ),
          if (!all(is.na(parts$title))) text_column("", parts$title, shrink = TRUE)
        )
      )
    ),
    "",
    wrap_lines(printable(say_parts_of_test(parts))),
    "",
    wrap_lines(say("legends.parts"))
  )
}

show_precision <- function(precision) {
  shown <- precision[
    precision$students > 0 | precision$score %in% range(precision$score),

  ]
  columns <- list(
    text_column("score", plain_points(shown$score), "right"),
    share_column("", shown$share),
    text_column("students", shown$students, "right"),
    text_column("level", shown$level),
    number_column("sem", shown$sem, 1),
    number_column("as_well_from", shown$low, 1),
    number_column("to", shown$high, 1)
  )
  c(
    format_table(
      columns
    ),
    "",
    wrap_lines(say_precision(precision))
  )
}

show_lengths <- function(lengths) {
  most <- ifelse(
    is.na(lengths$needed_high),
    say("cli-trust.any_number"),
    lengths$needed_high
  )
  c(
    format_table(
      c(
        group_columns(lengths),
        list(
          number_column("target_alpha", lengths$target),
          text_column(
            "items_needed",
            ifelse(
              is.na(lengths$needed),
              paste0("\u2013 (", say_reason(lengths$reason), ")"),
              lengths$needed
            ),
            "right"
          ),
          text_column(
            "interval",
            ifelse(
              is.na(lengths$needed_low),
              "",
              say("cli-trust.to_2", needed_low = lengths$needed_low, needed_high = most)
            ),
            "right"
          ),
          text_column("now", lengths$items, "right")
        )
      )
    ),
    "",
    wrap_lines(say_lengths(lengths))
  )
}

most_fairness_rows <- 12

show_fairness <- function(fairness) {
  shown <- fairness
  if (is.null(attr(fairness, "sorted"))) {
    rank <- match(fairness$class, c("large", "moderate", "negligible"))
    shown <- fairness[order(rank, fairness$p, na.last = TRUE), ]
    shown <- shown[
      seq_len(min(nrow(shown), max(most_fairness_rows, sum(rank < 3, na.rm = TRUE)))),

    ]
  }
  left <- nrow(fairness) - nrow(shown)
  several <- length(unique(shown$focal)) > 1
  columns <- list(
    text_column("item", shown$item),
    if (several) text_column("group", shown$focal, shrink = TRUE),
    share_column(
      if (several) "earned" else I(shorten(shown$focal[1], 14)),
      shown$difficulty_focal
    ),
    share_column(I(shorten(shown$reference[1], 14)), shown$difficulty_reference),
    text_column(
      "same_score_points",
      with_bounds(shown$smd, shown$smd_low, shown$smd_high, signed_percent)
    ),
    text_column(
      "delta",
      with_bounds(shown$delta, shown$delta_low, shown$delta_high, function(x) {
        number(x, 1)
      })
    ),
    text_column("p", ifelse(is.na(shown$p), "", number(shown$p, 3)), "right"),
    text_column(
      "difference",
      ifelse(
        is.na(shown$class),
        paste0("(", say_reason(shown$reason), ")"),
        words_for(shown$class, "classes")
      ),
      shrink = TRUE,
      colour = ifelse(shown$class %in% c("moderate", "large"), "ochre", NA)
    )
  )
  c(
    format_table(
      columns
    ),
    if (left > 0) {
      say("cli-trust.and_comparisons_more_negligible", left = left)
    },
    "",
    wrap_lines(printable(say_fairness(fairness))),
    "",
    wrap_lines(say("legends.fairness"))
  )
}

signed_percent <- function(x) {
  whole <- round_half_up(100 * x)
  sign <- c("\u2212", "", "+")[sign(whole) + 2]
  ifelse(is.na(x), "\u2013", paste0(sign, abs(whole), "%"))
}
