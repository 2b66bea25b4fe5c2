# The standards in the terminal: of the class, opened, by group, by student.

run_standards <- function(call) {
  of_students <- identical(call$by, "student")
  large <- if (of_students && !call$helped) open_in_parts(call[names(call) != "by"])
  if (!is.null(large)) {
    of_some <- function(part) summarise_standards(part, "student", call$tag)
    return(put_parts(call, large, of_some))
  }
  sitting <- read_for_figures(call)
  if (call$grid) {
    call$by <- "student"
  }
  view <- view_asked(
    view_standards,
    call,
    sitting,
    by = call$by,
    tag = call$tag,
    grid = call$grid || call$format == "text",
    # What is read by a person is as sure as it can be said.
    helped = call$helped || call$format == "text" && (of_students || call$grid)
  )
  if (view$none) tell_user(say("cli-standards.no_item_of_this"))
  show <- function(rows) {
    if (view$as_grid) return(show_grid(rows, call$below))
    c(
      show_standards(rows, view$opened),
      show_evidence(view$evidence, rows$code[1])
    )
  }
  put_out(call, view$rows, show, nothing_below(call$below))
}

#' @export
print.pregunta_standards <- function(x, ...) {
  print_lines(x, show_standards)
}

show_standards <- function(standards, opened = FALSE) {
  by <- attr(standards, "by")
  if (identical(by, "student")) return(show_student_standards(standards))
  beside <- !is.null(by) && !opened && "beyond_chance" %in% names(standards)
  table <- if (beside) show_beside(standards) else show_code_rows(standards)
  tree <- attr(standards, "tree")
  c(
    table,
    "",
    wrap_lines(say_standards(standards, tree)),
    wrap_lines(say_cuts(standards)),
    wrap_lines(say_thin(standards)),
    wrap_lines(say_out_of_reach(standards)),
    standards_legend(standards)
  )
}

standards_legend <- function(standards) {
  by <- attr(standards, "by")
  has_priority <- any(nzchar(priority_sign(standards)))
  said <- c(
    if (has_priority) say("cli-standards.a_priority_standard"),
    if (is.null(by)) say("cli-standards.in_a_level_share"),
    if (any(standards$beyond_chance %in% TRUE)) {
      say("cli-standards.above_below_the_others", nested = length(by) > 1)
    }
  )
  wrap_lines(paste(said, collapse = " "))
}

show_code_rows <- function(standards) {
  by <- attr(standards, "by")
  levels <- intersect(names(settings_of(standards)$levels), names(standards))
  standards <- groups_together(standards)
  counted <- unique(standards$n)
  apart <- if (is.null(by)) "" else paste0(" ", apart_sign(standards))
  score <- paste(
    bar(standards$share, 6),
    pad(percent(standards$share), "right")
  )
  lines <- format_table(
    code_column(standards),
    if (is.null(by)) title_column(standards),
    group_columns(standards, by),
    text_column("items", standards$items, "right"),
    if (length(counted) > 1) text_column("n", standards$n, "right"),
    text_column("score", paste0(score, apart), colour = "teal"),
    interval_column(
      "interval",
      standards$share_low,
      standards$share_high
    ),
    level_columns(standards, levels)
  )
  if (length(counted) > 1 || !is.null(by)) return(lines)
  c(
    lines, "", say("cli-standards.students_in_each_row", counted = counted)
  )
}

# Each code below what it is a part of, the uppermost at the margin; mark: what stands
# behind it.
code_column <- function(standards, header = I(tag_header(standards)),
                        mark = priority_sign(standards)) {
  depth <- depth_in_tree(standards$code, attr(standards, "tree"))
  indent <- strrep("  ", depth - min(depth))
  text_column(header, paste0(indent, shown_codes(standards$code), mark))
}

title_column <- function(standards) {
  if (all(is.na(standards$title))) return(NULL)
  text_column("title", standards$title, shrink = TRUE)
}

# ---- groups side by side: standards down and groups across while they fit, else
# groups down and standards across ------------------------------------------------------

