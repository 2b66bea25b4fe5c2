# Are the figures right where the truth is known? Made-up students, whose true
# figures can be worked out, sit made-up tests; the results go into the tables
# that vignette("accuracy") shows. Takes some minutes; --quick is a tenth of it, and names
# of tables (claims keys humps ...) make only those.
suppressMessages(library(pregunta))
internal <- function(name) getFromNamespace(name, "pregunta")
quick <- "--quick" %in% commandArgs(TRUE)
parts <- setdiff(commandArgs(TRUE), "--quick") # of the tables, by name; by default all
wanted <- function(part) !length(parts) || part %in% parts
tables <- list()
source("tests/testthat/helper-claims.R")
runs_of <- function(n) ceiling((if (n > 500) 300 else 800) / (if (quick) 10 else 1))
cores <- max(1, parallel::detectCores())
sizes <- c(15, 30, 100, 1000)
RNGkind("L'Ecuyer-CMRG")
set.seed(2026)

each_run <- function(runs, code) {
  found <- parallel::mclapply(seq_len(runs), function(run) code(run), mc.cores = cores)
  broken <- Filter(function(one) inherits(one, "try-error"), found)
  if (length(broken)) stop(broken[[1]])
  found
}

# ---- made-up tests -----------------------------------------------------------
k <- 20
easy <- seq(-1.6, 2, length.out = k)
steep <- rep(c(0.8, 1.2, 1.6, 1), length.out = k)
most <- rep(c(1, 1, 3, 2), length.out = k)

# Points of students of a given ability: 0 or 1, or up to `most`.
sit_test <- function(ability, graded = FALSE, items = seq_len(k)) {
  n <- length(ability)
  top <- if (graded) most[items] else rep(1, length(items))
  vapply(seq_along(items), function(j) {
    p <- plogis(steep[items[j]] * ability + easy[items[j]])
    rbinom(n, top[j], p) + 0
  }, numeric(n))
}

# A sitting of such points, without the cost of reading one each time.
shell <- function(graded, columns = seq_len(k), standards = NA) {
  top <- if (graded) most[columns] else rep(1, length(columns))
  items <- data.frame(item = paste0("I", seq_along(columns)), type = "mark", points = top)
  items$standards <- standards
  rows <- data.frame(student = paste0("s", 0:3), matrix(0:3, 4, length(columns)))
  rows[-1] <- Map(function(column, most) pmin(column, most), rows[-1], top)
  names(rows)[-1] <- items$item
  sitting(rows, items)
}
put_in <- function(quiz, x, group = NULL) {
  codes <- vapply(seq_len(ncol(x)), function(j) {
    at <- match(x[, j], quiz$cells[[j]]$points[-(1:4)])
    as.integer(at + 4L)
  }, integer(nrow(x)))
  colnames(codes) <- quiz$items$item
  quiz$codes <- codes
  quiz$students <- data.frame(
    student = as.character(seq_len(nrow(x))),
    name = NA,
    section = NA,
    status = "sat"
  )
  quiz$students$group <- group
  quiz
}

# ---- coverage of the 95% intervals ---------------------------------------------
true_figures <- function(graded, quiz) {
  whole <- put_in(quiz, sit_test(rnorm(1e6), graded))
  list(
    items = summarise_items(whole),
    test = summarise_test(whole),
    decisions = internal("summarise_decisions")(whole, cut = 0.6)
  )
}

covered <- function(low, high, true) {
  mean(low <= true + 1e-12 & true <= high + 1e-12, na.rm = TRUE)
}

