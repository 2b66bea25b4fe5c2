# test.yml as a list that knows the line of each setting. YAML tags that would
# run code are read as plain text.
read_settings <- function(path) {
  lines <- text_lines(path)
  name <- basename(path)
  settings <- tryCatch(
    yaml::yaml.load(paste(lines, collapse = "\n"), eval.expr = FALSE),
    error = function(e) {
      twice <- regmatches(
        conditionMessage(e),
        regexec("Duplicate map key: '(.*)'", conditionMessage(e))
      )[[
        1
      ]]
      if (length(twice)) {
        line <- grep(twice[2], lines, fixed = TRUE)
        last <- line[length(line)]
        abort_pregunta(
          "input",
          say(
            "read-settings.says_twice_in_one",
            name = name,
            twice = quoted(twice[2])
          ),
          say(
            "read-settings.line",
            path = path,
            line = last,
            lines = trimws(lines[last])
          ),
          say("read-settings.give_each_setting_level")
        )
      }
      abort_pregunta(
        "input",
        say("read-settings.is_not_valid_yaml", name = name),
        paste0(path, ": ", conditionMessage(e)),
        say("read-settings.write_each_setting_on")
      )
    }
  )
  if (is.null(settings)) return(list())
  if (!is.list(settings) || is.null(names(settings))) {
    abort_pregunta(
      "input",
      say("read-settings.holds_no_settings", name = name),
      path,
      say("read-settings.write_each_setting_on")
    )
  }
  bare <- sub("^[\"']", "", lines)
  at <- lapply(names(settings), function(key) {
    ends <- grepl("^[\"']? *:", substring(bare, nchar(key) + 1))
    which(startsWith(bare, key) & ends)[1]
  })
  attr(settings, "line") <- stats::setNames(at, names(settings))
  attr(settings, "origin") <- name
  settings
}
