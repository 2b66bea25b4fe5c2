# What the standards come to, and what sets groups apart, in sentences.

say_standards <- function(standards, tree) {
  table <- standards[!is.na(standards$share), ]
  by <- attr(standards, "by")
  leaves <- table[!table$code %in% tree$parent, ]
  if (nrow(leaves)) {
    table <- leaves
  }
  if (!nrow(table)) return(say("judge-standards.no_standard_has_a"))
  if (!is.null(by) && length(unique(group_paths(table, by))) > 1) {
    return(say_apart(table, by))
  }
  if (anyDuplicated(table$code)) {
    table <- table[group_depths(table, by) == 1, ]
  }
  table <- table[order(table$share), ]
  name <- function(row) {
    paste0(
      table$code[row],
      if (!is.na(table$title[row])) paste0(" (", table$title[row], ")")
    )
  }
  first <- which(emphasis_of(table$code, tree) %in% "priority")
  if (nrow(table) == 1) {
    return(say(
      "judge-standards.on_average",
      name = name(1),
      share = percent(table$share[1])
    ))
  }
  last <- nrow(table)
  if (table$share[last] - table$share[1] < 1e-9) {
    return(say("judge-standards.all_the_same", share = percent(table$share[1])))
  }
  say(
    "judge-standards.weakest_is_with_strongest",
    weakest = name(1),
    low = percent(table$share[1]),
    hardest = say_hardest(table$shown_by[1]),
    strongest = name(last),
    high = percent(table$share[last]),
    any_priority = length(first) > 1 && first[1] > 1,
    priority = name(first[1]),
    priority_low = percent(table$share[first[1]]),
    priority_hardest = say_hardest(table$shown_by[first[1]])
  )
}

emphasis_of <- function(codes, standards) {
  standards$emphasis[match(codes, standards$code)]
}

# The questions that show it, where there is a choice.
say_hardest <- function(shown_by) {
  items <- strsplit(shown_by, ";", fixed = TRUE)[[1]]
  if (length(items) > 1) {
    say("judge-standards.hardest", items = join_words(utils::head(items, 2)))
  }
}

thin_items <- 3

say_thin <- function(standards) {
  thin <- unique(standards$code[standards$items < thin_items])
  if (!length(thin)) return(character())
  say(
    "judge-standards.thin_evidence_fewer_than",
    thin_items = thin_items,
    thin = some_of(thin, 8)
  )
}

# Cuts that are not those of the test.
say_cuts <- function(standards) {
  settings <- settings_of(standards)
  own <- intersect(names(settings$cuts), standards$code)
  if (!length(own)) return(character())
  said <- vapply(settings$cuts[own], function(cuts) {
    differ <- unlist(cuts) != unlist(settings$levels)
    paste(
      names(cuts)[differ], "from", percent(unlist(cuts)[differ]),
      collapse = ", "
    )
  }, "")
  say(
    "judge-standards.cuts_of_its_own",
    own = paste0(own, ", ", said, collapse = "; ")
  )
}

# Levels that nobody could be in, so that their 0% is no news.
say_out_of_reach <- function(standards) {
  found <- as.data.frame(standards)[
    !is.na(standards$share),
    c("code", "out_of_reach")
  ]
  found <- unique(found[!is.na(found$out_of_reach), , drop = FALSE])
  if (!nrow(found)) return(character())
  codes <- split_in_order(found$code, found$out_of_reach)
  levels <- strsplit(names(codes), ";", fixed = TRUE)
  say(
    "judge-standards.nobody_could_be",
    levels = vapply(lapply(levels, level_words), join_words, "", "or"),
    codes = vapply(codes, join_some, "", 8)
  )
}

# By student: where most are in the lowest level, and how many are nowhere in it.
say_lowest <- function(standards, lowest) {
  low <- standards[standards$level %in% lowest, ]
  lowest <- level_words(lowest)
  students <- length(unique(standards$student))
  if (!nrow(low)) {
    return(say(
      "judge-standards.none_of_students_is",
      students = students,
      lowest = lowest
    ))
  }
  counts <- sort(table(low$code), decreasing = TRUE)
  never <- students - length(unique(low$student))
  say(
    "judge-standards.lowest_on",
    low = counts[[1]],
    n = students,
    level = lowest,
    code = names(counts)[1],
    never = never
  )
}

