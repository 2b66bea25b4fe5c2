# One sheet for a head: how it went, where to help, whether to trust it. No student
# is in it, and it needs no script.

head_page <- function(sitting, by = NULL) {
  tags <- htmltools::tags
  sitting <- for_sharing(sitting)
  by <- utils::head(columns_to_compare(sitting, by), 2)
  figures <- coordinator_figures(sitting, by)
  body <- tags$main(
    class = "sheet",
    tags$header(
      tags$div(
        class = "titles",
        tags$h1(printable(sitting$settings$title)),
        tags$p(
          printable(
            paste(
              c(
                if (!is.na(sitting$settings$date)) sitting$settings$date,
                say("page-head.questions", n = nrow(sitting$items)),
                say("page-head.students", n = figures$test$n),
                say_narrowed(sitting)
              ),
              collapse = " \u00b7 "
            )
          )
        )
      )
    ),
    tags$div(
      class = "halves",
      tags$section(tags$h2(say("page-head.how_it_went")), first_how(sitting, figures)),
      tags$section(tags$h2(say("page-head.where_to_help")), head_help(sitting, figures))
    ),
    lapply(by, function(column) {
      head_beside(figures$by[[column]], column, sitting$settings)
    }),
    tags$div(
      class = "halves",
      tags$section(tags$h2(say("page-head.before_scores_count")), head_settle(figures)),
      tags$section(
        tags$h2(say("page-head.can_it_be_trusted")),
        lapply(c(say_reliability(figures$test), say_length(figures$test)), tags$p)
      )
    )
  )
  page_document(
    say("page-head.on_one_page", title = sitting$settings$title),
    body,
    "head",
    level_styles(names(sitting$settings$levels))
  ) |>
    structure(headline = headline_of(figures))
}

# The standards from the lowest, with their levels.
head_help <- function(sitting, figures, most = 6) {
  standards <- figures$standards
  if (!nrow(standards)) return(htmltools::tags$p(say("page-head.no_question_names_a")))
  tree <- attr(standards, "tree")
  leaves <- as.data.frame(standards)[
    !standards$code %in% tree$parent & !is.na(standards$share),

  ]
  leaves <- utils::head(leaves[order(leaves$share), ], most)
  levels <- names(sitting$settings$levels)
  rows <- html_row(
    html_cell(
      paste0(html_cell(escape(leaves$code), tag = "b"), " ", escape(leaves$title))
    ),
    html_cell(share_cells(leaves$share), "whole"),
    html_cell(level_strip(as.matrix(leaves[levels]), levels), "strips")
  )
  htmltools::tagList(
    htmltools::tags$p(printable(say_standards(standards, tree))),
    htmltools::HTML(html_table(
      heading(c(
        say("page-head.standard"),
        say("page-head.mean"),
        say("page-head.students_in_each_level")
      )),
      rows
    ))
  )
}

most_rows_on_sheet <- 12

head_beside <- function(test, column, settings) {
  table <- as.data.frame(test)
  levels <- names(settings$levels)
  order <- order(-table$mean_share)
  shown <- table[utils::head(order, most_rows_on_sheet), ]
  name <- ifelse(
    shown$beyond_chance %in% TRUE,
    paste0(escape(shown[[column]]), " <span class=\"asks\">\u25b2</span>"),
    escape(shown[[column]])
  )
  rows <- html_row(
    html_cell(name),
    html_cell(shown$n, "n"),
    html_cell(
      ifelse(
        is.na(shown$mean_share),
        escape(say_reason(shown$reason)),
        share_cells(
          shown$mean_share,
          shown$mean_low / shown$points,
          shown$mean_high / shown$points
        )
      )
    ),
    html_cell(
      level_strip(as.matrix(shown[levels]) / pmax(1, rowSums(shown[levels])), levels),
      "strips"
    )
  )
  left <- nrow(table) - nrow(shown)
  page_section(
    paste0("by-", column),
    say("page-head.by", column = column),
    htmltools::HTML(finding_line(say_groups(test))),
    htmltools::HTML(html_table(
      c(
        heading(capital(column)),
        heading(say("page-head.number"), "n"),
        heading(c(say("page-head.mean_score"), say("page-head.students_in_each_level")))
      ),
      rows
    )),
    if (left) {
      help_line(say("page-head.and_more_the_coordinators", left = left))
    }
  )
}

head_settle <- function(figures) {
  tags <- htmltools::tags
  press <- figures$look[figures$look$rule %in% pressing_rules, ]
  htmltools::tagList(
    tags$p(
      if (nrow(press)) {
        say("page-head.set_those_back_who", item = join_some(press$item), n = nrow(press))
      } else {
        say("page-head.no_questions_key_or")
      }
    ),
    if (figures$waiting) {
      tags$p(say("page-head.answers_still_waiting_for", waiting = figures$waiting))
    },
    if (figures$test$absent) {
      tags$p(say("page-head.students_absent", absent = figures$test$absent))
    }
  )
}

# One strip a row, as long as there are students, cut by level.
level_strip <- function(shares, levels) {
  pieces <- vapply(seq_along(levels), function(k) {
    share <- shares[, k]
    sign <- ifelse(share >= 0.08, level_signs(length(levels))[k], "")
    piece <- paste0(
      "<span class=\"lv",
      k,
      "\" style=\"width:",
      round(100 * share, 1),
      "%\" title=\"",
      escape(paste0(levels[k], ": ", percent(share))),
      "\">",
      sign,
      ifelse(share >= 0.28, paste0(" ", percent(share)), ""),
      "</span>"
    )
    ifelse(is.na(share) | share == 0, "", piece)
  }, character(nrow(shares)))
  html_cell(apply(matrix(pieces, nrow(shares)), 1, paste, collapse = ""), "strip", "span")
}
