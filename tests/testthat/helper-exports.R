# Made-up exports, each composed at random from what spreadsheets and exports look
# like, with what is true of it. Seeded, so that a failure comes back.

export_words <- list(
  en = list(
    id = c("ID", "Student ID", "Student number", "Candidate no."),
    name = c("Name", "Student name", "Full name"),
    first = c("First name", "Given name", "Forename"),
    last = c("Last name", "Surname", "Last", "Family name"),
    class = c("Class", "Section", "Group", "Period"),
    email = c("Email", "E-mail address"), other = c("Course", "Teacher", "Notes"),
    when = c("Submitted", "Completed at", "Date"),
    took = c("Time taken", "Duration", "Minutes"),
    item = c("Q", "Question ", "Item ", "", "P", "Task "),
    item_column = c("Question", "Item", "Problem"),
    answer = c("answer", "response", "Answer"),
    points = c("points", "score", "Points", "mark"),
    seconds = c("time (s)", "seconds", "time"), comment = c("comment", "feedback"),
    total = c("Total", "Score", "Sum", "Points total"),
    percent = c("Percent", "%", "Percentage"), grade = c("Grade", "Mark", "Level"),
    key = c("Key", "Answer key", "Correct answer", "KEY", "Solution"),
    most = c("Max", "Max points", "Possible", "Points possible", "out of"),
    mean = c("Average", "Mean", "Class average", "% correct"),
    standards = c("Standard", "Standards"),
    worth = c("(%s points)", "(%s pts)", "[max %s]", "(/%s)"),
    title = c("Tides and Currents", "Friday quiz"),
    notes = c("* absent: sits it next week", "Printed on Friday", "n = 12",
      "Note: question 3 was unclear"),
    wording = "What causes the %s in the harbour?"
  ),
  es = list(
    id = c("ID", "Matr\u00edcula", "N\u00famero de alumno", "C\u00f3digo"),
    name = c("Nombre", "Alumno", "Nombre completo", "Estudiante"),
    first = c("Nombre", "Nombres"), last = c("Apellidos", "Apellido"),
    class = c("Clase", "Grupo", "Secci\u00f3n", "Curso"),
    email = c("Correo", "Correo electr\u00f3nico"), other = c("Profesor", "Turno"),
    when = c("Fecha", "Enviado"), took = c("Tiempo", "Duraci\u00f3n"),
    item = c("P", "Pregunta ", "Ejercicio ", "", "P."),
    item_column = c("Pregunta", "Ejercicio"),
    answer = c("respuesta", "Respuesta"), points = c("puntos", "Puntos", "puntaje"),
    seconds = c("tiempo (s)", "segundos"), comment = c("comentario", "observaciones"),
    total = c("Total", "Puntaje total", "Suma", "Puntos"),
    percent = c("Porcentaje", "%"), grade = c("Nota", "Calificaci\u00f3n"),
    key = c("Clave", "Respuesta correcta", "Soluci\u00f3n", "Clave de respuestas"),
    most = c("M\u00e1ximo", "Puntos posibles", "Valor", "Puntos m\u00e1x."),
    mean = c("Promedio", "Media", "% aciertos"), standards = c("Est\u00e1ndar", "Objetivo"),
    worth = c("(%s puntos)", "(%s pts)"),
    title = c("Mareas y corrientes", "Prueba del viernes"),
    notes = c("* ausente: la hace la semana que viene", "Impreso el viernes"),
    wording = "\u00bfQu\u00e9 causa la %s en el puerto?"
  ),
  fr = list(
    id = c("ID", "Num\u00e9ro", "N\u00b0 \u00e9l\u00e8ve", "Identifiant"),
    name = c("Nom", "\u00c9l\u00e8ve", "Nom complet", "Nom de l'\u00e9l\u00e8ve"),
    first = c("Pr\u00e9nom"), last = c("Nom", "Nom de famille"),
    class = c("Classe", "Groupe"), email = c("Courriel", "Adresse e-mail"),
    other = c("Professeur", "Option"), when = c("Date", "Remis le"),
    took = c("Dur\u00e9e", "Temps"), item = c("Q", "Question ", "Exercice ", "", "Ex. "),
    item_column = c("Question", "Exercice"), answer = c("r\u00e9ponse", "R\u00e9ponse"),
    points = c("points", "Points", "note"), seconds = c("temps (s)", "secondes"),
    comment = c("commentaire", "remarque"),
    total = c("Total", "Score", "Somme", "Note totale"),
    percent = c("Pourcentage", "%"), grade = c("Note", "Mention"),
    key = c("Corrig\u00e9", "Cl\u00e9", "Bonne r\u00e9ponse", "R\u00e9ponses"),
    most = c("Maximum", "Bar\u00e8me", "Points possibles", "sur"),
    mean = c("Moyenne", "Taux de r\u00e9ussite"), standards = c("Comp\u00e9tence", "Standard"),
    worth = c("(%s points)", "(%s pts)", "/%s"),
    title = c("Mar\u00e9es et courants", "Contr\u00f4le du vendredi"),
    notes = c("* absent : la semaine prochaine", "Imprim\u00e9 vendredi"),
    wording = "Quelle est la cause de la %s dans le port ?"
  ),
  de = list(
    id = c("ID", "Sch\u00fclernummer", "Nummer", "Kennung"),
    name = c("Name", "Sch\u00fcler", "Sch\u00fclerin", "Vor- und Nachname"),
    first = c("Vorname"), last = c("Nachname", "Familienname", "Name"),
    class = c("Klasse", "Gruppe", "Kurs"), email = c("E-Mail", "Mailadresse"),
    other = c("Lehrer", "Bemerkung"), when = c("Datum", "Abgegeben"),
    took = c("Dauer", "Zeit"), item = c("A", "Aufgabe ", "Frage ", "", "F", "Nr. "),
    item_column = c("Frage", "Aufgabe"), answer = c("Antwort", "antwort"),
    points = c("Punkte", "punkte", "Pkt."), seconds = c("Zeit (s)", "Sekunden"),
    comment = c("Kommentar", "Bemerkung"),
    total = c("Summe", "Gesamt", "Gesamtpunkte", "Punkte"),
    percent = c("Prozent", "%"), grade = c("Note", "Stufe"),
    key = c("L\u00f6sung", "Schl\u00fcssel", "Richtige Antwort", "Musterl\u00f6sung"),
    most = c("Maximum", "max. Punkte", "Punkte", "H\u00f6chstpunktzahl"),
    mean = c("Durchschnitt", "Mittelwert", "Schnitt"), standards = c("Standard", "Kompetenz"),
    worth = c("(%s Punkte)", "(%s P.)"),
    title = c("Gezeiten und Str\u00f6mungen", "Test am Freitag"),
    notes = c("* fehlt: schreibt n\u00e4chste Woche", "Gedruckt am Freitag"),
    wording = "Was ist die Ursache der %s im Hafen?"
  ),
  pt = list(
    id = c("ID", "Matr\u00edcula", "N\u00famero do aluno", "C\u00f3digo"),
    name = c("Nome", "Aluno", "Nome do aluno", "Nome completo"),
    first = c("Nome", "Primeiro nome"), last = c("Sobrenome", "Apelido"),
    class = c("Turma", "Classe", "Grupo"), email = c("E-mail", "Correio eletr\u00f3nico"),
    other = c("Professor", "Turno"), when = c("Data", "Enviado em"),
    took = c("Tempo", "Dura\u00e7\u00e3o"), item = c("Q", "Quest\u00e3o ", "Pergunta ", "", "P"),
    item_column = c("Quest\u00e3o", "Pergunta"), answer = c("resposta", "Resposta"),
    points = c("pontos", "Pontos", "nota"), seconds = c("tempo (s)", "segundos"),
    comment = c("coment\u00e1rio", "observa\u00e7\u00e3o"),
    total = c("Total", "Pontua\u00e7\u00e3o total", "Soma", "Pontos"),
    percent = c("Percentagem", "Porcentagem", "%"), grade = c("Nota", "Conceito"),
    key = c("Gabarito", "Chave", "Resposta correta", "Solu\u00e7\u00e3o"),
    most = c("M\u00e1ximo", "Pontos poss\u00edveis", "Valor"),
    mean = c("M\u00e9dia", "% acertos"), standards = c("Padr\u00e3o", "Habilidade"),
    worth = c("(%s pontos)", "(%s pts)"),
    title = c("Mar\u00e9s e correntes", "Teste de sexta"),
    notes = c("* ausente: faz na pr\u00f3xima semana", "Impresso na sexta"),
    wording = "Qual \u00e9 a causa da %s no porto?"
  )
)

