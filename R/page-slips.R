#' A page a student to take home
#'
#' Writes the slips of all students as one page to print, a student a sheet:
#' friendly words, what was earned, the standards, own answers beside the right
#' ones with the reason, what to do next. No ranking, unless it is asked for.
#'
#' @param sitting A [sitting()].
#' @param path Of the file; what ends in `.pdf` is printed by an installed
#'   Chromium. It is written whole or not at all.
#' @param parts Which parts, in this order: `message` (by level or band; see the setting
#'   `messages` of [default_settings()]), `score`, `standards`, `next` (what to do next),
#'   `answers` (own and right), `why` (the reason beside a wrong answer),
#'   `comments`, and, only when named, `place` (how the score lies among the others').
#' @param paper `"A4"` or `"letter"`.
#' @param student Ids of the students to write for; all who sat the test by default.
#' @param each The name of a column of the students, such as `"section"`: for each of its
#'   values a file of its own, in the folder `path`, and a page `index.html` that links
#'   them. A browser hardly opens the slips of a whole district at once.
#' @param language The code of a language, see [languages()], for the slips of students
#'   whose own is not known; that of the test by default. A column `language` of the
#'   students says what each family reads (such as `es`, `spa` or `Spanish`) and goes
#'   before it. What was typed stays as it is, and is marked with the test's language; of
#'   messages and standards' titles given in several languages the family's is taken.
#' @return The path, invisibly; with `each` that of the index, and the attribute `files`
#'   has those of the slips. Students who were absent or excused get no slip;
#'   the attribute `without` names them. The attribute `unknown` has what the column
#'   `language` says and no words are there for; `no_font` the languages that this machine
#'   has no letters for.
#' @section Errors: `pregunta_error_call` for an unknown part, paper or student;
#'   `pregunta_error_output` when the file cannot be written, or for PDF when there is no
#'   Chromium.
#' @seealso [write_mail()] for drafts to guardians.
#' @export
#' @examples
#' path <- file.path(tempdir(), "slips.html")
#' write_slips(read_sitting(demo_path()), path, parts = c("message", "score", "next"))
#' file.size(path)
write_slips <- function(sitting, path = "slips.html", parts = slip_parts[-8],
                        paper = "A4", student = NULL, each = NULL, language = NULL) {
  interpret_here()
  check_is_sitting(sitting)
  if (is.null(each)) check_output(path)
  speak_here(language_of_pages(sitting))
  slips <- make_slips(sitting, parts, student, language)
  check_paper(paper)
  written <- if (is.null(each)) {
    put_slips(slips_page(sitting, slips, paper), path)
  } else {
    write_slips_of_parts(sitting, slips, path, paper, each)
  }
  attr(written, "without") <- setdiff(
    if (is.null(student)) sitting$students$student else student,
    slips$student
  )
  attr(written, "unknown") <- languages_unknown(sitting)
  attr(written, "no_font") <- languages_without_font(slips$language)
  invisible(written)
}

put_slips <- function(lines, path) {
  if (grepl("[.]pdf$", path, ignore.case = TRUE)) {
    print_page(lines, path)
  } else {
    write_text(lines, path)
  }
  path
}

write_slips_of_parts <- function(sitting, slips, folder, paper, each) {
  student_groups(sitting, single_column(each)) # a column that is not there is said
  at <- match(slips$student, sitting$students$student)
  value <- as_text(sitting$students[[each]])[at]
  parts <- c(sort(unique(value[!is.na(value)]), method = "radix"), if (anyNA(value)) NA)
  words <- or_else(parts, say("page-slips.without", each = column_words(each)))
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  files <- file.path(folder, paste0(file_words(paste(each, words)), ".html"))
  check_output(file.path(folder, "index.html"))
  sizes <- integer(length(parts))
  for (k in seq_along(parts)) {
    mine <- lapply(slips, `[`, which(value %in% parts[k]))
    sizes[k] <- length(mine$student)
    put_slips(slips_page(sitting, mine, paper), files[k])
  }
  index <- file.path(folder, "index.html")
  write_text(slips_index(sitting, words, files, sizes), index)
  structure(index, files = files)
}

