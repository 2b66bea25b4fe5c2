# Files are written whole or not at all: to a temporary file beside the old
# one, then renamed over it.
write_whole <- function(path, write) {
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    abort_pregunta(
      "output",
      say("write-file.there_is_no_folder", folder = quoted(folder)),
      NULL,
      say("write-file.make_it_first_or")
    )
  }
  if (dir.exists(path)) {
    abort_pregunta(
      "output",
      say("write-file.is_a_folder_not", path = quoted(path)),
      NULL,
      say("write-file.give_the_name_of")
    )
  }
  temporary <- tempfile(paste0(".", basename(path), "-"), folder)
  on.exit(unlink(temporary))
  written <- tryCatch(
    suppressWarnings({
      write(temporary)
      check_room(folder)
      file.rename(temporary, path)
    }),
    error = function(e) e
  )
  if (!isTRUE(written)) {
    abort_pregunta(
      "output",
      say("write-file.could_not_be_written", path = quoted(path)),
      if (inherits(written, "error")) conditionMessage(written),
      say("write-file.see_that_the_folder")
    )
  }
  invisible(path)
}

# Not every writer says that it came to the end of the disk, and fwrite() takes a
# part for the whole there: a little more has to fit behind what was written.
check_room <- function(folder) {
  probe <- tempfile(".room-", folder)
  on.exit(unlink(probe))
  write_bytes(raw(2^16), probe)
}

write_text <- function(lines, path) {
  lines <- enc2utf8(lines)
  write_whole(path, function(temporary) {
    connection <- file(temporary, open = "wb")
    tryCatch(
      writeLines(lines, connection, useBytes = TRUE),
      finally = close(connection)
    )
    check_size(temporary, sum(nchar(lines, "bytes") + 1))
  })
}

write_bytes <- function(bytes, file) {
  writeBin(bytes, file)
  check_size(file, length(bytes))
}

copy_whole <- function(from, to) {
  write_whole(to, function(temporary) {
    write_bytes(readBin(from, "raw", file.size(from)), temporary)
  })
}

# The last bytes go to the disk when the file is closed, where R only warns.
check_size <- function(file, wanted) {
  if (!file.size(file) %in% wanted) {
    stop(say(
      "write-file.no_room_left_of",
      file = file.size(file),
      wanted = wanted
    ))
  }
}

# A file that another package or program makes: in R's own folder, where one that
# broke off harms nothing, and then its bytes as any others.
write_made <- function(path, make) {
  write_whole(path, function(temporary) {
    kind <- tools::file_ext(path)
    made <- tempfile(fileext = if (nzchar(kind)) paste0(".", kind) else "")
    on.exit(unlink(made))
    make(made)
    check_room(dirname(made))
    bytes <- readBin(made, "raw", file.size(made))
    if (!is_complete(bytes, kind)) {
      stop(say("write-file.it_broke_off_in", made = dirname(made)))
    }
    write_bytes(bytes, temporary)
  })
}

# What stands near the end of a whole file of each kind.
last_bytes <- c(
  pdf = "%%EOF",
  svg = "</svg>",
  png = "IEND",
  xlsx = "PK\005\006",
  docx = "PK\005\006",
  zip = "PK\005\006"
)

is_complete <- function(bytes, kind) {
  mark <- last_bytes[tolower(kind)]
  length(bytes) > 0 &&
    (is.na(mark) ||
      length(grepRaw(mark, utils::tail(bytes, 1024), fixed = TRUE)) > 0)
}