first_names <- c(
  "Adalbert", "Bodo", "Cyril", "Dana", "Edda", "Fay", "Gus", "Hedy", "Ivo", "Jette",
  "Kofi", "Lara", "Milo", "No\u00e9", "Odile", "Pia", "Quim", "R\u00fan", "Sela", "Tom\u00e1s"
)
last_names <- c(
  "Roth", "Pryce", "Weiss", "Bay", "Castell", "Day", "Ebb", "Fjord", "Gull", "Haven",
  "Inlet", "Jetty", "Keel", "Lagoon", "Mole", "Narrows", "Ostrand", "Pier", "Quay", "Reef"
)
wording_things <- c(
  "ebb", "flood", "swell", "current", "spring tide", "neap tide", "storm surge", "wave",
  "fog", "wind", "drift", "ripple", "silt", "salt", "foam"
)

# One of several, by chance; whether, by chance.
any_of <- function(x) x[sample.int(length(x), 1)]
by_chance <- function(share) stats::runif(1) < share

# A word that no list has.
odd_word <- function() {
  paste0(any_of(c("Zuf", "Pel", "Mor", "Kib")), any_of(c("fen", "tash", "lung", "ro")))
}

# Options as digits or words in place of letters.
other_options <- function(letters) {
  to <- switch(sample(3, 1),
    c(A = "1", B = "2", C = "3", D = "4"),
    c(A = "Moon", B = "Wind", C = "Salt", D = "Fish"),
    c(A = "yes", B = "no", C = "maybe", D = "never")
  )
  letters[letters != ""] <- to[letters[letters != ""]]
  unname(letters)
}

