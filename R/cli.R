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
  old <- Sys.getlocale("LC_CTYPE")
  use_utf8()
  on.exit(Sys.setlocale("LC_CTYPE", old))
  tryCatch(
    withCallingHandlers(run_verb(arguments), warning = function(w) {
      message("Note: ", conditionMessage(w))
      invokeRestart("muffleWarning")
    }),
    pregunta_error = function(e) {
      message(conditionMessage(e))
      if (inherits(
        e,
        c("pregunta_error_call", "pregunta_error_folder", "pregunta_error_undecided")
      )) {
        2L
      } else {
        1L
      }
    },
    error = function(e) {
      # the reader, such as head, has enough
      if (grepl("SIGPIPE", conditionMessage(e), fixed = TRUE)) return(0L)
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
    abort_pregunta(
      "call",
      paste0("There is no verb ", quoted(first), "."),
      NULL,
      paste0(did_you_mean(first, names(command_verbs())), " pregunta --help lists them.")
    )
  }
  call <- read_call(first, verb, arguments[-1])
  if (is.null(call)) return(0L)
  verb$run(call)
}

# Each verb: what it is for, the options it takes, and what it does. A new verb
# is a line here and a function in a cli- file.
command_verbs <- function() {
  table <- c("format", "by", "sort", "item", "student", "out")
  verb <- function(about, takes, run, ...) {
    list(about = about, takes = takes, run = run, ...)
  }
  # A verb that shows figures can show them of a part of the students or questions.
  figures <- function(about, takes, run, ...) verb(about, union(takes, "only"), run, ...)
  list(
    demo = verb(
      "write the demo out as a test folder, with every output",
      character(),
      run_demo,
      usage = "[FOLDER]"
    ),
    new = verb(
      "make a test folder from raw exports",
      c("from", "key-file", "students", "standards", "like", "sheet", "set"),
      run_new
    ),
    form = verb(
      "a blank sheet to type a paper test into, and its way back",
      "back",
      run_form
    ),
    check = verb(
      "what was read, and what does not add up",
      c("format", "out"),
      run_check
    ),
    mark = verb(
      "a sheet of the answers that wait for a mark, and its way back",
      c("back", "no-names"),
      run_mark
    ),
    adjust = verb(
      "change a mark or a key with a reason; without a change, the list of them",
      c(
        change_flags, "student", "item", "points", "excuse", "extra", "comment", "undo",
        "reason", "format", "out"
      ),
      run_adjust
    ),
    `what-if` = figures(
      "what a change of the questions would do, before it is made",
      c(change_flags, "apply", "reason", "about", "format", "out"),
      run_what_if
    ),
    test = figures(
      "how the test went, and whether its scores can be trusted",
      c("format", "by", "sort", "target", "bootstrap", "out"),
      run_test
    ),
    items = figures(
      "the questions, hardest first; --review gives each a verdict",
      c(setdiff(table, "student"), "review", "keys", "before", "bootstrap"),
      run_items
    ),
    options = figures(
      "which answers were given, and by whom",
      c(setdiff(table, "student"), "who", "whole"),
      run_options
    ),
    explanations = figures(
      "what students wrote as their reason, the right answers first",
      c("item", "student", "no-names", "format", "out"),
      run_explanations
    ),
    time = figures(
      "seconds and tries, for each question or --by student",
      setdiff(table, "item"),
      run_time
    ),
    attempts = figures(
      "every attempt of every student, and which one counts",
      setdiff(table, c("by", "item")),
      run_attempts
    ),
    students = figures(
      "the students, those who need most first",
      c(setdiff(table, "item"), "below", "answers", "status"),
      run_students
    ),
    standards = figures(
      paste0(
        "the standards, or any --tag of the items, for the class, --by a column or --by ",
        "student"
      ),
      c(setdiff(table, "item"), "standard", "below", "grid", "tagged"),
      run_standards
    ),
    misconceptions = figures(
      paste0(
        "the ideas behind wrong answers, for the class or --by student; --uncoded finds ",
        "new ones"
      ),
      c(setdiff(table, "item"), "uncoded", "guessing"),
      run_misconceptions
    ),
    groups = figures(
      "who learns what together: by need, by score, or mixed with a helper in each",
      c(
        "format", "by", "basis", "size", "least", "groups", "cut", "student", "sort",
        "out"
      ),
      run_groups
    ),
    decisions = figures(
      "how sure a pass decision or a level is",
      c("format", "by", "cut", "bootstrap", "sort", "out"),
      run_decisions
    ),
    parts = figures(
      "whether a part of the test is worth a score of its own",
      c("format", "by", "strata", "bootstrap", "sort", "out"),
      run_parts
    ),
    precision = figures(
      "how far each score would waver",
      c("format", "sort", "out"),
      run_precision
    ),
    fairness = figures(
      "whether a question treats a group unfairly, --by a column of the students",
      c("format", "by", "reference", "focal", "item", "sort", "out"),
      run_fairness
    ),
    plan = figures(
      "what to teach again, to whom and why; written as a document to edit",
      c("format", "by", "most", "size", "no-names", "out"),
      run_plan
    ),
    followup = figures(
      "a second test from new questions on weak standards, for those who need it",
      c(
        "source", "bank", "standard", "student", "length", "least", "difficulty", "forms",
        "used", "used-record", "format", "out"
      ),
      run_followup
    ),
    compare = figures(
      "whether it worked: the same students and standards, before and after",
      c("format", "by", "standard", "student", "close", "sort", "out"),
      run_compare,
      usage = "BEFORE AFTER",
      folders = 2
    ),
    record = verb(
      paste0(
        "the year: record add FOLDER, list, remove NAME, growth, skills, tests, ",
        "pending, items"
      ),
      c(
        "record", "name", "by", "section", "student", "standard", "skills", "window",
        "ladder", "since", "until", "kind", "history", "sort", "format", "out"
      ),
      run_record,
      usage = paste(
        "add FOLDER... | list | remove NAME | growth | skills | tests |",
        "pending | items"
      ),
      words = TRUE
    ),
    bank = verb(
      "keep questions for later: bank add FOLDER, bank list, bank uses",
      c(
        "bank", "items", "missed", "sound", "standard", "tag", "type", "difficulty",
        "discrimination", "sort", "format", "out"
      ),
      run_bank,
      usage = "add FOLDER | list | uses",
      words = TRUE
    ),
    explain = verb(
      "what a figure means, what is a good value, what a small class does to it",
      c("format", "out"),
      run_explain,
      usage = "[FIGURE]",
      words = TRUE
    ),
    export = verb(
      "pass it on in an open form: QTI, CASE or a long table",
      c("as", "out"),
      run_export
    ),
    walkthrough = figures(
      "a page for the projector to go over the test, hardest first",
      c("out", "item", "most"),
      run_walkthrough
    ),
    report = figures(
      paste0(
        "one page to open, print or pass on; of a folder of test folders, one each and ",
        "an index"
      ),
      c("for", "by", "out", "no-names"),
      run_report
    ),
    slips = figures(
      "a page a student to take home, to print or as mail drafts to guardians",
      c("parts", "paper", "slips-as", "student", "mail", "send", "mail-from", "out"),
      run_slips
    ),
    workbook = figures(
      "students, questions, answers and standards as .xlsx, with colours and filters",
      c("no-names", "out"),
      run_workbook
    ),
    plot = figures(
      "a picture as SVG, PNG or PDF, with the sentence of what it shows",
      c("picture", "picture-as", "item", "no-names", "out"),
      run_plot
    )
  )
}

