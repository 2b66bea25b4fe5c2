# One sentence for what a table or a picture shows, made from its data.

say_spread <- function(students) {
  share <- students$share[!is.na(students$share)]
  if (!length(share)) return("Nobody has a score yet.")
  levels <- names(settings_of(students)$levels)
  lowest <- sum(students$level == levels[1], na.rm = TRUE)
  top <- levels[max(1, length(levels) - 1)]
  above <- sum(match(students$level, levels) >= match(top, levels), na.rm = TRUE)
  half <- if (length(share) == 1) paste0("The one student scored ", percent(share))
  else paste0("Half of ", length(share), " students scored ", percent(stats::median(share)), " or more")
  if (length(levels) < 2) return(paste0(half, "."))
  paste0(half, "; ", above, " reached ", top, if (above > 0 && match(top, levels) < length(levels)) " or above",
    ", ", lowest, " ", if (lowest == 1) "is" else "are", " still ", levels[1], ".")
}

say_items <- function(items, look) {
  if (!nrow(look)) {
    return(paste0("Nothing stands out among ", count_of(length(unique(items$item)), "item"), "; the hardest is ", hardest(items), "."))
  }
  pressing <- look$item[look$rule %in% c("key", "reversed")]
  if (length(pressing)) {
    return(paste0(join_words(unique(pressing)), " ", if (length(unique(pressing)) == 1) "sets" else "set",
      " the strong students back: read ", if (length(unique(pressing)) == 1) "it" else "them", " again before trusting the scores."))
  }
  paste0("Look first at ", join_words(utils::head(unique(look$item), 3)), ".")
}

hardest <- function(items) {
  items <- items[order(items$difficulty), ]
  paste0(items$item[1], " (", percent(items$difficulty[1]), " of its points earned)")
}

say_options <- function(options, item, look) {
  mine <- look[look$item == item, ]
  if (nrow(mine)) return(paste0(item, ": ", mine$what[1], " ", mine$do[1]))
  right <- options[options$item == item & options$key, ]
  wrong <- options[options$item == item & !options$key, ]
  top <- wrong[which.max(wrong$count), ]
  paste0(item, ": ", if (nrow(right)) paste0(percent(max(right$share)), " gave the right answer ", right$option[which.max(right$share)]) else "No answer is marked right",
    if (nrow(top) && top$count > 0) paste0("; the most common other one is ", top$option, " (", percent(top$share), ")"), ".")
}

say_grid <- function(students, items) {
  items <- items[order(items$difficulty), ]
  ends <- unique(items$item[c(1, nrow(items))])
  if (length(ends) < 2) return(paste0("All answers to ", ends, "."))
  paste0("From ", ends[1], ", where most went wrong, to ", ends[2], ", where most went right; the strongest students on top.")
}

say_standards <- function(standards, tree) {
  table <- standards[!is.na(standards$share), ]
  leaves <- table[!table$code %in% tree$parent, ]
  if (nrow(leaves)) table <- leaves
  if (!nrow(table)) return("No standard has a score yet.")
  class <- if (anyDuplicated(table$code)) weighted_by_code(table) else table[c("code", "title", "share")]
  class <- class[order(class$share), ]
  name <- function(row) paste0(class$code[row], if (!is.na(class$title[row])) paste0(" (", class$title[row], ")"))
  if (nrow(class) == 1) return(paste0(name(1), ": ", percent(class$share[1]), " on average."))
  paste0("Weakest is ", name(1), " with ", percent(class$share[1]), ", strongest ", name(nrow(class)), " with ",
    percent(class$share[nrow(class)]), ".")
}

weighted_by_code <- function(table) {
  first <- table[!duplicated(table$code), c("code", "title")]
  sums <- rowsum(cbind(table$n, table$n * table$share), factor(table$code, first$code))
  cbind(first, share = sums[, 2] / sums[, 1])
}
