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
  interpret_here()
  arguments <- as.character(arguments)
  on.exit(forget_read(), add = TRUE)
  if (isTRUE(getOption("pregunta.process"))) {
    outlive_file_limit()
    mark_session()
  }
  old <- Sys.getlocale("LC_CTYPE")
  use_utf8()
  on.exit(Sys.setlocale("LC_CTYPE", old), add = TRUE)
  tryCatch(
    {
      told <- how_told(arguments)
      before <- options(pregunta.log = told$log)
      on.exit(options(before), add = TRUE)
      suppressWarnings(run_verb(told$arguments, told$language))
    },
    pregunta_error = function(e) {
      tell_error(e)
      if (inherits(
        e,
        c(
          "pregunta_error_call", "pregunta_error_folder",
          "pregunta_error_undecided", "pregunta_error_package"
        )
      )) {
        2L
      } else {
        1L
      }
    },
    error = function(e) {
      # the reader, such as head, has enough
      if (grepl("SIGPIPE", conditionMessage(e), fixed = TRUE)) return(0L)
      tell_error(e, say("cli.something_went_wrong_that", problem = conditionMessage(e)))
      1L
    }
  )
}

# What every verb takes beside its own options: --language; and for runs that nobody
# watches --quiet, which tells of errors only, and --log json, which tells all as data.
how_told <- function(arguments) {
  quiet <- arguments == "--quiet"
  log <- values_of_option(arguments, "--log")
  language <- values_of_option(arguments, "--language")
  kind <- log$values
  wrong <- setdiff(kind, c("text", "json"))
  if (length(wrong)) {
    abort_pregunta(
      "call",
      say("cli.log_is_text_or_json"),
      if (!is.na(wrong[1])) say("cli.given", given = wrong[1]),
      say("cli.write_log_json")
    )
  }
  kind <- utils::tail(kind, 1)
  left <- setdiff(seq_along(arguments), c(which(quiet), log$places, language$places))
  list(
    arguments = arguments[left],
    language = utils::tail(language$values, 1),
    log = list(
      quiet = any(quiet),
      json = identical(kind, "json"),
      verb = arguments[left][1]
    )
  )
}

# An option given as "--log json" or "--log=json": its values, and where they stand.
values_of_option <- function(arguments, flag) {
  start <- paste0(flag, "=")
  whole <- which(startsWith(arguments, start))
  two <- which(arguments == flag)
  list(
    values = c(substring(arguments[whole], nchar(start) + 1), arguments[two + 1]),
    places = c(whole, two, two + 1)
  )
}

# Verbs that make what goes home, or say in a folder what its language is.
verbs_for_home <- c("slips", "new")

# The language of a run: that of --language, else that of the test, else the usual one. In
# one that words are there for only of what goes home, that alone is said. Data for other
# programs are the same in every language.
speak_as_asked <- function(verb, call, asked, frame = parent.frame()) {
  chosen <- if (length(asked)) {
    checked_language(asked, if (verb %in% verbs_for_home) "home" else "everything")
  }
  if (length(chosen)) speak_at_home(chosen, frame)
  if (length(chosen) && covers(chosen) == "home") chosen <- NULL
  if (!length(chosen) && length(call[["folder"]]) == 1) {
    chosen <- language_of_folder(call$folder[1])
  }
  if (any(call[["format"]] %in% c("csv", "json"))) chosen <- "en"
  speak_here(chosen, frame)
}

# Bars, dashes and accents need UTF-8 even where the machine says C.
use_utf8 <- function() {
  if (l10n_info()$`UTF-8`) return(invisible())
  for (locale in c("C.UTF-8", "en_US.UTF-8")) {
    if (nzchar(suppressWarnings(Sys.setlocale("LC_CTYPE", locale)))) {
      return(invisible())
    }
  }
}

run_verb <- function(arguments, language = NULL) {
  check_arguments(arguments)
  first <- if (length(arguments)) arguments[1] else "--help"
  speak_as_asked(first, NULL, language)
  if (first %in% c("--help", "-h", "help")) return(show_help(arguments[-1]))
  if (first == "--version") {
    put_lines(format(utils::packageVersion("pregunta")))
    return(0L)
  }
  verb <- command_verbs()[[first]]
  if (is.null(verb)) abort_no_verb(first, arguments[-1])
  call <- read_call(first, verb, arguments[-1])
  if (is.null(call)) return(0L)
  speak_as_asked(first, call, language)
  with_stale_told(call, verb$run, always = first == "report")
}

# After a change it is said what was made before it; after a report, what else is stale.
with_stale_told <- function(call, run, always) {
  folder <- if (!is.null(call[["folder"]])) call$folder[1]
  mark <- function() {
    known <- !is.null(folder) && file.exists(file.path(folder, made_name))
    if (known) folder_mark(folder)
  }
  before <- mark()
  status <- run(call)
  after <- mark()
  changed <- !is.null(before) && !identical(before, after)
  if (!is.null(after) && (changed || always)) tell_stale(folder)
  status
}

# Names of files that are no UTF-8 cannot be passed on, nor shown.
check_arguments <- function(arguments) {
  broken <- which(!validUTF8(arguments))
  if (!length(broken)) return(invisible())
  abort_pregunta(
    "call",
    say("cli.is_no_utf8", word = quoted(valid_text(arguments[broken[1]]))),
    NULL,
    say("cli.rename_the_file")
  )
}

