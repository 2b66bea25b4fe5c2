drawn <- function(plot, ending = "svg") {
  path <- tempfile(fileext = paste0(".", ending))
  internal("write_picture")(plot, path)
  path
}

flat <- function(text) gsub("\n", " ", text)

test_that("every picture draws, and its title is what the data say", {
  quiz <- read_sitting(demo_path())
  pictures <- internal("sitting_pictures")(quiz)
  expect_named(
    pictures,
    c(
      "spread", "items", "options", "grid", "standards", "levels", "precision", "scale", "lengths",
      "misconceptions"
    )
  )
  for (name in thinned(names(pictures), 3)) {
    expect_gt(file.size(drawn(pictures[[name]])), 5000)
  }
  expect_match(
    flat(pictures$spread$labels$title),
    paste0(
      "^The average hides two groups: 32 students around 38% and 48 around 75%, only 7 ",
      "halfway between"
    )
  )
  expect_match(
    flat(pictures$items$labels$title),
    "^Q7 trips up the strong students"
  )
  expect_match(
    flat(pictures$items$labels$caption),
    "Q1 (everyone got it right)",
    fixed = TRUE
  )
  expect_match(
    flat(pictures$options$labels$title),
    "^Q7: 52 of 80 chose C.*C may be the right answer"
  )
  expect_match(
    flat(pictures$standards$labels$title),
    "^More than chance: TC.2.b in Harbour B 59%, the others 32%"
  )
  expect_gt(file.size(drawn(pictures$spread, "png")), 5000)
})

test_that("the spread draws each student once, in the bin and level of the score", {
  students <- summarise_students(read_sitting(demo_path()))
  bars <- ggplot2::ggplot_build(ggplot2::autoplot(students))$data[[2]]
  expect_equal(sum(bars$ymax - bars$ymin), 80)
  edge <- as.data.frame(students)[1:3, ]
  edge$share <- c(0.5, 0.7, 1)
  edge$level <- c("developing", "secure", "deep")
  edge <- internal("remake_summary")(students, edge)
  placed <- ggplot2::ggplot_build(ggplot2::autoplot(edge))$data[[2]]
  placed <- placed[placed$ymax > placed$ymin, ]
  expect_equal(sort(placed$x), c(0.525, 0.725, 0.975))
})

test_that(
  "the item map names every item that has a discrimination, and marks those to look at",
  {
    quiz <- read_sitting(demo_path())
    points <- ggplot2::ggplot_build(
      ggplot2::autoplot(summarise_items(quiz), options = summarise_options(quiz))
    )$data[[
      5
    ]]
    expect_equal(nrow(points), 23)
    expect_equal(sum(points$shape == 17), 8)
  }
)

test_that(
  paste0(
    "pictures bear three students, one item, no standards, everyone right, and hostile ",
    "names"
  ),
  {
    small <- choice_sitting(matrix("A", 3, 1))
    pictures <- internal("sitting_pictures")(small)
    # no item tells anybody apart
    expect_named(pictures, c("spread", "options", "grid", "levels"))
    for (picture in pictures) expect_gt(file.size(drawn(picture)), 500)
    students <- data.frame(
      student = sprintf("s%03d", 1:3),
      name = c("<script>alert(1)</script>", "=1+1", strrep("Long ", 40))
    )
    svg <- paste(
      readLines(
        drawn(ggplot2::autoplot(choice_sitting(matrix("A", 3, 2), students = students)))
      ),
      collapse = "\n"
    )
    expect_no_match(svg, "<script>", fixed = TRUE)
    expect_match(svg, "&lt;script&gt;", fixed = TRUE)
    hidden <- paste(
      readLines(
        drawn(
          ggplot2::autoplot(
            choice_sitting(matrix("A", 3, 2), students = students),
            names = FALSE
          )
        )
      ),
      collapse = "\n"
    )
    expect_match(hidden, "student 1", fixed = TRUE)
    expect_no_match(hidden, "Long", fixed = TRUE)
  }
)

test_that("precision, lengths and fairness are drawn from their tables, or say why not", {
  quiz <- read_sitting(demo_path())
  precision <- summarise_precision(quiz)
  line <- ggplot2::ggplot_build(ggplot2::autoplot(precision))$data[[2]]
  expect_equal(line$y, precision$sem)
  lengths <- summarise_lengths(quiz)
  built <- ggplot2::ggplot_build(ggplot2::autoplot(lengths))$data
  curve <- built[[2]]
  expect_equal(curve$y[which.min(abs(curve$x - 24))], lengths$alpha[1], tolerance = 0.01)
  expect_equal(built[[5]]$y, lengths$alpha[1])
  fairness <- summarise_fairness(quiz, "boat")
  points <- ggplot2::ggplot_build(ggplot2::autoplot(fairness))$data[[3]]
  expect_equal(sort(points$x), sort(fairness$smd[!is.na(fairness$smd)]))
  expect_equal(sum(points$shape == 17), sum(fairness$class %in% c("moderate", "large")))
  none <- choice_sitting(matrix("A", 3, 2))
  for (empty in list(
    summarise_precision(none),
    summarise_lengths(none),
    summarise_fairness(quiz, "section", "Harbour A", "Harbour B")[0, ]
  )) {
    expect_s3_class(ggplot2::autoplot(empty), "ggplot")
  }
  expect_match(
    ggplot2::autoplot(summarise_precision(none))$labels$title,
    "the same\\s+total"
  )
})

