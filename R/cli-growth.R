# Growth over the year in the terminal: windows across, what is carried in brackets.

#' @export
print.pregunta_growth <- function(x, ...) print_lines(x, show_growth)

show_growth <- function(growth) {
  by <- attr(growth, "by")
  if (identical(by, "student")) {
    if (length(unique(growth$student)) == 1) return(show_own_growth(growth))
    return(show_students_growth(growth))
  }
  # Of a standard its groups stand together, to be compared.
  if (!is.null(by)) growth <- growth[order(match(growth$code, unique(growth$code))), ]
  row <- paste(if (is.null(by)) "" else growth[[by]], growth$code, sep = "\r")
  first <- growth[!duplicated(row), ]
  cells <- growth_cells(
    growth,
    row,
    ifelse(
      growth$n > 0,
      percent(growth$share),
      paste0("(", percent(growth$share_carried), ")")
    )
  )
  depth <- lengths(lapply(first$code, ancestors, standards = attr(growth, "tree")))
  c(
    format_table(
      c(
        if (!is.null(by)) list(text_column(I(by), first[[by]], shrink = TRUE)),
        list(
          text_column("code", paste0(strrep("  ", depth), first$code)),
          text_column("title", first$title, shrink = TRUE)
        ),
        cells
      )
    ),
    "",
    wrap_lines(
      printable(c(say_growth(growth), say_windows_n(growth), growth_legend(growth)))
    )
  )
}

# A column a window, a row for each of the rows.
growth_cells <- function(growth, row, said) {
  windows <- intersect(attr(growth, "windows"), growth$window)
  lapply(windows, function(window) {
    mine <- match(unique(row), row[growth$window == window])
    value <- said[growth$window == window][mine]
    text_column(
      I(shorten(printable(window), 16)),
      ifelse(is.na(value), "", value),
      "right"
    )
  })
}

growth_legend <- function(growth) {
  carried <- if (is.logical(growth$carried)) any(growth$carried) else any(growth$n == 0)
  c(
    if (carried %in% TRUE) {
      say("cli-growth.in_brackets_no_new")
    },
    if (whole_code %in% growth$code && length(unique(growth$code)) > 1) {
      say("cli-growth.the_last_test_of", whole_code = whole_code)
    },
    say_outside(attr(growth, "outside"))
  )
}

say_outside <- function(outside) {
  if (!length(outside) || !nrow(outside)) return(NULL)
  say(
    "cli-growth.in_no_window_and",
    name = join_some(paste0(outside$name, " (", outside$date, ")"), 6)
  )
}

say_windows_n <- function(growth) {
  whole <- growth[growth$code == growth$code[1], ]
  n <- tapply(
    whole$n,
    factor(whole$window, intersect(attr(growth, "windows"), whole$window)),
    sum,
    na.rm = TRUE
  )
  say("cli-growth.new_results", n = paste0(names(n), " ", n, collapse = ", "))
}

show_own_growth <- function(growth) {
  who <- growth[1, ]
  row <- growth$code
  first <- growth[!duplicated(row), ]
  last <- growth[!duplicated(row, fromLast = TRUE), ]
  last <- last[match(first$code, last$code), ]
  depth <- lengths(lapply(first$code, ancestors, standards = attr(growth, "tree")))
  c(
    paint(
      printable(
        paste0(
          if (is.na(who$name)) who$student else who$name,
          if (!is.na(who$section)) paste0(", ", who$section)
        )
      ),
      "bold"
    ),
    "",
    format_table(
      c(
        list(
          text_column("code", paste0(strrep("  ", depth), first$code)),
          text_column("title", first$title, shrink = TRUE)
        ),
        growth_cells(growth, row, in_brackets(growth)),
        list(
          text_column("gain", signed_points(last$gain), "right"),
          text_column("level", last$level),
          text_column(
            "first_there",
            ifelse(is.na(last$first_there), say("cli-growth.not_yet"), last$first_there)
          )
        )
      )
    ),
    "",
    wrap_lines(
      c(
        growth_legend(growth),
        say("cli-growth.gain_since_the_first", growth = percent(attr(growth, "cut")))
      )
    )
  )
}

