# Groups of students who need the same.

# The topics, and for each a column: need (0 for none), earned and open points or
# chances, and whether the student reaches the cut on it. wanted: the topics that
# a group may be about.
student_needs <- function(sitting, present, only = NULL) {
  topics <- rbind_topics(
    standard_topics(sitting, present),
    misconception_topics(sitting, present)
  )
  if (!nrow(topics$about)) {
    abort_pregunta(
      "call",
      say("judge-groups-need.there_is_nothing_to"),
      say("judge-groups-need.no_item_names_a"),
      say("judge-groups-need.add_a_column_standards")
    )
  }
  c(
    needs_of(topics, sitting$settings$mastery_cut),
    list(wanted = wanted_topics(topics$about$code, only))
  )
}

wanted_topics <- function(known, only) {
  for (code in setdiff(only, known)) {
    abort_pregunta(
      "call",
      say("judge-groups-need.there_is_no_standard", code = quoted(code)),
      NULL,
      did_you_mean(code, known)
    )
  }
  if (is.null(only)) rep(TRUE, length(known)) else known %in% only
}

needs_of <- function(topics, cut) {
  share <- topics$earned / topics$open
  need <- expected_shortfall(posterior_of(topics, share), cut) *
    rep(topics$about$weight, each = nrow(topics$earned))
  reached <- share >= cut - 1e-9
  need[reached | topics$open <= 0 | !topics$counts] <- 0
  c(
    topics,
    list(
      need = need,
      reached = reached & topics$open > 0,
      cut = cut
    )
  )
}

# What is known of each score: with the help of the rest of the test where it can be had,
# else by the score alone (Jeffreys' prior).
posterior_of <- function(topics, share) {
  shape <- jeffreys_shape(share, topics$trials)
  helped <- !is.na(topics$mean)
  with_help <- beta_of(topics$mean[helped], topics$variance[helped])
  shape$a[helped] <- with_help$a
  shape$b[helped] <- with_help$b
  shape
}

# Of a score with a Beta posterior below a cut.
expected_shortfall <- function(shape, cut) {
  below <- stats::pbeta(cut, shape$a, shape$b)
  mean <- shape$a / (shape$a + shape$b)
  cut * below - mean * stats::pbeta(cut, shape$a + 1, shape$b)
}

priority_weight <- 1.5

# The standards of these codes, by default the lowest in use.
standard_topics <- function(sitting, present, codes = NULL) {
  tree <- standards_in_use(sitting)
  leaf <- !tree$table$code %in% sitting$standards$parent[
    sitting$standards$code %in% tree$table$code
  ]
  at <- if (is.null(codes)) which(leaf) else match(codes, tree$table$code)
  scores <- lapply(tree$items[at], function(items) {
    row_scores(sitting$codes, sitting$cells, items)
  })
  pick <- function(field) {
    columns <- lapply(scores, function(score) score[[field]][present])
    matrix(
      as.numeric(unlist(columns)),
      length(present),
      length(scores)
    )
  }
  helped <- helped_shares(sitting, tree$items[at])
  code <- tree$table$code[at]
  emphasis <- sitting$standards$emphasis[match(code, sitting$standards$code)]
  list(
    about = data.frame(
      code = code,
      title = tree$table$title[at],
      weight = ifelse(
        emphasis %in% "priority",
        priority_weight,
        1
      ),
      kind = rep("standard", length(code))
    ),
    earned = pick("earned"),
    open = pick("open"),
    trials = trials_of_items(sitting, tree$items[at])[present, , drop = FALSE],
    mean = helped$estimate[present, , drop = FALSE],
    variance = helped$variance[present, , drop = FALSE],
    counts = matrix(TRUE, length(present), length(code))
  )
}

# Only where likely held; an answer that avoids the idea counts as earned.
misconception_topics <- function(sitting, present) {
  seen <- lapply(
    coded_cells(sitting),
    times_chosen,
    sitting = sitting,
    present = present
  )
  about <- misconceptions_in_use(sitting, names(seen))
  pick <- function(field) {
    columns <- lapply(seen, `[[`, field)
    matrix(
      as.numeric(unlist(columns)),
      length(present),
      length(seen)
    )
  }
  open <- pick("chances")
  chosen <- pick("chosen")
  likely <- unlist(lapply(seen, `[[`, "status")) %in% "likely"
  n <- nrow(about)
  list(
    about = data.frame(
      code = about$code,
      title = about$description,
      weight = rep(1, n),
      kind = rep("misconception", n)
    ),
    earned = open - chosen,
    open = open,
    trials = open,
    mean = matrix(NA_real_, length(present), length(seen)),
    variance = matrix(NA_real_, length(present), length(seen)),
    counts = matrix(likely, length(present), length(seen))
  )
}

