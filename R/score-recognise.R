# What type an item is, where nobody says: by its key, by its answers, by the
# points they earned.

# A key tells its type by its marks, and by the answers beside it.
type_of_key <- function(key, answers) {
  has <- function(mark) grepl(mark, key, fixed = TRUE)
  if (has(">")) return("order")
  if (has("=") && grepl("^[^=;]+=[^=;]+(;[^=;]+=[^=;]+)*$", key)) {
    return("match")
  }
  if (has(";")) return("multiple")
  if (has("..") || has("\u00b1") || has("+/-")) return("number")
  parts <- split_parts(key, "|")[[1]]
  is_number <- !is.na(read_number(parts))
  numbers <- c(parts, answers[!is.na(read_number(answers))])
  has_places <- any(grepl("[.,]", numbers))
  if (all(is_number) && (has_places || length(answers) > 9)) return("number")
  short <- stats::median(nchar(c(parts, answers))) <= 2
  if (short || length(answers) <= 6) "choice" else "text"
}

# Without a key. marks: words that stand for points, of the scale and for yes and no.
type_of_answers <- function(answers, scale, marks) {
  plain <- tolower(answers)
  if (all(plain %in% tolower(names(scale)))) return("mark") # none at all, too
  are_marks <- !is.na(read_number(answers)) | plain %in% marks
  if (all(are_marks)) return("mark")
  if (stats::median(nchar(answers)) > 25) return("open")
  # A slip or two among marks; check_sitting() names them.
  if (length(answers) > 2 && mean(are_marks) > 0.6) return("mark")
  "choice"
}

# Of answers that always earned all or nothing: options, or words that were written.
type_of_right <- function(answers) {
  if (any(nchar(answers) > 2) && length(answers) > 8) "text" else "choice"
}

# Of points without answers, and of answers that earned now this, now that.
type_by_hand <- function(answered) if (answered) "open" else "mark"

# What the cardinality and base type of a response in QTI mean here; NA: what was
# earned decides.
type_of_response <- function(cardinality, base, key) {
  type <- rep(NA_character_, length(key))
  type[cardinality == "none"] <- "mark"
  type[cardinality == "several"] <- "open"
  type[base %in% c("directedPair", "pair")] <- "match"
  type[cardinality %in% "ordered"] <- "order"
  type[cardinality %in% "multiple" & base %in% c("identifier", "string")] <- "multiple"
  single <- cardinality %in% "single"
  type[single & base %in% c("identifier", "boolean")] <- "choice"
  type[single & base %in% c("float", "integer")] <- "number"
  type[single & base %in% "string"] <- "text"
  type[is.na(key) & !is_marked(type)] <- NA
  type
}

# What an interaction type of xAPI statements means here.
type_of_activity <- function(kind, key) {
  names <- lapply(item_types(), `[[`, "xapi")
  type <- rep(names(names), lengths(names))[match(kind, unlist(names))]
  type[kind %in% "choice" & grepl(";", key)] <- "multiple"
  type[is.na(key) & !is_marked(type)] <- NA
  type
}
