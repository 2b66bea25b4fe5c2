# record.yml beside a record: the windows of the year, ladders of skills, codes
# that have a new name, and the share from which a skill is passed.

record_settings_known <- c("windows", "ladders", "renamed", "pass")

read_record_settings <- function(path) {
  if (!file.exists(path)) return(list())
  given <- read_settings(path)
  refuse <- function(what, fix) {
    abort_pregunta("input", what, path, fix)
  }
  for (name in setdiff(names(given), record_settings_known)) {
    abort_setting(
      path,
      given,
      name,
      \(name) say("read-record-settings.is_not_a_setting", name = name),
      did_you_mean(name, record_settings_known)
    )
  }
  check_windows(given$windows, refuse)
  given$renamed <- check_renamed(given$renamed, function(what, fix) {
    abort_setting(path, given, "renamed", what, fix)
  })
  given$ladders <- check_ladders(given$ladders, refuse)
  pass <- given$pass
  if (!is.null(pass) &&
    (!is.numeric(pass) || length(pass) != 1 || pass <= 0 || pass > 1)) {
    abort_setting(
      path,
      given,
      "pass",
      \(name) say("read-record-settings.must_be_a_share", name = name),
      say("read-record-settings.for_example_pass_0")
    )
  }
  given
}

check_ladders <- function(ladders, refuse) {
  if (!length(ladders)) return(NULL)
  lapply(stats::setNames(nm = names(ladders)), function(name) {
    codes <- as.character(unlist(ladders[[name]]))
    if (!nzchar(name) || length(codes) < 2 || anyDuplicated(codes)) {
      refuse(
        say("read-record-settings.the_ladder_needs_at", name = quoted(name)),
        say("read-record-settings.for_example_knots_kn")
      )
    }
    codes
  })
}
