# A row a student, in every shape: answers or marks, one to three columns a
# question, names and totals around them, rows of points and keys among them.

read_wide <- function(frame, told = list(), known = NULL) {
  columns <- column_roles(frame, told, known)
  extra <- extra_rows(frame, columns, told)
  asked <- question_groups(columns)
  if (!nrow(asked)) {
    abort_pregunta(
      "undecided",
      say("read-layout-wide.no_column_looks_like", origin = frame$origin),
      say("read-layout-wide.its_columns_are", name = some_of(columns$name, 20)),
      say("read-layout-wide.say_it_with_set")
    )
  }
  rows <- student_rows(frame, extra)
  if (!nrow(rows$body)) {
    abort_pregunta(
      "input",
      say("read-layout-wide.holds_no_row_of", origin = frame$origin),
      NULL,
      say("read-layout-wide.see_that_it_is")
    )
  }
  people <- read_people(rows, columns, frame$origin)
  items <- wide_items(asked, extra, known, rows$body)
  responses <- data.frame(student = people$student, check.names = FALSE)
  for (column in intersect(c("attempt", "submitted", "seconds"), names(people))) {
    responses[[column]] <- people[[column]]
  }
  responses <- add_questions(responses, rows$body, asked, items$item)
  about <- setdiff(names(people), c("attempt", "seconds", "submitted"))
  new_bundle(
    responses = responses,
    items = items,
    students = people[about],
    settings = list(title = frame$title),
    layout = wide_layout(frame, columns, extra),
    account = wide_account(frame, columns, extra, asked, items, people),
    origin = frame$origin
  )
}

# The columns of each question: a row a question, the place of each part.
question_groups <- function(columns) {
  at <- which(columns$role %in% "question")
  if (!length(at)) return(data.frame(name = character(), prompt = character()))
  stem <- settle_loose(columns, at)
  part <- columns$part[at]
  part[is.na(part)] <- "answer"
  groups <- unique(stem)
  place <- function(kind) at[match(paste(groups, kind), paste(stem, part))]
  out <- data.frame(
    stem = groups,
    answer = place("answer"),
    points = place("points"),
    comment = place("comment"),
    explanation = place("explanation"),
    seconds = place("seconds"),
    key = place("key"),
    most = place("most")
  )
  main <- or_else(out$answer, out$points)
  out <- out[!is.na(main), ]
  main <- main[!is.na(main)]
  out$worth <- vapply(out$stem, function(one) {
    c(stats::na.omit(columns$most[at[stem == one]]), NA)[1]
  }, "")
  cbind(out, question_names(columns, main, out$stem))
}

# Loose parts ("Points", "Comment" without a number) belong to the question of
# their own stretch of columns.
settle_loose <- function(columns, at) {
  stem <- columns$stem[at]
  loose <- columns$loose[at]
  if (!any(loose)) return(stem)
  n <- sum(!loose)
  each <- length(at) / n
  if (n && each == round(each)) {
    stretch <- (seq_along(at) - 1) %/% each
    if (all(tapply(!loose, stretch, sum) == 1)) return(stem[!loose][stretch + 1])
  }
  held <- cumsum(!loose)
  stem[!loose][pmax(1, held)]
}

# Short names stay; a number becomes Q and the number; a text becomes the prompt.
question_names <- function(columns, main, stem) {
  shown <- columns$name[main]
  with_part <- !is.na(columns$part[main]) | !is.na(columns$most[main])
  number <- columns$number[match(stem, columns$stem)]
  text <- trimws(
    sub(
      question_pattern,
      "",
      ifelse(with_part, stem, shown),
      perl = TRUE,
      ignore.case = TRUE
    )
  )
  bare <- trimws(sub(paste0("(?i)", question_pattern), "", shown, perl = TRUE))
  whole <- !is.na(number) & !with_part
  text[whole] <- bare[whole]
  text[is.na(number)] <- ""
  plain <- is.na(number)
  name <- ifelse(plain, shown, paste0("Q", number))
  keeps <- !plain &
    grepl("^[[:alpha:]]{1,4}[ .-]?[0-9]+[a-z]?$", shown) &
    !grepl("^(item|task|part|no|nr)", shown, ignore.case = TRUE)
  name[keeps] <- shown[keeps]
  long <- plain & nchar(shown) > 24
  prompt <- ifelse(long, shown, text)
  prompt[!nzchar(prompt)] <- NA
  name[long] <- paste0("Q", which(long))
  twice <- duplicated(toupper(name))
  name[twice] <- paste0(name[twice], " (", seq_along(name)[twice], ")")
  data.frame(name = name, prompt = prompt, shown = shown)
}

# What the rows around the students, a column beside the question or its name
# say of it.
wide_items <- function(asked, extra, known, body) {
  columns_of <- each_row(asked, function(j) {
    stats::na.omit(unlist(asked[j, c("answer", "points")]))
  })
  value <- function(kind) {
    values <- row_values(extra, kind, columns_of)
    if (is.null(values)) rep(NA_character_, nrow(asked)) else values
  }
  key <- first_said(value("key"), steady_cells(body, asked$key))
  points <- first_said(value("points"), steady_cells(body, asked$most), asked$worth)
  prompt <- or_else(asked$prompt, value("prompt"))
  data.frame(
    item = match_known(asked$name, known),
    type = value("type"),
    key = key,
    points = points,
    standards = gsub(" *, *", ";", value("standards")),
    prompt = prompt,
    level = value("level")
  )
}

first_said <- function(...) Reduce(function(a, b) or_else(a, b), list(...))

# The one value that stands in all of a column; NA where there is no such.
steady_cells <- function(body, at) {
  vapply(at, function(k) {
    cells <- if (is.na(k)) character() else setdiff(body[[k]], "")
    if (length(cells) == 1) cells else NA_character_
  }, "")
}

# The names of a key file, where they are the same but for spelling or number.
match_known <- function(names, known) {
  if (is.null(known)) return(names)
  exact <- match(toupper(names), toupper(known))
  number <- question_number(known)
  mine <- question_number(names)
  by_number <- if (anyDuplicated(stats::na.omit(number)) ||
      anyDuplicated(stats::na.omit(mine))) {
    NA
  } else {
    match(mine, number, incomparables = NA)
  }
  at <- or_else(exact, by_number)
  at[duplicated(at)] <- NA
  ifelse(is.na(at), names, known[at])
}

add_questions <- function(responses, body, asked, items) {
  for (j in seq_along(items)) {
    answer <- asked$answer[j]
    points <- asked$points[j]
    responses[[items[j]]] <- if (!is.na(answer)) body[[answer]] else body[[points]]
    if (!is.na(points) && !is.na(answer)) {
      responses[[paste(items[j], "points")]] <- body[[points]]
    }
    for (part in c("comment", "explanation")) {
      at <- asked[[part]][j]
      if (!is.na(at) && any(body[[at]] != "")) {
        responses[[paste(items[j], part)]] <- body[[at]]
      }
    }
  }
  responses
}
