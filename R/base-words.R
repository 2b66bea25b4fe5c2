# What people read. Inside, a verdict, a reason or a status is a code; its words, and
# every sentence, stand in inst/words/LANGUAGE.yml, the one file that this room reads.
# An entry is named SECTION.ENTRY; the comment at the head of en.yml says how a
# template is written.

# The sentence of an entry, its slots filled by name. Vectors are filled row by row,
# as paste0() does it; a slot is only worked out where the template asks for it.
say <- function(.entry, ...) {
  fill_template(template_of(.entry), function(slot) {
    at <- match(slot, ...names())
    if (is.na(at)) lack_words(paste0(.entry, "$", slot))
    ...elt(at)
  })
}

# The same with the values in a list, and one of several wordings: turn counts them
# through.
say_with <- function(entry, values, turn = 1) {
  wordings <- entry_of(entry)
  template <- template_of(entry, (turn - 1) %% length(wordings) + 1)
  fill_template(template, function(slot) {
    if (!slot %in% names(values)) lack_words(paste0(entry, "$", slot))
    values[[slot]]
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

# A heading of a table: its words, or what the data call it.
heading_for <- function(code) {
  if (inherits(code, "AsIs") || !nzchar(code)) return(as.character(code))
  say(paste0("headings.", code))
}

# ---- the file ------------------------------------------------------------------

kept_words <- new.env(parent = emptyenv())

# Read once in a session, section by section: most calls need a few of them.
section_of <- function(section) {
  if (is.null(kept_words[[section]])) {
    if (is.null(kept_words[["\r lines"]])) keep_lines()
    lines <- kept_words[["\r lines"]][[section]]
    if (is.null(lines)) lack_words(section)
    assign(section, yaml::yaml.load(paste(lines, collapse = "\n")), kept_words)
  }
  kept_words[[section]]
}

keep_lines <- function() {
  lines <- readLines(words_file(), encoding = "UTF-8", warn = FALSE)
  starts <- grep("^[a-z][a-z0-9_-]*:$", lines)
  ends <- c(starts[-1] - 1, length(lines))
  found <- Map(function(from, to) lines[from:to], starts + 1, ends)
  assign("\r lines", stats::setNames(found, sub(":$", "", lines[starts])), kept_words)
}

words_file <- function() system.file("words", "en.yml", package = "pregunta")

entry_of <- function(entry) {
  dot <- regexpr(".", entry, fixed = TRUE)
  wordings <- section_of(substr(entry, 1, dot - 1))[[substring(entry, dot + 1)]]
  if (is.null(wordings)) lack_words(entry)
  wordings
}

template_of <- function(entry, wording = 1) {
  key <- paste0("\r ", entry, "\r", wording)
  if (is.null(kept_words[[key]])) {
    assign(key, read_template(entry_of(entry)[[wording]]), kept_words)
  }
  kept_words[[key]]
}

# ---- templates -----------------------------------------------------------------

# A template as a list of pieces: a text, a slot, or a choice: the slot that decides
# and the pieces of each case.
read_template <- function(template) {
  tokens <- regmatches(
    template,
    gregexpr("\\\\[{}|\\\\]|[{}|]|[^{}|\\\\]+|\\\\", template, perl = TRUE)
  )[[
    1
  ]]
  read_pieces(tokens, 1, character())$pieces
}

read_pieces <- function(tokens, at, stops) {
  pieces <- list()
  while (at <= length(tokens) && !tokens[at] %in% stops) {
    if (tokens[at] == "{") {
      read <- read_slot(tokens, at)
      pieces <- c(pieces, list(read$piece))
      at <- read$at
    } else if (tokens[at] == "}") {
      lack_words(paste(tokens, collapse = ""))
    } else {
      text <- sub("^\\\\(?=[{}|\\\\])", "", tokens[at], perl = TRUE)
      pieces <- c(pieces, list(text))
      at <- at + 1
    }
  }
  list(pieces = pieces, at = at)
}

read_slot <- function(tokens, at) {
  slot <- tokens[at + 1]
  if (!grepl("^[a-z][a-z0-9_]*$", slot)) lack_words(slot)
  at <- at + 2
  cases <- list()
  while (tokens[at] %in% "|") {
    name <- sub(":.*", "", tokens[at + 1])
    tokens[at + 1] <- sub("^[a-z_0-9]+: ?", "", tokens[at + 1])
    read <- read_pieces(tokens, at + 1, c("|", "}"))
    cases[[name]] <- read$pieces
    at <- read$at
  }
  if (!tokens[at] %in% "}") lack_words(slot)
  list(piece = list(slot = slot, cases = cases), at = at + 1)
}

fill_template <- function(pieces, value_of) {
  said <- lapply(pieces, function(piece) {
    if (is.character(piece)) return(piece)
    value <- value_of(piece$slot)
    if (length(piece$cases)) return(choose_case(piece$cases, value, value_of))
    value
  })
  do.call(paste0, said)
}

choose_case <- function(cases, value, value_of) {
  chosen <- case_of(value, names(cases))
  used <- intersect(names(cases), chosen)
  if (length(chosen) == 1) {
    return(if (length(used)) fill_template(cases[[used]], value_of) else "")
  }
  filled <- lapply(cases[used], fill_template, value_of = value_of)
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
case_of <- function(value, names) {
  if (is.null(value)) return("no")
  if (all(names %in% plural_forms)) {
    none <- "zero" %in% names & as.numeric(value) %in% 0
    return(ifelse(none, "zero", plural_form(value)))
  }
  if (all(names %in% c("yes", "no"))) {
    return(ifelse(as.logical(value) %in% TRUE, "yes", "no"))
  }
  ifelse(value %in% names, as.character(value), "other")
}

# CLDR's rule for English.
plural_form <- function(n) ifelse(as.numeric(n) %in% 1, "one", "other")
