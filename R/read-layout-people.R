# The columns of the student: id, name, section, when and how long.

read_people <- function(rows, columns, origin, told = list()) {
  cell <- function(role) {
    at <- which(columns$role %in% role)
    if (length(at)) apply_paste(rows$body[at]) else NULL
  }
  name <- cell("name")
  if (is.null(name) && !is.null(cell("last_name"))) {
    name <- trimws(paste(cell("first_name"), cell("last_name")))
  }
  if (is.null(name)) {
    name <- cell("first_name")
  }
  name <- turn_names(name)
  who <- identity_of(cell("student"), name, cell("email"))
  id <- who$id
  if (is.null(id)) ask_student(origin, columns)
  id[id == ""] <- if (is.null(name)) "" else name[id == ""]
  id[id == ""] <- say("read-layout-people.line", line = rows$line[id == ""])
  same <- settle_namesakes(id, who$by_name, cell, told)
  id <- same$id
  people <- data.frame(student = id)
  people$name <- name
  for (role in c(
    "section", "email", "guardian_email", "teacher", "school", "district",
    "attempt", "submitted", "status"
  )) {
    people[[role]] <- cell(role)
  }
  if (!is.null(people$submitted)) {
    dates <- read_dates(people$submitted)
    people$submitted <- dates$text
  }
  if (!is.null(cell("seconds"))) {
    people$seconds <- format_plain(
      read_seconds(cell("seconds"), columns$name[columns$role %in% "seconds"])
    )
  }
  for (k in which(columns$role %in% "other")) {
    name <- columns$name[k]
    if (!name %in% names(people)) {
      people[[name]] <- rows$body[[k]]
    }
  }
  attr(people, "doubts") <- same$doubts
  attr(people, "dates") <- if (!is.null(people$submitted)) dates$order
  people
}

ask_student <- function(origin, columns) {
  ask_layout(
    origin,
    say("read-layout-people.no_column_looks_like"),
    say("read-layout-people.its_columns_are", name = some_of(columns$name, 20)),
    "student"
  )
}

# The id, unless one stands for several people; else the email, else the name.
identity_of <- function(id, name, email) {
  if (!is.null(id) && looks_like_half(id, name, email)) {
    id <- NULL
  }
  if (!is.null(id)) {
    return(list(id = turn_names(id), by_name = mean(by_value(id, looks_like_name)) > 0.8))
  }
  apart <- function(x) length(unique(x[x != ""]))
  if (!is.null(email) &&
    (is.null(name) || apart(email) > apart(name)) &&
    all(email != "")) {
    return(list(id = email, by_name = FALSE))
  }
  list(id = first_of(name, email), by_name = TRUE)
}

# Half a name is no id: the same one with other names or emails beside it.
looks_like_half <- function(id, name, email) {
  if (!anyDuplicated(id[id != ""])) return(FALSE)
  if (is.null(first_of(name, email))) return(FALSE)
  first <- !duplicated(row_numbers(Filter(length, list(id, name, email))))
  anyDuplicated(id[first & id != ""]) > 0
}

# The same name twice with nothing that says it is an attempt: two people or one?
settle_namesakes <- function(id, by_name, cell, told) {
  again <- duplicated(id) | duplicated(id, fromLast = TRUE)
  tells <- !is.null(cell("attempt")) || !is.null(cell("submitted"))
  if (!by_name || !any(again) || (tells && is.null(told$namesakes))) {
    return(list(id = id, doubts = list()))
  }
  section <- cell("section")
  if (identical(told$namesakes, "one")) return(list(id = id, doubts = list()))
  apart <- id
  if (!is.null(section)) {
    apart[again] <- paste(id[again], section[again])
  }
  turn <- stats::ave(seq_along(apart), apart, FUN = seq_along)
  apart[turn > 1] <- paste(apart[turn > 1], turn[turn > 1])
  if (identical(told$namesakes, "apart")) {
    return(list(id = apart, doubts = list()))
  }
  doubt <- new_doubt(
    "namesakes",
    name = quoted(id[again][1]),
    n = length(unique(id[again])),
    options = list(list(namesakes = "one"), list(namesakes = "apart"))
  )
  list(id = id, doubts = list(doubt))
}

first_of <- function(...) {
  for (one in list(...)) if (!is.null(one)) return(one)
  NULL
}

apply_paste <- function(columns) {
  if (length(columns) == 1) columns[[1]] else trimws(do.call(paste, columns))
}

# "Anchorley, Ada" reads Ada Anchorley.
turn_names <- function(name) {
  if (is.null(name)) return(NULL)
  by_value(name, function(name) {
    turned <- grepl("^[^,]+, *[^,]+$", name)
    name[turned] <- sub(
      "^([^,]+), *([^,]+)$",
      "\\2 \\1",
      name[turned]
    )
    name
  })
}
