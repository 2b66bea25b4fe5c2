# One sentence for what a table or a picture shows, made from its data.

# humps: where they are known already, see humps_of_test().
say_spread <- function(students, humps = NULL) {
  share <- students$share[!is.na(students$share)]
  if (!length(share)) return(say("judge-sentences.nobody_has_a_score"))
  # Of levels with a few in them only the middle is said.
  if (settings_of(students)$smallest_group > 1) {
    return(paste0(say_middle(share), "."))
  }
  levels <- names(settings_of(students)$levels)
  lowest <- sum(students$level == levels[1], na.rm = TRUE)
  top <- levels[max(1, length(levels) - 1)]
  above <- sum(
    match(students$level, levels) >= match(top, levels),
    na.rm = TRUE
  )
  if (is.null(humps)) {
    humps <- humps_of_students(students, share)
  }
  if (humps$humps %in% 2) {
    return(say_humps(
      humps$lower_n,
      length(share) - humps$lower_n,
      percent(humps$lower_mean),
      percent(humps$upper_mean),
      humps$between_n
    ))
  }
  if (length(levels) < 2) return(paste0(say_middle(share), "."))
  say(
    "judge-sentences.spread",
    middle = say_middle(share),
    above = above,
    top = top,
    or_above = above > 0 && match(top, levels) < length(levels),
    lowest = lowest,
    level = level_words(levels[1])
  )
}

# Of a few students it is said how many, since half of them can be no number.
say_middle <- function(share) {
  middle <- stats::median(share)
  n <- length(share)
  if (n == 1) {
    return(say(
      "judge-sentences.the_one_student_scored",
      share = percent(share)
    ))
  }
  if (max(share) - min(share) < 1e-9) {
    return(say(
      "judge-sentences.all_students_scored",
      n = n,
      middle = percent(middle)
    ))
  }
  who <- if (n < 10) {
    say(
      "judge-sentences.of",
      some = sum(share > middle - 1e-9),
      n = n
    )
  } else {
    say("judge-sentences.half_of", n = n)
  }
  say(
    "judge-sentences.students_scored_or_more",
    who = who,
    middle = percent(middle)
  )
}

# How many are in each band of the school's own scale, the highest first, and what
# rounding does at an edge.
say_bands <- function(students) {
  settings <- settings_of(students)
  if (is.null(settings$bands) || is.null(students$band)) return(NULL)
  bands <- rev(names(settings$bands))
  counts <- table(factor(students$band, bands))
  top <- bands[1]
  step <- settings$rounding
  first <- ceiling(unlist(settings$bands)[[top]] / step - 1e-9) * step
  edge <- first - step / 2
  counted <- paste(bands, counts)
  c(
    say("judge-sentences.bands", bands = join_words(counted)),
    if (settings$rounding > 0 && length(bands) > 1) {
      say(
        "judge-sentences.scores_are_rounded_to",
        rounding = plain_points(100 * settings$rounding),
        edge = plain_points(100 * edge),
        top = top
      )
    }
  )
}

say_items <- function(items, look) {
  if (!nrow(look)) {
    return(say(
      "judge-sentences.nothing_stands_out_among",
      n = length(unique(items$item)),
      items = hardest(items)
    ))
  }
  pressing <- unique(look$item[look$rule %in% c("key", "reversed")])
  if (length(pressing) == 1) {
    return(say("judge-sentences.sets_the_strong_students", pressing = pressing))
  }
  if (length(pressing)) {
    return(say(
      "judge-sentences.set_the_strong_students",
      pressing = join_words(some_named(pressing))
    ))
  }
  first <- utils::head(unique(look$item), 3)
  say("judge-sentences.look_first_at", item = join_words(first))
}

# The first few, and how many more.
some_named <- function(x, most = 5) {
  if (length(x) <= most) {
    x
  } else {
    c(utils::head(x, most), say("judge-sentences.more", n = length(x) - most))
  }
}

hardest <- function(items) {
  items <- items[order(items$difficulty), ]
  say(
    "judge-sentences.of_its_points_earned",
    item = items$item[1],
    difficulty = percent(items$difficulty[1])
  )
}