# What happened: students, questions, answers, points, the key.
made_up_test <- function(words) {
  n <- sample(5:28, 1)
  k <- sample(4:14, 1)
  key <- sample(c("A", "B", "C", "D"), k, TRUE)
  worth <- if (by_chance(0.3)) sample(1:3, k, TRUE) else rep(1, k)
  ability <- stats::rnorm(n)
  right <- outer(ability, stats::rnorm(k), "-") + stats::rlogis(n * k) > -0.5
  answer <- matrix("", n, k)
  for (j in seq_len(k)) {
    wrong <- sample(setdiff(c("A", "B", "C", "D"), key[j]), n, TRUE)
    answer[, j] <- ifelse(right[, j], key[j], wrong)
  }
  # Every question has somebody who got it right, so that the highest mark is the most.
  answer[1, ] <- key
  if (by_chance(0.4)) answer[-1, ][stats::runif((n - 1) * k) < 0.06] <- ""
  points <- t(t(answer == rep(key, each = n)) * worth)
  who <- sample(length(first_names) * length(last_names), n) - 1
  first <- first_names[who %% length(first_names) + 1]
  last <- last_names[who %/% length(first_names) + 1]
  id <- switch(sample(5, 1),
    sprintf("%010.0f", sample(1e6, n) + 4e9),
    sprintf("s%02d", sample(99, n)),
    sprintf("%06d", sample(4000:9999, n)),
    as.character(sample(20200000:20209999, n)),
    paste0(substr(tolower(last), 1, 3), sample(100:999, n))
  )
  list(
    n = n, k = k, key = key, worth = worth, answer = answer, points = points, id = id,
    first = first, last = last, name = paste(first, last),
    class = sample(any_of(list(c("7-A", "7-B"), c("Red", "Blue"), c("1", "2")))[[1]], n, TRUE),
    words = words
  )
}

