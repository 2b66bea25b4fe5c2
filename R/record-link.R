# The sittings of a record on one scale, where they share questions: each on that of the
# first it is linked to.

# sittings: as sittings_between() gives them; reference: the name of one to be taken
# first. Of each sitting: reference: the number of the one it is read on; shift, df,
# reason; figures: for each code a list of share, low, high and slope by person, NULL
# where there is none. cov: of the shifts.
link_of_record <- function(record, sittings, people, codes, standards, renamed,
                           reference = NULL) {
  n <- nrow(sittings)
  items <- items_recorded(record, sittings)
  link <- list(
    reference = rep(NA_integer_, n), shift = rep(NA_real_, n), df = rep(Inf, n),
    cov = matrix(0, n, n), reason = rep("no_shared_items", n),
    figures = vector("list", n), anchors = list()
  )
  asked <- lapply(items, function(mine) {
    items_of_codes(mine$standards, codes, standards, renamed)
  })
  left <- seq_len(n)
  first <- reference_sitting(sittings, reference)
  counts <- shared_counts(lapply(items, `[[`, "marks"))
  while (length(left)) {
    if (!first %in% left) first <- left[1]
    set <- c(first, setdiff(left, first))
    near <- counts[set, set, drop = FALSE]
    set <- set[reached_by_marks(near, nrow(items[[first]]$marks))]
    link <- link_a_set(record, sittings, people, items, asked, link, set)
    left <- setdiff(left, c(first, which(!is.na(link$reference))))
  }
  link
}

# set: sittings that share questions with the first of them, or with one that does.
link_a_set <- function(record, sittings, people, items, asked, link, set) {
  if (length(set) < 2) return(link)
  tests <- lapply(set, function(s) placed_recorded(record, sittings$id[s], items[[s]]))
  found <- link_tests(tests)
  linked <- is.na(found$reason) | vapply(tests, function(test) {
    asks_all_of(tests[[1]], same_questions(tests[[1]]$items, test$items))
  }, TRUE)
  link$reason[set[!linked]] <- found$reason[!linked]
  if (sum(linked) < 2) {
    link$reason[set[linked]] <- found$reason[!linked][1]
    return(link)
  }
  on <- set[linked]
  link$reason[on] <- NA
  link$reference[on] <- set[1]
  link$shift[set] <- found$shift
  link$df[set] <- found$df
  link$cov[set, set] <- found$cov
  anchors <- as.data.frame(found$anchors)
  if (nrow(anchors)) {
    anchors$sitting <- set[anchors$test]
    anchors$from <- set[anchors$from]
    link$anchors <- c(link$anchors, list(anchors))
  }
  link$figures[on] <- lapply(which(linked), function(k) {
    figures_on_reference(tests, k, found, asked[[set[1]]], asked[[set[k]]], people)
  })
  link
}

reference_sitting <- function(sittings, reference) {
  if (is.null(reference)) return(1L)
  at <- match(reference, sittings$name)
  if (!is.na(at)) return(at)
  abort_pregunta(
    "call",
    say("record-link.no_such_sitting", name = quoted(reference)),
    NULL,
    did_you_mean(reference, sittings$name)
  )
}

# Of each sitting its items with what makes them the same elsewhere.
items_recorded <- function(record, sittings) {
  table <- ask_record(
    record,
    paste(
      "SELECT sitting, place, item, type, key, points, scoring, standards, prompt, mark",
      "FROM pregunta_item ORDER BY sitting, place"
    )
  )
  lapply(sittings$id, function(id) {
    mine <- table[table$sitting == id, ]
    list(marks = item_marks(mine, mine$mark), standards = mine$standards)
  })
}

# How many questions each two of some tests share, as same_questions() has it.
shared_counts <- function(marks) {
  test <- rep(seq_along(marks), vapply(marks, nrow, 0L))
  all <- do.call(rbind, marks)
  known <- !is.na(all$mark)
  of_both <- function(words, rows) {
    there <- matrix(0, length(unique(words[rows])), length(marks))
    there[cbind(match(words[rows], unique(words[rows])), test[rows])] <- 1
    crossprod(there)
  }
  named <- of_both(all$mark, known & all$named)
  agreeing <- of_both(paste(all$mark, all$rule), known & all$named)
  sure <- named >= least_named & named == agreeing
  of_both(all$mark, known & !all$named) + named * sure
}

# Which of the tests share enough with the first, or with one that does. counts: see
# shared_counts(); n: how many questions the first has.
reached_by_marks <- function(counts, n) {
  enough <- counts >= least_shared
  enough[1, ] <- enough[1, ] | counts[1, ] == n
  near <- seq_len(nrow(counts)) == 1
  repeat {
    new <- near | colSums(enough[near, , drop = FALSE]) > 0
    if (identical(new, near)) return(near)
    near <- new
  }
}

# The points of a sitting, as categories.
placed_recorded <- function(record, sitting, items, least = 30) {
  rows <- ask_record(
    record,
    "SELECT person, place, points FROM pregunta_response WHERE sitting = ?",
    sitting
  )
  persons <- sort(unique(rows$person))
  marks <- items$marks
  k <- nrow(marks)
  points <- matrix(NA_real_, length(persons), k)
  points[cbind(match(rows$person, persons), rows$place)] <- round(rows$points, 9)
  values <- lapply(seq_len(k), function(j) sort(unique(points[, j])))
  category <- vapply(seq_len(k), function(j) {
    match(points[, j], values[[j]], 0L) - 1L
  }, integer(length(persons)))
  dim(category) <- dim(points)
  reason <- vapply(seq_len(k), function(j) {
    reason_for(values[[j]], sum(!is.na(points[, j])), marks$points[j], least)
  }, "")
  data <- list(
    category = category, most = pmax(0L, lengths(values) - 1L), values = values,
    reason = reason, present = seq_along(persons)
  )
  test <- new_placed_test(data, marks)
  test$persons <- persons
  test
}

# The items on each code or on one below it, by their numbers.
items_of_codes <- function(written, codes, standards, renamed) {
  if (!length(codes)) return(list())
  own <- lapply(split_codes(written), now_called, renamed)
  closed <- lapply(own, function(one) {
    if (length(one)) with_ancestors(one, standards) else character()
  })
  lapply(codes, function(code) {
    if (code == whole_code) return(seq_along(closed))
    which(vapply(closed, function(one) code %in% one, TRUE))
  })
}

# Of the k-th test, for each code: by what it asks about it, on what the first does.
figures_on_reference <- function(tests, k, found, asked, mine, people) {
  test <- tests[[k]]
  at <- match(people$id, test$persons)
  error <- sqrt(max(0, found$cov[k, k]))
  shared <- same_questions(tests[[1]]$items, test$items)
  Map(function(asked, mine) {
    shares <- shares_on(tests[[1]], asked, test, mine, shared, found$shift[k], error)
    if (!is.null(shares)) lapply(shares, function(figure) figure[at])
  }, asked, mine)
}

# What is said of the links: sets, by the name of the sitting that each is read on, those
# linked to it; apart: those that are not, with the reason.
told_of_links <- function(link, sittings) {
  on <- which(!is.na(link$reference))
  others <- on[link$reference[on] != on]
  apart <- is.na(link$reference)
  list(
    sets = split(sittings$name[others], sittings$name[link$reference[others]]),
    apart = stats::setNames(link$reason[apart], sittings$name[apart]),
    titles = stats::setNames(sittings$title, sittings$name)
  )
}
