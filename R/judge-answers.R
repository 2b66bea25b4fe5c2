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
      say("judge-answers.answers_wait_for_a", waiting = waiting)
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
      whole = say_wrong_whole(wrong, words_for(type$whole, "wholes")),
      swaps = say_swaps(wrong)
    )
  }))
}

say_near <- function(wrong) {
  near <- wrong[!is.na(wrong$slip), ]
  if (!nrow(near)) return(NULL)
  sets <- split_in_order(paste0(near$answer, " (", near$count, ")"), near$like)
  said <- vapply(names(sets), function(like) {
    say("judge-answers.for", sets = join_some(sets[[like]]), like = quoted(like))
  }, "")
  say("judge-answers.nearly_right", said = paste(said, collapse = "; "))
}

say_number_slips <- function(wrong) {
  slipped <- wrong[!is.na(wrong$slip), ]
  if (!nrow(slipped)) return(NULL)
  words <- words_for(slipped$slip, "number_slips")
  say(
    "judge-answers.likely_slips_from",
    like = slipped$like[1],
    answer = join_some(paste0(slipped$answer, " (", slipped$count, ", ", words, ")"))
  )
}

say_wrong_whole <- function(wrong, what) {
  top <- wrong[which.max(wrong$count), ]
  if (top$count < 2) return(NULL)
  say(
    "judge-answers.the_most_common_wrong",
    what = what,
    answer = top$answer,
    count = top$count,
    slip = if (!is.na(top$slip)) paste0(": ", say_slip(top$slip))
  )
}

# Of all orders that are one swap from right, the swap that came most often.
say_swaps <- function(wrong) {
  swapped <- wrong[!is.na(wrong$slip), ]
  if (nrow(swapped) < 2) return(NULL)
  counts <- tapply(swapped$count, in_order(swapped$slip), sum)
  counts <- counts[order(-counts)]
  swaps <- paste(parts_of_slip(names(counts)), in_parentheses(counts))
  say("judge-answers.swaps", counts = join_some(swaps, 4))
}

say_wrong_pair <- function(wrong, item, type) {
  if (is.na(item$key)) return(NULL)
  right <- type$right_parts(type$read_key(item$key))
  pairs <- type$parts(wrong$answer)
  table <- tapply(rep(wrong$count, lengths(pairs)), unlist(pairs), sum)
  table <- table[!names(table) %in% right]
  if (!length(table)) return(NULL)
  say(
    "judge-answers.the_most_common_wrong_pair",
    pair = names(table)[which.max(table)],
    n = max(table)
  )
}
