# What a call asks for by id: questions and students, with commas between them. An id may
# hold commas and blanks itself, and a student be called by the full name.

# about: a sitting, or a table with a column item.
item_ids <- function(said, about) {
  if (!length(said)) return(NULL)
  if (!is.data.frame(about)) about <- about$items
  ids_asked(said, about[["item"]])
}

# people: a sitting, or a table of students.
student_ids <- function(said, people) {
  if (!length(said)) return(NULL)
  if (!is.data.frame(people)) people <- people$students
  ids_asked(said, people[["student"]], people[["name"]])
}

# Codes of standards, or values of a tag of the items.
standard_codes <- function(said, about, tag = NULL) {
  if (!length(said)) return(NULL)
  if (is.data.frame(about)) return(ids_asked(said, about[["code"]]))
  on_items <- about$items[[if (is.null(tag)) "standards" else tag]]
  known <- unlist(split_parts(on_items[!is.na(on_items)], ";"))
  ids_asked(said, c(known, if (is.null(tag)) about$standards[["code"]]))
}

# All whom several sittings are about.
people_in <- function(sittings) {
  rows <- lapply(sittings, function(sitting) sitting$students[c("student", "name")])
  unique(do.call(rbind, rows))
}

# What stands in a column of the students or the items.
values_of_column <- function(sitting, column) {
  known <- c(sitting$students[[column]], sitting$items[[column]])
  unique(as.character(known))
}

# said: as it stands in the call; known: all ids; names: along them, or NULL.
ids_asked <- function(said, known, names = NULL) {
  if (!length(said)) return(NULL)
  lines <- split_repeated(said)
  words <- trimws(unlist(strsplit(lines, ",", fixed = TRUE)))
  words <- words[nzchar(words)]
  commas <- max(0, nchar(known) - nchar(gsub(",", "", known, fixed = TRUE)), na.rm = TRUE)
  if (all(words %in% known) && !commas) return(unique(words))
  # Names are only looked at where a word is no id.
  plain_names <- sought_name(names)
  is_known <- function(word) word %in% known || sought_name(word) %in% plain_names
  words <- unlist(lapply(lines, words_known, is_known, longest = 1 + max(commas, 3)))
  unknown <- which(!words %in% known)
  words[unknown] <- vapply(words[unknown], id_of_name, "", known, plain_names)
  unique(words)
}

# A line taken apart at its commas, except where a longer part of it is known as one word.
# longest: of how many pieces a word can be.
words_known <- function(line, is_known, longest) {
  pieces <- strsplit(line, ",", fixed = TRUE)[[1]]
  words <- character()
  while (length(pieces)) {
    joined <- vapply(seq_len(min(longest, length(pieces))), function(n) {
      trimws(paste(pieces[seq_len(n)], collapse = ","))
    }, "")
    n <- max(1, which(vapply(joined, is_known, TRUE)))
    words <- c(words, joined[n])
    pieces <- pieces[-seq_len(n)]
  }
  words[nzchar(words)]
}

# Whatever the case, the accents and which name comes first.
sought_name <- function(names) {
  words <- strsplit(plain_text(gsub("[,[:space:]]+", " ", names)), " ", fixed = TRUE)
  vapply(words, function(word) paste(sort(word), collapse = " "), "")
}

# The id of who is called so; the word itself where nobody is, which is told where it is
# looked for.
id_of_name <- function(word, known, plain_names) {
  found <- unique(known[plain_names %in% sought_name(word)])
  if (length(found) < 2) return(if (length(found)) found else word)
  abort_pregunta(
    "call",
    say("cli-asked.several_are_called_so", name = quoted(word)),
    NULL,
    say("cli-asked.give_the_id", ids = in_a_row(quoted(found))),
    value = word,
    choices = found
  )
}