# The columns of the student, as named columns; which of them bears the identity.
made_up_people <- function(test) {
  words <- test$words
  person <- switch(sample(6, 1),
    list(id = test$id),
    list(id = test$id, name = test$name),
    list(name = test$name),
    list(first = test$first, last = test$last),
    list(id = test$id, last = test$last, first = test$first),
    list(name = paste0(test$last, ", ", test$first), id = test$id)
  )
  # Namesakes are told apart by their ids.
  if ("id" %in% names(person) && by_chance(0.15) && test$n > 5) {
    for (column in intersect(names(person), c("name", "first", "last"))) {
      person[[column]][2] <- person[[column]][1]
    }
  }
  identity <- if ("id" %in% names(person)) test$id else test$name
  if (by_chance(0.5)) person$class <- test$class
  if (by_chance(0.2)) person$email <- paste0(tolower(test$last), seq_len(test$n), "@h.example")
  if (by_chance(0.2)) person$other <- sample(c("x", "y"), test$n, TRUE)
  if (by_chance(0.15)) person$when <- made_up_dates(test$n)
  if (by_chance(0.15)) person$took <- made_up_times(test$n)
  names <- vapply(names(person), function(role) any_of(words[[role]]), "")
  if (anyDuplicated(names)) names[duplicated(names)] <- paste(names[duplicated(names)], "2")
  list(columns = as.data.frame(person), names = unname(names), identity = identity)
}

made_up_dates <- function(n) {
  day <- as.Date("2026-09-01") + sample(25, n, TRUE)
  switch(sample(3, 1),
    format(day, "%Y-%m-%d"), format(day, "%d.%m.%Y"),
    paste(format(day, "%Y-%m-%d"), sprintf("%02d:%02d", sample(8:15, n, TRUE), sample(0:59, n, TRUE)))
  )
}

made_up_times <- function(n) {
  seconds <- sample(200:2400, n, TRUE)
  switch(sample(3, 1),
    as.character(seconds), sprintf("%d:%02d", seconds %/% 60, seconds %% 60),
    sprintf("%d min %d s", seconds %/% 60, seconds %% 60)
  )
}

# What a question is called in the header.
made_up_headings <- function(test, long = FALSE) {
  words <- test$words
  number <- seq_len(test$k)
  style <- sample(if (long) 3 else 7, 1)
  wording <- sprintf(words$wording, wording_things[number])
  switch(style,
    paste0(any_of(words$item), number),
    paste0(any_of(words$item), number),
    sprintf("Q%02d", number),
    paste0(number, ". ", wording),
    wording,
    paste0("A", (number + 1) %/% 2, ifelse(number %% 2, "a", "b")),
    paste0(any_of(words$item), number)
  )
}

shown_points <- function(points, language) {
  text <- format(points, trim = TRUE, drop0trailing = TRUE)
  text[] <- sub(".", if (language == "en") "." else any_of(c(",", ".")), text, fixed = TRUE)
  text[is.na(points)] <- ""
  text
}

