# What every summary promises: whatever is done to it, it prints what is true of
# it, or it is a plain data frame.

# One of each kind and of each form, made once.
# Two students with the very same answers.
copied_quiz <- function() {
  set.seed(1)
  ability <- stats::rnorm(60)
  right <- stats::runif(60 * 30) <
    stats::plogis(outer(ability, seq(-1, 1, length.out = 30), `-`))
  answers <- matrix(sample(c("B", "C", "D"), 1800, TRUE), 60)
  answers[right] <- "A"
  answers[2, ] <- answers[1, ]
  colnames(answers) <- paste0("Q", 1:30)
  sitting(
    data.frame(student = sprintf("s%02d", 1:60), answers),
    data.frame(item = colnames(answers), type = "choice", key = "A")
  )
}

all_summaries <- function() {
  quiz <- read_sitting(demo_path())
  later <- read_sitting(demo_path("follow-up"))
  quiz$settings$levels <- list(red = 0, amber = 0.5, green = 0.8)
  record <- open_record(tempfile(fileext = ".sqlite"))
  on.exit(close_record(record))
  add_sitting(record, quiz, "tides")
  add_sitting(record, later, "again")
  windows <- list(autumn = "2026-08-01..2026-09-30", winter = "2026-10-01..2027-02-28")
  plan <- plan_reteach(quiz)
  judged <- expand.grid(judge = c("Ames", "Bell"), item = quiz$items$item)
  judged$estimate <- seq(0.4, 0.8, length.out = nrow(judged))
  marked <- data.frame(
    student = rep(quiz$students$student[1:8], each = 2), item = "Q24",
    marker = c("Ames", "Bell"), points = rep(0:2, length.out = 16)
  )
  pool <- read_pool(demo_path("pool"))
  list(
    findings = check_sitting(quiz),
    test = summarise_test(quiz),
    tests = summarise_test(quiz, "section"),
    items = summarise_items(quiz),
    items_by = summarise_items(quiz, c("teacher", "section")),
    options = summarise_options(quiz),
    answers = summarise_answers(quiz),
    students = summarise_students(quiz),
    standards = summarise_standards(quiz),
    standards_by = summarise_standards(quiz, "section"),
    standards_student = summarise_standards(quiz, "student"),
    grid = internal("standards_grid")(quiz, summarise_standards(quiz, "student")),
    misconceptions = summarise_misconceptions(quiz),
    misconceptions_student = summarise_misconceptions(quiz, "student"),
    attempts = summarise_attempts(quiz),
    time = summarise_time(later),
    explanations = summarise_explanations(later),
    decisions = summarise_decisions(quiz),
    parts = summarise_parts(quiz),
    precision = summarise_precision(quiz),
    scale = summarise_scale(quiz),
    places = summarise_places(quiz),
    information = summarise_information(quiz),
    patterns = summarise_patterns(quiz),
    alike = summarise_alike(copied_quiz()),
    cuts = summarise_cuts(quiz, judged, cut = 0.6),
    judges = summarise_judges(quiz, judged),
    markers = summarise_markers(quiz, "item", marked),
    standards_helped = summarise_standards(quiz, "student", helped = TRUE),
    fairness = summarise_fairness(quiz, "boat"),
    lengths = summarise_lengths(quiz),
    together = suggest_misconceptions(quiz),
    guessing = summarise_guessing(quiz),
    review = review_items(quiz),
    keys = review_key(quiz),
    groups = group_students(quiz),
    plan = plan,
    followup = draw_followup(quiz, pool),
    what_if = what_if(quiz, key = c(Q7 = "C")),
    change = compare_sittings(quiz, later),
    change_item = compare_sittings(quiz, later, by = "item"),
    change_student = compare_sittings(quiz, later, by = "student"),
    growth = growth(record, windows = windows),
    growth_student = growth(record, by = "student", windows = windows),
    ladder = climb_ladder(
      growth(record, by = "student", windows = windows),
      c("TC.1.a", "TC.1.b")
    ),
    drift = item_drift(record),
    recorded = recorded_sittings(record),
    recorded_items = recorded_items(record),
    pending = pending_students(record, windows),
    overview = test_overview(record)
  )
}

summaries <- all_summaries()
is_summary <- internal("is_summary")
# How a table is printed is seen by its first rows.
printed <- function(x) {
  withr::local_options(max.print = 400)
  capture.output(print(x))
}
plainly <- function(x) printed(internal("plain_table")(x))

# Whatever it is now: a summary that holds, or nothing that claims to be one.
expect_honest <- function(x, label) {
  if (is_summary(x)) {
    expect_error(printed(x), NA)
  } else {
    expect_identical(printed(x), plainly(x), label = label)
  }
}

