# What whole answers of an item tell that its parts do not, in a sentence or two.

# A choice is whole in the table of options already, unless it waits for a key.
told_whole <- function(items) {
  which(!is_answered(items$type, "chosen") | is.na(items$key))
}

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
      near_numbers = say_near_numbers(wrong),
      pair = say_wrong_pair(wrong, item, type),
      whole = say_wrong_whole(wrong, words_for(type$whole, "wholes")),
      swaps = say_swaps(wrong)
    )
  }))
}

say_near <- function(wrong) {
  near <- wrong[!is.na(wrong$near_miss), ]
  if (!nrow(near)) return(NULL)
  sets <- split_in_order(
    paste0(near$answer, " (", near$count, ")"),
    near$like
  )
  said <- vapply(names(sets), function(like) {
    say(
      "judge-answers.for",
      sets = join_some(sets[[like]]),
      like = quoted(like)
    )
  }, "")
  say("judge-answers.nearly_right", said = paste(said, collapse = "; "))
}

say_near_numbers <- function(wrong) {
  near <- wrong[!is.na(wrong$near_miss), ]
  if (!nrow(near)) return(NULL)
  words <- words_for(near$near_miss, "number_near_misses")
  say(
    "judge-answers.near_misses_of",
    like = near$like[1],
    answer = join_some(paste0(near$answer, " (", near$count, ", ", words, ")"))
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
    near_miss = if (!is.na(top$near_miss)) {
      paste0(": ", say_near_miss(top$near_miss))
    }
  )
}

# Of all orders that are one swap from right, the swap that came most often.
say_swaps <- function(wrong) {
  swapped <- wrong[!is.na(wrong$near_miss), ]
  if (nrow(swapped) < 2) return(NULL)
  counts <- tapply(
    swapped$count,
    in_order(swapped$near_miss),
    sum
  )
  counts <- counts[order(-counts)]
  swaps <- paste(parts_of_near_miss(names(counts)), in_parentheses(counts))
  say("judge-answers.swaps", counts = join_some(swaps, 4))
}

say_wrong_pair <- function(wrong, item, type) {
  if (is.na(item$key)) return(NULL)
  right <- type$right_parts(type$read_key(item$key))
  pairs <- type$parts(wrong$answer)
  table <- tapply(
    rep(wrong$count, lengths(pairs)),
    unlist(pairs),
    sum
  )
  table <- table[!names(table) %in% right]
  if (!length(table)) return(NULL)
  say(
    "judge-answers.the_most_common_wrong_pair",
    pair = names(table)[which.max(table)],
    n = max(table)
  )
}
