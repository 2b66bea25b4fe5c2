# What a slip says to a student, in friendly words. A sitting's setting `messages`
# puts its own in the place of these.

# From the lowest level to the highest; with fewer or more levels the nearest.
# By band where the school has bands and a message for them, else by level.
message_for <- function(students, settings) {
  levels <- names(settings$levels)
  at <- if (length(levels) < 2) {
    rep(4, length(levels))
  } else {
    round(seq(1, 4, length.out = length(levels)))
  }
  said <- all_words("slip_messages")[at][match(students$level, levels)]
  by <- own_messages(settings)
  own <- match(students$level, by$of)
  if (!is.null(students$band)) own <- or_else(match(students$band, by$of), own)
  known <- which(!is.na(own) & !is.na(students$share))
  said[is.na(students$share)] <- NA
  said[known] <- by$text[own[known]]
  list(
    text = said,
    language = replace(rep(NA_character_, length(said)), known, by$language[own[known]])
  )
}

# Those of the settings, in the language that is spoken now where they are given in it:
# of which level or band, the text, and its language.
own_messages <- function(settings) {
  chosen <- lapply(settings$messages, for_reader, language_of(settings))
  list(
    of = names(chosen),
    text = vapply(chosen, `[[`, "", "text", USE.NAMES = FALSE),
    language = vapply(chosen, `[[`, "", "language", USE.NAMES = FALSE)
  )
}

# Standards below the cut where most points are missing, at most two of each
# student: with the questions to go over again. A row each.
next_steps <- function(own, wrong, tree, cut, most = 2) {
  own <- own[
    !own$code %in% tree$parent & !is.na(own$share) & own$share < cut - 1e-9,
  ]
  own <- own[
    order(
      own$student,
      own$earned - own$open,
      own$share,
      method = "radix"
    ),
  ]
  own <- own[
    stats::ave(
      seq_len(nrow(own)),
      own$student,
      FUN = seq_along
    ) <= most,
  ]
  own$again <- lapply(seq_len(nrow(own)), function(row) {
    intersect(wrong[[own$student[row]]], tree$items[[own$code[row]]])
  })
  own
}
