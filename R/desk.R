#' The desk: everything in the browser, for people who open no terminal
#'
#' Opens a page in the browser in which the tests of a folder can be looked at, changed,
#' tried and taken back. It runs on this machine only, needs no network, and keeps nothing
#' of its own: what is done at the desk stands in the files of the test folder at once,
#' where the command line and a spreadsheet see it, and what changes there shows at the
#' desk within a second.
#'
#' @param folder A test folder, or a folder of test folders; `NULL` is the folder of the
#'   R session.
#' @param port Number of the port, 1024 to 65535; `NULL` takes a free one.
#' @param browser Whether a browser is opened; the address with its key is told in any
#'   case.
#' @param people Path of a file of people, for a desk that several use; see below.
#' @param interface The number (IPv4) of the network interface to listen on; 0.0.0.0 is
#'   all of them. By default only this machine reaches the desk.
#' @param address What the desk is called by others, such as
#'   `https://desk.school.example`, where a proxy stands in front.
#' @param language The code of the language in which who has chosen none is spoken to; by
#'   default that of the test, else the usual one.
#' @return Nothing: the desk is open until it is stopped (Ctrl+C, or Escape in RStudio).
#' @section People: Each line of the file is a name and the sections of the students
#' that are theirs, or `all`; a key can stand beside them and is made at each start where
#' it does not (YAML):
#'
#' ```
#' Ada Bay: all
#' Bo Day: [Harbour A, Harbour B]
#' Cy Moor:
#'   sections: Harbour C
#'   key: at-least-16-letters-long
#' ```
#'
#' Each gets an address of their own. Who sees some sections sees these students and
#' figures of these students only, changes their marks, comments and groups, brings in
#' and types their answers, has a plan of theirs, and makes reports of them; keys and
#' questions of a test that is there are for who sees all. The list of changes says who
#' made each. Passwords and encryption are the business of a proxy in
#' front: `vignette("school", "pregunta")`.
#' @section Language: Who looks chooses a language of their own, which their browser
#'   keeps; see [languages()].
#' @section Safety: The desk listens on 127.0.0.1 only, unless `interface` says otherwise.
#'   The address holds a key that is
#'   made anew at each start; the first request with it gets a cookie, and every other
#'   request needs that. Requests that come from another page or under another host's
#'   name are refused.
#' @section Errors: `pregunta_error_folder` when there is no such folder;
#'   `pregunta_error_call` when the port is no port or is taken, the interface no number
#'   of an interface, the address none; `pregunta_error_input` when the file of people is
#'   not as it should be.
#' @export
#' @examples
#' \dontrun{
#' open_desk(demo_path())
#' }
open_desk <- function(folder = NULL, port = NULL, browser = interactive(),
                      people = NULL, interface = NULL, address = NULL,
                      language = NULL) {
  need_package(packages_of_desk)
  interpret_here()
  desk <- new_desk(folder, port, people, interface, address, language)
  face <- speak_for("at-the-desk")
  on.exit(speak_for(face), add = TRUE)
  speak_here(desk$language)
  old <- options(
    shiny.http.response.filter = guarding(desk),
    shiny.maxRequestSize = 1e6 * limit_of("megabytes"),
    shiny.sanitize.errors = TRUE,
    # A server has threads, and so is never forked.
    pregunta.cores = 1,
    pregunta.apart = "anew"
  )
  on.exit(options(old), add = TRUE)
  on.exit(close_receiving(desk), add = TRUE)
  app <- shiny::shinyApp(
    ui = desk_answer(desk),
    server = desk_server(desk),
    uiPattern = ".*",
    onStart = function() {
      later::later(function() {
        close_shared_files(desk)
        announce(desk, browser)
      })
      later::later(function() reckon_latest(desk), 0.1)
    }
  )
  tryCatch(
    suppressPackageStartupMessages(shiny::runApp(
      app,
      port = desk$port,
      host = desk$host,
      launch.browser = FALSE,
      quiet = TRUE
    )),
    error = function(e) {
      if (!grepl("create.server", conditionMessage(e))) stop(e)
      abort_port(desk$port)
    }
  )
  invisible()
}

# All that is done at the desk, asked for at once.
packages_of_desk <- c(
  "curl", "httpuv", "later", "officer", "processx", "Rglpk", "RSQLite", "shiny"
)

