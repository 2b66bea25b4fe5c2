#' Keep, mend or drop: a verdict on each question
#'
#' Gives every item a verdict with its reasons, and says in two sentences what
#' happened and what to do. A rule speaks against an item only when the
#' uncertainty of the figures allows it, and never with fewer students than the
#' threshold `few_students`.
#'
#' @param sitting A [sitting()], or a tally of one.
#' @param before With the setting `purpose: mastery`: the sitting of the same
#'   items before teaching.
#' @return A data frame, a row an item, those that need most first:
#'   * `item`, `verdict`: `check_key`, `drop_or_rewrite`, `look`, `too_few`,
#'     `mastered` or `sound`; `reasons`: the rules that hold, with `;` between;
#'     `what`, `do`: what happened, and what to do, in words;
#'   * `n`, `difficulty`, `difficulty_low`, `difficulty_high`, `discrimination`,
#'     `mastery_index`: see [summarise_items()]; with `before` also `change`, the
#'     difficulty now minus before (Cox & Vargas 1966), with its 95% interval
#'     `change_low`, `change_high` from the intervals of both (Newcombe 1998);
#'   * `rule`: which rule gave the verdict.
#'
#'   The rules, in order (names of settings under `thresholds` in brackets):
#'   * *key*: with another option as the key the answers are so much likelier that of
#'     100 sound tests about one has such an item (see [review_key()]; from 15
#'     students);
#'   * *reversed*: the discrimination is below 0 beyond chance, over all items (Holm
#'     1979), and the upper end of its interval below `surely_weak`; for mastery
#'     *misleads*, where the mastery index is negative too;
#'   * *pulls*: an option's correlation with the rest is above 0 beyond chance, over all
#'     wrong options of the test (Holm 1979);
#'   * *idea*, *shared*: wrong answers pile up on one option, with or without a
#'     misconception, beyond chance over all items (see [summarise_options()]; Holm
#'     1979), and at least `least_shared` of the students chose it;
#'   * *guessed*, *hard*: difficulty below `hard`, and the wrong answers spread or
#'     not;
#'   * for mastery, *unchanged*: the change is below .10, and *unlearnt*: the difficulty
#'     is below `mastery_cut`, both beyond chance over all items (Holm 1979);
#'   * *near_miss*: a misspelt right answer, from 3 students and the share
#'     `least_near_miss`;
#'   * for ranking, *weak*: the discrimination is below `marginal` beyond chance, over
#'     all items (Holm 1979);
#'   * *time*: more than `least_unreached` of the students did not reach it;
#'     *waiting*, *waits*: many or some answers wait for a mark; *nobody*, *few*:
#'     no points at all, or fewer students than `few_students`;
#'   * *mastered*: difficulty from `mastered` with the lower end from `easy`;
#'   * *sound*: discrimination from `good` and above 0 beyond chance, over all items
#'     (Benjamini & Hochberg 1995); *middling*: not so; *taught*: when the test is for
#'     mastery.
#'
#'   So whatever a rule says against an item has, where nothing is wrong with any, a
#'   chance of at most 5% to be said in a whole test (1% of a key): see
#'   `vignette("accuracy")`.
#' @references Benjamini, Y. & Hochberg, Y. (1995). Controlling the false discovery rate.
#' *Journal of the Royal Statistical Society, Series B* 57, 289-300.
#'
#' Holm, S. (1979). A simple sequentially rejective multiple test procedure.
#' *Scandinavian Journal of Statistics* 6, 65-70.
#'
#' Cox, R. C. & Vargas, J. S. (1966). *A comparison of item selection techniques
#' for norm-referenced and criterion-referenced tests*. University of Pittsburgh.
#'
#' Newcombe, R. G. (1998). Interval estimation for the difference between
#' independent proportions. *Statistics in Medicine* 17, 873-890.
#' @section Errors: `pregunta_error_call` when `before` has none of the items.
#' @export
#' @examples
#' review <- review_items(read_sitting(demo_path()))
#' review
#' subset(review, verdict == "check_key", c(item, what, do))
review_items <- function(sitting, before = NULL) {
  tally <- as_tally(sitting, NULL)
  items <- summarise_items(tally)
  if (!is.null(before)) {
    items <- with_change(items, summarise_items(before))
  }
  review_figures(items, options_to_judge(tally))
}

# With what only a few chose: a verdict may rest on it and does not show it.
options_to_judge <- function(sitting, near_misses = TRUE) {
  tally <- as_tally(sitting, NULL)
  tally$about$settings$smallest_group <- 1
  summarise_options(tally, near_misses = near_misses)
}

# Cox & Vargas 1966; the interval is Newcombe's from the two of the difficulties.
with_change <- function(items, before) {
  at <- match(items$item, before$item)
  if (all(is.na(at))) {
    abort_pregunta(
      "call",
      say("judge-review.the_sitting_before_has"),
      say("judge-review.items", item = some_of(before$item)),
      say("judge-review.give_the_sitting_of")
    )
  }
  earlier <- before[at, ]
  items$before <- earlier$difficulty
  items$change <- items$difficulty - earlier$difficulty
  bounds <- function(table) {
    list(low = table$difficulty_low, high = table$difficulty_high)
  }
  items[c("change_low", "change_high")] <- share_difference(
    items$difficulty,
    bounds(items),
    earlier$difficulty,
    bounds(earlier)
  )
  items
}

