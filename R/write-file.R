# Files are written whole or not at all: to a temporary file beside the old
# one, then renamed over it. A link stays a link and its file is written, who may read
# it stays, and what is no file (a pipe, a terminal) is written to. checked: `write` has
# seen that all it wrote is there.
write_whole <- function(path, write, checked = FALSE) {
  path <- linked_file(path)
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    abort_pregunta(
      "output",
      say("write-file.there_is_no_folder", folder = quoted(folder)),
      NULL,
      say("write-file.make_it_first_or")
    )
  }
  kind <- path_kind(path)
  if (kind == "folder") {
    abort_pregunta(
      "output",
      say("write-file.is_a_folder_not", path = quoted(path)),
      NULL,
      say("write-file.give_the_name_of")
    )
  }
  clear_dead(folder)
  temporary <- if (kind == "other") tempfile() else aside(path)
  on.exit(unlink(temporary))
  written <- tryCatch(
    suppressWarnings({
      write(temporary)
      put_in_place(temporary, path, kind, checked)
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

put_in_place <- function(temporary, path, kind, checked) {
  if (kind == "other") {
    to <- file(path, "wb", raw = TRUE)
    on.exit(close(to))
    writeBin(readBin(temporary, "raw", file.size(temporary)), to)
    return(TRUE)
  }
  if (!checked) check_room(dirname(path))
  if (kind == "file") Sys.chmod(temporary, file.mode(path), use_umask = FALSE)
  file.rename(temporary, path)
}

# The file that a link leads to, over as many links as a system follows.
linked_file <- function(path) {
  for (step in 1:40) {
    to <- Sys.readlink(path)
    if (is.na(to) || !nzchar(to) || path_kind(path) == "other") return(path)
    path <- if (is_absolute(to)) to else file.path(dirname(path), to)
  }
  path
}

is_absolute <- function(path) grepl("^(/|~|[A-Za-z]:|\\\\)", path)

# Not every writer says that it came to the end of the disk, and fwrite() takes a
# part for the whole there: a little more has to fit behind what was written.
check_room <- function(folder) {
  probe <- aside(file.path(folder, "room"))
  on.exit(unlink(probe))
  write_bytes(raw(2^16), probe)
}

write_text <- function(lines, path) {
  force(lines) # a fault in what makes them is none of the file
  write_parts(function(put) put(lines), path)
}

# write: gets what puts lines into the file, some at a time.
write_parts <- function(write, path) {
  write_whole(path, function(temporary) {
    connection <- file(temporary, open = "wb")
    bytes <- 0
    tryCatch(
      write(function(lines) {
        lines <- enc2utf8(lines)
        writeLines(lines, connection, useBytes = TRUE)
        bytes <<- bytes + sum(nchar(lines, "bytes") + 1)
      }),
      finally = close(connection)
    )
    check_size(temporary, bytes)
  }, checked = TRUE)
}

write_bytes <- function(bytes, file) {
  writeBin(bytes, file)
  check_size(file, length(bytes))
}

copy_whole <- function(from, to) {
  write_whole(to, function(temporary) {
    write_bytes(readBin(from, "raw", file.size(from)), temporary)
  }, checked = TRUE)
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
  }, checked = TRUE)
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

# ---- what is never a target ------------------------------------------------------

# A path that somebody named for an output is none of what results are made of: of the
# files of a test folder, of its sources, and of what this call has read.
check_output <- function(path, plan = FALSE) {
  target <- full_path(linked_file(path))
  name <- basename(target)
  own <- plan && is_plan_name(name)
  typed_into <- name %in% input_files || is_plan_name(name)
  is_input <- typed_into && !own && is_test_folder(dirname(target)) ||
    name == "record.yml" && file.exists(target) ||
    is_source(target) ||
    target %in% ls(files_read, all.names = TRUE) && !own
  if (!is_input) return(invisible())
  abort_pregunta(
    "output",
    say("write-file.is_an_input", path = quoted(path)),
    NULL,
    say("write-file.name_another_file")
  )
}

# What somebody typed into, of a test folder; how a report or workbook is called is free.
input_files <- c(
  paste0(folder_tables, ".csv"), "test.yml", "test.xlsx", "plan.csv", "statements.jsonl",
  "marking.csv", "marking.xlsx", "form.csv", "form.xlsx"
)

is_source <- function(target) {
  above <- target
  while (dirname(above) != above) {
    above <- dirname(above)
    if (basename(above) == "source" && is_test_folder(dirname(above))) {
      return(file.exists(target))
    }
  }
  FALSE
}