rbind_topics <- function(a, b) {
  c(
    list(about = rbind(a$about, b$about)),
    Map(cbind, a[-1], b[-1])
  )
}

groups_by_need <- function(people, needs, here, size, least, groups) {
  need <- needs$need[here, , drop = FALSE]
  met <- need * rep(needs$wanted, each = nrow(need))
  made <- assign_to_topics(
    met,
    size,
    least,
    if (is.null(groups)) ceiling(nrow(people) / size) else groups
  )
  in_group <- !is.na(made$topic)
  ready <- !in_group & rowSums(need > 0) == 0
  role <- data.table::fcase(
    in_group, "learns",
    ready, "ready_for_more",
    default = "on_their_own"
  )
  topic <- ifelse(
    in_group,
    made$topic,
    max.col(need, ties.method = "first")
  )
  topic[ready] <- NA
  group <- made$group
  helping <- assign_helpers(
    needs$reached[here, , drop = FALSE],
    needs,
    here,
    made,
    ready
  )
  helps <- which(!is.na(helping))
  group[helps] <- helping[helps]
  topic[helps] <- made$topic[match(helping[helps], made$group)]
  role[helps] <- "helps"
  table <- data.frame(
    group = group,
    topic = needs$about$code[topic],
    title = needs$about$title[topic],
    role = role,
    people,
    because = say_needs(needs, here, topic, role)
  )
  strongest <- need[cbind(seq_along(topic), topic)]
  strongest[is.na(topic)] <- 0
  table[
    order(
      is.na(group),
      group,
      match(role, group_roles),
      -strongest
    ),
  ]
}

group_roles <- c("learns", "helps", "on_their_own", "ready_for_more")

# Which students work on which topic, and in which of its groups: the sum of the
# needs met is the largest that at most so many groups of such sizes allow. For
# given numbers of groups the rest is a transport problem, whose corners are
# whole numbers; so only the numbers need to be asked to be whole.
assign_to_topics <- function(need, size, least, groups) {
  n <- nrow(need)
  pair <- which(need > 0, arr.ind = TRUE)
  pair <- pair[order(pair[, 1], pair[, 2]), , drop = FALSE]
  topic <- rep(NA_integer_, n)
  used <- sort(unique(pair[, 2]))
  if (length(used) && length(unique(pair[, 1])) >= least) {
    chosen <- solve_topics(
      need[pair],
      pair[, 1],
      match(pair[, 2], used),
      size,
      least,
      groups
    )
    topic[pair[chosen, 1]] <- pair[chosen, 2]
  }
  list(topic = topic, group = number_groups(topic, need, size))
}

# value, student, topic: of every pair that is possible.
solve_topics <- function(value, student, topic, size, least, groups) {
  n_pairs <- length(value)
  n_topics <- max(topic)
  who <- match(student, unique(student))
  n_students <- max(who)
  # Equal cases go to those who come first.
  ranked <- value - 1e-9 * seq_along(value) / n_pairs
  column <- function(k) n_pairs + k # the number of groups on topic k
  pairs <- seq_len(n_pairs)
  topics <- seq_len(n_topics)
  rows <- rbind(
    cbind(who, pairs, 1),
    cbind(n_students + topic, pairs, 1),
    cbind(n_students + topics, column(topics), -size),
    cbind(n_students + n_topics + topic, pairs, 1),
    cbind(n_students + n_topics + topics, column(topics), -least),
    cbind(n_students + 2 * n_topics + 1, column(topics), 1)
  )
  found <- maximise(
    c(ranked, rep(0, n_topics)),
    rows,
    c(
      rep("<=", n_students + n_topics), rep(">=", n_topics), "<="
    ),
    c(rep(1, n_students), rep(0, 2 * n_topics), groups),
    whole = n_pairs + seq_len(n_topics)
  )
  which(found[seq_len(n_pairs)] > 0.5)
}

