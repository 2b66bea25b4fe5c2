# Who takes statements in: for one test, or for the tests of a folder, told apart by what
# their activities are called.

# root: a test folder or a folder of them. Each test has a user name and a key of its
# own; over a folder of tests there is one more for all. find: a function that gives the
# folders of the tests by the names of their users.
new_receiver <- function(root, find = NULL) {
  root <- normalizePath(root)
  receiver <- new.env(parent = emptyenv())
  receiver$root <- root
  receiver$is_shelf <- !is.null(find) || is_shelf(root)
  receiver$find <- if (is.null(find)) function() find_folders(receiver) else find
  receiver$tests <- new.env(parent = emptyenv())
  receiver
}

# A folder of tests is no test itself.
is_shelf <- function(root) {
  if (is_test_folder(root) || file.exists(file.path(root, "items.csv"))) return(FALSE)
  if (file.exists(file.path(root, statements_file))) return(FALSE)
  length(tests_to_receive(root)) > 0
}

tests_to_receive <- function(root) {
  inside <- list.dirs(root, full.names = FALSE, recursive = FALSE)
  inside <- inside[!startsWith(inside, ".")]
  Filter(function(one) {
    folder <- file.path(root, one)
    is_test_folder(folder) || file.exists(file.path(folder, "items.csv"))
  }, inside)
}

# Names of tests, and where they are; looked for again after two seconds.
folders_of <- function(receiver) {
  now <- as.numeric(Sys.time())
  if (is.null(receiver$looked) || now - receiver$looked > 2) {
    receiver$folders <- receiver$find()
    receiver$keys <- list()
    receiver$looked <- now
  }
  receiver$folders
}

find_folders <- function(receiver) {
  root <- receiver$root
  if (!receiver$is_shelf) return(stats::setNames(root, user_of(root)))
  found <- tests_to_receive(root)
  stats::setNames(file.path(root, found), vapply(found, user_of, ""))
}

# A colon ends a user's name where it is told.
user_of <- function(folder) gsub(":", "-", basename(folder), fixed = TRUE)

# A test is opened when the first asks for it; as long as it is open no other receives.
test_of_receiver <- function(receiver, name) {
  if (exists(name, receiver$tests, inherits = FALSE)) return(receiver$tests[[name]])
  folder <- folders_of(receiver)[[name]]
  test <- new.env(parent = emptyenv())
  test$name <- name
  test$folder <- folder
  test$held <- hold_receiving(folder)
  begin <- function() {
    test$store <- open_store(folder)
    test$activity <- activity_of_test(folder)
    begin_folding(test)
  }
  tryCatch(begin(), error = function(e) {
    release_receiving(test$held)
    stop(e)
  })
  assign(name, test, receiver$tests)
  test
}

close_receiver <- function(receiver) {
  for (name in ls(receiver$tests)) release_receiving(receiver$tests[[name]]$held)
}

# ---- one receiver a folder --------------------------------------------------------

receiving_file <- function(folder, kind) file.path(folder, paste0(".pregunta-", kind))

hold_receiving <- function(folder) {
  stop_if_stored(folder)
  holder <- receiving_file(folder, "receives")
  lock <- filelock::lock(
    receiving_file(folder, "receiving-lock"),
    exclusive = TRUE,
    timeout = 200
  )
  if (is.null(lock)) {
    abort_pregunta(
      "output",
      say("receive-receiver.is_received_already", folder = quoted(folder)),
      say_holder(holder),
      say("receive-receiver.end_that_one")
    )
  }
  write_holder(holder)
  list(lock = lock, holder = holder)
}

release_receiving <- function(held) {
  unlink(held$holder)
  filelock::unlock(held$lock)
}

# ---- who may ----------------------------------------------------------------------

# The key of a folder: made once, so that what was told the key keeps it over days.
key_of_folder <- function(folder) {
  path <- receiving_file(folder, "key")
  known <- tryCatch(suppressWarnings(readLines(path, 1)), error = function(e) "")
  if (isTRUE(grepl("^[0-9a-f]{32}$", known))) return(known)
  key <- random_hex(16)
  old <- Sys.umask("077")
  on.exit(Sys.umask(old))
  write_text(key, path)
  key
}

# Bytes that nobody can guess, two letters each.
random_hex <- function(n) paste(random_bytes(n), collapse = "")

# Whose name and key they are: the names of the tests that are open to them, none where
# the key is wrong.
tests_for <- function(receiver, user, key) {
  folders <- folders_of(receiver)
  own <- user %in% names(folders)
  all <- receiver$is_shelf && user == user_of(receiver$root)
  if (all && is_key(known_key(receiver, receiver$root), key)) return(names(folders))
  if (own && is_key(known_key(receiver, folders[[user]]), key)) user else character()
}

known_key <- function(receiver, folder) {
  if (is.null(receiver$keys[[folder]])) receiver$keys[[folder]] <- key_of_folder(folder)
  receiver$keys[[folder]]
}

# All letters are compared, so that the time it takes tells nothing of the first.
is_key <- function(key, given) {
  if (length(given) != 1 || !identical(nchar(given), nchar(key))) return(FALSE)
  sum(utf8ToInt(given) != utf8ToInt(key)) == 0
}

# ---- whose statement --------------------------------------------------------------

activity_of_test <- function(folder) {
  settings <- tryCatch(settings_in(folder), pregunta_error = function(e) NULL)
  as.character(unlist(settings$activity))
}

# The addresses that a statement is about: its activity and what that is part of.
addresses_of <- function(statement) {
  around <- statement$context$contextActivities[c("parent", "grouping")]
  around <- lapply(Filter(Negate(is.null), around), function(one) {
    if (is_object(one)) list(one) else one
  })
  around <- unlist(around, recursive = FALSE)
  ids <- c(list(statement$object), around)
  as.character(unlist(lapply(ids, function(one) one$id)))
}

# The test among several that a statement belongs to: the one whose `activity` (test.yml)
# is among its addresses or begins one of them; where a test says none, its folder's name
# is a part of the address.
test_of_statement <- function(receiver, tests, statement) {
  if (!receiver$is_shelf || length(tests) == 1) {
    fits <- function(name) {
      activity <- test_of_receiver(receiver, name)$activity
      !length(activity) || is_at(activity, addresses_of(statement))
    }
    return(Filter(fits, tests))
  }
  addresses <- addresses_of(statement)
  said <- lapply(tests, function(name) activity_of_test(folders_of(receiver)[[name]]))
  named <- tests[vapply(said, is_at, TRUE, addresses)]
  if (length(named)) return(named[1])
  parts <- unlist(strsplit(addresses, "[/#?=]"))
  silent <- tests[lengths(said) == 0]
  utils::head(silent[silent %in% parts], 1)
}

is_at <- function(activities, addresses) {
  any(vapply(activities, function(one) {
    behind <- substring(addresses, nchar(one) + 1)
    any(startsWith(addresses, one) & grepl("^($|[/#?])", behind))
  }, TRUE))
}
