# Files are written whole or not at all: to a temporary file beside the old
# one, then renamed over it.
write_whole <- function(path, write) {
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    abort_pregunta("output", paste0("There is no folder ", quoted(folder), " to write to."), NULL,
      "Make it first, or name another.")
  }
  if (dir.exists(path)) {
    abort_pregunta("output", paste0(quoted(path), " is a folder, not a file."), NULL, "Give the name of a file in it.")
  }
  temporary <- tempfile(paste0(".", basename(path), "-"), folder)
  on.exit(unlink(temporary))
  written <- tryCatch(suppressWarnings({
    write(temporary)
    file.rename(temporary, path)
  }), error = function(e) e)
  if (!isTRUE(written)) {
    abort_pregunta("output", paste0(quoted(path), " could not be written."),
      if (inherits(written, "error")) conditionMessage(written),
      "See that the folder may be written to and the disk has room. What was there before is untouched.")
  }
  invisible(path)
}

write_text <- function(lines, path) {
  force(lines)
  write_whole(path, function(temporary) {
    connection <- file(temporary, open = "wb")
    on.exit(close(connection))
    writeLines(enc2utf8(lines), connection, useBytes = TRUE)
  })
}
