#' Slips as mail to guardians
#'
#' Writes a draft for each address in the column `guardian_email` of the students
#' (several with `;` between): one message (RFC 5322) with the slip inside, which a mail
#' program opens and you send. Nothing is sent, unless `server` names one.
#'
#' @inheritParams write_slips
#' @param folder Where the drafts go, made if it is not there.
#' @param from Your own address.
#' @param subject Of the message; the title of the test by default. The name of
#'   the student is added.
#' @param server `smtp://host:port` or `smtps://host:port` to send by, instead of writing
#'   drafts. User and password are taken from the environment variables
#'   `PREGUNTA_SMTP_USER` and `PREGUNTA_SMTP_PASSWORD`, never from the address.
#' @param encrypted Whether the connection has to be encrypted (TLS): with `smtps://` from
#'   the start, with `smtp://` before anything is sent; a server that cannot is refused.
#'   Only to this machine itself, and without a password, it may be missing.
#' @return A data frame, a row a student with a slip and address: `student`, `address`,
#'   `file` (of the draft; `NA` when sent), `sent`, `problem` (why not, else `NA`).
#'   Students without a usable address have `problem` `no_address` or `bad_address`.
#' @section Errors: `pregunta_error_call` when `from` is no address, the students
#'   have no `guardian_email`, or `server` is none; `pregunta_error_output` when a
#'   draft cannot be written.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' quiz$students$guardian_email <- paste0(quiz$students$student, "@example.org")
#' write_mail(quiz, file.path(tempdir(), "mail"), "teacher@example.org",
#'   student = c("h001", "h002"))
write_mail <- function(sitting, folder = "mail", from, subject = NULL,
                       parts = slip_parts[-8], student = NULL, server = NULL,
                       encrypted = TRUE, language = NULL) {
  interpret_here()
  slips <- make_slips(sitting, parts, student, language)
  check_mail(sitting, from, server)
  style <- paste0(
    "<style>",
    read_text(system.file("page", "paper.css", package = "pregunta")),
    read_text(system.file("page", "slips.css", package = "pregunta")),
    level_styles(names(sitting$settings$levels)),
    "</style>"
  )
  if (is.null(subject)) {
    subject <- sitting$settings$title
  }
  to <- strsplit(
    sitting$students$guardian_email[
      match(slips$student, sitting$students$student)
    ],
    "[;,]"
  )
  if (is.null(server) && !dir.exists(folder)) {
    dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  }
  drafts <- draft_names(slips$student, lengths(to))
  slips$plain <- plain_slips(slips$html)
  heads <- lapply(stats::setNames(nm = unique(slips$language)), function(language) {
    whole_lines(paste0(
      "<!DOCTYPE html><html", html_language(language), "><head><meta charset=\"utf-8\">",
      style, "</head>"
    ))
  })
  rows <- lapply(seq_along(slips$student), function(k) {
    addresses <- trimws(to[[k]])
    lapply(seq_along(addresses), function(place) {
      one_mail(
        addresses[place],
        drafts[[k]][place],
        slips,
        k,
        from,
        subject,
        heads[[slips$language[k]]],
        folder,
        server,
        encrypted
      )
    })
  })
  made <- rows_as_table(unlist(rows, recursive = FALSE))
  structure(made, unknown = languages_unknown(sitting))
}

check_mail <- function(sitting, from, server) {
  if (is.null(sitting$students$guardian_email)) {
    abort_pregunta(
      "call",
      say("page-mail.there_is_nobody_to"),
      say("page-mail.the_students_have_no"),
      say("page-mail.add_one_to_students")
    )
  }
  if (length(from) != 1 || !is_address(from)) {
    given <- printable(some_of(from))
    abort_pregunta(
      "call",
      say("page-mail.mail_needs_your_own"),
      say("page-mail.given", from = quoted(given)),
      say("page-mail.for_example_teacher_school")
    )
  }
  if (!is.null(server) && grepl("@", server, fixed = TRUE)) {
    abort_pregunta(
      "call",
      say("page-mail.no_password_in_address"),
      NULL,
      say("page-mail.set_user_and_password")
    )
  }
  if (!is.null(server) && !grepl("^smtps?://[^/]+$", server)) {
    abort_pregunta(
      "call",
      say("page-mail.there_is_no_such"),
      say("page-mail.given_2", server = server),
      say("page-mail.for_example_smtp_localhost")
    )
  }
}

# A file for each student and address: by the id, in letters that every disk has; where
# two would be the same there, also on a disk that knows no capitals, by a number.
draft_names <- function(students, addresses) {
  whose <- rep(seq_along(students), addresses)
  place <- sequence(addresses)
  name <- paste0(
    gsub("[^A-Za-z0-9._-]", "_", students)[whose],
    ifelse(place > 1, paste0("-", place), "")
  )
  repeat {
    again <- duplicated(tolower(name))
    if (!any(again)) break
    name[again] <- paste0(name[again], "~", which(again))
  }
  split(paste0(name, ".eml"), factor(whose, seq_along(students)))
}

one_mail <- function(address, draft, slips, k, from, subject, head, folder,
                     server, encrypted) {
  row <- list(
    student = slips$student[k],
    address = address,
    file = NA_character_,
    sent = FALSE,
    problem = NA_character_
  )
  if (is.na(address) || !nzchar(address)) {
    return(replace(row, "problem", "no_address"))
  }
  if (!is_address(address)) {
    return(replace(row, "problem", "bad_address"))
  }
  message <- mail_message(
    from,
    address,
    paste0(subject, ": ", slips$name[k]),
    slips$plain[k],
    head,
    paste0("<body><main>", slips$html[k], "</main></body></html>")
  )
  if (is.null(server)) {
    row$file <- file.path(folder, draft)
    write_message(message, row$file)
    return(row)
  }
  problem <- tryCatch(
    {
      send_message(message, from, address, server, encrypted)
      NA_character_
    },
    error = function(e) conditionMessage(e)
  )
  replace(
    row,
    c("sent", "problem"),
    list(is.na(problem), problem)
  )
}

# Slips without their tags, for who reads mail as text.
plain_slips <- function(html) {
  bare <- stringi::stri_replace_all_regex(
    html,
    c("</(p|h2|h3|li|tr|header|table)>", "</t[dh]>", "<[^>]*>"),
    c("\n", "   ", ""),
    vectorize_all = FALSE
  )
  # A page of many at once is read sooner than a page of each.
  some <- split(bare, (seq_along(bare) - 1) %/% 500)
  text <- lapply(some, function(slips) {
    blocks <- paste0("<pre>", slips, "</pre>", collapse = "")
    page <- paste0("<html><body>", blocks, "</body></html>")
    xml2::xml_text(xml2::xml_find_all(
      xml2::read_html(page, encoding = "UTF-8"), "//pre"
    ))
  })
  stringi::stri_replace_all_regex(unlist(text, use.names = FALSE), "[ \t]+\n", "\n")
}
