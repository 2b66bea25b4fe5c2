# Changing marks and keys on the command line, and trying it first.

run_adjust <- function(call) {
  of_students <- c("points", "extra", "comment", "group", "student", "item")
  asked <- c(change_flags, of_students, "undo")
  if (!call$excuse && !length(unlist(call[asked]))) return(list_changes(call))
  lock <- take_lock(call$folder)
  on.exit(release_lock(lock))
  before <- read_sitting(call$folder)
  rows <- rbind(
    question_changes(call, before),
    student_changes(call, before),
    if (!is.null(call$undo)) undoing(before, call$undo)
  )
  rows$reason <- if (is.null(call$reason)) NA_character_ else call$reason
  after <- write_changes(call$folder, rows)
  effect <- say_effect(compare_changes(before, after, rows))
  written <- utils::tail(after$adjustments, nrow(rows))
  put_lines(say_written(call$folder, written), "", effect)
  if (is.null(call$reason) && any(!rows$action %in% c("comment", "group", "undo"))) {
    tell_user(say("cli-changes.no_reason_is_in"))
  }
  0L
}

run_what_if <- function(call) {
  if (!length(unlist(call[change_flags]))) {
    abort_pregunta(
      "call",
      say("cli-changes.pregunta_what_if_needs"),
      NULL,
      say("cli-changes.for_example_pregunta_what", folder = call$folder)
    )
  }
  check_choice(
    "--about",
    call$about,
    c("students", "test", "items")
  )
  sitting <- read_for_figures(call)
  rows <- question_changes(call, sitting)
  about <- if (call$format == "text") "students" else call$about
  put_out(call, view_tried(sitting, rows, about), show_what_if)
  if (call$apply) {
    rows$reason <- if (is.null(call$reason)) NA_character_ else call$reason
    write_changes(call$folder, rows)
    tell_user(say_written(call$folder, rows))
  } else if (call$format == "text" && is.null(call$out)) {
    tell_user(say("cli-changes.nothing_was_changed_add"))
  }
  0L
}

say_written <- function(folder, rows) {
  ways <- paste(say_change(rows), collapse = "; ")
  say(
    "cli-changes.written_to",
    folder = file.path(folder, "adjustments.csv"),
    rows = paste0(ways, ".")
  )
}

# --key, --accept, --drop and --credit as rows of the list of changes.
question_changes <- function(call, sitting) {
  known <- sitting$items$item
  keys <- key_asked(call$key, known)
  if (length(keys) && is.null(names(keys))) keys <- other_keys(keys, sitting$items)
  answers <- read_pairs_of(call$accept, "--accept", known)
  rbind(
    change_rows("key", names(keys), keys),
    change_rows("accept", names(answers), answers),
    change_rows("drop", item_ids(call[["drop"]], sitting)),
    change_rows("credit", item_ids(call[["credit"]], sitting))
  )
}

# The keys of a file that are not those of the test, by item.
other_keys <- function(path, items) {
  key <- read_key_file(path)
  said <- key$items$key[match_key(items$item, key)]
  other <- which(!is_blank(said) & !(items$key %in% said & items$key == said))
  if (length(other)) return(stats::setNames(said[other], items$item[other]))
  abort_pregunta("call", say("cli-changes.keys_are_the_same", origin = key$origin))
}

# What --student and --item are given: points, an excuse, extra points, a comment.
student_changes <- function(call, sitting) {
  wanted <- c("points", "extra", "comment", "group")
  values <- Filter(Negate(is.null), unclass(call)[wanted])
  if (call$excuse) {
    values$excuse <- NA
  }
  people <- student_ids(call[["student"]], sitting)
  items <- item_ids(call[["item"]], sitting)
  if (!length(values)) {
    if (is.null(people) && is.null(items)) return(NULL)
    abort_pregunta(
      "call",
      say("cli-changes.what_is_to_be"),
      NULL,
      say("cli-changes.say_points_excuse_extra")
    )
  }
  if (is.null(people)) {
    people <- NA_character_
  }
  if (is.null(items)) {
    items <- NA_character_
  }
  whom <- expand.grid(
    item = items,
    student = people,
    stringsAsFactors = FALSE
  )
  rows <- lapply(names(values), function(action) {
    data.frame(
      student = whom$student,
      item = if (action %in% c("extra", "group")) NA_character_ else whom$item,
      action = action,
      value = as_text(values[[action]]),
      reason = NA_character_
    )
  })
  do.call(rbind, rows)
}

