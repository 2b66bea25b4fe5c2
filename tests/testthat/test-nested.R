# Groups inside groups, side by side: figures, chance, and what is withheld.

school <- function(n = 120, seed = 3, least = 1, sizes = NULL) {
  set.seed(seed)
  students <- data.frame(
    student = sprintf("s%03d", seq_len(n)),
    school = sample(c("North", "South"), n, TRUE)
  )
  students$teacher <- paste0(
    substr(students$school, 1, 1),
    sample(1:3, n, TRUE, prob = c(6, 3, 1))
  )
  students$section <- paste0(
    students$teacher,
    sample(c("a", "b"), n, TRUE, prob = c(4, 1))
  )
  random_sitting(
    n,
    8,
    seed,
    students = students,
    settings = list(smallest_group = least),
    options = data.frame(
      item = rep(c("Q1", "Q2", "Q3"), each = 4),
      option = rep(c("A", "B", "C", "D"), 3),
      misconception = rep(c(NA, "M", NA, NA), 3)
    )
  )
}

nest <- c("school", "teacher", "section")

test_that(
  "every depth of nested groups has the figures of its own column, outer groups first",
  {
    quiz <- school()
    quiz$students$path <- paste(
      quiz$students$school, quiz$students$teacher, quiz$students$section
    )
    for (summarise in list(
      summarise_test,
      summarise_items,
      summarise_options,
      summarise_standards,
      summarise_misconceptions
    )) {
      table <- as.data.frame(summarise(quiz, by = nest))
      outer <- as.data.frame(summarise(quiz, by = "school"))
      deepest <- as.data.frame(summarise(quiz, by = "path"))
      figures <- setdiff(
        names(outer),
        c(nest, "difference", "difference_low", "difference_high", "beyond_chance")
      )
      expect_equal(
        table[is.na(table$teacher), figures],
        outer[figures],
        ignore_attr = TRUE
      )
      expect_equal(
        table[!is.na(table$section), figures],
        deepest[figures],
        ignore_attr = TRUE
      )
      depth <- rowSums(!is.na(table[nest]))
      expect_true(all(diff(depth) <= 1))
    }
    test <- summarise_test(quiz, by = nest)
    in_north <- test$school == "North"
    expect_equal(
      sum(test$n[in_north & !is.na(test$section)]),
      test$n[in_north & is.na(test$teacher)]
    )
    text <- capture.output(print(test))
    expect_match(text[1], "^school > teacher > section")
    expect_match(text, "^  N1 ", all = FALSE)
    expect_match(text, "^    N1a ", all = FALSE)
    expect_refused(summarise_test(quiz, by = c("school", "school")), "call", "twice")
    expect_refused(
      summarise_test(quiz, by = c("school", "techer")),
      "call",
      "Did you mean \"teacher\"?"
    )
    expect_refused(
      summarise_items(tally_responses(quiz), by = nest),
      "call",
      "need the sitting itself"
    )
    expect_refused(summarise_decisions(quiz, by = nest), "call", "Give one column")
  }
)

test_that(
  paste0(
    "a group is held against the rest of the group around it, as Welch does, corrected ",
    "for how many there are"
  ),
  {
    quiz <- school()
    share <- summarise_students(quiz)$share
    people <- quiz$students
    test <- summarise_test(quiz, by = c("school", "teacher"))
    row <- test[test$school == "North" & test$teacher %in% "N2", ]
    welch <- t.test(
      share[people$teacher == "N2"],
      share[people$school == "North" & people$teacher != "N2"]
    )
    expect_equal(row$difference, -diff(unname(welch$estimate)))
    expect_equal(c(row$difference_low, row$difference_high), as.vector(welch$conf.int))
    north <- test[test$school == "North" & !is.na(test$teacher), ]
    p <- vapply(north$teacher, function(one) {
      t.test(
        share[people$teacher == one],
        share[people$school == "North" & people$teacher != one]
      )$p.value
    }, 0)
    expect_equal(north$beyond_chance, unname(p.adjust(p, "BH") < 0.05))
    standards <- summarise_standards(read_sitting(demo_path()), by = "section")
    by_student <- summarise_standards(read_sitting(demo_path()), by = "student")
    one <- by_student[by_student$code == "TC.2.b", ]
    welch <- t.test(
      one$share[one$section == "Harbour B"],
      one$share[one$section != "Harbour B"]
    )
    row <- standards[standards$code == "TC.2.b" & standards$section == "Harbour B", ]
    expect_equal(c(row$difference_low, row$difference_high), as.vector(welch$conf.int))
    expect_true(row$beyond_chance)
  }
)

test_that(
  "among groups of one population few are called different, and a real difference is",
  {
    called <- function(shift) {
      x <- matrix(rnorm(6 * 25, 0.6, 0.2), 25) + rep(c(shift, 0, 0, 0, 0, 0), each = 25)
      internal("against_the_rest")(
        rep(25, 6),
        colMeans(x),
        apply(x, 2, sd),
        rep(1L, 6)
      )$beyond_chance
    }
    set.seed(11)
    expect_lte(mean(replicate(400, any(called(0)))), 0.08)
    expect_gte(mean(replicate(100, called(0.2)[1])), 0.9)
    none <- internal("against_the_rest")(c(1, 20), c(0.2, 0.8), c(NA, 0.1), c(1L, 1L))
    expect_true(all(is.na(none$beyond_chance)))
    alike <- internal("against_the_rest")(c(3, 20), c(1, 0.6), c(0, 0.1), c(1L, 1L))
    expect_equal(alike$difference[1], 0.4)
    expect_equal(alike$beyond_chance, c(NA, NA))
  }
)

