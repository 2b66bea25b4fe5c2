#' The command line
#'
#' What `pregunta VERB FOLDER [options]` runs. Results go to standard output,
#' messages to standard error.
#'
#' @param arguments The words after `pregunta`.
#' @return The exit status: 0 done, 1 the data has errors, 2 the call is wrong.
#' @export
#' @examples
#' run_command(c("test", demo_path()))
run_command <- function(arguments) {
  use_utf8()
  tryCatch(
    withCallingHandlers(run_verb(arguments), warning = function(w) {
      message("Note: ", conditionMessage(w))
      invokeRestart("muffleWarning")
    }),
    pregunta_error = function(e) {
      message(conditionMessage(e))
      if (inherits(e, c("pregunta_error_call", "pregunta_error_folder", "pregunta_error_undecided"))) 2L else 1L
    },
    error = function(e) {
      if (grepl("SIGPIPE", conditionMessage(e), fixed = TRUE)) return(0L) # the reader, such as head, has enough
      message("Something went wrong that pregunta did not foresee: ", conditionMessage(e))
      1L
    }
  )
}

# Bars, dashes and accents need UTF-8 even where the machine says C.
use_utf8 <- function() {
  if (l10n_info()$`UTF-8`) return(invisible())
  for (locale in c("C.UTF-8", "en_US.UTF-8")) {
    if (nzchar(suppressWarnings(Sys.setlocale("LC_CTYPE", locale)))) return(invisible())
  }
}

run_verb <- function(arguments) {
  first <- if (length(arguments)) arguments[1] else "--help"
  if (first %in% c("--help", "-h", "help")) return(show_help(arguments[-1]))
  if (first == "--version") {
    cat(format(utils::packageVersion("pregunta")), "\n", sep = "")
    return(0L)
  }
  verb <- command_verbs()[[first]]
  if (is.null(verb)) {
    abort_pregunta("call", paste0("There is no verb ", quoted(first), "."), NULL,
      paste0(did_you_mean(first, names(command_verbs())), " pregunta --help lists them."))
  }
  call <- read_call(first, verb, arguments[-1])
  if (is.null(call)) return(0L)
  verb$run(call)
}

# Each verb: what it is for, the options it takes, and what it does. A new verb
# is a line here and a function in a cli- file.
command_verbs <- function() {
  table <- c("format", "by", "sort", "item", "student", "out")
  list(
    demo = list(about = "write the demo out as a test folder, with every output", takes = character(), run = run_demo),
    new = list(about = "make a test folder from raw exports", takes = c("from", "key", "students", "standards", "like",
      "sheet", "set"), run = run_new),
    form = list(about = "a blank sheet to type a paper test into, and its way back", takes = "back", run = run_form),
    check = list(about = "what was read, and what does not add up", takes = c("format", "out"), run = run_check),
    test = list(about = "how the test went, and whether its scores can be trusted",
      takes = c("format", "by", "sort", "out"), run = run_test),
    items = list(about = "the questions, hardest first", takes = setdiff(table, "student"), run = run_items),
    options = list(about = "which answers were given, and by whom", takes = setdiff(table, "student"),
      run = run_options),
    students = list(about = "the students, those who need most first", takes = setdiff(table, "item"),
      run = run_students),
    standards = list(about = "the standards, for the class or --by student", takes = setdiff(table, "item"),
      run = run_standards),
    export = list(about = "pass it on in an open form: QTI, CASE or a long table", takes = c("as", "out"),
      run = run_export),
    report = list(about = "one page to open, print or pass on", takes = c("out", "no-names"), run = run_report)
  )
}