test_that("a picture of what is not there is refused with the nearest", {
  options <- summarise_options(read_sitting(demo_path()))
  expect_refused(
    ggplot2::autoplot(options, item = "Q77"),
    "call",
    "There is no item \"Q77\""
  )
  expect_s3_class(ggplot2::autoplot(options, item = c("Q7", "Q9")), "ggplot")
})

test_that("levels differ by colour and by mark, however many there are", {
  for (n in 1:8) {
    expect_equal(length(unique(internal("level_colours")(n))), n)
    expect_equal(length(internal("level_signs")(n)), n)
  }
  expect_equal(length(unique(internal("level_signs")(5))), 5)
  # Apart for a grey printer too: luminance differs between neighbours.
  grey <- colSums(
    grDevices::col2rgb(internal("level_colours")(4)) * c(0.299, 0.587, 0.114)
  )
  expect_gt(min(abs(diff(grey))), 20)
})

test_that("text can be read on every step of a ramp, as WCAG 2.1 reckons contrast", {
  contrast <- internal("contrast_of")
  expect_equal(contrast("#000000", "#ffffff"), 21)
  expect_equal(contrast("#777777", "#ffffff"), 4.48, tolerance = 0.002) # just short of AA
  for (n in 2:12) {
    steps <- internal("level_colours")(n)
    expect_length(unique(steps), n)
    for (step in steps) expect_gte(contrast(step, internal("ink_on")(step)), 4.5)
  }
})

test_that(
  paste0(
    "parts are named where there is room for all of them, each once; else there is a ",
    "legend"
  ),
  {
    quiz <- read_sitting(demo_path())
    legend <- function(plot) plot$theme$legend.position
    levels <- ggplot2::autoplot(summarise_test(quiz, "section"))
    named <- ggplot2::ggplot_build(levels)$data[[2]]$label
    for (level in names(quiz$settings$levels)) {
      expect_equal(sum(startsWith(named, level)), 1)
    }
    expect_equal(legend(levels), "none")
    crowded <- quiz
    names(crowded$settings$levels)[4] <- strrep("w", 40)
    expect_equal(legend(ggplot2::autoplot(summarise_test(crowded, "section"))), "bottom")
    standards <- ggplot2::autoplot(summarise_standards(quiz, "section"))
    expect_equal(legend(standards), "none")
    expect_setequal(
      ggplot2::layer_data(standards, 4)$label,
      paste("Harbour", c("A", "B", "C"))
    )
  }
)

test_that(
  "long names of items are told apart, and of many only those worth it are named",
  {
    short <- internal("short_items")
    expect_equal(short(c("Q1", "Q2")), c("Q1", "Q2"))
    expect_equal(
      short(paste("Question number", 9:11)),
      c("\u20269", "\u202610", "\u202611")
    )
    expect_equal(
      short(c(strrep("x", 20), "tide")),
      c(paste0("\u2026", strrep("x", 13)), "tide")
    )
    quiz <- random_sitting(n = 60, k = 80)
    picture <- ggplot2::autoplot(summarise_items(quiz), options = summarise_options(quiz))
    shown <- ggplot2::layer_data(picture, 6)$label
    expect_lte(sum(nzchar(shown)), 18)
    items <- summarise_items(quiz)
    expect_true(all(items$item[order(items$difficulty)[1:3]] %in% shown))
  }
)

test_that(
  "of a few students the sentence counts them, and says what is the same for all",
  {
    say <- internal("say_spread")
    of <- function(share) {
      students <- summarise_students(
        choice_sitting(
          t(vapply(share, function(s) ifelse(1:10 <= 10 * s, "A", "B"), character(10)))
        )
      )
      say(students)
    }
    expect_match(of(c(0.2, 0.6, 0.9)), "^2 of 3 students scored 60% or more; ")
    expect_match(
      of(rep(1, 20)),
      "^All 20 students scored 100%; 20 reached .*, nobody is still "
    )
    alike <- choice_sitting(
      matrix("A", 40, 2),
      students = data.frame(student = sprintf("s%03d", 1:40), section = 1:2)
    )
    expect_match(
      internal("say_groups")(summarise_test(alike, "section")),
      "^All have the same mean \\(100%\\)\\."
    )
  }
)
