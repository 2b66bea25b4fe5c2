# Which items to look at first, why, and what to do. A rule fires only when the
# uncertainty of the figures allows it, and not at all for small classes.

look_rules <- data.frame(
  rule = c("key", "reversed", "shared", "guessed", "hard", "waiting", "time"),
  what = c(
    "{count} of {n} chose {option}, and they did better on the rest than those who chose the key {key}.",
    "The strongest third earned {high} on it, the weakest {low}.",
    "{count} of {n} chose {option}{text}{idea}.",
    "{difficulty} of the points were earned, and the wrong answers are spread evenly: most guessed.",
    "Only {difficulty} of the points were earned.",
    "{waiting} for a mark; until then counted neither way.",
    "{not_reached} did not get that far."
  ),
  do = c(
    "Check the key.",
    "Read it again: something in it misleads those who know.",
    "Many share one wrong idea: take it up with the class.",
    "It has not been learnt yet, or not been understood: teach it again.",
    "Go over it with the class.",
    "Mark them.",
    "Allow more time, or ask less."
  )
)

# An item is called reversed when its discrimination is negative and even the
# upper end of the 95% interval stays below this.
surely_weak <- 0.1
least_shared <- 0.25
least_unreached <- 0.1

# A row an item to look at, the most pressing first, the hardest of the same kind
# before the easier: item, rule, what, do.
look_first <- function(items, options) {
  thresholds <- settings_of(items)$thresholds
  found <- lapply(seq_len(nrow(items)), function(row) {
    look_at_item(lapply(items, `[`, row), lapply(options, `[`, options$item == items$item[row]), thresholds)
  })
  found <- Filter(Negate(is.null), found)
  pick <- function(field) vapply(found, function(one) one[[field]], "")
  look <- data.frame(item = pick("item"), rule = pick("rule"), what = pick("what"), do = pick("do"))
  difficulty <- items$difficulty[match(look$item, items$item)]
  look[order(match(look$rule, look_rules$rule), difficulty), ]
}

# item: its row of the summary; options: the rows of its options; as lists.
look_at_item <- function(item, options, thresholds) {
  wrong <- which(!options$key & !options$option %in% c("(blank)", "(waiting)"))
  top <- wrong[which.max(options$count[wrong])]
  rival <- rival_of_key(item, options, wrong)
  waiting <- sum(options$count[options$option == "(waiting)"])
  enough <- !is.na(item$n) && item$n >= thresholds$few_students
  reversed <- !is.na(item$discrimination) && item$discrimination < 0 && item$discrimination_high < surely_weak
  pattern <- if (length(top)) options$pattern[top] else NA
  rule <- if (enough && length(rival)) {
    "key"
  } else if (enough && reversed) {
    "reversed"
  } else if (enough && pattern %in% "shared" && options$share[top] >= least_shared) {
    "shared"
  } else if (enough && item$difficulty < thresholds$hard) {
    if (pattern %in% "spread") "guessed" else "hard"
  } else if (waiting > 0) {
    "waiting"
  } else if (enough && item$not_reached / item$n > least_unreached) {
    "time"
  }
  if (is.null(rule)) return(NULL)
  words <- look_rules[look_rules$rule == rule, ]
  values <- look_values(item, options, if (rule == "key") rival else top, waiting)
  list(item = item$item, rule = rule, what = fill_sentence(words$what, values), do = words$do)
}

# An option whose choosers did clearly better on the rest than the key's: the
# 95% intervals of the two correlations do not meet.
rival_of_key <- function(item, options, wrong) {
  key <- which(options$key)
  if (item$type != "choice" || length(key) != 1 || is.na(options$option_rest[key])) return(integer())
  high <- fisher_interval(options$option_rest[key], item$n)$high
  low <- fisher_interval(options$option_rest[wrong], item$n)$low
  clear <- wrong[which(options$option_rest[wrong] > 0 & low > high)]
  clear[which.max(options$option_rest[clear])]
}

look_values <- function(item, options, at, waiting) {
  wrapped <- function(text, before, after) if (length(text) && !is.na(text)) paste0(before, text, after) else ""
  list(
    count = options$count[at], n = item$n, option = options$option[at],
    text = wrapped(options$text[at], " (\u201c", "\u201d)"),
    idea = wrapped(options$idea[at], ", which goes with the idea \u201c", "\u201d"),
    key = paste(options$option[options$key], collapse = " or "),
    low = percent(item$low), high = percent(item$high), difficulty = percent(item$difficulty),
    waiting = paste(count_of(waiting, "answer"), if (waiting == 1) "waits" else "wait"),
      not_reached = count_of(item$not_reached, "student")
  ) |> Filter(f = length)
}

settings_of <- function(summary) {
  settings <- attr(summary, "settings")
  if (is.null(settings)) default_settings() else settings
}
