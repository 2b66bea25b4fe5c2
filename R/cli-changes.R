# Changing marks and keys on the command line, and trying it first.

run_adjust <- function(call) {
  rows <- rbind(question_changes(call), student_changes(call), undo_change(call))
  if (is.null(rows)) return(list_changes(call))
  rows$reason <- if (is.null(call$reason)) NA_character_ else call$reason
  before <- read_sitting(call$folder)
  after <- record_changes(call$folder, rows)
  cat(
    say(
      "cli-changes.recorded_in",
      folder = file.path(call$folder, "adjustments.csv"),
      rows = sentence_of(rows)
    ),
    "",
    say_effect(compare_changes(before, after, rows)),
    sep = "\n"
  )
  if (is.null(call$reason) && any(!rows$action %in% c("comment", "undo"))) {
    message(say("cli-changes.no_reason_is_in"))
  }
  0L
}

run_what_if <- function(call) {
  rows <- question_changes(call)
  if (is.null(rows)) {
    abort_pregunta(
      "call",
      say("cli-changes.pregunta_what_if_needs"),
      NULL,
      say("cli-changes.for_example_pregunta_what", folder = call$folder)
    )
  }
  if (!call$about %in% c("students", "test", "items")) {
    abort_pregunta(
      "call",
      say("cli-changes.there_is_no_table", about = quoted(call$about)),
      NULL,
      did_you_mean(call$about, c("students", "test", "items"))
    )
  }
  sitting <- read_for_figures(call)
  tried <- compare_changes(sitting, with_changes(sitting, rows), rows)
  table <- if (call$format == "text" || call$about == "students") {
    tried
  } else {
    attr(tried, call$about)
  }
  put_out(call, table, show_what_if)
  if (call$apply) {
    rows$reason <- if (is.null(call$reason)) NA_character_ else call$reason
    record_changes(call$folder, rows)
    message(
      say(
        "cli-changes.recorded_in",
        folder = file.path(call$folder, "adjustments.csv"),
        rows = sentence_of(rows)
      )
    )
  } else if (call$format == "text" && is.null(call$out)) {
    message(say("cli-changes.nothing_was_changed_add"))
  }
  0L
}

sentence_of <- function(rows) {
  ways <- paste(say_change(rows), collapse = "; ")
  paste0(ways, ".")
}

# --key, --accept, --drop and --credit as rows of the list of changes.
question_changes <- function(call) {
  pairs <- function(action) {
    values <- read_pairs_of(call[[action]], paste0("--", action))
    change_rows(action, names(values), values)
  }
  rbind(
    pairs("key"),
    pairs("accept"),
    change_rows("drop", split_commas(call[["drop"]])),
    change_rows("credit", split_commas(call[["credit"]]))
  )
}

# What --student and --item are given: points, an excuse, extra points, a comment.
student_changes <- function(call) {
  wanted <- c("points", "extra", "comment")
  values <- Filter(Negate(is.null), call[wanted])
  if (call$excuse) values$excuse <- NA
  if (!length(values)) {
    if (is.null(call[["student"]]) && is.null(call[["item"]])) return(NULL)
    abort_pregunta(
      "call",
      say("cli-changes.what_is_to_be"),
      NULL,
      say("cli-changes.say_points_excuse_extra")
    )
  }
  people <- split_commas(call[["student"]])
  items <- split_commas(call[["item"]])
  if (is.null(people)) people <- NA_character_
  if (is.null(items)) items <- NA_character_
  whom <- expand.grid(item = items, student = people, stringsAsFactors = FALSE)
  do.call(
    rbind,
    lapply(names(values), function(action) {
      data.frame(
        student = whom$student,
        item = if (action == "extra") NA_character_ else whom$item,
        action = action,
        value = as_text(values[[action]]),
        reason = NA_character_
      )
    })
  )
}

undo_change <- function(call) {
  if (!is.null(call$undo)) undoing(read_sitting(call$folder), call$undo)
}

list_changes <- function(call) {
  sitting <- read_sitting(call$folder)
  table <- view_changes(sitting)
  if (!nrow(table)) {
    message(say("cli-changes.no_changes_yet_see"))
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
        text_column("action", table$action),
        text_column(
          "student",
          ifelse(is.na(table$student), say("cli-changes.all"), table$student),
          shrink = TRUE
        ),
        text_column("item", table$item),
        text_column("value", table$value, shrink = TRUE),
        text_column("reason", table$reason, shrink = TRUE),
        text_column("", state, colour = "ochre")
      )
c(
    format_table(
      columns
    ),
    "",
    wrap_lines(say("cli-changes.to_take_one_back"))
  )
}

#' @export
print.pregunta_what_if <- function(x, ...) print_whole(x, show_what_if)

show_what_if <- function(tried) {
  c(
    paint(
      say(
        "cli-changes.if",
        tried = paste(say_change(attr(tried, "changes")), collapse = "; ")
      ),
      "bold"
    ),
    wrap_lines(printable(say_effect(tried))),
    "",
    show_before_after(tried),
    "",
    show_moved(tried)
  )
}

show_before_after <- function(tried) {
  test <- attr(tried, "test")
  items <- attr(tried, "items")
  test <- test[!test$figure %in% c("n", "sem") | test$before != test$after, ]
  table <- rbind(cbind(item = say("cli-changes.the_test"), test), items)
  table <- table[!(is.na(table$before) & is.na(table$after)), ]
  share <- table$figure %in% c("mean_share", "difficulty")
  shown <- function(x) {
    plain <- data.table::fcase(
      table$figure %in% c("n", "items", "points"), plain_points(x),
      table$figure %in% c("mean", "median", "sd"), number(x, 1),
      rep(TRUE, length(x)), number(x)
    )
    ifelse(share, percent(x), plain)
  }
  format_table(
    list(
      text_column("", ifelse(duplicated(table$item), "", table$item)),
      text_column("figure", words_for(table$figure, "figures")),
      text_column("before", shown(table$before), "right"),
      text_column("after", shown(table$after), "right")
    )
  )
}

show_moved <- function(tried, most = 12) {
  if (!nrow(tried)) return(NULL)
  shown <- utils::head(tried, most)
  arrow <- function(before, after) {
    names <- lapply(list(before, after), function(level) {
      ifelse(is.na(level), "none", level)
    })
    trimws(
      paste(names[[1]], ifelse(names[[1]] == names[[2]], "", paste("\u2192", names[[2]])))
    )
  }
  of <- function(points, open) {
    say("cli-changes.of", points = plain_points(points), open = plain_points(open))
  }
  columns <- list(
        text_column("student", shown$student, shrink = TRUE),
        if (!all(is.na(shown$name))) text_column("name", shown$name, shrink = TRUE),
        text_column("points_before", of(shown$points_before, shown$open_before), "right"),
        text_column("after", of(shown$points_after, shown$open_after), "right"),
        text_column(
          "",
          paste(percent(shown$share_before), "\u2192", percent(shown$share_after)),
          "right"
        ),
        text_column("level", arrow(shown$level_before, shown$level_after)),
        if (!is.null(shown$band_before)) {
          text_column("band", arrow(shown$band_before, shown$band_after))
        }
      )
c(
    format_table(
      columns
    ),
    if (nrow(tried) > most) {
      say("cli-changes.and_more_format_csv", n = nrow(tried) - most)
    }
  )
}
