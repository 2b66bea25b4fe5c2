# What is shown while a class works. Half a class is no class: how many have begun comes
# first, and nothing is called hard before enough have answered.

# live: the state that a face follows; people: whether students are named; of: the
# students that are shown, NULL for all. Gives
#   head     how many have begun and are done, in a sentence
#   trouble  why the picture may be old, or NULL
#   table    the questions in printed order, with `fresh`, the answers of the last half
#            minute
#   where    how many are at each question
#   stuck    who is at one question for long: student, label, item, since, limit
view_live <- function(live, people = TRUE, of = NULL) {
  if (!is.null(of)) live <- live_part(live, of)
  if (is.null(live$items) || is.null(live$cells)) {
    return(list(
      title = live$frame$settings$title,
      head = if (is.null(live$items)) {
        say("view-live.no_questions_yet")
      } else {
        say("view-live.nothing_yet")
      },
      trouble = trouble_of(live)
    ))
  }
  expected <- length(union(live$listed, live$students))
  table <- live_figures(live$cells, live$items$item, expected)
  table$fresh <- as.integer(colSums(live$now - live$cells$came <= 30, na.rm = TRUE))
  place <- live_place(live$cells$there, live$at)
  place[live$ended] <- NA
  stuck <- live_stuck(place, live$last, live$cells$took, live$now)
  table$at <- tabulate(place, nrow(table))
  list(
    title = live$frame$settings$title,
    head = live_head(length(live$students), expected, sum(is.na(place))),
    trouble = trouble_of(live),
    table = table,
    stuck = stuck_people(live, place, stuck, people),
    timed = any(!is.na(live$last))
  )
}

live_head <- function(begun, expected, done) {
  say("view-live.have_begun", n = begun, of = expected, done = done)
}

trouble_of <- function(live) {
  if (is.null(live$trouble)) return(NULL)
  say(
    "view-live.cannot_be_read_now",
    time = format(.POSIXct(live$trouble$since), "%H:%M:%S"),
    problem = live$trouble$said
  )
}

live_part <- function(live, of) {
  keep <- live$students %in% of
  part <- mget(c("students", "last", "at", "ended"), envir = live)
  c(
    lapply(part, function(x) x[keep]),
    list(
      listed = intersect(live$listed, of),
      cells = lapply(live$cells, function(x) x[keep, , drop = FALSE])
    ),
    mget(
      c("items", "frame", "names", "now", "trouble"),
      envir = live,
      ifnotfound = list(NULL)
    )
  )
}

# The longest first.
stuck_people <- function(live, place, stuck, people) {
  rows <- which(stuck$stuck)
  rows <- rows[order(-stuck$since[rows])]
  id <- live$students[rows]
  label <- rep(NA_character_, length(id))
  if (people) label <- or_else(unname(live$names[id]), id)
  data.frame(
    student = if (people) id else label,
    label = label,
    item = live$items$item[place[rows]],
    since = stuck$since[rows],
    limit = stuck$limit[rows]
  )
}

say_stuck <- function(stuck) {
  vapply(seq_len(nrow(stuck)), function(k) {
    since <- say_time_spent(stuck$since[k])
    limit <- say_time_spent(stuck$limit[k] / 2)
    if (is.na(stuck$label[k])) {
      say("view-live.somebody_is_at", item = stuck$item[k], since = since, limit = limit)
    } else {
      say(
        "view-live.is_at",
        who = stuck$label[k],
        item = stuck$item[k],
        since = since,
        limit = limit
      )
    }
  }, "")
}

# 40 s, 4 min.
say_time_spent <- function(seconds) {
  if (seconds < 100) return(say("view-live.seconds", n = round(seconds)))
  say("view-live.minutes", n = round(seconds / 60))
}

# What the signs of questions come to, in sentences; NULL where nothing can be said.
say_live_signs <- function(table) {
  missed <- table$item[table$sign == "most_miss_it"]
  had <- table$item[table$sign == "most_have_it"]
  few <- sum(table$sign == "too_few")
  c(
    if (length(missed)) {
      say(
        "live-signs.most_miss_it",
        items = join_words(missed, "and"),
        n = length(missed)
      )
    },
    if (length(had)) {
      say("live-signs.most_have_it", items = join_words(had, "and"), n = length(had))
    },
    if (few) say("view-live.too_few_yet", n = few, least = least_answers)
  )
}