coverage_of <- function(n, graded, quiz, true) {
  found <- each_run(runs_of(n), function(run) {
    drawn <- put_in(quiz, sit_test(rnorm(n), graded))
    items <- summarise_items(drawn, bootstrap = 500, seed = sample.int(1e6, 1))
    test <- summarise_test(drawn, bootstrap = 500, seed = sample.int(1e6, 1))
    # The costliest, so of fewer runs.
    decisions <- summarise_decisions(
      drawn,
      cut = 0.6,
      bootstrap = if (run <= 300) 200 else 0,
      seed = sample.int(1e6, 1)
    )
    in_items <- function(figure) {
      covered(
        items[[paste0(figure, "_low")]],
        items[[paste0(figure, "_high")]],
        true$items[[figure]]
      )
    }
    in_test <- function(figure, truth = true$test[[figure]]) {
      covered(test[[paste0(figure, "_low")]], test[[paste0(figure, "_high")]], truth)
    }
    in_decisions <- function(figure) {
      if (run > 300) return(NA)
      covered(
        decisions[[paste0(figure, "_low")]],
        decisions[[paste0(figure, "_high")]],
        true$decisions[[figure]]
      )
    }
    c(
      vapply(
        c(
          "difficulty", "discrimination", "upper_lower", "mastery_index", "alpha_without"
        ),
        in_items,
        0
      ),
      vapply(
        c(
          "mean", "alpha", "median", "sd", "lambda2", "split_half", "sem",
          if (!graded) "kr21"
        ),
        in_test,
        0
      ),
      pass = covered(decisions$pass_low, decisions$pass_high, true$decisions$pass_share),
      vapply(c("agreement", "kappa", if (!graded) "dependability"), in_decisions, 0)
    )
  })
  share <- rowMeans(do.call(cbind, found), na.rm = TRUE)
  data.frame(
    figure = names(share),
    points = if (graded) "0 to 3" else "0 or 1",
    n = n,
    coverage = unname(share),
    runs = runs_of(n)
  )
}

# Where Feldt's and Fisher's assumptions hold: normal scores.
normal_coverage <- function(n) {
  runs <- 10 * runs_of(n)
  alpha <- mean(
    replicate(runs, {
      x <- rnorm(n) + matrix(rnorm(8 * n), n)
      a <- 8 / 7 * (1 - sum(apply(x, 2, var)) / var(rowSums(x)))
      around <- internal("feldt_interval")(a, n, 8)
      covered(around$low, around$high, 8 / 7 * (1 - 16 / 72))
    })
  )
  r <- mean(
    replicate(runs, {
      x <- rnorm(n)
      y <- 0.4 * x + sqrt(1 - 0.16) * rnorm(n)
      around <- internal("fisher_interval")(cor(x, y), n)
      covered(around$low, around$high, 0.4)
    })
  )
  data.frame(
    figure = c("alpha", "discrimination"),
    points = "normal",
    n = n,
    coverage = c(alpha, r),
    runs = runs
  )
}

# A student's score on a standard: n points that are each earned with the same
# probability, which is anything from 0 to 1 among students.
standard_coverage <- function(points) {
  p <- runif(1e5)
  around <- internal("jeffreys_interval")(rbinom(1e5, points, p) / points, points)
  data.frame(
    figure = "student's standard",
    points = "0 or 1",
    n = points,
    coverage = covered(around$low, around$high, p),
    runs = 1e5
  )
}

if (wanted("coverage")) tables$coverage <- do.call(
  rbind,
  c(
    lapply(c(FALSE, TRUE), function(graded) {
      quiz <- shell(graded)
      true <- true_figures(graded, quiz)
      do.call(
        rbind,
        lapply(sizes, coverage_of, graded = graded, quiz = quiz, true = true)
      )
    }),
    lapply(sizes, normal_coverage),
    lapply(c(2, 4, 8, 16), standard_coverage)
  )
)

# ---- agreement of the pass decision ------------------------------------------------
agreement_of <- function(items, cut, n, graded) {
  columns <- rep(seq_len(k), length.out = items)
  quiz <- shell(graded, columns)
  top <- sum(if (graded) most[columns] else rep(1, items))
  passes <- function(ability) {
    rowSums(sit_test(ability, graded, columns)) >= ceiling(cut * top - 1e-9)
  }
  ability <- rnorm(2e5)
  one <- passes(ability)
  other <- passes(ability)
  same <- mean(one == other)
  chance <- mean(one)^2 + mean(!one)^2
  found <- do.call(
    rbind,
    each_run(ceiling(runs_of(n) / 4), function(run) {
      found <- summarise_decisions(
        put_in(quiz, sit_test(rnorm(n), graded, columns)),
        cut = cut
      )
      c(found$agreement, found$kappa)
    })
  )
  off <- found[, 1] - same
  data.frame(
    items = items,
    cut = cut,
    n = n,
    points = if (graded) "0 to 3" else "0 or 1",
    simulated = same,
    estimated = mean(found[, 1], na.rm = TRUE),
    within = mean(abs(off) <= 0.02, na.rm = TRUE),
    kappa_simulated = (same - chance) / (1 - chance),
    kappa = mean(found[, 2], na.rm = TRUE)
  )
}
grid <- expand.grid(
  items = c(10, 20, 40),
  cut = c(0.5, 0.6, 0.7, 0.8),
  n = c(30, 100, 1000),
  graded = c(FALSE, TRUE)
)
if (wanted("agreement")) {
  made <- Map(agreement_of, grid$items, grid$cut, grid$n, grid$graded)
  tables$agreement <- do.call(rbind, made)
}