show_beside <- function(standards) {
  beside <- standards_beside(standards)
  share <- percent(standards$share)
  cell <- paste0(share, pad(apart_sign(standards), "left"))
  cells <- beside$at
  cells[] <- or_blank(beside$at, cell[beside$at])
  wide <- sum(pmin(nchar(beside$groups, "width"), 14) + 2)
  if (length(attr(standards, "by")) == 1 && wide <= 60) {
    return(beside_down(beside, cells))
  }
  beside_across(
    beside,
    cells,
    highest_n(standards, beside$groups)
  )
}

# The most students that a standard of each group has.
highest_n <- function(standards, groups) {
  path <- group_paths(standards, attr(standards, "by"))
  tapply(standards$n, factor(path, groups), function(n) {
    if (all(is.na(n))) NA else max(n, na.rm = TRUE)
  })
}

beside_down <- function(beside, cells) {
  first <- beside$first
  groups <- shorten(beside$groups, 14)
  format_table(
    code_column(first),
    title_column(first),
    text_column("items", first$items, "right"),
    lapply(seq_along(groups), function(k) {
      text_column(I(groups[k]), cells[, k], "right")
    })
  )
}

# Where not all standards fit, those that stand highest in the tree come first.
beside_across <- function(beside, cells, most) {
  first <- beside$first
  depth <- depth_in_tree(first$code, attr(first, "tree"))
  head <- c(
    group_columns(beside$about),
    list(text_column("n", most, "right"))
  )
  head[[1]]$values <- shorten(head[[1]]$values, 30)
  name <- paste0(first$code, priority_sign(first))
  wide <- pmax(nchar(name, "width"), 5)
  kept <- columns_that_fit(wide, order(depth), head)
  codes <- lapply(kept, function(k) {
    text_column(I(name[k]), cells[k, ], "right")
  })
  lines <- format_table(head, codes)
  if (length(kept) == nrow(first)) return(lines)
  left <- say(
    "cli-standards.of_standards_fit_here",
    n = length(kept),
    n_first = nrow(first),
    code = first$code[kept[1]]
  )
  c(lines, "", wrap_lines(left))
}

# ---- one standard opened: the questions that show it -----------------------------------

show_evidence <- function(shown, code) {
  if (is.null(shown)) return(NULL)
  text <- or_blank(shown$wrong_text, paste0("  ", shown$wrong_text))
  wrong <- paste0(
    shown$wrong, " ", percent(shown$wrong_share), text
  )
  idea <- or_blank(shown$misconception)
  lines <- format_table(
    text_column("item", shown$item),
    if (!all(is.na(shown$prompt))) {
      text_column("question", shown$prompt, shrink = TRUE)
    },
    gauge_column(
      "points_earned",
      shown$difficulty,
      width = 6,
      colour = "teal"
    ),
    text_column(
      "most_chosen_wrong",
      or_blank(shown$wrong, wrong),
      shrink = TRUE
    ),
    if (any(nzchar(idea))) text_column("idea_behind_it", idea)
  )
  c(
    "", bold_line(say("cli-standards.what_shows", code = code)), lines
  )
}

# ---- students ----------------------------------------------------------------------

show_student_standards <- function(standards) {
  known <- !all(is.na(standards$name))
  code <- paste0(standards$code, priority_sign(standards))
  lines <- format_table(
    text_column("student", standards$student, shrink = TRUE),
    if (known) text_column("name", standards$name, shrink = TRUE),
    text_column(I(tag_header(standards)), code),
    title_column(standards),
    text_column("points", points_of_earned(standards), "right"),
    gauge_column("score", standards$share, colour = "teal"),
    interval_column(
      "interval",
      standards$share_low,
      standards$share_high
    ),
    text_column("level", level_or_unsure(standards)),
    if (!is.null(standards$estimate) && !all(is.na(standards$estimate))) {
      text_column(
        "estimate",
        with_bounds(
          standards$estimate, standards$estimate_low, standards$estimate_high, percent
        ),
        "right"
      )
    }
  )
  helped <- !is.null(standards$estimate) && !all(is.na(standards$estimate))
  c(
    lines, "",
    wrap_lines(c(say("legends.unsure"), if (helped) say("legends.helped")))
  )
}

# The level, with a question mark where the next one is as likely.
level_or_unsure <- function(standards) {
  paste0(
    level_words(standards$level),
    ifelse(is_unsure(standards), " ?", "")
  )
}