# It solves the programme exactly, and brings slam along.
package_of_groups <- "Rglpk"

# The values from 0 up that make the sum largest; rows: of the constraints, each
# with its row, column and factor.
maximise <- function(value, rows, direction, limit, whole = integer()) {
  need_package(package_of_groups)
  constraints <- slam::simple_triplet_matrix(
    rows[, 1],
    rows[, 2],
    rows[, 3],
    length(limit),
    length(value)
  )
  types <- ifelse(seq_along(value) %in% whole, "I", "C")
  solved <- Rglpk::Rglpk_solve_LP(
    value,
    constraints,
    direction,
    limit,
    types = types,
    max = TRUE
  )
  solved$solution
}

# Topics in the order of the list; a topic of several groups is dealt out evenly,
# those who need it most side by side with those who need it less.
number_groups <- function(topic, need, size) {
  group <- rep(NA_integer_, length(topic))
  last <- 0L
  for (k in sort(unique(topic[!is.na(topic)]))) {
    mine <- which(topic == k)
    mine <- mine[order(-need[mine, k])]
    parts <- ceiling(length(mine) / size)
    group[mine] <- last + rep_len(seq_len(parts), length(mine))
    last <- last + parts
  }
  group
}

# One helper a group among the students who need nothing: those who reach the
# cut on its topic, so that their scores there add up to most.
assign_helpers <- function(reached, needs, here, made, ready) {
  helping <- rep(NA_integer_, length(here))
  groups <- sort(unique(made$group))
  able <- which(ready)
  if (!length(groups) || !length(able)) return(helping)
  topic <- made$topic[match(groups, made$group)]
  score <- (needs$earned / needs$open)[here[able], topic, drop = FALSE]
  score[is.na(score) | !reached[able, topic, drop = FALSE]] <- 0
  pair <- which(score > 0, arr.ind = TRUE)
  if (!nrow(pair)) return(helping)
  pair <- pair[order(pair[, 1], pair[, 2]), , drop = FALSE]
  column <- seq_len(nrow(pair))
  of_helper <- cbind(pair[, 1], column, 1)
  of_group <- cbind(length(able) + pair[, 2], column, 1)
  n <- length(able) + length(groups)
  chosen <- maximise(
    score[pair] - 1e-9 * column / nrow(pair),
    rbind(of_helper, of_group),
    rep("<=", n),
    rep(1, n)
  )
  at <- pair[chosen > 0.5, , drop = FALSE]
  helping[able[at[, 1]]] <- groups[at[, 2]]
  helping
}

# The misconceptions that each likely holds, beside a standard.
say_held <- function(needs, here) {
  ideas <- which(needs$about$kind == "misconception")
  vapply(here, function(row) {
    held <- ideas[needs$counts[row, ideas]]
    if (!length(held)) return("")
    times <- say(
      "judge-groups-need.times",
      title = or_else(needs$about$title[held], needs$about$code[held]),
      open = (needs$open - needs$earned)[row, held]
    )
    say("judge-groups-need.chose", title = join_words(times))
  }, "")
}

say_needs <- function(needs, here, topic, role) {
  at <- cbind(here, or_else(topic, 1))
  about <- needs$about[or_else(topic, 1), ]
  earned <- needs$earned[at]
  open <- needs$open[at]
  named <- ifelse(
    is.na(about$title),
    about$code,
    cited(about$title)
  )
  on_standard <- say(
    "judge-groups-need.of_points_on",
    earned = plain_points(earned),
    open = plain_points(open),
    code = about$code,
    needs = say_held(needs, here)
  )
  chose_idea <- say(
    "judge-groups-need.chose_of_times",
    named = named,
    chosen = open - earned,
    chances = open
  )
  evidence <- data.table::fcase(
    about$kind == "standard", on_standard,
    earned == open, say("judge-groups-need.never_chose", named = named),
    rep(TRUE, length(here)), chose_idea
  )
  data.table::fcase(
    role == "learns", evidence,
    role == "helps",
    say("judge-groups-need.could_explain_it", evidence = evidence),
    role == "ready_for_more",
    say("judge-groups-need.at_or_above_on", cut = percent(needs$cut)),
    role == "on_their_own",
    say("judge-groups-need.which_no_group_is", evidence = evidence)
  )
}