# Links to the files of all parts, with how many slips each has.
slips_index <- function(sitting, words, files, sizes) {
  tags <- htmltools::tags
  title <- say("page-slips.slips", title = sitting$settings$title)
  rows <- Map(function(word, file, n) {
    link <- tags$a(href = relative_address(basename(file)), printable(word))
    tags$li(link, " ", tags$small(say("page-slips.n_slips", n = n)))
  }, words, files, sizes)
  body <- tags$main(
    tags$header(page_titles(title, say("page-slips.n_slips", n = sum(sizes)))),
    tags$ul(unname(rows))
  )
  page_document(title, body)
}

slip_parts <- c(
  "message", "score", "standards", "next", "answers", "why", "comments", "place"
)

check_paper <- function(paper) {
  if (length(paper) == 1 && paper %in% c("A4", "letter")) return(invisible())
  abort_pregunta(
    "call",
    say("page-slips.there_is_no_paper", paper = quoted(paper[1])),
    NULL,
    did_you_mean(paper[1], c("A4", "letter"))
  )
}

# Of each student the slip as HTML, everybody's at once.
make_slips <- function(sitting, parts, student = NULL, language = NULL) {
  check_is_sitting(sitting)
  for (unknown in setdiff(parts, slip_parts)) {
    abort_pregunta(
      "call",
      say("page-slips.a_slip_has_no", unknown = quoted(unknown)),
      NULL,
      did_you_mean(unknown, slip_parts)
    )
  }
  for (unknown in setdiff(student, sitting$students$student)) {
    abort_pregunta(
      "call",
      say("page-slips.there_is_no_student", unknown = quoted(unknown)),
      NULL,
      did_you_mean(unknown, sitting$students$student)
    )
  }
  students <- as.data.frame(summarise_students(sitting))
  rows <- which(
    was_present(sitting) & (is.null(student) | students$student %in% student)
  )
  if (!length(rows)) {
    abort_pregunta(
      "call",
      say("page-slips.nobody_to_write_for"),
      NULL,
      say("page-slips.a_slip_needs_answers")
    )
  }
  mine <- students[rows, ]
  answers <- slip_cells(sitting, rows)
  own <- as.data.frame(summarise_standards(sitting, "student"))
  own <- own[own$student %in% mine$student & !is.na(own$share), ]
  reads <- languages_at_home(sitting, language)[rows]
  html <- character(nrow(mine))
  for (one in unique(reads)) {
    here <- which(reads == one)
    html[here] <- in_language(one, slips_in_language(
      titles_for_reader(sitting),
      parts,
      mine[here, ],
      students,
      own[own$student %in% mine$student[here], ],
      lapply(answers, part_of_rows, here)
    ))
  }
  list(
    student = mine$student,
    name = or_else(mine$name, mine$student),
    language = reads,
    html = html
  )
}

part_of_rows <- function(x, rows) {
  if (is.matrix(x)) x[rows, , drop = FALSE] else x[rows]
}

# The slips of those who read one language. students: everybody; own: the standards of
# these; answers: what these answered.
slips_in_language <- function(sitting, parts, mine, students, own, answers) {
  settings <- sitting$settings
  at <- match(own$code, sitting$standards$code)
  own$title <- sitting$standards$title[at]
  own$language <- sitting$standards$title_language[at]
  piece <- function(part, make) if (part %in% parts) make() else ""
  paste0(
    slip_head(sitting, mine),
    piece("message", function() slip_message(mine, settings)),
    piece("score", function() slip_score(mine, settings)),
    piece("place", function() slip_place(mine, students)),
    piece(
      "standards",
      function() slip_standards(own, mine, settings)
    ),
    piece(
      "next",
      function() slip_next(sitting, own, answers, mine)
    ),
    piece("answers", function() {
      slip_answers(sitting, answers, "why" %in% parts)
    }),
    piece("comments", function() slip_comments(sitting, mine)),
    recycle0 = TRUE
  )
}