# ---- fairness -----------------------------------------------------------------------
fairness_of <- function(n, apart, harder, graded) {
  quiz <- shell(graded)
  runs <- ceiling(runs_of(n) / 2)
  found <- each_run(runs, function(run) {
    group <- rep(c("one", "two"), each = n)
    ability <- rnorm(2 * n) - apart * (group == "two")
    x <- sit_test(ability, graded)
    first <- which.min(abs(easy))
    top <- if (graded) most[first] else 1
    x[, first] <- rbinom(
      2 * n,
      top,
      plogis(steep[first] * ability + easy[first] - harder * (group == "two"))
    )
    class <- summarise_fairness(put_in(quiz, x, group), by = "group")$class
    c(
      planted = class[first] != "negligible",
      others = mean(class[-first] != "negligible", na.rm = TRUE)
    )
  })
  share <- rowMeans(do.call(cbind, found), na.rm = TRUE)
  data.frame(
    n = n,
    apart = apart,
    points = if (graded) "0 to 3" else "0 or 1",
    harder = harder,
    planted = share[["planted"]],
    false = share[["others"]],
    runs = runs
  )
}
grid <- rbind(
  expand.grid(
    n = c(20, 50, 200, 1000),
    apart = c(0, 0.5),
    harder = 0,
    graded = c(FALSE, TRUE)
  ),
  expand.grid(n = c(20, 50, 200, 1000), apart = 0.5, harder = 1, graded = FALSE)
)
if (wanted("fairness")) {
  made <- Map(fairness_of, grid$n, grid$apart, grid$harder, grid$graded)
  tables$fairness <- do.call(rbind, made)
}

# ---- how wrong answers fall ------------------------------------------------------------
pattern_of <- function(wrong, options, top) {
  p <- if (top > 1 / options) {
    c(top, rep((1 - top) / (options - 1), options - 1))
  } else {
    rep(1 / options, options)
  }
  runs <- if (quick) 1000 else 10000
  said <- internal("wrong_patterns")(
    as.vector(rmultinom(runs, wrong, p)),
    rep(seq_len(runs), each = options),
    runs
  )
  planted <- if (top > 1 / options) "shared" else "spread"
  data.frame(
    wrong = wrong,
    options = options,
    top = p[1],
    planted = planted,
    shared = mean(said == "shared"),
    spread = mean(said == "spread"),
    mixed = mean(said == "mixed")
  )
}
grid <- expand.grid(wrong = c(10, 20, 60), options = c(3, 4), top = c(0, 0.6, 0.7))
if (wanted("patterns")) {
  made <- Map(pattern_of, grid$wrong, grid$options, grid$top)
  tables$patterns <- do.call(rbind, made)
}

# ---- verdicts on sound tests
# -----------------------------------------------------------------
# Four options each; the wrong ones equally tempting, or one twice as much.
review_of <- function(n, tempting) {
  columns <- paste0("I", seq_len(k))
  quiz <- sitting(
    data.frame(
      student = LETTERS[1:4],
      matrix(LETTERS[1:4], 4, k, dimnames = list(NULL, columns))
    ),
    data.frame(item = columns, key = "A"),
    data.frame(item = rep(columns, each = 4), option = rep(LETTERS[1:4], k))
  )
  found <- do.call(
    rbind,
    each_run(ceiling(runs_of(n) / 8), function(run) {
      right <- sit_test(rnorm(n)) == 1
      quiz$codes <- matrix(
        ifelse(right, 5L, 5L + sample(1:3, n * k, TRUE, c(tempting, 1, 1))),
        n,
        dimnames = list(NULL, columns)
      )
      quiz$students <- data.frame(
        student = as.character(seq_len(n)),
        name = NA,
        section = NA,
        status = "sat"
      )
      review <- review_items(quiz)
      c(
        wrong = mean(review$verdict %in% c("check_key", "drop_or_rewrite")),
        pulls = mean(review$rule == "pulls"),
        weak = mean(review$rule == "weak"),
        shared = mean(review$rule == "shared")
      )
    })
  )
  data.frame(n = n, tempting = tempting, items = nrow(found) * k, t(colMeans(found)))
}
if (wanted("reviews")) tables$reviews <- do.call(
  rbind,
  Map(review_of, rep(c(12, 20, 30, 100, 1000), 2), rep(1:2, each = 5))
)

