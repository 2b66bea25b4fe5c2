# What people read. Inside, a verdict, a reason or a status is a code; its words, and
# every sentence, stand in inst/words/LANGUAGE.yml, the files that this room reads
# (base-languages.R says which language that is). An entry is named SECTION.ENTRY; the
# comment at the head of en.yml says how a template is written.

# The sentence of an entry, its slots filled by name. Vectors are filled row by row,
# as paste0() does it; a slot is only worked out where the template asks for it.
say <- function(.entry, ...) {
  fill_template(template_of(.entry), function(slot) {
    at <- match(slot, ...names())
    if (is.na(at)) lack_words(paste0(.entry, "$", slot))
    ...elt(at)
  })
}

# The same with the values in a list, or given one by one by a function of the slot;
# and one of several wordings: turn counts them through.
say_with <- function(entry, values, turn = 1) {
  wordings <- entry_of(entry)
  template <- template_of(entry, (turn - 1) %% length(wordings) + 1)
  fill_template(template, function(slot) {
    value <- if (is.function(values)) values(slot) else values[[slot]]
    if (is.null(value)) lack_words(paste0(entry, "$", slot))
    value
  })
}

# A fault of the package itself, so it is said without words.
lack_words <- function(place) stop("words/en.yml: ", place, call. = FALSE)

# The words of codes, of one section of the words: words_for(c("hard", NA),
# "difficulty_bands").
# A code that has none there is one that somebody made up, such as a level of the
# school's own, and is its own word.
words_for <- function(codes, section) {
  words <- all_words(section)
  at <- match(codes, names(words))
  said <- unname(words[at])
  said[is.na(at)] <- as.character(codes)[is.na(at)]
  said
}

# All words of a section, named by their codes.
all_words <- function(section) unlist(section_of(section))

# How many of each kind, as "2 pages" and "1 table"; counts is named by kind.
say_counts <- function(counts) {
  unlist(Map(
    function(kind, n) say_with(paste0("counted.", kind), list(n = n)),
    names(counts),
    as.vector(counts)
  ))
}

# A heading of a table: its words, or what the data call it.
heading_for <- function(code) {
  if (inherits(code, "AsIs") || !nzchar(code)) return(as.character(code))
  said <- section_of("headings")[[code]]
  if (is.null(said)) lack_words(paste0("headings.", code))
  said
}

# ---- the files -----------------------------------------------------------------

# What was read, of each language and face apart; see kept_now().
kept_words <- new.env(parent = emptyenv())

# What is worked out once in a session; it is never NULL.
worked_out <- function(name, value) {
  kept <- kept_words[[name]]
  if (is.null(kept)) {
    kept <- value
    assign(name, kept, kept_words)
  }
  kept
}

# What is kept of the language that is spoken now: sections, and templates read.
kept_now <- function(language = language_now()) {
  worked_out(paste0("now:", language, "\r", spoken$face), new.env(parent = emptyenv()))
}

# Read once in a session, section by section: most calls need a few of them. What a
# language lacks is said in the one that it falls back on.
section_of <- function(section, language = language_now()) {
  kept <- kept_now(language)
  found <- kept[[section]]
  if (!is.null(found)) return(found)
  found <- said_otherwise(section, with_fallback(section, language), language)
  if (is.null(found)) lack_words(section)
  assign(section, found, kept)
  found
}

with_fallback <- function(section, language) {
  own <- section_in_file(section, language)
  other <- falls_back_on(language)
  if (is.na(other)) return(own)
  whole <- with_fallback(section, other)
  if (is.null(own) || is.null(whole)) return(if (is.null(own)) whole else own)
  utils::modifyList(as.list(whole), as.list(own))
}

section_in_file <- function(section, language) {
  text <- texts_of(language)[section]
  if (!is.na(text)) yaml::yaml.load(text, eval.expr = FALSE)[[1]]
}

# The text of each section; a section ends at the first empty line.
texts_of <- function(language) {
  worked_out(paste0("texts:", language), read_texts(words_file(language)))
}

read_texts <- function(file) {
  whole <- readChar(file, file.size(file), useBytes = TRUE)
  texts <- strsplit(whole, "\n\n", fixed = TRUE, useBytes = TRUE)[[1]]
  comments <- startsWith(texts, "#")
  texts[comments] <- sub("^(#[^\n]*\n)+", "", texts[comments], useBytes = TRUE)
  names(texts) <- substr(texts, 1, regexpr(":\n", texts, fixed = TRUE) - 1)
  Encoding(texts) <- "UTF-8"
  texts
}

# Where people press and do not type, some sentences say it otherwise: a section holds
# them, under the names of the entries that they stand for.
speak_for <- function(face) {
  before <- spoken$face
  spoken$face <- face
  invisible(before)
}

said_otherwise <- function(section, words, language) {
  face <- spoken$face
  if (is.null(face) || section == face) return(words)
  said <- with_fallback(face, language)
  dot <- regexpr(".", names(said), fixed = TRUE)
  for (k in which(substr(names(said), 1, dot - 1) == section)) {
    entry <- substring(names(said)[k], dot[k] + 1)
    if (is.null(words[[entry]])) lack_words(names(said)[k])
    words[[entry]] <- said[[k]]
  }
  words
}

entry_of <- function(entry) {
  dot <- regexpr(".", entry, fixed = TRUE)
  wordings <- section_of(substr(entry, 1, dot - 1))[[
    substring(entry, dot + 1)
  ]]
  if (is.null(wordings)) lack_words(entry)
  wordings
}