# A table of cells (a matrix with its header on top) of a row a student, and what is
# true of it. kind: answers, marks, pairs or triples.
made_up_wide <- function(test, kind, language) {
  words <- test$words
  people <- made_up_people(test)
  heading <- made_up_headings(test)
  key_file <- (kind == "answers" && by_chance(0.6)) || (kind == "pairs" && by_chance(0.2))
  points <- test$points
  if (kind == "marks" && by_chance(0.3)) {
    points[test$points > 0 & stats::runif(length(points)) < 0.1] <- 0.5
    points[1, ] <- test$worth
  }
  marks <- matrix(shown_points(points, language), test$n)
  if (kind == "marks" && by_chance(0.08)) {
    marks <- matrix(paste0(marks, "/", rep(test$worth, each = test$n)), test$n)
  }
  if (kind == "marks" && by_chance(0.08)) marks[marks == "0.5"] <- "\u00bd"
  if (kind == "marks" && by_chance(0.3)) {
    gap <- any_of(c("", ".", "-", "\u2013"))
    hole <- stats::runif(length(marks)) < 0.05
    hole[seq(1, length(marks), test$n)] <- FALSE
    marks[hole] <- gap
    points[hole] <- 0
  }
  answer <- test$answer
  if (by_chance(0.1)) answer[] <- tolower(answer)
  if (by_chance(0.08)) answer[2, ] <- tolower(answer[2, ])
  other <- kind == "answers" && by_chance(0.12)
  if (other) {
    seed <- sample(1e6, 1)
    set.seed(seed)
    answer[] <- other_options(toupper(answer))
    set.seed(seed)
    test$key <- other_options(test$key)
  }
  sets <- kind == "answers" && !other && key_file && by_chance(0.15)
  if (sets) {
    between <- any_of(c(", ", ";", "", "/", " "))
    for (j in seq_len(min(2, test$k))) {
      plus <- setdiff(c("A", "B", "C", "D"), test$key[j])[1]
      set <- function(x) paste(sort(c(x, plus)), collapse = between)
      both <- toupper(answer[, j]) == test$key[j]
      answer[both, j] <- set(test$key[j])
      test$key[j] <- paste(sort(c(test$key[j], plus)), collapse = ";")
    }
  }
  of <- sum(test$worth)
  shown_worth <- if (kind %in% c("answers", "marks") && any(test$worth != 1) && by_chance(0.4)) {
    sprintf(any_of(words$worth), test$worth)
  }
  if (!is.null(shown_worth)) heading <- paste(heading, shown_worth)
  above <- list()
  row_of <- function(label, cells, person = ncol(people$columns)) {
    if (by_chance(0.08)) label <- odd_word()
    c(label, rep("", person - 1), cells)
  }
  part_names <- list(
    answer = any_of(words$answer), points = any_of(words$points),
    seconds = any_of(words$seconds), comment = any_of(words$comment)
  )
  joint <- any_of(c(" ", "_", " - ", " "))
  parts <- switch(kind,
    answers = list(answer = answer), marks = list(points = marks),
    pairs = list(answer = answer, points = marks),
    triples = c(
      list(answer = answer, points = marks),
      if (by_chance(0.6)) {
        list(seconds = matrix(as.character(sample(5:99, length(marks), TRUE)), test$n))
      } else {
        list(comment = matrix(ifelse(stats::runif(length(marks)) < 0.2, "good", ""), test$n))
      }
    )
  )
  bare <- kind %in% c("answers", "marks")
  plain_first <- !bare && by_chance(0.3)
  shown <- unlist(lapply(seq_len(test$k), function(j) {
    if (bare) return(heading[j])
    named <- paste0(heading[j], joint, unlist(part_names[names(parts)]))
    if (plain_first) named[1] <- heading[j]
    named
  }))
  cells <- do.call(cbind, lapply(seq_len(test$k), function(j) {
    do.call(cbind, lapply(parts, function(part) part[, j]))
  }))
  two_rows <- !bare && !plain_first && by_chance(0.2)
  header <- c(people$names, shown)
  body <- cbind(as.matrix(people$columns), cells)
  spread <- function(values) {
    if (bare) return(values)
    unlist(lapply(values, function(value) c(value, rep("", length(parts) - 1))))
  }
  rows_above <- rows_below <- list()
  rows_first <- list()
  said_worth <- !is.null(shown_worth)
  if (any(test$worth != 1) && bare && !said_worth && (kind == "answers" || by_chance(0.5))) {
    row <- row_of(any_of(words$most), spread(shown_points(test$worth, language)))
    if (by_chance(0.5)) rows_above <- c(rows_above, list(row)) else rows_first <- list(row)
    said_worth <- TRUE
  }
  if (kind == "answers" && !said_worth) {
    of <- test$k
    points <- (test$points > 0) + 0
  }
  if (kind == "answers" && !key_file) {
    row <- row_of(any_of(words$key), spread(if (all(answer == tolower(answer))) tolower(test$key) else test$key))
    if (by_chance(0.7)) rows_first <- c(rows_first, list(row)) else rows_below <- list(row)
  }
  if (by_chance(0.12)) {
    codes <- paste0("S.", sample(4, test$k, TRUE))
    rows_above <- c(rows_above, list(row_of(any_of(words$standards), spread(codes))))
  }
  if (by_chance(0.15) && bare) {
    rows_first <- c(rows_first, list(c(
      rep("", ncol(people$columns)), spread(sprintf(words$wording, wording_things[seq_len(test$k)]))
    )))
  }
  if (by_chance(0.25)) {
    mean <- round(colMeans(points) / (if (by_chance(0.5)) test$worth else 1), 2)
    rows_below <- c(rows_below, list(row_of(any_of(words$mean), spread(shown_points(mean, language)))))
  }
  if (kind != "answers" || by_chance(0.3)) {
    sums <- list(total = shown_points(rowSums(points), language))
    if (by_chance(0.4)) sums$percent <- paste0(round(100 * rowSums(points) / of), if (by_chance(0.5)) "%")
    if (by_chance(0.3)) sums$grade <- sample(c("A", "B", "C"), test$n, TRUE)
    if (by_chance(0.75)) {
      before <- by_chance(0.2)
      extra <- do.call(cbind, sums)
      names <- vapply(names(sums), function(role) any_of(words[[role]]), "")
      if (by_chance(0.1)) names[1] <- odd_word()
      here <- if (before) ncol(people$columns) else ncol(body)
      put <- function(row, more) append(row, more, here)
      body <- t(apply(body, 1, function(row) row))
      body <- cbind(body[, seq_len(here), drop = FALSE], extra, body[, -seq_len(here), drop = FALSE])
      header <- put(header, unname(names))
      none <- rep("", length(sums))
      rows_above <- lapply(rows_above, put, none)
      rows_first <- lapply(rows_first, put, none)
      rows_below <- lapply(rows_below, put, none)
    }
  }
  if (by_chance(0.2)) rows_below <- c(rows_below, list(c(any_of(words$notes), rep("", ncol(body) - 1))))
  if (by_chance(0.2)) rows_above <- c(list(c(any_of(words$title), rep("", ncol(body) - 1))), rows_above)
  top <- list(header)
  if (two_rows) {
    at <- match(shown, header)
    upper <- rep("", length(header))
    upper[at[seq(1, length(at), length(parts))]] <- heading
    lower <- header
    lower[at] <- rep(unlist(part_names[names(parts)]), test$k)
    top <- list(upper, lower)
  }
  start <- length(rows_above) + length(top) + length(rows_first)
  body_rows <- start + seq_len(test$n)
  cells <- do.call(rbind, c(rows_above, top, rows_first, list(body), rows_below))
  repeats <- by_chance(0.05) && test$n > 8 && !two_rows
  if (repeats) {
    at <- start + 5
    cells <- rbind(cells[seq_len(at), ], header, cells[-seq_len(at), ])
    body_rows[-(1:5)] <- body_rows[-(1:5)] + 1
  } else if (by_chance(0.05) && test$n > 8) {
    line <- c(any_of(c("7-A", "Red", odd_word())), rep("", ncol(cells) - 1))
    at <- start + 4
    cells <- rbind(cells[seq_len(at), ], line, cells[-seq_len(at), ])
    body_rows[-(1:4)] <- body_rows[-(1:4)] + 1
  }
  if (by_chance(0.1) && length(rows_above)) {
    title <- seq_along(rows_above)
    cells <- rbind(cells[title, , drop = FALSE], "", cells[-title, , drop = FALSE])
    body_rows <- body_rows + 1
  }
  key_lines <- if (key_file) {
    by_name <- by_chance(0.7)
    c(
      paste0("item,key", if (said_worth && by_chance(0.5)) ",points"),
      paste0(csv_cells(if (by_name) heading else seq_len(test$k)), ",", test$key)
    )
  }
  if (key_file && endsWith(key_lines[1], "points")) {
    key_lines[-1] <- paste0(key_lines[-1], ",", test$worth)
  }
  list(
    cells = unname(cells), key = key_lines, body_rows = body_rows,
    truth = data.frame(student = people$identity, points = rowSums(points)), of = of
  )
}