# ---- coverage where two groups, two sittings or parts are compared ---------------
set.seed(2027)
compared_coverage <- function(n, graded, quiz, true) {
  runs <- ceiling(runs_of(n) / 2)
  found <- each_run(runs, function(run) {
    drawn <- two_groups(n, graded, quiz)
    fairness <- summarise_fairness(drawn, "group", reference = "one")
    parts <- if (run <= 200) {
      summarise_parts(drawn, "area", bootstrap = 200, seed = sample.int(1e6, 1))
    }
    change <- changed(n, graded, quiz)
    in_table <- function(table, figure, truth) {
      if (is.null(table)) return(NA)
      covered(table[[paste0(figure, "_low")]], table[[paste0(figure, "_high")]], truth)
    }
    c(
      if (!graded) c(delta = in_table(fairness, "delta", true$fairness$delta)),
      smd = in_table(fairness, "smd", true$fairness$smd),
      change = in_table(change, "change", true$change$change),
      gain = in_table(parts, "gain", true$parts$by_part - true$parts$by_total),
      stratified_alpha = in_table(parts, "stratified", true$parts$stratified_alpha)
    )
  })
  share <- rowMeans(do.call(cbind, found), na.rm = TRUE)
  data.frame(
    figure = names(share),
    points = if (graded) "0 to 3" else "0 or 1",
    n = n,
    coverage = unname(share),
    runs = runs
  )
}
two_groups <- function(n, graded, quiz) {
  put_in(quiz, sit_test(rnorm(n), graded), rep(c("one", "two"), length.out = n))
}
changed <- function(n, graded, quiz) {
  review <- review_items(
    put_in(quiz, sit_test(rnorm(n, 0.5), graded)),
    put_in(quiz, sit_test(rnorm(n), graded))
  )
  review[match(quiz$items$item, review$item), ]
}
if (wanted("compared")) tables$compared <- do.call(
  rbind,
  lapply(c(FALSE, TRUE), function(graded) {
    quiz <- shell(graded)
    quiz$items$area <- rep(c("a", "b"), c(14, 6))
    whole <- two_groups(1e6, graded, quiz)
    true <- list(
      fairness = summarise_fairness(whole, "group", reference = "one"),
      parts = summarise_parts(whole, "area"),
      change = changed(1e6, graded, quiz)
    )
    # Groups under 20 are not compared.
    do.call(
      rbind,
      lapply(sizes[-1] * 2, compared_coverage, graded = graded, quiz = quiz, true = true)
    )
  })
)

# ---- two groups behind an average ------------------------------------------------
# Scores on items of two groups whose observed scores are `apart` of their standard
# deviations apart, and of one; items as steep as those above. known: what the likelihood
# ratio of just these two populations sees, known beforehand with the steepness of every
# item (Neyman & Pearson 1933). most: the same against the one group that looks most like
# these two among those in which some items are twice as steep as others, of few items:
# no test of scores that calls one group two in 5% of classes of either kind sees more.
set.seed(2028)
scores_at <- function(ability, weight, easy, slope) {
  sums <- matrix(0, length(easy) + 1, length(ability))
  sums[1, ] <- 1
  for (j in seq_along(easy)) {
    p <- rep(plogis(slope[j] * ability + easy[j]), each = nrow(sums))
    sums <- sums * (1 - p) + rbind(0, sums[-nrow(sums), , drop = FALSE]) * p
  }
  as.vector(sums %*% weight)
}
nodes <- seq(-4, 4, length.out = 61)
weights <- dnorm(nodes) / sum(dnorm(nodes))

