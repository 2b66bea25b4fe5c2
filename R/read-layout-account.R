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
      "read as",
      paste0(
        "a row a student (",
        frame$about,
        "); ",
        if (frame$header) {
          paste0("column names in line ", frame$header)
        } else {
          "no column names"
        }
      )
    ),
    person_account(columns),
    account_line("questions", say_questions(asked, items)),
    row_account(extra),
    account_line("left out", say_columns(columns, "total")),
    account_line("kept with students", say_columns(columns, "other"))
  )
}

person_account <- function(columns) {
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
    seconds = "time taken",
    status = "status"
  )
  found <- columns[columns$role %in% names(roles), ]
  what <- unname(roles[found$role])
  lines <- lapply(intersect(unique(roles), what), function(one) {
    account_line(one, say_list("column", found$name[what == one]))
  })
  rbind(
    do.call(rbind, lines),
    if (!any(has)) account_line("student", "no column of ids: the name is the id")
  )
}

say_list <- function(thing, names) {
  if (!length(names)) return(NULL)
  paste0(thing, if (length(names) > 1) "s", " ", some_of(quoted(names), 6))
}

say_columns <- function(columns, role) {
  say_list("column", columns$name[columns$role %in% role])
}

say_questions <- function(asked, items) {
  parts <- c(
    answer = "answer",
    points = "points",
    comment = "comment",
    explanation = "explanation",
    key = "key",
    most = "most points",
    seconds = "time"
  )
  has <- vapply(names(parts), function(part) mean(!is.na(asked[[part]])), 0)
  each <- parts[has == 1]
  beside <- vapply(names(parts)[has > 0 & has < 1], function(part) {
    paste0("; ", parts[[part]], " beside ", some_of(items$item[!is.na(asked[[part]])], 3))
  }, "")
  renamed <- sum(
    items$item != asked$shown & is.na(match(tolower(items$item), asked$stem))
  )
  paste0(
    nrow(asked),
    ": ",
    items$item[1],
    if (nrow(asked) > 1) paste0(" to ", items$item[nrow(asked)]),
    if (length(each) > 1) paste0(", each with ", join_words(each)),
    paste(beside, collapse = ""),
    if (renamed) {
      paste0(
        " (", quoted(asked$shown[items$item != asked$shown][1]), " became ",
        items$item[items$item != asked$shown][1], if (renamed > 1) " and so on", ")"
      )
    }
  )
}

row_account <- function(extra) {
  kinds <- c(
    key = "key",
    points = "points",
    standards = "standards",
    type = "type",
    level = "level",
    prompt = "wording",
    summary = "left out"
  )
  lines <- lapply(seq_len(nrow(extra)), function(i) {
    account_line(
      kinds[[extra$kind[i]]],
      paste0(
        "line ", extra$line[i],
        if (nzchar(extra$label[i])) paste0(" (", quoted(extra$label[i]), ")")
      )
    )
  })
  do.call(rbind, lines)
}

wide_layout <- function(frame, columns, extra) {
  roles <- intersect(names(person_words), columns$role)
  layout <- list(form = "wide", header = frame$header)
  for (role in roles) layout[[role]] <- columns$name[columns$role %in% role]
  layout$leave_out <- columns$name[columns$role %in% "total"]
  labelled <- extra[nzchar(extra$label), ]
  layout$rows <- as.list(stats::setNames(labelled$label, labelled$kind))
  above <- extra[!nzchar(extra$label) & extra$line <= frame$header + 4, ]
  layout$rows[above$kind] <- as.list(above$line)
  layout$rows <- layout$rows[setdiff(names(layout$rows), "summary")]
  Filter(length, layout)
}
