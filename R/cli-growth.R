# Growth over the year in the terminal: windows across, what is carried in brackets.

#' @export
print.pregunta_growth <- function(x, ...) print_lines(x, show_growth)

show_growth <- function(growth) {
  by <- attr(growth, "by")
  if (identical(by, "student")) {
    if (length(unique(growth$student)) == 1) return(show_own_growth(growth))
    return(show_students_growth(growth))
  }
  across <- growth_across(growth)
  first <- across$first
  rows <- across$growth
  carried <- in_parentheses(percent(rows$share_carried))
  share <- ifelse(rows$n > 0, percent(rows$share), carried)
  lines <- format_table(
    group_columns(first, by),
    code_column(first, "code", mark = ""),
    text_column("title", first$title, shrink = TRUE),
    window_columns(across, share)
  )
  legend <- c(say_windows_n(growth), growth_legend(growth))
  c(
    lines, "", one_scale_lines(growth, by), wrap_lines(c(say_growth(growth), legend))
  )
}

# The same table on one scale, one a scale.
one_scale_lines <- function(growth, by) {
  sets <- linked_across(growth)
  tables <- lapply(names(sets), function(on) {
    across <- sets[[on]]
    first <- across$first
    last <- across$last
    lines <- format_table(
      group_columns(first, by),
      code_column(first, "code", mark = ""),
      text_column("title", first$title, shrink = TRUE),
      window_columns(across, percent(across$growth$linked_share)),
      text_column(
        "gain", or_blank(last$linked_gain, signed_points(last$linked_gain)), "right"
      ),
      if (!is.null(last$linked_gain_low)) {
        text_column("interval", linked_gain_interval(last), "right")
      }
    )
    c(bold_line(say("cli-growth.on_one_scale", on = on)), lines, "")
  })
  unlist(tables)
}

linked_gain_interval <- function(rows) {
  low <- pad(signed_points(rows$linked_gain_low), "right")
  high <- pad(signed_points(rows$linked_gain_high), "right")
  or_blank(
    rows$linked_gain_low,
    say("cli-compare.to", change_low = low, change_high = high)
  )
}

# A column a window: what is said of each row of the growth there.
window_columns <- function(across, said) {
  lapply(seq_along(across$windows), function(k) {
    name <- shorten(printable(across$windows[k]), 16)
    at <- across$at[, k]
    text_column(
      I(name),
      or_blank(at, or_blank(said[at])),
      "right"
    )
  })
}

growth_legend <- function(growth) {
  carried <- growth$carried
  if (!is.logical(carried)) {
    carried <- growth$n == 0
  }
  several <- length(unique(growth$code)) > 1
  c(
    if (any(carried) %in% TRUE) say("cli-growth.in_brackets_no_new"),
    if (whole_code %in% growth$code && several) {
      say("cli-growth.the_last_test_of", whole_code = shown_codes(whole_code))
    },
    say_outside(attr(growth, "outside"))
  )
}

say_outside <- function(outside) {
  if (!length(outside) || !nrow(outside)) return(NULL)
  tests <- paste(outside$name, in_parentheses(outside$date))
  say("cli-growth.in_no_window_and", name = join_some(tests, 6))
}

say_windows_n <- function(growth) {
  n <- results_in_windows(growth)
  say(
    "cli-growth.new_results",
    n = paste0(names(n), " ", n, collapse = ", ")
  )
}

show_own_growth <- function(growth) {
  across <- growth_across(growth)
  who <- growth[1, ]
  heading <- c(name_or_id(who), if (!is.na(who$section)) who$section)
  cut <- percent(attr(growth, "cut"))
  lines <- format_table(
    code_column(across$first, "code", mark = ""),
    text_column("title", across$first$title, shrink = TRUE),
    growth_columns(across, in_brackets(across$growth))
  )
  legend <- c(
    growth_legend(growth),
    say("cli-growth.gain_since_the_first", growth = cut)
  )
  c(
    bold_line(in_a_row(heading)), "", lines, "",
    one_scale_lines(growth, NULL),
    wrap_lines(legend)
  )
}

# The windows, and how it stands now.
growth_columns <- function(across, share) {
  last <- across$last
  there <- or_else(last$first_there, say("cli-growth.not_yet"))
  c(
    window_columns(across, share),
    list(
      text_column("gain", signed_points(last$gain), "right"),
      text_column("level", level_words(last$level)),
      text_column("first_there", there)
    )
  )
}

in_brackets <- function(growth) {
  share <- percent(growth$share)
  ifelse(growth$carried, in_parentheses(share), share)
}