template_of <- function(entry, wording = 1) {
  kept <- kept_now()
  name <- paste0("\r ", entry, "\r", wording)
  template <- kept[[name]]
  if (is.null(template)) {
    template <- read_template(entry_of(entry)[[wording]])
    assign(name, template, kept)
  }
  template
}

# ---- templates -----------------------------------------------------------------

# A template as a list of pieces: a text, a slot, or a choice: the slot that decides
# and the pieces of each case.
read_template <- function(template) {
  if (!grepl("[{}\\\\]", template)) return(list(template))
  if (!grepl("[|\\\\]", template)) return(read_plain(template))
  read_pieces(template_tokens(template), 1, character())$pieces
}

# Without choices: texts and slots in turn.
read_plain <- function(template) {
  parts <- strsplit(template, "[{}]")[[1]]
  marks <- gsub("[^{}]+", "", template)
  if (!grepl("^([{][}])+$", marks)) lack_words(template)
  is_slot <- seq_along(parts) %% 2 == 0
  if (any(!is_slot_name(parts[is_slot]))) lack_words(template)
  pieces <- as.list(parts)
  pieces[is_slot] <- lapply(parts[is_slot], function(slot) list(slot = slot))
  pieces
}

is_slot_name <- function(x) grepl("^[a-z][a-z0-9_]*$", x)

# Braces and bars, and the texts between them; of one that is escaped, the sign alone,
# marked by a line break before it.
template_tokens <- function(template) {
  template <- gsub("\\\\([{}|\\\\])", "\r\n\\1\r", template)
  pieces <- strsplit(template, "\r", fixed = TRUE)[[1]]
  unlist(lapply(pieces, function(piece) {
    if (startsWith(piece, "\n")) return(piece)
    strsplit(gsub("([{}|])", "\r\\1\r", piece), "\r+")[[1]]
  }))
}

read_pieces <- function(tokens, at, stops) {
  pieces <- list()
  while (at <= length(tokens) && !tokens[at] %in% stops) {
    token <- tokens[at]
    if (token == "{") {
      read <- read_slot(tokens, at)
      pieces[[length(pieces) + 1]] <- read$piece
      at <- read$at
    } else {
      if (token == "}") lack_words(paste(tokens, collapse = ""))
      if (startsWith(token, "\n")) {
        token <- substring(token, 2)
      }
      pieces[[length(pieces) + 1]] <- token
      at <- at + 1
    }
  }
  list(pieces = pieces, at = at)
}

read_slot <- function(tokens, at) {
  slot <- tokens[at + 1]
  if (!is_slot_name(slot)) lack_words(slot)
  at <- at + 2
  cases <- list()
  while (tokens[at] %in% "|") {
    said <- tokens[at + 1]
    colon <- regexpr(":", said, fixed = TRUE)
    name <- substr(said, 1, colon - 1)
    tokens[at + 1] <- sub("^ ", "", substring(said, colon + 1))
    read <- read_pieces(tokens, at + 1, c("|", "}"))
    cases[[name]] <- read$pieces
    at <- read$at
  }
  if (!tokens[at] %in% "}") lack_words(slot)
  piece <- list(
    slot = slot,
    cases = cases,
    by = decided_by(names(cases))
  )
  list(piece = piece, at = at + 1)
}

fill_template <- function(pieces, value_of) {
  said <- lapply(pieces, function(piece) {
    if (is.character(piece)) return(piece)
    value <- value_of(piece$slot)
    if (length(piece$cases)) return(choose_case(piece, value, value_of))
    if (is.double(value)) in_digits(as_typed(value)) else value
  })
  do.call(paste0, said)
}

choose_case <- function(piece, value, value_of) {
  cases <- piece$cases
  chosen <- case_of(value, piece)
  if (length(chosen) == 1) {
    if (is.null(cases[[chosen]])) return("")
    return(fill_template(cases[[chosen]], value_of))
  }
  used <- intersect(names(cases), chosen)
  filled <- lapply(
    cases[used],
    fill_template,
    value_of = value_of
  )
  said <- rep("", max(length(chosen), lengths(filled)))
  chosen <- rep_len(chosen, length(said))
  for (name in used) {
    here <- which(chosen == name)
    said[here] <- rep_len(filled[[name]], length(said))[here]
  }
  said
}

plural_forms <- c("zero", "one", "two", "few", "many", "other")

# Which case holds: yes or no of a condition, the plural form of a number, a code. Zero
# can have words of its own in every language.
case_of <- function(value, piece) {
  if (is.null(value)) return("no")
  if (piece$by == "number") {
    return(form_of(value, names(piece$cases)))
  }
  if (piece$by == "condition") {
    return(c("no", "yes")[as.logical(value) %in% TRUE + 1])
  }
  value <- as.character(value)
  value[!value %in% names(piece$cases)] <- "other"
  value
}

# What decides between cases of these names.
decided_by <- function(names) {
  if (all(names %in% plural_forms)) return("number")
  if (all(names %in% c("yes", "no"))) return("condition")
  "code"
}

# The plural form of each number among those that a template has.
form_of <- function(value, forms) {
  if (is.character(value)) value <- out_of_digits(value)
  value <- as.numeric(value)
  form <- plural_form(value)
  if ("zero" %in% forms) form[value %in% 0] <- "zero"
  form[!form %in% forms] <- "other"
  form
}
