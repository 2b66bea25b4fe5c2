# The statements of a test: a line of JSON each, in the order they came, in a file of the
# test folder that only grows. A line is on the disk before its sender is answered.

statements_file <- "statements.jsonl"
batch_file <- ".statements-batch"

# What is known of the file: for each statement its id, when it was stored and where its
# line is; the lines themselves stay on the disk.
open_store <- function(folder) {
  store <- watch_store(folder)
  mend_store(store)
  look_on(store)
  store
}

# To look on only, while another takes them in.
watch_store <- function(folder) {
  store <- new.env(parent = emptyenv())
  store$folder <- folder
  store$path <- file.path(folder, statements_file)
  store$place <- new.env(parent = emptyenv())
  store$void <- new.env(parent = emptyenv())
  store$about <- list(
    id = character(), stored = character(), from = numeric(), bytes = numeric()
  )
  store$size <- 0
  store
}

# What a kill or a power cut left: a batch that was begun is ended, a line that was not
# ended was never answered and goes.
mend_store <- function(store) {
  end_batch(store)
  if (!file.exists(store$path) || !file.size(store$path)) return(invisible())
  size <- file.size(store$path)
  last <- size
  step <- 65536
  repeat {
    from <- max(0, last - step)
    bytes <- bytes_of(store$path, from, last - from)
    ends <- which(bytes == as.raw(10L))
    if (length(ends)) {
      last <- from + ends[length(ends)]
      break
    }
    last <- from
    if (from == 0) break
  }
  if (last < size) cut_file(store$path, last)
}

bytes_of <- function(path, from, n) {
  connection <- file(path, "rb")
  on.exit(close(connection))
  seek(connection, from)
  readBin(connection, "raw", n)
}

# The lines behind what is known already, by this process or by another.
look_on <- function(store) {
  size <- if (file.exists(store$path)) file.size(store$path) else 0
  if (size <= store$size) return(list())
  bytes <- bytes_of(store$path, store$size, size - store$size)
  ends <- which(bytes == as.raw(10L))
  if (!length(ends)) return(list())
  bytes <- bytes[seq_len(ends[length(ends)])]
  lines <- lines_of(bytes)
  statements <- statements_of_lines(lines)
  add_places(store, statements, diff(c(0, ends)))
  statements
}

lines_of <- function(bytes) {
  text <- rawToChar(bytes[bytes != as.raw(0L)])
  Encoding(text) <- "UTF-8"
  strsplit(valid_text(text), "\n", fixed = TRUE)[[1]]
}

# Read at once; where a line is broken, each by itself, and that one is nothing.
statements_of_lines <- function(lines) {
  read <- function(text) jsonlite::fromJSON(text, simplifyVector = FALSE)
  all <- tryCatch(
    read(paste0("[", paste(lines, collapse = ","), "]")),
    error = function(e) NULL
  )
  if (length(all) == length(lines)) return(all)
  lapply(lines, function(line) tryCatch(read(line), error = function(e) NULL))
}

add_places <- function(store, statements, bytes) {
  if (isTRUE(store$followed)) store$unseen <- c(store$unseen, statements)
  if (length(statements) == 1) return(add_place(store, statements[[1]], bytes))
  text <- function(field) {
    vapply(statements, function(one) {
      if (is.character(one[[field]])) one[[field]][1] else NA_character_
    }, "")
  }
  void <- vapply(statements, function(one) {
    if (is_statement(one) && is_voiding(one)) paste0("", one$object$id) else NA_character_
  }, "")
  new <- list(
    id = tolower(text("id")),
    stored = text("stored"),
    from = store$size + cumsum(c(0, bytes[-length(bytes)])),
    bytes = as.numeric(bytes)
  )
  at <- length(store$about$id)
  for (k in which(!is.na(new$id))) assign(new$id[k], at + k, store$place)
  for (one in tolower(void[!is.na(void)])) assign(one, TRUE, store$void)
  store$about <- Map(c, store$about, new)
  store$size <- store$size + sum(bytes)
}

