# The words of a call: its options with their values, its folders.

# The folder and options of a call; NULL when only help was asked for.
read_call <- function(name, verb, arguments) {
  if (any(arguments %in% c("--help", "-h"))) {
    put_lines(help_of_verb(name, verb))
    return(NULL)
  }
  words <- words_of_call(name, verb, arguments)
  options <- option_values(name, verb, words)
  folders <- words$folders
  if (name %in% c("new", "add") && length(folders) > 1 && !is.null(options$from)) {
    # --from a.csv b.csv
    options$from <- paste(c(options$from, folders[-1]), collapse = between_repeated)
    folders <- folders[1]
  }
  check_choice("--format", options$format, c("text", "csv", "json"))
  options$by <- split_commas(options[["by"]])
  if (isTRUE(verb$words)) {
    return(c(list(words = folders, given = words$given), options))
  }
  check_folders(name, verb, folders)
  refuse_unheeded(name, words$given, options)
  c(list(folder = folders), options)
}

# What a call says, apart: folders; given, the verb's names of the options; values, along
# them, NA for a switch. The word after an option that takes a value is its value,
# whatever it begins with, as in --sort -difficulty.
words_of_call <- function(name, verb, arguments) {
  known <- command_options[verb$takes]
  flags <- vapply(known, `[[`, "", 1)
  arguments <- flags_as_now(name, arguments)
  folders <- given <- values <- character()
  k <- 1
  while (k <= length(arguments)) {
    word <- arguments[k]
    k <- k + 1
    if (!is_flag(word)) {
      folders <- c(folders, word)
      next
    }
    flag <- sub("=.*", "", word)
    place <- match(flag, flags)
    if (is.na(place)) abort_unknown_option(name, flag, flags)
    option <- known[[place]]
    next_word <- arguments[k][k <= length(arguments)]
    if (word != flag) {
      value <- substring(word, nchar(flag) + 2)
    } else if (!is.null(option$bare) && !any(grepl("^([0-9]+|last)$", next_word))) {
      value <- option$bare
    } else if (takes_value(option)) {
      value <- next_word
      k <- k + 1
    } else {
      value <- NA_character_
      if (length(next_word) && next_word %in% option$also) k <- k + 1
    }
    values <- c(values, checked_value(name, option, value, flags))
    given <- c(given, verb$takes[place])
  }
  list(folders = folders, given = given, values = values)
}

is_flag <- function(word) nchar(word) > 1 && startsWith(word, "-")

takes_value <- function(option) !identical(option$action, "store_true")

# Options that had another name before.
former_flags <- list(
  followup = c("--least" = "--per-standard"),
  slips = c("--from" = "--sender"),
  roster = c("--class" = "--classes"),
  bank = c("--items" = "--item", "--tag" = "--only")
)

flags_as_now <- function(name, arguments) {
  former <- former_flags[[name]]
  flag <- sub("=.*", "", arguments)
  is_former <- flag %in% names(former)
  now <- unname(former[flag[is_former]])
  arguments[is_former] <- paste0(
    now, substring(arguments[is_former], nchar(flag[is_former]) + 1)
  )
  arguments
}

# The value of an option as it stands in the call, or an error that says what it needs.
checked_value <- function(name, option, value, flags) {
  flag <- option[[1]]
  if (!takes_value(option)) {
    if (is.na(value) || value %in% option$also) return(NA_character_)
    abort_pregunta(
      "call",
      say("cli-arguments.takes_no_value", flag = flag),
      say("cli.given", given = quoted(value)),
      say("cli-arguments.right_call", call = in_call(name, flag)),
      value = value
    )
  }
  is_option <- length(value) && sub("=.*", "", value) %in% flags
  if (!length(value) || !nzchar(value) || is_option) {
    abort_pregunta(
      "call",
      say("cli-arguments.needs_a_value", flag = flag),
      if (length(value) && is_option) say("cli-arguments.next_is", word = value),
      say(
        "cli-arguments.right_call",
        call = in_call(name, flag, said_metavar(option$metavar))
      )
    )
  }
  form <- number_forms[option$type]
  if (is.na(form) || grepl(form, value)) return(value)
  abort_pregunta(
    "call",
    say("cli-arguments.needs_a_number", flag = flag, whole = option$type == "integer"),
    say("cli.given", given = quoted(value)),
    say(
      "cli-arguments.right_call",
      call = in_call(name, flag, if (option$type == "integer") "10" else "0.8")
    ),
    value = value
  )
}

number_forms <- c(
  integer = "^-?[0-9]+$",
  double = "^-?([0-9]+([.][0-9]*)?|[.][0-9]+)(e-?[0-9]+)?$"
)

# A call as it would be written.
in_call <- function(name, ...) {
  paste(c("pregunta", name, usage_of(name), ...), collapse = " ")
}