test_that("there is a summary of every kind that prints", {
  methods <- grep(
    "^print[.]pregunta_",
    ls(getNamespace("pregunta"), all.names = TRUE),
    value = TRUE
  )
  kinds <- setdiff(
    sub("^print[.]pregunta_", "", methods),
    c("account", "record", "sitting", "stored", "item_type")
  )
  expect_setequal(unique(vapply(summaries, function(x) attr(x, "made")$kind, "")), kinds)
  for (name in names(summaries)) expect_true(is_summary(summaries[[name]]), label = name)
})

test_that("rows can be taken freely, in any order and by any verb", {
  for (name in thinned(names(summaries), 8)) {
    x <- summaries[[name]]
    rows <- rev(seq_len(nrow(x)))[-1]
    for (part in list(
      x[rows, ],
      subset(x, seq_along(x[[1]]) %in% rows),
      utils::head(x, 2),
      x[0, ],
      x[rows, names(x)]
    )) {
      expect_true(is_summary(part), label = name)
      expect_identical(attr(part, "settings"), attr(x, "settings"), label = name)
      expect_identical(attr(part, "by"), attr(x, "by"), label = name)
      expect_error(printed(part), NA)
    }
  }
})

test_that("a column away, renamed or changed takes the class away", {
  for (name in thinned(names(summaries), 8)) {
    x <- summaries[[name]]
    left <- unlist(lapply(names(x), function(column) {
      kept <- setdiff(names(x), column)
      without <- x
      without[[column]] <- NULL
      renamed <- x
      names(renamed)[match(column, names(x))] <- "something_else"
      plain <- list(x[kept], x[, kept, drop = FALSE], without, renamed)
      c(
        vapply(plain, function(one) class(one)[1], ""),
        unlist(lapply(plain, function(one) names(attributes(one))))
      )
    }))
    expect_setequal(left, c("data.frame", "names", "row.names", "class"))
    expect_identical(
      names(attributes(as.data.frame(x))),
      c("names", "row.names", "class"),
      label = name
    )
    if (nrow(x)) {
      free <- attr(x, "made")$free
      changed <- vapply(setdiff(names(x), free), function(column) {
        one <- x
        one[[column]] <- rev(as.character(one[[column]]))
        one[[column]][1] <- "another"
        two <- x
        two[1, column] <- if (is.na(x[1, column])) {
          x[!is.na(x[[column]]), column][1]
        } else {
          NA
        }
        c(is_summary(one), is_summary(two) && !identical(two, x))
      }, c(TRUE, TRUE))
      expect_false(any(changed), label = name)
      for (column in free) {
        typed <- x
        typed[[column]] <- "Monday"
        expect_true(is_summary(typed), label = name)
      }
    }
    more <- x
    more$beside <- seq_len(nrow(x))
    expect_true(is_summary(more), label = name)
    expect_error(printed(more), NA)
  }
})

test_that("rows of two summaries together are one only where all of them were there", {
  other <- read_sitting(demo_path())
  other$settings$mastery_cut <- 0.9
  for (name in thinned(names(summaries), 8)) {
    x <- summaries[[name]]
    half <- seq_len(nrow(x)) %% 2 == 0
    expect_honest(rbind(x[half, ], x[!half, ]), name)
    expect_honest(rbind(x, as.data.frame(x)), name)
    if (!nrow(x)) next
    foreign <- as.data.frame(x)[1, ]
    foreign[[1]] <- "from elsewhere"
    mixed <- rbind(x, foreign)
    expect_false(is_summary(mixed), label = name)
    expect_honest(mixed, name)
    if (exists(paste0("autoplot.pregunta_", name), getNamespace("pregunta"))) {
      expect_refused(ggplot2::autoplot(mixed), "call", "no longer the summary")
    }
  }
})

