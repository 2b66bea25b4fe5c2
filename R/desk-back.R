# Ways back from what is no line of the list of changes: a file as it was, a folder that
# was not there. Only as long as nobody changed it since.

# Runs what changes a file; the button that puts back what stood in it.
back_to_file <- function(visit, path, change) {
  lock <- take_lock(dirname(path))
  on.exit(release_lock(lock))
  old <- if (file.exists(path)) readBin(path, "raw", file.size(path))
  result <- change()
  visit$now$before <- list(path = path, old = old, sum = tools::md5sum(path)[[1]])
  list(
    result = result,
    button = act_button(say("desk-change.take_back"), "put-back")
  )
}

put_file_back <- function(visit, given) {
  before <- visit$now$before
  shiny::req(before)
  lock <- take_lock(dirname(before$path))
  on.exit(release_lock(lock))
  if (!identical(tools::md5sum(before$path)[[1]], before$sum)) {
    abort_changed_since(before$path)
  }
  if (is.null(before$old)) {
    unlink(before$path)
  } else {
    write_whole(before$path, function(temporary) writeBin(before$old, temporary))
  }
  visit$now$before <- NULL
  tell_done(visit, say("desk-change.taken_back"))
}

# A folder that this visit made.
back_from_made <- function(visit, folder) {
  visit$now$made <- list(folder = folder, state = state_of_files(folder))
  act_button(say("desk-change.take_back"), "unmake")
}

state_of_files <- function(folder) {
  files <- list.files(folder, recursive = TRUE, all.files = TRUE)
  files <- files[!startsWith(basename(files), ".pregunta-")]
  tools::md5sum(stats::setNames(file.path(folder, files), files))
}

unmake_folder <- function(visit, given) {
  made <- visit$now$made
  shiny::req(made)
  if (!identical(state_of_files(made$folder), made$state)) {
    abort_changed_since(made$folder)
  }
  unlink(made$folder, recursive = TRUE)
  visit$now$made <- NULL
  tell_done(visit, say("desk-change.taken_back"))
  visit$session$sendCustomMessage("go", "#shelf")
}

abort_changed_since <- function(path) {
  abort_pregunta(
    "output",
    say("desk-back.changed_since", path = quoted(path)),
    NULL,
    say("desk-back.nothing_was_taken_back")
  )
}