humps_of <- function(n, items, apart) {
  runs <- if (quick) 50 else 200
  easy <- seq(-1.5, 1.5, length.out = items)[order((7 * seq_len(items)) %% items)]
  slope <- rep(steep, length.out = items)
  within <- if (apart > 0) 0.5 else 1
  two <- function(gap) {
    lower <- scores_at(-gap / 2 + within * nodes, weights, easy, slope)
    upper <- scores_at(gap / 2 + within * nodes, weights, easy, slope)
    list(lower = lower, upper = upper)
  }
  score <- 0:items
  moments <- function(chance) {
    mean <- sum(score * chance)
    c(mean, sum(score^2 * chance) - mean^2)
  }
  off <- function(gap) {
    groups <- lapply(two(gap), moments)
    spread <- sqrt((groups$lower[2] + groups$upper[2]) / 2)
    (groups$upper[1] - groups$lower[1]) / spread - apart
  }
  gap <- if (apart > 0) uniroot(off, c(0.05, 14))$root else 0
  half <- n %/% 2
  quiz <- shell(FALSE, seq_len(items))
  said <- each_run(runs, function(run) {
    ability <- gap / 2 * rep(c(-1, 1), c(half, n - half)) + within * rnorm(n)
    x <- vapply(seq_len(items), function(j) {
      rbinom(n, 1, plogis(slope[j] * ability + easy[j])) + 0
    }, numeric(n))
    summarise_test(put_in(quiz, x))$humps %in% 2
  })
  known <- most <- NA
  if (apart > 0) {
    groups <- two(gap)
    both <- (groups$lower + groups$upper) / 2
    shares <- vapply(seq_along(easy), function(j) {
      at <- function(centre) {
        sum(weights * plogis(slope[j] * (centre + within * nodes) + easy[j]))
      }
      (at(-gap / 2) + at(gap / 2)) / 2
    }, 0)
    about <- data.frame(most = 1, parts = 1, share = shares)
    draw <- function() {
      rmultinom(1, half, groups$lower) + rmultinom(1, n - half, groups$upper)
    }
    drawn <- replicate(20000, as.vector(draw()))
    seen_against <- function(slopes) {
      slopes <- as.numeric(slopes)
      about$steep <- slopes / exp(mean(log(slopes)))
      spread <- internal("spread_of_one_group")(about, score, both * 1e7)
      one <- internal("scores_of_one_group")(about, spread)$chance
      ratio <- log(both / one)
      edge <- quantile(colSums(ratio * rmultinom(20000, n, one)), 0.95, type = 1)
      mean(colSums(ratio * drawn) > edge)
    }
    known <- seen_against(slope)
    alike <- if (items <= 5) asplit(expand.grid(rep(list(c(1, 2)), items)), 1)
    most <- min(known, vapply(alike, seen_against, 0))
  }
  data.frame(
    n = n,
    items = items,
    apart = apart,
    two = mean(unlist(said)),
    most = most,
    known = known
  )
}
if (wanted("humps")) {
  grid <- expand.grid(
    n = c(15, 30, 80, 300),
    items = c(3, 5, 20, 40),
    apart = c(0, 2.5, 3.5)
  )
  tables$humps <- do.call(rbind, Map(humps_of, grid$n, grid$items, grid$apart))
}

# ---- wrong keys ------------------------------------------------------------------------
# A test of 20 items, of which one has a wrong key: the most tempting wrong option (twice
# as much as the others). right: share who know the answer.
set.seed(2029)
wrong_key_of <- function(n, right) {
  shell <- claim_shell()
  runs <- if (quick) 40 else 150
  found <- each_run(runs, function(run) {
    easy <- replace(claim_easiness, 10, qlogis(right))
    answers <- made_up_answers(rnorm(n), c(2, 1, 1), easy)
    sound <- review_items(answered(shell, answers))
    answers[, 10] <- c(2L, 1L, 3L, 4L)[answers[, 10]]
    review <- review_items(answered(shell, answers))
    c(
      found = review$verdict[review$item == "Q10"] == "check_key",
      false = any(sound$verdict == "check_key")
    )
  })
  rate <- rowMeans(do.call(cbind, found))
  data.frame(n = n, right = right, found = rate[["found"]], false = rate[["false"]])
}
if (wanted("keys")) {
  grid <- expand.grid(n = c(15, 20, 26, 30, 60, 100, 300), right = c(0.85, 0.6, 0.35))
  tables$keys <- do.call(rbind, Map(wrong_key_of, grid$n, grid$right))
}

