# A test folder whose responses lie in a database.

# A row a student and item of a folder's responses, as they stand in the file.
long_responses <- function(folder) {
  table <- read.csv(
    file.path(folder, "responses.csv"),
    colClasses = "character",
    check.names = FALSE
  )
  items <- read.csv(file.path(folder, "items.csv"), colClasses = "character")$item
  if ("item" %in% names(table) && !"item" %in% items) return(table)
  beside <- intersect(c("student", "attempt"), names(table))
  do.call(rbind, lapply(intersect(items, names(table)), function(item) {
    points <- table[[paste(item, "points")]]
    cbind(
      table[beside],
      item = item,
      response = table[[item]],
      points = if (is.null(points)) rep("", nrow(table)) else points
    )
  }))
}

# The same folder with its responses in an SQLite file, or in a server's table.
# change: of the rows, on their way.
stored_folder <- function(folder, settings = NULL, rows = long_responses(folder),
                          connection = NULL, table = "answers", address = NULL) {
  made <- folder_of()
  files <- list.files(folder, "[.](csv|yml)$", full.names = TRUE)
  file.copy(files[basename(files) != "responses.csv"], made)
  own <- is.null(connection)
  if (own) {
    connection <- DBI::dbConnect(RSQLite::SQLite(), file.path(made, "answers.sqlite"))
    on.exit(DBI::dbDisconnect(connection))
  }
  DBI::dbWriteTable(connection, table, rows, overwrite = TRUE)
  cat(
    "\n", settings, "\nresponses:\n  connection: ",
    if (own) "answers.sqlite" else address, "\n  table: ", table, "\n",
    file = file.path(made, "test.yml"), append = TRUE, sep = ""
  )
  made
}

# The same rows in a file.
filed_folder <- function(folder, settings = NULL, rows = long_responses(folder)) {
  made <- folder_of()
  files <- list.files(folder, "[.](csv|yml)$", full.names = TRUE)
  file.copy(files[basename(files) != "responses.csv"], made)
  write.csv(rows, file.path(made, "responses.csv"), row.names = FALSE, na = "")
  cat("\n", settings, "\n", file = file.path(made, "test.yml"), append = TRUE, sep = "")
  made
}

stored_figures <- list(
  test = summarise_test,
  items = summarise_items,
  options = summarise_options,
  answers = function(x, ...) summarise_answers(x),
  lengths = function(x, ...) summarise_lengths(x),
  review = function(x, ...) review_items(x)
)

# Of each figure the same numbers, in the same order, as from the file.
expect_counted_alike <- function(stored, filed, ..., label) {
  for (name in names(stored_figures)) {
    figures <- lapply(list(stored, filed), function(x) {
      as.data.frame(stored_figures[[name]](x, ...))
    })
    expect_equal(
      figures[[1]], figures[[2]],
      tolerance = 1e-12, ignore_attr = TRUE, label = paste(label, name)
    )
  }
}

# Some of everything that a table of responses can hold.
odd_rows <- function(n = 120, seed = 1) {
  set.seed(seed)
  items <- c("Q1", "Q2", "Q3", "Q4", "Q5", "Q6")
  rows <- expand.grid(
    student = sprintf("s%03d", seq_len(n)), item = items, stringsAsFactors = FALSE
  )
  pick <- function(from) sample(from, n, TRUE)
  rows$response <- c(
    pick(c("A", "B", "C", NA)), pick(c("A", "B", "")), pick(c("ebb", " Ebb ", "flod", NA)),
    pick(c("3.5", "4", "", "(not given)")), pick(c("A;C", "A", "C;A", "(excused)")),
    pick(c("it turns", "why", ""))
  )
  rows$points <- c(rep(NA, 5 * n), pick(c("0", "1", "1.5", "2", NA)))
  last <- sample(7, n, TRUE, c(1, 1, 1, 2, 3, 8, 20))
  rows$response[match(rows$item, items) >= last[match(rows$student, unique(rows$student))]] <- NA
  rows[sample(nrow(rows), nrow(rows) - 30), ]
}

odd_folder <- function(...) {
  folder_of(
    items.csv = c(
      "item,type,key,points,scoring", "Q1,choice,A,1,", "Q2,choice,B,2,", "Q3,text,ebb,1,",
      "Q4,number,3.5..4,1,", "Q5,multiple,A;C,2,each", "Q6,open,,2,"
    ),
    options.csv = c("item,option", "Q1,A", "Q1,B", "Q1,C", "Q1,D"),
    students.csv = c(
      "student,name,section,school",
      sprintf("s%03d,,%s,%s", 1:125, rep(c("A", "B", "C", "D", ""), 25), rep(c("X", "Y"), c(60, 65)))
    ),
    ...
  )
}

# The same folder with its rows in several SQLite files; part: the file of each row.
shards_folder <- function(folder, settings = NULL, rows = long_responses(folder), part) {
  made <- stored_folder(folder, settings, rows[0, ])
  unlink(file.path(made, "answers.sqlite"))
  names <- paste0("part", sort(unique(part)), ".sqlite")
  for (name in names) {
    connection <- DBI::dbConnect(RSQLite::SQLite(), file.path(made, name))
    DBI::dbWriteTable(connection, "answers", rows[paste0("part", part, ".sqlite") == name, ])
    DBI::dbDisconnect(connection)
  }
  said <- readLines(file.path(made, "test.yml"))
  several <- paste0("  connection: [", paste(names, collapse = ", "), "]")
  writeLines(sub("^  connection: answers.sqlite$", several, said), file.path(made, "test.yml"))
  made
}