# From the summaries of items and options of one sitting.
review_figures <- function(items, options) {
  settings <- settings_of(items)
  rules <- names(review_rules)
  # What is withheld has no part in it.
  options <- as.data.frame(options)[!is.na(options$count), ]
  of_item <- split(seq_len(nrow(options)), factor(options$item, items$item))
  rivals <- rivals_of_items(items, options)
  claims <- claims_of_items(items, options, rivals, settings)
  options$key_ratio <- rivals$ratio
  found <- each_row(items, function(row) {
    review_signs(
      lapply(items, `[`, row),
      lapply(options, `[`, of_item[[row]]),
      lapply(claims, `[`, row),
      settings
    )
  })
  first <- vapply(
    found,
    function(signs) match(TRUE, rules %in% signs$held),
    0L
  )
  verdict <- unname(review_rules[first])
  shown <- order(
    match(verdict, verdicts),
    first,
    items$difficulty
  )
  turn <- integer(length(first))
  turn[shown] <- stats::ave(
    first[shown],
    first[shown],
    FUN = seq_along
  )
  said <- lapply(seq_along(found), function(row) {
    say_rule(rules[first[row]], turn[row], found[[row]])
  })
  pick <- function(field) vapply(said, `[[`, "", field)
  figures <- intersect(
    c(
      "n", "difficulty", "difficulty_low", "difficulty_high", "discrimination",
      "mastery_index", "change", "change_low", "change_high"
    ),
    names(items)
  )
  table <- data.frame(
    item = items$item,
    verdict = verdict,
    reasons = vapply(
      found,
      function(signs) all_reasons(signs$held, rules),
      ""
    ),
    what = pick("what"),
    do = pick("do"),
    items[figures],
    rule = rules[first]
  )
  new_summary(table[shown, ], "review", settings, NULL)
}

# The reasons of all rules that hold, but those that another explains; what is
# good goes without saying where something is not.
all_reasons <- function(held, rules) {
  held <- rules[rules %in% held]
  held <- setdiff(held, unlist(explained_by[held]))
  praise <- c("mastered", "sound", "middling", "taught", "few", "nobody")
  if (!all(held %in% praise)) {
    held <- setdiff(held, praise)
  }
  if (all(held %in% praise)) {
    held <- held[1]
  }
  paste(held, collapse = "; ")
}

# item: its row of the summary; options: the rows of its options; claims: its row of
# claims_of_items(); as lists.
# held: the names of the rules that hold; values: what the sentences need.
review_signs <- function(item, options, claims, settings) {
  thresholds <- settings$thresholds
  mastery <- settings$purpose == "mastery"
  wrong <- which(is_wrong(options))
  top <- wrong[which.max(options$count[wrong])]
  rival <- claims$rival[!is.na(claims$rival)]
  puller <- claims$puller[!is.na(claims$puller)]
  near_miss <- wrong[
    which(
      options$near_miss[wrong] %in% "spelling" &
        options$count[wrong] >= pmax(3, thresholds$least_near_miss * item$n)
    )
  ]
  near_miss <- near_miss[which.max(options$count[near_miss])]
  waiting <- sum(options$count[options$state == "waiting"])
  enough <- !is.na(item$n) && item$n >= thresholds$few_students
  is <- function(condition) isTRUE(enough && condition)
  pattern <- if (length(top)) options$pattern[top] else NA_character_
  shared <- claims$shared && options$share[top] >= thresholds$least_shared
  coded <- length(top) && !is.na(options$misconception[top])
  hard <- item$difficulty < thresholds$hard
  signs <- c(
    dropped = identical(item$reason, "dropped"),
    key = length(rival) > 0,
    reversed = is(
      !mastery &&
        claims$reversed &&
        item$discrimination_high < thresholds$surely_weak
    ),
    misleads = is(mastery && claims$reversed && item$mastery_index < 0),
    pulls = is(length(puller) > 0),
    idea = is(shared && coded),
    shared = is(shared && !coded),
    guessed = is(hard && pattern %in% "spread"),
    hard = is(hard && !pattern %in% "spread"),
    unchanged = is(
      mastery && claims$unchanged && item$difficulty < thresholds$easy
    ),
    unlearnt = is(mastery && claims$unlearnt),
    near_miss = is(length(near_miss) > 0),
    weak = is(!mastery && claims$weak),
    waiting = waiting > thresholds$least_unreached * item$n,
    time = is(item$not_reached / item$n > thresholds$least_unreached),
    waits = waiting > 0 && waiting <= thresholds$least_unreached * item$n,
    nobody = !isTRUE(item$n > 0),
    few = !enough,
    mastered = is(
      item$difficulty >= thresholds$mastered - 1e-9 &&
        item$difficulty_low >= thresholds$easy
    ),
    sound = is(
      !mastery && claims$sound && item$discrimination >= thresholds$good
    ),
    middling = !mastery,
    taught = mastery
  )
  # What only a few chose is not said where groups of a few are not shown.
  told <- list(
    pulls = puller,
    near_miss = near_miss,
    idea = top,
    shared = top
  )
  few <- names(told)[
    vapply(told, function(row) {
      any(options$count[row] < settings$smallest_group)
    }, TRUE)
  ]
  if (isTRUE(item$not_reached < settings$smallest_group)) {
    few <- c(few, "time")
  }
  held <- setdiff(names(signs)[signs], few)
  at <- switch(held[1],
    key = rival,
    pulls = puller,
    near_miss = near_miss,
    top
  )
  values <- review_values(item, options, at, waiting, settings)
  list(held = held, values = values)
}
