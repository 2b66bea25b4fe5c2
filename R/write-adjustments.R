#' Change a mark or a key, with a reason
#'
#' Adds to the list of changes: nothing that came in is altered, and a change
#' that turns out wrong is undone by another line. Given a folder, the change
#' is added to its `adjustments.csv`; given a sitting, a sitting with the change
#' comes back and no file is written.
#'
#' @param test Path of a test folder, or a [sitting()].
#' @param action One of the actions below, or several.
#' @param student,item,value What it is about, as the action needs; several of
#'   equal length, or one for all.
#' @param reason Why. Asked for by whoever reads the list later.
#' @return The sitting with the change; invisibly for a folder.
#' @section Actions:
#' | action | student | item | value | what it does |
#' |---|---|---|---|---|
#' | `key` | | item | key | the item's key is this |
#' | `accept` | | item | answer | this answer is right too, for all its points |
#' | `drop` | | item | | the item does not count, for anybody |
#' | `credit` | | item | | everybody who had the item earns its points, also for a blank |
#' | `points` | student | item | points | it earns so much, 0 to the item's |
#' | `excuse` | student | item (blank: all) | | it does not count for this student |
#' | `extra` | student, or blank for all | | points | come on top of the total |
#' | `comment` | student (blank: all) | item, or blank | text | for the student to read |
#' | `group` | student | | place | is in this group by need |
#' | `undo` | as there | as there | action (and value) | takes back the last such change |
#'
#' A place among the groups is the code that the group is about, such as `TC.1.b`
#' (`TC.1.b/2`: the second of the class), its number as [group_students()] shows it, or
#' `on_their_own` or `ready_for_more`.
#'
#' @section Order: Undone changes are out first. Then, whatever the order of the lines:
#' `key`, then `accept`, and every attempt is scored by them; `credit` and `drop` (an item
#' with both is refused); then the attempt that counts is settled (setting `attempts`);
#' then `points` and `excuse`, which so overrule credit but not a drop; then `extra`,
#' which counts in a student's points, share, level and band and in no figure of items,
#' standards or the test. Of several `group` of a student the last stands; it changes no
#' points.
#' @section Errors: `pregunta_error_input`, with the line: an unknown action, student or
#' item; points outside 0 to the item's points; a key that is no option; an undo of
#' nothing; two changes that cannot both be (two keys of an item, two marks of an answer,
#' drop and credit, points and excuse). `pregunta_error_call`: a group that the student's
#' class does not have. `pregunta_error_output` when the file cannot be
#' written. What was there stays as it was.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' right <- adjust(quiz, "key",
#'   item = "Q7", value = "C", reason = "half moon is neap tide")
#' back <- adjust(right, "undo", item = "Q7", value = "key")
#' identical(summarise_items(quiz), summarise_items(back))
adjust <- function(test, action, student = NA, item = NA, value = NA,
                   reason = NA) {
  rows <- data.frame(
    student = as_text(student),
    item = as_text(item),
    action = as_text(action),
    value = as_text(value),
    reason = as_text(reason)
  )
  if (inherits(test, "pregunta_sitting")) {
    return(with_changes(test, named_moves(test, rows)))
  }
  write_changes(test, rows)
  invisible(read_sitting(test))
}

# The folder's sitting with the changes, which are added to its list; who: made them,
# where several people work on it.
write_changes <- function(folder, rows, who = NULL) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  sitting <- read_sitting(folder)
  rows <- named_moves(sitting, rows)
  sitting <- with_changes(sitting, rows)
  rows$when <- format(Sys.time(), "%Y-%m-%d %H:%M")
  if (!is.null(who)) rows$who <- rep(who, nrow(rows))
  append_rows(folder, rows)
  sitting
}

append_rows <- function(folder, rows) {
  path <- file.path(folder, "adjustments.csv")
  if (!file.exists(path)) {
    # a sheet of test.xlsx goes on as a file
    sheet <- read_part(folder, "adjustments")
    return(write_csv_table(
      if (is.null(sheet)) rows else stack_rows(sheet, rows),
      path
    ))
  }
  old <- read_table_file(path)
  bytes <- readBin(path, "raw", file.size(path))
  separator <- separator_of(bytes, names(old))
  rows <- rows[intersect(names(rows), c(adjustment_columns, "who", names(old)))]
  needed <- names(rows)[
    !vapply(rows, function(x) all(is.na(x)), TRUE)
  ]
  appends <- !is.na(separator) &&
    all(attr(old, "encoding") == "UTF-8") &&
    all(needed %in% names(old))
  write_whole(path, function(temporary) {
    if (!identical(readBin(path, "raw", 2 * length(bytes) + 1), bytes)) {
      stop(say("write-adjustments.somebody_else_changed_it"))
    }
    if (!appends) {
      all_rows <- plain_table(stack_rows(old, rows))
      return(data.table::fwrite(defuse(all_rows), temporary, na = ""))
    }
    columns <- stats::setNames(nm = names(old))
    added <- lapply(columns, function(column) {
      if (column %in% names(rows)) rows[[column]] else rep(NA, nrow(rows))
    })
    added <- data.frame(added, check.names = FALSE)
    data.table::fwrite(
      defuse(added),
      temporary,
      sep = separator,
      na = "",
      col.names = FALSE
    )
    new <- readBin(temporary, "raw", file.size(temporary))
    write_bytes(
      c(
        bytes, if (utils::tail(bytes, 1) != as.raw(10)) as.raw(10), new
      ),
      temporary
    )
  })
}

# What stands between the names of the first line; NA when it is not that plain.
separator_of <- function(bytes, names) {
  ends <- c(which(bytes == as.raw(10)), length(bytes) + 1)
  first <- rawToChar(bytes[seq_len(min(ends) - 1)])
  first <- gsub("\"|\r|\ufeff", "", enc2utf8(first))
  separators <- c(",", ";", "\t")
  fits <- vapply(separators, function(separator) {
    identical(
      strsplit(first, separator, fixed = TRUE)[[1]],
      names
    )
  }, TRUE)
  separators[fits][1]
}

stack_rows <- function(above, below) {
  columns <- union(names(above), names(below))
  whole <- function(table) {
    as.data.frame(
      lapply(stats::setNames(nm = columns), function(column) {
        if (column %in% names(table)) {
          as_text(table[[column]])
        } else {
          rep(NA_character_, nrow(table))
        }
      }),
      check.names = FALSE
    )
  }
  rbind(whole(above), whole(below))
}
