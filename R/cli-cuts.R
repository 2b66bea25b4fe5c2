# Where the cut goes, in the terminal.

run_cuts <- function(call) {
  sitting <- read_for_figures(call)
  judges <- read_judges(call$folder)
  placed <- read_placements(call$folder)
  cut <- if (!is.null(call$cut)) read_share(split_commas(call$cut))
  if (anyNA(cut)) {
    abort_pregunta(
      "call", say("cli-cuts.cut_is_a_share"), say("cli-cuts.given", cut = call$cut), NULL
    )
  }
  if (!is.null(call$choose)) return(take_cut(call, sitting, judges, placed))
  table <- if (isTRUE(call$judges)) {
    require_judges(judges)
    summarise_judges(sitting, judges)
  } else {
    summarise_cuts(sitting, judges, placed, cut, by = call[["by"]])
  }
  show <- if (isTRUE(call$judges)) show_judges else show_cuts
  put_out(call, rows_sorted(table, call$sort), show)
}

require_judges <- function(judges) {
  if (!is.null(judges)) return(invisible())
  abort_pregunta(
    "call", say("cli-cuts.no_judges"), NULL, say("cli-cuts.write_judges")
  )
}

# --choose: a share, or one of the ways.
take_cut <- function(call, sitting, judges, placed) {
  if (is.null(call$reason)) {
    abort_pregunta("call", say("cli-cuts.take_needs_reason"), NULL, NULL)
  }
  cuts <- as.data.frame(summarise_cuts(sitting, judges, placed))
  ways <- setdiff(cuts$way[!is.na(cuts$cut)], c("now", "judges_before"))
  cut <- if (call$choose %in% ways) {
    cuts$cut[match(call$choose, cuts$way)]
  } else {
    read_share(call$choose)
  }
  if (is.na(cut) || cut <= 0 || cut > 1) {
    abort_pregunta(
      "call",
      say("cli-cuts.take_is_a_share"),
      say("cli-cuts.given", cut = call$choose),
      if (length(ways)) say("cli-cuts.ways", ways = join_words(ways, "or"))
    )
  }
  was <- write_cut(call$folder, cut, call$reason, call$level)
  tell_user(say(
    "cli-cuts.taken",
    what = if (is.null(call$level)) "mastery_cut" else call$level,
    cut = percent(cut), was = percent(was), path = file.path(call$folder, "test.yml")
  ))
  0L
}

#' @export
print.pregunta_cuts <- function(x, ...) print_lines(x, show_cuts)

show_cuts <- function(cuts) {
  by <- attr(cuts, "by")
  way <- words_for(cuts$way, "cut_ways")
  rounds <- !is.na(cuts$round) & length(unique(stats::na.omit(cuts$round))) > 1
  way <- ifelse(rounds, say("cli-cuts.in_round", way = way, round = cuts$round), way)
  passed <- ifelse(
    is.na(cuts$passed), "", say("cli-cuts.of", passed = cuts$passed, n = cuts$n)
  )
  lines <- format_table(
    if (!is.null(by)) text_column(I(column_words(by)), cuts[[by]]),
    text_column("way", way),
    text_column("basis", or_blank(cuts$basis), "right"),
    text_column(
      "cut", with_bounds(cuts$cut, cuts$cut_low, cuts$cut_high, percent), "right"
    ),
    text_column("points", or_blank(cuts$cut_points, number(cuts$cut_points, 2)), "right"),
    text_column("passed", passed, "right"),
    text_column(
      "share",
      with_bounds(cuts$pass_share, cuts$pass_low, cuts$pass_high, percent),
      "right"
    ),
    share_column("same_again", cuts$agreement),
    text_column("", say_reason(cuts$reason))
  )
  left <- attr(cuts, "incomplete")
  c(
    lines, "",
    wrap_lines(c(
      say_where_cuts_lie(cuts),
      if (length(left)) say("cli-cuts.incomplete", who = some_of(left, 6)),
      say("legends.cuts")
    ))
  )
}

#' @export
print.pregunta_judges <- function(x, ...) print_lines(x, show_judges)

show_judges <- function(judges) {
  lines <- format_table(
    text_column("judge", judges$judge),
    if (length(unique(judges$round)) > 1) text_column("round", judges$round, "right"),
    text_column("items", judges$items, "right"),
    text_column("cut", or_blank(judges$cut, percent(judges$cut)), "right"),
    text_column(
      "above_others", or_blank(judges$above, signed_points(judges$above)), "right"
    ),
    number_column("follows", judges$follows),
    if (any(!is.na(judges$changed))) {
      text_column("changed", or_blank(judges$changed, percent(judges$changed)), "right")
    }
  )
  c(lines, "", wrap_lines(say("legends.judges")))
}
