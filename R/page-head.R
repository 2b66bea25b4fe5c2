# One sheet for a head: how it went, where to help, whether to trust it. No student
# is in it, and it needs no script.

head_page <- function(sitting, by = NULL) {
  tags <- htmltools::tags
  sitting <- for_sharing(sitting)
  by <- utils::head(columns_to_compare(sitting, by), 2)
  figures <- view_classes(sitting, by)
  about <- c(
    if (!is.na(sitting$settings$date)) say_day(sitting$settings$date),
    say("page-head.questions", n = nrow(sitting$items)),
    say("page-head.students", n = figures$test$n),
    say_narrowed(sitting)
  )
  trust <- c(
    say_reliability(figures$test),
    say_forms(figures$test),
    say_length(figures$test)
  )
  body <- tags$main(
    class = "sheet",
    tags$header(page_titles(sitting$settings$title, about)),
    tags$div(
      class = "halves",
      headed(say("page-head.how_it_went"), first_how(sitting, figures)),
      headed(say("page-head.where_to_help"), head_help(sitting, figures))
    ),
    lapply(by, function(column) {
      rows <- most_rows_on_sheet[length(by)]
      head_beside(figures$by[[column]], column, sitting$settings, rows)
    }),
    tags$div(
      class = "halves",
      headed(say("page-head.before_scores_count"), head_settle(figures)),
      headed(say("page-head.can_it_be_trusted"), lapply(trust, tags$p))
    )
  )
  page <- page_document(
    say("page-head.on_one_page", title = sitting$settings$title),
    body,
    "head",
    level_styles(names(sitting$settings$levels))
  )
  structure(page, headline = headline_of(figures))
}

# The standards from the lowest, with their levels.
head_help <- function(sitting, figures, most = 6) {
  standards <- figures$standards
  if (!nrow(standards)) {
    return(htmltools::tags$p(say("page-head.no_question_names_a")))
  }
  leaves <- lowest_standards(standards, most)
  levels <- names(sitting$settings$levels)
  code <- html_cell(escape(leaves$code), tag = "b")
  strips <- level_strip(as.matrix(leaves[levels]), levels)
  rows <- html_row(
    html_cell(paste(code, escape(leaves$title))),
    html_cell(share_cells(leaves$share), "whole"),
    html_cell(strips, "strips")
  )
  headings <- c(
    say("page-head.standard"),
    say("page-head.mean"),
    say("page-head.students_in_each_level")
  )
  said <- printable(say_standards(standards, attr(standards, "tree")))
  table <- html_table(heading(headings), rows)
  htmltools::tagList(htmltools::tags$p(said), htmltools::HTML(table))
}

# Of one column of groups, and of each of two: what goes on one printed sheet.
most_rows_on_sheet <- c(12, 6)

# Where there are more groups than rows, the highest and the lowest of them.
head_beside <- function(test, column, settings, most) {
  table <- as.data.frame(test)
  table <- table[order(-table$mean_share), ]
  shown <- table
  if (nrow(table) > most) {
    # Those withheld are neither.
    known <- table[!is.na(table$mean_share), ]
    half <- min(most, nrow(known)) %/% 2
    shown <- rbind(utils::head(known, half), utils::tail(known, half))
  }
  headings <- c(
    heading(capital(column_words(column))),
    heading(say("page-head.number"), "n"),
    heading(
      c(say("page-head.mean_score"), say("page-head.students_in_each_level"))
    )
  )
  levels <- names(settings$levels)
  left <- nrow(table) - nrow(shown)
  rows <- head_rows(shown, column, levels)
  if (left) rows <- append(rows, gap_row(left), nrow(shown) / 2)
  page_section(
    paste0("by-", column),
    say("page-head.by", column = column_words(column)),
    htmltools::HTML(finding_line(say_groups(test))),
    htmltools::HTML(html_table(headings, rows)),
    if (left) help_line(say("page-head.and_more_the_coordinators"))
  )
}

gap_row <- function(left) {
  said <- escape(say("page-head.between", left = left))
  paste0("<tr><td colspan=\"4\" class=\"gap\">", said, "</td></tr>")
}

# A group a row: its name, marked where it stands apart, its mean and its levels.
head_rows <- function(shown, column, levels) {
  name <- escape(shown[[column]])
  sign <- " <span class=\"asks\">\u25b2</span>"
  name <- paste0(
    name,
    ifelse(shown$beyond_chance %in% TRUE, sign, "")
  )
  share <- share_cells(
    shown$mean_share,
    shown$mean_low / shown$points,
    shown$mean_high / shown$points
  )
  withheld <- is.na(shown$mean_share)
  strips <- level_strip(as.matrix(shown[levels]), levels)
  html_row(
    html_cell(name),
    html_cell(shown$n, "n"),
    html_cell(ifelse(withheld, escape(say_reason(shown$reason)), share)),
    html_cell(strips, "strips")
  )
}

head_settle <- function(figures) {
  tags <- htmltools::tags
  press <- to_settle(figures$look)
  htmltools::tagList(
    tags$p(
      if (nrow(press)) {
        say(
          "page-head.set_those_back_who",
          item = join_some(press$item),
          n = nrow(press)
        )
      } else {
        say("page-head.no_questions_key_or")
      }
    ),
    if (figures$waiting) {
      tags$p(
        say("page-head.answers_still_waiting_for", waiting = figures$waiting)
      )
    },
    if (figures$test$absent) {
      tags$p(say("page-head.students_absent", absent = figures$test$absent))
    }
  )
}

# One strip a row, as long as there are students, cut by level.
level_strip <- function(shares, levels) {
  pieces <- lapply(seq_along(levels), function(k) {
    share <- shares[, k]
    said <- html_cell(paste0(" ", percent(share)), tag = "i")
    has_room <- share >= 0.16 + 0.04 * nchar(percent(share))
    sign <- ifelse(
      share >= 0.08,
      level_signs(length(levels))[k],
      ""
    )
    piece <- paste0(
      "<span class=\"lv",
      k,
      "\" style=\"width:",
      round(100 * share, 1),
      "%\" title=\"",
      escape(paste0(level_words(levels[k]), ": ", percent(share))),
      "\">",
      sign,
      ifelse(has_room, said, ""),
      "</span>"
    )
    as.character(ifelse(is.na(share) | share == 0, "", piece))
  })
  strips <- do.call(paste0, pieces)
  html_cell(strips, "strip", "span")
}
