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
        abort_pregunta(
          "input",
          paste0(name, " says ", quoted(twice[2]), " twice in one place."),
          paste0(
            path, ", line ", line[length(line)], ": ", trimws(lines[line[length(line)]])
          ),
          "Give each setting, level and band once, with a name of its own."
        )
      }
      abort_pregunta(
        "input",
        paste0(name, " is not valid YAML."),
        paste0(path, ": ", conditionMessage(e)),
        "Write each setting on its own line, as in title: Unit test."
      )
    }
  )
  if (is.null(settings)) return(list())
  if (!is.list(settings) || is.null(names(settings))) {
    abort_pregunta(
      "input",
      paste0(name, " holds no settings."),
      path,
      "Write each setting on its own line, as in title: Unit test."
    )
  }
  at <- lapply(names(settings), function(key) {
    grep(paste0("^[\"']?", key, "[\"']?[ ]*:"), lines)[1]
  })
  attr(settings, "line") <- stats::setNames(at, names(settings))
  attr(settings, "origin") <- name
  settings
}