say_options <- function(options, item, look) {
  mine <- look[look$item == item, , drop = FALSE]
  if (nrow(mine)) return(paste0(item, ": ", mine$what[1], " ", mine$do[1]))
  table <- options[options$item == item & options$state != "waiting", ]
  if (!sum(table$count, na.rm = TRUE)) {
    return(say("judge-sentences.nobody_answered_it", item = item))
  }
  if (is_marked(table$type[1])) return(say_marks(table, item))
  right <- table[table$key, ]
  wrong <- table[is_wrong(table) & table$count > 0, ]
  top <- wrong[which.max(wrong$count), ]
  in_parts <- nrow(table) && is_answered(table$type[1], "parts")
  say(
    "judge-sentences.the_most_common_wrong",
    item = item,
    right = if (in_parts) say_parts(right) else say_right(right),
    in_parts = in_parts,
    option = top$option,
    share = percent(top$share),
    any_wrong = nrow(top)
  )
}

# What was given by hand is no answer: a mark or a rating.
say_marks <- function(table, item) {
  given <- table[table$state == "answered", ]
  most <- given$option[given$key]
  often <- given[which.max(given$count), ]
  points <- read_number(given$option)
  say(
    "judge-sentences.marks",
    item = item,
    mean = number(sum(points * given$count) / sum(given$count), 1),
    most = most,
    often = often$option,
    share = percent(often$share),
    full = percent(given$share[given$key])
  )
}

say_right <- function(right) {
  if (!nrow(right)) return(say("judge-sentences.nobody_gave_full_marks"))
  say(
    "judge-sentences.gave_a_right_answer",
    n = percent(sum(right$share)),
    n_right = nrow(right),
    option = join_words(right$option)
  )
}

say_parts <- function(right) {
  least <- right[which.min(right$share), ]
  say(
    "judge-sentences.of_what_the_key",
    option = least$option,
    share = percent(least$share)
  )
}

say_grid <- function(students, items) {
  items <- items[order(items$difficulty), ]
  ends <- unique(items$item[c(1, nrow(items))])
  if (length(ends) < 2) {
    return(say("judge-sentences.all_answers_to", ends = ends))
  }
  say(
    "judge-sentences.from_where_most_went",
    low = ends[1],
    high = ends[2]
  )
}

say_effect_on_one <- function(tried) {
  score <- function(when) {
    if (is.na(tried[[paste0("share_", when)]])) {
      return(say("judge-sentences.no_score"))
    }
    say(
      "judge-sentences.of_2",
      points = plain_points(tried[[paste0("points_", when)]]),
      open = plain_points(tried[[paste0("open_", when)]]),
      share = percent(tried[[paste0("share_", when)]]),
      level = level_words(tried[[paste0("level_", when)]])
    )
  }
  say(
    "judge-sentences.goes_from_to",
    name = if (is.na(tried$name)) tried$student else tried$name,
    before = score("before"),
    after = score("after")
  )
}

# Who moves by a change of the questions, and the mean.
say_effect <- function(tried) {
  test <- attr(tried, "test")
  at <- function(figure, when) test[[when]][test$figure == figure]
  if (!nrow(tried)) return(say("judge-sentences.no_students_points_change"))
  if (nrow(tried) == 1) return(say_effect_on_one(tried))
  up <- sum(tried$share_after > tried$share_before + 1e-9, na.rm = TRUE)
  down <- sum(tried$share_after < tried$share_before - 1e-9, na.rm = TRUE)
  moved <- function(column) {
    sum(
      !(tried[[paste0(column, "_before")]] == tried[[
        paste0(column, "_after")
      ]]),
      na.rm = TRUE
    )
  }
  mean_then <- function(when) {
    say(
      "judge-sentences.mean_of",
      mean = number(at("mean", when), 1),
      points = plain_points(at("points", when)),
      share = percent(at("mean_share", when))
    )
  }
  bands <- !is.null(tried$band_before)
  say(
    "judge-sentences.scores_move",
    changed = nrow(tried),
    n = attr(tried, "n"),
    up = up,
    down = down,
    levels = moved("level"),
    has_bands = bands,
    bands = if (bands) moved("band"),
    before = mean_then("before"),
    after = mean_then("after")
  )
}
