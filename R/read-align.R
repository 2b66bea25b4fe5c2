# Several files of one test: the same question under another number, another question
# under the same one, and students whose id or name is not the same in all of them.

# The files with their questions named as in the first that has them, by their wording.
# known: questions that are there already, with item and prompt.
align_questions <- function(files, taken, known = NULL) {
  if (!is.null(known)) {
    known <- data.frame(
      item = known$item,
      prompt = if (is.null(known$prompt)) NA_character_ else known$prompt,
      known = known$item,
      origin = "items.csv"
    )
    known <- known[!is_blank(known$prompt), ]
  }
  for (k in seq_along(files)) {
    mine <- files[[k]]$items
    if (is.null(mine$prompt)) next
    if (!is.null(known)) {
      names <- aligned_names(files[[k]], known, taken)
      files[[k]] <- rename_items(files[[k]], names, known)
      mine <- files[[k]]$items
    }
    mine <- data.frame(
      item = mine$item,
      prompt = mine$prompt,
      known = if (is.null(mine$known)) NA_character_ else mine$known,
      origin = files[[k]]$origin
    )
    known <- rbind(
      known,
      mine[!mine$item %in% known$item & !is_blank(mine$prompt), ]
    )
  }
  files
}

# The names that a file's questions should have, beside its own.
aligned_names <- function(file, known, taken) {
  items <- file$items
  words <- plain_heading(or_blank(items$prompt))
  theirs <- plain_heading(known$prompt)
  at <- match(
    words,
    theirs,
    incomparables = c("", theirs[duplicated(theirs)])
  )
  name <- or_else(known$item[at], items$item)
  # A wording that is nowhere else, under a name that has another wording elsewhere.
  new <- which(is.na(at) & words != "" & items$item %in% known$item)
  there <- match(items$item[new], known$item)
  spelled <- mapply(nearly_alike, words[new], theirs[there])
  counted <- words[new] %in% plain_heading(file$reading$columns$column)
  clash <- new[!spelled & !counted]
  if (length(clash) && !taken) abort_two_questions(file, clash[1], known)
  fresh <- new[!spelled & counted]
  name[fresh] <- next_numbers(c(known$item, name), length(fresh))
  name
}

# Wordings that differ by a slip or two.
nearly_alike <- function(a, b) {
  utils::adist(a, b)[1] <= 0.15 * max(nchar(a), nchar(b))
}

next_numbers <- function(names, n) {
  used <- suppressWarnings(as.integer(sub("^\\D*", "", names)))
  paste0("Q", max(c(0L, used), na.rm = TRUE) + seq_len(n))
}

abort_two_questions <- function(file, row, known) {
  item <- file$items$item[row]
  first <- known[match(item, known$item), ]
  abort_pregunta(
    "undecided",
    say("read-align.one_name_two_questions", item = item),
    c(
      paste0("  ", first$origin, ": ", shorten(first$prompt, 60)),
      paste0(
        "  ", file$origin, ": ", shorten(file$items$prompt[row], 60)
      ),
      ""
    ),
    say("read-align.number_them_apart"),
    value = item
  )
}

# Names that have another id in another file: different students, and it is said.
tell_other_ids <- function(bundle, files) {
  if (length(files) < 2) return(bundle)
  people <- lapply(seq_along(files), function(k) {
    students <- files[[k]]$students
    if (is.null(students$name)) return(NULL)
    data.frame(
      file = k,
      student = students$student,
      name = plain_words(students$name)
    )
  })
  people <- do.call(rbind, people)
  people <- people[!people$name %in% c("", NA), ]
  if (is.null(people) || !nrow(people)) return(bundle)
  pairs <- people[!duplicated(people[c("student", "name")]), ]
  again <- pairs$name %in% pairs$name[duplicated(pairs$name)]
  apart <- tapply(pairs$file[again], pairs$name[again], function(x) {
    length(unique(x)) > 1
  })
  names <- names(apart)[apart]
  if (!length(names)) return(bundle)
  all <- bundle$students$name
  first <- all[match(names[1], plain_words(all))]
  said <- say(
    "read-align.other_ids",
    n = length(names),
    name = quoted(first)
  )
  tell(
    bundle,
    say("read-items.all_together"),
    account_line("students", said)
  )
}

# A file's questions under other names, and the account of it.
rename_items <- function(file, name, known) {
  old <- file$items$item
  moved <- which(name != old)
  if (!length(moved)) return(file)
  renamed <- function(x) or_else(name[match(x, old)], x)
  if (is_long_table(file$responses)) {
    file$responses$item <- renamed(file$responses$item)
  } else {
    parts <- c(
      "",
      paste0(" ", c("points", "seconds", said_kinds))
    )
    names(file$responses) <- or_else(
      as.vector(outer(name, parts, paste0))[
        match(
          names(file$responses),
          as.vector(outer(old, parts, paste0))
        )
      ],
      names(file$responses)
    )
  }
  file$items$item <- name
  at <- match(name, known$item)
  file$items$known <- ifelse(
    is.na(at),
    file$items$known,
    known$known[at]
  )
  if (!is.null(file$options)) {
    file$options$item <- renamed(file$options$item)
  }
  said <- say(
    "read-align.by_wording",
    old = old[moved[1]],
    name = name[moved[1]],
    rest = length(moved) - 1
  )
  file$account <- rbind(file$account, account_line("questions", said))
  file
}