slip_head <- function(sitting, mine) {
  settings <- sitting$settings
  about <- c(
    typed(settings$title, language_of(settings)),
    if (!is.na(settings$date)) escape(say_day(settings$date))
  )
  paste0(
    "<header><h2>",
    as_it_is(or_else(mine$name, mine$student)),
    "</h2><p>",
    paste(about, collapse = " \u00b7 "),
    or_blank(mine$section, paste0(" \u00b7 ", as_it_is(mine$section))),
    "</p></header>",
    recycle0 = TRUE
  )
}

slip_message <- function(mine, settings) {
  said <- message_for(mine, settings)
  text <- typed(said$text, or_else(said$language, language_now()))
  or_blank(said$text, html_cell(text, "message", "p"))
}

slip_score <- function(mine, settings) {
  levels <- names(settings$levels)
  band <- if (is.null(mine$band)) {
    ""
  } else {
    grade <- paste0(" \u00b7 ", say("slip.grade"))
    or_blank(
      mine$band,
      paste0(grade, " <b>", as_it_is(mine$band), "</b>")
    )
  }
  waits <- ifelse(
    mine$status == "waiting",
    say("slip.an_answer_still_waits"),
    ""
  )
  said <- paste0(
    "<p class=\"score\"><b>",
    percent(mine$share),
    "</b> <span>",
    say(
      "slip.points_of",
      points = plain_points(mine$points),
      open = plain_points(mine$open)
    ),
    if (length(levels) > 1) {
      paste0(" \u00b7 ", level_chip(mine$level, levels))
    } else {
      ""
    },
    band,
    waits,
    "</span></p>",
    recycle0 = TRUE
  )
  none <- html_cell(say("slip.no_score_yet"), tag = "p")
  ifelse(is.na(mine$share), none, said)
}

slip_place <- function(mine, students) {
  vapply(mine$student, function(id) {
    html_cell(escape(say_standing(students, id)), tag = "p")
  }, "", USE.NAMES = FALSE)
}

slip_standards <- function(own, mine, settings) {
  if (!nrow(own)) return("")
  title <- or_else(own$title, own$code)
  levels <- names(settings$levels)
  share <- say(
    "slip.of_2",
    share = share_bar(own$share),
    earned = plain_points(own$earned),
    open = plain_points(own$open)
  )
  rows <- html_row(
    html_cell(typed(title, own$language)),
    html_cell(share, "whole"),
    html_cell(level_chip(own$level, levels), "whole")
  )
  for_each(
    rows,
    own$student,
    mine$student,
    paste0(slip_heading("about"), "<table class=\"about\"><tbody>"),
    "</tbody></table>"
  )
}

# The rows of each student put together; nothing for who has none.
for_each <- function(rows, student, students, before, after) {
  together <- vapply(
    split(rows, factor(student, students)),
    paste,
    "",
    collapse = "",
    USE.NAMES = FALSE
  )
  ifelse(nzchar(together), paste0(before, together, after), "")
}

# Of each student in `rows` what was answered, what it earned and what it is.
slip_cells <- function(sitting, rows) {
  list(
    student = sitting$students$student[rows],
    kind = answer_kinds(sitting)[rows, , drop = FALSE],
    points = cell_points(sitting)[rows, , drop = FALSE],
    answer = matrix(shown_cells(sitting)[rows, ], length(rows))
  )
}

slip_next <- function(sitting, own, answers, mine) {
  missed <- which(
    matrix(answers$kind %in% c("wrong", "partly", "blank"), nrow(answers$kind)),
    arr.ind = TRUE
  )
  wrong <- split(
    sitting$items$item[missed[, 2]],
    factor(answers$student[missed[, 1]], mine$student)
  )
  if (!nrow(own)) return(next_without_standards(wrong, mine))
  in_use <- standards_in_use(sitting)
  tree <- list(
    parent = sitting$standards$parent[
      sitting$standards$code %in% in_use$table$code
    ],
    items = stats::setNames(
      lapply(in_use$items, function(j) sitting$items$item[j]),
      in_use$table$code
    )
  )
  steps <- next_steps(
    own,
    wrong,
    tree,
    sitting$settings$mastery_cut
  )
  what <- typed(or_else(steps$title, steps$code), steps$language)
  # Many have the same to go over again.
  again <- unique(steps$again)
  said <- vapply(again, items_in_a_row, "", 4)
  rows <- html_cell(
    say(
      "slip.step",
      what = html_cell(what, tag = "b"),
      any_again = lengths(steps$again) > 0,
      again = said[match(steps$again, again)]
    ),
    tag = "li"
  )
  made <- for_each(
    rows,
    steps$student,
    mine$student,
    paste0(slip_heading("next"), "<ol>"),
    paste0("</ol>", html_cell(say("slip.say_why"), tag = "p"))
  )
  fine <- !nzchar(made) & !is.na(mine$share)
  made[fine] <- paste0(
    slip_heading("next"),
    html_cell(say("slip.nothing_again"), tag = "p")
  )
  made
}

