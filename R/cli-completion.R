# Completion by the tab key, written from the verbs and their options.

shells <- c("bash", "zsh", "fish")

run_completion <- function(call) {
  shell <- call$words
  if (length(shell) != 1 || !shell %in% shells) {
    abort_pregunta(
      "call",
      say("cli-completion.which_shell"),
      if (length(shell)) say("cli.given", given = some_of(shell)),
      say("cli-completion.for_example", homes = completion_homes[["bash"]])
    )
  }
  write <- switch(shell,
    bash = bash_completion,
    zsh = zsh_completion,
    fish = fish_completion
  )
  put_data(write())
  home <- completion_homes[[shell]]
  tell_user(say("cli-completion.keep_it", shell = shell, home = home))
  0L
}

# Where each shell looks for it.
completion_homes <- c(
  bash = "~/.local/share/bash-completion/completions/pregunta",
  zsh = "~/.zfunc/_pregunta",
  fish = "~/.config/fish/completions/pregunta.fish"
)

# A list for each verb: about, what it is for; words, what may come after it; options, a
# list for each flag: about, and values or the kind of path that it takes.
completed_verbs <- function() {
  verbs <- command_verbs()
  about <- all_words("verbs")
  said <- all_words("options")
  words <- list(
    record = names(record_options),
    bank = names(bank_options),
    completion = shells
  )
  lapply(stats::setNames(nm = names(verbs)), function(name) {
    takes <- verbs[[name]]$takes
    options <- lapply(takes, function(option) {
      c(list(about = said[[option]]), completed_value(command_options[[option]]))
    })
    names(options) <- vapply(command_options[takes], `[[`, "", 1)
    list(
      about = about[[name]],
      words = words[[name]],
      options = c(options, options_of_all())
    )
  })
}

# What every verb takes.
options_of_all <- function() {
  nothing <- list(about = "", takes = "nothing")
  list(
    `--help` = nothing,
    `--language` = list(about = "", takes = "word", values = languages()$language),
    `--quiet` = nothing,
    `--log` = list(about = "", takes = "word", values = c("text", "json"))
  )
}

# takes: nothing, a word of values, a file, a folder, or anything.
completed_value <- function(option) {
  if (!takes_value(option)) return(list(takes = "nothing"))
  metavar <- option$metavar
  if (grepl("^[A-Za-z0-9]+([|][A-Za-z0-9]+)+$", metavar)) {
    return(list(takes = "word", values = strsplit(metavar, "|", fixed = TRUE)[[1]]))
  }
  if (metavar == "FOLDER") return(list(takes = "folder"))
  if (grepl("^(FILE|PATH)", metavar)) return(list(takes = "file"))
  list(takes = "anything")
}

# A script with the lines that stand for @name@ put in.
fill_script <- function(file, ...) {
  path <- system.file("completion", file, package = "pregunta")
  lines <- readLines(path, encoding = "UTF-8")
  parts <- list(...)
  for (name in names(parts)) {
    mark <- paste0("@", name, "@")
    at <- grep(mark, lines, fixed = TRUE)
    filled <- vapply(unname(parts[[name]]), function(part) {
      sub(mark, part, lines[at], fixed = TRUE)
    }, "")
    lines <- append(lines[-at], filled, at - 1)
  }
  lines
}

bash_completion <- function() {
  verbs <- completed_verbs()
  options <- vapply(names(verbs), function(name) {
    flags <- paste(names(verbs[[name]]$options), collapse = " ")
    words <- paste(verbs[[name]]$words, collapse = " ")
    paste0("    ", name, ") flags='", flags, "'; words='", words, "' ;;")
  }, "")
  values <- unlist(lapply(names(verbs), function(name) {
    options <- verbs[[name]]$options
    Map(function(flag, option) {
      reply <- bash_reply(option)
      if (length(reply)) paste0("    ", name, ":", flag, ") ", reply, "; return ;;")
    }, names(options), options)
  }))
  fill_script(
    "pregunta.bash",
    verbs = paste(names(verbs), collapse = " "),
    values = values,
    options = options
  )
}

bash_reply <- function(option) {
  switch(option$takes,
    word = paste0("_pregunta_of '", paste(option$values, collapse = " "), "'"),
    folder = "COMPREPLY=($(compgen -d -- \"$now\"))",
    file = "COMPREPLY=($(compgen -f -- \"$now\"))",
    anything = "COMPREPLY=()"
  )
}

zsh_completion <- function() {
  verbs <- completed_verbs()
  about <- plain_zsh(vapply(verbs, `[[`, "", "about"))
  described <- in_single(paste0(names(verbs), ":", about), "'\\''")
  fill_script(
    "_pregunta.zsh",
    verbs = paste0("    ", described),
    options = unlist(Map(zsh_of_verb, names(verbs), verbs))
  )
}

zsh_of_verb <- function(name, verb) {
  flags <- unlist(Map(function(flag, option) {
    value <- switch(option$takes,
      nothing = "",
      word = paste0(":value:(", paste(option$values, collapse = " "), ")"),
      folder = ":folder:_files -/",
      file = ":file:_files",
      anything = ":value: "
    )
    paste0("*", flag, "[", plain_zsh(option$about), "]", value)
  }, names(verb$options), verb$options))
  first <- if (length(verb$words)) {
    paste0("1:word:(", paste(verb$words, collapse = " "), ")")
  }
  arguments <- in_single(c(flags, first, "*:file:_files"), "'\\''")
  body <- paste0("        ", arguments, c(rep(" \\", length(arguments) - 1), ""))
  c(paste0("    ", name, ")"), "      _arguments \\", body, "      ;;")
}

plain_zsh <- function(text) gsub("([\\[\\]:\\\\])", "\\\\\\1", text, perl = TRUE)

# escaped: what stands for a quotation mark within them.
in_single <- function(text, escaped) {
  paste0("'", gsub("'", escaped, text, fixed = TRUE), "'")
}

fish_completion <- function() {
  verbs <- completed_verbs()
  said <- function(text) in_single(gsub("\\", "\\\\", text, fixed = TRUE), "\\'")
  start <- "complete -c pregunta"
  of_verb <- Map(function(name, verb) {
    here <- paste0(start, " -n '__fish_seen_subcommand_from ", name, "'")
    flags <- Map(function(flag, option) {
      value <- switch(option$takes,
        nothing = "",
        word = paste0(" -x -a '", paste(option$values, collapse = " "), "'"),
        folder = " -x -a '(__fish_complete_directories)'",
        file = " -r -F",
        anything = " -x"
      )
      paste0(here, " -l ", sub("^--", "", flag), value, " -d ", said(option$about))
    }, names(verb$options), verb$options)
    c(
      paste0(start, " -f -n __fish_use_subcommand -a ", name, " -d ", said(verb$about)),
      if (length(verb$words)) {
        paste0(here, " -a '", paste(verb$words, collapse = " "), "'")
      },
      unlist(flags)
    )
  }, names(verbs), verbs)
  unname(unlist(of_verb))
}
