# For who looks at several classes: side by side, the quality of the test, what is
# to be settled before scores count. No student is in it.

coordinator_page <- function(sitting, by) {
  tags <- htmltools::tags
  sitting <- for_sharing(sitting)
  by <- columns_to_compare(sitting, by)
  figures <- view_classes(sitting, by)
  no_people <- page_people(sitting$students[0, ], FALSE)
  view <- list(
    tables = list(
      `item-table` = item_data(sitting, figures, no_people),
      `option-table` = option_data(shared_options(figures)),
      `decision-table` = decision_data(figures$decisions)
    ),
    texts = list(trust = trust_texts(figures))
  )
  parts <- c(
    lapply(stats::setNames(nm = by), function(column) {
      report_beside(figures$by[[column]], column)
    }),
    list(
      standards = report_standing(figures, by, sitting$settings),
      items = report_items(view),
      options = report_answers(view, FALSE),
      trust = report_quality(figures, view),
      notes = report_notes(sitting, FALSE)
    )
  )
  parts <- Filter(Negate(is.null), parts)
  base::names(parts)[base::names(parts) %in% by] <- paste0("by-", by)
  of_columns <- say("page-coordinator.by", by = column_words(by))
  names(of_columns) <- paste0("by-", by, recycle0 = TRUE)
  body <- report_body(
    report_head(sitting, say("view-report.all"), FALSE),
    coordinator_first(sitting, figures, by),
    parts,
    shared_data(sitting, shared_items(sitting, no_people, FALSE)),
    more = of_columns
  )
  page <- page_document(
    say("page-coordinator.for_the_coordinator", title = sitting$settings$title),
    body,
    style = level_styles(base::names(sitting$settings$levels))
  )
  structure(page, headline = headline_of(figures))
}

# ---- the first screen --------------------------------------------------------------

coordinator_first <- function(sitting, figures, by) {
  tags <- htmltools::tags
  settle <- say("page-coordinator.settle_before_scores_count")
  tags$div(
    class = "first",
    headed(say("page-coordinator.how_it_went"), first_how(sitting, figures)),
    headed(settle, first_settle(figures), class = "look"),
    headed(say("page-coordinator.who_stands_apart"), first_apart(figures, by))
  )
}

first_settle <- function(figures, most = 5) {
  tags <- htmltools::tags
  look <- figures$look
  press <- to_settle(look)
  rest <- look[!look$item %in% press$item, ]
  shown <- utils::head(rbind(press, rest), most)
  heading <- if (nrow(press)) {
    say(
      "page-coordinator.questions_may_be_at",
      n = nrow(press),
      item = join_some(press$item)
    )
  } else {
    say("page-coordinator.no_questions_key_or")
  }
  notes <- tags$a(href = "#notes", say("page-coordinator.notes"))
  notes <- htmltools::HTML(html_of(notes))
  waiting <- figures$waiting
  mistakes <- figures$mistakes
  absent <- figures$test$absent
  htmltools::tagList(
    tags$p(tags$b(heading)),
    tags$ol(look_points(shown)),
    open_point(waiting, rich("page-coordinator.answers_waiting", n = waiting)),
    open_point(
      mistakes,
      rich(
        "page-coordinator.mistakes_in_data",
        n = mistakes,
        notes = notes
      )
    ),
    open_point(absent, rich("page-coordinator.students_absent", n = absent))
  )
}

# What is still open, where there is something.
open_point <- function(n, said) if (n) htmltools::tags$p(said)

first_apart <- function(figures, by) {
  tags <- htmltools::tags
  if (!length(by)) {
    return(tags$p(
      say("page-coordinator.the_students_have_no")
    ))
  }
  standing <- if (!is.null(figures$standing)) {
    say_standards(figures$standing, attr(figures$standards, "tree"))
  }
  htmltools::tagList(
    lapply(by, function(column) {
      said <- printable(say_groups(figures$by[[column]]))
      tags$p(rich(
        "page-coordinator.by_column",
        column = column_words(column),
        said = said
      ))
    }),
    if (length(standing)) {
      tags$p(rich("page-coordinator.by_standard", said = printable(standing)))
    }
  )
}