csv_cells <- function(x, separator = ",") {
  needs <- grepl(paste0("[\"\n", separator, "]"), x)
  x[needs] <- paste0("\"", gsub("\"", "\"\"", x[needs], fixed = TRUE), "\"")
  x
}

# A row for each student and question.
made_up_long <- function(test, language) {
  words <- test$words
  row <- expand.grid(j = seq_len(test$k), i = seq_len(test$n))
  if (by_chance(0.3)) row <- row[order(row$j), ]
  at <- cbind(row$i, row$j)
  named <- paste0(any_of(c("Q", words$item)), seq_len(test$k))
  if (by_chance(0.15)) named <- sprintf(words$wording, wording_things[seq_len(test$k)])
  columns <- list(id = test$id[row$i], item_column = named[row$j], answer = test$answer[at])
  with_points <- by_chance(0.6)
  if (with_points) columns$points <- shown_points(test$points[at], language)
  if (by_chance(0.5)) columns$seconds <- as.character(sample(4:99, nrow(row), TRUE))
  if (by_chance(0.4)) columns$class <- test$class[row$i]
  if (by_chance(0.3)) columns <- append(columns, list(name = test$name[row$i]), 1)
  if (by_chance(0.2)) columns <- columns[sample(length(columns))]
  if (by_chance(0.2)) columns$other <- sample(c("x", "y"), nrow(row), TRUE)
  header <- vapply(names(columns), function(role) any_of(words[[role]]), "")
  points <- if (with_points) test$points else (test$points > 0) + 0
  list(
    cells = unname(rbind(header, do.call(cbind, columns))),
    key = if (!with_points) c("item,key", paste0(csv_cells(named), ",", test$key)),
    truth = data.frame(student = test$id, points = rowSums(points)),
    of = if (with_points) sum(test$worth) else test$k
  )
}

