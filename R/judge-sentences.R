# One sentence for what a table or a picture shows, made from its data.

say_spread <- function(students) {
  share <- students$share[!is.na(students$share)]
  if (!length(share)) return("Nobody has a score yet.")
  levels <- names(settings_of(students)$levels)
  lowest <- sum(students$level == levels[1], na.rm = TRUE)
  top <- levels[max(1, length(levels) - 1)]
  above <- sum(match(students$level, levels) >= match(top, levels), na.rm = TRUE)
  humps <- two_humps(share, rep(1, length(share)))
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
  paste0(
    say_middle(share), "; ", nobody_or(above), " reached ", top,
    if (above > 0 && match(top, levels) < length(levels)) " or above", ", ",
    nobody_or(lowest), if (lowest > 1) " are" else " is", " still ", levels[1], "."
  )
}

# Of a few students it is said how many, since half of them can be no number.
say_middle <- function(share) {
  middle <- stats::median(share)
  n <- length(share)
  if (n == 1) return(paste0("The one student scored ", percent(share)))
  if (max(share) - min(share) < 1e-9) {
    return(paste0("All ", n, " students scored ", percent(middle)))
  }
  who <- if (n < 10) paste(sum(share > middle - 1e-9), "of", n) else paste("Half of", n)
  paste0(who, " students scored ", percent(middle), " or more")
}

nobody_or <- function(n) if (n == 0) "nobody" else n

# How many are in each band of the school's own scale, the highest first, and what
# rounding does at an edge.
say_bands <- function(students) {
  settings <- settings_of(students)
  if (is.null(settings$bands) || is.null(students$band)) return(NULL)
  bands <- rev(names(settings$bands))
  counts <- table(factor(students$band, bands))
  top <- bands[1]
  edge <- unlist(settings$bands)[[top]] - settings$rounding / 2
  c(
    paste0("Bands: ", join_words(paste0(bands, " ", counts)), "."),
    if (settings$rounding > 0 && length(bands) > 1) {
      paste0(
        "Scores are rounded to steps of ", plain_points(100 * settings$rounding),
        "% before they are compared: ", plain_points(100 * edge), "% counts as ", top, "."
      )
    }
  )
}

say_items <- function(items, look) {
  if (!nrow(look)) {
    return(paste0(
      "Nothing stands out among ", count_of(length(unique(items$item)), "item"),
      "; the hardest is ", hardest(items), "."
    ))
  }
  pressing <- unique(look$item[look$rule %in% c("key", "reversed")])
  if (length(pressing) == 1) {
    return(paste0(
      pressing,
      " sets the strong students back: read it again before trusting the scores."
    ))
  }
  if (length(pressing)) {
    return(paste0(
      join_words(some_named(pressing)),
      " set the strong students back: read them again before trusting the scores."
    ))
  }
  paste0("Look first at ", join_words(utils::head(unique(look$item), 3)), ".")
}

# The first few, and how many more.
some_named <- function(x, most = 5) {
  if (length(x) <= most) x else c(utils::head(x, most), paste(length(x) - most, "more"))
}

hardest <- function(items) {
  items <- items[order(items$difficulty), ]
  paste0(items$item[1], " (", percent(items$difficulty[1]), " of its points earned)")
}

say_options <- function(options, item, look) {
  mine <- look[look$item == item, , drop = FALSE]
  if (nrow(mine)) return(paste0(item, ": ", mine$what[1], " ", mine$do[1]))
  table <- options[options$item == item & options$state != "waiting", ]
  right <- table[table$key, ]
  wrong <- table[is_wrong(table) & table$count > 0, ]
  top <- wrong[which.max(wrong$count), ]
  in_parts <- nrow(table) && is_answered(table$type[1], "parts")
  paste0(
    item,
    ": ",
    if (in_parts) say_parts(right) else say_right(right),
    if (nrow(top)) {
      paste0(
        "; the most common ", if (in_parts) "wrong part" else "other answer", " is ",
        top$option, " (", percent(top$share), ")"
      )
    },
    "."
  )
}

say_right <- function(right) {
  if (!nrow(right)) return("nobody gave full marks a chance")
  paste0(
    percent(sum(right$share)), " gave ",
    if (nrow(right) == 1) "the right answer " else "a right answer, ",
    join_words(right$option)
  )
}

say_parts <- function(right) {
  least <- right[which.min(right$share), ]
  paste0(
    "of what the key asks, ", least$option, " was missed most (", percent(least$share),
    " had it)"
  )
}

say_grid <- function(students, items) {
  items <- items[order(items$difficulty), ]
  ends <- unique(items$item[c(1, nrow(items))])
  if (length(ends) < 2) return(paste0("All answers to ", ends, "."))
  paste0(
    "From ", ends[1], ", where most went wrong, to ", ends[2],
    ", where most went right; the strongest students on top."
  )
}

say_effect_on_one <- function(tried) {
  score <- function(when) {
    if (is.na(tried[[paste0("share_", when)]])) return("no score")
    paste0(
      plain_points(tried[[paste0("points_", when)]]), " of ",
      plain_points(tried[[paste0("open_", when)]]), " (",
      percent(tried[[paste0("share_", when)]]), ", ", tried[[paste0("level_", when)]], ")"
    )
  }
  paste0(
    if (is.na(tried$name)) tried$student else tried$name, " goes from ", score("before"),
    " to ", score("after"), "."
  )
}

# Who moves by a change of the questions, and the mean.
say_effect <- function(tried) {
  test <- attr(tried, "test")
  at <- function(figure, when) test[[when]][test$figure == figure]
  if (!nrow(tried)) return("No student's points change.")
  if (nrow(tried) == 1) return(say_effect_on_one(tried))
  up <- sum(tried$share_after > tried$share_before + 1e-9, na.rm = TRUE)
  down <- sum(tried$share_after < tried$share_before - 1e-9, na.rm = TRUE)
  moved <- function(column) {
    sum(
      !(tried[[paste0(column, "_before")]] == tried[[paste0(column, "_after")]]),
      na.rm = TRUE
    )
  }
  bands <- if (!is.null(tried$band_before)) paste0(", ", moved("band"), " another band")
  paste0(
    nrow(tried), " of ", count_of(attr(tried, "n"), "student"), ": the score of ", up,
    " rises, of ", down, " falls; ", moved("level"), " get another level", bands,
    ". The mean goes from ", number(at("mean", "before"), 1), " of ",
    plain_points(at("points", "before")), " (", percent(at("mean_share", "before")),
    ") to ", number(at("mean", "after"), 1), " of ", plain_points(at("points", "after")),
    " (", percent(at("mean_share", "after")), ")."
  )
}