items_in_a_row <- function(items, most) {
  paste(join_some(as_it_is(items), most), collapse = "")
}

# Where no question names a standard, the questions themselves.
next_without_standards <- function(wrong, mine) {
  said <- vapply(wrong, items_in_a_row, "", 6, USE.NAMES = FALSE)
  again <- say("slip.go_over_and_say_why", again = said)
  advice <- paste0(slip_heading("next"), html_cell(again, tag = "p"))
  ifelse(nzchar(said) & lengths(wrong) > 0, advice, "")
}

# What was right in a line, the others a row each with the right answer and why; in
# printed order, made for everybody at once.
slip_answers <- function(sitting, answers, why) {
  items <- sitting$items
  right <- right_in_words(sitting)
  test <- language_of(sitting$settings)
  full <- answers$kind == "right"
  rows <- each_row(items, function(j) {
    kind <- answers$kind[, j]
    text <- sitting$options[sitting$options$item == items$item[j], ]
    given <- with_option_text(answers$answer[, j], text)
    given <- data.table::fcase(
      kind %in% names(all_words("slip_states")), words_for(kind, "slip_states"),
      is.na(given), "",
      !is.na(given), typed(given, test)
    )
    reason <- if (why && !is.na(items$rationale[j])) {
      paste0(" <i>", typed(items$rationale[j], test), "</i>")
    } else {
      ""
    }
    key <- if (nzchar(right[j])) {
      typed(with_option_text(right[j], text), test)
    } else {
      ""
    }
    asks <- if (is.na(items$prompt[j])) "" else typed(items$prompt[j], test)
    row <- paste0(
      "<tr class=\"",
      grid_class(kind),
      "\"><td>",
      as_it_is(items$item[j]),
      "</td><td>",
      asks,
      "</td><td>",
      ifelse(kind == "partly", "\u25d1 ", ""),
      given,
      "</td><td>",
      ifelse(kind == "not_given", "", paste0(key, reason)),
      "</td><td class=\"n\">",
      say(
        "slip.of",
        points = plain_each(answers$points[, j]),
        most = plain_points(items$points[j])
      ),
      "</td></tr>",
      recycle0 = TRUE
    )
    ifelse(full[, j], "", row)
  })
  named <- each_row(items, function(j) {
    given <- answers$answer[, j]
    given <- ifelse(
      is.na(given) | nchar(given) > 12,
      "",
      paste0(" ", escape(given))
    )
    ifelse(
      full[, j],
      paste0("<span><bdi>", escape(items$item[j]), given, "</bdi></span> "),
      ""
    )
  })
  all <- rowSums(full) == ncol(full)
  right <- paste0(
    "<p class=\"right\"><b>\u2713 ",
    say("slip.right"),
    "</b> ",
    do.call(paste0, named),
    "</p>"
  )
  others <- paste0(
    "<table class=\"answers\"><thead><tr>",
    html_cell(
      html_cell(say("slip.number"), "unseen", "span"),
      tag = "th"
    ),
    html_cell(say("slip.question"), tag = "th"),
    html_cell(say("slip.your_answer"), tag = "th"),
    html_cell(say("slip.right_answer"), tag = "th"),
    html_cell(say("slip.points"), "n", "th"),
    "</tr></thead><tbody>",
    do.call(paste0, rows),
    "</tbody></table>"
  )
  paste0(
    slip_heading("answers"),
    ifelse(rowSums(full) > 0, right, ""),
    ifelse(all, "", others),
    recycle0 = TRUE
  )
}