# ---- claims in words -----------------------------------------------------------------
# before: as measured from outside before the claims were mended, where it was.
set.seed(2030)
rate_before <- c(
  `two groups, 5 items, 80 students` = 0.53,
  `two groups, 20 items, 80 students` = 0.12,
  `drop an unrelated item of a mastery test, 300 students` = 0.38,
  `one idea, options alike, 30 students` = 0.33,
  `one idea, options 3:2:1 without a code, 30 students` = 0.96,
  `likely held, weak students and a tempting option` = 0.31,
  `wrong answers that go together, 80 students` = 0.06,
  `unfair to a group, 300 students` = 0.53
)
if (wanted("claims")) {
  runs <- if (quick) 50 else 300
  claims <- false_claims()
  on_cores <- function(runs, code) each_run(length(runs), code)
  rates <- vapply(claims, alarm_rate, 0, runs = runs, each = on_cores)
  tables$claims <- data.frame(
    claim = names(claims),
    before = unname(rate_before[names(claims)]),
    wanted = vapply(claims, `[[`, 0, "most"),
    now = unname(rates),
    runs = runs,
    row.names = NULL
  )
}

# ---- a student's score on a standard, of items of different weights ------------------
set.seed(2031)
weighted_of <- function(most) {
  share <- runif(2e5)
  earned <- rowSums(vapply(most, function(m) m * rbinom(2e5, 1, share), share))
  at <- earned / sum(most)
  of_items <- internal("jeffreys_interval")(at, sum(most)^2 / sum(most^2))
  of_points <- internal("jeffreys_interval")(at, sum(most))
  data.frame(
    points = paste(most, collapse = " "),
    as_points = covered(of_points$low, of_points$high, share),
    as_items = covered(of_items$low, of_items$high, share)
  )
}
if (wanted("weights")) {
  sets <- list(
    rep(1, 4), rep(10, 4), c(1, 2, 3), c(1, 1, 1, 25), c(25, 25, 1, 1), c(1, 5, 10, 25)
  )
  tables$weights <- do.call(rbind, lapply(sets, weighted_of))
}

# ---- one scale: an easier test, growth, questions that move --------------------------
set.seed(2032)
draw_points <- function(ability, places) {
  (runif(length(ability) * length(places)) < plogis(outer(ability, places, `-`))) + 0
}
worded_test <- function(x, ids, date) {
  colnames(x) <- ids
  sitting(
    data.frame(student = paste0("s", seq_len(nrow(x))), x),
    data.frame(item = ids, type = "mark", points = 1, prompt = paste("What is", ids)),
    settings = list(date = date)
  )
}
# Two tests of 20, `shared` of them in both; the others of the second are easier, so that
# the plain score rises by about 9 points. moved: how far shared questions move by chance.
link_of <- function(n, shared, grown, moved) {
  runs <- if (quick) 20 else 200
  own <- 20 - shared
  found <- each_run(runs, function(run) {
    first <- c(rnorm(shared), rnorm(own))
    ability <- rnorm(n)
    later <- 0.9 * ability + sqrt(1 - 0.9^2) * rnorm(n) + grown
    second <- c(first[seq_len(shared)] + rnorm(shared, 0, moved), rnorm(own) - 10 / own)
    ids <- function(prefix, from) paste0(prefix, seq(from, length.out = own))
    both <- paste0("a", seq_len(shared))
    before <- worded_test(draw_points(ability, first), c(both, ids("b", 1)), "2026-09-01")
    after <- worded_test(draw_points(later, second), c(both, ids("c", 1)), "2027-02-01")
    whole <- as.data.frame(compare_sittings(before, after))[1, ]
    at <- seq(-5, 5, by = 0.1)
    expected <- function(mean) {
      sum(dnorm(at) / sum(dnorm(at)) * rowMeans(plogis(outer(at + mean, first, `-`))))
    }
    true <- expected(grown) - expected(0)
    c(
      plain = whole$change, linked = whole$linked_change, true = true,
      holds = covered(whole$linked_change_low, whole$linked_change_high, true),
      plain_growth = whole$change_low > 0, growth = whole$linked_change_low > 0
    )
  })
  rates <- rowMeans(do.call(cbind, found), na.rm = TRUE)
  about <- data.frame(n = n, shared = shared, grown = grown, moved = moved)
  cbind(about, as.list(rates), runs = runs)
}
if (wanted("links")) {
  grid <- rbind(
    expand.grid(n = c(60, 200, 1000), shared = c(6, 10), grown = c(0, 0.3), moved = 0),
    expand.grid(n = c(200, 1000), shared = 10, grown = 0, moved = 0.2)
  )
  made <- Map(link_of, grid$n, grid$shared, grid$grown, grid$moved)
  tables$links <- do.call(rbind, made)
}

