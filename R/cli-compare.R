# Two sittings side by side in the terminal: what changed, who got there, who is
# still to come.

run_compare <- function(call) {
  sides <- lapply(call$folder, function(folder) {
    read_for_figures(list(folder = folder, only = call$only))
  })
  if (!is.null(call$student)) call$by <- "student"
  change <- shown_rows(call, compare_sittings(sides[[1]], sides[[2]], call$by))
  if (call$close) close_plan_of(call, change, sides[[2]])
  whole <- is.null(call$by) && call$format == "text" && is.null(call$sort)
  put_out(call, change, function(change) {
    c(
      show_change(change),
      if (whole) {
        show_whereabouts(change, compare_sittings(sides[[1]], sides[[2]], "student"))
      }
    )
  })
}

# --close: what came of it goes into the rows of plan.csv.
close_plan_of <- function(call, change, after) {
  for (part in c("only", "by")) {
    if (is.null(call[[part]])) next
    abort_pregunta(
      "call",
      say("cli-compare.close_needs_all"),
      NULL,
      say("cli-compare.leave_out", option = paste0("--", part))
    )
  }
  closed <- close_plan_file(call$folder[1], change, after)
  message(say("cli-compare.closed", path = closed$path, done = closed$done, n = closed$n))
}

#' @export
print.pregunta_change <- function(x, ...) print_lines(x, show_change)

show_change <- function(change) {
  by <- attr(change, "by")
  if (identical(by, "student")) return(show_student_change(change))
  if (identical(by, "item")) return(show_item_change(change))
  titles <- attr(change, "titles")
  c(
    paint(printable(paste(titles[1], "\u2192", titles[2])), "bold"),
    "",
    change_rows_table(change),
    "",
    if (is.null(by)) {
      wrap_lines(printable(c(say_change_of(change), say_regression(change))))
    },
    if (is.null(by)) "",
    wrap_lines(change_legend(change))
  )
}

change_rows_table <- function(change) {
  by <- attr(change, "by")
  if (!is.null(by)) change <- change[order(match(change$code, unique(change$code))), ]
  known <- !is.na(change$change)
  tree <- attr(change, "tree")
  depth <- lengths(lapply(change$code, ancestors, standards = tree))
  move <- function(x) ifelse(known, x, "")
  format_table(
    c(
      group_columns(change),
      list(
        text_column(
          "code",
          paste0(strrep("  ", depth), change$code, priority_mark(change))
        ),
        text_column("title", change$title, shrink = TRUE),
        text_column(
          "items",
          paste0(change$items_before, "\u2192", change$items_after),
          "right"
        ),
        text_column("n", change$n, "right"),
        text_column(
          "score",
          paste0(
            percent(change$share_before),
            "\u2192",
            pad(percent(change$share_after), "right")
          ),
          "right"
        ),
        text_column(
          "change",
          ifelse(known, signed_points(change$change), "\u2013"),
          "right",
          colour = ifelse(
            change$change_low %in% NA | change$change_low <= 0,
            "faint",
            "teal"
          )
        ),
        text_column("interval", signed_interval(change), "right"),
        text_column(
          "moved",
          move(
            paste0(
              pad(change$up, "right"),
              "  ",
              pad(change$stayed, "right"),
              "  ",
              pad(change$down, "right")
            )
          ),
          "right"
        ),
        text_column(
          "got_there",
          move(
            say(
              "cli-compare.of",
              reached = change$reached,
              below_before = change$below_before
            )
          ),
          "right"
        ),
        text_column("below", move(change$below), "right", colour = "ochre")
      )
    )
  )
}

signed_interval <- function(change) {
  ifelse(
    is.na(change$change_low),
    "",
    say(
      "cli-compare.to",
      change_low = pad(signed_points(change$change_low), "right"),
      change_high = pad(signed_points(change$change_high), "right")
    )
  )
}

change_legend <- function(change) {
  cut <- percent(settings_of(change)$mastery_cut)
  thin <- unique(change$code[pmin(change$items_before, change$items_after) < thin_items])
  c(
    say("cli-compare.before_after_the_change", cut = cut),
    if (length(thin)) {
      say(
        "cli-compare.thin_evidence_fewer_than",
        thin_items = thin_items,
        thin = some_of(thin, 8)
      )
    },
    if (any(nzchar(priority_mark(change)))) say("cli-compare.a_priority_standard")
  )
}

# Names behind the counts, on each lowest standard.
show_whereabouts <- function(change, students) {
  view <- view_whereabouts(change, students)
  below <- vapply(names(view$below), function(code) {
    still <- view$below[[code]]
    if (!length(still)) return(say("cli-compare.nobody_is_below_the", code = code))
    say("cli-compare.still_to_come_lowest", code = code, still = some_of(still, 6))
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
    paint(say("cli-compare.who"), "bold"),
    wrap_lines(printable(unname(said)), 0, 2),
    say("cli-compare.all_of_them_by")
  )
}

show_student_change <- function(change) {
  order <- c(
    "still_to_come", "fell_back", "got_there", "was_there", "not_there_after",
    "not_there_before"
  )
  whole <- change[change$code == whole_code, ]
  shown <- if (length(unique(change$student)) > 1) whole else change
  if (identical(shown, whole)) {
    shown <- shown[order(match(shown$outcome, order), shown$share_after), ]
  }
  who <- ifelse(is.na(shown$name), shown$student, shown$name)
  c(
    format_table(
      list(
        text_column("student", who, shrink = TRUE),
        text_column("section", shown$section),
        if (!identical(shown, whole)) text_column("code", shown$code),
        share_column("before", shown$share_before),
        share_column("after", shown$share_after),
        text_column(
          "change",
          ifelse(is.na(shown$change), "", signed_points(shown$change)),
          "right"
        ),
        text_column(
          "level",
          data.table::fcase(
            is.na(shown$moved), "",
            shown$moved == "stayed", shown$level_after,
            !is.na(shown$moved), paste(shown$level_before, "\u2192", shown$level_after)
          )
        ),
        text_column(
          "",
          words_for(shown$outcome, "outcomes"),
          colour = ifelse(shown$outcome %in% c("got_there", "was_there"), "teal", "ochre")
        )
      ) |>
        Filter(f = Negate(is.null))
    ),
    "",
    wrap_lines(
      paste(c(
        if (length(unique(change$student)) > 1) {
          say("cli-compare.on_all_standards_of")
        },
        say(
          "cli-compare.got_there_below_before",
          mastery_cut = percent(settings_of(change)$mastery_cut)
        )
      ))
    )
  )
}

show_item_change <- function(change) {
  if (!nrow(change)) return(say("cli-compare.no_item_was_used"))
  change <- change[order(change$change), ]
  format_table(
    list(
      text_column("item", paste(change$item_before, "\u2192", change$item)),
      text_column("question", change$prompt, shrink = TRUE),
      text_column("n", change$n, "right"),
      share_column("before", change$difficulty_before),
      share_column("after", change$difficulty_after),
      text_column(
        "change",
        ifelse(is.na(change$change), "\u2013", signed_points(change$change)),
        "right",
        colour = "teal"
      ),
      text_column("interval", signed_interval(change), "right")
    )
  )
}
