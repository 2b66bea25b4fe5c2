# What the command line says: results on standard output, messages on standard error.

# Lines on standard output. Colours are those that paint() put there.
put_lines <- function(...) {
  writeLines(safe_lines(c(...), colour_wanted()), useBytes = TRUE)
}

# Lines in place of those that stand in the window: from its first line, each wiped to its
# end, and what stands below wiped as well.
draw_in_place <- function(lines, first) {
  cat(if (first) "\033[2J\033[?25l", "\033[H", sep = "")
  lines <- paste0(safe_lines(lines, colour_wanted()), "\033[K")
  writeLines(lines, useBytes = TRUE)
  cat("\033[J")
}

# A message on standard error; of an error the parts are coloured on a terminal.
tell_user <- function(...) {
  log <- getOption("pregunta.log")
  if (isTRUE(log$json)) {
    log_line("note", list(message = plain_line(...)))
    return(invisible())
  }
  if (isTRUE(log$quiet)) return(invisible())
  tell_line(...)
}

# An error with its facts: those that other programs sort by are data in a log.
tell_error <- function(e, said = conditionMessage(e)) {
  if (!isTRUE(getOption("pregunta.log")$json)) return(tell_line(said))
  log_line("error", c(list(message = plain_line(said)), facts_said(e)))
}

# One of many things that could not be done while the others were; told like an error.
# about: which of them.
tell_failed <- function(about, problem, facts = NULL) {
  said <- paste0(printable(about), ": ", problem)
  if (!isTRUE(getOption("pregunta.log")$json)) return(tell_line(said))
  log_line("error", c(list(message = plain_line(said), about = about), facts))
}

# One object a line; a message of several lines is one text.
log_line <- function(level, said) {
  about <- list(
    time = format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC"),
    level = level,
    verb = getOption("pregunta.log")$verb
  )
  line <- jsonlite::toJSON(Filter(length, c(about, said)), auto_unbox = TRUE)
  message(safe_lines(as.character(line), FALSE))
}

plain_line <- function(...) {
  text <- gsub("\\s+", " ", cli::ansi_strip(paste0(..., collapse = " ")))
  trimws(text)
}

tell_line <- function(...) {
  coloured <- isatty(stderr()) && !nzchar(Sys.getenv("NO_COLOR"))
  message(safe_lines(paste0(..., collapse = ""), coloured))
}

# Data for programs: as they are, but on a terminal.
put_data <- function(lines) {
  if (isatty(stdout()) && sink.number() == 0) return(put_lines(lines))
  writeLines(lines, useBytes = TRUE)
}

safe_lines <- function(lines, coloured) {
  if (!coloured) return(printable(lines, lines = TRUE))
  pieces <- strsplit(lines, colour_codes, perl = TRUE)
  codes <- regmatches(lines, gregexpr(colour_codes, lines, perl = TRUE))
  put_back <- function(text, code) {
    text <- c(printable(text, lines = TRUE), rep("", length(code) + 1))
    paste(c(rbind(text[seq_len(length(code) + 1)], c(code, ""))), collapse = "")
  }
  unlist(Map(put_back, pieces, codes), use.names = FALSE)
}

colour_codes <- "\033\\[[0-9;]*m"

colour_wanted <- function() {
  isTRUE(getOption("pregunta.colour")) ||
    (is.null(getOption("pregunta.colour")) &&
      isatty(stdout()) &&
      sink.number() == 0 &&
      !nzchar(Sys.getenv("NO_COLOR")) &&
      !Sys.getenv("TERM") %in% c("", "dumb"))
}
