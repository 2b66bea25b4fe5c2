# A row for each student and question (and attempt).

# Long when a column names the question, another what was answered or earned,
# and students stand again and again.
is_long <- function(frame) {
  roles <- long_roles(frame, list())
  if (!"item" %in% roles || !any(c("response", "points") %in% roles)) return(FALSE)
  who <- match(c("student", "name", "email"), roles)
  who <- who[!is.na(who)]
  length(who) > 0 && sum(!is.na(question_number(frame$names))) < 3
}

long_roles <- function(frame, told) {
  roles <- word_of(frame$names, long_words)
  person <- word_of(frame$names, person_words)
  roles[is.na(roles)] <- person[is.na(roles)]
  for (role in intersect(names(told), c(names(long_words), names(person_words)))) {
    at <- match(plain_words(unlist(told[[role]])), plain_words(frame$names))
    if (anyNA(at)) {
      abort_layout(
        role,
        unlist(told[[role]]),
        say(
          "read-layout-long.names_no_column_of",
          role = quoted(role),
          origin = frame$origin
        ),
        say("read-layout-long.its_columns_are", names = some_of(frame$names, 20))
      )
    }
    roles[roles %in% role] <- NA
    roles[at] <- role
  }
  again <- duplicated(roles) & !roles %in% c("first_name", "last_name")
  roles[again] <- NA
  roles
}

read_long <- function(frame, told = list()) {
  roles <- long_roles(frame, told)
  columns <- data.frame(name = frame$names, role = or_else(roles, "other"))
  cell <- function(role) {
    at <- match(role, roles)
    if (!is.na(at)) frame$body[[at]]
  }
  for (role in c("item", "response")) {
    if (is.null(cell(role)) && (role == "item" || is.null(cell("points")))) {
      ask_layout(
        frame$origin,
        say("read-layout-long.no_column_looks_like", role = role),
        say("read-layout-long.its_columns_are", names = some_of(frame$names, 20)),
        role
      )
    }
  }
  rows <- list(body = frame$body, line = frame$line)
  person <- columns
  person$role[!person$role %in% c(names(person_words), "other")] <- "item"
  steady <- vapply(frame$body, function(x) {
    constant_within(x, first_of(cell("student"), cell("name"), cell("email")))
  }, TRUE)
  person$role[person$role == "other" & !steady] <- "item"
  people <- read_people(rows, person, frame$origin)
  name <- item_names(cell("item"), cell("prompt"))
  responses <- data.frame(student = people$student, item = name)
  for (column in c("response", "points", "explanation", "comment")) {
    responses[[column]] <- cell(column)
  }
  for (column in intersect(
    c("attempt", "seconds", "submitted", "status"),
    names(people)
  )) {
    responses[[column]] <- people[[column]]
  }
  items <- long_items(name, cell)
  left <- setdiff(names(people), c("attempt", "seconds", "submitted", "status"))
  new_bundle(
    responses = responses,
    items = items,
    students = people[!duplicated(people$student), left, drop = FALSE],
    settings = list(title = frame$title),
    layout = long_layout(frame, columns),
    account = long_account(frame, columns, person, items),
    origin = frame$origin
  )
}

constant_within <- function(x, group) {
  pairs <- unique(paste(group, x, sep = "\r"))
  length(pairs) == length(unique(group))
}

# Numbers become Q and the number; a wording becomes a prompt.
item_names <- function(item, prompt) {
  distinct <- unique(item)
  long <- nchar(distinct) > 24
  name <- distinct
  number <- question_number(distinct)
  bare <- grepl("^[0-9]+[a-z]?$", distinct) |
    (!is.na(number) &
      (long | grepl("^(question|item|task)", distinct, ignore.case = TRUE)))
  name[bare & !is.na(number)] <- paste0("Q", number[bare & !is.na(number)])
  plain <- long & is.na(number)
  name[plain] <- paste0("Q", seq_along(distinct)[plain])
  if (anyDuplicated(name)) name <- distinct
  out <- name[match(item, distinct)]
  attr(out, "prompt") <- stats::setNames(ifelse(long, distinct, NA), name)
  out
}

# What the rows of a question all say of it.
long_items <- function(name, cell) {
  items <- unique(name)
  one <- function(role) {
    values <- cell(role)
    if (is.null(values)) return(rep(NA_character_, length(items)))
    vapply(split(values, factor(name, items)), function(x) {
      x <- unique(x[x != ""])
      if (length(x) == 1) x else NA_character_
    }, "")
  }
  order <- natural_order(items)
  wording <- attr(name, "prompt")[items]
  prompt <- one("prompt")
  data.frame(
    item = items,
    type = known_type(one("type")),
    key = one("key"),
    points = one("most"),
    standards = gsub(" *, *", ";", one("standards")),
    prompt = or_else(prompt, wording),
    level = NA_character_,
    row.names = NULL
  )[
    order,

  ]
}

known_type <- function(type) {
  ifelse(tolower(type) %in% names(item_types()), tolower(type), NA)
}

# Q2 before Q10 where all have a number, else as they came.
natural_order <- function(items) {
  digits <- gsub("[a-z]", "", question_number(items))
  number <- suppressWarnings(as.numeric(digits))
  if (anyNA(number)) seq_along(items) else order(number)
}

long_layout <- function(frame, columns) {
  named <- columns[columns$role != "other", ]
  c(
    list(shape = "long", header = frame$header),
    split_in_order(named$name, named$role)
  )
}

long_account <- function(frame, columns, person, items) {
  rows <- columns[columns$role %in% names(long_words), ]
  kept <- columns$name[person$role == "other"]
  lost <- columns$name[columns$role == "other" & person$role != "other"]
  by_role <- Map(function(role, name) {
    account_line(role, say_column_names(name))
  }, rows$role, rows$name)
  rbind(
    account_line(
      "read_as",
      say("read-layout-long.a_row_for_each", about = frame$about, header = frame$header)
    ),
    person_account(columns),
    account_line(
      "questions",
      say(
        "read-layout-long.to",
        n = nrow(items),
        item = items$item[1],
        items_item = items$item[nrow(items)]
      )
    ),
    do.call(rbind, by_role),
    account_line("kept_with_students", say_column_names(kept)),
    account_line("left_out", say_column_names(lost))
  )
}
