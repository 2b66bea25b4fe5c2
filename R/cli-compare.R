# Two sittings side by side in the terminal: what changed, who got there, who is
# still to come.

run_compare <- function(call) {
  sides <- lapply(call$folder, function(folder) {
    read_for_figures(list(folder = folder, only = call$only))
  })
  view <- view_asked(
    view_compared,
    call,
    sides[[1]],
    sides[[2]],
    people = people_in(sides),
    by = call$by,
    told = call$format == "text"
  )
  if (call$close) close_plan_of(call, view$change, sides)
  put_out(call, view$change, function(change) {
    c(show_change(change), show_whereabouts(view$who))
  })
}

# --close: what came of it goes into the rows of plan.csv.
close_plan_of <- function(call, change, sides) {
  if (!is.null(call$by)) {
    abort_pregunta(
      "call",
      say("cli-compare.close_needs_all"),
      NULL,
      say("cli-compare.leave_out", option = "--by")
    )
  }
  path <- plan_path(call$folder[1], only_conditions(call, sides[[1]]))
  closed <- close_plan_file(call$folder[1], change, sides[[2]], path)
  tell_user(
    say(
      "cli-compare.closed",
      path = closed$path,
      done = closed$done,
      n = closed$n
    )
  )
}

#' @export
print.pregunta_change <- function(x, ...) print_lines(x, show_change)

show_change <- function(change) {
  by <- attr(change, "by")
  if (identical(by, "student")) return(show_student_change(change))
  if (identical(by, "item")) return(show_item_change(change))
  titles <- attr(change, "titles")
  about <- if (is.null(by)) c(say_change_of(change), say_regression(change))
  c(
    bold_line(paste(titles[1], "\u2192", titles[2])),
    "",
    change_table(groups_together(change)),
    "",
    wrap_lines(about),
    if (length(about)) "",
    wrap_lines(change_legend(change))
  )
}

change_table <- function(change) {
  known <- !is.na(change$change)
  where_known <- function(x) ifelse(known, x, "")
  items <- paste0(
    change$items_before, "\u2192", change$items_after
  )
  after <- pad(percent(change$share_after), "right")
  score <- paste0(percent(change$share_before), "\u2192", after)
  moved <- lapply(change[c("up", "stayed", "down")], pad, "right")
  moved <- do.call(paste, c(moved, sep = "  "))
  sure <- change$change_low > 0 & !is.na(change$change_low)
  reached <- say(
    "cli-compare.of",
    reached = change$reached,
    below_before = change$below_before
  )
  format_table(
    group_columns(change),
    code_column(change, "code"),
    text_column(
      "title",
      ifelse(change$code == whole_code, "", change$title),
      shrink = TRUE
    ),
    text_column("items", items, "right"),
    text_column("n", change$n, "right"),
    text_column("score", score, "right"),
    text_column(
      "change",
      ifelse(known, signed_points(change$change), "\u2013"),
      "right",
      colour = ifelse(sure, "teal", "faint")
    ),
    text_column("interval", signed_interval(change), "right"),
    if (shows_link(change)) {
      text_column(
        "one_scale",
        or_blank(change$linked_change, signed_points(change$linked_change)),
        "right",
        colour = ifelse(surely_linked(change), "teal", "faint")
      )
    },
    text_column("moved", where_known(moved), "right"),
    text_column("got_there", where_known(reached), "right"),
    text_column(
      "below",
      where_known(change$below),
      "right",
      colour = "ochre"
    )
  )
}

surely_linked <- function(change) {
  (change$linked_change_low > 0 | change$linked_change_high < 0) %in% TRUE
}

# Where the same questions were asked twice there is nothing to take out.
shows_link <- function(change) {
  link <- attr(change, "link")
  !is.null(link) && !link$alike && any(change$linked)
}

signed_interval <- function(change) {
  low <- pad(signed_points(change$change_low), "right")
  high <- pad(signed_points(change$change_high), "right")
  between <- say(
    "cli-compare.to",
    change_low = low,
    change_high = high
  )
  or_blank(change$change_low, between)
}

change_legend <- function(change) {
  cut <- percent(settings_of(change)$mastery_cut)
  fewest <- pmin(change$items_before, change$items_after)
  thin <- unique(change$code[fewest < thin_items])
  has_priority <- any(nzchar(priority_sign(change)))
  c(
    say("cli-compare.before_after_the_change", cut = cut),
    if (length(thin)) {
      say(
        "cli-compare.thin_evidence_fewer_than",
        thin_items = thin_items,
        thin = some_of(thin, 8)
      )
    },
    if (shows_link(change)) say("cli-compare.one_scale"),
    if (has_priority) say("cli-compare.a_priority_standard")
  )
}

# Names behind the counts, on each lowest standard.
show_whereabouts <- function(view) {
  if (is.null(view)) return(NULL)
  below <- vapply(names(view$below), function(code) {
    still <- view$below[[code]]
    if (!length(still)) {
      return(say("cli-compare.nobody_is_below_the", code = code))
    }
    say(
      "cli-compare.still_to_come_lowest",
      code = code,
      still = some_of(still, 6)
    )
  }, "")
  away <- vapply(names(view$away), function(there) {
    say(
      "cli-compare.away",
      there = capital(words_for(there, "outcomes")),
      who = some_of(view$away[[there]], 6)
    )
  }, "")
  said <- c(below, away[lengths(view$away) > 0])
  c(
    "",
    bold_line(say("cli-compare.who")),
    wrap_lines(unname(said), 0, 2),
    say("cli-compare.all_of_them_by")
  )
}

show_student_change <- function(change) {
  several <- length(unique(change$student)) > 1
  shown <- students_moved(change)
  level <- data.table::fcase(
    is.na(shown$moved), "",
    shown$moved == "stayed", level_words(shown$level_after),
    !is.na(shown$moved), paste(
      level_words(shown$level_before), "\u2192", level_words(shown$level_after)
    )
  )
  there <- shown$outcome %in% c("got_there", "was_there")
  lines <- format_table(
    text_column("student", name_or_id(shown), shrink = TRUE),
    text_column("section", shown$section),
    if (!several) text_column("code", shown_codes(shown$code)),
    share_column("before", shown$share_before),
    share_column("after", shown$share_after),
    text_column(
      "change",
      or_blank(shown$change, signed_points(shown$change)),
      "right"
    ),
    text_column("level", level),
    text_column(
      "",
      words_for(shown$outcome, "outcomes"),
      colour = ifelse(there, "teal", "ochre")
    )
  )
  cut <- percent(settings_of(change)$mastery_cut)
  legend <- c(
    if (several) say("cli-compare.on_all_standards_of"),
    say("cli-compare.got_there_below_before", mastery_cut = cut)
  )
  c(lines, "", wrap_lines(legend))
}

show_item_change <- function(change) {
  if (!nrow(change)) return(say("cli-compare.no_item_was_used"))
  change <- change[order(change$change), ]
  format_table(
    text_column(
      "item",
      paste(change$item_before, "\u2192", change$item)
    ),
    text_column("question", change$prompt, shrink = TRUE),
    text_column("n", change$n, "right"),
    share_column("before", change$difficulty_before),
    share_column("after", change$difficulty_after),
    text_column(
      "change",
      or_else(signed_points(change$change), "\u2013"),
      "right",
      colour = "teal"
    ),
    text_column("interval", signed_interval(change), "right")
  )
}
