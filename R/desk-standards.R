# The standards and the ideas behind wrong answers, with who.

standards_room <- function(visit) {
  known <- test_of_visit(visit)
  sitting <- known$sitting
  figures <- figures_known(known)
  tags <- htmltools::tags
  htmltools::tagList(
    levels_style(sitting),
    page_heading(say("page-standards.the_standards")),
    htmltools::HTML(paste0("", standard_texts(figures))),
    if (nrow(figures$standards)) {
      standards_table(visit, figures)
    } else {
      tags$p(say("desk-standards.none"))
    },
    if (nrow(figures$standards)) level_legend(sitting$settings),
    ideas_section(visit, known, figures)
  )
}

standards_table <- function(visit, figures) {
  tags <- htmltools::tags
  standards <- as.data.frame(figures$standards)
  depth <- depth_in_tree(standards$code, attr(figures$standards, "tree"))
  levels <- names(settings_of(figures$standards)$levels)
  strips <- level_strip(as.matrix(standards[levels]), levels)
  rows <- each_row(standards, function(k) {
    row <- standards[k, ]
    tags$tr(
      tags$th(
        scope = "row",
        style = paste0("padding-inline-start:", 0.5 + 1.2 * depth[k], "em"),
        tags$a(href = place(visit, "standards", row$code), printable(row$code)), " ",
        tags$span(class = "text", printable(or_blank(row$title))),
        if (row$emphasis %in% "priority") {
          tags$span(class = "asks", say("desk-standards.priority"))
        }
      ),
      tags$td(class = "n", row$items),
      tags$td(class = classes("n", "roomy"), row$n),
      tags$td(`data-sort` = row$share, bar_of(row$share)),
      tags$td(class = "roomy", htmltools::HTML(strips[k]))
    )
  })
  desk_table(
    desk_headings(
      c("standard", "items", "students", "mean_score", "students_in_each_level"),
      figures = c("items", "students"),
      roomy = c("students", "students_in_each_level")
    ),
    rows,
    say("page-standards.the_standards"),
    "sorts"
  )
}

# A standard opened: the questions that show it, and who is below the cut.
standard_beside <- function(visit) {
  code <- visit$at$rest[1]
  if (is.na(code)) return(NULL)
  known <- test_of_visit(visit)
  sitting <- known$sitting
  figures <- figures_known(known)
  row <- as.data.frame(figures$standards)
  row <- row[row$code == code, ]
  if (!nrow(row)) return(lost_room(visit))
  tags <- htmltools::tags
  items <- strsplit(row$shown_by, ";", fixed = TRUE)[[1]]
  of_items <- figures$items[match(items, figures$items$item), ]
  rows <- each_row(of_items, function(k) {
    item <- of_items$item[k]
    tags$tr(
      tags$th(scope = "row", item_link(visit, item)),
      tags$td(printable(or_blank(sitting$items$prompt[sitting$items$item == item]))),
      tags$td(bar_of(of_items$difficulty[k]))
    )
  })
  cut <- sitting$settings$mastery_cut
  low <- if (figures$is_class) below_on_each(figures$own_standards, cut)[[code]]
  htmltools::tagList(
    tags$h2(tabindex = "-1", printable(code)),
    if (!is.na(row$title)) tags$p(printable(row$title)),
    desk_table(
      desk_headings(
        c("item", "question", "points_earned"),
        c(points_earned = "difficulty")
      ),
      rows,
      say("desk-standards.questions_that_show_it")
    ),
    if (length(low$student)) {
      tags$p(
        tags$b(say("desk-standards.below", n = nrow(low), cut = percent(cut))), " ",
        names_of(visit, sitting$students, low$student)
      )
    }
  )
}

ideas_section <- function(visit, known, figures) {
  found <- as.data.frame(figures$misconceptions)
  if (!NROW(found)) return(NULL)
  tags <- htmltools::tags
  held <- as.data.frame(figures$held)
  rows <- each_row(found, function(k) {
    who <- held$student[held$code == found$code[k] & held$status %in% "likely"]
    tags$tr(
      tags$th(
        scope = "row", printable(found$code[k]), " ",
        tags$span(class = "text", printable(or_blank(found$description[k])))
      ),
      tags$td(class = "n", found$likely[k]),
      tags$td(bar_of(found$share[k], TRUE)),
      tags$td(if (length(who)) {
        tags$details(
          tags$summary(say("desk-questions.who", n = length(who))),
          tags$p(names_of(visit, known$sitting$students, who))
        )
      })
    )
  })
  tags$section(
    tags$h2(say("page-misconceptions.the_ideas_behind_wrong")),
    htmltools::HTML(finding_line(say_misconceptions(figures$misconceptions))),
    desk_table(
      desk_headings(c("idea", "likely", "of_those_who_could", "who"), figures = "likely"),
      rows,
      say("page-misconceptions.the_ideas_behind_wrong")
    )
  )
}