abort_unknown_option <- function(name, flag, flags) {
  verbs <- command_verbs()
  takes <- vapply(verbs, function(verb) {
    flag %in% vapply(command_options[verb$takes], `[[`, "", 1)
  }, TRUE)
  near <- nearest_word(flag, flags)
  hint <- if (is.na(near) && any(takes)) {
    other <- names(verbs)[takes][1]
    metavar <- said_metavar(option_called(verbs[[other]], flag)$metavar)
    structure(
      say("cli-arguments.another_verb", call = in_call(other, flag, metavar)),
      value = flag,
      choices = flags
    )
  } else if (length(flags)) {
    did_you_mean(flag, flags)
  } else {
    say("cli.it_takes_none")
  }
  abort_pregunta(
    "call",
    say("cli.pregunta_has_no_option", name = name, unknown = flag),
    NULL,
    hint
  )
}

option_called <- function(verb, flag) {
  known <- command_options[verb$takes]
  known[[match(flag, vapply(known, `[[`, "", 1))]]
}

# The options of a call by their names, those that are not given as they are by default.
# One that is said several times holds all that was said.
option_values <- function(name, verb, words) {
  known <- command_options[verb$takes]
  flags <- vapply(known, `[[`, "", 1)
  defaults <- lapply(known, `[[`, "default")
  names(defaults) <- sub("^--", "", flags)
  defaults <- Filter(Negate(is.null), defaults)
  if (!length(words$given)) return(defaults)
  check_said_once(words$given)
  values <- tapply(words$values, words$given, paste, collapse = between_repeated)
  given <- names(values)
  flags <- vapply(command_options[given], `[[`, "", 1)
  switch_on <- !vapply(command_options[given], takes_value, TRUE)
  parsed <- optparse::parse_args(
    command_parser(given),
    paste0(flags, ifelse(switch_on, "", paste0("=", values))),
    print_help_and_exit = FALSE
  )
  defaults[names(parsed)] <- parsed
  defaults
}

check_said_once <- function(given) {
  twice <- setdiff(given[duplicated(given)], options_of_several)
  if (!length(twice)) return(invisible())
  flag <- command_options[[twice[1]]][[1]]
  abort_pregunta(
    "call",
    say("cli-arguments.given_twice", flag = flag),
    NULL,
    say("cli-arguments.say_it_once")
  )
}

# given: the options that it knows.
command_parser <- function(given) {
  optparse::OptionParser(option_list = lapply(given, function(option) {
    known <- command_options[[option]]
    ours <- names(known) %in% c("also", "bare")
    do.call(optparse::make_option, c(known[!ours], help = ""))
  }))
}

# A verb takes one folder, unless it says how many; the demo names its own.
check_folders <- function(name, verb, given) {
  wanted <- if (is.null(verb$folders)) 1 else verb$folders
  if (length(given) == wanted || (isTRUE(verb$optional) && !length(given))) {
    return(invisible())
  }
  there <- given[dir.exists(given)]
  here <- if (length(given)) there else folder_here()
  right <- c(here, given, "my-test", "my-follow-up")[seq_len(wanted)]
  if (wanted == 2 && !length(given)) right <- c("my-test", "my-follow-up")
  abort_pregunta(
    "call",
    say(
      "cli.pregunta_needs_at_most",
      name = name,
      is_demo = isTRUE(verb$optional),
      wanted = wanted
    ),
    if (length(given)) say("cli.given", given = some_of(given)),
    say(
      "cli-arguments.for_example",
      call = paste(c("pregunta", name, shell_word(right)), collapse = " ")
    )
  )
}

# A test folder that lies here, this one first.
folder_here <- function() {
  near <- c(".", list.dirs(".", recursive = FALSE, full.names = FALSE))
  utils::head(Filter(is_test_folder, near), 1)
}

check_choice <- function(flag, value, choices) {
  if (is.null(value) || value %in% choices) return(invisible())
  abort_pregunta(
    "call",
    say(
      "cli.there_is_no",
      flag = sub("^--", "", flag),
      value = quoted(value)
    ),
    NULL,
    did_you_mean(value, choices)
  )
}

# A word that is no verb: it may be a folder or a file, or stand behind its verb.
abort_no_verb <- function(word, more) {
  verbs <- names(command_verbs())
  after <- intersect(more, verbs)
  right <- if (dir.exists(word)) {
    verb <- c(after, if (is_test_folder(word)) "test" else "report")[1]
    paste("pregunta", verb, shell_word(word))
  } else if (file.exists(word)) {
    paste("pregunta", paste(call_for_file(word), collapse = " "))
  }
  abort_pregunta(
    "call",
    say("cli.there_is_no_verb", first = quoted(word)),
    NULL,
    if (is.null(right)) {
      say("cli.pregunta_help_lists_them", known = did_you_mean(word, verbs))
    } else {
      say("cli-arguments.right_call", call = right)
    },
    value = word
  )
}

# What makes a test folder of a file that was given in place of one.
call_for_file <- function(file) {
  stem <- tools::file_path_sans_ext(basename(file))
  c("new", shell_word(paste0(stem, "-test")), "--from", shell_word(file))
}