test_that("merge, dplyr's and data.table's verbs keep what holds or drop it", {
  skip_if_not_installed("dplyr")
  for (name in thinned(names(summaries), 8)) {
    x <- summaries[[name]]
    first <- names(x)[1]
    beside <- stats::setNames(data.frame(unique(x[[first]]), "b"), c(first, "beside"))
    renamed <- stats::setNames(first, "another_name")
    made <- list(
      merge(x, beside),
      merge(x, beside, all = TRUE),
      cbind(x, extra = seq_len(nrow(x))),
      transform(x, extra = 1),
      within(x, extra <- 1),
      dplyr::filter(x, seq_len(nrow(x)) > 1),
      dplyr::arrange(x, dplyr::desc(.data[[first]])),
      dplyr::slice_head(x, n = 1),
      dplyr::select(x, 1:2),
      dplyr::select(x, -1),
      dplyr::rename(x, dplyr::all_of(renamed)),
      dplyr::mutate(x, extra = 1),
      dplyr::mutate(x, dplyr::across(1, function(column) paste(column, "!"))),
      dplyr::left_join(x, beside, by = first),
      dplyr::bind_rows(x, x),
      dplyr::distinct(x),
      dplyr::bind_rows(x, beside),
      dplyr::ungroup(dplyr::group_by(x, .data[[first]])),
      utils::head(data.table::as.data.table(x), 2),
      data.table::rbindlist(list(x, x)),
      data.table::setDT(data.table::copy(as.data.frame(x)))
    )
    for (k in seq_along(made)) {
      if (is_summary(made[[k]])) {
        expect_error(printed(made[[k]]), NA)
        expect_identical(attr(made[[k]], "settings"), attr(x, "settings"))
      } else {
        expect_false(inherits(made[[k]], "pregunta_summary"), label = paste(name, k))
      }
    }
    expect_true(is_summary(made[[6]]), label = name)
    expect_false(is_summary(made[[9]]) && ncol(x) > 2, label = name)
    expect_false(is_summary(made[[13]]) && nrow(x) > 0, label = name)
  }
})

test_that("a summary comes back from JSON and CSV with the same figures", {
  table_text <- internal("table_text")
  figures_of <- function(table, columns) {
    lapply(stats::setNames(nm = columns), function(column) {
      x <- as.numeric(table[[column]])
      ifelse(is.infinite(x), NA_real_, x) # JSON has no word for it
    })
  }
  for (name in names(summaries)) {
    x <- as.data.frame(summaries[[name]])
    if (!nrow(x)) next
    numbers <- names(x)[vapply(x, is.numeric, TRUE)]
    json <- jsonlite::fromJSON(
      paste(table_text(summaries[[name]], "json"), collapse = "\n")
    )
    expect_equal(figures_of(json, numbers), figures_of(x, numbers), label = name)
    csv <- data.table::fread(
      text = table_text(summaries[[name]], "csv"),
      data.table = FALSE
    )
    expect_identical(names(csv), names(x), label = name)
    expect_equal(figures_of(csv, numbers), figures_of(x, numbers), label = name)
  }
})

test_that("settings are never guessed", {
  standards <- summaries$standards
  expect_output(print(subset(standards, TRUE)), "green")
  expect_false(any(grepl("secure|emerging", printed(subset(standards, TRUE)))))
  expect_refused(
    internal("settings_of")(as.data.frame(standards)),
    "call",
    "does not know the settings"
  )
})

test_that("of a part of a summary it is said how much of it is there", {
  expect_match(
    paste(printed(summaries$standards[1:3, ]), collapse = "\n"),
    "These are 3 of 8 rows"
  )
  expect_false(any(grepl("These are", printed(summaries$standards))))
  part <- summaries$what_if[1, ]
  expect_identical(printed(part), plainly(part))
})

test_that("each summary takes counts alone, or says that it needs the students", {
  quiz <- read_sitting(demo_path())
  tally <- tally_responses(quiz, products = TRUE)
  of_counts <- list(
    test = summarise_test,
    items = summarise_items,
    options = summarise_options,
    answers = summarise_answers,
    decisions = summarise_decisions,
    lengths = summarise_lengths,
    review = review_items
  )
  for (name in names(of_counts)) {
    expect_equal(of_counts[[name]](tally), of_counts[[name]](quiz), label = name)
  }
  by_boat <- tally_responses(quiz, by = "boat")
  expect_equal(summarise_fairness(by_boat, "boat"), summarise_fairness(quiz, "boat"))
  exported <- grep("^summarise_", getNamespaceExports("pregunta"), value = TRUE)
  others <- setdiff(
    exported,
    c(paste0("summarise_", names(of_counts)), "summarise_fairness")
  )
  expect_gte(length(others), 8)
  for (name in others) {
    expect_refused(
      get(name, getNamespace("pregunta"))(tally),
      "call",
      "needs the students themselves"
    )
  }
})

test_that("a tally that does not hang together is not made", {
  tally <- tally_responses(read_sitting(demo_path()))
  fields <- names(formals(internal("new_tally")))
  remade <- function(...) {
    parts <- unclass(tally)[fields]
    changed <- list(...)
    parts[names(changed)] <- changed
    do.call(internal("new_tally"), parts)
  }
  expect_equal(remade(), tally)
  counts <- tally$counts
  counts$bin[1] <- nrow(tally$bins) + 1L
  expect_error(remade(counts = counts), "bins, items and codes that are there")
  counts <- tally$counts
  counts$code[1] <- 10000L
  expect_error(remade(counts = counts), "bins, items and codes that are there")
  expect_error(remade(cells = tally$cells[-1]), "cells for each item")
  expect_error(remade(absent = integer()), "absent and seconds")
  expect_error(remade(about = list()), "what it is about")
})