# ---- places, slopes, misfits, unlikely answers ----------------------------------------
set.seed(2033)
place_of <- function(n, slopes) {
  runs <- if (quick) 20 else 200
  place <- seq(-1.5, 1.5, length.out = 20)
  slope <- if (slopes) rep(c(0.6, 1, 1.4, 1.8), 5) else rep(1, 20)
  found <- each_run(runs, function(run) {
    ability <- rnorm(n)
    p <- plogis(sweep(outer(ability, place, `-`), 2, slope, `*`))
    quiz <- worded_test((runif(20 * n) < p) + 0, paste0("a", 1:20), "2026-09-01")
    scale <- as.data.frame(summarise_scale(quiz, slopes))
    people <- summarise_places(quiz, slopes)
    c(
      bias = mean(scale$place - place),
      places = covered(scale$place_low, scale$place_high, place),
      slopes = if (slopes) covered(scale$slope_low, scale$slope_high, slope) else NA,
      people = covered(people$place - 1.96 * people$se, people$place + 1.96 * people$se,
        ability),
      misfits = any(scale$fit %in% "misfits"),
      unlikely = any(summarise_patterns(quiz)$pattern %in% "unlikely")
    )
  })
  rates <- rowMeans(do.call(cbind, found), na.rm = TRUE)
  data.frame(n = n, own_slopes = slopes, as.list(rates), runs = runs)
}
if (wanted("places")) {
  grid <- data.frame(
    n = c(50, 200, 1000, 300, 1000), slopes = c(FALSE, FALSE, FALSE, TRUE, TRUE)
  )
  tables$places <- do.call(rbind, Map(place_of, grid$n, grid$slopes))
}

# ---- strength borrowed: a score on few items with the help of the rest ----------------
set.seed(2034)
helped_of <- function(n, items, together) {
  runs <- if (quick) 10 else 100
  k <- 20 / items
  code <- rep(seq_len(k), each = items)
  found <- each_run(runs, function(run) {
    common <- rnorm(n)
    own <- vapply(seq_len(k), function(one) {
      together * common + sqrt(1 - together^2) * rnorm(n)
    }, numeric(n))
    p <- plogis(sweep(own[, code], 2, rnorm(20)))
    x <- (runif(20 * n) < p) + 0
    colnames(x) <- paste0("Q", 1:20)
    quiz <- sitting(
      data.frame(student = as.character(seq_len(n)), x),
      data.frame(
        item = colnames(x), type = "mark", points = 1, standards = paste0("S", code)
      )
    )
    table <- as.data.frame(summarise_standards(quiz, "student", helped = TRUE))
    at <- cbind(as.integer(table$student), match(table$code, paste0("S", seq_len(k))))
    truth <- vapply(seq_len(k), function(one) {
      rowMeans(p[, code == one, drop = FALSE])
    }, numeric(n))[at]
    c(
      raw = mean((table$share - truth)^2, na.rm = TRUE),
      helped = mean((table$estimate - truth)^2, na.rm = TRUE),
      raw_holds = covered(table$share_low, table$share_high, truth),
      helped_holds = covered(table$estimate_low, table$estimate_high, truth),
      raw_unsure = mean(table$unsure, na.rm = TRUE),
      helped_unsure = mean(table$still_unsure, na.rm = TRUE)
    )
  })
  rates <- rowMeans(do.call(cbind, found))
  rates[c("raw", "helped")] <- sqrt(rates[c("raw", "helped")])
  data.frame(n = n, items = items, together = together, as.list(rates), runs = runs)
}
if (wanted("helped")) {
  grid <- expand.grid(n = c(40, 200), items = c(2, 4), together = c(0.6, 0.9))
  tables$helped <- do.call(rbind, Map(helped_of, grid$n, grid$items, grid$together))
}