command_parser <- function(name, verb) {
  optparse::OptionParser(
    usage = paste0(
      "pregunta ", name, " ", if (is.null(verb$usage)) "FOLDER" else verb$usage,
      if (length(verb$takes)) " [options]"
    ),
    description = paste0("\n", capital(verb$about), "."),
    option_list = lapply(command_options[verb$takes], function(option) {
      do.call(optparse::make_option, option)
    }),
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
    optparse::parse_args(
      parser,
      gather_repeated(arguments),
      positional_arguments = TRUE,
      print_help_and_exit = FALSE
    ),
    error = function(e) {
      abort_pregunta(
        "call",
        paste0("The options of ", quoted(paste("pregunta", name)), " could not be read."),
        conditionMessage(e),
        paste0("pregunta ", name, " --help shows them.")
      )
    }
  )
  folder <- parsed$args
  if (name == "new" && length(folder) > 1 && !is.null(parsed$options$from)) {
    parsed$options$from <- c(parsed$options$from, folder[-1]) # --from a.csv b.csv
    folder <- folder[1]
  }
  check_choice("--format", parsed$options$format, c("text", "csv", "json"))
  parsed$options$by <- split_commas(parsed$options[["by"]])
  if (isTRUE(verb$words)) return(c(list(words = folder), parsed$options))
  check_folders(name, verb, folder)
  c(list(folder = folder), parsed$options)
}

# A verb takes one folder, unless it says how many; the demo names its own.
check_folders <- function(name, verb, given) {
  wanted <- if (is.null(verb$folders)) 1 else verb$folders
  if (length(given) == wanted || (name == "demo" && !length(given))) return(invisible())
  abort_pregunta(
    "call",
    paste0(
      "pregunta ", name, " needs ", if (name == "demo") "at most ",
      if (wanted == 1) "one folder" else "two folders, the earlier test first", "."
    ),
    if (length(given)) paste0("Given: ", some_of(given), "."),
    paste0("For example: pregunta ", name, " my-test", if (wanted > 1) " my-follow-up")
  )
}

check_choice <- function(flag, value, choices) {
  if (is.null(value) || value %in% choices) return(invisible())
  abort_pregunta(
    "call",
    paste0("There is no ", sub("^--", "", flag), " ", quoted(value), "."),
    NULL,
    did_you_mean(value, choices)
  )
}

check_flags <- function(name, verb, arguments) {
  flags <- sub("=.*", "", grep("^--", arguments, value = TRUE))
  known <- vapply(command_options[verb$takes], `[[`, "", 1)
  unknown <- setdiff(flags, known)
  if (!length(unknown)) return(invisible())
  abort_pregunta(
    "call",
    paste0("pregunta ", name, " has no option ", unknown[1], "."),
    NULL,
    if (length(known) && length(verb$takes)) {
      did_you_mean(unknown[1], known)
    } else {
      "It takes none."
    }
  )
}

show_help <- function(arguments) {
  verbs <- command_verbs()
  if (length(arguments) && arguments[1] %in% names(verbs)) {
    optparse::print_help(command_parser(arguments[1], verbs[[arguments[1]]]))
    return(0L)
  }
  cat(
    "pregunta: see how a classroom test and each of its questions did",
    "",
    "Begin with the demo:",
    paste0(
      "  pregunta demo                    writes a made-up test into the folder ",
      "pregunta-demo"
    ),
    "  pregunta items pregunta-demo     its questions, hardest first",
    "  pregunta report pregunta-demo    one page to open in a browser",
    "",
    "Then make a folder of your own test from whatever you have, and ask the same of it:",
    "  pregunta new my-test --from results.csv --key key.csv",
    "",
    "Verbs:",
    paste0(
      "  ", formatC(names(verbs), width = -max(nchar(names(verbs)))), "  ",
      vapply(verbs, function(verb) verb$about, "")
    ),
    "",
    "pregunta VERB --help shows the options of a verb.",
    sep = "\n"
  )
  0L
}
