# What whole answers of an item tell that its parts do not, in a sentence or two.

# A choice is whole in the table of options already, unless it waits for a key.
told_whole <- function(items) which(!is_answered(items$type, "chosen") | is.na(items$key))

# answers: the rows of summarise_answers() of one item.
say_answers <- function(answers, item, look = NULL) {
  if (!nrow(answers)) return(NULL)
  wrong <- answers[is_wrong(answers), ]
  waiting <- sum(answers$count[answers$state == "waiting"])
  c(
    if (nrow(wrong)) say_wrong(wrong, item, item_type(item$type)),
    if (waiting && !"waiting" %in% look$rule[look$item == item$item]) {
      paste(
        count_of(waiting, "answer"), if (waiting == 1) "waits" else "wait", "for a mark."
      )
    }
  )
}

# What the type of the item says is worth telling.
say_wrong <- function(wrong, item, type) {
  unlist(lapply(type$tells, function(what) {
    switch(what,
      near = say_near(wrong),
      slips = say_number_slips(wrong),
      pair = say_wrong_pair(wrong, item, type),
      whole = say_wrong_whole(wrong, type$whole),
      swaps = say_swaps(wrong)
    )
  }))
}

say_near <- function(wrong) {
  near <- wrong[!is.na(wrong$slip), ]
  if (!nrow(near)) return(NULL)
  sets <- split(
    paste0(near$answer, " (", near$count, ")"),
    factor(near$like, unique(near$like))
  )
  said <- vapply(names(sets), function(like) {
    paste0(join_some(sets[[like]]), " for ", quoted(like))
  }, "")
  paste0("Nearly right: ", paste(said, collapse = "; "), ".")
}

say_number_slips <- function(wrong) {
  slipped <- wrong[!is.na(wrong$slip), ]
  if (!nrow(slipped)) return(NULL)
  words <- c(
    sign = "the sign",
    "factor of 10" = "a factor of 10",
    rounding = "rounding"
  )[
    slipped$slip
  ]
  paste0(
    "Likely slips from ", slipped$like[1], ": ",
    join_some(paste0(slipped$answer, " (", slipped$count, ", ", words, ")")), "."
  )
}

say_wrong_whole <- function(wrong, what) {
  top <- wrong[which.max(wrong$count), ]
  if (top$count < 2) return(NULL)
  paste0(
    "The most common wrong ", what, " is ", top$answer, " (", top$count, ")",
    if (!is.na(top$slip)) paste0(": ", top$slip), "."
  )
}

# Of all orders that are one swap from right, the swap that came most often.
say_swaps <- function(wrong) {
  swapped <- wrong[!is.na(wrong$slip), ]
  if (nrow(swapped) < 2) return(NULL)
  counts <- tapply(swapped$count, factor(swapped$slip, unique(swapped$slip)), sum)
  paste0(
    "Swaps: ",
    join_some(
      paste0(sub(" swapped$", "", names(counts)), " (", counts, ")")[order(-counts)],
      4
    ),
    "."
  )
}

say_wrong_pair <- function(wrong, item, type) {
  if (is.na(item$key)) return(NULL)
  right <- type$right_parts(type$read_key(item$key))
  pairs <- type$parts(wrong$answer)
  table <- tapply(rep(wrong$count, lengths(pairs)), unlist(pairs), sum)
  table <- table[!names(table) %in% right]
  if (!length(table)) return(NULL)
  paste0(
    "The most common wrong pair is ", names(table)[which.max(table)], " (", max(table),
    ")."
  )
}
