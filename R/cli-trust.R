# Whether the scores can be trusted, in the terminal: decisions, parts,
# precision along the scores, lengths, and fairness.

run_decisions <- function(call) {
  sitting <- read_for_figures(call)
  cuts <- read_shares(call$cut, "--cut")
  decisions <- view_decisions(
    sitting,
    cuts,
    call$by,
    call$bootstrap,
    call$sort
  )
  put_out(call, decisions, show_decisions)
}

run_parts <- function(call) {
  sitting <- read_for_figures(call)
  parts <- view_parts(
    sitting,
    call$strata,
    call$by,
    call$bootstrap,
    call$sort
  )
  if (!nrow(parts)) tell_user(say("cli-trust.no_item_of_this"))
  put_out(call, parts, show_parts)
}

run_precision <- function(call) {
  precision <- summarise_precision(read_for_figures(call))
  put_out(call, rows_sorted(precision, call$sort), show_precision)
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
  put_out(
    call,
    view_asked(view_rows, call, fairness),
    show_fairness
  )
}

# 0.7, 70% or several with commas.
read_shares <- function(value, flag) {
  said <- split_commas(value)
  if (is.null(said)) return(NULL)
  percents <- endsWith(said, "%")
  number <- read_number(sub("%$", "", said)) /
    ifelse(percents, 100, 1)
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
    say(
      "cli-trust.to",
      show = show(value),
      low = show(low),
      high = show(high)
    )
  )
}

show_decisions <- function(decisions) {
  bounded <- function(figure, show = number) {
    ends <- paste0(figure, c("_low", "_high"))
    with_bounds(
      decisions[[figure]],
      decisions[[ends[1]]],
      decisions[[ends[2]]],
      show
    )
  }
  reached <- say(
    "cli-trust.of",
    passed = decisions$passed,
    n = decisions$n
  )
  points <- or_blank(decisions$cut_points, plain_points(decisions$cut_points))
  depends <- !all(is.na(decisions$dependability))
  lines <- format_table(
    group_columns(decisions),
    text_column(
      "decision",
      words_for(level_words(decisions$decision), "decisions"),
      shrink = "wrap"
    ),
    text_column(
      "from",
      or_blank(decisions$cut, percent(decisions$cut)),
      "right"
    ),
    text_column("points", points, "right"),
    text_column(
      "reached",
      or_blank(decisions$passed, reached),
      "right"
    ),
    text_column("same_again", bounded("agreement", percent)),
    text_column("kappa", bounded("kappa")),
    if (depends) text_column("dependability", bounded("dependability"))
  )
  legend <- c(
    say("legends.decisions"),
    if (depends) say("legends.dependability")
  )
  c(
    lines,
    "",
    wrap_lines(say_decisions(decisions)),
    "",
    wrap_lines(paste(legend, collapse = " "))
  )
}

show_parts <- function(parts) {
  worth <- or_else(
    words_for(parts$worth, "worth"),
    in_parentheses(say_reason(parts$reason))
  )
  alpha <- with_bounds(
    parts$alpha,
    parts$alpha_low,
    parts$alpha_high
  )
  lines <- format_table(
    group_columns(parts),
    text_column("part", parts$part, shrink = TRUE),
    text_column("items", parts$items, "right"),
    text_column("points", plain_points(parts$points), "right"),
    share_column("earned", parts$share),
    text_column("alpha", alpha),
    number_column("by_its_own", parts$by_part),
    number_column("by_the_total", parts$by_total),
    text_column(
      "own_score",
      worth,
      shrink = "wrap",
      colour = ifelse(parts$worth %in% "yes", "teal", NA)
    ),
    if (!all(is.na(parts$title))) text_column("", parts$title, shrink = TRUE)
  )
  c(
    lines,
    "",
    wrap_lines(say_parts_of_test(parts)),
    "",
    wrap_lines(say("legends.parts"))
  )
}

show_precision <- function(precision) {
  shown <- scores_shown(precision)
  lines <- format_table(
    text_column("score", plain_points(shown$score), "right"),
    share_column("", shown$share),
    text_column("students", shown$students, "right"),
    text_column("level", level_words(shown$level)),
    number_column("sem", shown$sem, 1),
    number_column("as_well_from", shown$low, 1),
    number_column("to", shown$high, 1)
  )
  c(lines, "", wrap_lines(say_precision(precision)))
}

show_lengths <- function(lengths) {
  unknown <- paste("\u2013", in_parentheses(say_reason(lengths$reason)))
  interval <- say(
    "cli-trust.to_2",
    needed_low = lengths$needed_low,
    needed_high = or_else(lengths$needed_high, say("cli-trust.any_number"))
  )
  lines <- format_table(
    group_columns(lengths),
    number_column("target_alpha", lengths$target),
    text_column(
      "items_needed",
      or_else(lengths$needed, unknown),
      "right"
    ),
    text_column(
      "interval",
      or_blank(lengths$needed_low, interval),
      "right"
    ),
    text_column("now", lengths$items, "right")
  )
  c(lines, "", wrap_lines(say_lengths(lengths)))
}

show_fairness <- function(fairness) {
  shown <- fairness_shown(fairness)
  left <- nrow(fairness) - nrow(shown)
  c(
    fairness_table(shown),
    if (left > 0) say("cli-trust.and_comparisons_more_negligible", left = left),
    "",
    wrap_lines(say_fairness(fairness)),
    "",
    wrap_lines(say("legends.fairness"))
  )
}

fairness_table <- function(shown) {
  several <- length(unique(shown$focal)) > 1
  focal <- if (several) "earned" else I(shorten(shown$focal[1], 14))
  reference <- I(shorten(shown$reference[1], 14))
  points <- with_bounds(
    shown$smd,
    shown$smd_low,
    shown$smd_high,
    signed_percent
  )
  one_place <- function(x) number(x, 1)
  delta <- with_bounds(
    shown$delta,
    shown$delta_low,
    shown$delta_high,
    one_place
  )
  difference <- or_else(
    words_for(shown$class, "classes"),
    in_parentheses(say_reason(shown$reason))
  )
  format_table(
    text_column("item", shown$item),
    if (several) text_column("group", shown$focal, shrink = TRUE),
    share_column(focal, shown$difficulty_focal),
    share_column(reference, shown$difficulty_reference),
    text_column("same_score_points", points),
    text_column("delta", delta),
    text_column(
      "p",
      or_blank(shown$p, number(shown$p, 3)),
      "right"
    ),
    text_column(
      "difference",
      difference,
      shrink = "wrap",
      colour = ifelse(
        shown$class %in% c("moderate", "large"),
        "ochre",
        NA
      )
    )
  )
}

signed_percent <- function(x) {
  ifelse(is.na(x), "\u2013", paste0(sign_of(x), percent(abs(x))))
}

# Of what rounds to no hundredth there is none.
sign_of <- function(share) {
  c("\u2212", "", "+")[sign(round_half_up(100 * share)) + 2]
}