# Scanned sheets: an id and a string of marks a line.
made_up_scan <- function(test, fixed) {
  words <- test$words
  code <- if (by_chance(0.5)) sprintf("%05d", sample(200:99999, test$n)) else test$id
  gap <- any_of(c(" ", "-", "*"))
  answer <- test$answer
  answer[answer == ""] <- gap
  if (fixed && gap == " ") answer[, test$k] <- ifelse(answer[, test$k] == " ", "A", answer[, test$k])
  strings <- apply(answer, 1, paste, collapse = "")
  points <- rowSums(answer == rep(test$key, each = test$n))
  key_string <- paste(test$key, collapse = "")
  in_file <- by_chance(0.6)
  lines <- if (fixed) {
    wide <- max(nchar(code), 3) + sample(1:6, 1)
    c(
      if (by_chance(0.3)) paste0(formatC("ID", width = -wide), any_of(c("ANSWERS", "Marks"))),
      if (in_file) paste0(formatC("KEY", width = -wide), key_string),
      paste0(formatC(code, width = -wide), strings)
    )
  } else {
    separator <- any_of(c(",", ";", "\t"))
    c(
      if (by_chance(0.5)) paste(any_of(words$id), any_of(c("Marks", "Answers", words$answer)), sep = separator),
      if (in_file) paste(any_of(c("KEY", words$key)), key_string, sep = separator),
      paste(code, strings, sep = separator)
    )
  }
  list(
    lines = lines, key = if (!in_file) key_string,
    truth = data.frame(student = code, points = points), of = test$k
  )
}

export_kinds <- c("answers", "marks", "pairs", "triples", "long", "scan", "fixed", "workbook", "classes")