command_options <- list(
  format = list("--format", type = "character", default = "text", metavar = "text|csv|json",
    help = "how the table is written [text]"),
  by = list("--by", type = "character", metavar = "COLUMN", help = "apart for each value of a column of the students"),
  sort = list("--sort", type = "character", metavar = "COLUMN",
    help = "order of the rows; --sort=-COLUMN turns it round"),
  item = list("--item", type = "character", metavar = "ITEM", help = "only this question (more with commas)"),
  student = list("--student", type = "character", metavar = "ID", help = "only this student (more with commas)"),
  out = list("--out", type = "character", metavar = "FILE", help = "write to a file instead of the screen"),
  as = list("--as", type = "character", default = "qti", metavar = "qti|case|long",
    help = "questions and results as QTI, standards as CASE, or a row for each student and question [qti]"),
  back = list("--back", type = "character", metavar = "FILE", help = "read a filled-in sheet (CSV or .xlsx) back"),
  from = list("--from", type = "character", metavar = "FILE...",
    help = "the exports: CSV, text, .xlsx, QTI, xAPI, zip; several become one sitting"),
  key = list("--key", type = "character", metavar = "FILE", help = "a key: columns item and key, or a line of answers"),
  students = list("--students", type = "character", metavar = "FILE", help = "a list of students, or OneRoster CSV"),
  standards = list("--standards", type = "character", metavar = "FILE", help = "code, parent, title; or CASE"),
  like = list("--like", type = "character", metavar = "FOLDER",
    help = "take over the layout, settings, standards and students of an earlier test"),
  sheet = list("--sheet", type = "character", metavar = "NAME", help = "the sheet of a workbook"),
  set = list("--set", type = "character", metavar = "WHAT=NAME",
    help = "say what a column is, such as --set student=Code (more with ; between)"),
  `no-names` = list("--no-names", action = "store_true", default = FALSE,
    help = "no name and no id of a student in the file")
)

command_parser <- function(name, verb) {
  optparse::OptionParser(
    usage = paste0("pregunta ", name, if (name == "demo") " [FOLDER]" else " FOLDER",
      if (length(verb$takes)) " [options]"),
    description = paste0("\n", toupper(substr(verb$about, 1, 1)), substring(verb$about, 2), "."),
    option_list = lapply(command_options[verb$takes], function(option) do.call(optparse::make_option, option)),
    add_help_option = TRUE
  )
}

# The folder and options of a call; NULL when only help was asked for.
read_call <- function(name, verb, arguments) {
  parser <- command_parser(name, verb)
  if (any(arguments %in% c("--help", "-h"))) {
    optparse::print_help(parser)
    return(NULL)
  }
  check_flags(name, verb, arguments)
  parsed <- tryCatch(
    optparse::parse_args(parser, arguments, positional_arguments = TRUE, print_help_and_exit = FALSE),
    error = function(e) {
      abort_pregunta("call", paste0("The options of ", quoted(paste("pregunta", name)), " could not be read."),
        conditionMessage(e), paste0("pregunta ", name, " --help shows them."))
    }
  )
  folder <- parsed$args
  if (name == "new" && length(folder) > 1 && !is.null(parsed$options$from)) {
    parsed$options$from <- c(parsed$options$from, folder[-1]) # --from a.csv b.csv
    folder <- folder[1]
  }
  if (length(folder) > 1 || (!length(folder) && name != "demo")) {
    abort_pregunta("call", paste0("pregunta ", name, " needs ", if (name == "demo") "at most ", "one folder."),
      if (length(folder)) paste0("Given: ", some_of(folder), "."), paste0("For example: pregunta ", name, " my-test"))
  }
  call <- c(list(folder = folder), parsed$options)
  if (!is.null(call$format) && !call$format %in% c("text", "csv", "json")) {
    abort_pregunta("call", paste0("There is no format ", quoted(call$format), "."), NULL,
      did_you_mean(call$format, c("text", "csv", "json")))
  }
  call
}

check_flags <- function(name, verb, arguments) {
  flags <- sub("=.*", "", grep("^--", arguments, value = TRUE))
  known <- paste0("--", verb$takes)
  unknown <- setdiff(flags, known)
  if (!length(unknown)) return(invisible())
  abort_pregunta("call", paste0("pregunta ", name, " has no option ", unknown[1], "."), NULL,
    if (length(known) && length(verb$takes)) did_you_mean(unknown[1], known) else "It takes none.")
}

show_help <- function(arguments) {
  verbs <- command_verbs()
  if (length(arguments) && arguments[1] %in% names(verbs)) {
    optparse::print_help(command_parser(arguments[1], verbs[[arguments[1]]]))
    return(0L)
  }
  cat(
    "pregunta: see how a classroom test and each of its questions did", "",
    "Begin with the demo:",
    "  pregunta demo                    writes a made-up test into the folder pregunta-demo",
    "  pregunta items pregunta-demo     its questions, hardest first",
    "  pregunta report pregunta-demo    one page to open in a browser", "",
    "Then make a folder of your own test from whatever you have, and ask the same of it:",
    "  pregunta new my-test --from results.csv --key key.csv", "",
    "Verbs:",
    paste0("  ", formatC(names(verbs), width = -11), vapply(verbs, function(verb) verb$about, "")), "",
    "pregunta VERB --help shows the options of a verb.",
    sep = "\n"
  )
  0L
}