# ---- how wide intervals are, by the number of students ---------------------------
widths_of <- function(n, quiz) {
  found <- each_run(min(200, runs_of(n)), function(run) {
    drawn <- put_in(quiz, sit_test(rnorm(n)))
    test <- summarise_test(drawn, bootstrap = 0)
    items <- as.data.frame(summarise_items(drawn, bootstrap = 0))
    near <- which.min(abs(items$difficulty - 0.6))
    half <- function(table, figure, rows = TRUE) {
      wide <- table[[paste0(figure, "_high")]] - table[[paste0(figure, "_low")]]
      mean(wide[rows], na.rm = TRUE) / 2
    }
    c(
      difficulty = half(items, "difficulty", near),
      discrimination = half(items, "discrimination"),
      mean = half(test, "mean"),
      alpha = half(test, "alpha")
    )
  })
  data.frame(n = n, as.list(rowMeans(do.call(cbind, found))), runs = length(found))
}
if (wanted("widths")) {
  quiz <- shell(FALSE)
  tables$widths <- do.call(rbind, lapply(c(15, 27, 60, 120, 400), widths_of, quiz = quiz))
}

# ---- students who are not alone --------------------------------------------------
# The interval of the mean where every second student has a share of the answers of the
# one beside, and where `share` of the variance of ability is that of the room.
copy_answers <- function(x, share) {
  for (k in seq(1, nrow(x) - 1, by = 2)) {
    taken <- sample(ncol(x), round(share * ncol(x)))
    x[k + 1, taken] <- x[k, taken]
  }
  x
}

together_of <- function(what, share, quiz, true) {
  found <- each_run(runs_of(81), function(run) {
    x <- if (what == "copied") {
      copy_answers(sit_test(rnorm(26)), share)
    } else {
      room <- rep(rnorm(3, sd = sqrt(share)), each = 27)
      sit_test(room + rnorm(81, sd = sqrt(1 - share)))
    }
    test <- summarise_test(put_in(quiz, x), bootstrap = 0)
    test$mean_low <= true && true <= test$mean_high
  })
  holds <- mean(unlist(found))
  data.frame(what = what, share = share, holds = holds, runs = length(found))
}
if (wanted("together")) {
  quiz <- shell(FALSE)
  true <- mean(rowSums(sit_test(rnorm(1e6))))
  grid <- data.frame(
    what = rep(c("copied", "rooms"), c(4, 4)),
    share = c(0, 0.25, 0.5, 1, 0, 0.05, 0.1, 0.2)
  )
  tables$together <- do.call(
    rbind,
    Map(together_of, grid$what, grid$share, MoreArgs = list(quiz = quiz, true = true))
  )
}

# ---- three sections, one of them better or none ----------------------------------
# apart: tests in which intervals of two sections lie wholly apart on any question, and on
# how many; said: in which a section is said to differ beyond chance on any standard.
sections_of <- function(n, better, quiz) {
  section <- rep(c("A", "B", "C"), each = n)
  found <- each_run(runs_of(n), function(run) {
    x <- sit_test(rnorm(3 * n) + better * (section == "A"))
    drawn <- put_in(quiz, x, section)
    items <- as.data.frame(summarise_items(drawn, by = "group", bootstrap = 0))
    largest <- tapply(items$difficulty_low, items$item, max)
    smallest <- tapply(items$difficulty_high, items$item, min)
    said <- summarise_standards(drawn, by = "group")$beyond_chance %in% TRUE
    apart <- largest > smallest
    c(apart = any(apart), questions = sum(apart), said = any(said))
  })
  rates <- rowMeans(do.call(cbind, found))
  data.frame(n = n, better = better, as.list(rates), runs = length(found))
}
if (wanted("sections")) {
  grid <- expand.grid(better = c(0, 0.5, 1), n = c(27, 80))
  quiz <- shell(FALSE, standards = rep(paste0("S", 1:5), 4))
  tables$sections <- do.call(
    rbind,
    Map(sections_of, grid$n, grid$better, MoreArgs = list(quiz = quiz))
  )
}

for (name in names(tables)) {
  cat("\n", name, "\n", sep = "")
  print(tables[[name]], digits = 3, row.names = FALSE)
  if (!quick) {
    utils::write.csv(
      tables[[name]],
      file.path("vignettes", paste0("accuracy-", name, ".csv")),
      row.names = FALSE
    )
  }
}
if (wanted("coverage")) {
  normal <- subset(tables$coverage, points == "normal")
  stopifnot(normal$coverage > 0.93, normal$coverage < 0.97)
}