# An export: files (name and bytes), the key's file if one goes with it, what is true.
made_up_export <- function(seed, language = any_of(names(export_words)), kind = any_of(export_kinds)) {
  set.seed(seed)
  force(language)
  force(kind)
  test <- made_up_test(export_words[[language]])
  made <- switch(kind,
    long = made_up_long(test, language),
    scan = made_up_scan(test, FALSE),
    fixed = made_up_scan(test, TRUE),
    workbook = ,
    classes = made_up_wide(test, any_of(c("answers", "marks", "pairs")), language),
    made_up_wide(test, kind, language)
  )
  made$seed <- seed
  made$language <- language
  made$kind <- kind
  if (!is.null(made$lines)) {
    made$files <- list(export.txt = bytes_of(made$lines))
  } else if (kind == "workbook") {
    made$files <- list(export.xlsx = workbook_of(made$cells))
  } else if (kind == "classes") {
    half <- seq_len(length(made$body_rows) %/% 2)
    separator <- any_of(c(",", ";"))
    made$files <- lapply(list(a.csv = half, b.csv = -half), function(rows) {
      without <- setdiff(seq_along(made$body_rows), seq_along(made$body_rows)[rows])
      bytes_of(made_up_lines(made$cells[-made$body_rows[without], ], separator))
    })
  } else {
    separator <- any_of(c(",", ",", ";", "\t", "|"))
    made$files <- list(export.csv = bytes_of(made_up_lines(made$cells, separator)))
  }
  made
}

made_up_lines <- function(cells, separator) {
  apply(cells, 1, function(row) paste(csv_cells(row, separator), collapse = separator))
}

bytes_of <- function(lines) {
  end <- any_of(c("\n", "\n", "\r\n"))
  text <- enc2utf8(paste0(paste(lines, collapse = end), end))
  switch(sample(5, 1),
    c(as.raw(c(0xEF, 0xBB, 0xBF)), charToRaw(text)),
    c(as.raw(c(0xFF, 0xFE)), iconv(text, "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]]),
    iconv(text, "UTF-8", "CP1252", sub = "?", toRaw = TRUE)[[1]],
    charToRaw(text), charToRaw(text)
  )
}

workbook_of <- function(cells) {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "Sheet")
  number <- suppressWarnings(as.numeric(cells))
  plain <- !is.na(number) & as.character(number) == cells
  for (j in seq_len(ncol(cells))) {
    for (i in seq_len(nrow(cells))) {
      at <- (j - 1) * nrow(cells) + i
      if (!nzchar(cells[at])) next
      value <- if (plain[at]) number[at] else cells[at]
      openxlsx::writeData(book, "Sheet", value, startCol = j, startRow = i, colNames = FALSE)
    }
  }
  path <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, path)
  on.exit(unlink(path))
  readBin(path, "raw", file.size(path))
}

# right, wrong or asked: what becomes of a made-up export. The folder is left to look at.
export_outcome <- function(made, ...) {
  place <- tempfile("export-")
  dir.create(place)
  on.exit(unlink(place, recursive = TRUE))
  paths <- file.path(place, names(made$files))
  Map(writeBin, made$files, paths)
  key <- if (!is.null(made$key)) file.path(place, "key.csv")
  if (!is.null(key)) writeLines(made$key, key)
  folder <- file.path(place, "made")
  tryCatch(
    {
      new_test(folder, paths, key = key, ...)
      quiz <- read_sitting(folder)
      if (is_true_of(quiz, made)) "right" else "wrong"
    },
    pregunta_error = function(e) structure("asked", condition = e)
  )
}

is_true_of <- function(quiz, made) {
  table <- summarise_students(quiz)
  at <- match(tolower(made$truth$student), tolower(table$student))
  if (anyNA(at)) at <- match(tolower(made$truth$student), tolower(table$name))
  length(at) == nrow(table) && !anyNA(at) && !anyDuplicated(at) &&
    isTRUE(all.equal(table$points[at], made$truth$points, tolerance = 1e-6)) &&
    isTRUE(all.equal(sum(quiz$items$points), made$of, tolerance = 1e-6))
}

# As export_outcome(), and for what was asked whether one of the offered readings is
# right: advised, or lost.
advised_outcome <- function(make) {
  outcome <- export_outcome(make())
  if (outcome != "asked") return(as.character(outcome))
  choices <- attr(outcome, "condition")$choices
  if (!is.data.frame(choices)) return("lost")
  right <- vapply(choices$take, function(k) export_outcome(make(), take = k) == "right", TRUE)
  if (any(right)) "advised" else "lost"
}
