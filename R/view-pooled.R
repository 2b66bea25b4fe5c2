# Tests that ask the same questions, taken together: what a class of 30 cannot show of a
# question, 300 of them can.

# tallies: of one test each. A row a question that is to be settled when all tests that
# ask the same are taken together: of which pool, in how many tests, of how many students,
# and as review_items() has it. Tests that nobody else asks are in no pool.
view_pooled <- function(tallies) {
  mark <- vapply(tallies, questions_mark, "")
  # Of so few students that no question is judged nothing is said.
  students <- vapply(tallies, function(tally) sum(tally$bins$n), 0)
  few <- vapply(tallies, function(tally) tally$about$settings$thresholds$few_students, 0)
  enough <- vapply(split(students, mark), sum, 0) >= vapply(split(few, mark), max, 0)
  often <- intersect(names(which(table(mark) > 1)), names(which(enough)))
  pools <- lapply(unique(mark[mark %in% often]), function(one) {
    mine <- tallies[mark == one]
    pool <- pool_tallies(mine)
    look <- to_settle(review_items(pool))
    n <- rep(1L, nrow(look))
    data.frame(
      title = n_times(pool_title(mine), n),
      tests = length(mine) * n,
      students = sum(pool$bins$n) * n,
      plain_rows(look)[c("item", "verdict", "rule", "what", "do")]
    )
  })
  found <- do.call(rbind, pools)
  structure(
    if (is.null(found)) no_pooled() else found,
    pools = length(pools),
    tests = sum(mark %in% often),
    students = sum(students[mark %in% often])
  )
}

n_times <- function(x, n) rep(x, length(n))

no_pooled <- function() {
  data.frame(
    title = character(), tests = integer(), students = numeric(), item = character(),
    verdict = character(), rule = character(), what = character(), do = character()
  )
}

# The same for tests that ask the same: the wording, the key, the points and the options
# of every question, and how blanks count.
questions_mark <- function(tally) {
  about <- tally$about
  items <- about$items[c("item", "type", "key", "points", "scoring", "prompt")]
  options <- about$options[c("item", "option", "text")]
  plain <- function(table) lapply(unname(as.list(table)), as.character)
  cli::hash_obj_md5(list(
    plain(items), plain(options), as.character(about$dropped),
    about$settings[c("purpose", "blanks")]
  ))
}

# What nobody answered in one class counts where somebody did in another.
pool_tallies <- function(tallies) {
  counted <- unique(unlist(lapply(tallies, function(tally) {
    tally$items$item[tally$items$counted]
  })))
  add_tallies(lapply(tallies, with_counted, counted))
}

# The title that most of them have.
pool_title <- function(tallies) {
  titles <- vapply(tallies, function(tally) tally$about$settings$title, "")
  names(sort(-table(titles)))[1]
}