# Each verb: what it is for, the options it takes, and what it does. A new verb
# is a line here and a function in a cli- file.
command_verbs <- function() {
  table <- c("format", "by", "sort", "item", "student", "out")
  # Of all that verbs do only what is asked for is loaded: run is looked at when it is
  # called.
  verb <- function(takes, run, ...) {
    list(takes = takes, run = function(call) run(call), ...)
  }
  # A verb that shows figures can show them of a part of the students or questions.
  figures <- function(takes, run, ...) verb(union(takes, "only"), run, ...)
  list(
    demo = verb(
      c("class", "minutes", "to"),
      run_demo,
      usage = TRUE,
      optional = TRUE
    ),
    new = verb(
      c(
        "from", "key", "students", "standards", "like", "sheet", "set",
        "take", "preview"
      ),
      run_new
    ),
    add = verb(
      c(
        "from", "key", "students", "sheet", "set", "take", "again",
        "preview", "undo-step"
      ),
      run_add
    ),
    form = verb(
      c("back", "replace"),
      run_form
    ),
    check = verb(
      c("format", "out"),
      run_check
    ),
    mark = verb(
      c("back", "no-names"),
      run_mark
    ),
    adjust = verb(
      c(
        change_flags,
        "student",
        "item",
        "points",
        "excuse",
        "extra",
        "comment",
        "group",
        "undo",
        "reason",
        "format",
        "out"
      ),
      run_adjust
    ),
    `what-if` = figures(
      c(
        change_flags, "apply", "reason", "about", "format", "out"
      ),
      run_what_if
    ),
    test = figures(
      c("format", "by", "sort", "target", "bootstrap", "out"),
      run_test
    ),
    items = figures(
      c(
        setdiff(table, "student"), "review", "keys", "before", "bootstrap"
      ),
      run_items
    ),
    options = figures(
      c(setdiff(table, "student"), "who", "whole"),
      run_options
    ),
    explanations = figures(
      c("item", "student", "no-names", "format", "out"),
      run_explanations
    ),
    time = figures(
      setdiff(table, "item"),
      run_time
    ),
    attempts = figures(
      setdiff(table, c("by", "item")),
      run_attempts
    ),
    students = figures(
      c(setdiff(table, "item"), "below", "answers", "status"),
      run_students
    ),
    standards = figures(
      c(
        setdiff(table, "item"), "standard", "below", "grid", "tagged", "helped"
      ),
      run_standards
    ),
    misconceptions = figures(
      c(setdiff(table, "item"), "uncoded", "guessing"),
      run_misconceptions
    ),
    groups = figures(
      c(
        "format", "by", "basis", "tagged", "size", "least", "groups", "cut", "student",
        "sort", "out"
      ),
      run_groups
    ),
    decisions = figures(
      c("format", "by", "cut", "bootstrap", "sort", "out"),
      run_decisions
    ),
    parts = figures(
      c("format", "by", "strata", "bootstrap", "sort", "out"),
      run_parts
    ),
    precision = figures(
      c("format", "sort", "out"),
      run_precision
    ),
    scale = figures(
      c("format", "by", "slopes", "item", "student", "sort", "out"),
      run_scale
    ),
    cuts = figures(
      c("format", "by", "cut", "judges", "choose", "level", "reason", "sort", "out"),
      run_cuts
    ),
    markers = figures(
      c("format", "by", "sheets", "sort", "out"),
      run_markers
    ),
    patterns = figures(
      c("format", "pairs", "student", "sort", "out"),
      run_patterns
    ),
    fairness = figures(
      c("format", "by", "reference", "focal", "item", "sort", "out"),
      run_fairness
    ),
    plan = figures(
      c("format", "by", "tagged", "most", "size", "no-names", "out"),
      run_plan
    ),
    followup = figures(
      c(
        "source", "bank", "standard", "student", "length", "per-standard",
        "difficulty", "forms", "used", "used-record", "format", "out"
      ),
      run_followup
    ),
    compare = figures(
      c("format", "by", "standard", "student", "close", "sort", "out"),
      run_compare,
      usage = TRUE,
      folders = 2
    ),
    record = verb(
      c(
        "record", "name", "by", "section", "student", "standard", "skills",
        "window", "ladder", "only", "scale", "since", "until", "kind", "history", "sort",
        "format", "out"
      ),
      run_record,
      usage = TRUE,
      words = TRUE
    ),
    bank = verb(
      c(
        "bank", "item", "missed", "sound", "standard", "only", "type",
        "difficulty", "discrimination", "sort", "format", "out"
      ),
      run_bank,
      usage = TRUE,
      words = TRUE
    ),
    explain = verb(
      c("format", "out"),
      run_explain,
      usage = TRUE,
      words = TRUE
    ),
    completion = verb(
      character(),
      run_completion,
      usage = TRUE,
      words = TRUE
    ),
    export = figures(
      c("as", "version", "out"),
      run_export
    ),
    walkthrough = figures(
      c("out", "item", "most"),
      run_walkthrough
    ),
    report = figures(
      c("for", "by", "each", "workers", "anew", "out", "no-names"),
      run_report
    ),
    slips = figures(
      c(
        "parts", "paper", "slips-as", "student", "each", "mail", "send", "mail-from",
        "unencrypted", "out"
      ),
      run_slips
    ),
    workbook = figures(
      c("no-names", "out"),
      run_workbook
    ),
    plot = figures(
      c("picture", "picture-as", "item", "no-names", "out"),
      run_plot
    ),
    desk = verb(
      c("port", "no-browser", "people", "interface", "address"),
      run_desk,
      usage = TRUE,
      optional = TRUE
    ),
    roster = verb(
      c("roster-from", "token", "class-ids"),
      run_roster
    ),
    send = figures(
      c("to", "send-as", "token"),
      run_send
    ),
    watch = verb(
      c("no-names", "format", "out"),
      run_watch
    ),
    receive = verb(
      c("port", "interface"),
      run_receive
    )
  )
}
