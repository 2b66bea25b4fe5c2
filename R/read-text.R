# The text of a file as UTF-8, whatever program wrote it. The file itself is
# never changed: what is not UTF-8 is read from a copy that is.

# A list of `path` (to read from), `origin`, `encoding` and what scan_text()
# counted.
open_text <- function(path, whole = FALSE) {
  check_file(path)
  scan <- scan_text(path, whole)
  start <- readBin(path, "raw", n = 4)
  encoding <- text_encoding(start, scan, path)
  if (encoding != "UTF-8") {
    copy <- tempfile(fileext = ".txt")
    recode_file(path, copy, encoding)
    path_used <- copy
    scan <- scan_text(copy, whole)
  } else {
    path_used <- path
  }
  if (scan$zeros > 0) abort_zero(path, scan)
  c(
    list(
      path = path_used,
      origin = basename(path),
      encoding = encoding
    ),
    scan
  )
}

check_file <- function(path) {
  stop_if_address(path)
  note_read(path)
  size <- file.info(path, extra_cols = FALSE)
  if (is.na(size$size)) {
    near <- nearest_word(basename(path), list.files(dirname(path)))
    abort_pregunta(
      "folder",
      say("read-text.there_is_no_file", path = quoted(path)),
      NULL,
      if (is.na(near)) {
        say("read-text.see_the_spelling_of")
      } else {
        nearest <- file.path(dirname(path), near)
        say("read-text.did_you_mean", path = quoted(nearest))
      }
    )
  }
  if (isTRUE(size$isdir)) {
    abort_pregunta(
      "input",
      say("read-text.is_a_folder_not", path = basename(path)),
      path,
      say("read-text.put_a_file_in")
    )
  }
  if (size$size == 0) {
    abort_pregunta(
      "input",
      say("read-text.is_empty", path = basename(path)),
      path,
      say("read-text.its_first_line_names")
    )
  }
}

# R takes such a name for a place on the net, whatever lies on the disk.
stop_if_address <- function(path) {
  check_is_path(path)
  if (!grepl("^(https?|ftps?|file)://", path, ignore.case = TRUE)) return(invisible())
  abort_pregunta(
    "input",
    say("read-text.is_an_address", path = quoted(path)),
    NULL,
    say("read-text.fetch_it_yourself")
  )
}

# What has been read in this call of the command line, so that nothing is written over it.
files_read <- new.env(parent = emptyenv())

note_read <- function(path) assign(full_path(path), TRUE, files_read)

forget_read <- function() rm(list = ls(files_read, all.names = TRUE), envir = files_read)

full_path <- function(path) {
  folder <- normalizePath(dirname(path), mustWork = FALSE)
  there <- normalizePath(path, mustWork = FALSE)
  if (file.exists(path)) there else file.path(folder, basename(path))
}

# Byte order marks say it; else text that is no UTF-8 is Windows-1252, the
# encoding in which spreadsheets of western languages save.
text_encoding <- function(start, scan, path) {
  begins <- function(...) {
    length(start) >= length(c(...)) &&
      all(start[seq_along(c(...))] == as.raw(c(...)))
  }
  if (begins(0xEF, 0xBB, 0xBF)) return("UTF-8")
  if (begins(0xFF, 0xFE)) return("UTF-16LE")
  if (begins(0xFE, 0xFF)) return("UTF-16BE")
  if (scan$zeros > 0 && scan$zeros >= 0.3 * scan$bytes && length(start) == 4) {
    if (start[2] == 0 && start[1] != 0) return("UTF-16LE")
    if (start[1] == 0 && start[2] != 0) return("UTF-16BE")
  }
  if (scan$zeros > 0) abort_zero(path, scan)
  if (is.na(scan$first_bad)) "UTF-8" else "Windows-1252"
}

abort_zero <- function(path, scan) {
  abort_pregunta(
    "input",
    say("read-text.holds_a_byte_that", path = basename(path)),
    say(
      "read-text.byte",
      path = path,
      first_zero = scan$first_zero
    ),
    say("read-text.it_may_be_damaged")
  )
}

# A byte that the encoding does not have becomes the replacement character,
# which check_sitting() points at.
recode_file <- function(path, copy, encoding) {
  bytes <- readBin(path, "raw", n = file.size(path))
  if (startsWith(encoding, "UTF-16") && length(bytes) %% 2) {
    bytes <- bytes[-length(bytes)]
  }
  from <- if (encoding == "Windows-1252") "CP1252" else encoding
  text <- iconv(
    list(bytes),
    from,
    "UTF-8",
    sub = "\ufffd",
    toRaw = TRUE
  )[[
    1
  ]]
  mark <- as.raw(c(0xEF, 0xBB, 0xBF))
  writeBin(
    if (identical(utils::head(text, 3), mark)) text[-(1:3)] else text,
    copy
  )
}

# Everything in one string, for XML and JSON.
whole_text <- function(path) {
  check_file(path)
  check_limit("megabytes", file.size(path) / 1e6, path)
  text <- open_text(path)
  said <- readChar(
    text$path,
    file.size(text$path),
    useBytes = TRUE
  )
  sub("^\ufeff", "", mark_utf8(said))
}

mark_utf8 <- function(x) {
  Encoding(x) <- "UTF-8"
  x
}

text_lines <- function(path) {
  lines <- strsplit(whole_text(path), "\r\n|\n|\r")[[1]]
  mark_utf8(lines)
}