slip_heading <- function(part) {
  html_cell(say(paste0("slip_headings.", part)), tag = "h3")
}

# "B" as "B  They get much smaller", where the option has words.
with_option_text <- function(answer, options) {
  at <- match(answer, options$option)
  words <- options$text[at]
  ifelse(is.na(words), answer, paste0(answer, "  ", words))
}

# Few distinct points, many students.
plain_each <- function(points) {
  distinct <- unique(points)
  plain_points(distinct)[match(points, distinct)]
}

slip_comments <- function(sitting, mine) {
  comments <- comments_of(sitting)
  if (!nrow(comments)) return("")
  said <- paste0(
    or_blank(
      comments$item,
      paste0("<b>", as_it_is(comments$item), "</b> ")
    ),
    typed(comments$comment, language_of(sitting$settings)),
    recycle0 = TRUE
  )
  for_each(
    html_cell(said, tag = "p"),
    comments$student,
    mine$student,
    slip_heading("comments"),
    ""
  )
}

slips_page <- function(sitting, slips, paper) {
  size <- paste0("@page { size: ", paper, "; margin: 13mm; }")
  articles <- paste0(
    "<article class=\"slip\"",
    html_language(slips$language),
    " data-student=\"",
    escape(slips$student),
    "\">",
    slips$html,
    "</article>",
    recycle0 = TRUE
  )
  note <- say("page-slips.slips_print_this_page", n = length(slips$student))
  body <- htmltools::tags$main(
    htmltools::tags$p(class = "help", note),
    htmltools::HTML(paste(articles, collapse = "\n"))
  )
  page_document(
    say("page-slips.slips", title = sitting$settings$title),
    body,
    "slips",
    paste0(level_styles(names(sitting$settings$levels)), size)
  )
}

# ---- on paper ----------------------------------------------------------------------

# On the path, or where Windows and macOS put it.
find_chromium <- function() {
  found <- Sys.which(
    c("chromium", "chromium-browser", "google-chrome", "chrome", "msedge")
  )
  programs <- Sys.getenv(c("ProgramFiles", "ProgramFiles(x86)", "LOCALAPPDATA"))
  usual <- c(
    file.path(programs, "Google/Chrome/Application/chrome.exe"),
    file.path(programs, "Microsoft/Edge/Application/msedge.exe"),
    "/Applications/Google Chrome.app/Contents/MacOS/Google Chrome",
    "/Applications/Chromium.app/Contents/MacOS/Chromium"
  )
  unname(c(found[nzchar(found)], usual[file.exists(usual)])[1])
}

# Chromium keeps its sandbox but for root, who cannot have one.
is_root <- function() identical(Sys.info()[["effective_user"]], "root")

# Words before a program that let it end when this process does, also by a kill.
with_parent <- function() {
  if (nzchar(Sys.which("setpriv"))) c("exec", "setpriv", "--pdeathsig", "KILL")
}

# A page printed by the browser that is there; nothing is fetched.
print_page <- function(lines, path) {
  chromium <- find_chromium()
  if (is.na(chromium)) {
    abort_pregunta(
      "output",
      say("page-slips.there_is_no_chromium"),
      say("page-slips.wanted", path = path),
      say("page-slips.write_the_slips_as")
    )
  }
  ends_with_us <- c(with_parent(), shQuote(chromium))
  page <- tempfile(fileext = ".html")
  profile <- tempfile("profile-")
  on.exit(unlink(c(page, profile), recursive = TRUE))
  write_text(lines, page)
  write_made(path, function(file) {
    status <- suppressWarnings(system2(
      ends_with_us[1],
      c(
        ends_with_us[-1],
        "--headless",
        if (is_root()) "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        paste0("--user-data-dir=", shQuote(profile)),
        "--no-pdf-header-footer",
        paste0("--print-to-pdf=", shQuote(file)),
        shQuote(paste0("file://", page))
      ),
      stdout = FALSE,
      stderr = FALSE
    ))
    if (status != 0 || !file.exists(file)) {
      stop(say("page-slips.chromium_ended_with_status", status = status))
    }
  })
}