# root: the folder whose tests are on the shelf; people: who has a key; address: what
# others call it; known: what was read of each test, as long as its files stay so.
new_desk <- function(folder, port, people = NULL, interface = NULL, address = NULL,
                     language = NULL) {
  root <- if (is.null(folder)) getwd() else folder
  stop_if_address(root)
  if (!dir.exists(root)) {
    abort_pregunta(
      "folder",
      say("desk.there_is_no_folder", folder = quoted(root)),
      NULL,
      say("desk.give_a_folder")
    )
  }
  port <- checked_port(port)
  list(
    root = normalizePath(root),
    host = checked_interface(interface),
    port = port,
    address = checked_address(address),
    people = people_of_desk(people),
    language = language_of_desk(root, language),
    cookie = paste0("pregunta-", port),
    known = new.env(parent = emptyenv()),
    lives = new.env(parent = emptyenv())
  )
}

# Who has chosen no other one is spoken to in the language asked for, in that of the test
# that the desk is opened for, or in the usual one.
language_of_desk <- function(root, asked) {
  if (!is.null(asked)) return(checked_language(asked))
  own <- if (!language_is_chosen()) language_of_folder(root)
  if (is.null(own)) language_now() else own
}

checked_port <- function(port) {
  if (is.null(port)) return(httpuv::randomPort(min = 20000, max = 60000))
  number <- suppressWarnings(as.integer(port))
  if (is.na(number) || number < 1024 || number > 65535) abort_port(port)
  number
}

checked_interface <- function(interface) {
  if (is.null(interface)) return("127.0.0.1")
  parts <- suppressWarnings(as.integer(strsplit(interface, ".", fixed = TRUE)[[1]]))
  if (length(parts) == 4 && !anyNA(parts) && all(parts >= 0 & parts <= 255)) {
    return(interface)
  }
  abort_pregunta(
    "call",
    say("desk.no_interface", interface = quoted(interface)),
    NULL,
    say("desk.give_a_number")
  )
}

# Of a whole host: a path before it would have to be in every link.
checked_address <- function(address) {
  if (is.null(address)) return(NULL)
  plain <- tolower(sub("/$", "", address))
  if (grepl("^https?://[a-z0-9.-]+(:[0-9]+)?$", plain)) return(plain)
  abort_pregunta(
    "call",
    say("desk.no_address", address = quoted(address)),
    NULL,
    say("desk.give_an_address")
  )
}

abort_port <- function(port) {
  abort_pregunta(
    "call",
    say("desk.no_port", port = port),
    NULL,
    say("desk.name_another_port")
  )
}

address_of <- function(desk, person) {
  here <- paste0("http://", called_here(desk), ":", desk$port)
  paste0(if (is.null(desk$address)) here else desk$address, "/?key=", person$key)
}

# On standard output, when it listens: a line for each person, one without a name where
# there is only one.
announce <- function(desk, browser) {
  lines <- vapply(desk$people, function(one) {
    paste(c(one$name, address_of(desk, one)), collapse = "\t")
  }, "")
  writeLines(paste(lines, collapse = "\n"))
  flush(stdout())
  if (browser) utils::browseURL(address_of(desk, desk$people[[1]]))
}

# The test that was worked on last is the one that will be looked at first.
reckon_latest <- function(desk) {
  tests <- shelf_tests(desk)
  if (!length(tests)) return(invisible())
  changed <- file.mtime(path_of_test(desk, tests))
  latest <- tests[which.max(changed)]
  try(figures_known(read_whole(desk, latest)), silent = TRUE)
}

# The tests on the shelf: paths below the root, "." for the root itself; also those that
# lie in a test, as a follow-up does.
shelf_tests <- function(desk) {
  inside <- list.dirs(desk$root, full.names = FALSE, recursive = FALSE)
  inside <- inside[!startsWith(inside, ".")]
  found <- inside[vapply(file.path(desk$root, inside), is_test_folder, TRUE)]
  within <- unlist(lapply(found, function(one) {
    below <- file.path(one, list.dirs(file.path(desk$root, one), FALSE, FALSE))
    below[vapply(file.path(desk$root, below), is_test_folder, TRUE)]
  }))
  c(if (is_test_folder(desk$root)) ".", sort(c(found, within), method = "radix"))
}

# Tests that wait for their answers: questions and students, as a follow-up is made.
# Those that nobody has sat yet; the folder itself may be one.
tests_to_sit <- function(desk) {
  inside <- list.dirs(desk$root, full.names = FALSE, recursive = FALSE)
  ids <- c(".", inside[!startsWith(inside, ".")])
  has <- function(file) file.exists(file.path(path_of_test(desk, ids), file))
  ids[has("items.csv") & !has("responses.csv")]
}

# Who is to be typed in is listed.
can_be_typed <- function(desk, id) {
  file.exists(file.path(path_of_test(desk, id), "students.csv"))
}

path_of_test <- function(desk, id) {
  ifelse(id == ".", desk$root, file.path(desk$root, id))
}
