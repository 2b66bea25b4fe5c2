# The standards in the terminal: of the class, opened, by group, by student.

run_standards <- function(call) {
  sitting <- read_for_figures(call)
  if (!is.null(call$student) || !is.null(call$below) || call$grid) call$by <- "student"
  standards <- summarise_standards(sitting, call$by, call$tag)
  if (!nrow(standards) && is.null(call$tag)) {
    message(say("cli-standards.no_item_of_this"))
  }
  one <- !is.null(call$student) && length(split_commas(call$student)) == 1
  if (identical(call$by, "student") && !one && (call$grid || call$format == "text")) {
    return(put_grid(call, sitting, standards))
  }
  put_out(
    call,
    shown_rows(call, standards),
    function(standards) {
      c(
        show_standards(standards, opened = !is.null(call$standard)),
        if (!is.null(call$standard) && is.null(call$by)) {
          show_evidence(sitting, standards$code[1], call$tag)
        }
      )
    },
    empty = if (is.null(call$below)) {
      say("cli-standards.nothing_to_show")
    } else {
      say("cli-standards.nobody_is_below", below = call$below)
    }
  )
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
  c(
    table,
    "",
    wrap_lines(printable(say_standards(standards, attr(standards, "tree")))),
    wrap_lines(say_cuts(standards)),
    wrap_lines(say_thin(standards)),
    standards_legend(standards)
  )
}

standards_legend <- function(standards) {
  by <- attr(standards, "by")
  wrap_lines(
    paste(
      c(
        if (any(nzchar(priority_mark(standards)))) {
          say("cli-standards.a_priority_standard")
        },
        if (is.null(by)) say("cli-standards.in_a_level_share"),
        if (any(standards$beyond_chance %in% TRUE)) {
          say("cli-standards.above_below_the_others", nested = length(by) > 1)
        }
      ),
      collapse = " "
    )
  )
}

show_code_rows <- function(standards) {
  by <- attr(standards, "by")
  levels <- intersect(names(settings_of(standards)$levels), names(standards))
  # Of a standard its groups stand together, to be compared.
  if (!is.null(by)) {
    standards <- standards[order(match(standards$code, unique(standards$code))), ]
  }
  depth <- lengths(lapply(standards$code, ancestors, standards = attr(standards, "tree")))
  depth <- depth - min(depth)
  counted <- unique(standards$n)
  c(
    format_table(
      c(
        list(
          text_column(
            I(tag_header(standards)),
            paste0(strrep("  ", depth), standards$code, priority_mark(standards))
          ),
          if (is.null(by) && !all(is.na(standards$title))) {
            text_column("title", standards$title, shrink = TRUE)
          }
        ),
        group_columns(standards, by),
        list(
          text_column("items", standards$items, "right"),
          if (length(counted) > 1) text_column("n", standards$n, "right"),
          text_column(
            "score",
            paste0(
              bar(standards$share, 6),
              " ",
              pad(percent(standards$share), "right"),
              if (!is.null(by)) paste0(" ", apart_sign(standards))
            ),
            colour = "teal"
          ),
          interval_column("interval", standards$share_low, standards$share_high)
        ),
        level_columns(standards, levels)
      )
    ),
    if (length(counted) == 1 && is.null(by)) {
      c("", say("cli-standards.students_in_each_row", counted = counted))
    }
  )
}

# ---- groups side by side: standards down and groups across while they fit, else
# groups down and standards across ------------------------------------------------------

show_beside <- function(standards) {
  by <- attr(standards, "by")
  path <- group_paths(standards, by)
  groups <- unique(path)
  codes <- unique(standards$code)
  cell <- paste0(
    ifelse(is.na(standards$share), "\u2013", percent(standards$share)),
    pad(apart_sign(standards), "left")
  )
  cells <- matrix("", length(codes), length(groups)) # a group may lack a row
  cells[cbind(match(standards$code, codes), match(path, groups))] <- cell
  first <- standards[match(codes, standards$code), ]
  across <- length(by) == 1 && sum(pmin(nchar(groups, "width"), 14) + 2) <= 60
  if (across) {
    beside_down(first, shorten(groups, 14), cells)
  } else {
    beside_across(standards, first, groups, cells)
  }
}

