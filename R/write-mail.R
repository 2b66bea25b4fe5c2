# A message as RFC 5322 wants it: headers in ASCII, what is not as RFC 2047 encoded
# words, the body in two forms (RFC 2046), each in base64, lines of CRLF.

# head: how the page in html begins, as whole_lines() gives it.
mail_message <- function(from, to, subject, plain, head, html, date = Sys.time()) {
  letters <- substr(paste0(to, subject), 1, 8)
  codes <- sprintf("%02x", utf8ToInt(letters) %% 256)
  boundary <- paste0("=_part_", paste(codes, collapse = ""))
  part <- function(type, lines) {
    c(
      paste0("--", boundary),
      paste0("Content-Type: ", type, "; charset=utf-8"),
      "Content-Transfer-Encoding: base64",
      "",
      lines
    )
  }
  c(
    paste0("From: ", from),
    paste0("To: ", to),
    paste0("Subject: ", encoded_words(subject)),
    paste0("Date: ", mail_date(date)),
    "MIME-Version: 1.0",
    paste0(
      "Content-Type: multipart/alternative; boundary=\"", boundary, "\""
    ),
    "",
    part("text/plain", base64_lines(plain)),
    part("text/html", c(head, base64_lines(html))),
    paste0("--", boundary, "--")
  )
}

# In lines of 76 letters, all in one text.
base64_lines <- function(text) {
  bytes <- charToRaw(enc2utf8(paste(text, collapse = "\n")))
  coded <- stringi::stri_replace_all_fixed(jsonlite::base64_enc(bytes), "\n", "")
  from <- seq.int(1, max(1, nchar(coded)), 76)
  stringi::stri_flatten(stringi::stri_sub(coded, from, length = 76), "\r\n")
}

# What all messages begin with, coded once: with blanks, so that it fills its last line
# and what follows begins a line of its own.
whole_lines <- function(text) {
  base64_lines(paste0(text, strrep(" ", -nchar(text, "bytes") %% 57)))
}

# Pieces of at most 45 bytes, never within a character; a line break in a subject
# would begin a new header.
encoded_words <- function(text) {
  text <- gsub("[[:cntrl:]]+", " ", enc2utf8(text))
  if (!grepl("[^ -~]", text) && nchar(text) < 60) return(text)
  letters <- strsplit(text, "", fixed = TRUE)[[1]]
  bytes <- nchar(letters, "bytes")
  line <- integer(length(letters))
  used <- 0
  k <- 1
  for (i in seq_along(letters)) {
    if (used + bytes[i] > 42) {
      k <- k + 1
      used <- 0
    }
    used <- used + bytes[i]
    line[i] <- k
  }
  words <- vapply(split(letters, line), function(piece) {
    bytes <- charToRaw(paste(piece, collapse = ""))
    paste0("=?utf-8?B?", jsonlite::base64_enc(bytes), "?=")
  }, "")
  paste(words, collapse = "\r\n ")
}

mail_date <- function(date) {
  parts <- as.POSIXlt(date, tz = "UTC")
  days <- c("Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat")
  paste0(
    days[parts$wday + 1],
    ", ",
    format(parts, "%d "),
    month.abb[parts$mon + 1],
    format(parts, " %Y %H:%M:%S +0000")
  )
}

# One address, and nothing else that a header could be made of.
is_address <- function(text) {
  grepl(
    "^[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]+@[A-Za-z0-9-]+([.][A-Za-z0-9-]+)*$",
    text
  )
}

write_message <- function(message, path) {
  write_whole(path, function(temporary) {
    text <- stringi::stri_flatten(c(message, ""), "\r\n")
    write_bytes(charToRaw(text), temporary)
  }, checked = TRUE)
}

# One message over SMTP, to a server that was named; user and password from the
# environment, so that they stand in no history of commands. Without encryption only where
# somebody said so, or to this machine without a password.
send_message <- function(message, from, to, server, encrypted = TRUE) {
  need_package("curl")
  user <- Sys.getenv("PREGUNTA_SMTP_USER")
  password <- Sys.getenv("PREGUNTA_SMTP_PASSWORD")
  at_home <- grepl("^smtp://(localhost|127[.]0[.]0[.]1|\\[::1\\])(:|$)", server)
  needed <- encrypted && (!at_home || nzchar(password))
  curl::send_mail(
    from,
    to,
    paste0(paste(message, collapse = "\r\n"), "\r\n"),
    smtp_server = server,
    use_ssl = if (grepl("^smtps://", server) || needed) "force" else "try",
    verbose = FALSE,
    username = if (nzchar(user)) user,
    password = if (nzchar(password)) password
  )
}
