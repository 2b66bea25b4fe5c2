# What was taken for what: the lines that a person reads after `new`, and the
# layout that test.yml keeps for the next time.

account_line <- function(what, taken) {
  if (length(taken)) data.frame(what = what, taken = taken) else NULL
}

# Lines added to the account of a bundle, under the name of a file.
tell <- function(bundle, file, ...) {
  lines <- rbind(...)
  if (!is.null(lines)) {
    bundle$account <- rbind(bundle$account, data.frame(file = file, lines))
  }
  bundle
}

wide_account <- function(frame, columns, extra, asked, items, people) {
  rbind(
    account_line(
      "read_as",
      say(
        "read-layout-account.a_row_a_student",
        about = frame$about,
        header = frame$header
      )
    ),
    language_account(frame),
    person_account(columns, attr(people, "dates")),
    account_line("questions", say_questions(asked, items)),
    row_account(extra),
    account_line("left_out", say_again(frame$again)),
    account_line("left_out", say_columns(columns, "total")),
    account_line("kept_with_students", say_columns(columns, "other"))
  )
}

# The headings once more, as on top of each page.
say_again <- function(lines) {
  if (!length(lines)) return(NULL)
  say(
    "read-layout-account.headings_again",
    lines = some_of(lines),
    n = length(lines)
  )
}

# The language that its headings are in, where it can be told.
language_account <- function(frame) {
  plain <- plain_heading(frame$renamed)
  found <- language_of_headings(plain)
  if (is.na(found)) return(NULL)
  known <- strsplit(or_blank(heading_words()$language[plain]), " ", fixed = TRUE)
  mine <- vapply(known, function(codes) found %in% codes, TRUE)
  account_line(
    "language",
    say(
      "read-layout-account.headings_in",
      language = language_fact("name", found),
      any_such = any(mine),
      such = in_a_row(utils::head(quoted(unique(frame$renamed[mine])), 3))
    )
  )
}

# dates: how days and months were told apart (read-times.R).
person_account <- function(columns, dates = NULL) {
  has <- columns$role %in% "student"
  roles <- c(
    student = "student",
    first_name = "name",
    last_name = "name",
    name = "name",
    email = "email",
    section = "section",
    teacher = "teacher",
    school = "school",
    attempt = "attempt",
    submitted = "submitted",
    seconds = say("read-layout-account.time_taken"),
    status = "status"
  )
  found <- columns[columns$role %in% names(roles), ]
  roles_there <- found$role
  what <- unname(roles[found$role])
  lines <- lapply(intersect(unique(roles), what), function(one) {
    account_line(one, say_column_names(found$name[what == one]))
  })
  how <- if (length(dates) && nzchar(dates)) {
    say("read-layout-account.dates", order = dates)
  }
  rbind(
    do.call(rbind, lines),
    account_line("submitted", how),
    if (!any(has)) {
      account_line(
        "student",
        say(
          "read-layout-account.no_column_of_ids",
          email = !any(grepl("name", roles_there))
        )
      )
    }
  )
}

say_column_names <- function(names) {
  if (!length(names)) return(NULL)
  named <- some_of(quoted(names), 6)
  say(
    "read-layout-account.columns",
    n = length(names),
    names = named
  )
}

say_columns <- function(columns, role) {
  say_column_names(columns$name[columns$role %in% role])
}

say_questions <- function(asked, items) {
  parts <- all_words("asked_parts")
  has <- vapply(
    names(parts),
    function(part) mean(!is.na(asked[[part]])),
    0
  )
  each <- parts[has == 1]
  beside <- vapply(names(parts)[has > 0 & has < 1], function(part) {
    say(
      "read-layout-account.beside",
      parts = parts[[part]],
      item = some_of(items$item[!is.na(asked[[part]])], 3)
    )
  }, "")
  as_asked <- tolower(items$item) %in% asked$stem
  renamed <- sum(items$item != asked$shown & !as_asked)
  say(
    "read-layout-account.to_each_with_became",
    n = nrow(asked),
    item = items$item[1],
    items_item = items$item[nrow(asked)],
    each = join_words(each),
    with_each = length(each) > 1,
    beside = paste(beside, collapse = ""),
    shown = quoted(asked$shown[items$item != asked$shown][1]),
    items_item_2 = items$item[items$item != asked$shown][1],
    renamed = renamed
  )
}

# The columns of a table for those who look at the reading: name, role, and the first
# cells as they stand.
columns_read <- function(column, role, body, most = 5) {
  table <- data.frame(column = column, role = role)
  table$first <- I(unname(lapply(body, utils::head, most)))
  table
}

row_account <- function(extra) {
  kinds <- c(
    key = "key",
    points = "points",
    standards = "standards",
    type = "type",
    level = "level",
    set = "set",
    prompt = "prompt",
    summary = "left_out",
    note = "left_out"
  )
  lines <- each_row(extra, function(i) {
    label <- extra$label[i]
    said <- say(
      "read-layout-account.line",
      line = extra$line[i],
      label = if (nzchar(label)) paste0(" ", in_parentheses(quoted(label)))
    )
    account_line(kinds[[extra$kind[i]]], said)
  })
  do.call(rbind, lines)
}

wide_layout <- function(frame, columns, extra) {
  roles <- intersect(person_roles, columns$role)
  layout <- list(shape = "wide", header = frame$header)
  for (role in roles) layout[[role]] <- columns$name[columns$role %in% role]
  layout$leave_out <- columns$name[columns$role %in% "total"]
  labelled <- extra[nzchar(extra$label), ]
  layout$rows <- as.list(stats::setNames(labelled$label, labelled$kind))
  above <- extra[!nzchar(extra$label) & extra$line <= frame$header + 4, ]
  layout$rows[above$kind] <- as.list(above$line)
  layout$rows <- layout$rows[setdiff(names(layout$rows), c("summary", "note"))]
  Filter(length, layout)
}