# Whether a group's sum is a combination of sums that are shown and the whole.
can_be_had <- function(shown, groups, target) {
  base <- rbind(1, groups[shown, , drop = FALSE])
  qr(rbind(base, groups[target, ]))$rank == qr(base)$rank
}

test_that(
  "no withheld figure can be worked out from those that are shown, at any depth",
  {
    for (seed in thinned(1:6, 2)) {
      quiz <- school(60, seed, least = 5)
      present <- quiz$students$status == "sat"
      for (by in list("section", c("school", "teacher"), nest)) {
        for (summarise in list(
          summarise_test,
          summarise_items,
          summarise_options,
          summarise_misconceptions
        )) {
          table <- as.data.frame(summarise(quiz, by = by))
          full <- quiz
          full$settings$smallest_group <- 1
          open <- as.data.frame(summarise(full, by = by))
          thing <- intersect(c("item", "code"), names(table))
          if (length(thing)) table <- table[table[[thing]] == table[[thing]][1], ]
          if (length(thing)) open <- open[open[[thing]] == open[[thing]][1], ]
          table <- table[!duplicated(table[by]), ]
          open <- open[!duplicated(open[by]), ]
          member <- t(
            vapply(seq_len(nrow(table)), function(row) {
              in_it <- Reduce(
                `&`,
                lapply(by, function(column) {
                  is.na(table[[column]][row]) |
                    quiz$students[[column]] == table[[column]][row]
                })
              )
              as.numeric(in_it & present)
            }, numeric(nrow(quiz$students)))
          )
          figure <- intersect(c("mean", "difficulty", "chosen", "share"), names(table))[1]
          hidden <- is.na(table[[figure]]) & !is.na(open[[figure]])
          n <- rowSums(member)
          expect_true(all(hidden[n > 0 & n < 5]))
          derivable <- vapply(which(hidden), function(row) {
            can_be_had(which(!hidden), member, row)
          }, TRUE)
          expect_false(
            any(derivable),
            label = paste(seed, paste(by, collapse = ">"), figure)
          )
          kept <- c(
            by, "item", "type", "points", "items", "option", "key", "text",
            "misconception", "idea", "like", "near_miss", "state", "code", "description", "reason",
            "title", "emphasis", "shown_by", "out_of_reach", "pattern"
          )
          expect_true(all(is.na(table[hidden, setdiff(names(table), kept)])))
        }
      }
    }
    open <- summarise_test(school(400, 1, least = 2), by = nest)
    expect_false(anyNA(open$mean))
  }
)

test_that("standards of groups too small are withheld in print and in pictures alike", {
  quiz <- school(60, 2, least = 5)
  quiz$items$standards <- rep(c("A", "B"), 4)
  quiz$standards <- data.frame(
    code = c("A", "B"),
    parent = NA_character_,
    title = NA_character_,
    emphasis = NA_character_
  )
  standards <- summarise_standards(quiz, by = "section")
  small <- names(which(table(quiz$students$section) < 5))
  expect_gt(length(small), 0)
  expect_true(all(is.na(standards$share[standards$section %in% small])))
  expect_true(all(is.na(standards$difference[standards$section %in% small])))
  shown <- capture.output(print(standards))
  expect_match(shown, paste0("^code .*", small[1]), all = FALSE)
  expect_match(shown, "^A .*\u2013", all = FALSE)
  drawn <- ggplot2::ggplot_build(ggplot2::autoplot(standards))$plot$data
  expect_false(any(gsub("\u001f", " ", drawn$group) %in% small))
})

test_that("no few students within a group can be told, nor worked out from sums", {
  set.seed(51)
  for (run in 1:60) {
    counts <- matrix(rpois(12, sample(c(2, 6, 15), 1)), 3)
    above <- rep(0, 3)
    hidden <- internal("cells_to_hide")(counts, above, 5)
    expect_true(all(hidden[counts > 0 & counts < 5]))
    # What is left of a row or column whose sum is known.
    for (line in c(asplit(seq_len(12) |> matrix(3), 1), asplit(matrix(seq_len(12), 3), 2))) {
      cells <- as.vector(line)
      open <- counts[cells] * hidden[cells]
      all_hidden <- all(hidden[cells] | counts[cells] == 0)
      expect_true(
        !any(hidden[cells]) || all_hidden || (sum(hidden[cells]) > 1 && sum(open) >= 5),
        label = paste(run, paste(counts, collapse = " "))
      )
    }
  }
})