# ---- groups side by side ---------------------------------------------------------------

report_beside <- function(test, column) {
  data <- beside_data(test, column)
  title <- say("page-coordinator.by_3", column = column_words(column))
  columns <- list(
    group = page_column(I(capital(column_words(column))), "placed", minWidth = 150),
    n = figure_column("students", width = 92),
    absent = figure_column("absent", width = 78),
    share = bar_column("mean_score"),
    apart = page_column(
      "against_the_others",
      "apart",
      say("page-coordinator.beyond_chance"),
      "roomy",
      width = 170,
      align = at_end()
    ),
    lowest = levels_column(220)
  )
  if (any(nzchar(data$note))) {
    columns$note <- page_column(
      "note",
      rooms = "roomy",
      width = 190
    )
  }
  least <- settings_of(test)$smallest_group
  page_section(
    paste0("by-", column),
    title,
    htmltools::HTML(finding_line(say_groups(test))),
    wide(
      title,
      page_table(
        paste0("by-", column, "-table"),
        data,
        columns,
        column
      )
    ),
    help_line(say("page-coordinator.each_group_against_all", least = least))
  )
}

beside_data <- function(test, column) {
  levels <- names(settings_of(test)$levels)
  table <- as.data.frame(test)
  withheld <- is.na(table$mean_share)
  data <- data.frame(
    group = placed(cell_words(table[[column]])),
    n = table$n,
    absent = table$absent,
    share = table$mean_share,
    low = table$mean_low / table$points,
    high = table$mean_high / table$points,
    apart = table$difference,
    beyond = table$beyond_chance %in% TRUE,
    lowest = table[[levels[1]]],
    note = ifelse(
      withheld,
      cell_words(say_reason(table$reason)),
      ""
    )
  )
  shares <- as.matrix(table[levels])
  data$in_levels <- each_row(table, function(row) unname(shares[row, ]))
  data
}

# ---- standards by section ----------------------------------------------------------

report_standing <- function(figures, by, settings) {
  if (is.null(figures$standing)) return(NULL)
  grid <- standing_grid(figures, settings)
  standards <- figures$standards
  place <- seq_along(grid$codes)
  data <- data.frame(
    group = placed(cell_words(grid$groups)),
    stats::setNames(as.data.frame(grid$shares), paste0("standing", place)),
    stats::setNames(as.data.frame(grid$steps), paste0("level", place))
  )
  columns <- lapply(place, function(k) {
    standing_column(grid$codes[k], standards$title[k])
  })
  names(columns) <- paste0("standing", place)
  group <- page_column(
    I(capital(column_words(figures$finest))),
    "placed",
    minWidth = 140
  )
  said <- say_standards(standards, attr(standards, "tree"))
  page_section(
    "standards",
    say("page-coordinator.standards_by", finest = column_words(figures$finest)),
    htmltools::HTML(finding_line(said)),
    wide(
      say("report_parts.standards"),
      page_table(
        "standing-table",
        data,
        c(list(group = group), columns),
        "groups"
      )
    ),
    level_legend(settings),
    standards_list(standards)
  )
}

standing_column <- function(code, title) {
  reactable::colDef(
    name = code,
    header = htmltools::tags$abbr(title = cell_words(title), code),
    cell = reactable::JS("cells.standing"),
    minWidth = 84,
    align = at_start(),
    searchable = FALSE
  )
}

standards_list <- function(standards) {
  titled <- standards[!is.na(standards$title), ]
  if (nrow(titled)) {
    help_line(paste0(titled$code, " ", titled$title, collapse = " \u00b7 "))
  }
}

# ---- the test itself ---------------------------------------------------------------

report_quality <- function(figures, view) {
  made <- report_trust(view)
  if (all(is.na(figures$items$discrimination))) return(made)
  picture <- ggplot2::autoplot(figures$items, options = figures$options)
  htmltools::tagAppendChild(made, page_picture(picture))
}
