# What the command line says: results on standard output, messages on standard error.

# Lines on standard output. Colours are those that paint() put there.
put_lines <- function(...) {
  writeLines(safe_lines(c(...), colour_wanted()), useBytes = TRUE)
}

# A message on standard error; of an error the parts are coloured on a terminal.
tell_user <- function(...) {
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