test_that("a part of the students is refused where it, or what it leaves out, is too small", {
  students <- data.frame(
    student = sprintf("s%02d", 1:40),
    section = rep(c("A", "B"), each = 20),
    sex = c(rep("f", 17), rep("m", 3), rep("f", 10), rep("m", 10))
  )
  set.seed(52)
  answers <- matrix(sample(c("A", "B"), 400, TRUE), 40)
  quiz <- choice_sitting(answers, students = NULL, settings = list(smallest_group = 5))
  quiz$students[names(students)] <- students
  refused <- function(...) {
    expect_refused(narrow_sitting(quiz, ...), "call", "groups under 5 are not shown", "")
  }
  refused(student = "s01")
  refused(student = students$student[1:38])
  fine <- narrow_sitting(quiz, sex = "f")
  expect_equal(nrow(fine$students), 27)
  # Section A is known elsewhere: of 17 and 20 the three are the difference.
  by_section <- summarise_test(fine, by = "section")
  expect_equal(is.na(by_section$mean), c(TRUE, TRUE))
  open <- quiz
  open$settings$smallest_group <- 1
  expect_equal(nrow(narrow_sitting(open, student = "s01")$students), 1)
})

test_that("several columns together tell of no few students", {
  together <- internal("groups_to_hide_together")
  nested <- list(teacher = rep(c("X", "Y"), each = 30), section = rep(letters[1:4], c(27, 3, 15, 15)))
  expect_equal(together(nested, 5), list(teacher = character(), section = c("a", "b")))
  crossed <- list(section = rep(c("a", "b"), each = 20), sex = rep(c("f", "m", "f", "m"), c(9, 11, 12, 8)))
  expect_equal(together(crossed, 5), list(section = character(), sex = character()))
  expect_equal(together(list(a = rep("x", 3)), 5)$a, "x")
})

test_that("all that is shown by any column, together, tells of no few students", {
  shown_groups <- function(table, by, students) {
    table <- as.data.frame(table)
    table <- table[!is.na(table$mean), , drop = FALSE]
    lapply(seq_len(nrow(table)), function(row) {
      Reduce(`&`, lapply(by, function(column) {
        is.na(table[[column]][row]) | students[[column]] %in% table[[column]][row]
      }))
    })
  }
  worked_out <- 0
  for (seed in 1:12) {
    set.seed(seed)
    n <- sample(c(19, 40, 90), 1)
    section <- sample(LETTERS[1:5], n, TRUE, c(8, 5, 3, 2, 1))
    students <- data.frame(
      student = sprintf("s%03d", seq_len(n)),
      section = section,
      teacher = ifelse(runif(n) < 0.9, c(A = "T1", B = "T2", C = "T1", D = "T2", E = "T3")[section], "T2"),
      boat = sample(c("cutter", "sloop", "yawl"), n, TRUE)
    )
    answers <- matrix(sample(c("A", "B"), n * 6, TRUE), n)
    quiz <- choice_sitting(answers, students = students, settings = list(smallest_group = 5))
    columns <- c("section", "teacher", "boat")
    singles <- unlist(
      lapply(columns, function(by) shown_groups(summarise_test(quiz, by), by, students)),
      recursive = FALSE
    )
    open <- unlist(lapply(columns, function(by) {
      lapply(unique(students[[by]]), function(group) students[[by]] == group)
    }), recursive = FALSE)
    for (pair in list(NULL, columns[1:2], columns[c(3, 1)])) {
      both <- if (length(pair)) shown_groups(summarise_test(quiz, pair), pair, students)
      told <- do.call(rbind, c(list(rep(1, n)), lapply(c(singles, both), as.numeric)))
      few <- Filter(function(one) sum(one) < 5, c(open, if (length(pair)) {
        cells <- split(seq_len(n), students[pair], drop = TRUE)
        lapply(cells, function(here) seq_len(n) %in% here)
      }))
      base <- qr(told)$rank
      for (one in few) {
        expect_gt(
          qr(rbind(told, as.numeric(one)))$rank,
          base,
          label = paste(seed, n, paste(pair, collapse = ">"), sum(one))
        )
        worked_out <- worked_out + 1
      }
    }
  }
  expect_gt(worked_out, 50)
})

test_that("of a section under a teacher who has one more, both are withheld or neither is told", {
  students <- data.frame(
    student = sprintf("s%03d", 1:19),
    section = rep(c("A", "B", "C"), c(10, 6, 3)),
    teacher = rep(c("T1", "T2", "T1"), c(10, 6, 3))
  )
  set.seed(1)
  answers <- matrix(sample(c("A", "B"), 19 * 6, TRUE), 19)
  quiz <- choice_sitting(answers, students = students, settings = list(smallest_group = 5))
  sections <- summarise_test(quiz, "section")
  teachers <- summarise_test(quiz, "teacher")
  shown <- c(
    sections$section[!is.na(sections$mean)],
    teachers$teacher[!is.na(teachers$mean)]
  )
  expect_false("C" %in% shown)
  expect_false(all(c("A", "T1") %in% shown))
  expect_false(all(c("B", "A") %in% shown))
  # Nor by leaving out all others.
  for (group in c("A", "B", "C")) {
    if (group %in% shown) next
    expect_refused(narrow_sitting(quiz, section = group), "call", "groups under 5", "")
  }
})
