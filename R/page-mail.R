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
#' @param cores How many processes write drafts at a time; the command line takes all
#'   cores.
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
                       encrypted = TRUE, language = NULL, cores = cores_allowed()) {
  interpret_here()
  slips <- make_slips(sitting, parts, student, language)
  check_mail(sitting, from, server)
  if (is.null(subject)) subject <- sitting$settings$title
  mails <- mails_of(sitting, slips, subject)
  usable <- which(is.na(mails$problem))
  heads <- mail_heads(unique(slips$language), names(sitting$settings$levels))
  if (is.null(server)) {
    mails$file[usable] <- file.path(folder, mails$file[usable])
    written <- write_drafts(mails[usable, ], folder, from, heads, cores)
    mails$problem[usable] <- written
  } else {
    sent <- send_mails(mails[usable, ], from, heads, server, encrypted)
    mails$problem[usable] <- sent
  }
  made <- is.na(mails$problem)
  mails$sent <- made & !is.null(server)
  mails$file[!made | mails$sent] <- NA
  structure(
    mails[c("student", "address", "file", "sent", "problem")],
    unknown = languages_unknown(sitting)
  )
}

# A row for each student with a slip and address: what goes into the message, the name of
# its file, and what keeps it from being made.
mails_of <- function(sitting, slips, subject) {
  row <- match(slips$student, sitting$students$student)
  to <- strsplit(as_text(sitting$students$guardian_email)[row], "[;,]")
  whose <- rep(seq_along(to), lengths(to))
  address <- trimws(unlist(to))
  mails <- list(
    student = slips$student[whose],
    address = address,
    file = draft_names(slips$student, lengths(to)),
    problem = data.table::fcase(
      is.na(address) | !nzchar(address), "no_address",
      !is_address(address), "bad_address"
    ),
    subject = paste0(subject, ": ", slips$name[whose]),
    language = slips$language[whose],
    html = slips$html[whose]
  )
  quick_frame(mails)
}

# How the page in a message begins, by language: the same in all, and so coded once.
mail_heads <- function(languages, levels) {
  style <- paste0(
    "<style>",
    read_text(system.file("page", "paper.css", package = "pregunta")),
    read_text(system.file("page", "slips.css", package = "pregunta")),
    level_styles(levels),
    "</style>"
  )
  lapply(stats::setNames(nm = languages), function(language) {
    whole_lines(paste0(
      "<!DOCTYPE html><html", html_language(language), "><head><meta charset=\"utf-8\">",
      style, "</head>"
    ))
  })
}

# The message of one of the mails.
message_of <- function(mail, from, heads) {
  mail_message(
    from,
    mail$address,
    mail$subject,
    mail$plain,
    heads[[mail$language]],
    paste0("<body><main>", mail$html, "</main></body></html>")
  )
}

# Of each why it could not be written, else NA; some at a time, by as many processes as
# may work.
write_drafts <- function(mails, folder, from, heads, cores) {
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  mails$file <- file.path(normalizePath(folder, mustWork = FALSE), basename(mails$file))
  batches <- unname(split(mails, (seq_len(nrow(mails)) - 1) %/% 100))
  done <- over_each(
    batches,
    drafts_writer(from, heads),
    function(batch) rep(say("page-many.its_process_ended"), nrow(batch)),
    cores,
    say("page-mail.drafts")
  )
  as.character(unlist(done))
}

# With nothing around it but what it needs: it may go to another machine.
drafts_writer <- function(from, heads) {
  force(from)
  force(heads)
  function(batch) {
    batch$plain <- plain_slips(batch$html)
    unlist(each_row(batch, function(k) {
      write_message(message_of(lapply(batch, `[[`, k), from, heads), batch$file[k])
      NA_character_
    }))
  }
}

# Of each why it could not be sent, else NA.
send_mails <- function(mails, from, heads, server, encrypted) {
  mails$plain <- plain_slips(mails$html)
  sent <- each_row(mails, function(k) {
    mail <- lapply(mails, `[[`, k)
    tryCatch(
      {
        message <- message_of(mail, from, heads)
        send_message(message, from, mail$address, server, encrypted)
        NA_character_
      },
      error = function(e) conditionMessage(e)
    )
  })
  as.character(unlist(sent))
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
  paste0(name, ".eml")
}

# Slips without their tags, for who reads mail as text.
plain_slips <- function(html) {
  bare <- stringi::stri_replace_all_regex(
    html,
    c("</(p|h2|h3|li|tr|header|table)>", "</t[dh]>", "<[^>]*>"),
    c("\n", "   ", ""),
    vectorize_all = FALSE
  )
  # A page of many is read sooner than a page of each.
  blocks <- paste0("<pre>", bare, "</pre>", collapse = "")
  page <- xml2::read_html(
    paste0("<html><body>", blocks, "</body></html>"),
    encoding = "UTF-8"
  )
  text <- xml2::xml_text(xml2::xml_find_all(page, "//pre"))
  stringi::stri_replace_all_regex(text, "[ \t]+\n", "\n")
}
