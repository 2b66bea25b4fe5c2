# The cut that was taken goes into test.yml, with its reason and what it was before; the
# other lines of the file stay as they are.

# level: whose cut it is, NULL for the setting mastery_cut. Gives what it was.
write_cut <- function(folder, cut, reason, level = NULL) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  path <- file.path(folder, "test.yml")
  given <- if (file.exists(path)) read_settings(path) else list()
  settings <- complete_settings(given)
  levels <- settings$levels
  if (!is.null(level) && !level %in% names(levels)[-1]) {
    abort_pregunta(
      "call",
      say("write-cut.no_such_level", level = quoted(level)),
      NULL,
      did_you_mean(level, names(levels)[-1])
    )
  }
  was <- if (is.null(level)) settings$mastery_cut else levels[[level]]
  cut <- round(cut, 4)
  changed <- if (is.null(level)) {
    list(mastery_cut = cut)
  } else {
    levels[[level]] <- cut
    list(levels = levels)
  }
  note <- list(
    of = if (is.null(level)) "mastery_cut" else level, cut = cut, was = was,
    reason = reason, date = format(Sys.Date())
  )
  changed$cut_reasons <- c(settings$cut_reasons, list(note))
  lines <- if (file.exists(path)) text_lines(path)
  for (name in names(changed)) lines <- with_setting(lines, name, changed[name])
  # What would be refused is not written.
  complete_settings(utils::modifyList(given, changed))
  write_text(lines, path)
  was
}

# The lines of a setting in place of those that were there, or at the end.
with_setting <- function(lines, name, setting) {
  written <- strsplit(
    yaml::as.yaml(setting, indent.mapping.sequence = TRUE), "\n"
  )[[1]]
  first <- grep(paste0("^[\"']?", gsub("_", "[_ -]", name), "[\"']?[ ]*:"), lines)[1]
  if (is.na(first)) return(c(lines, written))
  # It goes on to the next line that is not indented, is no item of a list and no comment.
  after <- which(seq_along(lines) > first & grepl("^[^[:space:]#-]", lines))[1]
  last <- if (is.na(after)) length(lines) else after - 1
  rest <- lines[seq_along(lines) > last]
  c(lines[seq_len(first - 1)], written, rest)
}