# Students down, on the whole or on the one standard that was asked for.
show_students_growth <- function(growth) {
  code <- growth$code[1]
  title <- growth$title[1]
  mine <- growth[growth$code == code, ]
  across <- growth_of_students(mine)
  first <- across$first
  lines <- format_table(
    text_column("student", name_or_id(first), shrink = TRUE),
    text_column("section", first$section),
    growth_columns(across, in_brackets(across$growth)),
    if (any(across$last$linked_gain != across$last$gain, na.rm = TRUE)) {
      text_column(
        "one_scale",
        or_blank(across$last$linked_gain, signed_points(across$last$linked_gain)),
        "right"
      )
    }
  )
  legend <- c(
    growth_legend(mine),
    say("cli-growth.another_standard_with_standard")
  )
  heading <- paste(c(code, if (!is.na(title)) title), collapse = ": ")
  c(bold_line(heading), "", lines, "", wrap_lines(legend))
}

# ---- questions asked again -----------------------------------------------------------

#' @export
print.pregunta_drift <- function(x, ...) print_lines(x, show_drift, says = TRUE)

# The farthest first.
show_drift <- function(drift) {
  if (!nrow(drift)) return(say("cli-record.no_drift"))
  rows <- drift
  if (is.null(attr(drift, "sorted"))) rows <- drift[order(-abs(drift$drift)), ]
  before <- paste(rows$sitting_before, rows$item_before)
  moved <- rows$became %in% c("easier", "harder")
  said <- ifelse(
    rows$anchor == "kept" & !moved, "",
    ifelse(moved, words_for(rows$became, "moved"), words_for(rows$anchor, "anchors"))
  )
  lines <- format_table(
    text_column("asked_before", before),
    text_column("asked_again", paste(rows$sitting, rows$item)),
    text_column("question", or_blank(rows$prompt), shrink = TRUE),
    number_column("drift", rows$drift),
    number_column("se", rows$drift_se),
    text_column("", said, colour = ifelse(moved, "ochre", "faint"))
  )
  c(lines, "", wrap_lines(c(say_drift(drift), say("legends.drift"))))
}

# ---- ladders -----------------------------------------------------------------------

#' @export
print.pregunta_ladder <- function(x, ...) print_lines(x, show_ladders)

show_ladders <- function(table, people = FALSE) {
  ladders <- attr(table, "ladders")
  if (is.null(ladders)) {
    ladders <- list(ladder = attr(table, "ladder"))
    table$ladder <- "ladder"
  }
  lines <- lapply(names(ladders), function(name) {
    mine <- table[table$ladder == name, ]
    steps <- paste(ladders[[name]], collapse = " > ")
    c(
      bold_line(paste0(name, ": ", steps)),
      if (people) {
        ladder_people(mine)
      } else {
        ladder_counts(mine, ladders[[name]], attr(table, "tree"))
      },
      "",
      wrap_lines(say_forgotten(mine)),
      ""
    )
  })
  unlist(lines)
}

# How many stand on each step, by section.
ladder_counts <- function(mine, ladder, tree) {
  counts <- counts_on_steps(mine, ladder)
  total <- rowSums(counts)
  step <- c(
    say("cli-growth.working_on", ladder = ladder),
    say("cli-growth.passed_all")
  )
  title <- c(
    if (is.null(tree)) rep(NA, length(ladder)) else titles_of(ladder, tree),
    NA
  )
  several <- ncol(counts) > 1
  format_table(
    text_column("step", step),
    if (!all(is.na(title))) text_column("title", title, shrink = TRUE),
    if (several) {
      lapply(colnames(counts), function(section) {
        text_column(I(section), counts[, section], "right")
      })
    },
    text_column("all", total, "right"),
    text_column("", bar(total / sum(total)), colour = "teal")
  )
}

ladder_people <- function(mine) {
  mine <- mine[order(mine$passed, mine$student), ]
  now <- or_else(mine$working_on, say("cli-growth.passed_all"))
  format_table(
    text_column("student", name_or_id(mine), shrink = TRUE),
    text_column("section", mine$section),
    text_column("passed", mine$passed, "right"),
    text_column("working_on", now),
    text_column(
      "open_below",
      gsub(";", ", ", mine$forgotten),
      colour = "ochre"
    )
  )
}

say_forgotten <- function(mine) {
  open <- mine[nzchar(mine$forgotten), ]
  if (!nrow(open)) return(say("cli-growth.nobody_has_passed_a"))
  steps <- in_parentheses(gsub(";", ", ", open$forgotten))
  who <- some_of(paste(name_or_id(open), steps), 6)
  say(
    "cli-growth.students_passed_a_step",
    n = nrow(open),
    who = who
  )
}
