# Zip files are never unpacked onto the disk: each entry is read into memory,
# up to a limit, so that no name in them can climb out of a folder and no entry
# can fill the disk.

zip_names <- function(path) zip_entries(path)$Name

zip_entries <- function(path) {
  entries <- tryCatch(
    utils::unzip(path, list = TRUE),
    error = function(e) NULL,
    warning = function(w) NULL
  )
  if (is.null(entries)) {
    abort_pregunta(
      "input",
      say("read-zip.is_a_damaged_zip", path = basename(path)),
      path,
      say("read-zip.fetch_or_save_it")
    )
  }
  entries
}

# Names that climb out and sizes that would fill the disk are no honest archive.
check_zip <- function(path, entries = zip_entries(path)) {
  climbs <- grepl(
    "(^|[/\\\\])[.][.]([/\\\\]|$)|^[/\\\\]|^[A-Za-z]:",
    entries$Name
  )
  if (any(climbs)) {
    abort_pregunta(
      "input",
      say("read-zip.holds_a_file_whose", path = basename(path)),
      paste0(path, ": ", quoted(entries$Name[climbs][1])),
      say("read-zip.nothing_of_it_was")
    )
  }
  check_limit("entries", nrow(entries), path)
  check_limit("megabytes", sum(entries$Length) / 1e6, path)
  invisible(entries)
}

# The chosen entries as raw vectors. What an entry says of its size is not
# believed: reading stops at the limit.
read_zip <- function(path, keep = function(name) TRUE) {
  entries <- check_zip(path)
  names <- entries$Name[!grepl("/$", entries$Name) & keep(entries$Name)]
  left <- 1e6 * limit_of("megabytes")
  contents <- list()
  for (name in names) {
    contents[[name]] <- read_zip_entry(path, name, left)
    left <- left - length(contents[[name]])
    check_limit("megabytes", limit_of("megabytes") - left / 1e6, path)
  }
  contents
}

read_zip_entry <- function(path, name, most) {
  tryCatch(
    {
      connection <- unz(path, name, open = "rb")
      on.exit(close(connection))
      parts <- list()
      size <- 0
      while (size <= most &&
        length(part <- readBin(connection, "raw", 1e6))) {
        parts <- c(parts, list(part))
        size <- size + length(part)
      }
      if (length(parts)) do.call(c, parts) else raw()
    },
    error = function(e) {
      abort_pregunta(
        "input",
        say("read-zip.a_file_in_could", path = basename(path)),
        paste0(
          path, ": ", quoted(name), ": ", conditionMessage(e)
        ),
        say("read-zip.fetch_or_save_the")
      )
    }
  )
}

# Entries as files in a fresh folder, for readers that need a path: each in a
# numbered folder of its own, so that only the last part of its name is used.
zip_copies <- function(path, keep = function(name) TRUE) {
  contents <- read_zip(path, keep)
  folder <- tempfile("zip-")
  copies <- vapply(seq_along(contents), function(k) {
    room <- file.path(folder, sprintf("%05d", k))
    dir.create(room, recursive = TRUE)
    name <- basename(names(contents)[k])
    plain <- gsub("[^A-Za-z0-9._ -]", "_", name)
    from <- max(1, nchar(plain) - 100) # names may be longer than a disk takes
    copy <- file.path(room, substring(plain, from))
    writeBin(contents[[k]], copy)
    copy
  }, "")
  stats::setNames(copies, names(contents))
}