list_changes <- function(call) {
  sitting <- read_sitting(call$folder)
  table <- view_changes(sitting)
  if (!nrow(table)) {
    tell_user(say("cli-changes.no_changes_yet_see"))
  }
  put_out(call, table, show_changes)
}

show_changes <- function(table) {
  state <- ifelse(
    table$stands | table$action == "undo",
    "",
    say("cli-changes.undone")
  )
  columns <- list(
    text_column("line", table$line, "right"),
    text_column("action", words_for(table$action, "action_names")),
    text_column(
      "student",
      or_else(table$student, say("cli-changes.all")),
      shrink = TRUE
    ),
    text_column("item", table$item),
    text_column("value", table$value, shrink = TRUE),
    text_column("reason", table$reason, shrink = TRUE),
    if (!is.null(table$who)) text_column("changed_by", or_blank(table$who)),
    text_column("", state, colour = "ochre")
  )
  lines <- do.call(format_table, Filter(length, columns))
  c(lines, "", wrap_lines(say("cli-changes.to_take_one_back")))
}

#' @export
print.pregunta_what_if <- function(x, ...) print_whole(x, show_what_if)

show_what_if <- function(tried) {
  ways <- paste(say_change(attr(tried, "changes")), collapse = "; ")
  c(
    bold_line(say("cli-changes.if", tried = ways)),
    wrap_lines(say_effect(tried)),
    "",
    show_before_after(figures_moved(tried)),
    "",
    show_moved(tried)
  )
}

show_before_after <- function(table) {
  share <- table$figure %in% c("mean_share", "difficulty")
  shown <- function(x) {
    plain <- data.table::fcase(
      table$figure %in% c("n", "items", "points"), plain_points(x),
      table$figure %in% c("mean", "median", "sd"), number(x, 1),
      rep(TRUE, length(x)), number(x)
    )
    ifelse(share, percent(x), plain)
  }
  again <- duplicated(table$item)
  format_table(
    text_column("", ifelse(again, "", table$item)),
    text_column("figure", words_for(table$figure, "figures")),
    text_column("before", shown(table$before), "right"),
    text_column("after", shown(table$after), "right")
  )
}

show_moved <- function(tried, most = 12) {
  if (!nrow(tried)) return(NULL)
  shown <- utils::head(tried, most)
  from_to <- function(before, after) {
    none <- say("cli-changes.none")
    before <- or_else(before, none)
    after <- or_else(after, none)
    ifelse(
      before == after,
      before,
      paste(before, "\u2192", after)
    )
  }
  of <- function(points, open) {
    say(
      "cli-changes.of",
      points = plain_points(points),
      open = plain_points(open)
    )
  }
  share <- paste(
    percent(shown$share_before), "\u2192", percent(shown$share_after)
  )
  lines <- format_table(
    text_column("student", shown$student, shrink = TRUE),
    if (!all(is.na(shown$name))) text_column("name", shown$name, shrink = TRUE),
    text_column(
      "points_before",
      of(shown$points_before, shown$open_before),
      "right"
    ),
    text_column(
      "after",
      of(shown$points_after, shown$open_after),
      "right"
    ),
    text_column("", share, "right"),
    text_column(
      "level",
      from_to(level_words(shown$level_before), level_words(shown$level_after))
    ),
    if (!is.null(shown$band_before)) {
      text_column("band", from_to(shown$band_before, shown$band_after))
    }
  )
  left <- nrow(tried) - most
  c(lines, if (left > 0) say("cli-changes.and_more_format_csv", n = left))
}