# The same of one, which is the usual case and has to be quick.
add_place <- function(store, statement, bytes) {
  of <- function(field) {
    value <- if (is.list(statement)) statement[[field]]
    if (is.character(value)) value[1] else NA_character_
  }
  id <- tolower(of("id"))
  at <- length(store$about$id) + 1
  store$about$id[at] <- id
  store$about$stored[at] <- of("stored")
  store$about$from[at] <- store$size
  store$about$bytes[at] <- bytes
  if (!is.na(id)) assign(id, at, store$place)
  if (is_statement(statement) && is_voiding(statement)) {
    assign(tolower(paste0("", statement$object$id)), TRUE, store$void)
  }
  store$size <- store$size + bytes
}

place_of <- function(store, id) {
  id <- tolower(id)
  if (exists(id, store$place, inherits = FALSE)) get(id, store$place) else NA
}

is_made_void <- function(store, id) exists(tolower(id), store$void, inherits = FALSE)

# The statements of some lines, as they were stored.
stored_statements <- function(store, rows) {
  lapply(rows, function(k) {
    bytes <- bytes_of(store$path, store$about$from[k], store$about$bytes[k])
    line <- lines_of(bytes)
    statements_of_lines(line)[[1]]
  })
}

# ---- more of them ----------------------------------------------------------------

# Stores what is not there yet. The ids, or what speaks against all of it: a fault with
# the code twice (the id comes twice in one batch) or conflict (it is known with other
# words). text: the one statement as it was written, which is kept to the letter.
store_statements <- function(store, statements, user, now = Sys.time(), text = NULL) {
  look_on(store)
  given <- statements
  statements <- lapply(statements, complete_statement, user = user, now = now)
  ids <- vapply(statements, function(one) tolower(one$id), "")
  if (anyDuplicated(ids)) return(new_fault("twice", "id", ids[anyDuplicated(ids)]))
  at <- vapply(ids, function(id) place_of(store, id), 0)
  for (k in which(!is.na(at))) {
    old <- stored_statements(store, at[[k]])[[1]]
    if (!same_statement(statements[[k]], old)) return(new_fault("conflict", "id", ids[k]))
  }
  new <- statements[is.na(at)]
  if (length(new)) {
    lines <- if (length(text)) as_written(text, given[[1]], new[[1]])
    if (is.null(lines)) lines <- vapply(new, json_line, "")
    append_lines(store, lines, new)
  }
  ids <- vapply(statements, function(one) one$id, "")
  list(ids = ids, new = new)
}

# With what the standard wants the keeper to fill in.
complete_statement <- function(statement, user, now) {
  stored <- moment_of(now)
  if (is.null(statement$id)) statement$id <- new_uuid()
  if (is.null(statement$timestamp)) statement$timestamp <- stored
  if (is.null(statement$version)) statement$version <- "1.0.0"
  statement$stored <- stored
  statement$authority <- list(
    objectType = "Agent",
    account = list(homePage = "https://pregunta.invalid/", name = user)
  )
  statement
}

# The text of the statement with what was filled in behind it; NULL where something of
# that stands in the text and is replaced.
as_written <- function(text, given, filled) {
  added <- setdiff(names(filled), names(given))
  kept <- intersect(names(given), names(filled))
  if (!identical(given[kept], filled[kept])) return(NULL)
  more <- paste(vapply(added, function(name) {
    value <- filled[[name]]
    # Ids, times and versions are letters that need no care.
    plain <- is.character(value)
    text <- if (plain) paste0("\"", value, "\"") else authority_text(value)
    paste0("\"", name, "\":", text)
  }, ""), collapse = ",")
  one_line <- gsub("[\r\n\t]", " ", sub("[}]\\s*$", "", text))
  paste0(one_line, ",", more, "}")
}

# Who keeps them, as JSON: the same for all statements of a test.
authority_text <- function(authority) {
  name <- authority$account$name
  if (is.null(authority_known[[name]])) {
    assign(name, json_line(authority), authority_known)
  }
  authority_known[[name]]
}

authority_known <- new.env(parent = emptyenv())

