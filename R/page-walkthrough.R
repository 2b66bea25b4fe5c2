# Going over the test with the class: a page for the projector, a question at a
# time, with what was answered; the right answer and why on a key press.

#' A page to go over the test with the class
#'
#' Writes one HTML file for the projector: a question at a time, the hardest
#' first, with what was answered and by what share. A key press (space or
#' Enter), or a click, shows the right answer and why; the arrow keys leaf on.
#' No student's name is in it, and answers that fewer than 3 students wrote are
#' not shown. Printed, every question stands with its answer.
#'
#' @param sitting A [sitting()].
#' @param path Of the file. It is written whole or not at all.
#' @param items Names of the items to show; all of them by default.
#' @param most How many of them, the hardest; all by default.
#' @param language The code of the language that it is written in, see [languages()]; that
#'   of the test where it is known, else the usual one.
#' @return The path, invisibly.
#' @section Errors: `pregunta_error_call` for an unknown item;
#'   `pregunta_error_output` when the file cannot be written.
#' @export
#' @examples
#' path <- file.path(tempdir(), "walkthrough.html")
#' write_walkthrough(read_sitting(demo_path()), path, most = 10)
#' file.size(path)
write_walkthrough <- function(sitting, path = "walkthrough.html", items = NULL,
                              most = NULL, language = NULL) {
  interpret_here()
  check_is_sitting(sitting)
  speak_here(language_of_pages(sitting, language))
  sitting <- titles_for_reader(sitting)
  unknown <- setdiff(items, sitting$items$item)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("page-walkthrough.there_is_no_item", unknown = quoted(unknown[1])),
      NULL,
      did_you_mean(unknown[1], sitting$items$item)
    )
  }
  figures <- summarise_items(sitting)
  shown <- order(figures$difficulty)
  if (!is.null(items)) {
    shown <- shown[figures$item[shown] %in% items]
  }
  if (!is.null(most)) {
    shown <- utils::head(shown, most)
  }
  answers <- summarise_answers(sitting)
  slides <- lapply(seq_along(shown), function(place) {
    j <- shown[place]
    walk_slide(
      sitting,
      figures[j, ],
      answers[answers$item == figures$item[j], ],
      place,
      length(shown)
    )
  })
  title <- paste(
    c(
      say("page-walkthrough.going_over", title = sitting$settings$title),
      say_narrowed(sitting)
    ),
    collapse = ", "
  )
  body <- htmltools::tags$main(slides, walk_bar(figures$item[shown]))
  check_output(path)
  write_text(page_document(title, body, "walkthrough"), path)
}

most_projected <- 6

walk_slide <- function(sitting, figures, answers, place, of) {
  tags <- htmltools::tags
  item <- sitting$items[sitting$items$item == figures$item, ]
  rows <- walk_answers(
    item,
    answers,
    sitting$options[sitting$options$item == item$item, ]
  )
  prompt <- if (is.na(item$prompt)) {
    say("page-walkthrough.question", item = item$item)
  } else {
    item$prompt
  }
  tags$section(
    class = "slide",
    id = paste0("slide-", place),
    `data-item` = item$item,
    tags$p(
      class = "place",
      rich(
        "page-walkthrough.place",
        item = item$item,
        place = place,
        of = of,
        difficulty = percent(figures$difficulty)
      )
    ),
    tags$h1(printable(prompt)),
    htmltools::HTML(html_cell(paste(rows, collapse = ""), "answers", "ul")),
    tags$div(
      class = "answer",
      `aria-live` = "polite",
      tags$p(class = "right-is", printable(walk_right(item, answers))),
      if (!is.na(item$rationale)) {
        tags$p(class = "why", printable(item$rationale))
      }
    )
  )
}

points_label <- function(given, most) {
  if (!length(given)) return(character())
  say(
    "page-walkthrough.points",
    given = given,
    most = plain_points(most)
  )
}

# A row an answer: for choices every option, for others the most frequent.
walk_answers <- function(item, answers, options) {
  blank <- answers[answers$state == "blank", ]
  given <- answers[answers$state == "answered", ]
  total <- sum(answers$count[answers$state != "waiting"])
  type <- item_type(item$type)
  if (type$offers) {
    table <- walk_options(item, given, options)
  } else {
    frequent <- which(given$count >= least_projected)
    frequent <- utils::head(frequent, most_projected)
    points <- type$answer == "marked"
    if (points) {
      frequent <- order(
        suppressWarnings(as.numeric(given$answer)),
        decreasing = TRUE
      )
    }
    table <- data.frame(
      label = if (points) {
        points_label(given$answer[frequent], item$points)
      } else {
        type$show_answer(given$answer[frequent])
      },
      text = rep(NA_character_, length(frequent)),
      count = given$count[frequent],
      key = given$key[frequent] & !points,
      rest = rep(FALSE, length(frequent))
    )
    left <- sum(given$count) - sum(table$count)
    if (left > 0) {
      table <- rbind(
        table,
        data.frame(
          label = say("page-walkthrough.other_answers"),
          text = NA,
          count = left,
          key = FALSE,
          rest = TRUE
        )
      )
    }
  }
  if (sum(blank$count)) {
    table <- rbind(
      table,
      data.frame(
        label = say("page-walkthrough.left_blank"),
        text = NA,
        count = sum(blank$count),
        key = FALSE,
        rest = TRUE
      )
    )
  }
  share <- if (total > 0) table$count / total else rep(0, nrow(table))
  html_cell(
    paste0(
      html_cell(escape(table$label), "label", "b"),
      html_cell(escape(table$text), "text", "span"),
      share_bar(share),
      html_cell(percent(share), "share", "span")
    ),
    data.table::fcase(
      table$key, "key",
      table$rest, "rest",
      default = ""
    ),
    "li"
  )
}

# Of a set every option counts by itself.
walk_options <- function(item, given, options) {
  type <- item_type(item$type)
  chosen <- type$parts(given$answer)
  labels <- unique(c(options$option, unlist(chosen)))
  count <- vapply(labels, function(label) {
    sum(given$count[vapply(chosen, function(set) label %in% set, TRUE)])
  }, 0)
  right <- right_options(item)[[1]]
  data.frame(
    label = labels,
    text = options$text[match(labels, options$option)],
    count = count,
    key = labels %in% right,
    rest = rep(FALSE, length(labels))
  )
}

walk_right <- function(item, answers) {
  type <- item_type(item$type)
  if (is.na(item$key) || type$answer == "marked") return("")
  keys <- strsplit(item$key, "|", fixed = TRUE)[[1]]
  say("page-walkthrough.right", keys = join_words(type$show_key(keys), "or"))
}

walk_arrow <- function(id, label, arrow) {
  htmltools::tags$button(
    type = "button",
    id = id,
    `aria-label` = label,
    arrow
  )
}

walk_bar <- function(items) {
  tags <- htmltools::tags
  tags$nav(
    walk_arrow("back", say("page-walkthrough.back"), "\u2190"),
    tags$button(
      type = "button",
      id = "show",
      say("page-walkthrough.show_the_answer")
    ),
    walk_arrow("on", say("page-walkthrough.next"), "\u2192"),
    tags$span(
      class = "all",
      lapply(seq_along(items), function(k) {
        tags$a(
          href = paste0("#slide-", k),
          `data-slide` = k,
          items[k]
        )
      })
    ),
    tags$span(class = "keys", say("page-walkthrough.space_answer_then_on"))
  )
}
