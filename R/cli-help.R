# What `pregunta` alone and `--help` show.

# The verbs of a Sunday evening, each as it would be called.
first_verbs <- c("new", "test", "items", "groups", "plan", "report")

# All others, by the question that brings somebody to them.
verbs_by_question <- list(
  get_in = c("add", "form", "receive", "watch", "roster", "demo"),
  put_right = c("check", "mark", "adjust", "what-if", "attempts"),
  who = c("students", "standards", "misconceptions", "slips"),
  why = c("options", "explanations", "time", "walkthrough"),
  trust = c(
    "decisions", "parts", "precision", "scale", "fairness", "markers", "patterns", "cuts",
    "explain"
  ),
  worked = c("followup", "compare", "record", "bank"),
  pass_on = c("workbook", "plot", "export", "send"),
  work_with = c("desk", "completion")
)

show_help <- function(arguments) {
  verbs <- command_verbs()
  wanted <- arguments[1]
  if (wanted %in% names(verbs)) {
    put_lines(help_of_verb(wanted, verbs[[wanted]]))
    return(0L)
  }
  if (length(arguments)) abort_no_verb(wanted, character())
  put_lines(help_in_all())
  0L
}

# The first six with a call each, then the rest by question.
help_in_all <- function() {
  first <- function(verb) calls_of(verb)[1]
  calls <- vapply(first_verbs, first, "")
  # A call that is much longer than the others stands on a line of its own.
  long <- nchar(calls, "width")
  width <- max(long[long < 40], nchar(first("desk"), "width")) + 2
  line <- function(call, what) {
    fits <- nchar(call, "width") < width
    start <- paste0("  ", formatC(if (fits) call else "", width = -width))
    c(if (!fits) paste0("  ", call), wrap_lines(what, width + 2, initial = start))
  }
  c(
    say("cli.pregunta_see_how_a"),
    "",
    say("cli-help.on_a_sunday_evening"),
    unlist(Map(line, calls, all_words("verbs")[first_verbs], USE.NAMES = FALSE)),
    "",
    line(first("desk"), say("cli-help.the_same_in_the_browser")),
    line(first("demo"), say("cli-help.something_to_try_it_on")),
    "",
    say("cli-help.the_rest"),
    unlist(lapply(names(verbs_by_question), help_for_question)),
    "",
    wrap_lines(say("cli-help.more_of_a_verb")),
    wrap_lines(say("cli.quiet_and_log"))
  )
}

# Examples of a verb, as they would be typed.
calls_of <- function(verb) paste("pregunta", section_of("examples")[[verb]])

help_for_question <- function(question) {
  verbs <- verbs_by_question[[question]]
  width <- max(nchar(unlist(verbs_by_question))) + 2
  about <- all_words("verbs")[verbs]
  lines <- Map(function(verb, what) {
    wrap_lines(what, width + 4, initial = paste0("    ", formatC(verb, width = -width)))
  }, verbs, about, USE.NAMES = FALSE)
  c(paste0("  ", say(paste0("verb_questions.", question))), unlist(lines))
}

# What a verb is for, how it is called and which options it takes, in the language spoken.
help_of_verb <- function(name, verb) {
  about <- all_words("options")
  options <- lapply(verb$takes, function(option) {
    known <- command_options[[option]]
    what <- c(known[[1]], said_metavar(known$metavar))
    c(paste0("  ", paste(what, collapse = " ")), wrap_lines(about[[option]], 8))
  })
  examples <- paste0("  ", calls_of(name))
  c(
    say(
      "cli.usage",
      verb = name,
      words = usage_of(name),
      any_options = length(verb$takes) > 0
    ),
    "",
    wrap_lines(paste0(capital(say(paste0("verbs.", name))), ".")),
    "",
    say("cli-help.for_example"),
    examples,
    "",
    if (length(options)) c(say("cli.options"), unlist(options), ""),
    wrap_lines(say("cli.quiet_and_log"))
  )
}

# What a verb is called with beside options.
usage_of <- function(name) {
  if (is.null(command_verbs()[[name]]$usage)) {
    said_metavar("FOLDER")
  } else {
    say(paste0("usage.", name))
  }
}

# What stands for the value of an option: its choices as they are, and words in capitals,
# which are read.
said_metavar <- function(metavar) {
  if (is.null(metavar)) return(NULL)
  found <- gregexpr("[A-Z]{2,}", metavar)
  regmatches(metavar, found) <- lapply(regmatches(metavar, found), words_for, "metavars")
  metavar
}