new_uuid <- function() {
  hex <- strsplit(random_hex(16), "")[[1]]
  hex[13] <- "4"
  hex[17] <- c("8", "9", "a", "b")[strtoi(hex[17], 16) %% 4 + 1]
  parts <- split(hex, rep(1:5, c(8, 4, 4, 4, 12)))
  paste(vapply(parts, paste, "", collapse = ""), collapse = "-")
}

# What the keeper fills in, and the order of names, make no other statement; nor does the
# time, where the sender named none.
same_statement <- function(new, old) {
  untimed <- identical(new$timestamp, new$stored) || identical(old$timestamp, old$stored)
  kept_by <- c("stored", "authority", "version", "id", if (untimed) "timestamp")
  plain <- function(one) {
    if (!is.null(one$timestamp)) {
      one$timestamp <- moment_of(read_moment(one$timestamp))
    }
    json_line(with_names_sorted(one[setdiff(names(one), kept_by)]))
  }
  identical(plain(new), plain(old))
}

with_names_sorted <- function(value) {
  if (!is.list(value)) return(value)
  if (!is.null(names(value))) value <- value[order(names(value), method = "radix")]
  value[] <- lapply(value, with_names_sorted)
  value
}

read_moment <- function(text) {
  text <- toupper(sub(" ", "T", sub(",", ".", text, fixed = TRUE), fixed = TRUE))
  zone <- regmatches(text, regexpr("(Z|[+-][0-9]{2}(:?[0-9]{2})?)$", text))
  clock <- sub("(Z|[+-][0-9]{2}(:?[0-9]{2})?)$", "", text)
  if (grepl("T[0-9]{2}:[0-9]{2}$", clock)) clock <- paste0(clock, ":00")
  time <- as.POSIXct(strptime(clock, "%Y-%m-%dT%H:%M:%OS", tz = "UTC"))
  if (!length(zone) || zone == "Z") return(time)
  digits <- gsub("[^0-9]", "", zone)
  minutes <- 60 * as.numeric(substr(digits, 1, 2)) +
    if (nchar(digits) > 2) as.numeric(substr(digits, 3, 4)) else 0
  time - 60 * minutes * if (startsWith(zone, "-")) -1 else 1
}

# One line is there or cut off at the next start. Of several all or none are to be there:
# they are written beside first, and from there once more when the current goes meanwhile.
append_lines <- function(store, lines, statements) {
  text <- enc2utf8(paste0(lines, "\n"))
  bytes <- lapply(text, charToRaw)
  if (length(bytes) > 1) begin_batch(store, bytes)
  all <- unlist(bytes)
  size <- append_synced(store$path, all, store$size)
  if (size < 0) stop(say("receive-store.somebody_else_writes", path = store$path))
  if (length(bytes) > 1) unlink(file.path(store$folder, batch_file))
  if (store$size == 0) sync_folder(store$folder)
  add_places(store, statements, lengths(bytes))
}

begin_batch <- function(store, bytes) {
  aside <- aside(file.path(store$folder, batch_file))
  on.exit(unlink(aside))
  first <- charToRaw(sprintf("%.0f %d\n", store$size, sum(lengths(bytes))))
  append_synced(aside, unlist(c(list(first), bytes)), 0)
  file.rename(aside, file.path(store$folder, batch_file))
  sync_folder(store$folder)
}

end_batch <- function(store) {
  path <- file.path(store$folder, batch_file)
  if (!file.exists(path)) return(invisible())
  bytes <- bytes_of(path, 0, file.size(path))
  first <- which(bytes == as.raw(10L))[1]
  told <- as.numeric(strsplit(rawToChar(bytes[seq_len(first - 1)]), " ")[[1]])
  size <- if (file.exists(store$path)) file.size(store$path) else 0
  batch <- bytes[-seq_len(first)]
  if (size < sum(told) && length(batch) == told[2]) {
    if (size > told[1]) cut_file(store$path, told[1])
    append_synced(store$path, batch, told[1])
  }
  unlink(path)
}