beside_down <- function(first, groups, cells) {
  depth <- lengths(lapply(first$code, ancestors, standards = attr(first, "tree")))
  format_table(
    c(
      list(
        text_column(
          I(tag_header(first)),
          paste0(strrep("  ", depth), first$code, priority_mark(first))
        ),
        if (!all(is.na(first$title))) text_column("title", first$title, shrink = TRUE),
        text_column("items", first$items, "right")
      ),
      lapply(seq_along(groups), function(k) {
        text_column(I(groups[k]), cells[, k], "right")
      })
    )
  )
}

# Where not all standards fit, those that stand highest in the tree come first.
beside_across <- function(standards, first, groups, cells) {
  by <- attr(standards, "by")
  about <- standards[match(groups, group_paths(standards, by)), ]
  most <- tapply(standards$n, factor(group_paths(standards, by), groups), function(n) {
    if (all(is.na(n))) NA else max(n, na.rm = TRUE)
  })
  depth <- lengths(lapply(first$code, ancestors, standards = attr(first, "tree")))
  head <- c(group_columns(about, by), list(text_column("n", most, "right")))
  head[[1]]$values <- shorten(head[[1]]$values, 30)
  wide <- pmax(nchar(paste0(first$code, priority_mark(first)), "width"), 5)
  kept <- columns_that_fit(wide, order(depth), head)
  c(
    format_table(
      c(
        head,
        lapply(kept, function(k) {
          text_column(
            I(paste0(first$code[k], priority_mark(first)[k])),
            cells[k, ],
            "right"
          )
        })
      )
    ),
    if (length(kept) < nrow(first)) {
      c(
        "",
        wrap_lines(
          say(
            "cli-standards.of_standards_fit_here",
            n = length(kept),
            n_first = nrow(first),
            code = first$code[kept[1]]
          )
        )
      )
    }
  )
}

# ---- one standard opened: the questions that show it -----------------------------------

show_evidence <- function(sitting, code, tag) {
  shown <- evidence_for(sitting, code, tag)
  text <- ifelse(is.na(shown$wrong_text), "", paste0("  ", shown$wrong_text))
  wrong <- ifelse(
    is.na(shown$wrong),
    "",
    paste0(shown$wrong, " ", percent(shown$wrong_share), text)
  )
  idea <- ifelse(is.na(shown$misconception), "", shown$misconception)
  columns <- list(
    text_column("item", shown$item),
    if (!all(is.na(shown$prompt))) {
      text_column("question", shown$prompt, shrink = TRUE)
    },
    gauge_column("points_earned", shown$difficulty, width = 6, colour = "teal"),
    text_column("most_chosen_wrong", wrong, shrink = TRUE),
    if (any(nzchar(idea))) text_column("idea_behind_it", idea)
  )
  c(
    "",
    paint(say("cli-standards.what_shows", code = code), "bold"),
    format_table(
      columns
    )
  )
}

# ---- students ----------------------------------------------------------------------

show_student_standards <- function(standards) {
  columns <- list(
    text_column("student", standards$student, shrink = TRUE),
    if (!all(is.na(standards$name))) {
      text_column("name", standards$name, shrink = TRUE)
    },
    text_column(
      I(tag_header(standards)),
      paste0(standards$code, priority_mark(standards))
    ),
    if (!all(is.na(standards$title))) {
      text_column("title", standards$title, shrink = TRUE)
    },
    text_column("points", points_of_earned(standards), "right"),
    gauge_column("score", standards$share, colour = "teal"),
    interval_column("interval", standards$share_low, standards$share_high),
    text_column(
      "level",
      paste0(standards$level, ifelse(standards$unsure %in% TRUE, " ?", ""))
    )
  )
  c(
    format_table(
      columns
    ),
    "",
    wrap_lines(say("legends.unsure"))
  )
}
