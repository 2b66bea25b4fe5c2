# For who looks at several classes: side by side, the quality of the test, what is
# to be settled before scores count. No student is in it.

coordinator_page <- function(sitting, by) {
  tags <- htmltools::tags
  sitting <- for_sharing(sitting)
  by <- columns_to_compare(sitting, by)
  figures <- coordinator_figures(sitting, by)
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
  body <- htmltools::tagList(
    tags$a(class = "skip", href = "#first", say("page-coordinator.to_the_first_things")),
    tags$main(
      report_head(sitting, say("page-report.all"), FALSE),
      tags$div(id = "first", coordinator_first(sitting, figures, by)),
      report_contents(
        base::names(parts),
        stats::setNames(
          say("page-coordinator.by", by = by),
          paste0("by-", by, recycle0 = TRUE)
        )
      ),
      unname(parts),
      report_glossary()
    ),
    page_data(
      "shared",
      list(
        people = list(),
        present = list(),
        levels = I(base::names(sitting$settings$levels)),
        signs = I(level_signs(length(sitting$settings$levels))),
        cut = percent(sitting$settings$mastery_cut),
        items = shared_items(sitting, no_people, FALSE),
        views = list(list())
      )
    )
  )
  page_document(
    say("page-coordinator.for_the_coordinator", title = sitting$settings$title),
    body,
    style = level_styles(base::names(sitting$settings$levels))
  ) |>
    structure(headline = headline_of(figures))
}

# What leaves the class: groups of fewer than 5 are withheld.
least_shared_group <- 5

for_sharing <- function(sitting) {
  sitting$settings$smallest_group <- max(
    least_shared_group,
    sitting$settings$smallest_group
  )
  without_narrowing(sitting)
}

usual_columns <- c("district", "school", "teacher", "section")
own_columns <- c(
  "student", "name", "email", "guardian_email", "status", "late", "submitted", "attempt",
  "seconds"
)
most_subgroups <- 8

# Those of the usual columns that tell students apart, then others of a few groups.
columns_to_compare <- function(sitting, by) {
  students <- sitting$students
  if (!is.null(by)) {
    for (column in by) student_groups(sitting, column)
    return(by)
  }
  different <- vapply(
    students,
    function(column) length(unique(column[!is.na(column)])),
    0L
  )
  usual <- intersect(usual_columns, names(students)[different > 1])
  others <- setdiff(
    names(students)[different > 1 & different <= most_subgroups],
    c(usual_columns, own_columns)
  )
  c(usual, others)
}

coordinator_figures <- function(sitting, by) {
  tally <- tally_responses(sitting, products = TRUE)
  items <- summarise_items(tally)
  options <- summarise_options(tally)
  review <- review_figures(items, options)
  finest <- utils::tail(intersect(usual_columns, by), 1)
  standards <- summarise_standards(sitting)
  list(
    test = summarise_test(tally),
    items = items,
    options = options,
    review = review,
    look = look_of(review),
    decisions = summarise_decisions(tally),
    students = summarise_students(sitting),
    standards = standards,
    by = lapply(stats::setNames(nm = by), function(column) {
      summarise_test(sitting, column)
    }),
    finest = finest,
    standing = if (length(finest) && nrow(standards)) {
      summarise_standards(sitting, finest)
    },
    is_class = FALSE,
    waiting = sum(cell_state_names[cell_states(sitting)] == "pending"),
    whole = frequent_answers(
      answers_at(tally, told_whole(tally$about$items)),
      tally$about$items
    ),
    mistakes = sum(vapply(sitting$findings, function(one) one$severity == "error", TRUE))
  )
}

# What only one or two students wrote is nobody else's to read.
is_rare <- function(table, type) {
  is_answered(type, "written") & is_wrong(table) & table$count < least_projected
}

shared_options <- function(figures) {
  options <- figures$options
  figures$options <- options[
    !is_rare(options, options$type),

  ]
  figures
}

frequent_answers <- function(whole, items) {
  if (is.null(whole)) return(NULL)
  whole[
    !is_rare(whole, items$type[match(whole$item, items$item)]),

  ]
}

# ---- the first screen --------------------------------------------------------------

coordinator_first <- function(sitting, figures, by) {
  tags <- htmltools::tags
  tags$div(
    class = "first",
    tags$section(
      tags$h2(say("page-coordinator.how_it_went")),
      first_how(sitting, figures)
    ),
    tags$section(
      class = "look",
      tags$h2(say("page-coordinator.settle_before_scores_count")),
      first_settle(figures)
    ),
    tags$section(
      tags$h2(say("page-coordinator.who_stands_apart")),
      first_apart(figures, by)
    )
  )
}

first_settle <- function(figures, most = 5) {
  tags <- htmltools::tags
  look <- figures$look
  press <- look[look$rule %in% pressing_rules, ]
  rest <- look[!look$rule %in% pressing_rules, ]
  shown <- utils::head(rbind(press, rest), most)
  htmltools::tagList(
    tags$p(
      tags$b(
        if (nrow(press)) {
          say(
            "page-coordinator.questions_may_be_at",
            n = nrow(press),
            item = join_some(press$item)
          )
        } else {
          say("page-coordinator.no_questions_key_or")
        }
      )
    ),
    tags$ol(
      look_points(shown)
    ),
    if (figures$waiting) {
      tags$p(rich("page-coordinator.answers_waiting", n = figures$waiting))
    },
    if (figures$mistakes) {
      notes <- tags$a(href = "#notes", say("page-coordinator.notes"))
      tags$p(
        rich(
          "page-coordinator.mistakes_in_data",
          n = figures$mistakes,
          notes = htmltools::HTML(html_of(notes))
        )
      )
    },
    if (figures$test$absent) {
      tags$p(rich("page-coordinator.students_absent", n = figures$test$absent))
    }
  )
}