in_brackets <- function(growth) {
  ifelse(growth$carried, paste0("(", percent(growth$share), ")"), percent(growth$share))
}

# Students down, on the whole or on the one standard that was asked for.
show_students_growth <- function(growth) {
  code <- growth$code[1]
  mine <- growth[growth$code == code, ]
  first <- mine[!duplicated(mine$student), ]
  last <- mine[!duplicated(mine$student, fromLast = TRUE), ]
  last <- last[match(first$student, last$student), ]
  order <- if (is.null(attr(growth, "sorted"))) order(last$share) else seq_len(nrow(last))
  cells <- growth_cells(mine, mine$student, in_brackets(mine))
  columns <- c(
    list(
      text_column(
        "student",
        ifelse(is.na(first$name), first$student, first$name),
        shrink = TRUE
      ),
      text_column("section", first$section)
    ),
    cells,
    list(
      text_column("gain", signed_points(last$gain), "right"),
      text_column("level", last$level),
      text_column(
        "first_there",
        ifelse(is.na(last$first_there), say("cli-growth.not_yet"), last$first_there)
      )
    )
  )
  columns <- lapply(columns, function(column) {
    column$values <- column$values[order]
    column
  })
  c(
    paint(
      printable(paste0(code, if (!is.na(mine$title[1])) paste0(": ", mine$title[1]))),
      "bold"
    ),
    "",
    format_table(columns),
    "",
    wrap_lines(
      c(
        growth_legend(mine),
        say("cli-growth.another_standard_with_standard")
      )
    )
  )
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
  unlist(lapply(names(ladders), function(name) {
    mine <- table[table$ladder == name, ]
    c(
      paint(
        printable(paste0(name, ": ", paste(ladders[[name]], collapse = " > "))),
        "bold"
      ),
      if (people) {
        ladder_people(mine)
      } else {
        ladder_counts(mine, ladders[[name]], attr(table, "tree"))
      },
      "",
      wrap_lines(printable(say_forgotten(mine))),
      ""
    )
  }))
}

# How many stand on each step, by section.
ladder_counts <- function(mine, ladder, tree) {
  section <- if (is.null(mine$section)) {
    rep("", nrow(mine))
  } else {
    ifelse(is.na(mine$section), "", mine$section)
  }
  sections <- sort(unique(section))
  step <- c(say("cli-growth.working_on", ladder = ladder), say("cli-growth.passed_all"))
  title <- c(if (is.null(tree)) rep(NA, length(ladder)) else titles_of(ladder, tree), NA)
  counts <- lapply(sections, function(one) {
    tabulate(mine$passed[section == one] + 1, length(step))
  })
  total <- Reduce(`+`, counts)
  format_table(
    c(
      list(
        text_column("step", step),
        if (!all(is.na(title))) text_column("title", title, shrink = TRUE)
      ),
      if (length(sections) > 1) {
        Map(function(name, n) text_column(I(name), n, "right"), sections, counts)
      },
      list(
        text_column("all", total, "right"),
        text_column("", bar(total / sum(total)), colour = "teal")
      )
    )
  )
}

ladder_people <- function(mine) {
  mine <- mine[order(mine$passed, mine$student), ]
  format_table(
    list(
      text_column(
        "student",
        ifelse(is.na(mine$name), mine$student, mine$name),
        shrink = TRUE
      ),
      text_column("section", mine$section),
      text_column("passed", mine$passed, "right"),
      text_column(
        "working_on",
        ifelse(is.na(mine$working_on), say("cli-growth.passed_all"), mine$working_on)
      ),
      text_column("open_below", gsub(";", ", ", mine$forgotten), colour = "ochre")
    )
  )
}

say_forgotten <- function(mine) {
  open <- mine[nzchar(mine$forgotten), ]
  if (!nrow(open)) return(say("cli-growth.nobody_has_passed_a"))
  who <- ifelse(is.na(open$name), open$student, open$name)
  say(
    "cli-growth.students_passed_a_step",
    n = nrow(open),
    who = some_of(paste0(who, " (", gsub(";", ", ", open$forgotten), ")"), 6)
  )
}