# ---- groups side by side ------------------------------------------------------------

# The ends, and who differs from the others by more than chance would bring.
say_groups <- function(test) {
  by <- attr(test, "by")
  table <- test[!is.na(test$mean_share), ]
  outer <- table[group_depths(table, by) == 1, ]
  if (nrow(table) < 2) return(say("judge-standards.there_is_one_group"))
  ends <- if (nrow(outer) > 1) {
    high <- outer[which.max(outer$mean_share), ]
    low <- outer[which.min(outer$mean_share), ]
    if (high$mean_share - low$mean_share < 1e-9) {
      return(say(
        "judge-standards.all_have_the_same",
        mean_share = percent(high$mean_share)
      ))
    } else {
      say(
        "judge-standards.has_the_highest_mean",
        column = column_words(by[1]),
        high = high[[by[1]]],
        mean_share = percent(high$mean_share),
        n = high$n,
        low = low[[by[1]]],
        low_mean_share = percent(low$mean_share),
        low_n = low$n
      )
    }
  }
  beyond <- say_beyond(
    table,
    group_names(table, by),
    table$mean_share
  )
  paste(c(ends, beyond), collapse = " ")
}

say_apart <- function(table, by) {
  say_beyond(
    table,
    say(
      "judge-standards.in",
      code = table$code,
      table = group_names(table, by)
    ),
    table$share,
    say("judge-standards.on_no_standard_do")
  )
}

most_beyond <- 5

# Those beyond chance, the furthest first; `of` says what stands in each row.
say_beyond <- function(table, of, share,
                       none = say("judge-standards.nothing_differs_by_more")) {
  if (all(is.na(table$beyond_chance))) {
    return(say("judge-standards.there_are_too_few"))
  }
  found <- which(table$beyond_chance)
  if (!length(found)) return(none)
  found <- found[order(-abs(table$difference[found]))]
  # Of two groups one is to the other what the other is to it.
  difference <- table$difference[found]
  middle <- share[found] - difference / 2
  same <- duplicated(round(cbind(abs(difference), abs(middle)), 9))
  found <- found[!same]
  shown <- utils::head(found, most_beyond)
  said <- say(
    "judge-standards.the_others",
    of = of[shown],
    share = percent(share[shown]),
    share_table = percent((share - table$difference)[shown])
  )
  say(
    "judge-standards.more_than_chance_and",
    said = paste(said, collapse = "; "),
    n = length(found) - length(shown),
    any_more = length(found) > length(shown)
  )
}

# The questions under a standard or tag, the hardest first, each with its most
# chosen wrong answer and the idea behind that.
evidence_for <- function(sitting, code, tag = NULL,
                         items = summarise_items(sitting),
                         options = summarise_options(sitting, near_misses = FALSE)) {
  tree <- if (is.null(tag)) {
    standards_in_use(sitting)
  } else {
    tags_in_use(sitting, tag)
  }
  j <- tree$items[[match(code, tree$table$code)]]
  items <- as.data.frame(items)[j, ]
  wrong <- options[
    is_wrong(options) & options$count > 0 & !is_marked(options$type),
  ]
  wrong <- wrong[order(-wrong$count), ]
  wrong <- wrong[match(items$item, wrong$item), ]
  table <- data.frame(
    item = items$item,
    prompt = sitting$items$prompt[j],
    difficulty = items$difficulty,
    wrong = wrong$option,
    wrong_share = wrong$share,
    wrong_text = wrong$text,
    misconception = wrong$misconception,
    pattern = options$pattern[match(items$item, options$item)]
  )
  idea <- sitting$misconceptions$description[
    match(table$misconception, sitting$misconceptions$code)
  ]
  table$idea <- or_else(idea, table$misconception)
  table[order(table$difficulty), ]
}