first_apart <- function(figures, by) {
  tags <- htmltools::tags
  if (!length(by)) {
    return(tags$p(
      say("page-coordinator.the_students_have_no")
    ))
  }
  tree <- attr(figures$standards, "tree")
  htmltools::tagList(
    lapply(by, function(column) {
      tags$p(
        rich(
          "page-coordinator.by_column",
          column = column,
          said = printable(say_groups(figures$by[[column]]))
        )
      )
    }),
    if (!is.null(figures$standing)) {
      tags$p(
        rich(
          "page-coordinator.by_standard",
          said = printable(say_standards(figures$standing, tree))
        )
      )
    }
  )
}

# ---- groups side by side ---------------------------------------------------------------

report_beside <- function(test, column) {
  data <- beside_data(test, column)
  page_section(
    paste0("by-", column),
    say("page-coordinator.by_3", column = column),
    htmltools::HTML(finding_line(say_groups(test))),
    wide(
      say("page-coordinator.by_3", column = column),
      page_table(
        paste0("by-", column, "-table"),
        data,
        c(
          list(
            group = page_column(I(capital(column)), minWidth = 150),
            n = figure_column("students", width = 92),
            absent = figure_column("absent", width = 78),
            share = bar_column("mean_score"),
            apart = page_column(
              "against_the_others",
              "apart",
              say("page-coordinator.beyond_chance"),
              "roomy",
              width = 170,
              align = "right"
            ),
            lowest = page_column(
              "students_in_each_level",
              "levels",
              rooms = "roomy",
              minWidth = 220,
              align = "left",
              searchable = FALSE
            )
          ),
          if (any(nzchar(data$note))) {
            list(note = page_column("note", rooms = "roomy", width = 190))
          }
        ),
        column
      )
    ),
    help_line(say(
      "page-coordinator.each_group_against_all",
      least = settings_of(test)$smallest_group
    ))
  )
}

beside_data <- function(test, column) {
  levels <- names(settings_of(test)$levels)
  table <- as.data.frame(test)
  data <- data.frame(
    group = cell_words(table[[column]]),
    n = table$n,
    absent = table$absent,
    share = table$mean_share,
    low = table$mean_low / table$points,
    high = table$mean_high / table$points,
    apart = table$difference,
    beyond = table$beyond_chance %in% TRUE,
    lowest = table[[levels[1]]],
    note = ifelse(is.na(table$mean_share), cell_words(say_reason(table$reason)), "")
  )
  counts <- as.matrix(table[levels])
  data$in_levels <- lapply(seq_len(nrow(table)), function(row) {
    unname(counts[row, ] / max(1, sum(counts[row, ])))
  })
  data
}

# ---- standards by section ----------------------------------------------------------

report_standing <- function(figures, by, settings) {
  if (is.null(figures$standing)) return(NULL)
  standing <- as.data.frame(figures$standing)
  codes <- figures$standards$code
  groups <- unique(standing[[figures$finest]])
  row <- match(standing[[figures$finest]], groups)
  shares <- matrix(NA_real_, length(groups), length(codes))
  shares[cbind(row, match(standing$code, codes))] <- standing$share
  levels <- matrix(
    vapply(seq_along(codes), function(k) {
      own <- levels_for(codes[k], settings, attr(figures$standards, "tree"))
      match(level_of(shares[, k], settings, own), names(own)) - 1
    }, numeric(length(groups))),
    length(groups)
  )
  place <- seq_along(codes)
  data <- data.frame(
    group = cell_words(groups),
    stats::setNames(as.data.frame(shares), paste0("standing", place)),
    stats::setNames(as.data.frame(levels), paste0("level", place))
  )
  columns <- lapply(place, function(k) {
    reactable::colDef(
      name = codes[k],
      header = htmltools::tags$abbr(
        title = cell_words(figures$standards$title[k]),
        codes[k]
      ),
      cell = reactable::JS("cells.standing"),
      minWidth = 84,
      align = "left",
      searchable = FALSE
    )
  })
  names(columns) <- paste0("standing", place)
  page_section(
    "standards",
    say("page-coordinator.standards_by", finest = figures$finest),
    htmltools::HTML(finding_line(
      say_standards(figures$standards, attr(figures$standards, "tree"))
    )),
    wide(
      say("report_parts.standards"),
      page_table(
        "standing-table",
        data,
        c(list(group = page_column(I(capital(figures$finest)), minWidth = 140)), columns),
        "groups"
      )
    ),
    level_legend(settings),
    standards_list(figures$standards)
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
  if (any(!is.na(figures$items$discrimination))) {
    made <- htmltools::tagAppendChild(
      made,
      page_picture(ggplot2::autoplot(figures$items, options = figures$options))
    )
  }
  made
}
